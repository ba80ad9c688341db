"""The sun: where it stands, when it rises and turns, and when it stands again as it did."""

from pinhole.sun.returns import Passages, Return, again, passages
from pinhole.sun.stances import (
    AGAINST_DEG,
    BEHIND_DEG,
    Stance,
    shadow_depth_deg,
    stance,
)
from pinhole.sun.standing import (
    DISC_DEG,
    RISE_DEG,
    Day,
    day,
    lift_deg,
    noons,
    position,
    refraction_deg,
    seasons,
)

__all__ = [
    "AGAINST_DEG",
    "BEHIND_DEG",
    "DISC_DEG",
    "RISE_DEG",
    "Day",
    "Passages",
    "Return",
    "Stance",
    "again",
    "day",
    "lift_deg",
    "noons",
    "passages",
    "position",
    "refraction_deg",
    "seasons",
    "shadow_depth_deg",
    "stance",
]
