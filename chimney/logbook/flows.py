"""What moves a sheet along. Sheet.stage is written here and nowhere else."""

import re
from datetime import timedelta

from django.db import IntegrityError, transaction
from django.db.models import Q

from chimney.kit.models import Paper
from chimney.logbook import changing, queries
from chimney.logbook.models import Cover, Exposure, Loading, Opening, Sheet
from chimney.logbook.shutter import not_before, running
from chimney.parts import clock
from chimney.parts.refusal import Refused

Stage = Sheet.Stage

# From which stages a sheet may come to each stage.
MOVES = {
    Stage.BOXED: {Stage.LOADED},
    # From exposed only when the slide was never pulled, from out when a can was never put out after all.
    Stage.LOADED: {Stage.BOXED, Stage.EXPOSING, Stage.EXPOSED, Stage.OUT},
    Stage.EXPOSING: {Stage.LOADED, Stage.EXPOSED},  # from exposed to undo a close, or for a second time on purpose
    Stage.EXPOSED: {Stage.EXPOSING, Stage.DEVELOPED},
    Stage.DEVELOPED: {Stage.EXPOSED, Stage.READ},
    Stage.READ: {Stage.DEVELOPED},
    # A solargraph goes out, comes home and is scanned; no way leads from there into a developer.
    Stage.OUT: {Stage.LOADED, Stage.HOME, Stage.LOST},
    Stage.HOME: {Stage.OUT, Stage.SCANNED},
    Stage.SCANNED: {Stage.HOME},
    Stage.SPOILED: {Stage.BOXED, Stage.LOADED, Stage.EXPOSED, Stage.DEVELOPED, Stage.READ, Stage.OUT, Stage.HOME},
    Stage.LOST: {Stage.BOXED, Stage.LOADED, Stage.EXPOSED, Stage.DEVELOPED, Stage.READ, Stage.OUT},
}


def move(sheet, stage):
    """Write the stage, read anew inside the transaction, or say why not and where to go."""
    sheet.refresh_from_db(fields=["stage"])
    if sheet.stage not in MOVES[stage]:
        now, wanted = Stage(sheet.stage).label, Stage(stage).label
        raise Refused(
            f"{sheet.code} is {now}, so it cannot become {wanted}.", f"See {sheet.code}", "logbook:sheet", sheet.code
        )
    sheet.stage = stage
    sheet.save(update_fields=["stage"])


def next_code():
    """The code after the newest sheet's: R-118 after R-117."""
    last = Sheet.objects.order_by("-pk").values_list("code", flat=True).first()
    found = re.fullmatch(r"(.*?)(\d{1,9})", last or "")
    prefix, number, width = (found[1], int(found[2]) + 1, len(found[2])) if found else ("S-", 1, 3)
    prefix = prefix[:10]
    while Sheet.objects.filter(code=(code := f"{prefix}{number:0{width}d}")).exists():
        number += 1
    return code


@transaction.atomic
def load(paper, holder, side, code="", person=None):
    """Put a sheet into a side, a fresh one unless the code is that of one put back unexposed; returns its Loading."""
    there = Loading.objects.select_related("sheet", "holder").filter(holder=holder, side=side, unloaded_at=None).first()
    if there:
        where = f"{there.where[0].upper()}{there.where[1:]}"
        raise Refused(f"{where} already holds {there.sheet}.", "Unload it first", "logbook:bag")
    sheet = _sheet_for(paper, holder.size, code, person)
    move(sheet, Stage.LOADED)
    return Loading.objects.create(sheet=sheet, holder=holder, side=side, loaded_at=clock.now())


def _sheet_for(paper, size, code, person):
    """The sheet with that code if it went back into the box unexposed, else a fresh one from the oldest box."""
    known = Sheet.objects.filter(code__iexact=code).first() if code else None
    if known and (known.stage, known.paper_id, known.size) == (Stage.BOXED, paper.pk, size):
        return known
    if known:
        raise Refused(f"{known} is already pencilled on another sheet.", f"See {known}", "logbook:sheet", known.code)
    box = queries.box_for(paper, size)
    return Sheet.objects.create(
        code=code or next_code(), paper=paper, size=size, box=box, person=person, cut_at=clock.now()
    )


