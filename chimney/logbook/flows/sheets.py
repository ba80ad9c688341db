"""Changes that move a sheet along. Sheet.stage is written here and nowhere else."""

import re
from datetime import timedelta

from django.db.models import Q

from chimney.kit.catalogue.failings import UNRINSED
from chimney.kit.models import Camera, Observation
from chimney.ledger.once import current, verb
from chimney.logbook import craft, queries
from chimney.logbook.flows.while_open import not_before, running
from chimney.logbook.models import Cover, Exposure, Loading, Opening, Sheet
from chimney.logbook.stages import RULES, Stage
from chimney.logbook.wording import pencilled
from chimney.parts import clock
from chimney.parts.refusal import Refused
from pinhole import exposure as exposures


def move(sheet, stage, *, given_back=False):
    """Write the stage, read anew inside the transaction, or say why not and where to go.

    given_back: whether it was given up by hand, and that is taken back; nothing else moves it.
    """
    sheet.refresh_from_db(fields=["stage", "was"])
    if sheet.stage not in RULES[stage].comes_from or (sheet.was and not given_back):
        now, target = Stage(sheet.stage).label, Stage(stage).label
        raise Refused(
            f"{sheet.code} is {now}, so it cannot become {target}.",
            f"See {sheet.code}",
            "logbook:sheet",
            sheet.code,
        )
    sheet.stage = stage
    sheet.save(update_fields=["stage"])


def settle(sheet):
    """Put a sheet at the stage that its exposures and its place say; a room further on keeps it
    where it is.
    """
    real = sheet.exposures.exclude(slip=Exposure.Slip.SLIDE_IN)
    if real.filter(opening_row__closed_at=None).exists():
        return
    if real.filter(slip=Exposure.Slip.SLIDE_OUT).exists():
        stage = Stage.SPOILED
    elif sheet.is_print or real.exists():
        stage = Stage.EXPOSED
    else:
        stage = Stage.LOADED if sheet.loadings.filter(unloaded_at=None).exists() else Stage.BOXED
    if sheet.stage != stage:
        move(sheet, stage)


def next_code():
    """The code after the newest sheet's: R-118 after R-117."""
    last = Sheet.objects.order_by("-pk").values_list("code", flat=True).first()
    match = re.fullmatch(r"(.*?)(\d{1,9})", last or "")
    prefix, number, width = (match[1], int(match[2]) + 1, len(match[2])) if match else ("S-", 1, 3)
    prefix = prefix[:10]
    while Sheet.objects.filter(code=(code := f"{prefix}{number:0{width}d}")).exists():
        number += 1
    return code


@verb
def load(paper, holder, side, code="", person=None):
    """Put a sheet into a side, a fresh one unless the code is that of one put back unexposed;
    returns its Loading.
    """
    way_out = (
        Loading.objects.select_related("sheet", "holder")
        .filter(holder=holder, side=side, unloaded_at=None)
        .first()
    )
    if way_out:
        where = f"{way_out.where[0].upper()}{way_out.where[1:]}"
        raise Refused(f"{where} already holds {way_out.sheet}.", "Unload it first", "logbook:bag")
    _refuse_unrinsed(holder)
    sheet = _sheet_for(paper, holder.size, code, person)
    move(sheet, Stage.LOADED)
    return Loading.objects.create(sheet=sheet, holder=holder, side=side, loaded_at=clock.now())


def _refuse_unrinsed(holder):
    """A camera in which a sheet was developed is rinsed before it is loaded again."""
    body = holder.camera_id
    wet = Observation.objects.filter(camera=body, kind=UNRINSED, mended_at=None).first()
    if body and wet:
        refusal = f"{wet.camera} was developed in and is not rinsed yet."
        raise Refused(refusal, f"See {wet.camera}", "kit:edit", "camera", body)


def _sheet_for(paper, size, code, person):
    """The sheet with that code if it went back into the box unexposed, else a fresh one from the
    oldest box.
    """
    sheet = Sheet.objects.filter(code__iexact=code).first() if code else None
    if sheet and (sheet.stage, sheet.paper_id, sheet.size) == (Stage.BOXED, paper.pk, size):
        return sheet
    if sheet:
        raise Refused(
            pencilled(sheet),
            f"See {sheet}",
            "logbook:sheet",
            sheet.code,
        )
    box = queries.box_for(paper, size)
    return Sheet.objects.create(
        code=code or next_code(), paper=paper, size=size, box=box, person=person, cut_at=clock.now()
    )


@verb
def expose_behind(negative, paper):
    """A fresh sheet of that paper and the negative's size, printed under a lamp; the Sheet."""
    sheet = Sheet.objects.create(
        code=next_code(),
        paper=paper,
        size=negative.size,
        box=queries.box_for(paper, negative.size),
        person=negative.person,
        is_print=True,
        cut_at=clock.now(),
    )
    move(sheet, Stage.EXPOSED)
    return sheet


@verb
def load_all(paper, sides, first_code="", person=None):
    """Load fresh sheets into several (holder, side), their codes running on from the first; all or
    none.
    """
    loadings = [load(paper, *sides[0], first_code, person)]
    return loadings + [load(paper, holder, side, person=person) for holder, side in sides[1:]]


