"""The interface of a school of reciprocity: all that is known of one stands in its module."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Protocol

from pinhole.ranges import ArrayLike, Numbers


class School(Protocol):
    """A school says by how much a long exposure must be longer than metered; never shorter.

    name: under which it is kept; choice: how a form offers it; corrects: whether it makes any time
    longer; wants: the number of a paper that it cannot do without, or ""; missing: what is said
    where that is not there.
    """

    name: ClassVar[str]
    choice: ClassVar[str]
    corrects: ClassVar[bool]
    wants: ClassVar[str]
    missing: ClassVar[str]

    @property
    def words(self) -> str:
        """It in words, with its numbers."""

    @property
    def corners_s(self) -> tuple[float, ...]:
        """Metered times [s] between which it is straight in log-log."""

    @classmethod
    def of_paper(cls, numbers: Mapping[str, Any]) -> School:
        """The school by a paper's numbers: exponent, onset_s and table, pairs of seconds."""

    def adjusted_s(self, metered_s: ArrayLike) -> Numbers:
        """The time to give for a metered one [s, above 0], any shape; inf beyond all numbers."""

    def metered_s(self, adjusted_s: ArrayLike) -> Numbers:
        """The inverse of adjusted_s."""

    def steeper(self, exponent: float) -> School:
        """The school that makes metered^exponent more of each long time."""

    def as_data(self) -> dict[str, Any]:
        """Its numbers as plain data, which reciprocity.from_data reads back."""
