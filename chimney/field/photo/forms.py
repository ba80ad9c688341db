"""Forms of a photo of a scene: brought in, and read."""

import re

from django import forms

from chimney.field.models import ScenePhoto
from chimney.field.photo import files
from chimney.kit.catalogue import backs
from chimney.kit.models import Camera, Paper
from chimney.parts.fields import NumberField, WholeField
from chimney.parts.uploads import open_picture

SHARE_WORDS = r"(0(?:\.\d{1,4})?|1(?:\.0{1,4})?)"
SPOT_WORDS = re.compile(
    rf"{SHARE_WORDS},{SHARE_WORDS} {SHARE_WORDS},{SHARE_WORDS} {SHARE_WORDS},{SHARE_WORDS}",
    re.ASCII,
)
NOTHING_MOVES, ABOVE, BELOW = "", "above", "below"
MOVING_PARTS = (
    (NOTHING_MOVES, "nothing"),
    (ABOVE, "clouds, above the line"),
    (BELOW, "water or leaves, below the line"),
)


class BringPhotoForm(forms.Form):
    """A photo as it came from the phone; cleaned as files.Brought."""

    photo = forms.FileField(
        label="A photo of the scene",
        widget=forms.ClearableFileInput(attrs={"accept": "image/*", "capture": "environment"}),
    )
    facing = forms.BooleanField(label="Keep which way it looked", required=False)

    def clean(self):
        cleaned = super().clean()
        upload = cleaned.get("photo")
        if upload:
            content = upload.read()
            upload.seek(0)
            try:
                if files.is_heic(content):
                    picture = files.open_heic(content)
                else:
                    picture = open_picture(upload, files.SCENE_PHOTO)
                cleaned["brought"] = files.brought(content, picture, facing=cleaned["facing"])
            except forms.ValidationError as error:
                self.add_error("photo", error)
        return cleaned


class SpotsField(forms.CharField):
    """Three places in a photo, as shares: `0.2,0.7 0.5,0.5 0.8,0.1`."""

    def __init__(self):
        super().__init__(max_length=60, required=False, widget=forms.HiddenInput)

    def clean(self, value):
        match = SPOT_WORDS.fullmatch(super().clean(value))
        numbers = [float(number) for number in match.groups()] if match else []
        return [list(pair) for pair in zip(numbers[::2], numbers[1::2], strict=True)]


class PhotoForm(forms.Form):
    """Fields of how a photo is read: with which camera and paper, where its spots lie, how the
    pinhole points against it.
    """

    camera = forms.ModelChoiceField(
        Camera.objects.in_use().exclude(back__in=backs.lenses()), empty_label=None, label="Camera"
    )
    paper = forms.ModelChoiceField(Paper.objects.timed(), empty_label=None, label="Paper")
    spots = SpotsField()
    turn_deg = NumberField(
        label="Turned right", noun="The turn", unit="°", least=-80, most=80, required=False
    )
    tilt_deg = NumberField(
        label="Tilted up", noun="The tilt", unit="°", least=-60, most=60, required=False
    )
    upright = forms.BooleanField(label="The camera stands upright", required=False)
    equivalent_mm = NumberField(
        label="The photo's lens",
        noun="Its focal length",
        unit="mm",
        least=8,
        most=600,
        required=False,
        help_text="As on 35 mm film; a phone's main lens is about 26.",
    )
    meter_ev100 = NumberField(
        label="A meter beside it",
        noun="The reading",
        unit="EV",
        least=-10,
        most=22,
        required=False,
        help_text="EV at ISO 100 of the middle spot; it teaches what this phone is worth.",
    )
    moves = forms.ChoiceField(label="What moves", choices=MOVING_PARTS, required=False)
    beside = forms.ModelChoiceField(
        ScenePhoto.objects.exclude(set_ev100=None).defer("jpeg"),
        label="A second photo",
        required=False,
        empty_label="none",
    )
    beside_deg = NumberField(
        label="which looks further right by",
        noun="The turn between them",
        unit="°",
        least=-150,
        most=150,
        required=False,
    )
    line = NumberField(noun="The line", least=0, most=1, required=False, widget=forms.HiddenInput)
    bare = forms.BooleanField(label="Hide the marks", required=False)
    # The kept shot that it is read for.
    shot = WholeField(
        least=1, most=10**15, noun="The shot", required=False, widget=forms.HiddenInput
    )

    @property
    def spoken_fields(self):
        """Fields beside which a message has its place."""
        boxes = ("upright", "bare")
        return [field for field in self.visible_fields() if field.name not in boxes]
