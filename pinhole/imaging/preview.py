"""A picture of what may come out of a can: sky, skyline and trails as a finished positive. A
simulation.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import TYPE_CHECKING

import cv2
import numpy as np

from pinhole.projection import directions
from pinhole.ranges import Array
from pinhole.solargraph import mirrored_share

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.projection.pointing import Pointing
    from pinhole.solargraph.skyline import Skyline
    from pinhole.solargraph.tracing import Trails


SKY_HIGH, SKY_LOW, GROUND = (
    np.array(c, float) for c in ((62, 104, 138), (176, 178, 168), (52, 46, 42))
)
TRAIL = np.array((255, 246, 214), float)
# Between two samples the sun is drawn in so many steps; a trail is full after so many crossings of
# the same place.
PREVIEW_STEPS, FULL_MINUTES = 8, 1.2
# Trails are drawn in so many widths.
WIDTHS = 3


def render(
    look: Trails,
    back: Back,
    pointing: Pointing,
    skyline: Skyline,
    *,
    widths_mm: Array,
    shining: Array | None = None,
    px_per_mm: float = 4.0,
    water: bool = False,
) -> Array:
    """The picture as uint8 (height, width, 3), upright and the right way round.

    look: solargraph.Trails; back, pointing, skyline as it was made with; widths_mm: of its lines,
    as solargraph.Lines has them; shining: which samples the sun shone in, (n, t), all if None;
    px_per_mm; water: whether the ground below the skyline mirrors the sun.
    Source: geometry of back and pointing for places; colours and weights are by feel.
    """
    half_across, half_high = back.half_mm
    wide, high = (max(8, round(2 * half * px_per_mm)) for half in (half_across, half_high))
    x = (np.arange(wide) + 0.5) / wide * 2 * half_across - half_across
    # Upright: what is high in the scene lies low on the paper, so the first row is the least y.
    y = (np.arange(high) + 0.5) / high * 2 * half_high - half_high
    grid_x, grid_y = np.meshgrid(x, y)
    azimuth, altitude = pointing.sky(*back.sight(grid_x, grid_y))
    ground = (altitude < 0) | skyline.hides(azimuth, altitude)
    is_shown = look.on_paper if shining is None else look.on_paper & shining
    light = np.zeros((high, wide))
    for width, of_width in _by_width(widths_mm):
        drawn = _trails(
            look.x_mm, look.y_mm, is_shown & of_width, back.half_mm, (wide, high), width * px_per_mm
        )
        light = 1 - (1 - light) * (1 - drawn)
    light = np.where(ground, 0.0, light)
    if water:
        usual = float(np.nanmedian(widths_mm)) if np.isfinite(widths_mm).any() else 0.5
        mirror = _mirrored(look, back, pointing, shining, (wide, high), usual * px_per_mm)
        mirror = mirror * mirrored_share(np.clip(-altitude, 0, 90))
        light = np.maximum(light, np.where(ground, mirror, 0))
    lift = np.clip(altitude / 60, 0, 1)[..., None]
    picture = np.where(ground[..., None], GROUND, SKY_LOW + (SKY_HIGH - SKY_LOW) * lift)
    dim = 2.0 ** -np.clip(np.nan_to_num(back.fall_off_stops(grid_x, grid_y), nan=6.0), 0, 6)
    # Where the hole's own tube ends the field the paper stays as it was.
    dim = np.where(back.reached(grid_x, grid_y), 0.35 + 0.65 * dim, 0.0)
    picture = picture * dim[..., None]
    picture = picture + (TRAIL - picture) * np.clip(light, 0, 1)[..., None]
    return np.clip(picture, 0, 255).astype(np.uint8)


def _by_width(widths_mm: Array) -> Iterator[tuple[float, Array]]:
    """(width in mm, which samples): those on the paper in WIDTHS groups, the narrow first. A
    crossing of the edge belongs to both of its groups.
    """
    finite = widths_mm[np.isfinite(widths_mm)]
    if not finite.size:
        return
    edges = np.quantile(finite, np.linspace(0, 1, WIDTHS + 1))
    with np.errstate(invalid="ignore"):
        for low, high in pairwise(edges):
            group = (widths_mm >= low) & (widths_mm <= high)
            yield float((low + high) / 2), group | _next_to(group)


def _next_to(group: Array) -> Array:
    beside = np.zeros_like(group)
    beside[:, :-1] |= group[:, 1:]
    return beside


def _mirrored(
    look: Trails,
    back: Back,
    pointing: Pointing,
    shining: Array | None,
    size: tuple[int, int],
    width_px: float,
) -> Array:
    """The trails of the sun below the horizon, as a level mirror shows it."""
    track = look.track
    is_shown = look.counted if shining is None else look.counted & shining
    sky = directions(np.radians(track.azimuth_deg), -np.radians(track.altitude_deg))
    x, y, lands = back.place(pointing, sky)
    return _trails(x, y, lands & is_shown, back.half_mm, size, width_px)


def _trails(
    x_mm: Array,
    y_mm: Array,
    is_shown: Array,
    half_mm: tuple[float, float],
    size: tuple[int, int],
    width_px: float,
) -> Array:
    """Fullness of each pixel, 0 to 1."""
    pair = is_shown[:, :-1] & is_shown[:, 1:]
    share = (np.arange(PREVIEW_STEPS) + 0.5) / PREVIEW_STEPS
    px, py = (
        ((a[:, :-1][pair][:, None] * (1 - share) + a[:, 1:][pair][:, None] * share).ravel() + half)
        / (2 * half)
        * pixels
        for a, half, pixels in ((x_mm, half_mm[0], size[0]), (y_mm, half_mm[1], size[1]))
    )
    index = np.clip(py.astype(int), 0, size[1] - 1) * size[0] + np.clip(
        px.astype(int), 0, size[0] - 1
    )
    counts = (
        np.bincount(index, minlength=size[0] * size[1]).reshape(size[1], size[0]).astype(np.float32)
    )
    soft = cv2.GaussianBlur(counts, (0, 0), max(0.6, width_px / 2.6))
    return 1 - np.exp(-soft * max(1.0, width_px) * 0.28 / FULL_MINUTES)
