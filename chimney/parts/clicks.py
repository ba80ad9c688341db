"""A click on a picture, as a browser sends it without a script, and places on it in an address."""

import re

# A browser without script sends whole pixels.
PIXELS = re.compile(r"\d{1,6}(\.\d)?", re.ASCII)


def read(sent, wide, high):
    """(across, down) as shares of a picture shown wide x high, clicked as "at"; None if it was
    not.
    """
    x, y = sent.get("at.x", ""), sent.get("at.y", "")
    if not all(PIXELS.fullmatch(text) for text in (x, y)):
        return None
    return min(1.0, float(x) / wide), min(1.0, float(y) / high)


def written(across, down):
    """Shares as they stand in an address."""
    return f"{across:.4f},{down:.4f}"


def shares(text):
    """(across, down) that was written. Raises ValueError for what is no place on a picture."""
    across, down = (float(part) for part in text.split(","))
    if not (0 <= across <= 1 and 0 <= down <= 1):
        raise ValueError("a place lies between 0 and 1")
    return across, down
