"""Light that changes while the hole is open, as the log tells it to the craft."""

import logging
from dataclasses import replace

from pinhole import light
from pinhole import progress as craft

log = logging.getLogger(__name__)


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


def progress(exposure, now, rereads=None):
    """The craft's Progress of an exposure at a moment; beyond is said of a forecast alone."""
    opening = exposure.opening
    cuts = [reread.at.timestamp() for reread in exposure.rereads.all()]
    spans = opening.tally(now).spans
    # A hand that is still before the hole goes away later than now.
    begins = (opening.free_from(now) or now).timestamp()
    found = craft.progress(course_of(exposure, rereads), spans, cuts, begins, exposure.dark_s)
    return found if exposure.forecast else replace(found, beyond=False)


def worth_s(exposure, until):
    """What changing light made of the time given, in seconds of the light it was opened in; None where it stood still.

    A hole is shut whatever its sum says, so one that cannot be reckoned is worth what the clock says.
    """
    if not exposure.light_changes:
        return None
    try:
        return progress(exposure, until).share * exposure.planned_s
    except Exception:
        log.exception("exposure %s cannot be reckoned", exposure.pk)
        return None
