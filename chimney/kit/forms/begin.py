"""Three questions for a newcomer: what it is, how deep and how wide its hole, and which paper."""

from math import pi

from django import forms

from chimney.kit.catalogue.backs import BACK_KINDS, FIRST_BACK
from chimney.kit.catalogue.papers import STARTER
from chimney.kit.forms.cameras import CameraForm
from chimney.parts.fields import NumberField
from pinhole import media
from pinhole.solargraph import can

CAMERA_CHOICES = (
    ("box", "a box with a sheet holder"),
    ("tin", "a tin or carton, paper straight into it"),
    ("can", "a round can, paper along its wall"),
    ("lens", "a camera with a lens"),
)
CAMERA_NAMES = {"box": "Box", "tin": "Tin", "can": "Can", "lens": "Lens camera"}
# A hole pricked with a sewing needle, until it is measured (common practice), and how far such
# holes differ [mm].
NEEDLE_MM, NEEDLE_SD_MM = 0.4, 0.1
# What goes into a can, the longest that its wall takes first: nominal, as cut along and up [mm].
CAN_SHEETS = (("5x7 in", 177.8, 120.0), ("4x5 in", 125.0, 99.6), ("6x9 cm", 88.0, 58.0))
PAPERS = [(row[0], row[0]) for row in STARTER if media.medium(row[1]).is_timed]


class BeginForm(forms.Form):
    what = forms.ChoiceField(label="What is it?", choices=CAMERA_CHOICES, widget=forms.RadioSelect)
    depth_mm = NumberField(
        label="How deep: hole to paper",
        unit="mm",
        least=5,
        most=20_000,
        noun="The depth",
        help_text="A can: how wide it is inside. A lens: its focal length.",
    )
    hole_mm = NumberField(
        label="How wide is the hole",
        unit="mm",
        least=0.05,
        most=256,
        noun="The hole",
        required=False,
        help_text="A lens: its f-number. Left empty: not known yet, a needle's usual "
        f"{NEEDLE_MM:g} mm give or take {NEEDLE_SD_MM:g}.",
    )
    paper = forms.ChoiceField(label="Which paper?", choices=PAPERS)

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
        "name": CAMERA_NAMES[answer],
        "back": answer if answer in BACK_KINDS else FIRST_BACK,
        "size": "4x5 in",
    }
    data |= {"focal_mm": f"{depth:g}", "places": "1"}
    data |= {"loads_directly": "on"} if answer in ("tin", "can") else {}
    if answer == "lens":
        return data | {"marked_f_number": "" if hole is None else f"{hole:g}"}
    data["diameter_mm"] = f"{NEEDLE_MM if hole is None else hole:g}"
    if hole is None:
        data["diameter_sd_mm"] = f"{NEEDLE_SD_MM:g}"
    return data | (_can_sheet(depth) if answer == "can" else {})


def _can_sheet(diameter_mm):
    """The largest usual sheet that leaves a can's hole free."""
    around = pi * diameter_mm - 2 * can.CLEAR_MM
    size, along, up = next((row for row in CAN_SHEETS if row[1] <= around), CAN_SHEETS[-1])
    cut = f"{min(along, around):.0f}x{up:g}" if along > around > 0 else f"{along:g}x{up:g}"
    return {"size": size, "cut": cut, "visible": cut}
