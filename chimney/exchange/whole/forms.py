"""Bounds of a log that is handed over: in each field those of its form."""

import re
from functools import cache

from django import forms

from chimney.darkroom.forms import CorrectForm, RunForm
from chimney.darkroom.printing.forms import PrintForm
from chimney.darkroom.room.forms import BathForm, LightTestForm, TopUpForm, VesselForm
from chimney.field.forms import PlanForm, ShotForm
from chimney.field.photo.forms import PhotoForm
from chimney.kit.forms.cameras import CameraForm
from chimney.kit.forms.things import BoxForm, DeveloperForm, HolderForm, MeterForm, PaperForm
from chimney.logbook.models import Sheet
from chimney.parts import sizes
from chimney.places.forms import PlaceForm, ViewForm
from chimney.results.forms import VerdictForm
from chimney.results.scans.forms import ToneForm
from chimney.results.training.forms import TrialForm
from chimney.solar.cans.forms import EventForm, LookForm, PutOutForm
from chimney.solar.forms import SunForm
from pinhole import developing
from pinhole.solargraph import climate

# What stands in the address of a sheet.
CODE = re.compile(r"[^/?#\s](?:[^/?#\n\r]*[^/?#\s])?")

# The forms in which rows of a kind are typed.
TYPED_IN = {
    "places.place": (PlaceForm,),
    "places.view": (ViewForm,),
    "kit.developer": (DeveloperForm,),
    "kit.meter": (MeterForm,),
    "kit.camera": (CameraForm,),
    "kit.holder": (HolderForm,),
    "kit.paper": (PaperForm,),
    "kit.box": (BoxForm,),
    "logbook.exposure": (PlanForm,),
    "darkroom.vessel": (VesselForm,),
    "darkroom.lighttest": (LightTestForm,),
    "darkroom.bath": (BathForm,),
    "darkroom.topup": (TopUpForm,),
    "darkroom.run": (RunForm,),
    "darkroom.development": (CorrectForm,),
    "darkroom.print": (PrintForm,),
    "results.tonesetting": (ToneForm,),
    "results.scan": (ToneForm,),
    "results.trial": (TrialForm,),
    "results.verdict": (VerdictForm,),
    "field.shot": (ShotForm, PlanForm),
    "field.scenephoto": (PhotoForm,),
    "solar.solargraph": (SunForm, PutOutForm),
    "solar.event": (EventForm,),
    "solar.look": (LookForm,),
}
# What no form asks for, because it is counted, measured or reckoned: from where to where it may go.
LIFE_S, STOPS_BOUNDS, FINITE = 4e8, (-60, 60), (-1e9, 1e9)
RECKONED = {
    "planned_s": (1e-4, LIFE_S),
    "set_ev100": (-20, 30),
    "middle_ev100": (-40, 40),
    "corrected_ev100": (-40, 40),
    "equivalent_mm": (3, 3000),
    "facing_deg": (0, 360),
    "latitude_deg": (-90, 90),
    "longitude_deg": (-180, 180),
    "wide_px": (1, 4000),
    "high_px": (1, 4000),
    "given_s": (0, LIFE_S),
    "worth_s": (0, LIFE_S),
    "metered_s": (1e-9, LIFE_S),
    "needed_s": (1e-9, LIFE_S),
    "moved_s": (0, LIFE_S),
    "safe_s": (0, 1e7),
    "shows_s": (0, 1e7),
    "best_s": (1e-3, 1e6),
    "more_s": (-1e5, 1e5),
    "seconds": (0, 1e7),
    "hand_s": (0, 3600),
    "stops": STOPS_BOUNDS,
    "said_stops": STOPS_BOUNDS,
    "true_stops": STOPS_BOUNDS,
    "eye_stops": STOPS_BOUNDS,
    "preflash_stops": STOPS_BOUNDS,
    "log2_ei": STOPS_BOUNDS,
    "parts_before": (0.1, 1000),
    "volume_before_ml": (0, 1e5),
    "cut_width_mm": (1, 5000),
    "cut_height_mm": (1, 5000),
    "visible_width_mm": (0.1, 5000),
    "visible_height_mm": (0.1, 5000),
    "width_mm": (1, 5000),
    "height_mm": (1, 5000),
    "lane": (0, 99),
    "step": (0, 99),
    "band": (0, 20),
    "size_bytes": (1, 1e11),
    "width": (16, 1e6),
    "height": (16, 1e6),
    "bits": (1, 64),
    "quarters": (0, 3),
    "aperture": (0.001, 1e5),
    "open_from": (0, 1440),
    "open_to": (0, 1440),
    "stood_azimuth_deg": (-360, 720),
    "stood_tilt_deg": (-90, 90),
    "read_azimuth_deg": (-360, 720),
    "read_tilt_deg": (-90, 90),
    "read_roll_deg": (-180, 180),
    "read_azimuth_sd": (0, 180),
    "read_tilt_sd": (0, 180),
}
# Words that a script or a page sends rather than a person; what reads them knows no others.
ALLOWED_WORDS = {
    ("darkroom.lanetap", "word"): frozenset(developing.TAP_WORDS),
    ("logbook.sheet", "was"): frozenset(Sheet.Stage.values),
    ("solar.solargraph", "climate"): frozenset(known.code for known in climate.CLIMATES),
}
SIZES = ("size", "cut_to")
# An answer to what was learned: an EI, or a mean in the unit of its kind.
ANSWERED_EI, ANSWERED_MEAN = (0.01, 10_000), STOPS_BOUNDS


@cache
def bounds_of(kind, name):
    """(least, most) of a number, as the form of its kind has it."""
    for form in TYPED_IN.get(kind, ()):
        field = form.base_fields.get(name)
        if hasattr(field, "least"):
            return field.least, field.most
        if hasattr(field, "least_s"):
            return field.least_s, field.most_s
    return RECKONED.get(name, FINITE)


def check_words(kind, field, text):
    """Raises ValueError where the form of a kind would not take in those words."""
    if not text:
        if not field.blank or _is_required(kind, field.name):
            raise ValueError("is empty")
        return
    choices = ALLOWED_WORDS.get((kind, field.name))
    if choices and text not in choices:
        raise ValueError(f"is {text[:40]!r}, which is no choice")
    if field.name in SIZES:
        try:
            sizes.parse(text)
        except ValueError as error:
            raise ValueError(f"is {text!r}: {error}") from error
    if field.name == "code" and not CODE.fullmatch(text):
        raise ValueError(f"is {text!r}, under which no sheet is found")


@cache
def _is_required(kind, name):
    typed = (form.base_fields.get(name) for form in TYPED_IN.get(kind, ()))
    return any(field is not None and field.required for field in typed)


class BringForm(forms.Form):
    """A log that is handed over."""

    log = forms.FileField(
        label="A log, as ZIP or JSON",
        error_messages={"required": "Choose the file first.", "empty": "That file is empty."},
    )
