"""Search for the hole in a picture: the one small round spot that stands out."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import pi

import cv2
import numpy as np

from pinhole.imaging.bounds import (
    LEAST_BLOB_PX,
    LEAST_COMPACT,
    LEAST_HOLE_CONTRAST,
    LEAST_IN_PLATE_PX,
    LEAST_ROUND_SPOT,
    LEAST_TOLD_PX,
    LEVELS,
    LOOKED_AT,
    MOST_BLOBS,
    MOST_CROWDED,
    PLATE_WIDTHS,
    SEARCHED_PX,
    SECOND_HOLE,
    SURROUND_PX,
    UnusableError,
)
from pinhole.ranges import Array


def near(picture: Array) -> tuple[Array, Array]:
    """(corner as x, y, the part of the picture around the one hole in it): a big one is searched in
    a reduced copy, so that the work is bounded whatever it shows.
    """
    reduced = int(np.ceil(np.sqrt(picture.size / SEARCHED_PX)))
    if reduced <= 1:
        return np.zeros(2), picture
    high, wide = picture.shape
    small = cv2.resize(picture, (wide // reduced, high // reduced), interpolation=cv2.INTER_AREA)
    try:
        spot, beside = _round_spots(evened(cv2.GaussianBlur(small, (3, 3), 0)))
    except UnusableError as error:
        raise UnusableError(
            f"{error} In a picture this big a small hole is not searched for: crop it."
        ) from error
    margin = max(spot.width, spot.height) + SURROUND_PX
    holes = [spot, *beside]
    left, top = (
        max(0, min(edges) - margin) * reduced
        for edges in ([hole.x for hole in holes], [hole.y for hole in holes])
    )
    right = (max(hole.x + hole.width for hole in holes) + margin) * reduced
    bottom = (max(hole.y + hole.height for hole in holes) + margin) * reduced
    return np.array([left, top], float), np.ascontiguousarray(picture[top:bottom, left:right])


def evened(smooth: Array) -> Array:
    """The picture without the slope of its light, for finding alone: a plane fitted to a small
    copy, taken off.
    """
    small = cv2.resize(smooth, (48, 48), interpolation=cv2.INTER_AREA).astype(np.float64)
    y, x = np.mgrid[0:48, 0:48] / 47
    terms = np.stack([np.ones(48 * 48), x.ravel(), y.ravel()], axis=1)
    is_kept = np.ones(48 * 48, bool)
    for _ in range(4):
        plane = np.linalg.lstsq(terms[is_kept], small.ravel()[is_kept], rcond=None)[0]
        residual = np.abs(small.ravel() - terms @ plane)
        is_kept = residual <= max(np.quantile(residual, 0.7), 2)
    high, wide = smooth.shape
    slope = (
        plane[1] * np.linspace(-0.5, 0.5, wide)[None, :]
        + plane[2] * np.linspace(-0.5, 0.5, high)[:, None]
    )
    return cv2.subtract(smooth, slope.astype(np.float32), dtype=cv2.CV_8U)


@dataclass(frozen=True)
class Spot:
    """A blob that may be a hole: its box in px, its area in px^2, whether it is bright, its
    4 pi A / P^2, by how many greys it stands out from its plate, the grey of that, and which share
    of the frame around it is as bright as itself.
    """

    x: int
    y: int
    width: int
    height: int
    area: int
    bright: bool
    compact: float
    step: float
    plate: float
    crowded: float

    @property
    def is_round(self) -> bool:
        """True if it is as round as a hole, and alone in its plate."""
        return self.compact >= LEAST_ROUND_SPOT and self.crowded <= MOST_CROWDED

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of its box as x, y [px]."""
        return self.x + self.width / 2, self.y + self.height / 2

    @property
    def across(self) -> int:
        """The shorter side of its box [px]."""
        return min(self.width, self.height)

    def holds(self, inner: Spot) -> bool:
        """True if the other's box lies in this one's."""
        return (
            self is not inner
            and self.x <= inner.x
            and self.y <= inner.y
            and inner.x + inner.width <= self.x + self.width
            and inner.y + inner.height <= self.y + self.height
        )


def find(smooth: Array) -> tuple[Spot, list[Spot]]:
    """(the one Spot that can be a hole, smaller ones beside it)."""
    hole, beside = _round_spots(smooth)
    rivals = [spot for spot in beside if spot.area >= SECOND_HOLE * hole.area]
    if rivals:
        raise UnusableError(
            f"There are {len(rivals) + 1} things like a hole in the picture: crop it to the one."
        )
    return hole, [spot for spot in beside if spot.across >= LEAST_TOLD_PX]


def _round_spots(smooth: Array) -> tuple[Spot, list[Spot]]:
    """(the largest Spot that can be a hole, the others)."""
    spots = _once(_spots(smooth))
    round_spots = [spot for spot in spots if spot.is_round] or spots
    if not round_spots:
        raise UnusableError(
            "No hole stands out from its plate: light it from behind, or lay black "
            "behind it, and crop to the hole."
        )
    holes = [spot for spot in round_spots if not any(_is_plate_of(spot, s) for s in round_spots)]
    hole = max(holes, key=lambda spot: spot.area)
    inner = [spot for spot in spots if hole.holds(spot) and spot.bright != hole.bright]
    if any(spot.area >= SECOND_HOLE * hole.area for spot in inner):
        raise UnusableError(
            "There is a ring, not a hole: light it from one side only, or crop closer."
        )
    return hole, [spot for spot in holes if spot is not hole and _is_beside(spot, hole)]


