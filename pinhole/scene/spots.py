"""Three spots of a scene to meter: its shadow, its middle, its highlight."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from pinhole.ranges import Array, checked

# Spots are this part of the shorter side across, and are looked for in so many cells a side.
SPOT_SHARE, SPOT_CELLS = 0.05, 32
# Shares of the picture that are darker than each, and how much an uneven cell counts against it
# (common practice).
PROPOSED = (0.06, 0.50, 0.96)
UNEVEN_WEIGHT = 0.5
# Light under which nobody reads a spot: a code of 1 in 255.
FLOOR_STOPS = -12.0


@dataclass(frozen=True)
class SceneSpot:
    """A spot of a scene: x, y: shares from the left and from the top; ev100."""

    x: float
    y: float
    ev100: float


def spot(ev100: Array, x: float, y: float) -> SceneSpot:
    """The SceneSpot at (x, y), shares [0 to 1] of a picture of exposure values, (h, w): the mean of
    the light in a disc of SPOT_SHARE. Raises ValueError outside.
    """
    share_x = float(checked("x", x, least=0, most=1))
    share_y = float(checked("y", y, least=0, most=1))
    high, wide = ev100.shape
    reach = max(1, round(SPOT_SHARE * min(high, wide) / 2))
    column, row = round(share_x * (wide - 1)), round(share_y * (high - 1))
    rows = slice(max(0, row - reach), row + reach + 1)
    columns = slice(max(0, column - reach), column + reach + 1)
    down = np.arange(high)[rows, None] - row
    inside = np.hypot(down, np.arange(wide)[None, columns] - column) <= reach
    light = np.exp2(ev100[rows, columns][inside])
    floor = np.nanmax(ev100) + FLOOR_STOPS
    return SceneSpot(share_x, share_y, float(max(np.log2(max(light.mean(), 1e-12)), floor)))


def proposed(ev100: Array, inside: Array | None = None) -> tuple[SceneSpot, SceneSpot, SceneSpot]:
    """(shadow, middle, highlight) of a picture of exposure values, (h, w), at least 8 by 8: of even
    parts as bright as PROPOSED of it; inside: where to look, (h, w), or None. Raises ValueError for
    fewer. Source: percentiles; which are worth metering is common practice.
    """
    picture = np.asarray(ev100, float)
    if picture.ndim != 2 or min(picture.shape) < 8:
        raise ValueError("ev100 must be a picture of at least 8 x 8")
    usable = np.isfinite(picture) if inside is None else np.isfinite(picture) & inside
    if not usable.any():
        usable = np.isfinite(picture)
    # A spot over the edge is half a spot.
    edge = max(1, round(SPOT_SHARE * min(picture.shape) / 2))
    inner = np.zeros_like(usable)
    inner[edge:-edge, edge:-edge] = True
    usable = usable & inner if (usable & inner).any() else usable
    if not usable.any():
        nothing = spot(np.zeros_like(picture), 0.5, 0.5)
        return nothing, nothing, nothing
    means, uneven, across, down = _cells(picture, usable)
    spots = []
    for level in np.quantile(picture[usable], PROPOSED):
        k = int(np.argmin(np.abs(means - level) + UNEVEN_WEIGHT * uneven))
        shares = across[k] / picture.shape[1], down[k] / picture.shape[0]
        spots.append(spot(picture, *np.clip(shares, 0, 1)))
    return spots[0], spots[1], spots[2]


def _cells(picture: Array, usable: Array) -> Array:
    """(mean, spread, across, down) of cells that are usable whole, else of one pixel, (4, n)."""
    rows, columns = (
        np.linspace(0, size, min(SPOT_CELLS, size) + 1).astype(int) for size in picture.shape
    )
    cells = []
    for top, foot in pairwise(rows.tolist()):
        for left, right in pairwise(columns.tolist()):
            cell = picture[top:foot, left:right]
            if usable[top:foot, left:right].all():
                cells.append((cell.mean(), cell.std(), (left + right) / 2, (top + foot) / 2))
    if not cells:
        places = np.argwhere(usable)
        row, column = places[len(places) // 2]
        cells = [(picture[row, column], 0.0, float(column), float(row))]
    return np.array(cells).T
