"""Calls to the craft for a year of light: how long the hole stays open, whenever it is opened."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

import numpy as np

from chimney.places import craft as places
from pinhole import durations, exposure, light, sun
from pinhole.light.dusk import DARK_DEG
from pinhole.light.openings import openings

# The year is looked at so often a day, and a day more at its end for what is opened on its last.
GRID_MIN, DAYS = 15, 365
A_DAY = 24 * 60 // GRID_MIN
# Within so long an opening makes sense (common practice).
SENSIBLE_S = 3600.0


@dataclass(frozen=True)
class YearOfLight:
    """Every opening of a year at a place under one sky, by a Specification. days: dates, each the
    next time that it comes, from the first of January on; ahead_min: of the place's clock before
    its standard time, (n,); minutes: of the standard clock, (t,); open_s, short_stops,
    altitude_deg, azimuth_deg, ev100: (n, t).
    """

    place: object
    days: list
    ahead_min: np.ndarray
    minutes: np.ndarray
    open_s: np.ndarray
    short_stops: np.ndarray
    altitude_deg: np.ndarray
    azimuth_deg: np.ndarray
    ev100: np.ndarray

    def opening(self, day, minute):
        """The Opened of a day at a minute of the place's clock."""
        n = self.days.index(self.nearest(day))
        named, standard = self.days[n], minute - self.ahead_min[n]
        if standard < 0:
            # By the standard clock it is the evening before.
            n, standard = n - 1, standard + self.minutes[-1] + GRID_MIN
        standard = float(min(standard, self.minutes[-1]))
        return Opened(
            named,
            minute,
            _between(self.minutes, self.open_s[n], standard),
            float(np.interp(standard, self.minutes, np.minimum(self.short_stops[n], 99.0))),
            float(np.interp(standard, self.minutes, self.altitude_deg[n])),
            float(np.degrees(_turned(self.minutes, np.radians(self.azimuth_deg[n]), standard))),
            float(np.interp(standard, self.minutes, self.ev100[n])),
        )

    def nearest(self, day):
        """The day of this year that has its month and day; the 28th for a leap day it has not."""
        same = [each for each in self.days if (each.month, each.day) == (day.month, day.day)]
        return same[0] if same else self.nearest(date(day.year, 2, 28))

    def sensible(self, day):
        """(first, last) minute of the place's clock at which a sheet gets full within SENSIBLE_S on
        that day, or None.
        """
        n = self.days.index(self.nearest(day))
        good = np.flatnonzero(np.nan_to_num(self.open_s[n], nan=np.inf) <= SENSIBLE_S)
        if not good.size:
            return None
        return tuple(float(self.minutes[k] + self.ahead_min[n]) for k in good[[0, -1]])


@dataclass(frozen=True)
class Opened:
    """An opening that is read off: day, minute of the place's clock; seconds, inf where dusk comes
    first, nan in the dark; short_stops that lack then; the sun's altitude and azimuth; ev100.
    """

    day: date
    minute: float
    seconds: float
    short_stops: float
    altitude_deg: float
    azimuth_deg: float
    ev100: float

    @property
    def moment(self):
        """ "14:30"."""
        return f"{int(self.minute) // 60:02d}:{int(self.minute) % 60:02d}"

    @property
    def is_full(self):
        return bool(np.isfinite(self.seconds))

    @property
    def is_dark(self):
        return self.altitude_deg < DARK_DEG

    @property
    def counted_s(self):
        return durations.countable_s(self.seconds)


def year(place, specification, sky, first_day, looks_deg=None):
    """The YearOfLight from a day on, before a camera that looks that way; with the sun behind it
    all day if None.
    """
    offset = timedelta(hours=places.standard_offset_h(place, first_day))
    start = datetime.combine(first_day, time(), UTC) - offset
    times_s = np.arange((DAYS + 1) * A_DAY) * GRID_MIN * 60.0
    azimuth, altitude = sun.position(
        places.as_utc64(start) + times_s.astype("timedelta64[s]"),
        place.latitude_deg,
        place.longitude_deg,
        place.elevation_m,
    )
    ev100 = light.scene_ev100(
        altitude, places.off_deg(azimuth, looks_deg), stops_less=sky.stops_less
    )
    filling = openings(times_s, specification.metered_s(ev100), altitude, specification.school)
    days = [first_day + timedelta(days=n) for n in range(DAYS)]
    order = np.array(sorted(range(DAYS), key=lambda n: (days[n].month, days[n].day)))

    def by_day(values):
        return values[: DAYS * A_DAY].reshape(DAYS, A_DAY)[order]

    columns = (filling.open_s, filling.short_stops, altitude, azimuth, ev100)
    ordered = [days[n] for n in order]
    ahead = np.array([_ahead_min(place, day, offset) for day in ordered])
    return YearOfLight(place, ordered, ahead, np.arange(A_DAY) * GRID_MIN, *map(by_day, columns))


def calculation(specification, sky, opened):
    """The Calculation of an Opened, as the eye's reading of that sky would have it."""
    reading = exposure.read_ev(opened.ev100, 100, "", kind="sky", sd_stops=sky.sd_stops)
    return exposure.calculate(reading, specification)


def _ahead_min(place, day, offset):
    noon = datetime.combine(day, time(12), place.tz)
    return (noon.utcoffset() - offset) / timedelta(minutes=1)


def _between(minutes, open_s, minute):
    """Straight in stops between neighbours; what is not full at one of them is not."""
    k = min(int(minute // GRID_MIN), len(minutes) - 2)
    low, high = open_s[k], open_s[k + 1]
    share = (minute - minutes[k]) / GRID_MIN
    if share == 0 or not (np.isfinite(low) and np.isfinite(high)):
        return float(low if share < 0.5 else high)
    return float(np.exp((1 - share) * np.log(low) + share * np.log(high)))


def _turned(minutes, azimuth_rad, minute):
    return np.interp(minute, minutes, np.unwrap(azimuth_rad)) % (2 * np.pi)
