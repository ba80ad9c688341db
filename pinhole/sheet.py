"""A sheet of paper as it comes out: scene light through a hole onto paper, with what goes wrong.

    scene --hole's blur, fall-off--> exposure H [stops from right] --the paper's curve--> density

A scene is an array of luminance, 1 where it was metered. It is laid on the paper as a scan turned
upright shows it: mirrored.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from pinhole.densitometry import coded, density, linear
from pinhole.faults import FAULTS, NO_LIGHT, blurred
from pinhole.ranges import Array, ArrayLike, Numbers, checked
from pinhole.scans.candidates import Known
from pinhole.scans.knowing import know
from pinhole.scans.reading import Judgement, judge_tones, read_scan
from pinhole.tones import ToneCurve

__all__ = [
    "Judgement",
    "Known",
    "ToneCurve",
    "as_it_would_look",
    "densities_of",
    "judge_tones",
    "know",
    "read_scan",
    "scanned",
    "simulate",
]

# Grain of a paper as a scanner sees it, in densities.
GRAIN = 0.008


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
