"""Choice of the sheet that would tell most: what one more judged sheet would narrow, before it is
made.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from pinhole.lessons.model import PRIOR_SD
from pinhole.ranges import Array

if TYPE_CHECKING:
    from pinhole.lessons.model import Learned


@dataclass(frozen=True)
class TestSheet:
    """A test sheet: paper, camera, metered_s; before_stops, after_stops: how sure the time of usual
    plans of that paper is without and with it, one sd, averaged over them in squares; taken: how
    much variance it takes from all plans together [stops^2].
    """

    paper: object
    camera: object
    metered_s: float
    before_stops: float
    after_stops: float
    taken: float


def worth_trying(
    learned: Learned,
    candidates: Sequence[tuple[str, None, str, int]],
    plans: Sequence[tuple[str, None, str, int]],
    *,
    judgement_sd: float = 0.5,
) -> list[TestSheet]:
    """[TestSheet] of candidate sheets, the one that tells most first.

    learned: model.Learned; candidates, plans: [(paper, pair, camera, metered_s)], sheets that could
    be made, each of a paper that some plan has, and exposures that are usual; judgement_sd [stops,
    above 0]. Source: the variance that a normal observation takes away (any textbook of Bayesian
    statistics).
    """
    names = {name: n for n, name in enumerate(_names([*candidates, *plans]))}
    spread = _spread(learned, names)
    plan_rows = np.array([_row(plan, names) for plan in plans])
    before = ((plan_rows @ spread) * plan_rows).sum(axis=1)
    trials = []
    for candidate in candidates:
        row = _row(candidate, names)
        variance_taken = (plan_rows @ spread @ row) ** 2 / (judgement_sd**2 + row @ spread @ row)
        paper, _, camera, metered_s = candidate
        is_own_paper = np.array([plan[0] == paper for plan in plans])
        sd_before, sd_after = (
            float(np.sqrt(np.mean(values[is_own_paper])))
            for values in (before, before - variance_taken)
        )
        taken = float(variance_taken.sum())
        trials.append(TestSheet(paper, camera, metered_s, sd_before, sd_after, taken))
    return sorted(trials, key=lambda test: -test.taken)


def _shares(sheet: tuple[str, None, str, int]) -> dict[tuple[str, str], float]:
    """{(kind, key): how often it counts} of a sheet."""
    paper, pair, camera, metered_s = sheet
    shares = {("paper", paper): 1.0, ("exponent", paper): float(np.log2(metered_s))}
    return shares | {(kind, key): 1.0 for kind, key in (("pair", pair), ("camera", camera)) if key}


def _names(sheets: Iterable[Any]) -> list[tuple[str, Any]]:
    return list(dict.fromkeys(name for sheet in sheets for name in _shares(sheet)))


def _row(sheet: tuple[str, None, str, int], names: dict[tuple[str, str], int]) -> Array:
    row = np.zeros(len(names))
    for name, times in _shares(sheet).items():
        row[names[name]] = times
    return row


def _spread(learned: Learned, names: dict[Any, int]) -> Array:
    """Of the shares named; priors where no sheet speaks of one."""
    spread = np.diag([PRIOR_SD[kind] ** 2 for kind, _ in names])
    names_learned = [name for name in names if name in learned.names]
    rows_here, rows_there = (
        [names[name] for name in names_learned],
        [learned.names[name] for name in names_learned],
    )
    spread[np.ix_(rows_here, rows_here)] = learned.spread[np.ix_(rows_there, rows_there)]
    return spread
