"""Form of a year of light: with what, before what, under which sky, and the moment to read off."""

from django import forms

from chimney.kit.catalogue import backs
from chimney.kit.models import Camera, Paper
from chimney.parts.adding import AddableField
from chimney.places.forms import BearingField
from chimney.places.models import Place
from pinhole import light


class YearForm(forms.Form):
    """Form of a year of light."""

    camera = AddableField(
        Camera.objects.in_use().exclude(back__in=backs.lenses()),
        empty_label=None,
        label="With",
        add=("kit:add", "camera"),
    )
    paper = AddableField(
        Paper.objects.timed(), empty_label=None, label="and", add=("kit:add", "paper")
    )
    place = AddableField(Place.objects.all(), empty_label=None, label="at", add=("places:add",))
    azimuth_deg = BearingField(label="looking", required=False)
    sky = forms.ChoiceField(label="under", choices=[(sky.name, sky.words) for sky in light.SKIES])
    day = forms.DateField(
        label="Read off", widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
    )
    hour = forms.TimeField(
        label="at", widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M")
    )
