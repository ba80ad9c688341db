"""Queries of scans."""

from chimney.logbook.models import Sheet
from chimney.results.models import Scan, ToneSetting


def scans():
    """Scans with what their pages read of each."""
    return Scan.objects.select_related("sheet__paper", "preview", "wedge")


def newest_of(sheet):
    """The newest scan of a sheet that was looked through, or None."""
    return scans().filter(sheet=sheet, state=Scan.State.READY).first()


def listed():
    """Scans with their sheets, for a list."""
    return Scan.objects.select_related("sheet")


def has_settings():
    """True if a way to make positives was kept by name."""
    return ToneSetting.objects.exists()


def setting(key):
    """The ToneSetting of that number, or None."""
    return ToneSetting.objects.filter(pk=key).first()


def earlier(sheet):
    """Pictured sheets of such paper that came before it."""
    return Sheet.objects.filter(is_pictured=True, pk__lt=sheet.pk, paper__kind=sheet.paper.kind)
