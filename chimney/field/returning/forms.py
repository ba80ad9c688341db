"""Form of a moment whose light is to come back."""

from datetime import datetime

from django import forms

from chimney.kit.models import Camera, Paper
from chimney.places.forms import BearingField
from chimney.places.models import Place
from pinhole import light


class MomentForm(forms.Form):
    """Form of a moment before a camera that looks that way; the moment is of the place's clock."""

    place = forms.ModelChoiceField(Place.objects.all())
    stood = forms.CharField(max_length=16)
    camera = forms.ModelChoiceField(Camera.objects.all())
    paper = forms.ModelChoiceField(Paper.objects.timed())
    azimuth_deg = BearingField(label="looking", required=False)
    sky = forms.ChoiceField(choices=[(sky.name, sky.words) for sky in light.SKIES])

    def clean_stood(self):
        """A datetime without a zone, within the years that the sun is known for."""
        try:
            stood = datetime.fromisoformat(self.cleaned_data["stood"]).replace(tzinfo=None)
        except ValueError as error:
            raise forms.ValidationError("Write it like 2027-03-13T14:30.") from error
        if not 1901 <= stood.year <= 2099:
            raise forms.ValidationError("The sun is known from 1901 to 2099.")
        return stood
