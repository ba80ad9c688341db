"""The outline of a camera beside its name in a choice: body, paper and what it sees."""

from chimney.kit.figures.camera import curve_of
from chimney.parts import svg

OUTLINE_WIDE, OUTLINE_HIGH, OUTLINE_ROOM = 54.0, 40.0, 4.0


def outline(camera):
    """A small Drawing of the camera from above without letters; the hole looks to the left."""
    paper = curve_of(camera)
    depth = max(camera.depth_mm, *(behind for _, behind in paper))
    half = max(abs(aside) for aside, _ in paper)
    if camera.back_kind.is_round:
        half = max(half, camera.depth_mm / 2)
    scale = min((OUTLINE_WIDE - 2 * OUTLINE_ROOM) / depth, (OUTLINE_HIGH / 2 - OUTLINE_ROOM) / half)
    left, middle = (OUTLINE_WIDE - depth * scale) / 2, OUTLINE_HIGH / 2
    seen = [(left + behind * scale, middle + aside * scale) for aside, behind in paper]
    if camera.back_kind.is_round:
        radius = camera.depth_mm * scale / 2
        body = svg.circle(left + radius, middle, radius, "box-body")
    else:
        body = svg.rect(left, middle - half * scale, depth * scale, 2 * half * scale, "box-body")
    shapes = (
        body,
        svg.polygon([(left, middle), *seen], "cone"),
        svg.polyline(seen, "paper-edge"),
    )
    return svg.Drawing("", "", OUTLINE_WIDE, OUTLINE_HIGH, shapes, "outline", role="presentation")
