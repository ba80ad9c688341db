"""Forms of today's light: the sky as it looks, and a forecast of cloud."""

from django import forms

from chimney.field.today.files import read_clouds
from chimney.parts.csv_form import CsvForm
from chimney.places.models import Place
from pinhole import light

FORECAST = "forecast"


class TodayForm(forms.Form):
    """The sky of today by a word, or as it was forecast."""

    sky = forms.ChoiceField(
        label="under",
        choices=[(FORECAST, "the sky as forecast")]
        + [(sky.name, sky.words) for sky in light.SKIES],
    )


class CloudsForm(CsvForm):
    """A forecast of cloud for a place; cleaned as [[epoch seconds, percent], ...]."""

    place = forms.ModelChoiceField(Place.objects.all(), empty_label=None, label="for")

    def clean(self):
        cleaned = super().clean()
        if cleaned.get("file") and cleaned.get("place"):
            try:
                cleaned["clouds"] = read_clouds(cleaned["file"], cleaned["place"].tz)
            except ValueError as error:
                message = str(error)
                self.add_error("file", f"{message[0].upper()}{message[1:]}.")
        return cleaned
