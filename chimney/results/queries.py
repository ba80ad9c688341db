"""Queries of verdicts, of the sheets that wait for one, and of the inbox."""

from chimney.darkroom.models import Development
from chimney.logbook.models import Sheet
from chimney.results.models import InboxFile, Verdict


def verdicts():
    """Verdicts with their sheets and papers, the newest first."""
    return Verdict.objects.select_related("sheet__paper")


def recent(most):
    """The newest verdicts, with the cameras of their sheets."""
    return verdicts().prefetch_related("sheet__exposures__camera")[:most]


def verdict_of(sheet):
    """The Verdict of a sheet, or None."""
    return verdicts().filter(sheet=sheet).first()


def developments_of(sheet):
    """The Developments of a sheet, with the developer."""
    return Development.objects.filter(sheet=sheet).select_related("run__developer")


def sheets():
    """Sheets with their papers."""
    return Sheet.objects.select_related("paper")


# So many files of the inbox are told.
SHOWN_FILES = 5


def not_taken():
    """The newest files of the inbox that are scans and were not taken, with why."""
    return InboxFile.objects.exclude(trouble="")[:SHOWN_FILES]


def sheet_coded(code):
    """The Sheet of that code with what a verdict asks of it, or None."""
    rows = sheets().prefetch_related("exposures__camera")
    return rows.filter(code__iexact=code).first()
