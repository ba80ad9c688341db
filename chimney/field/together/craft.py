"""One reading for several cameras: each has its own time."""

from dataclasses import dataclass

from chimney.field import craft
from chimney.field.craft import Plan
from chimney.field.plan.craft import lit_of
from chimney.lessons.proposing import queries as lessons
from chimney.parts import clock
from chimney.places import queries as places
from pinhole import exposure


@dataclass(frozen=True)
class CameraPlan:
    """A loaded side of a camera's own back, and what is planned with it."""

    side: object
    plan: Plan

    @property
    def sheet(self):
        """The sheet that lies in it."""
        return self.side.loading.sheet

    @property
    def camera(self):
        """The camera whose back it is."""
        return self.side.holder.camera

    @property
    def is_too_long(self):
        """True if its time is one for a solargraph."""
        return self.plan.calculation.exact_s > exposure.LONGEST_S

    @property
    def seconds(self):
        """Time that its hole will be open."""
        return self.plan.sheets[0].seconds


def plans(reading, sides):
    """The CameraPlans of sides under one reading: each paper by its own EI and its own school."""
    ratings, place = lessons.ratings(), places.home()
    lit = lit_of(reading, None, place, clock.now())
    return [CameraPlan(side, _plan(reading, side, ratings, lit)) for side in sides]


def _plan(reading, side, ratings, lit):
    paper = side.loading.sheet.paper
    offered = ratings.offered(paper)
    fields = reading | {"camera": side.holder.camera, "paper": paper, "school": paper.school}
    fields |= {"ei_from": "learned" if offered[0] else "box"}
    return craft.make_plan(fields, offered, lit)
