"""The page of a photo: how it is read, and the sheet that it lets one foresee."""

from dataclasses import dataclass
from functools import cached_property
from urllib.parse import urlencode

from django.urls import reverse

from chimney.field.hours.queries import specify_with, usual_pair
from chimney.field.light.craft import colour_in, lit_at
from chimney.field.photo import craft, figures, queries, wording
from chimney.field.photo.craft.moving import PEOPLE
from chimney.field.photo.forms import PhotoForm
from chimney.parts import clock, drag
from chimney.parts.scales import number
from chimney.places import queries as places
from chimney.places.craft import sun_at
from chimney.results.curves import queries as curves
from pinhole import exposure, media

# Where people stand and how long they stay, before anybody says it.
PEOPLE_FRAME, PEOPLE_STAY_S = ((0.4, 0.45), (0.6, 0.9)), 10.0
# A stop either way.
STOPS_BESIDE = ((-1.0, "One stop less"), (0.0, "As planned"), (1.0, "One stop more"))
# Where people stand and how long they stay, before anybody says it.
PEOPLE_FRAME, PEOPLE_STAY_S = ((0.4, 0.45), (0.6, 0.9)), 10.0


@dataclass
class PhotoPage:
    """photo: a ScenePhoto; form: bound; scenery: None while something is missing; moved: fields
    that a drag changed.
    """

    photo: object
    form: PhotoForm
    scenery: craft.Scenery | None = None
    moved: tuple = ()
    live: bool = False
    moving: bool = False

    @property
    def address(self):
        """The state of the page as a query."""
        data = {name: self.form.data.get(name, "") for name in self.form.fields}
        return urlencode({name: value for name, value in data.items() if value not in ("", None)})

    @cached_property
    def drawing(self):
        address = reverse("field:photo_jpeg", args=[self.photo.pk])
        return figures.photo(self.scenery, address, self.moving_part)

    @property
    def handles(self):
        return figures.grips(self.scenery, self.drawing, self.moving_part, live=self.live)

    @property
    def light(self):
        return figures.light(self.scenery)

    @cached_property
    def phone(self):
        return queries.phone_of(self.photo)

    @property
    def tells_light(self):
        """True if its exposure is known, or a meter was read beside it."""
        return self.photo.set_ev100 is not None or self.meter_ev100 is not None

    @property
    def meter_ev100(self):
        return self.form.cleaned_data.get("meter_ev100")

    @cached_property
    def reading(self):
        """The Reading that its plan stands on: a meter's beside it, else its own."""
        if self.meter_ev100 is not None:
            label = f"EV {number(self.meter_ev100)} beside your photo"
            return exposure.read_ev(self.meter_ev100, 100, label)
        if not self.tells_light:
            return None
        return craft.reading(self.scenery, self.phone, self.photo.is_night)

    @cached_property
    def calculation(self):
        camera, paper = self.scenery.camera, self.scenery.paper
        lit = lit_at(places.home(), clock.now(), looks_deg=self.looks_deg, ev100=self.reading.ev100)
        specify = specify_with(camera, paper, "")
        spec = specify(colour=colour_in(paper, lit), reading=self.reading)
        return exposure.calculate(self.reading, spec)

    @property
    def looks_deg(self):
        """The direction in which the pinhole looks, None where the photo's is not known."""
        if self.photo.facing_deg is None:
            return None
        return round(self.photo.facing_deg + self.scenery.pointing.azimuth_deg) % 360

    @property
    def stands_elsewhere(self):
        """True if the pinhole does not stand where the phone did, or that was typed wrongly."""
        fields = (self.form[name] for name in craft.STAND_FIELDS)
        return any(field.value() or field.errors for field in fields)

    @property
    def seconds(self):
        return self.calculation.seconds

    @property
    def frame(self):
        """(left, top, right, bottom) of the frame of people, as shares of the photo."""
        from_, to = self.form.cleaned_data["people"] or PEOPLE_FRAME
        return (*map(min, from_, to), *map(max, from_, to))

    @cached_property
    def moving_part(self):
        """The Moving of what is marked."""
        cleaned = self.form.cleaned_data
        line = cleaned["line"]
        # Who stays as long as nobody knows is gone.
        counts = cleaned["moves"] == PEOPLE and self.tells_light
        share = self.stay_s / self.seconds if counts else 0.0
        line = 0.5 if line is None else line
        return craft.Moving(cleaned["moves"], line, self.frame, min(1.0, share))

    @cached_property
    def foreseen(self):
        return self.scenery.foreseen(0.0, self.moving_part)

    @property
    def headline(self):
        return wording.headline(self)

    @property
    def sentence(self):
        return wording.sentence(self)

    @property
    def facts(self):
        return wording.facts(self)

    @property
    def doubt(self):
        return wording.doubt(self)

    @property
    def stay_s(self):
        """Seconds that people stay in the frame."""
        return self.form.cleaned_data["stay_s"] or PEOPLE_STAY_S

    @property
    def missing(self):
        """Share of the print that the photo does not reach."""
        return float(1 - self.foreseen.known.mean())

    @property
    def rungs(self):
        """[(words, seconds, query of its picture, empty, blocked)] of the ladder."""
        for stops, label in STOPS_BESIDE:
            seconds = self.seconds
            if stops:
                seconds = exposure.recalculate(self.calculation, stops=stops).seconds
            sheet = self.foreseen if not stops else self.scenery.foreseen(stops, self.moving_part)
            query = f"{self.address}&stops={stops:g}&bare=on"
            yield label, seconds, query, sheet.empty, sheet.blocked

    @property
    def is_positive(self):
        return media.medium(self.scenery.paper.kind).is_positive

    @property
    def plan(self):
        """The address of a plan by it, or of the shot that it is read for."""
        fields = {"camera": self.scenery.camera.pk, "paper": self.scenery.paper.pk, "kind": "ev"}
        fields |= {"ev": f"{self.reading.ev100:.2f}", "ev_iso": "100"}
        if self.meter_ev100 is None:
            fields["by_photo"] = self.photo.pk
        if self.photo.view:
            fields["subject"] = self.photo.view.subject
        if self.looks_deg is not None:
            fields["azimuth_deg"] = f"{self.looks_deg}"
        shot = self.form.cleaned_data["shot"]
        address = reverse("field:kept", args=[shot]) if shot else reverse("field:plan")
        return f"{address}?{urlencode(fields)}"

    @property
    def widgets(self):
        """The fields that a drag changed, as they now stand."""
        return [self.form[name].as_widget(attrs={"hx-swap-oob": "true"}) for name in self.moved]


