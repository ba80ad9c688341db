"""Judged sheets, as the model of a log reads them, and how far each kind of share may lie out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from pinhole.ranges import Array, checked

# How far each kind of share may lie from nothing before any sheet is judged: stops, and the
# exponent as such (common practice).
PRIOR_SD = {
    # Both together a stop, as ei.estimate_ei has it.
    "paper": 0.75**0.5,
    "pair": 0.5,
    "exponent": 0.18,
    # By how much the exponent changes at each of bends.BENDS_AT.
    "bend": 0.1,
    # Of a hole measured to a tenth, and of bellows and lids that nobody measures.
    "camera": 0.5,
    "light": 0.4,
    "process": 0.3,
    # Makers call boxes of one paper alike to a third of a stop, and then they age.
    "box": 0.4,
    "filter": 0.35,
    # Stops a year: paper ages, and hands change.
    "drift": 0.3,
}
STOP_KINDS = ("paper", "pair", "camera", "light", "process", "box", "filter")


@dataclass(frozen=True)
class Judged:
    """Judged sheets, all of shape (n,). metered_s: at the box EI, before reciprocity; school_s:
    what the paper's school makes of that; needed_s: what would have been right [s]; paper, pair,
    camera, light, process: which each was, hashable, None where it is no share of its own;
    verdict_stops [stops], None or shape (n,): what each was judged to need more, one of the looks,
    already in needed_s; nan where it was measured and not looked at; box, filter: as the others,
    None where nobody noted any; age_years, None or shape (n,): how long ago each was exposed, at
    least 0: plans are for now.
    """

    metered_s: Array
    school_s: Array
    needed_s: Array
    paper: tuple[Any, ...]
    pair: tuple[Any, ...]
    camera: tuple[Any, ...]
    light: tuple[Any, ...]
    process: tuple[Any, ...]
    verdict_stops: Array | None = None
    box: tuple[Any, ...] | None = None
    filter: tuple[Any, ...] | None = None
    age_years: Array | None = None

    def __post_init__(self) -> None:
        for name in ("metered_s", "school_s", "needed_s"):
            values = np.atleast_1d(checked(name, getattr(self, name), above=0))
            object.__setattr__(self, name, values)
        for name in ("box", "filter"):
            if getattr(self, name) is None:
                object.__setattr__(self, name, (None,) * len(self.metered_s))
        names = (*STOP_KINDS, "metered_s", "school_s", "needed_s", "ages")
        if len({len(getattr(self, name)) for name in names}) != 1:
            raise ValueError("all of Judged must have one length")
        if self.verdict_stops is not None:
            verdicts = np.atleast_1d(np.asarray(self.verdict_stops, float))
            if verdicts.shape != self.metered_s.shape or np.isinf(verdicts).any():
                raise ValueError("verdict_stops must be finite or nan, one a sheet")
            object.__setattr__(self, "verdict_stops", verdicts)

    @property
    def ages(self) -> Array:
        """Years that each lies back, (n,): none where nobody says. Raises ValueError below 0."""
        if self.age_years is None:
            return np.zeros(len(self.metered_s))
        return np.atleast_1d(checked("age_years", self.age_years, least=0))

    def __len__(self) -> int:
        return len(self.metered_s)
