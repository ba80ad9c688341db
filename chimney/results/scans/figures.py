"""Drawings of a scan: the negative with what deserves a look, the positive under its crop, and the
histogram; black, white, crop and lean are dragged in them.
"""

import math
from dataclasses import replace

from django.urls import reverse

from chimney.parts import svg
from chimney.results.scans import craft

# What both pictures are drawn in, and the histogram.
SHOWN_PX = 520.0
SCAN_WIDTH, SCAN_HEIGHT, FOOT = 480.0, 120.0, 22.0
DENSEST_DRAWN = 2.4
GRIP_PX = 12.0
# What a thumb hits where a phone shows the drawing at half.
GRIP_THUMB = 44.0
# A lean is taken at the right edge; crops keep so much between them [%].
MOST_LEAN_DEG, MOST_CUT, LEAST_LEFT = 20.0, 45.0, 10.0
LEVEL_GAP = 5.0


def shown(scan):
    """(width, height) that a scan is shown in as it came."""
    return SHOWN_PX, SHOWN_PX * scan.height / scan.width


def negative(scan, shape, marks, spots):
    """A Drawing of what deserves a look and of the spots, to lie over the scan as it came."""
    wide, high = SHOWN_PX, SHOWN_PX * shape[0] / shape[1]
    shapes = []
    for mark in marks:
        left, top = mark.left * wide, mark.top * high
        box = (mark.right - mark.left) * wide, (mark.bottom - mark.top) * high
        shapes.append(svg.rect(left, top, *box, "look-here"))
        shapes.append(_name(left + 4, top + 18, f"look here: {mark.kind}?", wide))
    for across, down, density in spots:
        x, y = across * wide, down * high
        shapes += [svg.circle(x, y, 8.0, "spot-ring"), svg.circle(x, y, 8.0, "mark-ring")]
        shapes.append(_name(x + 12, y + 5, f"D {density:.2f}", wide))
    label = f"{len(marks)} places that deserve a look, {len(spots)} spots"
    return svg.Drawing(f"{scan} as scanned", label, wide, high, tuple(shapes), "over-picture")


def _name(x, y, label, wide):
    """Words on a picture, within it."""
    is_right = x > 0.75 * wide
    return svg.text(
        x - 24 if is_right else x, y, label, "on-picture", "end" if is_right else "start"
    )


def positive(scan, aspect, settings, query):
    """A Drawing of the whole positive, what is cut off in shade."""
    wide, high = SHOWN_PX, SHOWN_PX * aspect
    address = f"{reverse('results:positive', args=[scan.pk])}?{query}"
    left, top, right, bottom = _crop(settings, wide, high)
    picture = svg.Shape("image", {"href": address, "width": wide, "height": high, "class": "seen"})
    shade = (
        svg.rect(0, 0, wide, top, "cut-off"),
        svg.rect(0, bottom, wide, high - bottom, "cut-off"),
        svg.rect(0, top, left, bottom - top, "cut-off"),
        svg.rect(right, top, wide - right, bottom - top, "cut-off"),
        svg.rect(left, top, right - left, bottom - top, "crop-frame"),
    )
    size = 100 - settings.crop_left - settings.crop_right, 100 - settings.crop_top
    label = f"{size[0]:.0f} % of its width and {size[1] - settings.crop_bottom:.0f} % of its height"
    drawn = svg.Drawing("The positive", label, wide, high, (picture, *shade), "positive")
    return replace(drawn, id="positive")


def _crop(settings, wide, high):
    """(left, top, right, bottom) in the drawing."""
    return (
        settings.crop_left / 100 * wide,
        settings.crop_top / 100 * high,
        wide - settings.crop_right / 100 * wide,
        high - settings.crop_bottom / 100 * high,
    )


def grips(drawn, settings):
    """The Handles of crop and lean."""
    wide, high = drawn.width, drawn.height
    left, top, right, bottom = _crop(settings, wide, high)
    thumb = svg.circle(0, 0, GRIP_THUMB, "reach")
    square = (thumb, svg.rect(-GRIP_PX, -GRIP_PX, 2 * GRIP_PX, 2 * GRIP_PX, "grip"))
    dot = (thumb, svg.circle(0, 0, GRIP_PX, "grip"))
    turned = f"{settings.straighten_deg:.1f} degrees"

    def _share(x, y):
        return f"{100 * x / wide:.0f} % across, {100 * y / high:.0f} % down"

    lean = high / 2 + math.tan(math.radians(settings.straighten_deg)) * wide / 2
    return (
        svg.Handle("from", left, top, "Left and upper edge", square, value=_share(left, top)),
        svg.Handle(
            "to", right, bottom, "Right and lower edge", square, value=_share(right, bottom)
        ),
        svg.Handle("lean", wide - 14, lean, "Straighten", dot, "y", value=turned),
    )


