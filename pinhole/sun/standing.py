"""The sun over a place, as arrays: where it stands, and when it rises, culminates and sets.

Azimuth from true north clockwise, altitude above the horizon, degrees; moments are numpy datetime64
in UTC.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.ranges import Array, Numbers, checked, plain

J2000, DAY_NS = np.datetime64("2000-01-01T12:00:00", "ns"), 86_400_000_000_000
FIRST_DAY, LAST = np.datetime64("1900-01-01"), np.datetime64("2101-01-01")
# The sun's centre when its upper limb touches the horizon: 34' of refraction and 16' of radius.
RISE_DEG = -0.833
# Mean diameter of the disc (Astronomical Almanac, from memory).
DISC_DEG = 0.533
# Right ascension and declination bend so little that a quarter of a day is straight to a few arc
# seconds.
GRID_DAYS = 0.25
EARTH_M, PARALLAX_DEG = 6_371_000.0, 8.794 / 3600


def position(
    utc: Array | np.datetime64,
    latitude_deg: float,
    longitude_deg: float,
    elevation_m: float = 0,
    *,
    refraction: bool = False,
) -> tuple[Numbers, Numbers]:
    """(azimuth_deg, altitude_deg) of the sun's centre, topocentric and true unless refraction is
    asked for.

    utc: numpy datetime64 [1900 to 2100]; latitude_deg [-90 to 90], longitude_deg [-180 to 180, east
    positive], elevation_m [-500 to 10 000]; all broadcast; NaT and nan pass through. refraction:
    Saemundsson's formula at 1010 hPa and 10 C, from a true altitude of -1 up. Returns floats for
    scalars, else float64 arrays.
    Raises ValueError outside. Source: J. Meeus, Astronomical Algorithms (1991), chapter 25, low
    accuracy, with the planetary and lunar terms of his Astronomical Formulae for Calculators, from
    memory; within 0.014 degrees.
    """
    days = days_from_j2000(utc)
    latitude = np.radians(checked("latitude_deg", latitude_deg, least=-90, most=90))
    longitude = checked("longitude_deg", longitude_deg, least=-180, most=180)
    height = checked("elevation_m", elevation_m, least=-500, most=10_000)
    ascension, declination = _equatorial(days)
    hour = np.radians(sidereal_deg(days) + longitude - ascension)
    azimuth, altitude = horizontal(hour, np.radians(declination), latitude)
    altitude = altitude - PARALLAX_DEG * (1 + height / EARTH_M) * np.cos(np.radians(altitude))
    if refraction:
        altitude = altitude + refraction_deg(altitude)
    azimuth, altitude = np.broadcast_arrays(azimuth, altitude)
    return plain(azimuth), plain(altitude)


def horizontal(
    hour_rad: Numbers, declination_rad: Numbers, latitude_rad: Numbers
) -> tuple[Array, Array]:
    """(azimuth_deg, altitude_deg) of a direction among the stars, all broadcast [rad]: its hour
    angle, its declination; from a latitude. Source: spherical trigonometry.
    """
    cosine, sine = np.cos(declination_rad), np.sin(declination_rad)
    east = -cosine * np.sin(hour_rad)
    north = sine * np.cos(latitude_rad) - cosine * np.cos(hour_rad) * np.sin(latitude_rad)
    up = sine * np.sin(latitude_rad) + cosine * np.cos(hour_rad) * np.cos(latitude_rad)
    azimuth = np.degrees(np.arctan2(east, north)) % 360
    return azimuth, np.degrees(np.arctan2(up, np.hypot(east, north)))


def refraction_deg(altitude_deg: Numbers) -> Numbers:
    """Degrees that air lifts a body of that true altitude: 1.02' / tan(h + 10.3 / (h + 5.11)), 0
    below -1 degree.

    altitude_deg [-90 to 90], any shape. Raises ValueError outside.
    Source: Saemundsson as given by Meeus (1991), chapter 16, at 1010 hPa and 10 C.
    """
    altitude = checked("altitude_deg", altitude_deg, least=-90, most=90)
    with np.errstate(invalid="ignore"):
        lift = lift_deg(np.maximum(altitude, -1.0))
        return plain(np.where(np.isnan(altitude), np.nan, np.where(altitude >= -1, lift, 0.0)))


def lift_deg(altitude_deg: Array) -> Array:
    """Degrees that air lifts a body of a true altitude that is known to lie between -1 and 90
    degrees: any shape, unchecked. Source: see refraction_deg.
    """
    return np.asarray(
        np.maximum(1.02 / 60 / np.tan(np.radians(altitude_deg + 10.3 / (altitude_deg + 5.11))), 0)
    )


def days_from_j2000(utc: Array | np.datetime64) -> Array:
    """Days since J2000 as float64; NaT gives nan."""
    moments = np.asarray(utc)
    if moments.dtype.kind != "M":
        raise ValueError("utc must be numpy datetime64, from 1900 to 2100")
    if ((moments < FIRST_DAY) | (moments >= LAST)).any():
        raise ValueError("utc must be from 1900 to 2100")
    nanoseconds = moments.astype("datetime64[ns]") - J2000
    return np.where(np.isnat(moments), np.nan, nanoseconds.astype(np.int64) / DAY_NS)


def sidereal_deg(days: Array) -> Numbers:
    """Greenwich mean sidereal time; UTC stands for UT1, which is within 0.9 s (0.004 degrees)."""
    centuries = days / 36_525
    return 280.46061837 + 360.98564736629 * days + 0.000387933 * centuries**2


def _equatorial(days: Array) -> tuple[Numbers, Numbers]:
    """Apparent right ascension (unwrapped) and declination in degrees; long spans go over a
    grid.
    """
    finite_days = days[np.isfinite(days)]
    if finite_days.size < 64:
        return _apparent(days)
    first, last = float(finite_days.min()), float(finite_days.max())
    steps = int((last - first) / GRID_DAYS) + 2
    if steps > finite_days.size:
        return _apparent(days)
    grid = first + GRID_DAYS * np.arange(steps)
    ascension, declination = _apparent(grid)
    ascension = np.unwrap(ascension, period=360)
    return np.interp(days, grid, ascension), np.interp(days, grid, declination)


def _centuries(days: Array) -> Numbers:
    # Terrestrial time runs ahead of UTC by about so many seconds (Espenak and Meeus, 2005 to 2050,
    # from memory).
    years = days / 365.25
    return (days + (62.92 + 0.32217 * years + 0.005589 * years**2) / 86_400) / 36_525


def _sin(deg: Numbers) -> Numbers:
    return np.sin(np.radians(deg))


def _cos(deg: Numbers) -> Numbers:
    return np.cos(np.radians(deg))


def _node_deg(t: Numbers) -> Numbers:
    return 125.04 - 1934.136 * t


def _longitude_deg(days: Array) -> Numbers:
    """Apparent ecliptic longitude."""
    t, sin, cos = _centuries(days), _sin, _cos
    anomaly = 357.52911 + 35_999.05029 * t - 0.0001537 * t**2
    centre = (
        (1.914602 - 0.004817 * t) * sin(anomaly)
        + 0.019993 * sin(2 * anomaly)
        + 0.000289 * sin(3 * anomaly)
    )
    since_1900 = t + 1
    planets = (
        0.00134 * cos(153.23 + 22_518.7541 * since_1900)  # Venus
        + 0.00154 * cos(216.57 + 45_037.5082 * since_1900)  # Venus
        + 0.00200 * cos(312.69 + 32_964.3577 * since_1900)  # Jupiter
        + 0.00179 * sin(350.74 + 445_267.1142 * since_1900)  # Moon
    )
    mean = 280.46646 + 36_000.76983 * t + 0.0003032 * t**2
    return mean + centre + planets - 0.00569 - 0.00478 * sin(_node_deg(t))


def _apparent(days: Array) -> tuple[Numbers, Numbers]:
    t, longitude = _centuries(days), _longitude_deg(days)
    obliquity = 23.439291 - 0.0130042 * t + 0.00256 * _cos(_node_deg(t))
    ascension = np.degrees(np.arctan2(_cos(obliquity) * _sin(longitude), _cos(longitude)))
    return ascension, np.degrees(np.arcsin(_sin(obliquity) * _sin(longitude)))


@dataclass(frozen=True)
class Day:
    """The sun between two moments: rises_utc, sets_utc (datetime64 arrays, maybe empty); noon_utc,
    noon_altitude_deg, noon_azimuth_deg of the upper transit (NaT, nan if there is none); always:
    "up", "down" or "".
    """

    rises_utc: Array
    sets_utc: Array
    noon_utc: np.datetime64
    noon_altitude_deg: float
    noon_azimuth_deg: float
    always: str


def day(
    start_utc: np.datetime64,
    end_utc: np.datetime64,
    latitude_deg: float,
    longitude_deg: float,
    elevation_m: float = 0,
) -> Day:
    """The Day from start to end, which the caller takes from the place's own clock.

    start_utc, end_utc: datetime64, at most two days apart; the rest as position. Raises ValueError
    outside.
    Source: RISE_DEG as the usual definition; sampled every minute and interpolated, good to a few
    seconds.
    """
    start, end = (moment.astype("datetime64[s]") for moment in (start_utc, end_utc))
    if not np.timedelta64(0) < end - start <= np.timedelta64(2, "D"):
        raise ValueError("end_utc must be after start_utc, at most two days")
    times = np.arange(start, end + np.timedelta64(60, "s"), np.timedelta64(60, "s"))
    azimuth, altitude = position(times, latitude_deg, longitude_deg, elevation_m)
    above = altitude - RISE_DEG
    turns = np.flatnonzero(np.diff(above > 0))
    share = above[turns] / (above[turns] - above[turns + 1])
    moments = times[turns] + np.round(share * 60).astype("timedelta64[s]")
    rising = above[turns + 1] > 0
    always = "" if turns.size else "up" if above[0] > 0 else "down"
    return Day(
        moments[rising], moments[~rising], *_noon(times, azimuth, altitude, longitude_deg), always
    )


def _noon(
    times: Array, azimuth: Array, altitude: Array, longitude_deg: float
) -> tuple[np.datetime64, float, float]:
    """The upper transit: the hour angle passes through 0."""
    days = days_from_j2000(times)
    hour = (sidereal_deg(days) + longitude_deg - _equatorial(days)[0] + 180) % 360 - 180
    index = np.flatnonzero((hour[:-1] <= 0) & (hour[1:] > 0))
    if not index.size:
        return np.datetime64("NaT", "s"), float("nan"), float("nan")
    first = index[0]
    share = -hour[first] / (hour[first + 1] - hour[first])
    nearer = first + int(share > 0.5)
    moment = times[first] + np.timedelta64(round(share * 60), "s")
    return moment, float(altitude[nearer]), float(azimuth[nearer])


def noons(days_utc: Array, latitude_deg: float, longitude_deg: float) -> Array:
    """The upper transits that follow each of days_utc (datetime64, shape (n,)) within a day:
    datetime64[s], (n,).

    Source: where the hour angle passes through 0, refined twice.
    """
    turn = 360.98564736629
    days = days_from_j2000(days_utc)
    moments = days
    for step in range(3):
        hour = (sidereal_deg(moments) + longitude_deg - _equatorial(moments)[0]) % 360
        # First the next transit, then the nearest one.
        moments = moments + ((-hour) % 360 if step == 0 else -((hour + 180) % 360 - 180)) / turn
    return J2000.astype("datetime64[s]") + np.round(moments * 86_400).astype("timedelta64[s]")


def seasons(year: float) -> Array:
    """The equinoxes and solstices of a year: March to December, datetime64[s] in UTC.

    year [1901 to 2099]. Raises ValueError outside. Source: its apparent longitude, 0, 90, 180, 270.
    """
    year = int(checked("year", year, least=1901, most=2099))
    hours = np.datetime64(f"{year}-01-01", "h") + np.arange(366 * 24) * np.timedelta64(1, "h")
    longitude = _longitude_deg(days_from_j2000(hours))
    quarter = np.floor(longitude % 360 / 90)
    turns = np.flatnonzero(np.diff(quarter) != 0)
    share = (90 - longitude[turns] % 90) / ((longitude[turns + 1] - longitude[turns]) % 360)
    return hours[turns].astype("datetime64[s]") + np.round(share * 3600).astype("timedelta64[s]")
