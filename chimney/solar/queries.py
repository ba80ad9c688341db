"""What pages read of the cans, in a constant number of queries."""

from chimney.logbook.models import Sheet
from chimney.solar.models import Solargraph


def cans():
    """Every can with what is shown of it; photos stay where they are."""
    return Solargraph.objects.select_related("camera", "place", "sheet").defer("photo")


def out():
    """Those in the sun, by what is due."""
    return cans().filter(sheet__stage=Sheet.Stage.OUT).prefetch_related("events")


def to_scan():
    return cans().filter(sheet__stage=Sheet.Stage.HOME)
