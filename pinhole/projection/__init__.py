"""From a direction in the sky to a place on the paper, for a flat, a can and an arc back."""

from pinhole.projection.back import Back, Landing
from pinhole.projection.backs import ArcBack, CanBack, FlatBack, RoundBack
from pinhole.projection.pointing import Pointing, directions

__all__ = [
    "ArcBack",
    "Back",
    "CanBack",
    "FlatBack",
    "Landing",
    "Pointing",
    "RoundBack",
    "directions",
]
