"""Drawing over the scan of a can: the marks, and the trails it should have drawn as it stood."""

import numpy as np

from chimney.parts import svg
from chimney.solar.figures.sky import shown_days, to_its_ends

MARKED_WIDTH = 640.0
TRAIL_STEP = 4
GRIP_REACH = 14.0


def overlay(aspect, count, prediction, laid):
    """A Drawing to lie over the positive, on which the paper is Laid: its outline, and the
    predicted trails if there is a Prediction.
    """
    high = MARKED_WIDTH * aspect
    corners = (laid.corners * [MARKED_WIDTH, high]).tolist()
    shapes = [svg.polygon(corners, "crop-frame")]
    shapes += _trails(prediction, high, laid) if prediction else []
    label = f"{count} marks on the picture" + (", the trails over it" if prediction else "")
    return svg.Drawing(
        "The picture that came", label, MARKED_WIDTH, high, tuple(shapes), "over-picture"
    )


def grips(drawn, marks):
    """Each mark as a handle on that Drawing, no larger than a neighbour can bear."""
    handles = [
        svg.Handle(
            f"mark{n}",
            mark.across * drawn.width,
            mark.down * drawn.height,
            f"Mark {n}, {mark.words}",
            (
                svg.rect(-GRIP_REACH, -GRIP_REACH, 2 * GRIP_REACH, 2 * GRIP_REACH, "hit"),
                svg.circle(0, 0, 8.0, "spot-ring"),
                svg.circle(0, 0, 8.0, "mark-ring"),
                svg.text(11, -8, n, "on-picture"),
            ),
            step=0.5,
        )
        for n, mark in enumerate(marks, 1)
    ]
    return svg.handles(drawn, "marks", handles)


def _trails(prediction, high, laid):
    half_across, half_high = prediction.back.half_mm
    shapes = []
    for n in shown_days(prediction.track):
        x, y = prediction.trails.x_mm[n], prediction.trails.y_mm[n]
        along = (np.nan_to_num(x) / half_across + 1) / 2
        across, below = laid.on_picture(along, (np.nan_to_num(y) / half_high + 1) / 2)
        px, py = across * MARKED_WIDTH, below * high
        for places in to_its_ends(prediction.trails.on_paper[n], TRAIL_STEP):
            run = list(zip(px[places].tolist(), py[places].tolist(), strict=True))
            shapes.append(svg.polyline(run, "trail-laid"))
    return shapes
