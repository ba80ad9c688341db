"""Changes of a can: out, looked after, home, scanned."""

from django.db.models import Q

from chimney.kit import flows as kit
from chimney.kit.catalogue.papers import STARTER
from chimney.kit.models import Holder, Paper
from chimney.ledger.once import current, verb
from chimney.logbook import flows as logbook
from chimney.logbook.flows import corrections
from chimney.logbook.models import Loading, Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from chimney.solar.models import Event, Look, Solargraph


def _own_back(can):
    """The camera's own back, or a refusal."""
    back = Holder.objects.filter(camera=can.camera.body_pk, retired_at=None).first()
    if back is None:
        raise Refused(
            f"{can.camera} has no back of its own: tick that paper goes straight into it.",
            f"See {can.camera}",
            "kit:edit",
            "camera",
            can.camera_id,
        )
    return back


def _out_there(can):
    """Another solargraph that is out with the same box, or None."""
    body = can.camera.body_pk
    others_there = Solargraph.objects.filter(
        Q(camera=body) | Q(camera__body=body), sheet__stage=Sheet.Stage.OUT
    )
    return others_there.exclude(pk=can.pk).first()


def now(can):
    """The can as it is now, inside the transaction that changes it."""
    rows = Solargraph.objects.select_related("camera", "place", "sheet").defer("photo")
    return current(can, rows)


@verb
def put_out(can, opened_at=None, *, stood=(None, None)):
    """Open the hole for days: the fresh sheet that lies in the can, else one from the shelf, goes
    out.

    can: as it was typed; what it is by now is read anew; stood: (azimuth, lean) as they were
    measured, None where they were not. What an earlier time left in the can goes
    its own way.
    """
    if now(can).sheet_id:
        raise Refused(
            f"{can} is {now(can).sheet.get_stage_display()} already.",
            f"See {can}",
            "solar:one",
            can.pk,
        )
    neighbour = _out_there(can)
    if neighbour:
        raise Refused(
            f"{can.camera} is out already as {neighbour}.",
            f"See {neighbour}",
            "solar:one",
            neighbour.pk,
        )
    loading, can.loaded_by_it = _fresh_sheet(can)
    logbook.move(loading.sheet, Sheet.Stage.OUT)
    can.sheet, can.opened_at = loading.sheet, opened_at or clock.now()
    can.stood_azimuth_deg, can.stood_tilt_deg = stood
    can.save()
    return can


def _fresh_sheet(can):
    """(the Loading of a fresh sheet in the can, whether it was put there just now): any paper
    darkens.

    A sheet that an earlier time left there leaves it.
    """
    back = _own_back(can)
    loading = (
        Loading.objects.select_related("sheet__paper").filter(holder=back, unloaded_at=None).first()
    )
    if loading and loading.sheet.stage == Sheet.Stage.LOADED:
        return loading, False
    return corrections.load_instead(_paper(), back), True


def _paper():
    """Paper that is made for cans, else any that is on the shelf, else one of the starting set."""
    papers = Paper.objects.in_use()
    darkens = Paper.objects.put_out().first() or papers.exclude(base="film").first()
    return darkens or kit.take_starter_paper(STARTER[-1][0])


@verb
def describe(can, stood):
    """Keep what was said of a can that hangs: its spot, its photo; stood: as put_out has it."""
    held = now(can)
    azimuth, tilt = stood
    can.stood_azimuth_deg = held.stood_azimuth_deg if azimuth is None else azimuth
    can.stood_tilt_deg = held.stood_tilt_deg if tilt is None else tilt
    can.save(update_fields=[*DESCRIBED, *(["photo"] if can.photo else [])])


DESCRIBED: tuple[str, ...] = (
    "spot",
    "latitude_deg",
    "longitude_deg",
    "mounting",
    "contact",
    "permission",
    "note",
)
DESCRIBED += ("check_days", "stood_azimuth_deg", "stood_tilt_deg")


@verb
def not_out_after_all(can):
    """Undo a mis-tap: it was never put out."""
    can = now(can)
    _need(can, Sheet.Stage.OUT, "was not put out")
    sheet, fresh = can.sheet, can.loaded_by_it
    logbook.move(sheet, Sheet.Stage.LOADED)
    can.sheet, can.opened_at, can.loaded_by_it = None, None, False
    can.stood_azimuth_deg = can.stood_tilt_deg = None
    stood = ["stood_azimuth_deg", "stood_tilt_deg"]
    can.save(update_fields=["sheet", "opened_at", "loaded_by_it", *stood])
    if fresh:
        corrections.never_loaded(sheet)


def _need(can, stage, message):
    if can.stage != stage:
        raise Refused(f"{can} {message}.", f"See {can}", "solar:one", can.pk)


