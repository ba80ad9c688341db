"""Light that changes while the hole is open: what each part contributed, and when the sheet has enough."""

from dataclasses import dataclass
from itertools import pairwise

from pinhole import light


@dataclass(frozen=True)
class Part:
    """A stretch in which the hole was free and nothing was read: seconds, and the share of the whole it gave."""

    seconds: float
    share: float


@dataclass(frozen=True)
class Progress:
    """parts so far; left_s: of free hole until there is enough, negative for how long it has been too much."""

    parts: tuple
    left_s: float
    beyond: bool

    @property
    def share(self):
        return sum(part.share for part in self.parts)


def course_of(exposure, rereads=None):
    """The light of an exposure on the clock of epoch seconds: read at opening, read again, then as forecast."""
    done = exposure.done
    # The time that was planned is a countable one: it, and not the exact one, is what fills the sheet.
    return light.course(*_points(exposure, rereads), done.school).scaled(done.exact_s / exposure.planned_s)


def metered_course(exposure):
    """The same light without a school: its rate is one over the metered time."""
    return light.course(*_points(exposure), light.NoCorrection())


def _points(exposure, rereads=None):
    """(times, metered seconds) that the light is known at."""
    done, opened = exposure.done, exposure.opening.opened_at.timestamp()
    read = [
        (reread.at.timestamp(), reread.metered_s) for reread in (exposure.rereads.all() if rereads is None else rereads)
    ]
    points = [(opened, done.metered_s), *(point for point in read if point[0] > opened)]
    last_at, last_s = points[-1]
    expected = [(opened + after, metered) for after, metered in exposure.forecast]
    if expected:
        then = light.course([at for at, _ in expected], [s for _, s in expected], light.NoCorrection())
        scale = last_s * float(then.rate(last_at))
        points += [(at, scale * metered) for at, metered in expected if at > last_at + 1]
    return zip(*sorted(dict(points).items()), strict=True)


def progress(exposure, now, course=None):
    """The Progress of an exposure at a moment."""
    course = course or course_of(exposure)
    cuts = [reread.at.timestamp() for reread in exposure.rereads.all()]
    spans = [piece for span in exposure.opening.spans(now) for piece in _cut(span, cuts)]
    parts, total, over_s, due = [], 0.0, 0.0, None
    for start, end in spans:
        share = course.share(start, end)
        if due is None and total + share >= 1:
            due = course.reach_s(start, 1 - total)
            over_s = end - due
        elif due is not None:
            over_s += end - start
        total += share
        parts.append(Part(end - start, share))
    now_s = max(now.timestamp(), spans[-1][1] if spans else 0.0)
    finish = course.reach_s(now_s, 1 - total) if due is None else now_s
    left = finish - now_s if due is None else -over_s
    return Progress(tuple(parts), left, bool(exposure.forecast) and finish > course.times_s[-1])


def _cut(span, cuts):
    """A span cut where the light was read again."""
    start, end = span
    inside = [cut for cut in cuts if start < cut < end]
    edges = [start, *inside, end]
    return list(pairwise(edges))
