"""Places of sheets on a scan.

The bed about them is one even tone, the white of a lid or the black of an open one; what differs
from it is a sheet if it is large and a rectangle, however tilted. A scan that was cut to its sheet
shows no bed.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from pinhole.ranges import Array, ArrayLike

# A scan is searched at about so many pixels along its longer side, and is no scan below so many.
SOUGHT_PX, LEAST_PX = 480, 16
# Share of the shorter side about a scan's edge where its bed would be seen.
RING = 0.015
# Codes, as shares of the whole, of a lid and of an open bed; paper that no light reached stays
# below the first, and no paper is darker than the second (sRGB of D 0.05 and of D 2.2).
LID, OPEN_BED = 0.955, 0.11
# A bed is seen when so much of the ring lies so near to one tone.
BED_SHARE, BED_NEAR = 0.35, 0.02
# What differs from the bed by more is no bed.
LEAST_OFF = 0.012
# Of the largest thing on it: smaller and narrower ones are wedges, rulers and notes.
SHEET_SHARE, NARROWEST = 0.3, 0.4
# Rails cover no more of a sheet, as a share of its shorter side, and all four as much.
MOST_RIM, RIM_NEAR = 0.06, 0.018
# A sheet covers at least so much of its scan, and fills its rectangle so far.
LEAST_SHARE, LEAST_FILLED = 0.04, 0.85
# Corners of a whole picture as shares of it, clockwise from its top left.
UNIT_SQUARE = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])


@dataclass(frozen=True)
class SheetPlace:
    """Place of a sheet on its scan: corners_px (4, 2) as x, y, clockwise from the top left, pixel
    centres being whole numbers; bed: "white", "black", or "" where none is seen.
    """

    corners_px: Array
    bed: str


def find_sheets(codes: Array, *, bits: int = 8) -> list[SheetPlace]:
    """[SheetPlace] of every sheet on a scan, the largest first.

    codes: (h, w) or (h, w, 3) as scanned, of bits 8 or 16. Raises ValueError where there is no
    sheet, for other shapes and below 16 pixels.
    Source: what differs from the bed, its connected parts and the smallest rectangle about each
    (any textbook of image analysis).
    """
    grey, step = _searched(codes, bits)
    high, wide = grey.shape
    soft = cv2.medianBlur(grey.astype(np.float32), 3)
    if np.ptp(soft) < LEAST_OFF:
        raise ValueError("there is no sheet on this scan")
    bed, level, noise = _bed(grey)
    mask = (np.abs(soft - level) > max(LEAST_OFF, 4 * noise)).astype(np.uint8)
    boxes = _rectangles(mask) if bed else []
    if not boxes or _is_rim(boxes, (wide, high)):
        return [SheetPlace(_whole(np.shape(codes)[1], np.shape(codes)[0]), "")]
    return [SheetPlace(_at_full_size(box, step), bed) for box in boxes]


def find_sheet(codes: Array, *, bits: int = 8) -> SheetPlace:
    """The SheetPlace of the largest sheet on a scan, see find_sheets. Raises ValueError as it
    does.
    """
    return find_sheets(codes, bits=bits)[0]


def upright(picture: Array, corners_px: Array, longest_px: int) -> Array:
    """The part of a picture between four corners, cut out and set upright, its longer side
    longest_px pixels or as many as it has; float64, (h, w).

    picture: (h, w); corners_px: as in SheetPlace.
    Source: the projective map of four points (any textbook of geometry).
    """
    corners = np.asarray(corners_px, np.float32)
    across, down = (
        float(np.mean([np.linalg.norm(corners[a] - corners[b]) for a, b in pairs]))
        for pairs in (((0, 1), (3, 2)), ((0, 3), (1, 2)))
    )
    scale = min(1.0, longest_px / max(across, down, 1.0))
    wide, high = (max(8, round(side * scale)) for side in (across, down))
    target = np.array([[0, 0], [wide - 1, 0], [wide - 1, high - 1], [0, high - 1]], np.float32)
    warp = cv2.getPerspectiveTransform(corners, target)
    source: Array = np.asarray(picture, np.float32)
    if scale < 0.5:
        # Pixels that would be skipped are averaged first.
        source = np.asarray(cv2.GaussianBlur(source, (0, 0), 0.4 / scale))
    laid = cv2.warpPerspective(
        source, warp, (wide, high), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    return np.asarray(laid, np.float64)


def projective(corners: Array, onto: Array, places: tuple[ArrayLike, ArrayLike]) -> Array:
    """Places (x, y) sent as four corners go onto four others, (2, n) or (2,).

    corners, onto: (4, 2) each, no three on a line; places: x and y, numbers or (n,).
    Source: the projective map of four points (any textbook of geometry).
    """
    source, target = np.asarray(corners, np.float32), np.asarray(onto, np.float32)
    warp = cv2.getPerspectiveTransform(source, target)
    x, y = np.asarray(places[0], float), np.asarray(places[1], float)
    sent = warp @ np.stack([x, y, np.ones_like(x)])
    return np.asarray(sent[:2] / sent[2])


def grey_of(codes: Array, bits: int) -> Array:
    """Greys (h, w) of codes (h, w) or (h, w, 3), 0 to 1. Raises ValueError for other shapes."""
    array = np.asarray(codes)
    if array.ndim == 3 and array.shape[2] in (3, 4):
        # Rec. 709 weights, of the codes as they are.
        array = array[..., :3] @ np.array([0.2126, 0.7152, 0.0722])
    if array.ndim != 2 or min(array.shape) < LEAST_PX:
        raise ValueError(f"codes must be a picture of at least {LEAST_PX} x {LEAST_PX}")
    return np.asarray(array, np.float64) / (2**bits - 1)


def _searched(codes: Array, bits: int) -> tuple[Array, float]:
    """(greys small enough to be searched, pixels of the scan to one of theirs)."""
    grey = grey_of(codes, bits)
    step = max(1.0, max(grey.shape) / SOUGHT_PX)
    size = (max(8, round(grey.shape[1] / step)), max(8, round(grey.shape[0] / step)))
    small = cv2.resize(grey, size, interpolation=cv2.INTER_AREA) if step > 1 else grey
    return small, step


def _bed(grey: Array) -> tuple[str, float, float]:
    """(bed, its tone, its noise); "" where the ring about the scan is no bed."""
    deep = max(2, round(RING * min(grey.shape)))
    parts = (grey[:deep], grey[-deep:], grey[:, :deep], grey[:, -deep:])
    ring = np.concatenate([part.ravel() for part in parts])
    for bed, tones in (("white", ring[ring > LID]), ("black", ring[ring < OPEN_BED])):
        if len(tones) < BED_SHARE * len(ring):
            continue
        level = float(np.median(tones))
        is_bed = np.abs(tones - level) < BED_NEAR
        if is_bed.mean() > 0.6:
            noise = 1.48 * float(np.median(np.abs(tones[is_bed] - level)))
            return bed, level, noise
    return "", 0.0, 0.0


def _is_rim(boxes: list[Array], size: tuple[int, int]) -> bool:
    """True if what was found is the picture within its own even rim: as far from each edge."""
    wide, high = size
    (left, top), (right, foot) = boxes[0].min(axis=0), boxes[0].max(axis=0)
    margins = np.array([left, top, wide - 1 - right, high - 1 - foot]) / min(size)
    turned = np.abs(boxes[0][0] - boxes[0][1])[1] / wide
    is_even = margins.max() < MOST_RIM and np.ptp(margins) < RIM_NEAR
    return len(boxes) == 1 and bool(is_even) and turned < RIM_NEAR


def _rectangles(mask: Array) -> list[Array]:
    """[(4, 2)] corners of the sheets in a mask, the largest first."""
    reach = max(3, round(0.012 * min(mask.shape))) | 1
    kernel = np.ones((reach, reach), np.uint8)
    closed = cv2.morphologyEx(np.pad(mask, reach), cv2.MORPH_CLOSE, kernel)
    # Thin lines between a sheet and what lies beside it are no part of it.
    opened = cv2.morphologyEx(closed, cv2.MORPH_OPEN, kernel)
    outlines, _ = cv2.findContours(opened, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    boxes = [cv2.minAreaRect(outline) for outline in outlines]
    filled = [cv2.contourArea(cv2.convexHull(outline)) for outline in outlines]
    rows = []
    for (middle, (wide, high), turn), area in zip(boxes, filled, strict=True):
        side = (wide + 1) * (high + 1)
        is_sheet = area > LEAST_SHARE * mask.size and area > LEAST_FILLED * side
        if is_sheet and min(wide, high) > NARROWEST * max(wide, high):
            corners = cv2.boxPoints((middle, (wide + 1, high + 1), turn)) - reach
            rows.append((area, _clockwise(corners)))
    rows.sort(key=lambda row: -row[0])
    return [corners for area, corners in rows if area > SHEET_SHARE * rows[0][0]]


def _clockwise(corners: Array) -> Array:
    """Corners clockwise from the top left."""
    middle = corners.mean(axis=0)
    order = np.argsort(np.arctan2(*(corners - middle).T[::-1]))
    ordered = corners[order]
    first = int(np.argmin(ordered.sum(axis=1)))
    return np.roll(ordered, -first, axis=0)


def _at_full_size(corners: Array, step: float) -> Array:
    """Corners of the small picture on the scan itself."""
    return np.asarray((corners + 0.5) * step - 0.5, np.float64)


def _whole(wide: int, high: int) -> Array:
    """Corners of the whole scan."""
    return np.array([[0, 0], [wide - 1, 0], [wide - 1, high - 1], [0, high - 1]], float)
