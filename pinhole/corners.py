"""Fall-off on a sheet: how much less light its corners got than its middle, against what the camera
computes. A scene is never even, so that the doubt comes from how its places differ otherwise.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from pinhole import media
from pinhole.ranges import Array, checked
from pinhole.tones import FLAT

if TYPE_CHECKING:
    from pinhole.tones import ToneCurve


# Boxes at the corners and in the middle, and what is left out at the edges where rails and leaks
# are, as shares of the sides.
BOX, MIDDLE_SHARE, EDGE_SHARE = 0.12, 0.2, 0.08
# Of a box, how much may lie at an end of the scale.
MOST_FLAT = 0.4


@dataclass(frozen=True)
class Corners:
    """measured_stops: light in the corners over that in the middle, nan where the paper's scale
    ended; sd_stops: how sure; computed_stops: the same as the camera makes it.
    """

    measured_stops: float
    sd_stops: float
    computed_stops: float

    @property
    def more_stops(self) -> float:
        """Stops that the corners are darker than the camera makes them; nan unknown."""
        return self.computed_stops - self.measured_stops


def corners(
    densities: Array, curve: ToneCurve, fall_off: Array, medium: str = "negative"
) -> Corners:
    """The Corners of a sheet.

    densities: array (height, width), at least 24 x 24; curve: sheet.ToneCurve; fall_off:
    stops less at each place than on the axis, of the same shape; medium as verdicts. Raises
    ValueError outside. Source: the light that made the densities, by the curve; the middle of each
    box.
    """
    image = np.asarray(densities, float)
    if image.ndim != 2 or min(image.shape) < 24 or not np.isfinite(image).all():
        raise ValueError("densities must be a finite picture of at least 24 x 24")
    less = np.asarray(checked("fall_off", fall_off, least=-20, most=20))
    if less.shape != image.shape:
        raise ValueError("fall_off must have the shape of densities")
    share = (image - curve.dmin) / (curve.dmax - curve.dmin)
    share = 1 - share if media.medium(medium).is_positive else share
    light = curve.stops(image, medium)
    light = np.where((share < FLAT) | (share > 1 - FLAT), np.nan, light)
    middle, four = _boxes(light)
    computed_middle, computed = _boxes(-less)
    # Middle and corners are each one place of the scene, the corners four.
    doubt = _unevenness(light + less) * np.sqrt(1 + 1 / 4)
    return Corners(
        float(np.mean(four)) - middle, float(doubt), float(np.mean(computed)) - computed_middle
    )


def _unevenness(light: Array) -> float:
    """Difference between places of a scene, as a standard deviation of boxes all over it
    [stops].
    """
    places = np.arange(EDGE_SHARE, 1 - EDGE_SHARE - BOX, BOX)
    boxes = [_box(light, down, across, BOX) for down in places for across in places]
    values = [value for value in boxes if not np.isnan(value)]
    return float(np.std(values)) if len(values) > 2 else np.nan


def _boxes(values: Array) -> tuple[float, list[float]]:
    """(middle, [of the four corners])."""
    ends, middle_at = (EDGE_SHARE, 1 - EDGE_SHARE - BOX), (1 - MIDDLE_SHARE) / 2
    return _box(values, middle_at, middle_at, MIDDLE_SHARE), [
        _box(values, y, x, BOX) for y in ends for x in ends
    ]


def _box(values: Array, down: float, across: float, size: float) -> float:
    """The median of a box, nan where too much of it is unknown."""
    high, wide = values.shape
    top, left = int(down * high), int(across * wide)
    part = values[top : top + round(size * high), left : left + round(size * wide)]
    known = part[~np.isnan(part)]
    return float(np.median(known)) if known.size > (1 - MOST_FLAT) * part.size else np.nan
