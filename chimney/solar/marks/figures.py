"""The scan with the trails over it that the can should have drawn as it stood, and the marks."""

import numpy as np

from chimney.parts import svg
from chimney.solar.figures.sky import shown_days, to_its_ends

WIDE = 640.0
STEP = 4


def overlay(picture_url, aspect, marks, prediction):
    """A Drawing: the positive, each mark, and the predicted trails if there is a Prediction."""
    high = WIDE * aspect
    shapes = [
        svg.Shape("image", {"href": picture_url, "width": WIDE, "height": high, "class": "seen"})
    ]
    if prediction:
        shapes += _trails(prediction, high)
    for n, mark in enumerate(marks, 1):
        x, y = mark.across * WIDE, mark.down * high
        shapes += [svg.circle(x, y, 7.0, "mark-ring"), svg.text(x + 9, y - 7, n, "label mark-name")]
    words = f"{len(marks)} marks on the picture" + (", the trails over it" if prediction else "")
    return svg.Drawing("The picture that came", words, WIDE, high, tuple(shapes), "overlay")


def _trails(prediction, high):
    half_across, half_high = prediction.back.half_mm
    found = []
    for n in shown_days(prediction):
        x, y = prediction.trails.x_mm[n], prediction.trails.y_mm[n]
        px = (np.nan_to_num(x) / half_across + 1) / 2 * WIDE
        py = (np.nan_to_num(y) / half_high + 1) / 2 * high
        for places in to_its_ends(prediction.trails.on_paper[n], STEP):
            run = list(zip(px[places].tolist(), py[places].tolist(), strict=True))
            found.append(svg.polyline(run, "trail-laid"))
    return found
