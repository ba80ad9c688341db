"""The page of a day out: what happened at its real length, and the rest laid out after it."""

from collections import Counter
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import isfinite, isinf

from chimney.field import wording
from chimney.field.craft import specification_of
from chimney.field.models import Outing, Shot
from chimney.field.outing import craft
from chimney.field.outing import wording as day_wording
from chimney.field.outing.queries import shots_of
from chimney.lessons.proposing import queries as lessons
from chimney.logbook import queries
from chimney.parts import clock
from chimney.parts.calculation import between
from chimney.parts.scales import size_of_stops
from chimney.places import craft as places
from pinhole import durations, light

# No length is told shorter [s].
LEAST_SLOT_S = 0.01


@dataclass(frozen=True)
class ScheduledShot:
    """A shot in the day: its moments on the place's clock, its sheets' lengths, what the sun does,
    what is wrong. made: whether this is what happened; waits_s: how much later it begins than
    wished; latest: the last opening that still fills it.
    """

    shot: Shot
    begins: datetime
    opens: datetime
    ends: datetime
    seconds: tuple
    made: bool
    running: bool = False
    waits_s: float = 0.0
    latest: datetime | None = None
    sun: str = ""
    risk: str = ""
    wrong: str = ""
    range_s: tuple = ()

    @property
    def is_dark(self):
        """True if no light is left when it would be opened."""
        return not self.made and max(self.seconds) <= LEAST_SLOT_S

    @property
    def range_words(self):
        """From where to where the first sheet's time may come out, in 90 % of cases."""
        if not self.range_s or not isfinite(self.range_s[1]) or self.is_dark:
            return ""
        low_s, high_s = (durations.countable_s(max(LEAST_SLOT_S, s)) for s in self.range_s)
        subject_words = "the first " if len(self.seconds) > 1 else ""
        return f"{subject_words}{between(low_s, high_s)}" if low_s != high_s else ""

    @property
    def lengths(self):
        """Times of its sheets, in words."""
        if self.is_dark:
            return "no light left"
        return ", ".join(
            durations.say(s if self.made else durations.countable_s(max(LEAST_SLOT_S, s)))
            for s in self.seconds
        )


@dataclass(frozen=True)
class ScheduledDay:
    """outing; sun: SunDay; daylight: of the stretch that is drawn; slots in the order of the day;
    elsewhere: shots that were made on another day; needs: rows (paper, size, wanted, loaded); dark:
    when light ends; anchor: the reading that the rest stands on; over: whether the day is past.
    """

    outing: Outing
    sun: places.SunDay
    daylight: places.Daylight
    slots: tuple
    elsewhere: tuple
    needs: tuple
    dark: datetime | None
    anchor: craft.Anchor | None
    now: datetime | None
    over: bool

    @property
    def to_come(self):
        return [slot for slot in self.slots if not slot.made]

    @property
    def made(self):
        return [slot for slot in self.slots if slot.made]

    @property
    def missing(self):
        return [
            (paper, size, count - loaded)
            for paper, size, count, loaded in self.needs
            if count > loaded
        ]

    @property
    def light_words(self):
        return day_wording.light(self.sky, self.anchor, self.outing.place)

    @property
    def sky(self):
        """The light.Sky of now on the day itself, else the one that it begins with."""
        return self.outing.sky_at(self.now or self.daylight.start)

    @property
    def skies(self):
        """[(name, words, whether it is the one of now)] to say that the sky has changed; none on
        another day.
        """
        return [(sky.name, sky.words, sky == self.sky) for sky in light.SKIES if self.now]

    @property
    def finding(self):
        made_count, left = len({slot.shot.pk for slot in self.made}), len(self.to_come)
        wrong = sum(bool(slot.wrong) for slot in self.to_come)
        if not self.slots:
            return f"{self.outing}: no shot yet"
        if self.over:
            return f"{made_count} of {made_count + left} shots were made"
        if wrong:
            to_come = "to come " if made_count else ""
            return f"{wrong} of {left} shots {to_come}do not fit into the light"
        if not left:
            return "All shots are made" if made_count > 1 else "The shot is made"
        fit = f"{left} {'shots' if left > 1 else 'shot'}"
        ends = f"the last closes at {max(slot.ends for slot in self.to_come):%H:%M}"
        if made_count:
            return f"{made_count} made, {fit} to come; {ends}"
        return f"{fit} {'fit' if left > 1 else 'fits'}; {ends}"


def schedule(outing, lit=None, moved=None):
    """The ScheduledDay of an Outing; lit: what light_of gave, if it is known already; moved: a Shot
    at an hour not kept yet.
    """
    sun_day, daylight = lit or craft.light_of(outing)
    shots = _shots(outing, moved)
    times = _Times(outing, daylight)
    slots_made = craft.happened(shots, daylight)
    anchored = craft.anchor(outing, shots, daylight)
    slots = [*_made(slots_made, times), *_to_come(shots, times, slots_made, anchored)]
    slots.sort(key=lambda slot: (slot.begins, slot.shot.pk))
    shown_pks = {slot.shot.pk for slot in slots}
    return ScheduledDay(
        outing=outing,
        sun=sun_day,
        daylight=daylight,
        slots=tuple(slots),
        elsewhere=tuple(shot for shot in shots if shot.pk not in shown_pks),
        needs=tuple(_needs(shots)),
        dark=times.dark,
        anchor=anchored,
        now=times.now,
        over=times.over,
    )


