"""File that a pocket sheet gives back, looked at before it is taken in, and taken in once."""

import uuid
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from django.core import signing

from chimney.field.models import Pocketed, Shot
from chimney.field.outing.queries import shots_of
from chimney.field.pocket import craft
from chimney.field.pocket.catalogue import said
from chimney.logbook import queries
from chimney.logbook.models import Sheet
from chimney.parts import clock, plain_json
from chimney.parts.scales import number
from pinhole import exposure

# More than anybody does in a day out; a longer file is no work of a hand.
MOST_EVENTS, MOST_COVERS, MOST_REREADS, MOST_POCKET_STEPS = 200, 60, 20, 3
# Phones' clocks go wrong by less than this; an exposure from the future is refused.
AHEAD = timedelta(minutes=10)


class NotOursError(ValueError):
    """The text is no pocket sheet of this outing; the message says what it is."""


@dataclass(frozen=True)
class PocketEvent:
    """One exposure that came back: shot, side, moments, the reading it was timed by, and what
    stands in the way.

    step: which sheet of its shot, None if the file does not say; stops: how many its time was off
    the middle's; made_by: what the sheet in the pocket was made by, as pocket.craft.unsealed gives
    it; added: the identity of a shot that was added on the spot like this one, and its subject.
    """

    id: str
    shot: Shot | None
    side: object
    code: str
    reading: exposure.Reading
    stops: float
    step: int | None
    made_by: craft.MadeBy | None
    rereads: tuple
    opened_at: datetime
    closed_at: datetime
    covers: tuple
    note: str
    turned: bool
    slide_in: bool
    added: str
    added_subject: str
    refusal: str
    known: bool
    # Whether the sheet was exposed here too, which may be a second exposure of it.
    may_be_double: bool = False

    @property
    def seconds(self):
        """Time that the hole was free, without what was covered."""
        covered = sum((end - start).total_seconds() for start, end in self.covers)
        return (self.closed_at - self.opened_at).total_seconds() - covered

    @property
    def ok(self):
        return not (self.refusal or self.known)


def unpack(outing, text):
    """The PocketEvents in what a pocket sheet gave back. Raises NotOursError for anything that is
    not this outing's.
    """
    try:
        back = plain_json.loads(text)
    except ValueError as error:
        raise NotOursError(
            "That is no pocket sheet's file: it is not JSON. Give it back from the sheet once more."
        ) from error
    if not isinstance(back, dict) or back.get("chimney") != "pocket":
        raise NotOursError("That is JSON, but not what a pocket sheet gives back.")
    try:
        token = signing.loads(str(back.get("token")), salt=craft.SALT)
    except signing.BadSignature as error:
        raise NotOursError(
            "Its seal is not this installation's: it comes from another one, or was "
            "changed by hand."
        ) from error
    if token.get("outing") != outing.pk:
        raise NotOursError("It belongs to another outing: open that one and read it in there.")
    events = back.get("events")
    if not isinstance(events, list) or len(events) > MOST_EVENTS:
        raise NotOursError(f"It holds no list of at most {MOST_EVENTS} exposures.")
    shots = {shot.pk: shot for shot in shots_of(outing)}
    sides = {side.key: side for side in queries.sides()}
    event_ids = set(
        Pocketed.objects.filter(
            event__in=[str(e.get("id")) for e in events if isinstance(e, dict)]
        ).values_list("event", flat=True)
    )
    return [
        _event(number, event, token, shots, sides, event_ids)
        for number, event in enumerate(events, 1)
    ]


def _event(number_of, event_data, token, shots, sides, event_ids):
    if not isinstance(event_data, dict):
        raise NotOursError(f"Exposure {number_of} is not written as a pocket sheet writes it.")
    try:
        fields = _told(event_data)
    except (KeyError, TypeError, ValueError, OverflowError, OSError) as error:
        raise NotOursError(
            f"Exposure {number_of} was changed by hand or cut off: {error}."
        ) from error
    shot = shots.get(event_data["shot"]) if isinstance(event_data.get("shot"), int) else None
    side, code = sides.get(str(event_data.get("side"))), str(event_data.get("code"))[:20]
    return PocketEvent(
        shot=shot,
        side=side,
        code=code,
        note=str(event_data.get("note") or "")[:300],
        turned=bool(event_data.get("turned")),
        slide_in=bool(event_data.get("slip")),
        refusal=_in_the_way(shot, side, code, **fields),
        may_be_double=_may_be_double(shot, side, code, **fields),
        known=fields["id"] in event_ids,
        made_by=craft.unsealed(token, shot) if shot else None,
        **fields,
    )


