"""Handles in the drawings of a camera: its depth, its sheet, its hole."""

from chimney.kit.figures.blur import BlurAxes, best_holes
from chimney.kit.figures.camera import curve_of
from chimney.parts import sizes, svg
from chimney.parts.scales import number

GRIP_MARK = (svg.circle(0, 0, 9, "grip"),)


def to_section(camera, layout):
    """The Handles of the camera from above: its back, and the end of its paper."""
    back_x, back_y = layout.at((0.0, camera.depth_mm))
    end_x, end_y = layout.at(curve_of(camera)[0])
    deep = f"{number(camera.depth_mm)} mm"
    return [
        svg.Handle("depth", back_x, back_y, "Depth", GRIP_MARK, axis="x", value=deep),
        svg.Handle("sheet", end_x, end_y, "Sheet", GRIP_MARK, step=6.0, value=camera.size),
    ]


def to_blur(camera):
    """The Handle on the blur of a hole against its width."""
    axes = BlurAxes(camera, best_holes(camera))
    place = axes.x(camera.diameter_mm), axes.y(axes.here)
    wide = f"{number(camera.diameter_mm)} mm"
    return [svg.Handle("hole", *place, "Hole", GRIP_MARK, axis="x", step=3.0, value=wide)]


def pulled(camera, layout, name, x, y):
    """{field: what is to stand in it} after the handle of that name was pulled to x, y."""
    if name == "depth":
        return _depth(camera, (x - layout.hole_x) / layout.scale)
    if name == "hole":
        return {"diameter_mm": f"{_hole_mm(camera, x):.3g}"}
    if name == "sheet":
        size = _nearest(_length_mm(camera, layout, x, y))
        return {"size": size, "cut": "", "visible": ""}
    return {}


def _depth(camera, deep_mm):
    depth_mm = max(5.0, round(deep_mm) if deep_mm > 50 else round(deep_mm * 2) / 2)
    return {"extension_mm" if camera.is_lens else "focal_mm": f"{depth_mm:g}"}


def _hole_mm(camera, x):
    axes = BlurAxes(camera, best_holes(camera))
    share = (x - axes.x(axes.least)) / (axes.x(axes.most) - axes.x(axes.least))
    return max(0.05, axes.least + min(1.0, max(0.0, share)) * (axes.most - axes.least))


def _length_mm(camera, layout, x, y):
    """Length of the paper, were its end there."""
    aside, behind = abs(layout.hole_y - y) / layout.scale, (x - layout.hole_x) / layout.scale
    return 2 * float(camera.geometry.along(aside, behind))


def _nearest(length_mm):
    """The named size whose long side, as cut, is nearest."""
    return min(sizes.NAMED_SIZES, key=lambda name: abs(sizes.cut(name)[1] - length_mm))
