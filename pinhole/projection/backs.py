"""The backs: a plane, round or not, the wall of a can, an arc. Their frame is that of
pinhole.projection.back.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.projection.back import EDGE_MM, Back
from pinhole.ranges import Array, Numbers, checked


def _checked_field(back: Back) -> None:
    checked("half_field_deg", back.half_field_deg, above=0, most=90)
    checked("tube_half_deg", back.tube_half_deg, above=0, most=90)


@dataclass(frozen=True)
class FlatBack(Back):
    """A plane square to f. focal_mm, width_mm, height_mm [mm, above 0]. Raises ValueError
    outside.
    """

    focal_mm: float
    width_mm: float
    height_mm: float
    half_field_deg: float = 90.0
    tube_half_deg: float = 90.0

    def __post_init__(self) -> None:
        _checked_field(self)
        for name in ("focal_mm", "width_mm", "height_mm"):
            checked(name, getattr(self, name), above=0)

    @property
    def _axis_mm(self) -> float:
        return self.focal_mm

    @property
    def half_mm(self) -> tuple[float, float]:
        """Half of the paper, across and high [mm]."""
        return self.width_mm / 2, self.height_mm / 2

    def _strike(self, right: Array, up: Array, out: Array) -> tuple[Array, Array, Array, Array]:
        return self.focal_mm * right / out, -self.focal_mm * up / out, self.focal_mm / out, out

    def sight(self, x: Numbers, y: Numbers) -> tuple[Numbers, Numbers]:
        """(right, up, out) of the rays from the hole to places on the paper [mm], any shape."""
        return np.degrees(np.arctan2(x, self.focal_mm)), np.degrees(
            np.arctan2(-y, np.hypot(x, self.focal_mm))
        )

    def above(self, x: Numbers) -> tuple[Numbers, Numbers]:
        """(aside_mm, behind_mm) as of Back."""
        return x, np.full(np.shape(x), self.focal_mm)

    def along(self, aside: Numbers, behind: Numbers) -> Numbers:
        """Places [mm] as of Back."""
        return aside


@dataclass(frozen=True)
class RoundBack(FlatBack):
    """A round sheet on a plane square to f, width_mm and height_mm both its diameter. Raises
    ValueError outside.
    """

    def __post_init__(self) -> None:
        super().__post_init__()
        checked("height_mm", self.height_mm, least=self.width_mm, most=self.width_mm)

    def holds(self, x: Numbers, y: Numbers) -> Numbers:
        """True for places on the round sheet [mm]."""
        return np.hypot(x, y) <= self.width_mm / 2 + EDGE_MM

    def outline(self, points: int = 24) -> tuple[Array, Array]:
        """Outline as of Back, walked around the rim."""
        turn = np.linspace(0, 2 * np.pi, 4 * points, endpoint=False)
        return self.sight(self.width_mm / 2 * np.cos(turn), self.width_mm / 2 * np.sin(turn))


@dataclass(frozen=True)
class CanBack(Back):
    """A cylinder about u with the hole in its wall, paper along the far wall, centred opposite the
    hole.

    diameter_mm, length_mm (along the wall), height_mm [mm, above 0]; offset_mm: paper centre above
    the hole [mm].
    Raises ValueError outside, and for a paper longer than the way around.
    Source: an angle at the wall stands over twice that angle at the centre, so x = D * angle.
    """

    diameter_mm: float
    length_mm: float
    height_mm: float
    offset_mm: float = 0
    half_field_deg: float = 90.0
    tube_half_deg: float = 90.0

    def __post_init__(self) -> None:
        _checked_field(self)
        checked("diameter_mm", self.diameter_mm, above=0)
        checked("length_mm", self.length_mm, above=0, most=np.pi * self.diameter_mm)
        checked("height_mm", self.height_mm, above=0)
        checked("offset_mm", self.offset_mm)

    @property
    def _axis_mm(self) -> float:
        return self.diameter_mm

    @property
    def half_mm(self) -> tuple[float, float]:
        """Half of the paper, across and high [mm]."""
        return self.length_mm / 2, self.height_mm / 2

    def _strike(self, right: Array, up: Array, out: Array) -> tuple[Array, Array, Array, Array]:
        level = np.hypot(right, out)
        chord = self.diameter_mm * out / level
        x = self.diameter_mm * np.arctan2(right, out)
        # The chord meets the radius at the same angle as it left the hole, so both cosines are
        # alike.
        return x, -chord * up / level - self.offset_mm, chord / level, out

    def sight(self, x: Array, y: Array) -> tuple[Array, Array]:
        """(right, up, out) of the rays from the hole to places on the paper [mm], any shape."""
        angle = x / self.diameter_mm
        chord = self.diameter_mm * np.cos(angle)
        return np.degrees(angle), np.degrees(np.arctan2(-(y + self.offset_mm), chord))

    def above(self, x: Numbers) -> tuple[Numbers, Numbers]:
        """(aside_mm, behind_mm) as of Back."""
        radius = self.diameter_mm / 2
        return radius * np.sin(x / radius), radius * (1 + np.cos(x / radius))

    def along(self, aside: Numbers, behind: Numbers) -> Numbers:
        """Places [mm] as of Back."""
        radius = self.diameter_mm / 2
        return radius * np.arctan2(aside, behind - radius)


@dataclass(frozen=True)
class ArcBack(Back):
    """A cylinder about u through the hole. radius_mm, length_mm (along the arc), height_mm [mm,
    above 0].

    Raises ValueError outside, and for an arc of more than half a turn, whose ends no light could
    reach.
    """

    radius_mm: float
    length_mm: float
    height_mm: float
    half_field_deg: float = 90.0
    tube_half_deg: float = 90.0

    def __post_init__(self) -> None:
        _checked_field(self)
        checked("radius_mm", self.radius_mm, above=0)
        checked("length_mm", self.length_mm, above=0, most=np.pi * self.radius_mm)
        checked("height_mm", self.height_mm, above=0)

    @property
    def _axis_mm(self) -> float:
        return self.radius_mm

    @property
    def half_mm(self) -> tuple[float, float]:
        """Half of the paper, across and high [mm]."""
        return self.length_mm / 2, self.height_mm / 2

    def _strike(self, right: Array, up: Array, out: Array) -> tuple[Array, Array, Array, Array]:
        level = np.hypot(right, out)
        return (
            self.radius_mm * np.arctan2(right, out),
            -self.radius_mm * up / level,
            self.radius_mm / level,
            level,
        )

    def sight(self, x: Numbers, y: Numbers) -> tuple[Numbers, Numbers]:
        """(right, up, out) of the rays from the hole to places on the paper [mm], any shape."""
        return np.degrees(x / self.radius_mm), np.degrees(np.arctan2(-y, self.radius_mm))

    def above(self, x: Numbers) -> tuple[Numbers, Numbers]:
        """(aside_mm, behind_mm) as of Back."""
        turn = x / self.radius_mm
        return self.radius_mm * np.sin(turn), self.radius_mm * np.cos(turn)

    def along(self, aside: Numbers, behind: Numbers) -> Numbers:
        """Places [mm] as of Back."""
        return self.radius_mm * np.arctan2(aside, behind)
