"""The year of light as one picture: months across, hours of the place's clock down the side."""

from datetime import timedelta

import numpy as np

from chimney.parts import svg
from chimney.parts.axes import Axis
from pinhole import sun
from pinhole.light.dusk import DARK_DEG

CHART_WIDE, CHART_HIGH = 720.0, 430.0
YEAR_LEFT, YEAR_RIGHT, YEAR_TOP, YEAR_FOOT = 46.0, 8.0, 8.0, 44.0
# Bands of countable times [s], in words.
BANDS = ((3600, "1 h"), (900, "15 min"), (300, "5 min"), (120, "2 min"), (60, "1 min"))
BAND_OPACITY = 0.19
# Hours that are drawn at least, in minutes of the clock.
LEAST_HOURS = (8 * 60, 16 * 60)
HOUR_STEP_MIN = 180
# In the dark as much lacks as anybody asks [stops].
LACKS_IN_DARK = 20.0
CROSS = (
    svg.circle(0, 0, svg.THUMB_REACH, "hit"),
    svg.circle(0, 0, 8, "ring"),
    svg.line(-14.0, 0.0, 14.0, 0.0, "ring"),
    svg.line(0.0, -14.0, 0.0, 14.0, "ring"),
)


class YearFrame:
    """Frame of the chart: days across, minutes of the place's clock down."""

    def __init__(self, year):
        self.year = year
        lit = year.altitude_deg > DARK_DEG
        clock = year.minutes[None, :] + year.ahead_min[:, None]
        hours = clock[lit] if lit.any() else np.array(LEAST_HOURS)
        low = min(LEAST_HOURS[0], float(hours.min()) // 60 * 60)
        high = max(LEAST_HOURS[1], float(hours.max()) // 60 * 60 + 60)
        self.x = Axis(0, len(year.days), YEAR_LEFT, CHART_WIDE - YEAR_RIGHT)
        self.y = Axis(low, high, YEAR_TOP, CHART_HIGH - YEAR_FOOT)

    def place(self, opened):
        """(x, y) of an Opened, inside the chart."""
        n = self.year.days.index(opened.day)
        return self.x(n + 0.5), self.y.inside(opened.minute)

    def moment(self, x, y):
        """(day, minute of the clock) of a place on the chart."""
        days = self.year.days
        n = int(np.clip(self.x.value(x), 0, len(days) - 1))
        return days[n], float(np.clip(self.y.value(y), 0, 24 * 60 - 1))


def chart(year, opened):
    """A Drawing of the YearOfLight."""
    frame = YearFrame(year)
    wide, high = CHART_WIDE - YEAR_LEFT - YEAR_RIGHT, CHART_HIGH - YEAR_TOP - YEAR_FOOT
    shapes = [svg.rect(YEAR_LEFT, YEAR_TOP, wide, high, "ground")]
    shapes += _areas(frame, year.altitude_deg, DARK_DEG, "sky")
    shapes += _areas(frame, year.altitude_deg, sun.RISE_DEG, "cells")
    for limit, _ in BANDS:
        shapes += _areas(frame, _inside(year, limit), 0.0, "cell", fill_opacity=BAND_OPACITY)
    shapes += [*_months(frame), *_hours(frame), *_legend()]
    words = "full" if opened.is_full else "not full before dark"
    label = f"read off on {opened.day:%-d %B} at {opened.moment}: {words}"
    return svg.Drawing(
        "How long the hole stays open",
        label,
        CHART_WIDE,
        CHART_HIGH,
        tuple(shapes),
        "year",
        "chart",
    )


def _inside(year, limit):
    """By how much an opening is shorter than a limit, as a logarithm, (n, t); below 0 by what lacks
    where dusk comes first, so that its edge runs between two looks.
    """
    open_s = np.nan_to_num(year.open_s, nan=np.inf)
    lacks = np.nan_to_num(year.short_stops, nan=LACKS_IN_DARK, posinf=LACKS_IN_DARK)
    full = np.isfinite(open_s)
    return np.where(full, np.log(limit) - np.log(np.where(full, open_s, 1.0)), -lacks)


def grips(year, drawn, opened, *, live):
    """The cross that reads a moment off."""
    x, y = YearFrame(year).place(opened)
    value = f"{opened.day:%-d %B}, {opened.moment}"
    cross = svg.Handle("read", x, y, "The moment that is read off", CROSS, step=2.0, value=value)
    return svg.handles(drawn, "year", [cross], live=live)


def _areas(frame, values, limit, css, **more):
    """Polygons where values (n, t) lie above a limit, day by day, straight between: broken where
    the clock is put forward or back, and where stretches of a day begin or end.
    """
    year, rows = frame.year, []
    for n, column in enumerate(values):
        ends = [
            (float(a) + year.ahead_min[n], float(b) + year.ahead_min[n])
            for a, b in _stretches(year.minutes, column, limit)
        ]
        follows = (
            rows
            and len(rows[-1][1]) == len(ends)
            and rows[-1][2] == year.ahead_min[n]
            and rows[-1][0][-1] == n - 1
        )
        if follows:
            rows[-1][0].append(n)
            for stretch, pair in zip(rows[-1][1], ends, strict=True):
                stretch.append(pair)
        else:
            rows.append(([n], [[pair] for pair in ends], year.ahead_min[n]))
    for days, stretches, _ in rows:
        for pairs in stretches:
            yield svg.polygon(_outline(frame, days, pairs), css, **more)


def _outline(frame, days, pairs):
    """Corners of a stretch of the day over some days, each as wide as it is."""
    across = [*(frame.x(n) for n in days), frame.x(days[-1] + 1)]
    tops = [frame.y.inside(a) for a, _ in pairs]
    feet = [frame.y.inside(b) for _, b in pairs]
    upper = list(zip(across, [*tops, tops[-1]], strict=True))
    return [*upper, *reversed(list(zip(across, [*feet, feet[-1]], strict=True)))]


def _stretches(minutes, column, limit):
    """(from, to) of each stretch of a day in which a column lies above a limit [minutes]."""
    above = column > limit
    edges = np.flatnonzero(np.diff(np.concatenate([[False], above, [False]]).astype(int)))
    for first, after in zip(edges[::2], edges[1::2], strict=True):
        yield (
            _crossing(minutes, column, limit, first, first - 1),
            _crossing(minutes, column, limit, after - 1, after),
        )


def _crossing(minutes, column, limit, inside, outside):
    """The minute between a place inside and one outside at which the limit is met."""
    if not 0 <= outside < len(minutes) or not np.isfinite(column[outside]):
        return minutes[inside]
    share = (column[inside] - limit) / (column[inside] - column[outside])
    return minutes[inside] + share * (minutes[outside] - minutes[inside])


def _months(frame):
    base = CHART_HIGH - YEAR_FOOT
    for n, day in enumerate(frame.year.days):
        if day.day == 1:
            x = frame.x(n)
            yield svg.line(x, YEAR_TOP, x, base, "grid")
            yield svg.text(x + 4, base + 16, f"{day:%b}", "label")
    today = min(frame.year.days)
    x = frame.x(frame.year.days.index(today))
    yield svg.line(x, YEAR_TOP, x, base, "edge")


def _hours(frame):
    first = int(-(-frame.y.low // HOUR_STEP_MIN) * HOUR_STEP_MIN)
    for minute in range(first, int(frame.y.high) + 1, HOUR_STEP_MIN):
        y = frame.y(minute)
        yield svg.line(YEAR_LEFT, y, CHART_WIDE - YEAR_RIGHT, y, "grid")
        yield svg.text(YEAR_LEFT - 6, y + 5, f"{timedelta(minutes=minute)}"[:-3], "label", "end")


def _legend():
    """A swatch for each band, as dark as it lies over the others."""
    y, x = CHART_HIGH - 16.0, YEAR_LEFT
    for count in range(1, len(BANDS) + 1):
        yield svg.rect(x, y, 16.0, 12.0, "cells")
        for _ in range(count):
            yield svg.rect(x, y, 16.0, 12.0, "cell", fill_opacity=BAND_OPACITY)
        words = f"within {BANDS[count - 1][1]}"
        yield svg.text(x + 21, y + 11, words, "label")
        x += 40 + 8.0 * len(words)
