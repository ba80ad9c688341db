"""Pictures that come in: looked at before they are opened, opened as greys, never kept."""

from base64 import b64encode

import numpy as np

from chimney.parts import previews
from chimney.parts.sizes import MM
from chimney.parts.uploads import Limits, decoding, open_picture

LIMITS = Limits("picture", ("JPEG", "PNG", "TIFF"), 80, 80, ": crop the scan to the plate")
HOLE_PREVIEW_PX = 480


def greys(upload):
    """(greys as uint8 of shape (height, width), dots per inch that the file states or None).

    Raises forms.ValidationError in words for anything that is no picture, broken or too large.
    """
    picture = open_picture(upload, LIMITS)
    with decoding(LIMITS):
        plain = picture.extract_band(0, n=picture.bands - 1) if picture.hasalpha() else picture
        plain = plain if plain.bands == 1 else plain.colourspace("b-w")
        array = _as_bytes(plain.numpy())
    dpi = picture.xres * MM["in"]
    # Files that say nothing of it are read as 72 dpi, with which nobody scans a hole.
    return array, dpi if 73 <= dpi <= 20_000 else None


def _as_bytes(array):
    """Any greys as uint8; 16 bits keep their upper byte, anything wider is stretched to its own
    range.
    """
    if array.dtype == np.uint8:
        return np.ascontiguousarray(array)
    if array.dtype == np.uint16:
        return (array >> 8).astype(np.uint8)
    low, high = float(array.min()), float(array.max())
    return ((array - low) / ((high - low) or 1) * 255).astype(np.uint8)


def crop(array, outline):
    """(PNG as a data address, outline in its pixels, side in px): the hole with a margin, small
    enough to show.
    """
    left, top = outline.min(axis=0)
    right, bottom = outline.max(axis=0)
    margin = 0.35 * max(right - left, bottom - top) + 3
    x0, y0 = (int(max(0, edge - margin)) for edge in (left, top))
    x1, y1 = int(min(array.shape[1], right + margin)), int(min(array.shape[0], bottom + margin))
    times = HOLE_PREVIEW_PX / max(y1 - y0, x1 - x0)
    picture = previews.scaled(array[y0:y1, x0:x1], times)
    address = f"data:image/png;base64,{b64encode(previews.png(picture)).decode()}"
    return address, (outline - (x0, y0) + 0.5) * times, picture.shape[::-1]
