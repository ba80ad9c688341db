"""The camera in true proportion, from above and from the side; how its light falls off; what its
hole blurs.
"""

import numpy as np

from chimney.kit.models import Camera
from chimney.parts import svg
from chimney.parts.scales import number
from pinhole import optics

WIDTH, HEIGHT = 360.0, 190.0
ROOM_LEFT, ROOM_RIGHT, ROOM_END = 118.0, 92.0, 46.0
STEPS = 33


def section(camera):
    """A Drawing of the camera from above, with the rays to the paper's edges."""
    across, up, down = camera.geometry.field_deg()
    words = (
        f"focal length {number(camera.focal_mm)} mm, {_eye(camera)}, "
        f"{across:.0f} degrees across, {up + down:.0f} degrees high"
    )
    labels = (camera.size, f"{across:.0f}° across", f"{up + down:.0f}° high")
    paper = _curve(camera, np.linspace(-0.5, 0.5, STEPS) * camera.cut_width_mm)
    seen = _curve(camera, np.linspace(-0.5, 0.5, STEPS) * camera.visible_width_mm)
    return _draw(f"{camera.name} from above", words, camera, paper, seen, labels, round_body=True)


def side(camera):
    """A Drawing of the camera from the side: what it sees above and below the axis."""
    _, up, down = camera.geometry.field_deg()
    words = f"sees {up:.0f} degrees above the axis and {down:.0f} below"
    # Drawn as it stands: paper above the hole is up, so the axis of the picture grows downward.
    ends = np.array([-0.5, 0.5])
    offset = camera.offset_mm if camera.back == Camera.Shape.CAN else 0.0
    paper, seen = (
        [(-(end * high + offset), camera.depth_mm) for end in ends]
        for high in (camera.cut_height_mm, camera.visible_height_mm)
    )
    labels = (f"{up:.0f}° up", f"{down:.0f}° down")
    return _draw(f"{camera.name} from the side", words, camera, paper, seen, labels)


def _curve(camera, along):
    """(aside, behind the hole) in mm of places along the paper."""
    if camera.back == Camera.Shape.CAN:
        radius = camera.focal_mm / 2
        turn = along / radius
        return list(zip(radius * np.sin(turn), radius * (1 + np.cos(turn)), strict=True))
    if camera.back == Camera.Shape.ARC:
        turn = along / camera.focal_mm
        return list(
            zip(camera.focal_mm * np.sin(turn), camera.focal_mm * np.cos(turn), strict=True)
        )
    return [(aside, camera.depth_mm) for aside in (along[0], along[-1])]


def _draw(name, words, camera, paper, seen, labels, *, round_body=False):
    """Scale mm so that body and rays fill the picture; the hole looks to the left."""
    is_can = camera.back == Camera.Shape.CAN and round_body
    aside = [a for a, _ in paper]
    low, high = (
        (min(aside), max(aside)) if not is_can else (-camera.focal_mm / 2, camera.focal_mm / 2)
    )
    low, high = min(low, -camera.diameter_mm), max(high, camera.diameter_mm)
    scale = min(
        (WIDTH - ROOM_LEFT - ROOM_RIGHT) / camera.depth_mm, (HEIGHT - ROOM_END) / (high - low)
    )
    depth = camera.depth_mm * scale
    hole_x = ROOM_LEFT + (WIDTH - ROOM_LEFT - ROOM_RIGHT - depth) / 2
    hole_y = (HEIGHT - 26) / 2 + 2 - (high + low) / 2 * scale

    def at(point):
        return hole_x + point[1] * scale, hole_y + point[0] * scale

    papers, seens = [at(p) for p in paper], [at(p) for p in seen]
    top, bottom = hole_y + low * scale - 5, hole_y + high * scale + 5
    gap = max(2.0, camera.diameter_mm * scale / (2 if camera.is_lens else 1))
    right = max(x for x, _ in papers)
    shapes = [
        svg.polygon([(hole_x, hole_y), *seens], "cone"),
        *(_ray(hole_x, hole_y, end) for end in (seens[0], seens[-1])),
        *(
            _round(hole_x, hole_y, depth, gap)
            if is_can
            else _box(hole_x, hole_y, hole_x + depth + 4, top, bottom, gap)
        ),
        svg.polyline(papers, "paper-edge"),
        svg.polyline(seens, "paper-seen"),
        svg.line(hole_x, HEIGHT - 18, hole_x + depth, HEIGHT - 18, "measure"),
        svg.text(
            hole_x + depth / 2, HEIGHT - 4, f"{number(camera.depth_mm)} mm", "label", "middle"
        ),
        svg.text(hole_x - 12, hole_y + 4, _eye(camera), "label", "end"),
    ]
    middle = (top + bottom) / 2 - 8 * (len(labels) - 1)
    shapes += [
        svg.text(right + 14, middle + 4 + 16 * n, label, "label") for n, label in enumerate(labels)
    ]
    return svg.Drawing(name, words, WIDTH, HEIGHT, tuple(shapes), "camera-section")


