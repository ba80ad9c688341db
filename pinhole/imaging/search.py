"""Where in a picture the hole lies: the one small round spot that stands out."""

from math import pi

import cv2
import numpy as np

from pinhole.imaging.bounds import (
    LEAST_COMPACT,
    SEARCHED_PX,
    SECOND_HOLE,
    SURROUND_PX,
    UnusableError,
)


def near(picture):
    """(corner as x, y, the part of the picture around the one hole in it): a big one is searched in
    a reduced copy, so that the work is bounded whatever it shows.
    """
    reduced = int(np.ceil(np.sqrt(picture.size / SEARCHED_PX)))
    if reduced <= 1:
        return np.zeros(2), picture
    high, wide = picture.shape
    small = cv2.resize(picture, (wide // reduced, high // reduced), interpolation=cv2.INTER_AREA)
    try:
        (x, y, width, height), _ = find(evened(cv2.GaussianBlur(small, (3, 3), 0)))
    except UnusableError as error:
        raise UnusableError(
            f"{error} In a picture this big a small hole is not searched for: crop it."
        ) from error
    margin = max(width, height) + SURROUND_PX
    left, top = (max(0, (edge - margin) * reduced) for edge in (x, y))
    right, bottom = ((edge + margin) * reduced for edge in (x + width, y + height))
    return np.array([left, top], float), np.ascontiguousarray(picture[top:bottom, left:right])


def evened(smooth):
    """The picture without the slope of its light, for finding alone: a plane fitted to a small
    copy, taken off.
    """
    small = cv2.resize(smooth, (48, 48), interpolation=cv2.INTER_AREA).astype(np.float64)
    y, x = np.mgrid[0:48, 0:48] / 47
    terms = np.stack([np.ones(48 * 48), x.ravel(), y.ravel()], axis=1)
    kept = np.ones(48 * 48, bool)
    for _ in range(4):
        plane = np.linalg.lstsq(terms[kept], small.ravel()[kept], rcond=None)[0]
        off = np.abs(small.ravel() - terms @ plane)
        kept = off <= max(np.quantile(off, 0.7), 2)
    high, wide = smooth.shape
    slope = (
        plane[1] * np.linspace(-0.5, 0.5, wide)[None, :]
        + plane[2] * np.linspace(-0.5, 0.5, high)[:, None]
    )
    return cv2.subtract(smooth, slope.astype(np.float32), dtype=cv2.CV_8U)


def find(smooth):
    """((x, y, width, height), bright) of the one blob that can be a hole."""
    level, _ = cv2.threshold(smooth, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    blobs = [(blob, bright) for bright in (True, False) for blob in _blobs(smooth, level, bright)]
    if not blobs:
        raise UnusableError(
            "No hole stands out from its plate: light it from behind, or lay black "
            "behind it, and crop to the hole."
        )
    blobs.sort(key=lambda one: -one[0][4])
    (x, y, width, height, area), bright = blobs[0]
    rivals = [
        blob
        for blob, _ in blobs[1:]
        if blob[4] >= SECOND_HOLE * area and not _inside(blob, blobs[0][0])
    ]
    if rivals:
        raise UnusableError(
            f"There are {len(rivals) + 1} things like a hole in the picture: crop it to the one."
        )
    inner = [blob for blob, _ in blobs[1:] if blob[4] >= SECOND_HOLE * area]
    if inner:
        raise UnusableError(
            "There is a ring, not a hole: light it from one side only, or crop closer."
        )
    return (x, y, width, height), bright


def _inside(blob, other):
    return (
        other[0] <= blob[0]
        and other[1] <= blob[1]
        and blob[0] + blob[2] <= other[0] + other[2]
        and blob[1] + blob[3] <= other[1] + other[3]
    )


def _blobs(smooth, level, bright):
    """(x, y, width, height, area) of compact blobs on one side of the level that do not touch the
    border.
    """
    mask = cv2.compare(smooth, level, cv2.CMP_GT if bright else cv2.CMP_LE)
    count, _, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=4)
    if count > 200_000:
        return
    high, wide = smooth.shape
    x, y, width, height, area = stats[1:].T
    least = max(12, stats[1:, 4].max(initial=0) / 50_000)
    free = (x > 0) & (y > 0) & (x + width < wide) & (y + height < high) & (area >= least)
    for row in stats[1:][free][np.argsort(-area[free])][:12]:
        if _compact(mask, row):
            yield tuple(int(number) for number in row)


def _compact(mask, row):
    x, y, width, height, area = row
    part = np.pad(mask[y : y + height, x : x + width], 1)
    contours, _ = cv2.findContours(part, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    contour = max(contours, key=cv2.contourArea)
    around = cv2.arcLength(cv2.approxPolyDP(contour, 1.0, True), True)
    filled = max(cv2.contourArea(contour), 1.0)
    long_over_short = max(width, height) / max(1, min(width, height))
    return (
        area > 0.5 * width * height
        and 4 * pi * filled / around**2 > LEAST_COMPACT
        and long_over_short < 2.5
    )
