"""Short and long sheets of a paper that pull apart: no exponent explains both."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from pinhole.ranges import checked

# So many groups of sheets, from the shortest to the longest, each of so many at least.
GROUPS, LEAST_OF_GROUP = 3, 3
# Of three pairs of groups chance makes one so many sd apart in one log of fifty (Bonferroni).
APART_SD = 2.7
LEAST_APART_STOPS = 1 / 3


@dataclass(frozen=True)
class Apart:
    """less_s, more_s: middle metered times [s] of two groups of sheets; stops: how much more those
    about more_s want than those about less_s, beside all that the shares explain.
    """

    less_s: float
    more_s: float
    stops: float


def pulled_apart(
    metered_s: ArrayLike, residual_stops: ArrayLike, weights: ArrayLike, judgement_sd: float
) -> Apart | None:
    """The Apart of a paper's sheets that lies farthest, None where chance may make as much.

    metered_s [s, above 0], residual_stops [stops], weights [above 0], shape (n,): of each sheet, at
    the box EI, what it wanted more than its shares explain, and how much it counts; judgement_sd
    [stops, above 0]: of a verdict of weight 1. Raises ValueError outside.
    Source: differences of weighted means (any textbook of statistics).
    """
    seconds = checked("metered_s", metered_s, above=0)
    over, counts = checked("residual_stops", residual_stops), checked("weights", weights, above=0)
    noise = float(checked("judgement_sd", judgement_sd, above=0))
    if len(seconds) < GROUPS * LEAST_OF_GROUP:
        return None
    rows = []
    for group in np.array_split(np.argsort(seconds, kind="stable"), GROUPS):
        total = counts[group].sum()
        mean = float(counts[group] @ over[group] / total)
        rows.append((mean, noise / float(np.sqrt(total)), float(np.median(seconds[group]))))
    (low, low_sd, less_s), *_, (high, high_sd, more_s) = sorted(rows)
    if high - low < max(APART_SD * float(np.hypot(low_sd, high_sd)), LEAST_APART_STOPS):
        return None
    return Apart(less_s, more_s, high - low)
