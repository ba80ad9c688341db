r"""The light that falls on a subject by day: sun, sky and ground, on what stands upright or lies
flat; and the mean of it over the surfaces of a scene that a camera sees.

            sun
             \ direct       | upright: faces level, sees half the sky and half the ground
   sky  ~ ~ ~ \ ~ ~ ~      |
               \      -->  |     sun_off_deg: between the sun and where the subject faces
   ____________________________ ground gives back 20 %
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from pinhole.light.levels import clear_lux, ev100_from_lux
from pinhole.ranges import Array, Numbers, checked, plain

# Daylight gives about so many lumens a watt (from memory).
EFFICACY_LM_W = 105.0
# A clear day: direct sun is A exp(-B m) through m air masses, a clear sky gives C times that on
# level ground (yearly means of the ASHRAE clear-day coefficients, from memory).
CLEAR_A_W_M2, CLEAR_B, CLEAR_C = 1160.0, 0.17, 0.10
SOLAR_CONSTANT_W_M2 = 1361.0
# What grass, sand and stone give back of the light on them (common practice).
GROUND_SHARE = 0.2
# Cloud that takes so many stops off the level ground hides the sun's disc: no shadows (common
# practice).
NO_SHADOWS_STOPS = 2.0
# Below this the light of a clear sky is that of twilight.
LOW_DEG = 15.0
# Of the picture of a scene so much is ground; the rest stands upright, turned up to 90 degrees
# either way, and looks the larger the more it faces the camera. Front to side is then about a stop,
# front to back about two (common practice).
GROUND_SEEN = 0.2
TURNED_DEG = np.arange(-87.5, 90.0, 5.0)
SEEN_SHARES = np.cos(np.radians(TURNED_DEG)) / np.cos(np.radians(TURNED_DEG)).sum()
# Cloud that a reading may tell of, and how far the key of a scene may lie from the middle that it
# is read for (common practice) [stops].
CLOUDS_STOPS = np.arange(0.0, 9.01, 0.25)
SCENE_SD_STOPS = 0.6
# How far the light on a subject of a clear day may be from this, haze and ground being as they are
# (about the spread of clear-sky models among themselves).
SUBJECT_SD_STOPS = 0.3


def subject_ev100(
    sun_altitude_deg: Numbers,
    sun_off_deg: Numbers,
    *,
    stops_less: Numbers = 0.0,
    upright: bool = True,
    shade: bool = False,
) -> Numbers:
    """Exposure value at ISO 100 of the light that falls on a subject in the open.

    sun_altitude_deg [-90 to 90]; sun_off_deg [any]: between the sun's azimuth and the direction
    that the subject faces, 0 full in its face, 180 from behind; stops_less [at least 0]: what cloud
    takes of the light on level ground; upright: whether it faces level, else it lies flat; shade:
    whether it has no direct sun. All broadcast. Raises ValueError outside.
    Source: direct sun and sky of the ASHRAE clear day, twilight of clear_lux, the sky's brightness
    around the sun after J. E. Hay, J. A. Davies (1980), from memory, but never less than an even
    sky's. Its spread on a clear day is
    SUBJECT_SD_STOPS; cloud by eye is common practice.
    """
    return plain(
        ev100_from_lux(sum(_parts(sun_altitude_deg, sun_off_deg, stops_less, upright, shade)))
    )


def scene_ev100(
    sun_altitude_deg: Numbers,
    sun_off_deg: Numbers,
    *,
    stops_less: Numbers = 0.0,
    shade: bool = False,
) -> Numbers:
    """Exposure value at ISO 100 of the light on a scene in the open: the mean over the surfaces
    that a camera sees.

    sun_off_deg [any]: between the sun's azimuth and the direction from the scene to the camera, 0
    with the sun behind the camera, 180 against it; all else, errors and source as subject_ev100.
    Which surfaces a scene shows is common practice: GROUND_SEEN, TURNED_DEG, SEEN_SHARES.
    """
    return plain(
        ev100_from_lux(sum(_scene_parts(sun_altitude_deg, sun_off_deg, stops_less, shade)))
    )


def cloud_stops(
    ev100: float, sun_altitude_deg: float, sun_off_deg: float, *, shade: bool = False
) -> tuple[float, float]:
    """(stops, sd): what cloud took of the light on level ground, as a reading of a scene tells
    it; 0 where the reading is as bright as a clear sky or brighter.

    ev100, sun_altitude_deg, sun_off_deg: scalars, as scene_ev100. Raises ValueError outside.
    Source: scene_ev100, turned round; sd is SCENE_SD_STOPS, a scene's key being what it is.
    """
    falling = _falling_ev100(float(sun_altitude_deg), float(sun_off_deg), shade)
    return float(np.interp(-float(checked("ev100", ev100)), -falling, CLOUDS_STOPS)), SCENE_SD_STOPS


# A table of readings asks for one stand of the sun again and again.
@lru_cache(maxsize=64)
def _falling_ev100(altitude_deg: float, off_deg: float, shade: bool) -> Array:
    """scene_ev100 at each of CLOUDS_STOPS, never rising from one to the next."""
    clouded = scene_ev100(altitude_deg, off_deg, stops_less=CLOUDS_STOPS, shade=shade)
    # Thin cloud brightens what is turned away from the sun: of two skies the clearer is meant.
    return np.minimum.accumulate(clouded)


def scene_shares(
    sun_altitude_deg: float, sun_off_deg: float, *, stops_less: Numbers = 0.0, shade: bool = False
) -> tuple[float, float, float, float]:
    """(sun, sky, ground, air mass): the share of each in the light on a scene, which add up to 1,
    and how much air the sun shines through.

    Arguments, errors and source as scene_ev100.
    """
    parts = _scene_parts(sun_altitude_deg, sun_off_deg, stops_less, shade)
    total = sum(parts)
    up = np.maximum(np.asarray(sun_altitude_deg, dtype=np.float64), 0)
    return *(part / total for part in parts), _air_mass(up)


def _parts(
    sun_altitude_deg: Numbers, sun_off_deg: Numbers, stops_less: Numbers, upright: bool, shade: bool
) -> tuple[Numbers, Numbers, Numbers]:
    """Lux of sun, sky and ground on the subject."""
    altitude = checked("sun_altitude_deg", sun_altitude_deg, least=-90, most=90)
    off_rad = np.radians(checked("sun_off_deg", sun_off_deg))
    cloud = checked("stops_less", stops_less, least=0)
    sine = np.sin(np.radians(altitude))
    direct, level = _clear(altitude, sine)
    # Cloud takes the sun's disc first, and what is left is spread over the sky.
    direct = direct * 2.0**-cloud * np.clip(1 - cloud / NO_SHADOWS_STOPS, 0, 1)
    level = level * 2.0**-cloud
    sky = level - direct * np.maximum(sine, 0)
    around_sun = direct / (SOLAR_CONSTANT_W_M2 * EFFICACY_LM_W)
    faces = np.cos(np.radians(altitude)) * np.cos(off_rad) if upright else sine
    faces = np.clip(faces, 0, 1) * (not shade)
    visible_sky = 0.5 if upright else 1.0
    bright = around_sun * faces / np.maximum(sine, 0.01) + (1 - around_sun) * visible_sky
    # What is turned away sees a sky that is brighter at its horizon: no less than an even one.
    return (
        direct * faces,
        sky * np.maximum(bright, visible_sky),
        level * GROUND_SHARE * (1 - visible_sky),
    )


def _scene_parts(
    sun_altitude_deg: Numbers, sun_off_deg: Numbers, stops_less: Numbers, shade: bool
) -> list[Numbers]:
    """Lux of sun, sky and ground on a scene: of upright surfaces turned either way, and of flat
    ground.
    """
    altitude, off_rad, cloud = np.broadcast_arrays(
        *(np.asarray(value, np.float64) for value in (sun_altitude_deg, sun_off_deg, stops_less))
    )
    upright = _parts(
        altitude[..., None], off_rad[..., None] + TURNED_DEG, cloud[..., None], True, shade
    )
    flat, shape = _parts(altitude, off_rad, cloud, False, shade), (*altitude.shape, TURNED_DEG.size)
    return [
        (1 - GROUND_SEEN) * (np.broadcast_to(turned, shape) @ SEEN_SHARES) + GROUND_SEEN * level
        for turned, level in zip(upright, flat, strict=True)
    ]


def _clear(altitude_deg: Array, sine: Numbers) -> tuple[Numbers, Numbers]:
    """(lux of the direct sun square to it, lux on level ground) of a clear day."""
    air_mass = _air_mass(np.maximum(altitude_deg, 0))
    # Lifted by the air, its upper edge is up from the first of these on, all of it from the second.
    disc = np.interp(altitude_deg, (-0.83, -0.3), (0.0, 1.0))
    direct = CLEAR_A_W_M2 * EFFICACY_LM_W * np.exp(-CLEAR_B * air_mass) * disc
    sunlit = direct * np.maximum(sine, 0)
    rest = np.where(altitude_deg < LOW_DEG, clear_lux(altitude_deg) - sunlit, 0)
    return direct, sunlit + np.maximum(CLEAR_C * direct, rest)


def _air_mass(up_deg: Numbers) -> Numbers:
    """Air mass, in times the air overhead. Source: F. Kasten, A. T. Young (1989), from memory."""
    return 1 / (np.sin(np.radians(up_deg)) + 0.50572 * (up_deg + 6.07995) ** -1.6364)
