"""Reciprocity: how much longer than metered a long exposure must be. One module a kind, one
dictionary.

Each is a School, and says all of itself in its own module: what a form calls it, what it is in
words, what it wants of a paper, and how it changes a time. To add one, write such a module and name
it in SCHOOL_KINDS. None of those ever shortens a time; one that passes all numbers is inf. What
one's own sheets make of one is an OwnCurve, which nobody chooses.
"""

from collections.abc import Mapping
from typing import Any

from pinhole.reciprocity.none import NoCorrection
from pinhole.reciprocity.own import OwnCurve
from pinhole.reciprocity.power_law import PowerLaw
from pinhole.reciprocity.school import School
from pinhole.reciprocity.table import Table

# In the order in which they are offered.
SCHOOL_KINDS: dict[str, type[School]] = {
    kind.name: kind for kind in (NoCorrection, PowerLaw, Table)
}

__all__ = [
    "SCHOOL_KINDS",
    "NoCorrection",
    "OwnCurve",
    "PowerLaw",
    "School",
    "Table",
    "choices",
    "from_data",
    "of_paper",
]


def from_data(data: dict[str, Any]) -> School:
    """The school kept by `as_data()`: a dict with `name` and the kind's own numbers. Raises
    KeyError if unknown.
    """
    numbers = {key: value for key, value in data.items() if key != "name"}
    return {**SCHOOL_KINDS, OwnCurve.name: OwnCurve}[data["name"]](**numbers)


def choices() -> list[tuple[str, str]]:
    """(name, words) of each, as a form offers them."""
    return [(name, kind.choice) for name, kind in SCHOOL_KINDS.items()]


def of_paper(numbers: Mapping[str, Any]) -> dict[str, School]:
    """{name: School} of every school that a paper with these numbers can be exposed by.

    numbers: exponent, onset_s and table, as School.of_paper takes them.
    """
    there = (kind for kind in SCHOOL_KINDS.values() if not kind.wants or numbers[kind.wants])
    return {kind.name: kind.of_paper(numbers) for kind in there}
