"""A picture of the pinhole and its scale, its edge corrected by hand, and what is kept of it."""

from django import forms

from chimney.kit.hole import files
from chimney.parts import drag
from chimney.parts.fields import NumberField
from chimney.parts.sentences import NEW_HOLE

INCH_MM = 25.4


class HoleForm(forms.Form):
    """The scale is typed, or stated by the file, or read off a mm scale in the picture."""

    picture = forms.FileField(
        label="Scan or photo of the pinhole",
        widget=forms.ClearableFileInput(attrs={"accept": "image/jpeg,image/png,image/tiff"}),
        help_text="Straight on, one hole, lit from behind or black behind it. It is measured and "
        "not kept.",
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
        label="or so many mm of a scale in it",
        unit="mm",
        least=0.1,
        most=1000,
        noun="The scale",
        required=False,
    )
    scale_px = NumberField(
        label="are so many pixels",
        unit="px",
        least=10,
        most=50_000,
        noun="The pixels",
        required=False,
    )

    def clean(self):
        cleaned = super().clean()
        if cleaned.get("picture") and not self.errors:
            try:
                cleaned["greys"], stated = files.greys(cleaned["picture"])
            except forms.ValidationError as error:
                self.add_error("picture", error)
            else:
                dpi = self._dpi(cleaned, stated)
                cleaned["mm_per_px"] = dpi and INCH_MM / dpi
        return cleaned

    def _dpi(self, cleaned, stated):
        millimetres, pixels = cleaned.get("scale_mm"), cleaned.get("scale_px")
        if bool(millimetres) != bool(pixels):
            self.add_error(
                "scale_px" if millimetres else "scale_mm",
                "A scale needs both its mm and its pixels.",
            )
            return None
        if millimetres:
            return pixels / millimetres * INCH_MM
        dpi = cleaned.get("dpi") or stated
        if dpi is None:
            self.add_error(
                "dpi",
                "The file does not state its resolution: type the dpi, or a scale in mm "
                "and pixels.",
            )
        return dpi


class OutlineForm(forms.Form):
    """The edge corrected by hand: the points as they stand, and the one that was dragged."""

    points = forms.RegexField(r"^[\d., -]{10,400}$")
    mm_per_px = NumberField(least=1e-6, most=10, noun="The scale")
    wide_px = NumberField(least=10, most=2000, noun="The picture")
    high_px = NumberField(least=10, most=2000, noun="The picture")
    dragged = forms.CharField(max_length=60, required=False)

    def clean_points(self):
        pairs = [pair.split(",") for pair in self.cleaned_data["points"].split()]
        try:
            return [(float(x), float(y)) for x, y in pairs]
        except ValueError as error:
            raise forms.ValidationError("A point has an x and a y.") from error

    def clean(self):
        """The point that was dragged lies where it was dragged to."""
        cleaned = super().clean()
        if cleaned.get("dragged") and cleaned.get("points"):
            handle, x, y = drag.read(cleaned["dragged"]) or ("", 0.0, 0.0)
            if handle.isdecimal() and int(handle) < len(cleaned["points"]):
                cleaned["points"][int(handle)] = x, y
            else:
                self.add_error("points", "That is no point of this edge.")
        return cleaned


class CountForm(forms.Form):
    """The hole over a fine scale under a magnifier: so many divisions of so many mm."""

    divisions = NumberField(label="Divisions it spans", least=0.25, most=1000, noun="The count")
    division_mm = NumberField(label="each of", unit="mm", least=0.001, most=10, noun="A division")

    def measured(self):
        """Diameter and its doubt: each end somewhere in half a division, sd 1 / sqrt(48) of one."""
        cleaned = self.cleaned_data
        sd_mm = cleaned["division_mm"] * (2 / 48) ** 0.5
        return {
            "diameter_mm": f"{cleaned['divisions'] * cleaned['division_mm']:.4g}",
            "diameter_sd_mm": f"{sd_mm:.2g}",
        }


class MeasuredForm(forms.Form):
    """Measurement to keep, corrected by hand if need be."""

    diameter_mm = NumberField(label="Pinhole", unit="mm", least=0.05, most=100, noun="The pinhole")
    diameter_sd_mm = NumberField(
        label="Measured to within", unit="mm", least=0.0005, most=5, noun="The error"
    )
    is_new_hole = forms.BooleanField(label=NEW_HOLE, required=False)
