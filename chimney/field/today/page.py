"""Today's light at each view: when the hole may be opened, now and this week."""

from dataclasses import dataclass
from functools import cached_property
from urllib.parse import urlencode

import numpy as np

from chimney.field.hours.craft import opening as opens
from chimney.field.hours.craft.outlook import outlook
from chimney.field.hours.queries import specify_with, usual_pair
from chimney.field.returning import craft as returning
from chimney.field.returning import queries as thens
from chimney.field.today.forms import FORECAST
from chimney.kit.models import Camera, Paper
from chimney.lessons.proposing import queries as lessons
from chimney.parts import clock
from chimney.places.craft import local
from chimney.places.models import Place, View
from pinhole import durations, light

WEEK_DAYS = 7
USUAL_SKY = "sun"


@dataclass(frozen=True)
class ViewToday:
    """view; then: the light of its last sheet, or None; hours: Hours of this week; camera; sky: the
    light.Sky that holds where nothing was forecast.
    """

    view: View
    then: object
    hours: opens.Hours
    camera: Camera
    paper: Paper
    sky: light.Sky

    @cached_property
    def now(self):
        return local(clock.now(), self.view.place)

    @property
    def minute(self):
        return 60.0 * self.now.hour + self.now.minute

    @cached_property
    def between(self):
        """(first, last) minute of today's openings that make sense, or None."""
        return self.hours.sensible(self.now.date())

    @cached_property
    def comeback(self):
        """Today's Comeback of the light of its last sheet, or None."""
        return returning.today(self.then) if self.then else None

    @property
    def best(self):
        """The Opened of today's shortest opening that is still to come; None without any."""
        day = self.now.date()
        n = self.hours.days.index(day)
        open_s = np.nan_to_num(self.hours.open_s[n], nan=np.inf)
        clock_min = self.hours.minutes
        open_s = np.where(clock_min < self.minute, np.inf, open_s)
        k = int(np.argmin(open_s))
        return self.hours.opening(day, float(clock_min[k])) if np.isfinite(open_s[k]) else None

    @property
    def is_over(self):
        """True if no opening of today makes sense any more."""
        return self.between is None or self.minute > self.between[1]

    @property
    def sentence(self):
        """Today in one line."""
        line = self._told()
        return line[0].upper() + line[1:]

    def _told(self):
        if self.comeback and self.comeback.ends > self.now:
            return (
                f"{self.view.subject} has its light again from {self.comeback.hours}; "
                f"{self.camera} needs {durations.say(self.comeback.seconds)}."
            )
        if self.between is None:
            return f"{self.view.subject}: today no opening gets full within an hour."
        first, last = (opens.say_minute(minute) for minute in self.between)
        if self.is_over:
            return f"{self.view.subject}: today's last opening was at {last}."
        best = self.best
        needs = (
            f"; {self.camera} needs {durations.say(best.counted_s)} at {best.clock}" if best else ""
        )
        return f"{self.view.subject}: open from {first} to {last}{needs}."

    @property
    def week(self):
        """[(day, "08:23 to 13:15" or a word)] of this week."""
        for day in self.hours.days:
            ends = self.hours.sensible(day)
            span = " to ".join(opens.say_minute(minute) for minute in ends) if ends else "not full"
            yield day, span

    @property
    def year(self):
        """The query of its year of light."""
        return urlencode(
            {
                "camera": self.camera.pk,
                "paper": self.paper.pk,
                "place": self.view.place_id,
                "azimuth_deg": f"{self.view.azimuth_deg:g}",
                "sky": self.sky.name,
            }
        )


def views_today(sky_name):
    """[ViewToday] of the views that say which way they look, those with light to come first."""
    ratings = lessons.ratings()
    usual = usual_pair(Camera.objects.in_use(), Paper.objects.timed())
    rows = []
    for view in View.objects.select_related("place").exclude(azimuth_deg=None):
        then = thens.of_view(view)
        camera, paper = (_pair(then) if then else None) or usual
        if camera and paper:
            rows.append(_row(view, then, camera, paper, sky_name, ratings))
    return sorted(rows, key=lambda row: (row.is_over, row.comeback is None, row.minute))


def _row(view, then, camera, paper, sky_name, ratings):
    sky = light.SKY_BY_NAME[USUAL_SKY if sky_name == FORECAST else sky_name]
    clouds = view.place.clouds if sky_name == FORECAST else ()
    today = local(clock.now(), view.place).date()
    look = outlook(view.place, today, WEEK_DAYS, sky, view.azimuth_deg, clouds=map(tuple, clouds))
    specify = specify_with(camera, paper, sky.name, ratings)
    hours = opens.hours(view.place, look, specify, paper)
    return ViewToday(view, then, hours, camera, paper, sky)


def _pair(then):
    camera = Camera.objects.in_use().filter(pk=then.fields["camera"]).first()
    paper = Paper.objects.timed().filter(pk=then.fields["paper"]).first()
    return (camera, paper) if camera and paper else None


def usual_sky():
    """FORECAST where cloud is forecast for a place from now on, else USUAL_SKY."""
    now = clock.now().timestamp()
    forecasts = Place.objects.exclude(clouds=[]).values_list("clouds", flat=True)
    return FORECAST if any(clouds[-1][0] > now for clouds in forecasts) else USUAL_SKY
