"""Time needed against time metered; the range at one time, magnified; shares on one scale."""

import math
from itertools import pairwise

import numpy as np
from django.urls import reverse

from chimney.lessons.explained.craft import curve
from chimney.parts import svg
from chimney.parts.axes import Axis
from chimney.parts.scales import number
from pinhole import durations
from pinhole.lessons import CENTRAL_90

NEEDS_WIDE, NEEDS_HIGH = 430.0, 360.0
NEEDS_LEFT, NEEDS_RIGHT, NEEDS_TOP, NEEDS_FOOT = 62.0, 8.0, 12.0, 46.0
TAB_WIDE, TAB_HIGH = 78.0, 48.0
NEAR_WIDE, NEAR_HIGH = 200.0, 360.0
BAR_WIDE, BAR_HIGH, BAR_STOPS = 150.0, 26.0, 2.4
GRID_STEPS = 40
NEEDS_TICKS_S = (1, 10, 60, 600, 3600, 14400, 86400)
LINE_PX = 17
# Of the four times magnified the last two have a name.
NAMED_FROM = 2


def _frame(explained, dots):
    """(x, y): Axes of log2 seconds that hold the sheets and the exposure asked about."""
    low, _, high = explained.range_s
    xs = [math.log2(m) for m, _ in dots] + [math.log2(explained.occasion.metered_s)]
    ys = [math.log2(n) for _, n in dots]
    ys += [math.log2(s) for s in (low, high, explained.box_s)]
    x = Axis(min(xs) - 0.7, max(xs) + 1.2, NEEDS_LEFT, NEEDS_WIDE - NEEDS_RIGHT)
    return x, Axis(min(ys) - 0.7, max(ys) + 0.7, NEEDS_HIGH - NEEDS_FOOT, NEEDS_TOP)


def _inside(x, y, xs, ys):
    """Points of a line as far as they lie in the frame."""
    keep = (ys >= y.low) & (ys <= y.high)
    return list(zip(x(xs[keep]), y(ys[keep]), strict=True))


def needs(explained, sheets, after):
    """A Drawing of needed against metered time, on log axes: a dot a sheet, as if it were made like
    the exposure asked about; the box, the sheets' own line with its band, and that after a test.
    """
    counted = [(e, explained.as_if(e)) for e in sheets if not e.reason]
    left_out = [(e, e.needed_s) for e in sheets if e.reason]
    x, y = _frame(explained, [(e.metered_s, needed_s) for e, needed_s in counted + left_out])
    grid = np.linspace(x.low, x.high, GRID_STEPS)
    low, middle, high = curve(explained, 2.0**grid)
    box = np.log2(explained.school.adjusted_s(2.0**grid))
    band = np.clip([*low, *high[::-1]], y.low, y.high)
    shapes = [
        *_ticks(x, y),
        svg.polygon(list(zip(x([*grid, *grid[::-1]]), y(band), strict=True)), "band"),
    ]
    for edge in curve(after, 2.0**grid)[::2] if after else ():
        shapes.append(svg.polyline(_inside(x, y, grid, edge), "after-line"))
    shapes.append(svg.polyline(_inside(x, y, grid, box), "box-line"))
    shapes.append(svg.polyline(_inside(x, y, grid, middle), "learned-line"))
    shapes += [_dot(e, needed_s, x, y) for e, needed_s in left_out + counted]
    shapes += _of_occasion(explained, x, y)
    low_s, mid_s, high_s = map(durations.say, map(_countable, explained.range_s))
    label = (
        f"{len(counted)} sheets, {len(left_out)} not counted; metered "
        f"{durations.say(explained.occasion.metered_s)} the box says "
        f"{durations.say(_countable(explained.box_s))}, your sheets {mid_s}, {low_s} to {high_s}"
    )
    return svg.Drawing(
        "Time needed against time metered",
        label,
        NEEDS_WIDE,
        NEEDS_HIGH,
        tuple(shapes),
        "needs",
        role="group",
    )


def _countable(seconds):
    return durations.countable_s(seconds)


def _ticks(x, y):
    left, right, foot = NEEDS_LEFT, NEEDS_WIDE - NEEDS_RIGHT, NEEDS_HIGH - NEEDS_FOOT
    for seconds in NEEDS_TICKS_S:
        log2_s = math.log2(seconds)
        if x.low < log2_s < x.high:
            yield svg.line(x(log2_s), NEEDS_TOP, x(log2_s), foot, "grid-line")
            yield svg.text(x(log2_s), foot + LINE_PX, durations.say(seconds), "label", "middle")
        if y.low < log2_s < y.high:
            yield svg.line(left, y(log2_s), right, y(log2_s), "grid-line")
            yield svg.text(left - 6, y(log2_s) + 5, durations.say(seconds), "label", "end")
    yield svg.line(left, foot, right, foot, "axis")
    yield svg.line(left, foot, left, NEEDS_TOP, "axis")
    yield svg.text(
        (left + right) / 2, NEEDS_HIGH - 8, "metered, at the box's EI", "label", "middle"
    )


def _dot(evidence, needed_s, x, y):
    place = x.inside(math.log2(evidence.metered_s)), y.inside(math.log2(needed_s))
    label = (
        f"{evidence.sheet}: metered {durations.say(evidence.metered_s)}, needed "
        f"{durations.say(needed_s)}{f', not counted: {evidence.reason}' if evidence.reason else ''}"
    )
    dot = svg.circle(*place, 5, "dot dot-not-counted" if evidence.reason else "dot")
    return svg.Link(reverse("logbook:sheet", args=[evidence.sheet.code]), label, dot)


