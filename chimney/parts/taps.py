"""When a tap was made: a device without network says how long ago, on a clock of its own that
cannot jump.
"""

from datetime import timedelta

from chimney.parts import clock

# A tap that could not be sent waits in the device this long at most.
LONGEST_WAIT_S = 48 * 3600


def tapped_at(request):
    """The moment at which what is asked for was tapped."""
    text = request.POST.get("ago_ms", "")
    ago_s = int(text) / 1000 if text.isascii() and text.isdecimal() and len(text) < 12 else 0
    return clock.now() - timedelta(seconds=min(ago_s, LONGEST_WAIT_S))
