"""A process as a list of steps that is edited."""

from django import forms

from chimney.darkroom.models import Vessel
from chimney.parts.fields import DurationField, WholeField
from pinhole import developing, media
from pinhole.developing import purposes
from pinhole.developing.steps import LONGEST_STEP_S

LIGHT_CHOICES = (
    ("red", "red light"),
    ("dark", "total darkness"),
    ("closed", "in a vessel that is shut"),
    ("white", "white light"),
)
# Rows that are offered beyond those that are there.
MORE = 2


class StepForm(forms.Form):
    name = forms.CharField(label="Step", max_length=60)
    purpose = forms.ChoiceField(label="What for", choices=purposes.choices)
    place = WholeField(label="Place", least=1, most=99, noun="The place", required=False)
    least_s = DurationField(label="At least", most_s=LONGEST_STEP_S, required=False)
    most_s = DurationField(label="At most", most_s=LONGEST_STEP_S, required=False)
    beat_s = DurationField(label="Moved every", most_s=3600, required=False)
    drip_s = DurationField(label="Drips at its end for", most_s=600, required=False)
    light = forms.ChoiceField(label="In", choices=LIGHT_CHOICES)
    again = WholeField(
        label="May go back so many steps",
        least=0,
        most=20,
        noun="The number of steps",
        required=False,
    )
    remark = forms.CharField(label="Remark", max_length=200, required=False)
    caution = forms.CharField(label="Caution", max_length=200, required=False)
    gone = forms.BooleanField(label="Leave it out", required=False)

    def clean(self):
        cleaned = super().clean()
        if cleaned.get("gone"):
            # What is left out may be anything.
            self.errors.clear()
            return cleaned
        shortest_s, longest_s = cleaned.get("least_s"), cleaned.get("most_s")
        cleaned["least_s"], cleaned["most_s"] = (
            shortest_s or longest_s or 0.0,
            longest_s or shortest_s or 0.0,
        )
        if not self.errors:
            try:
                self.step()
            except ValueError as error:
                self.add_error("least_s", f"{error}.")
        return cleaned

    def step(self):
        """The Step. Raises ValueError where it can be none."""
        times = {name: self.cleaned_data.get(name) for name in TIMES}
        texts = {name: self.cleaned_data[name] for name in STEP_TEXTS}
        return developing.Step(
            **texts,
            **{name: value or 0.0 for name, value in times.items()},
            again=self.cleaned_data.get("again") or 0,
        )


TIMES = ("least_s", "most_s", "beat_s", "drip_s")
STEP_TEXTS = ("name", "purpose", "light", "remark", "caution")


class BareSteps(forms.BaseFormSet):
    def clean(self):
        """The steps together, in their order: `steps`."""
        self.steps = ()
        if any(self.errors):
            return
        rows = [form for form in self.forms if form.has_changed() or form.initial]
        rows = [form for form in rows if not form.cleaned_data.get("gone")]
        rows.sort(key=lambda form: form.cleaned_data.get("place") or 99)
        try:
            self.steps = developing.checked_steps(form.step() for form in rows)
        except (ValueError, KeyError) as error:
            raise forms.ValidationError(f"{str(error)[0].upper()}{str(error)[1:]}.") from error


Steps = forms.formset_factory(
    StepForm, formset=BareSteps, extra=MORE, max_num=40, absolute_max=40, validate_max=True
)


def start_of(steps):
    """Initial values for the rows of a process."""
    return [_row(step) | {"place": place} for place, step in enumerate(steps, 1)]


def _row(step):
    times = {name: float(getattr(step, name)) or "" for name in TIMES}
    return times | {name: getattr(step, name) or "" for name in (*STEP_TEXTS, "again")}


def _developed():
    """(name, words) of the media that are developed at all."""
    developed = media.timed()
    return [choice for choice in media.choices() if choice[0] in developed]


class ProcessForm(forms.Form):
    name = forms.CharField(label="Name", max_length=60)
    kinds = forms.MultipleChoiceField(
        label="For",
        choices=_developed,
        widget=forms.CheckboxSelectMultiple,
    )
    vessels = forms.MultipleChoiceField(
        label="In", choices=Vessel.Kind.choices, widget=forms.CheckboxSelectMultiple
    )
    together = forms.BooleanField(label="Sheets usually go in all at once", required=False)
    by_eye = forms.BooleanField(label="The developer usually ends by eye", required=False)
    why = forms.CharField(label="What it is good for", max_length=200, required=False)
