from django import forms

from chimney.kit.forms.people import PersonField
from chimney.kit.models import Paper
from chimney.logbook import flows, queries
from chimney.logbook.models import Exposure, Sheet
from chimney.logbook.wording import NOT_EMPTY, pencilled
from chimney.parts import clock, readings
from chimney.parts.adding import AddableField
from chimney.parts.readings import ReadingForm
from chimney.parts.uploads import photo_of
from chimney.places import craft as places_craft
from chimney.places import queries as places
from chimney.places import wording


class LoadForm(forms.Form):
    paper = AddableField(
        Paper.objects.in_use(), empty_label=None, label="Paper", add=("kit:add", "paper")
    )
    sides = forms.MultipleChoiceField(
        label="Into",
        widget=forms.CheckboxSelectMultiple,
        error_messages={"required": "Tick at least one side."},
    )
    code = forms.RegexField(
        r"^[\w][\w .-]*$",
        max_length=20,
        label="Code to pencil on the back; more run on from it",
        error_messages={"invalid": "A code is letters, figures, dots and hyphens, like R-117."},
    )

    person = PersonField(empty_label="mine", label="Whose")

    def __init__(self, *args, sides=None, **kwargs):
        super().__init__(*args, **kwargs)
        self.sides = {side.key: side for side in (queries.sides() if sides is None else sides)}
        self.fields["sides"].choices = [
            (key, f"{side.words} ({side.holder.size})")
            for key, side in self.sides.items()
            if side.state == "empty"
        ]
        self.fields["sides"].error_messages["invalid_choice"] = NOT_EMPTY
        if not self.fields["person"].queryset.exists():
            del self.fields["person"]
        self.initial.setdefault("code", flows.next_code())

    def clean(self):
        cleaned = super().clean()
        sheet = Sheet.objects.filter(code__iexact=cleaned.get("code") or "").first()
        if sheet and (sheet.stage != Sheet.Stage.BOXED or sheet.paper != cleaned.get("paper")):
            self.add_error("code", pencilled(sheet))
        return cleaned

    def load(self):
        """The Loadings of the ticked sides."""
        sides = [
            (self.sides[key].holder, self.sides[key].letter) for key in self.cleaned_data["sides"]
        ]
        return flows.load_all(
            self.cleaned_data["paper"],
            sides,
            self.cleaned_data["code"],
            self.cleaned_data.get("person"),
        )


class RereadForm(ReadingForm):
    """A second reading, beginning where the first left off."""

    def __init__(self, data, *, exposure):
        super().__init__(data, initial=self.start(exposure))
        place, now = exposure.place or places.home(), clock.now()
        self.sun = places_craft.stands(place, now, exposure.azimuth_deg)
        self.stands(*wording.sun_over(place, now))

    @property
    def reading(self):
        """The Reading of a good form."""
        return readings.read(self.cleaned_data, **self.sun)

    @staticmethod
    def start(exposure):
        reading = exposure.calculation.reading
        shared = {"kind": reading.kind, "ev_iso": 100.0, "sky": "sun", "height": "high"}
        if reading.kind != "seconds":
            return shared | {"meter_f": 128.0, "meter_iso": 6.0}
        return shared | {"meter_f": reading.f_number, "meter_iso": reading.iso}


class SlipForm(forms.Form):
    slip = forms.ChoiceField(
        choices=[choice for choice in Exposure.Slip.choices if choice[0]], label="The dark slide"
    )


class GiveUpForm(forms.Form):
    stage = forms.ChoiceField(
        choices=[("spoiled", "spoiled"), ("lost", "lost")], label="This sheet is"
    )


class OwnerForm(forms.Form):
    person = PersonField(empty_label="nobody's", label="Whose it is")


class PurposeForm(forms.Form):
    purpose = forms.ChoiceField(choices=Sheet.Purpose, label="What it is made for")


class NoteForm(forms.Form):
    """Form for the subject and the note of an exposure, at any time."""

    subject = forms.CharField(label="Subject", max_length=120, required=False)
    note = forms.CharField(label="Weather and notes", max_length=300, required=False)
    photo = forms.FileField(
        label="A photo of the scene",
        required=False,
        widget=forms.ClearableFileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )

    def clean_photo(self):
        """Made small; None where none was sent."""
        upload = self.cleaned_data["photo"]
        return photo_of(upload) if upload else None
