"""The picture of what may come out of a can, as a file that says in its own pixels what it is."""

import numpy as np

from chimney.parts import previews
from pinhole import imaging
from pinhole.solargraph import climate

CAPTION = previews.Caption("simulation: one year's weather of many", 8, 10, (235, 228, 214))


def preview_png(prediction, *, water):
    """The bytes of a PNG. water: whether the ground mirrors the sun."""
    picture = imaging.render(
        prediction.trails,
        prediction.back,
        prediction.pointing,
        prediction.skyline,
        widths_mm=prediction.lines.widths_mm,
        shining=climate.shining(prediction.sunshine, len(prediction.track.minutes)),
        px_per_mm=_px_per_mm(prediction.back),
        water=water,
    )
    return previews.png(previews.captioned(picture, CAPTION))


def _px_per_mm(back):
    """About 900 pixels along the longer side, whatever the size."""
    return float(np.clip(450 / max(back.half_mm), 0.2, 8.0))
