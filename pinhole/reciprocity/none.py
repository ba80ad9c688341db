"""Paper needs no correction: the school of those who print with exposures of tens of seconds
anyway.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

from pinhole.ranges import ArrayLike, Numbers, checked, plain
from pinhole.reciprocity.power_law import PowerLaw
from pinhole.reciprocity.school import School


@dataclass(frozen=True)
class NoCorrection:
    """The time stays as metered. Source: common practice with paper; 45 min still worked."""

    name: ClassVar[str] = "none"
    choice: ClassVar[str] = "no correction: as printing exposures are long anyway"
    corrects: ClassVar[bool] = False
    wants: ClassVar[str] = ""
    missing: ClassVar[str] = ""

    @property
    def words(self) -> str:
        """It in words."""
        return "no correction"

    @property
    def corners_s(self) -> tuple[float, ...]:
        """None: it is straight."""
        return ()

    @classmethod
    def of_paper(cls, numbers: Mapping[str, Any]) -> NoCorrection:
        """The same for every paper."""
        return cls()

    def adjusted_s(self, metered_s: ArrayLike) -> Numbers:
        """metered_s [s, above 0], any shape, unchanged. Raises ValueError outside."""
        return plain(checked("metered_s", metered_s, above=0))

    def metered_s(self, adjusted_s: ArrayLike) -> Numbers:
        """adjusted_s [s, above 0], any shape, unchanged. Raises ValueError outside."""
        return plain(checked("adjusted_s", adjusted_s, above=0))

    def steeper(self, exponent: float) -> School:
        """The school that makes metered^exponent more of each time beyond a second: a power law.

        exponent: may be below 0, which changes nothing, as no school shortens a time.
        """
        return PowerLaw(max(1.0, 1.0 + exponent))

    def as_data(self) -> dict[str, Any]:
        """Its numbers as plain data, which reciprocity.from_data reads back."""
        return {"name": self.name}
