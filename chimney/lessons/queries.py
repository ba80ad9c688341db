"""Queries of the Learn pages, and the EI that a plan is proposed."""

from django.db.models import Avg, Count, Prefetch

from chimney.lessons import figures
from chimney.lessons.models import Evidence, Finding, Lesson, WholeLog
from chimney.logbook.models import Exposure

# A drawing shows this many of the newest sheets; the estimate counts all.
DRAWN = 40
# Shorter and longer times are none that a sheet was given [s].
TIMES_S = (1e-4, 1e8)


def of_pairs():
    """Lessons with their papers and developers."""
    return Lesson.objects.select_related("paper", "developer")


def of_paper(paper):
    """The lessons of a paper, a developer each."""
    return of_pairs().filter(paper=paper).exclude(developer=None)


def findings():
    """Findings with their papers and cameras."""
    return Finding.objects.select_related("paper", "camera")


def last():
    """The newest lesson of a pair with its drawing, or None."""
    lesson = of_pairs().exclude(developer=None).first()
    if lesson is None:
        return None
    evidence = Evidence.objects.filter(paper=lesson.paper, developer=lesson.developer)[:DRAWN]
    return lesson, figures.course_of(lesson, evidence)


def behind(lesson):
    """The evidence of a lesson with its sheets, newest first."""
    rows = lesson.evidence.select_related("sheet__paper", "sheet__verdict", "developer")
    titles = Exposure.objects.only("sheet", "subject")
    return rows.prefetch_related(Prefetch("sheet__exposures", titles))


def taught_by(sheet):
    """{evidence, lesson, others}: what a sheet says, and the lesson of its pair; None where there
    is none.
    """
    evidence = Evidence.objects.filter(sheet=sheet).first()
    pair = evidence and {"paper": evidence.paper_id, "developer": evidence.developer_id}
    lesson = of_pairs().filter(**pair).first() if pair else None
    return {"evidence": evidence, "lesson": lesson, "others": lesson.sheets - 1 if lesson else 0}


def counted():
    """The Evidence that counts, newest first, for the model of the whole log."""
    return timed().filter(reason="").select_related("paper", "developer")


# What the model of the whole log reads of each sheet.
WHOSE = ("pk", "paper_id", "paper__kind", "developer_id", "camera_id", "light", "process")
OF_WHAT = ("sheet__box_id", "filter_stops", "exposed_at", "metered_s", "needed_s", "weight")
EVIDENCE_COLUMNS = (*WHOSE, *OF_WHAT)
# How each was looked at.
LOOKED_AT_COLUMNS = tuple(f"sheet__verdict__{name}" for name in ("stops_more", "band", "source"))


def counted_columns():
    """{column: its values of all that counts}, oldest first."""
    names = (*EVIDENCE_COLUMNS, *LOOKED_AT_COLUMNS)
    counted = timed().filter(reason="").order_by("exposed_at", "pk")
    rows = list(counted.values_list(*names))
    if not rows:
        return dict.fromkeys(names, ())
    return dict(zip(names, zip(*rows, strict=True), strict=True))


def counted_sheets():
    return timed().filter(reason="").count()


def changes():
    """Number of changes of the log so far."""
    return WholeLog.objects.filter(pk=1).values_list("changes", flat=True).first() or 0


def timed():
    """The Evidence whose times are times."""
    return Evidence.objects.filter(metered_s__range=TIMES_S, needed_s__range=TIMES_S)


def by_process(lesson):
    """[(process, sheets, their middle EI)] of the counted sheets of a lesson, most sheets first."""
    rows = lesson.evidence.filter(reason="").order_by().values_list("process")
    groups = [
        (name, count, 2**mean) for name, count, mean in rows.annotate(Count("pk"), Avg("log2_ei"))
    ]
    return sorted(groups, key=lambda row: -row[1])
