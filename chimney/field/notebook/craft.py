"""The printed page of a day out: times by EV for every sheet still to be exposed."""

from dataclasses import dataclass, replace

from chimney.field.craft import arrangement_of, specification_of
from chimney.field.light.craft import colour_in, lit_of_shot
from chimney.field.models import Shot
from chimney.field.outing.queries import shots_of
from chimney.field.pocket.craft import factors_words, sheets_of
from chimney.field.wording import say_counted
from chimney.lessons.proposing import queries as lessons
from chimney.parts.scales import number
from chimney.places import craft as places
from pinhole import exposure, light

CARD_EVS = tuple(range(15, 7, -1))


@dataclass(frozen=True)
class NotebookShot:
    """A shot on the printed page: its EI, a row of times at CARD_EVS for each of its sheets, what
    the times stand on, and what a low sun would make of them.
    """

    shot: Shot
    ei: float
    rows: tuple
    factors: str
    low_sun: str


def notebook_shots(outing):
    """The NotebookShots of what is still to do on an Outing. The light's colour is not in the
    times: the sun may have gone by then.
    """
    ratings = lessons.ratings()
    return [_notebook_shot(shot, ratings) for shot in shots_of(outing) if not shot.done]


def _notebook_shot(shot, ratings):
    proposal, spec = specification_of(shot, ratings)
    readings = [exposure.read_ev(ev, 100, "") for ev in CARD_EVS]
    columns = [exposure.calculate(reading, spec) for reading in readings]
    single = arrangement_of(shot)
    if single.kind == Shot.Sheets.STRIP:
        single = replace(single, kind=Shot.Sheets.SINGLE)
    in_columns = [sheets_of(column, shot, single) for column in columns]
    rows = tuple(
        (sheets[0].words, [_say_sheet(sheet) for sheet in sheets])
        for sheets in zip(*in_columns, strict=True)
    )
    return NotebookShot(shot, proposal.ei, rows, factors_words(columns[0]), _low_sun(shot))


def _say_sheet(sheet):
    return say_counted(sheet.calculation.exact_s)


def _low_sun(shot):
    """Words for what the sun's colour at the planned hour does to the times, where it does."""
    lit = lit_of_shot(shot, sky=light.SKY_BY_NAME["sun"])
    stops, _ = colour_in(shot.paper, lit)
    if stops <= 0 or shot.reading.get("plain_light"):
        return ""
    local_time = places.local(shot.starts_at, shot.outing.place)
    return (
        f"At {local_time:%H:%M} the sun is {lit.altitude_deg:.0f} degrees up: where it shines, "
        f"× {number(2**stops)}, since this paper is blind to red."
    )
