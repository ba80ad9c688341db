"""One model of a whole log: why sheets needed more or less time than their paper's box and school
say.

log2(needed / school(metered)) = paper + developer in it + its box + exponent log2(metered)
                                 + bends + camera + light + process + filter + judgement

Each share has a prior about nothing, so that no sheets leave everything as the schools have it, and
what one sheet alone says is divided among what it could be. A sheet that agrees with no others is
weighted down.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from pinhole.lessons.bends import BENDS_AT, beyond, doublings
from pinhole.lessons.judged import PRIOR_SD
from pinhole.ranges import Array, ArrayLike, checked

# A sheet that counts less than this is named.
NAMED_WEIGHT = 0.45
# No paper is a school and one exponent for ever: so much is left to any plan [stops] (measured on
# papers that bend, see docs/learning.md).
LEFT_TO_PAPERS_SD = 0.08
# Metered seconds about which the exponent of a paper without sheets turns (common practice).
MIDDLE_TIME_S = 120.0


@dataclass(frozen=True)
class Share:
    """Share that one of them asks for: kind of PRIOR_SD, key; mean, sd: stops more, or the exponent
    over the school's; sheets: how many speak of it.
    """

    kind: str
    key: object
    mean: float
    sd: float
    sheets: int

    @property
    def sure(self) -> float:
        """Distance from nothing, in its own sd."""
        return abs(self.mean) / self.sd


@dataclass(frozen=True)
class Learned:
    """names: {(kind, key): column}; mean, spread: of all shares; sheets: how many speak of each;
    weights, residuals [stops]: of each sheet; judgement_sd [stops]: how noisy its verdicts are;
    pivots: {paper: log2 of the middle of its metered times}, about which its exponent turns, 0
    where none is named.
    """

    names: dict[tuple[str, Any], int]
    mean: Array
    spread: Array
    sheets: Array
    weights: Array
    residuals: Array
    judgement_sd: float = 0.5
    pivots: dict[Any, float] = field(default_factory=dict)

    def pivot(self, paper: Any) -> float:
        """log2 of the middle time of a paper's sheets, or of two minutes where it has none."""
        none = 0.0 if ("exponent", paper) in self.names else math.log2(MIDDLE_TIME_S)
        return self.pivots.get(paper, none)

    def further(self, paper: Any, metered_s: float) -> float:
        """Doublings by which metered_s [s, above 0] lies beyond the pivot of a paper: so often its
        exponent counts.
        """
        return float(doublings(metered_s)) - self.pivot(paper)

    def share(self, kind: str, key: int | tuple[int | str, int | str] | str) -> Share:
        """The Share of that name; its prior where no sheet speaks of it."""
        column = self.names.get((kind, key))
        if column is None:
            return Share(kind, key, 0.0, PRIOR_SD[kind], 0)
        sd = float(np.sqrt(self.spread[column, column]))
        return Share(kind, key, float(self.mean[column]), sd, int(self.sheets[column]))

    @property
    def shares(self) -> list[Share]:
        """[Share] of all."""
        return [self.share(*name) for name in self.names]

    @property
    def odd(self) -> Array:
        """True for sheets that agree with no others, (n,)."""
        return self.weights < NAMED_WEIGHT

    def stops(
        self, names: dict[tuple[str, int | tuple[int | str, int | str] | str], float]
    ) -> tuple[float, float]:
        """(mean, sd) of how many stops more some shares ask for together.

        names: {(kind, key): how often it counts}, 1 for stops and log2 of the metered time for an
        exponent. What no sheet speaks of brings its prior's doubt.
        """
        row, unknown = self._row(names)
        doubt = max(0.0, float(row @ self.spread @ row))
        return float(row @ self.mean), float(np.sqrt(doubt + unknown))

    def exposure(self, keys: Mapping[str, Any], metered_s: float) -> dict[tuple[str, Any], float]:
        """{(kind, key): how often it counts} of an exposure at metered_s [s, above 0]; keys: {kind:
        key}, None where it is no share of its own.
        """
        names = {(kind, key): 1.0 for kind, key in keys.items() if key is not None}
        paper = keys.get("paper")
        if paper is not None:
            names |= self.long_times(paper, metered_s)
        return names

    def long_times(self, paper: Any, metered_s: float) -> dict[tuple[str, Any], float]:
        """{(kind, key): how often it counts} of what its times ask of a paper at metered_s [s,
        above 0].
        """
        times = beyond(doublings(metered_s), self.pivot(paper))[:, 0].tolist()
        bends = zip(BENDS_AT, times, strict=True)
        names = {("bend", (paper, corner)): count for corner, count in bends if count}
        return {("exponent", paper): self.further(paper, metered_s)} | names

    def bent(self, paper: Any, log2_s: ArrayLike) -> Array:
        """Stops that a paper's bends ask for beside its exponent, (n,). log2_s: log2 of metered
        seconds, (n,).
        """
        means = [self.share("bend", (paper, corner)).mean for corner in BENDS_AT]
        return np.asarray(means @ beyond(log2_s, self.pivot(paper)))

    def _row(self, names: Mapping[tuple[str, Any], float]) -> tuple[Array, float]:
        """(how often each share counts, the prior's variance of those that no sheet speaks of)."""
        row, unknown = np.zeros(len(self.mean)), 0.0
        for name, times in names.items():
            if name in self.names:
                row[self.names[name]] = times
            else:
                unknown += _prior_variance(name, times)
        return row, unknown

    def plan(
        self,
        *,
        paper: Any,
        pair: Any,
        camera: Any,
        light: Any,
        process: Any,
        metered_s: float,
        refused: Iterable[tuple[str, Any]] = (),
        box: Any = None,
        filter: Any = None,
    ) -> tuple[float, float]:
        """(stops more, sd) that such an exposure needs over what its paper's school gives at
        metered_s, by all shares together with their joint doubt; without the noise of a verdict
        or of a meter.

        paper, pair, camera, light, process, box, filter: keys as in Judged, None where it is no
        share of its own; a key that no sheet speaks of brings its prior's doubt; metered_s [s,
        above 0]: at the box EI, before reciprocity; refused: {(kind, key)} left out of the mean,
        their prior's doubt kept. Raises ValueError outside.
        Source: a linear form of a normal vector (any textbook of Bayesian statistics).
        """
        seconds = float(checked("metered_s", metered_s, above=0))
        keys = {"paper": paper, "pair": pair, "camera": camera, "light": light, "process": process}
        names = self.exposure(keys | {"box": box, "filter": filter}, seconds)
        left = set(refused) & set(names)
        mean, sd = self.stops({name: names[name] for name in names if name not in left})
        out = sum(_prior_variance(name, names[name]) for name in left)
        return mean, float(np.sqrt(sd**2 + out + LEFT_TO_PAPERS_SD**2))

    def narrowed(self, names: Mapping[tuple[str, Any], float], sd_stops: float) -> Learned:
        """The Learned as sure as it would be after one more sheet that these shares make, names:
        {(kind, key): how often it counts}, judged to sd_stops [above 0]; its means as they are,
        and without shares that no sheet speaks of yet. Raises ValueError outside.
        Source: the variance that a normal observation takes away (any textbook of Bayesian
        statistics).
        """
        sd = float(checked("sd_stops", sd_stops, above=0))
        row, unknown = self._row(names)
        pull = self.spread @ row
        taken = np.outer(pull, pull) / (row @ pull + unknown + sd**2)
        return replace(self, spread=self.spread - taken)

    def held(self, values: Mapping[tuple[str, Any], float]) -> Learned:
        """The Learned in which the shares of those names are held at those values, and the others
        have taken over what they can of the rest. Source: the conditional normal.
        """
        known = {self.names[name]: value for name, value in values.items() if name in self.names}
        if not known:
            return self
        columns, fixed = list(known), np.array(list(known.values()))
        gain = self.spread[:, columns] @ np.linalg.inv(self.spread[np.ix_(columns, columns)])
        mean = self.mean + gain @ (fixed - self.mean[columns])
        spread = self.spread - gain @ self.spread[columns]
        # What is held is held, also against the last digit.
        mean[columns], spread[columns], spread[:, columns] = fixed, 0.0, 0.0
        return replace(self, mean=mean, spread=spread)


def _prior_variance(name: tuple[str, Any], times: float) -> float:
    return (times * PRIOR_SD[name[0]]) ** 2
