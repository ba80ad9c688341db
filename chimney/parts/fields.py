"""Form fields that read what practitioners write. Each says its limit when it refuses."""

import math
import re

from django import forms
from django.forms.models import ModelChoiceIterator

from chimney.parts import scales, sizes
from pinhole import durations


class FewRowsIterator(ModelChoiceIterator):
    """The choices of a field, from the rows that it has read."""

    def __iter__(self):
        if self.field.empty_label is not None:
            yield "", self.field.empty_label
        yield from map(self.choice, self.field.rows)

    def __bool__(self):
        return self.field.empty_label is not None or bool(self.field.rows)


class FewRowsField(forms.ModelChoiceField):
    """One of a few rows: a form reads them once, however often it shows and judges them."""

    iterator = FewRowsIterator
    _rows = None

    @property
    def rows(self):
        if self._rows is None:
            self._rows = list(self.queryset)
        return self._rows

    @rows.setter
    def rows(self, rows):
        self._rows = rows

    def __deepcopy__(self, memo):
        """Another form reads anew."""
        fresh = super().__deepcopy__(memo)
        fresh._rows = None
        return fresh

    def to_python(self, value):
        if value in self.empty_values:
            return None
        wanted_key = str(getattr(value, "pk", value)).strip()
        row = next((row for row in self.rows if str(row.pk) == wanted_key), None)
        if row is None:
            message, params = self.error_messages["invalid_choice"], {"value": str(value)[:20]}
            raise forms.ValidationError(message, code="invalid_choice", params=params)
        return row


class RowsField(forms.ModelMultipleChoiceField):
    """Several rows to tick; a number that no row can have is none of them."""

    def _check_values(self, value):
        for pk in value if isinstance(value, list | tuple) else ():
            if len(str(pk)) > 18:
                message = self.error_messages["invalid_choice"]
                raise forms.ValidationError(
                    message, code="invalid_choice", params={"value": str(pk)[:20]}
                )
        return super()._check_values(value)


def leave_out(form, names):
    """Drop fields that are not asked for: they are neither kept nor refused."""
    for name in names:
        form.errors.pop(name, None)
        form.cleaned_data[name] = None


class TypedField(forms.CharField):
    """A text field whose words become a value; bad words come back as they were typed."""

    def __init__(self, *, unit="", max_length=60, input_mode="decimal", **kwargs):
        super().__init__(max_length=max_length, **kwargs)
        self.unit = unit
        self.widget.attrs |= {"inputmode": input_mode, "autocomplete": "off"}

    def clean(self, value):
        text = super().clean(value)
        if text in self.empty_values:
            return None
        try:
            return self.read(text)
        except ValueError as error:
            raise forms.ValidationError(str(error), code="unreadable") from error

    def read(self, text):
        raise NotImplementedError


class NumberField(TypedField):
    """A number between two limits; `noun` starts the message that names them, prefixes like f/ are
    dropped.
    """

    def __init__(self, *, least, most, noun, unit="", prefixes=(), **kwargs):
        super().__init__(unit=unit, **kwargs)
        self.least, self.most, self.noun, self.prefixes = least, most, noun, prefixes

    def read(self, text):
        bare = text.lower().replace(",", ".").replace("−", "-").strip()
        for prefix in self.prefixes:
            bare = bare.removeprefix(prefix).strip()
        if self.unit in ("mm", "cm") and (typed_mm := sizes.length_mm(bare)) is not None:
            bare = f"{typed_mm / sizes.MM[self.unit]:.10g}"
        bare = bare.removesuffix(self.unit.lower()).strip() if self.unit else bare
        try:
            value = float(bare) if bare.isascii() and "_" not in bare else math.nan
        except ValueError:
            value = math.nan
        if math.isnan(value):
            raise ValueError(f"{self.noun} must be a number.")
        if not self.least <= value <= self.most:
            unit = f" {self.unit}" if self.unit else ""
            raise ValueError(f"{self.noun} must be between {self.least:g} and {self.most:g}{unit}.")
        return value

    def prepare_value(self, value):
        return f"{value:.10g}" if isinstance(value, float) else value


class DilutionField(NumberField):
    """Field for the parts of water to one of a concentrate."""

    def __init__(self, **kwargs):
        defaults = {"label": "Dilution 1 +", "noun": "The dilution", "prefixes": ("1+", "1 +")}
        super().__init__(least=0.1, most=1000, **defaults, **kwargs)


class WholeField(NumberField):
    """A whole number between two limits."""

    def read(self, text):
        value = super().read(text)
        if value != int(value):
            raise ValueError(f"{self.noun} must be a whole number.")
        return int(value)


class DurationField(TypedField):
    """A time as people say it, in seconds, between two limits; bare_unit: what a number alone is
    counted in, "s" or "min", which then stands beside the field.
    """

    def __init__(self, *, least_s=0.0001, most_s=86400, bare_unit="s", **kwargs):
        super().__init__(input_mode="text", **kwargs)
        self.least_s, self.most_s, self.bare_unit = least_s, most_s, bare_unit
        if bare_unit != "s" and not self.help_text:
            self.help_text = "A number alone is minutes."

    def read(self, text):
        bare = self.bare_unit == "min" and re.fullmatch(durations.NUMBER, text.replace(",", "."))
        seconds = durations.parse_s(f"{text} min" if bare else text)
        if seconds < self.least_s:
            raise ValueError(f"A time must be above 0, {durations.EXAMPLES}.")
        if seconds > self.most_s:
            raise ValueError(
                f"More than {durations.say(self.most_s)}: a paper left out that long is "
                "for a solargraph."
                if self.most_s == 86400
                else f"A time must be at most {durations.say(self.most_s)}."
            )
        return seconds

    def prepare_value(self, value):
        return durations.say(value) if isinstance(value, float) else value


class StopsField(TypedField):
    """A number of stops, signed, in fractions or decimals."""

    def __init__(self, *, most=10, signed=True, **kwargs):
        super().__init__(unit="stops", input_mode="text", **kwargs)
        self.least, self.most = -most if signed else 0, most

    def read(self, text):
        stops = scales.parse_stops(text)
        if not self.least <= stops <= self.most:
            raise ValueError(f"Stops must be between {self.least:g} and {self.most:g}.")
        return stops

    def prepare_value(self, value):
        return scales.stops(value) if isinstance(value, float) else value


class SizeField(TypedField):
    """A size in mm as (width, height), typed in mm, cm or inches."""

    def __init__(self, **kwargs):
        super().__init__(input_mode="text", **kwargs)

    def read(self, text):
        return sizes.parse(text)

    def prepare_value(self, value):
        return f"{value[0]:g}x{value[1]:g}" if isinstance(value, tuple) else value


class NominalField(SizeField):
    """The name of a nominal size: `102x127` is a 4x5 in."""

    def read(self, text):
        return sizes.named(text)
