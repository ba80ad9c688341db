"""What is done in the dark, and taken back when it was a slip of the finger."""

from chimney.darkroom.models import Development
from chimney.ledger.once import current, verb
from chimney.logbook import flows as logbook
from chimney.logbook.flows import corrections
from chimney.logbook.models import Sheet


@verb
def develop(sheets, developer, *, parts, seconds, temperature_c=None, remarks=""):
    """Log one run over several sheets, each leaving its holder; all or none."""
    for sheet in sheets:
        logbook.move(sheet, Sheet.Stage.DEVELOPED)
        Development.objects.create(
            sheet=sheet,
            developer=developer,
            parts=parts,
            seconds=seconds,
            temperature_c=temperature_c,
            remarks=remarks,
            developed_at=corrections.leave(sheet),
        )


@verb
def take_back(development):
    """It was never developed: it waits again, where it lay before, as what its log says by now."""
    development = current(development, Development.objects.select_related("sheet"))
    sheet = development.sheet
    logbook.move(sheet, Sheet.Stage.EXPOSED)
    corrections.lay_back(sheet, development.developed_at)
    development.delete()
    # A slip may have been written down meanwhile.
    logbook.settle(sheet)
