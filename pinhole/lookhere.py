"""Places on a scan that deserve a look: what may be a leak, fog, or light beyond the paper's scale.
A hint and no verdict: a bright wall at the edge looks like a leak.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from pinhole import media
from pinhole.projection.pointing import Pointing, directions
from pinhole.ranges import Array
from pinhole.tones import FLAT

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.tones import ToneCurve


# Looked at so finely: cells along the longer side.
CELLS = 60
# A streak is so much brighter than what lies about it, as a share of the scale; reaches so far in
# from an edge; and is so much longer than wide (common practice).
STREAK, FLARE_REACH, LENGTH = 0.13, 0.3, 2.2
# Shares of sheets with a leak, and of clean ones, that are said to have one: on other papers, of
# other scenes and scanners, counted by tests/pinhole/test_reading_scans.py.
LEAKS_SEEN, CLEAN_CLAIMED = 0.45, 0.1
# A larger share of the picture at an end of the scale is told.
MUCH = 0.12
# The sun makes flare in the picture and so far outside it; a bearing taken by hand and a camera
# that was not quite level leave it unsure by so much; and it reaches so far in from an edge (common
# practice).
BESIDE_DEG, UNSURE_DEG, RUNS_IN = 25.0, 8.0, 0.25


@dataclass(frozen=True)
class LookHere:
    """kind: "leak", "blocked", "empty" or "flare"; words; left, top, right, bottom: shares of the
    picture.
    """

    kind: str
    words: str
    left: float
    top: float
    right: float
    bottom: float


def look_here(densities: Array, curve: ToneCurve, medium: str = "negative") -> list[LookHere]:
    """[LookHere] of a sheet, the gravest first.

    densities: array (height, width); curve: sheet.ToneCurve; medium as verdicts. Raises ValueError
    for a picture that is none. Source: what such faults look like (common practice). How often a
    leak is missed and claimed is told with it (LEAKS_SEEN, CLEAN_CLAIMED).
    """
    image = np.asarray(densities, float)
    if image.ndim != 2 or min(image.shape) < 8 or not np.isfinite(image).all():
        raise ValueError("densities must be a finite picture of at least 8 x 8")
    light = (image - curve.dmin) / (curve.dmax - curve.dmin)
    is_positive = media.medium(medium).is_positive
    light = 1 - light if is_positive else light
    return [*_streaks(light), *_ends(light)]


def towards_the_sun(
    back: Back, azimuth_deg: float, sun_azimuth_deg: float, sun_altitude_deg: float
) -> list[LookHere]:
    """[LookHere] where the sun before a level camera may have made flare: about its own image, or
    at the edge it stood outside of; as shares of the upright scene. Empty where it stood elsewhere,
    or was down.

    back: Back; azimuth_deg: where the camera looked; the sun's azimuth_deg [any] and altitude_deg
    [-90 to 90]. Scalars. Raises ValueError outside. Source: straight rays; how far flare reaches is
    common practice.
    """
    pointing = Pointing(azimuth_deg)
    landing = back.land(pointing, sun_azimuth_deg, sun_altitude_deg)
    if sun_altitude_deg <= 0 or not np.isfinite(landing.x_mm + landing.y_mm):
        return []
    half = np.array(back.half_mm)
    place = np.array([landing.x_mm, landing.y_mm])
    nearest = np.clip(place, -half, half)
    angle_deg = _apart_deg(pointing.sky(*back.sight(*nearest)), (sun_azimuth_deg, sun_altitude_deg))
    if angle_deg > BESIDE_DEG:
        return []
    if landing.on_paper:
        reach = np.radians(UNSURE_DEG) * landing.ray_mm / (2 * half)
        sentence = "the sun, if it shone, stood about here: a halo, flare, or paper gone over"
    else:
        reach = np.full(2, RUNS_IN)
        sentence = (
            f"the sun, if it shone, stood {angle_deg:.0f} degrees outside this edge: flare runs in"
        )
    low, high = (np.clip(nearest / (2 * half) + 0.5 + sign * reach, 0, 1) for sign in (-1, 1))
    return [LookHere("flare", sentence, *map(float, low), *map(float, high))]


def _apart_deg(first: tuple[float, float], second: tuple[float, float]) -> float:
    """Between two directions of the sky, each (azimuth_deg, altitude_deg)."""
    a, b = (directions(*np.radians(direction)) for direction in (first, second))
    return float(np.degrees(np.arccos(np.clip(a @ b, -1, 1))))


def _cells(light: Array) -> tuple[Array, int]:
    """The picture in coarse cells, its rails left out."""
    step = max(1, max(light.shape) // CELLS)
    high, wide = (side // step * step for side in light.shape)
    cells = light[:high, :wide].reshape(high // step, step, wide // step, step).mean(axis=(1, 3))
    rim = max(1, round(0.045 * min(cells.shape)))
    return cells[rim:-rim, rim:-rim], rim


def _streaks(light: Array) -> list[LookHere]:
    """Long bright regions that begin at an edge: upright ones against what lies beside them, lying
    ones against what lies above and below, unless they go right across as a skyline does.
    """
    cells, rim = _cells(light)
    streaks = []
    for axis in (0, 1):
        is_streak = cells - _wide_median(cells, 1 - axis) > STREAK
        for region in _regions(is_streak):
            y, x = region.T
            length, width = np.ptp(region[:, axis]) + 1, len(region) / (np.ptp(region[:, axis]) + 1)
            share = length / cells.shape[axis]
            ends = region[:, axis].min() == 0 or region[:, axis].max() == cells.shape[axis] - 1
            if (
                ends
                and share >= FLARE_REACH
                and length >= LENGTH * width
                and (axis == 0 or share < 0.9)
            ):
                streaks.append(_box(x, y, rim, light.shape))
    return streaks


def _box(x: Array, y: Array, rim: float, shape: tuple[int, int]) -> LookHere:
    step = max(1, max(shape) // CELLS)
    left, right = (x.min() + rim) * step / shape[1], (x.max() + 1 + rim) * step / shape[1]
    top, bottom = (y.min() + rim) * step / shape[0], (y.max() + 1 + rim) * step / shape[0]
    sentence = (
        "a bright streak from the edge: a leak? Leaks are seen in "
        f"{100 * LEAKS_SEEN:.0f} of 100 sheets that have one, and claimed in "
        f"{100 * CLEAN_CLAIMED:.0f} of 100 that have none"
    )
    return LookHere("leak", sentence, float(left), float(top), float(right), float(bottom))


def _wide_median(cells: Array, axis: int) -> Array:
    """The middle of a wide neighbourhood along one axis."""
    reach = max(3, cells.shape[axis] // 6)
    pad = [(reach, reach) if n == axis else (0, 0) for n in (0, 1)]
    padded = np.pad(cells, pad, mode="reflect")
    windows = np.lib.stride_tricks.sliding_window_view(padded, 2 * reach + 1, axis=axis)
    return np.median(windows, axis=-1)


def _regions(flags: Array) -> Iterator[Array]:
    """Arrays (n, 2) of neighbouring cells that are set, at least six together."""
    left = {(int(y), int(x)) for y, x in np.argwhere(flags)}
    while left:
        region, fresh = [], [left.pop()]
        while fresh:
            y, x = fresh.pop()
            region.append((y, x))
            neighbours = {(y + 1, x), (y - 1, x), (y, x + 1), (y, x - 1)} & left
            left -= neighbours
            fresh += neighbours
        if len(region) >= 6:
            yield np.array(region)


def _ends(light: Array) -> Iterator[LookHere]:
    """Much of the picture at an end of the scale."""
    cells, rim = _cells(light)
    for kind, flags, sentence in (
        ("blocked", cells > 1 - FLAT, "at the end of the scale: nothing is told apart here"),
        ("empty", cells < FLAT, "as pale as bare paper: nothing came through here"),
    ):
        if flags.mean() > MUCH:
            y, x = np.nonzero(flags)
            box = _box(x, y, rim, light.shape)
            yield LookHere(kind, sentence, box.left, box.top, box.right, box.bottom)
