"""Marks on the picture of a solargraph: where, and on the trail of which day."""

from dataclasses import dataclass
from datetime import date

from django import forms

from chimney.parts import clicks
from chimney.parts.fields import NumberField
from chimney.places.forms import BearingField

# What a mark may lie on besides the trail of a day; a point is its direction and its height.
HORIZON, POINT = "horizon", "_"
# More than these tell nothing new.
MOST_MARKS = 24


@dataclass(frozen=True)
class PictureMark:
    """A place on the positive as shares from left and from the top; on: the day whose trail it lies
    on, None for the level horizon, or (direction, height) of a known point of the skyline.
    """

    across: float
    down: float
    on: date | tuple | None

    @property
    def written(self):
        """Text of it as in an address."""
        on = written_point(*self.on) if isinstance(self.on, tuple) else self.on or HORIZON
        return f"{clicks.written(self.across, self.down)},{on}"

    @property
    def words(self):
        if isinstance(self.on, tuple):
            return "skyline at {:g}°, {:g}° high".format(*self.on)
        return f"{self.on:%-d %b %Y}" if self.on else "horizon"


def written_point(azimuth_deg, height_deg):
    """A point of the skyline as it stands in an address."""
    return f"{azimuth_deg:g}{POINT}{height_deg:g}"


def read_on(text):
    """Read from an address what a mark lies on. Raises ValueError."""
    if text == HORIZON:
        return None
    if POINT not in text:
        return date.fromisoformat(text)
    azimuth, height = map(float, text.split(POINT))
    if not (0 <= azimuth <= 360 and -45 <= height <= 90):
        raise ValueError(text)
    return azimuth, height


def read_marks(texts):
    """PictureMarks of an address; what is none is left out."""
    marks = []
    for text in texts[:MOST_MARKS]:
        try:
            place, _, on = text.rpartition(",")
            marks.append(PictureMark(*clicks.shares(place), read_on(on)))
        except ValueError:
            continue
    return marks


class MarkForm(forms.Form):
    on = forms.ChoiceField(label="The next mark lies on", required=False)
    day = forms.DateField(
        label="or on another day's trail",
        required=False,
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
    )

    azimuth_deg = BearingField(
        label="or on a point of the skyline in direction",
        required=False,
        help_text="Taken from a map: two of them tell direction best.",
    )
    height_deg = NumberField(
        label="at height", unit="°", least=-45, most=90, noun="The height", required=False
    )

    def __init__(self, days, skyline, span, *args, **kwargs):
        """days, skyline: [(direction, height)], that are offered; span: (first, last) day on which
        it was out.
        """
        super().__init__(*args, **kwargs)
        self.span = span
        points = [
            (written_point(*point), "the skyline at {:g}°, {:g}° high".format(*point))
            for point in skyline
        ]
        choices = [(str(day), f"the trail of {day:%-d %b %Y}") for day in days]
        self.fields["on"].choices = [(HORIZON, "the level horizon"), *points, *choices]

    def clean_day(self):
        day, (first, last) = self.cleaned_data["day"], self.span
        if day and not first <= day <= last:
            raise forms.ValidationError(f"It was out from {first:%-d %b %Y} to {last:%-d %b %Y}.")
        return day

    @property
    def chosen(self):
        """Target of the next mark: as typed, else as chosen."""
        typed = self.cleaned_data
        if typed.get("azimuth_deg") is not None:
            return typed["azimuth_deg"], typed.get("height_deg") or 0.0
        return typed.get("day") or read_on(typed.get("on") or HORIZON)
