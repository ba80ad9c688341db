"""Calls to the craft for the light before a camera from a day on, every quarter of an hour."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache

import numpy as np

from chimney.field.light.craft import LOWEST_COLOUR_DEG
from chimney.places import craft as places
from pinhole import light, sun
from pinhole import moon as moons
from pinhole.solargraph import skyline
from pinhole.solargraph.skyline import ZENITH_DEG

# The day is looked at so often; a day before the first and days after the last one are known too,
# for what is opened by summer's clock or closes later.
GRID_MIN, DAYS_BEFORE, DAYS_AFTER = 15, 1, 2
A_DAY = 24 * 60 // GRID_MIN
# Lights of the views looked at last are kept: a year of one takes a megabyte and a half.
KEPT_LIGHTS = 8
# Light of sun and sky by these heights and angles from behind the camera, straight between them.
HEIGHTS_DEG = np.concatenate(
    [np.arange(-18, -1.5, 0.5), np.arange(-1.5, 1, 0.05), np.arange(1, 25, 0.5), np.arange(25, 91)]
)
OFFS_DEG = np.arange(0.0, 181.0, 5.0)
# A skyline's shade has crossed a scene when the sun has sunk so far on either side of its edge
# (common practice).
SOFT_DEG = 1.5


@dataclass(frozen=True)
class Outlook:
    """Makings of the light before a camera: where it stands, its clock without summer time, the
    days, which way it looks (None: the sun behind it all day), what cloud takes, or how much there
    is by the hour ((epoch seconds, percent), ...), the skyline, and what shines at night: the moon,
    or a lamp of so many EV at ISO 100.
    """

    latitude_deg: float
    longitude_deg: float
    elevation_m: float
    offset_h: float
    first_day: date
    days: int
    looks_deg: float | None
    stops_less: float
    clouds: tuple = ()
    horizon: tuple = ()
    leaf: tuple = ()
    moon: bool = False
    lamp_ev: float | None = None

    @property
    def goes_on_at_night(self):
        """True if the hole stays open in the dark."""
        return self.moon or self.lamp_ev is not None


@dataclass(frozen=True)
class Daylong:
    """Light of an Outlook every GRID_MIN: times_s after start_utc; azimuth_deg, altitude_deg of the
    sun; behind_deg: how far it stands under the skyline, below 0 before the open sky; ev100;
    blue_stops: more that a paper asks for which sees blue alone; moon: a Moon, or None; all (n,).
    """

    start_utc: datetime
    times_s: np.ndarray
    azimuth_deg: np.ndarray
    altitude_deg: np.ndarray
    behind_deg: np.ndarray
    ev100: np.ndarray
    blue_stops: np.ndarray
    moon: moons.Moon | None


def outlook(place, first_day, days, sky, looks_deg=None, *, clouds=(), moon=False, lamp_ev=None):
    """The Outlook of a place under a light.Sky."""
    return Outlook(
        *(place.latitude_deg, place.longitude_deg, place.elevation_m),
        places.standard_offset_h(place, first_day),
        *(first_day, days, looks_deg, sky.stops_less, tuple(clouds)),
        *(tuple(map(tuple, place.horizon)), tuple(map(tuple, place.leaf)), moon, lamp_ev),
    )


@lru_cache(maxsize=KEPT_LIGHTS)
def daylong(outlook):
    """The Daylong of an Outlook."""
    midnight = datetime.combine(outlook.first_day, time(), UTC) - timedelta(hours=outlook.offset_h)
    start = midnight - timedelta(days=DAYS_BEFORE)
    count = (DAYS_BEFORE + outlook.days + DAYS_AFTER) * A_DAY
    times_s = np.arange(count) * GRID_MIN * 60.0
    utc = places.as_utc64(start) + times_s.astype("timedelta64[s]")
    where = outlook.latitude_deg, outlook.longitude_deg
    azimuth, altitude = sun.position(utc, *where, outlook.elevation_m)
    angle = places.off_deg(azimuth, outlook.looks_deg)
    behind = _behind_deg(outlook, utc, azimuth, altitude)
    shaded = np.clip(behind / (2 * SOFT_DEG) + 0.5, 0, 1)
    less = _stops_less(outlook, utc)
    ev100, blue = _light(altitude, np.broadcast_to(angle, altitude.shape), less, shaded)
    moonlit = moons.moon(utc, *where) if outlook.moon else None
    lights = [ev100]
    if moonlit is not None:
        off_moon = places.off_deg(moonlit.azimuth_deg, outlook.looks_deg)
        lights.append(moons.moonlight_ev100(moonlit, off_moon, stops_less=less))
    if outlook.lamp_ev is not None:
        lights.append(np.full(count, outlook.lamp_ev))
    together = moons.together_ev100(*lights)
    return Daylong(start, times_s, azimuth, altitude, behind, together, blue, moonlit)


def _behind_deg(outlook, utc, azimuth, altitude):
    """Degrees by which the sun, if it is up, stands under the skyline; below 0 before open sky."""
    if not outlook.horizon and not outlook.leaf:
        return np.full(altitude.shape, -ZENITH_DEG)
    line = skyline.at(outlook.latitude_deg, outlook.horizon, outlook.leaf)
    leafy = line.leafy(utc.astype("datetime64[D]"))
    height = np.where(leafy, line.altitude_deg(azimuth, True), line.altitude_deg(azimuth))
    return np.minimum(height - altitude, altitude - sun.RISE_DEG)


def _stops_less(outlook, utc):
    """Stops that cloud takes at each moment: by the hour where that was told, else by the word."""
    if not outlook.clouds:
        return outlook.stops_less
    hours, percents = np.array(outlook.clouds, float).T
    seconds = utc.astype("datetime64[s]").astype(float)
    of_hours = np.asarray(light.cloud_share_stops(np.interp(seconds, hours, percents) / 100))
    is_told = (seconds >= hours[0]) & (seconds <= hours[-1])
    return np.where(is_told, of_hours, outlook.stops_less)


def _light(altitude, angle, stops_less, shaded):
    """(EV at ISO 100, stops for blue) of each moment; out of the tables of a sky that stays the
    same, moment by moment under one that does not.
    """
    if np.ndim(stops_less):
        lights = [_exactly(altitude, angle, stops_less, shade) for shade in (False, True)]
    else:
        lights = [_read(_tables(stops_less, shade), altitude, angle) for shade in (False, True)]
    return (1 - shaded) * lights[0] + shaded * lights[1]


def _exactly(altitude, angle, stops_less, shade):
    """(EV at ISO 100, stops for blue), (2, ...)."""
    ev100 = light.scene_ev100(altitude, angle, stops_less=stops_less, shade=shade)
    return np.stack([ev100, _blue(altitude, angle, stops_less, shade)])


@lru_cache(maxsize=2 * len(light.SKIES))
def _tables(stops_less, shade):
    """(EV at ISO 100, stops for blue) over HEIGHTS_DEG and OFFS_DEG, (2, h, w)."""
    altitude, angle = np.broadcast_arrays(HEIGHTS_DEG[:, None], OFFS_DEG[None, :])
    return _exactly(altitude, angle, stops_less, shade)


def _blue(altitude, angle, stops_less, shade=False):
    low = altitude <= LOWEST_COLOUR_DEG
    stops, _ = light.blue_stops(
        np.maximum(altitude, LOWEST_COLOUR_DEG), angle, stops_less=stops_less, shade=shade
    )
    return np.where(low, 0.0, stops)


def _read(tables, altitude, angle):
    """Values of tables at heights and angles, straight between their points, (2, n)."""
    height = np.clip(altitude, HEIGHTS_DEG[0], HEIGHTS_DEG[-1])
    row = np.clip(np.searchsorted(HEIGHTS_DEG, height) - 1, 0, HEIGHTS_DEG.size - 2)
    up = (height - HEIGHTS_DEG[row]) / (HEIGHTS_DEG[row + 1] - HEIGHTS_DEG[row])
    aside = np.abs((angle + 180) % 360 - 180) / OFFS_DEG[1]
    column = np.minimum(aside.astype(int), OFFS_DEG.size - 2)
    along = aside - column
    low = (1 - along) * tables[:, row, column] + along * tables[:, row, column + 1]
    high = (1 - along) * tables[:, row + 1, column] + along * tables[:, row + 1, column + 1]
    return (1 - up) * low + up * high
