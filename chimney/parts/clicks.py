"""A click on a picture, as a browser sends it without a script, and places on it in an address."""

# No picture is shown larger.
LONGEST_CLICK_DIGITS = 6


def read(sent, wide, high):
    """(across, down) as shares of a picture shown wide x high, clicked as "at"; None if it was
    not.
    """
    x, y = sent.get("at.x", ""), sent.get("at.y", "")
    if not all(text.isascii() and text.isdecimal() for text in (x, y)):
        return None
    across, down = (int(text[:LONGEST_CLICK_DIGITS]) for text in (x, y))
    return min(1.0, across / wide), min(1.0, down / high)


def written(across, down):
    """Shares as they stand in an address."""
    return f"{across:.4f},{down:.4f}"


def shares(text):
    """(across, down) that was written. Raises ValueError for what is no place on a picture."""
    across, down = (float(part) for part in text.split(","))
    if not (0 <= across <= 1 and 0 <= down <= 1):
        raise ValueError("a place lies between 0 and 1")
    return across, down
