"""A day out as the craft knows it: the light before each camera, the sheets wanted, what happened
so far, and the reading that the rest of the day stands on.
"""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from math import hypot, isfinite

import numpy as np

from chimney.field.craft import arrangement_of, specification_of, variants
from chimney.field.light.craft import NOBODY_KNOWS, lit_of_shot
from chimney.field.models import Shot
from chimney.logbook.page import Timer
from chimney.parts import clock
from chimney.places import craft as places
from pinhole import exposure, light, outing
from pinhole.lessons import CENTRAL_90
from pinhole.light import dusk

# The day is shown from before the first light to after the last, or whole where there is neither.
MARGIN_S = 45 * 60
# Of what nobody knew of the day's light, so much stays unknown after a reading (common practice).
STILL_UNSURE = 0.5
# No time is reckoned shorter.
LEAST_SHEET_S = 0.01


@dataclass(frozen=True)
class Happened:
    """One exposure made of a shot: when its hole was opened and closed, and how long it was free;
    running: closed not yet, and expected to be then.
    """

    shot: Shot
    opened: datetime
    closed: datetime
    free_s: float
    running: bool


@dataclass(frozen=True)
class Anchor:
    """The last reading of a day: when it was made and under which light.Sky, and how many stops
    brighter it found the light than that sky would have it.
    """

    at: datetime
    sky: object
    stops_more: float


def light_of(outing):
    """(SunDay, Daylight) of an Outing: the stretch of light that its day is drawn on, each moment
    under the sky that was seen or is expected then.
    """
    sun_day = places.sun_day(outing.place, outing.day)
    changes = [change.at.replace(microsecond=0) for change in outing.sky_changes]
    known = [
        moment for change_at in changes for moment in (change_at - timedelta(seconds=1), change_at)
    ]
    daylight = places.daylight(outing.place, *_stretch(sun_day), also=known)
    moments = [daylight.start + timedelta(seconds=float(s) + 0.999) for s in daylight.times_s]
    less = np.array([outing.sky_at(moment).stops_less for moment in moments])
    return sun_day, replace(daylight, stops_less=less)


def _stretch(sun_day):
    start, end = places.bounds(sun_day.place, sun_day.day)
    first = sun_day.rise - timedelta(seconds=MARGIN_S) if sun_day.rise else start
    last = sun_day.set + timedelta(seconds=2 * MARGIN_S) if sun_day.set else end
    return (first, last) if first < last else (start, end)


def dark_s(daylight):
    """Moment of darkness on the clock of the day's light; None where it does not get dark, or never
    was light.
    """
    risen = int(daylight.altitude_deg.argmax())
    ends = dusk.dark_from_s(daylight.times_s[risen:], daylight.altitude_deg[risen:])
    return ends if isfinite(ends) else None


def side_by_side(shots):
    """Groups of shots: a pair of two cameras is opened side by side, and moves with the shot that
    it stands beside.
    """
    shot_pks = {shot.pk for shot in shots}
    mains = [shot for shot in shots if shot.beside_id is None or shot.beside_id not in shot_pks]
    return [[main, *(shot for shot in shots if shot.beside_id == main.pk)] for main in mains]


def happened(shots, daylight):
    """Exposures of the shots on that day, in order. A slide that was never pulled made nothing."""
    first, last = daylight.start, daylight.start + timedelta(seconds=float(daylight.times_s[-1]))
    exposures = [
        _happened(shot, record.exposure)
        for shot in shots
        for record in shot.taken.all()
        if record.step in shot.steps_made and record.exposure.opening
    ]
    of_day = [exposure_row for exposure_row in exposures if first <= exposure_row.opened <= last]
    return sorted(of_day, key=lambda one: one.opened)


def _happened(shot, exposure):
    opening = exposure.opening
    if opening.closed_at:
        free_s = opening.open_s(opening.closed_at)
        return Happened(shot, opening.opened_at, opening.closed_at, free_s, False)
    timer, now = Timer.of(exposure, clock.now()), clock.now()
    due = timer.closes_at or opening.opened_at + timedelta(seconds=exposure.planned_s)
    free_s = max(timer.open_s, timer.total_s or exposure.planned_s)
    return Happened(shot, opening.opened_at, max(due, now), free_s, True)


