"""A print is a sheet of its own, linked to its negative."""

from chimney.darkroom.models import Print
from chimney.ledger.once import current, verb
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused


@verb
def expose(negative, paper, times_s, **lamp):
    """A fresh sheet printed behind a negative: it waits for the developer; the Print."""
    negative = current(negative, Sheet.objects.select_related("paper"))
    if negative.stage not in (Sheet.Stage.DEVELOPED, Sheet.Stage.READ):
        raise Refused(
            f"{negative} is not developed: it cannot be printed.",
            f"See {negative}",
            "logbook:sheet",
            negative.code,
        )
    sheet = logbook.expose_behind(negative, paper)
    return Print.objects.create(
        negative=negative, sheet=sheet, times_s=list(times_s), printed_at=clock.now(), **lamp
    )


def can_be_read(printed):
    """True if a print is a strip that is dry."""
    return printed.is_strip and printed.sheet.stage in (Sheet.Stage.DEVELOPED, Sheet.Stage.READ)


@verb
def read_strip(printed, best_s):
    """Write down which time was right; None takes that back."""
    printed = current(printed, Print.objects.select_related("sheet", "negative"))
    if best_s is not None and not can_be_read(printed):
        raise Refused(
            f"{printed.sheet} is not developed: there is nothing to read on it yet.",
            "To its print",
            "darkroom:print",
            printed.negative.code,
        )
    printed.best_s = best_s
    printed.save(update_fields=["best_s"])


@verb
def take_back(printed):
    """It was never exposed: its sheet is gone with it."""
    printed = current(printed, Print.objects.select_related("sheet"))
    if printed.sheet.stage != Sheet.Stage.EXPOSED:
        raise Refused(
            f"{printed.sheet} has been developed since.",
            f"See {printed.sheet}",
            "logbook:sheet",
            printed.sheet.code,
        )
    printed.sheet.delete()