def _eye(camera):
    return (
        f"lens f/{number(camera.marked_f_number)}"
        if camera.is_lens
        else f"{number(camera.diameter_mm)} mm"
    )


def _box(x, y, back_x, top, bottom, gap):
    return (
        svg.line(x, top, x, y - gap, "wall"),
        svg.line(x, y + gap, x, bottom, "wall"),
        svg.line(x, top, back_x, top, "wall"),
        svg.line(x, bottom, back_x, bottom, "wall"),
        svg.line(back_x, top - 1.5, back_x, bottom + 1.5, "wall"),
    )


def _round(x, y, diameter, gap):
    """The wall of a can, open at the hole, a little outside of its paper."""
    radius, turn = diameter / 2 + 4, np.linspace(-np.pi, np.pi, 65)[1:-1]
    points = [(x + diameter / 2 + radius * np.cos(t), y + radius * np.sin(t)) for t in turn]
    return (
        svg.polyline(
            [point for point in points if abs(point[1] - y) > gap or point[0] > x + diameter / 2],
            "wall",
        ),
    )


def _ray(hole_x, hole_y, end):
    """From the paper's edge through the hole, out to the picture's border."""
    run, rise = hole_x - end[0], hole_y - end[1]
    room = [(hole_x - 8) / -run] if run < -1 else []
    room += (
        [((hole_y - 4) if rise < 0 else (HEIGHT - 24 - hole_y)) / abs(rise)]
        if abs(rise) > 1
        else []
    )
    reach = min(*room, 3.0) if room else 1.0
    return svg.line(*end, hole_x + run * reach, hole_y + rise * reach, "ray")


def unrolled(given, way):
    """The can's wall rolled out flat, seen from inside: the paper, the hole and the line
    opposite.
    """
    around, height = np.pi * given["diameter_mm"], given["can_height_mm"]
    scale = min((WIDTH - 16) / around, 150.0 / height)
    hole_up = given["hole_up_mm"] or height / 2
    middle, floor = WIDTH / 2, height * scale + 6

    def box(length, high, css):
        return svg.rect(
            middle - length * scale / 2, floor - high * scale, length * scale, high * scale, css
        )

    shapes = [box(around, height, "frame"), box(way.length_mm, way.height_mm, "sheet-in")]
    shapes += [svg.line(middle, floor, middle, 6.0, "box-line")]
    ends = (middle - around * scale / 2, middle + around * scale / 2)
    shapes += [svg.circle(x, floor - hole_up * scale, 4, "here") for x in ends]
    lies = f"{number(way.length_mm)} mm along the wall, {number(way.height_mm)} mm upright"
    sees = f"{way.across_deg:.0f} degrees across, {way.up_deg:.0f} up and {way.down_deg:.0f} down"
    words = f"{lies}; gap {number(way.gap_mm)} mm at the hole; sees {sees}"
    return svg.Drawing("The wall unrolled", words, WIDTH, floor + 6, tuple(shapes), "unrolled")


