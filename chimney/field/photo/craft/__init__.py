"""Calls to the craft for a photo of a scene: its light and the pinhole's field in it (`scenery`),
what moves (`moving`), and pictures of the sheet foreseen (`drawing`).
"""

from chimney.field.photo.craft.drawing import drawn, png
from chimney.field.photo.craft.moving import STAND_FIELDS, Moving, stand
from chimney.field.photo.craft.scenery import (
    USUAL_EQUIVALENT_MM,
    Scenery,
    aimed,
    reading,
    turn_between,
)

__all__ = [
    "STAND_FIELDS",
    "USUAL_EQUIVALENT_MM",
    "Moving",
    "Scenery",
    "aimed",
    "drawn",
    "png",
    "reading",
    "stand",
    "turn_between",
]
