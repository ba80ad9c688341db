"""An exposure in light that the sun moves meanwhile: when it closes, and whether it is full before dark."""

from dataclasses import dataclass
from datetime import timedelta
from math import isfinite

import numpy as np

from chimney.places import flows as places
from pinhole import durations, dusk, exposure, light

# A forecast reaches so many times the planned exposure, in so many steps; back to where the day may have begun.
REACH, POINTS, BACK = 3.0, 24, timedelta(hours=12)
# Shorter exposures than this end before the light has moved.
LEAST_FORECAST_S = 60.0


@dataclass(frozen=True)
class Forecast:
    """An exposure opened at start, in light reckoned on by the sun. points: (seconds after opening, metered seconds);
    prospect: the craft's, in seconds after opening; dark_at: None where it does not get dark; matters: whether it moves
    the end.
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
        """The last moment of opening that fills the sheet before dark, None where there is none or no dark."""
        latest_s = self.prospect.latest_s
        known = self.dark_at and isfinite(latest_s) and -latest_s <= BACK.total_seconds()
        return self.start + timedelta(seconds=latest_s) if known else None


def forecast(place, done, seconds, start):
    """The Forecast of an exposure opened at start, by the sun alone: the reading is taken as true at that moment.

    None without a place, for a short one, and where it is dark already: that reading is of a lamp, not of the sun.
    """
    if place is None or not LEAST_FORECAST_S <= seconds <= exposure.LONGEST_S:
        return None
    seen = places.daylight(place, start - BACK, start + timedelta(seconds=exposure.LONGEST_S))
    times = seen.times_s - BACK.total_seconds()
    ahead = times >= 0
    dark_s = dusk.dark_from_s(times[ahead], seen.altitude_deg[ahead])
    if np.isnan(dark_s):
        return None
    metered = done.metered_s * 2.0 ** (seen.ev100[ahead][0] - seen.ev100)
    course = light.course(times, metered, done.school).scaled(done.exact_s / seconds)
    ends_s = min(dark_s, exposure.LONGEST_S)
    found = dusk.prospect(course, 0.0, ends_s)
    return Forecast(
        start=start,
        points=_points(times[ahead], metered[ahead], min(ends_s, max(REACH * seconds, found.closes_s, 1800.0))),
        prospect=found,
        dark_at=start + timedelta(seconds=dark_s) if isfinite(dark_s) else None,
        # An end that is counted the same has not moved.
        matters=not found.full or durations.countable_s(found.closes_s) != durations.countable_s(seconds),
    )


def _points(times, metered, until_s):
    """At most POINTS (seconds, metered seconds) from 0 to until_s, straight in stops between."""
    at = np.linspace(0, until_s, POINTS)
    stops = np.interp(at, times, np.log2(metered))
    return tuple(zip(map(float, at), map(float, 2.0**stops), strict=True))
