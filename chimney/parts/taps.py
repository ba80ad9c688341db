"""Moment of a tap. A device without network says it on two clocks of its own: that of the day,
which somebody may put right, and that of the page, which may stand while the device sleeps. Held
against the moment at which the server made the form, one of them is found out.
"""

from datetime import UTC, datetime, timedelta

from django.utils.timezone import localtime

from chimney.parts import clock
from chimney.parts.refusal import Refused

# A tap that could not be sent waits in the device this long at most.
LONGEST_WAIT = timedelta(hours=48)
# A page is on its way to the device for so long, and a tap to the server.
ON_THE_WAY = timedelta(seconds=10)
LONGEST_CLOCK_DIGITS = 15


def tapped_at(request):
    """The moment at which what is asked for was tapped, between the making of its form and now.
    Raises Refused where the device's clocks contradict each other and nothing tells which is right.
    """
    now = clock.now()
    made_at = _moment(request.POST.get("made_ms", ""), now)
    back = _spans(request, ("ago_ms", "ago_life_ms"))
    if made_at is None:
        return now - min(back[0] if back else timedelta(0), LONGEST_WAIT)
    since = _spans(request, ("after_ms", "after_life_ms"))
    # What a clock says that was set or stood may lie before the form or after this moment.
    forth = [made_at + span for span in since if made_at + span <= now + ON_THE_WAY]
    by_device = [now - span for span in back if now - span >= made_at - ON_THE_WAY]
    moment = (
        _agreed(by_device, forth)
        or _agreed(forth[:1], forth[1:])
        or _agreed(by_device[:1], by_device[1:])
    )
    if moment is None and len(by_device + forth) != 1:
        _ask({*by_device, *forth, now})
    return min(now, max(made_at, moment or (by_device + forth)[0]))


def _agreed(some, others):
    """The latest of some that one of the others says too; None if none is."""
    both = [first for first in some for second in others if abs(first - second) <= ON_THE_WAY]
    return max(both, default=None)


def _moment(text, now):
    """The server's own moment that a form brought back, or None."""
    if not (text.isascii() and text.isdecimal() and len(text) < LONGEST_CLOCK_DIGITS):
        return None
    try:
        made_at = datetime.fromtimestamp(int(text) / 1000, UTC)
    except (OverflowError, ValueError, OSError):
        return None
    return made_at if now - LONGEST_WAIT <= made_at <= now else None


def _spans(request, names):
    """Values told under those names, where they are told; no more than nobody waits for."""
    sent = [request.POST.get(name, "") for name in names]
    return [
        min(timedelta(milliseconds=int(text)), 2 * LONGEST_WAIT)
        for text in sent
        if text.isascii() and text.isdecimal() and len(text) < LONGEST_CLOCK_DIGITS
    ]


def _ask(moments):
    times = " or ".join(f"{localtime(moment):%H:%M:%S}" for moment in sorted(moments))
    raise Refused(
        f"The clocks of this device contradict each other: it was tapped at {times}. Tap again as "
        "things stand now, and put the times right in the log.",
        "See how it stands",
        "hearth:hearth",
    )
