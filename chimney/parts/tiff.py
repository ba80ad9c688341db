"""Check that a TIFF is all there: its directory may stand before its data, so a file that was cut
short opens, and what is missing reads as black.
"""

import struct
import warnings
from math import ceil

from PIL.TiffImagePlugin import ImageFileDirectory_v2

# TIFF 6.0: tags of a directory.
WIDTH_TAG, HEIGHT_TAG, BITS, COMPRESSION, SAMPLES_TAG, PLANAR = 256, 257, 258, 259, 277, 284
STRIPS, STRIP_BYTES, ROWS_OF_A_STRIP = 273, 279, 278
TILES, TILE_BYTES, TILE_WIDTH, TILE_HEIGHT = 324, 325, 322, 323
MOST_PAGES = 100
PLAIN, BY_PLANES = 1, 2


def is_whole(path):
    """True if every strip and tile that its directories name lies within the file, and none is
    missing. Raises OSError where it cannot be read at all.
    """
    size = path.stat().st_size
    with path.open("rb") as file, warnings.catch_warnings():
        # A directory that ends too early is only warned of.
        warnings.simplefilter("error")
        try:
            directory, pages = ImageFileDirectory_v2(file.read(8)), 0
            # Each page starts where the one before it says; one that leads back to itself ends.
            while directory.next and pages < MOST_PAGES:
                if not 8 <= directory.next < size:
                    return False
                file.seek(directory.next)
                directory.load(file)
                if not _lies_within(directory, size):
                    return False
                pages += 1
        except (SyntaxError, ValueError, KeyError, TypeError, struct.error, EOFError, UserWarning):
            return False
    return pages > 0


def _lies_within(tags, size):
    """True if the data of one page lies within the file."""
    tiled = TILES in tags
    starts = _many(tags, TILES if tiled else STRIPS)
    lengths = _many(tags, TILE_BYTES if tiled else STRIP_BYTES)
    if not starts or len(starts) != len(lengths) or len(starts) < _pieces(tags, tiled=tiled):
        return False
    if tags.get(COMPRESSION, PLAIN) == PLAIN and sum(lengths) < _plain_bytes(tags):
        return False
    return all(
        start >= 8 and length and start + length <= size
        for start, length in zip(starts, lengths, strict=True)
    )


def _many(tags, tag):
    values = tags.get(tag, ())
    return values if isinstance(values, tuple) else (values,)


def _pieces(tags, *, tiled):
    """Number of strips or tiles of a page."""
    planes = tags.get(SAMPLES_TAG, 1) if tags.get(PLANAR, 1) == BY_PLANES else 1
    if tiled:
        across, down = tags[WIDTH_TAG] / tags[TILE_WIDTH], tags[HEIGHT_TAG] / tags[TILE_HEIGHT]
        return ceil(across) * ceil(down) * planes
    return (
        ceil(tags[HEIGHT_TAG] / min(tags[HEIGHT_TAG], tags.get(ROWS_OF_A_STRIP, tags[HEIGHT_TAG])))
        * planes
    )


def _plain_bytes(tags):
    """The least that a page takes that is not compressed."""
    bits = _many(tags, BITS)[0] if BITS in tags else 1
    return tags[WIDTH_TAG] * tags[HEIGHT_TAG] * tags.get(SAMPLES_TAG, 1) * bits // 8
