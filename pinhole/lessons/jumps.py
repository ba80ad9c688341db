"""A late jump: from some sheet on, all of a paper's want something else."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from pinhole.lessons.fitting import Design
from pinhole.lessons.judged import PRIOR_SD, Judged
from pinhole.lessons.learning import designed
from pinhole.lessons.model import Learned
from pinhole.ranges import Array

# Fewer sheets than these on one side are chance, not a change (common practice).
LEAST_BESIDE = 4
# A jump is believed where the likeliest of all splits lies so many sd out: what chance makes it in
# one paper of twenty (Andrews 1993, one parameter, 15 % trimmed: 8.85 = 2.97 squared; from memory).
JUMP_SD = 2.97
# Less than this changes no plan.
LEAST_JUMP_STOPS = 1 / 3


@dataclass(frozen=True)
class Jump:
    """first: index, among the sheets of its paper, of the first one after it; stops: how many more
    those want; sd: of it.
    """

    first: int
    stops: float
    sd: float


def late_jump(judged: Judged, learned: Learned, paper: Any, *, looks: int = 1) -> Jump | None:
    """The Jump that parts the sheets of a paper best, None where chance may make one as large.

    judged: sheets, oldest first; learned: of them; paper: key of one; looks: how many papers are
    looked at.
    Source: the score test for a variable that is added to a weighted regression, at each split in
    turn (any textbook of regression; the largest of them as in Andrews 1993).
    """
    of_paper = np.array([key == paper for key in judged.paper]).nonzero()[0]
    splits = np.arange(LEAST_BESIDE, len(of_paper) - LEAST_BESIDE + 1)
    if len(splits) == 0:
        return None
    design, weights = designed(judged, learned), learned.weights / learned.judgement_sd**2
    priors = np.array([PRIOR_SD[kind] ** -2.0 for kind, _ in learned.names])
    spread = np.linalg.inv(np.diag(priors) + design.information(weights))
    pulls = _after((weights * learned.residuals)[of_paper])[splits]
    # What the other shares could explain of it is no evidence.
    shared = _after(weights[of_paper, None] * _rows(design, of_paper))[splits]
    sharp = _after(weights[of_paper])[splits] - np.einsum("si,ij,sj->s", shared, spread, shared)
    best = int(np.argmax(np.abs(pulls) / np.sqrt(sharp)))
    stops, sd = float(pulls[best] / sharp[best]), float(sharp[best] ** -0.5)
    # More papers, more chances: the bar rises with the logarithm of their number.
    bar = np.sqrt(JUMP_SD**2 + 2 * np.log(looks))
    if abs(stops) < max(bar * sd, LEAST_JUMP_STOPS):
        return None
    return Jump(int(splits[best]), stops, sd)


def late_boxes(judged: Judged, learned: Learned) -> list[int | None]:
    """Index of the first sheet after the late jump of its paper, for each sheet that came after it,
    None for any other; papers whose boxes are noted are not looked at.

    judged: sheets, oldest first; learned: of them.
    """
    first: list[int | None] = [None] * len(judged)
    boxes = judged.box or ()
    boxed = {paper for paper, box in zip(judged.paper, boxes, strict=True) if box is not None}
    papers = [paper for paper in dict.fromkeys(judged.paper) if paper not in boxed]
    for paper in papers:
        jump = late_jump(judged, learned, paper, looks=len(papers))
        if jump is not None:
            of_paper = [n for n, key in enumerate(judged.paper) if key == paper]
            for n in of_paper[jump.first :]:
                first[n] = of_paper[jump.first]
    return first


def _after(values: Array) -> Array:
    """Sums of each and all that follow, (n, ...)."""
    return np.cumsum(values[::-1], axis=0)[::-1]


def _rows(design: Design, of_paper: Array) -> Array:
    """Counts of each share for some of the sheets, (len(of_paper), shares)."""
    rows = np.zeros((len(of_paper), design.size + 1))
    np.add.at(
        rows, (np.arange(len(of_paper))[:, None], design.columns[of_paper]), design.values[of_paper]
    )
    return rows[:, :-1]
