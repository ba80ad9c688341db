"""Forms of the kit, besides cameras."""

from django import forms
from django.utils import timezone

from chimney.kit.catalogue import papers
from chimney.kit.models import Box, Developer, Holder, Meter, Observation, Paper, Person
from chimney.parts import clock, sizes
from chimney.parts.fields import (
    DilutionField,
    DurationField,
    NominalField,
    NumberField,
    TypedField,
    WholeField,
)
from chimney.parts.sentences import SIZES_LIKE
from pinhole import durations, media, reciprocity


def today():
    return timezone.localdate(clock.now())


class ThingForm(forms.ModelForm):
    """A form over a named thing, its note last and small; a new thing starts from what is usual."""

    def __init__(self, *args, instance=None, **kwargs):
        super().__init__(*args, instance=instance or self._meta.model(), **kwargs)
        if "note" in self.fields:
            self.fields["note"].widget.attrs["rows"] = 2

    def clean_name(self):
        name = self.cleaned_data["name"]
        if self._meta.model.objects.filter(name__iexact=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError(
                f"There is already a {self._meta.model._meta.verbose_name} called {name}."
            )
        return name


class TableField(TypedField):
    """A maker's table: one pair of metered and adjusted times a line."""

    def __init__(self, **kwargs):
        super().__init__(
            max_length=2000, input_mode="text", widget=forms.Textarea(attrs={"rows": 4}), **kwargs
        )

    def read(self, text):
        points = []
        for line in filter(str.strip, text.splitlines()):
            pair = line.replace(";", " ").replace("=", " ").split()
            if len(pair) != 2:
                raise ValueError(
                    f"“{line.strip()[:30]}”: each line is a metered and an adjusted "
                    "time, like 4s 20s."
                )
            points.append([durations.parse_s(part) for part in pair])
        table = reciprocity.Table(tuple(points))
        if table.steepest > reciprocity.table.STEEPEST_RISE:
            raise ValueError(
                "From one line to the next it grows with the power "
                f"{table.steepest:.0f}; the limit is "
                f"{reciprocity.table.STEEPEST_RISE:.0f}: look at the units."
            )
        return [list(point) for point in table.points]

    def prepare_value(self, value):
        if isinstance(value, list):
            return "\n".join(f"{metered:g}s {adjusted:g}s" for metered, adjusted in value)
        return value


class MergeForm(forms.Form):
    """Form for the paper that this one really is."""

    into = forms.ModelChoiceField(
        Paper.objects.none(), label="It is the same as", empty_label="choose"
    )

    def __init__(self, *args, paper, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["into"].queryset = paper.alike


class PaperForm(ThingForm):
    box_ei = NumberField(
        label="Starting EI",
        least=0.05,
        most=3200,
        noun="The EI",
        prefixes=("ei",),
        required=False,
        help_text="Left empty: 6 for a paper negative, 3 for direct positive, 0.8 for reversal, "
        "100 for film. A solargraph needs none.",
    )
    range_stops = NumberField(
        label="Holds a scene of",
        unit="stops",
        least=1,
        most=15,
        noun="The range",
        required=False,
        help_text="From the darkest shadow to the brightest light that still shows something. Left "
        "empty: usual.",
    )
    exponent = NumberField(
        label="Power law, exponent",
        least=1,
        most=reciprocity.power_law.STEEPEST_EXPONENT,
        noun="The exponent",
        help_text="1 / p: Schwarzschild's p of 0.86 is 1.16.",
    )
    onset_s = DurationField(label="Power law, from", help_text="Shorter times are left as metered.")
    table = TableField(
        label="Maker's table",
        required=False,
        help_text="Metered and adjusted time, a pair a line: 4s 20s",
    )

    class Meta:
        model = Paper
        fields = ["name", "kind", "base", "box_ei", "sees", "contrast", "range_stops"]
        fields += ["school", "exponent", "onset_s", "table", "note"]
        labels = {"school": "Reciprocity, unless chosen otherwise", "sees": "It sees"}

    def clean_kind(self):
        """Keep the kind of what was exposed: its verdicts have the sense of their medium."""
        kind, current_paper = (
            self.cleaned_data["kind"],
            Paper.objects.filter(pk=self.instance.pk).first(),
        )
        if current_paper and kind != current_paper.kind and current_paper.sheet_set.exists():
            raise forms.ValidationError(
                "Sheets of it are in the log as what it was: add another paper instead."
            )
        return kind

    def clean_table(self):
        return self.cleaned_data["table"] or []

    def clean(self):
        cleaned = super().clean()
        kind = cleaned.get("kind")
        if cleaned.get("box_ei") is None and "box_ei" not in self.errors:
            cleaned["box_ei"] = papers.USUAL_EI.get(kind, papers.UNUSED_EI)
        if cleaned.get("range_stops") is None:
            cleaned["range_stops"] = media.medium(kind or "negative").range_stops
        school = reciprocity.SCHOOL_KINDS.get(cleaned.get("school"))
        wants = school and school.wants
        if wants and not cleaned.get(wants) and wants not in self.errors:
            self.add_error(wants, school.missing)
        return cleaned


class DeveloperForm(ThingForm):
    parts = DilutionField(required=False, help_text="Parts of water. Left empty: used as mixed.")
    usual_s = DurationField(label="Usual time", bare_unit="min")

    class Meta:
        model = Developer
        fields = ["name", "parts", "usual_s", "note"]


class DotsForm(forms.Form):
    """Form for the room that there is for sighting dots."""

    lid_mm = NumberField(
        label="Lid, across", unit="mm", least=20, most=2000, noun="The lid", required=False
    )
    side_mm = NumberField(
        label="Side, high", unit="mm", least=20, most=2000, noun="The side", required=False
    )


class NetForm(forms.Form):
    """Form for a box that is printed as a net, before there is one."""

    depth_mm = NumberField(label="Hole to paper", unit="mm", least=15, most=400, noun="The depth")
    size = NominalField(label="Sheet")
    card_mm = NumberField(
        label="Card, thick", unit="mm", least=0.2, most=4, noun="The card", required=False
    )

    def clean_card_mm(self):
        return self.cleaned_data["card_mm"] or USUAL_CARD_MM


# Mounting card, thin enough to fold and thick enough to stand (common practice) [mm].
USUAL_CARD_MM = 1.0


class ObservationForm(forms.ModelForm):
    class Meta:
        model = Observation
        fields = ["kind", "words"]
        labels = {"kind": "What was seen", "words": "Where, and in your words"}


class BoxForm(ThingForm):
    size = NominalField(label="Sheets of", help_text="As they come: 8x10 in, 13x18 cm or 102x127")
    cut_to = NominalField(
        label="Cut to", required=False, help_text="Left empty: used as they come."
    )
    sheets = WholeField(label="How many", least=1, most=5000, noun="The number of sheets")
    made_in = WholeField(
        label="Made in the year", least=1900, most=2100, noun="The year", required=False
    )
    opened_on = forms.DateField(
        label="Opened on",
        initial=today,
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
    )

    price = NumberField(
        label="It cost",
        least=0,
        most=1_000_000,
        noun="The price",
        required=False,
        help_text="In your own money, for what a good sheet comes to.",
    )

    class Meta:
        model = Box
        fields = [
            "name",
            "paper",
            "size",
            "cut_to",
            "sheets",
            "batch",
            "made_in",
            "opened_on",
            "price",
            "note",
        ]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["paper"].queryset = Paper.objects.in_use()
        self.initial["opened_on"] = self.instance.opened_on or today()

    def clean(self):
        cleaned = super().clean()
        cleaned["cut_to"] = cleaned.get("cut_to") or ""
        size, piece = cleaned.get("size"), cleaned["cut_to"]
        if size and piece and not sizes.pieces(size, piece):
            self.add_error("cut_to", f"Out of {size} no {piece} can be cut.")
        return cleaned


class PersonForm(ThingForm):
    class Meta:
        model = Person
        fields = ["name", "period", "note"]
        labels = {"period": "Period or group"}


class MeterForm(ThingForm):
    lowest_iso = NumberField(
        label="Lowest ISO on it", least=0.1, most=1000, noun="The ISO", prefixes=("iso",)
    )
    last_f_number = NumberField(
        label="Last f-number on its scale",
        least=1,
        most=1000,
        noun="The f-number",
        prefixes=("f/", "f"),
    )

    class Meta:
        model = Meter
        fields = ["name", "kind", "lowest_iso", "last_f_number", "note"]


class HolderForm(ThingForm):
    size = NominalField(label="Takes sheets of", help_text=SIZES_LIKE)
    count = WholeField(
        label="So many of them",
        least=1,
        most=24,
        noun="The number of holders",
        required=False,
        help_text="Left empty: one. Names run on: 1, 2, 3, 4.",
    )

    class Meta:
        model = Holder
        fields = ["name", "size", "note"]

    field_order = ["name", "size", "count", "note"]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        if self.instance.pk:
            del self.fields["count"]
