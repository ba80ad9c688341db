"""Skyline before the sky: a horizon of points all around, and trees that hide more while they are
in leaf.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from pinhole.ranges import Array, ArrayLike, Numbers, checked


@dataclass(frozen=True)
class Skyline:
    """points: (azimuth_deg, altitude_deg) in any order, straight between, across 360/0, one point
    means level, none means 0. leaf_points: the same with the leaves on, from leaf_first to
    leaf_last, both (month, day) included, which may run over the turn of the year; no leaf_points
    means no leaves.
    """

    points: Sequence[tuple[float, float]] = ()
    leaf_points: Sequence[tuple[float, float]] = ()
    leaf_first: tuple[int, int] = (5, 1)
    leaf_last: tuple[int, int] = (10, 15)

    def altitude_deg(self, azimuth_deg: ArrayLike, leafy: bool = False) -> Numbers:
        """Height of the skyline in a direction [any azimuth], any shape; leafy: the higher of bare
        and leaves.
        """
        bare = _around(self.points, azimuth_deg)
        return (
            np.maximum(bare, _around(self.leaf_points, azimuth_deg))
            if leafy and self.leaf_points
            else bare
        )

    def leafy(self, days: Array) -> Array:
        """True for datetime64[D] days, shape (n,), with the leaves on."""
        if not self.leaf_points:
            return np.zeros(len(days), bool)
        months = days.astype("datetime64[M]")
        month = months.astype(int) % 12 + 1
        of_month = (days - months.astype("datetime64[D]")).astype(int) + 1
        place = month * 32 + of_month
        first, last = (m * 32 + d for m, d in (self.leaf_first, self.leaf_last))
        return (
            (place >= first) & (place <= last)
            if first <= last
            else (place >= first) | (place <= last)
        )


# When trees are in leaf, (month, day) to (month, day), by the side of the equator (common practice,
# temperate zones).
LEAFY_NORTH, LEAFY_SOUTH = ((5, 1), (10, 15)), ((11, 1), (4, 15))


def at(
    latitude_deg: float,
    points: Sequence[tuple[float, float]],
    leaf_points: Sequence[tuple[float, float]] = (),
) -> Skyline:
    """The Skyline of a place, its leaves in the summer of its own side of the equator; points as
    Skyline.
    """
    south = float(checked("latitude_deg", latitude_deg, least=-90, most=90)) < 0
    return Skyline(tuple(points), tuple(leaf_points), *(LEAFY_SOUTH if south else LEAFY_NORTH))


def _around(points: Sequence[tuple[float, float]], azimuth_deg: ArrayLike) -> Numbers:
    azimuth = np.asarray(azimuth_deg, dtype=np.float64)
    if not points:
        return np.zeros_like(azimuth)
    points_known = np.array(sorted((float(a) % 360, float(h)) for a, h in points))
    checked("each altitude of a horizon", points_known[:, 1], least=-90, most=90)
    return np.interp(azimuth, points_known[:, 0], points_known[:, 1], period=360)


def read_csv(rows: Iterable[Sequence[str]], header: bool = True) -> tuple[tuple[float, float], ...]:
    """Points from rows of (direction, height) in degrees, as text; with a header a first row of
    words is passed over.

    rows: iterable of sequences of text. Returns ((azimuth_deg, altitude_deg), ...). Raises
    ValueError that names the row for anything else, and for more than 720 points.
    """
    points = []
    for number, row in enumerate(rows, 1):
        cells = [cell.strip() for cell in row if cell.strip()]
        if not cells:
            continue
        try:
            azimuth, altitude = (float(cell.replace(",", ".")) for cell in cells)
        except ValueError as error:
            if header and number == 1:
                continue
            raise ValueError(
                f"row {number} is not a direction and a height: {' '.join(cells)[:40]}"
            ) from error
        if not -360 <= azimuth <= 360 or not -90 <= altitude <= 90:
            raise ValueError(
                f"row {number}: directions lie within 360 degrees, heights between -90 and 90"
            )
        points.append((azimuth % 360, altitude))
        if len(points) > 720:
            raise ValueError("more than 720 points: every half degree is enough")
    return tuple(points)
