"""Lessons of the log: the exposure index that a person's own paper, water and eye amount to."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import NormalDist
from typing import TYPE_CHECKING

import numpy as np

from pinhole.ranges import Array, ArrayLike, checked

if TYPE_CHECKING:
    from pinhole.reciprocity.school import School


# Half-width of the central 90 % of a normal distribution, in standard deviations.
CENTRAL_90 = NormalDist().inv_cdf(0.95)
# How far beside a time its steepness is taken.
QUARTER_STOP = 2**0.25


@dataclass(frozen=True)
class Estimate:
    """A learned EI: ei = 2**mean_log2, low and high its central 90 %, sd_log2 in stops."""

    ei: float
    low: float
    high: float
    mean_log2: float
    sd_log2: float


def pooled(values: Array, sds: Array, *, prior_sd: float) -> tuple[float, float]:
    """(mean, sd) of what some sightings say together of one quantity that is thought to be about 0.

    values [any unit]; sds [the same unit, above 0], both of shape (n,): each sighting and how sure
    it is; prior_sd [the same unit, above 0]. None give the prior. Raises ValueError outside and for
    two shapes.
    Source: conjugate normal with known variances (any textbook of Bayesian statistics).
    """
    values = np.atleast_1d(checked("values", values))
    weights = 1 / np.atleast_1d(checked("sds", sds, above=0)) ** 2
    if values.shape != weights.shape:
        raise ValueError("values and sds must be of one shape (n,)")
    total = 1 / float(checked("prior_sd", prior_sd, above=0)) ** 2 + weights.sum()
    return float(weights @ values / total), float(total**-0.5)


def from_shift(box_ei: float, stops: float, sd: float, *, steepness: float = 1) -> Estimate:
    """The Estimate of a paper that needs so many stops more than its box says.

    box_ei [EI, above 0]; stops, sd [stops of the clock]; steepness [above 0]: how many of those a
    stop of light is at the usual time, see reciprocity. Raises ValueError outside.
    """
    steep = float(checked("steepness", steepness, above=0))
    middle = float(np.log2(checked("box_ei", box_ei, above=0))) - float(stops) / steep
    sd = float(sd) / steep
    low, high = 2 ** (middle - CENTRAL_90 * sd), 2 ** (middle + CENTRAL_90 * sd)
    return Estimate(2**middle, low, high, middle, sd)


def steepness(school: School, metered_s: float) -> float:
    """Stops of the clock to a stop of light by a school, at about that time.

    school: of reciprocity; metered_s [s, above 0]. Raises ValueError outside.
    Source: the definition, over a quarter of a stop on either side.
    """
    middle = float(checked("metered_s", metered_s, above=0))
    low, high = (
        np.log2(school.adjusted_s(middle * factor)) for factor in (1 / QUARTER_STOP, QUARTER_STOP)
    )
    return float((high - low) / (2 * np.log2(QUARTER_STOP)))


def fitting_ei(needed_s: float, at_one_s: float, school: School) -> float:
    """The EI at which a sheet would have been given what it needed.

    needed_s [s, above 0]: its time after reciprocity; at_one_s [s, above 0]: metered at EI 1,
    before it; school: of reciprocity. Raises ValueError outside. Source: the inverse of the school.
    """
    at_one_s = float(checked("at_one_s", at_one_s, above=0))
    return at_one_s / float(school.metered_s(float(checked("needed_s", needed_s, above=0))))


def estimate_ei(
    box_ei: float, stops_more: ArrayLike, *, prior_sd: float = 1, judgement_sd: float = 0.5
) -> Estimate:
    """The posterior of log2(EI) after some judged sheets.

    box_ei [EI, above 0]: where the prior is centred; stops_more [stops], shape (n,): per sheet how
    many stops more than box_ei gave it needed, negative for less; prior_sd, judgement_sd [stops,
    above 0].
    Returns an Estimate; no sheets give the prior. Raises ValueError outside.
    Source: conjugate normal with known variance (any textbook of Bayesian statistics).
    """
    stops = np.atleast_1d(checked("stops_more", stops_more))
    sd = float(checked("judgement_sd", judgement_sd, above=0))
    return from_shift(box_ei, *pooled(stops, np.full(stops.shape, sd), prior_sd=prior_sd))
