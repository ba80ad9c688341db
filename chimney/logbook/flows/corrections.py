"""Corrections of what was mis-tapped or slipped: after each of these the world is as it would have
been.
"""

from datetime import timedelta

from django.db.models import Q

from chimney.ledger.once import current, verb
from chimney.logbook import queries
from chimney.logbook.flows.sheets import close_hole, load, move, settle, unload
from chimney.logbook.flows.while_open import running
from chimney.logbook.models import Exposure, Loading, Opening, Photo, Sheet
from chimney.logbook.signals import purposed, slipped, unmade
from chimney.logbook.stages import RULES, Stage
from chimney.parts import clock
from chimney.parts.refusal import Refused

# What a sheet comes back to when its side or its can was taken by another one since.
ELSEWHERE = {Stage.LOADED: Stage.BOXED, Stage.OUT: Stage.HOME}


def stays_shut(exposure):
    """The Refused that keeps a shut hole shut: what happened since; None if its close can still be
    taken back.
    """
    sheet = exposure.sheet
    see, timer = (
        ("See it", "logbook:sheet", sheet.code),
        ("See the timer", "logbook:timer", exposure.pk),
    )
    if exposure.loading is None or exposure.loading.unloaded_at:
        return Refused(f"{sheet} was taken out since then.", *see)
    if sheet.exposures.order_by("-pk").first() != exposure:
        return Refused(f"{sheet} was exposed again since then.", *see)
    if exposure.opening.closed_at is None:
        return Refused(f"The hole of {exposure.camera} is open already.", *timer)
    if exposure.slip or exposure.slide_back_at:
        return Refused("The slide is back in, so the hole cannot still be open.", *timer)
    if sheet.stage not in RULES[Stage.EXPOSING].comes_from:
        return Refused(f"{sheet} is {sheet.get_stage_display()} since then.", *see)
    body = exposure.camera.body_pk
    if Opening.objects.filter(Q(camera=body) | Q(camera__body=body), closed_at=None).exists():
        return Refused(
            f"{exposure.camera} has been opened on another sheet since.",
            "See the bag",
            "logbook:bag",
        )
    return None


@verb
def reopen(exposure):
    """Undo a mis-tapped close: the hole was open all the while."""
    exposure = current(exposure, queries.whole())
    if refused := stays_shut(exposure):
        raise refused
    move(exposure.sheet, Stage.EXPOSING)
    Opening.objects.filter(pk=exposure.opening.pk).update(closed_at=None)
    exposure.given_s = exposure.worth_s = None
    exposure.save(update_fields=["given_s", "worth_s"])


@verb
def take_back(exposure):
    """Undo a mis-tapped opening: the hole was never opened, the sheet is as it was; True if its
    side is empty again.
    """
    exposure = current(exposure, Exposure.objects.select_related("sheet", "camera"))
    running(exposure)
    sheet, fresh = exposure.sheet, exposure.loaded_by_it
    unmade.send(Exposure, exposure=exposure)
    exposure.delete()
    if fresh and not sheet.exposures.exists():
        sheet.delete()
        return True
    before = sheet.exposures.exclude(slip=Exposure.Slip.SLIDE_IN).exists()
    move(sheet, Stage.EXPOSED if before else Stage.LOADED)
    settle(sheet)
    return False


@verb
def slide_back(exposure, *, back=True):
    """The dark slide in and turned, or that taken back."""
    exposure = current(exposure, Exposure.objects.select_related("camera", "sheet"))
    if Opening.objects.filter(exposure=exposure, closed_at=None).exists():
        refusal = f"The hole of {exposure.camera} is still open: shut it before the slide goes in."
        raise Refused(refusal, "See the timer", "logbook:timer", exposure.pk)
    exposure.slide_back_at = clock.now() if back else None
    exposure.save(update_fields=["slide_back_at"])


@verb
def give_owner(sheet, person):
    """Give the sheet an owner; None for nobody."""
    sheet = current(sheet)
    sheet.person = person
    sheet.save(update_fields=["person"])


@verb
def set_purpose(sheet, purpose):
    """Set the purpose of a sheet; rooms above turn its picture round accordingly."""
    sheet = current(sheet, Sheet.objects.select_related("paper"))
    sheet.purpose = purpose
    sheet.save(update_fields=["purpose"])
    purposed.send(Sheet, sheet=sheet)


@verb
def set_pictured(sheet, *, there):
    """Set whether there is a picture of it; written by the room that keeps the pictures."""
    Sheet.objects.filter(pk=sheet.pk).update(is_pictured=there)


@verb
def note(exposure, text, subject=None, photo=None):
    """The note of an exposure, and its subject and photo (a JPEG) if they are given, as they should
    stand.
    """
    exposure = current(exposure)
    exposure.note = text[:300]
    exposure.subject = exposure.subject if subject is None else subject[:120]
    exposure.save(update_fields=["note", "subject"])
    if photo:
        fields = {"jpeg": photo, "came_at": clock.now()}
        Photo.objects.update_or_create(exposure=exposure, defaults=fields)


@verb
def drop_photo(exposure):
    """No photo after all."""
    Photo.objects.filter(exposure=exposure).delete()


