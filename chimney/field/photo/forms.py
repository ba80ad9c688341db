"""Forms of a photo of a scene: brought in, and read."""

import re
from math import hypot

from django import forms

from chimney.field.models import ScenePhoto
from chimney.field.photo import files
from chimney.field.photo.craft.moving import ABOVE, BELOW, PEOPLE
from chimney.kit.catalogue import backs
from chimney.kit.models import Camera, Paper
from chimney.parts.fields import DurationField, NumberField, WholeField
from chimney.parts.uploads import open_picture

SHARE_WORDS = r"(0(?:\.\d{1,4})?|1(?:\.0{1,4})?)"
NOTHING_MOVES = ""
MOVING_PARTS = (
    (NOTHING_MOVES, "nothing"),
    (ABOVE, "clouds, above the line"),
    (BELOW, "water or leaves, below the line"),
    (PEOPLE, "people, in the frame"),
)


class BringPhotoForm(forms.Form):
    """A photo as it came from the phone; cleaned as files.Brought."""

    photo = forms.FileField(
        label="A photo of the scene",
        widget=forms.ClearableFileInput(attrs={"accept": "image/*", "capture": "environment"}),
    )
    facing = forms.BooleanField(
        label="Keep where it was taken, and which way it looked", required=False
    )

    def clean(self):
        cleaned = super().clean()
        upload = cleaned.get("photo")
        if upload:
            content = upload.read()
            upload.seek(0)
            try:
                if files.is_heic(content):
                    content = files.as_jpeg(content)
                else:
                    open_picture(upload, files.SCENE_PHOTO)
                cleaned["brought"] = files.brought(content, facing=cleaned["facing"])
            except forms.ValidationError as error:
                self.add_error("photo", error)
        return cleaned


class SpotsField(forms.CharField):
    """So many places in a photo, as shares: `0.2,0.7 0.5,0.5 0.8,0.1`."""

    def __init__(self, count=3):
        super().__init__(max_length=60, required=False, widget=forms.HiddenInput)
        self.words = re.compile(" ".join([f"{SHARE_WORDS},{SHARE_WORDS}"] * count), re.ASCII)

    def clean(self, value):
        match = self.words.fullmatch(super().clean(value))
        numbers = [float(number) for number in match.groups()] if match else []
        return [list(pair) for pair in zip(numbers[::2], numbers[1::2], strict=True)]


def _apart(label):
    return NumberField(
        label=label, noun="How far apart they are", unit="cm", least=-500, most=500, required=False
    )


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
        help_text="Empty: by what both show.",
    )
    line = NumberField(noun="The line", least=0, most=1, required=False, widget=forms.HiddenInput)
    # Two corners of the frame that people stand in, and how long.
    people = SpotsField(2)
    stay_s = DurationField(label="People in the frame stay", required=False)
    right_cm = _apart("It stands to the right of the phone by")
    lower_cm = _apart("lower by")
    nearer_cm = _apart("nearer by")
    away_m = NumberField(
        label="What you frame is so far away",
        noun="How far away it is",
        unit="m",
        least=0.1,
        most=100_000,
        required=False,
    )
    bare = forms.BooleanField(label="Hide the marks", required=False)
    # The kept shot that it is read for.
    shot = WholeField(
        least=1, most=10**15, noun="The shot", required=False, widget=forms.HiddenInput
    )

    def clean(self):
        cleaned = super().clean()
        apart = [cleaned.get(name) or 0.0 for name in ("right_cm", "lower_cm", "nearer_cm")]
        away_m = cleaned.get("away_m")
        if any(apart) and away_m is None and "away_m" not in self.errors:
            self.add_error("away_m", "How far away is what you frame? Only near things shift.")
        elif away_m is not None and away_m * 100 <= hypot(*apart):
            self.add_error("away_m", "That is nearer than the pinhole is to the phone.")
        return cleaned

    @property
    def spoken_fields(self):
        """Fields beside which a message has its place."""
        boxes = ("upright", "bare")
        return [field for field in self.visible_fields() if field.name not in boxes]
