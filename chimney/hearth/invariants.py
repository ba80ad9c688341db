"""Invariants that hold between sheets, loadings, exposures, developments, verdicts, shots and cans,
whatever was tapped.
"""

from collections import Counter
from math import isfinite

from chimney.darkroom.models import Development
from chimney.field.models import Shot
from chimney.lessons.models import Evidence, Lesson
from chimney.logbook.models import Exposure, Loading, Opening, Sheet
from chimney.logbook.stages import GIVEN_UP, RULES, which
from chimney.parts import clock
from chimney.results.models import Verdict
from chimney.solar.models import Solargraph

Stage, Slip = Sheet.Stage, Exposure.Slip
IN_THE_SUN = which("in_a_can")


def broken():
    """A sentence for each thing that does not hold."""
    for check in (_sheets, _exposures, _cameras, _shots, _cans, _lessons):
        yield from check()


def _sheets():
    open_now = Opening.objects.filter(closed_at=None)
    running = Counter(open_now.values_list("exposure__sheet", flat=True))
    real = Exposure.objects.exclude(slip=Slip.SLIDE_IN).exclude(opening_row__in=open_now)
    sheets_of = {
        "lies": Loading.objects.filter(unloaded_at=None),
        "exposed": real,
        "fogged": Exposure.objects.filter(slip=Slip.SLIDE_OUT),
        "developed": Development.objects.exclude(developed_at=None),
        "going": Development.objects.filter(developed_at=None),
        "judged": Verdict.objects,
        "can": Solargraph.everything.exclude(sheet=None),
    }
    sheets_of = {
        fact: set(rows.order_by().values_list("sheet", flat=True))
        for fact, rows in sheets_of.items()
    }
    for sheet in Sheet.objects.only("code", "stage", "is_print", "was", "given_up_at"):
        facts = {fact: sheet.pk in sheets for fact, sheets in sheets_of.items()}
        facts["running"] = running[sheet.pk] == 1
        facts["exposed"] |= sheet.is_print
        if running[sheet.pk] > 1:
            yield f"{sheet} is open in two cameras"
        yield from _unlike(sheet, facts)


# What each stage asks for beside where the sheet lies: True must hold, False must not, what is not
# named may be either way.
NOT_YET = {"running": False, "developed": False, "judged": False, "can": False, "going": False}
UNTOUCHED = NOT_YET | {"exposed": False}
FACTS_OF_STAGE = {
    Stage.BOXED: UNTOUCHED,
    Stage.LOADED: UNTOUCHED,
    Stage.EXPOSING: NOT_YET | {"running": True},
    Stage.EXPOSED: NOT_YET | {"exposed": True, "fogged": False},
    # That its slide was in all the while may be written down in the midst of it.
    Stage.DEVELOPING: NOT_YET | {"going": True},
    Stage.DEVELOPED: NOT_YET | {"developed": True},
    Stage.READ: NOT_YET | {"developed": True, "judged": True},
    Stage.SPOILED: {"running": False},
    Stage.LOST: {"running": False},
    Stage.OUT: UNTOUCHED | {"can": True},
    Stage.HOME: UNTOUCHED | {"can": True},
    Stage.SCANNED: UNTOUCHED | {"can": True},
}


def _unlike(sheet, facts):
    stage = Stage(sheet.stage)
    where = {} if RULES[stage].lies is None else {"lies": RULES[stage].lies}
    for fact, asked in (FACTS_OF_STAGE[stage] | where).items():
        if facts[fact] != asked:
            yield f"{sheet} is {sheet.stage}, but {'not ' if asked else ''}{fact}"
    if bool(sheet.was) != bool(sheet.given_up_at) or (sheet.was and sheet.stage not in GIVEN_UP):
        yield f"{sheet} is {sheet.stage}, but remembers that it was {sheet.was or 'nothing'}"


def _exposures():
    now = clock.now()
    # No more than is looked at: what a sentence names is read when there is one to say.
    columns = ("sheet", "camera", "given_s", "planned_s", "worth_s", "slide_back_at")
    exposures = Exposure.objects.only(*columns, "opening_row").select_related("opening_row")
    for exposure in exposures.prefetch_related("opening_row__covers"):
        opening = exposure.opening
        if opening is None:
            yield f"{exposure} has no opening"
            continue
        counted = opening.open_s(opening.closed_at or now)
        if (exposure.given_s is None) != (opening.closed_at is None):
            yield (
                f"{exposure} is {'shut' if opening.closed_at else 'open'} and was given "
                f"{exposure.given_s}"
            )
        elif opening.closed_at and abs(exposure.given_s - counted) > 0.01:
            yield f"{exposure} was given {exposure.given_s} s, and its log adds up to {counted} s"
        if not isfinite(exposure.planned_s) or not isfinite(exposure.effective_s or 0.0):
            yield f"{exposure} has a time without end"
        if opening.closed_at is None and exposure.slide_back_at:
            yield f"{exposure} is open with its slide in"
        if opening.camera_id != exposure.camera_id:
            yield f"{exposure} is open in another camera"


def _cameras():
    open_now = Opening.objects.filter(closed_at=None).select_related("camera")
    out = Solargraph.everything.filter(sheet__stage=Stage.OUT).select_related("camera")
    for label, cameras in (("open", open_now), ("out", out)):
        for body, count in Counter(setting.camera.body_pk for setting in cameras).items():
            if count > 1:
                yield f"camera {body} is {label} {count} times at once"


def _shots():
    for shot in Shot.everything.prefetch_related("taken__exposure"):
        if shot.done != (len(shot.steps_made) >= shot.wanted):
            yield (
                f"{shot} is {'' if shot.done else 'not '}done with {len(shot.steps_made)} of "
                f"{shot.wanted} sheets"
            )


def _cans():
    for can in Solargraph.everything.select_related("sheet").defer("photo"):
        if can.sheet is None:
            if can.opened_at or can.closed_at:
                yield f"{can} was opened without a sheet"
            continue
        if can.dropped_at:
            yield f"{can} is dropped with its sheet {can.sheet}"
        if can.sheet.stage not in (*IN_THE_SUN, *GIVEN_UP):
            yield f"{can} has a sheet that is {can.sheet.stage}"
        if can.opened_at is None:
            yield f"{can} has a sheet and was never opened"
        if can.sheet.stage == Stage.OUT and can.closed_at:
            yield f"{can} is out and shut"


def _lessons():
    judged = set(Verdict.objects.values_list("sheet", flat=True))
    exposures = Exposure.objects.filter(slip="", given_s__gt=0)
    exposures = set(exposures.values_list("sheet", flat=True))
    for pk, code in Evidence.objects.values_list("sheet", "sheet__code"):
        if pk not in judged:
            yield f"{code} teaches without a verdict"
        if pk not in exposures:
            yield f"{code} teaches without an exposure that counts"
    for lesson in Lesson.objects.select_related("paper"):
        counted = Evidence.objects.filter(paper=lesson.paper, reason="")
        counted = counted.filter(developer=lesson.developer_id) if lesson.developer_id else counted
        if counted.count() != lesson.sheets:
            yield f"the lesson of {lesson.paper} counts {lesson.sheets} sheets of {counted.count()}"
