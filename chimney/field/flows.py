"""From a reading to a time, and from a time to an open hole."""

from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from django.db import transaction

from chimney.field.models import Shot, Taken
from chimney.lessons import flows as lessons
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure
from chimney.parts import clock, readings
from chimney.parts.refusal import Refused
from chimney.parts.scales import stops as say_stops
from chimney.places import flows as places
from pinhole import brackets, durations, exposure, light, reciprocity

# A forecast reaches so many times the planned exposure, in so many steps, at most so long.
REACH, POINTS, LONGEST_FORECAST_S = 3.0, 24, 12 * 3600
# Shorter exposures than this end before the light has moved.
LEAST_FORECAST_S = 60.0


@dataclass(frozen=True)
class Step:
    """One sheet of a plan: what makes it differ, its Sum, the seconds to give, and bands if it is a test strip."""

    words: str
    done: exposure.Sum
    seconds: float
    bands: tuple = ()


@dataclass(frozen=True)
class Forecast:
    """points: (seconds after opening, metered seconds); seconds until it closes; beyond the last point or not."""

    points: tuple
    seconds: float
    beyond: bool


@dataclass(frozen=True)
class Plan:
    """A worked-out plan: its Sum, the proposal it used, what the other schools make of the same light, its sheets."""

    done: exposure.Sum
    proposal: lessons.Proposal
    schools: list
    steps: tuple
    scene: brackets.Scene | None = None
    felt: bool = False


def proposals(paper, developer):
    """The EIs offered: learned (or None) and the box's."""
    return lessons.propose(paper, developer), lessons.box(paper)


def meter_setting(meter, camera, ei):
    """(iso to set, factor) for a meter of the kit."""
    return exposure.meter_setting(ei, camera.f_number, lowest_iso=meter.lowest_iso, last_f_number=meter.last_f_number)


def rated(given, offered):
    """The Proposal that the form chose; a learned one that is not there falls back to the box."""
    learned, box = offered
    if given["ei_from"] == Exposure.EiFrom.TYPED and given.get("ei"):
        why = "Typed for this sheet."
        return lessons.Proposal(given["ei"], exposure.EI_SD_STOPS, Exposure.EiFrom.TYPED, why)
    return learned if learned and given["ei_from"] == Exposure.EiFrom.LEARNED else box


def work_out(given, offered):
    """The Plan of a cleaned form. Raises ValueError where its sheets cannot be told apart."""
    camera, paper = given["camera"], given["paper"]
    proposal, scene = rated(given, offered), _scene(given, paper)
    done = exposure.work_out(
        readings.read(given),
        f_number=camera.f_number,
        hole_sd_stops=camera.hole_sd_stops,
        ei=proposal.ei,
        ei_sd_stops=proposal.sd_stops,
        filter_stops=given.get("filter_stops") or 0.0,
        compensation_stops=(given.get("compensation_stops") or 0.0) + (scene.rate_stops if scene else 0.0),
        school=paper.schools[given["school"]],
    )
    felt = bool(given["kind"] == "sky" and given.get("felt_s"))
    if felt:
        # A feeling overrules the sum, and is kept as what it is: stops given on purpose.
        done = exposure.varied(done, stops=exposure.effect_stops(done, given["felt_s"]))
    beside = exposure.schools_beside(done, paper.schools.values())
    return Plan(done, proposal, beside, tuple(_steps(given, done, camera)), scene, felt)


def _scene(given, paper):
    """What darkest and brightest say of the scene, against the paper; None with fewer than two readings."""
    ends = [readings.read_one(given, given[end]) for end in ("darkest", "brightest") if given.get(end)]
    if len(ends) < 2:
        return None
    evs = [-np.log2(reading.seconds) for reading in ends]
    return brackets.scene(evs, paper.range_stops, given.get("hold") or "middle")


def _steps(given, done, camera):
    sheets = given.get("sheets", Shot.Sheets.SINGLE)
    if sheets == Shot.Sheets.BRACKET:
        apart, by = given["bracket_stops"], given.get("bracket_by")
        shots = brackets.by_clock if by == Shot.By.CLOCK else brackets.by_effect
        for shot, stop in zip(shots(done, (0, -apart, apart)), (0, -apart, apart), strict=True):
            words = f"{say_stops(stop)} {'on the clock' if by == Shot.By.CLOCK else 'of effect'}" if stop else "middle"
            yield Step(words, exposure.varied(done, stops=shot.effect_stops), shot.seconds)
    elif sheets == Shot.Sheets.SCHOOLS:
        schools = (reciprocity.NoCorrection(), _correcting(done, given["paper"]))
        for school, shot in zip(schools, brackets.by_school(done, schools), strict=True):
            words = "as if no reciprocity" if school.name == "none" else "with reciprocity"
            yield Step(words, exposure.varied(done, school=school), shot.seconds)
    elif sheets == Shot.Sheets.STRIP:
        bands = brackets.test_strip(done, camera.geometry, bands=given["bands"], step_stops=given["bracket_stops"])
        last = exposure.varied(done, stops=bands[-1].effect_stops)
        yield Step(f"test strip of {len(bands)} bands", last, bands[-1].pull_s, bands)
    else:
        yield Step("", done, done.seconds)


