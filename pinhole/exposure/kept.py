"""Calculations as plain data and back. Kept data say their version, and each older form has a
reader here.
"""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Any

from pinhole.exposure.calculation import Calculation, Factor, Specification
from pinhole.exposure.readings import Reading
from pinhole.reciprocity import from_data as school_from_data

# 1: one flat record, its chain called steps, without a version. 2: reading, specification and
# factors.
CALCULATION_VERSION = 2


def to_data(calculation: Calculation) -> dict[str, Any]:
    """Every number of a Calculation as plain data, which `from_data` reads back without computing
    anew.
    """
    data = {field.name: getattr(calculation, field.name) for field in fields(calculation)}
    data["reading"] = asdict(calculation.reading)
    data["specification"] = specification_to_data(calculation.specification)
    data["factors"] = [asdict(factor) for factor in calculation.factors]
    return {"version": CALCULATION_VERSION, **data}


def from_data(data: dict[str, Any]) -> Calculation:
    """The Calculation kept by `to_data`, in any version that was ever kept, its numbers as they
    were then.

    Raises KeyError or TypeError on other data, and ValueError on a version that is not known yet.
    """
    version = data.get("version", 1)
    if version not in VERSION_READERS:
        raise ValueError(f"calculations of version {version} are not known here")
    return VERSION_READERS[version](data)


def specification_to_data(specification: Specification) -> dict[str, Any]:
    """A Specification as plain data."""
    data = {field.name: getattr(specification, field.name) for field in fields(specification)}
    return {**data, "school": specification.school.as_data()}


def specification_from_data(data: dict[str, Any]) -> Specification:
    """The Specification kept by `specification_to_data`. Raises KeyError or TypeError on other
    data.
    """
    learned = tuple(map(tuple, data.get("learned", ())))
    fields = {**data, "school": school_from_data(data["school"]), "learned": learned}
    return Specification(**fields)


def _version_2(data: dict[str, Any]) -> Calculation:
    parts = {
        "reading": Reading(**data["reading"]),
        "specification": specification_from_data(data["specification"]),
        "factors": tuple(Factor(**factor) for factor in data["factors"]),
    }
    return Calculation(
        **{**{name: value for name, value in data.items() if name != "version"}, **parts}
    )


def _version_1(data: dict[str, Any]) -> Calculation:
    """The flat record: what the specification holds stood beside the results, its doubts only in
    the chain.
    """
    data = dict(data)
    chain = {step["name"]: step for step in data.pop("steps")}
    names = ("f_number", "ei", "filter_stops", "compensation_stops")
    specification = Specification(
        **{name: data.pop(name) for name in names},
        school=school_from_data(data.pop("school")),
        hole_sd_stops=chain["camera"]["sd_stops"],
        ei_sd_stops=chain["paper"]["sd_stops"],
    )
    factors = tuple(
        Factor(name, step["factor"], step["seconds"], step["sd_stops"])
        for name, step in chain.items()
    )
    return Calculation(
        **{
            **data,
            "reading": Reading(**data["reading"]),
            "specification": specification,
            "factors": factors,
        }
    )


VERSION_READERS = {1: _version_1, 2: _version_2}
