"""The first camera drawn: what it sees, its light, and what comes out on the paper."""

from chimney.parts import svg
from chimney.parts.scales import number

WIDTH, HEIGHT = 690.0, 240.0
SCENE_W, SCENE_H = 150.0, 118.0
HOLE_X, MIDDLE_Y, MOST_DEEP, MOST_HIGH = 262.0, 112.0, 170.0, 176.0
SCENE_LEFT, SCENE_TOP = 4.0, MIDDLE_Y - SCENE_H / 2
PICTURE_X, PICTURE_W, PICTURE_H = 484.0, 200.0, 160.0
# Kilns, by their left edge, width, top and foot in shares of the picture.
KILNS = ((0.12, 0.24, 0.22, 0.82), (0.46, 0.19, 0.3, 0.74), (0.74, 0.13, 0.36, 0.68))
SCENE_HORIZON = 0.56
# Classes of sky, ground, lit wall, dark wall and door.
SCENE = ("sky", "scene-ground", "scene-lit", "scene-dark", "shadow")
NEGATIVE = ("tone tone-6", "tone tone-5", "tone tone-7", "tone tone-4", "tone tone-1")
POSITIVE = ("tone tone-2", "tone tone-3", "tone tone-1", "tone tone-4", "tone tone-7")


def first_time(camera, medium, *, suits=False):
    """A Drawing of the scene before the hole, the camera in section, the sheet as it comes out.

    medium: a pinhole.media.Medium: whether the sheet is a negative; suits: whether its hole is the
    one that suits the depth.
    """
    across, up, down = camera.geometry.field_deg()
    sees = f"{across:.0f}° across, {up + down:.0f}° high"
    deep, eye = f"{number(camera.depth_mm)} mm", _eye(camera, suits=suits)
    scale = min(MOST_DEEP / camera.depth_mm, MOST_HIGH / camera.visible_height_mm)
    back_x, half = HOLE_X + camera.depth_mm * scale, camera.visible_height_mm * scale / 2
    paper = (back_x, MIDDLE_Y - half), (back_x, MIDDLE_Y + half)
    sheet_top = MIDDLE_Y - PICTURE_H / 2
    tones = NEGATIVE if medium.darkening_sense > 0 else POSITIVE
    shapes = [
        *_picture(SCENE_LEFT, SCENE_TOP, SCENE_W, SCENE_H, SCENE),
        svg.rect(SCENE_LEFT, SCENE_TOP, SCENE_W, SCENE_H, "frame"),
        *_light(paper),
        *_box(back_x, MIDDLE_Y - half, MIDDLE_Y + half),
        *_picture(PICTURE_X, sheet_top, PICTURE_W, PICTURE_H, tones, turned=True),
        svg.rect(PICTURE_X, sheet_top, PICTURE_W, PICTURE_H, "frame"),
        svg.text(SCENE_LEFT, SCENE_TOP - 10, sees, "label"),
        svg.line(HOLE_X - 2, MIDDLE_Y + 5, HOLE_X - 16, HEIGHT - 38, "grid"),
        svg.text(HOLE_X - 12, HEIGHT - 24, eye, "here-label", "end"),
        svg.line(HOLE_X, HEIGHT - 24, back_x, HEIGHT - 24, "measure"),
        svg.text((HOLE_X + back_x) / 2, HEIGHT - 6, deep, "label", "middle"),
        svg.text(WIDTH - 4, HEIGHT - 6, f"{camera.size}, {_noun(medium)}", "label", "end"),
    ]
    words = f"{deep} deep, {eye}; sees {sees}; {_noun(medium)}, upside down"
    return svg.Drawing("The camera", words, WIDTH, HEIGHT, tuple(shapes), "first-camera")


def _eye(camera, *, suits):
    """Words for its lens or its hole."""
    if camera.is_lens:
        return f"f/{number(camera.marked_f_number)}"
    hole = f"{number(camera.diameter_mm)} mm"
    return f"{hole} suits {number(camera.depth_mm)} mm" if suits else f"{hole} hole"


def _light(paper):
    """Light that the scene sends through the hole, to the ends of the paper."""
    top, foot = (SCENE_LEFT + SCENE_W, SCENE_TOP), (SCENE_LEFT + SCENE_W, SCENE_TOP + SCENE_H)
    hole = HOLE_X, MIDDLE_Y
    yield svg.polygon([top, hole, foot], "cone")
    yield svg.polygon([hole, *paper], "cone")
    yield svg.line(*top, *hole, "ray")
    yield svg.line(*hole, *paper[1], "ray")
    yield svg.line(*foot, *hole, "ray")
    yield svg.line(*hole, *paper[0], "ray")
    yield svg.line(*paper[0], *paper[1], "paper-seen")


def _noun(medium):
    return "a negative" if medium.darkening_sense > 0 else "a positive"


def _box(back_x, top, foot):
    left, right, high, low = HOLE_X, back_x + 6, top - 8, foot + 8
    return (
        svg.line(left, high, left, MIDDLE_Y - 3, "wall"),
        svg.line(left, MIDDLE_Y + 3, left, low, "wall"),
        svg.line(left, high, right, high, "wall"),
        svg.line(left, low, right, low, "wall"),
        svg.line(right, high, right, low, "wall"),
    )


def _picture(x, y, wide, high, tones, *, turned=False):
    """Sky, ground and kilns in a frame, upside down and mirrored where it was turned."""
    sky, ground, lit, dark, door = tones

    def box(left, top, right, foot, css):
        if turned:
            left, right, top, foot = 1 - right, 1 - left, 1 - foot, 1 - top
        return svg.rect(
            x + left * wide, y + top * high, (right - left) * wide, (foot - top) * high, css
        )

    yield box(0, 0, 1, SCENE_HORIZON, sky)
    yield box(0, SCENE_HORIZON, 1, 1, ground)
    for left, broad, top, foot in KILNS:
        yield box(left, top, left + 0.62 * broad, foot, lit)
        yield box(left + 0.62 * broad, top, left + broad, foot, dark)
        yield box(left + 0.22 * broad, foot - 0.18, left + 0.46 * broad, foot, door)