def _correcting(done, paper):
    """The school that corrects: the chosen one if it does, else the paper's table or power law."""
    if done.school.name != "none":
        return done.school
    return paper.schools.get("table") or paper.schools["power"]


def forecast(place, done, seconds, start):
    """The Forecast of an exposure opened at start, by the sun alone: the reading is taken as true at that moment."""
    if place is None or seconds < LEAST_FORECAST_S:
        return None
    reach = min(LONGEST_FORECAST_S, max(REACH * seconds, 1800.0))
    seen = places.daylight(place, start, start + timedelta(seconds=reach))
    keep = np.unique(np.linspace(0, len(seen.times_s) - 1, POINTS).astype(int))
    metered = done.metered_s * 2.0 ** (seen.ev100[0] - seen.ev100[keep])
    course = light.course(seen.times_s[keep], metered, done.school).scaled(done.exact_s / seconds)
    closes = course.reach_s(0.0, 1.0)
    if abs(closes - seconds) < max(1.0, 0.02 * seconds):
        return None
    points = tuple(zip(map(float, seen.times_s[keep]), map(float, metered), strict=True))
    return Forecast(points, closes, closes > seen.times_s[-1])


@transaction.atomic
def open_shot(given, plan, side, shot=None, place=None, typed=None):
    """Load a fresh sheet if the side is empty, and open the hole on the next sheet of the plan; all or nothing.

    typed: what stood in the form, which the shot's other sheets and its pair begin with.
    """
    loading = side.loading
    if loading is None:
        loading = logbook.load(given["paper"], side.holder, side.letter)
    elif loading.sheet.stage == "loaded" and loading.sheet.paper_id != given["paper"].pk:
        raise Refused(
            f"{side.words.capitalize()} holds {loading.sheet}, {loading.sheet.paper}: the sum is for {given['paper']}.",
            "See the bag",
            "logbook:bag",
        )
    typed = {name: value for name, value in (typed or {}).items() if name not in ("side", "again")}
    if shot is None and len(plan.steps) > 1:
        shot = keep(given, typed)
    elif shot:
        Shot.objects.filter(pk=shot.pk).update(typed=typed)
    step = next_step(plan, shot)
    coming = forecast(place, step.done, step.seconds, clock.now()) if given.get("reckon") and not step.bands else None
    opened = logbook.open_hole(
        loading,
        given["camera"],
        step.done,
        subject=given["subject"],
        ei_from=plan.proposal.ei_from,
        developer=given["developer"],
        note=given["note"],
        again=given["again"],
        planned_s=step.seconds,
        forecast=coming.points if coming else (),
        hand_s=given.get("hand_s", 0),
        is_strip=bool(step.bands),
    )
    if shot or step.bands:
        shot = shot or keep(given, typed)
        take(shot, opened, step)
    return opened


def next_step(plan, shot):
    """The first sheet of the plan that is not exposed yet, the last one if all are."""
    taken = shot.taken.count() if shot else 0
    return plan.steps[min(taken, len(plan.steps) - 1)]


def take(shot, opened, step):
    """Write down that an exposure was made of a shot; it is done with its last sheet."""
    bands = [
        {"pull_s": band.pull_s, "effect_stops": band.effect_stops, "corrected_stops": band.corrected_stops}
        for band in step.bands
    ]
    Taken.objects.create(shot=shot, exposure=opened, words=step.words, bands=bands)
    made = Taken.objects.filter(shot=shot).count()
    Shot.objects.filter(pk=shot.pk).update(done=made >= shot.wanted)


def keep(given, typed, shot=None):
    """Keep the plan for later, as it was typed."""
    shot = shot or Shot(kept_at=clock.now())
    shot.subject = given["subject"] or f"{given['camera']} on {given['paper']}"
    shot.camera, shot.paper, shot.typed = given["camera"], given["paper"], typed
    for name in ("sheets", "bracket_stops", "bands", "azimuth_deg"):
        if given.get(name) is not None:
            setattr(shot, name, given[name])
    shot.bracket_by = given.get("bracket_by") or Shot.By.EFFECT
    shot.save()
    return shot


def say_step(step):
    """ "30 s (-1 of effect)"."""
    return f"{durations.say(step.seconds)} ({step.words})" if step.words else durations.say(step.seconds)
