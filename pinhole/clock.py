"""Sum of opened, covered, uncovered and closed moments, in whatever order clocks wrote it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import inf

# Pairs of words that begin and end a stretch.
OPEN, COVER = ("opened", "closed"), ("covered", "uncovered")
# At one and the same moment an opening comes first and a closing last; covers keep the order they
# were written in.
RANK = {"opened": 0, "covered": 1, "uncovered": 1, "closed": 2}
# What may be odd about a log: a clock that was set back writes moments that are still to come.
ODD = {
    "order": "its moments were not written in the order of time: the clock was set, or two "
    "devices disagree",
    "ahead": "some of it lies later than now: the clock was set back since",
    "unopened": "something was written down before it was opened",
}
# Clocks of two devices differ by less than this without a word being lost about it.
SAME_S = 1.0


@dataclass(frozen=True)
class Tally:
    """spans: ((from, to), ...) for which the hole was free, in order and apart; odd: keys of ODD
    that hold.
    """

    spans: tuple[tuple[float, float], ...]
    odd: tuple[str, ...]

    @property
    def open_s(self) -> float:
        """Time that the hole was free in all [s]."""
        return float(sum(end - start for start, end in self.spans))


def tally(moments: Sequence[tuple[float, str]], now_s: float) -> Tally:
    """The Tally of a log; any order of any number of moments has one.

    moments: (seconds on any one clock, "opened" | "covered" | "uncovered" | "closed"); now_s: the
    same clock's reading, until which a hole that is still free counts. The hole is free where it is
    open and not covered; a second "covered" while covered, and whatever ends a stretch that never
    began, change nothing. Raises ValueError for an unknown word. Source: definition.
    """
    unknown = {word for _, word in moments} - set(RANK)
    if unknown:
        raise ValueError(f"{min(unknown)} is not one of {', '.join(RANK)}")
    ordered = sorted(moments, key=lambda moment: (moment[0], RANK[moment[1]]))
    covers = _stretches(ordered, COVER, inf)
    open_for = _stretches(ordered, OPEN, now_s)
    free = [piece for stretch in open_for for piece in _without(stretch, covers)]
    return Tally(tuple(free), tuple(_odd(moments, ordered, now_s)))


def spans(moments: Sequence[tuple[float, str]], now_s: float) -> tuple[tuple[float, float], ...]:
    """((from, to), ...) for which the hole was free, in order; arguments and errors as tally()."""
    return tally(moments, now_s).spans


def open_s(moments: Sequence[tuple[float, str]], now_s: float) -> float:
    """The seconds for which the hole was free; arguments and errors as tally()."""
    return tally(moments, now_s).open_s


def _stretches(
    ordered: Sequence[tuple[float, str]], events: tuple[str, str], until: float
) -> list[tuple[float, float]]:
    """[(from, to)] between a word that begins and the next that ends; one that goes on ends at
    `until`.
    """
    begins, ends = events
    spans: list[tuple[float, float]] = []
    since: float | None = None
    for moment_s, word in ordered:
        if word == begins and since is None:
            since = moment_s
        elif word == ends and since is not None:
            spans, since = [*spans, (since, moment_s)], None
    return spans if since is None else [*spans, (since, max(since, until))]


def _without(
    stretch: tuple[float, float], covers: Sequence[tuple[float, float]]
) -> Iterator[tuple[float, float]]:
    """The pieces of a stretch that no cover lies over."""
    start, end = stretch
    for covered, uncovered in covers:
        if uncovered <= start or covered >= end:
            continue
        if covered > start:
            yield start, covered
        start = uncovered
    if start < end:
        yield start, end


def _odd(
    moments: Sequence[tuple[float, str]], ordered: Sequence[tuple[float, str]], now_s: float
) -> Iterator[str]:
    times = [moment_s for moment_s, _ in moments]
    if any(later < earlier - SAME_S for earlier, later in pairwise(times)):
        yield "order"
    # A hand that is to go away later is no oddity.
    if any(moment_s > now_s + SAME_S for moment_s, word in moments if word != "uncovered"):
        yield "ahead"
    if ordered and ordered[0][1] != "opened":
        yield "unopened"
