"""Scans brought in, looked through, matched to their sheets, and how their positives are made."""

import re
from functools import partial

from django.db import transaction

from chimney.ledger.once import current, setting, together, verb
from chimney.logbook.flows import corrections
from chimney.logbook.models import Sheet
from chimney.parts import clock, previews
from chimney.results.models import Preview, Scan, ScannedWedge, ToneSetting
from chimney.results.scans import craft, files
from chimney.results.signals import scanned

# A strip shows it small.
THUMB_QUALITY = 74
# What a positive is made by.
TONES: tuple[str, ...] = (
    "transmitted",
    "inverted",
    "mirrored",
    "quarters",
    "low_percent",
    "high_percent",
    "gamma",
)
TONES += ("red_percent", "blue_percent", "saturation_percent")
TONES += ("by_channel", "straighten_deg", "crop_left", "crop_right", "crop_top", "crop_bottom")


def bring(name, chunks):
    """(Scan, whether it is new) of a file: the original is stored first, then written down.

    Raises files.UnreadableError, OSError.
    """
    return write_down(name, files.store(chunks))


@verb
def write_down(name, stored):
    """(Scan, whether it is new) of an original that lies in the folder."""
    scan_row = Scan.objects.filter(sha256=stored.sha256).first()
    if scan_row:
        return scan_row, False
    name = name.replace("\0", "")[-200:]
    fields = {"size_bytes": stored.size_bytes, "suffix": stored.suffix, "came_at": clock.now()}
    scan = Scan.objects.create(name=name, sha256=stored.sha256, **fields)
    sheet = sheet_named(name)
    if sheet:
        match(scan, sheet)
        scan.sheet = sheet
    return scan, True


def sheet_named(name):
    """The sheet whose code stands in a file's name, or None; the longest code wins."""
    codes_written = re.findall(r"[A-Za-z0-9-]+", name.rsplit(".", 1)[0])
    codes = {
        "-".join(codes_written[a:b]).upper()
        for a in range(len(codes_written))
        for b in range(a + 1, a + 4)
    }
    codes |= {word.upper() for word in codes_written}
    sheets = list(Sheet.objects.filter(code__in=list(codes)[:200]))
    sheets += list(Sheet.objects.filter(code__iexact=name.rsplit(".", 1)[0])[:1])
    return max(sheets, key=lambda sheet: len(sheet.code), default=None)


@verb
def match(scan, sheet):
    """It is a scan of that sheet, or of none if None."""
    scan = current(scan)
    before, scan.sheet = scan.sheet, sheet
    if sheet:
        # A negative is turned; what is a positive already stays one.
        scan.inverted = not (sheet.paper.medium.is_positive or sheet.is_print)
        scan.mirrored = _is_mirrored(sheet)
        scan.by_channel = not sheet.paper.medium.is_timed
    scan.save(update_fields=["sheet", "inverted", "mirrored", "by_channel"])
    _forget_tones([scan])
    _make_thumb(scan)
    for owner in filter(None, {before, sheet}):
        has_scan = owner.scans.filter(state=Scan.State.READY).exists()
        corrections.set_pictured(owner, there=has_scan)
        scanned.send(Scan, sheet=owner)


def _is_mirrored(sheet):
    """Every emulsion-side copy shows the scene the wrong way round; a sheet that is the picture
    itself is seen as it hangs.
    """
    return sheet.meant_for != Sheet.Purpose.OBJECT


@setting
def sheet_purposed(sender, sheet, **kwargs):
    """Its pictures are turned round as its purpose wants them."""
    for scan in sheet.scans.all():
        scan.mirrored = _is_mirrored(sheet)
        scan.save(update_fields=["mirrored"])
        _make_thumb(scan)


@verb
def match_all(pairs):
    """Match each (scan, sheet)."""
    for scan, sheet in pairs:
        match(scan, sheet)


def look_through(scan):
    """Make its preview, or say why there is none; the original stays as it is. Raises OSError where
    it is the disc that is not well: it waits on.
    """
    try:
        looked_through = files.look_through(files.path_of(scan))
    except files.UnreadableError as error:
        return not_read(scan, str(error))
    except FileNotFoundError:
        return not_read(scan, "Its original is gone from the folder.")
    return keep_seen(scan, looked_through)


