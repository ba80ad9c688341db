"""The year of light as one picture."""

from datetime import timedelta

import numpy as np

from chimney.field.hours.craft.opening import LACKS_IN_DARK
from chimney.field.hours.figures import BAND_OPACITY, BANDS, HATCH_APART
from chimney.field.year.figures import over
from chimney.parts import svg
from pinhole import sun
from pinhole.light.dusk import DARK_DEG

NIGHT_BANDS = ((8 * 3600, "8 h"), (4 * 3600, "4 h"))
HOUR_STEP_MIN = 180
HATCH_ID = "year-hatch"
CROSS = (
    svg.circle(0, 0, svg.THUMB_REACH, "hit"),
    svg.circle(0, 0, 8, "ring"),
    svg.line(-14.0, 0.0, 14.0, 0.0, "ring"),
    svg.line(0.0, -14.0, 0.0, 14.0, "ring"),
)
# Names that the cross is dragged by.
READ, READ_IN_HAND = "read", "reads"
# Names on a desk and in the hand.
CHART_NAMES = {
    "lacking": ("not full before dark", "dark first"),
    "shade": ("in the skyline's shade", "shade"),
    "shadow": ("your shadow in the picture", "your shadow"),
    "flare": ("sun in the picture: flare", "flare"),
    "behind": ("sun behind you", "behind you"),
    "left": ("sun from your left", "from your left"),
    "right": ("sun from your right", "from your right"),
    "against": ("sun ahead of you", "ahead"),
}
SHOWN_SIDES, SHOWN_FLARE, SHOWN_SHADOW = "sides", "flare", "shadow"


def chart(frame, opened, camera, *, overlays=(), now_min=None):
    """A Drawing of the Hours of a YearFrame; overlays: what lies over it; now_min: the minute that
    it is today.
    """
    hours, (left, top, right, foot) = frame.hours, frame.box
    hatch = f"{HATCH_ID}-{_id(frame)}"
    shapes = [
        svg.hatch(hatch, HATCH_APART),
        svg.rect(left, top, right - left, foot - top, "ground"),
    ]
    shapes += frame.areas("light", hours.altitude_deg, "sky", DARK_DEG)
    shapes += frame.areas("day", hours.altitude_deg, "cells", sun.RISE_DEG)
    shapes += _moon(frame)
    bands = _bands(hours)
    for limit, _ in bands:
        shapes += frame.areas(limit, frame.hours.within(limit), "cell", fill_opacity=BAND_OPACITY)
    shapes += frame.areas("lacking", _lacking(frame), "hatched", fill=f"url(#{hatch})")
    shapes += _over(frame, camera, overlays)
    shapes += [*_months(frame), *_hours(frame), *_now(frame, now_min)]
    shapes += [] if frame.in_hand else _legend(frame, bands)
    label = f"read off on {opened.day:%-d %B} at {opened.clock}: "
    label += "full" if opened.is_full else "not full before dark"
    name = "How long the hole stays open"
    css = f"year {'in-hand' if frame.in_hand else 'at-desk'}"
    return svg.Drawing(name, label, *frame.size, tuple(shapes), css, _id(frame))


def _id(frame):
    return "chart-in-hand" if frame.in_hand else "chart"


def grips(frame, drawn, opened, *, live):
    """The cross that reads a moment off."""
    x, y = frame.place(opened)
    value = f"{opened.day:%-d %B}, {opened.clock}"
    name, of = (READ_IN_HAND, "-in-hand") if frame.in_hand else (READ, "")
    cross = svg.Handle(name, x, y, "The moment that is read off", CROSS, step=2.0, value=value)
    return svg.handles(drawn, "year", [cross], live=live, of=of)


def _over(frame, camera, overlays):
    """Lines of equal time, and over them what is asked for, with the names of all."""
    names, regions = [], []
    for kind, css, values in _regions(frame, camera, overlays):
        if css:
            yield from frame.areas(kind, values, css)
        regions.append((kind, CHART_NAMES[kind][frame.in_hand], values))
    if overlays and SHOWN_SIDES in overlays and frame.hours.outlook.looks_deg is not None:
        depths = frame.stretches.values("sides", lambda: over.sides(frame.hours))
        for side in ("behind", "against"):
            yield from (svg.polyline(line, "side-line") for line in frame.edges(side, depths[side]))
        regions += [
            (side, CHART_NAMES[side][frame.in_hand], depth) for side, depth in depths.items()
        ]
    names = over.names(frame, regions)
    lines, times = _isolines(frame, names)
    yield from lines
    yield from over.written(names, "on-chart")
    yield from over.written(times, "on-chart")


