"""A reading of the light as people take it, in any of four forms, alone or as darkest and brightest
of a scene.
"""

import math
from dataclasses import replace

from django import forms

from chimney.parts.fields import DurationField, NumberField
from chimney.parts.scales import number
from pinhole import exposure, light

READING_KINDS = [("seconds", "seconds"), ("ev", "EV"), ("lux", "lux"), ("sky", "sun and cloud")]
FIELDS_OF = {
    "seconds": ("seconds", "meter_f", "meter_iso"),
    "ev": ("ev", "ev_iso"),
    "lux": ("lux",),
    "sky": ("sky", "height"),
}


class ReadingForm(forms.Form):
    """Form for what the meter says. Only the chosen form counts; what stands in the others is kept
    and not judged.
    """

    kind = forms.ChoiceField(
        label="What does the meter say?", choices=READING_KINDS, widget=forms.RadioSelect
    )
    seconds = DurationField(label="reads", least_s=1 / 16000)
    meter_f = NumberField(
        label="at f/", least=0.7, most=1000, noun="The meter's f-number", prefixes=("f/", "f")
    )
    meter_iso = NumberField(
        label="set to ISO", least=0.1, most=102400, noun="The ISO", prefixes=("iso",)
    )
    ev = NumberField(label="EV", least=-10, most=24, noun="The EV", prefixes=("ev",))
    ev_iso = NumberField(
        label="set to ISO", least=0.1, most=102400, noun="The ISO", prefixes=("iso",)
    )
    lux = NumberField(label="lux", least=0.001, most=200_000, noun="The light", unit="lx")
    sky = forms.ChoiceField(label="The sky", choices=[(sky.name, sky.words) for sky in light.SKIES])
    height = forms.ChoiceField(
        label="The sun", choices=[(height.name, height.words) for height in light.HEIGHTS]
    )

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["kind"].widget.attrs["class"] = "choice"

    # Why light is not judged by eye, where it is not.
    dark = ""

    def stands(self, altitude_deg, dark):
        """Ask only from where the sun shines, where its height is known by place and moment: not
        None. dark: why light is not judged by eye then, or "".
        """
        if altitude_deg is None:
            return
        self.dark = dark
        self.fields["height"].choices = STANDS
        up = f"The sun, {max(0, altitude_deg):.0f}° up"
        self.fields["height"].label = "The sun is down" if dark else up
        height = self.data.get("height")
        if height and height in light.HEIGHT_BY_NAME and height not in dict(STANDS):
            self.data = self.data.copy()
            self.data["height"] = STANDS[0][0]

    def clean(self):
        cleaned = super().clean()
        if cleaned.get("kind") == "sky" and self.dark:
            self.add_error("sky", self.dark)
        return cleaned

    def full_clean(self):
        super().full_clean()
        chosen = self.cleaned_data.get("kind") if hasattr(self, "cleaned_data") else None
        for kind, names in FIELDS_OF.items():
            if kind != chosen:
                for name in names:
                    self._errors.pop(name, None)


# How the sun stands, where its height is known by place and moment.
STANDS = (
    ("high", "behind the camera"),
    ("side", "from the side"),
    ("shade", "shade, or the camera looks towards it"),
)


def _say_height(height, altitude_deg=None, off_deg=None):
    """ "sun high", or as high as it stands."""
    if altitude_deg is None or altitude_deg == height.altitude_deg or height.shade:
        return height.words.partition(",")[0]
    from_where = ", from the side" if height.name == "side" else ""
    return f"sun {altitude_deg:.0f}° up{from_where}"


def read(cleaned, **stands):
    """The Reading of a cleaned form, beside what the eye made of the same light where the form asks
    for that; of a darkest and a brightest value it is the mean in stops.

    stands: altitude_deg and off_deg of the sun, where place and moment tell them.
    """
    reading, seen_sky = _metered(cleaned, stands), cleaned.get("seen")
    if not seen_sky or reading.kind == "sky":
        return reading
    height = light.HEIGHT_BY_NAME.get(cleaned.get("seen_height"))
    return exposure.seen_as(reading, light.SKY_BY_NAME[seen_sky], height, **stands)


def _metered(cleaned, stands):
    ends = [read_one(cleaned, cleaned[end]) for end in ("darkest", "brightest") if cleaned.get(end)]
    if len(ends) < 2:
        return read_one(cleaned, **stands)
    dark, bright = ends
    middle = (dark.seconds * bright.seconds) ** 0.5
    # A middle that was typed as well is not in it, and that is said.
    first = FIELDS_OF[cleaned["kind"]][0]
    aside = f", without the {number(cleaned[first])} above" if cleaned.get(first) else ""
    apart = math.log2(dark.seconds / bright.seconds)
    said = f"{dark.said} and {bright.said}{aside}"
    return replace(dark, seconds=middle, said=said, spots_stops=apart)


def read_one(cleaned, value=None, **stands):
    """The Reading of one value in the chosen form, the one typed if none is given; stands: as
    read.
    """
    kind = cleaned["kind"]
    if kind == "ev":
        ev = cleaned["ev"] if value is None else value
        return exposure.read_ev(
            ev, cleaned["ev_iso"], f"EV {number(ev)} at ISO {number(cleaned['ev_iso'])}"
        )
    if kind == "lux":
        lux = cleaned["lux"] if value is None else value
        return exposure.read_lux(lux, f"{number(lux)} lux")
    if kind == "sky":
        sky, height = light.SKY_BY_NAME[cleaned["sky"]], light.HEIGHT_BY_NAME[cleaned["height"]]
        source = f"{sky.words.partition(',')[0]}, {_say_height(height, **stands)}"
        return exposure.read_sky(sky, height, source, **stands)
    seconds, meter_f, iso = (
        cleaned["seconds"] if value is None else value,
        cleaned["meter_f"],
        cleaned["meter_iso"],
    )
    return exposure.Reading(
        "seconds",
        f"{number(seconds)} s at f/{number(meter_f)}, ISO {number(iso)}",
        seconds,
        meter_f,
        iso,
    )
