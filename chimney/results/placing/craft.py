"""Calls to the craft for where a sheet lies on its scan."""

import numpy as np

from chimney.logbook.models import Loading
from pinhole.scans.place import SheetPlace, find_sheets

# Corners lie at most so far outside the scan, as shares of it.
OUTSIDE = 0.05
# What covers as much of a scan from edge to edge has no bed there.
REACHES = 0.98


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
    return places_of(scan, array)[0]


def places_of(scan, array):
    """[SheetPlace] on the preview of a Scan. The ends of a can's paper that no sun reached are as
    even as a bed: where no bed lies above and below, all of the scan comes first if that is more
    like its paper.
    """
    found, everything = places_on(array), whole(array.shape)
    length = _length_of_paper(scan.sheet)
    reaches = np.ptp(found[0].corners_px, axis=0) > REACHES * np.ptp(everything.corners_px, axis=0)
    if not length or not reaches.any():
        return found
    is_nearer = _unlike(everything, length) < _unlike(found[0], length)
    return [everything, *found] if is_nearer else found


def _length_of_paper(sheet):
    """Longer side of a solargraph's paper in shorter ones; None where that is not known."""
    if sheet is None or sheet.paper.medium.is_timed:
        return None
    loading = Loading.objects.filter(sheet=sheet, holder__camera__isnull=False).first()
    try:
        sides = loading and loading.holder.camera.geometry.half_mm
    except ValueError:
        # Its camera was changed since, and holds no such paper any more.
        return None
    return max(sides) / min(sides) if sides else None


def _unlike(place, length):
    """Logarithm by which the longer side of a SheetPlace in shorter ones misses another."""
    a, b, c, _ = place.corners_px
    across, down = np.linalg.norm(b - a) + 1, np.linalg.norm(c - b) + 1
    return abs(np.log(max(across, down) / min(across, down) / length))


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