def _of_occasion(explained, x, y):
    across, foot = x(math.log2(explained.occasion.metered_s)), NEEDS_HIGH - NEEDS_FOOT
    low, middle, high = (y.inside(math.log2(s)) for s in explained.range_s)
    box = y(math.log2(explained.box_s))
    yield svg.line(across, foot, across, box, "axis")
    yield svg.line(across, low, across, high, "here-range")
    yield svg.circle(across, box, 5, "here-box")
    yield svg.circle(across, middle, 7, "here-dot")
    # Beside the point where there is room, and never over the lines.
    yield svg.text(across - 14, high - 6, "you are here", "label learned-label", "end")
    yield svg.text(min(across + 12, NEEDS_WIDE - 60), box + 24, "the box", "label")


def magnified(explained, after):
    """A Drawing of how likely each time is for the exposure asked about, now and after a test."""
    low, middle, high = (math.log2(s) for s in explained.range_s)
    box = math.log2(explained.box_s)
    room = max(0.6, 0.35 * (high - low))
    y = Axis(min(low, box) - room, max(high, box) + room, NEAR_HIGH - 16, 16.0)
    left, deep = 54.0, 56.0
    shapes = [svg.line(left, 16.0, left, NEAR_HIGH - 16, "axis")]
    for seconds in (*NEEDS_TICKS_S, 30, 120, 300, 1800, 7200):
        log2_s = math.log2(seconds)
        if y.low < log2_s < y.high:
            shapes.append(svg.line(left - 4, y(log2_s), left, y(log2_s), "axis"))
            shapes.append(svg.text(left - 7, y(log2_s) + 5, durations.say(seconds), "label", "end"))
    shapes.append(svg.polygon(_bell(middle, (high - low) / 2, y, left, deep), "band"))
    if after:
        a, _, b = (math.log2(s) for s in after.range_s)
        taller = deep * min(1.6, (high - low) / (b - a))
        shapes.append(svg.polyline(_bell(middle, (b - a) / 2, y, left, taller), "after-line"))
    rows = [
        (high, "", "label", "learned-line"),
        (middle, "your sheets", "label here-label", "learned-line"),
    ]
    rows += [(low, "", "label", "learned-line"), (box, "the box", "label", "box-line")]
    places = _apart([y(log2_s) for log2_s, *_ in rows])
    for (log2_s, name, css, line_css), place in zip(rows, places, strict=True):
        time = durations.say(_countable(2.0**log2_s))
        shapes.append(svg.line(left, y(log2_s), left + deep + 8, y(log2_s), line_css))
        shapes.append(svg.text(left + deep + 12, place + 5, time, css))
        if name:
            shapes.append(svg.text(left + deep + 12, place + 5 + LINE_PX, name, "label"))
    label = f"the box {durations.say(_countable(explained.box_s))}"
    return svg.Drawing("The range, magnified", label, NEAR_WIDE, NEAR_HIGH, tuple(shapes), "needs")


def _bell(middle, half, y, left, deep):
    """Points of a normal curve that lies on its side; half: of its central 90 %."""
    log2_s = np.linspace(y.low, y.high, 61)
    heights = np.exp(-(((log2_s - middle) / (half / CENTRAL_90)) ** 2) / 2)
    return [
        (left, y(y.low)),
        *zip(left + deep * heights, y(log2_s), strict=True),
        (left, y(y.high)),
    ]


def _apart(places):
    """Places of labels, a line from each other at least, in their order from the top."""
    order = np.argsort(places)
    apart = np.array(places, float)
    for before, after in pairwise(order):
        # Those with a name under them take two lines.
        lines = 2 if before >= NAMED_FROM else 1
        apart[after] = max(apart[after], apart[before] + lines * LINE_PX)
    return apart.tolist()


def tab(box, dots, middle):
    """A small Drawing of a pair beside its name; middle: (metered, needed) of its line."""
    points = [(math.log2(m), math.log2(n)) for m, n in (*dots, *middle, *box)]
    xs, ys = zip(*points, strict=True)
    x = Axis(min(xs) - 0.5, max(xs) + 0.5, 3.0, TAB_WIDE - 3)
    y = Axis(min(ys) - 0.5, max(ys) + 0.5, TAB_HIGH - 3, 3.0)

    def line(rows, css):
        return svg.polyline([(x(math.log2(m)), y(math.log2(n))) for m, n in rows], css)

    shapes = [svg.circle(x(math.log2(m)), y(math.log2(n)), 1.6, "dot") for m, n in dots]
    shapes += [line(box, "box-line"), line(middle, "learned-line")]
    return svg.Drawing(
        "", "", TAB_WIDE, TAB_HIGH, tuple(shapes), "tab-drawing", role="presentation"
    )


def bar(share, *, is_sum=False):
    """A Drawing of a share and its range on the common scale of stops."""
    x = Axis(-BAR_STOPS, BAR_STOPS, 4.0, BAR_WIDE - 4)
    zero, end, middle = x(0.0), x.inside(share.stops), BAR_HIGH / 2
    css = "share-sum" if is_sum else "share-bar"
    shapes = [
        *(svg.line(x(s), 2.0, x(s), BAR_HIGH - 2, "grid-line") for s in (-1.0, 1.0)),
        svg.rect(min(zero, end), middle - 6, abs(end - zero), 12.0, css),
        svg.line(zero, 0.0, zero, BAR_HIGH, "axis"),
        svg.line(x.inside(share.low), middle, x.inside(share.high), middle, "share-ends"),
    ]
    label = f"{number(share.stops, 2)} stops, {number(share.low, 2)} to {number(share.high, 2)}"
    return svg.Drawing("Stops more", label, BAR_WIDE, BAR_HIGH, tuple(shapes), "shares")
