"""Blur of a hole, against its width."""

import numpy as np

from chimney.parts import svg
from chimney.parts.scales import number
from pinhole import optics

PLOT_W, PLOT_H, PLOT_BASE = 360.0, 190.0, 162.0


class BlurAxes:
    """Axes for diameters and blurs on the plot of a camera: all rules and its hole inside, and
    still while a hole is dragged among them.
    """

    def __init__(self, camera, rules):
        phrase = [diameter for _, diameter in rules]
        self.least = min(min(phrase) / 1.8, camera.diameter_mm)
        self.most = max(max(phrase) * 1.6, camera.diameter_mm)
        self.holes = np.linspace(self.least, self.most, 61)
        self.blurs = optics.blur_mm(camera.focal_mm, self.holes)
        self.here = optics.blur_mm(camera.focal_mm, camera.diameter_mm)
        self.top = float(max(self.blurs.max(), self.here)) * 1.05

    def x(self, diameter):
        return 34 + (diameter - self.least) / (self.most - self.least) * (PLOT_W - 44)

    def y(self, blur_mm):
        return PLOT_BASE - blur_mm / self.top * (PLOT_BASE - 14)

    def frame(self):
        yield svg.line(34.0, PLOT_BASE, PLOT_W, PLOT_BASE, "axis")
        yield svg.line(34.0, 8.0, 34.0, PLOT_BASE, "axis")
        yield svg.text(30.0, self.y(self.top) + 10, number(self.top, 2), "label", "end")
        yield svg.text(30.0, PLOT_BASE, "0", "label", "end")
        yield svg.text(34.0, PLOT_BASE + 16, f"{number(self.least, 2)}", "label")
        yield svg.text(PLOT_W, PLOT_BASE + 16, f"{number(self.most, 2)} mm hole", "label", "end")


def best_holes(camera):
    """(name, best hole in mm) by each published rule."""
    return [
        (name, optics.best_diameter_mm(camera.focal_mm, constant=constant))
        for name, constant, _ in optics.BEST_RULES
    ]


def blur(camera):
    """Blur against the hole's diameter, with the published rules and "you are here"."""
    rules = best_holes(camera)
    axes = BlurAxes(camera, rules)
    near_x, x = axes.here, axes.x(camera.diameter_mm)
    curve = [(axes.x(d), axes.y(b)) for d, b in zip(axes.holes, axes.blurs, strict=True)]
    you = f"you: {number(near_x, 2)} mm"
    shapes = [*axes.frame(), *_rule_lines(axes, rules), svg.polyline(curve, "curve")]
    shapes += [
        svg.circle(x, axes.y(near_x), 6, "here"),
        svg.text(x, axes.y(near_x) + 22, you, "label here-label", "middle"),
    ]
    label = (
        f"a hole of {number(camera.diameter_mm)} mm blurs to {number(near_x, 2)} mm, "
        f"{number(1 / near_x, 2)} lines per mm"
    )
    label += "".join(f"; {name}'s best is {number(d, 2)} mm" for name, d in rules)
    return svg.Drawing(
        "Blur against the hole", label, PLOT_W, PLOT_H, tuple(shapes), "blur", "camera-blur"
    )


def _rule_lines(axes, rules):
    for n, (name, diameter) in enumerate(sorted(rules, key=lambda rule: rule[1])):
        x, label = axes.x(diameter), f"{name} {number(diameter, 2)}"
        yield svg.line(x, 24.0, x, PLOT_BASE, "box-line")
        yield svg.text(x + 4, PLOT_BASE - 38 + 15 * n, label, "label")
