"""Solargraphs: what a can will draw, how to point it, what stands before the sky, and the
weather.
"""

from pinhole.solargraph.tracing import (
    LONGEST_DAYS,
    Lines,
    Survey,
    Track,
    Trails,
    darkening,
    lines,
    over_top,
    spans,
    summed,
    survey,
    track,
    trails,
)

__all__ = [
    "LONGEST_DAYS",
    "Lines",
    "Survey",
    "Track",
    "Trails",
    "darkening",
    "lines",
    "over_top",
    "spans",
    "summed",
    "survey",
    "track",
    "trails",
]
