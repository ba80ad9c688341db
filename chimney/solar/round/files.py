"""File of the round: what a phone carries of the cans, and what it gives back, looked at before it
is written down.
"""

from dataclasses import dataclass
from datetime import UTC, datetime

from chimney.parts import clock, plain_json
from chimney.solar.models import Event, Solargraph

# More than anybody sees in a round; words as long as the log holds.
MOST_SEEN, MOST_LETTERS_SEEN = 200, 200
# Offered on the phone: what is seen at a can; the rest is written down at home.
SEEN_KINDS = (Event.Kind.CHECK, Event.Kind.WET, Event.Kind.MISSING, Event.Kind.OTHER)
NOT_A_ROUND = "That is not what a round gives back: copy its whole text once more."


@dataclass(frozen=True)
class Sighting:
    """One can as it was seen: can, kind, note, moment; refusal: why it is left out, or ""."""

    can: Solargraph | None
    name: str
    kind: str
    note: str
    moment: datetime
    refusal: str


def packed(cans):
    """Cans as the phone's file holds them, place by place, as JSON can say it."""
    return {
        "cans": [_packed(can) for can in cans],
        "kinds": [[kind.value, str(kind.label)] for kind in SEEN_KINDS],
    }


def _packed(can):
    latitude, longitude = can.where
    stood = can.stands[-1][1]
    return {
        "pk": can.pk,
        "name": str(can),
        "place": str(can.place),
        "spot": can.spot or "no spot written down",
        "at": f"{latitude:.5f},{longitude:.5f}",
        "stands": f"faces {stood.azimuth_deg:.0f}°, leans {stood.tilt_deg:.3g}°",
        "due": f"due {can.last_day:%-d %B %Y}",
        "look": f"look every {can.check_days} days",
    }


def unpack(text):
    """[Sighting] in what a phone gave back. Raises ValueError, in words, for anything else."""
    try:
        sent = plain_json.loads(text)
        rows = sent["seen"] if sent["chimney"] == "round" else None
        if not isinstance(rows, list) or len(rows) > MOST_SEEN:
            raise ValueError("no list of what was seen")
        cans = Solargraph.objects.select_related("place", "sheet").defer("photo")
        by_pk = cans.in_bulk({row["can"] for row in rows if type(row["can"]) is int})
        return [_sighting(row, by_pk) for row in rows]
    except (ValueError, KeyError, TypeError, OverflowError, OSError) as error:
        raise ValueError(NOT_A_ROUND) from error


def _sighting(row, by_pk):
    """The Sighting of one row. Raises ValueError, KeyError or TypeError for what is none."""
    can, kind, note = by_pk.get(row["can"]), Event.Kind(row["kind"]), row["words"]
    if not isinstance(note, str) or not isinstance(row["name"], str):
        raise TypeError("words are text")
    moment = datetime.fromtimestamp(float(row["at_ms"]) / 1000, UTC).replace(microsecond=0)
    name = row["name"][:60]
    return Sighting(
        can, name, kind, note[:MOST_LETTERS_SEEN], moment, _refusal(can, name, kind, moment)
    )


def _refusal(can, name, kind, moment):
    if can is None or str(can) != name:
        return "this house knows no such can"
    if can.opened_at is None or moment < can.opened_at:
        return "it did not hang yet"
    if moment > clock.now():
        return "that is still to come: the phone's clock is ahead"
    if can.events.filter(kind=kind, at=moment).exists():
        return "written down already"
    return ""
