"""Check that a TIFF is all there: its directory may stand before its data, so a file that was cut
short opens, and what is missing reads as black.
"""

import struct
from math import ceil

# TIFF 6.0: tags of a directory.
WIDTH_TAG, HEIGHT_TAG, BITS, COMPRESSION, SAMPLES_TAG, PLANAR = 256, 257, 258, 259, 277, 284
STRIPS, STRIP_BYTES, ROWS_OF_A_STRIP = 273, 279, 278
TILES, TILE_BYTES, TILE_WIDTH, TILE_HEIGHT = 324, 325, 322, 323
# How a value of each kind is written: 1, 3 and 4 are the whole numbers.
WRITTEN = {1: "B", 2: "s", 3: "H", 4: "L", 5: "Q", 6: "b", 7: "s", 8: "h", 9: "l", 10: "q"}
WRITTEN |= {11: "f", 12: "d", 13: "L"}
MOST_PAGES = 100
# The tag that raw files in the form of a TIFF carry.
RAW_VERSION = 50706
PLAIN, BY_PLANES = 1, 2


def is_whole(file, size):
    """True if every strip and tile that its directories name lies within the file of so many bytes,
    and none is missing. Raises OSError where it cannot be read at all.
    """
    try:
        order = {b"II": "<", b"MM": ">"}[file.read(2)]
        _, next_directory = _read(file, f"{order}HL")
        pages = 0
        # Each page starts where the one before it says; one that leads back to itself ends.
        while next_directory and pages < MOST_PAGES:
            if not 8 <= next_directory < size:
                return False
            file.seek(next_directory)
            tags, next_directory = _directory(file, order)
            if not _lies_within(tags, size):
                return False
            pages += 1
    except (KeyError, TypeError, ArithmeticError, struct.error):
        return False
    return pages > 0


def is_raw(file):
    """True if it is a camera's raw file, whose first picture is only a stamp of it. Raises OSError
    where it cannot be read at all.
    """
    file.seek(0)
    try:
        order = {b"II": "<", b"MM": ">"}[file.read(2)]
        _, first = _read(file, f"{order}HL")
        file.seek(first)
        tags, _ = _directory(file, order)
    except (KeyError, struct.error):
        return False
    return RAW_VERSION in tags


def _directory(file, order):
    """({tag: its whole numbers, one alone or as a tuple}, where the next directory stands)."""
    (count,) = _read(file, f"{order}H")
    entries = [_read(file, f"{order}HHL4s") for _ in range(count)]
    (next_directory,) = _read(file, f"{order}L")
    tags = {}
    for tag, kind, many, field in entries:
        if kind not in WRITTEN:
            continue
        values = f"{order}{many}{WRITTEN[kind]}"
        if (length := struct.calcsize(values)) > 4:
            # What does not fit stands elsewhere, and is looked at even if nothing here asks for it.
            file.seek(struct.unpack(f"{order}L", field)[0])
            held = _read(file, values)
        else:
            held = struct.unpack(values, field[:length])
        tags[tag] = held if len(held) != 1 else held[0]
    return tags, next_directory


def _read(file, values):
    """Values that stand next in the file. Raises struct.error where it ends before."""
    return struct.unpack(values, file.read(struct.calcsize(values)))


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
