from django import forms

from chimney.kit.models import Camera, Developer, Paper
from chimney.logbook import queries
from chimney.logbook.models import Exposure
from chimney.parts.fields import DurationField, NumberField, StopsField
from pinhole import light

KINDS = [("seconds", "seconds"), ("ev", "EV"), ("lux", "lux"), ("sky", "sun and cloud")]
FIELDS_OF = {
    "seconds": ("seconds", "meter_f", "meter_iso"),
    "ev": ("ev", "ev_iso"),
    "lux": ("lux",),
    "sky": ("sky", "height"),
}


class PlanForm(forms.Form):
    """What is in front of the camera, what the meter says, and what is in the holder."""

    subject = forms.CharField(label="Subject", max_length=120, required=False)
    camera = forms.ModelChoiceField(Camera.objects.in_use(), empty_label=None, label="Camera")
    paper = forms.ModelChoiceField(Paper.objects.developed(), empty_label=None, label="Paper")
    developer = forms.ModelChoiceField(
        Developer.objects.in_use(), required=False, empty_label="not decided", label="Developer in mind"
    )
    kind = forms.ChoiceField(label="What does the meter say?", choices=KINDS, widget=forms.RadioSelect)
    seconds = DurationField(label="reads", least_s=1 / 16000)
    meter_f = NumberField(label="at f/", least=0.7, most=1000, noun="The meter's f-number", prefixes=("f/", "f"))
    meter_iso = NumberField(label="set to ISO", least=0.1, most=102400, noun="The ISO", prefixes=("iso",))
    ev = NumberField(label="EV", least=-10, most=24, noun="The EV", prefixes=("ev",))
    ev_iso = NumberField(label="set to ISO", least=0.1, most=102400, noun="The ISO", prefixes=("iso",))
    lux = NumberField(label="lux", least=0.001, most=200_000, noun="The light", unit="lx")
    sky = forms.ChoiceField(label="The sky", choices=[(sky.name, sky.words) for sky in light.SKIES])
    height = forms.ChoiceField(label="The sun", choices=[(height.name, height.words) for height in light.HEIGHTS])
    ei_from = forms.ChoiceField(label="Rated by", choices=Exposure.EiFrom, widget=forms.RadioSelect)
    ei = NumberField(label="EI", least=0.05, most=3200, noun="The EI", prefixes=("ei",), required=False)
    filter_stops = StopsField(label="Filter takes", most=10, signed=False, required=False)
    compensation_stops = StopsField(label="Give more or less", most=5, required=False)
    school = forms.ChoiceField(label="Reciprocity", required=False)
    side = forms.ChoiceField(label="Sheet", required=False)
    again = forms.BooleanField(label="Expose it a second time on purpose", required=False)
    note = forms.CharField(label="Weather and notes", max_length=300, required=False)

    def __init__(self, data, *, sides=None):
        super().__init__(data)
        self.sides = {side.key: side for side in (queries.sides() if sides is None else sides)}
        self.fields["school"].choices = Paper.School.choices
        self.fields["side"].choices = [(key, key) for key in self.sides]
        self.fields["side"].error_messages["invalid_choice"] = "That side is not in the bag."
        for name in ("kind", "ei_from"):
            self.fields[name].widget.attrs["class"] = "choice"

    def full_clean(self):
        super().full_clean()
        self._forget_other_kinds()

    def _forget_other_kinds(self):
        """Only the chosen form of reading counts; what stands in the others is kept and not judged."""
        chosen = self.cleaned_data.get("kind") if hasattr(self, "cleaned_data") else None
        for kind, names in FIELDS_OF.items():
            if kind != chosen:
                for name in names:
                    self._errors.pop(name, None)

    def clean(self):
        given = super().clean()
        if given.get("ei_from") == Exposure.EiFrom.TYPED and given.get("ei") is None and "ei" not in self.errors:
            self.add_error("ei", forms.ValidationError("Type the EI.", code="required"))
        paper = given.get("paper")
        if paper and given.get("school") not in paper.schools:
            given["school"] = paper.school
        return given

    def forgive_empty(self):
        """While somebody is still typing, an empty field is not wrong yet."""
        for name in list(self.errors):
            if all(error.code == "required" for error in self.errors.as_data()[name]):
                del self.errors[name]
