"""What the model of the log asks of the shelf."""

from chimney.kit.models import Box, Camera
from chimney.lessons.whole.craft import Shelf


def shelf():
    """The Shelf as it is now."""
    renewed = Camera.objects.exclude(renewed_at=None).values_list("pk", "renewed_at")
    boxes = Box.objects.in_use().order_by("opened_on", "pk").values_list("paper_id", "pk")
    return Shelf(dict(renewed), dict(boxes))