def histogram(measured, settings):
    """A Drawing of how much of the picture has which density, and what becomes black and white."""
    shares = craft.histogram(measured)
    step, ground = SCAN_WIDTH / len(shares), SCAN_HEIGHT - FOOT
    bars = [
        svg.rect(n * step, ground - share * 90, step * 0.9, share * 90, "tone-bar")
        for n, share in enumerate(shares)
    ]
    marks = [
        svg.text(
            density / DENSEST_DRAWN * SCAN_WIDTH, SCAN_HEIGHT - 3, f"{density:g}", "label", "middle"
        )
        for density in (0.3, 0.6, 0.9, 1.2, 1.5, 1.8, 2.1)
    ]
    black, white = craft.level_densities(measured, settings)
    label = f"density 0 to {DENSEST_DRAWN}; {black:.2f} becomes black and {white:.2f} white"
    foot = svg.line(0, ground, SCAN_WIDTH, ground, "ground-line")
    drawn = svg.Drawing(
        "Densities", label, SCAN_WIDTH, SCAN_HEIGHT, (*bars, foot, *marks), "histogram"
    )
    return replace(drawn, id="histogram")


def level_grips(measured, settings):
    """The Handles of black and white, along the densities."""
    handles = []
    for name, density in zip(
        ("black", "white"), craft.level_densities(measured, settings), strict=True
    ):
        # Drawn as a stem with a foot that is filled as what it stands for.
        stem = (
            svg.line(0, 6 - SCAN_HEIGHT + FOOT, 0, 0, "level-stem"),
            svg.circle(0, 0, GRIP_PX, f"level-{name}"),
            svg.rect(-GRIP_THUMB, -GRIP_THUMB, 2 * GRIP_THUMB, 2 * GRIP_THUMB, "reach"),
        )
        x = min(max(density / DENSEST_DRAWN * SCAN_WIDTH, 0.0), SCAN_WIDTH)
        handles.append(
            svg.Handle(
                name,
                x,
                SCAN_HEIGHT - FOOT,
                f"What becomes {name}",
                stem,
                "x",
                value=f"density {density:.2f}",
            )
        )
    return handles


def dragged(settings, measured, name, x, y, aspect):
    """{field: value} that a handle at (x, y) changes."""
    wide, high = SHOWN_PX, SHOWN_PX * aspect
    if name in ("from", "to"):
        return _cropped(settings, name, 100 * x / wide, 100 * y / high)
    if name == "lean":
        lean = math.degrees(math.atan2(y - high / 2, wide / 2))
        return {"straighten_deg": round(min(max(lean, -MOST_LEAN_DEG), MOST_LEAN_DEG), 1)}
    if name in ("black", "white"):
        return _levelled(
            settings, name, craft.level_percent(measured, x / SCAN_WIDTH * DENSEST_DRAWN, settings)
        )
    return {}


def _cropped(settings, name, across, down):
    if name == "to":
        sides, cut = ("right", "bottom"), (100 - across, 100 - down)
    else:
        sides, cut = ("left", "top"), (across, down)
    opposite = {"right": "left", "left": "right", "top": "bottom", "bottom": "top"}
    changed = {}
    for side, share in zip(sides, cut, strict=True):
        opposite_percent = getattr(settings, f"crop_{opposite[side]}")
        highest = min(MOST_CUT, 100 - LEAST_LEFT - opposite_percent)
        changed[f"crop_{side}"] = round(min(max(share, 0.0), highest), 1)
    return changed


def _levelled(settings, name, percent):
    if name == "black":
        highest = min(60.0, settings.high_percent - LEVEL_GAP)
        return {"low_percent": round(min(max(percent, 0.0), highest), 2)}
    lowest = max(40.0, settings.low_percent + LEVEL_GAP)
    return {"high_percent": round(max(min(percent, 100.0), lowest), 2)}
