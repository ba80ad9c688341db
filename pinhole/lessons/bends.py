"""Bends: no exponent holds for all times of a paper, so that it may change a little on the way."""

from __future__ import annotations

import numpy as np

from pinhole.ranges import Array, ArrayLike

# log2 of the metered seconds at which a paper's exponent may change: 4 s, 32 s, 4 min, 34 min.
BENDS_AT = (2, 5, 8, 11)
# A paper whose bends come to less is planned as a straight line [stops] (common practice).
LEAST_BEND_STOPS = 1 / 8


def doublings(metered_s: ArrayLike) -> Array:
    """Doublings over a second of metered times [s, above 0], any shape; none of shorter ones, as
    schools lengthen from there on.
    """
    return np.maximum(np.log2(metered_s), 0.0)


def beyond(log2_s: ArrayLike, pivot: ArrayLike) -> Array:
    """Doublings by which times lie beyond each of BENDS_AT, away from the middle of their paper's
    sheets, shape (bends, n).

    log2_s, pivot: log2 of metered seconds, of times and of the middle, shape (n,) or one.
    Source: a line in pieces about that middle, which goes on as it ends.
    """
    times, middle = np.atleast_1d(log2_s), np.asarray(pivot, float)
    corners = np.array(BENDS_AT, float)[:, None]
    return np.maximum(np.where(corners >= middle, times - corners, corners - times), 0.0)


def strongest(log2_s: Array, stops: Array) -> float:
    """Farthest that some stops lie off a straight line through them [stops].

    log2_s, stops, shape (n,): of a paper's sheets. Source: least squares.
    """
    # Through times at hardly three places any line goes.
    if len(np.unique(np.round(log2_s, 1))) < 3:
        return 0.0
    line = np.polyfit(log2_s, stops, 1)
    return float(np.abs(stops - np.polyval(line, log2_s)).max(initial=0.0))
