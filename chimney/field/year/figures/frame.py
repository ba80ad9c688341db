"""Frame of the year of light, months across, hours of the place's clock down the side; and what
fills a part of it.
"""

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from chimney.parts import svg
from chimney.parts.axes import Axis
from pinhole.light.dusk import DARK_DEG

# Width, height, and what is left of them at each side, on a desk and in the hand.
DESK = (720.0, 430.0), (46.0, 8.0, 8.0, 44.0)
IN_HAND = (282.0, 350.0), (42.0, 3.0, 6.0, 22.0)
# Hours that are drawn at least, in minutes of the clock.
LEAST_HOURS = (8 * 60, 16 * 60)


@dataclass(frozen=True)
class Stretches:
    """Stretches of the days of some Hours in which something holds, reckoned once for every frame
    that they are drawn in.
    """

    hours: object
    _known: dict = field(default_factory=dict)

    def values(self, key, reckon):
        """The values (n, t) of a key, by a function that is called once."""
        if key not in self._known:
            self._known[key] = reckon()
        return self._known[key]

    def runs(self, key, values, limit=0.0):
        """[Stretch] of the days on which values (n, t) lie above a limit, straight between: broken
        where the clock is put forward or back, and where stretches of a day begin or end.
        """
        return self.values(("runs", key), lambda: self._runs(values, limit))

    def _runs(self, values, limit):
        runs, ahead = [], self.hours.ahead_min
        for n, ends in enumerate(self._of_days(values, limit)):
            last = runs[-1] if runs else None
            follows = last and last.first + len(last.days) == n and len(last.days[-1]) == len(ends)
            if follows and ahead[n - 1] == ahead[n]:
                last.days.append(ends)
            elif ends:
                runs.append(Stretch(n, [ends]))
        return runs

    def _of_days(self, values, limit):
        """For each day [(from, to, whether each is a crossing)] in minutes of the clock."""
        above = np.zeros((values.shape[0], values.shape[1] + 2), np.int8)
        above[:, 1:-1] = values > limit
        turns = np.diff(above, axis=1)
        days, first = np.nonzero(turns == 1)
        _, after = np.nonzero(turns == -1)
        starts, cut_before = self._crossings(values, limit, days, first, first - 1)
        ends, cut_after = self._crossings(values, limit, days, after - 1, after)
        table = [[] for _ in range(values.shape[0])]
        columns = (days, starts, ends, cut_before, cut_after)
        for n, start, end, before, behind in zip(*(c.tolist() for c in columns), strict=True):
            table[n].append((start, end, before, behind))
        return table

    def _crossings(self, values, limit, days, inside, outside):
        """(minutes of the clock at which the limit is met between two looks, whether it is)."""
        last = values.shape[1] - 1
        beside = np.clip(outside, 0, last)
        a, b = values[days, inside], values[days, beside]
        is_met = (outside >= 0) & (outside <= last) & np.isfinite(b)
        with np.errstate(invalid="ignore", divide="ignore"):
            share = np.where(is_met, (a - limit) / (a - b), 0.0)
        minutes = self.hours.minutes[inside] + share * (
            self.hours.minutes[beside] - self.hours.minutes[inside]
        )
        return minutes, is_met


@dataclass(frozen=True)
class YearFrame:
    """Days of some Hours across, minutes of the place's clock down: all of them where nights are
    drawn too, else those of the light. in_hand: whether it is that of a phone.
    """

    stretches: Stretches
    in_hand: bool = False

    @property
    def hours(self):
        return self.stretches.hours

    @property
    def size(self):
        """(wide, high)."""
        return (IN_HAND if self.in_hand else DESK)[0]

    @cached_property
    def box(self):
        """(left, top, right, foot) of what is drawn in."""
        (wide, high), (left, right, top, foot) = IN_HAND if self.in_hand else DESK
        return left, top, wide - right, high - foot

    @cached_property
    def clock_minutes(self):
        """Minutes of the place's clock of each look, (n, t)."""
        return np.broadcast_to(self.hours.minutes, self.hours.open_s.shape)

    @cached_property
    def x(self):
        return Axis(0, len(self.hours.days), self.box[0], self.box[2])

    @cached_property
    def y(self):
        if self.hours.outlook.goes_on_at_night:
            return Axis(0, 24 * 60, self.box[1], self.box[3])
        lit = self.clock_minutes[self.hours.altitude_deg > DARK_DEG]
        low, high = (float(lit.min()), float(lit.max())) if lit.size else LEAST_HOURS
        low = min(LEAST_HOURS[0], low // 60 * 60)
        high = min(24 * 60, max(LEAST_HOURS[1], high // 60 * 60 + 60))
        return Axis(low, high, self.box[1], self.box[3])

    def place(self, opened):
        """(x, y) of an Opened, inside the chart."""
        return self.x(self.hours.days.index(opened.day) + 0.5), self.y.inside(opened.minute)

    def moment(self, x, y):
        """(day, minute of the clock) of a place on the chart."""
        days = self.hours.days
        n = int(np.clip(self.x.value(x), 0, len(days) - 1))
        return days[n], float(np.clip(self.y.value(y), 0, 24 * 60 - 1))

    def areas(self, key, values, css, limit=0.0, **more):
        """A polygon of each stretch of a run."""
        for run in self.stretches.runs(key, values, limit):
            for k in range(len(run.days[0])):
                across = self._across(run)
                tops = self._down([day[k][0] for day in run.days])
                feet = self._down([day[k][1] for day in run.days])
                upper = list(zip(across, tops, strict=True))
                lower = list(zip(across, feet, strict=True))
                yield svg.polygon([*upper, *reversed(lower)], css, **more)

    def edges(self, key, values, limit=0.0):
        """[[(x, y), ...]] of the lines along which a limit is met, by the day and the night not."""
        lines = []
        for run in self.stretches.runs(key, values, limit):
            across = self._across(run)
            for k in range(len(run.days[0])):
                for end in (0, 1):
                    downs = self._down([day[k][end] for day in run.days])
                    met = [day[k][end + 2] for day in run.days]
                    lines += _pieces(across, downs, [*met, met[-1]])
        return lines

    def _across(self, run):
        """Places of the days of a run, and the end of the last."""
        return self.x(np.arange(run.first, run.first + len(run.days) + 1)).tolist()

    def _down(self, minutes):
        places = self.y.inside(np.array(minutes)).tolist()
        return [*places, places[-1]]


@dataclass(frozen=True)
class Stretch:
    """Days one after the other with as many stretches each; first: the number of the first."""

    first: int
    days: list


def _pieces(across, downs, met):
    """The parts of a line that are crossings."""
    pieces, piece = [], []
    for x, y, is_met in zip(across, downs, met, strict=True):
        if is_met:
            piece.append((x, y))
        elif piece:
            pieces.append(piece)
            piece = []
    return [one for one in [*pieces, piece] if len(one) > 1]