def _shots(outing, moved):
    shots = shots_of(outing)
    for shot in shots:
        shot.starts_at = moved.starts_at if moved and shot.pk == moved.pk else shot.starts_at
    return shots


class _Times:
    """Seconds of the day's light as moments on the clock of its place, and where now is."""

    def __init__(self, outing, daylight):
        self.outing, self.daylight = outing, daylight
        dark_s = craft.dark_s(daylight)
        self.dark = self.at(dark_s) if dark_s else None
        today = places.today(outing.place)
        self.over = outing.day < today
        self.now = places.local(clock.now(), outing.place) if outing.day == today else None

    def at(self, seconds):
        return places.local(self.daylight.start + timedelta(seconds=seconds), self.outing.place)

    def seconds(self, moment):
        return (moment - self.daylight.start).total_seconds()

    def local(self, moment):
        return places.local(moment, self.outing.place)

    def sky_at(self, seconds):
        return self.outing.sky_at(self.at(seconds))

    def free_s(self, exposures):
        """From when on something can begin: not in the past, and not while a hole is open."""
        if self.now is None:
            return float("-inf")
        running = [self.seconds(slot.closed) for slot in exposures if slot.running]
        return max([self.seconds(self.now), *running])


def _made(exposures, times):
    """A ScheduledShot for what happened of each shot."""
    for pk in dict.fromkeys(slot.shot.pk for slot in exposures):
        of_shot = [slot for slot in exposures if slot.shot.pk == pk]
        opens = times.local(of_shot[0].opened)
        yield ScheduledShot(
            shot=of_shot[0].shot,
            begins=opens,
            opens=opens,
            ends=times.local(max(slot.closed for slot in of_shot)),
            seconds=tuple(slot.free_s for slot in of_shot),
            made=True,
            running=any(slot.running for slot in of_shot),
        )


def _to_come(shots, times, exposures, anchored):
    """A ScheduledShot for what is still to do of each shot, from now on."""
    ratings = lessons.ratings()
    to_make = [
        (group, craft.wanted(group, times.daylight, ratings, anchored, times.outing))
        for group in craft.side_by_side(shots)
    ]
    to_make = [(group, want) for group, want in to_make if want]
    placements = craft.schedule(
        [want for _, want in to_make], times.daylight, times.free_s(exposures)
    )
    for (group, _), placement in zip(to_make, placements, strict=True):
        left = [shot for shot in group if craft.to_do(shot)]
        shared = [placement.sheets[0]] * len(left)
        lanes = placement.sheets if len(placement.sheets) == len(left) else shared
        for shot, lane in zip(left, lanes, strict=True):
            lit = craft.lit(shot, times.daylight, anchored, times.outing)
            _, spec = specification_of(shot, ratings, lit)
            light_sd = craft.light_sd_stops(times.sky_at(lane[0][0]), anchored)
            ends = craft.range_s(shot, lane[0][1] - lane[0][0], light_sd, spec)
            yield _slot(shot, placement, lane, times, ends, lit)


def _slot(shot, placement, lane, times, range_s, lit):
    opens, ends = times.at(lane[0][0]), times.at(lane[-1][1])
    seconds = tuple(closes - opened for opened, closes, _ in lane)
    place, sun = times.outing.place, ""
    if shot.azimuth_deg is not None:
        stance = wording.sun_stance(place, opens, shot.azimuth_deg, shot.camera)
        sun = wording.say_stance(stance, places.sun_at(place, opens)[1], shadows=lit.has_shadows)
    wrong = _wrong(max(short for *_, short in lane), opens, times.dark)
    latest_s = placement.latest_s
    return ScheduledShot(
        shot=shot,
        begins=times.at(placement.begins_s),
        opens=opens,
        ends=ends,
        seconds=seconds,
        made=False,
        # Waits are told in whole minutes: 18:56 would be read as an hour of the day.
        waits_s=0.0 if times.over else 60.0 * round(placement.waits_s / 60),
        latest=times.at(latest_s) if isfinite(latest_s) and latest_s > 0 else None,
        sun=sun,
        risk=wording.risk(times.outing.wind, max(1.0, *seconds), lens=shot.camera.is_lens)
        if max(seconds) > LEAST_SLOT_S
        else "",
        wrong="it was not made" if times.over else wrong,
        range_s=range_s,
    )


def _wrong(short_stops, opens, dark):
    """Words for what keeps a shot from being full."""
    if not short_stops:
        return ""
    if dark is None:
        return "longer than a day in this light: that is for a solargraph"
    if opens >= dark or isinf(short_stops):
        return f"it is dark from {dark:%H:%M}"
    return f"not full when it gets dark at {dark:%H:%M}: {size_of_stops(short_stops)} short"


def _needs(shots):
    """(paper, size, sheets wanted, sides loaded) of what is still to be exposed."""
    needs = Counter()
    for shot in shots:
        needs[shot.paper, shot.camera.size] += len(craft.to_do(shot))
    loaded = queries.loaded()
    for (paper, size), count in needs.items():
        if count:
            yield paper, size, count, loaded.get((paper.pk, size), 0)
