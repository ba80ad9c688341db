"""The number of a row, as it comes from an address or a form."""

# Longer numbers than SQLite keeps.
MOST_DIGITS = 18


def row_key(text):
    """The row's number that a text means; None for anything else, so that no row is found by it."""
    text = str(text or "")
    return int(text) if text.isascii() and text.isdecimal() and len(text) <= MOST_DIGITS else None


def as_kept(row):
    """The row as it is kept, or None: a form that was wrong has changed it in memory."""
    return type(row).objects.filter(pk=row.pk).first()
