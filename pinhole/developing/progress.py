"""Progress of a run from a list of taps: at which step each sheet of a run is, since when, and what
it was given. Sheets that go together share a lane.

    waiting --next--> first bath --next--> ... --next--> over
                          ^                 |
                          +---back, again---+
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf
from typing import TYPE_CHECKING

from pinhole.developing.purposes import READY
from pinhole.developing.steps import first_wet, white_from

if TYPE_CHECKING:
    from pinhole.developing.steps import Step


# What may be tapped: on, back to a step of the loop, back into the developer, and leave it longer.
TAP_WORDS = ("next", "again", "back", "longer")
MOVES = TAP_WORDS[:3]


@dataclass(frozen=True)
class Tap:
    """at_s: on any one clock [s]; lane: its number from 0; word, of TAP_WORDS; more_s: how much
    longer for "longer" [s].
    """

    at_s: float
    lane: int
    word: str
    more_s: float = 0.0


@dataclass(frozen=True)
class Visit:
    """One stay at a step: its place, from and until when (None while it lasts) [s], and how much
    longer than planned it was meant to be [s].
    """

    step: int
    from_s: float
    until_s: float | None = None
    more_s: float = 0.0

    def lasted_s(self, now_s: float) -> float:
        """Time that it lasted, until now if it still does [s]."""
        return max(0.0, (now_s if self.until_s is None else self.until_s) - self.from_s)


@dataclass(frozen=True)
class Lane:
    """number: its place in the run; visits: in order; moves: how many taps have moved it, by which
    a tap made for an earlier step is known; length: how many steps there are.
    """

    number: int
    visits: tuple[Visit, ...]
    moves: int
    length: int

    @property
    def now(self) -> Visit | None:
        """The Visit it is in; None while it waits and when it is over."""
        return self.visits[-1] if self.visits and self.visits[-1].until_s is None else None

    @property
    def is_waiting(self) -> bool:
        """True if it has not begun."""
        return not self.visits

    @property
    def is_over(self) -> bool:
        """True if it has been through every step."""
        return bool(self.visits) and self.now is None


def lanes(
    steps: Sequence[Step], taps: Sequence[Tap], count: int, began_s: float
) -> tuple[Lane, ...]:
    """(Lane, ...) of so many lanes after these taps, in whatever order clocks wrote them.

    steps: a process; taps: Taps in the order in which they were taken in; count: how many lanes
    there are, at least 1; began_s: when the run began, on the clock of the taps. A tap counts from
    its own moment, but never from before the last of its lane. Lane 0 makes ready for all; the
    others wait. Raises ValueError for an unknown word, a lane that is not there, and a tap where
    nothing is left to be done. Source: definition.
    """
    if count < 1:
        raise ValueError("count must be at least 1")
    lanes_found = []
    for number in range(count):
        lane_taps = [tap for tap in taps if tap.lane == number]
        lanes_found.append(_lane(steps, lane_taps, number, began_s))
    if any(not 0 <= tap.lane < count for tap in taps):
        raise ValueError(f"lane must be at least 0 and at most {count - 1}")
    return tuple(lanes_found)


def _lane(steps: Sequence[Step], taps: Sequence[Tap], number: int, began_s: float) -> Lane:
    visits, at_s, moves = [], began_s, 0
    if number == 0 and steps[0].purpose == READY:
        visits = [Visit(0, began_s)]
    for tap in taps:
        if tap.word not in TAP_WORDS:
            raise ValueError(f"{tap.word} is not one of {', '.join(TAP_WORDS)}")
        at_s = max(at_s, tap.at_s)
        if tap.word == "longer":
            visits[-1:] = [_longer(visits, tap.more_s)]
            continue
        goal = _goal(steps, visits, tap.word)
        if visits:
            visits[-1] = Visit(visits[-1].step, visits[-1].from_s, at_s, visits[-1].more_s)
        if goal < len(steps):
            visits.append(Visit(goal, at_s))
        moves += 1
    return Lane(number, tuple(visits), moves, len(steps))


def _longer(visits: Sequence[Visit], more_s: float) -> Visit:
    if not visits or visits[-1].until_s is not None:
        raise ValueError("nothing is under way that could be left longer")
    last = visits[-1]
    return Visit(last.step, last.from_s, None, last.more_s + more_s)


def _goal(steps: Sequence[Step], visits: Sequence[Visit], word: str) -> int:
    """The place that a tap leads to."""
    if not visits:
        if word != "next":
            raise ValueError("a sheet that waits can only go in")
        return first_wet(steps)
    last = visits[-1]
    if last.until_s is not None:
        raise ValueError("nothing is left to be done with it")
    if word == "back":
        return developer_before(steps, last)
    if word == "again":
        if not steps[last.step].again:
            raise ValueError(f"{steps[last.step].name} is not repeated")
        return last.step - steps[last.step].again
    return last.step + 1


def developer_before(steps: Sequence[Step], visit: Visit) -> int:
    """The place of the last step that develops before a Visit's.

    Raises ValueError where there is none.
    """
    before = [n for n in range(visit.step) if steps[n].purpose == "develop"]
    if not before:
        raise ValueError("no developer comes before this step")
    return before[-1]


def given_s(steps: Sequence[Step], lane: Lane, purpose: str, now_s: float) -> float:
    """Time that a Lane's sheets lay in the steps of that purpose [s]."""
    return sum(
        (visit.lasted_s(now_s) for visit in lane.visits if steps[visit.step].purpose == purpose),
        0.0,
    )


