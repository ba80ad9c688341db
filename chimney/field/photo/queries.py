"""Queries of photos of scenes."""

from chimney.field.models import ScenePhoto
from chimney.logbook.models import Exposure
from pinhole import scene


def photos():
    """Photos of scenes with what they were read with, the newest first."""
    return ScenePhoto.objects.select_related("camera", "paper", "exposure__sheet")


def to_do():
    """Photos that no sheet was exposed for yet, without their pictures."""
    return photos().filter(exposure=None).defer("jpeg")


def phone_of(photo):
    """The craft's Phone: all that is known of the one that took a ScenePhoto."""
    pairs = ScenePhoto.objects.exclude(meter_ev100=None).exclude(middle_ev100=None)
    if photo.phone:
        pairs = pairs.filter(phone=photo.phone)
        rows = pairs.order_by("-pk").values_list("meter_ev100", "middle_ev100")[:50]
        return scene.learned([meter - middle for meter, middle in rows])
    return scene.learned([])


def usual(cameras, papers, photo=None):
    """(camera, paper) that one begins with: those of a ScenePhoto, else those exposed last, else
    the first that are offered.
    """
    last = Exposure.objects.order_by("-pk").select_related("sheet").first()
    camera = (photo and photo.camera_id) or (last and last.camera_id)
    paper = (photo and photo.paper_id) or (last and last.sheet.paper_id)
    return (
        cameras.filter(pk=camera).first() or cameras.first(),
        papers.filter(pk=paper).first() or papers.first(),
    )


def of_sheet(code):
    """The ScenePhoto of the exposure of a sheet, or None."""
    return photos().filter(exposure__sheet__code=code).last()
