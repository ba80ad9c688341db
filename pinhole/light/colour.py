"""Part of the light on a scene that a paper sees which is blind to more than blue, against a
meter.
"""

from __future__ import annotations

from functools import cache

import numpy as np

from pinhole.light.subject import NO_SHADOWS_STOPS, scene_shares
from pinhole.ranges import Numbers, plain

# Air takes more of the blue below 490 nm than of what the eye and a meter see at 555 nm: Rayleigh's
# scattering (J. E. Hansen, L. D. Travis, 1974, from memory) and haze after Angstrom, optical depth
# 0.1, together so many stops an air mass of the sun's own light, half of it on the ground.
STOPS_AN_AIR_MASS = 0.25
# A clear sky is so many stops bluer than a high sun (about 10 000 K; common practice), and loses so
# much of it an air mass as the sun sinks.
SKY_STOPS, SKY_STOPS_AN_AIR_MASS = 0.9, 0.13
# Papers and meters are compared in such light: the sun 45 degrees high behind the camera.
USUAL_DEG = 45.0
# How sure that is: of it, and besides it [stops]; haze and paper differ (common practice).
SD_SHARE, SD_STOPS = 0.4, 0.15
# Less than this is not worth a tile, and no light of its own for what is learned (common practice).
LEAST_COLOUR_STOPS = 1 / 6


def blue_stops(
    sun_altitude_deg: float,
    sun_off_deg: float,
    *,
    stops_less: float = 0.0,
    stops_less_sd: float = 0.0,
    shade: bool = False,
) -> tuple[float, float]:
    """(stops, sd): how many stops longer a paper that sees blue alone needs than a meter says, less
    than 0 where it needs less; and how sure that is.

    stops_less_sd [at least 0]: how sure the cloud is; all else and errors as scene_ev100. A low
    sun has lost its blue, a shadow under a clear sky has gained; a closed sky mixes both again.
    Source: scattering in air, as stated above, on the shares of sun and sky of scene_ev100.
    """
    less, _, _ = np.broadcast_arrays(
        np.asarray(stops_less, np.float64), sun_altitude_deg, sun_off_deg
    )
    # Thinner, as it is, and thicker; one alone where that is known.
    signs = (-1, 0, 1) if np.any(stops_less_sd) else (0,)
    skies = np.stack([np.maximum(less + sign * stops_less_sd, 0) for sign in signs])
    blue = _blue(sun_altitude_deg, sun_off_deg, skies, shade)
    difference = blue[len(signs) // 2] - _usual()
    doubts = (SD_STOPS, SD_SHARE * difference, (blue[-1] - blue[0]) / 2)
    return plain(difference), plain(np.sqrt(sum(np.square(doubt) for doubt in doubts)))


@cache
def _usual() -> float:
    """_blue of the light that papers and meters are compared in."""
    return float(_blue(USUAL_DEG, 0.0, 0.0, False))


def _blue(altitude: Numbers, off_rad: Numbers, stops_less: Numbers, shade: bool) -> Numbers:
    sun, sky, ground, air_mass = scene_shares(altitude, off_rad, stops_less=stops_less, shade=shade)
    open_sky = np.clip(1 - np.asarray(stops_less) / NO_SHADOWS_STOPS, 0, 1)
    more_air = air_mass - 1
    blue = (
        sun * 2.0 ** (-STOPS_AN_AIR_MASS * more_air)
        + sky * 2.0 ** ((SKY_STOPS - SKY_STOPS_AN_AIR_MASS * more_air) * open_sky)
        + ground * 2.0 ** (-STOPS_AN_AIR_MASS * more_air / 2)
    )
    return -np.log2(blue)
