"""An exposure read from a scan, by many curves at once.

A paper's curve is never known: its shape, range, base and blackest, and where the metered tone lies
when it is right. Each of some thousand curves says of the densities how much light made them; those
under which the sheet is a likely picture of a likely scene count more.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pinhole import densitometry, media
from pinhole.ranges import Array
from pinhole.scans.tones import SheetTones, tones_of
from pinhole.tones import MIDDLE_OF_SCALE, SHOULDER, ToneCurve

# The candidates. Shapes: exponents of a logistic, 1 its own, less a longer shoulder, more a longer
# toe. Papers of grade 2 hold 3.3 to 4 stops, of grade 3 2.7 (ISO 6846 and makers' ISO R).
CURVE_SHAPES = (0.6, 1.0, 1.7)
RANGES = (2.2, 2.6, 3.0, 3.5, 4.1, 4.8, 5.6, 6.5)
BASES = (0.03, 0.05, 0.07, 0.09, 0.11, 0.14)
BLACKEST = (1.45, 1.6, 1.75, 1.9, 2.05, 2.2)
RIGHTS = (MIDDLE_OF_SCALE - 0.06, MIDDLE_OF_SCALE, MIDDLE_OF_SCALE + 0.06)
RIGHT_WEIGHTS = (0.22, 0.56, 0.22)
# What is believed of them before (common practice): of ranges their middle and spread as a factor.
USUAL_RANGE, RANGE_SPREAD = 3.8, 0.25
BASE_SD, BLACKEST_SD = 0.03, 0.2
# How well a scanner tells the tone of a rim.
RIM_SD = 0.015
# Beyond an end of its scale a curve cannot draw: so far does noise reach.
BEYOND_SD = 0.03
# How far the tones of scenes spread, as a standard deviation [stops], and how much that differs.
SCENE_SD, SCENE_SPREAD = 1.5, 0.4
# Shares nearer to an end tell no light; what lies beyond is so much more or less [stops].
CLIPPED, TAIL_STOPS = 0.02, 0.7
# A meter's middle differs from the scene's by its key [stops] (common practice).
KEY_SD = 0.36
# Nothing is read where so much of the middle is clipped; from the first on it is an end.
MOSTLY_CLIPPED, AT_LEAST = 0.97, 0.45
LEAST_CONTRAST, FOG_SHARE = 0.13, 0.065


@dataclass(frozen=True)
class Judgement:
    """Judgement of an exposure by a reading: stops_more: light it needed over what it got;
    sd_stops: how sure; cannot: why nothing can be said, empty where something can; reasons: in
    words; at_least: stops_more is an end of what the tones can tell.
    """

    stops_more: float
    sd_stops: float
    cannot: str
    reasons: tuple[str, ...]
    at_least: bool = False


@dataclass(frozen=True)
class Curves:
    """The candidates, all (n,): shape, range_stops, base, blackest, right; prior: log weight."""

    shape: Array
    range_stops: Array
    base: Array
    blackest: Array
    right: Array
    prior: Array

    def stops(self, shares: Array) -> Array:
        """Light over right that made those shares of each curve's scale, (n, k) to (n, k)."""
        steep = (_bent(SHOULDER, self.shape) - _bent(0.025, self.shape)) / self.range_stops
        start = _bent(self.right, self.shape)
        return (_bent(shares, self.shape[:, None]) - start[:, None]) / steep[:, None]


def _bent(share: Array | float, shape: Array) -> Array:
    """The logistic of that shape, backwards."""
    root = np.asarray(share) ** (1 / shape)
    return np.asarray(np.log(root / (1 - root)))


CANDIDATES = len(CURVE_SHAPES) * len(RANGES) * len(BASES) * len(BLACKEST) * len(RIGHTS)


def curves(nominal: ToneCurve) -> Curves:
    """The Curves that a paper of that nominal curve may have."""
    grid = np.meshgrid(CURVE_SHAPES, RANGES, BASES, BLACKEST, np.arange(len(RIGHTS)), indexing="ij")
    shape, ranges, base, blackest, n = (axis.ravel() for axis in grid)
    n = n.astype(int)
    usual = (np.log(USUAL_RANGE) + np.log(nominal.range_stops)) / 2
    prior = np.log(np.array(RIGHT_WEIGHTS)[n])
    prior -= ((np.log(ranges) - usual) / RANGE_SPREAD) ** 2 / 2
    prior -= ((base - nominal.dmin) / BASE_SD) ** 2 / 2
    prior -= ((blackest - nominal.dmax) / BLACKEST_SD) ** 2 / 2
    return Curves(shape, ranges, base, blackest, np.array(RIGHTS)[n], prior)


