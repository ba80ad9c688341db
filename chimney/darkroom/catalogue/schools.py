"""Points on which schools differ, and pairs of which little is known. Common practice."""

from dataclasses import dataclass, replace

from chimney.darkroom.catalogue.steps import (
    FIX_ON,
    RC_WASH,
    RUNNING,
    SHORT_WASH,
    SOAKS,
    STOP,
    VINEGAR,
    WATER_STOP,
)
from pinhole.developing import Step


@dataclass(frozen=True)
class DarkroomSchool:
    """One of several ways to take a step: of: the purpose of that step; words; reason; step: what
    stands in its place, None where it is left out.
    """

    of: str
    words: str
    reason: str
    step: Step | None


# Where schools differ: what may stand in the place of a step; the default's reason comes first.
DARKROOM_SCHOOLS = (
    DarkroomSchool(
        "stop", "stop bath", "Default: it ends the developer at once and saves the fixer.", STOP
    ),
    DarkroomSchool(
        "stop", "vinegar, 1+4", "From the kitchen; it smells, and does the same.", VINEGAR
    ),
    DarkroomSchool("stop", "plain water", "No acid at all; the fixer tires sooner.", WATER_STOP),
    DarkroomSchool(
        "wash",
        "three soaks of 20 min",
        "Default for fibre: as clean as an hour of running water, with three trays of it.",
        SOAKS,
    ),
    DarkroomSchool("wash", "60 min running", "For fibre, where water is plentiful.", RUNNING),
    DarkroomSchool(
        "wash", "10 min", "Enough for some, also for fibre; nobody has waited long.", SHORT_WASH
    ),
    DarkroomSchool("wash", "2 to 5 min", "Default for RC: longer only lifts its edges.", RC_WASH),
)
FIX_AFTER = (
    DarkroomSchool(
        "fix", "no fixer", "Default after reversal: what is left has been developed.", None
    ),
    DarkroomSchool(
        "fix",
        "fix 2 min",
        "For whoever trusts no bleach to have taken everything.",
        replace(FIX_ON, name="Fix", least_s=120, most_s=120),
    ),
)


@dataclass(frozen=True)
class Doubt:
    """A pair of paper and process of which little is known: kind of paper, key of process or
    "coffee" for a developer of that name; words; sure: how sure that is.
    """

    kind: str
    process: str
    words: str
    sure: str


DOUBTS = (
    Doubt(
        "positive",
        "coffee",
        "Direct positive paper in coffee developer came out very dark, but that sheet also had a "
        "stop less light than this paper wants.",
        "one trial, doubtful",
    ),
    Doubt(
        "negative",
        "coffee-salt",
        "Salt instead of fixer has held so far; nobody knows how long.",
        "a few trials",
    ),
    Doubt(
        "negative",
        "positive-drawers",
        "Paper negatives in drawers are developed blind: no eye ends them.",
        "common practice",
    ),
)
