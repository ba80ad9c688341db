"""Laying a sheet beside what its photo let one foresee, so that it teaches."""

from dataclasses import asdict

from chimney.field.foreseen import craft, queries
from chimney.field.foreseen.wording import stops_given
from chimney.ledger.once import afterwards
from chimney.logbook.models import Sheet
from chimney.results.curves import queries as curves
from chimney.results.papers import flows as papers
from chimney.results.scans import queries as scans


def sheet_scanned(sender, sheet, **kwargs):
    """Its newest scan is laid beside its photo when it is written down, if there is one."""
    if queries.is_any_of(sheet):
        afterwards(lay_beside, sheet)


def photo_gone(sender, instance, **kwargs):
    """Let the sheet of a photo that is gone lie beside none."""
    # Where a whole log goes, its sheet may have gone before.
    sheet = Sheet.objects.filter(exposures=instance.exposure_id).first()
    if instance.exposure_id and sheet:
        afterwards(lay_beside, sheet)


def lay_beside(sheet):
    """Reckon how a sheet differs from what was foreseen, and keep it."""
    photo, scan = queries.of_sheet(sheet.code), scans.newest_of(sheet)
    if scan is None or not hasattr(scan, "preview") or scan.transmitted:
        return
    papers.lay_beside(scan, _of(photo, scan))


def _of(photo, scan):
    if photo is None or not (photo.camera and photo.paper):
        return None
    scenery = craft.as_kept(photo, curves.own_curve_of(photo.paper))
    if scenery.is_broken:
        return None
    lies = craft.beside(scenery, scan, stops_given(photo.exposure))
    return asdict(lies) if lies else None
