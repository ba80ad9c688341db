"""Queries of photos of scenes."""

from chimney.field.models import ScenePhoto
from pinhole import scene


def photos():
    """Photos of scenes with what they were read with, the newest first."""
    return ScenePhoto.objects.select_related("camera", "paper", "exposure__sheet")


def to_do():
    """Photos that no sheet was exposed for yet, without their pictures."""
    return photos().filter(exposure=None).defer("jpeg")


def phone_of(photo):
    """The craft's Phone: all that is known of the one that took a ScenePhoto."""
    if not photo.phone:
        return scene.learned([])
    pairs = ScenePhoto.objects.filter(phone=photo.phone)
    pairs = pairs.exclude(meter_ev100=None).exclude(middle_ev100=None)
    rows = pairs.order_by("-pk").values_list("meter_ev100", "middle_ev100")[:50]
    return scene.learned([meter - middle for meter, middle in rows])
