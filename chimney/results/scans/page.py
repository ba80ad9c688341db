"""The state of the pages of scans."""

from types import SimpleNamespace

from chimney.parts import clock, svg
from chimney.results import wording
from chimney.results.models import Scan
from chimney.results.scans import craft, files, flows

WIDE, HIGH = 480.0, 120.0
KINDS = (("jpg", "JPEG"), ("png", "PNG"), ("tif", "TIFF, 16 bits"))


def of_scan(scan, form):
    """What the page of one scan shows: what it says, its histogram and the ladder, if it belongs to
    a sheet that was timed.
    """
    page = {"scan": scan, "form": form, "rungs": (), "alike": alike(scan), "kinds": KINDS}
    preview = getattr(scan, "preview", None)
    if preview is None:
        return page
    array = files.array_of(preview.jpeg)
    page["histogram"] = histogram(craft.histogram(array))
    if scan.sheet and scan.sheet.paper.kind != "solargraph" and not scan.transmitted:
        page |= says(array, scan.sheet.paper)
        page["rungs"] = craft.RUNGS
    return page


def says(array, paper):
    """What a preview of such paper says: the Read, and the sentence that follows from it."""
    read = craft.read(array, paper)
    # Finer than a half nobody judges.
    stops = round(2 * read.judgement.stops_more) / 2
    return {"read": read, "sentence": wording.sentence(paper.kind, stops), "proposed": stops}


def exif(sheet):
    """{field: words} of the real exposure of a sheet; empty where there is none. Rationals of whole
    numbers, as Exif 2.3 has them; the EI as ISO where it is a whole number.
    """
    exposure = sheet and sheet.exposures.select_related("camera").first()
    if not exposure or not exposure.opening:
        return {}
    camera, opened = exposure.camera, clock.local(exposure.opening.opened_at)
    told = {
        "exif-ifd0-ImageDescription": f"{sheet}: {exposure.title}",
        "exif-ifd2-FNumber": _rational(camera.f_number, 10),
        "exif-ifd2-FocalLength": _rational(camera.focal_mm, 10),
        "exif-ifd2-DateTimeOriginal": f"{opened:%Y:%m:%d %H:%M:%S}",
    }
    if exposure.given_s:
        told["exif-ifd2-ExposureTime"] = _rational(exposure.given_s, 1000)
    ei = exposure.calculation.specification.ei
    return told | ({"exif-ifd2-ISOSpeedRatings": f"{round(ei)}"} if ei >= 1 else {})


def _rational(value, parts):
    return f"{round(value * parts)}/{parts}"


def histogram(shares):
    """A Drawing of how much of the picture has which density."""
    step = WIDE / len(shares)
    bars = [
        svg.rect(n * step, HIGH - 20 - share * 90, step * 0.9, share * 90, "bar-done")
        for n, share in enumerate(shares)
    ]
    marks = [
        svg.text(at / 2.4 * WIDE, HIGH - 4, f"{at:g}", "label", "middle")
        for at in (0.3, 0.6, 0.9, 1.2, 1.5, 1.8, 2.1)
    ]
    words = "how much of the sheet has which density, 0 to 2.4"
    return svg.Drawing("Densities", words, WIDE, HIGH, (*bars, *marks), "histogram")


def alike(scan):
    """Other scans of the same day whose positives could be made the same way."""
    if scan.sheet is None:
        return Scan.objects.none()
    day = scan.came_at.date()
    rows = Scan.objects.filter(came_at__date=day, state=Scan.State.READY).exclude(pk=scan.pk)
    return rows.filter(sheet__paper__kind=scan.sheet.paper.kind)


def typed(scan, form):
    """The settings of a scan, or those typed in a valid form, for craft.tones."""
    source = form.cleaned_data if form is not None and form.is_valid() else vars(scan)
    return SimpleNamespace(**{name: source[name] for name in flows.TONES})
