"""Drawings of a can as it is left: where it looks, and how it leans on its wedge."""

from math import cos, radians, sin

from chimney.parts import svg
from chimney.parts.scales import number

STAND_HIGH = 172.0
COMPASS_RADIUS = 62.0
NOON_RAY = 74.0
WIDEST_SEEN_DEG = 300.0
COMPASS_LETTERS = ((0, "N"), (90, "E"), (180, "S"), (270, "W"))
# The can from the side [px]: its back foot, its ground, its size.
FOOT_X, GROUND_Y, CAN_WIDE, CAN_HIGH = 148.0, 158.0, 62.0, 88.0
STAND_WIDE = 224.0


def compass(looks_deg, across_deg):
    """A Drawing of the compass from above, true north up, with what the can sees of it."""
    middle = STAND_HIGH / 2
    half = min(across_deg, WIDEST_SEEN_DEG) / 2
    seen = [_on_compass(looks_deg - half + n * half / 12, COMPASS_RADIUS) for n in range(25)]
    needle = [_on_compass(looks_deg, COMPASS_RADIUS - 6)]
    needle += [_on_compass(looks_deg + off, COMPASS_RADIUS - 24) for off in (-12, 12)]
    shapes = [
        svg.circle(middle, middle, COMPASS_RADIUS, "dot"),
        svg.polygon([(middle, middle), *seen], "cone"),
        *(_tick(30 * n) for n in range(12)),
        svg.line(middle, middle, *_on_compass(looks_deg, COMPASS_RADIUS - 20), "wall"),
        svg.polygon(needle, "here"),
    ]
    for degrees, letter in COMPASS_LETTERS:
        x, y = _on_compass(degrees, COMPASS_RADIUS + 14)
        shapes.append(svg.text(x, y + 5, letter, "strong", "middle"))
    words = f"the can looks {looks_deg:.0f} degrees from true north"
    return svg.Drawing("Compass", words, STAND_HIGH, STAND_HIGH, tuple(shapes), "compass")


def _on_compass(degrees, radius):
    turn = radians(degrees)
    return STAND_HIGH / 2 + radius * sin(turn), STAND_HIGH / 2 - radius * cos(turn)


def _tick(degrees):
    return svg.line(
        *_on_compass(degrees, COMPASS_RADIUS - 6), *_on_compass(degrees, COMPASS_RADIUS), "measure"
    )


def leaning(tilt_deg, wedge_mm, suns):
    """A Drawing of the can from the side on its wedge, looking left.

    wedge_mm: height of the wedge, None where none holds it; suns: [(words, altitude in degrees)] of
    noons that it may see.
    """
    size = f"{number(wedge_mm, 2)} mm" if wedge_mm else ""
    front, back = _on_can(tilt_deg, CAN_WIDE, 0), _on_can(tilt_deg, 0, 0)
    shapes = [svg.rect(40.0, GROUND_Y, 124.0, 10.0, "ground")]
    if wedge_mm:
        raised = front if tilt_deg > 0 else back
        shapes.append(svg.polygon([front, back, (raised[0], GROUND_Y)], "shot-wrong"))
        shapes.append(svg.text(front[0] - 8, GROUND_Y - 6, size, "here-label", "end"))
    shapes += [shape for sun in suns for shape in _noon(tilt_deg, *sun)]
    shapes += _can(tilt_deg)
    words = "it stands level"
    if wedge_mm:
        way = "back" if tilt_deg > 0 else "forward"
        words = f"it leans {way} {abs(tilt_deg):.0f} degrees on a wedge of {size}"
    heights = "".join(f"; the noon sun {label}" for label, _ in suns)
    name = "The can from the side"
    return svg.Drawing(name, words + heights, STAND_WIDE, STAND_HIGH, tuple(shapes), "leaning")


def _on_can(tilt_deg, along, up):
    """A place on the can: so far along its floor from its back foot to the front, and up its
    wall.
    """
    lean = radians(tilt_deg)
    foot_y = GROUND_Y + CAN_WIDE * min(0.0, sin(lean))
    x = FOOT_X - along * cos(lean) + up * sin(lean)
    return x, foot_y - along * sin(lean) - up * cos(lean)


def _can(tilt_deg):
    def wall(start, end, css="wall"):
        return svg.line(*_on_can(tilt_deg, *start), *_on_can(tilt_deg, *end), css)

    half = CAN_HIGH / 2
    yield wall((CAN_WIDE, 0), (CAN_WIDE, half - 3))
    yield wall((CAN_WIDE, half + 3), (CAN_WIDE, CAN_HIGH))
    yield wall((CAN_WIDE, CAN_HIGH), (0, CAN_HIGH))
    yield wall((0, CAN_HIGH), (0, 0))
    yield wall((0, 0), (CAN_WIDE, 0))
    yield wall((4, 8), (4, CAN_HIGH - 8), "paper-seen")


def _noon(tilt_deg, words, altitude_deg):
    rise, hole = radians(altitude_deg), _on_can(tilt_deg, CAN_WIDE, CAN_HIGH / 2)
    x, y = hole[0] - NOON_RAY * cos(rise), hole[1] - NOON_RAY * sin(rise)
    yield svg.line(*hole, x, y, "ray")
    yield svg.circle(x, y, 5, "shot")
    yield svg.text(max(x - 12, 2), y - 9, words, "label")
