"""The state of the Learn pages."""

import statistics

from django.utils import timezone

from chimney.lessons import craft, figures, queries
from chimney.lessons.models import Finding
from chimney.lessons.progress import queries as progress
from chimney.lessons.whole.craft import own_school


def of_lesson(lesson, listed):
    """A lesson with what its page draws; listed: a page of its evidence. The newest is drawn."""
    finding, (low, high) = _exponent(lesson), queries.TIMES_S
    evidence = seen(lesson, listed, finding)
    newest = evidence
    if listed.number > 1:
        newest = seen(lesson, queries.behind(lesson)[: queries.DRAWN], finding)
    rows = [e for e in newest if e.metered_s and low < e.needed_s < high]
    page = {"lesson": lesson, "drawing": figures.course_of(lesson, newest), "exponent": finding}
    page |= {"page": listed, "evidence": evidence}
    page["line"] = figures.line_of(lesson, rows, finding) if rows else None
    page["like"] = _like_by_box(lesson, finding, rows)
    page["rated"] = progress.by_rating(lesson)
    page["today"] = timezone.localdate()
    return page


def seen(lesson, evidence, exponent):
    """The Evidence of a lesson as it sees it: with the long times of its paper taken off where
    those were kept.
    """
    if exponent is None or exponent.standing == Finding.Standing.DECLINED:
        return list(evidence)
    school = own_school(lesson.paper, exponent.mean)
    return craft.by_school(list(evidence), lesson.paper, school)


def _like_by_box(lesson, finding, evidence):
    """(usual metered seconds, EI): as what the lesson and the kept long times of its paper together
    come out at the usual time by the paper's own school; None while the EI stands alone.
    """
    if not evidence or finding is None or finding.standing == Finding.Standing.DECLINED:
        return None
    usual_s = statistics.median(e.metered_s for e in evidence)
    paper = lesson.paper
    return usual_s, craft.like_ei(paper, lesson.ei, own_school(paper, finding.mean), usual_s)


def _exponent(lesson):
    """The Finding of the paper's long times, or None."""
    rows = Finding.objects.filter(kind=Finding.Kind.EXPONENT, paper=lesson.paper)
    return rows.select_related("paper").first()
