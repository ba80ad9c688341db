"""What a camera's measures amount to: drawings and facts, for the shelf and while they are being typed."""

from dataclasses import dataclass
from math import log2

import numpy as np

from chimney.kit import figures
from chimney.parts.scales import number, size_of_stops
from chimney.parts.svg import Drawing

# A hole measured a tenth too small or too large.
TENTH = 1.1


@dataclass(frozen=True)
class Study:
    """camera: kept or not; drawings and sentences computed from it."""

    camera: object
    above: Drawing
    side: Drawing
    fall_off: Drawing
    blur: Drawing
    tenth: str
    cut_off: str


def study(camera):
    """The Study of a Camera whose paper can lie in it."""
    return Study(
        camera=camera,
        above=figures.section(camera),
        side=figures.side(camera),
        fall_off=figures.fall_off(camera),
        blur=figures.blur(camera),
        tenth=f"A hole 10 % off costs {size_of_stops(2 * log2(TENTH))} ({number(2 * log2(TENTH), 2)}).",
        cut_off=_cut_off(camera),
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
        f"{cause[0].upper()}{cause[1:]} ends the field at {number(ends)}°; the paper's corners need {number(needed)}°"
    )
    return f"{told}: nothing is cut." if ends >= needed else f"{told}: they stay dark."
