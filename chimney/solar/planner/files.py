"""The picture of what may come out of a can, as a file that says in its own pixels what it is."""

import io

import numpy as np
from PIL import Image, ImageDraw

from pinhole import imaging
from pinhole.solargraph import climate


def preview_png(prediction, *, water):
    """The bytes of a PNG. water: whether the ground mirrors the sun."""
    image = Image.fromarray(
        imaging.render(
            prediction.trails,
            prediction.back,
            prediction.pointing,
            prediction.skyline,
            widths_mm=prediction.lines.widths_mm,
            shining=climate.shining(prediction.sunshine, len(prediction.track.minutes)),
            px_per_mm=_px_per_mm(prediction.back),
            water=water,
        )
    )
    mark = "simulation: one year's weather of many"
    ImageDraw.Draw(image).text((8, image.height - 18), mark, fill=(235, 228, 214))
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def _px_per_mm(back):
    """About 900 pixels along the longer side, whatever the size."""
    return float(np.clip(450 / max(back.half_mm), 0.2, 8.0))
