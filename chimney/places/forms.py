import re

from django import forms

from chimney.parts.fields import NumberField, TypedField
from chimney.parts.scales import COMPASS_POINTS
from chimney.places import files
from chimney.places.models import Place, View, known_zone
from chimney.places.wording import taken

COMPASS = {point: n * 22.5 for n, point in enumerate(COMPASS_POINTS)}


class AngleField(NumberField):
    """Degrees with a letter for the sense, as on maps: `57.1 N`, `19 36 E`, `-43.95`."""

    def __init__(self, *, most, positive, negative, **kwargs):
        super().__init__(least=-most, most=most, unit="°", **kwargs)
        self.positive, self.negative = positive, negative

    def read(self, text):
        bare = re.sub(r"[°'′\"″]", " ", text.upper().replace(",", ".").replace("−", "-")).strip()
        sense = -1 if bare.endswith(self.negative) or bare.startswith(self.negative) else 1
        parts = bare.strip(f"{self.positive}{self.negative} ").split()
        if (
            len(parts) > 1
            and len(parts) <= 3
            and all(re.fullmatch(r"\d{1,3}(\.\d+)?", part) for part in parts)
        ):
            bare = str(sum(float(part) / 60**n for n, part in enumerate(parts)))
        else:
            bare = " ".join(parts)
        return super().read(
            f"{sense * float(bare)}" if re.fullmatch(r"-?\d+(\.\d+)?", bare) else bare
        )


class BearingField(NumberField):
    """A direction from true north: degrees, or a point of the compass."""

    def __init__(self, **kwargs):
        super().__init__(least=0, most=360, noun="The direction", unit="°", **kwargs)

    def read(self, text):
        point = text.strip().upper()
        return COMPASS[point] if point in COMPASS else super().read(text) % 360


class ZoneField(TypedField):
    def __init__(self, **kwargs):
        super().__init__(input_mode="text", **kwargs)

    def read(self, text):
        known_zone(text)
        return text


class PlaceForm(forms.ModelForm):
    latitude_deg = AngleField(
        label="Latitude",
        most=90,
        positive="N",
        negative="S",
        noun="The latitude",
        help_text="57.1 N or 57 06 N; S is south.",
    )
    longitude_deg = AngleField(
        label="Longitude",
        most=180,
        positive="E",
        negative="W",
        noun="The longitude",
        help_text="19.6 E or 19 36 E; W is west.",
    )
    elevation_m = NumberField(
        label="Elevation", unit="m", least=-450, most=9000, noun="The elevation", required=False
    )
    zone = ZoneField(
        label="Time zone", required=False, help_text="Left empty: that of the coordinates."
    )

    class Meta:
        model = Place
        fields = ["name", "latitude_deg", "longitude_deg", "elevation_m", "zone", "home", "note"]
        labels = {"home": "This is home: the Hearth shows its sun"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["note"].widget.attrs["rows"] = 2

    def clean_name(self):
        name = self.cleaned_data["name"]
        if Place.objects.filter(name__iexact=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError(taken(name))
        return name

    def clean_elevation_m(self):
        return self.cleaned_data["elevation_m"] or 0.0

    def clean(self):
        cleaned = super().clean()
        where = cleaned.get("latitude_deg"), cleaned.get("longitude_deg")
        if not cleaned.get("zone") and "zone" not in self.errors and None not in where:
            cleaned["zone"] = files.zone_at(*where)
        return cleaned


class ViewForm(forms.ModelForm):
    azimuth_deg = BearingField(
        label="Looking", required=False, help_text="Degrees from true north, or NW."
    )

    class Meta:
        model = View
        fields = ["subject", "azimuth_deg", "when", "access"]
        labels = {
            "when": "Time of year and hour",
            "access": "How one gets there, and whose land it is",
        }
