"""What a camera's measures amount to: drawings and facts, for the shelf and while they are being
typed.
"""

from dataclasses import dataclass
from math import log2

import numpy as np

from chimney.kit import figures
from chimney.parts.scales import number, size_of_stops
from chimney.parts.svg import Drawing
from pinhole import optics

# Meters end at one of these f-numbers (common practice).
METER_ENDS = (128, 90, 64, 45, 32, 22)
# A hole measured a tenth too small or too large.
TENTH = 1.1


@dataclass(frozen=True)
class Study:
    """camera: kept or not; drawings and sentences computed from it."""

    camera: object
    above: Drawing
    side: Drawing
    fall_off: Drawing
    blur: Drawing | None
    rules: list
    factors: list
    tenth: str
    cut_off: str


def study(camera):
    """The Study of a Camera whose paper can lie in it."""
    return Study(
        camera=camera,
        above=figures.section(camera),
        side=figures.side(camera),
        fall_off=figures.fall_off(camera),
        blur=None if camera.is_lens else figures.blur(camera),
        rules=[] if camera.is_lens else _rules(camera),
        factors=[(end, optics.meter_factor(camera.f_number, end)) for end in METER_ENDS],
        tenth=_bellows(camera) if camera.is_lens else _tenth(),
        cut_off=_cut_off(camera),
    )


def _rules(camera):
    """(name, best hole, its blur, its lines per mm, where the rule is from) of each rule, the hole
    in use first.
    """
    holes = [("in use", camera.diameter_mm, "as measured")]
    holes += [
        (name, optics.best_diameter_mm(camera.focal_mm, constant=constant), source)
        for name, constant, source in optics.BEST_RULES
    ]
    blurs = [optics.blur_mm(camera.focal_mm, hole_mm) for _, hole_mm, _ in holes]
    return [
        (name, hole, blur, 1 / blur, source)
        for (name, hole, source), blur in zip(holes, blurs, strict=True)
    ]


def _tenth():
    stops = 2 * log2(TENTH)
    return f"A hole 10 % off costs {size_of_stops(stops)} ({number(stops, 2)})."


def _bellows(camera):
    factor = number((camera.depth_mm / camera.focal_mm) ** 2)
    return (
        f"Marked f/{number(camera.marked_f_number)}; the bellows factor is {factor}, in the "
        "f-number already."
    )


def _cut_off(camera):
    """Where plate or opening end the field, against what the paper's corners need."""
    limit = camera.cut_off_deg
    if limit is None:
        return ""
    right, up = np.radians(camera.geometry.outline())
    needed = 2 * np.degrees(np.arccos(np.cos(right) * np.cos(up))).max()
    ends, cause = limit
    told = (
        f"{cause[0].upper()}{cause[1:]} ends the field at {number(ends)}°; the paper's "
        f"corners need {number(needed)}°"
    )
    return f"{told}: nothing is cut." if ends >= needed else f"{told}: they stay dark."
