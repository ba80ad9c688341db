"""Lessons of the log: the EI, the reciprocity and the shares of camera, light and process that a
person's own sheets amount to.
"""

from pinhole.lessons.apart import Apart, pulled_apart
from pinhole.lessons.bends import BENDS_AT
from pinhole.lessons.ei import (
    CENTRAL_90,
    Estimate,
    estimate_ei,
    fitting_ei,
    from_shift,
    pooled,
    steepness,
)
from pinhole.lessons.findings import Held, findings, least_of
from pinhole.lessons.judged import PRIOR_SD, Judged
from pinhole.lessons.jumps import Jump, late_boxes, late_jump
from pinhole.lessons.kept import from_data, to_data
from pinhole.lessons.learning import designed, learn, straightened
from pinhole.lessons.line import Line, estimate_line
from pinhole.lessons.model import Learned, Share

__all__ = [
    "BENDS_AT",
    "CENTRAL_90",
    "PRIOR_SD",
    "Apart",
    "Estimate",
    "Held",
    "Judged",
    "Jump",
    "Learned",
    "Line",
    "Share",
    "designed",
    "estimate_ei",
    "estimate_line",
    "findings",
    "fitting_ei",
    "from_data",
    "from_shift",
    "late_boxes",
    "late_jump",
    "learn",
    "least_of",
    "pooled",
    "pulled_apart",
    "steepness",
    "straightened",
    "to_data",
]
