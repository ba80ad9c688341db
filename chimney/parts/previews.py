"""Small pictures as arrays: made smaller, turned, and packed as files that a browser shows.

Arrays are uint8 greys of shape (height, width) or colours of shape (height, width, 3).
"""

from dataclasses import dataclass

import cv2
import numpy as np

GREY = 128


def jpeg(array, quality=88):
    """The bytes of a JPEG."""
    return _packed(".jpg", array, [cv2.IMWRITE_JPEG_QUALITY, quality])


def png(array):
    """The bytes of a PNG, whose greys may have 16 bits."""
    return _packed(".png", array, [])


def _packed(suffix, array, options):
    rows = array if array.ndim == 2 else array[..., ::-1]
    return cv2.imencode(suffix, np.ascontiguousarray(rows), options)[1].tobytes()


def array_of(content):
    """The array of a JPEG that was kept."""
    array = cv2.imdecode(np.frombuffer(content, np.uint8), cv2.IMREAD_UNCHANGED)
    return array if array.ndim == 2 else np.ascontiguousarray(array[..., ::-1])


def small(array, side):
    """The same, at most so many pixels long."""
    longest = max(array.shape[:2])
    return array if longest <= side else scaled(array, side / longest)


def scaled(array, times):
    """The same, so many times as large."""
    high, wide = (max(1, round(side * times)) for side in array.shape[:2])
    how = cv2.INTER_AREA if times < 1 else cv2.INTER_CUBIC
    return cv2.resize(np.ascontiguousarray(array), (wide, high), interpolation=how)


def turned(array, degrees):
    """A preview turned clockwise by some degrees, its size kept; corners that come in are grey."""
    if not degrees:
        return array
    high, wide = array.shape[:2]
    turn = cv2.getRotationMatrix2D(((wide - 1) / 2, (high - 1) / 2), -degrees, 1.0)
    return cv2.warpAffine(
        np.ascontiguousarray(array),
        turn,
        (wide, high),
        flags=cv2.INTER_CUBIC,
        borderValue=[GREY] * 3,
    )


@dataclass(frozen=True)
class Caption:
    """Words written into the pixels of a picture: where they begin, how large, in which colour."""

    words: str
    left: int
    from_foot: int
    colour: tuple[int, int, int]
    size: float = 0.4


def captioned(array, caption):
    """The same colours with a caption in them."""
    picture = np.ascontiguousarray(array)
    place = caption.left, picture.shape[0] - caption.from_foot
    font = cv2.FONT_HERSHEY_SIMPLEX
    return cv2.putText(
        picture, caption.words, place, font, caption.size, caption.colour, 1, cv2.LINE_AA
    )
