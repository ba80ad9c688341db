"""The planner as it stands: what was typed or dragged, and what the can will draw."""

from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from urllib.parse import urlencode

import numpy as np

from chimney.parts import drag, svg
from chimney.parts.scales import number
from chimney.places import craft as places
from chimney.solar import craft, figures
from chimney.solar.advising import wording
from chimney.solar.forms import GOALS, SunForm, say_points
from chimney.solar.models import Record, Solargraph
from chimney.solar.planner import flows, queries
from chimney.solar.planner.wording import eclipse_name, fine_facts
from chimney.solar.planner.wording import facts as facts_of
from chimney.solar.wording import cannot_lie
from pinhole import solargraph
from pinhole.projection import Pointing
from pinhole.solargraph import climate, pointing, skyline

FIRST_PLANNER = {"tilt_deg": "0", "kind": "span", "climate": "coast", "view": "positive"}
FIRST_PLANNER |= dict.fromkeys(
    ("roll_deg", "wall_deg", "water", "from_time", "to_time", "dragged"), ""
)
FIRST_PLANNER |= {"horizon": "", "leaf": "", "upper": ""}
PLANNER_BOXES = ("water",)
PLANNER_FIELDS = [*SunForm.base_fields, "dragged"]
SKYLINES = ("horizon", "leaf", "upper")
# Fields that a drag changes, which the live answer brings along.
DRAGGED = ("azimuth_deg", "tilt_deg", "horizon")
SHADOW_HOURS = range(7, 19)


@dataclass
class PlannerPage:
    """form: bound to typed; prediction: the craft's, or None while something is missing."""

    typed: dict
    form: SunForm
    prediction: craft.Prediction | None = None
    live: bool = False
    dragged: bool = False
    moving: bool = False
    other_place: bool = False

    def address(self, **more):
        """The state of the planner as the query of a short address; more: fields that shall stand
        otherwise.
        """
        typed = {name: value for name, value in (self.typed | more).items() if name != "line_of"}
        # A skyline that was cleared is not the place's own.
        fields = {name: value for name, value in typed.items() if value or name in SKYLINES}
        return urlencode(fields | {name: _short(fields[name] or "") for name in SKYLINES})

    @property
    def name(self):
        return self.form.cleaned_data["camera"].name

    @cached_property
    def advice(self):
        if self.form.cleaned_data["kind"] == Solargraph.Kind.GUESS:
            return wording.on_purpose(self.prediction, self.name)
        return wording.advice(self.prediction, self.name)

    @cached_property
    def eclipses(self):
        """Words for the greatest eclipse of its days, "" for none."""
        place, days = self.prediction.place, self.prediction.track.days
        ends = (day.astype(date) for day in (days[0], days[-1]))
        every = craft.eclipses_at(place, *ends)
        return eclipse_name(max(every, key=lambda one: one.share), place) if every else ""

    @cached_property
    def facts(self):
        return facts_of(self.prediction, moving=self.moving)

    @property
    def fine_facts(self):
        return fine_facts(self.prediction)

    @cached_property
    def sky(self):
        return figures.sky(self.prediction)

    @cached_property
    def handles(self):
        return svg.handles(self.sky, "sun", figures.grips(self.prediction), live=self.live)

    @cached_property
    def paper(self):
        return figures.paper(self.prediction, self.typed["view"])

    @cached_property
    def calendar(self):
        return figures.calendar(self.prediction)

    @property
    def goals(self):
        return GOALS

    @property
    def moved(self):
        """The fields that a drag or another place changed, as they now stand."""
        names = DRAGGED if self.dragged else SKYLINES if self.other_place else ()
        return [self.form[name].as_widget(attrs={"hx-swap-oob": "true"}) for name in names]

    @property
    def outside(self):
        return [field for field in self.form if field.name not in ("view", "water")]

    @property
    def compass(self):
        """Reading of a compass for the direction, and how far it is off there and then."""
        place, day = self.prediction.place, self.prediction.track.days[0].astype(date)
        declination = craft.declination_deg(place, day)
        bearing = float(pointing.compass_deg(self.prediction.pointing.azimuth_deg, declination))
        side = "east" if declination >= 0 else "west"
        return f"{bearing:.0f}°", f"{number(abs(declination), 2)}° {side}"

    @property
    def noon(self):
        return places.sun_day(self.prediction.place, self.day).noon

    @property
    def day(self):
        """The day on which the can is put out, or today if that is past."""
        first = self.prediction.track.days[0].astype(date)
        return max(
            first,
            min(places.today(self.prediction.place), self.prediction.track.days[-1].astype(date)),
        )

    @property
    def shadows(self):
        """[(clock time, direction of a stick's shadow)] through that day, while the sun stands high
        enough.
        """
        start, _ = places.bounds(self.prediction.place, self.day)
        lines = []
        for hour in SHADOW_HOURS:
            moment = start.replace(hour=hour)
            azimuth, altitude = places.sun_at(self.prediction.place, moment)
            if altitude > 3:
                lines.append(
                    (f"{moment:%H:%M}", f"{float(pointing.stick_shadow_deg(azimuth)):.0f}°")
                )
        return lines

    @property
    def wedge_mm(self):
        return craft.wedge_mm(self.prediction, self.prediction.pointing.tilt_deg)

    @property
    def schedule(self):
        """Openings of a figure of eight on the place's clock: the first days and each change of
        what is read.
        """
        if self.form.cleaned_data["kind"] != Solargraph.Kind.EIGHT:
            return []
        days = [day.astype(date) for day in self.prediction.track.days]
        typed = minutes_of(self.form.cleaned_data)[0]
        openings = craft.openings(self.prediction.place, days, typed)
        turns = [
            n
            for n in range(1, len(openings))
            if f"{openings[n][1]:%H:%M}" != f"{openings[n - 1][1]:%H:%M}"
        ]
        return [(day, f"{moment:%H:%M}") for day, moment in (openings[n] for n in [0, *turns])]


