"""A pinhole measured in a picture, and its edge corrected by hand."""

from dataclasses import dataclass

import numpy as np

from chimney.kit.hole import figures, files
from chimney.kit.models import LEAST_N, MOST_N
from chimney.parts import svg
from chimney.parts.scales import number
from pinhole import imaging, optics

# Handles on the edge of a found hole, for correcting it by hand.
GRIPS = 10


@dataclass(frozen=True)
class MeasuredHole:
    """A measured hole, its picture, its edge over it, and what OutlineForm needs to correct that
    edge.
    """

    hole: object
    picture: svg.Drawing | None
    edge: svg.Drawing
    points: list
    mm_per_px: float
    live: bool = False

    @property
    def burr(self):
        return getattr(self.hole, "burr", False)

    @property
    def beside(self):
        """Widths in words of smaller holes beside it."""
        return ", ".join(f"{number(mm, 2)} mm" for mm in getattr(self.hole, "beside_mm", ()))

    @property
    def typed(self):
        """The state of OutlineForm."""
        points = " ".join(f"{x:.2f},{y:.2f}" for x, y in self.points)
        return {
            "points": points,
            "mm_per_px": f"{self.mm_per_px:.8g}",
            "wide_px": f"{self.edge.width:g}",
            "high_px": f"{self.edge.height:g}",
        }

    @property
    def handles(self):
        grips = [
            svg.Handle(
                str(n),
                float(x),
                float(y),
                f"Edge point {n + 1}",
                (svg.circle(0, 0, 11, "grip"),),
                step=1.0,
                value=f"{x * self.mm_per_px:.3f} mm across, {y * self.mm_per_px:.3f} down",
            )
            for n, (x, y) in enumerate(self.points)
        ]
        return svg.handles(self.edge, "outline", grips, live=self.live)


def measure(greys, mm_per_px):
    """The MeasuredHole in a picture: the hole enlarged, its edge on a sheet of its own over it,
    with the scale of the enlargement.

    greys: uint8, shape (height, width); mm_per_px above 0. Raises ValueError in words where there
    is no hole.
    """
    spot = imaging.measure(greys, mm_per_px)
    address, edge, (width, height) = files.crop(greys, spot.outline)
    enlarged = np.ptp(edge[:, 0]) / np.ptp(spot.outline[:, 0])
    return MeasuredHole(
        hole=spot,
        picture=figures.picture(address, width, height),
        edge=figures.edge(spot, edge, width, height),
        points=[tuple(map(float, edge[n * len(edge) // GRIPS])) for n in range(GRIPS)],
        mm_per_px=mm_per_px / enlarged,
    )


def no_pinhole(camera, diameter_mm):
    """Reason why this camera can have no hole of that width, or nothing."""
    n = optics.f_number(camera.depth_mm, diameter_mm)
    if camera.is_lens or LEAST_N <= n <= MOST_N:
        return ""
    limit = f"less than f/{LEAST_N}" if n < LEAST_N else f"more than f/{MOST_N}"
    return f"{number(diameter_mm)} mm would make {camera} f/{number(n)}, {limit}: no pinhole."


def correct(points, mm_per_px, wide_px, high_px):
    """The MeasuredHole whose edge goes through points: [(x, y)] on a picture of that size.

    Raises ValueError in words where they make no hole.
    """
    hole = imaging.from_points(points, mm_per_px)
    edge = figures.edge(hole, hole.outline, wide_px, high_px)
    return MeasuredHole(hole, None, edge, points, mm_per_px, live=True)
