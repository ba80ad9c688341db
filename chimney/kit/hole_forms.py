"""A picture of the pinhole and its scale, and what was found in it."""

from dataclasses import dataclass

import numpy as np
from django import forms

from chimney.kit import pictures
from chimney.parts import drag, svg
from chimney.parts.fields import NumberField
from chimney.parts.scales import number
from pinhole import hole, outline

INCH_MM = 25.4


# Handles on the edge of a found hole, for correcting it by hand.
GRIPS = 10


@dataclass(frozen=True)
class Found:
    """A measured hole, its picture, its edge over it, and what OutlineForm needs to correct that edge."""

    hole: hole.Hole | outline.Outline
    picture: svg.Drawing | None
    edge: svg.Drawing
    points: list
    mm_per_px: float
    live: bool = False

    @property
    def burr(self):
        return getattr(self.hole, "burr", False)

    @property
    def typed(self):
        """The state of OutlineForm."""
        points = " ".join(f"{x:.2f},{y:.2f}" for x, y in self.points)
        return {
            "points": points,
            "mm_per_px": f"{self.mm_per_px:.8g}",
            "wide_px": f"{self.edge.width:g}",
            "high_px": f"{self.edge.height:g}",
        }

    @property
    def handles(self):
        grips = [
            svg.Handle(str(n), float(x), float(y), f"Edge point {n + 1}", (svg.circle(0, 0, 11, "grip"),), step=1.0)
            for n, (x, y) in enumerate(self.points)
        ]
        return svg.handles(self.edge, "outline", grips, live=self.live)


class HoleForm(forms.Form):
    """The scale is typed, or stated by the file, or read off a mm scale in the picture."""

    picture = forms.FileField(
        label="Scan or photo of the pinhole",
        widget=forms.ClearableFileInput(attrs={"accept": "image/jpeg,image/png,image/tiff"}),
        help_text="Straight on, one hole, lit from behind or black behind it. It is measured and not kept.",
    )
    dpi = NumberField(
        label="Scanned at",
        unit="dpi",
        least=50,
        most=20_000,
        noun="The resolution",
        required=False,
        help_text="Left empty: what the file says.",
    )
    scale_mm = NumberField(
        label="or so many mm of a scale in it", unit="mm", least=0.1, most=1000, noun="The scale", required=False
    )
    scale_px = NumberField(
        label="are so many pixels", unit="px", least=10, most=50_000, noun="The pixels", required=False
    )

    def clean(self):
        given = super().clean()
        self.found = None
        if given.get("picture") and not self.errors:
            self._measure(given)
        return given

    def _measure(self, given):
        try:
            array, stated = pictures.greys(given["picture"])
        except forms.ValidationError as error:
            self.add_error("picture", error)
            return
        dpi = self._dpi(given, stated)
        if dpi is None:
            return
        try:
            found = hole.measure(array, INCH_MM / dpi)
        except ValueError as error:
            self.add_error("picture", str(error))
            return
        self.found = _found(array, found, INCH_MM / dpi)

    def _dpi(self, given, stated):
        millimetres, pixels = given.get("scale_mm"), given.get("scale_px")
        if bool(millimetres) != bool(pixels):
            self.add_error("scale_px" if millimetres else "scale_mm", "A scale needs both its mm and its pixels.")
            return None
        if millimetres:
            return pixels / millimetres * INCH_MM
        dpi = given.get("dpi") or stated
        if dpi is None:
            self.add_error("dpi", "The file does not state its resolution: type the dpi, or a scale in mm and pixels.")
        return dpi


def _found(array, found, mm_per_px):
    """The hole enlarged, its edge on a sheet of its own over the picture, with the scale of the enlargement."""
    address, edge, (width, height) = pictures.crop(array, found.outline)
    image = (svg.Shape("image", {"href": address, "width": width, "height": height}),)
    picture = svg.Drawing("The picture", "the plate enlarged", float(width), float(height), image)
    enlarged = np.ptp(edge[:, 0]) / np.ptp(found.outline[:, 0])
    return Found(found, picture, _edge(found, edge, width, height), _grips(edge), mm_per_px / enlarged)


def _edge(found, edge, width, height):
    words = f"mean width {number(found.mean_mm)} mm, roundness {number(found.roundness, 2)}"
    shape = (svg.polygon(edge, "outline"),)
    return svg.Drawing("The hole and its outline", words, float(width), float(height), shape, "hole", "edge")


def _grips(edge):
    return [tuple(map(float, edge[n * len(edge) // GRIPS])) for n in range(GRIPS)]


class OutlineForm(forms.Form):
    """The edge corrected by hand: the points as they stand, and the one that was dragged."""

    points = forms.RegexField(r"^[\d., -]{10,400}$")
    mm_per_px = NumberField(least=1e-6, most=10, noun="The scale")
    wide_px = NumberField(least=10, most=2000, noun="The picture")
    high_px = NumberField(least=10, most=2000, noun="The picture")
    dragged = forms.CharField(max_length=60, required=False)

    def clean(self):
        given = super().clean()
        self.found = None
        if not self.errors:
            try:
                self._measure(given)
            except ValueError as error:
                self.add_error("points", str(error) or "Those points make no hole.")
        return given

    def _measure(self, given):
        points = [tuple(map(float, pair.split(","))) for pair in given["points"].split()]
        if any(len(point) != 2 for point in points):
            raise ValueError("A point has an x and a y.")
        if given["dragged"]:
            which, x, y = drag.read(given["dragged"]) or ("", 0.0, 0.0)
            if not which.isdecimal() or int(which) >= len(points):
                raise ValueError("That is no point of this edge.")
            points[int(which)] = x, y
        found = outline.from_points(points, given["mm_per_px"])
        edge = _edge(found, found.outline, given["wide_px"], given["high_px"])
        self.found = Found(found, None, edge, points, given["mm_per_px"], live=True)


class CountForm(forms.Form):
    """The hole over a fine scale under a magnifier: so many divisions of so many mm."""

    divisions = NumberField(label="Divisions it spans", least=0.25, most=1000, noun="The count")
    division_mm = NumberField(label="each of", unit="mm", least=0.001, most=10, noun="A division")

    def measured(self):
        """Diameter and its doubt: each end somewhere in half a division, sd 1 / sqrt(48) of one."""
        given = self.cleaned_data
        sd_mm = given["division_mm"] * (2 / 48) ** 0.5
        return {"diameter_mm": f"{given['divisions'] * given['division_mm']:.4g}", "diameter_sd_mm": f"{sd_mm:.2g}"}


class MeasuredForm(forms.Form):
    """What is kept of a measurement, corrected by hand if need be."""

    diameter_mm = NumberField(label="Pinhole", unit="mm", least=0.05, most=100, noun="The pinhole")
    diameter_sd_mm = NumberField(label="Measured to within", unit="mm", least=0.0005, most=5, noun="The error")
