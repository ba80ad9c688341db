"""One paper's speed and reciprocity, fitted together: they pull on each other.

log2(needed) = shift + exponent log2(metered)
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.ranges import ArrayLike, checked


@dataclass(frozen=True)
class Line:
    """shift [stops at a metered second], exponent, how sure each is, and how they pull on each
    other.
    """

    shift: float
    shift_sd: float
    exponent: float
    exponent_sd: float
    correlation: float


def estimate_line(
    metered_s: ArrayLike,
    needed_s: ArrayLike,
    *,
    shift_sd: float = 1,
    exponent_mean: float = 1,
    exponent_sd: float = 0.15,
    judgement_sd: float = 0.5,
) -> Line:
    """The Line of some judged sheets.

    metered_s: what a meter at the box EI asked for, before reciprocity; needed_s: what would have
    been right [s, above 0], both of one shape (n,); shift_sd [stops], exponent_sd, judgement_sd
    [stops, above 0]: the prior's, about a shift of 0 and exponent_mean, and one sheet's. No sheets
    give the prior. Raises ValueError outside and for two shapes.
    Source: conjugate normal linear regression with known variance (any textbook of Bayesian
    statistics).
    """
    metered = np.atleast_1d(checked("metered_s", metered_s, above=0))
    needed = np.atleast_1d(checked("needed_s", needed_s, above=0))
    if metered.shape != needed.shape or metered.ndim != 1:
        raise ValueError("metered_s and needed_s must be of one shape (n,)")
    sds = [
        float(checked(name, value, above=0))
        for name, value in (("shift_sd", shift_sd), ("exponent_sd", exponent_sd))
    ]
    weight = 1 / float(checked("judgement_sd", judgement_sd, above=0)) ** 2
    rows = np.stack([np.ones_like(metered), np.log2(metered)], axis=1)
    prior = np.diag(1 / np.square(sds))
    spread = np.linalg.inv(prior + weight * rows.T @ rows)
    target = prior @ [0.0, float(checked("exponent_mean", exponent_mean))]
    mean = spread @ (target + weight * rows.T @ np.log2(needed))
    sd = np.sqrt(np.diag(spread))
    correlation = float(spread[0, 1] / (sd[0] * sd[1]))
    return Line(float(mean[0]), float(sd[0]), float(mean[1]), float(sd[1]), correlation)
