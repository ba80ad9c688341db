"""The moon over a place: where it stands, how much of it is lit, and the light that it throws."""

from __future__ import annotations

from dataclasses import dataclass

import ephem
import numpy as np

from pinhole.light.subject import scene_ev100
from pinhole.ranges import Array, Numbers, checked, plain
from pinhole.sun.standing import days_from_j2000, horizontal, sidereal_deg

# Its place among the stars is straight over so many hours to a tenth of a degree.
MOON_STEP_H = 3.0
# A full moon gives so many stops less than the sun in its place, for a landscape under it is EV -2
# to -3 (common practice; 18.5 by their magnitudes, from memory).
MOON_LESS_STOPS = 17.5
# So much brightness a magnitude.
STOPS_A_MAGNITUDE = 0.4 * np.log2(10)
# The moon, its phase and haze may be so far from that (common practice).
MOON_SD_STOPS = 0.6


@dataclass(frozen=True)
class Moon:
    """azimuth_deg, altitude_deg: seen from the place; phase_deg: angle at the moon between sun and
    earth, 0 at full moon, 180 at new moon; all (n,).
    """

    azimuth_deg: Array
    altitude_deg: Array
    phase_deg: Array

    @property
    def lit_share(self) -> Array:
        """Share of the disc that is lit."""
        return np.asarray((1 + np.cos(np.radians(self.phase_deg))) / 2)


def moon(utc: Array, latitude_deg: float, longitude_deg: float) -> Moon:
    """The Moon at each of utc (datetime64, increasing, (n,), n at least 1).

    latitude_deg [-90 to 90], longitude_deg [-180 to 180]. Raises ValueError outside. Source: the
    series for the moon in the package ephem, seen from the place, straight over MOON_STEP_H.
    """
    latitude = float(checked("latitude_deg", latitude_deg, least=-90, most=90))
    longitude = float(checked("longitude_deg", longitude_deg, least=-180, most=180))
    days = np.atleast_1d(days_from_j2000(utc))
    if not days.size or np.isnan(days).any():
        raise ValueError("utc must be moments")
    looks = np.arange(days[0], days[-1] + 2 * MOON_STEP_H / 24, MOON_STEP_H / 24)
    ascension, declination, phase = _looks(looks, latitude, longitude)
    turned = np.interp(days, looks, np.unwrap(ascension))
    hour = np.radians(sidereal_deg(days) + longitude) - turned
    azimuth, altitude = horizontal(hour, np.interp(days, looks, declination), np.radians(latitude))
    return Moon(azimuth, altitude, np.interp(days, looks, phase))


def moonlight_ev100(moon: Moon, off_deg: Numbers = 0.0, *, stops_less: Numbers = 0.0) -> Array:
    """Exposure value at ISO 100 of a scene by the moon alone; -inf while it is down.

    off_deg: between the moon and the direction from the scene to the camera, stops_less: what cloud
    takes, both as scene_ev100. Raises ValueError outside. Source: scene_ev100 of a sun in its
    place, MOON_LESS_STOPS, and its phase after K. Krisciunas and B. E. Schaefer (1991), from
    memory. Its spread is MOON_SD_STOPS.
    """
    magnitudes = 0.026 * moon.phase_deg + 4e-9 * moon.phase_deg**4
    # Below the horizon the formula of the sun's light would tell twilight.
    up = np.maximum(moon.altitude_deg, 0.0)
    full = np.asarray(scene_ev100(up, off_deg, stops_less=stops_less))
    bright = full - MOON_LESS_STOPS - STOPS_A_MAGNITUDE * magnitudes
    return np.where(moon.altitude_deg > 0, bright, -np.inf)


def together_ev100(*ev100s: Numbers) -> Numbers:
    """Exposure value of several lights at once [at ISO 100], broadcast. Source: light adds up."""
    return plain(np.logaddexp2.reduce([np.asarray(ev100, np.float64) for ev100 in ev100s]))


def _looks(days: Array, latitude: float, longitude: float) -> tuple[Array, Array, Array]:
    """(right ascension [rad], declination [rad], phase angle [degrees]) at days since J2000."""
    site = ephem.Observer()
    site.lat, site.lon, site.elevation = np.radians(latitude), np.radians(longitude), 0
    site.pressure = 0
    body = ephem.Moon()
    begun = ephem.Date("2000/1/1 12:00:00")
    rows = []
    for day in days.tolist():
        site.date = begun + day
        body.compute(site)
        rows.append((float(body.ra), float(body.dec), float(body.moon_phase)))
    ascension, declination, lit = np.array(rows).T
    return ascension, declination, np.degrees(np.arccos(np.clip(2 * lit - 1, -1, 1)))
