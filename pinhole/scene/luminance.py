"""A scene as a picture of a camera that measures light: how bright each place of it is.

code --standard transfer--> linear light --over that of code 118--> stops off the exposure made
"""

from __future__ import annotations

import numpy as np

from pinhole.densitometry import linear
from pinhole.ranges import Array, Numbers, checked

# The code of 8 bits that stands for the luminance an exposure was set to (ISO 12232:2019, standard
# output sensitivity).
SET_CODE, SET_CODES = 118, 255
# Shares of red, green and blue light in luminance (ITU-R BT.709), and in what papers see that are
# blind to red, or to red and green (common practice); a grey is as bright to all.
SEEN_SHARES_OF = {
    "eye": (0.2126, 0.7152, 0.0722),
    "pan": (0.30, 0.45, 0.25),
    "ortho": (0.0, 0.60, 0.40),
    "green": (0.0, 0.35, 0.65),
    "blue": (0.0, 0.08, 0.92),
}


def ev100(
    codes: Numbers,
    *,
    f_number: float,
    seconds: float,
    iso: float,
    bits: int = 8,
    sees: str = "eye",
) -> Array:
    """The exposure value at ISO 100 of each pixel of an sRGB picture, (h, w); -inf where it is
    black.

    codes: (h, w) or (h, w, 3), of bits 8 or 16; f_number, seconds [s], iso [all above 0]: of the
    exposure made; sees: one of SEEN_SHARES_OF. Raises ValueError outside and for other shapes.
    Source: ISO 12232 for the code that stands for the exposure set, IEC 61966-2-1, ITU-R BT.709;
    ANSI PH2.5 for the exposure value.
    """
    if sees not in SEEN_SHARES_OF:
        raise ValueError(f"sees must be one of {', '.join(SEEN_SHARES_OF)}")
    picture = np.asarray(codes)
    if picture.ndim not in (2, 3) or (picture.ndim == 3 and picture.shape[2] != 3):
        raise ValueError("codes must be a picture (h, w) or (h, w, 3)")
    number = float(checked("f_number", f_number, above=0))
    time_s = float(checked("seconds", seconds, above=0))
    speed = float(checked("iso", iso, above=0))
    light = np.asarray(linear(picture, bits))
    luminance = light @ np.array(SEEN_SHARES_OF[sees]) if picture.ndim == 3 else light
    exposed = np.log2(number**2 / time_s) - np.log2(speed / 100)
    with np.errstate(divide="ignore"):
        stops = np.log2(luminance / _set_light())
    return np.asarray(exposed + stops, np.float64)


def _set_light() -> float:
    """Linear light of the code that an exposure is set to."""
    share = SET_CODE / SET_CODES
    return float(linear(round(share * (2**16 - 1)), 16))
