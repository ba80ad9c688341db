"""What is printed for a camera, in millimetres: the label that goes on it and the dots that
aim it.
"""

from math import radians, tan

from django.utils import timezone

from chimney.kit.page import METER_ENDS
from chimney.parts import clock, svg
from chimney.parts.scales import number
from pinhole import optics

LABEL_W, LABEL_H = 100.0, 58.0
RULER_MM = 100.0
# The longest body that a template on A4 has room for; shorter dots aim just as well.
TEMPLATE_MM, HALF_WIDTH_MM = 230.0, 90.0


def label(camera):
    """The label: name, F, d, f/N, and what a reading at each meter's last f-number is multiplied
    by.
    """
    measured = (
        f"measured {camera.measured_on:%Y-%m-%d}" if camera.measured_on else "not measured yet"
    )
    eye = (
        f"lens f/{number(camera.marked_f_number)}"
        if camera.is_lens
        else f"d {number(camera.diameter_mm)} mm"
    )
    shapes = [
        svg.rect(0.0, 0.0, LABEL_W, LABEL_H, "fine"),
        svg.text(5.0, 11.0, camera.name, "bold huge"),
        svg.text(LABEL_W - 5, 11.0, f"f/{number(camera.f_number)}", "bold huge", "end"),
        svg.text(5.0, 19.0, f"F {number(camera.focal_mm)} mm, {eye}, {camera.size}"),
        svg.text(
            5.0, 24.0, f"{measured}; made {timezone.localtime(clock.now()):%Y-%m-%d}", "small"
        ),
        svg.line(5.0, 27.0, LABEL_W - 5, 27.0, "fine"),
        svg.text(5.0, 32.0, "A reading at the meter's last f-number, times"),
    ]
    for place, end in enumerate(METER_ENDS):
        x = 5 + place * (LABEL_W - 10) / len(METER_ENDS)
        shapes.append(svg.text(x, 38.0, f"f/{end}", "small"))
        shapes.append(
            svg.text(x, 43.5, number(optics.meter_factor(camera.f_number, end)), "bold big")
        )
    shapes += ruler(5.0, 52.0, LABEL_W - 10)
    words = f"f/{number(camera.f_number)}, a reading at f/128 times {number(camera.meter_factor)}"
    return svg.Drawing(f"Label of {camera.name}", words, LABEL_W, LABEL_H, tuple(shapes), "print")


def ruler(x, y, length):
    """A bar to lay a ruler along: printed without scaling it is this long."""
    return [
        svg.line(x, y, x + length, y, "ruler"),
        svg.line(x, y - 1.5, x, y + 1.5),
        svg.line(x + length, y - 1.5, x + length, y + 1.5),
        svg.text(
            x,
            y + 4,
            f"this bar is {length:g} mm long: if it is not, print without scaling",
            "small",
        ),
    ]


def dots(camera):
    """Two templates, for the top and for the side, or None where the camera sees too wide to be
    sighted along.
    """
    if not camera.has_dots:
        return None
    across, up, down = camera.geometry.field_deg()
    body = min(camera.length_mm, TEMPLATE_MM)
    top = _template(f"{camera.name}, top", body, across / 2, across / 2, ("left", "right"))
    # The upper rear dot is the end of the line that falls: it gives the bottom edge.
    return top, _template(f"{camera.name}, side", body, down, up, ("bottom", "top"))


def _template(name, body_mm, first_deg, second_deg, edges):
    """One front dot, two rear dots; the line from each through the front dot is the edge named
    beside it.
    """
    slopes = tan(radians(first_deg)), tan(radians(second_deg))
    back = min(body_mm, *(HALF_WIDTH_MM / slope for slope in slopes))
    middle, front = HALF_WIDTH_MM + 5, 16.0
    aside = [back * slope for slope in slopes]
    ends = [(middle + aside[0], edges[0]), (middle - aside[1], edges[1])]
    shapes = [
        svg.text(
            0.0, 5.0, f"{name}: sighting dots, {number(first_deg + second_deg)}° in all", "bold"
        ),
        svg.circle(middle, front, 1.5, "dot"),
        svg.text(middle + 4, front + 1, "front dot, over the pinhole", "small"),
        svg.line(middle, front, middle, front + back, "fine"),
    ]
    for x, edge in ends:
        shapes += [
            svg.line(middle, front, x, front + back, "fine"),
            svg.circle(x, front + back, 1.5, "dot"),
        ]
        shapes.append(svg.text(x, front + back + 6, f"{edge} edge", "small", "middle"))
    shapes += ruler(middle - RULER_MM / 2, front + back + 14, RULER_MM)
    words = (
        f"rear dots {number(back)} mm behind, {number(aside[0])} and {number(aside[1])} mm aside"
    )
    return svg.Drawing(name, words, 2 * middle, front + back + 20, tuple(shapes), "print")
