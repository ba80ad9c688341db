"""A pinhole measured in a picture of it: found as a blob, its edge followed to a fraction of a
pixel.

The picture is an array of greys; the hole may be bright (light behind it) or dark (a black lid
behind it). Distances come from the scale of the picture, so a tilted or guessed scale makes all of
them wrong by the same share.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, pi, sqrt

import cv2
import numpy as np

from pinhole.imaging import edge, search
from pinhole.imaging.bounds import (
    BURR_DEG,
    EDGE_SD_PX,
    LEAST_ACROSS_PX,
    LEAST_ROUND,
    RAYS,
    UnusableError,
)
from pinhole.ranges import Array, checked


@dataclass(frozen=True)
class Hole:
    """A measured hole. Lengths in mm but for the outline, which is in pixels of the picture, shape
    (RAYS, 2) as x, y.

    mean_mm: mean width over all directions; area_mm: diameter of the circle of the same area, less
    what spikes into the hole take away;
    sd_mm: one standard deviation of either, with the doubt whether an oval hole is one or was seen
    aslant; roundness: least over greatest width; burr: whether the
    edge leaves its ellipse, be it metal or dust; beside_mm: widths of smaller holes beside it.
    """

    mean_mm: float
    area_mm: float
    sd_mm: float
    least_mm: float
    greatest_mm: float
    roundness: float
    burr: bool
    bright: bool
    beside_mm: tuple[float, ...]
    outline: Array


# Holes are round to so much; a plate that lay aslant shows its width in one direction alone.
ROUND_TO = 0.02


def _slant(widths: Array) -> float:
    """Difference of the mean width [px] from the greatest, beyond what roundness allows."""
    return max(0.0, float(widths.max() - (1 + ROUND_TO) * widths.mean()))


def _refuse_unmeasurable(area_px: float, widths: Array) -> None:
    """Raise UnusableError for an outline that is no pinhole, or too few pixels across."""
    if not np.isfinite([area_px, *widths]).all() or area_px <= 0:
        raise UnusableError("No closed edge stands out: crop the picture to the hole.")
    if widths.min() < LEAST_ACROSS_PX:
        raise UnusableError(
            f"The hole is only {widths.min():.0f} pixels across: scan it at "
            f"{LEAST_ACROSS_PX / widths.min() * 2:.0f} "
            "times the resolution."
        )
    if widths.min() < LEAST_ROUND * widths.max():
        raise UnusableError(
            "What stands out is too long to be a pinhole: crop the picture to the hole."
        )


def measure(picture: Array, mm_per_px: float) -> Hole:
    """The Hole in a picture.

    picture: greys, uint8, shape (height, width); mm_per_px [mm, above 0]. Raises UnusableError
    where there is no hole, more than one, one too small, cut by the border, too faint or too
    ragged; ValueError for a scale outside.
    Source: Otsu's threshold and connected components to find it, in a reduced copy of a big
    picture; half-way between hole and plate along rays from its middle to follow the edge; areas
    and widths of the polygon.
    """
    scale = float(checked("mm_per_px", mm_per_px, above=0))
    if picture.ndim != 2 or min(picture.shape) < 2 * LEAST_ACROSS_PX:
        raise UnusableError("The picture is too small to hold a hole.")
    corner, corner_picture = search.near(picture)
    smooth = cv2.GaussianBlur(corner_picture, (3, 3), 0)
    even = search.evened(smooth)
    spot, beside = search.find(even)
    radii, contrast_edges, middle, blocked_px = edge.follow(smooth, spot)
    area_px, widths = edge.polygon(radii)
    _refuse_unmeasurable(area_px, widths)
    area_mm = 2 * sqrt((area_px - blocked_px) / pi) * scale
    mean_mm = float(widths.mean()) * scale
    turns = np.arange(RAYS) * 2 * pi / RAYS
    rays = np.stack([np.cos(turns), np.sin(turns)], axis=1)
    return Hole(
        mean_mm=mean_mm,
        area_mm=area_mm,
        sd_mm=hypot(EDGE_SD_PX * 2, contrast_edges, _slant(widths)) * scale,
        least_mm=float(widths.min()) * scale,
        greatest_mm=float(widths.max()) * scale,
        roundness=float(widths.min() / widths.max()),
        burr=bool(edge.ellipse(radii)[1].sum() >= BURR_DEG * RAYS / 360),
        bright=spot.bright,
        beside_mm=tuple(
            2 * sqrt(search.open_px(even, spot_beside, spot.step) / pi) * scale
            for spot_beside in beside
        ),
        outline=corner + middle + radii[:, None] * rays,
    )
