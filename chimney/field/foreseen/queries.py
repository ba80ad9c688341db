"""Queries of sheets that a photo let one foresee."""

from chimney.field.models import ScenePhoto
from chimney.field.photo.queries import photos
from chimney.results.models import Preview


def of_sheet(code):
    """The ScenePhoto of the exposure of a sheet, or None."""
    return photos().filter(exposure__sheet__code=code).last()


def is_any_of(sheet):
    """True if a photo let one foresee a Sheet."""
    return ScenePhoto.objects.filter(exposure__sheet=sheet).exists()


def beside(scan):
    """Data of a Scan beside its photo; None where it lies beside none, or there is no scan."""
    return scan and Preview.objects.filter(scan=scan).values_list("beside_photo", flat=True).first()
