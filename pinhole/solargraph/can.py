"""Fit of a sheet in a can: which way round, and what it will see."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, pi

from pinhole.ranges import checked

# The edges stop at least this far from the hole on either side, so that fingers and tape find room
# (common practice).
CLEAR_MM = 6.0


@dataclass(frozen=True)
class CanFit:
    """A sheet curled into a can with one side along the wall.

    length_mm, height_mm: as it lies after trimming; trim_length_mm, trim_height_mm: what comes off
    (0 if nothing); gap_mm: free wall around the hole; across_deg: field along the wall; up_deg,
    down_deg: above and below the axis.
    """

    length_mm: float
    height_mm: float
    trim_length_mm: float
    trim_height_mm: float
    gap_mm: float
    across_deg: float
    up_deg: float
    down_deg: float


def fits(
    diameter_mm: float,
    can_height_mm: float,
    sheet_mm: tuple[float, float],
    *,
    hole_up_mm: float | None = None,
) -> tuple[CanFit, ...]:
    """Both ways of putting a sheet into a can, the one that loses less paper first: (CanFit,
    CanFit).

    diameter_mm (inner), can_height_mm [mm, above 0]; sheet_mm: (a, b) [mm, above 0]; hole_up_mm:
    the hole above the can's floor [mm, half its height if None], the paper standing on the floor.
    Raises ValueError outside.
    Source: closed form: an arc L in a can of diameter D is seen over L / D radians.
    """
    diameter = float(checked("diameter_mm", diameter_mm, above=0))
    height = float(checked("can_height_mm", can_height_mm, above=0))
    sides = tuple(float(checked("sheet_mm", side, above=0)) for side in sheet_mm)
    hole_up = (
        height / 2
        if hole_up_mm is None
        else float(checked("hole_up_mm", hole_up_mm, above=0, most=height))
    )
    fits_found = [
        _fit(diameter, height, along, upright, hole_up) for along, upright in (sides, sides[::-1])
    ]
    return tuple(sorted(fits_found, key=lambda fit: -fit.length_mm * fit.height_mm))


def _fit(
    diameter: float, can_height: float, along: float, upright: float, hole_up: float
) -> CanFit:
    length, height = min(along, pi * diameter - 2 * CLEAR_MM), min(upright, can_height)
    return CanFit(
        length_mm=length,
        height_mm=height,
        trim_length_mm=along - length,
        trim_height_mm=upright - height,
        gap_mm=pi * diameter - length,
        across_deg=degrees(length / diameter),
        # The image stands on its head: paper below the hole sees upward.
        up_deg=degrees(atan2(hole_up, diameter)),
        down_deg=degrees(atan2(height - hole_up, diameter)),
    )


def tank_takes(
    tank_height_mm: float, tank_diameter_mm: float, sheet_mm: tuple[float, float]
) -> bool:
    """True if a sheet stands rolled, emulsion inward, in a tank without covering itself.

    tank_height_mm, tank_diameter_mm (inner) [mm, above 0]; sheet_mm: (a, b) [mm, above 0]. Raises
    ValueError outside.
    Source: geometry: one side within the height, the other within the way around.
    """
    height = float(checked("tank_height_mm", tank_height_mm, above=0))
    around = pi * float(checked("tank_diameter_mm", tank_diameter_mm, above=0))
    a, b = (float(checked("sheet_mm", side, above=0)) for side in sheet_mm)
    return (a <= height and b <= around) or (b <= height and a <= around)
