"""The days of a can as a strip, and the cans that are out on a map."""

from datetime import date, timedelta

import numpy as np

from chimney.parts import svg
from chimney.parts.scales import compass, number
from pinhole.projection import directions

STRIP_W, STRIP_H = 1000.0, 54.0


def calendar(prediction):
    """A cell a day of the year in which the first day lies, and on to the last: how much of its sun
    is on the paper.
    """
    first, last = (prediction.track.days[n].astype(date) for n in (0, -1))
    start = min(first, date(first.year, 1, 1) if last.year == first.year else first)
    end = max(last, start + timedelta(days=365))
    count = (end - start).days + 1
    width, offset = STRIP_W / count, (first - start).days
    share = np.nan_to_num(prediction.trails.day_share)
    lost = ~prediction.trails.noon_on_paper & (prediction.track.noon_altitude_deg > 0)
    shapes = [svg.rect(0.0, 0.0, STRIP_W, 26.0, "cells")]
    for n in range(min(len(share), count - offset)):
        css = "cell-over" if lost[n] else "cell"
        strength = max(0.12 + 0.88 * float(share[n]), 0.5 if lost[n] else 0.0)
        shapes.append(
            svg.rect(
                (offset + n) * width, 0.0, max(0.8, width - 0.5), 26.0, css, fill_opacity=strength
            )
        )
    for n in range(count):
        day = start + timedelta(days=n)
        if day.day == 1 and day.month % (2 if count < 800 else 12) == 1:
            named = f"{day:%b}" if count <= 366 else f"{day:%b} {day:%y}"
            shapes.append(svg.text(n * width, 44.0, named, "label"))
    if lost.any():
        shapes += [
            svg.rect(0.0, 56.0, 12.0, 12.0, "cell-over"),
            svg.text(18.0, 67.0, "its noon is not on the paper", "label"),
        ]
    words = (
        f"{prediction.survey.days_on_paper} of {prediction.survey.days} days with the sun on "
        "the paper"
    )
    height = STRIP_H + (20 if lost.any() else 0)
    return svg.Drawing(
        "The year, a cell a day", words, STRIP_W, height, tuple(shapes), "calendar", "calendar"
    )


def map_of(cans):
    """A plan of cans from above: where each is and which way it looks, true to scale among
    themselves.
    """
    where = np.array([can.where for can in cans])
    middle = where.mean(axis=0)
    east = (where[:, 1] - middle[1]) * 111.32 * np.cos(np.radians(middle[0]))
    north = (where[:, 0] - middle[0]) * 110.57
    reach = max(float(np.abs([east, north]).max()), 0.05)
    scale, size = 120.0 / reach, 300.0
    shapes = [
        svg.rect(0.0, 0.0, size + 120, size, "sky"),
        svg.text(size / 2, 14.0, "N", "label strong", "middle"),
    ]
    taken = []
    for can, e, n in zip(cans, east, north, strict=True):
        x, y = size / 2 + e * scale, size / 2 - n * scale
        while any(abs(x - a) < 12 and abs(y - b) < 17 for a, b in taken):
            y += 17
        taken.append((x, y))
        aim = directions(np.radians(can.azimuth_deg), 0.0)
        shapes += [
            svg.line(x, y, x + 18 * float(aim[0]), y - 18 * float(aim[1]), "ray"),
            svg.circle(x, y, 5, "here"),
        ]
        shapes.append(svg.text(x + 10, y + 5, str(can), "label"))
    bar = next(
        m for m in (0.01, 0.1, 1, 10, 100, 1000, 10_000, 40_000) if m * scale >= 24 or m == 40_000
    )
    shapes += [
        svg.line(10.0, size - 12, 10 + bar * scale, size - 12, "measure"),
        svg.text(10.0, size - 18, f"{number(bar)} km", "label"),
    ]
    words = "; ".join(f"{can} looks {compass(can.azimuth_deg)}" for can in cans)
    return svg.Drawing("Where the cans are", words, size + 120, size, tuple(shapes), "map")
