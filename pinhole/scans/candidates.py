"""The curves that a paper may have, of which a reader knows none."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole import media
from pinhole.ranges import Array
from pinhole.tones import MIDDLE_OF_SCALE, SHOULDER, TOE, PointCurve, ToneCurve

# The candidates. Shapes: exponents of a logistic, 1 its own, less a longer shoulder, more a longer
# toe. Papers of grade 2 hold 3.3 to 4 stops, of grade 3 2.7 (ISO 6846 and makers' ISO R).
CURVE_SHAPES = (0.6, 1.0, 1.7)
RANGES = (2.2, 2.6, 3.0, 3.5, 4.1, 4.8, 5.6, 6.5)
BASES = (0.03, 0.05, 0.07, 0.09, 0.11, 0.14)
BLACKEST = (1.45, 1.6, 1.75, 1.9, 2.05, 2.2)
RIGHTS = (MIDDLE_OF_SCALE - 0.06, MIDDLE_OF_SCALE, MIDDLE_OF_SCALE + 0.06)
RIGHT_WEIGHTS = (0.22, 0.56, 0.22)
# What is believed of them before (common practice): of ranges their middle and spread as a factor.
USUAL_RANGE, RANGE_SPREAD = 3.8, 0.25
BASE_SD, BLACKEST_SD = 0.03, 0.2
# Where a curve is told by points [stops from right].
POINTS_STOPS = np.linspace(-12.0, 12.0, 97)


@dataclass(frozen=True)
class Curves:
    """The candidates, all (n,): shape, range_stops, base, blackest, right; prior: log weight."""

    shape: Array
    range_stops: Array
    base: Array
    blackest: Array
    right: Array
    prior: Array

    def stops(self, shares: Array) -> Array:
        """Light over right that made those shares of each curve's scale, (n, k) to (n, k)."""
        steep = (_bent(SHOULDER, self.shape) - _bent(0.025, self.shape)) / self.range_stops
        start = _bent(self.right, self.shape)
        return (_bent(shares, self.shape[:, None]) - start[:, None]) / steep[:, None]

    def shares(self, stops: Array) -> Array:
        """Shares of each curve's scale that so much light over right makes, (k,) to (n, k)."""
        steep = (_bent(SHOULDER, self.shape) - _bent(0.025, self.shape)) / self.range_stops
        x = _bent(self.right, self.shape)[:, None] + steep[:, None] * stops[None]
        return np.asarray((1 / (1 + np.exp(-x))) ** self.shape[:, None])


def _bent(share: Array | float, shape: Array) -> Array:
    """The logistic of that shape, backwards."""
    root = np.asarray(share) ** (1 / shape)
    return np.asarray(np.log(root / (1 - root)))


CANDIDATES = len(CURVE_SHAPES) * len(RANGES) * len(BASES) * len(BLACKEST) * len(RIGHTS)


@dataclass(frozen=True)
class Known:
    """Teachings of a paper's own sheets: weights (n,): log weights of the Curves beside their
    prior; shift, shift_sd [stops]: what all of them read too much; sheets: how many.
    """

    weights: Array
    shift: float
    shift_sd: float
    sheets: int


def curves(nominal: ToneCurve) -> Curves:
    """The Curves that a paper of that nominal curve may have."""
    grid = np.meshgrid(CURVE_SHAPES, RANGES, BASES, BLACKEST, np.arange(len(RIGHTS)), indexing="ij")
    shape, ranges, base, blackest, n = (axis.ravel() for axis in grid)
    n = n.astype(int)
    usual = (np.log(USUAL_RANGE) + np.log(nominal.range_stops)) / 2
    prior = np.log(np.array(RIGHT_WEIGHTS)[n])
    prior -= ((np.log(ranges) - usual) / RANGE_SPREAD) ** 2 / 2
    prior -= ((base - nominal.dmin) / BASE_SD) ** 2 / 2
    prior -= ((blackest - nominal.dmax) / BLACKEST_SD) ** 2 / 2
    return Curves(shape, ranges, base, blackest, np.array(RIGHTS)[n], prior)


def mean_curve(weights: Array, nominal: ToneCurve, shift: float = 0.0) -> PointCurve:
    """The PointCurve of a paper: the mean of its candidates, as drawn_curve draws it.

    weights (n,): log weights beside their prior, see Known; nominal: the paper's; shift
    [stops]: light over right of what is metered on sheets that came out right. Source: a mean.
    """
    every = curves(nominal)
    weights = _shares_of(every, weights)
    base, blackest = float(weights @ every.base), float(weights @ every.blackest)
    depth = (every.blackest - every.base)[:, None] * every.shares(POINTS_STOPS)
    # A mean of rising curves rises, but for what is lost in a float.
    share = np.maximum.accumulate((weights @ depth) / (blackest - base))
    share += 1e-9 * np.arange(share.size)
    ends = np.interp((TOE / (blackest - base), SHOULDER), share, POINTS_STOPS)
    return PointCurve(
        *(base, blackest, float(ends[1] - ends[0])),
        tuple((POINTS_STOPS - shift).tolist()),
        tuple(share.tolist()),
    )


def _shares_of(every: Curves, weights: Array) -> Array:
    """Weights beside the candidates' prior as shares of one."""
    shares = np.exp(every.prior + weights - (every.prior + weights).max())
    return np.asarray(shares / shares.sum())


def drawn_curve(
    weights: Array, nominal: ToneCurve, stops: Array, medium: str = "negative"
) -> tuple[Array, Array, Array]:
    """(low, middle, high) densities, (k,) each, that light of so many stops over right makes of a
    paper: the mean of its candidates and nine chances in ten.

    weights (n,): log weights of the candidates beside their prior, see Known; nominal: the paper's;
    stops (k,). Source: weighted percentiles.
    """
    every = curves(nominal)
    weights = _shares_of(every, weights)
    share = every.shares(np.asarray(stops, float))
    share = 1 - share if media.medium(medium).is_positive else share
    densities = every.base[:, None] + (every.blackest - every.base)[:, None] * share
    order = np.argsort(densities, axis=0)
    ranked = np.take_along_axis(densities, order, axis=0)
    reached = np.cumsum(weights[order], axis=0)
    low, high = (
        np.take_along_axis(ranked, np.argmax(reached >= end, axis=0)[None], axis=0)[0]
        for end in (0.05, 0.95)
    )
    return low, weights @ densities, high
