"""Movements while the hole is open: the camera and the subject, two things. Common practice
throughout.
"""

from __future__ import annotations

from dataclasses import dataclass

from pinhole.ranges import checked

# How long a flap, or a hand taken from before the hole, leaves a camera trembling [s].
FLAP_S, HAND_S = 2.0, 0.3
# Whoever passes a longer exposure is not reckoned with any more.
LONGEST_SHAKEN_S = 1e9
# A thing that stays this share of the time, or less, leaves no trace that is seen.
VANISHES = 0.1


@dataclass(frozen=True)
class Wind:
    """code, words; sways: stops of risk it adds for a camera on its stand; stirs: what it moves."""

    code: str
    words: str
    sways: int
    stirs: str


WINDS = (
    Wind("still", "no wind", 0, ""),
    Wind("light", "light wind", 0, "leaves and grass"),
    Wind("fresh", "fresh wind", 1, "twigs, water, rigging"),
    Wind("gusts", "gusts", 2, "branches, water, the camera itself"),
)
WIND_BY_CODE = {wind.code: wind for wind in WINDS}


@dataclass(frozen=True)
class Risk:
    """camera: 0 none, 1 some, 2 high; flap_share of the time the flap shakes; vanish_s: who passes
    within it is not seen; stirs: what the wind draws as a blur.
    """

    camera: int
    flap_share: float
    vanish_s: float
    stirs: str


def risk(wind: Wind, seconds: float, *, hand: bool = False) -> Risk:
    """The Risk of an exposure of that length [s, above 0, or inf] in a Wind; hand: whether one
    waits before the hole.

    Raises ValueError outside. Source: common practice.
    """
    seconds = float(checked("seconds", min(seconds, LONGEST_SHAKEN_S), above=0))
    share = min(1.0, (HAND_S if hand else FLAP_S) / seconds)
    camera = min(2, wind.sways + (2 if share > 0.3 else 1 if share > 0.1 else 0))
    return Risk(camera, share, VANISHES * seconds, wind.stirs)
