"""A paper's curve as its own judged scans have it."""

import numpy as np

from chimney.parts import svg
from chimney.results.curves import craft

WIDE, HIGH, MARGIN_PX = 420.0, 260.0, 34.0
# Light over right that is drawn, either way [stops], and up to which density.
REACH_STOPS, DENSEST = 4.0, 2.2


def curve(paper, known):
    """A Drawing of density against light: what was learned with its range, dashed what the starting
    numbers say.
    """
    stops = np.linspace(-REACH_STOPS, REACH_STOPS, 49)
    low, middle, high = craft.drawn(paper, known, stops)
    nominal = craft.curve_of(paper).density(stops, paper.kind)
    band = [_place(x, y) for x, y in zip(stops, low, strict=True)]
    band += [_place(x, y) for x, y in zip(stops[::-1], high[::-1], strict=True)]
    lines = ((nominal, "box-line"), (middle, "learned-line learned-curve"))
    shapes = [svg.polygon(band, "band"), *_axes()]
    for densities, css in lines:
        points = [_place(*row) for row in zip(stops, densities, strict=True)]
        shapes.append(svg.polyline(points, css))
    right = float(np.interp(0.0, stops, middle))
    x, y = _place(0.0, right)
    name = f"right: D {right:.2f}"
    shapes += [svg.circle(x, y, 5, "dot"), svg.text(x + 9, y + 14, name, "label")]
    label = f"right at D {right:.2f}, from D {middle.min():.2f} to {middle.max():.2f}"
    return svg.Drawing("Its curve", label, WIDE, HIGH, tuple(shapes), "lesson")


def _place(stops, density):
    x = MARGIN_PX + (stops + REACH_STOPS) / (2 * REACH_STOPS) * (WIDE - 2 * MARGIN_PX)
    return x, HIGH - MARGIN_PX - density / DENSEST * (HIGH - 2 * MARGIN_PX)


def _axes():
    left, foot = _place(-REACH_STOPS, 0.0)
    right, top = _place(REACH_STOPS, DENSEST)
    yield svg.line(left, foot, right, foot, "axis")
    yield svg.line(left, foot, left, top, "axis")
    for stops in (-4, -2, 0, 2, 4):
        words = f"{stops:+d}".replace("-", "−") if stops else "right"
        yield svg.text(_place(stops, 0)[0], foot + 18, words, "label", "middle")
    for density in (0.5, 1.0, 1.5, 2.0):
        yield svg.text(left - 5, _place(0, density)[1] + 4, f"{density:g}", "label", "end")
