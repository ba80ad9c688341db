"""A lesson drawn: what each sheet says, the range that follows, and the EI the paper started
from.
"""

import math

from django.utils import timezone

from chimney.parts import svg
from chimney.parts.scales import number

WIDTH, HEIGHT = 440.0, 160.0
LEFT, RIGHT, TOP, BOTTOM = 4.0, 78.0, 8.0, 26.0
ROOM_STOPS = 0.2


def course_of(lesson, evidence):
    """A Drawing of the evidence of a lesson (newest first) over time, EI upward in stops."""
    evidence = sorted(evidence, key=lambda e: e.exposed_at)
    box, learned = math.log2(lesson.paper.box_ei), math.log2(lesson.ei)
    low, high = math.log2(lesson.low), math.log2(lesson.high)
    levels = [box, low, high, *(e.log2_ei for e in evidence)]
    bottom, top = min(levels) - ROOM_STOPS, max(levels) + ROOM_STOPS

    def y(log2_ei):
        return TOP + (top - log2_ei) / (top - bottom) * (HEIGHT - TOP - BOTTOM)

    right = WIDTH - RIGHT
    yours_y, box_y = _apart(y(learned), y(box))
    shapes = [
        svg.rect(LEFT, y(high), right - LEFT, y(low) - y(high), "band"),
        svg.line(LEFT, y(box), right, y(box), "box-line"),
        svg.line(LEFT, y(learned), right, y(learned), "learned-line"),
        svg.line(LEFT, HEIGHT - BOTTOM, right, HEIGHT - BOTTOM, "axis"),
        *_dots(evidence, right, y),
        svg.text(right + 6, yours_y + 4, f"yours {number(lesson.ei, 2)}", "label learned-label"),
        svg.text(right + 6, box_y + 4, f"box {number(lesson.paper.box_ei)}", "label"),
        *_months(evidence, right),
    ]
    words = (
        f"{lesson.sheets} counted, {len(evidence)} drawn; EI {number(lesson.ei, 2)}, "
        f"between {number(lesson.low, 2)} and {number(lesson.high, 2)}; started from "
        f"{number(lesson.paper.box_ei)}"
    )
    return svg.Drawing(f"{lesson.paper} over time", words, WIDTH, HEIGHT, tuple(shapes), "lesson")


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
        x = LEFT + 10 + (e.exposed_at - start).total_seconds() / span * (right - LEFT - 20)
        yield svg.circle(x, y(e.log2_ei), 5, "dot dot-not-counted" if e.reason else "dot")


def _months(evidence, right):
    first, last = (f"{timezone.localtime(e.exposed_at):%b %Y}" for e in (evidence[0], evidence[-1]))
    shapes = [svg.text(LEFT, HEIGHT - 8, first, "label")]
    return shapes if first == last else [*shapes, svg.text(right, HEIGHT - 8, last, "label", "end")]
