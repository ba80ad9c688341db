"""Calls of the trainer to the craft: a sheet made by chance, and the skill of an eye."""

from dataclasses import dataclass
from math import sqrt

import numpy as np

from pinhole import media
from pinhole import sheet as papers
from pinhole.imaging import view
from pinhole.sheet import ToneCurve

# Half of all sheets have a fault, one of these; media in turn.
SHOWN_FAULTS = ("leak", "fog", "double", "shake", "uneven", "stain", "corners")
TRAINED_MEDIA = ("negative", "positive")
CURVES = {"negative": ToneCurve(0.06, 1.95, 5.0), "positive": ToneCurve(0.08, 1.75, 4.0)}
# Stops that a sheet may be off, in halves.
OFF = np.arange(-4, 5) / 2
# Fewer trials than this say nothing of an eye.
LEAST = 8
# How unsure an eye is taken to be until it was trained (common practice) [stops].
UNTRAINED_SD = 0.5


def trained_medium(kind):
    """The one of TRAINED_MEDIA that a medium is judged like."""
    return "positive" if media.medium(kind).is_positive else "negative"


@dataclass(frozen=True)
class Puzzle:
    """seed; medium; true_stops: light that it needs more; fault: its code, or empty."""

    seed: int
    medium: str
    true_stops: float
    fault: str


def puzzle(seed):
    """The Puzzle of a seed."""
    chance = np.random.default_rng([seed, 77])
    fault = str(chance.choice(SHOWN_FAULTS)) if chance.random() < 0.5 else ""
    return Puzzle(seed, TRAINED_MEDIA[seed % 2], float(chance.choice(OFF)), fault)


# Rungs of the ladder on which a sheet that was judged is shown again [stops that it needs more].
LADDER = (-2.0, -1.0, 0.0, 1.0, 2.0)


def picture(seed, needs_stops=None):
    """The sheet of a seed as a scanner sees it, uint8, and not its positive; needs_stops: the same
    as if it needed so much more light, None for as it is.
    """
    sheet = puzzle(seed)
    needs_stops = sheet.true_stops if needs_stops is None else needs_stops
    scene = view(seed, 240, 300)
    faults = [sheet.fault] if sheet.fault else []
    densities = papers.simulate(
        scene,
        -needs_stops,
        CURVES[sheet.medium],
        medium=sheet.medium,
        faults=faults,
        seed=seed,
    )
    return papers.scanned(densities)


def example(fault):
    """A sheet with that fault, uint8."""
    scene = view(11, 160, 200)
    return papers.scanned(papers.simulate(scene, 0.0, CURVES["negative"], faults=[fault], seed=5))


@dataclass(frozen=True)
class Eye:
    """trials: how many; bias_stops: said less true, in the middle; spread_stops: about that."""

    trials: int
    bias_stops: float
    spread_stops: float

    @property
    def is_known(self):
        return self.trials >= LEAST


def eye(offs):
    """The Eye of judgements that were off by so many stops."""
    count = len(offs)
    if not count:
        return Eye(0, 0.0, UNTRAINED_SD)
    bias = sum(offs) / count
    spread = sqrt(sum((error - bias) ** 2 for error in offs) / max(1, count - 1))
    return Eye(count, bias, max(0.15, spread))
