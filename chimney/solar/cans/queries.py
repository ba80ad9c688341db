"""Queries of the cans, a constant number for each page."""

from zoneinfo import ZoneInfo

from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.solar.models import Solargraph


def cans():
    """Every can with what is shown of it; photos stay where they are."""
    return Solargraph.objects.select_related("camera", "place", "sheet").defer("photo")


def out():
    """Those in the sun, by what is due."""
    return cans().filter(sheet__stage=Sheet.Stage.OUT).prefetch_related("events")


def planned():
    """Those that were kept in the planner and are not out yet."""
    return cans().filter(sheet=None, opened_at=None)


def due():
    """Number of those in the sun that should be home by now, each by the date of its own place."""
    days = (
        Solargraph.objects.filter(sheet__stage=Sheet.Stage.OUT)
        .order_by()
        .values_list("last_day", "place__zone")
    )
    return sum(last <= clock.now().astimezone(ZoneInfo(zone)).date() for last, zone in days)


def to_scan():
    return cans().filter(sheet__stage=Sheet.Stage.HOME)


def by_stage():
    """{stage of its sheet, or "planned": the cans}, with what happened to each."""
    shelf = {stage: [] for stage in ("planned", "out", "home", "scanned", "lost", "spoiled")}
    for can in cans().prefetch_related("events"):
        shelf.setdefault(can.stage, []).append(can)
    return shelf


def has_photo(can):
    """True if its place was photographed."""
    return with_photo().filter(pk=can.pk).exists()


def with_photo():
    """Cans whose place was photographed."""
    return Solargraph.objects.exclude(photo=None)


def any_planned():
    """True if there is a can, planned or further."""
    return Solargraph.objects.exists()
