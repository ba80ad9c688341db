"""Message of a handle in a drawing that is dragged: its name and where to, in the drawing's own
units.
"""

import re

DRAG = re.compile(
    r"([a-z]{0,10}\d{0,18}) (-?\d{1,6}(?:\.\d{1,6})?) (-?\d{1,6}(?:\.\d{1,6})?)( moving)?", re.ASCII
)


def read(text):
    """(name, x, y), or None for anything a handle does not say."""
    match = DRAG.fullmatch(str(text or ""))
    return (match[1], float(match[2]), float(match[3])) if match and match[1] else None


def is_moving(text):
    """True if the handle is still in the hand, so that nothing should be kept."""
    return str(text or "").endswith(" moving")
