"""From a reading to a time: a chain of factors, each kept, with the uncertainty of the result.

reading -> this camera's f-number -> this paper's EI -> filter and compensation -> reciprocity ->
countable time
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from pinhole import durations, light, optics
from pinhole.exposure.readings import Reading
from pinhole.lessons import CENTRAL_90
from pinhole.ranges import Array, Numbers, checked

if TYPE_CHECKING:
    from pinhole.reciprocity.school import School


# Until something better is known (common practice): the hole's measuring error as a share of d, and
# stops.
HOLE_SD_SHARE = 0.03
EI_SD_STOPS = 1 / 2
# A filter's factor is common practice: papers and light differ.
FILTER_SD_STOPS = 0.4
# Beyond half a stop either way a bracket is worth a sheet (common practice).
BRACKET_STOPS = 0.5
# A longer time is not counted beside a camera: it is for a solargraph.
LONGEST_S = 24 * 3600


@dataclass(frozen=True)
class Specification:
    """Makings of an exposure, whatever the light: the camera's f_number, the paper's ei, the school
    of reciprocity, and the scene's filter_stops and compensation_stops.

    hole_sd_stops: what the hole's measuring error makes of the time, 3 % of d by default;
    ei_sd_stops, filter_sd_stops: how sure EI and filter are; colour_stops, colour_sd_stops: how
    much more time the colour of the light asks for with this paper than a meter says, and how sure
    that is; preflash_stops: how far under the middle the sheet is flashed before, 0 for not at all;
    learned: ((name, stops more, sd), ...) of what one's own sheets say of this camera or light, see
    pinhole.lessons; trial_stops: what this sheet of a bracket or strip is given more than the
    scene asks for, to be judged by.
    """

    f_number: float
    ei: float
    school: School
    hole_sd_stops: float = optics.diameter_stops(1, HOLE_SD_SHARE)
    ei_sd_stops: float = EI_SD_STOPS
    filter_stops: float = 0.0
    compensation_stops: float = 0.0
    colour_stops: float = 0.0
    colour_sd_stops: float = 0.0
    preflash_stops: float = 0.0
    learned: tuple[tuple[str, float, float], ...] = ()
    filter_sd_stops: float = 0.0
    trial_stops: float = 0.0

    @property
    def requests(self) -> tuple[tuple[str, float, float], ...]:
        """((name, stops more, sd [stops]), ...): all that comes between the paper's EI and
        reciprocity, in its order. Every reader takes it from here. Raises ValueError for what is no
        number of stops.
        """
        colour = (self.colour_stops, self.colour_sd_stops)
        flash = checked("preflash_stops", self.preflash_stops, least=0)
        rows = (
            *([("colour", *colour)] if self.colour_stops else []),
            *self.learned,
            ("filter", self.filter_stops, self.filter_sd_stops),
            ("compensation", self.compensation_stops, 0.0),
            *([("trial", self.trial_stops, 0.0)] if self.trial_stops else []),
            *([("preflash", flash_left_stops(flash), 0.0)] if flash else []),
        )
        return tuple(
            (name, float(checked(f"{name}_stops", stops)), float(sd)) for name, stops, sd in rows
        )

    @property
    def more_stops(self) -> float:
        """Stops that it asks for more than camera and EI, before reciprocity."""
        return math.fsum(stops for _, stops, _ in self.requests)

    @property
    def sd_stops(self) -> float:
        """Doubt of the time before reciprocity, without that of the reading [stops]."""
        return math.hypot(self.hole_sd_stops, self.ei_sd_stops, *(sd for *_, sd in self.requests))

    def metered_s(self, ev100: Array) -> Array:
        """Seconds before reciprocity in light of ev100 [EV at ISO 100, any shape]. Raises
        ValueError as light.metered_s.
        """
        return light.metered_s(ev100 - self.more_stops, self.f_number, self.ei)


@dataclass(frozen=True)
class Factor:
    """One factor of the chain: name, what the time is multiplied by, the seconds after it, its
    share of the doubt.
    """

    name: str
    multiplier: float
    seconds: float
    sd_stops: float = 0.0


@dataclass(frozen=True)
class Calculation:
    """A time worked out. metered_s is before reciprocity, exact_s after, seconds the countable one.

    low_s, high_s: central 90 %; low_stops, high_stops: the same against exact_s (low_stops is
    negative); bracket: whether that range passes half a stop either way.
    """

    reading: Reading
    specification: Specification
    factors: tuple[Factor, ...]
    metered_s: float
    exact_s: float
    seconds: float
    sd_stops: float
    low_s: float
    high_s: float
    low_stops: float
    high_stops: float
    bracket: bool

    @property
    def school(self) -> School:
        """The school of reciprocity it used."""
        return self.specification.school

    def factor(self, name: str) -> Factor:
        """The Factor of that name. Raises StopIteration for a name that is none of them."""
        return next(factor for factor in self.factors if factor.name == name)


def calculate(reading: Reading, specification: Specification) -> Calculation:
    """The Calculation for a Reading and a Specification.

    reading: a Reading; specification: f_number and ei above 0, stops any, school one of
    pinhole.reciprocity, applied last. A time beyond all numbers is inf. Raises ValueError outside.
    Source: ISO 2720:1974 for the chain; uncertainties add in squares and are carried through the
    school by sending the ends of the central 90 % through it, which for a rising curve is exact.
    """
    chain = _chain(reading, specification)
    metered, school = chain[-1].seconds, specification.school
    exact = _adjusted_s(school, metered)
    seconds = durations.countable_s(exact)
    sd = math.hypot(*(factor.sd_stops for factor in chain))
    low, high = (_adjusted_s(school, metered * 2 ** (sign * CENTRAL_90 * sd)) for sign in (-1, 1))
    low_stops, high_stops = stops_between(low, exact), stops_between(high, exact)
    return Calculation(
        reading=reading,
        specification=specification,
        factors=(
            *chain,
            Factor("reciprocity", exact / metered if math.isfinite(metered) else 1.0, exact),
            Factor("count", seconds / exact if math.isfinite(exact) else 1.0, seconds),
        ),
        metered_s=metered,
        exact_s=exact,
        seconds=seconds,
        sd_stops=sd,
        low_s=low,
        high_s=high,
        low_stops=low_stops,
        high_stops=high_stops,
        bracket=max(-low_stops, high_stops) > BRACKET_STOPS,
    )


def _chain(reading: Reading, specification: Specification) -> list[Factor]:
    """The Factors before reciprocity."""
    ei = checked("ei", specification.ei, above=0)
    chain, seconds = [Factor("reading", 1.0, reading.seconds, reading.sd_stops)], reading.seconds
    for name, multiplier, sd_stops in (
        (
            "camera",
            optics.meter_factor(specification.f_number, reading.f_number),
            specification.hole_sd_stops,
        ),
        ("paper", float(reading.iso / ei), specification.ei_sd_stops),
        *((name, 2.0**stops, sd) for name, stops, sd in specification.requests),
    ):
        seconds = seconds * multiplier
        chain.append(Factor(name, multiplier, seconds, sd_stops))
    return chain


def flash_left_stops(preflash_stops: Numbers) -> float:
    """Stops that the picture gets less after a flash so far under the middle, so that the middle
    has what it would have had.

    preflash_stops [at least 0; 0 is no flash]. Returns a float, 0 or negative. Raises ValueError
    outside. Source: exposures of one sheet add.
    """
    stops = float(checked("preflash_stops", preflash_stops, least=0))
    return math.log2(1 - 2.0**-stops) if stops else 0.0


def _adjusted_s(school: School, metered: float) -> float:
    """Time by a school of one that may have no end."""
    return school.adjusted_s(metered) if math.isfinite(metered) else math.inf


def stops_between(seconds: float, against: float) -> float:
    """log2 of the ratio of two times [s, above 0] of which either may have no end; two without end
    are the same.
    """
    if math.isinf(against):
        return 0.0 if math.isinf(seconds) else -math.inf
    return math.log2(seconds / against) if math.isfinite(seconds) else math.inf


def recalculate(
    calculation: Calculation,
    *,
    reading: Reading | None = None,
    stops: float = 0.0,
    trial_stops: float = 0.0,
    school: School | None = None,
) -> Calculation:
    """The same Calculation for another Reading, for so many stops more that the scene asks for or
    that are tried [stops], or by another school.

    All that is not named stays, the doubts of hole and EI too.
    """
    spec = calculation.specification
    changed = replace(
        spec,
        compensation_stops=spec.compensation_stops + stops,
        trial_stops=spec.trial_stops + trial_stops,
        school=school or spec.school,
    )
    return calculate(reading or calculation.reading, changed)


def schools_beside(
    calculation: Calculation, schools: Iterable[School]
) -> list[tuple[School, float, float]]:
    """Times by other schools in the same light: [(school, exact seconds, stops of clock against the
    Calculation)].

    schools: iterable of pinhole.reciprocity objects. Stops are log2 of the ratio of the times.
    """
    times = [(school, _adjusted_s(school, calculation.metered_s)) for school in schools]
    return [(school, exact, stops_between(exact, calculation.exact_s)) for school, exact in times]


def effect_stops(calculation: Calculation, seconds: float) -> float:
    """Stops of effect that `seconds` had more than the calculated time asked for, through its own
    school.

    seconds [s, above 0]. Negative for less. Raises ValueError outside.
    Source: the inverse of the school of reciprocity that the Calculation used.
    """
    return math.log2(calculation.school.metered_s(seconds) / calculation.metered_s)


def stops_more_than_box(
    calculation: Calculation, seconds: float, verdict_stops: float, box_ei: float
) -> float:
    """Stops of light that this sheet needed more than `box_ei` gives, for lessons.estimate_ei.

    calculation: the Calculation the sheet was exposed by; seconds: the time it really got [s, above
    0]; verdict_stops: how much more effect it should have got [stops]; box_ei [above 0]. Raises
    ValueError outside. Filter and compensation belong to the scene and not to the paper, so they
    stand on both sides and cancel; what was tried in a bracket or strip does not.
    """
    asked_at_box = math.log2(
        float(checked("box_ei", box_ei, above=0)) / calculation.specification.ei
    )
    return (
        effect_stops(calculation, seconds)
        + asked_at_box
        + calculation.specification.trial_stops
        + float(checked("verdict_stops", verdict_stops))
    )
