"""The camera in true proportion, from above and from the side; how its light falls off."""

from dataclasses import dataclass

import numpy as np

from chimney.parts import svg
from chimney.parts.scales import number

CAMERA_WIDTH, CAMERA_HEIGHT = 360.0, 190.0
ROOM_LEFT, ROOM_RIGHT, ROOM_END = 118.0, 92.0, 46.0
CURVE_STEPS = 33


@dataclass(frozen=True)
class Layout:
    """Place of a camera in its picture: px a mm, and the place of its hole."""

    scale: float
    hole_x: float
    hole_y: float

    def at(self, point):
        """A place on the picture from (aside, behind the hole) in mm."""
        return self.hole_x + point[1] * self.scale, self.hole_y + point[0] * self.scale

    @classmethod
    def read(cls, text):
        """The Layout that said itself so, or None."""
        try:
            layout = cls(*(float(part) for part in str(text).split()))
        except (TypeError, ValueError):
            return None
        sound = 1e-4 < layout.scale < 1e4 and 0 <= layout.hole_x <= CAMERA_WIDTH
        return layout if sound and 0 <= layout.hole_y <= CAMERA_HEIGHT else None

    def __str__(self):
        return f"{self.scale:.6g} {self.hole_x:.1f} {self.hole_y:.1f}"


def layout_of(camera):
    """The Layout in which a camera from above fills its picture."""
    return _layout(camera, *_span(camera, curve_of(camera), round_body=True))


def section(camera, layout=None):
    """A Drawing of the camera from above, with the rays to the paper's edges; in a Layout that was
    handed in it may outgrow its picture.
    """
    across, up, down = camera.geometry.field_deg()
    label = (
        f"focal length {number(camera.focal_mm)} mm, {_eye(camera)}, "
        f"{across:.0f} degrees across, {up + down:.0f} degrees high"
    )
    labels = (camera.size, f"{across:.0f}° across", f"{up + down:.0f}° high")
    paper = curve_of(camera)
    curve = _curve(camera, np.linspace(-0.5, 0.5, CURVE_STEPS) * camera.visible_width_mm)
    span = _span(camera, paper, round_body=True)
    layout = layout or _layout(camera, *span)
    name = f"{camera.name or 'The camera'} from above"
    return _draw(name, label, camera, (paper, curve), labels, (layout, *span), is_above=True)


def side(camera):
    """A Drawing of the camera from the side: what it sees above and below the axis."""
    _, up, down = camera.geometry.field_deg()
    label = f"sees {up:.0f} degrees above the axis and {down:.0f} below"
    # Drawn as it stands: paper above the hole is up, so the axis of the picture grows downward.
    ends = np.array([-0.5, 0.5])
    offset = camera.offset_mm if camera.back_kind.stands else 0.0
    paper, visible = (
        [(-(end * high + offset), camera.depth_mm) for end in ends]
        for high in (camera.cut_height_mm, camera.visible_height_mm)
    )
    labels = (f"{up:.0f}° up", f"{down:.0f}° down")
    span = _span(camera, paper, standing=True)
    name = f"{camera.name or 'The camera'} from the side"
    drawn = _layout(camera, *span), *span
    return _draw(name, label, camera, (paper, visible), labels, drawn)


def curve_of(camera):
    """Places in mm along the paper from end to end, as (aside, behind the hole)."""
    return _curve(camera, np.linspace(-0.5, 0.5, CURVE_STEPS) * camera.cut_width_mm)


def _curve(camera, along):
    """(aside, behind the hole) in mm of places along the paper."""
    aside, behind = camera.geometry.above(along)
    # A plane is drawn by its ends.
    ends = slice(None, None, len(along) - 1 if np.ptp(behind) == 0 else 1)
    return list(zip(aside[ends], behind[ends], strict=True))


def _span(camera, paper, *, round_body=False, standing=False):
    """(low, high) in mm beside the hole: what the picture has to hold, be it paper, hole or can."""
    aside = [aside for aside, _ in paper]
    low, high = min(aside), max(aside)
    if camera.back_kind.is_round and round_body:
        low, high = -camera.depth_mm / 2, camera.depth_mm / 2
    elif camera.back_kind.stands and standing and camera.height_mm:
        # The sheet stands on the floor of the can.
        low = high - camera.height_mm
    return min(low, -camera.diameter_mm), max(high, camera.diameter_mm)


def _layout(camera, low, high):
    """Scale mm so that body and rays fill the picture; the hole looks to the left."""
    room = CAMERA_WIDTH - ROOM_LEFT - ROOM_RIGHT
    scale = min(room / camera.depth_mm, (CAMERA_HEIGHT - ROOM_END) / (high - low))
    hole_x = ROOM_LEFT + (room - camera.depth_mm * scale) / 2
    return Layout(scale, hole_x, (CAMERA_HEIGHT - 26) / 2 + 2 - (high + low) / 2 * scale)


