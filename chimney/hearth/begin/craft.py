"""A first time and a first can, from a few answers, as the craft computes them."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property

from django.utils import timezone

from chimney.field import craft as field
from chimney.field.plan import craft as coming
from chimney.kit import queries as kit
from chimney.kit.forms.begin import PAPERS
from chimney.kit.models import Camera
from chimney.lessons.proposing import queries as lessons
from chimney.parts import clock
from chimney.places import craft as places
from chimney.places import files
from chimney.places.models import Place
from chimney.solar import craft as solar
from chimney.solar.advising import craft as advising
from pinhole import durations, sun
from pinhole.exposure import brackets
from pinhole.projection import Pointing
from pinhole.solargraph import skyline

# Under such a sun a day gives no picture in minutes.
LEAST_SUN_DEG = 2.0
# Where the sun stands to somebody who is not asked: behind the camera.
BEHIND_CAMERA = "high"
# A can for less than this draws a few lines alone.
SHORT_DAYS = 60
SOUTH_DEG = 180.0


@dataclass(frozen=True)
class Sun:
    """The sun over home or near it: place, and the moment that a time is worked out for: now, or
    the next noon while it is dark.
    """

    place: Place
    moment: datetime
    is_dark: bool

    @property
    def altitude_deg(self):
        return float(places.sun_at(self.place, self.moment)[1])

    @property
    def stays_down(self):
        """True if it does not rise at all on that day."""
        return self.is_dark and self.altitude_deg < sun.RISE_DEG


def sun_near(home):
    """The Sun over home, else over the largest town of the zone that this machine is set to."""
    place, now = home or _guess(), clock.now()
    if places.sun_at(place, now)[1] >= LEAST_SUN_DEG:
        return Sun(place, now, is_dark=False)
    noons = [places.sun_day(place, places.today(place) + timedelta(days=n)).noon for n in (0, 1)]
    return Sun(place, next((noon for noon in noons if noon > now), noons[-1]), is_dark=True)


def _guess():
    town = files.town_of(timezone.get_default_timezone_name())
    return place_of(town)


@dataclass(frozen=True)
class FirstTime:
    """First time of a camera that is not kept yet; typed: the cleaned form that asked for it."""

    camera: Camera
    typed: dict
    sun: Sun

    @cached_property
    def plan(self):
        return self._plan(self.typed["paper"], self.typed["sky"])

    @property
    def seconds(self):
        return self.plan.sheets[0].seconds

    @property
    def low_s(self):
        return durations.countable_s(self.plan.calculation.low_s)

    @property
    def high_s(self):
        return durations.countable_s(self.plan.calculation.high_s)

    @property
    def second_s(self):
        """Time of a second sheet with a stop more, where one is worth it, else None."""
        calculation = self.plan.calculation
        if not calculation.bracket:
            return None
        return durations.countable_s(brackets.bracket(calculation, [1.0])[0].exact_s)

    def with_paper(self, name):
        """The same on a paper of that name."""
        return self._plan(name, self.typed["sky"])

    def under(self, sky):
        """Time of the same under another sky."""
        return self._plan(self.typed["paper"], sky).sheets[0].seconds

    def _plan(self, paper_name, sky):
        paper, offered = self._rated[paper_name]
        cleaned = {"camera": self.camera, "paper": paper, "ei_from": "learned", "school": ""}
        cleaned |= {"kind": "sky", "sky": sky, "height": BEHIND_CAMERA, "azimuth_deg": None}
        lit = coming.lit_of(cleaned, None, self.sun.place, self.sun.moment)
        return field.make_plan(cleaned, offered, lit)

    @cached_property
    def _rated(self):
        """{name: (Paper, what a plan for it would be offered)} of every paper, read once."""
        ratings, papers = lessons.ratings(), kit.papers_called([name for name, _ in PAPERS])
        return {
            name: (paper, ratings.offered(paper) if paper.pk else (None, lessons.of_box(paper)))
            for name, paper in papers.items()
        }

    @property
    def paper(self):
        return self._rated[self.typed["paper"]][0]


@dataclass(frozen=True)
class FirstCan:
    """First can, none of it kept yet: place, camera, what it will draw."""

    place: Place
    camera: Camera
    prediction: solar.Prediction


def place_of(town):
    """The Place of a Town, not kept yet; a place that is kept is itself."""
    if isinstance(town, Place):
        return town
    return Place(
        name=town.name[:60],
        latitude_deg=town.latitude_deg,
        longitude_deg=town.longitude_deg,
        zone=town.zone,
    )


def first_can(place, camera, last_day):
    """The FirstCan that faces the noon and leans no more than keeps every noon on the paper."""
    first_day, horizon = places.today(place), skyline.at(place.latitude_deg, (), ())
    faces_deg = SOUTH_DEG if place.latitude_deg >= 0 else 0.0
    level = solar.predict(
        place, camera, Pointing(faces_deg, 0.0, 0.0), first_day, last_day, skyline=horizon
    )
    aim = Pointing(faces_deg, float(round(advising.stand_of(level).pointing.tilt_deg)), 0.0)
    drawn = solar.predict(place, camera, aim, first_day, last_day, skyline=horizon)
    return FirstCan(place, camera, drawn)


def fetched_on(today):
    """Days on which a can that goes out today may be fetched: the two solstices to come, a year."""
    first, second = solar.solstices(today)
    return [first, second, today + timedelta(days=364)]


def usual_end(today):
    """The solstice that comes next, the one after it where that is too soon."""
    first, second = solar.solstices(today)
    return first if (first - today).days >= SHORT_DAYS else second
