"""Where scans call the craft: tones of a positive, densities, and what they say of the light."""

from dataclasses import dataclass

import numpy as np

from pinhole import densitometry
from pinhole import sheet as craft
from pinhole.sheet import ToneCurve

# Of a paper's base: dmin and dmax (common practice).
SCALES = {"rc": (0.06, 1.95), "fibre": (0.08, 1.75), "film": (0.1, 2.4)}
RUNGS = (-3.0, -2.0, -1.0, -0.5, 0.0, 0.5, 1.0, 2.0, 3.0)


@dataclass(frozen=True)
class Tones:
    """How a positive is made of a scan, in this order: inverted; levels from low to high [codes of
    255]; gamma; mirrored; quarters turned clockwise.
    """

    inverted: bool
    low: float
    high: float
    gamma: float
    mirrored: bool
    quarters: int

    def table(self, bits):
        """What each code becomes, of 8 or 16 bits."""
        top = 2**bits - 1
        share = np.arange(top + 1) / top
        share = 1 - share if self.inverted else share
        low, high = self.low / 255, max(self.high, self.low + 1) / 255
        share = np.clip((share - low) / (high - low), 0, 1) ** (1 / self.gamma)
        return np.round(share * top).astype(np.uint8 if bits == 8 else np.uint16)

    def positive(self, array):
        """The positive of a preview, uint8."""
        made = self.table(8)[array]
        made = made[:, ::-1] if self.mirrored else made
        return np.rot90(made, -self.quarters)


def tones(settings, array):
    """The Tones of a Scan, or of what is typed for one: levels by percentiles of the inverted
    preview.
    """
    codes = 255 - array if settings.inverted else array
    low, high = np.percentile(codes, (settings.low_percent, settings.high_percent))
    return Tones(
        settings.inverted,
        float(low),
        float(high),
        settings.gamma,
        settings.mirrored,
        settings.quarters,
    )


def curve_of(paper):
    """The ToneCurve of a paper, by its base and what it holds."""
    dmin, dmax = SCALES[paper.base]
    return ToneCurve(dmin, dmax, paper.range_stops)


def _densities(array):
    greys = array if array.ndim == 2 else np.round(array @ (0.2126, 0.7152, 0.0722))
    return craft.densities_of(greys)


@dataclass(frozen=True)
class Read:
    """What a scan of a sheet says: reading, judgement, used: share of the paper's scale."""

    reading: densitometry.SheetReading
    judgement: craft.Judgement
    used: float


def read(array, paper):
    """The Read of a preview on that paper."""
    curve = curve_of(paper)
    reading = densitometry.read_sheet(_densities(array))
    judgement = craft.judge(reading, curve, paper.kind)
    return Read(reading, judgement, reading.used(curve.dmin, curve.dmax))


def histogram(array, bins=48):
    """Shares of the picture by density, from 0 to the darkest."""
    counts, _ = np.histogram(_densities(array), bins=bins, range=(0, 2.4))
    return counts / max(1, counts.max())


def spot(array, across, down):
    """The density of a spot, given as shares of the picture: the middle of some pixels about it."""
    high, wide = array.shape[:2]
    y, x = int(np.clip(down, 0, 1) * (high - 1)), int(np.clip(across, 0, 1) * (wide - 1))
    reach = max(2, wide // 150)
    near = array[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1]
    return float(np.median(_densities(near)))


def rung(array, stops, paper):
    """The scan as it would look with so much more light, uint8 greys."""
    made = craft.as_it_would_look(_densities(array), stops, curve_of(paper), paper.kind)
    return craft.scanned(made)
