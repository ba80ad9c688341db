"""A camera's measures as they are typed."""

from django import forms
from django.utils.html import format_html_join

from chimney.kit.catalogue import backs
from chimney.kit.forms.things import ThingForm
from chimney.kit.models import Camera
from chimney.parts.fields import NominalField, NumberField, SizeField, WholeField, leave_out
from chimney.parts.sentences import NEW_HOLE, SIZES_LIKE, SUITS_DEPTH


def depth_by_back():
    """A label that says for each back what is measured; the page shows the one of the back."""
    span = '<span class="for-some for-{}">{}</span>'
    words = ((name, kind.depth_words) for name, kind in backs.BACK_KINDS.items())
    return format_html_join(" ", span, words)


class CameraMeasures(ThingForm):
    """Form for the measures of a camera: each back asks for what it needs, the rest is folded
    away.
    """

    focal_mm = NumberField(
        unit="mm",
        least=5,
        most=20_000,
        noun="The focal length",
    )
    diameter_mm = NumberField(
        label="Pinhole",
        unit="mm",
        least=0.05,
        most=100,
        noun="The pinhole",
        required=False,
        help_text=f"Left empty: {SUITS_DEPTH}",
    )
    marked_f_number = NumberField(
        label="Marked f/",
        least=0.7,
        most=256,
        noun="The f-number",
        prefixes=("f/", "f"),
        required=False,
    )
    apertures = forms.CharField(
        label="It can be set to f/",
        max_length=80,
        required=False,
        help_text="As they are marked: 5.6 8 11 16. Left empty: its widest alone.",
    )
    extension_mm = NumberField(
        label="Lens to paper",
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
    size = NominalField(label="Sheet, nominal", help_text=SIZES_LIKE)
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
        help_text="Left empty: 3 mm of rail each side; in a can, all of it.",
    )
    offset_mm = NumberField(
        label="Paper's middle above the hole",
        unit="mm",
        least=-1000,
        most=1000,
        noun="The offset",
        required=False,
        help_text="Negative below. Left empty: the sheet stands on the floor, the hole is halfway "
        "up; without a height: at the hole's.",
    )
    height_mm = NumberField(
        label="Inner height",
        unit="mm",
        least=15,
        most=3000,
        noun="The height",
        required=False,
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
    is_new_hole = forms.BooleanField(label=NEW_HOLE, required=False)

    class Meta:
        model = Camera
        widgets = {"body": forms.HiddenInput}
        fields = ["name", "body", "back", "focal_mm", "diameter_mm", "marked_f_number"]
        fields += [
            "apertures",
            "extension_mm",
            "places",
            "diameter_sd_mm",
            "size",
            "height_mm",
            "offset_mm",
        ]
        fields += ["wall_mm", "opening_mm", "opening_depth_mm", "measured_on", "body_mm", "note"]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["focal_mm"].label = depth_by_back()
        if not self.instance.pk:
            del self.fields["is_new_hole"]

    @property
    def asked(self):
        """[(field, its classes)] of what a camera is at least."""
        names = ("name", "back", "focal_mm", "height_mm", "diameter_mm", "marked_f_number")
        names += ("apertures",)
        renews = ("is_new_hole",) if self.instance.pk else ()
        return [self._shown(name) for name in (*names, *renews, "size", "loads_directly")]

    @property
    def more(self):
        """[(field, its classes)] of what is usual unless it was measured."""
        asked_names = {field.name for field, _ in self.asked}
        names = [field.name for field in self.visible_fields()]
        return [self._shown(name) for name in names if name not in asked_names]

    @property
    def more_is_wrong(self):
        return any(field.errors for field, _ in self.more)

    def _shown(self, name):
        classes = [f"for-{back}" for back in backs.asking(name)]
        return self[name], " ".join(["for-some", *classes] if classes else [])

    def _clean_fields(self):
        """Leave out what another back would need: it is neither asked nor refused."""
        super()._clean_fields()
        back = backs.BACK_KINDS.get(self.cleaned_data.get("back"))
        if back:
            leave_out(self, backs.special_fields() - {*back.fields})
