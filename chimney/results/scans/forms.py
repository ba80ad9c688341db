"""Scans that come in, and how a positive is made of one."""

from django import forms
from django.db.models.functions import Upper

from chimney.logbook.models import Sheet
from chimney.parts.fields import NumberField, RowsField
from chimney.places.models import Place
from chimney.results.models import Scan, ScannedWedge, ToneSetting

QUARTERS = ((0, "as scanned"), (1, "a quarter right"), (2, "upside down"), (3, "a quarter left"))


class FilesInput(forms.ClearableFileInput):
    allow_multiple_selected = True


class UploadField(forms.FileField):
    """Several files at once."""

    widget = FilesInput

    def __init__(self, **kwargs):
        # One empty file is told by its name, and the others come in.
        super().__init__(allow_empty_file=True, **kwargs)

    def clean(self, data, initial=None):
        cleaned = super().clean
        return [cleaned(file, initial) for file in data or [None]]


class UploadForm(forms.Form):
    scans = UploadField(
        label="Scans",
        help_text="TIFF, PNG or JPEG, several at once. A code in a file's name finds its sheet.",
        error_messages={"required": "Choose at least one file."},
    )


class MatchForm(forms.Form):
    code = forms.CharField(label="Sheet", max_length=20, required=False)

    def clean_code(self):
        code = self.cleaned_data["code"].strip()
        sheet = Sheet.objects.select_related("paper").filter(code__iexact=code).first()
        if code and sheet is None:
            raise forms.ValidationError(f"No sheet is called {code}.")
        self.sheet = sheet
        return code


class SettingForm(forms.Form):
    name = forms.CharField(label="Keep these settings as", max_length=60)

    def clean_name(self):
        return " ".join(self.cleaned_data["name"].split())


class ReadByForm(forms.Form):
    wedge = forms.ModelChoiceField(
        ScannedWedge.objects,
        required=False,
        empty_label="the standard curve of scanners",
        label="Densities by",
    )
    days = forms.BooleanField(label="the day's others too", required=False)


class ExportForm(forms.Form):
    place = forms.ModelChoiceField(
        Place.objects, required=False, empty_label="no place in it", label="Written into the file"
    )


class GroupForm(forms.Form):
    """A kept setting for the scans that are ticked."""

    scans = RowsField(
        Scan.objects.filter(state=Scan.State.READY),
        error_messages={"required": "Tick the scans that it is for."},
    )
    setting = forms.ModelChoiceField(
        ToneSetting.objects, label="Make the positives of those ticked as", empty_label=None
    )


class InOrderForm(forms.Form):
    """Loose scans, each with the code of its sheet, proposed in the order of their names."""

    def __init__(self, loose, proposed, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.loose = list(loose)
        for scan, sheet in zip(self.loose, proposed, strict=True):
            self.fields[f"sheet_{scan.pk}"] = forms.CharField(
                label=f"Sheet of {scan}", max_length=20, required=False, initial=sheet or ""
            )

    @property
    def rows(self):
        """[(scan, its field)]."""
        return [(scan, self[f"sheet_{scan.pk}"]) for scan in self.loose]

    def clean(self):
        cleaned = super().clean()
        codes_typed = {scan: (cleaned.get(f"sheet_{scan.pk}") or "").strip() for scan in self.loose}
        codes = {code.upper() for code in codes_typed.values() if code}
        rows = Sheet.objects.select_related("paper").annotate(upper=Upper("code"))
        sheets = {sheet.upper: sheet for sheet in rows.filter(upper__in=codes)}
        for scan, code in codes_typed.items():
            if code and code.upper() not in sheets:
                self.add_error(f"sheet_{scan.pk}", f"No sheet is called {code}.")
        self.pairs = [
            (scan, sheets.get(code.upper())) for scan, code in codes_typed.items() if code
        ]
        return cleaned


# Left empty: nothing.
OPTIONAL = ("straighten_deg", "crop_left", "crop_right", "crop_top", "crop_bottom")
# Left empty: as the scanner has it.
COLOURS = ("red_percent", "blue_percent", "saturation_percent")


class ToneForm(forms.Form):
    inverted = forms.BooleanField(label="Inverted", required=False)
    mirrored = forms.BooleanField(label="Mirrored, as every emulsion is", required=False)
    transmitted = forms.BooleanField(label="Copied on a light table", required=False)
    quarters = forms.TypedChoiceField(label="Turned", choices=QUARTERS, coerce=int)
    low_percent = NumberField(label="Black at", unit="%", least=0, most=60, noun="The black point")
    high_percent = NumberField(
        label="White at", unit="%", least=40, most=100, noun="The white point"
    )
    gamma = NumberField(
        label="Curve", least=0.3, most=3, noun="The curve", help_text="Above 1 lifts the shadows."
    )

    by_channel = forms.BooleanField(label="Each colour by itself", required=False)
    red_percent, blue_percent, saturation_percent = (
        NumberField(label=label, unit="%", least=least, most=300, noun=label, required=False)
        for label, least in (("Red against green", 30), ("Blue against green", 30), ("Colour", 0))
    )
    straighten_deg = NumberField(
        label="Straightened by", unit="°", least=-20, most=20, noun="The turn", required=False
    )
    crop_left, crop_right, crop_top, crop_bottom = (
        NumberField(
            label=f"Cut off at the {side}",
            unit="%",
            least=0,
            most=45,
            noun="What is cut off",
            required=False,
        )
        for side in ("left", "right", "top", "bottom")
    )

    def clean(self):
        cleaned = super().clean()
        for name in OPTIONAL:
            cleaned[name] = cleaned.get(name) or 0.0
        for name in COLOURS:
            cleaned[name] = 100.0 if cleaned.get(name) is None else cleaned[name]
        low, high = cleaned.get("low_percent"), cleaned.get("high_percent")
        if low is not None and high is not None and high - low < 5:
            self.add_error("high_percent", "White must lie at least 5 % above black.")
        return cleaned
