"""The room in section: what stands outside, the hole in the window, the picture on the wall."""

from math import radians, tan

from chimney.parts import svg
from chimney.parts.scales import number

ROOM_WIDTH, ROOM_HEIGHT = 420.0, 208.0
WINDOW_X, WALL_X, AXIS_Y = 150.0, 400.0, 92.0
# What is drawn of the scene, up and down from the axis.
SEEN_DEG = 26.0
SCENE_X = 40.0


def room(throw_m, hole_mm, picture, lens_m=None):
    """A Drawing of the room from the side, its length and the picture's height in proportion."""
    px_per_m = (WALL_X - WINDOW_X) / throw_m
    half = min((WALL_X - WINDOW_X) * tan(radians(SEEN_DEG)), 80.0)
    scene = half * (WINDOW_X - SCENE_X) / (WALL_X - WINDOW_X)
    shapes = [
        svg.line(WINDOW_X, 6.0, WINDOW_X, AXIS_Y - 3, "wall"),
        svg.line(WINDOW_X, AXIS_Y + 3, WINDOW_X, 178.0, "wall"),
        svg.line(WINDOW_X, 6.0, WALL_X, 6.0, "wall"),
        svg.line(WALL_X, 6.0, WALL_X, 178.0, "wall"),
        svg.line(WINDOW_X, 178.0, WALL_X, 178.0, "wall"),
        svg.polygon([(WINDOW_X, AXIS_Y), (WALL_X, AXIS_Y - half), (WALL_X, AXIS_Y + half)], "cone"),
        svg.line(SCENE_X, AXIS_Y - scene, WALL_X, AXIS_Y + half, "ray"),
        svg.line(SCENE_X, AXIS_Y + scene, WALL_X, AXIS_Y - half, "ray"),
        *_tree(SCENE_X, AXIS_Y, scene),
        *_tree(WALL_X - 24, AXIS_Y, -half),
        svg.line(WINDOW_X, 186.0, WALL_X, 186.0, "measure"),
        svg.text((WINDOW_X + WALL_X) / 2, 198.0, f"{number(throw_m)} m", "label", "middle"),
        svg.text(WINDOW_X - 8, 176.0, f"hole {number(hole_mm)} mm", "label", "end"),
    ]
    label = (
        f"a hole of {number(hole_mm)} mm, {number(throw_m)} m from the wall; the picture stands on "
        f"its head, and sixty degrees of the scene are {number(picture.width_mm / 1000)} m wide"
    )
    if lens_m and lens_m < throw_m:
        x = WINDOW_X + lens_m * px_per_m
        shapes += [
            svg.line(x, 16.0, x, 168.0, "box-line"),
            svg.text(x + 4, 24.0, f"screen at {number(lens_m)} m", "label"),
        ]
        label += f"; with the lens a screen hangs at {number(lens_m)} m"
    return svg.Drawing(
        "The room from the side", label, ROOM_WIDTH, ROOM_HEIGHT, tuple(shapes), "room"
    )


def _tree(x, axis_y, half):
    """A tree as high as the scene; hanging where half is negative."""
    foot, crown = axis_y + half, axis_y + 0.2 * half
    leaves = [
        (x - 0.28 * abs(half), axis_y + 0.2 * half),
        (x, axis_y - half),
        (x + 0.28 * abs(half), axis_y + 0.2 * half),
    ]
    yield svg.polygon(leaves, "tree-top")
    yield svg.line(x, foot, x, crown, "trunk")
