from django import forms


class BandForm(forms.Form):
    """Form for the band that is right, or the two that it lies between."""

    band = forms.TypedChoiceField(label="Right is", coerce=float)

    def __init__(self, choices, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["band"].choices = choices
