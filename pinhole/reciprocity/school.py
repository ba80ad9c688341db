"""The interface of a school of reciprocity."""

from __future__ import annotations

from typing import Any, ClassVar, Protocol

from pinhole.ranges import ArrayLike, Numbers


class School(Protocol):
    """A school says by how much a long exposure must be longer than metered; never shorter."""

    name: ClassVar[str]

    def adjusted_s(self, metered_s: ArrayLike) -> Numbers:
        """The time to give for a metered one [s, above 0], any shape; inf beyond all numbers."""

    def metered_s(self, adjusted_s: ArrayLike) -> Numbers:
        """The inverse of adjusted_s."""

    def steeper(self, exponent: float) -> School:
        """The school that makes metered^exponent more of each long time."""

    def as_data(self) -> dict[str, Any]:
        """Its numbers as plain data, which reciprocity.from_data reads back."""
