"""Prints for a camera, in millimetres: the label that goes on it and the dots that aim it."""

from dataclasses import replace
from math import ceil, radians, tan

from django.utils import timezone

from chimney.kit.forms.cameras import suiting_mm
from chimney.kit.page import METER_ENDS
from chimney.parts import clock, sizes, svg
from chimney.parts.scales import number
from pinhole import net, optics

LABEL_W, LABEL_H = 100.0, 58.0
RULER_MM = 100.0
# The longest body that a template on A4 has room for; shorter dots aim just as well.
TEMPLATE_MM, HALF_WIDTH_MM = 230.0, 90.0
# A body is so much wider than its paper, unless its lid was measured.
BODY_MORE_MM = 20.0


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
    sentence = (
        f"f/{number(camera.f_number)}, a reading at f/128 times {number(camera.meter_factor)}"
    )
    return svg.Drawing(
        f"Label of {camera.name}", sentence, LABEL_W, LABEL_H, tuple(shapes), "print"
    )


# What of a net fits on an A4 sheet, and how far one sheet laps over the next [mm].
TILE_MM, LAP_MM = (180.0, 255.0), 8.0


def box_net(depth_mm, size, card_mm):
    """Sheets of A4 with the net of a box for sheets of that size, body first, then its lid: cut
    along full lines, fold along thin ones.
    """
    cut = sizes.cut(size)[::-1]
    hole_words = f"hole {number(suiting_mm(depth_mm))} mm, fold thin lines inward"
    sheets = []
    for piece in net.box(depth_mm, cut, sizes.visible(*cut), card_mm):
        sheets += _tiled(piece.name, _shapes_of(piece, hole_words))
    return sheets


def _shapes_of(piece, hole_words):
    """The net as shapes, y down, its middle at (0, 0)."""
    shapes = [svg.line(*start, *end, "thick") for start, end in piece.cuts]
    shapes += [svg.line(*start, *end, "fine") for start, end in piece.folds]
    shapes += [svg.circle(*place, 1.2, "dot") for _, place in piece.dots]
    if piece.window:
        shapes += [svg.circle(*piece.window, net.WINDOW_MM / 2, "thick")]
        shapes += [svg.text(piece.window[0], piece.window[1] + 12, hole_words, "small", "middle")]
    return shapes


def _tiled(name, shapes):
    """Drawings of the parts of A4, each with marks at its corners where the next is laid."""
    points = [point for shape in shapes for point in _ends(shape)]
    left, top = min(x for x, _ in points) - 2, min(y for _, y in points) - 2
    wide, high = max(x for x, _ in points) + 2 - left, max(y for _, y in points) + 2 - top
    steps = [side - LAP_MM for side in TILE_MM]
    columns, rows = (
        max(1, ceil((size - LAP_MM) / step)) for size, step in zip((wide, high), steps, strict=True)
    )
    return [
        _tile(name, shapes, (left + column * steps[0], top + row * steps[1]), (row, column))
        for row in range(rows)
        for column in range(columns)
    ]


def _ends(shape):
    at = shape.attributes
    if shape.tag == "line":
        return [(at["x1"], at["y1"]), (at["x2"], at["y2"])]
    return [(at.get("cx", at.get("x")), at.get("cy", at.get("y")))]


def _tile(name, shapes, corner, place):
    """One sheet: what of the net lies on it."""
    inside = [piece for shape in shapes for piece in _on_tile(shape, corner)]
    row, column = place
    words = f"{name}, row {row + 1}, column {column + 1}; the crosses of two sheets lie together"
    marks = [svg.text(0.0, TILE_MM[1] + 9, words, "small")]
    for x in (LAP_MM / 2, TILE_MM[0] - LAP_MM / 2):
        for y in (LAP_MM / 2, TILE_MM[1] - LAP_MM / 2):
            marks += [svg.line(x - 3, y, x + 3, y, "fine"), svg.line(x, y - 3, x, y + 3, "fine")]
    marks += ruler(TILE_MM[0] - 60, TILE_MM[1] + 12, 50.0)
    size = TILE_MM[0], TILE_MM[1] + 18
    return svg.Drawing(f"Net: {name}", words, *size, (*inside, *marks), "print")