def _short(text):
    """Text that stands in an address for a skyline: itself, or its key if it is long."""
    return text if len(text) <= flows.LONGEST_IN_ADDRESS else flows.short(text)


def read(params, *, can=None, live=False, judging=False):
    """The PlannerPage for what came in; a kept solargraph is where it begins. While not judging,
    empty fields are forgiven.
    """
    typed_fields = {name: params[name] for name in PLANNER_FIELDS if name in params}
    # What is usual is looked up only where it is not typed.
    usual = (
        {}
        if can or {"place", "camera", "first_day", "last_day", "azimuth_deg"} <= set(typed_fields)
        else queries.usual()
    )
    typed = FIRST_PLANNER | usual | (queries.fields_of(can) if can else {}) | typed_fields
    typed |= {name: queries.whole(typed[name]) for name in SKYLINES}
    if "place" in params:
        typed |= {box: params.get(box, "") for box in PLANNER_BOXES}
    place = str(typed.get("place", ""))
    moved_on = str(params.get("line_of", place)) != place
    if moved_on or (not can and "horizon" not in params):
        typed |= dict.fromkeys(SKYLINES, "") | queries.skyline_of(typed.get("place"))
    form = SunForm({name: value or "" for name, value in typed.items()})
    form.fields["climate"].choices = [
        *form.fields["climate"].choices,
        *queries.measured(typed.get("place")),
    ]
    valid = form.is_valid()
    if not judging:
        form.forgive_empty()
    page = PlannerPage(typed, form, live=live, other_place=moved_on)
    if valid:
        _drag(page)
        _look(page)
    return page


def _drag(page):
    """Apply what was dragged in the sky drawing to the fields beside it, so that both stay in
    step.
    """
    cleaned, dragged = page.form.cleaned_data, drag.read(page.typed.get("dragged"))
    page.moving = drag.is_moving(page.typed.get("dragged"))
    page.typed["dragged"] = ""
    if not dragged:
        return
    track = craft.track(cleaned["place"], cleaned["first_day"], cleaned["last_day"])
    azimuth, height = figures.Frame(track).direction(dragged[1], dragged[2])
    if dragged[0] == "aim":
        changed = {"azimuth_deg": round(azimuth) % 360 * 1.0, "tilt_deg": round(height * 2) / 2}
        changed["tilt_deg"] = min(85.0, max(-85.0, changed["tilt_deg"]))
        fields = {name: f"{value:g}" for name, value in changed.items()}
    else:
        points, index = list(cleaned["horizon"] or figures.LEVEL), dragged[0].removeprefix("sky")
        if not index.isdecimal() or int(index) >= len(points):
            return
        index = int(index)
        points[index] = (round(azimuth, 1), round(max(0.0, height), 1))
        changed = {"horizon": tuple(points)}
        fields = {"horizon": say_points(points)}
    cleaned.update(changed)
    page.typed |= fields
    page.form.data = page.form.data | fields
    page.dragged = True


def _look(page):
    cleaned = page.form.cleaned_data
    track = craft.track(cleaned["place"], cleaned["first_day"], cleaned["last_day"])
    try:
        page.prediction = craft.predict(
            cleaned["place"],
            cleaned["camera"],
            Pointing(cleaned["azimuth_deg"], cleaned["tilt_deg"], cleaned["roll_deg"]),
            cleaned["first_day"],
            cleaned["last_day"],
            skyline=skyline.at(
                cleaned["place"].latitude_deg, *(cleaned[name] for name in SKYLINES)
            ),
            minutes=minutes_of(cleaned),
            wall_deg=cleaned["wall_deg"],
            weather=cleaned["climate"],
            sunshine=_sunshine(cleaned, track),
        )
    except ValueError as error:
        page.form.add_error("camera", cannot_lie(error))


def minutes_of(cleaned):
    """(from, to) in minutes of the standard clock, or None for a hole that stays open.

    A figure of eight is typed in standard time all year; sunrise, sunset and eclipse are typed as
    the clock of the first day shows them.
    """
    kind = cleaned["kind"]
    if kind not in ("rise", "set", "eight", "eclipse"):
        return None
    start = cleaned["from_time"].hour * 60 + cleaned["from_time"].minute
    if kind == Solargraph.Kind.EIGHT:
        return start, start
    end = cleaned["to_time"].hour * 60 + cleaned["to_time"].minute
    noon = places.bounds(cleaned["place"], cleaned["first_day"])[0].replace(hour=12)
    standard_min = 60 * craft.standard_offset_h(cleaned["place"], cleaned["first_day"])
    shift = round(noon.utcoffset() / timedelta(minutes=1) - standard_min)
    return (start - shift) % solargraph.DAY_MIN, (end - shift) % solargraph.DAY_MIN


def _sunshine(cleaned, track):
    """Measured days of sunshine where they were asked for and are there."""
    if cleaned["climate"] != "measured":
        return None
    record = Record.objects.filter(place=cleaned["place"]).first()
    step_h = (track.minutes[1] - track.minutes[0]) / 60
    try:
        return record and climate.read_csv(record.rows, track.days, track.up.sum(axis=1) * step_h)
    except ValueError:
        return np.zeros(len(track.days))
