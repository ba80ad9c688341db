"""The days of a can as a strip."""

from datetime import date, timedelta

import numpy as np

from chimney.parts import svg

STRIP_W, STRIP_H = 1000.0, 54.0


def _lost(prediction):
    """(days that miss the paper, in words why): by their noon, or by the time that it is open."""
    trails = prediction.trails
    if prediction.minutes:
        lost = trails.counted.any(axis=1) & ~trails.on_paper.any(axis=1)
        return lost, "the sun is not on the paper then"
    return trails.noon_seen & ~trails.noon_on_paper, "its noon is not on the paper"


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
    lost, words = _lost(prediction)
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
            svg.text(18.0, 67.0, words, "label"),
        ]
    label = (
        f"{prediction.survey.days_on_paper} of {prediction.survey.days} days with the sun on "
        "the paper"
    )
    height = STRIP_H + (20 if lost.any() else 0)
    return svg.Drawing(
        "The year, a cell a day", label, STRIP_W, height, tuple(shapes), "calendar", "calendar"
    )
