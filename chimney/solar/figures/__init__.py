"""The drawings of a can: its sky, its paper, its days, and all of them on a map."""

from chimney.solar.figures.calendar import calendar
from chimney.solar.figures.map import map_of, spot_at, spots
from chimney.solar.figures.paper import paper
from chimney.solar.figures.sky import LEVEL, Frame, grips, sky
from chimney.solar.figures.stand import compass, leaning

__all__ = [
    "LEVEL",
    "Frame",
    "calendar",
    "compass",
    "grips",
    "leaning",
    "map_of",
    "paper",
    "sky",
    "spot_at",
    "spots",
]
