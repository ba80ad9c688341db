"""Forms for questions to the log, and answers to a lesson."""

from django import forms

from chimney.kit.models import Camera, Paper
from chimney.lessons.models import Lesson
from chimney.parts.fields import NumberField

LONGEST_ASKED_S = 10_000_000


class StandingForm(forms.Form):
    standing = forms.ChoiceField(choices=Lesson.Standing)


class NearestForm(forms.Form):
    """A plan as the log looks for sheets like it."""

    paper = forms.ModelChoiceField(Paper.objects)
    camera = forms.ModelChoiceField(Camera.objects, required=False)
    seconds = NumberField(least=0.001, most=LONGEST_ASKED_S, noun="The time")
    metered_s = NumberField(
        least=1e-6, most=LONGEST_ASKED_S, noun="The metered time", required=False
    )
    exact_s = NumberField(
        least=1e-6, most=LONGEST_ASKED_S, noun="The time worked out", required=False
    )
