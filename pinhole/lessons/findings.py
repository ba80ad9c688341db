"""Shares that are more than chance: each held against as many as are looked at."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist
from typing import Any

import numpy as np

from pinhole.lessons.judged import PRIOR_SD
from pinhole.lessons.model import Learned
from pinhole.ranges import Array

# A log in which nothing but speeds is off is told something false so often, all in all.
FALSE_SHARE = 0.045
# A share of which sheets say next to nothing is not told apart from nothing.
LEAST_CHANCE = 0.05
# Shares that stand for how fast a paper is: they are no findings but its EI.
SPEED_KINDS = ("paper", "pair", "drift", "bend")
# Less than this changes no plan (common practice): stops, and the exponent.
LEAST_STOPS, LEAST_EXPONENT = 1 / 6, 0.02


@dataclass(frozen=True)
class Held:
    """A share held against the others of its kind: off [stops, or the exponent]; sd: how far off
    chance alone would put it; bar: how many sd it must be off so that, among all that are looked
    at, chance hardly ever makes it so; least: less than that changes no plan.
    """

    off: float
    sd: float
    bar: float
    least: float

    @property
    def sure(self) -> float:
        """Distance from the others, in its own sd."""
        return abs(self.off) / self.sd

    @property
    def is_clear(self) -> bool:
        """True if chance hardly ever makes it so, and it changes plans."""
        return abs(self.off) > max(self.bar * self.sd, self.least)


def least_of(kind: str) -> float:
    """Least that a share of that kind must be to change a plan [stops, or the exponent]."""
    return LEAST_EXPONENT if kind == "exponent" else LEAST_STOPS


def findings(learned: Learned) -> dict[tuple[str, Any], Held]:
    """{(kind, key): Held} of all shares but speeds that sheets speak of.

    A camera is held against the weighted mean of the others, as all of them together are the speed
    of the paper; the other kinds against nothing. Half of the false ones may be cameras: they are
    what somebody can measure anew.
    Source: Bonferroni's inequality, over the shares looked at; chance's own sd of the mean of a
    normal posterior, which its prior holds back (any textbook of statistics).
    """
    names = [name for name in learned.names if name[0] not in SPEED_KINDS]
    if not names:
        return {}
    cameras = sum(kind == "camera" for kind, _ in names)
    # Held against each other, cameras have one chance less than there are of them.
    camera_bar, bar = _bar(max(1, cameras - 1)), _bar(max(1, len(names) - cameras))
    held = {name: _held(learned, name, bar, ()) for name in names if name[0] != "camera"}
    # The clearest camera is no measure of the others: it is set aside before they are held.
    left = [name for name in names if name[0] == "camera"]
    aside: list[tuple[str, Any]] = []
    while left:
        every = {name: _held(learned, name, camera_bar, aside) for name in left}
        # Of two alone each is as far from the other: the one that moved more is the first.
        first = max(left, key=lambda n: (round(every[n].sure, 6), abs(learned.share(*n).mean)))
        if not every[first].is_clear:
            return held | every
        held[first] = every[first]
        left.remove(first)
        aside.append(first)
    return held


def _held(
    learned: Learned, name: tuple[str, Any], bar: float, aside: Sequence[tuple[str, Any]]
) -> Held:
    row = _against(learned, name, aside)
    left = float(row @ learned.spread @ row)
    before = PRIOR_SD[name[0]] ** 2 * float(row @ row)
    chance = left * max(LEAST_CHANCE, 1 - left / before)
    return Held(float(row @ learned.mean), chance**0.5, bar, least_of(name[0]))


def _bar(looked_at: int) -> float:
    return NormalDist().inv_cdf(1 - FALSE_SHARE / 2 / (2 * looked_at))


def _against(learned: Learned, name: tuple[str, Any], aside: Sequence[tuple[str, Any]]) -> Array:
    """Counts of all shares where one is held against the others of its kind."""
    row: Array = np.zeros(len(learned.mean))
    row[learned.names[name]] = 1.0
    others = [
        column
        for (kind, key), column in learned.names.items()
        if kind == name[0] == "camera" and key != name[1] and (kind, key) not in aside
    ]
    if others:
        weights = 1 / learned.spread[others, others]
        row[others] = -weights / weights.sum()
    return row