def _is_beside(spot: Spot, hole: Spot) -> bool:
    """True if a spot may be a hole of its own, that lets light through as the hole does, and is
    neither dust nor a part of it.
    """
    alike = spot.bright == hole.bright and spot.step >= 0.4 * hole.step
    return not hole.holds(spot) and (alike or spot.area >= SECOND_HOLE * hole.area)


def _is_plate_of(plate: Spot, spot: Spot) -> bool:
    """True if the one is so much wider than a spot in it that the spot is its hole."""
    wide_enough = spot.across >= LEAST_IN_PLATE_PX and plate.across > PLATE_WIDTHS * spot.across
    return plate.holds(spot) and wide_enough


def _once(spots: Iterator[Spot]) -> list[Spot]:
    """The spots, each once and at the level that shows it most compact."""
    distinct: list[Spot] = []
    for spot in sorted(spots, key=lambda spot: -spot.compact):
        if not any(_is_same(spot, spot_kept) for spot_kept in distinct):
            distinct.append(spot)
    return distinct


def _is_same(spot: Spot, second: Spot) -> bool:
    """True if two levels show the same thing."""
    apart = np.abs(np.subtract(spot.middle, second.middle)).max()
    smaller, larger = sorted((spot.area, second.area))
    alike = spot.bright == second.bright and smaller >= SECOND_HOLE * larger
    return alike and apart < max(spot.across, second.across) / 2


def open_px(smooth: Array, spot: Spot, step: float) -> float:
    """Through how many px^2 a spot lets as much light as a hole that stands out by `step` greys."""
    down = slice(max(0, spot.y - 3), spot.y + spot.height + 3)
    across = slice(max(0, spot.x - 3), spot.x + spot.width + 3)
    sign = 1 if spot.bright else -1
    return (
        max(0.0, float(np.sum(sign * (smooth[down, across].astype(np.float64) - spot.plate))))
        / step
    )


def _spots(smooth: Array) -> Iterator[Spot]:
    """The blobs at every level that are compact, stand out and do not touch the border."""
    for level in _levels(smooth):
        for bright in (True, False):
            mask = cv2.compare(smooth, level, cv2.CMP_GT if bright else cv2.CMP_LE)  # type: ignore[call-overload]
            for row in _blobs(mask):
                x, y, width, height, area = map(int, row)
                compact = _compactness(mask, row)
                frame = _frame(smooth, mask, row) if compact else (0.0,)
                if frame[0] >= LEAST_HOLE_CONTRAST / 2:
                    yield Spot(x, y, width, height, area, bright, compact, *frame)


def _levels(smooth: Array) -> list[float]:
    """Otsu's level first, then others from dark to bright: hole, plate and what it lies on may be
    three greys, and the hole the least part of them.
    """
    otsu = cv2.threshold(smooth, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)[0]
    low, high = float(smooth.min()), float(smooth.max())
    return [otsu, *np.linspace(low, high, LEVELS + 2)[1:-1]]


def _blobs(mask: Array) -> Array:
    """(x, y, width, height, area) of the largest blobs of a mask that do not touch its border."""
    count, _, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    if count > MOST_BLOBS:
        return stats[:0]
    high, wide = mask.shape
    x, y, width, height, area = stats[1:].T
    least_px = max(LEAST_BLOB_PX, stats[1:, 4].max(initial=0) / 50_000)
    free = (x > 0) & (y > 0) & (x + width < wide) & (y + height < high) & (area >= least_px)
    return stats[1:][free][np.argsort(-area[free])][:LOOKED_AT]


def _compactness(mask: Array, row: Array) -> float:
    """4 pi A / P^2 of a blob, or 0 where it is long, thin or hollow."""
    x, y, width, height, area = row
    part = np.pad(mask[y : y + height, x : x + width], 1)
    contours, _ = cv2.findContours(part, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    contour = max(contours, key=cv2.contourArea)
    around = cv2.arcLength(cv2.approxPolyDP(contour, 1.0, True), True)
    compact = 4 * pi * max(cv2.contourArea(contour), 1.0) / around**2
    long_over_short = max(width, height) / max(1, min(width, height))
    full = area > 0.5 * width * height and long_over_short < 2.5
    return compact if full and compact > LEAST_COMPACT else 0.0


def _frame(smooth: Array, mask: Array, row: Array) -> tuple[float, float, float]:
    """(by how many greys a blob differs from the frame around its box, the grey of that frame, the
    share of it that is nearer to the blob).
    """
    x, y, width, height, _ = row
    margin = max(3, max(width, height) // 2)
    box = np.s_[y : y + height, x : x + width]
    inside = np.median(smooth[box][mask[box] > 0])
    top, left = max(0, y - margin), max(0, x - margin)
    around = smooth[top : y + height + margin, left : x + width + margin].astype(np.float64)
    around[y - top - 1 : y - top + height + 1, x - left - 1 : x - left + width + 1] = np.nan
    around = around[np.isfinite(around)]
    plate = np.median(around)
    nearer = np.abs(around - inside) < np.abs(around - plate)
    return float(abs(inside - plate)), float(plate), float(nearer.mean())
