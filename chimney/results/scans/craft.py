"""Calls of scans to the craft: tones of a positive, densities, and what they say of the light."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from chimney.parts import previews
from chimney.results.curves.craft import curve_of
from chimney.results.placing import craft as placing
from pinhole import corners, densitometry
from pinhole import sheet as craft
from pinhole.scans import reading as scan_reading
from pinhole.scans.place import SheetPlace
from pinhole.scans.tones import densities_on

DENSEST_PAPER = 2.2
# So far out is a place still on the paper.
FULL_SCALE_SHARE = 0.999
# About so many pixels along its longer side are read of a preview.
READ_PX = 700
# The light of a camera falls off so smoothly that it is reckoned for so many places, and between
# them drawn straight.
GRID_PLACES = 65
# Rec. 709 weights of red, green and blue.
GREY_OF = np.array([0.2126, 0.7152, 0.0722])
# Of the ladder: so much more light than it got.
RUNGS = (-3.0, -2.0, -1.0, -0.5, 0.0, 0.5, 1.0, 2.0, 3.0)


@dataclass(frozen=True)
class Tones:
    """Steps from a scan to a positive, in this order: inverted; levels from lows to highs [codes of
    255], one for all colours or one each, times gains; gamma; colours saturation times as far off
    grey; mirrored; quarters turned clockwise; turned by straighten_deg; crop: cut off left, top,
    right and bottom [shares].
    """

    inverted: bool
    lows: tuple
    highs: tuple
    gamma: float
    mirrored: bool
    quarters: int
    straighten_deg: float = 0.0
    crop: tuple = (0.0, 0.0, 0.0, 0.0)
    gains: tuple = (1.0, 1.0, 1.0)
    saturation: float = 1.0

    def table(self, bits, channel=None):
        """Value that each code of a colour becomes, of 8 or 16 bits; None: of a grey."""
        top = 2**bits - 1
        share = np.arange(top + 1) / top
        share = 1 - share if self.inverted else share
        low, high = (ends[min(channel or 0, len(ends) - 1)] for ends in (self.lows, self.highs))
        low, high = low / 255, max(high, low + 1) / 255
        gain = 1.0 if channel is None else self.gains[channel]
        share = np.clip(gain * (share - low) / (high - low), 0, 1) ** (1 / self.gamma)
        return np.round(share * top).astype(np.uint8 if bits == 8 else np.uint16)

    def positive(self, array):
        """The positive of a preview, uint8."""
        if array.ndim == 3:
            toned = np.stack([self.table(8, n)[array[..., n]] for n in range(3)], axis=2)
            mixed = np.round(toned @ self.mixing().T).clip(0, 255).astype(np.uint8)
            toned = toned if self.saturation == 1.0 else mixed
        else:
            toned = self.table(8)[array]
        toned = toned[:, ::-1] if self.mirrored else toned
        toned = previews.turned(np.rot90(toned, -self.quarters), self.straighten_deg)
        left, top, right, bottom = self.box(toned.shape[1], toned.shape[0])
        return toned[top:bottom, left:right]

    def mixing(self):
        """Shares of red, green and blue in each colour, (3, 3), that make it so saturated."""
        return self.saturation * np.eye(3) + (1 - self.saturation) * np.tile(GREY_OF, (3, 1))

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
    preview, where its sheet lies on it.
    """
    place = placing.place_of(settings, array)
    left, top, right, bottom = placing.inner_box(place, array.shape)
    inside = array[top:bottom, left:right]
    codes = 255 - inside if settings.inverted else inside
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
        (settings.red_percent / 100, 1.0, settings.blue_percent / 100),
        settings.saturation_percent / 100,
    )


# Either way, by the standard transfer function of scanners and by a wedge (common practice).
STANDARD_SD, WEDGE_SD = 0.12, 0.05


def greys_of(array):
    """The codes of a preview in grey."""
    return array if array.ndim == 2 else np.round(array @ GREY_OF)


def wedge_of(steps):
    """The densitometry.Wedge of [(code, density)]. Raises ValueError."""
    codes, densities_known = zip(*steps, strict=True) if steps else ((), ())
    return densitometry.Wedge(codes, densities_known)


def densities(array, wedge=None):
    """The densities of a preview, by a ScannedWedge if there is one, else by the standard transfer
    function.
    """
    table = craft.densities_of(np.arange(256), wedge=wedge and wedge_of(wedge.steps))
    return table[greys_of(array).astype(np.uint8)]


def measured(array, wedge=None):
    """The densities by which a preview is read: every so manieth pixel of a large one, which has
    the same tones in the same places.
    """
    step = max(1, round(max(array.shape[:2]) / READ_PX))
    return densities(array[::step, ::step], wedge)


