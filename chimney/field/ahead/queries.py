"""Shots that are planned, and what the log says of their pairs."""

from chimney.field.models import Shot
from chimney.lessons.models import Lesson

# So many of the next shots a test sheet is made for.
MOST_AHEAD = 6


def planned():
    """The next Shots that are to do, those of a day out first."""
    shots = Shot.objects.filter(done=False).select_related("camera", "paper", "outing", "beside")
    return list(shots.order_by("starts_at", "-pk")[:MOST_AHEAD])


def lessons():
    """{(paper's pk, developer's pk): Lesson} of pairs."""
    rows = Lesson.objects.exclude(developer=None).select_related("paper", "developer")
    return {(lesson.paper_id, lesson.developer_id): lesson for lesson in rows}
