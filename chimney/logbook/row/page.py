"""A row of cameras as it stands: those to load with whom they may be for, those to unload."""

from dataclasses import dataclass, field
from itertools import chain, repeat

from chimney.kit import queries as kit
from chimney.logbook import queries
from chimney.logbook.row.forms import LineForm, RowPaperForm

EMPTY, EXPOSED = "empty", "exposed"


@dataclass
class RowPage:
    """lines: a LineForm for each empty camera; paper: the RowPaperForm; full: sides that are
    exposed; busy: other sides, with what is in them; period: whose turn it is.
    """

    lines: list
    paper: RowPaperForm
    full: list = field(default_factory=list)
    busy: list = field(default_factory=list)
    period: str = ""
    periods: list = field(default_factory=list)

    @property
    def chosen(self):
        """[(side, person or None)] of the valid lines that take part."""
        return [
            (line.side, line.cleaned_data["person"])
            for line in self.lines
            if line.cleaned_data["takes_part"]
        ]

    def is_valid(self):
        """True if the paper and every line are right."""
        return all([self.paper.is_valid(), *(line.is_valid() for line in self.lines)])


def read(data=None, period=""):
    """The RowPage; data: what came in, None to show it with the people of the period in turn."""
    sides = [side for side in queries.sides() if side.holder.camera_id]
    everybody = kit.people()
    people = [person for person in everybody if period and person.period == period]
    turn = chain(people, repeat(None))
    lines = []
    for side in sides:
        if side.state != EMPTY:
            continue
        person = next(turn)
        initial = {"takes_part": person is not None or not people, "person": person}
        lines.append(LineForm(data, side=side, initial=initial, people=everybody))
    newest = queries.timed_sheets().values_list("paper", flat=True).first()
    return RowPage(
        lines,
        RowPaperForm(data, initial={"paper": newest}),
        full=[side for side in sides if side.state == EXPOSED],
        busy=[side for side in sides if side.state not in (EMPTY, EXPOSED)],
        period=period,
        periods=sorted({person.period for person in everybody if person.period}),
    )
