"""Exposures that came home in a pocket sheet, written down at their own moments, each once."""

from contextlib import suppress

from chimney.field.craft import arrangement_of, planned_sheets, specification_of, variants
from chimney.field.models import Pocketed, Shot
from chimney.field.outing import flows as outings
from chimney.field.plan import flows as plans
from chimney.field.pocket import craft
from chimney.ledger.once import current, verb
from chimney.lessons.proposing import queries as lessons
from chimney.logbook import flows as logbook
from chimney.logbook.flows import corrections, while_open
from chimney.parts import clock
from chimney.parts.refusal import Refused
from pinhole import exposure


def take_in(outing, coming, both=()):
    """Write down what came back, each at its own moments; what is known or in the way is left. Says
    what was done. both: the events of which somebody says that they are on a sheet that was exposed
    before, too.

    Each in a transaction of its own, so that a long file keeps no other device from writing.
    """
    taken_in, noted = 0, 0
    for event in coming:
        doubled = event.may_be_double and event.id in both and not event.known
        if event.ok or doubled:
            with suppress(Refused):
                taken_in += _take_one(event, again=doubled)
        elif event.known:
            noted += _note_again(event)
    left = len(coming) - taken_in
    sentence = (
        f"{taken_in or 'No'} {'exposure is' if taken_in == 1 else 'exposures are'} written down"
    )
    sentence += f", {noted} {'note was' if noted == 1 else 'notes were'} changed" if noted else ""
    return (
        f"{sentence}; {left} {'was' if left == 1 else 'were'} known or in the way."
        if left
        else f"{sentence}."
    )


@verb
def _note_again(event):
    """True if a note that was changed in the pocket after it came home is changed here too."""
    pocketed = Pocketed.objects.select_related("exposure").filter(event=event.id).first()
    if not (pocketed and pocketed.exposure and event.note) or pocketed.exposure.note == event.note:
        return False
    corrections.note(pocketed.exposure, event.note)
    return True


@verb
def _take_one(event, *, again):
    """True if it was written down now, and not before."""
    if Pocketed.objects.filter(event=event.id).exists():
        return False
    Pocketed.objects.create(event=event.id, exposure=_expose(event, again), came_at=clock.now())
    return True


def _expose(event, again):
    relations = ("camera", "paper", "developer", "outing__place")
    shots = Shot.objects.select_related(*relations).prefetch_related("taken__exposure")
    shot = _added(current(event.shot, shots), event)
    made_by = event.made_by or _made_by(shot)
    spec = made_by.specification(shot, event.reading)
    calculation = exposure.calculate(event.reading, spec)
    sheets = planned_sheets(calculation, shot.paper, shot.camera.geometry, made_by.arrangement)
    number = min(_number(shot, event) if event.step is None else event.step, len(sheets) - 1)
    sheet = sheets[number]
    fields = {
        "subject": shot.subject,
        "note": event.note,
        "ei_from": made_by.ei_from,
        "developer": shot.developer,
        "place": shot.outing and shot.outing.place,
        "azimuth_deg": shot.azimuth_deg,
    }
    with clock.at(event.opened_at):
        opened = logbook.open_hole(
            event.side.loading,
            shot.camera,
            sheet.calculation,
            planned_s=sheet.seconds,
            is_strip=bool(sheet.bands),
            again=again,
            **fields,
        )
    while_open.cover_then(opened, event.covers)
    for moment, reading in event.rereads:
        while_open.reread(opened, reading, at=moment)
    with clock.at(event.closed_at):
        logbook.close_hole(opened)
        if event.turned:
            corrections.slide_back(opened)
        if event.slide_in:
            corrections.log_slip(opened, "slide_in")
    plans.take(shot, opened, sheet, number)
    return opened


def _added(shot, event):
    """The shot itself, or the one that was added on the spot like it: made by its first sheet."""
    if not event.added:
        return shot
    before = Shot.objects.filter(outing=shot.outing, reading__added=event.added).first()
    if before:
        return before
    fresh = outings.again(shot)
    fresh.subject = event.added_subject or shot.subject
    fresh.reading = {**shot.reading, "added": event.added}
    fresh.starts_at = event.opened_at
    fresh.save(update_fields=["subject", "reading", "starts_at"])
    return fresh


def _made_by(shot):
    """Values that a sheet would be made by today, for one that does not say."""
    proposal, specification = specification_of(shot, lessons.ratings())
    return craft.MadeBy(proposal.ei_from, specification, arrangement_of(shot), {})


def _number(shot, event):
    """Number of the sheet in its shot: a bracket's by its stops, else the first one still to do."""
    steps_made = shot.steps_made
    if shot.sheets == Shot.Sheets.BRACKET:
        sheets = variants(arrangement_of(shot), None, shot.paper)
        offsets = [sheet.clock_stops or sheet.stops for sheet in sheets]
        return min(range(len(offsets)), key=lambda n: abs(offsets[n] - event.stops))
    return next((n for n in range(shot.wanted) if n not in steps_made), 0)