def anchor(outing, shots, daylight):
    """The Anchor of the last reading made on that day, None without one: held against the sky that
    it was made under, not against one that came after.
    """
    readings = [
        (moment, ev100, shot)
        for shot in shots
        for record in shot.taken.all()
        for moment, ev100 in _readings(record.exposure)
    ]
    last_s = float(daylight.times_s[-1])
    of_day = [row for row in readings if 0 <= (row[0] - daylight.start).total_seconds() <= last_s]
    if not of_day:
        return None
    moment, ev100, shot = max(of_day, key=lambda row: row[0])
    sky = outing.sky_at(moment)
    lit = lit_of_shot(shot, sky=sky, moment=moment)
    expected = light.scene_ev100(
        lit.altitude_deg, lit.off_deg, stops_less=sky.stops_less, shade=lit.shade
    )
    return Anchor(moment, sky, float(ev100 - expected))


def _readings(exposure):
    """(moment, EV at ISO 100) of each reading of an exposure."""
    if not exposure.opening:
        return
    yield exposure.opening.opened_at, exposure.calculation.reading.ev100
    for reread in exposure.rereads.all():
        if reread.ev100 is not None:
            yield reread.at, reread.ev100


def _before(shot, daylight):
    return daylight.before(shot.azimuth_deg, shade=shot.shade)


def wanted(group, daylight, ratings, anchored, found):
    """The craft's ShotWanted of what is still to do of a group of shots; None where all is done."""
    main = group[0]
    lanes = [tuple(_sheets(shot, daylight, ratings, anchored, found)) for shot in group]
    if len({shot.camera.body_pk for shot in group}) < len(group):
        # One camera cannot stand beside itself: its sheets go one after the other.
        lanes = [tuple(sheet for lane in lanes for sheet in lane)]
    begins = (main.starts_at - daylight.start).total_seconds() if main.starts_at else 3600.0
    lanes = tuple(lane for lane in lanes if lane)
    return outing.ShotWanted(begins, main.set_up_s, lanes) if lanes else None


def lit(shot, daylight, anchored, outing):
    """The Lit of a Shot at its hour: under the sky of that hour, or as the reading that the day
    stands on has it.
    """
    moment = shot.starts_at
    if moment is None:
        return NOBODY_KNOWS
    sky = outing.sky_at(moment)
    if anchored is None:
        return lit_of_shot(shot, sky=sky)
    seconds = (moment - daylight.start).total_seconds()
    ev100 = float(np.interp(seconds, daylight.times_s, _before(shot, daylight)))
    return lit_of_shot(shot, ev100=ev100 + anchored.stops_more)


def light_sd_stops(sky, anchored):
    """Doubt of the light of a moment under a light.Sky [stops]. A reading made under another sky is
    carried over, with the doubt of both.
    """
    expected = hypot(sky.sd_stops, light.SUBJECT_SD_STOPS)
    if anchored is None:
        return expected
    if anchored.sky != sky:
        return hypot(exposure.METER_SD_STOPS, anchored.sky.sd_stops, sky.sd_stops)
    return hypot(exposure.METER_SD_STOPS, STILL_UNSURE * expected)


def range_s(shot, seconds, sd_stops, spec):
    """(least, most) seconds in 90 % of cases of a shot's sheet that was reckoned to take so long:
    all doubts of its Specification, and how far the light may be from what it was taken for.
    """
    sd = hypot(spec.sd_stops, sd_stops)
    metered_s = spec.school.metered_s(max(seconds, LEAST_SHEET_S))
    return tuple(
        spec.school.adjusted_s(metered_s * 2.0 ** (sign * CENTRAL_90 * sd)) for sign in (-1, 1)
    )


def to_do(shot):
    """Numbers of the sheets of a shot that are not exposed yet."""
    return [] if shot.done else sorted(set(range(shot.wanted)) - shot.steps_made)


def _sheets(shot, daylight, ratings, anchored, found):
    """The craft's SheetsWanted still to do of a shot, in the order in which they are exposed."""
    _, spec = specification_of(shot, ratings, lit(shot, daylight, anchored, found))
    ev100 = _before(shot, daylight) + (anchored.stops_more if anchored else 0.0)
    of_shot = variants(arrangement_of(shot), spec.school, shot.paper)
    for step in to_do(shot):
        variant = of_shot[min(step, len(of_shot) - 1)]
        stops = spec.trial_stops + variant.stops
        yield outing.SheetWanted(
            replace(
                spec,
                school=variant.school or spec.school,
                trial_stops=stops,
            ),
            ev100,
            variant.clock_stops,
        )


def schedule(wants, daylight, free_s):
    """The craft's Placements of ShotsWanted in the light of a day."""
    return outing.schedule(wants, daylight.times_s, dark_s(daylight), free_s=free_s)