def _on_tile(shape, corner):
    """The shape as it lies on a tile: a line is cut off at its edges."""
    at = shape.attributes
    if shape.tag == "line":
        ends = [(x - corner[0], y - corner[1]) for x, y in _ends(shape)]
        if cut := _within(*ends):
            yield svg.line(*cut[0], *cut[1], at["class"])
        return
    ((x, y),) = _ends(shape)
    x, y = x - corner[0], y - corner[1]
    if 0 <= x <= TILE_MM[0] and 0 <= y <= TILE_MM[1]:
        moved = {"cx": x, "cy": y} if shape.tag == "circle" else {"x": x, "y": y}
        yield replace(shape, attributes=at | moved)


def _within(start, end):
    """The part of a line inside a tile, by its parameter (Liang and Barsky, ACM TOG 3, 1984); None
    if none is.
    """
    first, last = 0.0, 1.0
    for axis in (0, 1):
        run = end[axis] - start[axis]
        for bound, sign in ((0.0, -1), (TILE_MM[axis], 1)):
            room = sign * (bound - start[axis])
            if run == 0:
                if room < 0:
                    return None
                continue
            crossing = (bound - start[axis]) / run
            if sign * run > 0:
                last = min(last, crossing)
            else:
                first = max(first, crossing)
    if first >= last:
        return None
    return [tuple(start[n] + t * (end[n] - start[n]) for n in (0, 1)) for t in (first, last)]


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


def dots(camera, lid_mm=None, side_mm=None):
    """Templates for the lid, the left and the right side, seen from outside with the front up; or
    None where the camera sees too wide to be sighted along.

    lid_mm, side_mm: how wide and how high the body is there; left out, as its paper with some room.
    """
    if not camera.has_dots:
        return None
    across, up, down = camera.geometry.field_deg()
    lid_mm = lid_mm or camera.cut_width_mm + BODY_MORE_MM
    side_mm = side_mm or camera.cut_height_mm + BODY_MORE_MM
    lid = _template(camera, "lid", lid_mm, (across / 2, across / 2), ("left", "right"))
    # The upper rear dot is the end of the line that falls: it gives the bottom edge. Up lies at the
    # right of the left side, and at the left of the right one.
    left = _template(camera, "left side", side_mm, (down, up), ("bottom", "top"))
    right = _template(camera, "right side", side_mm, (up, down), ("top", "bottom"))
    return lid, left, right


def rear_dots(camera, room_mm, degrees):
    """(back, [aside]) in mm: how far behind the front dot the two rear dots stand, and how far off
    the axis, for edges so many degrees off it.
    """
    body = min(camera.length_mm, TEMPLATE_MM)
    deep = camera.depth_mm
    seen_mm = [2 * deep * tan(radians(angle)) for angle in degrees]
    room = min(room_mm / 2, HALF_WIDTH_MM)
    back = min(optics.sighting_dots_mm(deep, size, body, room)[0] for size in seen_mm)
    return back, [optics.sighting_dots_mm(deep, size, back, HALF_WIDTH_MM)[1] for size in seen_mm]


def _template(camera, place, room_mm, degrees, edges):
    """One front dot, two rear dots; the line from each through the front dot is the edge named
    beside it.
    """
    back, aside = rear_dots(camera, room_mm, degrees)
    name, middle, front = f"{camera.name}, {place}", HALF_WIDTH_MM + 5, 16.0
    ends = [(middle + aside[0], edges[0]), (middle - aside[1], edges[1])]
    title = f"{name}: sighting dots, {number(sum(degrees))}° in all"
    shapes = [
        svg.text(0.0, 5.0, title, "bold"),
        svg.text(0.0, 9.5, f"For the {place}, seen from outside, the front up this page", "small"),
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
    label = (
        f"rear dots {number(back)} mm behind, {number(aside[0])} and {number(aside[1])} mm aside"
    )
    return svg.Drawing(name, label, 2 * middle, front + back + 20, tuple(shapes), "print")
