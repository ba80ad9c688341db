"""Positives of whole scans: made at once, or asked for where that takes long."""

import shutil

from chimney.ledger import makings
from chimney.ledger.models import Making
from chimney.parts import previews
from chimney.parts.refusal import Refused
from chimney.places.models import Place
from chimney.results.models import Scan
from chimney.results.pictures import craft
from chimney.results.pictures.queries import mark_of
from chimney.results.scans import craft as scans
from chimney.results.scans import files

MEDIA_TYPES = {"jpg": "image/jpeg", "png": "image/png", "tif": "image/tiff"}


def positive(scan, kind, *, place):
    """An open file of the whole positive, made of the original; place: a Place that is written into
    it, or None. Raises Refused.
    """
    array = previews.array_of(scan.preview.jpeg)
    try:
        exif = craft.exif(scan.sheet, place)
        return files.export(files.path_of(scan), kind, scans.tones(scan, array), exif)
    except files.UnreadableError as error:
        raise Refused(str(error), "See the scan", "results:scan", scan.pk) from error


def ask(scan, kind, place):
    """The Making of the positive of a large scan, as it is toned now."""
    question = {
        "scan": scan.pk,
        "kind": kind,
        "place": place and place.pk,
        "mark": mark_of(scan.pk, kind),
    }
    return makings.ask(Making.What.POSITIVE, f"{scan.sheet or 'scan'}-positive.{kind}", question)


def write(making, out):
    """The positive that was asked for into an open file. Raises Refused."""
    question = making.of
    rows = Scan.objects.select_related("sheet__paper", "preview", "wedge")
    scan = rows.filter(pk=question["scan"], preview__isnull=False).first()
    if scan is None:
        raise Refused("That scan was taken away meanwhile.", "To the Hearth", "hearth:hearth")
    place = Place.objects.filter(pk=question["place"]).first() if question["place"] else None
    with positive(scan, question["kind"], place=place) as file:
        shutil.copyfileobj(file, out)
