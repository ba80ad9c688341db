"""What the log teaches: the exposure index that a person's own paper, water and eye amount to."""

from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

from pinhole.ranges import checked

# Half-width of the central 90 % of a normal distribution, in standard deviations.
CENTRAL_90 = NormalDist().inv_cdf(0.95)


@dataclass(frozen=True)
class Estimate:
    """A learned EI: ei = 2**mean_log2, low and high its central 90 %, sd_log2 in stops."""

    ei: float
    low: float
    high: float
    mean_log2: float
    sd_log2: float


def estimate_ei(box_ei, stops_more, *, prior_sd=1, judgement_sd=0.5):
    """The posterior of log2(EI) after some judged sheets.

    box_ei [EI, above 0]: where the prior is centred; stops_more [stops], shape (n,): per sheet how
    many stops more than box_ei gave it needed, negative for less; prior_sd, judgement_sd [stops,
    above 0].
    Returns an Estimate; no sheets give the prior. Raises ValueError outside.
    Source: conjugate normal with known variance (any textbook of Bayesian statistics).
    """
    prior_mean = np.log2(checked("box_ei", box_ei, above=0))
    prior_weight = 1 / checked("prior_sd", prior_sd, above=0) ** 2
    weight = 1 / checked("judgement_sd", judgement_sd, above=0) ** 2
    stops = np.atleast_1d(checked("stops_more", stops_more))
    total = prior_weight + weight * stops.size
    # A sheet that needed s stops more than at box_ei says that log2(EI) is s lower.
    mean = float(prior_mean - weight * stops.sum() / total)
    sd = float(total**-0.5)
    low, high = 2 ** (mean - CENTRAL_90 * sd), 2 ** (mean + CENTRAL_90 * sd)
    return Estimate(2**mean, low, high, mean, sd)
