"""A pinhole's edge as a person drew it, where the finding missed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sqrt

import cv2
import numpy as np

from pinhole.imaging.bounds import LEAST_ACROSS_PX, LEAST_ROUND, RAYS, UnusableError
from pinhole.ranges import Array, checked

# How exactly a hand places a point on an edge [px], by feel.
HAND_SD_PX = 1.0


@dataclass(frozen=True)
class Outline:
    """A hole as a person drew its edge: the ellipse through the points. Lengths in mm, edge in px,
    shape (RAYS, 2).
    """

    mean_mm: float
    area_mm: float
    sd_mm: float
    least_mm: float
    greatest_mm: float
    roundness: float
    outline: Array


def from_points(points_px: Sequence[tuple[float, float]], mm_per_px: float) -> Outline:
    """The Outline through points on the edge.

    points_px: x, y in pixels, shape (n, 2), at least 5; mm_per_px [mm, above 0]. Raises
    UnusableError for points that make no hole, ValueError for a scale outside. Source:
    least-squares ellipse; each point is off by HAND_SD_PX.
    """
    scale = float(checked("mm_per_px", mm_per_px, above=0))
    points = np.asarray(points_px, dtype=np.float32)
    if points.ndim != 2 or len(points) < 5 or not np.isfinite(points).all():
        raise UnusableError("At least five points on the edge are needed.")
    middle, axes, turn = cv2.fitEllipse(points)
    shorter, greatest = (float(side) for side in sorted(axes))
    if (
        not np.isfinite([shorter, greatest]).all()
        or shorter < LEAST_ACROSS_PX
        or shorter < LEAST_ROUND * greatest
    ):
        raise UnusableError("Those points make no hole: lay them around its edge.")
    around, lean = np.arange(RAYS) * 2 * pi / RAYS, np.radians(turn)
    x, y = axes[0] / 2 * np.cos(around), axes[1] / 2 * np.sin(around)
    edge = (
        np.stack([x * np.cos(lean) - y * np.sin(lean), x * np.sin(lean) + y * np.cos(lean)], axis=1)
        + middle
    )
    across = np.hypot(axes[0] * np.cos(around), axes[1] * np.sin(around))
    return Outline(
        mean_mm=float(across.mean()) * scale,
        area_mm=sqrt(shorter * greatest) * scale,
        sd_mm=2 * HAND_SD_PX / sqrt(len(points)) * scale,
        least_mm=shorter * scale,
        greatest_mm=greatest * scale,
        roundness=shorter / greatest,
        outline=edge,
    )
