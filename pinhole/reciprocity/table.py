"""A maker's table of metered and adjusted times."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Any, ClassVar

import numpy as np

from pinhole.ranges import Array, ArrayLike, Numbers, checked, plain
from pinhole.reciprocity.school import School

# A table that climbs more steeply from one line to the next is a slip of the pen (common practice);
# what a person types is held against it.
STEEPEST_RISE = 10.0
# From where an own exponent makes a table longer [s], and the least slope that it leaves.
KNEE_S, LEAST_RISE = 1.0, 0.01


@dataclass(frozen=True)
class Table:
    """Points (metered_s, adjusted_s), joined by straight lines in log-log, the end slopes
    continued.

    points: at least one pair [s, above 0] in any order; both columns strictly increasing; one point
    means slope 1. The result is never less than metered. Raises ValueError otherwise.
    Source: the usual reading of makers' tables, which are drawn on log-log paper.
    """

    points: tuple[tuple[float, float], ...]

    name: ClassVar[str] = "table"
    choice: ClassVar[str] = "maker's table"
    corrects: ClassVar[bool] = True
    wants: ClassVar[str] = "table"
    missing: ClassVar[str] = "Type at least one line, or choose another school."

    @property
    def words(self) -> str:
        """It in words."""
        return "maker's table"

    @classmethod
    def of_paper(cls, numbers: Mapping[str, Any]) -> Table:
        """By the paper's table."""
        return cls(tuple((metered, adjusted) for metered, adjusted in numbers["table"]))

    def __post_init__(self) -> None:
        points = sorted((float(metered), float(adjusted)) for metered, adjusted in self.points)
        if not points:
            raise ValueError("points must hold at least one pair of metered and adjusted seconds")
        checked("each time in points", points, above=0)
        if np.isnan(points).any():
            raise ValueError("each time in points must be a number above 0")
        if any(a[0] >= b[0] or a[1] >= b[1] for a, b in pairwise(points)):
            raise ValueError(
                "points must grow in both columns: a longer metered time needs a longer "
                "adjusted one"
            )
        object.__setattr__(self, "points", tuple(points))

    @property
    def corners_s(self) -> tuple[float, ...]:
        """Metered times of its lines [s]."""
        return tuple(metered for metered, _ in self.points)

    @property
    def steepest(self) -> float:
        """The largest slope between neighbours in log-log; 1 for a single point."""
        logs = np.log(np.array(self.points))
        return float((np.diff(logs[:, 1]) / np.diff(logs[:, 0])).max(initial=1.0))

    def adjusted_s(self, metered_s: ArrayLike) -> Numbers:
        """metered_s [s, above 0], any shape -> [s], same shape, inf beyond all numbers. Raises
        ValueError outside.
        """
        metered = checked("metered_s", metered_s, above=0)
        return plain(np.maximum(metered, straight(metered, self.points)))

    def metered_s(self, adjusted_s: ArrayLike) -> Numbers:
        """The inverse of adjusted_s. Raises ValueError outside."""
        adjusted = checked("adjusted_s", adjusted_s, above=0)
        # The inverse of the larger of two rising curves is the smaller of their inverses.
        return plain(np.minimum(adjusted, straight(adjusted, turned(self.points))))

    def steeper(self, exponent: float) -> School:
        """The table that makes metered^exponent more of each time beyond a second.

        exponent: may be below 0; no line is then flatter than LEAST_RISE or shorter than metered.
        """
        longest_s = max(*self.corners_s, KNEE_S)
        grid_s = np.unique([*self.corners_s, KNEE_S / 10, KNEE_S, 10 * longest_s])
        adjusted = self.adjusted_s(grid_s) * np.maximum(grid_s / KNEE_S, 1.0) ** exponent
        return Table(rising(grid_s, adjusted))

    def as_data(self) -> dict[str, Any]:
        """Its numbers as plain data, which reciprocity.from_data reads back."""
        return {"name": self.name, "points": [list(point) for point in self.points]}


def rising(metered_s: Array, adjusted_s: Array) -> tuple[tuple[float, float], ...]:
    """Points of a curve that never falls, whatever is asked of it. Both [s], shape (n,)."""
    lifted = adjusted_s.copy()
    for n in range(1, len(lifted)):
        lowest_s = lifted[n - 1] * (metered_s[n] / metered_s[n - 1]) ** LEAST_RISE
        lifted[n] = max(lifted[n], lowest_s)
    return tuple(zip(metered_s.tolist(), lifted.tolist(), strict=True))


def turned(points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """The points of the inverse."""
    return tuple((adjusted_s, metered_s) for metered_s, adjusted_s in points)


def straight(seconds: Array, points: tuple[tuple[float, float], ...]) -> Numbers:
    """Times straight in log-log through the points, the first and last slope continued. seconds
    [s, above 0], any shape.
    """
    xs, ys, slopes = _lines(points)
    log_s = np.log(seconds)
    line = xs[1:-1].searchsorted(log_s)
    with np.errstate(over="ignore"):
        return np.exp(ys[line] + slopes[line] * (log_s - xs[line]))


@lru_cache(maxsize=256)
def _lines(points: tuple[tuple[float, float], ...]) -> tuple[Array, Array, Array]:
    """(log metered, log adjusted) of the points, (n,), and the slopes between them, (n - 1,); one
    point has the slope 1.
    """
    xs, ys = np.log(np.array(points)).T
    return xs, ys, np.diff(ys) / np.diff(xs) if len(xs) > 1 else np.ones(1)
