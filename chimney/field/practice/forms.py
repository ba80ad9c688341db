"""Form of an exposure that costs no sheet."""

from django import forms

from chimney.kit.catalogue import backs
from chimney.kit.models import Camera, Paper
from chimney.parts.fields import DurationField
from pinhole import light

# Scenes that are invented with the house: a seed, words that say what is there, and a name.
SCENES = {
    "kiln": (12, "kiln", "a lime kiln in its yard"),
    "harbour": (5, "harbour slip", "a slipway at a harbour"),
    "hedge": (21, "meadow", "a meadow with trees"),
}
# For those who have no kit yet: a box of card, and the paper that most begin with.
PRACTICE_BOX = Camera(
    name="a box of practice",
    focal_mm=100.0,
    diameter_mm=0.4,
    size="4x5 in",
    cut_width_mm=127.0,
    cut_height_mm=101.6,
    visible_width_mm=127.0,
    visible_height_mm=101.6,
)
PRACTICE_PAPER = Paper(name="a paper of practice", kind="negative", box_ei=6.0)
JUDGED: tuple[tuple[str, str], ...] = (
    ("-2", "2 stops less"),
    ("-1", "1 stop less"),
    ("0", "the same again"),
)
JUDGED += (("1", "1 stop more"), ("2", "2 stops more"))


class PracticeForm(forms.Form):
    """A scene and its light, a camera and a paper, and how long the hole was open."""

    scene = forms.ChoiceField(
        label="You stand before", choices=[(key, row[2]) for key, row in SCENES.items()]
    )
    sky = forms.ChoiceField(label="under", choices=[(sky.name, sky.words) for sky in light.SKIES])
    height = forms.ChoiceField(
        label="with the", choices=[(height.name, height.words) for height in light.HEIGHTS]
    )
    camera = forms.ModelChoiceField(
        Camera.objects.in_use().exclude(back__in=backs.lenses()),
        required=False,
        label="Camera",
        empty_label=PRACTICE_BOX.name,
    )
    paper = forms.ModelChoiceField(
        Paper.objects.timed(), required=False, label="Paper", empty_label=PRACTICE_PAPER.name
    )
    given_s = DurationField(
        label="You open the hole for",
        least_s=0.1,
        required=False,
        help_text="Guess: 10 s, a minute, 20 min. Nothing is wasted.",
    )
    developed = forms.BooleanField(required=False, widget=forms.HiddenInput)
    judged = forms.ChoiceField(choices=[("", ""), *JUDGED], required=False)
