"""A pinhole measured in a picture of it: found as a blob, its edge followed to a fraction of a pixel.

The picture is an array of greys; the hole may be bright (light behind it) or dark (a black lid behind it). Distances
come from the scale of the picture, so a tilted or guessed scale makes all of them wrong by the same share.
"""

from dataclasses import dataclass
from math import hypot, pi, sqrt

import cv2
import numpy as np

from pinhole.ranges import checked

RAYS = 360
# Fewer pixels across than this measure the pixels and not the hole.
LEAST_ACROSS_PX = 9
# Least difference between hole and plate: in greys of 255, and in standard deviations of the grain.
LEAST_CONTRAST = 25
LEAST_CONTRAST_SD = 5
# Least 4 pi A / P^2 and least short over long axis of anything that is taken for a hole.
LEAST_COMPACT = 0.55
LEAST_ROUND = 0.6
# A second blob of this share of the first one's area is a second hole, not dust.
SECOND_HOLE = 0.2
# An edge this share of the radius (and at least so many pixels) off the ellipse, over some degrees, is a burr.
BURR_SHARE, BURR_PX, BURR_DEG = 0.07, 1.5, 6
# An edge must fall within so many pixels, or this share of the radius, to be the edge of metal.
SOFT_PX, SOFT_SHARE = 3.0, 0.12
# More of the outline than this off its ellipse is no hole; nor is one whose light differs so much from ray to ray.
LEAST_ON_ELLIPSE, UNEVEN = 0.85, 0.4
# A picture of more pixels is searched in a reduced copy; around what is found there so many of its pixels are kept.
SEARCHED_PX, SURROUND_PX = 4_000_000, 12
# How exactly an edge is placed [px]: synthetic pictures give 0.02 to 0.04, real scans are given room.
EDGE_SD_PX = 0.06


class UnusableError(ValueError):
    """The picture cannot be measured; the message says why and what to do."""


@dataclass(frozen=True)
class Hole:
    """What was found. Lengths in mm but for the outline, which is in pixels of the picture, shape (RAYS, 2) as x, y.

    mean_mm: mean width over all directions; area_mm: diameter of the circle of the same area; sd_mm: one standard
    deviation of either; roundness: least over greatest width; burr: whether the edge leaves its
    ellipse, be it metal or dust.
    """

    mean_mm: float
    area_mm: float
    sd_mm: float
    least_mm: float
    greatest_mm: float
    roundness: float
    burr: bool
    bright: bool
    outline: np.ndarray


def measure(picture, mm_per_px):
    """The Hole in a picture.

    picture: greys, uint8, shape (height, width); mm_per_px [mm, above 0]. Raises UnusableError where there is no hole,
    more than one, one too small, cut by the border, too faint or too ragged; ValueError for a scale outside.
    Source: Otsu's threshold and connected components to find it, in a reduced copy of a big picture; half-way between
    hole and plate along rays from its middle to follow the edge; areas and widths of the polygon.
    """
    scale = float(checked("mm_per_px", mm_per_px, above=0))
    if picture.ndim != 2 or min(picture.shape) < 2 * LEAST_ACROSS_PX:
        raise UnusableError("The picture is too small to hold a hole.")
    corner, near = _near(picture)
    smooth = cv2.GaussianBlur(near, (3, 3), 0)
    box, bright = _find(_evened(smooth))
    radii, contrast_edges, middle = _edge(smooth, box, bright)
    area_px, widths = _polygon(radii)
    if not np.isfinite([area_px, *widths]).all() or area_px <= 0:
        raise UnusableError("No closed edge stands out: crop the picture to the hole.")
    if widths.min() < LEAST_ACROSS_PX:
        raise UnusableError(
            f"The hole is only {widths.min():.0f} pixels across: scan it at {LEAST_ACROSS_PX / widths.min() * 2:.0f} "
            "times the resolution."
        )
    roundness = float(widths.min() / widths.max())
    if roundness < LEAST_ROUND:
        raise UnusableError("What stands out is too long to be a pinhole: crop the picture to the hole.")
    area_mm = 2 * sqrt(area_px / pi) * scale
    mean_mm = float(widths.mean()) * scale
    turns = np.arange(RAYS) * 2 * pi / RAYS
    outline = corner + middle + radii[:, None] * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    return Hole(
        mean_mm=mean_mm,
        area_mm=area_mm,
        sd_mm=hypot(EDGE_SD_PX * 2, contrast_edges) * scale,
        least_mm=float(widths.min()) * scale,
        greatest_mm=float(widths.max()) * scale,
        roundness=roundness,
        burr=bool(_ellipse(radii)[1].sum() >= BURR_DEG * RAYS / 360),
        bright=bright,
        outline=outline,
    )


