"""A reading of the light as people take it, in any of four forms, alone or as darkest and brightest
of a scene.
"""

from dataclasses import replace

from django import forms

from chimney.parts.fields import DurationField, NumberField
from chimney.parts.scales import number
from pinhole import exposure, light

KINDS = [("seconds", "seconds"), ("ev", "EV"), ("lux", "lux"), ("sky", "sun and cloud")]
SKIES = {sky.name: sky for sky in light.SKIES}
HEIGHTS = {height.name: height for height in light.HEIGHTS}
FIELDS_OF = {
    "seconds": ("seconds", "meter_f", "meter_iso"),
    "ev": ("ev", "ev_iso"),
    "lux": ("lux",),
    "sky": ("sky", "height"),
}


class ReadingForm(forms.Form):
    """What the meter says. Only the chosen form counts; what stands in the others is kept and not
    judged.
    """

    kind = forms.ChoiceField(
        label="What does the meter say?", choices=KINDS, widget=forms.RadioSelect
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

    def full_clean(self):
        super().full_clean()
        chosen = self.cleaned_data.get("kind") if hasattr(self, "cleaned_data") else None
        for kind, names in FIELDS_OF.items():
            if kind != chosen:
                for name in names:
                    self._errors.pop(name, None)


def read(cleaned):
    """The Reading of a cleaned form, beside what the eye made of the same light where the form asks
    for that; of a darkest and a brightest value it is the mean in stops.
    """
    reading, seen = _metered(cleaned), cleaned.get("seen")
    if not seen or reading.kind == "sky":
        return reading
    return exposure.seen_as(reading, SKIES[seen], HEIGHTS.get(cleaned.get("seen_height")))


def _metered(cleaned):
    ends = [read_one(cleaned, cleaned[end]) for end in ("darkest", "brightest") if cleaned.get(end)]
    if len(ends) < 2:
        return read_one(cleaned)
    dark, bright = ends
    middle = (dark.seconds * bright.seconds) ** 0.5
    # A middle that was typed as well is not in it, and that is said.
    first = FIELDS_OF[cleaned["kind"]][0]
    aside = f", without the {number(cleaned[first])} above" if cleaned.get(first) else ""
    return replace(dark, seconds=middle, said=f"{dark.said} and {bright.said}{aside}")


def read_one(cleaned, value=None):
    """The Reading of one value in the chosen form, the one typed if none is given."""
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
        sky, height = SKIES[cleaned["sky"]], HEIGHTS[cleaned["height"]]
        return exposure.read_sky(
            sky, height, f"{sky.words.partition(',')[0]}, {height.words.partition(',')[0]}"
        )
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
