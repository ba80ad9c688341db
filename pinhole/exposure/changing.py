"""Light that changes while the hole is open: as read at opening, as read again, and as forecast
after that.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from pinhole import light
from pinhole.light.courses import log_areas
from pinhole.ranges import Array, ArrayLike
from pinhole.reciprocity import NoCorrection

if TYPE_CHECKING:
    from pinhole.exposure.calculation import Calculation
    from pinhole.light.courses import Course
    from pinhole.reciprocity.school import School


def known_light(
    opened_s: float,
    metered_s: float,
    rereads: Sequence[tuple[float, float]],
    forecast: Sequence[tuple[int, float]],
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """(times_s, metered_s): when the light is known, and what it meters as then, two tuples of one
    length.

    opened_s [s, on any clock], metered_s [s, above 0]: the reading at opening; rereads: [(moment
    [s, same clock], metered seconds)], those before the opening left out; forecast: [(seconds after
    opening, metered seconds)], strictly increasing, scaled so that it goes on from the last
    reading. Source: a reading is truer than a forecast.
    """
    seconds_at = {opened_s: metered_s} | {
        moment_s: seconds for moment_s, seconds in rereads if moment_s > opened_s
    }
    last_at = max(seconds_at)
    if forecast:
        after, expected = zip(*forecast, strict=True)
        times = [opened_s + seconds for seconds in after]
        scale = seconds_at[last_at] * float(
            light.course(times, expected, NoCorrection()).rate(last_at)
        )
        seconds_at |= {
            moment_s: scale * s
            for moment_s, s in zip(times, expected, strict=True)
            if moment_s > last_at + 1
        }
    times_s, seconds = zip(*sorted(seconds_at.items()), strict=True)
    return times_s, seconds


def filling_course(
    calculation: Calculation, planned_s: float, times_s: ArrayLike, metered_s: ArrayLike
) -> Course:
    """The light.Course by which a sheet fills, in light that meters as metered_s [s] at times_s
    [s], shape (n,).

    planned_s [s, above 0]: what was planned is a countable time; it, and not the exact one of the
    Calculation, is what fills the sheet in light that stands still. Raises ValueError as
    light.course does. Source: as light.course.
    """
    filling = light.course(times_s, metered_s, calculation.school)
    return filling.scaled(calculation.exact_s / planned_s)


def response(school: School, log2_metered: Array) -> tuple[Array, Array]:
    """(asks, gives) of light that changes, to be looked up: log2 of the adjusted seconds at each
    point, and the integral of d(log2 metered) / adjusted from each point up to the last.

    school: one of pinhole.reciprocity; log2_metered: of metered seconds, increasing, shape (n,);
    both results shape (n,). While the logarithm of the metered time goes straight from one reading
    to the next, the share given is the time that took, times the difference of gives, over that of
    log2. Source: as light.course; between two points a school is taken as straight in both
    logarithms.
    """
    logs = -np.log(np.atleast_1d(school.adjusted_s(2.0 ** np.asarray(log2_metered))))
    areas = log_areas(np.diff(log2_metered), logs)
    return -logs / np.log(2), np.append(np.cumsum(areas[::-1])[::-1], 0.0)
