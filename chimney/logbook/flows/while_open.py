"""Changes of an open hole: covered, uncovered, and the light read again. No stage of a sheet moves
here.
"""

import math

from chimney.ledger.once import verb
from chimney.logbook import craft, queries
from chimney.logbook.models import Cover, Opening, Reread
from chimney.parts import clock
from chimney.parts.refusal import Refused
from pinhole import exposure as exposures


def running(exposure):
    """The opening as it is now, or a refusal when the hole is shut."""
    opening = Opening.objects.filter(exposure=exposure, closed_at=None).first()
    if opening is None:
        raise Refused(
            f"The hole of {exposure.camera} is shut on {exposure.sheet}.",
            "See the timer",
            "logbook:timer",
            exposure.pk,
        )
    return opening


def not_before(opening, moment):
    """The moment, but not before anything that is in the log already: clocks of devices differ."""
    moments = [opening.opened_at]
    for cover in opening.covers.all():
        # The hand at the opening goes away when it goes away, even if the hole is shut before.
        hand = cover.covered_at == opening.opened_at
        moments += [cover.covered_at] + (
            [cover.uncovered_at] if cover.uncovered_at and not hand else []
        )
    return max(moment, *moments)


@verb
def reread(exposure, reading, *, at=None):
    """A second Reading while the hole is open; the finishing time moves, and how far is kept.

    at: when it was made, if that is told afterwards; else now, but not before what is in the log.
    """
    opening = running(exposure)
    now = at or not_before(opening, clock.now())
    fresh = queries.whole().get(pk=exposure.pk)
    again = exposures.recalculate(fresh.calculation, reading=reading)
    before = craft.progress(fresh, now)
    expected_s = craft.metered_s(fresh, now)
    row = Reread(exposure=fresh, at=now, said=reading.said, metered_s=again.metered_s, stops=0.0)
    after = craft.progress(fresh, now, [*fresh.rereads.all(), row])
    row.stops = math.log2(expected_s / again.metered_s)
    moved_s = after.left_s - before.left_s
    # Moved by more than a day, no end is in sight.
    row.moved_s = moved_s if abs(moved_s) <= exposures.LONGEST_S else None
    row.save()
    return row


@verb
def cover(exposure):
    """A hand before the hole: the clock stands. Twice is once, and a hand that is there already
    stays.
    """
    opening = running(exposure)
    now = not_before(opening, clock.now())
    stays = opening.covers.filter(uncovered_at__gt=now).update(uncovered_at=None)
    if not stays and not opening.covered:
        Cover.objects.create(opening=opening, covered_at=now)


@verb
def cover_then(exposure, covers):
    """Write down covers told afterwards: [(covered, uncovered)] in order."""
    opening = running(exposure)
    Cover.objects.bulk_create(
        Cover(opening=opening, covered_at=a, uncovered_at=b) for a, b in covers
    )


@verb
def uncover(exposure):
    opening = running(exposure)
    covered = opening.covers.filter(uncovered_at=None)
    covered.update(uncovered_at=not_before(opening, clock.now()))
