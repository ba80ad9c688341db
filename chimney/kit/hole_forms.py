"""A picture of the pinhole and its scale, and what was found in it."""

from dataclasses import dataclass

from django import forms

from chimney.kit import pictures
from chimney.parts import svg
from chimney.parts.fields import NumberField
from chimney.parts.scales import number
from pinhole import hole

INCH_MM = 25.4


@dataclass(frozen=True)
class Found:
    """A measured Hole with its drawing and the scale it was measured at."""

    hole: hole.Hole
    drawing: svg.Drawing
    dpi: float


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
        except hole.UnusableError as error:
            self.add_error("picture", str(error))
            return
        self.found = Found(found, _drawing(array, found), dpi)

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


def _drawing(array, found):
    """The hole enlarged, its outline drawn over the picture."""
    address, outline, (width, height) = pictures.crop(array, found.outline)
    shapes = (
        svg.Shape("image", {"href": address, "width": width, "height": height}),
        svg.polygon(outline, "outline"),
    )
    words = f"mean width {number(found.mean_mm)} mm, roundness {number(found.roundness, 2)}"
    return svg.Drawing("The hole and its outline", words, float(width), float(height), shapes, "hole")


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
