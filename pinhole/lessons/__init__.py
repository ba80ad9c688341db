"""Lessons of the log: the EI, the reciprocity and the shares of camera, light and process that a
person's own sheets amount to.
"""

from pinhole.lessons.ei import (
    CENTRAL_90,
    Estimate,
    estimate_ei,
    fitting_ei,
    from_shift,
    pooled,
    same_time_ei,
    steepness,
)
from pinhole.lessons.kept import from_data, to_data
from pinhole.lessons.line import Line, estimate_line
from pinhole.lessons.model import (
    PRIOR_SD,
    Judged,
    Learned,
    Share,
    learn,
)

__all__ = [
    "CENTRAL_90",
    "PRIOR_SD",
    "Estimate",
    "Judged",
    "Learned",
    "Line",
    "Share",
    "estimate_ei",
    "estimate_line",
    "fitting_ei",
    "from_data",
    "from_shift",
    "learn",
    "pooled",
    "same_time_ei",
    "steepness",
    "to_data",
]
