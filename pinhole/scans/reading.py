"""An exposure read from a scan, by many curves at once.

A paper's curve is never known: its shape, range, base and blackest, and where the metered tone lies
when it is right. Each of some thousand curves says of the densities how much light made them; those
under which the sheet is a likely picture of a likely scene count more.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from pinhole import densitometry, media
from pinhole.ranges import Array
from pinhole.scans.candidates import BLACKEST, Curves, Known, curves
from pinhole.scans.tones import WHITER, SheetTones, tones_of
from pinhole.tones import ToneCurve

# How well a scanner tells the tone of a rim.
RIM_SD = 0.015
# Beyond an end of its scale a curve cannot draw: so far does noise reach.
BEYOND_SD = 0.03
# How far the tones of scenes spread, as a standard deviation [stops], and how much that differs.
SCENE_SD, SCENE_SPREAD = 1.35, 0.5
# Shares nearer to an end tell no light; what lies beyond is so much more or less [stops].
CLIPPED, TAIL_STOPS = 0.02, 0.7
# Parts of a picture that are metered as its darkest and its brightest, and how much the middle of
# two spots differs besides [stops] (common practice).
SPOT_PARTS, SPOTS_SD = (1, 38), 0.25
# A meter's middle differs from the scene's by its key [stops] (common practice).
KEY_SD = 0.36
# Of light on a scene, and not of the scene: snow is 1.9 stops lighter than its middle, a forest 1.2
# darker (common practice).
INCIDENT_KEY_SD = 0.9
# Nothing is read where so much of the middle is clipped; from the first on it is an end.
MOSTLY_CLIPPED, AT_LEAST = 0.97, 0.45
# Darker than any paper, and a rim darker than any that is not fogged, are a reason to look whether
# a file of 16 bits is linear, which is seldom [log odds]; one of 8 was stretched.
TOO_BLACK, TOO_DARK_RIM, LINEAR_ODDS = 2.35, 0.16, 1.0
# What is left of a verdict where a scanner stretched the tones [stops] (common practice).
STRETCHED_SD = 0.8
LINEAR_FILE = "the file holds light itself and not the standard's codes: it was read so"
STRETCHED_FILE = "the scanner stretched its tones from white to black: switch that off"
LEAST_CONTRAST, FOG_SHARE = 0.13, 0.065


@dataclass(frozen=True)
class Judgement:
    """Judgement of an exposure by a reading: stops_more: light it needed over what it got;
    sd_stops: how sure; cannot: why nothing can be judgement, empty where something can; reasons: in
    words; at_least: stops_more is an end of what the tones can tell; spread_stops: light from the
    darkest part of the picture to its brightest, spread_is_least: or more.
    """

    stops_more: float
    sd_stops: float
    cannot: str
    reasons: tuple[str, ...]
    at_least: bool = False
    spread_stops: float = 0.0
    spread_is_least: bool = False


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
    options = {"bits": bits, "wedge": wedge, "fall_off": fall_off}
    try:
        tones = likelier_tones(codes, curve, medium, file_bits=bits, **options)
    except ValueError as error:
        if "no sheet" not in str(error):
            raise
        return Judgement(0.0, 3.0, str(error), ())
    return judge_tones(tones, curve, medium=medium, known=known)


def likelier_tones(
    codes: Array, curve: ToneCurve, medium: str, *, file_bits: int = 8, **options: Any
) -> SheetTones:
    """The SheetTones of a scan by the standard transfer function, unless no paper looks so and one
    does by none: then the codes are light itself; file_bits: of the file, 8 or 16; options: as
    tones_of.
    """
    tones = tones_of(codes, **options)
    odd = tones.picture[-1] > TOO_BLACK or tones.rim > TOO_DARK_RIM
    # The palest paper of a linear file is read as darker than white.
    is_deep = file_bits == 16
    if options.get("wedge") is not None or not odd or not is_deep or tones.picture[0] < WHITER:
        return tones
    straight = tones_of(codes, is_linear=True, **options)
    every = curves(curve)
    by_standard, by_none = (
        np.logaddexp.reduce(every.prior + by_each(version, every, medium).likely)
        for version in (tones, straight)
    )
    return straight if by_none - LINEAR_ODDS > by_standard else tones


def judge_tones(
    tones: SheetTones,
    curve: ToneCurve,
    *,
    medium: str = "negative",
    known: Known | None = None,
    key_sd: float = KEY_SD,
) -> Judgement:
    """The Judgement of the SheetTones of a sheet of that paper, see read_scan; key_sd [stops]: how
    far what was metered lies from the middle of the scene.
    """
    if tones.is_stretched:
        judgement = judge_tones(tones.drawn_in(), curve, medium=medium, known=known, key_sd=key_sd)
        wide = float(np.hypot(judgement.sd_stops, STRETCHED_SD))
        return replace(judgement, sd_stops=wide, reasons=(*judgement.reasons, STRETCHED_FILE))
    every = curves(curve)
    result = by_each(tones, every, medium)
    weights = every.prior + result.likely + (known.weights if known else 0.0)
    weights = np.exp(weights - weights.max())
    weights /= weights.sum()
    surplus = float(weights @ result.surplus)
    variance = float(weights @ ((result.surplus - surplus) ** 2 + result.tail_sd**2)) + key_sd**2
    if known:
        surplus, variance = surplus - known.shift, variance + known.shift_sd**2 - KEY_SD**2 / 2
    clipped = float(weights @ (result.dark + result.bright))
    cannot = _cannot(tones, every, weights, clipped, medium)
    at_least = max(weights @ result.dark, weights @ result.bright) > AT_LEAST
    reasons = _reasons(tones, every, weights, result)
    spread = float(weights @ (result.ends[1] - result.ends[0]))
    is_open = bool(weights @ result.open.any(axis=0) > AT_LEAST)
    sd = float(np.sqrt(variance))
    return Judgement(-surplus, sd, cannot, reasons, bool(at_least), spread, is_open)


@dataclass(frozen=True)
class ByEach:
    """By each curve, (n,): surplus [stops]: light over right in the metered middle; tail_sd: of it;
    likely: log likelihood; dark, bright: shares of the middle that are clipped; ends (2, n): light
    over right in the darkest and the brightest part, open (2, n): whether that lies beyond.
    """

    surplus: Array
    tail_sd: Array
    likely: Array
    dark: Array
    bright: Array
    ends: Array
    open: Array

    @property
    def by_spots(self) -> ByEach:
        """The same with the surplus of one that was metered in two spots."""
        tails = TAIL_STOPS * np.array([-1.0, 1.0])[:, None] * self.open
        tail_sd = np.hypot(TAIL_STOPS * self.open.any(axis=0), SPOTS_SD)
        return replace(self, surplus=np.mean(self.ends + tails, axis=0), tail_sd=tail_sd)


def by_each(tones: SheetTones, every: Curves, medium: str) -> ByEach:
    """The SheetTones of a sheet of that medium ByEach of the Curves. Source: see read_scan."""
    is_positive = media.medium(medium).is_positive
    middle, picture = (
        _shares(np.array(part), every, is_positive) for part in (tones.middle, tones.picture)
    )
    likely = _fits(tones, every, is_positive)
    x = every.stops(np.clip(middle, CLIPPED, 1 - CLIPPED))
    dark, bright = (middle < CLIPPED).mean(axis=1), (middle > 1 - CLIPPED).mean(axis=1)
    # What is clipped lies somewhere beyond, the farther the more of it there is.
    beyond = TAIL_STOPS * (1 + 2 * bright)[:, None]
    x = np.where(middle > 1 - CLIPPED, x + beyond, x)
    x = np.where(middle < CLIPPED, x - TAIL_STOPS * (1 + 2 * dark)[:, None], x)
    surplus = np.log2(np.mean(np.exp2(x), axis=1)) + tones.fall_off_stops
    wide = every.stops(np.clip(picture, CLIPPED, 1 - CLIPPED))
    spread = np.maximum(0.2, (wide[:, 35] - wide[:, 4]) / 2.44)
    likely -= (np.log(spread / SCENE_SD) / SCENE_SPREAD) ** 2 / 2
    tail_sd = 1.2 * bright + 1.5 * dark**2
    low, high = SPOT_PARTS
    ends = np.stack([wide[:, low], wide[:, high]]) + tones.fall_off_stops
    is_open = np.stack([picture[:, low] < CLIPPED, picture[:, high] > 1 - CLIPPED])
    read = ByEach(surplus, tail_sd, likely, dark, bright, ends, is_open)
    return read.by_spots if tones.by_spots else read


def _shares(densities: Array, every: Curves, is_positive: bool) -> Array:
    """Shares of the light's way along each curve's scale, (n, k), darkest of the scene first."""
    share = (densities[None] - every.base[:, None]) / (every.blackest - every.base)[:, None]
    return 1 - share[:, ::-1] if is_positive else share


def _fits(tones: SheetTones, every: Curves, is_positive: bool) -> Array:
    """Log likelihood of each curve by how well the ends of its scale fit what is seen."""
    lightest, darkest = tones.picture[0], tones.picture[-1]
    fits = -((np.maximum(0, every.base - lightest) / BEYOND_SD) ** 2) / 2
    fits -= (np.maximum(0, darkest - every.blackest) / BEYOND_SD) ** 2 / 2
    if np.isfinite(tones.rim):
        end = every.blackest if is_positive else every.base
        distance = (tones.rim - end) / (RIM_SD * (3 if is_positive else 1))
        # A rim that is no end of the scale at all says nothing of it.
        fits += np.log(np.exp(-(distance**2) / 2) + 0.02)
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
        distance, beyond = BLACKEST[0] - tones.rim, tones.picture[-2] - tones.rim
        goes_on = tones.rim - tones.picture[8]
    else:
        distance, beyond = tones.rim - base, tones.rim - tones.picture[1]
        goes_on = tones.picture[-8] - tones.rim
    return distance > FOG_SHARE * (blackest - base) and beyond < 0.06 and goes_on > 0.15


def _reasons(tones: SheetTones, every: Curves, weights: Array, result: ByEach) -> tuple[str, ...]:
    """Reasons in words, in the order of weight."""
    base, blackest = float(weights @ every.base), float(weights @ every.blackest)
    share = (float(np.median(tones.middle)) - base) / (blackest - base)
    words = [LINEAR_FILE] if tones.is_linear else []
    words += [f"the middle of it lies at {round(100 * min(1, max(0, share)))} % of its scale"]
    if np.isfinite(tones.rim):
        words.append("its rim shows paper that no light reached")
    for part, name in ((result.dark, "shadows"), (result.bright, "highlights")):
        clipped = float(weights @ part)
        if clipped > 0.05:
            words.append(f"{round(100 * clipped)} % of the {name} lie beyond its scale")
    return tuple(words)
