"""A lesson drawn: what each sheet says, the range that follows, and the EI the paper started
from.
"""

import math

import numpy as np
from django.urls import reverse
from django.utils import timezone

from chimney.lessons.models import Finding
from chimney.parts import svg
from chimney.parts.scales import number
from pinhole import durations
from pinhole.lessons import CENTRAL_90

COURSE_WIDTH, COURSE_HEIGHT = 440.0, 160.0
COURSE_LEFT, COURSE_RIGHT, COURSE_TOP, BOTTOM = 4.0, 78.0, 8.0, 26.0
ROOM_STOPS = 0.2


def course_of(lesson, evidence):
    """A Drawing of the evidence of a lesson (newest first) over time, EI upward in stops."""
    evidence = sorted(evidence, key=lambda e: e.exposed_at)
    box, learned = math.log2(lesson.paper.box_ei), math.log2(lesson.ei)
    low, high = math.log2(lesson.low), math.log2(lesson.high)
    levels = [box, low, high, *(e.log2_ei for e in evidence)]
    bottom, top = min(levels) - ROOM_STOPS, max(levels) + ROOM_STOPS

    def y(log2_ei):
        return COURSE_TOP + (top - log2_ei) / (top - bottom) * (COURSE_HEIGHT - COURSE_TOP - BOTTOM)

    right = COURSE_WIDTH - COURSE_RIGHT
    yours_y, box_y = _apart(y(learned), y(box))
    shapes = [
        svg.rect(COURSE_LEFT, y(high), right - COURSE_LEFT, y(low) - y(high), "band"),
        svg.line(COURSE_LEFT, y(box), right, y(box), "box-line"),
        svg.line(COURSE_LEFT, y(learned), right, y(learned), "learned-line"),
        svg.line(COURSE_LEFT, COURSE_HEIGHT - BOTTOM, right, COURSE_HEIGHT - BOTTOM, "axis"),
        *_dots(evidence, right, y),
        svg.text(right + 6, yours_y + 4, f"yours {number(lesson.ei, 2)}", "label learned-label"),
        svg.text(right + 6, box_y + 4, f"box {number(lesson.paper.box_ei)}", "label"),
        *_months(evidence, right),
    ]
    label = (
        f"{lesson.sheets} counted, {len(evidence)} drawn; EI {number(lesson.ei, 2)}, "
        f"between {number(lesson.low, 2)} and {number(lesson.high, 2)}; started from "
        f"{number(lesson.paper.box_ei)}"
    )
    return svg.Drawing(
        f"{lesson.paper} over time", label, COURSE_WIDTH, COURSE_HEIGHT, tuple(shapes), "lesson"
    )


def _apart(first, second):
    """Labels at least a line from each other."""
    if abs(first - second) >= 16:
        return first, second
    middle, sign = (first + second) / 2, 1 if first >= second else -1
    return middle + sign * 8, middle - sign * 8


def _dots(evidence, right, y):
    start, end = evidence[0].exposed_at, evidence[-1].exposed_at
    span = (end - start).total_seconds() or 1
    for e in evidence:
        x = (
            COURSE_LEFT
            + 10
            + (e.exposed_at - start).total_seconds() / span * (right - COURSE_LEFT - 20)
        )
        yield svg.circle(x, y(e.log2_ei), 5, "dot dot-not-counted" if e.reason else "dot")


def _months(evidence, right):
    first, last = (f"{timezone.localtime(e.exposed_at):%b %Y}" for e in (evidence[0], evidence[-1]))
    shapes = [svg.text(COURSE_LEFT, COURSE_HEIGHT - 8, first, "label")]
    return (
        shapes
        if first == last
        else [*shapes, svg.text(right, COURSE_HEIGHT - 8, last, "label", "end")]
    )


LINE_WIDE, LINE_HIGH, MARGIN = 560.0, 440.0, 84.0
TICKS_S = (1, 4, 15, 60, 240, 900, 3600, 14400)


