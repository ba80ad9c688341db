"""A room as a camera: how large, how sharp and how bright the picture on its wall is, and how to
photograph it.

window, hole d  o - - - - - - - |  wall, throw F away
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pinhole import optics
from pinhole.ranges import Numbers, checked, plain

# A scene gives back 18 % of its light, a white wall 80 %; meters are set to K, 10.6 to 13.4 by ISO
# 2720:1974.
SCENE_SHARE, WALL_SHARE, METER_K = 0.18, 0.8, 12.5


@dataclass(frozen=True)
class Picture:
    """The picture on the wall: f_number, wall_lux in its middle, blur_mm, width_mm of a scene of
    the asked angle.
    """

    f_number: float
    wall_lux: float
    blur_mm: float
    width_mm: float


def picture(hole_mm: float, throw_mm: float, scene_lux: float, scene_deg: float = 60) -> Picture:
    """The Picture of a far scene.

    hole_mm, throw_mm [mm, above 0], scene_lux [lx on the scene, above 0], scene_deg [above 0, at
    most 170]; scalars.
    Raises ValueError outside. Source: E = pi L / (4 N^2) of a diffuse scene, L = 0.18 E / pi
    (textbook photometry).
    """
    throw_mm = float(checked("throw_mm", throw_mm, above=0))
    hole_mm = float(checked("hole_mm", hole_mm, above=0))
    n = optics.f_number(throw_mm, hole_mm)
    lux = float(checked("scene_lux", scene_lux, above=0))
    half = np.radians(float(checked("scene_deg", scene_deg, above=0, most=170)) / 2)
    return Picture(
        n,
        SCENE_SHARE * lux / (4 * n**2),
        optics.blur_mm(throw_mm, hole_mm),
        float(2 * throw_mm * np.tan(half)),
    )


def photograph_s(wall_lux: float, f_number: float, iso: float) -> float:
    """Time that a camera with a lens is open to photograph the wall: K N^2 / (L S), L = 0.8 E / pi.

    wall_lux [above 0], f_number [above 0], iso [above 0], broadcast. Returns [s]. Raises ValueError
    outside.
    Source: ISO 2720:1974 with K = 12.5.
    """
    luminance = WALL_SHARE * checked("wall_lux", wall_lux, above=0) / np.pi
    speed = checked("iso", iso, above=0)
    return plain(METER_K * checked("f_number", f_number, above=0) ** 2 / (luminance * speed))


def lens_throw_mm(dioptres: float | Sequence[int]) -> Numbers:
    """Distance at which a reading-glass lens in the hole makes a far scene sharp: 1000 / D mm.

    dioptres [above 0], any shape. Raises ValueError outside. Source: definition; +1 focuses at one
    metre.
    """
    return plain(1000 / checked("dioptres", dioptres, above=0))
