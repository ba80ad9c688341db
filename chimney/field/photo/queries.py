"""Queries of photos of scenes."""

from django.conf import settings

from chimney.field.models import ScenePhoto
from chimney.places import queries as places
from chimney.places.models import Place, View
from pinhole import scene


def photos():
    """Photos of scenes with what they were read with, the newest first."""
    return ScenePhoto.objects.select_related("camera", "paper", "exposure__sheet", "view__place")


def to_do():
    """Photos that no sheet was exposed for yet, without their pictures."""
    return photos().filter(exposure=None).defer("jpeg")


def view(text):
    """The View of a number in an address, None for none."""
    is_number = text.isascii() and text.isdigit() and len(text) < 19
    return View.objects.filter(pk=int(text)).first() if is_number else None


def of_view(view):
    """Photos of a View, without their pictures."""
    return photos().filter(view=view).defer("jpeg")


def place_of(photo):
    """The Place where a photo was taken: of its view, at its own coordinates, else home or None."""
    if photo.view:
        return photo.view.place
    home = places.home()
    if photo.latitude_deg is None or photo.longitude_deg is None:
        return home
    zone = home.zone if home else settings.TIME_ZONE
    return Place(latitude_deg=photo.latitude_deg, longitude_deg=photo.longitude_deg, zone=zone)


def phone_of(photo):
    """The craft's Phone: all that is known of the one that took a ScenePhoto."""
    if not photo.phone:
        return scene.learned([])
    pairs = ScenePhoto.objects.filter(phone=photo.phone)
    pairs = pairs.exclude(meter_ev100=None).exclude(middle_ev100=None)
    rows = pairs.order_by("-pk").values_list("meter_ev100", "middle_ev100")[:50]
    return scene.learned([meter - middle for meter, middle in rows])
