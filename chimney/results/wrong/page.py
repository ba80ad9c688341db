"""The page that finds what went wrong, as far as it was answered."""

from dataclasses import dataclass
from functools import cached_property
from urllib.parse import urlencode

from django.urls import reverse

from chimney.logbook.models import Sheet
from chimney.parts.scales import size_of_stops
from chimney.results.wrong import craft
from pinhole import media
from pinhole.symptoms import Symptom, symptoms

# Where each cause is mended: (words of the button, name of the address).
MENDED = {
    "plan": ("Plan it again", "field:plan"),
    "develop": ("Develop the next one", "darkroom:run"),
    "kit": ("Look at the camera", "kit:shelf"),
    "bag": ("Load the next one", "logbook:bag"),
    "red light": ("Test the red light", "darkroom:room"),
}
YES, NO = "yes", "no"


@dataclass
class WrongPage:
    """medium; symptom: the Symptom that was chosen, or None; answers: {code: whether it is so};
    sheet: the one that it is about, or None.
    """

    medium: str
    symptom: Symptom | None
    answers: dict
    sheet: Sheet | None = None

    @property
    def media(self):
        """[(name, choice)] of the kinds of sheet that are asked about."""
        return [(name, media.medium(name).choice) for name in craft.ASKED_MEDIA]

    @property
    def symptoms(self):
        return symptoms(self.medium)

    @property
    def asked(self):
        """[(Question, "yes", "no" or "")] as far as they are due."""
        words = {True: YES, False: NO, None: ""}
        return [(question, words[answer]) for question, answer in self.symptom.ask(self.answers)]

    @cached_property
    def cause(self):
        return self.symptom and self.symptom.cause(self.answers)

    @property
    def amount(self):
        """Words for the light that it wanted besides."""
        return size_of_stops(self.cause.stops_more) if self.cause.stops_more else ""

    @property
    def button(self):
        """(words, address) of what mends it."""
        words, name = MENDED[self.cause.mended_at]
        address = reverse(name)
        if name == "kit:shelf" and self.exposure:
            return words, reverse("kit:edit", args=["camera", self.exposure.camera_id])
        if name != "field:plan" or not self.exposure:
            return words, address
        query = {"camera": self.exposure.camera_id, "paper": self.sheet.paper_id}
        query |= {"subject": self.exposure.subject}
        if self.cause.stops_more:
            query["compensation_stops"] = f"{self.cause.stops_more:+g}"
        return words, f"{address}?{urlencode(query)}"

    @cached_property
    def exposure(self):
        return self.sheet and self.sheet.last_exposure

    @property
    def about(self):
        """The sheet as a part of an address, nothing without one."""
        return f"&sheet={self.sheet}" if self.sheet else ""


def read(params, sheet=None):
    """The WrongPage of what was answered so far."""
    asked = params.get("medium") or (sheet.paper.kind if sheet else "")
    medium = asked if asked in craft.ASKED_MEDIA else craft.ASKED_MEDIA[0]
    answers = {code: value == YES for code, value in params.items() if value in (YES, NO)}
    return WrongPage(medium, craft.symptom(medium, params.get("looks", "")), answers, sheet)
