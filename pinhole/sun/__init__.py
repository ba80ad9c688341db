"""The sun: where it stands, when it rises and turns, and when it stands again as it did."""

from pinhole.sun.returns import Return, again
from pinhole.sun.standing import (
    DISC_DEG,
    RISE_DEG,
    Day,
    Stance,
    day,
    noons,
    position,
    refraction_deg,
    seasons,
    stance,
)

__all__ = [
    "DISC_DEG",
    "RISE_DEG",
    "Day",
    "Return",
    "Stance",
    "again",
    "day",
    "noons",
    "position",
    "refraction_deg",
    "seasons",
    "stance",
]
