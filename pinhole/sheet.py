"""A sheet of paper as it comes out: scene light through a hole onto paper, with what goes wrong.

    scene --hole's blur, fall-off--> exposure H [stops from right] --the paper's curve--> density

A scene is an array of luminance, 1 where it was metered. It is laid on the paper as a scan turned
upright shows it: mirrored.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import log

import numpy as np

from pinhole import media
from pinhole.densitometry import SheetReading, coded, density, linear
from pinhole.faults import FAULTS, NO_LIGHT, blurred
from pinhole.ranges import Array, ArrayLike, Numbers, checked

# Where the metered middle of a scene falls on the scale of a sheet that came out right, as a share
# of it (common practice: a little under the middle of a negative, whose skies are dark).
MIDDLE_OF_SCALE = 0.42
# Shadows of ISO range begin this much over base, and end at this share of the scale.
TOE, SHOULDER = 0.04, 0.90
# What lies nearer to an end of the scale than this tells no exposure.
FLAT = 0.02
# Grain of a paper as a scanner sees it, in densities.
GRAIN = 0.008
# A sheet with less between its lightest and darkest is blank, whatever else.
LEAST_SCALE_SHARE = 0.12
# Of the scale, where no light should have come: fogged beyond reading (common practice).
FOGGED = 0.12


@dataclass(frozen=True)
class ToneCurve:
    """Curve by which a paper turns light into density: dmin, dmax; range_stops: from TOE over base
    to SHOULDER of its scale, the sense of an ISO range. Raises ValueError outside.
    """

    dmin: float = 0.06
    dmax: float = 1.95
    range_stops: float = 5.0

    def __post_init__(self) -> None:
        checked("dmin", self.dmin, least=0)
        checked("dmax", self.dmax, above=self.dmin + 0.2, most=3)
        checked("range_stops", self.range_stops, least=0.5, most=20)

    @property
    def steepness(self) -> float:
        """Of the logistic, in shares a stop. Source: definition of the range."""
        toe = TOE / (self.dmax - self.dmin)
        return (_logit(SHOULDER) - _logit(toe)) / self.range_stops

    def share(self, stops: Numbers) -> Numbers:
        """The share of the scale that so much light, in stops from right, makes of a negative."""
        return 1 / (
            1 + np.exp(-(self.steepness * np.asarray(stops, float) + _logit(MIDDLE_OF_SCALE)))
        )

    def density(self, stops: Numbers, medium: str = "negative") -> Numbers:
        """The density of that light; a positive's falls where a negative's grows."""
        share = self.share(stops)
        share = 1 - share if media.medium(medium).is_positive else share
        return self.dmin + (self.dmax - self.dmin) * share

    def stops(self, densities: Array, medium: str = "negative") -> Array:
        """The light that made a density [stops from right]; held within FLAT of both ends."""
        share = (np.asarray(densities, float) - self.dmin) / (self.dmax - self.dmin)
        share = 1 - share if media.medium(medium).is_positive else share
        share = np.clip(share, FLAT, 1 - FLAT)
        return (_logit(share) - _logit(MIDDLE_OF_SCALE)) / self.steepness


def _logit(share: Numbers) -> Numbers:
    return np.log(share / (1 - share)) if np.ndim(share) else log(share / (1 - share))


def simulate(
    scene: Array,
    stops: float,
    curve: ToneCurve,
    *,
    medium: str = "negative",
    blur_px: float = 0.0,
    fall_off: ArrayLike | None = None,
    faults: Sequence[str] = (),
    rim: float = 0.03,
    seed: int = 0,
) -> Array:
    """Densities of a sheet, as an upright scan of its emulsion shows it, shape of the scene.

    scene: luminance over that which was metered, (height, width), above 0; stops: light given over
    what was right [stops]; curve: ToneCurve; medium as verdicts; blur_px [at least 0]: of the hole;
    fall_off: stops less at each place, or None; faults: codes of FAULTS; rim as
    densitometry.read_sheet; seed: the same gives the same picture. Raises ValueError outside.
    Source: light adds and falls on the curve; what faults look like is common practice.
    """
    scene = checked("scene", scene, above=0)
    blur = float(checked("blur_px", blur_px, least=0))
    wrong = set(faults) - set(FAULTS)
    if wrong:
        raise ValueError(f"{min(wrong)} is none of {', '.join(FAULTS)}")
    chance, marked_by = np.random.default_rng(seed), [FAULTS[code] for code in faults]
    light = scene[:, ::-1]
    for fault in marked_by:
        light = fault.in_camera(light, chance) if fault.in_camera else light
    light = blurred(light, blur)
    if fall_off is not None:
        light = light * 2.0 ** -np.asarray(fall_off)
    light = 2.0 ** float(stops) * light
    for fault in marked_by:
        light = fault.past_hole(light, chance) if fault.past_hole else light
    stray = max((fault.stray_light for fault in marked_by), default=0.0)
    light = np.where(_covered(scene.shape, rim), NO_LIGHT, light) + stray
    density = curve.density(np.log2(np.maximum(light, NO_LIGHT)), medium)
    for fault in marked_by:
        if fault.in_dark:
            share = (density - curve.dmin) / (curve.dmax - curve.dmin)
            density = curve.dmin + (curve.dmax - curve.dmin) * fault.in_dark(share, chance)
    return np.clip(density + chance.normal(0, GRAIN, density.shape), 0, 3)


def _covered(shape: tuple[int, int], rim: float) -> Array:
    """Part of the sheet that the rails keep from the light."""
    deep = round(float(checked("rim", rim, least=0, most=0.2)) * min(shape))
    covered = np.ones(shape, bool)
    covered[deep : shape[0] - deep or None, deep : shape[1] - deep or None] = False
    return covered


def scanned(densities: Array, bits: int = 8) -> Array:
    """The codes that a scanner writes for densities, uint8 or uint16. Source: IEC 61966-2-1."""
    codes = coded(10.0 ** -np.clip(densities, 0, 3), bits)
    return np.asarray(codes).astype(np.uint8 if bits == 8 else np.uint16)


@dataclass(frozen=True)
class Judgement:
    """Judgement of an exposure by a reading: stops_more: light it needed over what it got;
    sd_stops: how sure; cannot: why nothing can be said, empty where something can; reasons: in
    words.
    """

    stops_more: float
    sd_stops: float
    cannot: str
    reasons: tuple[str, ...]


def judge(reading: SheetReading, curve: ToneCurve, medium: str = "negative") -> Judgement:
    """The Judgement of a SheetReading on that paper.

    Source: the light that made its low, middle and high tones, by the curve; right is where the
    middle of a scene was metered. Scenes differ: half a stop is never surer than a third.
    """
    if not isinstance(reading, SheetReading):
        raise ValueError("reading must be a SheetReading")
    scale = curve.dmax - curve.dmin
    marks = np.array([reading.low, reading.middle, reading.high])
    shares = (marks - curve.dmin) / scale
    is_positive = media.medium(medium).is_positive
    shares = 1 - shares if is_positive else shares
    flat = (shares < FLAT) | (shares > 1 - FLAT)
    covered = curve.dmax - reading.base if is_positive else reading.base - curve.dmin
    fogged = covered > FOGGED * scale
    cannot = _cannot(reading, flat, fogged)
    light = curve.stops(marks, medium)
    middle = float(0.25 * light[0] + 0.5 * light[1] + 0.25 * light[2])
    sd = 0.33 + 0.5 * float(flat.sum())
    return Judgement(-middle, sd, cannot, tuple(_reasons(shares, reading, curve)))


def _cannot(reading: SheetReading, flat: Array, fogged: bool) -> str:
    if reading.contrast < LEAST_SCALE_SHARE:
        return "there is no picture on it"
    if fogged:
        return "it is fogged: what no light should have reached is dark"
    if flat[1] and flat.sum() >= 2:
        return "most of it lies at an end of the paper's scale"
    return ""


def _reasons(shares: Array, reading: SheetReading, curve: ToneCurve) -> Iterator[str]:
    """Reasons that were seen, in the order of weight."""
    names = ("a tenth of the scene", "its middle", "its brightest tenth")
    for name, share in zip(names, sorted(shares), strict=True):
        yield f"{name} lies at {round(100 * share)} % of the paper's scale"
    if reading.uneven > 0.15 * (curve.dmax - curve.dmin):
        yield "its halves differ: uneven development, or fall-off"


def as_it_would_look(
    densities: Array, stops: Numbers, curve: ToneCurve, medium: str = "negative"
) -> Array:
    """The densities of the same sheet with so much more light: a rung of a ladder, or a sheet put
    right for the fall-off of its camera.

    densities: array; stops [-10 to 10], for all or one for each place. Raises ValueError outside.
    Source: back through the curve, more light, and forward.
    """
    stops_more = checked("stops", stops, least=-10, most=10)
    return curve.density(curve.stops(densities, medium) + stops_more, medium)


def densities_of(codes: Array, bits: int = 8, wedge: None = None) -> Array:
    """Densities of scanned codes, by a densitometry.Wedge if there is one, else by the standard
    transfer function.
    """
    if wedge is not None:
        return np.asarray(wedge.density(np.asarray(codes, float)))

    return np.asarray(density(linear(codes, bits)))
