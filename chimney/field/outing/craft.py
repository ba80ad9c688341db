"""A day out laid along its light: when each shot opens and closes, how the sun stands, what is
missing in the bag.
"""

from collections import Counter
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from math import isfinite, isinf

from chimney.field import wording
from chimney.field.craft import arrangement_of, specification_of, variants
from chimney.field.models import Outing, Shot
from chimney.field.outing.queries import shots_of
from chimney.lessons import queries as lessons
from chimney.logbook import queries
from chimney.parts.scales import size_of_stops
from chimney.places import craft as places
from pinhole import durations, light, outing
from pinhole.light import dusk

# The day is shown from before the first light to after the last, or whole where there is neither.
MARGIN_S = 45 * 60
SHADE_STOPS = next(height.stops_less for height in light.HEIGHTS if height.name == "shade")


@dataclass(frozen=True)
class ScheduledShot:
    """A shot in the day: its moments on the place's clock, its sheets' lengths, what the sun does,
    what is wrong.
    """

    shot: Shot
    placement: outing.Placement
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
        """How long each sheet takes, in wording."""
        return ", ".join(
            durations.say(durations.countable_s(max(1.0, seconds))) for seconds in self.seconds
        )


@dataclass(frozen=True)
class ScheduledDay:
    """outing; sun: SunDay; daylight: of the stretch that is drawn; slots in the order of the day;
    needs: rows (paper, size, wanted, loaded); dark: when light ends.
    """

    outing: Outing
    sun: places.SunDay
    daylight: places.Daylight
    slots: tuple
    needs: tuple
    dark: datetime | None

    @property
    def wrong(self):
        return sum(bool(slot.wrong) for slot in self.slots)

    @property
    def missing(self):
        return [
            (paper, size, wanted - loaded)
            for paper, size, wanted, loaded in self.needs
            if wanted > loaded
        ]

    @property
    def finding(self):
        if not self.slots:
            return f"{self.outing}: no shot yet"
        if self.wrong:
            return f"{self.wrong} of {len(self.slots)} shots do not fit into the light"
        plural = "shots fit" if len(self.slots) > 1 else "shot fits"
        return (
            f"{len(self.slots)} {plural}; the last closes at "
            f"{max(slot.ends for slot in self.slots):%H:%M}"
        )


def light_of(found):
    """(SunDay, Daylight) of an Outing: the stretch of light that its day is drawn on."""
    sun_day = places.sun_day(found.place, found.day)
    return sun_day, places.daylight(found.place, *_stretch(sun_day), found.stops_less)


def schedule(found, lit=None, moved=None):
    """The ScheduledDay of an Outing; lit: what light_of gave, if it is known already; moved: a Shot
    at an hour not kept yet.
    """
    sun_day, daylight = lit or light_of(found)
    start, groups = daylight.start, _side_by_side(_shots(found, moved))
    ratings = lessons.ratings()
    dark_s = _dark_s(daylight)
    wanted = [_wanted(group, start, ratings) for group in groups]
    placements = outing.schedule(wanted, daylight.times_s, daylight.ev100, dark_s)
    clock = _Clock(found, start, dark_s)
    slots = [
        _slot(shot, placement, lane, clock)
        for group, placement in zip(groups, placements, strict=True)
        for shot, lane in _lanes(group, placement)
    ]
    slots.sort(key=lambda slot: (slot.begins, slot.shot.pk))
    return ScheduledDay(
        found, sun_day, daylight, tuple(slots), tuple(_needs([s.shot for s in slots])), clock.dark
    )


def _shots(found, moved):
    shots = shots_of(found)
    for shot in shots:
        shot.starts_at = moved.starts_at if moved and shot.pk == moved.pk else shot.starts_at
    return shots


def _side_by_side(shots):
    """Groups of shots: a pair of two cameras is opened side by side, and moves with the shot that
    it stands beside.
    """
    known = {shot.pk for shot in shots}
    mains = [shot for shot in shots if shot.beside_id is None or shot.beside_id not in known]
    return [[main, *(shot for shot in shots if shot.beside_id == main.pk)] for main in mains]


def _lanes(group, placement):
    """Each shot of a group with the lane that it was placed on."""
    shared = [placement.sheets[0]] * len(group)
    return zip(
        group, placement.sheets if len(placement.sheets) == len(group) else shared, strict=True
    )


class _Clock:
    """Seconds of the day's light as moments on the clock of the outing's place."""

    def __init__(self, found, start, dark_s):
        self.outing, self.start = found, start
        self.dark = self.at(dark_s) if dark_s else None

    def at(self, seconds):
        return places.local(self.start + timedelta(seconds=seconds), self.outing.place)


def _stretch(sun_day):
    start, end = places.bounds(sun_day.place, sun_day.day)
    first = sun_day.rise - timedelta(seconds=MARGIN_S) if sun_day.rise else start
    last = sun_day.set + timedelta(seconds=2 * MARGIN_S) if sun_day.set else end
    return (first, last) if first < last else (start, end)


def _dark_s(daylight):
    """When it is dark on the clock of the day's light; None where it does not get dark, or never
    was light.
    """
    risen = int(daylight.altitude_deg.argmax())
    dark_s = dusk.dark_from_s(daylight.times_s[risen:], daylight.altitude_deg[risen:])
    return dark_s if isfinite(dark_s) else None


def _wanted(group, start, ratings):
    main = group[0]
    begins = (main.starts_at - start).total_seconds() if main.starts_at else 3600.0
    if len({shot.camera.body_pk for shot in group}) < len(group):
        # One camera cannot stand beside itself: its sheets go one after the other.
        lanes = (tuple(sheet for shot in group for sheet in _sheets(shot, ratings)),)
    else:
        lanes = tuple(tuple(_sheets(shot, ratings)) for shot in group)
    return outing.ShotWanted(begins, main.set_up_s, lanes)


def _sheets(shot, ratings):
    """The craft's SheetsWanted of a shot, in the order in which they are exposed."""
    _, asked = specification_of(shot, ratings)
    shade = SHADE_STOPS if shot.shade else 0.0
    return [
        outing.SheetWanted(
            replace(
                asked,
                school=variant.school or asked.school,
                compensation_stops=asked.compensation_stops + variant.stops,
            ),
            variant.clock_stops,
            shade,
        )
        for variant in variants(arrangement_of(shot), asked.school, shot.paper)
    ]


def _slot(shot, placement, lane, clock):
    opens, ends = clock.at(lane[0][0]), clock.at(lane[-1][1])
    seconds = tuple(closes - opened for opened, closes, _ in lane)
    place, stance, sun = clock.outing.place, None, ""
    if shot.azimuth_deg is not None:
        stance = wording.sun_stance(place, opens, shot.azimuth_deg, shot.camera)
        sun = wording.say_stance(stance, places.sun_at(place, opens)[1])
    return ScheduledShot(
        shot=shot,
        placement=placement,
        begins=clock.at(placement.begins_s),
        opens=opens,
        ends=ends,
        seconds=seconds,
        sun=sun,
        stance=stance,
        risk=wording.risk(clock.outing.wind, max(1.0, *seconds)),
        wrong=_wrong(max(short for *_, short in lane), opens, clock.dark),
    )


def _wrong(short_stops, opens, dark):
    """What keeps a shot from being full, in wording."""
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
        (side.loading.sheet.paper_id, side.holder.size)
        for side in queries.sides()
        if side.state == "loaded"
    )
    for (paper, size), count in wanted.items():
        if count:
            yield paper, size, count, loaded[paper.pk, size]
