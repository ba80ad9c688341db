"""From a direction in the sky to a place on the paper, for a flat, a can and an arc back.

Frame of a camera: f points out to the scene, r right and u up for someone who stands behind it.
Seen from above:

flat                 can                       arc
      ---+-- paper       .-''-. paper on the       .-'''-. paper about
         |              /      \\ far wall          /       \\ the hole
         | F            |  D   |                   |   R   |
      ---o-- hole       '-.o.-' hole in the wall       o

On the paper: origin at the PAPER's centre, x to the right of a viewer at the pinhole who faces the
emulsion, y toward camera-up. It is the physical image: a sun to the photographer's right and high
has x > 0 and y < 0.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass

import numpy as np

from pinhole.projection.pointing import Pointing
from pinhole.ranges import Array, Numbers, checked, plain

# An edge still belongs to the paper; this much is rounding [mm].
EDGE_MM = 1e-9
# No paper tells so little light from none [stops].
DARK_STOPS = 12.0


@dataclass(frozen=True)
class Landing:
    """Landings of rays. x_mm, y_mm: on the paper; ray_mm: from the hole; incidence_deg: against the
    paper's normal.

    illuminance: cos(angle at the hole) cos(incidence) / ray^2 over its value on the axis, less
    what the hole's own tube keeps out. Behind the camera all are nan and on_paper is False.
    """

    x_mm: Numbers
    y_mm: Numbers
    on_paper: Numbers
    ray_mm: Numbers
    incidence_deg: Numbers
    illuminance: Numbers


class Back(ABC):
    """Base of the three backs: land() asks each for its own geometry and finishes it the same
    way. half_field_deg [above 0, at most 90]: of the cone about f beyond which the hole's own tube,
    or what stands before it, lets no light in; 90 for a hole in an infinitely thin wall.
    tube_half_deg [above 0, at most 90]: of the cone at which that tube has closed, the hole seen
    through it narrowing until then; 90 likewise.
    """

    half_field_deg: float
    tube_half_deg: float

    @property
    @abstractmethod
    def _axis_mm(self) -> float:
        """From the hole to the paper along the axis [mm]."""

    @property
    @abstractmethod
    def half_mm(self) -> tuple[float, float]:
        """Half of the paper, across and high [mm]."""

    @abstractmethod
    def _strike(self, right: Array, up: Array, out: Array) -> tuple[Array, Array, Array, Array]:
        """(x_mm, y_mm, ray_mm, cosine of the incidence) of vectors in the camera's frame."""

    @abstractmethod
    def sight(self, x: Numbers, y: Numbers) -> tuple[Numbers, Numbers]:
        """(right_deg, up_deg) of the rays from the hole to places on the paper [mm], any shape."""

    @abstractmethod
    def above(self, x: Numbers) -> tuple[Numbers, Numbers]:
        """(aside_mm, behind_mm): where places along the paper's middle [mm] lie beside the axis and
        behind the hole, seen from above, any shape.
        """

    @abstractmethod
    def along(self, aside: Numbers, behind: Numbers) -> Numbers:
        """Places along the paper's middle [mm] that lie so, in its direction where none does: the
        inverse of above().
        """

    def land(self, pointing: Pointing, azimuth_deg: Numbers, altitude_deg: Numbers) -> Landing:
        """The Landing of light from sky directions.

        pointing: Pointing; azimuth_deg [any], altitude_deg [-90 to 90], broadcast. Raises
        ValueError outside.
        Source: geometry of straight rays through a point in a thin wall, and through the two rims
        of a hole with a tube.
        """
        right, up, out = pointing.seen(azimuth_deg, altitude_deg)
        ahead = out > 0
        with np.errstate(invalid="ignore", divide="ignore"):
            right, up, out = (np.where(ahead, part, np.nan) for part in (right, up, out))
            x, y, ray, cos_incidence = self._strike(right, up, out)
            on_paper = self.holds(x, y) & self._lets_in(out)
            light = out * cos_incidence * (self._axis_mm / ray) ** 2 * self._open(out)
            incidence = np.degrees(np.arccos(np.clip(cos_incidence, -1, 1)))
        flag = bool(on_paper) if np.ndim(on_paper) == 0 else on_paper
        return Landing(plain(x), plain(y), flag, plain(ray), plain(incidence), plain(light))

    def place(self, pointing: Pointing, sky: Array) -> tuple[Numbers, Numbers, Numbers]:
        """(x_mm, y_mm, on_paper) of unit vectors (east, north, up), shape (3, ...): land() without
        its light, for a year of sun. Behind the camera nan and False.
        """
        return self.meet(*pointing.turned(sky))

    def meet(self, right: Array, up: Array, out: Array) -> tuple[Numbers, Numbers, Numbers]:
        """The same of vectors in the camera's frame: along r, along u, along f, of one shape."""
        with np.errstate(invalid="ignore", divide="ignore"):
            x, y, _, _ = self._strike(right, up, np.where(out > 0, out, np.nan))
            return x, y, self.holds(x, y) & self._lets_in(out)

    def _lets_in(self, out: Numbers) -> Numbers:
        """True where light comes through the hole, by the cosine of its angle to f."""
        return out >= np.cos(np.radians(self.half_field_deg))

    def _open(self, out: Array) -> Numbers:
        """Share of the hole that is seen through its tube, by the cosine of the angle to f: two
        circles, one moved aside.
        """
        if self.tube_half_deg >= 90:
            return 1.0
        aside = np.sqrt(np.maximum(0, 1 - out**2)) / out / np.tan(np.radians(self.tube_half_deg))
        moved = np.clip(aside, 0, 1)
        return np.asarray(2 / np.pi * (np.arccos(moved) - moved * np.sqrt(1 - moved**2)))

    def holds(self, x: Numbers, y: Numbers) -> Numbers:
        """True for places on the paper [mm], any shape; whether light comes there is another
        question.
        """
        half_across, half_high = self.half_mm
        return (np.abs(x) <= half_across + EDGE_MM) & (np.abs(y) <= half_high + EDGE_MM)

    def reached(self, x_mm: Numbers, y_mm: Numbers) -> Numbers:
        """True for places on the paper [mm], any shape, that light through the hole comes to."""
        right, up = np.radians(self.sight(x_mm, y_mm))
        return self._lets_in(np.cos(right) * np.cos(up))

    def field_deg(self) -> tuple[float, float, float]:
        """(across, up, down) [degrees]: the whole angle across the middle, and what is seen above
        and below the axis.

        Source: geometry. The image stands on its head, so what is seen above lies on the lower half
        of the paper.
        """
        half_across, half_high = self.half_mm
        right, up = self.sight(
            np.array([-half_across, half_across, 0, 0]), np.array([0, 0, -half_high, half_high])
        )
        return float(right[1] - right[0]), float(up[2]), float(-up[3])

    def fall_off_stops(self, x_mm: Array, y_mm: Numbers) -> Array:
        """Stops of light that a place on the paper gets less than the axis: -log2 of the
        illuminance of land().

        x_mm, y_mm [mm], broadcast. Where the hole's own tube lets hardly anything in, DARK_STOPS.
        """
        x, y = np.broadcast_arrays(checked("x_mm", x_mm), checked("y_mm", y_mm))
        light = self.land(Pointing(0), *self.sight(x, y)).illuminance
        if self.tube_half_deg < 90:
            light = np.maximum(light, 2.0**-DARK_STOPS)
        return plain(-np.log2(light))

    def outline(self, points: int = 24) -> tuple[Array, Array]:
        """Directions in the camera's frame to the paper's edge, walked once around: (right_deg,
        up_deg), shape (4 n,).

        right_deg: angle from f toward r in the level of r and f; up_deg: above that level. points:
        n a side.
        Source: the inverse of land().
        """
        half_across, half_high = self.half_mm
        run = np.linspace(-1, 1, points, endpoint=False)
        x = half_across * np.concatenate([run, np.ones(points), -run, -np.ones(points)])
        y = half_high * np.concatenate([-np.ones(points), run, np.ones(points), -run])
        return self.sight(x, y)
