"""Turn of an answer among those that a process makes one after the other. No Django here."""

import time
from contextlib import nullcontext
from contextvars import ContextVar

# So many objects are made, and so many younger generations looked through, before Python looks for
# cycles by itself: seldom, since those of an answer are looked for at its end.
SELDOM = (50_000, 20, 50)
# Of the answer that is being made here: how it lets others go first; None outside of the server.
left = ContextVar("left", default=None)


def let_others(seconds):
    """Wait so long for something else, and let whoever has a use for the turn have it meanwhile."""
    leave = left.get() or nullcontext
    with leave():
        time.sleep(seconds)
