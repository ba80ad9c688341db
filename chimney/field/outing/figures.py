"""The day as a bar of light, with each shot on it at its true length."""

import numpy as np

from chimney.parts import svg
from chimney.parts.axes import Axis
from chimney.parts.scales import number

DAY_WIDTH, DAY_HEIGHT = 1000.0, 214.0
DAY_LEFT, DAY_RIGHT, DAY_TOP, DAY_BASE = 14.0, 14.0, 26.0, 178.0
BLOCK = 34.0
# What a thumb hits, in a bar that a phone shows at 0.86.
SHOT_THUMB = 52.0
# The light is drawn over so many stops; what is darker lies on the floor.
STOPS_DRAWN = 12.0


def hours_axis(daylight):
    """The Axis of the hours of a Daylight, in seconds from its start."""
    return Axis(0.0, float(daylight.times_s[-1]), DAY_LEFT, DAY_WIDTH - DAY_RIGHT)


def seconds_of(daylight, x):
    """Time after the start of the daylight to which a shot was dragged, to a whole minute of the
    clock.
    """
    seconds = hours_axis(daylight).value(min(DAY_WIDTH - DAY_RIGHT, max(DAY_LEFT, x)))
    start_s = daylight.start.timestamp() % 60
    return round((start_s + seconds) / 60) * 60.0 - start_s


def bar(day):
    """A Drawing of the ScheduledDay: EV at ISO 100 through it, sunrise and sunset, every shot."""
    ev100 = day.daylight.before()
    best = float(ev100.max())
    top = float(np.ceil(best))
    x, y = hours_axis(day.daylight), Axis(top - STOPS_DRAWN, top, DAY_BASE, DAY_TOP)
    curve = list(zip(x(day.daylight.times_s), y.inside(ev100), strict=True))
    shapes = [
        svg.polygon([(DAY_LEFT, DAY_BASE), *curve, (DAY_WIDTH - DAY_RIGHT, DAY_BASE)], "sky"),
        svg.polyline(curve, "sun-path"),
    ]
    shapes += [svg.line(DAY_LEFT, DAY_BASE, DAY_WIDTH - DAY_RIGHT, DAY_BASE, "axis"), *_hours(day)]
    for moment, label in ((day.sun.rise, "sun up"), (day.sun.set, "sun down")):
        if moment:
            place_px = x((moment - day.daylight.start).total_seconds())
            shapes += [
                svg.line(place_px, DAY_TOP - 8, place_px, DAY_BASE, "box-line"),
                svg.text(place_px, DAY_TOP - 12, f"{label} {moment:%H:%M}", "label", "middle"),
            ]
    if day.now and (since := (day.now - day.daylight.start).total_seconds()) >= 0:
        place_px = x.inside(since)
        shapes += [
            svg.line(place_px, DAY_TOP, place_px, DAY_BASE, "now"),
            svg.text(place_px + 4, DAY_TOP + 6, "now", "label"),
        ]
    for row, slot in enumerate(day.slots):
        shapes += _block(day, slot, row)
    label = f"light on what the sun stands before up to EV {number(best, 3)}; " + "; ".join(
        f"{slot.shot}: opens {slot.opens:%H:%M}, closes {slot.ends:%H:%M}" for slot in day.slots
    )
    return svg.Drawing(
        f"The day at {day.outing.place}",
        label,
        DAY_WIDTH,
        DAY_HEIGHT,
        tuple(shapes),
        "day",
        "day-bar",
    )


def _hours(day):
    start = day.daylight.start
    hours = int(day.daylight.times_s[-1] // 3600) + 1
    every = max(1, hours // 12)
    first = 3600 - (start.minute * 60 + start.second)
    for n in range(0, hours, every):
        seconds = first + n * 3600
        if seconds > day.daylight.times_s[-1]:
            break
        x = hours_axis(day.daylight)(seconds)
        yield svg.line(x, DAY_BASE, x, DAY_BASE + 6, "axis")
        yield svg.text(x, DAY_BASE + 22, f"{(start.hour + 1 + n) % 24}:00", "label", "middle")


def _ends(day, slot):
    """x of beginning, opening and end, kept on the drawing."""
    moments = (slot.begins, slot.opens, slot.ends)
    x = hours_axis(day.daylight)
    return [x.inside((moment - day.daylight.start).total_seconds()) for moment in moments]


def _block(day, slot, row):
    begins, opens, ends = _ends(day, slot)
    y = DAY_BASE - BLOCK - (row % 3) * (BLOCK + 4)
    css = "shot-wrong" if slot.wrong else "shot-done" if slot.made else "shot"
    yield svg.rect(begins, y + BLOCK - 8, max(1.0, opens - begins), 8.0, "set-up")
    yield svg.rect(opens, y, max(3.0, ends - opens), BLOCK, css)
    if slot.is_dark:
        return
    yield svg.text(ends + 5, y + 14, f"{slot.shot.subject[:24]}", "label shot-label")
    yield svg.text(ends + 5, y + 30, f"{slot.opens:%H:%M}, {slot.lengths}", "label")


def _reach(width):
    """Area of a block that a thumb can hit, however short it is."""
    wide = max(SHOT_THUMB, width)
    aside, above = (wide - width) / 2, (SHOT_THUMB - BLOCK) / 2
    return svg.rect(-aside, -above, wide, SHOT_THUMB, "reach")


def grips(day):
    """A Handle over each shot that is still to do: dragged along the hours."""
    for row, slot in enumerate(day.slots):
        if slot.made or slot.shot.beside_id:
            continue
        begins, _, ends = _ends(day, slot)
        y = DAY_BASE - BLOCK - (row % 3) * (BLOCK + 4)
        width = max(26.0, ends - begins)
        opens = f"opens {slot.opens:%H:%M}, {slot.lengths}"
        yield svg.Handle(
            str(slot.shot.pk),
            begins,
            y,
            str(slot.shot),
            (_reach(width), svg.rect(0.0, 0.0, width, BLOCK, "grip-block")),
            "x",
            5.0,
            opens,
        )