def read(photo, params, *, live=False):
    """The PhotoPage for what came in, which begins as the photo was kept."""
    data = _kept(photo) | {name: params[name] for name in PhotoForm.base_fields if name in params}
    if "camera" in params:
        # A box that is not ticked is not sent.
        data |= {name: params.get(name, "") for name in ("upright", "bare")}
    form = PhotoForm(data)
    page = PhotoPage(photo, form, live=live)
    if not form.is_valid():
        return page
    _look(page)
    pull = drag.read(params.get("dragged"))
    page.moving = drag.is_moving(params.get("dragged"))
    if pull and page.scenery:
        _drag(page, *pull)
    return page


def _kept(photo):
    """Fields of the form as the photo was kept."""
    fields = PhotoForm.base_fields
    camera, paper = usual_pair(fields["camera"].queryset, fields["paper"].queryset, photo)
    begun = {"camera": camera and camera.pk, "paper": paper and paper.pk}
    begun |= {"turn_deg": f"{photo.turn_deg:g}", "tilt_deg": f"{photo.tilt_deg:g}"}
    begun |= {"upright": "on" if photo.upright else "", "moves": "", "bare": ""}
    begun["line"] = "0.5"
    lens = photo.equivalent_mm or craft.USUAL_EQUIVALENT_MM
    begun |= {"equivalent_mm": number(lens), "spots": figures.say_spots(photo.spots)}
    begun |= dict.fromkeys(("shot", "beside", "beside_deg", "stay_s"), "")
    stands = ((name, getattr(photo, name)) for name in craft.STAND_FIELDS)
    begun |= {name: f"{away:g}" if away else "" for name, away in stands}
    begun["people"] = figures.say_spots(PEOPLE_FRAME)
    meter = photo.meter_ev100
    return begun | {"meter_ev100": "" if meter is None else f"{meter:g}"}


def _turn_beside(page):
    """Read off the pictures how far a second photo is turned, if nobody has typed it."""
    cleaned = page.form.cleaned_data
    second, lens_mm = cleaned["beside"], cleaned["equivalent_mm"] or craft.USUAL_EQUIVALENT_MM
    if second is None or second == page.photo or cleaned["beside_deg"] is not None:
        return
    turn = craft.turn_between(page.photo, second, lens_mm)
    if turn is None:
        words = "These two share too little: type by how much it is turned."
        page.form.add_error("beside_deg", words)
        cleaned["beside"] = None
        return
    page.form = PhotoForm(page.form.data | {"beside_deg": f"{turn:g}"})
    page.form.is_valid()
    page.moved = ("beside_deg",)


def _look(page):
    _turn_beside(page)
    cleaned, before = page.form.cleaned_data, page.scenery
    # A drag changes no paper.
    curve = before.curve if before else curves.own_curve_of(cleaned["paper"])
    turned = cleaned.get("beside_deg")
    scenery = craft.Scenery(
        page.photo,
        *(cleaned["camera"], cleaned["paper"], tuple(map(tuple, cleaned["spots"]))),
        craft.aimed(cleaned["turn_deg"], cleaned["tilt_deg"], upright=cleaned["upright"]),
        cleaned["equivalent_mm"] or craft.USUAL_EQUIVALENT_MM,
        curve,
        (None if cleaned["beside"] == page.photo else cleaned["beside"], turned or 0.0),
        craft.stand(*(cleaned[name] for name in craft.STAND_FIELDS)),
        _sun(page.photo),
    )
    if scenery.is_broken:
        page.form.add_error("camera", "The picture of this photo is broken: bring it in once more.")
    else:
        page.scenery = scenery


def _sun(photo):
    """(azimuth, altitude) of the sun against where a photo looks, when and where it was taken; None
    where any of that is not known.
    """
    place = queries.place_of(photo)
    if photo.facing_deg is None or photo.taken_at is None or place is None:
        return None
    azimuth, altitude = sun_at(place, photo.taken_at)
    return azimuth - photo.facing_deg, altitude


def _drag(page, name, x, y):
    """Apply what was dragged to the fields beside the photo."""
    fields = figures.dragged(page.scenery, page.frame, name, x, y)
    if not fields:
        return
    page.form = PhotoForm(page.form.data | fields)
    page.moved += tuple(fields)
    if page.form.is_valid():
        _look(page)