def _near(picture):
    """(corner as x, y, the part of the picture around the one hole in it): a big one is searched in a reduced copy, so
    that the work is bounded whatever it shows.
    """
    reduced = int(np.ceil(np.sqrt(picture.size / SEARCHED_PX)))
    if reduced <= 1:
        return np.zeros(2), picture
    high, wide = picture.shape
    small = cv2.resize(picture, (wide // reduced, high // reduced), interpolation=cv2.INTER_AREA)
    try:
        (x, y, width, height), _ = _find(_evened(cv2.GaussianBlur(small, (3, 3), 0)))
    except UnusableError as error:
        raise UnusableError(f"{error} In a picture this big a small hole is not searched for: crop it.") from error
    margin = max(width, height) + SURROUND_PX
    left, top = (max(0, (edge - margin) * reduced) for edge in (x, y))
    right, bottom = ((edge + margin) * reduced for edge in (x + width, y + height))
    return np.array([left, top], float), np.ascontiguousarray(picture[top:bottom, left:right])


def _evened(smooth):
    """The picture without the slope of its light, for finding alone: a plane fitted to a small copy, taken off."""
    small = cv2.resize(smooth, (48, 48), interpolation=cv2.INTER_AREA).astype(np.float64)
    y, x = np.mgrid[0:48, 0:48] / 47
    terms = np.stack([np.ones(48 * 48), x.ravel(), y.ravel()], axis=1)
    kept = np.ones(48 * 48, bool)
    for _ in range(4):
        plane = np.linalg.lstsq(terms[kept], small.ravel()[kept], rcond=None)[0]
        off = np.abs(small.ravel() - terms @ plane)
        kept = off <= max(np.quantile(off, 0.7), 2)
    high, wide = smooth.shape
    slope = plane[1] * np.linspace(-0.5, 0.5, wide)[None, :] + plane[2] * np.linspace(-0.5, 0.5, high)[:, None]
    return cv2.subtract(smooth, slope.astype(np.float32), dtype=cv2.CV_8U)


def _find(smooth):
    """((x, y, width, height), bright) of the one blob that can be a hole."""
    level, _ = cv2.threshold(smooth, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    found = [(blob, bright) for bright in (True, False) for blob in _blobs(smooth, level, bright)]
    if not found:
        raise UnusableError(
            "No hole stands out from its plate: light it from behind, or lay black behind it, and crop to the hole."
        )
    found.sort(key=lambda one: -one[0][4])
    (x, y, width, height, area), bright = found[0]
    rivals = [blob for blob, _ in found[1:] if blob[4] >= SECOND_HOLE * area and not _inside(blob, found[0][0])]
    if rivals:
        raise UnusableError(f"There are {len(rivals) + 1} things like a hole in the picture: crop it to the one.")
    inner = [blob for blob, _ in found[1:] if blob[4] >= SECOND_HOLE * area]
    if inner:
        raise UnusableError("There is a ring, not a hole: light it from one side only, or crop closer.")
    return (x, y, width, height), bright


def _inside(blob, other):
    return (
        other[0] <= blob[0]
        and other[1] <= blob[1]
        and blob[0] + blob[2] <= other[0] + other[2]
        and blob[1] + blob[3] <= other[1] + other[3]
    )


def _blobs(smooth, level, bright):
    """(x, y, width, height, area) of compact blobs on one side of the level that do not touch the border."""
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
    return area > 0.5 * width * height and 4 * pi * filled / around**2 > LEAST_COMPACT and long_over_short < 2.5


def _edge(smooth, box, bright):
    """(radii along RAYS in px, how far they move with the level in px, middle as x, y)."""
    x, y, width, height = box
    middle = np.array([x + (width - 1) / 2, y + (height - 1) / 2])
    reach = 0.9 * max(width, height) + 4
    for _ in range(2):
        far, profile = _profiles(smooth, middle, reach, bright)
        inner = np.median(profile[:, far < 0.25 * min(width, height)], axis=1)
        outer = np.median(profile[:, far > 0.62 * max(width, height) + 1], axis=1)
        step = float(np.median(inner - outer))
        grain = float(np.median(np.abs(profile[:, -8:] - np.median(profile[:, -8:], axis=1)[:, None]))) * 1.48
        if step < max(LEAST_CONTRAST, LEAST_CONTRAST_SD * grain):
            raise UnusableError("The hole hardly stands out from its plate: give it more light from behind.")
        if (inner - outer).min() < UNEVEN * step or np.std(inner) > UNEVEN * step:
            raise UnusableError("What stands out is not one even hole: crop the picture to the hole.")
        lower, radii, upper = (_crossing(far, profile, outer + share * (inner - outer)) for share in (0.35, 0.5, 0.65))
        turns = np.arange(RAYS) * 2 * pi / RAYS
        shift = np.array([np.mean(radii * np.cos(turns)), np.mean(radii * np.sin(turns))])
        middle = middle + shift
    whole = _area_by_light(far, (profile - outer[:, None]) / (inner - outer)[:, None], radii)
    # Half-way between hole and plate lies a little inside a blurred small hole; the light let through does not.
    soft = float(np.median(lower - upper))
    if soft > max(SOFT_PX, SOFT_SHARE * float(np.median(radii))):
        raise UnusableError("The edge is too soft to be measured: lay the plate flat and scan it sharp.")
    fit, odd = _ellipse(radii)
    if odd.mean() > 1 - LEAST_ON_ELLIPSE:
        raise UnusableError("The edge is too ragged for a pinhole: crop the picture to the hole, and clean it.")
    around = _polygon(np.where(odd, fit, radii))[0]
    if not (np.isfinite([whole, around]).all() and whole > 0 and around > 0):
        raise UnusableError("No closed edge stands out: crop the picture to the hole.")
    radii = radii * sqrt(whole / around)
    return radii, abs(soft) / 6, middle


def _area_by_light(far, share, radii):
    """Area in px^2 as the sum of how far each place is hole (1) and not plate (0), to a little beyond the edge."""
    step = far[1] - far[0]
    margin = max(5.0, 0.12 * float(np.median(radii)))
    near = far[None, :] <= (radii + margin)[:, None]
    deep = far[None, :] < (radii - margin)[:, None]
    rays = np.sum(np.where(deep, 1.0, share) * near * far[None, :], axis=1) * step
    fit, odd = _ellipse(radii)
    return float(np.sum(np.where(odd, fit**2 / 2, rays)) * 2 * pi / RAYS)


def _profiles(smooth, middle, reach, bright):
    """(distances, greys) along RAYS from the middle; a dark hole is turned over so that all go from high to low."""
    far = np.arange(0, reach, 0.25)
    turns = np.arange(RAYS) * 2 * pi / RAYS
    xs = (middle[0] + np.outer(np.cos(turns), far)).astype(np.float32)
    ys = (middle[1] + np.outer(np.sin(turns), far)).astype(np.float32)
    greys = cv2.remap(smooth, xs, ys, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.float64)
    return far, greys if bright else 255 - greys


def _crossing(far, profile, level):
    """Where each profile falls through its level for good: dust inside the hole is jumped over."""
    above = profile > level[:, None]
    # The edge is the end of the longest run above the level that begins near the middle.
    last = profile.shape[1] - 2 - np.argmax(above[:, -2::-1], axis=1)
    first_below = np.argmax(~above, axis=1)
    steady = np.minimum.reduce([last, np.where(_run_below(above, first_below), first_below - 1, last)])
    at = np.clip(steady, 0, profile.shape[1] - 2)
    rows = np.arange(len(profile))
    high, low = profile[rows, at], profile[rows, at + 1]
    share = np.clip((high - level) / np.where(high > low, high - low, 1), 0, 1)
    return far[at] + share * (far[1] - far[0])


def _run_below(above, start):
    """Whether each profile stays below its level for two pixels from `start` on."""
    offsets = start[:, None] + np.arange(8)
    kept = np.take_along_axis(above, np.minimum(offsets, above.shape[1] - 1), axis=1)
    return ~kept.any(axis=1)


def _polygon(radii):
    """(area in px^2, widths in px over half a turn) of the outline, without what leaves its ellipse."""
    turns = np.arange(RAYS) * 2 * pi / RAYS
    fit, odd = _ellipse(radii)
    smooth = np.where(odd, fit, radii)
    xy = np.stack([smooth * np.cos(turns), smooth * np.sin(turns)])
    area = 0.5 * abs(np.sum(xy[0] * np.roll(xy[1], -1) - np.roll(xy[0], -1) * xy[1]))
    across = np.stack([np.cos(turns[: RAYS // 2]), np.sin(turns[: RAYS // 2])], axis=1) @ xy
    return area, across.max(axis=1) - across.min(axis=1)


def _ellipse(radii):
    """(radii of the ellipse the edge keeps to, which rays leave it); rays that leave do not pull it."""
    turns = np.arange(RAYS) * 2 * pi / RAYS
    waves = np.stack([np.ones(RAYS), *(f(n * turns) for n in (1, 2) for f in (np.cos, np.sin))], axis=1)
    odd = np.zeros(RAYS, bool)
    for _ in range(4):
        fit = waves @ np.linalg.lstsq(waves[~odd], radii[~odd], rcond=None)[0]
        odd = np.abs(radii - fit) > max(BURR_SHARE * np.median(radii), BURR_PX)
        if odd.mean() > 0.5:
            break
    return fit, odd
