"""A day of shots laid one after the other along the light: when each opens and closes, and what
does not fit.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf
from typing import TYPE_CHECKING

from pinhole import durations, light
from pinhole.exposure import Specification
from pinhole.light import dusk
from pinhole.ranges import Array, checked

if TYPE_CHECKING:
    from pinhole.light.courses import Course


# Slide in, holder turned, slide out: between two sheets in one camera (common practice).
CHANGE_S = 90.0


@dataclass(frozen=True)
class SheetWanted:
    """One sheet wanted: its exposure.Specification; ev100: the light on its subject at the moments
    of the schedule, EV at ISO 100, shape (n,); clock_stops: so many stops of the clock more than it
    asks for.
    """

    specification: Specification
    ev100: Array
    clock_stops: float = 0.0


@dataclass(frozen=True)
class ShotWanted:
    """A shot wanted. start_s: when to begin setting up, on the clock of the light; set_up_s; lanes:
    one tuple of SheetsWanted for each camera, which goes through them one after the other while the
    other cameras do theirs.
    """

    start_s: float
    set_up_s: float
    lanes: tuple[tuple[SheetWanted, ...], ...]


@dataclass(frozen=True)
class Placement:
    """A shot in the day. begins_s, opens_s, ends_s; sheets: per lane ((opens_s, closes_s,
    short_stops), ...), shut when full or when it is dark; waits_s: how much later it begins than
    wanted; latest_s: the last opening that still fills each of its sheets, -inf where none does;
    beyond: whether it ends after the last point of light that is known.
    """

    begins_s: float
    opens_s: float
    ends_s: float
    sheets: tuple[tuple[tuple[float, float, float], ...], ...]
    waits_s: float
    latest_s: float
    beyond: bool


def schedule(
    wants: Sequence[ShotWanted],
    times_s: Array,
    dark_s: float | None = None,
    *,
    free_s: float = -inf,
) -> tuple[Placement, ...]:
    """A Placement for each ShotWanted, in the order given; the photographer does one shot after
    another, the earliest first.

    wants: ShotsWanted; times_s [s, strictly increasing]: the moments at which the light is known,
    shape (n,), as light.course; dark_s: when it is dark on the same clock, a day after the last
    point if None; free_s: before when nothing begins, because it is past or the photographer is
    busy.
    Raises ValueError outside. Source: dusk.prospect for each exposure, from the moment it opens.
    """
    placed, free = {}, free_s
    ends_s = float(times_s[-1]) + durations.DAY_S if dark_s is None else dark_s
    for place in sorted(range(len(wants)), key=lambda n: (wants[n].start_s, n)):
        want = wants[place]
        begins = max(want.start_s, free)
        opens = begins + float(checked("set_up_s", want.set_up_s, least=0))
        lanes = tuple(_lane(lane, opens, times_s, ends_s) for lane in want.lanes)
        free = max((closes for sheets, _ in lanes for _, closes, _ in sheets), default=opens)
        placed[place] = Placement(
            begins_s=begins,
            opens_s=opens,
            ends_s=free,
            sheets=tuple(sheets for sheets, _ in lanes),
            waits_s=begins - want.start_s,
            latest_s=min((latest for _, latest in lanes), default=inf),
            beyond=free > times_s[-1],
        )
    return tuple(placed[n] for n in range(len(wants)))


def _lane(
    sheets: Sequence[SheetWanted], opens: float, times_s: Array, dark_s: float
) -> tuple[tuple[tuple[float, float, float], ...], float]:
    """((opens, closes, short stops) of each sheet, the last opening that fills any of them)."""
    lane, latest = [], inf
    for sheet in sheets:
        prospect = dusk.prospect(_course(sheet, times_s), opens, dark_s)
        lane.append((opens, prospect.closes_s, prospect.short_stops))
        latest = min(latest, prospect.latest_s)
        opens = prospect.closes_s + CHANGE_S
    return tuple(lane), latest


def _course(sheet: SheetWanted, times_s: Array) -> Course:
    """The light.Course by which a sheet wanted fills; a stop more on the clock lets it fill half as
    fast.
    """
    spec = sheet.specification
    filling = light.course(times_s, spec.metered_s(sheet.ev100), spec.school)
    return filling.scaled(2.0**-sheet.clock_stops)