@setting
def not_read(scan, message):
    """It cannot be read, and why."""
    Scan.objects.filter(pk=scan.pk).update(state=Scan.State.BROKEN, trouble=message[:300])


def keep_seen(scan, looked):
    """It was looked through. What takes long is made before anybody waits for it."""
    return _keep_seen(scan, looked, previews.jpeg(looked.picture), _smaller(looked.picture))


@setting
def _keep_seen(scan, looked, jpeg, smaller):
    """A half that came before under its name makes way."""
    scan = current(scan, Scan.objects.select_related("sheet__paper"))
    scan.width, scan.height, scan.bits = looked.width, looked.height, looked.bits
    scan.state, scan.trouble = Scan.State.READY, ""
    scan.save(update_fields=["width", "height", "bits", "state", "trouble"])
    fields = {"jpeg": jpeg, "thumb": _thumb(scan, smaller), "tones": None}
    Preview.objects.update_or_create(scan=scan, defaults=fields)
    if scan.sheet:
        corrections.set_pictured(scan.sheet, there=True)
        scanned.send(Scan, sheet=scan.sheet)
    halves = Scan.objects.filter(name=scan.name, state=Scan.State.BROKEN).exclude(pk=scan.pk)
    for half in halves:
        transaction.on_commit(partial(files.path_of(half).unlink, missing_ok=True))
        half.delete()


def _make_thumb(scan):
    preview = Preview.objects.filter(scan=scan).first()
    if preview is None:
        return
    preview.thumb = _thumb(scan, _smaller(previews.array_of(preview.jpeg)))
    preview.save(update_fields=["thumb"])


def _smaller(array):
    """Large enough to make a stamp of, and no larger."""
    return previews.small(array, 2 * files.THUMB_PX)


def _thumb(scan, smaller):
    """The JPEG of its positive at the size of a stamp."""
    positive = craft.tones(scan, smaller).positive(smaller)
    return previews.jpeg(previews.small(positive, files.THUMB_PX), THUMB_QUALITY)


def waiting(limit):
    """The Scans that wait to be looked through, oldest first."""
    return Scan.objects.filter(state=Scan.State.WAITING).order_by("came_at", "pk")[:limit]


def work_off(limit=1000):
    """Look through what waits, oldest first; how many those were."""
    scans_waiting = waiting(limit)
    with together():
        for scan in scans_waiting:
            look_through(scan)
    return len(scans_waiting)


@verb
def keep_setting(name, values):
    """The ToneSetting of that name, new or as it is now."""
    columns = {column: values[column] for column in TONES}
    return ToneSetting.objects.update_or_create(name=name, defaults=columns)[0]


@verb
def forget_setting(setting):
    """Positives that were made by it stay as they are."""
    setting.delete()


@setting
def tone_all(scans, kept):
    """The positives of those scans are made by a ToneSetting."""
    values = {name: getattr(kept, name) for name in TONES}
    for scan in scans:
        tone(scan, values)


@verb
def keep_wedge(name, steps, scans):
    """The ScannedWedge of that name; those scans are read by it."""
    columns = {"steps": [list(step) for step in steps], "made_at": clock.now()}
    wedge, _ = ScannedWedge.objects.update_or_create(name=name, defaults=columns)
    read_by(scans, wedge)
    return wedge


@setting
def read_by(scans, wedge):
    """Those scans are read by that wedge, or by the standard curve if None."""
    Scan.objects.filter(pk__in=[scan.pk for scan in scans]).update(wedge=wedge)
    _forget_tones(scans)


@setting
def _forget_tones(scans):
    """They are read otherwise than before."""
    Preview.objects.filter(scan__in=[scan.pk for scan in scans]).update(tones=None)


@verb
def keep_corners(scan, corners):
    """Its sheet lies between those corners, as shares of the scan; None: where it is found."""
    scan = current(scan)
    scan.corners = corners
    scan.save(update_fields=["corners"])
    _forget_tones([scan])
    _make_thumb(scan)
    if scan.sheet:
        scanned.send(Scan, sheet=scan.sheet)


@setting
def tone(scan, values, *, also=()):
    """Set how its positive is made; also: scans that are made like it."""
    for scan_row in (scan, *also):
        for name in TONES:
            setattr(scan_row, name, values[name])
        scan_row.save(update_fields=list(TONES))
        _make_thumb(scan_row)
