"""Calls to the craft for an exposure that costs no sheet."""

from functools import lru_cache

import numpy as np

from pinhole import exposure, light, optics, scene
from pinhole.imaging import view

PRACTICE_PX = 300


@lru_cache(maxsize=6)
def _stops(seed, subject, wide, high):
    """Light of an invented view over its metered middle [stops], (h, w)."""
    return np.log2(view(seed, high, wide, subject))


def reading(sky_name, height_name):
    """The Reading of a meter before a scene in that light."""
    sky, height = light.SKY_BY_NAME[sky_name], light.HEIGHT_BY_NAME[height_name]
    ev100, _ = light.by_eye(sky, height)
    return exposure.read_ev(round(ev100, 1), 100, f"EV {ev100:.1f}")


def foreseen(invented, camera, paper, curve, stops):
    """The Foreseen of a sheet of an invented scene, a row of SCENES, with so many stops more than
    right; curve: of its paper.
    """
    seed, subject, _ = invented
    back = camera.geometry
    half_across, half_high = back.half_mm
    high = max(16, round(PRACTICE_PX * half_high / half_across))
    x_mm, y_mm = np.meshgrid(
        np.linspace(-half_across, half_across, PRACTICE_PX),
        np.linspace(-half_high, half_high, high),
    )
    blur = optics.blur_mm(camera.focal_mm, camera.diameter_mm)
    return scene.foresee(
        *(_stops(seed, subject, PRACTICE_PX, high), 0.0, curve),
        medium=paper.kind,
        stops=stops,
        blur_px=blur / 4 * PRACTICE_PX / (2 * half_across),
        fall_off=back.fall_off_stops(x_mm, y_mm),
    )
