"""A day out laid along its light: when each shot opens and closes, how the sun stands, what is missing in the bag."""

from collections import Counter
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import isfinite, isinf

from chimney.field import words
from chimney.field.models import Outing, Shot
from chimney.lessons import flows as lessons
from chimney.logbook import queries
from chimney.parts.scales import size_of_stops
from chimney.places import flows as places
from pinhole import durations, dusk, light, outing, reciprocity

# The day is shown from before the first light to after the last, or whole where there is neither.
MARGIN_S = 45 * 60
SHADE_STOPS = next(height.stops_less for height in light.HEIGHTS if height.name == "shade")


@dataclass(frozen=True)
class Slot:
    """A shot in the day: its moments on the place's clock, its sheets' lengths, what the sun does, what is wrong."""

    shot: Shot
    laid: outing.Laid
    begins: datetime
    opens: datetime
    ends: datetime
    seconds: tuple
    sun: str
    stance: object
    risk: str
    wrong: str

    @property
    def lengths(self):
        """How long each sheet takes, in words."""
        return ", ".join(durations.say(durations.countable_s(max(1.0, seconds))) for seconds in self.seconds)


@dataclass(frozen=True)
class Day:
    """outing; sun: SunDay; seen: Daylight of the stretch that is drawn; slots in the order of the day; needs: rows
    (paper, size, wanted, loaded); dark: when light ends.
    """

    outing: Outing
    sun: places.SunDay
    seen: places.Daylight
    slots: tuple
    needs: tuple
    dark: datetime | None

    @property
    def wrong(self):
        return sum(bool(slot.wrong) for slot in self.slots)

    @property
    def missing(self):
        return [(paper, size, wanted - loaded) for paper, size, wanted, loaded in self.needs if wanted > loaded]

    @property
    def finding(self):
        if not self.slots:
            return f"{self.outing}: no shot yet"
        if self.wrong:
            return f"{self.wrong} of {len(self.slots)} shots do not fit into the light"
        plural = "shots fit" if len(self.slots) > 1 else "shot fits"
        return f"{len(self.slots)} {plural}; the last closes at {max(slot.ends for slot in self.slots):%H:%M}"


def shots_of(found):
    shots = found.shots.select_related("camera", "paper", "view").prefetch_related("taken__exposure")
    return list(shots.order_by("starts_at", "pk"))


def light_of(found):
    """(SunDay, Daylight) of an Outing: the stretch of light that its day is drawn on."""
    sun_day = places.sun_day(found.place, found.day)
    return sun_day, places.daylight(found.place, *_stretch(sun_day), found.stops_less)


def lay(found, lit=None, moved=None):
    """The Day of an Outing; lit: what light_of gave, if it is known already; moved: a Shot at an hour not kept yet."""
    sun_day, seen = lit or light_of(found)
    start, shots = seen.start, shots_of(found)
    for shot in shots:
        shot.starts_at = moved.starts_at if moved and shot.pk == moved.pk else shot.starts_at
    proposals = lessons.usual_proposals({shot.paper for shot in shots})
    # A pair of two cameras is opened side by side; it moves with the shot that it stands beside.
    mains = [shot for shot in shots if shot.beside_id is None or shot.beside_id not in {one.pk for one in shots}]
    groups = [[main, *(shot for shot in shots if shot.beside_id == main.pk)] for main in mains]
    wants = [_want(group, start, proposals) for group in groups]
    dark_s = _dark_s(seen)
    laid = outing.lay(wants, seen.times_s, seen.ev100, dark_s)
    dark = places.local(start + timedelta(seconds=dark_s), found.place) if dark_s else None
    slots = [
        _slot(shot, one, lane, start, found, seen, dark)
        for group, one in zip(groups, laid, strict=True)
        for shot, lane in zip(
            group, one.sheets if len(one.sheets) == len(group) else [one.sheets[0]] * len(group), strict=True
        )
    ]
    slots.sort(key=lambda slot: (slot.begins, slot.shot.pk))
    return Day(found, sun_day, seen, tuple(slots), tuple(_needs(shots)), dark)


