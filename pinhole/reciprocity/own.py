"""A school as one's own sheets bend it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np

from pinhole.ranges import ArrayLike, Numbers, checked, plain
from pinhole.reciprocity.school import School
from pinhole.reciprocity.table import KNEE_S, Table, rising, straight, turned


@dataclass(frozen=True)
class OwnCurve(Table):
    """Points (metered_s, adjusted_s) as in a Table, from one's own sheets; bent: the words of the
    school that they bend. Nobody chooses it for a paper: it is learned. It alone may make a time
    shorter than metered, where the sheets were too dark by more than their speed explains.

    Raises ValueError as a Table does.
    """

    bent: str = ""

    name: ClassVar[str] = "own"
    choice: ClassVar[str] = "as your own sheets bend it"
    wants: ClassVar[str] = "table"

    @property
    def words(self) -> str:
        """The bent school in words."""
        return f"{self.bent}, bent"

    @classmethod
    def of_paper(cls, numbers: Mapping[str, Any]) -> OwnCurve:
        """The paper's table, unbent."""
        return cls(Table.of_paper(numbers).points, Table.choice)

    @classmethod
    def from_stops(cls, school: School, log2_s: ArrayLike, stops: ArrayLike) -> OwnCurve:
        """The curve that lies so many stops over a school at each of some times, straight between
        them, and none over it where it begins to lengthen.

        log2_s [log2 of metered seconds, increasing], stops, both (n,), n at least 2. Raises
        ValueError outside. Source: the usual reading of makers' tables.
        """
        times, heights = np.atleast_1d(log2_s), np.atleast_1d(checked("stops", stops))
        if times.shape != heights.shape or len(times) < 2 or not (np.diff(times) > 0).all():
            raise ValueError("log2_s must increase, with one of stops to each")
        # A school that names no corners is taken to be straight between those times.
        corners_s = getattr(school, "corners_s", ())
        at_knee = np.interp(np.log2(KNEE_S), times, heights)
        # Under its first corner it goes on as the school does.
        lowest_s = min((KNEE_S, *corners_s)) / 10
        grid = np.unique([*times, *np.log2(corners_s), np.log2(lowest_s), 0.0])
        lifts = np.where(grid > np.log2(KNEE_S), np.interp(grid, times, heights) - at_knee, 0.0)
        adjusted = school.adjusted_s(2.0**grid) * 2.0**lifts
        return cls(rising(2.0**grid, np.asarray(adjusted)), school.words)

    def adjusted_s(self, metered_s: ArrayLike) -> Numbers:
        """metered_s [s, above 0], any shape -> [s], same shape, inf beyond all numbers. Raises
        ValueError outside.
        """
        return plain(straight(checked("metered_s", metered_s, above=0), self.points))

    def metered_s(self, adjusted_s: ArrayLike) -> Numbers:
        """The inverse of adjusted_s. Raises ValueError outside."""
        adjusted = checked("adjusted_s", adjusted_s, above=0)
        return plain(straight(adjusted, turned(self.points)))

    def steeper(self, exponent: float) -> School:
        """The curve that makes metered^exponent more of each time beyond a second."""
        metered_s = np.array(self.corners_s)
        adjusted = self.adjusted_s(metered_s) * np.maximum(metered_s / KNEE_S, 1.0) ** exponent
        return replace(self, points=rising(metered_s, np.asarray(adjusted)))

    def as_data(self) -> dict[str, Any]:
        """Its numbers as plain data, which reciprocity.from_data reads back."""
        return {**super().as_data(), "bent": self.bent}
