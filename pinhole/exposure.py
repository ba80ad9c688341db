"""From a reading to a time: a chain of steps, each kept, with the uncertainty of the result.

reading -> this camera's f-number -> this paper's EI -> filter and compensation -> reciprocity -> countable time
"""

import math
from dataclasses import asdict, dataclass, replace

import numpy as np

from pinhole import durations, light, optics
from pinhole.lessons import CENTRAL_90
from pinhole.ranges import checked, plain
from pinhole.reciprocity import from_data as school_from_data

# Until something better is known (common practice): the hole's measuring error as a share of d, and stops.
HOLE_SD_SHARE = 0.03
METER_SD_STOPS = 1 / 6
EI_SD_STOPS = 1 / 2
# Beyond half a stop either way a bracket is worth a sheet (common practice).
BRACKET_STOPS = 0.5
# A longer time is not counted beside a camera: it is a solargraph's business.
LONGEST_S = 24 * 3600

# ISO preferred numbers (ISO 3, R10) as ISO 5800 and ISO 12232 use them, over the decades that paper and film need.
SPEEDS = tuple(
    round(step * 10.0**decade, 2) for decade in range(-1, 4) for step in (1, 1.2, 1.6, 2, 2.5, 3, 4, 5, 6, 8)
)


@dataclass(frozen=True)
class Reading:
    """What the light was judged to be, as seconds at an f-number and an ISO.

    kind: "seconds", "ev", "lux" or "sky"; said: how it was typed; sd_stops: how far the reading itself may be off.
    """

    kind: str
    said: str
    seconds: float
    f_number: float
    iso: float
    sd_stops: float = METER_SD_STOPS


@dataclass(frozen=True)
class Step:
    """One factor of the chain: name, what the time is multiplied by, the seconds after it, its share of the doubt."""

    name: str
    factor: float
    seconds: float
    sd_stops: float = 0.0


@dataclass(frozen=True)
class Sum:
    """A worked-out time. metered_s is before reciprocity, exact_s after, seconds the countable one.

    low_s, high_s: central 90 %; low_stops, high_stops: the same against exact_s (low_stops is negative);
    bracket: whether that range passes half a stop either way.
    """

    reading: Reading
    f_number: float
    ei: float
    filter_stops: float
    compensation_stops: float
    school: object
    steps: tuple
    metered_s: float
    exact_s: float
    seconds: float
    sd_stops: float
    low_s: float
    high_s: float
    low_stops: float
    high_stops: float
    bracket: bool

    def as_data(self):
        """Everything as plain numbers and words, which `from_data` reads back without computing anew."""
        bare = {**asdict(replace(self, school=None)), "school": self.school.as_data()}
        return {**bare, "steps": [asdict(step) for step in self.steps]}


def from_data(data):
    """The Sum kept by `Sum.as_data()`, its numbers as they were then. Raises KeyError, TypeError on other data."""
    parts = {
        "reading": Reading(**data["reading"]),
        "school": school_from_data(data["school"]),
        "steps": tuple(Step(**step) for step in data["steps"]),
    }
    return Sum(**{**data, **parts})


def equivalent_s(seconds, *, from_f_number, to_f_number, from_iso, to_iso, stops=0):
    """The same light on the paper: seconds * (N_to / N_from)^2 * (ISO_from / ISO_to) * 2^stops.

    seconds [s, above 0], f-numbers and speeds [above 0], stops [any]; all broadcast. Returns [s].
    Raises ValueError outside. Source: ISO 2720:1974. Reciprocity is not in it.
    """
    seconds = checked("seconds", seconds, above=0)
    aperture = optics.meter_factor(to_f_number, from_f_number)
    speed = checked("from_iso", from_iso, above=0) / checked("to_iso", to_iso, above=0)
    return plain(seconds * aperture * speed * 2 ** checked("stops", stops))


def read_ev(ev, iso, said, *, kind="ev", sd_stops=METER_SD_STOPS):
    """A Reading from an exposure value shown at `iso`, told as seconds at the usual last f-number of a meter.

    ev [at that ISO], iso [above 0]. Raises ValueError outside. Source: ANSI PH2.5 additive system.
    """
    ev100 = light.ev100_at_iso(ev, iso)
    seconds = light.metered_s(ev100, optics.METER_F_NUMBER, iso)
    return Reading(kind, said, seconds, optics.METER_F_NUMBER, iso, sd_stops)


def read_lux(lux, said):
    """A Reading from incident light [lx, above 0] on a flat receptor. Raises ValueError outside."""
    return read_ev(light.ev100_from_lux(lux), 100, said, kind="lux")


def read_sky(sky, height, said):
    """A Reading from a light.Sky and a light.Height judged by eye, with the doubt that belongs to them."""
    ev100, sd_stops = light.by_eye(sky, height)
    return read_ev(ev100, 100, said, kind="sky", sd_stops=sd_stops)


