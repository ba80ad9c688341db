"""The first page as it stands: the open door, what was typed behind it, and what comes of it."""

from dataclasses import dataclass
from functools import cached_property
from urllib.parse import urlencode

from django.urls import reverse
from django.utils import timezone

from chimney.hearth.begin import craft, figures
from chimney.hearth.begin.forms import (
    SHADOWS,
    ClassForm,
    FirstCanForm,
    LensForm,
    MinutesForm,
    ThrowForm,
)
from chimney.kit.forms.begin import PAPERS, BeginForm
from chimney.places import craft as places
from chimney.places import queries as place_queries
from chimney.solar.cans.page import Ladder
from pinhole import exposure


@dataclass(frozen=True)
class Entrance:
    """code of a door, its heading, and what stands under it."""

    code: str
    heading: str
    words: str


DOORS = (
    Entrance("minutes", "Minutes on paper", "a first time at once"),
    Entrance("can", "A can for months", "out today"),
    Entrance("class", "A class or club", "names and a period"),
    Entrance("room", "A lens, or a room", "as the camera"),
)
BY_CODE = {door.code: door for door in DOORS}
# What stands open on the first page; the others fold out.
FIRST_PAPERS = 3


@dataclass
class BeginPage:
    """door: the open one; typed: as it stands in the form; form: the one behind that door."""

    door: Entrance
    typed: dict
    form: object
    sun: craft.Sun | None = None
    throw: ThrowForm | None = None
    refused: object = None

    doors = DOORS

    @cached_property
    def first(self):
        """The FirstTime of what was typed, None while something is wrong or asked for."""
        if not self.form.is_valid():
            return None
        camera = self.form.camera_form.save(commit=False)
        return craft.FirstTime(camera, self.form.cleaned_data, self.sun)

    @property
    def is_endless(self):
        """True if the time of what was typed does not end within a day."""
        return bool(self.first) and self.first.seconds > exposure.LONGEST_S

    @property
    def starts(self):
        """True if the clock may start now: there is light, and the time ends within a day."""
        return bool(self.first) and not self.is_endless and not self.sun.is_dark

    @cached_property
    def can(self):
        """The FirstCan of what was typed, None while something is wrong."""
        camera_form = self.form.is_valid() and self.camera_form
        if not (camera_form and camera_form.is_valid()):
            return None
        where = self.form.cleaned_data["where"]
        camera = camera_form.save(commit=False)
        last_day = timezone.datetime.fromisoformat(self.form.cleaned_data["until"]).date()
        return craft.first_can(craft.place_of(where), camera, last_day)

    @cached_property
    def camera_form(self):
        """The form of a can of that width, or of a box of that depth, as if filled in by hand."""
        wide_mm = self.form.cleaned_data.get("wide_mm")
        what, depth = ("can", wide_mm) if wide_mm else ("tin", self.form.cleaned_data["depth_mm"])
        answers = BeginForm.START | {"what": what, "depth_mm": f"{depth:g}"}
        begin = BeginForm(answers)
        begin.is_valid()
        return begin.camera_form

    @property
    def drawing(self):
        return figures.first_time(
            self.first.camera, self.first.paper.medium, suits=not self.form.cleaned_data["hole_mm"]
        )

    @cached_property
    def papers(self):
        """[(radio, its number, the EI it is rated at, seconds)] of every paper, None for both while
        something is wrong.
        """
        radios = enumerate(zip(self.form["paper"], PAPERS, strict=True))
        return [(radio, n, *self._of_paper(name)) for n, (radio, (name, _)) in radios]

    def _of_paper(self, name):
        plan = self.first and self.first.with_paper(name)
        return (plan.proposal.ei, plan.sheets[0].seconds) if plan else (None, None)

    @property
    def net(self):
        """Address of the net of such a box, true to scale; nothing where it is no box of card."""
        cleaned = self.form.cleaned_data
        is_box = cleaned["what"] in ("tin", "box") and 15 <= cleaned["depth_mm"] <= 400
        query = urlencode({"depth_mm": f"{cleaned['depth_mm']:g}", "size": cleaned["size"]})
        return f"{reverse('kit:net')}?{query}" if is_box else ""

    @property
    def first_papers(self):
        return self.papers[:FIRST_PAPERS]

    @property
    def other_papers(self):
        return self.papers[FIRST_PAPERS:]

    @property
    def is_another(self):
        """True if the paper is none of the first."""
        return self.typed["paper"] not in [name for name, _ in PAPERS[:FIRST_PAPERS]]

    @cached_property
    def skies(self):
        """[(radio, name of the sky, seconds or None)]."""
        return [
            (radio, name, self.first and self.first.under(name))
            for radio, name in zip(self.form["sky"], SHADOWS, strict=True)
        ]

    @property
    def ladder(self):
        return Ladder(self.can.prediction)


def read(code, params=None):
    """The BeginPage of a door for what came in; fields that did not come have their usual value."""
    door, sun = BY_CODE[code], craft.sun_near(place_queries.home())
    forms = {"minutes": MinutesForm, "room": LensForm, "class": ClassForm}
    if code == "can":
        return _of_can(door, sun, params or {})
    form = forms[code]
    typed = form.START | _typed(form, params or {})
    if code == "class":
        return BeginPage(door, typed, form(typed if params else None, initial=typed), sun)
    page = BeginPage(door, typed, form(typed), sun)
    if code == "room":
        page.throw = ThrowForm(initial=ThrowForm.START)
    return page


def _typed(form, params):
    return {name: params[name] for name in form.base_fields if name in params}


def _of_can(door, sun, params):
    today = places.today(sun.place)
    ends = craft.fetched_on(today)
    words = [f"{day.day} {day:%B %Y}, {(day - today).days} days" for day in ends]
    until = [(day.isoformat(), label) for day, label in zip(ends, words, strict=True)]
    usual = {"where": sun.place.name, "until": craft.usual_end(today).isoformat()}
    typed = FirstCanForm.START | usual | _typed(FirstCanForm, params)
    return BeginPage(
        door, typed, FirstCanForm(typed, until=until, places=place_queries.places()), sun
    )