def _stretch(sun_day):
    start, end = places.bounds(sun_day.place, sun_day.day)
    first = sun_day.rise - timedelta(seconds=MARGIN_S) if sun_day.rise else start
    last = sun_day.set + timedelta(seconds=2 * MARGIN_S) if sun_day.set else end
    return (first, last) if first < last else (start, end)


def _dark_s(seen):
    """When it is dark on the clock of the day's light; None where it does not get dark, or never was light."""
    risen = int(seen.altitude_deg.argmax())
    found = dusk.dark_from_s(seen.times_s[risen:], seen.altitude_deg[risen:])
    return found if isfinite(found) else None


def _want(group, start, proposals):
    main = group[0]
    begins = (main.starts_at - start).total_seconds() if main.starts_at else 3600.0
    if len({shot.camera.body_pk for shot in group}) < len(group):
        # One camera cannot stand beside itself: its sheets go one after the other.
        lanes = (tuple(sheet for shot in group for sheet in _sheets(shot, proposals)),)
    else:
        lanes = tuple(tuple(_sheets(shot, proposals)) for shot in group)
    return outing.Want(begins, main.set_up_s, lanes)


def _sheets(shot, proposals):
    """The craft's sheets of a shot, at the EI a plan would propose and by the paper's own school."""
    ei, shade = proposals[shot.paper_id].ei, SHADE_STOPS if shot.shade else 0.0
    schools = [shot.paper.schools[shot.paper.school]]
    stops = [0.0]
    if shot.sheets == Shot.Sheets.BRACKET:
        stops = [0.0, -shot.bracket_stops, shot.bracket_stops]
    elif shot.sheets == Shot.Sheets.STRIP:
        stops = [shot.bracket_stops * (shot.bands - 1) / 2]
    elif shot.sheets == Shot.Sheets.SCHOOLS:
        schools = [reciprocity.NoCorrection(), shot.paper.schools.get("table") or shot.paper.schools["power"]]
    return [outing.Sheet(shot.camera.f_number, ei, school, stop, shade) for school in schools for stop in stops]


def _slot(shot, laid, lane, start, found, seen, dark):
    def at(seconds):
        return places.local(start + timedelta(seconds=seconds), found.place)

    opens, ends = lane[0][0], lane[-1][1]
    seconds = tuple(closes - opened for opened, closes, _ in lane)
    stance, sun = None, ""
    if shot.azimuth_deg is not None:
        stance = words.sun_stance(found.place, at(opens), shot.azimuth_deg, shot.camera)
        sun = words.say_stance(stance, places.sun_at(found.place, at(opens))[1])
    wrong = _wrong(max(short for *_, short in lane), at(opens), dark)
    risk = words.risk(found.wind, max(1.0, *seconds))
    return Slot(shot, laid, at(laid.begins_s), at(opens), at(ends), seconds, sun, stance, risk, wrong)


def _wrong(short_stops, opens, dark):
    """What keeps a shot from being full, in words."""
    if not short_stops:
        return ""
    if dark is None:
        return "longer than a day in this light: a solargraph's business"
    if opens >= dark or isinf(short_stops):
        return f"it is dark from {dark:%H:%M}"
    return f"not full when it gets dark at {dark:%H:%M}: {size_of_stops(short_stops)} short"


def _needs(shots):
    """(paper, size, sheets wanted, sides loaded) of what is still to be exposed."""
    wanted = Counter()
    for shot in shots:
        if not shot.done:
            wanted[shot.paper, shot.camera.size] += max(0, shot.wanted - len(shot.steps_made))
    loaded = Counter(
        (side.loading.sheet.paper_id, side.holder.size) for side in queries.sides() if side.state == "loaded"
    )
    for (paper, size), count in wanted.items():
        if count:
            yield paper, size, count, loaded[paper.pk, size]
