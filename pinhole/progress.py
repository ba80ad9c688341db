"""What light that changes has given a sheet so far, part by part, and when there is enough."""

from dataclasses import dataclass
from itertools import pairwise


@dataclass(frozen=True)
class Part:
    """A stretch in which the hole was free and nothing was read: seconds, and the share of the whole it gave."""

    seconds: float
    share: float


@dataclass(frozen=True)
class Progress:
    """parts so far; left_s: of free hole until there is enough, negative for how long it has been too much; beyond:
    whether the end lies past the last point at which the light is known.
    """

    parts: tuple
    left_s: float
    beyond: bool

    @property
    def share(self):
        return sum(part.share for part in self.parts)


def progress(course, spans, cuts_s, now_s):
    """The Progress of a sheet.

    course: a light.Course; spans: [(from, to)] of free hole in order, as clock.spans gives them; cuts_s: moments at
    which the light was read again; now_s: all on the clock of the course. Source: additivity of exposure.
    """
    parts, total, over_s, due = [], 0.0, 0.0, None
    pieces = [piece for span in spans for piece in _cut(span, cuts_s)]
    for start, end in pieces:
        share = course.share(start, end)
        if due is None and total + share >= 1:
            due = course.reach_s(start, 1 - total)
            over_s = end - due
        elif due is not None:
            over_s += end - start
        total += share
        parts.append(Part(end - start, share))
    # A hand that is still before the hole goes away later than now.
    now_s = max(now_s, pieces[-1][1] if pieces else 0.0)
    finish = course.reach_s(now_s, 1 - total) if due is None else now_s
    left_s = finish - now_s if due is None else -over_s
    return Progress(tuple(parts), float(left_s), bool(finish > course.times_s[-1]))


def _cut(span, cuts_s):
    """A span cut where the light was read again."""
    start, end = span
    return list(pairwise([start, *(cut for cut in cuts_s if start < cut < end), end]))
