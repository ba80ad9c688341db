"""The edge of a hole along rays from its middle, to a fraction of a pixel."""

from __future__ import annotations

from math import pi, sqrt
from typing import TYPE_CHECKING

import cv2
import numpy as np

from pinhole.imaging.bounds import (
    BURR_PX,
    BURR_SHARE,
    LEAST_CONTRAST_SD,
    LEAST_HOLE_CONTRAST,
    LEAST_ON_ELLIPSE,
    RAYS,
    SOFT_PX,
    SOFT_SHARE,
    UNEVEN,
    UnusableError,
)
from pinhole.ranges import Array

if TYPE_CHECKING:
    from pinhole.imaging.search import Spot


def follow(smooth: Array, spot: Spot) -> tuple[Array, float, Array, float]:
    """(radii along RAYS in px, how far they move with the level in px, middle as x, y, area in
    px^2 that spikes take away).
    """
    width, height = spot.width, spot.height
    middle = np.array([spot.x + (width - 1) / 2, spot.y + (height - 1) / 2])
    reach = 0.9 * max(width, height) + 4
    for _ in range(2):
        radii_px, profile = _profiles(smooth, middle, reach, spot.bright)
        inner = np.median(profile[:, radii_px < 0.25 * min(width, height)], axis=1)
        outer = np.median(profile[:, radii_px > 0.62 * max(width, height) + 1], axis=1)
        _refuse_faint(profile, inner, outer)
        lower, radii, upper = (
            _crossing(radii_px, profile, outer + share * (inner - outer))
            for share in (0.35, 0.5, 0.65)
        )
        turns = np.arange(RAYS) * 2 * pi / RAYS
        shift = np.array([np.mean(radii * np.cos(turns)), np.mean(radii * np.sin(turns))])
        middle = middle + shift
    soft = float(np.median(lower - upper))
    _refuse_soft(soft, radii)
    # Half-way between hole and plate lies a little inside a blurred small hole; the light let
    # through does not.
    share = (profile - outer[:, None]) / (inner - outer)[:, None]
    total, blocked = _area_by_light(radii_px, share, radii)
    return _filled(radii, total), abs(soft) / 6, middle, blocked


def _refuse_faint(profile: Array, inner: Array, outer: Array) -> None:
    """Raise UnusableError where hole and plate hardly differ, or not everywhere."""
    step, far_out = float(np.median(inner - outer)), profile[:, -8:]
    grain = float(np.median(np.abs(far_out - np.median(far_out, axis=1)[:, None]))) * 1.48
    if step < max(LEAST_HOLE_CONTRAST, LEAST_CONTRAST_SD * grain):
        raise UnusableError(
            "The hole hardly stands out from its plate: give it more light from behind."
        )
    if (inner - outer).min() < UNEVEN * step or np.std(inner) > UNEVEN * step:
        raise UnusableError("What stands out is not one even hole: crop the picture to the hole.")


def _refuse_soft(soft: float, radii: Array) -> None:
    if soft > max(SOFT_PX, SOFT_SHARE * float(np.median(radii))):
        raise UnusableError(
            "The edge is too soft to be measured: lay the plate flat and scan it sharp."
        )


def _filled(radii: Array, total: float) -> Array:
    """The radii of an edge whose area is `whole` [px^2], its shape kept."""
    odd = ellipse(radii)[1]
    if odd.mean() > 1 - LEAST_ON_ELLIPSE:
        raise UnusableError(
            "The edge is too ragged for a pinhole: crop the picture to the hole, and clean it."
        )
    around = polygon(radii)[0]
    if not (np.isfinite([total, around]).all() and total > 0 and around > 0):
        raise UnusableError("No closed edge stands out: crop the picture to the hole.")
    return radii * sqrt(total / around)


