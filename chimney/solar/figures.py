"""The sky a can sees, and the paper as it will be drawn on: two drawings of the same numbers."""

from datetime import date, timedelta

import numpy as np

from chimney.parts import svg
from chimney.parts.scales import compass, number
from pinhole.projection import directions

WIDTH, HEIGHT = 560.0, 340.0
LEFT, RIGHT, TOP, BASE = 30.0, 18.0, 8.0, 300.0
FLOOR_DEG, ROOF_DEG = -6.0, 90.0
# Half of the sky that is drawn, in degrees of azimuth; beyond the polar circles all of it.
HALF_DEG, WHOLE_FROM_LATITUDE = 135.0, 60.0
MOST_TRAILS, TRAIL_STEP_MIN = 26, 10


class Frame:
    """Where directions lie on the sky drawing: the equator's side in the middle."""

    def __init__(self, track):
        latitude = track.latitude_deg
        noon = float(np.median(np.sin(np.radians(track.noon_azimuth_deg - 90))))
        self.middle = 180.0 if noon > 0 or (noon == 0 and latitude >= 0) else 0.0
        self.half = 180.0 if abs(latitude) > WHOLE_FROM_LATITUDE else HALF_DEG

    def x(self, azimuth_deg):
        off = (np.asarray(azimuth_deg, float) - self.middle + 180) % 360 - 180
        return LEFT + (off + self.half) / (2 * self.half) * (WIDTH - LEFT - RIGHT)

    def y(self, altitude_deg):
        return BASE - (np.asarray(altitude_deg, float) - FLOOR_DEG) / (ROOF_DEG - FLOOR_DEG) * (BASE - TOP)

    def direction(self, x, y):
        """The inverse of x and y: (azimuth, altitude) of a place on the drawing."""
        off = (x - LEFT) / (WIDTH - LEFT - RIGHT) * 2 * self.half - self.half
        altitude = FLOOR_DEG + (BASE - y) / (BASE - TOP) * (ROOF_DEG - FLOOR_DEG)
        return (self.middle + off) % 360, min(89.0, max(-89.0, altitude))

    def lines(self, azimuth_deg, altitude_deg):
        """Polylines through directions, broken where they leave the drawing."""
        x, y = self.x(azimuth_deg), self.y(altitude_deg)
        seen = (x >= LEFT) & (x <= WIDTH - RIGHT) & (np.asarray(altitude_deg) >= FLOOR_DEG) & np.isfinite(y)
        jumps = np.abs(np.diff(x, prepend=x[:1])) > (WIDTH - LEFT - RIGHT) / 2
        return _runs(list(zip(x.tolist(), y.tolist(), strict=True)), seen.tolist(), jumps.tolist())


def _runs(points, seen, breaks):
    """Points as runs that are seen, broken at breaks."""
    runs, run = [], []
    for point, keep, cut in zip(points, seen, breaks, strict=True):
        if (cut or not keep) and run:
            runs, run = [*runs, run], []
        if keep:
            run.append(point)
    runs.append(run)
    return [run for run in runs if len(run) > 1]


