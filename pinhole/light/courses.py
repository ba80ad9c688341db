"""Light that changes meanwhile: its course, and when it has given a sheet enough."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from pinhole.light.levels import metered_s
from pinhole.ranges import Array, ArrayLike, Numbers, checked
from pinhole.reciprocity import NoCorrection

if TYPE_CHECKING:
    from pinhole.reciprocity.school import School


# A rate below this fills no sheet, and an end later than this never comes.
LEAST_RATE, NEVER_S = 1e-300, 1e15


@dataclass(frozen=True)
class Course:
    """Course of the light that fills a sheet: rates [shares per second] at times_s, straight in the
    logarithm between them, constant before the first and after the last; both shape (n,). A sheet
    is full at 1.
    """

    times_s: Array
    rates: Array

    def share(self, from_s: float, to_s: float) -> float:
        """Share of a sheet that light fills between two moments on the clock of times_s; 0 when
        they are out of order.
        """
        inside = self.times_s[(self.times_s > from_s) & (self.times_s < to_s)]
        knots = np.concatenate([[from_s], inside, [max(from_s, to_s)]])
        return float(log_areas(np.diff(knots), np.log(self.rate(knots))).sum())

    def reach_s(self, from_s: float, share: float) -> float:
        """The moment at which light from from_s on has given that share [at least 0], on the clock
        of times_s; inf where it never does.
        """
        if share <= 0:
            return float(from_s)
        knots = np.concatenate([[from_s], self.times_s[self.times_s > from_s]])
        logs = np.log(self.rate(knots))
        sums = np.concatenate([[0.0], np.cumsum(log_areas(np.diff(knots), logs))])
        index = int(np.searchsorted(sums, share)) - 1
        need, rate = share - sums[index], np.exp(logs[index])
        if index == len(knots) - 1:
            end = float(knots[index] + need / rate)
            return end if end < NEVER_S else np.inf
        slope = (logs[index + 1] - logs[index]) / (knots[index + 1] - knots[index])
        bend = slope * need / rate
        return float(
            knots[index]
            + need / rate * (np.log1p(bend) / bend if abs(bend) > 1e-9 else 1 - bend / 2)
        )

    def leave_s(self, until_s: float, share: float) -> float:
        """The last moment from which light until until_s gives that share [at least 0]; -inf where
        none does.

        The same course run backwards, so that light is constant before the first point.
        """
        back_s = Course(-self.times_s[::-1], self.rates[::-1]).reach_s(-until_s, share)
        return -back_s

    def scaled(self, factor: float) -> Course:
        """The same course, so many times as fast."""
        return Course(self.times_s, self.rates * factor)

    def rate(self, times_s: Numbers) -> Numbers:
        """Shares per second at times_s, any shape."""
        return np.exp(np.interp(times_s, self.times_s, np.log(self.rates)))


def log_areas(lengths: Array, logs: Array) -> Array:
    """Integrals of curves that are straight in the logarithm, piece by piece.

    lengths: of the pieces, shape (n,); logs: natural logarithm of the curve at their ends, shape
    (n + 1,). Source: the integral of an exponential.
    """
    low, rise = np.exp(logs[:-1]), np.diff(logs)
    small = np.abs(rise) < 1e-9
    return lengths * low * np.where(small, 1 + rise / 2, np.expm1(rise) / np.where(small, 1, rise))


# A school bends the course at its knots; each stretch between two points is cut into so many.
STRETCHES = 96


def course(times_s: ArrayLike, metered_s: ArrayLike, school: School) -> Course:
    """The Course of light that meters as metered_s [s, above 0, inf for none] at times_s [s,
    increasing], both (n,).

    school: one of pinhole.reciprocity; light that asks for the adjusted time T at a moment gives dt
    / T there.
    Raises ValueError outside. Source: additivity of exposure; that a school may be applied moment
    by moment is an assumption, exact where there is no correction.
    """
    times = np.atleast_1d(checked("times_s", times_s))
    metered = np.atleast_1d(checked("metered_s", np.minimum(metered_s, 1 / LEAST_RATE), above=0))
    if (
        times.ndim != 1
        or times.shape != metered.shape
        or not times.size
        or (np.diff(times) <= 0).any()
    ):
        raise ValueError("times_s must be strictly increasing, one metered time to each")
    if np.isnan(times).any() or np.isnan(metered).any():
        raise ValueError("times_s and metered_s must be numbers")
    if times.size > 1 and not isinstance(school, NoCorrection):
        fine = np.interp(
            np.arange((times.size - 1) * STRETCHES + 1) / STRETCHES, np.arange(times.size), times
        )
        times, metered = fine, np.exp(np.interp(fine, times, np.log(metered)))
    return Course(times, np.maximum(1 / np.atleast_1d(school.adjusted_s(metered)), LEAST_RATE))


@dataclass(frozen=True)
class Closing:
    """seconds from times_s[0] to the moment of closing; beyond_last: whether that lies past the
    last point known.
    """

    seconds: float
    beyond_last: bool


def closing(
    times_s: ArrayLike, ev100: ArrayLike, f_number: float, iso: float, reciprocity: School
) -> Closing:
    """The Closing of an exposure that is opened at times_s[0].

    times_s [s, strictly increasing], ev100, both shape (n,), straight between points and constant
    after the last; f_number, iso [above 0]; reciprocity: a school. An end that never comes is inf,
    beyond the last point.
    Raises ValueError outside. Source: as course().
    """
    rising = course(times_s, metered_s(np.atleast_1d(ev100), f_number, iso), reciprocity)
    end = rising.reach_s(rising.times_s[0], 1.0)
    return Closing(float(end - rising.times_s[0]), bool(end > rising.times_s[-1]))


def closing_time_s(
    times_s: Sequence[int], ev100: Sequence[int], f_number: float, iso: float
) -> float:
    """The seconds from times_s[0] until the integral of dt / metered_s(ev100(t)) reaches 1; as
    closing().
    """
    return closing(times_s, ev100, f_number, iso, NoCorrection()).seconds
