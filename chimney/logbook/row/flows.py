"""A row of cameras loaded, or unloaded, in one go."""

from chimney.ledger.once import verb
from chimney.logbook import flows


@verb
def load_row(paper, lines):
    """The Loadings of fresh sheets in (side, person or None) each; all or none."""
    return [flows.load(paper, side.holder, side.letter, person=person) for side, person in lines]


@verb
def unload_row(sides):
    """The sheets that were taken out of those sides."""
    return [flows.unload(side.loading).sheet for side in sides]
