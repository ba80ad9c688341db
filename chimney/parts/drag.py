"""What a handle in a drawing says when it is dragged: its name and where to, in the drawing's own
units.
"""

import re

DRAG = re.compile(
    r"([a-z]{0,10}\d{0,18}) (-?\d{1,6}(?:\.\d{1,6})?) (-?\d{1,6}(?:\.\d{1,6})?)( moving)?", re.ASCII
)


def read(text):
    """(name, x, y), or None for anything a handle does not say."""
    found = DRAG.fullmatch(str(text or ""))
    return (found[1], float(found[2]), float(found[3])) if found and found[1] else None


def is_moving(text):
    """Whether the handle is still in the hand, so that nothing should be kept."""
    return str(text or "").endswith(" moving")
