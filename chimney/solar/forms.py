"""Forms of a solargraph: how it stands, its skyline, and what happens to it."""

from django import forms

from chimney.kit.catalogue import backs
from chimney.kit.models import Camera
from chimney.parts.adding import AddableField
from chimney.parts.fields import NumberField
from chimney.places.forms import BearingField
from chimney.places.models import Place
from chimney.solar.models import Solargraph
from pinhole import solargraph
from pinhole.solargraph import climate, skyline

VIEWS = [("positive", "as the finished positive"), ("negative", "as it lies in the camera")]
GOALS = (
    ("span", "most sun of these days"),
    ("noons", "every noon of these days"),
    ("landscape", "most sun with the landscape"),
    ("year", "most sun of the whole year"),
    ("rise", "sunrise of the first day"),
    ("set", "last three hours of the first day"),
    ("solstices", "solstice to solstice"),
)


class PointsField(forms.CharField):
    """A skyline as people write it: direction and height a pair, `90 5; 120 8`, one a line or
    behind semicolons.
    """

    def __init__(self, **kwargs):
        super().__init__(
            max_length=12_000, required=False, widget=forms.Textarea(attrs={"rows": 3}), **kwargs
        )

    def clean(self, value):
        text = super().clean(value)
        rows = [pair.replace(",", " ").split() for pair in text.replace("\n", ";").split(";")]
        try:
            return skyline.read_csv(rows, header=False)
        except ValueError as error:
            raise forms.ValidationError(f"{str(error).capitalize()}.", code="unreadable") from error

    def prepare_value(self, value):
        return say_points(value) if isinstance(value, list | tuple) else value


def say_points(points):
    return "; ".join(f"{azimuth:.4g} {height:.3g}" for azimuth, height in points)


# A lens would burn the paper.
CANS = Camera.objects.in_use().exclude(back__in=backs.lenses())


class DayField(forms.DateField):
    def __init__(self, **kwargs):
        widget = forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
        super().__init__(widget=widget, **kwargs)


class SunForm(forms.Form):
    """Form for how a can stands, and for how long."""

    place = AddableField(Place.objects.all(), empty_label=None, label="Place", add=("places:add",))
    camera = AddableField(CANS, empty_label=None, label="Camera", add=("kit:add", "camera"))
    azimuth_deg = BearingField(label="Faces", help_text="From true north, or SE.")
    tilt_deg = NumberField(label="Leans back", unit="°", least=-85, most=85, noun="The lean")
    roll_deg = NumberField(
        label="Rolled", unit="°", least=-180, most=180, noun="The roll", required=False
    )
    wall_deg = NumberField(
        label="Fixed to a wall or roof that slopes",
        unit="°",
        least=-80,
        most=80,
        noun="The lean of the wall",
        required=False,
        help_text="From upright, back; its wedge makes up the rest.",
    )
    first_day = DayField(label="From")
    last_day = DayField(label="To")
    kind = forms.ChoiceField(label="Kind", choices=Solargraph.Kind)
    from_time = forms.TimeField(
        label="Open from",
        required=False,
        widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
    )
    to_time = forms.TimeField(
        label="until",
        required=False,
        widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
    )
    horizon = PointsField(
        label="Skyline: direction and height",
        help_text="90 5; 120 8: the sun behind it draws nothing.",
    )
    leaf = PointsField(
        label="The same, trees in leaf",
        help_text="May to mid-October, in the south November to mid-April.",
    )
    upper = PointsField(
        label="Over it: eaves, a lintel, branches",
        help_text="110 90; 111 40; 200 40; 201 90: from there on up it is hidden, 90 is open.",
    )
    climate = forms.ChoiceField(
        label="Weather", choices=[(weather.code, weather.words) for weather in climate.CLIMATES]
    )
    water = forms.BooleanField(label="Water below the skyline", required=False)
    view = forms.ChoiceField(label="Shown", choices=VIEWS, widget=forms.RadioSelect)

    def clean(self):
        cleaned = super().clean()
        for name in ("roll_deg", "wall_deg"):
            cleaned[name] = cleaned.get(name) or 0.0
        first, last = cleaned.get("first_day"), cleaned.get("last_day")
        if first and not 1950 <= first.year <= 2099:
            self.add_error("first_day", "The sun is reckoned from 1950 to 2099.")
        if first and last:
            self._check_days(cleaned, first, last)
        if (
            cleaned.get("kind") in ("rise", "set", "eight", "eclipse")
            and "from_time" not in self.errors
        ):
            self._check_times(cleaned)
        return cleaned

    def _check_days(self, cleaned, first, last):
        days = (last - first).days + 1
        if days < 1:
            self.add_error("last_day", "The last day lies before the first: exchange them.")
        elif days > solargraph.LONGEST_DAYS or last.year > 2099:
            self.add_error(
                "last_day",
                f"That is {days} days; the limit is {solargraph.LONGEST_DAYS}. Emulsion rots after "
                "about a year.",
            )

    def _check_times(self, cleaned):
        if not cleaned.get("from_time"):
            self.add_error(
                "from_time", forms.ValidationError("Type the time on the clock.", code="required")
            )
        elif cleaned["kind"] != "eight" and not cleaned.get("to_time"):
            self.add_error("to_time", forms.ValidationError("Type until when.", code="required"))
        elif cleaned["kind"] != "eight" and cleaned["to_time"] == cleaned["from_time"]:
            self.add_error("to_time", "That is when the hole is opened.")

    def forgive_empty(self):
        for name in list(self.errors):
            if all(error.code == "required" for error in self.errors.as_data()[name]):
                del self.errors[name]
