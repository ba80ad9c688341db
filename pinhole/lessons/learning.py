"""The fit of a log of judged sheets."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from pinhole.lessons.bends import (
    BENDS_AT,
    LEAST_BEND_STOPS,
    beyond,
    doublings,
    strongest,
)
from pinhole.lessons.fitting import Design, fit, looked
from pinhole.lessons.judged import PRIOR_SD, STOP_KINDS, Judged
from pinhole.lessons.model import Learned
from pinhole.ranges import checked

# Of fewer sheets nobody can say which is odd.
LEAST_SHEETS = 3


def learn(
    judged: Judged,
    *,
    judgement_sd: float = 0.5,
    judgement_bias: ArrayLike = 0.0,
    robust: bool = True,
) -> Learned:
    """The Learned of some Judged sheets.

    judgement_sd [stops, above 0]: of one verdict, as far as it is known before: how noisy verdicts
    are comes from the log as it grows; judgement_bias [stops]: what the eye asks for too much,
    of all or of each;
    robust: whether odd sheets are weighted down, noise is learned and shares may lie far out, from
    three sheets on. No sheets give an empty Learned, whose shares are the priors. Raises ValueError
    outside.
    Source: see fitting.fit; the exponent stands beside the shift as in line.estimate_line.
    """
    sd = float(checked("judgement_sd", judgement_sd, above=0))
    pivots = _pivots(judged)
    names, design = _columns(judged, pivots)
    over_stops = np.log2(judged.needed_s / judged.school_s) - np.asarray(judgement_bias, float)
    priors = np.array([PRIOR_SD[kind] ** 2.0 for kind, _ in names])
    many = robust and len(judged) >= LEAST_SHEETS
    ends = looked(over_stops, judged.verdict_stops if many else None)
    fitted = fit(design, ends, priors, sd, robust=many)
    counts = np.bincount(design.columns.ravel(), minlength=len(names) + 1)[: len(names)]
    weights, residuals = fitted.weights, fitted.residuals
    fits = fitted.mean, fitted.spread, counts, weights, residuals, fitted.sd
    return Learned(names, *fits, pivots)


def designed(judged: Judged, learned: Learned) -> Design:
    """The Design of some Judged sheets, as their Learned was fitted."""
    return _columns(judged, learned.pivots)[1]


def straightened(judged: Judged, learned: Learned) -> Learned:
    """The Learned, as plans use it, of some Judged sheets: papers whose bends come to next to
    nothing are held straight, with all their doubt.
    """
    logs, straight = doublings(judged.metered_s), dict[tuple[str, Any], float]()
    papers = np.array([hash(paper) for paper in judged.paper])
    for paper in dict.fromkeys(judged.paper):
        its = logs[papers == hash(paper)]
        if paper is None or strongest(its, learned.bent(paper, its)) >= LEAST_BEND_STOPS:
            continue
        straight |= {("bend", (paper, corner)): 0.0 for corner in BENDS_AT}
    return replace(learned.held(straight), spread=learned.spread)


def _bend(places: dict[tuple[str, Any], int], paper: Any, corner: int) -> int:
    """Column of a paper's bend at some time; -1 for no paper."""
    return -1 if paper is None else places.setdefault(("bend", (paper, corner)), len(places))


def _pivots(judged: Judged) -> dict[Any, float]:
    """{paper: log2 of its middle metered time}: what sheets at much the same time say is speed, and
    nothing of long times.
    """
    logs = doublings(judged.metered_s)
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
    pivot = np.array([pivots.get(paper, 0.0) for paper in judged.paper])
    logs = doublings(judged.metered_s)
    slopes = {"exponent": logs - pivot, "drift": -judged.ages}
    kinds = [kind for kind in STOP_KINDS if any(key is not None for key in getattr(judged, kind))]
    kinds += ["exponent"] + (["drift"] if judged.ages.any() else [])
    for kind in kinds:
        keys = getattr(judged, "paper" if kind in slopes else kind)
        every.append(
            [-1 if key is None else places.setdefault((kind, key), len(places)) for key in keys]
        )
    counts = [slopes.get(kind, np.ones(len(judged))) for kind in kinds]
    papers = np.array([*judged.paper, None], object)[:-1]
    for corner, count in zip(BENDS_AT, beyond(logs, pivot), strict=True):
        counts.append(count)
        its = np.where(count > 0, papers, np.array(None, object))
        every.append([_bend(places, paper, corner) for paper in its])
    columns = np.array(every, int).T.reshape(len(judged), len(every))
    values = np.stack(counts, axis=1)
    values[columns < 0] = 0.0
    columns[columns < 0] = len(places)
    return places, Design(columns, values, len(places))
