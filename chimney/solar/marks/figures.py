"""Drawing over the scan of a can: the marks, and the trails it should have drawn as it stood."""

import numpy as np

from chimney.parts import svg
from chimney.solar.figures.sky import shown_days, to_its_ends

MARKED_WIDTH = 640.0
TRAIL_STEP = 4


def overlay(aspect, marks, prediction, laid):
    """A Drawing to lie over the positive, on which the paper is Laid: its outline, each mark, and
    the predicted trails if there is a Prediction.
    """
    high = MARKED_WIDTH * aspect
    corners = (laid.corners * [MARKED_WIDTH, high]).tolist()
    shapes = [svg.polygon(corners, "crop-frame")]
    shapes += _trails(prediction, high, laid) if prediction else []
    for n, mark in enumerate(marks, 1):
        x, y = mark.across * MARKED_WIDTH, mark.down * high
        shapes += [svg.circle(x, y, 8.0, "spot-ring"), svg.circle(x, y, 8.0, "mark-ring")]
        shapes.append(svg.text(x + 11, y - 8, n, "on-picture"))
    label = f"{len(marks)} marks on the picture" + (", the trails over it" if prediction else "")
    return svg.Drawing(
        "The picture that came", label, MARKED_WIDTH, high, tuple(shapes), "over-picture"
    )


def _trails(prediction, high, laid):
    half_across, half_high = prediction.back.half_mm
    shapes = []
    for n in shown_days(prediction):
        x, y = prediction.trails.x_mm[n], prediction.trails.y_mm[n]
        along = (np.nan_to_num(x) / half_across + 1) / 2
        across, below = laid.on_picture(along, (np.nan_to_num(y) / half_high + 1) / 2)
        px, py = across * MARKED_WIDTH, below * high
        for places in to_its_ends(prediction.trails.on_paper[n], TRAIL_STEP):
            run = list(zip(px[places].tolist(), py[places].tolist(), strict=True))
            shapes.append(svg.polyline(run, "trail-laid"))
    return shapes
