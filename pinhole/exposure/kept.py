"""Calculations as plain data and back. Kept data say their version, and each older form has a
reader here.
"""

from dataclasses import asdict, replace

from pinhole.exposure.calculation import Calculation, Factor, Specification
from pinhole.exposure.readings import Reading
from pinhole.reciprocity import from_data as school_from_data

# 1: one flat record, its chain called steps, without a version. 2: reading, specification and
# factors.
CALCULATION_VERSION = 2


def to_data(calculation):
    """Every number of a Calculation as plain data, which `from_data` reads back without computing
    anew.
    """
    bare = asdict(replace(calculation, specification=None))
    specification = specification_to_data(calculation.specification)
    return {
        "version": CALCULATION_VERSION,
        **bare,
        "specification": specification,
        "factors": list(bare["factors"]),
    }


def from_data(data):
    """The Calculation kept by `to_data`, in any version that was ever kept, its numbers as they
    were then.

    Raises KeyError or TypeError on other data, and ValueError on a version that is not known yet.
    """
    version = data.get("version", 1)
    if version not in VERSION_READERS:
        raise ValueError(f"calculations of version {version} are not known here")
    return VERSION_READERS[version](data)


def specification_to_data(specification):
    """A Specification as plain data."""
    return {**asdict(replace(specification, school=None)), "school": specification.school.as_data()}


def specification_from_data(data):
    """The Specification kept by `specification_to_data`. Raises KeyError or TypeError on other
    data.
    """
    learned = tuple(map(tuple, data.get("learned", ())))
    fields = {**data, "school": school_from_data(data["school"]), "learned": learned}
    return Specification(**fields)


def _version_2(data):
    parts = {
        "reading": Reading(**data["reading"]),
        "specification": specification_from_data(data["specification"]),
        "factors": tuple(Factor(**factor) for factor in data["factors"]),
    }
    return Calculation(
        **{**{name: value for name, value in data.items() if name != "version"}, **parts}
    )


def _version_1(data):
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
