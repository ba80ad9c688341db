from django import forms


class BandForm(forms.Form):
    """Which band is right, or between which two."""

    band = forms.TypedChoiceField(label="Right is", coerce=float)

    def __init__(self, choices, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["band"].choices = choices
