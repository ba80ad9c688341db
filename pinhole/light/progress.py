"""Sum of what changing light has given a sheet so far, part by part, and when there is enough."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import inf, log2
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pinhole.light.courses import Course


@dataclass(frozen=True)
class Part:
    """A stretch in which the hole was free and nothing was read: seconds, and the share of the
    whole it gave.
    """

    seconds: float
    share: float


@dataclass(frozen=True)
class Progress:
    """parts so far; left_s: of free hole until there is enough or it is dark, negative for how long
    it has been too much, inf where no end comes; short_stops: what it will lack when it is dark, 0
    if it is full before, inf without light; beyond: whether the end lies past the last point at
    which the light is known.
    """

    parts: tuple[Part, ...]
    left_s: float
    short_stops: float
    beyond: bool

    @property
    def share(self) -> float:
        """Share of the whole that all parts gave."""
        return sum(part.share for part in self.parts)


def progress(
    course: Course,
    spans: Sequence[tuple[float, float]],
    cuts_s: Sequence[float],
    now_s: float,
    dark_s: float = inf,
) -> Progress:
    """The Progress of a sheet.

    course: a light.Course; spans: [(from, to)] of free hole in order, as clock.spans gives them;
    cuts_s: moments at which the light was read again; now_s: from when on the hole goes on being
    free; dark_s: from when on nothing counts any more; all on the clock of the course. Source:
    additivity of exposure.
    """
    parts, total, over_s, due = [], 0.0, 0.0, None
    for start, end in (piece for span in spans for piece in _cut(span, cuts_s)):
        share = course.share(start, end)
        if due is None and total + share >= 1:
            due = course.reach_s(start, 1 - total)
            over_s = end - due
        elif due is not None:
            over_s += end - start
        total += share
        parts.append(Part(end - start, share))
    if due is not None:
        return Progress(tuple(parts), float(-over_s), 0.0, bool(now_s > course.times_s[-1]))
    finish = course.reach_s(now_s, 1 - total)
    if finish <= dark_s:
        return Progress(tuple(parts), float(finish - now_s), 0.0, bool(finish > course.times_s[-1]))
    reached = total + course.share(now_s, dark_s)
    return Progress(
        tuple(parts), float(dark_s - now_s), -log2(reached) if reached > 0 else inf, False
    )


def _cut(span: tuple[float, float], cuts_s: Sequence[float]) -> list[tuple[float, float]]:
    """A span cut where the light was read again."""
    start, end = span
    return list(pairwise([start, *(cut for cut in cuts_s if start < cut < end), end]))
