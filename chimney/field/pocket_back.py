"""What a pocket sheet gives back, looked at before it is taken in, and taken in once."""

import json
import uuid
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from django.core import signing

from chimney.field import flows, pocket
from chimney.field.day import shots_of
from chimney.field.models import Pocketed, Shot
from chimney.ledger.once import current, verb
from chimney.lessons import flows as lessons
from chimney.logbook import corrections, queries, shutter
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from chimney.parts.scales import number
from chimney.parts.scales import stops as say_stops
from pinhole import exposure

# More than anybody does in a day out; a longer file is no work of a hand.
MOST_EVENTS, MOST_COVERS, MOST_REREADS = 200, 60, 20
# Phones' clocks go wrong by less than this; an exposure from the future is refused.
AHEAD = timedelta(minutes=10)


class NotOursError(ValueError):
    """The text is no pocket sheet of this outing; the message says what it is."""


@dataclass(frozen=True)
class Event:
    """One exposure that came back: shot, side, moments, the reading it was timed by, and what stands in the way."""

    id: str
    shot: Shot | None
    side: object
    code: str
    reading: exposure.Reading
    stops: float
    rereads: tuple
    opened_at: datetime
    closed_at: datetime
    covers: tuple
    note: str
    turned: bool
    refusal: str
    known: bool

    @property
    def seconds(self):
        return (self.closed_at - self.opened_at).total_seconds()

    @property
    def ok(self):
        return not (self.refusal or self.known)


def unpack(found, text):
    """The Events in what a pocket sheet gave back. Raises NotOursError for anything that is not this outing's."""
    try:
        back = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise NotOursError(
            "That is no pocket sheet's file: it is not JSON. Give it back from the sheet once more."
        ) from error
    if not isinstance(back, dict) or back.get("chimney") != "pocket":
        raise NotOursError("That is JSON, but not what a pocket sheet gives back.")
    try:
        token = signing.loads(str(back.get("token")), salt=pocket.SALT)
    except signing.BadSignature as error:
        raise NotOursError(
            "Its seal is not this installation's: it comes from another one, or was changed by hand."
        ) from error
    if token.get("outing") != found.pk:
        raise NotOursError("It belongs to another outing: open that one and read it in there.")
    events = back.get("events")
    if not isinstance(events, list) or len(events) > MOST_EVENTS:
        raise NotOursError(f"It holds no list of at most {MOST_EVENTS} exposures.")
    shots = {shot.pk: shot for shot in shots_of(found)}
    sides = {side.key: side for side in queries.sides()}
    known = set(
        Pocketed.objects.filter(event__in=[str(e.get("id")) for e in events if isinstance(e, dict)]).values_list(
            "event", flat=True
        )
    )
    return [_event(number, one, shots, sides, known) for number, one in enumerate(events, 1)]


def _event(number_of, one, shots, sides, known):
    if not isinstance(one, dict):
        raise NotOursError(f"Exposure {number_of} is not written as a pocket sheet writes it.")
    try:
        told = _told(one)
    except (KeyError, TypeError, ValueError, OverflowError, OSError) as error:
        raise NotOursError(f"Exposure {number_of} was changed by hand or cut off: {error}.") from error
    shot = shots.get(one["shot"]) if isinstance(one.get("shot"), int) else None
    side, code = sides.get(str(one.get("side"))), str(one.get("code"))[:20]
    return Event(
        shot=shot,
        side=side,
        code=code,
        note=str(one.get("note") or "")[:300],
        turned=bool(one.get("turned")),
        refusal=_in_the_way(shot, side, code, **told),
        known=told["id"] in known,
        **told,
    )


def _told(one):
    """What the phone says happened; raises for anything that a pocket sheet cannot have written."""
    stops = float(one.get("stops") or 0)
    if not -6 <= stops <= 6:
        raise ValueError("its stops are out of range")
    covers, rereads = one.get("covers") or [], one.get("rereads") or []
    if len(covers) > MOST_COVERS or len(rereads) > MOST_REREADS:
        raise ValueError(f"at most {MOST_COVERS} covers and {MOST_REREADS} second readings are taken in")
    return {
        "id": str(uuid.UUID(str(one["id"]))),
        "opened_at": _moment(one["opened"]),
        "closed_at": _moment(one["closed"]),
        "covers": tuple((_moment(a), _moment(b)) for a, b in covers),
        "rereads": tuple((_moment(again["at"]), _reading(again)) for again in rereads),
        "reading": _reading(one),
        "stops": stops,
    }


