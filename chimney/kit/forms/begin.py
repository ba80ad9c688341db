"""Questions to a newcomer of a camera: how deep it is and which paper; what else it may be has its
usual value.
"""

from math import pi
from typing import ClassVar

from django import forms

from chimney.kit.catalogue.backs import BACK_KINDS, FIRST_BACK
from chimney.kit.catalogue.papers import STARTER
from chimney.kit.forms.cameras import CameraForm
from chimney.kit.models import Camera
from chimney.kit.queries import free_name
from chimney.parts.fields import NominalField, NumberField
from chimney.parts.sentences import SIZES_LIKE, SUITS_DEPTH
from pinhole import media
from pinhole.solargraph import can

CAMERA_CHOICES = (
    ("tin", "a box or tin, paper straight into it"),
    ("box", "a box with a sheet holder"),
    ("can", "a round can, paper along its wall"),
    ("lens", "a camera with a lens"),
)
CAMERA_NAMES = {"box": "Box", "tin": "Box", "can": "Can", "lens": "Lens camera"}
# What goes into a can, the longest that its wall takes first: nominal, as cut along and up [mm].
CAN_SHEETS = (("5x7 in", 177.8, 120.0), ("4x5 in", 125.0, 99.6), ("6x9 cm", 88.0, 58.0))
PAPERS = [(row[0], row[0]) for row in STARTER if media.medium(row[1]).is_timed]


class BeginForm(forms.Form):
    START: ClassVar[dict[str, str]] = {
        "what": "tin",
        "depth_mm": "90",
        "paper": PAPERS[0][0],
        "size": "4x5 in",
    }

    what = forms.ChoiceField(label="What is it?", choices=CAMERA_CHOICES, widget=forms.RadioSelect)
    depth_mm = NumberField(
        label="How deep is the box?",
        unit="mm",
        least=5,
        most=20_000,
        noun="The depth",
    )
    hole_mm = NumberField(
        label="How wide is its hole?",
        unit="mm",
        least=0.05,
        most=256,
        noun="The hole",
        required=False,
        help_text=f"A lens: its f-number. Left empty: {SUITS_DEPTH}",
    )
    size = NominalField(label="Sheet", help_text=SIZES_LIKE)
    paper = forms.ChoiceField(label="Which paper?", choices=PAPERS, widget=forms.RadioSelect)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.camera_form = None

    def clean(self):
        cleaned = super().clean()
        if self.errors:
            return cleaned
        self.camera_form = CameraForm(_measures(cleaned))
        if not self.camera_form.is_valid():
            for name, messages in self.camera_form.errors.items():
                of_hole = name.startswith(("diameter", "marked"))
                self.add_error("hole_mm" if of_hole else "depth_mm", messages)
        return cleaned


def _measures(cleaned):
    """Values of the form of a camera, as if filled in by hand."""
    answer, depth, hole = cleaned["what"], cleaned["depth_mm"], cleaned["hole_mm"]
    data = {
        "name": free_name(Camera, CAMERA_NAMES[answer]),
        "back": answer if answer in BACK_KINDS else FIRST_BACK,
        "size": cleaned["size"],
    }
    data |= {"focal_mm": f"{depth:g}", "places": "1"}
    data |= {"loads_directly": "on"} if answer in ("tin", "can") else {}
    if answer == "lens":
        return data | {"marked_f_number": "" if hole is None else f"{hole:g}"}
    data["diameter_mm"] = "" if hole is None else f"{hole:g}"
    return data | (_can_sheet(depth) if answer == "can" else {})


def _can_sheet(diameter_mm):
    """The largest usual sheet that leaves a can's hole free."""
    around = pi * diameter_mm - 2 * can.CLEAR_MM
    size, along, up = next((row for row in CAN_SHEETS if row[1] <= around), CAN_SHEETS[-1])
    cut = f"{min(along, around):.0f}x{up:g}" if along > around > 0 else f"{along:g}x{up:g}"
    return {"size": size, "cut": cut, "visible": cut}
