"""Where scans call the craft: tones of a positive, densities, and what they say of the light."""

from dataclasses import dataclass

import numpy as np

from chimney.results.scans import files
from pinhole import densitometry, lookhere
from pinhole import sheet as craft
from pinhole.sheet import ToneCurve

# Of a paper's base: dmin and dmax (common practice).
SCALES = {"rc": (0.06, 1.95), "fibre": (0.08, 1.75), "film": (0.1, 2.4)}
DENSEST = 2.2
RUNGS = (-3.0, -2.0, -1.0, -0.5, 0.0, 0.5, 1.0, 2.0, 3.0)


@dataclass(frozen=True)
class Tones:
    """How a positive is made of a scan, in this order: inverted; levels from lows to highs [codes
    of 255], one for all colours or one each; gamma; mirrored; quarters turned clockwise; turned by
    straighten_deg; crop: cut off left, top, right and bottom [shares].
    """

    inverted: bool
    lows: tuple
    highs: tuple
    gamma: float
    mirrored: bool
    quarters: int
    straighten_deg: float = 0.0
    crop: tuple = (0.0, 0.0, 0.0, 0.0)

    def table(self, bits, channel=0):
        """What each code of a colour becomes, of 8 or 16 bits."""
        top = 2**bits - 1
        share = np.arange(top + 1) / top
        share = 1 - share if self.inverted else share
        low, high = (ends[min(channel, len(ends) - 1)] for ends in (self.lows, self.highs))
        low, high = low / 255, max(high, low + 1) / 255
        share = np.clip((share - low) / (high - low), 0, 1) ** (1 / self.gamma)
        return np.round(share * top).astype(np.uint8 if bits == 8 else np.uint16)

    def positive(self, array):
        """The positive of a preview, uint8."""
        if array.ndim == 3:
            made = np.stack([self.table(8, n)[array[..., n]] for n in range(3)], axis=2)
        else:
            made = self.table(8)[array]
        made = made[:, ::-1] if self.mirrored else made
        made = files.turned(np.rot90(made, -self.quarters), self.straighten_deg)
        left, top, right, bottom = self.box(made.shape[1], made.shape[0])
        return made[top:bottom, left:right]

    def box(self, width, height):
        """(left, top, right, bottom) that stay of a picture of that size [px]."""
        left, top, right, bottom = self.crop
        return (
            round(left * width),
            round(top * height),
            width - round(right * width),
            height - round(bottom * height),
        )


def tones(settings, array):
    """The Tones of a Scan, or of what is typed for one: levels by percentiles of the inverted
    preview.
    """
    codes = 255 - array if settings.inverted else array
    apart = settings.by_channel and array.ndim == 3
    channels = [codes[..., n] for n in range(3)] if apart else [codes]
    percents = settings.low_percent, settings.high_percent
    ends = [np.percentile(channel, percents) for channel in channels]
    crop = settings.crop_left, settings.crop_top, settings.crop_right, settings.crop_bottom
    return Tones(
        settings.inverted,
        tuple(float(low) for low, _ in ends),
        tuple(float(high) for _, high in ends),
        settings.gamma,
        settings.mirrored,
        settings.quarters,
        settings.straighten_deg,
        tuple(share / 100 for share in crop),
    )


def curve_of(paper):
    """The ToneCurve of a paper, by its base and what it holds."""
    dmin, dmax = SCALES[paper.base]
    return ToneCurve(dmin, dmax, paper.range_stops)


def densities(array):
    """The densities of a preview, by the standard transfer function."""
    greys = array if array.ndim == 2 else np.round(array @ (0.2126, 0.7152, 0.0722))
    return craft.densities_of(greys)


@dataclass(frozen=True)
class Read:
    """What a scan of a sheet says: reading, judgement, used: share of the paper's scale."""

    reading: densitometry.SheetReading
    judgement: craft.Judgement
    used: float


def read(measured, paper):
    """The Read of densities on that paper."""
    curve = curve_of(paper)
    reading = densitometry.read_sheet(measured)
    judgement = craft.judge(reading, curve, paper.kind)
    return Read(reading, judgement, reading.used(curve.dmin, curve.dmax))


def look_here(measured, paper):
    """[LookHere] of densities on that paper."""
    return lookhere.look_here(measured, curve_of(paper), paper.kind)


def histogram(measured, bins=48):
    """Shares of the picture by density, from 0 to the darkest."""
    counts, _ = np.histogram(measured, bins=bins, range=(0, 2.4))
    return counts / max(1, counts.max())


def spot(measured, across, down):
    """The density of a spot, given as shares of the picture: the middle of some pixels about it."""
    high, wide = measured.shape
    y, x = int(np.clip(down, 0, 1) * (high - 1)), int(np.clip(across, 0, 1) * (wide - 1))
    reach = max(2, wide // 150)
    near = measured[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1]
    return float(np.median(near))


def on_one_scale(array, *, darkens):
    """Densities from 0 to DENSEST as greys, uint8: bright where a negative is dense, dark where a
    positive is.
    """
    share = np.clip(densities(array) / DENSEST, 0, 1)
    return np.round(255 * (share if darkens else 1 - share)).astype(np.uint8)


def rung(array, stops, paper):
    """The scan as it would look with so much more light, uint8 greys."""
    made = craft.as_it_would_look(densities(array), stops, curve_of(paper), paper.kind)
    return craft.scanned(made)
