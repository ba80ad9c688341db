"""Steps of a scanned wedge: where each lies and which density it is known to have."""

from dataclasses import dataclass

from django import forms

from chimney.parts import clicks
from chimney.parts.fields import NumberField

# From step to step of most wedges [density] (common practice).
USUAL_STEP = 0.15
MOST_WEDGE_STEPS = 32
DENSEST_STEP = 4.0


@dataclass(frozen=True)
class WedgeStep:
    """A place on the scan as shares from left and from the top; density: what is known of it."""

    across: float
    down: float
    density: float

    @property
    def written(self):
        """Text of it as in an address."""
        return f"{clicks.written(self.across, self.down)},{self.density:g}"


def read_steps(texts):
    """Steps of an address; what is none is left out."""
    steps = []
    for text in texts[:MOST_WEDGE_STEPS]:
        place, _, density = text.rpartition(",")
        try:
            step = WedgeStep(*clicks.shares(place), float(density))
        except ValueError:
            continue
        if 0 <= step.density <= DENSEST_STEP:
            steps.append(step)
    return steps


class WedgeStepForm(forms.Form):
    density = NumberField(
        label="The next step has a density of",
        least=0,
        most=DENSEST_STEP,
        noun="A density",
        help_text="As printed on the wedge, or 0.75 for an 18 % grey card.",
    )


class WedgeForm(forms.Form):
    name = forms.CharField(label="Keep this wedge as", max_length=60)
    days = forms.BooleanField(label="Read the day's other scans by it too", required=False)

    def clean_name(self):
        return " ".join(self.cleaned_data["name"].split())
