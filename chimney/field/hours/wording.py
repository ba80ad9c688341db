"""Times of a card in as few letters as it has room for."""

from chimney.parts.scales import number
from pinhole import durations

# Longer is not planned by a card.
LONGEST_ON_CARD_S = 3600.0
SHORT_SKIES = {"sun": "sun", "haze": "haze", "bright": "bright", "grey": "grey", "heavy": "heavy"}


def minutes_of(seconds):
    """ "40s", "1½", "12": a countable time in minutes; "–" for what is longer than a card tells."""
    if not seconds <= LONGEST_ON_CARD_S:
        return "–"
    counted = durations.countable_s(seconds)
    if counted < 60:
        return f"{number(counted, 2)}s"
    minutes, half = divmod(round(counted / 30), 2)
    return f"{minutes}{'½' if half and minutes < 10 else ''}"
