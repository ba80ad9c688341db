"""The state of the Learn pages."""

from django.utils import timezone

from chimney.lessons import figures, queries
from chimney.lessons.models import Finding
from chimney.lessons.progress import queries as progress


def of_lesson(lesson, listed):
    """A lesson with what its page draws; listed: a page of its evidence. The newest is drawn."""
    finding, (low, high) = _exponent(lesson), queries.TIMES_S
    evidence = list(listed)
    newest = evidence
    if listed.number > 1:
        newest = list(queries.behind(lesson)[: queries.DRAWN])
    rows = [e for e in newest if e.metered_s and low < e.needed_s < high]
    page = {"lesson": lesson, "drawing": figures.course_of(lesson, newest), "exponent": finding}
    page |= {"page": listed, "evidence": evidence}
    page["line"] = figures.line_of(lesson, rows, finding) if rows else None
    page["rated"] = progress.by_rating(lesson)
    page["today"] = timezone.localdate()
    return page


def _exponent(lesson):
    """The Finding of the paper's long times, or None."""
    rows = Finding.objects.filter(kind=Finding.Kind.EXPONENT, paper=lesson.paper)
    return rows.select_related("paper").first()