def shown_days(seen):
    """Which days of the Track are drawn: first, last, the 21st of each month and more between, evenly."""
    count = len(seen.track.days)
    every = max(1, -(-count // MOST_TRAILS))
    return sorted({0, count - 1, *range(0, count, every)})


def sky(seen):
    """A Drawing of the sky with the sun's paths, the skyline, and the edge of what the paper sees."""
    frame = Frame(seen.track)
    shapes = [svg.rect(LEFT, TOP, WIDTH - LEFT - RIGHT, BASE - TOP, "sky"), *_grid(frame), *_paths(seen, frame)]
    shapes += [svg.polyline(run, "edge") for run in frame.lines(*_edge(seen))]
    shapes.append(svg.polygon(_ground(seen, frame), "ground"))
    if seen.skyline.leaf_points:
        around = np.arange(0, 361, 2.0)
        shapes += [svg.polyline(run, "leaves") for run in frame.lines(around, seen.skyline.altitude_deg(around, True))]
    aim = seen.pointing
    words = f"the can faces {aim.azimuth_deg:.0f}° {compass(aim.azimuth_deg)}, leaning back {number(aim.tilt_deg, 3)}°"
    said = f"faces {aim.azimuth_deg:.0f}° {compass(aim.azimuth_deg)}, leans back {number(aim.tilt_deg, 3)}°"
    shapes.append(svg.text(LEFT + 10, TOP + 20, said, "label here-label"))
    return svg.Drawing("The sky it sees", words, WIDTH, HEIGHT, tuple(shapes), "sky-drawing", "sky")


def _grid(frame):
    for degrees in (0, 15, 30, 45, 60, 75):
        y = float(frame.y(degrees))
        yield svg.line(LEFT, y, WIDTH - RIGHT, y, "grid")
        yield svg.text(LEFT - 5, y + 5, f"{degrees}°", "label", "end")
    for azimuth in range(0, 360, 45):
        x = float(frame.x(azimuth))
        if LEFT <= x <= WIDTH - RIGHT:
            yield svg.text(x, BASE + 18, compass(azimuth), "label strong", "middle")


def _paths(seen, frame):
    named = _named_days(seen)
    step = max(1, TRAIL_STEP_MIN // int(seen.track.minutes[1] - seen.track.minutes[0]))
    for n in shown_days(seen):
        azimuth, altitude = seen.track.azimuth_deg[n, ::step], seen.track.altitude_deg[n, ::step]
        for run in frame.lines(azimuth, np.where(altitude > 0, altitude, np.nan)):
            yield svg.polyline(run, "path path-named" if n in named else "path")
    for n, words in named.items():
        top = int(np.argmax(seen.track.altitude_deg[n]))
        if seen.track.altitude_deg[n, top] > 1:
            x, y = float(frame.x(seen.track.azimuth_deg[n, top])), float(frame.y(seen.track.altitude_deg[n, top]))
            yield svg.text(x, y - 6, words, "label", "middle")


def _named_days(seen):
    """{place of a day: its words}: the first, the last, and solstices and equinoxes between."""
    days = seen.track.days.astype(date)
    found = {0: f"{days[0].day} {days[0]:%b}"}
    if abs(seen.track.noon_altitude_deg[-1] - seen.track.noon_altitude_deg[0]) > 8:
        found[len(days) - 1] = f"{days[-1].day} {days[-1]:%b}"
    for n, day in enumerate(days[:800]):
        if (day.month, day.day) in ((3, 20), (6, 21), (9, 23), (12, 21)) and all(abs(n - m) > 20 for m in found):
            found[n] = "equinox" if day.month in (3, 9) else f"{day.day} {day:%b}"
    return found


def _edge(seen):
    right, up = seen.back.outline(48)
    return seen.pointing.sky(np.append(right, right[0]), np.append(up, up[0]))


def _ground(seen, frame):
    around = frame.middle - frame.half + np.linspace(0.001, 2 * frame.half - 0.001, 181)
    height = np.maximum(seen.skyline.altitude_deg(around), FLOOR_DEG)
    top = list(zip(frame.x(around), frame.y(height), strict=True))
    return [(LEFT, BASE), *((float(x), float(y)) for x, y in top), (WIDTH - RIGHT, BASE)]


# The first circle of a handle is not seen: it is what a thumb hits.
RING = (
    svg.circle(0, 0, 24, "hit"),
    svg.circle(0, 0, 13, "ring"),
    svg.line(-6.0, 0.0, 6.0, 0.0, "ring"),
    svg.line(0.0, -6.0, 0.0, 6.0, "ring"),
)
DOT = (svg.circle(0, 0, 15, "hit"), svg.circle(0, 0, 6, "grip"))
# Where no skyline is drawn yet, these wait on the horizon to be lifted.
LEVEL = tuple((float(azimuth), 0.0) for azimuth in range(0, 360, 30))


def grips(seen):
    """Handles: each point of the skyline, and over them the ring that points the can."""
    frame, aim, found = Frame(seen.track), seen.pointing, []
    for n, (azimuth, height) in enumerate(seen.skyline.points or LEVEL):
        x, y = float(frame.x(azimuth)), float(frame.y(height))
        if LEFT <= x <= WIDTH - RIGHT:
            words = f"Skyline at {azimuth:.0f} degrees: {number(height, 3)} high"
            found.append(svg.Handle(f"sky{n}", x, y, words, DOT, step=3.0))
    words = f"The can's direction: {aim.azimuth_deg:.0f} degrees, leaning back {number(aim.tilt_deg, 3)}"
    x = min(WIDTH - RIGHT, max(LEFT, float(frame.x(aim.azimuth_deg))))
    y = min(BASE, max(TOP, float(frame.y(aim.tilt_deg))))
    return [*found, svg.Handle("aim", x, y, words, RING, step=4.0)]


def paper(seen, view):
    """A Drawing of the paper in mm with its trails: as a finished positive, or as the negative lies in the camera.

    The positive stands upright and is turned right way round: a sun to the photographer's right lies at the right.
    """
    half_across, half_high = seen.back.half_mm
    scale = min(460.0 / (2 * half_across), 300.0 / (2 * half_high))
    wide, high = 2 * half_across * scale, 2 * half_high * scale
    up = 1 if view == "positive" else -1

    def at(x, y):
        return (x + half_across) * scale + 2, (up * y + half_high) * scale + 2

    shapes = [svg.rect(2.0, 2.0, wide, high, "paper-sky" if view == "positive" else "paper-plain")]
    shapes += _skyline_on(seen, at, (half_across, half_high), view)
    shapes += _trails(seen, at, scale, "trail" if view == "positive" else "trail-dark")
    shapes.append(svg.rect(2.0, 2.0, wide, high, "frame"))
    way = "wide" if seen.camera.back == "flat" else "along the wall"
    across = f"{2 * half_across:.0f} mm {way}, {2 * half_high:.0f} mm high"
    shapes.append(svg.text(2.0, high + 20, across, "label"))
    how = "finished positive" if view == "positive" else "negative as it lies in the camera, seen from the hole"
    words = f"{across}; {how}; the sun on it on {seen.survey.days_on_paper} of {seen.survey.days} days"
    return svg.Drawing("What lands on the paper", words, wide + 4, high + 28, tuple(shapes), "paper-drawing", "paper")


def _trails(seen, at, scale, css):
    """The daily lines that are drawn, or a dot a day for one clock time."""
    if seen.minutes is not None and seen.minutes[0] == seen.minutes[1]:
        radius = max(1.0, seen.lines.width_mm * scale / 2)
        x, y = at(seen.look.x_mm[seen.look.on_paper], seen.look.y_mm[seen.look.on_paper])
        return [svg.circle(float(a), float(b), radius, f"{css}-dot") for a, b in zip(x, y, strict=True)]
    step = max(1, TRAIL_STEP_MIN // int(seen.track.minutes[1] - seen.track.minutes[0]))
    found = []
    for n in shown_days(seen):
        keep = seen.look.on_paper[n, ::step]
        x, y = at(seen.look.x_mm[n, ::step], seen.look.y_mm[n, ::step])
        runs = _runs(list(zip(x.tolist(), y.tolist(), strict=True)), keep.tolist(), [False] * len(keep))
        found += [svg.polyline(run, css) for run in runs]
    return found


def _skyline_on(seen, at, half, view):
    """The ground: everything on the paper that lies below the skyline's own image, or all or none of it."""
    around = np.arange(0, 360, 0.5)
    height = np.maximum(seen.skyline.altitude_deg(around), 0.0)
    sky = directions(np.radians(around), np.radians(height))
    x, y, _ = seen.back.place(seen.pointing, sky)
    keep = np.isfinite(x) & (np.abs(x) <= half[0] * 1.02)
    order = np.argsort(x[keep])
    # y grows toward camera-up, which is where the ground's image lies: the picture stands on its head.
    across = np.clip(x[keep][order], -half[0], half[0]).tolist()
    high = np.clip(y[keep][order], -half[1], half[1]).tolist()
    edge = list(zip(across, high, strict=True))
    if not edge:
        edge = [(-half[0], half[1] if seen.pointing.tilt_deg > 0 else -half[1])]
    edge = [(-half[0], edge[0][1]), *edge, (half[0], edge[-1][1])]
    points = [at(a, b) for a, b in edge]
    css = "paper-ground" if view == "positive" else "paper-ground-dark"
    return [svg.polygon([*points, at(half[0], half[1]), at(-half[0], half[1])], css)]


STRIP_W, STRIP_H = 1000.0, 54.0


def calendar(seen):
    """A cell a day of the year in which the first day lies, and on to the last: how much of its sun is on the paper."""
    first, last = (seen.track.days[n].astype(date) for n in (0, -1))
    start = min(first, date(first.year, 1, 1) if last.year == first.year else first)
    end = max(last, start + timedelta(days=365))
    count = min((end - start).days + 1, 366)
    width, offset = STRIP_W / count, (first - start).days
    share = np.nan_to_num(seen.look.day_share)
    shapes = [svg.rect(0.0, 0.0, STRIP_W, 26.0, "cells")]
    for n in range(min(len(share), count - offset)):
        css = "cell-over" if seen.look.noon_over_top[n] else "cell"
        strength = max(0.12 + 0.88 * float(share[n]), 0.5 if seen.look.noon_over_top[n] else 0.0)
        shapes.append(svg.rect((offset + n) * width, 0.0, max(0.8, width - 0.5), 26.0, css, fill_opacity=strength))
    for n in range(count):
        day = start + timedelta(days=n)
        if day.day == 1 and day.month % 2:
            shapes.append(svg.text(n * width, 44.0, f"{day:%b}", "label"))
    words = f"{seen.survey.days_on_paper} of {seen.survey.days} days with the sun on the paper"
    return svg.Drawing("The year, a cell a day", words, STRIP_W, STRIP_H, tuple(shapes), "calendar", "calendar")


def map_of(cans):
    """A plan of cans from above: where each is and which way it looks, true to scale among themselves."""
    where = np.array([can.where for can in cans])
    middle = where.mean(axis=0)
    east = (where[:, 1] - middle[1]) * 111.32 * np.cos(np.radians(middle[0]))
    north = (where[:, 0] - middle[0]) * 110.57
    reach = max(float(np.abs([east, north]).max()), 0.05)
    scale, size = 120.0 / reach, 300.0
    shapes = [svg.rect(0.0, 0.0, size + 120, size, "sky"), svg.text(size / 2, 14.0, "N", "label strong", "middle")]
    taken = []
    for can, e, n in zip(cans, east, north, strict=True):
        x, y = size / 2 + e * scale, size / 2 - n * scale
        while any(abs(x - a) < 12 and abs(y - b) < 17 for a, b in taken):
            y += 17
        taken.append((x, y))
        aim = directions(np.radians(can.azimuth_deg), 0.0)
        shapes += [svg.line(x, y, x + 18 * float(aim[0]), y - 18 * float(aim[1]), "ray"), svg.circle(x, y, 5, "here")]
        shapes.append(svg.text(x + 10, y + 5, str(can), "label"))
    bar = next(m for m in (0.01, 0.1, 1, 10, 100, 1000, 10_000, 40_000) if m * scale >= 24 or m == 40_000)
    shapes += [
        svg.line(10.0, size - 12, 10 + bar * scale, size - 12, "measure"),
        svg.text(10.0, size - 18, f"{number(bar)} km", "label"),
    ]
    words = "; ".join(f"{can} looks {compass(can.azimuth_deg)}" for can in cans)
    return svg.Drawing("Where the cans are", words, size + 120, size, tuple(shapes), "map")
