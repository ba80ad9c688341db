"""Dull days, read off the picture: where the trail of a day should lie and none does.

    same minute on neighbouring days -> places side by side on the paper -> bright, or a gap

Neighbouring trails overlap where the sun's declination hardly moves, so that a gap there is dated
to some days and not to one; and about a solstice two days of the span share one trail.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from pinhole import sun
from pinhole.ranges import Array, checked

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.solargraph.tracing import Trails
    from pinhole.solargraph.tracks import Track


# A place is held against those of so many days before and after.
BESIDE_DAYS = 20
# The darkest and the brightest of them, and how far apart they lie at least, as a share of the
# picture's own span, to tell anything.
DIM, BRIGHT, LEAST_TRAIL_CONTRAST = 5.0, 92.0, 0.08
# A day is dull whose trail is less bright than this between both (common practice); it is told
# where so much of it can be seen.
DULL, SEEN = 0.3, 0.15
# Nothing is dated less surely than this [days].
LOOSEST_DAYS = 10.0
# A pointing is off by no more than so many of its standard deviations.
OUTSIDE_SDS = 2.0


@dataclass(frozen=True)
class DullSpan:
    """first, last: the days without sun, as far as the picture says; give_or_take_days: how surely
    both are dated.
    """

    first: date
    last: date
    give_or_take_days: float

    @property
    def days(self) -> int:
        """Number of those days."""
        return (self.last - self.first).days + 1


@dataclass(frozen=True)
class Dull:
    """spans: [DullSpan] in order; told: which days the picture tells of, shape (n,); shining: how
    bright each day's trail is, 0 to 1, nan where that is not told, (n,).
    """

    spans: tuple[DullSpan, ...]
    told: Array
    shining: Array


def dull_days(drawn: Trails, back: Back, light: Array, sd_deg: float = 0.5) -> Dull:
    """The Dull of a picture.

    drawn: Trails of the can as it stood; back: its projection back; light: how bright the upright
    positive is, the whole paper, shape (height, width), any scale; sd_deg [0 to 20]: how sure its
    pointing is. Raises ValueError outside and for light that is not a finite picture. Source:
    geometry; what counts as dull is common practice.
    """
    image = np.asarray(light, float)
    doubt = float(checked("sd_deg", sd_deg, least=0, most=20))
    if image.ndim != 2 or min(image.shape) < 8 or not np.isfinite(image).all():
        raise ValueError("light must be a finite picture of at least 8 x 8")
    shining = _shining(_seen(drawn, back, image), np.ptp(np.percentile(image, (1, 99))))
    days = drawn.track.days
    moves = np.abs(np.gradient(_declination(drawn.track))) if len(days) > 1 else np.zeros(1)
    with np.errstate(divide="ignore"):
        loose = np.hypot(doubt, sun.DISC_DEG / 4) / moves
    is_telling = ~np.isnan(shining) & (loose <= LOOSEST_DAYS) & ~_shared(drawn.track)
    is_telling &= ~_outermost(drawn.track, doubt)
    shining = np.where(is_telling, shining, np.nan)
    with np.errstate(invalid="ignore"):
        flags = is_telling & (shining < DULL)
    return Dull(tuple(_spans(days, flags, loose)), is_telling, shining)


def _declination(track: Track) -> Array:
    """Of the sun at each noon [degrees], (n,): how far the noon stands from the equator's."""
    south = np.cos(np.radians(track.noon_azimuth_deg)) < 0
    zenith = 90 - track.noon_altitude_deg
    return np.where(south, track.latitude_deg - zenith, track.latitude_deg + zenith)


def _shared(track: Track) -> Array:
    """Days whose trail another part of the span draws as well, on the sun's way back or a year on,
    (n,).
    """
    declination = _declination(track)
    day = np.arange(len(declination))
    climbs = np.gradient(declination) > 0 if len(day) > 1 else np.zeros(1, bool)
    is_near = np.abs(np.subtract.outer(declination, declination)) < sun.DISC_DEG / 2
    elsewhere = np.not_equal.outer(climbs, climbs) | (np.abs(np.subtract.outer(day, day)) > 180)
    return np.asarray((is_near & elsewhere).any(axis=1))


def _outermost(track: Track, doubt_deg: float) -> Array:
    """Days whose trail may lie, for all that is known of the pointing, outside of all that were
    drawn: those that stand no further from the first's or the last's, (n,).
    """
    declination = _declination(track)
    ends = declination[[0, -1], None]
    return np.asarray((np.abs(declination - ends) < OUTSIDE_SDS * doubt_deg).any(axis=0))


def _seen(drawn: Trails, back: Back, image: Array) -> Array:
    """Brightness of the picture at each sample, (n, t); nan where none lands."""
    half_across, half_high = back.half_mm
    brightness = np.full(drawn.on_paper.shape, np.nan)
    on_paper = drawn.on_paper
    across = (drawn.x_mm[on_paper] / half_across + 1) / 2 * (image.shape[1] - 1)
    down = (drawn.y_mm[on_paper] / half_high + 1) / 2 * (image.shape[0] - 1)
    rows = np.clip(np.round(down).astype(int), 0, image.shape[0] - 1)
    columns = np.clip(np.round(across).astype(int), 0, image.shape[1] - 1)
    brightness[on_paper] = image[rows, columns]
    return brightness


def _shining(brightness: Array, span: float) -> Array:
    """Brightness of each day between the darkest and the brightest of its neighbours at the same
    minutes, 0 to 1, (n,); nan where too little of it tells.
    """
    days = len(brightness)
    shares = np.full(days, np.nan)
    for day in range(days):
        neighbours = brightness[max(0, day - BESIDE_DAYS) : day + BESIDE_DAYS + 1]
        used = ~np.isnan(brightness[day])
        # A few neighbours are no measure.
        used &= (~np.isnan(neighbours)).sum(axis=0) > BESIDE_DAYS // 2
        if not used.any():
            continue
        low, high = _percentiles(neighbours[:, used], (DIM, BRIGHT))
        tells = high - low > LEAST_TRAIL_CONTRAST * span
        if tells.sum() < max(3, SEEN * used.sum()):
            continue
        share = (brightness[day, used][tells] - low[tells]) / (high - low)[tells]
        shares[day] = float(np.clip(share, 0, 1).mean())
    return shares


def _percentiles(values: Array, percents: tuple[float, float]) -> Array:
    """Those percentiles of what is known of each column, (len(percents), columns): sorted once,
    nan last, and linear between neighbours.
    """
    ordered, last = np.sort(values, axis=0), (~np.isnan(values)).sum(axis=0) - 1
    place = np.asarray(percents)[:, None] / 100 * last
    below = np.floor(place).astype(int)
    low = np.take_along_axis(ordered, below, axis=0)
    high = np.take_along_axis(ordered, np.minimum(below + 1, last), axis=0)
    return low + (place - below) * (high - low)


def _spans(days: Array, flags: Array, loose: Array) -> Iterator[DullSpan]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(int)))
    for first, after in zip(edges[::2], edges[1::2], strict=True):
        sure = float(loose[first:after].max())
        yield DullSpan(days[first].astype(date), days[after - 1].astype(date), sure)
