"""A contact print: onto which paper, under which lamp, for how long, or as a strip."""

from django import forms

from chimney.kit.models import Paper
from chimney.parts.fields import DurationField, NumberField, StopsField, WholeField

WHOLE, STRIP = "whole", "strip"
# Under a lamp nobody counts longer (common practice) [s].
LONGEST_PRINT_S = 3600


class PrintForm(forms.Form):
    paper = forms.ModelChoiceField(Paper.objects.none(), label="Onto", empty_label=None)
    lamp = forms.CharField(label="Lamp", max_length=60, required=False)
    lamp_mm = NumberField(
        label="It is wide",
        unit="mm",
        least=0,
        most=2000,
        noun="The lamp",
        required=False,
        help_text="Left empty: a point.",
    )
    distance_mm = NumberField(
        label="Lamp to paper", unit="mm", least=20, most=10_000, noun="The distance"
    )
    kind = forms.ChoiceField(
        label="As", choices=((WHOLE, "one print"), (STRIP, "a test strip")), required=False
    )
    seconds = DurationField(label="Time", most_s=LONGEST_PRINT_S, required=False)
    first_s = DurationField(label="First band", most_s=LONGEST_PRINT_S, required=False)
    step_stops = StopsField(label="Steps of", most=3, signed=False, required=False)
    bands = WholeField(label="Bands", least=2, most=10, noun="The number of bands", required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["paper"].queryset = Paper.objects.printed_on()

    # What each kind asks for.
    OF_KIND = {WHOLE: ("seconds",), STRIP: ("first_s", "step_stops", "bands")}

    @property
    def shown(self):
        """[(name, value)] of what the times on the page stand for, so that they follow the lamp."""
        names = ("seconds", "first_s")
        return [("shown_mm", self["distance_mm"].value())] + [
            (f"shown_{name}", self.fields[name].prepare_value(self[name].value())) for name in names
        ]

    @property
    def rows(self):
        """[(field, its classes)]: what is asked for what is chosen."""
        css_classes = {
            name: f"for-some for-{kind}" for kind, names in self.OF_KIND.items() for name in names
        }
        return [(field, css_classes.get(field.name, "")) for field in self]

    def clean(self):
        cleaned = super().clean()
        cleaned["lamp_mm"] = cleaned.get("lamp_mm") or 0.0
        if cleaned.get("kind") == STRIP:
            self._check_strip(cleaned)
        elif cleaned.get("seconds") is None and "seconds" not in self.errors:
            self.add_error("seconds", "For how long? A test strip tells.")
        cleaned["kind"] = cleaned.get("kind") or WHOLE
        return cleaned

    def _check_strip(self, cleaned):
        for name in ("first_s", "step_stops", "bands"):
            if not cleaned.get(name) and name not in self.errors:
                self.add_error(name, "A strip wants this.")
        if self.errors:
            return
        longest = cleaned["first_s"] * 2 ** (cleaned["step_stops"] * (cleaned["bands"] - 1))
        if longest > LONGEST_PRINT_S:
            self.add_error("bands", "The last band would take more than an hour.")


class BestForm(forms.Form):
    best = forms.TypedChoiceField(label="Right is", coerce=float)

    def __init__(self, words, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["best"].choices = words
