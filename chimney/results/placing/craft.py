"""Calls to the craft for where a sheet lies on its scan."""

import numpy as np

from pinhole.scans.place import SheetPlace, find_sheets

# Corners lie at most so far outside the scan, as shares of it.
OUTSIDE = 0.05


def places_on(array):
    """[SheetPlace] of the sheets on a preview, the largest first; all of it where none is seen."""
    try:
        return find_sheets(array)
    except ValueError:
        return [whole(array.shape)]


def whole(shape):
    """The SheetPlace of all of a picture."""
    wide, high = shape[1] - 1, shape[0] - 1
    return SheetPlace(np.array([[0, 0], [wide, 0], [wide, high], [0, high]], float), "")


def place_of(scan, array):
    """The SheetPlace of a Scan's sheet on its preview: as somebody dragged its corners, else
    found.
    """
    if scan.corners:
        return at(scan.corners, array.shape)
    return places_on(array)[0]


def at(corners, shape):
    """The SheetPlace between corners, [[x, y]] as shares of a picture of that shape."""
    size = np.array([shape[1] - 1, shape[0] - 1], float)
    return SheetPlace(np.asarray(corners, float) * size, "")


def as_shares(place, shape):
    """[[x, y]] of its corners as shares of a picture of that shape."""
    size = np.array([shape[1] - 1, shape[0] - 1], float)
    return [[round(float(x), 4), round(float(y), 4)] for x, y in place.corners_px / size]


def inner_box(place, shape):
    """(left, top, right, bottom) in whole pixels that lie within all its corners."""
    (a, b, c, d), (high, wide) = place.corners_px, shape[:2]
    left, right = max(a[0], d[0]), min(b[0], c[0])
    top, bottom = max(a[1], b[1]), min(c[1], d[1])
    box = [int(np.clip(left, 0, wide - 2)), int(np.clip(top, 0, high - 2))]
    return (
        *box,
        int(np.clip(right + 1, box[0] + 2, wide)),
        int(np.clip(bottom + 1, box[1] + 2, high)),
    )


def on_scan(place, shape, x, y):
    """(x, y) on the picture, as shares of it, of a place on the sheet, as shares of that."""
    a, b, c, d = np.array(as_shares(place, shape))
    point = (1 - y) * ((1 - x) * a + x * b) + y * ((1 - x) * d + x * c)
    return float(point[0]), float(point[1])


def box_on_scan(place, shape, left, top, right, bottom):
    """The same of a box: (left, top, right, bottom) about it."""
    points = [on_scan(place, shape, x, y) for x in (left, right) for y in (top, bottom)]
    (xs, ys) = zip(*points, strict=True)
    return min(xs), min(ys), max(xs), max(ys)
