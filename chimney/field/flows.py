"""From a reading to a time, and from a time to an open hole."""

from dataclasses import dataclass

import numpy as np

from chimney.field.forecasts import forecast
from chimney.field.models import Shot, Taken
from chimney.ledger.once import current, verb
from chimney.lessons import flows as lessons
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure, Loading
from chimney.parts import clock, readings
from chimney.parts.refusal import Refused
from chimney.parts.scales import stops as say_stops
from pinhole import brackets, durations, exposure, reciprocity


@dataclass(frozen=True)
class Step:
    """One sheet of a plan: what makes it differ, its Sum, the seconds to give, and bands if it is a test strip."""

    words: str
    done: exposure.Sum
    seconds: float
    bands: tuple = ()


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


@verb
def open_shot(given, plan, side, shot=None, place=None, typed=None):
    """Load a fresh sheet if the side is empty, and open the hole on the next sheet of the plan; all or nothing.

    typed: what stood in the form, which the shot's other sheets and its pair begin with.
    """
    shot = shot and _still_to_do(shot, given.get("made"))
    loading, loaded_by_it = _loading(given, side)
    typed = {name: value for name, value in (typed or {}).items() if name not in ("side", "again", "made")}
    made_shot = shot is None and (len(plan.steps) > 1 or bool(plan.steps[0].bands))
    before = shot.typed if shot else None
    if made_shot:
        shot = keep(given, typed)
    elif shot:
        Shot.objects.filter(pk=shot.pk).update(typed=typed)
    number, step = next_step(plan, shot)
    coming = forecast(place, step.done, step.seconds, clock.now()) if given.get("reckon") and not step.bands else None
    coming = coming if coming and coming.matters else None
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
        dark_at=coming.dark_at if coming else None,
        hand_s=given.get("hand_s", 0),
        is_strip=bool(step.bands),
        loaded_by_it=loaded_by_it,
    )
    if shot:
        take(shot, opened, step, number, made_shot=made_shot, typed_before=before)
    return opened


def _still_to_do(shot, made):
    """The shot as it is now; refused if the sheet that the form was about has been exposed since.

    made: how many of its sheets were exposed when the form was shown, None if it does not say.
    """
    shot = current(shot, Shot.objects.prefetch_related("taken__exposure"))
    steps = shot.steps_made
    if shot.done or (made is not None and made != len(steps)):
        last = shot.taken.last()
        way = ("See its timer", "logbook:timer", last.exposure_id) if last else ("See the plans", "field:plan")
        raise Refused(f"{shot} was opened meanwhile, from another page or device.", *way)
    return shot


def _loading(given, side):
    """(the Loading that lies in the side, whether it was put there just now)."""
    lies = current(side.loading, Loading.objects.select_related("sheet__paper")) if side.loading else None
    if lies is None:
        return logbook.load(given["paper"], side.holder, side.letter), True
    if lies.sheet.stage == "loaded" and lies.sheet.paper_id != given["paper"].pk:
        raise Refused(
            f"{side.words.capitalize()} holds {lies.sheet}, {lies.sheet.paper}: the sum is for {given['paper']}.",
            "See the bag",
            "logbook:bag",
        )
    return lies, False


def next_step(plan, shot):
    """(number, Step) of the first sheet of the plan that is not exposed yet, of the last one if all are."""
    made = shot.steps_made if shot and shot.pk else ()
    last = len(plan.steps) - 1
    number = next((n for n in range(last + 1) if n not in made), last)
    return number, plan.steps[number]


def take(shot, opened, step, number, *, made_shot=False, typed_before=None):
    """Write down that an exposure was made of a shot, its sheet of that number; it is done with its last sheet."""
    bands = [
        {"pull_s": band.pull_s, "effect_stops": band.effect_stops, "corrected_stops": band.corrected_stops}
        for band in step.bands
    ]
    more = {"made_shot": made_shot, "typed_before": typed_before}
    Taken.objects.create(shot=shot, exposure=opened, words=step.words, bands=bands, step=number, **more)
    count(shot)


def count(shot):
    """Whether a shot is done, from what was exposed of it."""
    made = Taken.objects.filter(shot=shot).exclude(exposure__slip=Exposure.Slip.SLIDE_IN).values("step").distinct()
    Shot.everything.filter(pk=shot.pk).update(done=made.count() >= shot.wanted)


def untake(exposure):
    """The hole was never opened: its shot is as it was before, or is none if the tap had made it."""
    taken = Taken.objects.select_related("shot").filter(exposure=exposure).first()
    if taken is None:
        return
    shot = taken.shot
    taken.delete()
    if taken.made_shot and not Taken.objects.filter(shot=shot).exists():
        shot.delete()
        return
    if taken.typed_before is not None:
        Shot.everything.filter(pk=shot.pk).update(typed=taken.typed_before)
    count(shot)


def count_slip(exposure):
    """A slide that was never pulled leaves its sheet of the shot still to do."""
    taken = Taken.objects.select_related("shot").filter(exposure=exposure).first()
    if taken:
        count(taken.shot)


@verb
def keep(given, typed, shot=None):
    """Keep the plan for later, as it was typed."""
    shot = current(shot) if shot else Shot(kept_at=clock.now())
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