def _told(event_data):
    """Events that the phone tells; raises for anything that a pocket sheet cannot have written."""
    stops = float(event_data.get("stops") or 0)
    if not -6 <= stops <= 6:
        raise ValueError("its stops are out of range")
    covers, rereads = event_data.get("covers") or [], event_data.get("rereads") or []
    if len(covers) > MOST_COVERS or len(rereads) > MOST_REREADS:
        raise ValueError(
            f"at most {MOST_COVERS} covers and {MOST_REREADS} second readings are taken in"
        )
    return {
        "id": str(uuid.UUID(str(event_data["id"]))),
        "opened_at": _moment(event_data["opened"]),
        "closed_at": _moment(event_data["closed"]),
        "covers": tuple((_moment(a), _moment(b)) for a, b in covers),
        "rereads": tuple((_moment(again["at"]), _reading(again)) for again in rereads),
        "reading": _reading(event_data),
        "stops": stops,
        "step": _step(event_data.get("step")),
        "added": str(uuid.UUID(str(event_data["added"]))) if event_data.get("added") else "",
        "added_subject": str(event_data.get("subject") or "").replace("\0", "")[:120],
    }


def _step(step):
    if step is not None and (
        isinstance(step, bool) or not isinstance(step, int) or not 0 <= step < MOST_POCKET_STEPS
    ):
        raise ValueError("it is no sheet of its shot")
    return step


def _in_the_way(shot, side, code, *, opened_at, closed_at, covers, rereads, **told):
    """Reason why an exposure cannot be written down, or nothing."""
    if shot is None:
        return "its shot is no longer on this outing"
    if side is None:
        return "its side is not in the bag"
    if wrong := _clock_in_the_way(opened_at, closed_at, covers, rereads):
        return wrong
    if side.loading is None or side.loading.sheet.code != code:
        return f"{side.words} does not hold {code} any more"
    if side.loading.sheet.stage != Sheet.Stage.LOADED:
        return f"{side.loading.sheet} is {side.loading.sheet.get_stage_display()} already"
    return ""


def _clock_in_the_way(opened_at, closed_at, covers, rereads, **told):
    """Fault in its moments, or nothing."""
    edges = [opened_at, *(moment for pair in covers for moment in pair), closed_at]
    if edges != sorted(edges) or any(not opened_at <= at <= closed_at for at, _ in rereads):
        return "its moments are out of order: the phone's clock jumped"
    if closed_at > clock.now() + AHEAD:
        return "it lies in the future: the phone's clock is wrong"
    return ""


def _may_be_double(shot, side, code, **told):
    """True if nothing is in the way but that its sheet was exposed already."""
    lies = side and side.loading
    if not (shot and lies and lies.sheet.code == code):
        return False
    is_exposed = lies.sheet.stage == Sheet.Stage.EXPOSED
    return is_exposed and not _clock_in_the_way(**told)


def _moment(milliseconds):
    if isinstance(milliseconds, bool) or not isinstance(milliseconds, int | float):
        raise ValueError("a moment is no number")
    return datetime.fromtimestamp(milliseconds / 1000, UTC)


def _reading(event_data):
    """The reading as the sheet knows it: an EV, or seconds at the meter that it was made for."""
    kind, value = event_data["kind"], float(event_data["value"])
    if kind == "ev":
        if not -10 <= value <= 24:
            raise ValueError("its EV is out of range")
        return exposure.read_ev(value, 100, f"EV {number(value, 3)}")
    f_number, iso = float(event_data["meter_f"]), float(event_data["meter_iso"])
    if kind != "seconds" or not (0 < value < 1e5 and 0.5 < f_number < 1000 and 0 < iso < 1e6):
        raise ValueError("its reading is out of range")
    return exposure.Reading(
        "seconds",
        f"{said(value)} at f/{number(f_number)}, ISO {number(iso)}",
        value,
        f_number,
        iso,
    )
