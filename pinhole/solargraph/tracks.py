"""The sun's track over the days of a span, reckoned once for a place and a month: looking through a
camera at it is quick, so that it can be dragged.
"""

from __future__ import annotations

from calendar import monthrange
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import lru_cache
from typing import TYPE_CHECKING, Any

import numpy as np

from pinhole import sun
from pinhole.projection import directions
from pinhole.ranges import Array, checked

if TYPE_CHECKING:
    from pinhole.solargraph.skyline import Skyline


LONGEST_DAYS = 3660
DAY_MIN = 1440
# The sun is reckoned from the one to the end of the other.
FIRST_MONTH, LAST_MONTH = date(1900, 1, 1), date(2100, 12, 1)


# One is another only if it is the same: what is drawn of it is kept by that.
@dataclass(frozen=True, eq=False)
class Track:
    """The sun from first_day to last_day. days: datetime64[D], (n,); minutes: of the day at the
    fixed offset, (t,); azimuth_deg, altitude_deg: refracted, (n, t); noon_azimuth_deg,
    noon_altitude_deg of each day's upper transit, (n,); up: which samples stand above 0; sky: unit
    vectors of those alone, (3, k).
    """

    latitude_deg: float
    longitude_deg: float
    days: Array
    minutes: Array
    azimuth_deg: Array
    altitude_deg: Array
    noon_azimuth_deg: Array
    noon_altitude_deg: Array
    up: Array
    sky: Array

    @property
    def noon_sky(self) -> Array:
        """Unit vectors of the noons, (3, n)."""
        return directions(np.radians(self.noon_azimuth_deg), np.radians(self.noon_altitude_deg))

    def noons_seen(self, skyline: Skyline) -> Array:
        """True for days with the sun above 0 and above the skyline at noon, (n,)."""
        noon = self.noon_azimuth_deg, self.noon_altitude_deg
        hidden = np.where(
            skyline.leafy(self.days), skyline.hides(*noon, True), skyline.hides(*noon)
        )
        return (self.noon_altitude_deg > 0) & ~hidden


def track(
    latitude_deg: float,
    longitude_deg: float,
    first_day: date,
    last_day: date,
    *,
    utc_offset_h: float,
    step_min: float = 2,
    elevation_m: float = 0,
) -> Track:
    """The Track of a place.

    latitude_deg, longitude_deg, elevation_m as sun.position; first_day, last_day: datetime.date,
    last included, at most 3660 days; utc_offset_h [-14 to 14]: of the clock whose days these are,
    without summer time; step_min [1 to 60]. Raises ValueError outside and for reversed dates.
    Source: sun.position with refraction.
    """
    _check_days(first_day, last_day)
    step = int(checked("step_min", step_min, least=1, most=60))
    offset_h = float(checked("utc_offset_h", utc_offset_h, least=-14, most=14))
    place = float(latitude_deg), float(longitude_deg), float(elevation_m)
    months = [
        _cut(_month(*place, *ends, offset_h, step), first_day, last_day)
        for ends in _months(first_day, last_day)
    ]
    joined: dict[str, Any] = {
        name: np.concatenate([getattr(month, name) for month in months]) for name in OF_DAYS
    }
    sky = np.concatenate([month.sky for month in months], axis=1)
    return replace(months[0], **joined, sky=sky)


# Fields of a Track that have a row for each day.
OF_DAYS = ("days", "azimuth_deg", "altitude_deg", "noon_azimuth_deg", "noon_altitude_deg", "up")
# Spans that somebody compares share most of their months.
KEPT_MONTHS = 36


@lru_cache(maxsize=KEPT_MONTHS)
def _month(
    latitude_deg: float,
    longitude_deg: float,
    elevation_m: float,
    first_day: date,
    last_day: date,
    utc_offset_h: float,
    step_min: int,
) -> Track:
    """The Track of a month; what it holds is read only."""
    days = np.arange(np.datetime64(first_day, "D"), np.datetime64(last_day, "D") + 1)
    minutes = np.arange(0, DAY_MIN, step_min)
    starts = days.astype("datetime64[s]") - np.timedelta64(round(utc_offset_h * 3600), "s")
    moments = starts[:, None] + (minutes * 60).astype("timedelta64[s]")[None, :]
    place = latitude_deg, longitude_deg, elevation_m
    azimuth, altitude = sun.position(moments, *place, refraction=True)
    noons = sun.noons(starts, latitude_deg, longitude_deg)
    noon_azimuth, noon_altitude = map(np.atleast_1d, sun.position(noons, *place, refraction=True))
    up = altitude > 0
    sky = directions(np.radians(azimuth[up]), np.radians(altitude[up]))
    rows = days, minutes, azimuth, altitude, noon_azimuth, noon_altitude, up, sky
    for row in rows:
        row.flags.writeable = False
    return Track(latitude_deg, longitude_deg, *rows)


def _months(first_day: date, last_day: date) -> Iterator[tuple[date, date]]:
    """(first, last day) of the months of a span; at the ends of the years in which the sun is
    reckoned, no more than is asked for.
    """
    month = first_day.replace(day=1)
    while month <= last_day:
        end = month.replace(day=monthrange(month.year, month.month)[1])
        yield first_day if month == FIRST_MONTH else month, last_day if month == LAST_MONTH else end
        month = end + timedelta(days=1)


def _cut(whole: Track, first_day: date, last_day: date) -> Track:
    """A Track's days from first to last alone."""
    ends = np.array([first_day, last_day + timedelta(days=1)], "datetime64[D]")
    rows = slice(*np.searchsorted(whole.days, ends))
    samples = np.concatenate([[0], whole.up.sum(axis=1).cumsum()])
    sky = whole.sky[:, samples[rows.start] : samples[rows.stop]]
    return replace(whole, **{name: getattr(whole, name)[rows] for name in OF_DAYS}, sky=sky)


def _check_days(first_day: date, last_day: date) -> None:
    if not isinstance(first_day, date) or not isinstance(last_day, date) or last_day < first_day:
        raise ValueError("last_day must not be before first_day")
    if (last_day - first_day).days + 1 > LONGEST_DAYS:
        raise ValueError(f"first_day to last_day must be at most {LONGEST_DAYS} days")
