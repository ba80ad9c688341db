"""The form for what a round gave back."""

from django import forms

from chimney.solar.round import files

LONGEST_TEXT = 60_000


class RoundForm(forms.Form):
    text = forms.CharField(
        label="The text that the phone gave back",
        max_length=LONGEST_TEXT,
        widget=forms.Textarea(attrs={"rows": 4}),
    )

    def clean_text(self):
        """The text, and the sightings in it kept beside it."""
        text = self.cleaned_data["text"]
        try:
            self.sightings = files.unpack(text)
        except ValueError as error:
            raise forms.ValidationError(str(error)) from error
        return text
