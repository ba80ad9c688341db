"""Several cans in a row: a camera, its direction and its lean a line, each held against the bounds
of the planner; and a window as the frame of the sky.
"""

from collections import Counter

from django import forms

from chimney.kit.models import Camera
from chimney.parts.fields import NumberField
from chimney.places.forms import BearingField
from chimney.solar.forms import SunForm
from chimney.solar.wording import cannot_lie
from pinhole.solargraph import skyline

MOST_LINES, MOST_LETTERS = 40, 4000
EXAMPLE = "A camera of yours and its direction, like Can 4 E 10."


class WindowForm(forms.Form):
    """Form for a window that a can looks through, in centimetres."""

    facing_deg = BearingField(label="The wall faces")
    wide_cm = NumberField(label="Frame wide", unit="cm", least=1, most=2000, noun="The width")
    high_cm = NumberField(label="high", unit="cm", least=1, most=2000, noun="The height")
    sill_cm = NumberField(
        label="Sill below the hole",
        unit="cm",
        least=-1000,
        most=1000,
        noun="The sill",
        help_text="Negative where it lies above.",
    )
    wall_cm = NumberField(label="Wall thick", unit="cm", least=0, most=500, noun="The wall")
    behind_cm = NumberField(
        label="Hole behind the wall's inside",
        unit="cm",
        least=0.1,
        most=2000,
        noun="The distance",
    )

    @property
    def lines(self):
        """(points, upper points) of the sky in it."""
        cleaned = self.cleaned_data
        mm = {name: 10 * cleaned[f"{name}_cm"] for name in ("wide", "high", "sill")}
        return skyline.window(
            cleaned["facing_deg"],
            mm["wide"],
            mm["high"],
            -mm["sill"],
            wall_mm=10 * cleaned["wall_cm"],
            behind_mm=10 * cleaned["behind_cm"],
        )


def read(text, cleaned):
    """([(camera, azimuth, tilt)], "") of what was typed, the planned one where nothing was; or ([],
    what is wrong).
    """
    lines = [line.strip() for line in text[:MOST_LETTERS].splitlines() if line.strip()]
    if len(lines) > MOST_LINES:
        return [], f"At most {MOST_LINES} cans in a row: those are {len(lines)}."
    if not lines:
        return [(cleaned["camera"], cleaned["azimuth_deg"], cleaned["tilt_deg"])], ""
    cameras = {camera.name.lower(): camera for camera in Camera.objects.in_use()}
    points = []
    for line in lines:
        try:
            points.append(_row(line, cameras, cleaned))
        except forms.ValidationError as error:
            return [], f"“{line[:40]}”: {' '.join(error.messages)}"
    return ([], twice) if (twice := _twice(points)) else (points, "")


def _twice(points):
    """Fault of one box that is to hang in two places at once, or nothing."""
    boxes = Counter(camera.body_pk for camera, *_ in points)
    for camera, *_ in points:
        if boxes[camera.body_pk] > 1:
            return f"{camera} stands there twice: it can hang in one place only."
    return ""


def _row(line, cameras, cleaned):
    """(camera, azimuth, tilt) of a line; raises ValidationError in the words of the planner's own
    fields.
    """
    numbers = line.split()
    # Names may end in a number, as directions do: the longest name that is somebody's is meant.
    for count in range(len(numbers) - 1, 0, -1):
        camera, rest = cameras.get(" ".join(numbers[:count]).lower()), numbers[count:]
        if camera and len(rest) <= 2:
            return _checked(camera, *rest, cleaned=cleaned)
    raise forms.ValidationError(EXAMPLE)


def _checked(camera, azimuth, tilt="", *, cleaned):
    if camera.is_lens:
        raise forms.ValidationError(f"{camera} has a lens, which burns when it faces the sun.")
    fields = SunForm.base_fields
    azimuth_deg = fields["azimuth_deg"].clean(azimuth)
    tilt_deg = fields["tilt_deg"].clean(tilt) if tilt else cleaned["tilt_deg"]
    try:
        camera.geometry  # noqa: B018 - a back in which its paper cannot lie draws nothing
    except ValueError as error:
        raise forms.ValidationError(cannot_lie(error)) from error
    return camera, azimuth_deg, tilt_deg
