"""An exposure as the craft knows it: the light it got, as the log tells it, and how far its sheet
has filled.
"""

import logging
from dataclasses import replace

from pinhole import light
from pinhole.exposure import changing
from pinhole.light import progress as craft
from pinhole.reciprocity import NoCorrection

log = logging.getLogger(__name__)


def known_light(exposure, rereads=None):
    """(times, metered seconds) at which its light is known, on the clock of epoch seconds."""
    readings = exposure.rereads.all() if rereads is None else rereads
    return changing.known_light(
        exposure.opening.opened_at.timestamp(),
        exposure.calculation.metered_s,
        [(reread.at.timestamp(), reread.metered_s) for reread in readings],
        exposure.forecast,
    )


def metered_s(exposure, moment):
    """Metered time expected of its light at a moment, by what is known so far."""
    return 1 / float(light.course(*known_light(exposure), NoCorrection()).rate(moment.timestamp()))


def progress(exposure, now, rereads=None):
    """The craft's Progress of an exposure at a moment; beyond is said of a forecast alone."""
    opening = exposure.opening
    cuts = [reread.at.timestamp() for reread in exposure.rereads.all()]
    # A hand that is still before the hole goes away later than now.
    begins = (opening.free_from(now) or now).timestamp()
    course = changing.filling_course(
        exposure.calculation, exposure.planned_s, *known_light(exposure, rereads)
    )
    state = craft.progress(course, opening.tally(now).spans, cuts, begins, exposure.dark_s)
    return state if exposure.forecast else replace(state, beyond=False)


def worth_s(exposure, until):
    """Worth of the time given under changing light, in seconds of the light it was opened in; None
    where it stood still.

    A hole is shut whatever its calculation says, so one that cannot be reckoned is worth what the
    clock says.
    """
    if not exposure.light_changes:
        return None
    try:
        return progress(exposure, until).share * exposure.planned_s
    except Exception:
        log.exception("exposure %s cannot be reckoned", exposure.pk)
        return None
