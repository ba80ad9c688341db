"""One model of a whole log: why sheets needed more or less time than their paper's box and school
say.

log2(needed / school(metered)) = paper + developer in it + exponent log2(metered)
                                 + camera + light + process + judgement

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

from pinhole.lessons.fitting import Design, fit, looked
from pinhole.ranges import Array, checked

# How far each kind of share may lie from nothing before any sheet is judged: stops, and the
# exponent
# as such (common practice; the camera's from a hole measured to a tenth).
PRIOR_SD = {
    # Both together a stop, as ei.estimate_ei has it.
    "paper": 0.75**0.5,
    "pair": 0.5,
    "exponent": 0.18,
    "camera": 0.35,
    "light": 0.4,
    "process": 0.3,
}
STOP_KINDS = ("paper", "pair", "camera", "light", "process")
# A sheet that counts less than this is named; of fewer sheets nobody can say which is odd.
NAMED_WEIGHT, LEAST_SHEETS = 0.45, 3
# Metered seconds about which the exponent of a paper without sheets turns (common practice).
MIDDLE_TIME_S = 120.0


@dataclass(frozen=True)
class Judged:
    """Judged sheets, all of shape (n,). metered_s: at the box EI, before reciprocity; school_s:
    what the paper's school makes of that; needed_s: what would have been right [s]; paper, pair,
    camera, light, process: which each was, hashable, None where it is no share of its own;
    verdict_stops [stops], None or shape (n,): what each was judged to need more, one of the looks,
    already in needed_s; nan where it was measured and not looked at.
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

    def __post_init__(self) -> None:
        for name in ("metered_s", "school_s", "needed_s"):
            values = np.atleast_1d(checked(name, getattr(self, name), above=0))
            object.__setattr__(self, name, values)
        sizes = {
            len(getattr(self, name)) for name in (*STOP_KINDS, "metered_s", "school_s", "needed_s")
        }
        if len(sizes) != 1:
            raise ValueError("all of Judged must have one length")
        if self.verdict_stops is not None:
            verdicts = np.atleast_1d(np.asarray(self.verdict_stops, float))
            if verdicts.shape != self.metered_s.shape or np.isinf(verdicts).any():
                raise ValueError("verdict_stops must be finite or nan, one a sheet")
            object.__setattr__(self, "verdict_stops", verdicts)

    def __len__(self) -> int:
        return len(self.metered_s)


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

    def further(self, paper: Any, metered_s: float) -> float:
        """Doublings by which metered_s [s, above 0] lies beyond the middle time of a paper's
        sheets, or beyond two minutes where it has none: so often its exponent counts.
        """
        none = 0.0 if ("exponent", paper) in self.names else math.log2(MIDDLE_TIME_S)
        return math.log2(metered_s) - self.pivots.get(paper, none)

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
    ) -> tuple[float, float]:
        """(stops more, sd) that such an exposure needs over what its paper's school gives at
        metered_s, by all shares together with their joint doubt; without the noise of a verdict
        or of a meter.

        paper, pair, camera, light, process: keys as in Judged, None where it is no share of its
        own; a key that no sheet speaks of brings its prior's doubt; metered_s [s, above 0]: at the
        box EI, before reciprocity; refused: {(kind, key)} left out of the mean, their prior's
        doubt kept. Raises ValueError outside.
        Source: a linear form of a normal vector (any textbook of Bayesian statistics).
        """
        seconds = float(checked("metered_s", metered_s, above=0))
        keys = {"paper": paper, "pair": pair, "camera": camera, "light": light, "process": process}
        names = {(kind, key): 1.0 for kind, key in keys.items() if key is not None}
        names |= {("exponent", paper): self.further(paper, seconds)} if paper is not None else {}
        left = set(refused) & set(names)
        mean, sd = self.stops({name: names[name] for name in names if name not in left})
        return mean, float(np.hypot(sd, np.sqrt(sum(_prior_variance(n, names[n]) for n in left))))

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


def learn(
    judged: Judged, *, judgement_sd: float = 0.5, judgement_bias: float = 0.0, robust: bool = True
) -> Learned:
    """The Learned of some Judged sheets.

    judgement_sd [stops, above 0]: of one verdict, as far as it is known before: how noisy verdicts
    are comes from the log as it grows; judgement_bias [stops]: what the eye asks for too much;
    robust: whether odd sheets are weighted down, noise is learned and shares may lie far out, from
    three sheets on. No sheets give an empty Learned, whose shares are the priors. Raises ValueError
    outside.
    Source: see fitting.fit; the exponent stands beside the shift as in line.estimate_line.
    """
    sd = float(checked("judgement_sd", judgement_sd, above=0))
    pivots = _pivots(judged)
    names, design = _columns(judged, pivots)
    over_stops = np.log2(judged.needed_s / judged.school_s) - float(judgement_bias)
    priors = np.array([PRIOR_SD[kind] ** 2.0 for kind, _ in names])
    many = robust and len(judged) >= LEAST_SHEETS
    ends = looked(over_stops, judged.verdict_stops if many else None)
    fitted = fit(design, ends, priors, sd, robust=many)
    counts = np.bincount(design.columns.ravel(), minlength=len(names) + 1)[: len(names)]
    weights, residuals = fitted.weights, fitted.residuals
    fits = fitted.mean, fitted.spread, counts, weights, residuals, fitted.sd
    return Learned(names, *fits, pivots)


def _pivots(judged: Judged) -> dict[Any, float]:
    """{paper: log2 of its middle metered time}: what sheets at much the same time say is speed, and
    nothing of long times.
    """
    logs = np.log2(judged.metered_s)
    papers = np.array([hash(paper) for paper in judged.paper])
    return {
        paper: float(np.median(logs[papers == hash(paper)]))
        for paper in dict.fromkeys(judged.paper)
        if paper is not None
    }


def _columns(judged: Judged, pivots: dict[Any, float]) -> tuple[dict[tuple[str, Any], int], Design]:
    """({(kind, key): column}, the Design of the sheets)."""
    places: dict[tuple[str, Any], int] = {}
    every = []
    for kind in (*STOP_KINDS, "exponent"):
        keys = getattr(judged, "paper" if kind == "exponent" else kind)
        every.append(
            [-1 if key is None else places.setdefault((kind, key), len(places)) for key in keys]
        )
    columns = np.array(every, int).T.reshape(len(judged), len(STOP_KINDS) + 1)
    values = np.ones(columns.shape)
    pivot = np.array([pivots.get(paper, 0.0) for paper in judged.paper])
    values[:, -1] = np.log2(judged.metered_s) - pivot
    values[columns < 0] = 0.0
    columns[columns < 0] = len(places)
    return places, Design(columns, values, len(places))
