"""What is done to an open hole: covered, uncovered, and the light read again. No stage of a sheet moves here."""

import math

from django.db import transaction

from chimney.logbook import changing, queries
from chimney.logbook.models import Cover, Exposure, Opening, Reread
from chimney.parts import clock
from chimney.parts.refusal import Refused
from pinhole import exposure as craft


def running(exposure):
    """The opening as it is now, or a refusal when the hole is shut."""
    opening = Opening.objects.filter(exposure=exposure, closed_at=None).first()
    if opening is None:
        raise Refused(
            f"The hole of {exposure.camera} is shut on {exposure.sheet}.", "See the timer", "logbook:timer", exposure.pk
        )
    return opening


def not_before(opening, moment):
    """The moment, but not before anything that is in the log already: clocks of devices differ."""
    known = [opening.opened_at]
    for cover in opening.covers.all():
        # The hand at the opening goes away when it goes away, even if the hole is shut before.
        hand = cover.covered_at == opening.opened_at
        known += [cover.covered_at] + ([cover.uncovered_at] if cover.uncovered_at and not hand else [])
    return max(moment, *known)


@transaction.atomic
def reread(exposure, reading):
    """A second Reading while the hole is open; the finishing time moves, and how far is kept."""
    opening, now = running(exposure), clock.now()
    now = not_before(opening, now)
    fresh = queries.whole(Exposure.objects).get(pk=exposure.pk)
    done = fresh.done
    again = craft.read_again(done, reading)
    before = changing.progress(fresh, now)
    expected_s = 1 / float(changing.metered_course(fresh).rate(now.timestamp()))
    found = Reread(exposure=fresh, at=now, said=reading.said, metered_s=again.metered_s, moved_s=0.0, stops=0.0)
    known = [*fresh.rereads.all(), found]
    after = changing.progress(fresh, now, changing.course_of(fresh, known))
    found.stops = math.log2(expected_s / again.metered_s)
    found.moved_s = after.left_s - before.left_s
    found.save()
    return found


@transaction.atomic
def cover(exposure):
    """A hand before the hole: the clock stands. Twice is once."""
    opening = running(exposure)
    if not opening.covered:
        Cover.objects.create(opening=opening, covered_at=not_before(opening, clock.now()))


@transaction.atomic
def uncover(exposure):
    opening = running(exposure)
    covered = opening.covers.filter(uncovered_at=None)
    covered.update(uncovered_at=not_before(opening, clock.now()))
