"""What the Learn pages read."""

from collections import defaultdict

from django.db.models import F, Window
from django.db.models.functions import RowNumber

from chimney.lessons import figures
from chimney.lessons.models import Evidence, Lesson

# A drawing shows this many of the newest sheets; the estimate counts all.
DRAWN = 40


def lessons():
    """[(lesson, drawing or None)], pairs first; three queries however many sheets there are."""
    found = list(Lesson.objects.select_related("paper", "developer"))
    drawn = _newest_by_pair()
    pairs = [
        (lesson, figures.course_of(lesson, drawn[lesson.paper_id, lesson.developer_id]))
        for lesson in found
        if lesson.developer_id
    ]
    baths = defaultdict(int)
    for lesson in found:
        baths[lesson.paper_id] += bool(lesson.developer_id)
    return pairs, [lesson for lesson in found if not lesson.developer_id and baths[lesson.paper_id] > 1]


def _newest_by_pair():
    numbered = Evidence.objects.annotate(
        place=Window(RowNumber(), partition_by=["paper", "developer"], order_by=F("exposed_at").desc())
    ).filter(place__lte=DRAWN)
    by_pair = defaultdict(list)
    for evidence in numbered:
        by_pair[evidence.paper_id, evidence.developer_id].append(evidence)
    return by_pair


def last():
    """The newest lesson of a pair with its drawing, or None."""
    lesson = Lesson.objects.select_related("paper", "developer").exclude(developer=None).first()
    if lesson is None:
        return None
    evidence = Evidence.objects.filter(paper=lesson.paper, developer=lesson.developer)[:DRAWN]
    return lesson, figures.course_of(lesson, evidence)


def behind(lesson):
    """The evidence of a lesson with its sheets, newest first."""
    found = Evidence.objects.filter(paper=lesson.paper)
    if lesson.developer_id:
        found = found.filter(developer=lesson.developer_id)
    return found.select_related("sheet__paper", "sheet__verdict", "developer").prefetch_related(
        "sheet__exposures__camera"
    )