def left_s(steps: Sequence[Step], lane: Lane, now_s: float) -> float:
    """Time until a Lane wants a hand: the longer time of its step with what was added, less what
    has passed; negative after it, 0 for what is ticked, inf when it is over or waits [s].
    """
    if lane.now is None:
        return inf
    step = steps[lane.now.step]
    if step.is_ticked:
        return 0.0
    return step.most_s + lane.now.more_s - lane.now.lasted_s(now_s)


def may_go_in(steps: Sequence[Step], there: Sequence[Lane], number: int) -> bool:
    """True if a waiting lane's turn has come: the one before it, of the Lanes that are there, has
    left the first bath.
    """
    before = [lane for lane in there if lane.number < number][-1:]
    wet = first_wet(steps)
    return all(one.is_over or (one.now is not None and one.now.step > wet) for one in before)


def turn(steps: Sequence[Step], there: Sequence[Lane], now_s: float) -> int | None:
    """The number of the lane that wants a hand next, of the Lanes that are there; None when all are
    over.

    What wants it first is first: a sheet whose turn it is to go in counts as due now, and what goes
    on alone comes last. Source: definition.
    """
    wants = []
    for lane in there:
        if lane.is_over:
            continue
        if lane.now is None:
            soon = 0.0 if may_go_in(steps, there, lane.number) else inf
            wants.append((0, soon, lane.number))
        else:
            alone = steps[lane.now.step].goes_on_alone
            wants.append((int(alone), left_s(steps, lane, now_s), lane.number))
    return min(wants)[2] if wants else None


def is_light_safe(steps: Sequence[Step], lane: Lane) -> bool:
    """True if white light does a Lane's sheets no harm: they have come to the step in white, or the
    vessel round them is shut.
    """
    if lane.is_waiting:
        return False
    if lane.now is None:
        return True
    return lane.now.step >= white_from(steps) or steps[lane.now.step].light in ("closed", "white")


def open_s(steps: Sequence[Step], lane: Lane, now_s: float) -> float:
    """Time that a Lane's sheets have lain open in red light, without waiting face down [s]."""
    return sum(
        (
            visit.lasted_s(now_s)
            for visit in lane.visits
            if steps[visit.step].light == "red" and steps[visit.step].purpose != READY
        ),
        0.0,
    )
