"""The sun and the light over a place, on the place's own day, as the craft computes them."""

import math
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache

import numpy as np
from django.utils import timezone

from chimney.parts import clock
from chimney.places.models import Place
from pinhole import light, sun

STEP_MIN = 5
# Days whose sun is asked for again and again: today and tomorrow at a few places.
KEPT_DAYS = 64


@dataclass(frozen=True)
class SunDay:
    """The sun at a place on its own day: rise, set and noon as moments in its zone (None if there
    is none).
    """

    place: Place
    day: object
    rise: datetime | None
    set: datetime | None
    noon: datetime | None
    noon_altitude_deg: float
    noon_azimuth_deg: float
    always: str

    @property
    def words(self):
        if self.always:
            return (
                "the sun stays up all day" if self.always == "up" else "the sun stays down all day"
            )
        parts = [("up", self.rise), ("down", self.set)]
        return "sun " + ", ".join(f"{word} {moment:%H:%M}" for word, moment in parts if moment)


def today(place):
    return clock.now().astimezone(place.tz).date()


def bounds(place, day):
    """(start, end) of the place's own day as moments; 23 or 25 hours apart where clocks change.

    A day that a zone left out when it crossed the date line is reckoned as the 24 hours from where
    it would have begun.
    """
    start = datetime.combine(day, time(), place.tz)
    end = datetime.combine(day + timedelta(days=1), time(), place.tz)
    # Compared as moments: two times of one zone are compared by their clocks alone.
    if end.astimezone(UTC) <= start.astimezone(UTC):
        end = (start.astimezone(UTC) + timedelta(days=1)).astimezone(place.tz)
    return start, end


def as_utc64(moment):
    return np.datetime64(moment.astimezone(UTC).replace(tzinfo=None), "s")


def from_utc64(moment, zone):
    return (
        None if np.isnat(moment) else moment.astype(datetime).replace(tzinfo=UTC).astimezone(zone)
    )


def sun_day(place, day):
    start, end = bounds(place, day)
    events = _events(
        as_utc64(start), as_utc64(end), place.latitude_deg, place.longitude_deg, place.elevation_m
    )
    rise, set_ = (
        from_utc64(moments[0], place.tz) if moments.size else None
        for moments in (events.rises_utc, events.sets_utc)
    )
    noon = from_utc64(events.noon_utc, place.tz)
    return SunDay(
        place,
        day,
        rise,
        set_,
        noon,
        events.noon_altitude_deg,
        events.noon_azimuth_deg,
        events.always,
    )


@lru_cache(maxsize=KEPT_DAYS)
def _events(start, end, latitude_deg, longitude_deg, elevation_m):
    """The sun's events from start to end, see sun.day."""
    return sun.day(start, end, latitude_deg, longitude_deg, elevation_m)


def stands(place, moment, camera_azimuth_deg=None):
    """Stand of the sun to a camera, by the names of the craft: altitude_deg, and off_deg where
    somebody said which way it looks; nothing without a place.
    """
    if place is None:
        return {}
    azimuth, altitude = sun_at(place, moment)
    looks = camera_azimuth_deg
    angle = {} if looks is None else {"off_deg": off_deg(azimuth, looks)}
    return {"altitude_deg": altitude} | angle


def next_rise(place, moment):
    """The next sunrise within two days, on the place's clock; None where there is none."""
    first = moment.astimezone(place.tz).date()
    rises = (sun_day(place, first + timedelta(days=n)).rise for n in range(3))
    return next((rise for rise in rises if rise and rise > moment), None)


def hours(place, day):
    """[(moment, azimuth, altitude)] at the full hours of a place's day, while the sun is up."""
    start, _ = bounds(place, day)
    moments = [
        (start.replace(hour=hour), *sun_at(place, start.replace(hour=hour))) for hour in range(24)
    ]
    return [row for row in moments if row[2] > 0]


# Kilometres in a degree of latitude, and of longitude on the equator.
NORTH_KM, EAST_KM = 110.57, 111.32


def _east_km(place):
    return EAST_KM * max(0.01, math.cos(math.radians(place.latitude_deg)))


def away_km(place, latitude_deg, longitude_deg):
    """(east, north) of a place, as the ground near it is flat."""
    turn = (longitude_deg - place.longitude_deg + 180) % 360 - 180
    return turn * _east_km(place), (latitude_deg - place.latitude_deg) * NORTH_KM


def beside(place, east_km, north_km):
    """(latitude, longitude) so far east and north of a place."""
    latitude = place.latitude_deg + north_km / NORTH_KM
    longitude = place.longitude_deg + east_km / _east_km(place)
    return min(90.0, max(-90.0, latitude)), (longitude + 180) % 360 - 180


def sun_at(place, moment):
    """(azimuth, altitude) in degrees."""
    return sun.position(
        as_utc64(moment), place.latitude_deg, place.longitude_deg, place.elevation_m
    )


@dataclass(frozen=True)
class Daylight:
    """Light from a start on: seconds since then, where the sun stands; shape (n,) each; stops_less:
    what cloud takes of it, one for all or shape (n,).
    """

    start: datetime
    times_s: np.ndarray
    altitude_deg: np.ndarray
    azimuth_deg: np.ndarray
    stops_less: float | np.ndarray

    def before(self, camera_azimuth_deg=None, *, shade=False):
        """EV at ISO 100 on a scene before a camera that looks that way, shape (n,); with the sun
        behind the camera all day if None.
        """
        angle_deg = off_deg(self.azimuth_deg, camera_azimuth_deg)
        return light.scene_ev100(
            self.altitude_deg, angle_deg, stops_less=self.stops_less, shade=shade
        )


def off_deg(sun_azimuth_deg, camera_azimuth_deg):
    """Angle of the sun from behind a camera that looks that way [degrees]; 0 where nobody said
    which way.
    """
    return 0.0 if camera_azimuth_deg is None else sun_azimuth_deg - (camera_azimuth_deg + 180)


def daylight(place, start, end, stops_less=0.0, *, also=()):
    """The Daylight from start to end under a sky with so many stops less than clear; also: moments
    at which it is known besides.
    """
    seconds = np.arange(
        0, (end.astimezone(UTC) - start.astimezone(UTC)).total_seconds() + 1, STEP_MIN * 60.0
    )
    besides = [round((moment - start).total_seconds()) for moment in also]
    seconds = np.union1d(seconds, [extra_s for extra_s in besides if 0 <= extra_s <= seconds[-1]])
    times = as_utc64(start) + seconds.astype("timedelta64[s]")
    azimuth, altitude = sun.position(
        times, place.latitude_deg, place.longitude_deg, place.elevation_m
    )
    return Daylight(start, seconds, altitude, azimuth, stops_less)


def standard_offset_h(place, day):
    """The place's clock against UTC without summer time, in hours: the lesser of its winter's and
    its summer's, whichever of them the law calls standard.
    """
    halves = (datetime.combine(date(day.year, month, 1), time(12), place.tz) for month in (1, 7))
    return min(noon.utcoffset() for noon in halves).total_seconds() / 3600


def local(moment, place=None):
    """A moment on the place's clock, else at home."""
    return moment.astimezone(place.tz) if place else timezone.localtime(moment)
