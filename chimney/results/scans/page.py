"""The state of the pages of scans."""

import re
from dataclasses import dataclass
from functools import cached_property
from types import SimpleNamespace
from urllib.parse import urlencode

import numpy as np
from django.http import QueryDict

from chimney.logbook.models import Sheet
from chimney.parts import clicks, clock, drag, previews, svg
from chimney.results import wording
from chimney.results.models import Scan, ToneSetting
from chimney.results.scans import craft, figures, flows
from chimney.results.scans.forms import ExportForm, InOrderForm, ReadByForm, SettingForm, ToneForm

MOST_SPOTS, SMALLEST_PX = 3, 24
# The light table shows this many at once.
MOST_IN_ORDER = 48
DIGIT_RUN = re.compile(r"(\d+)", re.ASCII)
EXPORT_KINDS = (("jpg", "As JPEG"), ("png", "As PNG"), ("tif", "As TIFF, 16 bits"))


@dataclass(frozen=True)
class Working:
    """The positive as it is being made: form; settings: as typed, or as kept where the form is not
    right; its drawings; changed: the fields that a drag moved.
    """

    scan: Scan
    form: ToneForm
    settings: SimpleNamespace
    measured: np.ndarray
    aspect: float
    live: bool = False
    changed: tuple = ()

    @cached_property
    def positive(self):
        """The whole positive, what is cut off in shade."""
        typed = {name: getattr(self.settings, name) for name in flows.TONES}
        sent = {name: value for name, value in typed.items() if value is not False}
        return figures.positive(
            self.scan, self.aspect, self.settings, urlencode(sent | {"whole": "1"})
        )

    @property
    def grips(self):
        """Handles on the positive."""
        handles = figures.grips(self.positive, self.settings)
        return svg.handles(self.positive, "tones", handles, live=self.live, of="-crop")

    @cached_property
    def histogram(self):
        """Densities, with what becomes black and white."""
        return figures.histogram(self.measured, self.settings)

    @property
    def level_grips(self):
        """Handles on the densities."""
        handles = figures.level_grips(self.measured, self.settings)
        return svg.handles(self.histogram, "tones", handles, live=self.live, of="-levels")

    @property
    def moved(self):
        """The fields that a drag changed, as they now stand."""
        return [self.form[name].as_widget(attrs={"hx-swap-oob": "true"}) for name in self.changed]


def working(scan, params=None):
    """The Working of a scan, as kept or as typed and dragged in params; None without a preview."""
    if getattr(scan, "preview", None) is None:
        return None
    array = previews.array_of(scan.preview.jpeg)
    measured = craft.measured(array, scan.wedge)
    form = ToneForm(initial=_kept(scan)) if params is None else ToneForm(params)
    settings = typed(scan, form)
    turned = settings.quarters % 2
    aspect = array.shape[1] / array.shape[0] if turned else array.shape[0] / array.shape[1]
    pull, changed = drag.read(params.get("dragged")) if params is not None else None, {}
    if pull and form.is_valid():
        changed = figures.dragged(settings, measured, *pull, aspect)
        form = ToneForm(params.dict() | {name: f"{value:g}" for name, value in changed.items()})
        settings = typed(scan, form)
    live = params is not None
    return Working(scan, form, settings, measured, aspect, live, tuple(changed))


def as_typed(setting):
    """A ToneSetting as a form would send it."""
    sent = QueryDict(mutable=True)
    for name, value in _kept(setting).items():
        if value is not False:
            sent[name] = str(value)
    return sent


def _kept(source):
    return {name: getattr(source, name) for name in flows.TONES}


def of_scan(scan, work, spots=()):
    """Context of the page of one scan: what it says, its histogram and the ladder, if it belongs to
    a sheet that was timed.
    """
    page = {"scan": scan, "work": work, "rungs": (), "alike": alike(scan), "kinds": EXPORT_KINDS}
    page |= {"settings": ToneSetting.objects.all(), "setting_form": SettingForm()}
    page["export"] = ExportForm()
    page["read_by"] = ReadByForm(initial={"wedge": scan.wedge_id})
    if work is None:
        return page
    measured = work.measured
    if scan.sheet and scan.sheet.paper.medium.is_timed and not scan.transmitted:
        page |= says(measured, scan.sheet)
        page["marks"] = craft.look_here(measured, scan.sheet.paper)
        page["marks"] += craft.flare(scan.sheet.last_exposure, scan)
        page["rungs"] = craft.RUNGS
    page["spots"] = [(across, down, craft.spot(measured, across, down)) for across, down in spots]
    page["negative"] = figures.negative(scan, measured.shape, page.get("marks", ()), page["spots"])
    page["density_sd"] = craft.WEDGE_SD if scan.wedge else craft.STANDARD_SD
    if page["spots"]:
        page["spread"] = max(spot[2] for spot in page["spots"]) - min(s[2] for s in page["spots"])
    return page


def read_spots(texts):
    """[(across, down)] shares of an address, three at most; what is none is left out."""
    spots = []
    for text in texts:
        try:
            spots.append(clicks.shares(text))
        except ValueError:
            continue
    return spots[-MOST_SPOTS:]


