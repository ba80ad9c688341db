"""The year of light as it stands: what was chosen or dragged, and what it says."""

from dataclasses import dataclass
from datetime import date
from functools import cached_property
from urllib.parse import urlencode

import numpy as np

from chimney.field import craft as field
from chimney.field.light.craft import Lit
from chimney.field.wording import say_stance, sun_stance
from chimney.field.year import craft, figures
from chimney.field.year.forms import YearForm
from chimney.kit import queries as kit
from chimney.lessons.proposing import queries as lessons
from chimney.logbook.models import Exposure
from chimney.parts import clock, drag
from chimney.parts.scales import size_of_stops
from chimney.places import queries as places
from chimney.places.craft import local
from pinhole import durations, light

FIELDS = ("camera", "paper", "place", "azimuth_deg", "sky", "day", "hour")
TABLE_HOURS, MONTHS = range(3, 23), range(1, 13)


@dataclass
class YearPage:
    """form: bound; year, specification, opened: None while something is missing; moved: whether
    the cross was dragged.
    """

    form: YearForm
    year: object = None
    specification: object = None
    opened: object = None
    moved: bool = False
    live: bool = False

    @cached_property
    def drawing(self):
        return figures.chart(self.year, self.opened)

    @property
    def handles(self):
        return figures.grips(self.year, self.drawing, self.opened, live=self.live)

    @property
    def sky(self):
        return light.SKY_BY_NAME[self.form.cleaned_data["sky"]]

    @property
    def headline(self):
        """The answer first: how long the hole stays open then."""
        when = f"{self.opened.day:%-d %B}, {self.opened.moment}"
        if self.opened.is_dark:
            return f"{when}: it is dark"
        if not self.opened.is_full:
            return f"{when}: not full before dark"
        return f"{when}: {durations.say(self.opened.counted_s)}"

    @property
    def sentence(self):
        """Words for the range, how the sun stands, and today's hours."""
        words = [self._range(), self._sun(), self._today()]
        return " ".join(filter(None, words))

    def _range(self):
        if not self.opened.is_full:
            lacks = self.opened.short_stops
            is_known = np.isfinite(lacks) and lacks < 20 and not self.opened.is_dark
            return f"{size_of_stops(lacks)} would lack at dusk.".capitalize() if is_known else ""
        calculated = craft.calculation(self.specification, self.sky, self.opened)
        ends = (
            self.opened.seconds * 2.0**stops
            for stops in (calculated.low_stops, calculated.high_stops)
        )
        low, high = (durations.say(durations.countable_s(end)) for end in ends)
        return f"Nine times in ten from {low} to {high}."

    def _sun(self):
        azimuth, place = self.form.cleaned_data["azimuth_deg"], self.year.place
        if azimuth is None or self.opened.altitude_deg < 0:
            return ""
        moment = self.moment
        stance = sun_stance(place, moment, azimuth, self.form.cleaned_data["camera"])
        shadows = Lit(altitude_deg=self.opened.altitude_deg, stops_less=self.sky.stops_less)
        return say_stance(stance, self.opened.altitude_deg, shadows=shadows.has_shadows)

    def _today(self):
        hours = self.year.sensible(min(self.year.days))
        if hours is None:
            return "Today no opening gets full within an hour."
        first, last = (f"{int(minute) // 60:02d}:{int(minute) % 60:02d}" for minute in hours)
        return f"Today a sheet opened from {first} to {last} is full within an hour."

    @property
    def moment(self):
        """The moment that is read off, on the place's clock."""
        hour, minute = divmod(int(self.opened.minute), 60)
        noon = local(clock.now(), self.year.place).replace(
            year=self.opened.day.year, month=self.opened.day.month, day=self.opened.day.day
        )
        return noon.replace(hour=hour, minute=minute, second=0, microsecond=0)

    @property
    def plan(self):
        """The query of a plan for that light."""
        cleaned = self.form.cleaned_data
        fields = {"camera": cleaned["camera"].pk, "paper": cleaned["paper"].pk, "kind": "ev"}
        fields |= {"ev": f"{self.opened.ev100:.2f}", "ev_iso": "100"}
        if cleaned["azimuth_deg"] is not None:
            fields["azimuth_deg"] = f"{cleaned['azimuth_deg']:g}"
        return urlencode(fields)

    @property
    def address(self):
        """The state of the page as a query."""
        typed = self.form.data | {"day": f"{self.opened.day:%Y-%m-%d}", "hour": self.opened.moment}
        return urlencode({name: value for name, value in typed.items() if value != ""})

    @property
    def months(self):
        """Their short names."""
        return [f"{date(2001, month, 1):%b}" for month in MONTHS]

    @property
    def widgets(self):
        """The fields that a drag changed, as they now stand."""
        if not self.moved:
            return []
        typed = {"day": f"{self.opened.day:%Y-%m-%d}", "hour": self.opened.moment}
        self.form.data = self.form.data | typed
        return [self.form[name].as_widget(attrs={"hx-swap-oob": "true"}) for name in typed]

    @property
    def table(self):
        """[(hour, [words of the middle of each month])] of the same numbers."""
        days = [self.year.nearest(min(self.year.days).replace(month=m, day=15)) for m in MONTHS]
        for hour in TABLE_HOURS:
            cells = [_cell(self.year.opening(day, 60.0 * hour)) for day in days]
            if any(cells):
                yield f"{hour}:00", cells


def _cell(opened):
    if opened.is_dark:
        return ""
    return durations.say(opened.counted_s) if opened.is_full else "dark first"


def usual():
    """Fields with which the form begins: as was exposed last, at home, in full sun, now."""
    place = places.chosen_or_home(None)
    last = Exposure.objects.order_by("-pk").select_related("sheet").first()
    now = local(clock.now(), place)
    camera = _offered("camera", last and last.camera_id)
    paper = _offered("paper", last and last.sheet.paper_id)
    typed = {"camera": camera, "paper": paper, "place": place and place.pk, "sky": "sun"}
    return typed | {"day": f"{now:%Y-%m-%d}", "hour": f"{now:%H:%M}"}


def _offered(name, key):
    """The key of a row if the form offers it, else that of the first that it does; or None."""
    rows = YearForm.base_fields[name].queryset.values_list("pk", flat=True)
    return rows.filter(pk=key).first() or rows.first()


def read(params, *, live=False):
    """The YearPage for what came in."""
    typed = usual() | {name: params[name] for name in FIELDS if name in params}
    form = YearForm({name: "" if value is None else value for name, value in typed.items()})
    page = YearPage(form, live=live)
    if not form.is_valid():
        return page
    cleaned = form.cleaned_data
    sky = light.SKY_BY_NAME[cleaned["sky"]]
    proposal = lessons.ratings().best(cleaned["paper"])
    page.specification = field.specification(
        cleaned["camera"], cleaned["paper"], proposal, seen=(sky.name, True)
    )
    first_day = local(clock.now(), cleaned["place"]).date()
    page.year = craft.year(
        cleaned["place"], page.specification, sky, first_day, cleaned["azimuth_deg"]
    )
    day, minute = cleaned["day"], cleaned["hour"].hour * 60.0 + cleaned["hour"].minute
    pull = drag.read(params.get("dragged"))
    if pull and pull[0] == "read":
        day, minute = figures.YearFrame(page.year).moment(*pull[1:])
        page.moved = True
    page.opened = page.year.opening(day, minute)
    return page


def need_what_is_planned():
    """True if there is a camera, a paper and a place."""
    return kit.any_camera() and kit.developed_papers().exists() and places.any_place()