@dataclass(frozen=True)
class Known:
    """Teachings of a paper's own sheets: weights (n,): log weights of the Curves beside their
    prior; shift, shift_sd [stops]: what all of them read too much; sheets: how many.
    """

    weights: Array
    shift: float
    shift_sd: float
    sheets: int


def read_scan(
    codes: Array,
    curve: ToneCurve,
    *,
    bits: int = 8,
    medium: str = "negative",
    wedge: densitometry.Wedge | None = None,
    fall_off: Array | None = None,
    known: Known | None = None,
) -> Judgement:
    """The Judgement of the exposure of the largest sheet on a scan.

    codes: (h, w) or (h, w, 3) as scanned, of bits 8 or 16; curve: the paper's nominal ToneCurve;
    medium: one of media.MEDIA; wedge: scanned beside it; fall_off [stops]: less at each place;
    known: what sheets of that paper have taught. Raises ValueError as find_sheet does, and for
    another medium.
    Source: an average over candidate curves, weighted by how likely the picture is under each (any
    textbook of Bayesian statistics).
    """
    try:
        tones = tones_of(codes, bits=bits, wedge=wedge, fall_off=fall_off)
    except ValueError as error:
        if "no sheet" not in str(error):
            raise
        return Judgement(0.0, 3.0, str(error), ())
    return judge_tones(tones, curve, medium=medium, known=known)


def judge_tones(
    tones: SheetTones, curve: ToneCurve, *, medium: str = "negative", known: Known | None = None
) -> Judgement:
    """The Judgement of the SheetTones of a sheet of that paper; see read_scan."""
    every = curves(curve)
    read = _read(tones, every, medium)
    weights = every.prior + read.likely + (known.weights if known else 0.0)
    weights = np.exp(weights - weights.max())
    weights /= weights.sum()
    over = float(weights @ read.over)
    variance = float(weights @ ((read.over - over) ** 2 + read.tail_sd**2)) + KEY_SD**2
    if known:
        over, variance = over - known.shift, variance + known.shift_sd**2 - KEY_SD**2 / 2
    clipped = float(weights @ (read.dark + read.bright))
    cannot = _cannot(tones, every, weights, clipped, medium)
    at_least = max(weights @ read.dark, weights @ read.bright) > AT_LEAST
    reasons = _reasons(tones, every, weights, read)
    return Judgement(-over, float(np.sqrt(variance)), cannot, reasons, bool(at_least))


def know(
    sheets: Sequence[tuple[SheetTones, float]],
    curve: ToneCurve,
    *,
    medium: str = "negative",
    verdict_sd: float = 0.4,
) -> Known:
    """The Known of judged sheets of a paper: (its SheetTones, stops of light that it needed more).

    verdict_sd [stops]: of one verdict. Source: the same average, over all sheets together; the mean
    of what is left is a normal's.
    """
    every = curves(curve)
    weights, noise = np.zeros(len(every.prior)), float(np.hypot(verdict_sd, KEY_SD))
    overs = []
    for tones, needed in sheets:
        read = _read(tones, every, medium)
        sd = np.hypot(noise, read.tail_sd)
        weights += read.likely - ((read.over + needed) / sd) ** 2 / 2 - np.log(sd)
        overs.append(read.over + needed)
    best = np.exp(every.prior + weights - (every.prior + weights).max())
    best /= best.sum()
    off = [float(best @ over) for over in overs]
    precision = 1 / KEY_SD**2 + len(off) / noise**2
    shift = float(np.sum(off)) / noise**2 / precision
    return Known(weights, shift, precision**-0.5, len(sheets))


@dataclass(frozen=True)
class _Read:
    """By each curve, (n,): over [stops]: light over right in the metered middle; tail_sd: of it;
    likely: log likelihood; dark, bright: shares of the middle that are clipped.
    """

    over: Array
    tail_sd: Array
    likely: Array
    dark: Array
    bright: Array


