"""Belongings of a photographer: cameras, papers, holders, developers."""

from chimney.kit.models.cameras import LEAST_N, MOST_N, MOST_TILT_DEG, Camera, Observation
from chimney.kit.models.papers import Box, Paper
from chimney.kit.models.things import LETTERS, Developer, Holder, Meter, Person, Thing

__all__ = [
    "LEAST_N",
    "LETTERS",
    "MOST_N",
    "MOST_TILT_DEG",
    "Box",
    "Camera",
    "Developer",
    "Holder",
    "Meter",
    "Observation",
    "Paper",
    "Person",
    "Thing",
]
