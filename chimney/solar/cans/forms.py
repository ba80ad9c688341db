"""Forms of a can that is put out, looked after and brought home."""

from datetime import datetime, time

from django import forms
from django.utils import timezone

from chimney.parts import clock
from chimney.parts.fields import NumberField
from chimney.parts.templatetags.said import at_place
from chimney.parts.uploads import photo_of
from chimney.places.forms import BearingField
from chimney.solar.forms import DayField
from chimney.solar.models import Event, Look, Solargraph

FUTURE = "That lies in the future."


def _on_its_clock(typed, place):
    """A moment that was typed, as the place's clock shows it; not from the future."""
    if typed is None:
        return None
    moment = timezone.localtime(typed).replace(tzinfo=place.tz)
    if moment > clock.now():
        raise forms.ValidationError(FUTURE)
    return moment


def _not_before_it_hung(moment, can):
    if moment and can.opened_at and moment < can.opened_at:
        since = at_place(can.opened_at, can.place)
        raise forms.ValidationError(f"It hangs since {since}: that was before.")


class ShutForm(forms.Form):
    """Form for when the hole was shut; just now if no field for it was sent."""

    shut = forms.DateTimeField(
        label="Shut at",
        error_messages={"required": "Say when it was shut."},
        widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"),
        help_text="On the place's own clock.",
    )

    def __init__(self, *args, can, **kwargs):
        super().__init__(*args, **kwargs)
        self.can = can
        self.fields["shut"].required = "shut" in self.data
        if can.closed_at:
            closed_local = can.closed_at.astimezone(can.place.tz)
            self.initial["shut"] = closed_local.replace(tzinfo=None)

    def clean_shut(self):
        moment = _on_its_clock(self.cleaned_data["shut"], self.can.place)
        closed_at = self.can.closed_at
        if moment and closed_at and moment == closed_at.replace(second=0, microsecond=0):
            return closed_at
        _not_before_it_hung(moment, self.can)
        return moment


class SpotForm(forms.ModelForm):
    """Form for what can be said of a can that hangs, when it is put out or later."""

    latitude_deg = NumberField(
        label="Latitude of the spot",
        unit="°",
        least=-90,
        most=90,
        noun="The latitude",
        required=False,
    )
    longitude_deg = NumberField(
        label="Longitude", unit="°", least=-180, most=180, noun="The longitude", required=False
    )
    check_days = NumberField(
        label="Look after it every",
        unit="days",
        least=1,
        most=400,
        noun="The days",
        required=False,
    )
    photo_file = forms.FileField(
        label="A photo of where it hangs",
        required=False,
        widget=forms.ClearableFileInput(attrs={"accept": "image/*"}),
    )
    compass_deg = BearingField(
        label="A compass along its axis shows",
        required=False,
        help_text="As the needle says; its declination is taken off.",
    )
    sun_ahead = forms.TimeField(
        label="or the sun stood straight before it at",
        required=False,
        widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
        help_text="When the shadow of a stick falls along its axis, on the place's clock.",
    )
    plumb_deg = NumberField(
        label="It leans back, by a plumb line",
        unit="°",
        least=-85,
        most=85,
        noun="The lean",
        required=False,
    )

    class Meta:
        model = Solargraph
        fields = [
            "spot",
            "latitude_deg",
            "longitude_deg",
            "mounting",
            "contact",
            "permission",
            "check_days",
            "note",
        ]
        labels = {
            "spot": "Where exactly, so that somebody else finds it",
            "contact": "Your contact, for the label",
            "permission": "Who gave permission",
        }

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["mounting"].required = False

    def clean_photo_file(self):
        """The photo made small, into the can that is kept."""
        upload = self.cleaned_data["photo_file"]
        if upload:
            self.instance.photo = photo_of(upload)
        return upload

    def clean_check_days(self):
        days = self.cleaned_data["check_days"]
        return self.instance.check_days if days is None else int(days)

    def clean_mounting(self):
        return self.cleaned_data["mounting"] or self.instance.mounting


class PutOutForm(SpotForm):
    """Form of the moment at which a can is left alone; all of it may wait."""

    opened = forms.DateTimeField(
        label="Opened at, if not just now",
        required=False,
        widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"),
        help_text="On the place's own clock.",
    )
    ticked = forms.MultipleChoiceField(
        label="Before you go", widget=forms.CheckboxSelectMultiple, required=False
    )

    def __init__(self, *args, checklist, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["ticked"].choices = checklist

    def clean_opened(self):
        return _on_its_clock(self.cleaned_data["opened"], self.instance.place)

    @property
    def later(self):
        """The fields that can wait."""
        return [field for field in self if field.name != "ticked"]


class EventForm(forms.ModelForm):
    day = DayField(label="On", required=False, help_text="Left empty: just now.")
    azimuth_deg = BearingField(label="Turned: it faces now", required=False)
    tilt_deg = NumberField(
        label="and leans back", unit="°", least=-85, most=85, noun="The lean", required=False
    )

    class Meta:
        model = Event
        fields = ["kind", "azimuth_deg", "tilt_deg", "words"]
        labels = {"kind": "What you saw", "words": "In your words"}

    field_order = ["kind", "day", "azimuth_deg", "tilt_deg", "words"]

    def __init__(self, *args, can, **kwargs):
        super().__init__(*args, **kwargs)
        self.can = can

    def clean(self):
        """Drop how it stands from all events but being turned."""
        cleaned = super().clean()
        if cleaned.get("kind") != Event.Kind.TURNED:
            cleaned["azimuth_deg"] = cleaned["tilt_deg"] = None
        return cleaned

    def clean_day(self):
        day = self.cleaned_data["day"]
        if day and not 1950 <= day.year <= 2099:
            raise forms.ValidationError("The year lies between 1950 and 2099.")
        if day and day > self.can.today:
            raise forms.ValidationError(FUTURE)
        if day and self.can.opened_at and day < self.can.days_of[0]:
            _not_before_it_hung(self.moment(self.can.place, day), self.can)
        return day

    def moment(self, place, day=None):
        """Noon of the day typed, on the clock of the place; None where none was."""
        day = day or self.cleaned_data["day"]
        return day and datetime.combine(day, time(12), place.tz)


class LookForm(forms.ModelForm):
    minutes = NumberField(
        label="Out of the dark for", unit="min", least=0.1, most=1440, noun="The minutes"
    )
    lux = NumberField(
        label="in light of about", unit="lux", least=0.1, most=100_000, noun="The light"
    )

    class Meta:
        model = Look
        fields = ["minutes", "lux", "words"]
        labels = {"words": "What for"}
