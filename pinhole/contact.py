r"""Printing a paper negative by contact: time and distance of a lamp.

    lamp, radius r
   ___________
    \  |    /
     \ | d /          E on the axis ~ 1 / (d^2 + r^2), a disc that shines evenly
      \|  /           E at the corner ~ cos^4 of the angle to it
---------------  paper
"""

from __future__ import annotations

from collections.abc import Sequence
from math import log2

import numpy as np

from pinhole.ranges import Numbers, checked, plain

# Where the lamp is nearer than so many of its widths, the plain inverse square is off by more than
# 1/70 of a stop (geometry: log2(1 + 1 / (4 * 5^2))).
NEAR_WIDTHS = 5.0


def time_at_s(seconds: Numbers, from_mm: float, to_mm: float, lamp_mm: float = 0.0) -> Numbers:
    """The time that gives the same light from another distance [s].

    seconds [s, above 0] at from_mm; from_mm, to_mm: lamp to paper [mm, above 0]; lamp_mm: its width
    [mm, at least 0], 0 for a point; scalars or arrays that broadcast. Raises ValueError outside.
    Source: inverse square; for a broad lamp the light of an even disc on its axis, which falls with
    the square of the distance and of its radius together (textbook photometry).
    """
    seconds = checked("seconds", seconds, above=0)
    from_distance = checked("from_mm", from_mm, above=0)
    to_distance = checked("to_mm", to_mm, above=0)
    radius = checked("lamp_mm", lamp_mm, least=0) / 2
    return plain(seconds * (to_distance**2 + radius**2) / (from_distance**2 + radius**2))


def point_off_stops(from_mm: float, to_mm: float, lamp_mm: float) -> float:
    """By how many stops the plain inverse square would be off: positive, it would give too much.

    from_mm, to_mm [mm, above 0], lamp_mm [mm, at least 0]; scalars or arrays that broadcast.
    Raises ValueError outside. Source: both laws of time_at_s.
    """
    point = time_at_s(1.0, from_mm, to_mm)
    return plain(np.log2(np.asarray(point) / time_at_s(1.0, from_mm, to_mm, lamp_mm)))


def corner_stops(distance_mm: float, width_mm: float, height_mm: float) -> float:
    """Stops of light that a corner of the paper gets less than its middle under the lamp.

    distance_mm, width_mm, height_mm [mm, above 0]; scalars. Raises ValueError outside. Source:
    cos^4, as for a flat back (textbook optics).
    """
    distance = float(checked("distance_mm", distance_mm, above=0))
    width = float(checked("width_mm", width_mm, above=0))
    height = float(checked("height_mm", height_mm, above=0))
    aside2 = (width**2 + height**2) / 4
    return 2 * log2(1 + aside2 / distance**2)


def bands_s(first_s: float, step_stops: float, count: int) -> list[float]:
    """[time of each band in all] of a test strip that is uncovered step by step [s].

    first_s: of the band with least [s, above 0]; step_stops: from one to the next [stops, above 0];
    count [at least 2]. Raises ValueError outside. Source: doublings.
    """
    first = float(checked("first_s", first_s, above=0))
    step = float(checked("step_stops", step_stops, above=0))
    count = int(checked("count", count, least=2))
    return [first * 2 ** (step * number) for number in range(count)]


def from_strip_s(times_s: Sequence[float], best: float) -> float:
    """The time that a read strip says [s]: best, a band from 0, or halfway between two as 1.5.

    times_s: of the bands, growing [s]; best [at least 0, at most the last band]. Raises ValueError
    outside. Source: between bands the middle in stops.
    """
    place = float(checked("best", best, least=0, most=len(times_s) - 1))
    logs = np.log2(checked("times_s", times_s, above=0))
    return float(2 ** np.interp(place, np.arange(len(logs)), logs))
