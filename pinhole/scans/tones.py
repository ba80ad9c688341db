"""The tones of a scanned sheet, as few numbers: what a reader needs of it, and what is kept of
it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from pinhole import densitometry
from pinhole.ranges import Array
from pinhole.scans.place import SheetPlace, find_sheet, grey_of, upright

# Pixels along the longer side of a sheet that is read.
SHEET_PX = 400
# Rails are looked for between these shares of the shorter side, and the picture begins beyond them.
RIM_FROM, RIM_TO, PICTURE_FROM = 0.005, 0.022, 0.06
# The meter reads the middle of a scene: so much of its width and height (common practice).
METERED_SHARE = 0.6
# A rim is even, on all sides alike, when its tones lie within this [density].
EVEN_RIM = 0.09
# Lighter and darker than any paper is; and the ends of a usual one [density] (common practice).
WHITER, BLACKER, USUAL_BASE, USUAL_BLACKEST = 0.05, 2.4, 0.07, 1.9
QUANTILES = (np.arange(40) + 0.5) / 40


@dataclass(frozen=True)
class SheetTones:
    """Densities of a sheet: middle, picture (40,): of equal parts, lightest first, of the part that
    was metered and of the whole picture; rim: of an even rim about it, nan where there is none;
    fall_off_stops: that the camera took from the middle; is_linear: whether the codes were light
    itself; by_spots: whether it was metered as the middle of its darkest and its brightest part,
    and not in its middle.
    """

    middle: tuple[float, ...]
    picture: tuple[float, ...]
    rim: float
    fall_off_stops: float = 0.0
    is_linear: bool = False
    by_spots: bool = False

    @property
    def is_stretched(self) -> bool:
        """True if a scanner made its darkest black: no paper is."""
        return self.picture[-1] > BLACKER

    def drawn_in(self) -> SheetTones:
        """The same as if its ends were those of a usual paper: what stretching took away, as far as
        it can be put back.
        """
        lightest = USUAL_BASE if self.picture[0] < WHITER else 0.0
        low, high = (
            float(densitometry.coded(10.0**-end, 16)) for end in (USUAL_BLACKEST, lightest)
        )

        def _back(densities: tuple[float, ...]) -> tuple[float, ...]:
            codes = np.asarray(densitometry.coded(10.0 ** -np.array(densities), 16))
            codes = low + codes / 65535 * (high - low)
            return tuple(map(float, densitometry.density(densitometry.linear(codes, 16))))

        return replace(
            self, middle=_back(self.middle), picture=_back(self.picture), rim=float("nan")
        )

    @property
    def contrast(self) -> float:
        """Difference between its darkest and lightest tones [density]."""
        return self.picture[-1] - self.picture[0]


def densities_on(
    codes: Array,
    place: SheetPlace,
    *,
    bits: int = 8,
    wedge: densitometry.Wedge | None = None,
    is_linear: bool = False,
) -> Array:
    """Densities of the sheet at that place, set upright, (h, w): by a scanned wedge, else by the
    standard transfer function, or by none where the file is linear.
    """
    light = upright(grey_of(codes, bits), place.corners_px, SHEET_PX) * (2**bits - 1)
    if wedge is not None:
        return np.asarray(wedge.density(light))
    if is_linear:
        return np.asarray(densitometry.density(np.clip(light / (2**bits - 1), 0, 1)))
    return np.asarray(
        densitometry.density(densitometry.linear(np.clip(light, 0, 2**bits - 1), bits))
    )


def tones_of(
    codes: Array,
    *,
    bits: int = 8,
    wedge: densitometry.Wedge | None = None,
    fall_off: Array | None = None,
    place: SheetPlace | None = None,
    is_linear: bool = False,
    by_spots: bool = False,
) -> SheetTones:
    """The SheetTones of a scan.

    codes: (h, w) or (h, w, 3), of bits 8 or 16; wedge: as scanned beside it; fall_off [stops]: less
    at each place of the scan, (h, w), or of the sheet in any other shape; place: of the sheet,
    found if None; is_linear, by_spots: as in SheetTones. Raises ValueError where there is
    no sheet, and as find_sheet does. Source: percentiles.
    """
    place = place or find_sheet(codes, bits=bits)
    picture = densities_on(codes, place, bits=bits, wedge=wedge, is_linear=is_linear)
    inner = _inner(picture, PICTURE_FROM, PICTURE_FROM)
    aside = (1 - METERED_SHARE) / 2
    middle = _inner(picture, aside, aside, of_each=True)
    less = 0.0
    if fall_off is not None:
        less_map = np.asarray(fall_off, float)
        # As large as the scan it is of the scan, else of the sheet.
        is_of_scan = less_map.shape == np.shape(codes)[:2]
        less_map = upright(less_map, place.corners_px, SHEET_PX) if is_of_scan else less_map
        part = _inner(less_map, aside, aside, of_each=True)
        less = float(-np.log2(np.mean(2.0**-part)))
    # To pick so many at once takes longer than to sort all.
    parts = [
        tuple(map(float, np.quantile(np.sort(part, axis=None), QUANTILES)))
        for part in (middle, inner)
    ]
    return SheetTones(parts[0], parts[1], _rim(picture), less, is_linear, by_spots)


def _inner(picture: Array, across: float, down: float, *, of_each: bool = False) -> Array:
    """The picture without a share of its shorter side, or of each side, all around."""
    high, wide = picture.shape
    short = min(high, wide)
    x, y = (
        round(share * (side if of_each else short))
        for share, side in ((across, wide), (down, high))
    )
    return picture[y : high - y, x : wide - x]


def unexposed(densities: Array, place: SheetPlace) -> Array:
    """True where no light came in the camera: beyond the sheet, and on the rails about it, (h, w).

    densities: of the whole scan, (h, w); place: of the sheet on it. Source: distances from the four
    sides; rails are as dark as the even rim is.
    """
    y, x = np.mgrid[0 : densities.shape[0], 0 : densities.shape[1]]
    corners = np.asarray(place.corners_px, float)
    ends = np.roll(corners, -1, axis=0)
    sides = np.linalg.norm(ends - corners, axis=1)
    inwards = [
        ((end[0] - start[0]) * (y - start[1]) - (end[1] - start[1]) * (x - start[0])) / side
        for start, end, side in zip(corners, ends, sides, strict=True)
    ]
    deep = np.min(inwards, axis=0)
    rim = _rim(upright(densities, place.corners_px, SHEET_PX))
    is_frame = deep < PICTURE_FROM * sides.min()
    is_rail = np.abs(densities - rim) < EVEN_RIM if np.isfinite(rim) else False
    return np.asarray((deep < 0) | (is_frame & is_rail))


def _rim(picture: Array) -> float:
    """Density of the outermost rim that is even on all four sides alike, nan without any."""
    short = min(picture.shape)
    aside = round(PICTURE_FROM * short)
    for first in range(round(RIM_FROM * short), round(RIM_TO * short) + 1):
        rows = slice(first, first + 2), slice(-first - 2, -first or None)
        across = np.stack([picture[row, aside:-aside].ravel() for row in rows])
        down = np.stack([picture[aside:-aside, row].ravel() for row in rows])
        low, middle, high = np.hstack(
            [np.percentile(sides, (15, 50, 85), axis=1) for sides in (across, down)]
        )
        if np.ptp(middle) < EVEN_RIM and (high - low).max() < EVEN_RIM:
            return float(np.median(middle))
    return float("nan")
