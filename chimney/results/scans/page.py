"""The state of the pages of scans."""

from types import SimpleNamespace
from urllib.parse import urlencode

from django.urls import reverse

from chimney.parts import clicks, clock, svg
from chimney.results import wording
from chimney.results.models import Scan
from chimney.results.scans import craft, files, flows

WIDE, HIGH = 480.0, 120.0
SHOWN_PX, MOST_SPOTS = 520.0, 3
KINDS = (("jpg", "JPEG"), ("png", "PNG"), ("tif", "TIFF, 16 bits"))


def of_scan(scan, form, spots=()):
    """What the page of one scan shows: what it says, its histogram and the ladder, if it belongs to
    a sheet that was timed.
    """
    page = {"scan": scan, "form": form, "rungs": (), "alike": alike(scan), "kinds": KINDS}
    preview = getattr(scan, "preview", None)
    if preview is None:
        return page
    array = files.array_of(preview.jpeg)
    measured = craft.densities(array)
    page["histogram"] = histogram(craft.histogram(measured))
    if scan.sheet and scan.sheet.paper.kind != "solargraph" and not scan.transmitted:
        page |= says(measured, scan.sheet.paper)
        page["marks"] = craft.look_here(measured, scan.sheet.paper)
        page["rungs"] = craft.RUNGS
    page["spots"] = [(across, down, craft.spot(measured, across, down)) for across, down in spots]
    page["negative"] = negative(scan, array.shape, page.get("marks", ()), page["spots"])
    if page["spots"]:
        page["spread"] = max(spot[2] for spot in page["spots"]) - min(s[2] for s in page["spots"])
    return page


def negative(scan, shape, marks, spots):
    """A Drawing of the scan as it came, with what deserves a look and the spots laid over it."""
    wide, high = SHOWN_PX, SHOWN_PX * shape[0] / shape[1]
    address = reverse("results:negative", args=[scan.pk])
    shapes = [svg.Shape("image", {"href": address, "width": wide, "height": high, "class": ""})]
    for mark in marks:
        left, top = mark.left * wide, mark.top * high
        box = (mark.right - mark.left) * wide, (mark.bottom - mark.top) * high
        shapes += [svg.rect(left, top, *box, "look-here"), svg.text(left + 4, top + 18, mark.kind)]
    for n, (across, down, _) in enumerate(spots, 1):
        x, y = across * wide, down * high
        shapes += [svg.circle(x, y, 7.0, "mark-ring"), svg.text(x + 9, y - 7, n, "label")]
    words = f"{len(marks)} places that deserve a look, {len(spots)} spots"
    return svg.Drawing("The sheet as scanned", words, wide, high, tuple(shapes), "overlay")


def read_spots(texts):
    """[(across, down)] shares of an address, three at most; what is none is left out."""
    found = []
    for text in texts:
        try:
            found.append(clicks.shares(text))
        except ValueError:
            continue
    return found[-MOST_SPOTS:]


def written(spots):
    """The newest spots as they stand in an address."""
    return urlencode([("p", clicks.written(*spot)) for spot in spots[-MOST_SPOTS:]])


def says(measured, paper):
    """What densities of such paper say: the Read, and the sentence that follows from it."""
    read = craft.read(measured, paper)
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
