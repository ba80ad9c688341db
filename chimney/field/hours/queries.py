"""Camera and paper that one begins with, and their specifications as they are rated today."""

from functools import partial

from chimney.field.craft import specification
from chimney.lessons.proposing import queries as lessons
from chimney.logbook.models import Exposure


def specify_with(camera, paper, sky, ratings=None):
    """colour, reading -> Specification, by a sky that the eye named; ratings: the lessons' Ratings,
    read where they are not given.
    """
    proposal = (ratings or lessons.ratings()).best(paper)
    return partial(specification, camera, paper, proposal, seen=(sky, True))


def usual_pair(cameras, papers, kept=None):
    """(camera, paper) that one begins with: those of a row that was kept, else those exposed last,
    else the first that are offered.
    """
    last = Exposure.objects.order_by("-pk").select_related("sheet").first()
    camera = (kept and kept.camera_id) or (last and last.camera_id)
    paper = (kept and kept.paper_id) or (last and last.sheet.paper_id)
    return (
        cameras.filter(pk=camera).first() or cameras.first(),
        papers.filter(pk=paper).first() or papers.first(),
    )