def _regions(frame, camera, overlays):
    """(kind, its look or "", values above 0 inside) of what is drawn over the light."""
    hours, once = frame.hours, frame.stretches.values
    looks = hours.outlook.looks_deg is not None
    if not hours.outlook.goes_on_at_night:
        yield "lacking", "", _lacking(frame)
    if (hours.behind_deg > 0).any():
        yield "shade", "in-shade", hours.behind_deg
    if looks and SHOWN_SHADOW in overlays:
        yield "shadow", "own-shadow", once("shadow", lambda: over.own_shadow(hours, camera))
    if looks and SHOWN_FLARE in overlays:
        yield "flare", "flare", once("flare", lambda: over.in_picture(hours, camera))


def _isolines(frame, names):
    """(lines along which the hole stays open equally long, names of their times: two of each at
    most, where no other stands).
    """
    shapes, times = [], []
    for limit, label in reversed(_bands(frame.hours)):
        lines = frame.edges(limit, frame.hours.within(limit))
        shapes += [svg.polyline(line, "isoline") for line in lines]
        for half in (lines[::2], lines[1::2]):
            name = over.on_lines(label, half, frame, [*names, *times])
            times += [name] if name else []
    return shapes, times


def _bands(hours):
    return (*NIGHT_BANDS, *BANDS) if hours.outlook.goes_on_at_night else BANDS


def _lacking(frame):
    """Stops that would lack at dusk, below 0 where nothing does and in the dark, (n, t)."""
    return np.nan_to_num(-frame.hours.spare_stops, nan=-1.0, posinf=LACKS_IN_DARK)


def _moon(frame):
    """Nights with the moon up, the paler the more of it is lit."""
    hours = frame.hours
    if hours.light.moon is None:
        return
    up = hours.by_day(hours.light.moon.altitude_deg)
    lit = hours.by_day(hours.light.moon.lit_share)
    for share in (0.25, 0.5, 0.75, 0.95):
        bright = np.minimum(up, (lit - share) * 100)
        night = np.minimum(bright, sun.RISE_DEG - hours.altitude_deg)
        yield from frame.areas(("moon", share), night, "moonlit", fill_opacity=0.3)


def _months(frame):
    _, top, _, base = frame.box
    for n, day in enumerate(frame.hours.days):
        if day.day == 1:
            x, month = frame.x(n), f"{day:%b}"
            yield svg.line(x, top, x, base, "grid")
            yield svg.text(x + 4, base + 16, month[0] if frame.in_hand else month, "label")


def _now(frame, now_min):
    """Today, and where one stands in it."""
    today = min(frame.hours.days)
    x = frame.x(frame.hours.days.index(today) + 0.5)
    yield svg.line(x, frame.box[1], x, frame.box[3], "now")
    left = x > frame.size[0] / 2
    place, anchor = (x - 5, "end") if left else (x + 5, "start")
    yield svg.text(place, frame.box[1] + 13, "today", "on-chart", anchor)
    if now_min is not None and frame.y.low <= now_min <= frame.y.high:
        yield svg.circle(x, frame.y(now_min), 4.0, "now-dot")


def _hours(frame):
    first = int(-(-frame.y.low // HOUR_STEP_MIN) * HOUR_STEP_MIN)
    for minute in range(first, int(frame.y.high) + 1, HOUR_STEP_MIN):
        y = frame.y(minute)
        yield svg.line(frame.box[0], y, frame.box[2], y, "grid")
        label = f"{timedelta(minutes=minute % 1440)}"[:-3]
        yield svg.text(frame.box[0] - 5, y + 5, label, "label", "end")


def _legend(frame, bands):
    """A swatch for each band, as dark as it lies over the others."""
    y, x = frame.size[1] - 16.0, frame.box[0]
    for count in range(1, len(bands) + 1):
        yield svg.rect(x, y, 16.0, 12.0, "cells")
        for _ in range(count):
            yield svg.rect(x, y, 16.0, 12.0, "cell", fill_opacity=BAND_OPACITY)
        label = f"within {bands[count - 1][1]}"
        yield svg.text(x + 21, y + 11, label, "label")
        x += 36 + 7.4 * len(label)
