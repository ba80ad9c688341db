"""Form: does a sheet fit into a can?"""

from urllib.parse import urlencode

from django import forms

from chimney.parts.fields import NumberField, SizeField
from chimney.parts.scales import number
from pinhole.solargraph import can


class CanForm(forms.Form):
    """A can or a tin, and the sheet that shall curl in it."""

    diameter_mm = NumberField(
        label="Inner diameter", unit="mm", least=15, most=2000, noun="The diameter"
    )
    can_height_mm = NumberField(
        label="Inner height", unit="mm", least=15, most=3000, noun="The height"
    )
    sheet = SizeField(label="Sheet", help_text="5x7 in, 13x18 cm or 127x178")
    hole_up_mm = NumberField(
        label="Hole above the floor",
        unit="mm",
        least=1,
        most=3000,
        noun="The hole",
        required=False,
        help_text="Left empty: halfway up.",
    )

    def clean(self):
        cleaned = super().clean()
        if (cleaned.get("hole_up_mm") or 0) > cleaned.get("can_height_mm", 3000):
            self.add_error(
                "hole_up_mm", f"The hole would be above the can's {cleaned['can_height_mm']:g} mm."
            )
        return cleaned

    def ways(self):
        """Both ways round as the craft sees them, the better first; none while the form is
        wrong.
        """
        if not self.is_valid():
            return []
        cleaned = self.cleaned_data
        return can.fits(
            cleaned["diameter_mm"],
            cleaned["can_height_mm"],
            cleaned["sheet"],
            hole_up_mm=cleaned["hole_up_mm"],
        )

    def camera_query(self, fit):
        """Initial values of the form of a camera made of this can, as the query of its address."""
        size = f"{number(fit.length_mm, 4)}x{number(fit.height_mm, 4)}"
        fields = {
            "back": "can",
            "focal_mm": self["diameter_mm"].value(),
            "size": self["sheet"].value(),
        }
        height, hole_up = (self.cleaned_data[name] for name in ("can_height_mm", "hole_up_mm"))
        fields |= {"height_mm": f"{height:g}"}
        if hole_up:
            fields |= {"offset_mm": f"{fit.height_mm / 2 - hole_up:g}"}
        return urlencode(fields | {"cut": size, "visible": size, "loads_directly": "on"})
