"""Calls to the craft for the hours of a view: how long the hole stays open whenever it is
opened.
"""

from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from functools import cached_property

import numpy as np

from chimney.field.hours.craft.outlook import (
    A_DAY,
    DAYS_AFTER,
    DAYS_BEFORE,
    GRID_MIN,
    Daylong,
    Outlook,
    daylong,
)
from chimney.field.light.craft import Lit, colour_in
from chimney.kit.catalogue.papers import BLUENESS
from chimney.places import craft as places
from pinhole import durations, exposure, light
from pinhole.light.dusk import dark_from_s, prospect
from pinhole.light.openings import Openings, openings

# Within so long an opening makes sense (common practice).
SENSIBLE_S = 3600.0
# In the dark as much lacks as anybody asks [stops].
LACKS_IN_DARK = 20.0


@dataclass(frozen=True)
class Hours:
    """Openings before a camera on some days, in the order in which they are shown. first_s: when
    each begins by the place's clock, on the light's clock, (n,); ahead_min: of that clock before
    its standard time, (n,); looks: numbers of the light's looks of each day, (n, t); minutes: of
    the place's clock, (t,); open_s, short_stops, spare_stops, altitude_deg, azimuth_deg,
    behind_deg: (n, t).
    """

    place: object
    outlook: Outlook
    light: Daylong
    specify: object
    paper: object
    days: list
    first_s: np.ndarray
    ahead_min: np.ndarray
    looks: np.ndarray
    minutes: np.ndarray
    metered_s: np.ndarray
    filling: Openings
    open_s: np.ndarray
    short_stops: np.ndarray
    spare_stops: np.ndarray
    altitude_deg: np.ndarray
    azimuth_deg: np.ndarray
    behind_deg: np.ndarray

    def by_day(self, values):
        """Values of the light (n,) as those of these days, (n, t)."""
        return values[self.looks]

    def moment(self, day, minute):
        """The moment of a day at a minute of the place's clock."""
        return self.light.start_utc + timedelta(seconds=self._second(day, minute))

    def second(self, opened):
        """Seconds of an Opened on the light's clock."""
        return self._second(opened.day, opened.minute)

    def _second(self, day, minute):
        n = self.days.index(self.nearest(day))
        return float(self.first_s[n] + 60 * minute)

    def nearest(self, day):
        """The day of these that has its month and day; the 28th for a leap day that is not there,
        the first for one that lies outside.
        """
        same = [each for each in self.days if (each.month, each.day) == (day.month, day.day)]
        leap = day.replace(day=28) if (day.month, day.day) == (2, 29) else None
        return same[0] if same else self.nearest(leap) if leap else min(self.days)

    def opening(self, day, minute):
        """The Opened of a day at a minute of the place's clock."""
        day, at_s, moment = self.nearest(day), self._second(day, minute), self.moment(day, minute)
        azimuth, altitude = places.sun_at(self.place, moment)
        k = int(at_s // (60 * GRID_MIN))
        ahead = slice(k, k + A_DAY * DAYS_AFTER + 1)
        light_s, logs = self.light.times_s[ahead], np.log(self.metered_s[ahead])
        after = light_s > at_s
        times = np.concatenate([[at_s], light_s[after]])
        metered = np.exp(np.interp(times, light_s, logs))
        heights = np.concatenate([[altitude], self.light.altitude_deg[ahead][after]])
        dark_s = np.inf if self.outlook.goes_on_at_night else dark_from_s(times, heights)
        opened = Opened(
            *(day, minute, moment.astimezone(self.place.tz), float("nan"), float("nan")),
            *(altitude, azimuth, float(np.interp(at_s, light_s, self.light.ev100[ahead]))),
            hidden=bool(self.light.behind_deg[k] >= 0),
            is_dark=bool(np.isnan(dark_s)),
        )
        if opened.is_dark:
            return opened
        # As the plan has it then, however its colour and what was learned run on the chart.
        exact = self.specification(opened).metered_s(opened.ev100) / metered[0]
        some = slice(0, self._looks_needed(k, times, dark_s))
        course = light.course(times[some], exact * metered[some], self.specify().school)
        outcome = prospect(course, at_s, dark_s)
        seconds = outcome.closes_s - at_s if outcome.full else np.inf
        return replace(opened, seconds=seconds, short_stops=outcome.short_stops)

    def drawn(self, day, minute):
        """(seconds, whether it is too dark to open) as the chart draws the look next to a minute of
        the place's clock.
        """
        k = round(self._second(self.nearest(day), minute) / (60 * GRID_MIN))
        return float(self.filling.open_s[k]), bool(np.isnan(self.filling.open_s[k]))

    def _looks_needed(self, k, times, dark_s):
        """Number of times after the look k that an opening may last for: twice as long as the chart
        has it, else until it is dark.
        """
        lasts_s = max(self.filling.open_s[k : k + 2])
        end_s = times[0] + 2 * lasts_s if np.isfinite(lasts_s) else dark_s
        return min(int(np.searchsorted(times, end_s)) + 2, A_DAY * DAYS_AFTER)

    def specification(self, opened, reading=None):
        """The Specification of an Opened, in the colour of its light."""
        lit = Lit(opened.altitude_deg, 0.0, opened.hidden, self.outlook.stops_less)
        if self.outlook.looks_deg is not None:
            angle = float(places.off_deg(opened.azimuth_deg, self.outlook.looks_deg))
            lit = replace(lit, off_deg=angle)
        colour = (0.0, 0.0) if opened.is_dark else colour_in(self.paper, lit)
        return self.specify(colour=colour, reading=reading)

    def calculation(self, opened, sky):
        """The Calculation of an Opened, as a plan by the eye's reading of that sky has it."""
        reading = exposure.read_ev(opened.ev100, 100, "", kind="sky", sd_stops=sky.sd_stops)
        return exposure.calculate(reading, self.specification(opened, reading))

    def sensible(self, day):
        """(first, last) minute of the place's clock at which a sheet gets full within SENSIBLE_S on
        that day, or None.
        """
        inside = self.within(SENSIBLE_S)[self.days.index(self.nearest(day))]
        good = np.flatnonzero(inside > 0)
        if not good.size:
            return None
        ends = (_met(inside, good[0], -1), _met(inside, good[-1], 1))
        return tuple(GRID_MIN * end for end in ends)

    def within(self, limit_s):
        """By how much each look is open shorter than a limit, as a logarithm, (n, t); no further
        from 0 than what is spare until dusk, so that its edge there lies where a sheet just gets
        full.
        """
        logs, spare = self._depths
        near = np.abs(spare)
        return np.where(spare > 0, np.clip(np.log(limit_s) - logs, -near, near), spare)

    @cached_property
    def _depths(self):
        """(logarithms of how long each look is open, stops that are spare until dusk), (n, t)."""
        open_s = np.nan_to_num(self.open_s, nan=np.inf)
        spare = np.nan_to_num(self.spare_stops, nan=-LACKS_IN_DARK)
        return np.log(np.where(np.isfinite(open_s), open_s, 1.0)), spare


@dataclass(frozen=True)
class Opened:
    """An opening that is read off: day, minute of the place's clock, moment; seconds, inf where
    dusk comes first, nan in the dark; short_stops that lack then; the sun's altitude and azimuth;
    ev100; hidden: whether it stands behind the skyline; is_dark: whether it is too dark to open.
    """

    day: date
    minute: float
    moment: datetime
    seconds: float
    short_stops: float
    altitude_deg: float
    azimuth_deg: float
    ev100: float
    hidden: bool
    is_dark: bool

    @property
    def clock(self):
        """ "14:30"."""
        return say_minute(self.minute)

    @property
    def is_full(self):
        return bool(np.isfinite(self.seconds))

    @property
    def counted_s(self):
        return durations.countable_s(self.seconds)


def _met(values, inside, side):
    """The look, and a part of one, at which values cross 0 between a look inside and its
    neighbour.
    """
    outside = inside + side
    if not 0 <= outside < values.size:
        return float(inside)
    return inside + side * float(values[inside] / (values[inside] - values[outside]))


def say_minute(minute):
    """ "14:30" of a minute of the day."""
    return f"{int(minute) // 60 % 24:02d}:{int(minute) % 60:02d}"


def hours(place, outlook, specify, paper, *, by_season=False):
    """The Hours of an Outlook; specify: colour, reading -> Specification; by_season: from January
    to December, whatever day is the first.
    """
    lit = daylong(outlook)
    metered = _metered_s(lit, specify, BLUENESS[paper.sees])
    heights = np.full_like(lit.altitude_deg, 90.0) if outlook.goes_on_at_night else lit.altitude_deg
    filling = openings(lit.times_s, metered, heights, specify().school)
    days = [outlook.first_day + timedelta(days=n) for n in range(outlook.days)]
    order = np.arange(outlook.days)
    if by_season:
        order = np.array(sorted(order, key=lambda n: (days[n].month, days[n].day)))
    ordered = [days[n] for n in order]
    ahead = np.array([_ahead_min(place, day, outlook.offset_h) for day in ordered])
    first_s = 86_400.0 * (DAYS_BEFORE + order) - 60 * ahead
    looks = np.asarray(first_s / (60 * GRID_MIN), int)[:, None] + np.arange(A_DAY)
    columns = (filling.open_s, filling.short_stops, filling.spare_stops)
    columns += (lit.altitude_deg, lit.azimuth_deg, lit.behind_deg)
    return Hours(
        *(place, outlook, lit, specify, paper, ordered, first_s, ahead, looks),
        *(np.arange(A_DAY) * GRID_MIN, metered, filling, *(values[looks] for values in columns)),
    )


def _metered_s(lit, specify, blueness):
    """Seconds before reciprocity at each moment, the colour of a low sun and what was learned under
    it included.
    """
    plain, low_sun = specify(), specify(colour=(light.LEAST_COLOUR_STOPS, 0.0))
    colour = blueness * lit.blue_stops
    # A plan begins to ask for it all at once, a chart little by little.
    is_asked = np.clip(np.abs(colour) / light.LEAST_COLOUR_STOPS - 0.5, 0, 1)
    learned = low_sun.more_stops - light.LEAST_COLOUR_STOPS - plain.more_stops
    return plain.metered_s(lit.ev100 - is_asked * (colour + learned))


def _ahead_min(place, day, offset_h):
    noon = datetime.combine(day, time(12), place.tz)
    return (noon.utcoffset() - timedelta(hours=offset_h)) / timedelta(minutes=1)
