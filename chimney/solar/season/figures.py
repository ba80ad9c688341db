"""Small pictures of what a span would draw, put out in one week after the other."""

from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property

import numpy as np

from chimney.parts import svg
from chimney.parts.scales import number
from chimney.solar.craft import Prediction
from chimney.solar.figures.paper import ground_on
from chimney.solar.figures.sky import to_its_ends

WEEKS, WEEK = 52, 7
SMALL_WIDE, SMALL_HIGH = 132.0, 96.0
# Trails of a small picture, and every how manieth sample of one.
MOST_SMALL_TRAILS, SAMPLE_STEP = 9, 2


@dataclass(frozen=True)
class Season:
    """Pictures that a can would draw if it were put out in each week of a year. prediction: of all
    these days; span: how many of them it stays out.
    """

    prediction: Prediction
    span: int

    @cached_property
    def _placed(self):
        """(at, scale, wide, high) of the finished positive in a small picture."""
        half_across, half_high = self.prediction.back.half_mm
        scale = min(SMALL_WIDE / (2 * half_across), SMALL_HIGH / (2 * half_high))

        def at(x, y):
            return (x + half_across) * scale, (y + half_high) * scale

        return at, scale, 2 * half_across * scale, 2 * half_high * scale

    @cached_property
    def _ground(self):
        at, *_ = self._placed
        return ground_on(self.prediction, at, self.prediction.back.half_mm, "positive")

    @property
    def rows(self):
        """[(first day, last day, drawing, days with the sun on the paper, noons)] week by week."""
        first = self.prediction.first_day
        for week in range(WEEKS):
            n = WEEK * week
            begins = first + timedelta(days=n)
            ends = begins + timedelta(days=self.span - 1)
            days = slice(n, n + self.span)
            trails = self.prediction.trails
            drawn = int(trails.on_paper[days].any(axis=1).sum())
            noons = int(trails.noon_on_paper[days].sum())
            label = f"{number(drawn)} trails, {number(noons)} noons"
            yield begins, ends, self._picture(days, begins, label), drawn, noons

    def _picture(self, days, begins: date, label):
        at, _, wide, high = self._placed
        shapes = [svg.rect(0.0, 0.0, wide, high, "paper-sky"), *self._ground]
        numbers = np.arange(days.start, days.stop)
        some = np.unique(np.linspace(0, numbers.size - 1, MOST_SMALL_TRAILS).round().astype(int))
        for n in numbers[some]:
            x, y = at(self.prediction.trails.x_mm[n], self.prediction.trails.y_mm[n])
            for places in to_its_ends(self.prediction.trails.on_paper[n], SAMPLE_STEP):
                run = list(zip(x[places].tolist(), y[places].tolist(), strict=True))
                shapes.append(svg.polyline(run, "trail", stroke_width=1.0))
        shapes.append(svg.rect(0.0, 0.0, wide, high, "frame"))
        return svg.Drawing(f"Out on {begins:%-d %B}", label, wide, high, tuple(shapes), "small-can")
