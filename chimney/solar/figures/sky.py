"""The sky that a can sees, and what is dragged in it."""

from datetime import date
from functools import lru_cache

import numpy as np

from chimney.parts import svg
from chimney.parts.axes import Axis
from chimney.parts.scales import compass, number

SKY_WIDTH, SKY_HEIGHT = 560.0, 340.0
SKY_LEFT, SKY_RIGHT, SKY_TOP, SKY_BASE = 30.0, 18.0, 8.0, 300.0
SKY_FLOOR_DEG, ROOF_DEG = -6.0, 90.0
# Half of the sky that is drawn, in degrees of azimuth; beyond the polar circles and between the
# tropics all of it.
HALF_DEG, WHOLE_FROM_LATITUDE, TROPIC_DEG = 135.0, 60.0, 24.0
MOST_TRAILS, TRAIL_STEP_MIN = 26, 10
# A sun that climbs higher is drawn from minute to minute.
STEEP_DEG = 70.0
# Letters of the labels, and the caption's room, in the drawing's own units; a phone shows them
# larger.
LETTER_WIDE, LETTER_HIGH, CAPTION_WIDE = 8.0, 16.0, 230.0
# So many skies are kept: of those who drag cans at once.
KEPT = 4


class Frame:
    """Frame of the sky drawing: the equator's side in the middle."""

    def __init__(self, track):
        latitude = track.latitude_deg
        # Near the line the sun goes round both ways, near the poles all the way.
        is_whole = abs(latitude) < TROPIC_DEG or abs(latitude) > WHOLE_FROM_LATITUDE
        self.middle = 180.0 if latitude >= 0 else 0.0
        self.half = 180.0 if is_whole else HALF_DEG

        self._off = Axis(-self.half, self.half, SKY_LEFT, SKY_WIDTH - SKY_RIGHT)
        self.y = Axis(SKY_FLOOR_DEG, ROOF_DEG, SKY_BASE, SKY_TOP)

    def x(self, azimuth_deg):
        return self._off((np.asarray(azimuth_deg, float) - self.middle + 180) % 360 - 180)

    def direction(self, x, y):
        """The inverse of x and y: (azimuth, altitude) of a place on the drawing."""
        altitude = min(89.0, max(-89.0, self.y.value(y)))
        return (self.middle + self._off.value(x)) % 360, altitude

    def lines(self, azimuth_deg, altitude_deg):
        """Polylines through directions, broken where they leave the drawing."""
        x, y = self.x(azimuth_deg), self.y(altitude_deg)
        inside = (
            (x >= SKY_LEFT)
            & (x <= SKY_WIDTH - SKY_RIGHT)
            & (np.asarray(altitude_deg) >= SKY_FLOOR_DEG)
            & np.isfinite(y)
        )
        jumps = np.abs(np.diff(x, prepend=x[:1])) > (SKY_WIDTH - SKY_LEFT - SKY_RIGHT) / 2
        return runs(list(zip(x.tolist(), y.tolist(), strict=True)), inside.tolist(), jumps.tolist())


def runs(points, inside, breaks):
    """Points as runs that lie inside, broken at breaks."""
    runs, run = [], []
    for point, keep, cut in zip(points, inside, breaks, strict=True):
        if (cut or not keep) and run:
            runs, run = [*runs, run], []
        if keep:
            run.append(point)
    runs.append(run)
    return [run for run in runs if len(run) > 1]


def to_its_ends(flags, step):
    """The places of each run of flags, every step-th and its last one, so that what is drawn
    reaches as far as it lasts; shape (n,) in, arrays of places out.
    """
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flags.astype(int), [0]])))
    for first, end in zip(edges[::2], edges[1::2], strict=True):
        if end - first > 1:
            yield np.unique(np.append(np.arange(first, end, step), end - 1))