def _draw(name, words, camera, curves, labels, drawn, *, is_above=False):
    """curves: paper and what is seen of it; drawn: the Layout, and what the body spans."""
    layout, low, high = drawn
    hole_x, hole_y, scale = layout.hole_x, layout.hole_y, layout.scale
    depth = camera.depth_mm * scale
    papers, inside = ([layout.at(place) for place in curve] for curve in curves)
    top, bottom = hole_y + low * scale - 5, hole_y + high * scale + 5
    gap = max(2.0, camera.diameter_mm * scale / (2 if camera.is_lens else 1))
    if camera.back_kind.is_round and is_above:
        body = _round(hole_x, hole_y, depth, gap)
    else:
        body = _box(hole_x, hole_y, hole_x + depth + 4, top, bottom, gap)
    shapes = [
        svg.polygon([(hole_x, hole_y), *inside], "cone"),
        *(_ray(hole_x, hole_y, end) for end in (inside[0], inside[-1])),
        *body,
        svg.polyline(papers, "paper-edge"),
        svg.polyline(inside, "paper-seen"),
        *_measures(camera, hole_x, hole_y, depth),
    ]
    right, middle = max(x for x, _ in papers), (top + bottom) / 2 - 8 * (len(labels) - 1)
    shapes += [
        svg.text(right + 14, middle + 4 + 16 * n, label, "label") for n, label in enumerate(labels)
    ]
    return svg.Drawing(name, words, CAMERA_WIDTH, CAMERA_HEIGHT, tuple(shapes), "camera-section")


def _measures(camera, hole_x, hole_y, depth):
    """The depth under the camera, and the hole's width before it."""
    deep = f"{number(camera.depth_mm)} mm"
    yield svg.line(hole_x, CAMERA_HEIGHT - 18, hole_x + depth, CAMERA_HEIGHT - 18, "measure")
    yield svg.text(hole_x + depth / 2, CAMERA_HEIGHT - 4, deep, "label", "middle")
    yield svg.text(hole_x - 12, hole_y + 4, _eye(camera), "label", "end")


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
        [((hole_y - 4) if rise < 0 else (CAMERA_HEIGHT - 24 - hole_y)) / abs(rise)]
        if abs(rise) > 1
        else []
    )
    reach = min(*room, 3.0) if room else 1.0
    return svg.line(*end, hole_x + run * reach, hole_y + rise * reach, "ray")


def unrolled(measures, fit):
    """The can's wall rolled out flat, seen from inside: the paper, the hole and the line
    opposite.
    """
    around, height = np.pi * measures["diameter_mm"], measures["can_height_mm"]
    scale = min((CAMERA_WIDTH - 16) / around, 150.0 / height)
    hole_up = measures["hole_up_mm"] or height / 2
    middle, floor = CAMERA_WIDTH / 2, height * scale + 6

    def box(length, high, css):
        return svg.rect(
            middle - length * scale / 2, floor - high * scale, length * scale, high * scale, css
        )

    shapes = [box(around, height, "frame"), box(fit.length_mm, fit.height_mm, "sheet-in")]
    shapes += [svg.line(middle, floor, middle, 6.0, "box-line")]
    ends = (middle - around * scale / 2, middle + around * scale / 2)
    shapes += [svg.circle(x, floor - hole_up * scale, 4, "here") for x in ends]
    lies = f"{number(fit.length_mm)} mm along the wall, {number(fit.height_mm)} mm upright"
    sees = f"{fit.across_deg:.0f} degrees across, {fit.up_deg:.0f} up and {fit.down_deg:.0f} down"
    label = f"{lies}; gap {number(fit.gap_mm)} mm at the hole; sees {sees}"
    return svg.Drawing(
        "The wall unrolled", label, CAMERA_WIDTH, floor + 6, tuple(shapes), "unrolled"
    )


def fall_off(camera):
    """The paper across its middle as a strip, darker where less light arrives, with the stops at
    edge and corner.
    """
    half_w, half_h = camera.visible_width_mm / 2, camera.visible_height_mm / 2
    places = np.linspace(-half_w, half_w, CURVE_STEPS)
    stops = camera.geometry.fall_off_stops(places, 0.0)
    edge = float(camera.geometry.fall_off_stops(half_w, 0.0))
    corner = float(np.max(camera.geometry.fall_off_stops(half_w, np.array([-half_h, half_h]))))
    end = (
        "at the rim"
        if camera.is_round
        else f"at the side edge, {number(round(corner, 2), 2)} at the corner"
    )
    width = CAMERA_WIDTH / CURVE_STEPS
    shapes = [
        svg.rect(n * width, 0.0, width + 0.3, 30.0, "shadow", fill_opacity=float(1 - 2.0**-less))
        for n, less in enumerate(stops)
    ]
    label = f"{number(round(edge, 2), 2)} stops less {end}"
    shapes += [
        svg.rect(0.5, 0.5, CAMERA_WIDTH - 1, 29.5, "frame"),
        svg.text(0.0, 46.0, label, "label"),
    ]
    return svg.Drawing(
        "Light across the paper", label, CAMERA_WIDTH, 50.0, tuple(shapes), "fall-off"
    )
