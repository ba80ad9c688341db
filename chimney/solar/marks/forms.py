"""Marks on the picture of a solargraph: where, and on the trail of which day."""

from dataclasses import dataclass
from datetime import date

from django import forms

from chimney.parts import clicks

# What a mark may lie on besides the trail of a day.
HORIZON = "horizon"
# More than these tell nothing new.
MOST = 24


@dataclass(frozen=True)
class PictureMark:
    """A place on the positive as shares from left and from the top; day: whose trail it lies on,
    None for the horizon.
    """

    across: float
    down: float
    day: date | None

    @property
    def written(self):
        """As it stands in an address."""
        return f"{clicks.written(self.across, self.down)},{self.day or HORIZON}"

    @property
    def words(self):
        return f"{self.day:%-d %b %Y}" if self.day else "horizon"


def read_marks(texts):
    """PictureMarks of an address; what is none is left out."""
    found = []
    for text in texts[:MOST]:
        try:
            place, _, day = text.rpartition(",")
            on = None if day == HORIZON else date.fromisoformat(day)
            found.append(PictureMark(*clicks.shares(place), on))
        except ValueError:
            continue
    return found


class MarkForm(forms.Form):
    on = forms.ChoiceField(label="The next mark lies on", required=False)
    day = forms.DateField(
        label="or on another day's trail",
        required=False,
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
    )

    def __init__(self, days, *args, **kwargs):
        super().__init__(*args, **kwargs)
        choices = [(str(day), f"the trail of {day:%-d %b %Y}") for day in days]
        self.fields["on"].choices = [(HORIZON, "the level horizon"), *choices]

    @property
    def chosen(self):
        """The day, or None for the horizon, as far as it is valid."""
        typed = self.cleaned_data.get("day")
        on = self.cleaned_data.get("on") or HORIZON
        return typed or (None if on == HORIZON else date.fromisoformat(on))