def shown_days(track):
    """Days of a Track that are drawn: first, last, the 21st of each month and more between,
    evenly.
    """
    count = len(track.days)
    every = max(1, -(-count // MOST_TRAILS))
    return sorted({0, count - 1, *range(0, count, every)})


def sky(prediction):
    """A Drawing of the sky with the sun's paths, the skyline, and the edge of what the paper
    sees.
    """
    frame = Frame(prediction.track)
    shapes = [*_behind(prediction.track)]
    shapes += [svg.polyline(run, "edge") for run in frame.lines(*_edge(prediction))]
    shapes += _before(prediction.track, prediction.skyline)
    shapes += _names(prediction, frame)
    aim = prediction.pointing
    label = (
        f"the can faces {aim.azimuth_deg:.0f}° {compass(aim.azimuth_deg)}, leaning back "
        f"{number(aim.tilt_deg, 3)}°"
    )
    caption = (
        f"faces {aim.azimuth_deg:.0f}° {compass(aim.azimuth_deg)}, leans back "
        f"{number(aim.tilt_deg, 3)}°"
    )
    shapes.append(svg.text(SKY_LEFT + 10, SKY_TOP + 20, caption, "label here-label on-sky"))
    return svg.Drawing(
        "The sky it sees", label, SKY_WIDTH, SKY_HEIGHT, tuple(shapes), "sky-drawing", "sky"
    )


@lru_cache(maxsize=KEPT)
def _behind(track):
    """Shapes of the sky, its heights and the sun's paths: the same wherever a can is dragged to."""
    frame = Frame(track)
    wide, high = SKY_WIDTH - SKY_LEFT - SKY_RIGHT, SKY_BASE - SKY_TOP
    return (
        svg.rect(SKY_LEFT, SKY_TOP, wide, high, "sky"),
        *_grid(frame),
        *_paths(track, frame),
    )


@lru_cache(maxsize=KEPT)
def _before(track, skyline):
    """Shapes of what hides the sky: the same for each aim too."""
    frame = Frame(track)
    shapes = [svg.polygon(_ground(skyline, frame), "ground")]
    if skyline.upper_points:
        shapes.append(svg.polygon(_eaves(skyline, frame), "ground"))
    if skyline.leaf_points:
        around = np.arange(0, 361, 2.0)
        leaves = frame.lines(around, skyline.altitude_deg(around, True))
        shapes += [svg.polyline(run, "leaves") for run in leaves]
    return tuple(shapes)


def _grid(frame):
    for degrees in (0, 15, 30, 45, 60, 75):
        y = frame.y(degrees)
        yield svg.line(SKY_LEFT, y, SKY_WIDTH - SKY_RIGHT, y, "grid")
        yield svg.text(SKY_LEFT - 5, y + 5, f"{degrees}°", "label", "end")
    for azimuth in range(0, 360, 45):
        x = frame.x(azimuth)
        if SKY_LEFT <= x <= SKY_WIDTH - SKY_RIGHT:
            yield svg.text(x, SKY_BASE + 18, compass(azimuth), "label strong", "middle")


def _paths(track, frame):
    named = _named_days(track)
    step = max(1, TRAIL_STEP_MIN // int(track.minutes[1] - track.minutes[0]))
    for n in shown_days(track):
        azimuth, altitude = track.azimuth_deg[n], track.altitude_deg[n]
        # Near the zenith directions change from minute to minute.
        often = 1 if altitude.max() > STEEP_DEG else step
        for places in to_its_ends(altitude > 0, often):
            for run in frame.lines(azimuth[places], altitude[places]):
                yield svg.polyline(run, "path path-named" if n in named else "path")


def _names(prediction, frame):
    """The words of the named days, each over its own noon or, where that is lowest, under it; none
    over another or the ring that is dragged, and none outside.
    """
    track, rows = prediction.track, []
    for n, label in _named_days(track).items():
        top = int(np.argmax(track.altitude_deg[n]))
        x = float(frame.x(track.azimuth_deg[n, top]))
        # In the tropics a sun may culminate behind the picture.
        if track.altitude_deg[n, top] > 1 and SKY_LEFT <= x <= SKY_WIDTH - SKY_RIGHT:
            rows.append((x, float(frame.y(track.altitude_deg[n, top])), label))
    lowest = max((y for _, y, _ in rows), default=0.0)
    ring_x, ring_y = _ring(prediction, frame)
    taken = [(ring_x - 20, ring_x + 20, ring_y + off) for off in (-4, 6, 16)]
    taken.append((SKY_LEFT, SKY_LEFT + CAPTION_WIDE, SKY_TOP + 20))
    for x, y, label in sorted(rows, key=lambda row: row[1]):
        half = LETTER_WIDE * len(label) / 2
        x = min(max(x, SKY_LEFT + half), SKY_WIDTH - SKY_RIGHT - half)
        under = y == lowest and len(rows) > 1
        base = max(SKY_TOP + LETTER_HIGH, y + LETTER_HIGH if under else y - 6)
        while any(
            a < x + half and x - half < b and abs(c - base) < LETTER_HIGH for a, b, c in taken
        ):
            base += 2.0
        taken.append((x - half, x + half, base))
        yield svg.text(x, base, label, "label on-sky", "middle")


@lru_cache(maxsize=KEPT)
def _named_days(track):
    """{place of a day: its words}: the first, the last, and solstices and equinoxes between."""
    days = track.days.astype(date)
    labels = {0: f"{days[0].day} {days[0]:%b}"}
    if abs(track.noon_altitude_deg[-1] - track.noon_altitude_deg[0]) > 8:
        labels[len(days) - 1] = f"{days[-1].day} {days[-1]:%b}"
    for n, day in enumerate(days[:800]):
        if (day.month, day.day) in ((3, 20), (6, 21), (9, 23), (12, 21)) and all(
            abs(n - m) > 20 for m in labels
        ):
            labels[n] = "equinox" if day.month in (3, 9) else f"{day.day} {day:%b}"
    return labels


def _edge(prediction):
    right, up = prediction.back.outline(48)
    return prediction.pointing.sky(np.append(right, right[0]), np.append(up, up[0]))


def _ground(skyline, frame):
    around = frame.middle - frame.half + np.linspace(0.001, 2 * frame.half - 0.001, 181)
    height = np.maximum(skyline.altitude_deg(around), SKY_FLOOR_DEG)
    top = list(zip(frame.x(around), frame.y(height), strict=True))
    return [
        (SKY_LEFT, SKY_BASE),
        *((float(x), float(y)) for x, y in top),
        (SKY_WIDTH - SKY_RIGHT, SKY_BASE),
    ]


def _eaves(skyline, frame):
    """Corners of the part that eaves hide, from the top of the drawing down."""
    around = frame.middle - frame.half + np.linspace(0.001, 2 * frame.half - 0.001, 361)
    ceiling = np.clip(skyline.ceiling_deg(around), SKY_FLOOR_DEG, ROOF_DEG)
    low = zip(frame.x(around).tolist(), frame.y(ceiling).tolist(), strict=True)
    return [(SKY_LEFT, SKY_TOP), *low, (SKY_WIDTH - SKY_RIGHT, SKY_TOP)]


# The first circle of a handle is not prediction: it is what a thumb hits.
AIM_RING = (
    svg.circle(0, 0, 24, "hit"),
    svg.circle(0, 0, 13, "ring"),
    svg.line(-6.0, 0.0, 6.0, 0.0, "ring"),
    svg.line(0.0, -6.0, 0.0, 6.0, "ring"),
)
DOT = (svg.circle(0, 0, 15, "hit"), svg.circle(0, 0, 6, "grip"))
# Where no skyline is drawn yet, these wait on the horizon to be lifted.
LEVEL = tuple((float(azimuth), 0.0) for azimuth in range(0, 360, 30))


def grips(prediction):
    """Handles: each point of the skyline, and over them the ring that points the can."""
    frame, aim, handles = Frame(prediction.track), prediction.pointing, []
    for n, (azimuth, height) in enumerate(prediction.skyline.points or LEVEL):
        x, y = frame.x(azimuth), float(frame.y(height))
        if SKY_LEFT <= x <= SKY_WIDTH - SKY_RIGHT:
            label, high = f"Skyline at {azimuth:.0f} degrees", f"{number(height, 2)} degrees high"
            handles.append(svg.Handle(f"sky{n}", x, y, label, DOT, step=3.0, value=high))
    looks = f"{aim.azimuth_deg:.0f} degrees, leaning back {number(aim.tilt_deg, 3)}"
    place = _ring(prediction, frame)
    ring = svg.Handle("aim", *place, "The can's direction", AIM_RING, step=4.0, value=looks)
    return [*handles, ring]


def _ring(prediction, frame):
    """(x, y) of the ring that points the can, inside the drawing."""
    aim = prediction.pointing
    x = min(SKY_WIDTH - SKY_RIGHT, max(SKY_LEFT, float(frame.x(aim.azimuth_deg))))
    return x, min(SKY_BASE, max(SKY_TOP, float(frame.y(aim.tilt_deg))))
