"""Queries of the shelf, for the model of the log."""

from chimney.kit.models import Camera
from chimney.lessons.whole.craft import Shelf
from chimney.logbook import queries as logbook


def shelf():
    """The Shelf as it is now."""
    renewed = Camera.objects.exclude(renewed_at=None).values_list("pk", "renewed_at")
    # The next sheet is taken from the oldest box that has one left.
    left = [(box.paper_id, box.pk) for box, sheets in logbook.stock() if sheets > 0]
    return Shelf(dict(renewed), dict(reversed(left)))
