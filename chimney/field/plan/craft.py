"""The light to come over an exposure, as the craft reckons it on."""

from dataclasses import dataclass, replace
from datetime import timedelta
from math import isfinite, log2

import numpy as np

from chimney.field.light.craft import Lit, lit_at
from chimney.parts import readings
from chimney.places import craft as places
from pinhole import durations, exposure, light
from pinhole.exposure import changing
from pinhole.light import dusk

# A forecast reaches so many times the planned exposure, in so many steps; back to where the day may
# have begun.
FORECAST_REACH, FORECAST_POINTS, BACK = 3.0, 24, timedelta(hours=12)
# Shorter exposures than this end before the light has moved.
LEAST_FORECAST_S = 60.0


# The fields of a plan that may move each part of its time.
READING_MOVERS = {"kind", "seconds", "meter_f", "meter_iso", "ev", "ev_iso", "lux", "sky", "height"}
OWNERS = {
    "reading": READING_MOVERS | {"seen", "seen_height", "darkest", "brightest", "azimuth_deg"},
    "camera": {"camera", "aperture"},
    "ei": {"ei", "ei_from"},
    "colour": {"plain_light", "azimuth_deg"},
    "filter": {"filter_name", "filter_stops"},
    "compensation": {"compensation_stops", "darkest", "brightest", "hold", "felt_s"},
    "preflash": {"preflash_stops"},
    "school": {"school"},
}
MOVERS = sorted({"paper", "developer"}.union(*OWNERS.values()))
# A move of less than this is not worth a word.
LEAST_MOVE_STOPS = 1 / 3


def parts_of(calculation):
    """{part: log2 of what it makes of the time} of a Calculation, as plain data."""
    spec = calculation.specification
    parts = {
        "reading": -calculation.reading.ev100,
        "camera": 2 * log2(spec.f_number),
        "ei": -log2(spec.ei),
        "school": log2(calculation.exact_s / calculation.metered_s),
    }
    return parts | {name: stops for name, stops, _ in spec.requests}


def moved_beside(before, calculation, changed):
    """[(part, stops)] by which a time moved through anything but the fields just changed.

    before: parts_of what was shown then; changed: the names of the fields. What long times ask for
    follows the rest of the time.
    """
    now = parts_of(calculation)
    moves = []
    for part in sorted(before.keys() | now.keys()):
        stops = now.get(part, 0.0) - before.get(part, 0.0)
        is_its_own = not changed.isdisjoint(OWNERS.get(part, {"camera", "paper"}))
        if part != "school" and not is_its_own and abs(stops) >= LEAST_MOVE_STOPS:
            moves.append((part, stops))
    return moves


@dataclass(frozen=True)
class Forecast:
    """An exposure opened at start, in light reckoned on by the sun. points: (seconds after opening,
    metered seconds); prospect: the craft's, in seconds after opening; dark_at: None where it does
    not get dark; matters: whether it moves the end.
    """

    start: object
    points: tuple
    prospect: dusk.Prospect
    dark_at: object
    matters: bool

    @property
    def closes_at(self):
        return self.start + timedelta(seconds=self.prospect.closes_s)

    @property
    def latest_at(self):
        """The last moment of opening that fills the sheet before dark, None where there is none or
        no dark.
        """
        latest_s = self.prospect.latest_s
        is_certain = self.dark_at and isfinite(latest_s) and -latest_s <= BACK.total_seconds()
        return self.start + timedelta(seconds=latest_s) if is_certain else None


def azimuth_of(cleaned, shot):
    """Direction of the camera, as typed, else as the shot knows it; or None."""
    typed = cleaned.get("azimuth_deg")
    return shot.azimuth_deg if typed is None and shot else typed


def lit_of(cleaned, shot, place, moment):
    """The Lit of a cleaned PlanForm and of its Shot, if there is one: by the sky that the eye
    named, else by the reading. A reading outvotes what was expected of the day.
    """
    by_eye = cleaned["kind"] == "sky"
    named = cleaned["sky"] if by_eye else cleaned.get("seen")
    height = light.HEIGHT_BY_NAME[cleaned["height"]] if by_eye else None
    lit = lit_at(
        place,
        moment,
        looks_deg=azimuth_of(cleaned, shot),
        shade=bool(shot and shot.shade) or bool(height and height.shade),
        sky=light.SKY_BY_NAME.get(named),
        ev100=None if by_eye else readings.read(cleaned).ev100,
    )
    if not height:
        return lit
    if lit.altitude_deg is None:
        lit = replace(lit, altitude_deg=height.altitude_deg)
    return replace(lit, off_deg=height.off_deg) if lit.looks_deg is None else lit


def forecast(place, calculation, seconds, start, lit=None):
    """The Forecast of an exposure opened at start, on a scene lit that way, by the sun: the
    reading is taken as true at that moment.

    None without a place, for a short one, and where it is dark already: that reading is of a lamp,
    not of the sun.
    """
    if place is None or not LEAST_FORECAST_S <= seconds <= exposure.LONGEST_S:
        return None
    lit, until = lit or Lit(), start + timedelta(seconds=exposure.LONGEST_S)
    daylight = places.daylight(place, start - BACK, until, lit.stops_less)
    times = daylight.times_s - BACK.total_seconds()
    ahead = times >= 0
    dark_s = dusk.dark_from_s(times[ahead], daylight.altitude_deg[ahead])
    if np.isnan(dark_s):
        return None
    # Where nobody said which way the camera looks, the sun stands to it as the eye has it, else
    # behind it, at first and goes on.
    looks = (
        float(daylight.azimuth_deg[ahead][0]) + 180 - lit.off_deg
        if lit.looks_deg is None
        else lit.looks_deg
    )
    ev100 = daylight.before(looks, shade=lit.shade)
    metered = calculation.metered_s * 2.0 ** (ev100[ahead][0] - ev100)
    ends_s = min(dark_s, exposure.LONGEST_S)
    coming = dusk.prospect(
        changing.filling_course(calculation, seconds, times, metered), 0.0, ends_s
    )
    return Forecast(
        start=start,
        points=_points(
            times[ahead],
            metered[ahead],
            min(ends_s, max(FORECAST_REACH * seconds, coming.closes_s, 1800.0)),
        ),
        prospect=coming,
        dark_at=start + timedelta(seconds=dark_s) if isfinite(dark_s) else None,
        # An end that is counted the same has not moved.
        matters=not coming.full
        or durations.countable_s(coming.closes_s) != durations.countable_s(seconds),
    )


def _points(times, metered, until_s):
    """(seconds, metered seconds), at most FORECAST_POINTS of them, from 0 to until_s, straight in
    stops between.
    """
    times_s = np.linspace(0, until_s, FORECAST_POINTS)
    stops = np.interp(times_s, times, np.log2(metered))
    return tuple(zip(map(float, times_s), map(float, 2.0**stops), strict=True))
