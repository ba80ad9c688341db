"""The year of light as it stands: what was chosen or dragged, and what it says."""

from dataclasses import dataclass
from datetime import date
from functools import cached_property
from urllib.parse import urlencode

import numpy as np

from chimney.field.hours.craft import opening as opens
from chimney.field.hours.craft.outlook import outlook
from chimney.field.hours.page import of_today, say_opening
from chimney.field.hours.queries import specify_with, usual_pair
from chimney.field.light.craft import Lit
from chimney.field.wording import say_stance, sun_stance
from chimney.field.year.figures import chart
from chimney.field.year.figures.frame import Stretches, YearFrame
from chimney.field.year.forms import EVERYTHING, HARM_ONLY, LAMP, MOON, SUN_ONLY, YearForm
from chimney.kit import queries as kit
from chimney.lessons.proposing import queries as lessons
from chimney.parts import clock, drag
from chimney.parts.scales import number, size_of_stops
from chimney.places import queries as places
from chimney.places.craft import local
from chimney.places.models import View
from pinhole import durations, light

FIELDS = tuple(YearForm.base_fields)
TABLE_HOURS, NIGHT_HOURS, MONTHS = range(3, 23), range(24), range(1, 13)
A_YEAR = 365
# Skies that today is looked at under, beside the one that was chosen.
TODAYS_SKIES = ("sun", "bright", "heavy")
SHOWN = {
    EVERYTHING: (chart.SHOWN_SIDES, chart.SHOWN_FLARE, chart.SHOWN_SHADOW),
    SUN_ONLY: (chart.SHOWN_SIDES,),
    HARM_ONLY: (chart.SHOWN_FLARE, chart.SHOWN_SHADOW),
}
# More than this is not told as what lacks [stops].
MOST_LACK = 20


@dataclass
class YearPage:
    """form: bound; year: its Hours, opened: the Opened that is read off, None while something is
    missing; moved: whether the cross was dragged; live: whether it is an answer; moving: which of
    the charts is under the hand.
    """

    form: YearForm
    year: opens.Hours | None = None
    opened: opens.Opened | None = None
    moved: bool = False
    live: bool = False
    moving: int | None = None

    @cached_property
    def charts(self):
        """[(Drawing, the cross over it)] on a desk and in the hand; while it is dragged, of that
        one alone.
        """
        now = local(clock.now(), self.year.place)
        overlays = SHOWN.get(self.form.cleaned_data["over"] or EVERYTHING, ())
        fields = {"overlays": overlays, "now_min": 60 * now.hour + now.minute}
        charts = []
        for frame in self.frames:
            drawing = chart.chart(frame, self.opened, self.form.cleaned_data["camera"], **fields)
            cross = chart.grips(frame, drawing, self.opened, live=self.live)
            charts.append((drawing, cross))
        return charts

    @cached_property
    def frames(self):
        """The YearFrames that are drawn."""
        stretches = Stretches(self.year)
        frames = YearFrame(stretches), YearFrame(stretches, in_hand=True)
        return frames if self.moving is None else frames[self.moving : self.moving + 1]

    @property
    def hover(self):
        """One line of what a moment says."""
        return f"{self.opened.day:%a} {self.headline}. {self._sun()}".strip()

    @property
    def sky(self):
        return light.SKY_BY_NAME[self.form.cleaned_data["sky"]]

    @property
    def paper(self):
        return self.form.cleaned_data["paper"]

    @property
    def is_shut_at_night(self):
        return not self.year.outlook.goes_on_at_night

    @property
    def headline(self):
        """The answer first: how long the hole stays open then."""
        when = f"{self.opened.day:%-d %B}, {self.opened.clock}"
        if self.opened.is_dark:
            return f"{when}: it is dark"
        if not self.opened.is_full:
            return f"{when}: not full {'before dark' if self.is_shut_at_night else 'in two days'}"
        return f"{when}: {durations.say(self.opened.counted_s)}"

    @property
    def sentence(self):
        """Words for the range, and how the sun stands."""
        return " ".join(filter(None, [self._range(), self._sun(), self._moon()]))

    @cached_property
    def calculation(self):
        return self.year.calculation(self.opened, self.sky)

    def _range(self):
        if not self.opened.is_full:
            lacks = self.opened.short_stops
            is_known = np.isfinite(lacks) and lacks < MOST_LACK and self.is_shut_at_night
            return f"{size_of_stops(lacks)} would lack at dusk.".capitalize() if is_known else ""
        doubts = self.calculation.low_stops, self.calculation.high_stops
        low, high = (
            durations.say(durations.countable_s(self.opened.seconds * 2.0**stops))
            for stops in doubts
        )
        return f"Nine times in ten from {low} to {high}."

    def _sun(self):
        azimuth, place = self.form.cleaned_data["azimuth_deg"], self.year.place
        if self.opened.hidden:
            return "The sun stands behind the skyline."
        if azimuth is None or self.opened.altitude_deg < 0:
            return ""
        stance = sun_stance(place, self.opened.moment, azimuth, self.form.cleaned_data["camera"])
        shadows = Lit(altitude_deg=self.opened.altitude_deg, stops_less=self.sky.stops_less)
        return say_stance(stance, self.opened.altitude_deg, shadows=shadows.has_shadows)

    def _moon(self):
        lit = self.year.light.moon
        if lit is None:
            return ""
        place = int(np.searchsorted(self.year.light.times_s, self.year.second(self.opened)))
        if lit.altitude_deg[place] <= 0:
            return "The moon is down."
        share = number(100 * lit.lit_share[place], 2)
        return f"The moon stands {number(lit.altitude_deg[place], 2)}° high, {share} % of it lit."

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
    def again(self):
        """The query of when the sun stands again as then."""
        cleaned = self.form.cleaned_data
        fields = {"place": cleaned["place"].pk, "stood": f"{self.opened.moment:%Y-%m-%dT%H:%M}"}
        fields |= {"camera": cleaned["camera"].pk, "paper": cleaned["paper"].pk}
        if cleaned["azimuth_deg"] is not None:
            fields["azimuth_deg"] = f"{cleaned['azimuth_deg']:g}"
        return urlencode(fields | {"sky": self.sky.name})

    @property
    def address(self):
        """The state of the page as a query."""
        return self._address({})

    def _address(self, changed):
        typed = {name: self.form.data.get(name, "") for name in FIELDS} | self._read_off | changed
        return urlencode({name: value for name, value in typed.items() if value not in ("", None)})

    @property
    def _read_off(self):
        return {"day": f"{self.opened.day:%Y-%m-%d}", "hour": self.opened.clock}

    @property
    def views(self):
        """[(view, query of its year)] of the views that say which way they look."""
        views = View.objects.select_related("place").exclude(azimuth_deg=None)
        for view in views:
            changed = {"place": view.place_id, "azimuth_deg": f"{view.azimuth_deg:g}"}
            yield view, self._address(changed)

    @property
    def months(self):
        """Their short names."""
        return [f"{date(2001, month, 1):%b}" for month in MONTHS]

    @property
    def widgets(self):
        """The fields that a drag changed, as they now stand."""
        if not self.moved:
            return []
        self.form.data = self.form.data | self._read_off
        return [self.form[name].as_widget(attrs={"hx-swap-oob": "true"}) for name in self._read_off]

    @property
    def table_hours(self):
        """[(hour, [Opened in the middle of each month])] of the hours with any light."""
        for hour in self._clock_hours:
            openings = [self.year.opening(day, 60.0 * hour) for day in self._mid_months]
            if not all(opened.is_dark for opened in openings):
                yield hour, openings

    @property
    def table(self):
        """[(hour, [words of the middle of each month])] of the chart's numbers."""
        for hour in self._clock_hours:
            cells = [say_opening(*self.year.drawn(day, 60.0 * hour)) for day in self._mid_months]
            if any(cells):
                yield f"{hour}:00", cells

    @cached_property
    def _mid_months(self):
        return [self.year.nearest(min(self.year.days).replace(month=m, day=15)) for m in MONTHS]

    @property
    def _clock_hours(self):
        return TABLE_HOURS if self.is_shut_at_night else NIGHT_HOURS

    @cached_property
    def ratings(self):
        """The lessons' Ratings, read once."""
        return lessons.ratings()

    @cached_property
    def today(self):
        """The Today of the place under some skies."""
        cleaned = self.form.cleaned_data
        names = dict.fromkeys([self.sky.name, *TODAYS_SKIES])
        return of_today(
            *(cleaned["camera"], self.paper, cleaned["place"], cleaned["azimuth_deg"], names),
            self.ratings,
        )