def _area_by_light(radii_px: Array, share: Array, radii: Array) -> tuple[float, float]:
    """(area in px^2 of the hole, what spikes into it take away): the sum of how far each place is
    hole (1) and not plate (0), to a little beyond the edge. Where the edge leaves its ellipse the
    ellipse is the hole; a spike into it takes light away, a scratch out of it adds none.
    """
    step = radii_px[1] - radii_px[0]
    margin = max(5.0, 0.12 * float(np.median(radii)))
    fit, odd = ellipse(radii)
    is_within = radii_px[None, :] <= (np.maximum(radii, np.where(odd, fit, 0)) + margin)[:, None]
    deep = radii_px[None, :] < (radii - margin)[:, None]
    rays = np.sum(np.where(deep, 1.0, share) * is_within * radii_px[None, :], axis=1) * step
    total = np.sum(np.where(odd, fit**2 / 2, rays))
    blocked = np.sum(np.where(odd & (radii < fit), np.maximum(fit**2 / 2 - rays, 0), 0))
    return float(total) * 2 * pi / RAYS, float(blocked) * 2 * pi / RAYS


def _profiles(smooth: Array, middle: Array, reach: float, bright: bool) -> tuple[Array, Array]:
    """(distances, greys) along RAYS from the middle; a dark hole is turned over so that all go from
    high to low.
    """
    radii_px = np.arange(0, reach, 0.25)
    turns = np.arange(RAYS) * 2 * pi / RAYS
    xs = (middle[0] + np.outer(np.cos(turns), radii_px)).astype(np.float32)
    ys = (middle[1] + np.outer(np.sin(turns), radii_px)).astype(np.float32)
    greys = cv2.remap(smooth, xs, ys, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(
        np.float64
    )
    return radii_px, greys if bright else 255 - greys


def _crossing(radii_px: Array, profile: Array, level: Array) -> Array:
    """Place where each profile falls through its level for good: dust inside the hole is jumped
    over.
    """
    above = profile > level[:, None]
    # The edge is the end of the longest run above the level that begins near the middle.
    last = profile.shape[1] - 2 - np.argmax(above[:, -2::-1], axis=1)
    first_below = np.argmax(~above, axis=1)
    steady = np.minimum.reduce(
        [last, np.where(_run_below(above, first_below), first_below - 1, last)]
    )
    index = np.clip(steady, 0, profile.shape[1] - 2)
    rows = np.arange(len(profile))
    high, low = profile[rows, index], profile[rows, index + 1]
    share = np.clip((high - level) / np.where(high > low, high - low, 1), 0, 1)
    return radii_px[index] + share * (radii_px[1] - radii_px[0])


def _run_below(above: Array, start: Array) -> Array:
    """True for each profile that stays below its level for two pixels from `start` on."""
    offsets = start[:, None] + np.arange(8)
    stays_below = np.take_along_axis(above, np.minimum(offsets, above.shape[1] - 1), axis=1)
    return np.asarray(~stays_below.any(axis=1))


def polygon(radii: Array) -> tuple[float, Array]:
    """(area in px^2, widths in px over half a turn) of the outline, without what leaves its
    ellipse.
    """
    turns = np.arange(RAYS) * 2 * pi / RAYS
    fit, odd = ellipse(radii)
    smooth = np.where(odd, fit, radii)
    xy = np.stack([smooth * np.cos(turns), smooth * np.sin(turns)])
    area = 0.5 * np.sin(2 * pi / RAYS) * np.sum(smooth * np.roll(smooth, -1))
    across = np.stack([np.cos(turns[: RAYS // 2]), np.sin(turns[: RAYS // 2])], axis=1) @ xy
    return area, across.max(axis=1) - across.min(axis=1)


def ellipse(radii: Array) -> tuple[Array, Array]:
    """(radii of the ellipse the edge keeps to, which rays leave it); rays that leave do not pull
    it.
    """
    turns = np.arange(RAYS) * 2 * pi / RAYS
    waves = np.stack(
        [np.ones(RAYS), *(f(n * turns) for n in (1, 2) for f in (np.cos, np.sin))], axis=1
    )
    odd = np.zeros(RAYS, bool)
    for _ in range(4):
        fit = waves @ np.linalg.lstsq(waves[~odd], radii[~odd], rcond=None)[0]
        odd = np.abs(radii - fit) > max(BURR_SHARE * np.median(radii), BURR_PX)
        if odd.mean() > 0.5:
            break
    return fit, odd
