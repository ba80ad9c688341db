"""Form of a year of light: with what, before what, under which sky, and the moment to read off."""

from django import forms

from chimney.kit.catalogue import backs
from chimney.kit.models import Camera, Paper
from chimney.parts.adding import AddableField
from chimney.parts.fields import NumberField
from chimney.places.forms import BearingField
from chimney.places.models import Place
from pinhole import light

EVERYTHING, SUN_ONLY, HARM_ONLY, NOTHING = "all", "sides", "harm", "nothing"
OVER_IT = (
    (EVERYTHING, "how the sun stands, shadow, flare"),
    (SUN_ONLY, "how the sun stands"),
    (HARM_ONLY, "your shadow and the sun in the picture"),
    (NOTHING, "nothing"),
)
MOON, LAMP = "moon", "lamp"
NIGHTS = (("", "is shut"), (MOON, "stays open by the moon"), (LAMP, "stays open by a lamp"))


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
    over = forms.ChoiceField(label="Drawn over it", choices=OVER_IT, required=False)
    night = forms.ChoiceField(label="At night the hole", choices=NIGHTS, required=False)
    lamp_ev = NumberField(
        label="Lamp", noun="The lamp's reading", unit="EV", least=-10, most=15, required=False
    )

    def clean(self):
        """A lamp gives as much light as was read under it."""
        cleaned = super().clean()
        missing = cleaned.get("lamp_ev") is None and "lamp_ev" not in self.errors
        if cleaned.get("night") == LAMP and missing:
            self.add_error("lamp_ev", "Type what a meter says under it, EV at ISO 100.")
        return cleaned

    @property
    def main_fields(self):
        """Fields that every reading needs."""
        return [self[name] for name in tuple(self.fields)[:7]]

    @property
    def rare_fields(self):
        """Fields that are folded."""
        return [self[name] for name in tuple(self.fields)[7:]]