def fall_off(camera):
    """The paper across its middle as a strip, darker where less light arrives, with the stops at
    edge and corner.
    """
    half_w, half_h = camera.visible_width_mm / 2, camera.visible_height_mm / 2
    places = np.linspace(-half_w, half_w, STEPS)
    stops = camera.geometry.fall_off_stops(places, 0.0)
    edge = float(camera.geometry.fall_off_stops(half_w, 0.0))
    corner = float(np.max(camera.geometry.fall_off_stops(half_w, np.array([-half_h, half_h]))))
    end = (
        "at the rim"
        if camera.is_round
        else f"at the side edge, {number(round(corner, 2), 2)} at the corner"
    )
    width = WIDTH / STEPS
    shapes = [
        svg.rect(n * width, 0.0, width + 0.3, 30.0, "shadow", fill_opacity=float(1 - 2.0**-less))
        for n, less in enumerate(stops)
    ]
    words = f"{number(round(edge, 2), 2)} stops less {end}"
    shapes += [svg.rect(0.5, 0.5, WIDTH - 1, 29.5, "frame"), svg.text(0.0, 46.0, words, "label")]
    return svg.Drawing("Light across the paper", words, WIDTH, 50.0, tuple(shapes), "fall-off")


PLOT_W, PLOT_H, PLOT_BASE = 360.0, 190.0, 162.0


def blur(camera):
    """Blur against the hole's diameter, with the published rules and "you are here"."""
    rules = [
        (name, optics.best_diameter_mm(camera.focal_mm, constant=constant))
        for name, constant, _ in optics.BEST_RULES
    ]
    here = optics.blur_mm(camera.focal_mm, camera.diameter_mm)
    least = min(camera.diameter_mm, *(d for _, d in rules)) / 1.8
    most = max(camera.diameter_mm, *(d for _, d in rules)) * 1.6
    holes = np.linspace(least, most, 61)
    blurs = optics.blur_mm(camera.focal_mm, holes)
    top = float(max(blurs.max(), here)) * 1.05

    def x(diameter):
        return 34 + (diameter - least) / (most - least) * (PLOT_W - 44)

    def y(blur_mm):
        return PLOT_BASE - blur_mm / top * (PLOT_BASE - 14)

    shapes = [
        svg.line(34.0, PLOT_BASE, PLOT_W, PLOT_BASE, "axis"),
        svg.line(34.0, 8.0, 34.0, PLOT_BASE, "axis"),
    ]
    for n, (name, diameter) in enumerate(sorted(rules, key=lambda rule: rule[1])):
        shapes += [svg.line(x(diameter), 24.0, x(diameter), PLOT_BASE, "box-line")]
        shapes += [
            svg.text(
                x(diameter) + 4, PLOT_BASE - 38 + 15 * n, f"{name} {number(diameter, 2)}", "label"
            )
        ]
    shapes += [
        svg.polyline([(x(d), y(b)) for d, b in zip(holes, blurs, strict=True)], "curve"),
        svg.circle(x(camera.diameter_mm), y(here), 6, "here"),
        svg.text(
            x(camera.diameter_mm),
            y(here) + 22,
            f"you: {number(here, 2)} mm",
            "label here-label",
            "middle",
        ),
        svg.text(30.0, y(top) + 10, number(top, 2), "label", "end"),
        svg.text(30.0, PLOT_BASE, "0", "label", "end"),
        svg.text(34.0, PLOT_BASE + 16, f"{number(least, 2)}", "label"),
        svg.text(PLOT_W, PLOT_BASE + 16, f"{number(most, 2)} mm hole", "label", "end"),
    ]
    words = (
        f"a hole of {number(camera.diameter_mm)} mm blurs to {number(here, 2)} mm, "
        f"{number(1 / here, 2)} lines per mm"
    )
    words += "".join(f"; {name}'s best is {number(d, 2)} mm" for name, d in rules)
    return svg.Drawing("Blur against the hole", words, PLOT_W, PLOT_H, tuple(shapes), "blur")
