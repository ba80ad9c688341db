"""Solargraphs: what a can will draw, how to point it, what stands before the sky, and the
weather.
"""

from pinhole.solargraph.dull import Dull, DullSpan, dull_days
from pinhole.solargraph.fitting import LEAST_MARKS, Fit, fit_pointing
from pinhole.solargraph.printing import Darkening, Lines, darkening, lines, mirrored_share
from pinhole.solargraph.tracing import (
    Survey,
    Trails,
    over_top,
    spans,
    summed,
    summed_together,
    survey,
    trails,
)
from pinhole.solargraph.tracks import DAY_MIN, LONGEST_DAYS, Track, track

__all__ = [
    "DAY_MIN",
    "LEAST_MARKS",
    "LONGEST_DAYS",
    "Darkening",
    "Dull",
    "DullSpan",
    "Fit",
    "Lines",
    "Survey",
    "Track",
    "Trails",
    "darkening",
    "dull_days",
    "fit_pointing",
    "lines",
    "mirrored_share",
    "over_top",
    "spans",
    "summed",
    "summed_together",
    "survey",
    "track",
    "trails",
]
