"""The stages of a sheet in one table: from which others it comes there, and what is true of it
then.
"""

from dataclasses import dataclass

from django.db import models


class Stage(models.TextChoices):
    BOXED = "boxed", "in the box"
    LOADED = "loaded", "loaded"
    EXPOSING = "exposing", "exposing"
    EXPOSED = "exposed", "to develop"
    DEVELOPING = "developing", "in the dark room"
    DEVELOPED = "developed", "to read"
    READ = "read", "read"
    SPOILED = "spoiled", "spoiled"
    LOST = "lost", "lost"
    OUT = "out", "out in the sun"
    HOME = "home", "to scan"
    SCANNED = "scanned", "scanned"


@dataclass(frozen=True)
class Rule:
    """comes_from: the stages that lead here; lies: whether it lies in a side of a holder, None if
    it may; side: what its side is called in the bag; waits: whether a course of the chimney counts
    it; by_its_log: whether its exposures and its place alone say that it is here; in_a_can: put
    out, never timed or developed.
    """

    comes_from: frozenset
    lies: bool | None
    side: str = "exposed"
    waits: bool = True
    by_its_log: bool = False
    in_a_can: bool = False


# What was given up comes back to whatever it was.
GIVEN_UP = {Stage.SPOILED, Stage.LOST}


def _from(*stages):
    return frozenset(stages) | GIVEN_UP


_ANYWHERE = frozenset(Stage) - {Stage.EXPOSING, *GIVEN_UP}
RULES = {
    # From exposed when the slide was never pulled, and the sheet was taken out before that was
    # noticed.
    Stage.BOXED: Rule(_from(Stage.LOADED, Stage.EXPOSED), lies=False, waits=False, by_its_log=True),
    # From out when a can was never put out after all.
    Stage.LOADED: Rule(
        _from(Stage.BOXED, Stage.EXPOSING, Stage.EXPOSED, Stage.OUT),
        lies=True,
        side="loaded",
        by_its_log=True,
    ),
    # From exposed to undo a close, or for a second time on purpose.
    Stage.EXPOSING: Rule(frozenset({Stage.LOADED, Stage.EXPOSED}), lies=True, side="exposing"),
    # From the box or a side when a slip was taken back: it was exposed after all.
    Stage.EXPOSED: Rule(
        _from(Stage.EXPOSING, Stage.DEVELOPING, Stage.DEVELOPED, Stage.BOXED, Stage.LOADED),
        lies=None,
        by_its_log=True,
    ),
    # From developed when the last step of its run was ended too early.
    Stage.DEVELOPING: Rule(_from(Stage.EXPOSED, Stage.DEVELOPED), lies=False),
    Stage.DEVELOPED: Rule(_from(Stage.EXPOSED, Stage.DEVELOPING, Stage.READ), lies=False),
    Stage.READ: Rule(_from(Stage.DEVELOPED), lies=False, waits=False),
    # A solargraph goes out, comes home and is scanned; no way leads from there into a developer.
    Stage.OUT: Rule(_from(Stage.LOADED, Stage.HOME), lies=True, side="out", in_a_can=True),
    Stage.HOME: Rule(_from(Stage.OUT, Stage.SCANNED), lies=None, side="out", in_a_can=True),
    Stage.SCANNED: Rule(_from(Stage.HOME), lies=False, waits=False, in_a_can=True),
    Stage.SPOILED: Rule(_ANYWHERE, lies=None, waits=False, by_its_log=True),
    Stage.LOST: Rule(_ANYWHERE, lies=None, side="out", waits=False),
}


def which(name):
    """The stages of which that is true, in their order."""
    return [stage for stage, rule in RULES.items() if getattr(rule, name)]