def line_of(lesson, evidence, finding):
    """A Drawing of needed against metered time, on log axes: the paper's school, its own fit with
    its band, and one dot a sheet that leads to it.
    """
    paper = lesson.paper
    metered = np.log2([e.metered_s for e in evidence])
    needed = np.log2([e.needed_s for e in evidence])
    low = math.floor(min(metered.min(), needed.min())) - 0.5
    high = math.ceil(max(metered.max(), needed.max())) + 0.5
    unit = (LINE_WIDE - 2 * MARGIN) / (high - low)
    down = (LINE_HIGH - 2 * MARGIN) / (high - low)

    def place(x, y):
        return MARGIN + (x - low) * unit, LINE_HIGH - MARGIN - (y - low) * down

    grid = np.linspace(low, high, 40)
    shapes = list(_axes(low, high, place))
    for school in paper.schools.values():
        line = [place(x, math.log2(school.adjusted_s(2.0**x))) for x in grid]
        shapes.append(svg.polyline([p for p in line if p[1] >= place(high, high)[1]], "box-line"))
    shapes += _fit(lesson, finding, grid, place, float(np.median(metered)))
    for e in evidence:
        x, y = place(math.log2(e.metered_s), math.log2(e.needed_s))
        dot = svg.circle(x, y, 6, "dot dot-not-counted" if e.reason else "dot")
        caption = (
            f"{e.sheet}: metered {durations.say(e.metered_s)}, needed {durations.say(e.needed_s)}"
        )
        shapes.append(svg.Link(reverse("logbook:sheet", args=[e.sheet.code]), caption, dot))
    label = f"{len(evidence)} sheets; dashed: {', '.join(paper.schools)}; line and band: yours"
    return svg.Drawing(
        "Needed against metered time",
        label,
        LINE_WIDE,
        LINE_HIGH,
        tuple(shapes),
        "lesson line-of-times",
        role="group",
    )


def _axes(low, high, place):
    """Ticks at times that people say."""
    left, foot = place(low, low)
    right, top = place(high, high)
    yield svg.line(left, foot, right, foot, "axis")
    yield svg.line(left, foot, left, top, "axis")
    for seconds in TICKS_S:
        x_log2 = math.log2(seconds)
        if low <= x_log2 <= high:
            x, y = place(x_log2, x_log2)
            yield svg.text(x, foot + 28, durations.say(seconds), "label", "middle")
            yield svg.text(left - 8, y + 8, durations.say(seconds), "label", "end")
    yield svg.text(right, foot + 62, "metered at the box EI", "label", "end")
    yield svg.text(left, top - 16, "needed", "label")


def _fit(lesson, finding, grid, place, usual):
    """The own line with its band: the lesson's EI, and the exponent where there is one; usual: log2
    of the middle of its metered times.
    """
    paper = lesson.paper
    shift = math.log2(paper.box_ei / lesson.ei)
    is_kept = finding is not None and finding.standing != Finding.Standing.DECLINED
    # The EI is right at the usual time of its sheets, about which long times turn.
    exponent, school = finding.mean if is_kept else 0.0, paper.schools[paper.school]
    middle = [
        math.log2(school.adjusted_s(2.0 ** (x + shift))) + exponent * (x - usual) for x in grid
    ]
    half_width = CENTRAL_90 * lesson.sd_log2
    upper = [place(x, y + half_width) for x, y in zip(grid, middle, strict=True)]
    lower = [place(x, y - half_width) for x, y in zip(grid, middle, strict=True)]
    line = [place(x, y) for x, y in zip(grid, middle, strict=True)]
    top, foot = (place(end, end)[1] for end in (grid[-1], grid[0]))
    inside = [n for n, (_, y) in enumerate(line) if top <= y <= foot]
    band = [upper[n] for n in inside] + [lower[n] for n in reversed(inside)]
    return [
        svg.polygon(band, "band"),
        svg.polyline([line[n] for n in inside], "learned-line learned-curve"),
    ]
