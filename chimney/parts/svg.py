"""Drawings as SVG, made of shapes in mm or px. Colours come from classes, so that dress and print
can change them.
"""

from dataclasses import dataclass, field
from functools import cache, cached_property
from html import escape

from django.utils.safestring import mark_safe


@dataclass(frozen=True)
class Shape:
    """tag, its attributes (underscores become hyphens, numbers are shortened), and text if any."""

    tag: str
    attributes: dict
    text: str = ""

    def markup(self):
        return self._written

    @cached_property
    def _written(self):
        # Shapes that are kept are written once.
        inner = escape(self.text) if self.text else ""
        return f"<{self.tag}{_attributes(self.attributes)}>{inner}</{self.tag}>"


@dataclass(frozen=True)
class Link:
    """A Shape that leads to an address; words: what a reader hears."""

    href: str
    words: str
    shape: Shape

    def markup(self):
        attributes = _attributes({"href": self.href, "aria_label": self.words})
        return f"<a{attributes}>{self.shape.markup()}</a>"


@dataclass(frozen=True)
class Hatch:
    """Slanted lines so far apart, which a shape is filled with by `fill="url(#id)"`."""

    id: str
    apart: float

    def markup(self):
        box = {"id": self.id, "width": self.apart, "height": self.apart}
        box |= {"patternUnits": "userSpaceOnUse", "patternTransform": "rotate(45)"}
        stroke = line(0.0, 0.0, 0.0, self.apart, "hatch").markup()
        return f"<defs><pattern{_attributes(box)}>{stroke}</pattern></defs>"


@dataclass(frozen=True)
class Drawing:
    """Shapes in a box of width x height; name and words are its text alternative and carry the same
    numbers.
    """

    name: str
    words: str
    width: float
    height: float
    shapes: tuple = field(default_factory=tuple)
    css: str = ""
    id: str = ""
    # An image is one thing to a reader; where shapes in it lead somewhere it is a group.
    role: str = "img"

    @property
    def svg(self):
        return self._markup({})

    @property
    def oob(self):
        """The same as a live answer brings it along, to take the place of the one with its id."""
        return self._markup({"hx_swap_oob": "true"})

    def _markup(self, more):
        box = {
            "viewBox": f"0 0 {_short(self.width)} {_short(self.height)}",
            "class": f"drawing {self.css}".strip(),
        }
        attributes = {
            "id": self.id,
            "role": self.role,
            "aria_label": f"{self.name}: {self.words}" if self.name else "",
        } | more
        inner = "".join(shape.markup() for shape in self.shapes)
        return mark_safe(f"<svg{_attributes(box | attributes)}>{inner}</svg>")


# Radius that a thumb hits, in a drawing that a phone shows at two thirds.
THUMB_REACH = 33


@dataclass(frozen=True)
class Handle:
    """A thing to drag, a slider to a reader: name, place, what it moves, shapes about (0, 0); axis:
    "x" or "y" to keep to one; value: where it stands, in words.
    """

    name: str
    x: float
    y: float
    words: str
    shapes: tuple
    axis: str = ""
    step: float = 2.0
    value: str = ""

    def markup(self, over):
        """Its SVG on the glass over a Drawing, along whose width or height it slides."""
        place = {
            "transform": f"translate({_short(self.x)} {_short(self.y)})",
            "class": "handle",
            "tabindex": 0,
        }
        upright = self.axis == "y"
        attributes = {
            "role": "slider",
            "aria_label": self.words,
            "aria_valuemin": "0",
            "aria_valuemax": _short(over.height if upright else over.width),
            "aria_valuenow": _short(self.y if upright else self.x),
            "aria_valuetext": self.value or f"{_short(self.x)}, {_short(self.y)}",
            "aria_orientation": "vertical" if upright else "horizontal",
            "data_handle": self.name,
            "data_axis": self.axis,
        }
        where = {"data_x": self.x, "data_y": self.y, "data_step": self.step}
        inner = "".join(shape.markup() for shape in (*self.reach, *self.shapes))
        return f"<g{_attributes(place | attributes | where)}>{inner}</g>"

    @property
    def reach(self):
        """Circle that a thumb can hit around a small round thing."""
        small = all(shape.tag == "circle" for shape in self.shapes)
        return (circle(0, 0, THUMB_REACH, "reach"),) if small else ()


def handles(over, form, grips, *, live=False, of=""):
    """The Handles of a Drawing as a sheet of glass over it; `form` is the id of the form they speak
    to, `of` tells several drawings of one form apart.
    """
    box = {"viewBox": f"0 0 {_short(over.width)} {_short(over.height)}", "class": "drawing handles"}
    attributes = {
        "id": f"{form}{of}-handles",
        "data_handles": "on",
        "data_form": form,
        "role": "group",
    }
    attributes |= {"aria_label": f"{over.name}: drag, or use the arrow keys"} | (
        {"hx_swap_oob": "true"} if live else {}
    )
    return mark_safe(
        f"<svg{_attributes(box | attributes)}>{''.join(grip.markup(over) for grip in grips)}</svg>"
    )


def hatch(name, apart):
    return Hatch(name, apart)


def line(x1, y1, x2, y2, css=""):
    return Shape("line", {"x1": x1, "y1": y1, "x2": x2, "y2": y2, "class": css})


def rect(x, y, width, height, css="", **more):
    return Shape("rect", {"x": x, "y": y, "width": width, "height": height, "class": css, **more})


def circle(cx, cy, r, css=""):
    return Shape("circle", {"cx": cx, "cy": cy, "r": r, "class": css})


def polygon(points, css="", **more):
    return Shape("polygon", {"points": _points(points), "class": css, **more})


def polyline(points, css="", **more):
    return Shape("polyline", {"points": _points(points), "class": css, **more})


def text(x, y, label, css="", anchor="start", *, fit=""):
    """fit: how long it may be where it is printed [mm]."""
    attributes = {"x": x, "y": y, "class": css, "text_anchor": anchor, "data_fit": fit}
    return Shape("text", attributes, str(label))


def _attributes(values):
    """Markup of attributes; an empty one is left out. Numbers need no escaping, and most attributes
    are numbers.
    """
    shapes = []
    for key, value in values.items():
        if value != "":
            text = escape(value) if isinstance(value, str) else _short(value)
            shapes.append(f' {_name(key)}="{text}"')
    return "".join(shapes)


@cache
def _name(key):
    return key.replace("_", "-")


def _short(value):
    return f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)


def _points(points):
    return " ".join([f"{x:.1f},{y:.1f}" for x, y in points])
