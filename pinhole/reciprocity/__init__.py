"""Reciprocity: how much longer than metered a long exposure must be. One module a kind, one
dictionary.

Each kind has `.adjusted_s(metered_s)`, its inverse `.metered_s(adjusted_s)`, `.steeper(exponent)`
for what one's own sheets add to it, and `.as_data()`, which `from_data` reads back. None ever
shortens a time; one that passes all numbers is inf.
"""

from typing import Any

from pinhole.reciprocity.none import NoCorrection
from pinhole.reciprocity.power_law import PowerLaw
from pinhole.reciprocity.school import School
from pinhole.reciprocity.table import Table

SCHOOL_KINDS: dict[str, type[NoCorrection] | type[PowerLaw] | type[Table]] = {
    kind.name: kind for kind in (NoCorrection, PowerLaw, Table)
}

__all__ = ["SCHOOL_KINDS", "NoCorrection", "PowerLaw", "School", "Table", "from_data"]


def from_data(data: dict[str, Any]) -> School:
    """The school kept by `as_data()`: a dict with `name` and the kind's own numbers. Raises
    KeyError if unknown.
    """
    numbers = {key: value for key, value in data.items() if key != "name"}
    return SCHOOL_KINDS[data["name"]](**numbers)