@transaction.atomic
def load_all(paper, sides, first_code="", person=None):
    """Load fresh sheets into several (holder, side), their codes running on from the first; all or none."""
    loadings = [load(paper, *sides[0], first_code, person)]
    return loadings + [load(paper, holder, side, person=person) for holder, side in sides[1:]]


@transaction.atomic
def unload(loading):
    """Take the sheet out: unexposed it goes back to the box, exposed to the packet to develop."""
    sheet = loading.sheet
    sheet.refresh_from_db(fields=["stage"])
    if loading.unloaded_at:
        raise Refused(f"{sheet.code} was taken out before.", "See the bag", "logbook:bag")
    if sheet.stage == Stage.EXPOSING:
        raise _still_open(sheet)
    if sheet.in_a_can or sheet.stage == Stage.LOST:
        words = Stage(sheet.stage).label
        raise Refused(f"{sheet.code} is {words}: its can is the place to go on.", "See the cans", "solar:cans")
    if sheet.stage == Stage.LOADED:
        move(sheet, Stage.BOXED)
    loading.unloaded_at = clock.now()
    loading.save(update_fields=["unloaded_at"])


@transaction.atomic
def open_hole(
    loading,
    camera,
    done,
    *,
    subject="",
    ei_from=Exposure.EiFrom.BOX,
    developer=None,
    note="",
    again=False,
    planned_s=None,
    forecast=(),
    hand_s=0,
    is_strip=False,
):
    """Start an exposure of the loaded sheet by a worked-out Sum; returns it with its running opening.

    again: a sheet that is exposed already is meant to be exposed once more; planned_s: the time to give, that of the
    sum if None; forecast: [(seconds after the hole is free, metered seconds)]; hand_s: how long a hand stays before
    the hole after the flap is up; is_strip: its bands get different times.
    """
    sheet = loading.sheet
    sheet.refresh_from_db(fields=["stage"])
    _refuse_wrong_sheet(loading, sheet, camera, again=again)
    same_body = Q(camera=camera.body_pk) | Q(camera__body=camera.body_pk)
    running = Opening.objects.select_related("exposure__sheet").filter(same_body, closed_at=None).first()
    if running:
        raise Refused(
            f"{camera} is already open on {running.exposure.sheet}.",
            "See its timer",
            "logbook:timer",
            running.exposure_id,
        )
    now = clock.now()
    exposure = Exposure.objects.create(
        sheet=sheet,
        camera=camera,
        loading=loading,
        developer=developer,
        subject=subject,
        note=note,
        sum=done.as_data(),
        ei_from=ei_from,
        planned_s=planned_s or done.seconds,
        forecast=[[float(after), float(metered)] for after, metered in forecast],
        hand_s=hand_s,
        is_strip=is_strip,
        made_at=now,
    )
    opening = Opening.objects.create(exposure=exposure, camera=camera, opened_at=now)
    if hand_s:
        Cover.objects.create(opening=opening, covered_at=now, uncovered_at=now + timedelta(seconds=hand_s))
    move(sheet, Stage.EXPOSING)
    return exposure


def _refuse_wrong_sheet(loading, sheet, camera, *, again):
    where = loading.where
    if loading.unloaded_at:
        raise Refused(f"{sheet.code} is no longer in {where}.", "See the bag", "logbook:bag")
    if sheet.stage == Stage.EXPOSING:
        raise _still_open(sheet)
    if sheet.paper.kind == Paper.Kind.SOLARGRAPH:
        raise Refused(
            f"{sheet.code} is {sheet.paper}: it is put out for days and not timed.", "See the bag", "logbook:bag"
        )
    if sheet.stage != Stage.LOADED and not (again and sheet.stage == Stage.EXPOSED):
        raise Refused(
            f"{sheet.code} in {where} is already exposed: a second time would be a double exposure.",
            "Unload it or choose another side",
            "logbook:bag",
        )
    if loading.holder.size != camera.size:
        raise Refused(
            f"{sheet.code} is {loading.holder.size}, {camera} takes {camera.size}.", "Load another", "logbook:bag"
        )
    if loading.holder.camera_id not in (None, camera.body_pk):
        raise Refused(f"{sheet.code} lies in {loading.holder}, not in {camera}.", "See the bag", "logbook:bag")


