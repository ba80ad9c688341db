"""Reading of a scan: codes to reflectance to density, and what a sheet's densities mean.

code --transfer function or a scanned wedge--> reflectance --> D = -log10 R
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.ranges import Array, ArrayLike, Numbers, checked, plain
from pinhole.scans.place import SheetPlace, find_sheet, find_sheets

__all__ = [
    "DARKEST",
    "SheetPlace",
    "SheetReading",
    "Wedge",
    "coded",
    "density",
    "find_sheet",
    "find_sheets",
    "linear",
    "read_sheet",
]

# No paper is darker, and no scanner sees further.
DARKEST = 3.0


def linear(code: Numbers, bits: int = 8) -> Numbers:
    """The linear light of an sRGB code, 0 to 1.

    code [at least 0], scalar or array, at most 2**bits - 1; bits: 8 or 16. Raises ValueError
    outside. Source: IEC 61966-2-1.
    """
    if bits not in (8, 16):
        raise ValueError("bits must be 8 or 16")
    share = checked("code", code, least=0, most=2**bits - 1) / (2**bits - 1)
    return plain(np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4))


def coded(light: Numbers, bits: int = 8) -> Numbers:
    """The sRGB code of linear light, rounded; the inverse of linear().

    light [at least 0, at most 1], scalar or array; bits: 8 or 16. Raises ValueError outside.
    Source: IEC 61966-2-1.
    """
    if bits not in (8, 16):
        raise ValueError("bits must be 8 or 16")
    light = checked("light", light, least=0, most=1)
    share = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    return plain(np.round(share * (2**bits - 1)))


def density(reflectance: Numbers) -> Numbers:
    """The reflection density D = -log10 R, at most DARKEST.

    reflectance [at least 0, at most 1], scalar or array; nan passes through. Raises ValueError
    outside. Source: ISO 5-4.
    """
    light = checked("reflectance", reflectance, least=0, most=1)
    return plain(-np.log10(np.maximum(light, 10**-DARKEST)))


@dataclass(frozen=True)
class Wedge:
    """A scanned step wedge or grey card: what the scanner wrote for known densities, by which a
    scan is read without trusting its transfer function.

    codes: as scanned; densities: of the same steps, at least two. Raises ValueError unless codes
    fall strictly as densities grow.
    """

    codes: tuple[float, ...]
    densities: tuple[float, ...]

    def __post_init__(self) -> None:
        order = np.argsort(self.densities)
        codes = np.asarray(self.codes, float)[order]
        densities = np.asarray(self.densities, float)[order]
        if len(codes) < 2 or len(codes) != len(densities):
            raise ValueError("a wedge must have at least two steps")
        if not (np.diff(densities) > 0).all() or not (np.diff(codes) < 0).all():
            raise ValueError("codes must fall strictly as densities grow")
        object.__setattr__(self, "codes", tuple(codes))
        object.__setattr__(self, "densities", tuple(densities))

    def density(self, code: ArrayLike) -> Numbers:
        """The density of a code, straight between steps and held beyond them; scalar or array."""
        return plain(np.interp(np.asarray(code, float), self.codes[::-1], self.densities[::-1]))


@dataclass(frozen=True)
class SheetReading:
    """Densities of a sheet: base: of what no light reached; lightest, low, middle, high, darkest:
    of 1, 10, 50, 90 and 99 % of its picture; uneven: difference between its halves' shadows.
    """

    base: float
    lightest: float
    low: float
    middle: float
    high: float
    darkest: float
    uneven: float

    @property
    def contrast(self) -> float:
        """Part of the scale that the picture uses [density]."""
        return self.darkest - self.lightest

    def used(self, dmin: float, dmax: float) -> float:
        """The share of the paper's scale that the picture uses, 0 to 1."""
        return float(np.clip(self.contrast / (dmax - dmin), 0, 1))


def read_sheet(densities: Array, rim: float = 0.03) -> SheetReading:
    """The SheetReading of a scan.

    densities: array (height, width); rim: share of the shorter side that the holder's rails cover,
    [at least 0, at most 0.2], where the base is read; 0 where nothing was covered. Raises
    ValueError outside and for fewer than 8 x 8 values. Source: percentiles.
    """
    image = np.asarray(densities, dtype=np.float64)
    if image.ndim != 2 or min(image.shape) < 8 or not np.isfinite(image).all():
        raise ValueError("densities must be a finite picture of at least 8 x 8")
    share = float(checked("rim", rim, least=0, most=0.2))
    deep = round(share * min(image.shape))
    inner = image[2 * deep : image.shape[0] - 2 * deep or None]
    inner = inner[:, 2 * deep : image.shape[1] - 2 * deep or None]
    lightest, low, middle, high, darkest = map(float, np.percentile(inner, (1, 10, 50, 90, 99)))
    base = float(np.median(_rim(image, deep))) if deep else float(image.min())
    half = inner.shape[1] // 2
    sides = (np.percentile(part, 10) for part in (inner[:, :half], inner[:, half:]))
    left, right = sides
    uneven = float(abs(left - right))
    return SheetReading(base, lightest, low, middle, high, darkest, uneven)


def _rim(image: Array, deep: int) -> Array:
    """The outermost values, all around."""
    parts = (image[:deep], image[-deep:], image[:, :deep], image[:, -deep:])
    return np.concatenate([part.ravel() for part in parts])
