"""Skyline before the sky: a horizon of points all around, trees that hide more while they are in
leaf, and what hangs over it.
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
    means no leaves. upper_points: heights from which on eaves, lintels and branches hide the sky;
    none, and 90, mean that nothing does.
    """

    points: Sequence[tuple[float, float]] = ()
    leaf_points: Sequence[tuple[float, float]] = ()
    leaf_first: tuple[int, int] = (5, 1)
    leaf_last: tuple[int, int] = (10, 15)
    upper_points: Sequence[tuple[float, float]] = ()

    def ceiling_deg(self, azimuth_deg: ArrayLike) -> Numbers:
        """Height of what hangs over it in a direction [any azimuth], any shape; 90 for nothing."""
        return _around(self.upper_points or [(0.0, ZENITH_DEG)], azimuth_deg)

    def hides(self, azimuth_deg: ArrayLike, altitude_deg: ArrayLike, leafy: bool = False) -> Array:
        """True for directions [any azimuth, -90 to 90], any shape, that lie on it or behind it, or
        behind what hangs over it; leafy as altitude_deg.
        """
        altitude = np.asarray(altitude_deg, dtype=np.float64)
        hidden = altitude <= self.altitude_deg(azimuth_deg, leafy)
        if self.upper_points:
            ceiling = self.ceiling_deg(azimuth_deg)
            hidden = hidden | ((altitude >= ceiling) & (ceiling < ZENITH_DEG))
        return np.asarray(hidden)

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


# Nothing hides what stands there; a window's frame is drawn by so many points, and its sides are so
# wide [degrees].
ZENITH_DEG, WINDOW_POINTS, JAMB_DEG = 90.0, 9, 0.2
# When trees are in leaf, (month, day) to (month, day), by the side of the equator (common practice,
# temperate zones).
LEAFY_NORTH, LEAFY_SOUTH = ((5, 1), (10, 15)), ((11, 1), (4, 15))


def at(
    latitude_deg: float,
    points: Sequence[tuple[float, float]],
    leaf_points: Sequence[tuple[float, float]] = (),
    upper_points: Sequence[tuple[float, float]] = (),
) -> Skyline:
    """The Skyline of a place, its leaves in the summer of its own side of the equator; points as
    Skyline.
    """
    south = float(checked("latitude_deg", latitude_deg, least=-90, most=90)) < 0
    leafy = LEAFY_SOUTH if south else LEAFY_NORTH
    return Skyline(tuple(points), tuple(leaf_points), *leafy, tuple(upper_points))


def window(
    facing_deg: float,
    width_mm: float,
    height_mm: float,
    sill_mm: float,
    *,
    wall_mm: float,
    behind_mm: float,
) -> tuple[tuple[tuple[float, float], ...], tuple[tuple[float, float], ...]]:
    """(points, upper_points) of the sky that a hole sees through the frame of a window.

    facing_deg [any]: the wall's direction; width_mm, height_mm [mm, above 0]; sill_mm [mm]: how far
    it lies above the hole, below it if negative; wall_mm [mm, at least 0]: how deep the frame is;
    behind_mm [mm, above 0]: of the hole behind its inner edge, in the middle. Raises ValueError
    outside. Source: straight rays through two rectangles.
    """
    facing = float(checked("facing_deg", facing_deg)) % 360
    half = float(checked("width_mm", width_mm, above=0)) / 2
    high = float(checked("height_mm", height_mm, above=0))
    sill = float(checked("sill_mm", sill_mm))
    inner = float(checked("behind_mm", behind_mm, above=0))
    depths = np.array([inner, inner + float(checked("wall_mm", wall_mm, least=0))])
    edge = float(np.degrees(np.arctan2(half, depths[1])))
    aside = np.linspace(-edge, edge, WINDOW_POINTS)
    near = np.cos(np.radians(aside))[:, None] / depths
    low = np.degrees(np.arctan(sill * near)).max(axis=1)
    top = np.degrees(np.arctan((sill + high) * near)).min(axis=1)
    walls = np.array([-edge - JAMB_DEG, edge + JAMB_DEG])
    azimuths = np.round((facing + np.concatenate([walls[:1], aside, walls[1:]])) % 360, 1).tolist()
    lower = [ZENITH_DEG, *np.round(low, 2).tolist(), ZENITH_DEG]
    upper = [ZENITH_DEG, *np.round(top, 2).tolist(), ZENITH_DEG]
    return tuple(zip(azimuths, lower, strict=True)), tuple(zip(azimuths, upper, strict=True))


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
