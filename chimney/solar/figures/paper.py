"""The paper as it will be drawn on: the same numbers as the sky's."""

import numpy as np

from chimney.parts import svg
from chimney.solar.craft import bites
from chimney.solar.figures.sky import TRAIL_STEP_MIN, shown_days, to_its_ends
from pinhole.projection import directions

# A thinner crescent draws nothing (common practice).
THINNEST_CRESCENT = 0.02


def paper(prediction, view, later=(), whole=None):
    """A Drawing of the paper in mm with its trails: as a finished positive, or as the negative lies
    in the camera.

    The positive stands upright and is turned right way round: a sun to the photographer's right
    lies at the right. later: Predictions of the same sheet since the can was turned, whose trails
    lie over the first; whole: the Survey of all of them, its own if None.
    """
    half_across, half_high = prediction.back.half_mm
    scale = min(460.0 / (2 * half_across), 300.0 / (2 * half_high))
    wide, high = 2 * half_across * scale, 2 * half_high * scale
    up = 1 if view == "positive" else -1

    def at(x, y):
        return (x + half_across) * scale + 2, (up * y + half_high) * scale + 2

    shapes = [svg.rect(2.0, 2.0, wide, high, "paper-sky" if view == "positive" else "paper-plain")]
    shapes += ground_on(prediction, at, (half_across, half_high), view)
    shapes += _trails(prediction, at, scale, "trail" if view == "positive" else "trail-dark")
    shapes += _bitten(prediction, at, scale, "trail" if view == "positive" else "trail-dark")
    for since in later:
        shapes += _trails(since, at, scale, "trail-since")
    shapes.append(svg.rect(2.0, 2.0, wide, high, "frame"))
    along_words = prediction.camera.back_kind.along_words
    across = f"{2 * half_across:.0f} mm {along_words}, {2 * half_high:.0f} mm high"
    shapes.append(svg.text(2.0, high + 20, across, "label"))
    how = (
        "finished positive"
        if view == "positive"
        else "negative as it lies in the camera, seen from the hole"
    )
    summed = whole or prediction.survey
    label = f"{across}; {how}; the sun on it on {summed.days_on_paper} of {summed.days} days"
    return svg.Drawing(
        "What lands on the paper",
        label,
        wide + 4,
        high + 28,
        tuple(shapes),
        "paper-drawing",
        "paper",
    )


def _trails(prediction, track_at, scale, css):
    """The daily lines that are drawn, or a dot a day for one clock time."""
    usual = np.nan_to_num(prediction.lines.usual_mm)
    if prediction.minutes is not None and prediction.minutes[0] == prediction.minutes[1]:
        radius = max(1.0, usual * scale / 2)
        x, y = track_at(
            prediction.trails.x_mm[prediction.trails.on_paper],
            prediction.trails.y_mm[prediction.trails.on_paper],
        )
        return [
            svg.circle(float(a), float(b), radius, f"{css}-dot") for a, b in zip(x, y, strict=True)
        ]
    step = max(1, TRAIL_STEP_MIN // int(prediction.track.minutes[1] - prediction.track.minutes[0]))
    pieces = []
    for n in shown_days(prediction.track):
        x, y = track_at(prediction.trails.x_mm[n], prediction.trails.y_mm[n])
        for places in to_its_ends(prediction.trails.on_paper[n], step):
            wide = float(np.median(prediction.lines.widths_mm[n, places])) * scale
            run = list(zip(x[places].tolist(), y[places].tolist(), strict=True))
            pieces.append(svg.polyline(run, css, stroke_width=wide))
    return pieces


def _bitten(prediction, track_at, scale, css):
    """The trail of each day with an eclipse, as narrow as the sun that is left; nothing of it in
    the middle of a total one.
    """
    pieces = []
    for n, shares in bites(prediction):
        x, y = track_at(prediction.trails.x_mm[n], prediction.trails.y_mm[n])
        wide = np.nan_to_num(prediction.lines.widths_mm[n]) * scale
        lands = prediction.trails.on_paper[n]
        for k in np.flatnonzero(lands[:-1] & lands[1:]):
            left = 1 - float(shares[k : k + 2].mean())
            run = [(float(x[k]), float(y[k])), (float(x[k + 1]), float(y[k + 1]))]
            if left > THINNEST_CRESCENT:
                of_line = "bitten" if left < 1 else css
                pieces.append(svg.polyline(run, of_line, stroke_width=float(wide[k]) * left))
    return pieces


def ground_on(prediction, at, half, view):
    """The ground: everything on the paper that lies below the skyline's own image, or all or none
    of it.
    """
    css = "paper-ground" if view == "positive" else "paper-ground-dark"
    if prediction.pointing.roll_deg or prediction.skyline.upper_points:
        return list(_ground_by_columns(prediction, at, half, css))
    around = np.arange(0, 360, 0.5)
    height = np.maximum(prediction.skyline.altitude_deg(around), 0.0)
    sky = directions(np.radians(around), np.radians(height))
    x, y, _ = prediction.back.place(prediction.pointing, sky)
    keep = np.isfinite(x) & (np.abs(x) <= half[0] * 1.02)
    order = np.argsort(x[keep])
    # y grows toward camera-up, which is where the ground's image lies: the picture stands on its
    # head.
    across = np.clip(x[keep][order], -half[0], half[0]).tolist()
    high = np.clip(y[keep][order], -half[1], half[1]).tolist()
    edge = list(zip(across, high, strict=True))
    if not edge:
        edge = [(-half[0], half[1] if prediction.pointing.tilt_deg > 0 else -half[1])]
    edge = [(-half[0], edge[0][1]), *edge, (half[0], edge[-1][1])]
    points = [at(a, b) for a, b in edge]
    return [svg.polygon([*points, at(half[0], half[1]), at(-half[0], half[1])], css)]


# The ground of a rolled can, or under eaves, is drawn in so many columns, each looked at in so many
# places.
GROUND_COLUMNS, GROUND_PLACES = 90, 120


def _ground_by_columns(prediction, at, half, css):
    """The same where a skyline may run any way across the paper, or hide it from above as well."""
    width = 2 * half[0] / GROUND_COLUMNS
    x = (np.arange(GROUND_COLUMNS) + 0.5) * width - half[0]
    y = np.linspace(-half[1], half[1], GROUND_PLACES)
    azimuth, altitude = prediction.pointing.sky(*prediction.back.sight(*np.meshgrid(x, y)))
    ground = (altitude < 0) | prediction.skyline.hides(azimuth, altitude)
    for n in range(GROUND_COLUMNS):
        edges = np.flatnonzero(np.diff(np.concatenate([[0], ground[:, n].astype(int), [0]])))
        for first, last in zip(edges[::2], edges[1::2] - 1, strict=True):
            (left, a), (right, b) = (
                at(x[n] + side * width * 0.52, y[k]) for side, k in ((-1, first), (1, last))
            )
            yield svg.rect(left, min(a, b), right - left, abs(b - a), css)
