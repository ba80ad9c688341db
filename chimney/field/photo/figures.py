"""A photo with the pinhole's field over it, and its light beside what the paper holds."""

import numpy as np

from chimney.field.photo.craft.moving import ABOVE, BELOW, PEOPLE
from chimney.field.photo.craft.scenery import BARS_A_STOP
from chimney.parts import svg
from chimney.parts.axes import Axis
from pinhole.tones import SHOULDER, TOE

PHOTO_WIDE = 420.0
SPOT_NAMES = ("shadow", "middle", "highlight")
SPOT_MARK = (svg.circle(0, 0, 9, "meter-ring"), svg.circle(0, 0, 4, "meter-dot"))
AIM_MARK = (
    svg.circle(0, 0, svg.THUMB_REACH, "hit"),
    svg.circle(0, 0, 13, "ring"),
    svg.line(-7.0, 0.0, 7.0, 0.0, "ring"),
    svg.line(0.0, -7.0, 0.0, 7.0, "ring"),
)
# The corners of the frame that people stand in.
PEOPLE_CORNERS = ("people0", "people1")
CORNER_MARK = AIM_MARK[:2]
LINE_MARK = (
    svg.rect(-PHOTO_WIDE / 2, -float(svg.THUMB_REACH), PHOTO_WIDE, 2.0 * svg.THUMB_REACH, "hit"),
    svg.line(-PHOTO_WIDE / 2, 0.0, PHOTO_WIDE / 2, 0.0, "ring"),
)
LIGHT_WIDE, LIGHT_HIGH, LIGHT_TOP, LIGHT_FOOT = 170.0, 330.0, 18.0, 310.0
BAR_END, SCALE_LEFT, SCALE_RIGHT = 80.0, 84.0, 104.0


def scale_of(photo):
    """Units of the drawing a pixel of the photo."""
    return PHOTO_WIDE / photo.wide_px


def photo(scenery, address, moving):
    """A Drawing of a Scenery's photo, whose picture is at an address, with the pinhole's field, and
    the frame of people that are Moving.
    """
    scale = scale_of(scenery.photo)
    high = scenery.photo.high_px * scale
    box = {"x": 0.0, "y": 0.0, "width": PHOTO_WIDE, "height": high, "href": address}
    shapes = [svg.Shape("image", box)]
    x, y = scenery.outline
    ahead = np.isfinite(x) & np.isfinite(y)
    corners = [
        (float(a), float(b)) for a, b in zip(x[ahead] * scale, y[ahead] * scale, strict=True)
    ]
    if corners:
        shapes.append(svg.Shape("path", {"d": _around(corners, high), "class": "out-of-field"}))
        shapes.append(svg.polygon(corners, "field-edge-under"))
        shapes.append(svg.polygon(corners, "field-edge"))
    if moving.part == PEOPLE:
        left, top, right, bottom = moving.frame
        place = left * PHOTO_WIDE, top * high
        size = (right - left) * PHOTO_WIDE, (bottom - top) * high
        shapes.append(svg.rect(*place, *size, "field-edge"))
    label = "; ".join(
        f"{name} EV {spot.ev100:.1f}" for name, spot in zip(SPOT_NAMES, scenery.spots, strict=True)
    )
    return svg.Drawing(
        "Your photo", label, PHOTO_WIDE, high, tuple(shapes), "photo-drawing", "photo"
    )


def _around(corners, high):
    """The path of all of the photo but what lies within the corners."""
    outside = f"M-2 -2H{PHOTO_WIDE + 2:.0f}V{high + 2:.0f}H-2Z"
    inner = "L".join(f"{x:.1f} {y:.1f}" for x, y in corners)
    return f"{outside}M{inner}Z"


def grips(scenery, drawn, moving, *, live):
    """The spots, the cross, and the line or the corners of a Moving, to be dragged."""
    scale = scale_of(scenery.photo)
    handles = []
    x, y = scenery.aim_px
    if np.isfinite(x):
        aim = np.clip([float(x) * scale, float(y) * scale], 0, [PHOTO_WIDE, drawn.height])
        value = f"turned {scenery.pointing.azimuth_deg:g}°, tilted {scenery.pointing.tilt_deg:g}°"
        handles.append(svg.Handle("aim", *aim.tolist(), "Where it points", AIM_MARK, value=value))
    for name, spot in zip(SPOT_NAMES, scenery.spots, strict=True):
        place = spot.x * PHOTO_WIDE, spot.y * drawn.height
        left = place[0] > PHOTO_WIDE * 0.7
        label = svg.text(
            *(-14.0 if left else 14.0, 5.0, f"{name} {spot.ev100:.1f}", "meter-label"),
            "end" if left else "start",
        )
        value = f"EV {spot.ev100:.1f}"
        mark = (svg.circle(0, 0, svg.THUMB_REACH, "hit"), *SPOT_MARK, label)
        handles.append(svg.Handle(name, *place, f"The {name}", mark, value=value))
    handles += _moving_grips(moving, drawn.height)
    return svg.handles(drawn, "photo-form", handles, live=live)