def _read(tones: SheetTones, every: Curves, medium: str) -> _Read:
    is_positive = media.medium(medium).is_positive
    middle, whole = (
        _shares(np.array(part), every, is_positive) for part in (tones.middle, tones.whole)
    )
    likely = _fits(tones, every, is_positive)
    x = every.stops(np.clip(middle, CLIPPED, 1 - CLIPPED))
    dark, bright = (middle < CLIPPED).mean(axis=1), (middle > 1 - CLIPPED).mean(axis=1)
    # What is clipped lies somewhere beyond, the farther the more of it there is.
    beyond = TAIL_STOPS * (1 + 2 * bright)[:, None]
    x = np.where(middle > 1 - CLIPPED, x + beyond, x)
    x = np.where(middle < CLIPPED, x - TAIL_STOPS * (1 + 2 * dark)[:, None], x)
    over = np.log2(np.mean(2.0**x, axis=1)) + tones.fall_off_stops
    wide = every.stops(np.clip(whole, CLIPPED, 1 - CLIPPED))
    spread = np.maximum(0.2, (wide[:, 35] - wide[:, 4]) / 2.44)
    likely -= (np.log(spread / SCENE_SD) / SCENE_SPREAD) ** 2 / 2
    tail_sd = 1.2 * bright + 1.5 * dark**2
    return _Read(over, tail_sd, likely, dark, bright)


def _shares(densities: Array, every: Curves, is_positive: bool) -> Array:
    """Shares of the light's way along each curve's scale, (n, k), darkest of the scene first."""
    share = (densities[None] - every.base[:, None]) / (every.blackest - every.base)[:, None]
    return 1 - share[:, ::-1] if is_positive else share


def _fits(tones: SheetTones, every: Curves, is_positive: bool) -> Array:
    """Log likelihood of each curve by how well the ends of its scale fit what is seen."""
    lightest, darkest = tones.whole[0], tones.whole[-1]
    fits = -((np.maximum(0, every.base - lightest) / BEYOND_SD) ** 2) / 2
    fits -= (np.maximum(0, darkest - every.blackest) / BEYOND_SD) ** 2 / 2
    if np.isfinite(tones.rim):
        end = every.blackest if is_positive else every.base
        off = (tones.rim - end) / (RIM_SD * (3 if is_positive else 1))
        # A rim that is no end of the scale at all says nothing of it.
        fits += np.log(np.exp(-(off**2) / 2) + 0.02)
    return np.asarray(fits)


def _cannot(tones: SheetTones, every: Curves, weights: Array, clipped: float, medium: str) -> str:
    if tones.contrast < LEAST_CONTRAST:
        return "there is no picture on it"
    if _is_fogged(tones, every, weights, media.medium(medium).is_positive):
        return "it is fogged: what no light should have reached is dark"
    if clipped > MOSTLY_CLIPPED:
        return "most of it lies at an end of the paper's scale"
    return ""


def _is_fogged(tones: SheetTones, every: Curves, weights: Array, is_positive: bool) -> bool:
    """True if an even rim is far from where the scale ends, and the picture goes on from it the
    other way alone.
    """
    if not np.isfinite(tones.rim):
        return False
    base, blackest = float(weights @ every.base), float(weights @ every.blackest)
    if is_positive:
        # Papers differ in how black they get: only a rim that none would show is fogged.
        off, beyond = BLACKEST[0] - tones.rim, tones.whole[-2] - tones.rim
        goes_on = tones.rim - tones.whole[8]
    else:
        off, beyond = tones.rim - base, tones.rim - tones.whole[1]
        goes_on = tones.whole[-8] - tones.rim
    return off > FOG_SHARE * (blackest - base) and beyond < 0.06 and goes_on > 0.15


def _reasons(tones: SheetTones, every: Curves, weights: Array, read: _Read) -> tuple[str, ...]:
    """Reasons in words, in the order of weight."""
    base, blackest = float(weights @ every.base), float(weights @ every.blackest)
    share = (float(np.median(tones.middle)) - base) / (blackest - base)
    words = [f"the middle of it lies at {round(100 * min(1, max(0, share)))} % of its scale"]
    if np.isfinite(tones.rim):
        words.append("its rim shows paper that no light reached")
    for part, name in ((read.dark, "shadows"), (read.bright, "highlights")):
        clipped = float(weights @ part)
        if clipped > 0.05:
            words.append(f"{round(100 * clipped)} % of the {name} lie beyond its scale")
    return tuple(words)
