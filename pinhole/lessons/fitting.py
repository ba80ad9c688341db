"""The fit of a whole log: a verdict is a look, not a number; noise and far shares are learned with
the rest.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pinhole.ranges import Array
from pinhole.verdicts import LOOKS

# Verdicts have long tails: Student's t with so many degrees of freedom.
FREEDOM = 6.0
# How many sheets and shares one's knowledge from before is worth: of the noise of a verdict, and of
# how far a kind of share may lie out (common practice).
NOISE_SHEETS, FAR_SHARES = 8.0, 2.0
MOST_ROUNDS, CLOSE_STOPS = 25, 1e-3
LEAST_SD, LEAST_WEIGHT = 0.1, 0.02
# Between the looks that everybody has, some judge half stops.
HALF_STOPS = 1.5
# So many have all pairs of their shares in memory.
SHEETS_AT_ONCE = 4000
# Standard deviations beyond which a normal density is as good as nothing.
FAR_SD = 30.0


@dataclass(frozen=True)
class Design:
    """Few shares speak of each sheet: columns, values, shape (n, k): which they are and how often
    each counts; size: of all shares. A place without a share has column size and value 0.
    """

    columns: Array
    values: Array
    size: int

    def expected(self, mean: Array) -> Array:
        """Sums of the shares that speak of each sheet, (n,)."""
        return (self.values * np.append(mean, 0.0)[self.columns]).sum(axis=1)

    def gathered(self, of_sheets: Array) -> Array:
        """The sum over the sheets of each share, (size,)."""
        weights = (self.values * of_sheets[:, None]).ravel()
        return np.bincount(self.columns.ravel(), weights, self.size + 1)[: self.size]

    def information(self, weights: Array) -> Array:
        """Weighted products of all pairs of shares, (size, size)."""
        wide, total = self.size + 1, np.zeros((self.size + 1) ** 2)
        for sheets, pairs, products in self._pairs():
            weighed = products * weights[sheets, None]
            total += np.bincount(pairs.ravel(), weighed.ravel(), wide**2)
        square = total.reshape(wide, wide)[: self.size, : self.size] / 2
        return square + square.T

    def doubt(self, spread: Array) -> Array:
        """Variance of what the shares come to for each sheet, (n,)."""
        padded = np.pad(spread, ((0, 1), (0, 1))).ravel()
        parts = [(padded[pairs] * products).sum(axis=1) for _, pairs, products in self._pairs()]
        return np.concatenate(parts) if parts else np.zeros(0)

    def _pairs(self) -> Iterator[tuple[slice, Array, Array]]:
        """(sheets, place of each pair of their shares in a square, product of both), some sheets at
        a time; of two pairs that differ in their order one, at twice its product.
        """
        first, second = np.triu_indices(self.columns.shape[1])
        twice = np.where(first == second, 1.0, 2.0)
        for start in range(0, len(self.columns), SHEETS_AT_ONCE):
            sheets = slice(start, start + SHEETS_AT_ONCE)
            columns, values = self.columns[sheets], self.values[sheets]
            pairs = columns[:, first] * (self.size + 1) + columns[:, second]
            yield sheets, pairs, values[:, first] * values[:, second] * twice


@dataclass(frozen=True)
class Fitted:
    """mean, spread: of the shares; weights, residuals [stops]: of the sheets; sd [stops]: of one
    verdict.
    """

    mean: Array
    spread: Array
    weights: Array
    residuals: Array
    sd: float


def looked(over_stops: Array, verdict_stops: Array | None) -> Array:
    """Ends (2, n) between which each sheet's need lies [stops]: those of the look it was given,
    halfway to the next, open beyond the last; both over_stops where it was not looked at.

    over_stops, verdict_stops [stops], shape (n,): the need by the verdict, and the verdict, nan for
    none. What is no look is taken as it stands.
    """
    ends = np.array([over_stops, over_stops], float)
    if verdict_stops is None:
        return ends
    steps = np.array(sorted(stops for _, _, stops in LOOKS))
    if np.isin(np.abs(verdict_stops), HALF_STOPS).any():
        steps = np.sort(np.append(steps, [-HALF_STOPS, HALF_STOPS]))
    edges = np.array([-np.inf, *(steps[1:] + steps[:-1]) / 2, np.inf])
    for n, step in enumerate(steps):
        is_it = np.isclose(verdict_stops, step)
        ends[0, is_it] += edges[n] - step
        ends[1, is_it] += edges[n + 1] - step
    return ends


def fit(design: Design, ends: Array, priors: Array, sd: float, *, robust: bool) -> Fitted:
    """The Fitted shares of some sheets.

    design: of n sheets; ends (2, n) [stops]: between which the need of each lies; priors (size,)
    [stops^2]: variance of each share about nothing; sd [stops]: of one verdict, as far as it is
    known before; robust: learn it, weigh odd sheets down and let shares lie far out.
    Source: expectation and maximisation for a normal regression with interval-censored targets
    (truncated normals; information as in an ordered probit) whose errors and shares are Student's
    t as mixtures of normals (any textbook of Bayesian statistics).
    """
    weights, noise, variances = np.ones(len(design.columns)), sd, priors
    mean: Array = np.zeros(design.size)
    middle, left = _middles(ends), np.zeros(len(design.columns))
    told = (FREEDOM + 1) / (FREEDOM + 3) if robust else 1.0
    for turn in range(MOST_ROUNDS):
        before, sds, expected = mean, noise / np.sqrt(weights), design.expected(mean)
        if turn:
            middle, left = _within(ends, expected, sds)
        sharp = (1 - left) / sds**2
        products = design.information(sharp)
        spread = np.linalg.inv(np.diag(1 / variances) + products)
        mean = spread @ design.gathered(sharp * expected + (middle - expected) / sds**2)
        residuals = middle - design.expected(mean)
        if robust:
            doubts = design.doubt(spread)
            squares = residuals**2 + left * sds**2
            noise = _noise(weights, squares + doubts, sd)
            weights = _student(squares, doubts, noise)
            variances = _far(mean, spread, priors)
        if np.abs(mean - before).max(initial=0.0) < CLOSE_STOPS and turn:
            break
    # A long-tailed verdict tells less than its weight says: the information of Student's t.
    spread = np.linalg.inv(np.diag(1 / variances) + told * products)
    return Fitted(mean, spread, weights, residuals, noise)


def _middles(ends: Array) -> Array:
    """Of each look, its inner end where it is open."""
    low, high = ends
    return np.where(np.isinf(low), high, np.where(np.isinf(high), low, (low + high) / 2))


def _within(ends: Array, expected: Array, sds: Array) -> tuple[Array, Array]:
    """(mean [stops], variance as a share of sds^2) of needs known to lie between their ends.

    Source: the truncated normal (any textbook of statistics).
    """
    middle, left = ends[0].copy(), np.zeros(len(expected))
    is_look = ends[1] > ends[0]
    a, b = (
        np.clip((end[is_look] - expected[is_look]) / sds[is_look], -FAR_SD, FAR_SD) for end in ends
    )
    # Both tails by the one that is not rounded to nothing.
    flip = a + b > 0
    low, high = np.where(flip, -b, a), np.where(flip, -a, b)
    mass = np.maximum(_cumulative(high) - _cumulative(low), 1e-300)
    thin = mass < 1e-12
    density_low, density_high = _density(low), _density(high)
    mean = (density_low - density_high) / mass
    variance = 1 + (low * density_low - high * density_high) / mass - mean**2
    # Far out in a tail the need lies at the nearer end.
    mean = np.where(thin, high, mean)
    variance = np.clip(np.where(thin, 0.0, variance), 0.0, 1.0)
    middle[is_look] = expected[is_look] + np.where(flip, -mean, mean) * sds[is_look]
    left[is_look] = variance
    return middle, left


def _density(x: Array) -> Array:
    return np.exp(-(x**2) / 2) / math.sqrt(2 * math.pi)


def _cumulative(x: Array) -> Array:
    return np.array([math.erfc(one) for one in (-x / math.sqrt(2)).tolist()]) / 2


def _noise(weights: Array, squares: Array, sd: float) -> float:
    """Noise of a verdict by its residuals, and by what was known before."""
    total = NOISE_SHEETS * sd**2 + float(weights @ squares)
    return max(LEAST_SD, math.sqrt(total / (NOISE_SHEETS + len(squares))))


def _student(squares: Array, doubts: Array, noise: float) -> Array:
    """Weight of each sheet, to about 1: by how far it lies off what is known of it."""
    doubt = np.maximum(noise**2 - doubts, 0.25 * noise**2)
    return np.clip((FREEDOM + 1) / (FREEDOM + squares / doubt), LEAST_WEIGHT, 1.0)


def _far(mean: Array, spread: Array, priors: Array) -> Array:
    """Variance of each share by how far it lies out, and by its prior."""
    return (FAR_SHARES * priors + mean**2 + np.diag(spread)) / (FAR_SHARES + 1)
