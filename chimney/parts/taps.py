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
LONGEST_DIGITS = 15


def tapped_at(request):
    """The moment at which what is asked for was tapped, between the making of its form and now.
    Raises Refused where the device's clocks contradict each other and nothing tells which is right.
    """
    now = clock.now()
    made = _moment(request.POST.get("made_ms", ""), now)
    back = _spans(request, ("ago_ms", "ago_life_ms"))
    if made is None:
        return now - min(back[0] if back else timedelta(0), LONGEST_WAIT)
    since = _spans(request, ("after_ms", "after_life_ms"))
    # What a clock says that was set or stood may lie before the form or after this moment.
    forth = [made + span for span in since if made + span <= now + ON_THE_WAY]
    told = [now - span for span in back if now - span >= made - ON_THE_WAY]
    found = _agreed(told, forth) or _agreed(forth[:1], forth[1:]) or _agreed(told[:1], told[1:])
    if found is None and len(told + forth) != 1:
        _ask({*told, *forth, now})
    return min(now, max(made, found or (told + forth)[0]))


def _agreed(some, others):
    """The latest of some that one of the others says too; None if none is."""
    both = [one for one in some for other in others if abs(one - other) <= ON_THE_WAY]
    return max(both, default=None)


def _moment(text, now):
    """The server's own moment that a form brought back, or None."""
    if not (text.isascii() and text.isdecimal() and len(text) < LONGEST_DIGITS):
        return None
    try:
        made = datetime.fromtimestamp(int(text) / 1000, UTC)
    except (OverflowError, ValueError, OSError):
        return None
    return made if now - LONGEST_WAIT <= made <= now else None


def _spans(request, names):
    """Values told under those names, where they are told; no more than nobody waits for."""
    sent = [request.POST.get(name, "") for name in names]
    return [
        min(timedelta(milliseconds=int(text)), 2 * LONGEST_WAIT)
        for text in sent
        if text.isascii() and text.isdecimal() and len(text) < LONGEST_DIGITS
    ]


def _ask(moments):
    words = " or ".join(f"{localtime(moment):%H:%M:%S}" for moment in sorted(moments))
    raise Refused(
        f"The clocks of this device contradict each other: it was tapped at {words}. Tap again as "
        "things stand now, and put the times right in the log.",
        "See how it stands",
        "hearth:hearth",
    )
