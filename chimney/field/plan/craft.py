"""The light to come over an exposure, as the craft reckons it on."""

from dataclasses import dataclass
from datetime import timedelta
from math import isfinite

import numpy as np

from chimney.field.craft import Lit, colour_at, colour_in
from chimney.parts import readings
from chimney.places import craft as places
from pinhole import durations, exposure
from pinhole.exposure import changing
from pinhole.light import dusk

# A forecast reaches so many times the planned exposure, in so many steps; back to where the day may
# have begun.
REACH, POINTS, BACK = 3.0, 24, timedelta(hours=12)
# Shorter exposures than this end before the light has moved.
LEAST_FORECAST_S = 60.0


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
        known = self.dark_at and isfinite(latest_s) and -latest_s <= BACK.total_seconds()
        return self.start + timedelta(seconds=latest_s) if known else None


def azimuth_of(cleaned, shot):
    """Where the camera looks, as typed, else as the shot knows it; or None."""
    typed = cleaned.get("azimuth_deg")
    return shot.azimuth_deg if typed is None and shot else typed


def lit_of(cleaned, shot):
    """The Lit of a cleaned PlanForm and of its Shot, if there is one; what the eye saw goes before
    what the outing expected, and a sky that nobody named is clear.
    """
    by_eye = cleaned["kind"] == "sky"
    expected = shot.outing.stops_less if shot and shot.outing else 0.0
    return Lit(
        azimuth_of(cleaned, shot),
        bool(shot and shot.shade) or (by_eye and readings.HEIGHTS[cleaned["height"]].shade),
        readings.SKIES[cleaned["sky"]].stops_less if by_eye else expected,
    )


def colour_of(cleaned, lit, place, moment):
    """(stops, sd) that the colour of the light asks of the paper of a cleaned PlanForm; nothing
    where it was left out, or neither the eye nor the place says how the sun stands.
    """
    if cleaned.get("plain_light"):
        return 0.0, 0.0
    if cleaned["kind"] == "sky":
        seen = readings.HEIGHTS[cleaned["height"]]
        return colour_in(cleaned["paper"], seen.altitude_deg, seen.off_deg, lit)
    return colour_at(cleaned["paper"], place, moment, lit)


def forecast(place, calculation, seconds, start, lit=None):
    """The Forecast of an exposure opened at start, on a subject lit that way, by the sun: the
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
    # Where nobody said which way the camera looks, the sun is behind it at first and goes on.
    looks = (
        float(daylight.azimuth_deg[ahead][0]) + 180 if lit.azimuth_deg is None else lit.azimuth_deg
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
            times[ahead], metered[ahead], min(ends_s, max(REACH * seconds, coming.closes_s, 1800.0))
        ),
        prospect=coming,
        dark_at=start + timedelta(seconds=dark_s) if isfinite(dark_s) else None,
        # An end that is counted the same has not moved.
        matters=not coming.full
        or durations.countable_s(coming.closes_s) != durations.countable_s(seconds),
    )


def _points(times, metered, until_s):
    """At most POINTS (seconds, metered seconds) from 0 to until_s, straight in stops between."""
    at = np.linspace(0, until_s, POINTS)
    stops = np.interp(at, times, np.log2(metered))
    return tuple(zip(map(float, at), map(float, 2.0**stops), strict=True))