@verb
def log_slip(exposure, slip):
    """A forgotten slide: never pulled, and that exposure made nothing; not back in, and the sheet
    is spoiled.

    It is written at any time. A sheet that is open again, developed or read stays where it is; what
    was learned from it is learned anew.
    """
    exposure = current(exposure, Exposure.objects.select_related("sheet", "camera"))
    if slip not in (Exposure.Slip.SLIDE_IN, Exposure.Slip.SLIDE_OUT):
        raise Refused(
            "Choose what happened to the slide.", "See the timer", "logbook:timer", exposure.pk
        )
    if Opening.objects.filter(exposure=exposure, closed_at=None).exists():
        close_hole(exposure)
    _write_slip(exposure, slip)


@verb
def undo_slip(exposure):
    """It did not slip after all."""
    _write_slip(
        current(exposure, Exposure.objects.select_related("sheet", "camera")), Exposure.Slip.NONE
    )


def _write_slip(exposure, slip):
    Exposure.objects.filter(pk=exposure.pk).update(slip=slip)
    sheet = current(exposure.sheet)
    if RULES[sheet.stage].by_its_log and not sheet.was:
        settle(sheet)
    slipped.send(Exposure, exposure=exposure)


@verb
def give_up(sheet, stage):
    """Spoiled or lost: it leaves its holder and waits for nothing; what it was is kept, so that
    this can be undone.
    """
    sheet = current(sheet)
    was = sheet.stage
    move(sheet, stage)
    sheet.was, sheet.given_up_at = was, leave(sheet)
    sheet.save(update_fields=["was", "given_up_at"])


def go_on_without(sheet, stage):
    """Let a sheet that was given up come back to where others of its kind went on meanwhile."""
    sheet.refresh_from_db(fields=["was"])
    if sheet.was:
        sheet.was = stage
        sheet.save(update_fields=["was"])
        return True
    return False


@verb
def load_instead(paper, holder):
    """A fresh sheet lies in the one side of a holder; returns its Loading. What lay there leaves it
    in that very moment, by which `never_loaded` knows it.
    """
    lies = Loading.objects.select_related("sheet").filter(holder=holder, unloaded_at=None).first()
    moment = _apart(Loading.objects.filter(holder=holder))
    with clock.at(moment):
        if lies and lies.sheet.stage in (Stage.EXPOSING, Stage.EXPOSED):
            unload(lies)
        elif lies:
            Loading.objects.filter(pk=lies.pk).update(unloaded_at=moment)
        return load(paper, holder, holder.sides[0])


@verb
def never_loaded(sheet):
    """A fresh sheet is in its box again; what left its side for it lies there as before, unless it
    went on since.
    """
    came = sheet.loadings.order_by("-pk").first()
    lay_there = Loading.objects.filter(holder=came.holder_id, unloaded_at=came.loaded_at)
    lay = lay_there.select_related("sheet").first()
    sheet.delete()
    if lay and RULES[lay.sheet.stage].lies is not False and lay.sheet.open_loading is None:
        lay_back(lay.sheet, lay.unloaded_at)


def leave(sheet):
    """Take a sheet out of the side in which it lies, if any; the moment, which `lay_back` knows
    this by.
    """
    moment = _apart(sheet.loadings)
    sheet.loadings.filter(unloaded_at=None).update(unloaded_at=moment)
    return moment


def _apart(loadings):
    """The moment, now or just after it, at which none of those loadings ended."""
    moment = clock.now()
    while loadings.filter(unloaded_at=moment).exists():
        moment += timedelta(microseconds=1)
    return moment


def lay_back(sheet, moment):
    """Put a sheet back into the side that it left at that moment; False if it left none, or another
    lies there now.
    """
    lay = sheet.loadings.filter(unloaded_at=moment).first()
    if (
        lay is None
        or Loading.objects.filter(holder=lay.holder_id, side=lay.side, unloaded_at=None).exists()
    ):
        return False
    Loading.objects.filter(pk=lay.pk).update(unloaded_at=None)
    return True


@verb
def lay_in_again(loading):
    """It was not taken out after all: it lies in its side as before."""
    loading = current(loading, Loading.objects.select_related("sheet", "holder"))
    sheet = loading.sheet
    see = f"See {sheet}", "logbook:sheet", sheet.code
    stays = (Stage.BOXED, Stage.EXPOSED, Stage.SPOILED)
    if loading.unloaded_at is None:
        raise Refused(f"{sheet} lies in {loading.where} already.", "See the bag", "logbook:bag")
    if sheet.stage not in stays or sheet.loadings.filter(unloaded_at=None).exists():
        raise Refused(f"{sheet} went on since then: it is {sheet.get_stage_display()}.", *see)
    if sheet.loadings.order_by("-pk").first() != loading:
        raise Refused(f"{sheet} lay elsewhere since.", *see)
    if not lay_back(sheet, loading.unloaded_at):
        raise Refused(
            f"Another sheet lies in {loading.where} by now.", "See the bag", "logbook:bag"
        )
    if sheet.stage == Stage.BOXED:
        move(sheet, Stage.LOADED)


@verb
def restore(sheet):
    """It was not spoiled or lost after all: back to what it was, and into its side if that is
    free.
    """
    sheet = current(sheet)
    if not sheet.was:
        raise Refused(f"{sheet} was not given up.", f"See {sheet}", "logbook:sheet", sheet.code)
    was = Stage(sheet.was)
    lies_again = RULES[was].lies is not False and lay_back(sheet, sheet.given_up_at)
    move(sheet, was if lies_again else ELSEWHERE.get(was, was), given_back=True)
    sheet.was, sheet.given_up_at = "", None
    sheet.save(update_fields=["was", "given_up_at"])
    if RULES[sheet.stage].by_its_log:
        # What slipped may have been written down meanwhile.
        settle(sheet)
