from django import forms

MOST_BYTES = 4_000_000


class MapForm(forms.Form):
    """Places that are handed over."""

    places = forms.FileField(
        label="Places, as GeoJSON",
        error_messages={"required": "Choose the file first.", "empty": "That file is empty."},
    )

    def clean_places(self):
        upload = self.cleaned_data["places"]
        if upload.size > MOST_BYTES:
            raise forms.ValidationError("More than 4 MB of places are not taken in at once.")
        return upload.read()
