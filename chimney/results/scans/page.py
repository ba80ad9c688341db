"""The state of the pages of scans."""

import re
from dataclasses import dataclass, replace
from functools import cached_property
from types import SimpleNamespace
from urllib.parse import urlencode

from django.http import QueryDict

from chimney.logbook.models import Sheet
from chimney.parts import clicks, clock, drag, previews, svg
from chimney.results import wording
from chimney.results.curves import queries as curves
from chimney.results.curves.craft import by_spots, key_doubt
from chimney.results.marks import craft as marks
from chimney.results.models import Scan, ToneSetting
from chimney.results.placing import craft as placing
from chimney.results.placing import figures as outlines
from chimney.results.placing.forms import written as written_corners
from chimney.results.scans import craft, figures, flows
from chimney.results.scans.forms import ExportForm, InOrderForm, ReadByForm, SettingForm, ToneForm

MOST_SPOTS, SMALLEST_PX, MOST_ON_SCAN = 3, 24, 6
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
    pictured: craft.Pictured
    aspect: float
    live: bool = False
    changed: tuple = ()

    @property
    def measured(self):
        """The densities of its sheet."""
        return self.pictured.inside

    @cached_property
    def outline(self):
        """The outline of its sheet, over the scan as it came."""
        high, wide = self.pictured.shape
        size = figures.SHOWN_PX, figures.SHOWN_PX * high / wide
        return outlines.outline(self.pictured.corners, *size)

    @property
    def corner_grips(self):
        """Handles on that outline."""
        return outlines.grips(self.outline, self.pictured.corners, live=self.live)

    @property
    def corners_typed(self):
        """The state of the form of its corners."""
        size = {"wide": f"{self.outline.width:g}", "high": f"{self.outline.height:.6g}"}
        return {"corners": written_corners(self.pictured.corners)} | size

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
    pictured = craft.Pictured.of(scan)
    array = pictured.array
    form = ToneForm(initial=_kept(scan)) if params is None else ToneForm(params)
    settings = typed(scan, form)
    turned = settings.quarters % 2
    aspect = array.shape[1] / array.shape[0] if turned else array.shape[0] / array.shape[1]
    pull, changed = drag.read(params.get("dragged")) if params is not None else None, {}
    if pull and form.is_valid():
        changed = figures.dragged(settings, pictured.inside, *pull, aspect)
        form = ToneForm(params.dict() | {name: f"{value:g}" for name, value in changed.items()})
        settings = typed(scan, form)
    live = params is not None
    return Working(scan, form, settings, pictured, aspect, live, tuple(changed))


def placed(scan, corners):
    """Context of a scan whose sheet lies between other corners than are kept."""
    scan.corners = corners
    work = working(scan)
    context = {"scan": scan, "work": replace(work, live=True) if work else None}
    if work and scan.sheet and scan.sheet.paper.medium.is_timed and not scan.transmitted:
        context |= says(work.pictured, scan.sheet)
    return context


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
    pictured = work.pictured
    page |= {"others": other_sheets(pictured)}
    if scan.sheet and scan.sheet.paper.medium.is_timed and not scan.transmitted:
        page |= says(pictured, scan.sheet)
        page["marks"] = marks.look_here(pictured, scan.sheet.paper)
        flare = marks.flare(scan.sheet.last_exposure, scan)
        page["marks"] += [marks.on_scan(mark, pictured) for mark in flare]
        page["rungs"] = craft.RUNGS
    page["spots"] = [
        (across, down, craft.spot(pictured.everywhere, across, down)) for across, down in spots
    ]
    page["negative"] = figures.negative(scan, pictured.shape, page.get("marks", ()), page["spots"])
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


def other_sheets(pictured):
    """[corners as a form sends them] of other sheets on the same scan."""
    shape = pictured.shape
    every = [written_corners(placing.as_shares(place, shape)) for place in pictured.places]
    return [corners for corners in every if corners != written_corners(pictured.corners)][
        :MOST_ON_SCAN
    ]


def says(pictured, sheet):
    """Meaning of the densities of a Pictured sheet: the Read, the sentence that follows from it,
    and its corners against its camera's, in words.
    """
    exposure = sheet.exposures.select_related("camera").first()
    less = exposure and craft.fall_off(pictured.inside.shape, exposure)
    known, key_sd = curves.known_of(sheet.paper), key_doubt(exposure)
    how = known, key_sd
    result = craft.read(pictured, sheet.paper, less, *how, by_spots=by_spots(exposure))
    # Finer than a half nobody judges.
    stops = round(2 * result.judgement.stops_more) / 2
    sentence = wording.sentence(sheet.paper.kind, stops)
    if result.judgement.at_least and stops:
        sentence = wording.at_least(sentence)
    context = {"read": result, "sentence": sentence, "proposed": stops}
    if not result.judgement.cannot:
        context["range_words"] = wording.between(result.judgement)
        context["two_spots"] = wording.two_spots(result.judgement, exposure)
    if less is None or min(pictured.inside.shape) < SMALLEST_PX:
        return context
    corners = craft.corners_of(pictured.inside, sheet.paper, less)
    return context | {"corners": wording.corners(corners, exposure.camera)}


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
    return SimpleNamespace(
        corners=scan.corners, sheet=scan.sheet, **{name: source[name] for name in flows.TONES}
    )
