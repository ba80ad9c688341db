"""A power law above an onset."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from pinhole import durations
from pinhole.ranges import Array, ArrayLike, Numbers, checked, plain
from pinhole.reciprocity.school import School

# Schwarzschild's p of 0.86 (Astrophysical Journal 11, 1900, from memory), entered as 1 / p.
SCHWARZSCHILD = 1 / 0.86
# An onset of less or more is met by no time.
LOG2_ONSETS = (-60.0, 60.0)
# No paper or film is steeper (common practice); what a person types is held against it.
STEEPEST_EXPONENT = 3.0


@dataclass(frozen=True)
class PowerLaw:
    """onset * (t / onset)^exponent above the onset, t below it.

    exponent [at least 1], onset_s [s, above 0]. Raises ValueError outside.
    Source: K. Schwarzschild, Astrophysical Journal 11 (1900), whose p is entered as 1 / p.
    """

    exponent: float
    onset_s: float = 1

    name: ClassVar[str] = "power"
    choice: ClassVar[str] = "power law above an onset"
    corrects: ClassVar[bool] = True
    wants: ClassVar[str] = ""
    missing: ClassVar[str] = ""

    @property
    def words(self) -> str:
        """It in words, with its exponent and, where that is not a second, its onset."""
        onset = f" above {durations.say(self.onset_s)}" if self.onset_s != 1 else ""
        return f"power law {self.exponent:.3g}{onset}"

    @property
    def corners_s(self) -> tuple[float, ...]:
        """Its onset [s]."""
        return (self.onset_s,)

    @classmethod
    def of_paper(cls, numbers: Mapping[str, Any]) -> PowerLaw:
        """By the paper's exponent and onset_s."""
        return cls(numbers["exponent"], numbers["onset_s"])

    def __post_init__(self) -> None:
        checked("exponent", self.exponent, least=1)
        checked("onset_s", self.onset_s, above=0)

    def adjusted_s(self, metered_s: ArrayLike) -> Numbers:
        """metered_s [s, above 0], any shape -> [s], same shape, inf beyond all numbers. Raises
        ValueError outside.
        """
        return self._raised(checked("metered_s", metered_s, above=0), self.exponent)

    def metered_s(self, adjusted_s: ArrayLike) -> Numbers:
        """The inverse of adjusted_s. Raises ValueError outside."""
        return self._raised(checked("adjusted_s", adjusted_s, above=0), 1 / self.exponent)

    def _raised(self, seconds: Array, exponent: float) -> Numbers:
        ratio = np.maximum(seconds / self.onset_s, 1)
        with np.errstate(over="ignore"):
            return plain(np.where(seconds > self.onset_s, self.onset_s * ratio**exponent, seconds))

    def steeper(self, exponent: float) -> School:
        """The power law that makes metered^exponent more of each long time, metered in seconds.

        exponent: may be below 0; one that comes to less than 1 is 1, as no school shortens a time.
        Its onset is where it then leaves the metered time.
        """
        steep = self.exponent + exponent
        if steep <= 1:
            return PowerLaw(1.0, self.onset_s)
        # onset^(1 - steep) t^steep is onset_s^(1 - exponent) t^(exponent + more).
        log2_onset = np.log2(self.onset_s) * (self.exponent - 1) / (steep - 1)
        return PowerLaw(steep, float(2.0 ** np.clip(log2_onset, *LOG2_ONSETS)))

    def as_data(self) -> dict[str, Any]:
        """Its numbers as plain data, which reciprocity.from_data reads back."""
        return {"name": self.name, "exponent": self.exponent, "onset_s": self.onset_s}
