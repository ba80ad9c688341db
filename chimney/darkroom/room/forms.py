"""Forms of the dark room: vessels, lamps, baths and the test of a lamp."""

from django import forms

from chimney.darkroom.models import Bath, LightTest, SafeLight, Vessel
from chimney.darkroom.room import catalogue
from chimney.kit.forms.things import ThingForm
from chimney.kit.models import Developer, Paper
from chimney.parts import clock
from chimney.parts.fields import DilutionField, NumberField, SizeField, WholeField
from pinhole import durations

KIND = Vessel.Kind


class VesselForm(ThingForm):
    inside = SizeField(
        label="Inside", required=False, help_text="Of a tray or drawer: 240x300, 10x12 in"
    )
    diameter_mm = NumberField(
        label="Inner diameter",
        unit="mm",
        least=20,
        most=1000,
        noun="The tank",
        required=False,
        help_text="Of a tank.",
    )
    high_mm = NumberField(
        label="High", unit="mm", least=10, most=2000, noun="The height", required=False
    )
    holds = WholeField(label="Sheets at once", least=1, most=50, noun="The number of sheets")
    most_ml = NumberField(
        label="Takes at most",
        unit="ml",
        least=10,
        most=1e5,
        noun="The volume",
        required=False,
        help_text="Left empty: by its size.",
    )

    class Meta:
        model = Vessel
        fields = ["name", "kind", "inside", "diameter_mm", "high_mm", "holds", "most_ml", "note"]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        vessel = self.instance
        if vessel.width_mm:
            self.initial["inside"] = (vessel.width_mm, vessel.height_mm)

    def clean(self):
        cleaned = super().clean()
        kind, inside = cleaned.get("kind"), cleaned.get("inside")
        if (
            kind == KIND.TANK
            and not cleaned.get("diameter_mm")
            and "diameter_mm" not in self.errors
        ):
            self.add_error("diameter_mm", "How wide is it inside?")
        self.instance.width_mm, self.instance.height_mm = inside or (None, None)
        return cleaned


class LightForm(ThingForm):
    class Meta:
        model = SafeLight
        fields = ["name", "note"]


class BathForm(forms.ModelForm):
    developer = forms.ModelChoiceField(
        Developer.objects.none(),
        required=False,
        label="Which developer",
        empty_label="it is no developer",
    )
    parts = DilutionField(required=False, help_text="Left empty: as mixed.")
    volume_ml = NumberField(label="Volume", unit="ml", least=1, most=1e5, noun="The volume")
    capacity_m2 = NumberField(
        label="Room for",
        unit="m²",
        least=0.001,
        most=1000,
        noun="The area",
        required=False,
        help_text="Of paper. Left empty: as usual for its volume.",
    )
    lasts_days = NumberField(
        label="Lasts",
        unit="days",
        least=0.01,
        most=3650,
        noun="The age",
        required=False,
        help_text="Left empty: as usual.",
    )

    class Meta:
        model = Bath
        fields = ["name", "purpose", "developer", "parts", "volume_ml", "went_in"]
        fields += ["capacity_m2", "lasts_days"]
        labels = {"purpose": "It is", "went_in": "What went in"}

    # A developer that was mixed and has no name in the kit yet: it is made with the bath.
    makes = forms.CharField(max_length=60, required=False, widget=forms.HiddenInput)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        usable = Developer.objects.in_use()
        self.fields["developer"].queryset = usable
        developer_key = self.data.get("makes") or self.initial.get("makes")
        if developer_key:
            like_it = usable.filter(name__iexact=developer_key).first() or _called_like(
                usable, developer_key
            )
            self.initial.setdefault("developer", like_it and like_it.pk)
            self.fields["developer"].empty_label = f"{developer_key}, which is new in the kit"

    def clean(self):
        cleaned = super().clean()
        purpose, volume = cleaned.get("purpose"), cleaned.get("volume_ml")
        develops = purpose == Bath.Purpose.DEVELOP
        nameless = not (cleaned.get("developer") or cleaned.get("makes"))
        if develops and nameless and "developer" not in self.errors:
            self.add_error("developer", "Which developer is it?")
        if not develops:
            cleaned["developer"] = None
        if cleaned.get("lasts_days") is None:
            cleaned["lasts_days"] = catalogue.LASTS_DAYS.get(purpose, 1.0)
        if cleaned.get("capacity_m2") is None and volume:
            cleaned["capacity_m2"] = catalogue.M2_PER_L.get(purpose, 1.0) * volume / 1000
        return cleaned


def _called_like(developers, name):
    """The one developer whose name begins like that one: coffee is coffee developer."""
    first = name.split()[0]
    return developers.filter(name__istartswith=first).first()


class TopUpForm(forms.Form):
    concentrate_ml = NumberField(
        label="Concentrate poured in", unit="ml", least=0.1, most=1e4, noun="The concentrate"
    )


class LightTestForm(forms.ModelForm):
    distance_mm = NumberField(
        label="Lamp to paper", unit="mm", least=10, most=20_000, noun="The distance"
    )
    shows = forms.TypedChoiceField(label="The coin shows", coerce=float, empty_value=None)

    class Meta:
        model = LightTest
        fields = ["paper", "distance_mm"]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["paper"].queryset = Paper.objects.developed()
        times = [(f"{time:g}", f"from {durations.say(time)} on") for time in catalogue.TEST_TIMES_S]
        self.fields["shows"].choices = [("0", "nowhere"), *times]

    def clean_paper(self):
        paper = self.cleaned_data["paper"]
        if paper.sees == Paper.Sees.PAN:
            raise forms.ValidationError(f"{paper} sees every colour: no lamp is safe for it.")
        return paper

    def test(self, light):
        """The LightTest, unsaved."""
        light_test = self.save(commit=False)
        light_test.light, light_test.times_s = light, list(catalogue.TEST_TIMES_S)
        light_test.shows_s = self.cleaned_data["shows"] or None
        light_test.tested_at = clock.now()
        return light_test
