"""A sheet foreseen from a photo of its scene: what its paper sees of it, through that hole, on that
back, by its own curve.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from pinhole.faults import blurred
from pinhole.ranges import Array, checked
from pinhole.tones import SHOULDER, TOE, ToneCurve

# A place that moves on while the hole is open is smoothed over this part of the picture's width
# (common practice): water, clouds, leaves.
MOVING_SHARE = 0.04
# Red this much darker on paper than to the eye is worth a word [stops], from so much of the picture
# on.
BLACK_RED_STOPS, BLACK_RED_SHARE = 2.0, 0.01
# The sun's disc gives so much more than the middle, and what is scattered around it falls by e in
# so much of the picture's width (common practice).
DISC_STOPS, FLARE_SHARE = 7.0, 0.03
# A ninth of a sheet tells what it got if so much of it lies so far from both ends of the scale.
TOLD_SHARE, END_STOPS = 0.1, 0.2
# Of a sheet's tones beside their light: how many, over what of it they are looked at [px], and the
# share of it that is calm enough.
TONE_STEPS, CALM_PX, CALM_SHARE = 16, 2.0, 0.7


@dataclass(frozen=True)
class Foreseen:
    """A print foreseen. densities: of the negative in the hand, or of the positive itself, the way
    round that a print shows, (h, w); known: where the photo reaches; empty, blocked: shares of what
    is known that stay under the toe, and come over the shoulder, of light; received [stops from
    right].
    """

    densities: Array
    received: Array
    known: Array
    empty_at: Array
    blocked_at: Array

    @property
    def empty(self) -> float:
        """Share of what is known that stays empty."""
        return _share(self.empty_at, self.known)

    @property
    def blocked(self) -> float:
        """Share of what is known that blocks up."""
        return _share(self.blocked_at, self.known)


def laid(ev100: Array, x_px: Array, y_px: Array) -> Array:
    """Exposure values of a photo (h, w) at places in its pixels, any shape (a, b): straight between
    in light; nan where it does not reach.
    """
    light = np.exp2(np.maximum(ev100, -30.0)).astype(np.float32)
    x, y = (np.nan_to_num(place, nan=-1e6).astype(np.float32) for place in (x_px, y_px))
    # Between the middles of the outermost pixels it reaches half a pixel further.
    light_there = cv2.remap(
        light, x - 0.5, y - 0.5, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    high, wide = ev100.shape
    inside = (x >= 0) & (x <= wide) & (y >= 0) & (y <= high)
    return np.where(inside, np.log2(np.maximum(light_there, 1e-9)), np.nan)


def foresee(
    ev100: Array,
    middle_ev100: float,
    curve: ToneCurve,
    *,
    medium: str = "negative",
    stops: float = 0.0,
    blur_px: float = 0.0,
    fall_off: Array | None = None,
    moving: Array | None = None,
    passing: tuple[Array, float] | None = None,
    sun: tuple[float, float] | None = None,
) -> Foreseen:
    """The Foreseen of exposure values as a paper sees them, (h, w), nan where nobody knows.

    middle_ev100: what was metered as its middle; stops: light given over what that asks for; medium
    as verdicts; blur_px [at least 0]: of the hole; fall_off: stops less at each place, or None;
    moving: True where it does not stand still, or None; passing: (True where somebody stood, for
    which share of the time), or None; sun: (across, down) of the sun in it [px],
    or None. Raises ValueError outside. Source: light
    adds and falls on the curve, as pinhole.sheet.
    """
    known = np.isfinite(ev100)
    stops_off = np.where(known, ev100, middle_ev100) - float(checked("middle_ev100", middle_ev100))
    if passing is not None:
        stops_off = _passed(stops_off, *passing)
    light = blurred(np.exp2(stops_off), float(checked("blur_px", blur_px, least=0)))
    if moving is not None and moving.any():
        light = np.where(moving, _smoothed(light), light)
    if sun is not None:
        light = light + _flare(light.shape, *sun)
    if fall_off is not None:
        light = light * 2.0 ** -np.asarray(fall_off)
    received = np.log2(np.maximum(light, 1e-12)) + float(stops)
    share = curve.share(received)
    toe = TOE / (curve.dmax - curve.dmin)
    return Foreseen(
        np.asarray(curve.density(received, medium)),
        received,
        known,
        known & (share < toe),
        known & (share > SHOULDER),
    )


@dataclass(frozen=True)
class Difference:
    """Light that a sheet got more than was foreseen. stops: in the middle of all places; places:
    beside that, (3, 3), nan where nothing can be told.
    """

    stops: float
    places: Array

    @property
    def corners(self) -> float:
        """Stops that the corners got more than the middle, nan where nothing can be told."""
        known = self.places[::2, ::2][np.isfinite(self.places[::2, ::2])]
        return float(known.mean() - self.places[1, 1]) if known.size else float("nan")


def difference(
    densities: Array, foreseen: Foreseen, curve: ToneCurve, medium: str = "negative"
) -> Difference | None:
    """The Difference of a sheet's densities, the way round that a print shows, from what was
    Foreseen of it; None where no ninth of it can be told.

    densities: (a, b) of any size, of the whole sheet. Source: both back through the curve, medians
    of ninths; what lies at either end of the scale tells nothing.
    """
    high, wide = foreseen.densities.shape
    sheet = _as_large(densities, foreseen)
    received, expected = curve.stops(sheet, medium), foreseen.received
    ends = curve.stops(np.array([0.0, 3.0]), medium)
    inside = foreseen.known & _between_ends(received, ends) & _between_ends(expected, ends)
    places = np.full((3, 3), np.nan)
    for row, rows in enumerate(np.array_split(np.arange(high), 3)):
        for column, columns in enumerate(np.array_split(np.arange(wide), 3)):
            cell = np.ix_(rows, columns)
            if inside[cell].mean() > TOLD_SHARE:
                places[row, column] = np.median((received - expected)[cell][inside[cell]])
    if not np.isfinite(places).any():
        return None
    middle = float(np.nanmedian(places))
    return Difference(middle, places - middle)


def lit_tones(densities: Array, foreseen: Foreseen) -> tuple[Array, Array]:
    """(light over right that was foreseen [stops], density that it made), TONE_STEPS each at most,
    of a sheet, (a, b) of any size, the way round that a print shows.

    Source: medians of even parts of what is known, from its darkest to its brightest; steep places
    are left out, for there a sheet that lies a little off shows its neighbour.
    """
    sheet = _as_large(densities, foreseen)
    calm = cv2.GaussianBlur(foreseen.received.astype(np.float32), (0, 0), CALM_PX)
    slope = np.hypot(*np.gradient(calm))
    usable = foreseen.known & (slope <= np.quantile(slope, CALM_SHARE))
    received, densities_there = foreseen.received[usable], sheet[usable]
    parts = np.array_split(np.argsort(received, kind="stable"), TONE_STEPS)
    medians = [
        (np.median(received[part]), np.median(densities_there[part])) for part in parts if part.size
    ]
    stops, tones = np.array(medians).reshape(-1, 2).T
    return stops, tones


def _as_large(densities: Array, foreseen: Foreseen) -> Array:
    """A sheet at the size of what was foreseen of it."""
    high, wide = foreseen.densities.shape
    sheet = cv2.resize(densities.astype(np.float32), (wide, high), interpolation=cv2.INTER_AREA)
    return np.asarray(sheet, np.float64)


def _between_ends(stops: Array, ends: Array) -> Array:
    low, high = float(ends.min()), float(ends.max())
    return np.asarray((stops > low + END_STOPS) & (stops < high - END_STOPS))


def as_print(densities: Array, curve: ToneCurve, medium_is_positive: bool) -> Array:
    """Densities of a print that is as dark where a negative is light; those of a positive itself.

    Source: the scale turned round, a straight print.
    """
    return densities if medium_is_positive else curve.dmin + curve.dmax - densities


def black_reds(eye_ev100: Array, paper_ev100: Array) -> float:
    """Share of a picture, (h, w) each, that is red and comes out so much darker on a paper that is
    blind to it that it is worth a word; 0 for less.
    """
    darker = np.asarray(eye_ev100 - paper_ev100)
    share = float((darker[np.isfinite(darker)] > BLACK_RED_STOPS).mean()) if darker.size else 0.0
    return share if share >= BLACK_RED_SHARE else 0.0


def _flare(shape: tuple[int, ...], across: float, down: float) -> Array:
    """Light of the sun's disc and of what the hole's edge scatters around it, over the middle."""
    rows, columns = np.indices(shape)
    away = np.hypot(rows - down, columns - across) / shape[1]
    return np.asarray(2.0**DISC_STOPS * np.exp(-away / FLARE_SHARE))


def _passed(stops_off: Array, there: Array, share: float) -> Array:
    """Light where somebody stood for that share of the time, and what lies around it came through
    for the rest.
    """
    share = float(checked("the share of passing", share, least=0, most=1))
    if share == 1 or not there.any() or there.all():
        return stops_off
    sides = np.stack([_bridged(stops_off, there), _bridged(stops_off.T, there.T).T])
    behind = np.where(there, np.nanmean(sides, axis=0), stops_off)
    behind = cv2.GaussianBlur(behind.astype(np.float32), (0, 0), CALM_PX).astype(float)
    light = share * np.exp2(stops_off) + (1 - share) * np.exp2(behind)
    return np.where(there, np.log2(np.maximum(light, 1e-12)), stops_off)


def _bridged(values: Array, there: Array) -> Array:
    """Values straight between those on either side of what is there in a row; nan where a row has
    no other.
    """
    bridged, places = values.copy(), np.arange(values.shape[1])
    for row in np.flatnonzero(there.any(axis=1)):
        gap = there[row]
        inside = np.nan
        if not gap.all():
            inside = np.interp(places[gap], places[~gap], values[row, ~gap])
        bridged[row, gap] = inside
    return bridged


def _smoothed(light: Array) -> Array:
    width = max(1.0, MOVING_SHARE * light.shape[1])
    return np.asarray(cv2.GaussianBlur(light.astype(np.float32), (0, 0), width), np.float64)


def _share(part: Array, whole_area: Array) -> float:
    return float(part.sum() / whole_area.sum()) if whole_area.any() else 0.0
