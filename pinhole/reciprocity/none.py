"""Paper needs no correction: the school of those who print with exposures of tens of seconds
anyway.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from pinhole.ranges import ArrayLike, Numbers, checked, plain
from pinhole.reciprocity.power_law import PowerLaw
from pinhole.reciprocity.school import School


@dataclass(frozen=True)
class NoCorrection:
    """The time stays as metered. Source: common practice with paper; 45 min still worked."""

    name: ClassVar[str] = "none"

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