@verb
def note_event(can, kind, words="", at=None, *, stands=(None, None)):
    """Write down what was seen, now or at an earlier moment, and how it stands (azimuth, lean) if
    it was turned; missing makes it lost, found brings it
    back out, or home if its box is out again.
    """
    can = now(can)
    at = min(at or clock.now(), clock.now())
    if can.opened_at:
        at = max(at, can.opened_at)
    azimuth, tilt = stands
    event = Event.objects.create(
        solargraph=can, kind=kind, words=words, at=at, azimuth_deg=azimuth, tilt_deg=tilt
    )
    if kind == Event.Kind.MISSING and can.stage == Sheet.Stage.OUT:
        logbook.move(can.sheet, Sheet.Stage.LOST)
    elif kind == Event.Kind.FOUND and can.sheet and can.sheet.was:
        corrections.restore(can.sheet)
    elif kind == Event.Kind.FOUND and can.stage == Sheet.Stage.LOST:
        lies_in_it = can.sheet.loadings.filter(unloaded_at=None).exists()
        logbook.move(can.sheet, Sheet.Stage.OUT)
        if not lies_in_it:
            close(can)
    return event


@verb
def unnote_event(can, event):
    """Take back an event that did not happen; a can that was missing by it hangs again, one that
    was found by it is missing again.
    """
    can = now(can)
    event = can.events.filter(pk=event.pk).first()
    if event is None:
        return
    if event not in can.undoable:
        refusal = f"{can} was looked for again since: take that back first."
        raise Refused(refusal, f"See {can}", "solar:one", can.pk)
    event.delete()
    if event.kind == Event.Kind.MISSING and can.stage == Sheet.Stage.LOST:
        logbook.move(can.sheet, Sheet.Stage.OUT)
    elif event.kind == Event.Kind.FOUND and can.stage == Sheet.Stage.OUT:
        logbook.move(can.sheet, Sheet.Stage.LOST)


@verb
def set_spot(can, latitude_deg, longitude_deg):
    """Set by hand where it is."""
    can = now(can)
    can.latitude_deg, can.longitude_deg = latitude_deg, longitude_deg
    can.save(update_fields=["latitude_deg", "longitude_deg"])


@verb
def close(can, at=None):
    """The hole is shut, before anything is moved, now or at an earlier moment; from here on it is
    home.
    """
    can = now(can)
    _need(can, Sheet.Stage.OUT, "is not out")
    at = min(at or clock.now(), clock.now())
    can.closed_at = max(at, can.opened_at or at)
    can.save(update_fields=["closed_at"])
    logbook.move(can.sheet, Sheet.Stage.HOME)


@verb
def close_then(can, at):
    """It was shut at that moment, and not when that was written down."""
    can = now(can)
    if can.closed_at is None:
        raise Refused(f"{can} is not shut.", f"See {can}", "solar:one", can.pk)
    at = min(at or can.closed_at, clock.now())
    can.closed_at = max(at, can.opened_at or at)
    can.save(update_fields=["closed_at"])


@verb
def reopen(can):
    """Undo a mis-tapped close."""
    can = now(can)
    _need(can, Sheet.Stage.HOME, "is not home")
    if not can.sheet.loadings.filter(unloaded_at=None).exists():
        raise Refused(f"{can.camera} holds another sheet by now.", "See the cans", "solar:cans")
    can.closed_at = can.light_from = None
    can.save(update_fields=["closed_at", "light_from"])
    logbook.move(can.sheet, Sheet.Stage.OUT)


@verb
def into_light(can):
    """The can is opened in the dim room: from here on the sheet's time out of the dark is
    counted.
    """
    can = now(can)
    _need(can, Sheet.Stage.HOME, "is not home")
    can.light_from = can.light_from or clock.now()
    can.save(update_fields=["light_from"])


@verb
def scanned(can, minutes, lux, words=""):
    """The one scan: what it cost the sheet in light is its first look; the sheet leaves the can."""
    can = now(can)
    _need(can, Sheet.Stage.HOME, "is not home")
    logbook.move(can.sheet, Sheet.Stage.SCANNED)
    Loading.objects.filter(sheet=can.sheet, unloaded_at=None).update(unloaded_at=clock.now())
    return look_at(can, minutes, lux, words or "the one scan")


@verb
def look_at(can, minutes, lux, words=""):
    """Log a look at the unfixed sheet out of its box."""
    can = now(can)
    _need(can, Sheet.Stage.SCANNED, "is not in the archive box")
    return Look.objects.create(
        solargraph=can, minutes=minutes, lux=lux, words=words, at=clock.now()
    )


@verb
def unlook(can):
    """The look logged last is taken back; the scan itself too, and the can waits for its scan
    again.
    """
    can = now(can)
    _need(can, Sheet.Stage.SCANNED, "is not in the archive box")
    looks = list(Look.objects.filter(solargraph=can))
    if looks:
        looks[0].delete()
    if len(looks) < 2:
        can.fixed_at = None
        can.save(update_fields=["fixed_at"])
        logbook.move(can.sheet, Sheet.Stage.HOME)


@verb
def unfix(can):
    """It was not fixed after all."""
    can = now(can)
    can.fixed_at = None
    can.save(update_fields=["fixed_at"])


@verb
def fix(can):
    """One school fixes after the scan; it is written down because it cannot be undone."""
    can = now(can)
    _need(can, Sheet.Stage.SCANNED, "is not scanned: fixing comes after the scan or never")
    can.fixed_at = can.fixed_at or clock.now()
    can.save(update_fields=["fixed_at"])