def work_out(
    reading,
    *,
    f_number,
    ei,
    school,
    hole_sd_stops=None,
    ei_sd_stops=EI_SD_STOPS,
    filter_stops=0.0,
    compensation_stops=0.0,
):
    """The Sum for a Reading.

    f_number, ei [above 0]; school: one of pinhole.reciprocity, applied last; hole_sd_stops: what the hole's
    measuring error makes of the time [stops, 3 % of d by default]; ei_sd_stops [stops];
    filter_stops, compensation_stops [stops]. A time beyond all numbers is inf. Raises ValueError outside.
    Source: ISO 2720:1974 for the chain; uncertainties add in squares and are carried through the school by
    sending the ends of the central 90 % through it, which for a rising curve is exact.
    """
    if hole_sd_stops is None:
        hole_sd_stops = optics.diameter_stops(1, HOLE_SD_SHARE)
    steps = [Step("reading", 1.0, reading.seconds, reading.sd_stops)]

    def add(name, factor, sd_stops=0.0):
        steps.append(Step(name, factor, steps[-1].seconds * factor, sd_stops))

    add("camera", optics.meter_factor(f_number, reading.f_number), hole_sd_stops)
    add("paper", float(reading.iso / checked("ei", ei, above=0)), ei_sd_stops)
    add("filter", 2.0 ** float(checked("filter_stops", filter_stops)))
    add("compensation", 2.0 ** float(checked("compensation_stops", compensation_stops)))
    metered = steps[-1].seconds
    exact = _adjusted_s(school, metered)
    add("reciprocity", exact / metered if math.isfinite(metered) else 1.0)
    seconds = durations.countable_s(exact)
    add("count", seconds / exact if math.isfinite(exact) else 1.0)

    sd = math.hypot(*(step.sd_stops for step in steps))
    low, high = (_adjusted_s(school, metered * 2 ** (sign * CENTRAL_90 * sd)) for sign in (-1, 1))
    low_stops, high_stops = _stops(low, exact), _stops(high, exact)
    return Sum(
        reading=reading,
        f_number=float(f_number),
        ei=float(ei),
        filter_stops=float(filter_stops),
        compensation_stops=float(compensation_stops),
        school=school,
        steps=tuple(steps),
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


def _adjusted_s(school, metered):
    """What a school makes of a time that may have no end."""
    return school.adjusted_s(metered) if math.isfinite(metered) else math.inf


def _stops(seconds, against):
    """log2 of a ratio of two times of which either may have no end; two without end are the same."""
    if math.isinf(against):
        return 0.0 if math.isinf(seconds) else -math.inf
    return math.log2(seconds / against) if math.isfinite(seconds) else math.inf


def varied(done, *, stops=0.0, school=None):
    """The Sum for the same reading with so many stops more [stops], or by another school; its doubts stay."""
    doubt = {step.name: step.sd_stops for step in done.steps}
    return work_out(
        done.reading,
        f_number=done.f_number,
        ei=done.ei,
        school=school or done.school,
        hole_sd_stops=doubt["camera"],
        ei_sd_stops=doubt["paper"],
        filter_stops=done.filter_stops,
        compensation_stops=done.compensation_stops + stops,
    )


def read_again(done, reading):
    """The Sum of a second Reading for the same camera, EI, filter, compensation and school.

    done: a Sum; reading: a Reading. Its metered_s is what the light of that moment asks for.
    """
    return work_out(
        reading,
        f_number=done.f_number,
        ei=done.ei,
        school=done.school,
        filter_stops=done.filter_stops,
        compensation_stops=done.compensation_stops,
    )


def schools_beside(chosen, schools):
    """What other schools make of the same light: [(school, exact seconds, stops of clock against chosen)].

    chosen: a Sum; schools: iterable of pinhole.reciprocity objects. Stops are log2 of the ratio of the times.
    """
    times = [(school, school.adjusted_s(chosen.metered_s)) for school in schools]
    return [(school, exact, _stops(exact, chosen.exact_s)) for school, exact in times]


def effect_stops(done, seconds):
    """How much more effect `seconds` had than the worked-out time asked for, in stops, through its own school.

    done: a Sum; seconds [s, above 0]. Negative for less. Raises ValueError outside.
    Source: the inverse of the school of reciprocity that the sum used.
    """
    return math.log2(done.school.metered_s(seconds) / done.metered_s)


def stops_more_than_box(done, seconds, verdict_stops, box_ei):
    """How many stops more light than `box_ei` gives this sheet needed, for lessons.estimate_ei.

    done: the Sum the sheet was exposed by; seconds: the time it really got [s, above 0]; verdict_stops: how much
    more effect it should have got [stops]; box_ei [above 0]. Raises ValueError outside. Filter and compensation
    belong to the scene and not to the paper, so they stand on both sides and cancel.
    """
    asked_at_box = math.log2(float(checked("box_ei", box_ei, above=0)) / done.ei)
    return effect_stops(done, seconds) + asked_at_box + float(checked("verdict_stops", verdict_stops))


def meter_setting(ei, f_number, *, lowest_iso, last_f_number):
    """(iso, factor): what to set a meter to for this EI, and what its reading at its last f-number is multiplied by.

    ei, f_number, lowest_iso, last_f_number [above 0], scalars. A meter that goes low enough is set to the EI itself,
    else to its lowest ISO. Raises ValueError outside. Source: ISO 2720:1974, as equivalent_s.
    """
    ei = float(checked("ei", ei, above=0))
    iso = max(ei, float(checked("lowest_iso", lowest_iso, above=0)))
    return iso, equivalent_s(1, from_f_number=last_f_number, to_f_number=f_number, from_iso=iso, to_iso=ei)


def nearest_speed(ei):
    """The ISO preferred speed nearest in stops. ei [above 0]. Raises ValueError outside. Source: ISO 3, R10."""
    away = np.abs(np.log2(np.array(SPEEDS) / checked("ei", ei, above=0)))
    return SPEEDS[int(np.argmin(away))]
