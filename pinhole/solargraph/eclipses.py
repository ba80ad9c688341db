"""Eclipses of the sun as a place sees them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

import ephem
import numpy as np

from pinhole.ranges import Array, checked

# New moons farther from the sun's path are over nobody's sun [degrees]; an eclipse lies so near to
# its new moon, and is looked at so often [minutes].
MOST_LATITUDE_DEG, REACH_MIN, WIDE_MIN, CLOSE_MIN = 1.7, 300, 10, 1
# The moon goes no farther in a coarse step [radians].
STEP_RAD = 0.002
LONGEST_YEARS = 100


@dataclass(frozen=True)
class Eclipse:
    """begins, greatest, ends: UTC, of what is seen above the horizon; share: of the sun's disc that
    is covered at its greatest, 0 to 1.
    """

    begins: datetime
    greatest: datetime
    ends: datetime
    share: float


def eclipses(latitude_deg: float, longitude_deg: float, first: date, last: date) -> list[Eclipse]:
    """[Eclipse] that a place sees from first to last, both included, UTC.

    latitude_deg [-90 to 90], longitude_deg [-180 to 180]; at most a century. Raises ValueError
    outside and for reversed dates.
    Source: the series of VSOP87 and of the moon in the package ephem, seen from the place; contact
    where the discs touch.
    """
    latitude = float(checked("latitude_deg", latitude_deg, least=-90, most=90))
    longitude = float(checked("longitude_deg", longitude_deg, least=-180, most=180))
    if last < first or last.year - first.year > LONGEST_YEARS:
        raise ValueError("last must not be before first, nor a century after it")
    # A day more on either side: a new moon of one day is an eclipse of another's.
    visible, moment = [], ephem.Date(ephem.Date((first.year, first.month, first.day)) - 1)
    end = ephem.Date((last.year, last.month, last.day)) + 2
    while (moment := ephem.next_new_moon(moment)) < end:
        if abs(np.degrees(ephem.Ecliptic(ephem.Moon(moment)).lat)) < MOST_LATITUDE_DEG:
            eclipse = _eclipse(latitude, longitude, moment.datetime())
            if eclipse and first <= eclipse.greatest.date() <= last:
                visible.append(eclipse)
    return visible


def covered(latitude_deg: float, longitude_deg: float, begins: datetime, minutes: Array) -> Array:
    """Share of the sun's disc that the moon covers, so many minutes after a moment, (n,).

    latitude_deg, longitude_deg as eclipses(); begins: UTC; minutes: (n,). Raises ValueError
    outside. Source: as eclipses().
    """
    latitude = float(checked("latitude_deg", latitude_deg, least=-90, most=90))
    longitude = float(checked("longitude_deg", longitude_deg, least=-180, most=180))
    naive = begins.astimezone(UTC).replace(tzinfo=None)
    apart, of_sun, of_moon, _ = _discs(latitude, longitude, naive, np.asarray(minutes, float))
    return np.where(apart < of_sun + of_moon, share_covered(apart, of_sun, of_moon), 0.0)


def _discs(latitude: float, longitude: float, begins: datetime, minutes: Array) -> Array:
    """(between the middles, radius of the sun, of the moon, height of the sun) so many minutes
    after a moment [radians], (4, n).
    """
    observer, rows = ephem.Observer(), []
    observer.lat, observer.lon = np.radians(latitude), np.radians(longitude)
    for minute in minutes.tolist():
        observer.date = ephem.Date(begins + timedelta(minutes=minute))
        sun, moon = ephem.Sun(observer), ephem.Moon(observer)
        rows.append((ephem.separation(sun, moon), sun.radius, moon.radius, sun.alt))
    return np.array(rows, float).T


def _eclipse(latitude: float, longitude: float, new_moon: datetime) -> Eclipse | None:
    options = latitude, longitude, new_moon
    coarse = np.arange(-REACH_MIN, REACH_MIN + 1, WIDE_MIN)
    apart, of_sun, of_moon, _ = _discs(*options, coarse)
    if (apart - of_sun - of_moon).min() > STEP_RAD:
        return None
    nearest = int(coarse[apart.argmin()])
    minutes = np.arange(nearest - REACH_MIN // 2, nearest + REACH_MIN // 2 + 1, CLOSE_MIN)
    apart, of_sun, of_moon, height = _discs(*options, minutes)
    is_seen = (apart < of_sun + of_moon) & (height > 0)
    if not is_seen.any():
        return None
    covered = np.where(is_seen, share_covered(apart, of_sun, of_moon), 0.0)
    places = np.flatnonzero(is_seen)[[0, -1]]
    begins, greatest, ends = (
        (new_moon + timedelta(minutes=int(minutes[n]))).replace(microsecond=0, tzinfo=UTC)
        for n in (places[0], int(covered.argmax()), places[1])
    )
    return Eclipse(begins, greatest, ends, float(covered.max()))


def share_covered(apart: Array, of_sun: Array, of_moon: Array) -> Array:
    """Share of the sun's disc that the moon's covers, (n,).

    apart, of_sun, of_moon: between the middles, and the radii, in one unit, (n,). Source: the lens
    of two circles.
    """
    d, a, b = np.maximum(apart, 1e-12), of_sun, of_moon
    alpha = np.arccos(np.clip((d**2 + a**2 - b**2) / (2 * d * a), -1, 1))
    beta = np.arccos(np.clip((d**2 + b**2 - a**2) / (2 * d * b), -1, 1))
    lens = a**2 * (alpha - np.sin(2 * alpha) / 2) + b**2 * (beta - np.sin(2 * beta) / 2)
    return np.asarray(np.clip(lens / (np.pi * a**2), 0, 1))