def _moving_grips(moving, high):
    """Handles of a line, or of two corners of a frame."""
    if moving.part in (ABOVE, BELOW):
        value = f"{100 * moving.line:.0f} % down"
        place = PHOTO_WIDE / 2, moving.line * high
        yield svg.Handle("line", *place, "What moves ends here", LINE_MARK, "y", value=value)
    if moving.part == PEOPLE:
        left, top, right, bottom = moving.frame
        for name, label, x, y in (
            (PEOPLE_CORNERS[0], "People stand from here", left, top),
            (PEOPLE_CORNERS[1], "to here", right, bottom),
        ):
            value = f"{100 * x:.0f} % across, {100 * y:.0f} % down"
            yield svg.Handle(name, x * PHOTO_WIDE, y * high, label, CORNER_MARK, value=value)


def light(scenery):
    """A Drawing of the light that the pinhole sees, beside what the paper holds of it."""
    low, counts = scenery.histogram
    top = low + len(counts) / BARS_A_STOP
    curve, middle = scenery.curve, scenery.middle_ev100
    toe, shoulder = (
        middle + float(curve.light_for(share))
        for share in (TOE / (curve.dmax - curve.dmin), SHOULDER)
    )
    y = Axis(min(low, toe - 0.5), max(top, shoulder + 0.5), LIGHT_FOOT, LIGHT_TOP)
    shapes = []
    for n, share in enumerate(counts.tolist()):
        upper = y(low + (n + 1) / BARS_A_STOP)
        height = y(low + n / BARS_A_STOP) - upper
        shapes.append(svg.rect(BAR_END - 46 * share, upper, 46 * share, height - 0.6, "light-bars"))
    for ev in range(int(np.ceil(y.low)), int(y.high) + 1):
        shapes.append(svg.text(4.0, y(ev) + 4.5, f"{ev}", "label"))
    shapes += _scale(y, toe, shoulder)
    for name, spot in zip(SPOT_NAMES, scenery.spots, strict=True):
        place = y.inside(spot.ev100)
        shapes.append(svg.circle((SCALE_LEFT + SCALE_RIGHT) / 2, place, 5.0, "meter-ring"))
        shapes.append(svg.text(SCALE_RIGHT + 5, place + 4, name, "label"))
    label = f"the paper holds EV {toe:.1f} to {shoulder:.1f}"
    return svg.Drawing(
        "Its light, EV", label, LIGHT_WIDE, LIGHT_HIGH, tuple(shapes), "light", "light"
    )


def _scale(y, toe, shoulder):
    wide = SCALE_RIGHT - SCALE_LEFT
    for low, high, css in (
        (shoulder, y.high, "blocks"),
        (toe, shoulder, "holds"),
        (y.low, toe, "stays-empty"),
    ):
        upper = y(high)
        yield svg.rect(SCALE_LEFT, upper, wide, y(low) - upper, css)
    yield svg.text(SCALE_RIGHT + 5, LIGHT_TOP + 8, "blocks", "label")
    yield svg.text(SCALE_RIGHT + 5, LIGHT_FOOT, "empty", "label")


def dragged(scenery, frame, name, x, y):
    """{field: its text} of a handle that was dragged to a place in the drawing; frame: of people,
    before.
    """
    scale = scale_of(scenery.photo)
    high = scenery.photo.high_px * scale
    down, across = (min(1.0, max(0.0, share)) for share in (y / high, x / PHOTO_WIDE))
    if name == "aim":
        turn, tilt = (float(angle) for angle in scenery.aimed(x / scale, y / scale))
        return {"turn_deg": f"{round(turn, 1):g}", "tilt_deg": f"{round(tilt, 1):g}"}
    if name in SPOT_NAMES:
        places = [[spot.x, spot.y] for spot in scenery.spots]
        places[SPOT_NAMES.index(name)] = [across, down]
        return {"spots": say_spots(places)}
    if name in PEOPLE_CORNERS:
        corners = [list(frame[:2]), list(frame[2:])]
        corners[PEOPLE_CORNERS.index(name)] = [across, down]
        return {"people": say_spots(corners)}
    return {"line": f"{round(down, 3):g}"} if name == "line" else {}


def say_spots(places):
    """Places in a photo as the form has them."""
    return " ".join(f"{round(x, 4):g},{round(y, 4):g}" for x, y in places)