def usual():
    """Fields with which the form begins: as was exposed last, at home, in full sun, now."""
    place = places.chosen_or_home(None)
    now = local(clock.now(), place)
    fields = YearForm.base_fields
    camera, paper = usual_pair(fields["camera"].queryset, fields["paper"].queryset)
    typed = {"camera": camera and camera.pk, "paper": paper and paper.pk}
    typed |= {"place": place and place.pk, "sky": "sun"}
    return typed | {"day": f"{now:%Y-%m-%d}", "hour": f"{now:%H:%M}", "over": EVERYTHING}


def read(params, *, live=False):
    """The YearPage for what came in."""
    typed = usual() | {name: params[name] for name in FIELDS if name in params}
    form = YearForm({name: "" if value is None else value for name, value in typed.items()})
    page = YearPage(form, live=live)
    if not form.is_valid():
        return page
    page.year = _hours(form.cleaned_data, page.ratings)
    day = form.cleaned_data["day"]
    minute = form.cleaned_data["hour"].hour * 60.0 + form.cleaned_data["hour"].minute
    pull = drag.read(params.get("hovered") or params.get("dragged"))
    if pull and pull[0] in (chart.READ, chart.READ_IN_HAND):
        in_hand = pull[0] == chart.READ_IN_HAND
        day, minute = YearFrame(Stretches(page.year), in_hand).moment(*pull[1:])
        page.moved = True
        page.moving = int(in_hand) if drag.is_moving(params.get("dragged")) else None
    page.opened = page.year.opening(day, minute)
    return page


def _hours(cleaned, ratings):
    """The Hours of a year by a cleaned YearForm and the lessons' Ratings."""
    place, sky = cleaned["place"], light.SKY_BY_NAME[cleaned["sky"]]
    night = {"moon": cleaned["night"] == MOON}
    night["lamp_ev"] = cleaned["lamp_ev"] if cleaned["night"] == LAMP else None
    first_day = local(clock.now(), place).date()
    look = outlook(place, first_day, A_YEAR, sky, cleaned["azimuth_deg"], **night)
    specify = specify_with(cleaned["camera"], cleaned["paper"], sky.name, ratings)
    return opens.hours(place, look, specify, cleaned["paper"], by_season=True)


def need_what_is_planned():
    """True if there is a camera, a paper and a place."""
    return kit.any_camera() and kit.developed_papers().exists() and places.any_place()