def written(spots):
    """The newest spots as they stand in an address."""
    return urlencode([("p", clicks.written(*spot)) for spot in spots[-MOST_SPOTS:]])


def says(measured, sheet):
    """Meaning of the densities of a sheet: the Read, the sentence that follows from it, and its
    corners against its camera's, in words.
    """
    exposure = sheet.exposures.select_related("camera").first()
    less = exposure and craft.fall_off(measured.shape, exposure)
    result = craft.read(measured, sheet.paper, less)
    # Finer than a half nobody judges.
    stops = round(2 * result.judgement.stops_more) / 2
    context = {
        "read": result,
        "sentence": wording.sentence(sheet.paper.kind, stops),
        "proposed": stops,
    }
    if less is None or min(measured.shape) < SMALLEST_PX:
        return context
    corners = craft.corners_of(measured, sheet.paper, less)
    return context | {"corners": wording.corners(corners, exposure.camera)}


def exif(sheet, place=None):
    """{field: words} of the real exposure of a sheet; empty where there is none. Rationals of whole
    numbers, as Exif 2.3 has them; the EI as ISO where it is a whole number; the Place only where
    one is wished.
    """
    return _exposed(sheet) | (_located(place) if place else {})


def _located(place):
    """Degrees, minutes and seconds, and the side of the equator and of Greenwich."""
    location = {}
    for name, degrees, sides in (
        ("Latitude", place.latitude_deg, "NS"),
        ("Longitude", place.longitude_deg, "EW"),
    ):
        seconds = round(abs(degrees) * 360_000)
        minutes, hundredths = divmod(seconds, 6000)
        whole, minutes = divmod(minutes, 60)
        location[f"exif-ifd3-GPS{name}"] = f"{whole}/1 {minutes}/1 {hundredths}/100"
        location[f"exif-ifd3-GPS{name}Ref"] = sides[degrees < 0]
    return location


def _exposed(sheet):
    exposure = sheet and sheet.exposures.select_related("camera").first()
    if not exposure or not exposure.opening:
        return {}
    camera, opened = exposure.camera, clock.local(exposure.opening.opened_at)
    facts = {
        "exif-ifd0-ImageDescription": f"{sheet}: {exposure.title}",
        "exif-ifd2-FNumber": _rational(camera.f_number, 10),
        "exif-ifd2-FocalLength": _rational(camera.focal_mm, 10),
        "exif-ifd2-DateTimeOriginal": f"{opened:%Y:%m:%d %H:%M:%S}",
    }
    if exposure.given_s:
        facts["exif-ifd2-ExposureTime"] = _rational(exposure.given_s, 1000)
    ei = exposure.calculation.specification.ei
    return facts | ({"exif-ifd2-ISOSpeedRatings": f"{round(ei)}"} if ei >= 1 else {})


def _rational(value, parts):
    return f"{round(value * parts)}/{parts}"


def whole(scan):
    """The whole positive of a preview as an array, upright, nothing cut off or straightened: what a
    place on the paper is found on.
    """
    plain = typed(scan, None)
    plain.straighten_deg = plain.crop_left = plain.crop_right = 0.0
    plain.crop_top = plain.crop_bottom = 0.0
    array = previews.array_of(scan.preview.jpeg)
    return craft.tones(plain, array).positive(array)


def alike(scan):
    """Other scans of the same day whose positives could be made the same way."""
    if scan.sheet is None:
        return Scan.objects.none()
    return of_the_day(scan).filter(sheet__paper__kind=scan.sheet.paper.kind)


def of_the_day(scan):
    """The other scans that came that day."""
    day = clock.local(scan.came_at).date()
    rows = Scan.objects.filter(came_at__date=day, state=Scan.State.READY).exclude(pk=scan.pk)
    return rows.select_related("sheet__paper")


def unpictured():
    """Sheets that are dry and have no picture, in the order of their codes."""
    stages = ("developed", "read", "home", "scanned")
    rows = Sheet.objects.filter(stage__in=stages, is_pictured=False).order_by("pk")
    return sorted(rows[:MOST_IN_ORDER], key=lambda sheet: natural(sheet.code))


def natural(text):
    """A key that puts 2 before 10."""
    return [part.zfill(12) if part.isdecimal() else part for part in DIGIT_RUN.split(text.lower())]


def in_order(params=None, first=""):
    """The InOrderForm of the loose scans by their names, sheets from that code on, or None."""
    loose = Scan.objects.filter(state=Scan.State.READY, sheet=None).select_related("preview")
    loose = sorted(loose[:MOST_IN_ORDER], key=lambda scan: natural(scan.name))
    if not loose:
        return None
    sheets = unpictured()
    codes = [sheet.code.lower() for sheet in sheets]
    start = codes.index(first.lower()) if first.lower() in codes else 0
    proposed = [*sheets[start:], *[None] * len(loose)][: len(loose)]
    return InOrderForm(loose, proposed, params)


def typed(scan, form):
    """The settings of a scan, or those typed in a valid form, for craft.tones."""
    source = form.cleaned_data if form is not None and form.is_valid() else _kept(scan)
    return SimpleNamespace(**{name: source[name] for name in flows.TONES})
