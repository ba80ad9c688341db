"""The plate enlarged, and the edge of its hole on a sheet of its own over it."""

from chimney.parts import svg
from chimney.parts.scales import number


def picture(address, width, height):
    shape = svg.Shape("image", {"href": address, "width": width, "height": height})
    return svg.Drawing("The picture", "the plate enlarged", float(width), float(height), (shape,))


def edge(hole, points, width, height):
    """hole: as it was measured; points: its edge in pixels of the enlargement."""
    label = f"mean width {number(hole.mean_mm)} mm, roundness {number(hole.roundness, 2)}"
    shape = (svg.polygon(points, "outline"),)
    size = float(width), float(height)
    return svg.Drawing("The hole and its outline", label, *size, shape, "hole-edge", "edge")
