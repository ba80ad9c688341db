"""Specifications of a camera and a paper as they are rated today, whatever the light."""

from functools import partial

from chimney.field.craft import specification
from chimney.lessons.proposing import queries as lessons


def specify_with(camera, paper, sky, ratings=None):
    """colour, reading -> Specification, by a sky that the eye named; ratings: the lessons' Ratings,
    read where they are not given.
    """
    proposal = (ratings or lessons.ratings()).best(paper)
    return partial(specification, camera, paper, proposal, seen=(sky, True))