@dataclass(frozen=True)
class Pictured:
    """A preview with what its densities are read by, and the place of the sheet on it."""

    array: np.ndarray
    wedge: object
    place: SheetPlace
    # Of the file that it was made of.
    file_bits: int = 8
    # Of all sheets on it.
    places: tuple = ()

    @classmethod
    def of(cls, scan):
        """The Pictured of a Scan that was looked through."""
        array = previews.array_of(scan.preview.jpeg)
        places = tuple(placing.places_of(scan, array))
        place = placing.at(scan.corners, array.shape) if scan.corners else places[0]
        return cls(array, scan.wedge, place, scan.bits or 8, places)

    @property
    def shape(self):
        return self.array.shape[:2]

    @property
    def corners(self):
        """[[x, y]] as shares of the scan."""
        return placing.as_shares(self.place, self.shape)

    @cached_property
    def inside(self):
        """The densities of the sheet, set upright."""
        wedge = self.wedge and wedge_of(self.wedge.steps)
        return densities_on(greys_of(self.array), self.place, wedge=wedge)

    @cached_property
    def everywhere(self):
        """The densities of the whole preview."""
        return measured(self.array, self.wedge)

    def tones(self, paper, less=None, *, by_spots=False):
        """The craft's SheetTones on that paper; less: stops that the camera takes from each place;
        by_spots: whether two spots were metered.
        """
        options = {"place": self.place, "fall_off": less, "file_bits": self.file_bits}
        options |= {"wedge": self.wedge and wedge_of(self.wedge.steps), "by_spots": by_spots}
        greys = greys_of(self.array)
        return scan_reading.likelier_tones(greys, curve_of(paper), paper.kind, **options)


def level_densities(measured, settings):
    """The densities that become (black, white)."""
    shares = settings.low_percent, settings.high_percent
    shares = shares if settings.inverted else [100 - share for share in shares]
    return [float(level) for level in np.percentile(measured, shares)]


def level_percent(measured, density, settings):
    """Share of the picture that becomes blacker than a density [%]."""
    blacker = measured < density if settings.inverted else measured > density
    return float(100 * np.mean(blacker))


def fall_off(shape, exposure):
    """Stops less light at each place of a scan of that shape than on the axis, as the camera of its
    Exposure makes it; None for a lens and for a paper that lay otherwise in it.
    """
    camera = exposure.camera
    if camera.is_lens:
        return None
    high, wide = shape
    half_x, half_y = camera.geometry.half_mm
    lies = (high > wide) == (half_y > half_x)
    across, down = (half_x, half_y) if lies else (half_y, half_x)
    y = np.linspace(-down, down, min(high, GRID_PLACES))[:, None] * FULL_SCALE_SHARE
    x = np.linspace(-across, across, min(wide, GRID_PLACES))[None] * FULL_SCALE_SHARE
    less = camera.geometry.fall_off_stops(*((x, y) if lies else (y, x)))
    return _between(high, len(y)) @ less @ _between(wide, x.size).T if _is_known(less) else None


def _is_known(less):
    return bool(np.isfinite(less).all())


def _between(count, nodes):
    """Weights, shape (count, nodes), that draw straight between nodes."""
    places = np.linspace(0, nodes - 1, count)[:, None]
    return np.clip(1 - np.abs(places - np.arange(nodes)), 0, 1)


def corners_of(measured, paper, less):
    """The corners.Corners of densities against what the camera takes from each place."""
    return corners.corners(measured, curve_of(paper), np.clip(less, -20, 20), paper.kind)


@dataclass(frozen=True)
class Read:
    """Result of a scan of a sheet: reading, judgement, used: share of the paper's scale."""

    reading: densitometry.SheetReading
    judgement: scan_reading.Judgement
    used: float


def read(pictured, paper, less=None, known=None, key_sd=scan_reading.KEY_SD, *, by_spots=False):
    """The Read of a Pictured sheet of that paper; less: stops that the camera takes from each
    place, which are no fault of the exposure; known: what its own sheets have taught; key_sd: of
    what was metered; by_spots: whether that were two spots.
    """
    curve = curve_of(paper)
    tones_found = pictured.tones(paper, less, by_spots=by_spots)
    judgement = scan_reading.judge_tones(
        tones_found, curve, medium=paper.kind, known=known, key_sd=key_sd
    )
    reading = densitometry.read_sheet(pictured.inside)
    if np.isfinite(tones_found.rim):
        reading = replace(reading, base=tones_found.rim)
    return Read(reading, judgement, reading.used(curve.dmin, curve.dmax))


def histogram(measured, bins=48):
    """Shares of the picture by density, from 0 to the darkest."""
    counts, _ = np.histogram(measured, bins=bins, range=(0, 2.4))
    return counts / max(1, counts.max())


def spot(measured, across, down):
    """The density of a spot, given as shares of the picture: the middle of some pixels about it."""
    high, wide = measured.shape
    y, x = int(np.clip(down, 0, 1) * (high - 1)), int(np.clip(across, 0, 1) * (wide - 1))
    reach = max(2, wide // 150)
    patch = measured[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1]
    return float(np.median(patch))


def on_one_scale(array, *, darkens, wedge=None):
    """Densities from 0 to DENSEST_PAPER as greys, uint8: bright where a negative is dense, dark
    where a positive is.
    """
    share = np.clip(densities(array, wedge) / DENSEST_PAPER, 0, 1)
    return np.round(255 * (share if darkens else 1 - share)).astype(np.uint8)
