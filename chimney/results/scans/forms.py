"""Scans that come in, and how a positive is made of one."""

from django import forms

from chimney.logbook.models import Sheet
from chimney.parts.fields import NumberField

QUARTERS = ((0, "as scanned"), (1, "a quarter right"), (2, "upside down"), (3, "a quarter left"))


class FilesInput(forms.ClearableFileInput):
    allow_multiple_selected = True


class UploadField(forms.FileField):
    """Several files at once."""

    widget = FilesInput

    def clean(self, data, initial=None):
        one = super().clean
        return [one(file, initial) for file in data or [None]]


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


# Left empty: nothing.
OPTIONAL = ("straighten_deg", "crop_left", "crop_right", "crop_top", "crop_bottom")


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
        low, high = cleaned.get("low_percent"), cleaned.get("high_percent")
        if low is not None and high is not None and high - low < 5:
            self.add_error("high_percent", "White must lie at least 5 % above black.")
        return cleaned