def _in_the_way(shot, side, code, *, opened_at, closed_at, covers, rereads, **told):
    """Why an exposure cannot be written down, or nothing."""
    edges = [opened_at, *(moment for pair in covers for moment in pair), closed_at]
    if shot is None:
        return "its shot is no longer on this outing"
    if side is None:
        return "its side is not in the bag"
    if edges != sorted(edges) or any(not opened_at <= at <= closed_at for at, _ in rereads):
        return "its moments are out of order: the phone's clock jumped"
    if closed_at > clock.now() + AHEAD:
        return "it lies in the future: the phone's clock is wrong"
    if side.loading is None or side.loading.sheet.code != code:
        return f"{side.words} does not hold {code} any more"
    if side.loading.sheet.stage != Sheet.Stage.LOADED:
        return f"{side.loading.sheet} is {side.loading.sheet.get_stage_display()} already"
    return ""


def _moment(milliseconds):
    if isinstance(milliseconds, bool) or not isinstance(milliseconds, int | float):
        raise ValueError("a moment is no number")
    return datetime.fromtimestamp(milliseconds / 1000, UTC)


def _reading(one):
    """The reading as the sheet knows it: an EV, or seconds at the meter that it was made for."""
    kind, value = one["kind"], float(one["value"])
    if kind == "ev":
        if not -10 <= value <= 24:
            raise ValueError("its EV is out of range")
        return exposure.read_ev(value, 100, f"EV {number(value, 3)}")
    f_number, iso = float(one["meter_f"]), float(one["meter_iso"])
    if kind != "seconds" or not (0 < value < 1e5 and 0.5 < f_number < 1000 and 0 < iso < 1e6):
        raise ValueError("its reading is out of range")
    return exposure.Reading(
        "seconds", f"{pocket.said(value)} at f/{number(f_number)}, ISO {number(iso)}", value, f_number, iso
    )


def take_in(found, coming):
    """Write down what came back, each at its own moments; what is known or in the way is left. Says what was done.

    Each in a transaction of its own, so that a long file keeps no other device from writing.
    """
    taken = 0
    for event in coming:
        if event.ok:
            with suppress(Refused):
                taken += _take_one(event)
    left = len(coming) - taken
    said = f"{taken or 'No'} {'exposure is' if taken == 1 else 'exposures are'} written down"
    return f"{said}; {left} {'was' if left == 1 else 'were'} known or in the way." if left else f"{said}."


@verb
def _take_one(event):
    """Whether it was written down now, and not before."""
    if Pocketed.objects.filter(event=event.id).exists():
        return False
    Pocketed.objects.create(event=event.id, exposure=_expose(event), came_at=clock.now())
    return True


def _expose(event):
    shot = current(event.shot, Shot.objects.select_related("camera", "paper").prefetch_related("taken__exposure"))
    proposal = lessons.usual_proposal(shot.paper)
    done = exposure.work_out(
        event.reading,
        f_number=shot.camera.f_number,
        hole_sd_stops=shot.camera.hole_sd_stops,
        ei=proposal.ei,
        ei_sd_stops=proposal.sd_stops,
        compensation_stops=event.stops,
        school=shot.paper.schools[shot.paper.school],
    )
    more = {"subject": shot.subject, "note": event.note, "ei_from": proposal.ei_from}
    with clock.at(event.opened_at):
        opened = logbook.open_hole(event.side.loading, shot.camera, done, **more)
    shutter.cover_then(opened, event.covers)
    for at, reading in event.rereads:
        shutter.reread(opened, reading, at=at)
    with clock.at(event.closed_at):
        logbook.close_hole(opened)
        if event.turned:
            corrections.slide_back(opened)
    words = say_stops(event.stops) if event.stops else ""
    flows.take(shot, opened, flows.Step(words, done, done.seconds), _number(shot, event.stops))
    return opened


def _number(shot, stops):
    """Which sheet of its shot that was: a bracket's by its stops, else the first one still to do."""
    made = shot.steps_made
    if shot.sheets == Shot.Sheets.BRACKET:
        return min(range(3), key=lambda n: abs(pocket.bracket(shot)[n] - stops))
    return next((n for n in range(shot.wanted) if n not in made), 0)