@verb
def unload(loading):
    """Take the sheet out: unexposed it goes back to the box, exposed to the packet to develop;
    returns the Loading.
    """
    loading = current(loading, Loading.objects.select_related("sheet", "holder"))
    sheet = loading.sheet
    if loading.unloaded_at:
        raise Refused(f"{sheet.code} was taken out before.", "See the bag", "logbook:bag")
    if sheet.stage == Stage.EXPOSING:
        raise _still_open(sheet)
    if sheet.in_a_can or sheet.stage == Stage.LOST:
        stage_words = Stage(sheet.stage).label
        raise Refused(
            f"{sheet.code} is {stage_words}: its can is the place to go on.",
            "See the cans",
            "solar:cans",
        )
    if sheet.stage == Stage.LOADED:
        move(sheet, Stage.BOXED)
    loading.unloaded_at = clock.now()
    loading.save(update_fields=["unloaded_at"])
    return loading


@verb
def open_hole(
    loading, camera, calculation, *, again=False, planned_s=None, forecast=(), hand_s=0, **kept
):
    """Start an exposure of the loaded sheet by a Calculation; returns it with its running opening.

    again: a sheet that is exposed already is meant to be exposed once more; planned_s: the time to
    give, that of the calculation if None; forecast: [(seconds after the hole is free, metered
    seconds)]; hand_s: how long a hand stays before the hole after the flap is up; kept: what else
    an Exposure keeps, as its fields are called.
    """
    camera = current(camera, Camera.objects.all())
    loading = current(loading, Loading.objects.select_related("sheet__paper", "holder__camera"))
    sheet, now = loading.sheet, clock.now()
    _refuse_wrong_sheet(loading, sheet, camera, again=again)
    _refuse_open_camera(camera)
    exposure = Exposure.objects.create(
        sheet=sheet,
        camera=camera,
        loading=loading,
        calculation_data=exposures.to_data(calculation),
        planned_s=planned_s or calculation.seconds,
        forecast=[[float(after), float(metered)] for after, metered in forecast],
        hand_s=hand_s,
        made_at=now,
        **{"ei_from": Exposure.EiFrom.BOX} | kept,
    )
    opening = Opening.objects.create(exposure=exposure, camera=camera, opened_at=now)
    if hand_s:
        Cover.objects.create(
            opening=opening, covered_at=now, uncovered_at=now + timedelta(seconds=hand_s)
        )
    move(sheet, Stage.EXPOSING)
    return exposure


def _refuse_open_camera(camera):
    """A camera is open once at a time, in whatever setting of its box."""
    same_body = Q(camera=camera.body_pk) | Q(camera__body=camera.body_pk)
    running = (
        Opening.objects.select_related("exposure__sheet").filter(same_body, closed_at=None).first()
    )
    if running:
        refusal = f"{camera} is already open on {running.exposure.sheet}."
        raise Refused(refusal, "See its timer", "logbook:timer", running.exposure_id)


def _refuse_wrong_sheet(loading, sheet, camera, *, again):
    where = loading.where
    if loading.unloaded_at:
        raise Refused(f"{sheet.code} is no longer in {where}.", "See the bag", "logbook:bag")
    if sheet.stage == Stage.EXPOSING:
        raise _still_open(sheet)
    if not sheet.paper.medium.is_timed:
        raise Refused(
            f"{sheet.code} is {sheet.paper}: it is put out for days and not timed.",
            "See the bag",
            "logbook:bag",
        )
    if sheet.stage != Stage.LOADED and not (again and sheet.stage == Stage.EXPOSED):
        raise Refused(
            f"{sheet.code} in {where} is already exposed: a second time would be a "
            "double exposure.",
            "Unload it or choose another side",
            "logbook:bag",
        )
    if loading.holder.size != camera.size:
        raise Refused(
            f"{sheet.code} is {loading.holder.size}, {camera} takes {camera.size}.",
            "Load another",
            "logbook:bag",
        )
    if loading.holder.camera_id not in (None, camera.body_pk):
        raise Refused(
            f"{sheet.code} lies in {loading.holder}, not in {camera}.", "See the bag", "logbook:bag"
        )


def _still_open(sheet):
    exposure = sheet.exposures.order_by("-pk").first()
    return Refused(
        f"{sheet.code} is being exposed right now.", "See its timer", "logbook:timer", exposure.pk
    )


@verb
def close_all(exposures):
    """Shut every one of them that is still open, in one moment; how many those were."""
    open_ones = [
        exposure_row
        for exposure_row in exposures
        if Opening.objects.filter(exposure=exposure_row, closed_at=None).exists()
    ]
    for exposure in open_ones:
        close_hole(exposure)
    return len(open_ones)


@verb
def close_hole(exposure):
    """Shut the hole; what it was open for is what counts from here on, whatever its sum says."""
    opening = running(exposure)
    opening.closed_at = not_before(opening, clock.now())
    opening.save(update_fields=["closed_at"])
    fresh = queries.whole().get(pk=exposure.pk)
    fresh.given_s = fresh.opening.open_s(opening.closed_at)
    fresh.worth_s = craft.worth_s(fresh, opening.closed_at)
    fresh.save(update_fields=["given_s", "worth_s"])
    move(fresh.sheet, Stage.EXPOSED)
    settle(fresh.sheet)
    exposure.given_s, exposure.worth_s = fresh.given_s, fresh.worth_s
    exposure.opening_row = fresh.opening
