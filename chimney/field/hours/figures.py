"""Today's light as bars: from the first to the last opening that makes sense, under each sky."""

import numpy as np

from chimney.parts import svg
from chimney.parts.axes import Axis
from pinhole.light.dusk import DARK_DEG

# Bands of countable times [s], in words.
BANDS = ((3600, "1 h"), (900, "15 min"), (300, "5 min"), (120, "2 min"), (60, "1 min"))
BAND_OPACITY = 0.17
# Hatching is as far apart as it is told from bands.
HATCH_APART = 7.0
TODAY_WIDE, TODAY_HIGH, TODAY_HATCH_ID = 320.0, 26.0, "today-hatch"


def bar(hours, day, now_min, ends, *, name, label):
    """A Drawing of the openings of a day of some Hours, between the minutes (low, high)."""
    n = hours.days.index(hours.nearest(day))
    x = Axis(*ends, 0.0, TODAY_WIDE)
    hatch = f"{TODAY_HATCH_ID}-{hours.outlook.stops_less:g}".replace(".", "-")
    clock, open_s = hours.minutes, hours.open_s[n]
    shapes = [svg.hatch(hatch, HATCH_APART)]
    shapes += _blocks(x, clock, hours.altitude_deg[n] > DARK_DEG, "cells")
    for limit, _ in BANDS:
        shapes += _blocks(
            x, clock, np.nan_to_num(open_s, nan=np.inf) <= limit, "cell", BAND_OPACITY
        )
    shapes += _blocks(x, clock, np.isinf(open_s), "hatched", fill=f"url(#{hatch})")
    for minute in hours.sensible(day) or ():
        shapes.append(svg.line(x(minute), 0.0, x(minute), TODAY_HIGH, "now"))
    shapes.append(svg.line(x(now_min), 0.0, x(now_min), TODAY_HIGH, "edge"))
    return svg.Drawing(name, label, TODAY_WIDE, TODAY_HIGH, tuple(shapes), "bar")


def scale(ends):
    """A Drawing of the hours under the bars."""
    x = Axis(*ends, 0.0, TODAY_WIDE)
    first = int(-(-(ends[0] + 30) // 120) * 120)
    marks = [
        svg.text(x(minute), 13.0, f"{minute // 60}:00", "label", "middle")
        for minute in range(first, int(ends[1]) - 20, 120)
    ]
    return svg.Drawing("", "", TODAY_WIDE, 16.0, tuple(marks), "bar")


def ends_of(many):
    """(low, high) minutes of the clock between which a day of some Hours has light."""
    lows, highs = [], []
    for hours in many:
        clock = hours.minutes
        lit = clock[hours.altitude_deg[0] > DARK_DEG]
        lows.append(float(lit.min()) if lit.size else 8 * 60.0)
        highs.append(float(lit.max()) if lit.size else 16 * 60.0)
    return min(lows) - 15, max(highs) + 30


def _blocks(x, clock, inside, css, opacity=1.0, **more):
    """Rectangles of the stretches of a day that lie inside."""
    turns = np.flatnonzero(np.diff(np.concatenate([[False], inside, [False]]).astype(int)))
    step = clock[1] - clock[0]
    for first, after in zip(turns[::2], turns[1::2], strict=True):
        left, right = (
            x.inside(float(minute)) for minute in (clock[first], clock[after - 1] + step)
        )
        yield svg.rect(left, 0.0, right - left, TODAY_HIGH, css, fill_opacity=opacity, **more)
