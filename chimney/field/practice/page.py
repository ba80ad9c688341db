"""The page of an exposure that costs no sheet: a reading, a time, the sheet, a judgement."""

from dataclasses import dataclass
from functools import cached_property
from urllib.parse import urlencode

from chimney.field.hours.queries import specify_with, usual_pair
from chimney.field.practice import craft
from chimney.field.practice.forms import (
    JUDGED,
    PRACTICE_BOX,
    PRACTICE_PAPER,
    SCENES,
    PracticeForm,
)
from chimney.parts.scales import number, size_of_stops
from chimney.results.curves.queries import own_curve_of
from pinhole import durations, exposure, media

# As right as anybody judges, and no sheet is drawn further off [stops].
RIGHT_STOPS, FURTHEST_STOPS = 0.5, 8.0


@dataclass
class PracticePage:
    """form: bound."""

    form: PracticeForm

    @property
    def is_asked(self):
        return self.form.is_valid()

    @property
    def cleaned(self):
        return self.form.cleaned_data

    @property
    def camera(self):
        return self.cleaned["camera"] or PRACTICE_BOX

    @property
    def paper(self):
        return self.cleaned["paper"] or PRACTICE_PAPER

    @cached_property
    def reading(self):
        return craft.reading(self.cleaned["sky"], self.cleaned["height"])

    @cached_property
    def calculation(self):
        specify = specify_with(self.camera, self.paper, "")
        return exposure.calculate(self.reading, specify())

    @property
    def is_exposed(self):
        return self.is_asked and bool(self.cleaned["given_s"])

    @property
    def is_developed(self):
        return self.is_exposed and bool(self.cleaned["developed"] or self.cleaned["judged"])

    @cached_property
    def stops(self):
        """Stops that the sheet was given more than it needed."""
        stops = exposure.effect_stops(self.calculation, self.cleaned["given_s"])
        return max(-FURTHEST_STOPS, min(FURTHEST_STOPS, stops))

    @property
    def headline(self):
        """The question, or the answer."""
        if not self.is_exposed:
            return "How long do you open the hole?"
        if not self.is_developed:
            return "It is exposed: nothing is to be seen yet"
        if not self.cleaned["judged"]:
            return "Here is your sheet: what would you change?"
        return self._verdict()

    def _verdict(self):
        if abs(self.stops) < RIGHT_STOPS:
            return "It came out right: the same again"
        positive = media.medium(self.paper.kind).is_positive
        much, is_over = size_of_stops(abs(self.stops)), self.stops > 0
        look = "pale" if is_over == positive else "dark"
        return f"{much} {'less' if is_over else 'more'} next time: it is too {look}".capitalize()

    @property
    def sentence(self):
        """The meter's words, or how near the judgement came."""
        if not self.is_asked:
            return ""
        meter = f"The meter says EV {number(self.reading.ev100)} at ISO 100."
        if not self.is_exposed:
            return meter
        if not self.cleaned["judged"]:
            return f"{meter} It was open for {durations.say(self.cleaned['given_s'])}."
        away = abs(-self.stops - float(self.cleaned["judged"]))
        right = durations.say(self.calculation.seconds)
        near = "You saw it" if away < 1 else f"You were {size_of_stops(away)} off"
        return f"{near}; {right} would have been right."

    @property
    def picture(self):
        """The query of its sheet."""
        names = ("scene", "sky", "height", "camera", "paper", "given_s")
        return urlencode({name: self.form.data.get(name, "") for name in names})

    @property
    def answers(self):
        """[(words, query)] of what one may judge."""
        return [(label, f"{self.picture}&developed=on&judged={value}") for value, label in JUDGED]

    @cached_property
    def curve(self):
        return own_curve_of(self.paper)

    @cached_property
    def foreseen(self):
        scene = SCENES[self.cleaned["scene"]]
        return craft.foreseen(scene, self.camera, self.paper, self.curve, self.stops)


def read(params):
    """The PracticePage for what came in, which begins before the first scene in full sun."""
    fields = PracticeForm.base_fields
    camera, paper = usual_pair(*(fields[name].queryset for name in ("camera", "paper")))
    begun = {"scene": "kiln", "sky": "sun", "height": "high", "given_s": "", "judged": ""}
    begun["developed"] = ""
    begun |= {"camera": camera.pk if camera else "", "paper": paper.pk if paper else ""}
    return PracticePage(PracticeForm(begun | {n: params[n] for n in fields if n in params}))
