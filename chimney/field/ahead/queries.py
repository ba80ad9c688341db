"""Shots that are planned."""

from chimney.field.models import Shot

# So many of the next shots a test sheet is made for.
MOST_AHEAD = 6


def planned():
    """The next Shots that are to do, those of a day out first."""
    shots = Shot.objects.filter(done=False).select_related("camera", "paper", "outing", "beside")
    return list(shots.order_by("starts_at", "-pk")[:MOST_AHEAD])
