from django import forms

from chimney.solar.forms import SunForm

MOST_MAP_BYTES = 4_000_000


class MapForm(forms.Form):
    """Places, views and cans that are handed over."""

    places = forms.FileField(
        label="Places, views and cans, as GeoJSON",
        error_messages={"required": "Choose the file first.", "empty": "That file is empty."},
    )

    def clean_places(self):
        upload = self.cleaned_data["places"]
        if upload.size > MOST_MAP_BYTES:
            raise forms.ValidationError("More than 4 MB of places are not taken in at once.")
        return upload.read()


def can_form(place, camera, properties):
    """The SunForm of a can that stands at a place, as a map tells of it."""
    names = ("azimuth_deg", "tilt_deg", "roll_deg", "first_day", "last_day")
    typed = {name: str(properties.get(name, ""))[:40] for name in names}
    typed |= {"place": place.pk, "camera": camera.pk, "kind": "span", "climate": "coast"}
    return SunForm(typed | {"view": "negative"})
