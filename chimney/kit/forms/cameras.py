"""A camera's measures as they are typed, and whether a sheet fits into a can."""

import math

from django import forms

from chimney.kit.forms.things import ThingForm
from chimney.kit.models import LEAST_N, MOST_N, Camera, Holder
from chimney.kit.page import study
from chimney.parts import sizes
from chimney.parts.fields import NominalField, NumberField, SizeField, WholeField
from pinhole import optics
from pinhole.solargraph import can


class CameraForm(ThingForm):
    focal_mm = NumberField(
        label="Focal length",
        unit="mm",
        least=5,
        most=20_000,
        noun="The focal length",
        help_text="Hole to paper. A can: its inner diameter. A curved back: its radius.",
    )
    diameter_mm = NumberField(
        label="Pinhole", unit="mm", least=0.05, most=100, noun="The pinhole", required=False
    )
    marked_f_number = NumberField(
        label="A lens: marked f/",
        least=0.7,
        most=256,
        noun="The f-number",
        prefixes=("f/", "f"),
        required=False,
    )
    extension_mm = NumberField(
        label="A lens: lens to paper",
        unit="mm",
        least=5,
        most=20_000,
        noun="The extension",
        required=False,
        help_text="Left empty: its focal length, for far subjects.",
    )
    diameter_sd_mm = NumberField(
        label="Measured to within",
        unit="mm",
        least=0.0005,
        most=5,
        noun="The measuring error",
        required=False,
        help_text="One standard deviation. Left empty: 3 % of the pinhole.",
    )
    measured_on = forms.DateField(
        label="Measured on",
        required=False,
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
    )
    body_mm = NumberField(
        label="Room behind the front sighting dot",
        unit="mm",
        least=10,
        most=5000,
        noun="The room",
        required=False,
        help_text="Left empty: the focal length.",
    )
    size = NominalField(label="Sheet, nominal", help_text="4x5 in, 13x18 cm or 102x127")
    cut = SizeField(
        label="As cut",
        unit="mm",
        required=False,
        help_text="Width x height. Left empty: as such sheets usually are.",
    )
    visible = SizeField(
        label="Visible inside the rails",
        unit="mm",
        required=False,
        help_text="Left empty: 3 mm of rail each side.",
    )
    offset_mm = NumberField(
        label="Paper's middle above the hole",
        unit="mm",
        least=-1000,
        most=1000,
        noun="The offset",
        required=False,
        help_text="For a can; negative below.",
    )
    wall_mm = NumberField(
        label="Thickness of the pinhole plate",
        unit="mm",
        least=0.005,
        most=10,
        noun="The thickness",
        required=False,
    )
    opening_mm = NumberField(
        label="Opening at the plate",
        unit="mm",
        least=0.5,
        most=500,
        noun="The opening",
        required=False,
    )
    opening_depth_mm = NumberField(
        label="Depth of that opening",
        unit="mm",
        least=0.1,
        most=500,
        noun="The depth",
        required=False,
        help_text="The wall's thickness, the plate inside or outside.",
    )
    places = WholeField(
        label="Sheets in it, one after the other",
        least=1,
        most=8,
        noun="The number of sheets",
        required=False,
    )
    loads_directly = forms.BooleanField(
        label="Paper goes straight into this camera, without a holder", required=False
    )

    class Meta:
        model = Camera
        widgets = {"body": forms.HiddenInput}
        fields = [
            "name",
            "body",
            "back",
            "focal_mm",
            "diameter_mm",
            "marked_f_number",
            "extension_mm",
            "places",
            "diameter_sd_mm",
            "size",
            "offset_mm",
            "wall_mm",
            "opening_mm",
            "opening_depth_mm",
            "measured_on",
            "body_mm",
            "note",
        ]

    field_order = [
        "name",
        "back",
        "focal_mm",
        "diameter_mm",
        "diameter_sd_mm",
        "size",
        "cut",
        "visible",
        "loads_directly",
    ]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        camera = self.instance
        if camera.pk:
            self.initial["cut"] = (camera.cut_width_mm, camera.cut_height_mm)
            self.initial["visible"] = (camera.visible_width_mm, camera.visible_height_mm)
            self.initial["loads_directly"] = Holder.objects.in_use().filter(camera=camera).exists()

    def clean(self):
        cleaned = super().clean()
        if cleaned.get("back") == Camera.Shape.LENS:
            self._check_lens(cleaned)
        elif cleaned.get("diameter_mm") is None and "diameter_mm" not in self.errors:
            self.add_error(
                "diameter_mm", forms.ValidationError("This field is required.", code="required")
            )
        self._check_hole(
            cleaned.get("focal_mm"), cleaned.get("diameter_mm"), cleaned.get("diameter_sd_mm")
        )
        if cleaned.get("size") and not {"cut", "visible"} & set(self.errors):
            self._check_sizes(cleaned)
        return cleaned

    def _check_lens(self, cleaned):
        """A lens is known by its marks; what stands for its hole follows from them."""
        focal, marked, extension = (
            cleaned.get(name) for name in ("focal_mm", "marked_f_number", "extension_mm")
        )
        if marked is None and "marked_f_number" not in self.errors:
            self.add_error("marked_f_number", "A lens needs its marked f-number.")
        if focal and extension and extension < focal * 0.99:
            self.add_error(
                "extension_mm",
                f"Nearer than {focal:g} mm no lens of that focal length draws a picture.",
            )
        if focal and marked:
            cleaned["diameter_mm"] = focal / marked

    def _check_hole(self, focal_mm, diameter_mm, sd_mm):
        if not focal_mm or not diameter_mm or self.cleaned_data.get("back") == Camera.Shape.LENS:
            return
        n = optics.f_number(focal_mm, diameter_mm)
        is_f = f"A pinhole of {diameter_mm:g} mm in a {focal_mm:g} mm box is f/{n:.3g}"
        if n < LEAST_N:
            # A slipped decimal point is the usual cause: the first shift of it that makes a
            # pinhole.
            meant = next(
                diameter_mm / 10**shift for shift in (1, 2, 3, 4) if n * 10**shift >= LEAST_N
            )
            self.add_error(
                "diameter_mm",
                f"{is_f}, and less than f/{LEAST_N} is no pinhole: did you mean {meant:g}?",
            )
        elif n > MOST_N:
            self.add_error("diameter_mm", f"{is_f}; the limit is f/{MOST_N}.")
        if sd_mm and sd_mm > diameter_mm / 2:
            self.add_error(
                "diameter_sd_mm", "The measuring error must be less than half the pinhole."
            )

    def _check_sizes(self, cleaned):
        long_side_across = sizes.cut(cleaned["size"])[::-1]
        cut = cleaned["cut"] = cleaned.get("cut") or long_side_across
        nominal_short, nominal_long = sizes.NAMED.get(cleaned["size"]) or sizes.parse(
            cleaned["size"]
        )
        if min(cut) > nominal_short + 0.5 or max(cut) > nominal_long + 0.5:
            self.add_error(
                "cut", f"A sheet cut larger than its nominal {cleaned['size']} would jam."
            )
        cleaned["visible"] = cleaned.get("visible") or sizes.visible(*cut)
        self._check_curve(cleaned, cut[0], cleaned["visible"][0])
        if cleaned.get("visible") and any(
            seen > whole for seen, whole in zip(cleaned["visible"], cut, strict=True)
        ):
            self.add_error(
                "visible",
                f"No more can be visible than the cut sheet has: {cut[0]:g}x{cut[1]:g} mm.",
            )

    def study(self):
        """What the measures typed so far amount to, or None while they do not make a camera; a name
        is not needed.
        """
        self.is_valid()
        return None if set(self.errors) - {"name", "note"} else study(self.instance)

    def clean_places(self):
        return self.cleaned_data["places"] or 1

    def clean_offset_mm(self):
        return self.cleaned_data["offset_mm"] or 0.0

    def _check_curve(self, cleaned, length, seen):
        """Paper along a curve: not longer than the way around, and clear of the hole."""
        focal, back = cleaned.get("focal_mm"), cleaned.get("back")
        if not focal or back not in (Camera.Shape.CAN, Camera.Shape.ARC):
            return
        around = math.pi * focal
        if length > around:
            limit = "circumference" if back == Camera.Shape.CAN else "half turn"
            self.add_error(
                "cut", f"{length:g} mm along the wall is more than the {limit} of {around:.0f} mm."
            )
        elif back == Camera.Shape.CAN and around - length < 2 * can.CLEAR_MM:
            trim = length - around + 2 * can.CLEAR_MM
            self.add_error(
                "cut",
                f"The paper would cover the hole: trim {trim:.0f} mm, so that "
                f"{can.CLEAR_MM:g} mm stay free.",
            )
        elif seen > around:
            self.add_error("visible", f"No more than {around:.0f} mm can be seen.")

    def _post_clean(self):
        for part in ("cut", "visible"):
            if isinstance(self.cleaned_data.get(part), tuple):
                width, height = self.cleaned_data[part]
                setattr(self.instance, f"{part}_width_mm", width)
                setattr(self.instance, f"{part}_height_mm", height)
        super()._post_clean()