def _still_open(sheet):
    exposure = sheet.exposures.order_by("-pk").first()
    return Refused(f"{sheet.code} is being exposed right now.", "See its timer", "logbook:timer", exposure.pk)


@transaction.atomic
def close_hole(exposure):
    """Shut the hole; what it was open for is what counts from here on."""
    opening = running(exposure)
    opening.closed_at = not_before(opening, clock.now())
    opening.save(update_fields=["closed_at"])
    # A hand that was to go away later never did.
    opening.covers.filter(uncovered_at__gt=opening.closed_at).update(uncovered_at=None)
    fresh = queries.whole(Exposure.objects).get(pk=exposure.pk)
    exposure.given_s = fresh.opening.open_s(opening.closed_at)
    exposure.worth_s = None
    if fresh.light_changes:
        exposure.worth_s = changing.progress(fresh, opening.closed_at).share * exposure.planned_s
    exposure.save(update_fields=["given_s", "worth_s"])
    move(exposure.sheet, Stage.EXPOSED)


@transaction.atomic
def reopen(exposure):
    """Undo a mis-tapped close: the hole was open all the while."""
    opening = exposure.opening
    if exposure.loading is None or exposure.loading.unloaded_at:
        raise Refused(f"{exposure.sheet} was taken out since.", "See it", "logbook:sheet", exposure.sheet.code)
    if exposure.sheet.exposures.order_by("-pk").first() != exposure:
        raise Refused(f"{exposure.sheet} was exposed again since.", "See it", "logbook:sheet", exposure.sheet.code)
    if exposure.slip or exposure.slide_back_at:
        raise Refused(
            "The slide is back in, so the hole cannot still be open.", "See the timer", "logbook:timer", exposure.pk
        )
    move(exposure.sheet, Stage.EXPOSING)
    Opening.objects.filter(pk=opening.pk).update(closed_at=None)
    exposure.given_s = exposure.worth_s = None
    exposure.save(update_fields=["given_s", "worth_s"])


def reopen_or_refuse(exposure):
    """Reopen, unless the camera has been opened on another sheet since."""
    try:
        reopen(exposure)
    except IntegrityError as error:
        raise Refused(
            f"{exposure.camera} has been opened on another sheet since.", "See the bag", "logbook:bag"
        ) from error


@transaction.atomic
def take_back(exposure):
    """Undo a mis-tapped opening: the hole was never opened, the sheet is as it was."""
    running(exposure)
    sheet = exposure.sheet
    before = sheet.exposures.exclude(pk=exposure.pk).exclude(slip=Exposure.Slip.SLIDE_IN)
    move(sheet, Stage.EXPOSED if before.exists() else Stage.LOADED)
    exposure.delete()


@transaction.atomic
def slide_back(exposure, *, back=True):
    """The dark slide in and turned, or that taken back."""
    exposure.slide_back_at = clock.now() if back else None
    exposure.save(update_fields=["slide_back_at"])


@transaction.atomic
def log_slip(exposure, slip):
    """A forgotten slide: never pulled, and the sheet is still fresh; not back in, and it is spoiled."""
    if slip not in (Exposure.Slip.SLIDE_IN, Exposure.Slip.SLIDE_OUT):
        raise Refused("Choose what happened to the slide.", "See the timer", "logbook:timer", exposure.pk)
    if Opening.objects.filter(exposure=exposure, closed_at=None).exists():
        close_hole(exposure)
    move(exposure.sheet, Stage.LOADED if slip == Exposure.Slip.SLIDE_IN else Stage.SPOILED)
    if slip == Exposure.Slip.SLIDE_IN and not exposure.sheet.loadings.filter(unloaded_at=None).exists():
        move(exposure.sheet, Stage.BOXED)
    exposure.slip = slip
    exposure.save(update_fields=["slip"])


@transaction.atomic
def give_up(sheet, stage):
    """Spoiled or lost: it leaves its holder and waits for nothing."""
    move(sheet, stage)
    sheet.loadings.filter(unloaded_at=None).update(unloaded_at=clock.now())
