"""Prospects of an exposure before it gets dark: if it gets full, and until when to begin one."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf, log2
from typing import TYPE_CHECKING

import numpy as np

from pinhole.ranges import Array

if TYPE_CHECKING:
    from pinhole.light.courses import Course


# The sun this far below the horizon ends civil twilight: work outdoors needs a lamp (Astronomical
# Almanac, from memory).
DARK_DEG = -6.0


@dataclass(frozen=True)
class Prospect:
    """Prospect of an exposure before it is dark. full: whether it gets enough; closes_s: when it
    has enough, else when it is dark; share: of the whole that it has by then, at most 1; latest_s:
    the last moment of opening that still fills it, -inf where none does. Moments lie on the clock
    of the course.
    """

    full: bool
    closes_s: float
    share: float
    latest_s: float

    @property
    def short_stops(self) -> float:
        """Stops that it stays short; 0 when full, inf without any light."""
        return 0.0 if self.full else -log2(self.share) if self.share > 0 else inf


def prospect(course: Course, opens_s: float, dark_s: float) -> Prospect:
    """The Prospect of an exposure opened at opens_s in the light of a light.Course, if it is dark
    from dark_s on.

    opens_s, dark_s [s, on the clock of the course; dark_s may be inf]. Source: additivity of
    exposure, as light.course; that nothing counts after civil twilight is common practice.
    """
    due = course.reach_s(opens_s, 1.0)
    full = bool(due <= dark_s)
    latest = course.leave_s(dark_s, 1.0) if np.isfinite(dark_s) else inf
    share = 1.0 if full else course.share(opens_s, dark_s)
    return Prospect(
        full, float(due if full else max(opens_s, dark_s)), min(1.0, share), float(latest)
    )


def dark_from_s(times_s: Array, altitude_deg: Array) -> float:
    """The first moment after times_s[0] at which the sun has sunk below DARK_DEG; inf if it does
    not, nan if it is dark at times_s[0] already.

    times_s [s, strictly increasing], altitude_deg, both shape (n,). Source: straight between
    points.
    """
    altitude = np.asarray(altitude_deg, float)
    if altitude[0] < DARK_DEG:
        return float("nan")
    below = np.flatnonzero(altitude < DARK_DEG)
    if not below.size:
        return inf
    n = int(below[0])
    a, b = altitude[n - 1], altitude[n]
    return float(times_s[n - 1] + (a - DARK_DEG) / (a - b) * (times_s[n] - times_s[n - 1]))
