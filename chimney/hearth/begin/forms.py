"""Questions behind each door of the first page, three at most; the rest has its usual value."""

from typing import ClassVar

from django import forms

from chimney.kit.forms.begin import BeginForm
from chimney.kit.forms.roster import RosterForm
from chimney.parts.fields import NumberField
from chimney.places import files
from chimney.places.forms import AngleField
from pinhole import light

# How a newcomer tells the skies apart: by the shadows.
SHADOWS = {
    "sun": "sharp shadows",
    "haze": "soft shadows",
    "bright": "no shadows",
    "grey": "grey and dull",
    "heavy": "rain, or nearly",
}
LATITUDE = AngleField(most=90, positive="N", negative="S", noun="The latitude")
LONGITUDE = AngleField(most=180, positive="E", negative="W", noun="The longitude")


class MinutesForm(BeginForm):
    """Form of the first time: depth, paper and light; folded away what the box is otherwise."""

    START: ClassVar[dict[str, str]] = BeginForm.START | {"sky": "sun"}

    sky = forms.ChoiceField(
        label="What is the light?",
        choices=[(sky.name, SHADOWS[sky.name]) for sky in light.SKIES],
        widget=forms.RadioSelect,
    )


class LensForm(MinutesForm):
    """The same of a camera with a lens."""

    START: ClassVar[dict[str, str]] = MinutesForm.START | {
        "what": "lens",
        "depth_mm": "150",
        "hole_mm": "8",
    }

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["depth_mm"].label = "Focal length"
        self.fields["hole_mm"].label = "Its widest f-number"
        self.fields["hole_mm"].help_text = ""


class FirstCanForm(forms.Form):
    """Form of a can: where it hangs, how wide it is, and until when."""

    where = forms.CharField(
        label="Where will it hang?",
        max_length=80,
        help_text="A town near it, or 57.1 N 19.6 E.",
    )
    wide_mm = NumberField(
        label="How wide is the can inside?",
        unit="mm",
        least=30,
        most=400,
        noun="The width",
        help_text="A drinks can: 66 mm.",
    )
    until = forms.ChoiceField(label="Until when?", widget=forms.RadioSelect)

    START: ClassVar[dict[str, str]] = {"wide_mm": "66"}

    def __init__(self, data, *, until, places=()):
        """until: [(ISO day, words)] of the days on which it may be fetched; places: those that are
        kept.
        """
        super().__init__(data)
        self.fields["until"].choices = until
        self.places = {place.name.lower(): place for place in places}

    def clean_where(self):
        """A place that is kept, a Town of the table, or a point in degrees."""
        text = self.cleaned_data["where"]
        if place := self.places.get(text.strip().lower()):
            return place
        towns = files.find(text)
        if towns:
            return towns[0]
        latitude, _, longitude = _parted(text)
        try:
            where = LATITUDE.clean(latitude), LONGITUDE.clean(longitude)
        except forms.ValidationError as error:
            raise forms.ValidationError(
                "No town of that name is in the table: try a larger one near it, or degrees "
                "like 57.1 N 19.6 E."
            ) from error
        return files.Town(text[:60], "", *where, files.zone_at(*where))


def _parted(text):
    """Latitude and longitude of a text: parted by a comma, behind the N or S, or at the middle."""
    for mark in (";", ", "):
        if mark in text:
            return text.partition(mark)
    upper = text.upper()
    for letter in "NS":
        if letter in upper[1:]:
            end = upper.index(letter, 1) + 1
            return text[:end], "", text[end:]
    return text.strip().partition(" ")


class ClassForm(RosterForm):
    """Form of a class: who is in it, when it meets, and what its boxes are like."""

    depth_mm = NumberField(
        label="How deep are the boxes?", unit="mm", least=5, most=2000, noun="The depth"
    )

    START: ClassVar[dict[str, str]] = {"period": "Period 1", "depth_mm": "90"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["names"].label = "Who is in it?"
        self.fields["names"].help_text = "One name a line. Paste the list that you have."
        self.fields["period"].label = "When does it meet?"
        self.fields["period"].required = True


class ThrowForm(forms.Form):
    """Form of a room: how far the wall is from the window."""

    throw_m = NumberField(
        label="How deep is the room?",
        unit="m",
        least=0.2,
        most=50,
        noun="The depth",
        help_text="From the window to the wall that shows the picture.",
    )

    START: ClassVar[dict[str, str]] = {"throw_m": "3.5"}
