"""Queries of the Learn pages, and the EI that a plan is proposed."""

from collections import defaultdict
from dataclasses import dataclass, field, replace

from django.db.models import Avg, Count, F, Max, OuterRef, Prefetch, Subquery, Window
from django.db.models.functions import RowNumber

from chimney.darkroom.models import Development
from chimney.kit.models import Paper
from chimney.lessons import figures
from chimney.lessons.craft import light_of, own_school
from chimney.lessons.models import Evidence, Finding, Lesson, WholeLog
from chimney.logbook.models import Exposure
from chimney.parts.calculation import OWN_CAMERA, OWN_EYE, OWN_LIGHT, OWN_PROCESS
from chimney.parts.scales import number
from pinhole import exposure as craft

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


def lessons():
    """[(lesson, drawing or None)], pairs first; three queries however many sheets there are."""
    learned = list(of_pairs())
    drawn = _newest_by_pair()
    pairs = [
        (lesson, figures.course_of(lesson, drawn[lesson.paper_id, lesson.developer_id]))
        for lesson in learned
        if lesson.developer_id
    ]
    baths = defaultdict(int)
    for lesson in learned:
        baths[lesson.paper_id] += bool(lesson.developer_id)
    return pairs, [
        lesson for lesson in learned if not lesson.developer_id and baths[lesson.paper_id] > 1
    ]


def _newest_by_pair():
    numbered = Evidence.objects.order_by().annotate(
        place=Window(
            RowNumber(), partition_by=["paper", "developer"], order_by=F("exposed_at").desc()
        )
    )
    # Whole rows are read of the newest alone.
    newest = list(numbered.filter(place__lte=DRAWN).values_list("pk", flat=True))
    by_pair = defaultdict(list)
    for evidence in Evidence.objects.filter(pk__in=newest):
        by_pair[evidence.paper_id, evidence.developer_id].append(evidence)
    return by_pair


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
WHOSE = ("pk", "paper_id", "developer_id", "camera_id", "light", "process")
EVIDENCE_COLUMNS = (*WHOSE, "metered_s", "needed_s", "weight")


def counted_columns():
    """{column: its values of all that counts}, newest first."""
    rows = list(timed().filter(reason="").values_list(*EVIDENCE_COLUMNS))
    if not rows:
        return dict.fromkeys(EVIDENCE_COLUMNS, ())
    return dict(zip(EVIDENCE_COLUMNS, zip(*rows, strict=True), strict=True))


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


@dataclass(frozen=True)
class Proposal:
    """The EI to plan with: ei, how sure [stops], where it is from and why; school: of long times,
    where the log's own was kept together with the EI; findings: kept ones of cameras and lights.
    """

    ei: float
    sd_stops: float
    ei_from: str
    why: str
    lesson: Lesson | None = None
    school: object = None
    findings: tuple = ()

    def learned_stops(self, camera, *, low_sun, seen=("", False)):
        """((name, stops more, sd), ...) that kept findings ask for with that camera in that light.

        seen: what the eye called the sky, and whether that is all that is known of the light.
        """
        sky, by_eye = seen
        names = {("camera", str(camera.pk)): OWN_CAMERA}
        names |= {("light", light_of(sky, low_sun)): OWN_LIGHT}
        names |= {("eye", sky): OWN_EYE} if by_eye else {}
        # Those of other processes than the paper's are not among them.
        names |= {
            (finding.kind, finding.of): OWN_PROCESS
            for finding in self.findings
            if finding.kind == Finding.Kind.PROCESS
        }
        return tuple(
            (names[finding.kind, finding.of], finding.mean, finding.sd)
            for finding in self.findings
            if (finding.kind, finding.of) in names
        )


def kept_findings():
    """Findings that plans use."""
    return tuple(Finding.objects.filter(standing=Lesson.Standing.KEPT).select_related("paper"))


def _last_processes(findings):
    """{paper's pk: the process it went through last}, where a finding asks for it."""
    if not any(finding.kind == Finding.Kind.PROCESS for finding in findings):
        return {}
    newest = Evidence.objects.filter(paper=OuterRef("pk")).order_by("-exposed_at", "-pk")
    last = Paper.objects.annotate(last_process=Subquery(newest.values("process")[:1]))
    return dict(last.values_list("pk", "last_process"))


def of_box(paper, findings=()):
    """Proposal of the starting EI of a paper, kept or not."""
    why = f"Starting EI of {paper}; nothing of yours is in it."
    doubt = paper.medium.untried_sd_stops
    return Proposal(paper.box_ei, doubt, Exposure.EiFrom.BOX, why, findings=findings)


def offered(paper, developer):
    """(what the log proposes for the pair, else for the paper in any developer, else None; what
    the box says of it, beside what is known of cameras and lights).
    """
    ratings_found = _ratings(of_pairs().filter(paper=paper), {})
    return ratings_found.offered(paper, developer and developer.pk)


def choose(ei_from, typed_ei, learned, box):
    """The Proposal that was chosen: the EI typed, the learned one if there is one, else the
    box's.
    """
    if ei_from == Exposure.EiFrom.TYPED and typed_ei:
        typed = {"ei": typed_ei, "sd_stops": craft.EI_SD_STOPS, "why": "Typed for this sheet."}
        return replace(box, ei_from=Exposure.EiFrom.TYPED, **typed)
    return learned if learned and ei_from == Exposure.EiFrom.LEARNED else box


@dataclass(frozen=True)
class Ratings:
    """lessons: {(paper's pk, developer's or None): Lesson}; usual: {paper's pk: the developer it
    went into last}; findings: those that plans use; processes: {paper's pk: the one it went
    through last}.
    """

    lessons: dict
    usual: dict
    findings: tuple = ()
    processes: dict = field(default_factory=dict)

    def learned(self, paper, developer_id):
        """The Proposal of the pair, else of the paper in any developer, else None."""
        pair = self.lessons.get((paper.pk, developer_id)) if developer_id else None
        lesson_rating = _from_lesson(pair or self.lessons.get((paper.pk, None)))
        return lesson_rating and replace(
            lesson_rating,
            findings=self._findings_of(paper),
            school=_school_of(paper, self.findings),
        )

    def _findings_of(self, paper):
        """Those of the paper's own process, and all others."""
        process = self.processes.get(paper.pk)
        return tuple(
            finding
            for finding in self.findings
            if finding.kind != Finding.Kind.PROCESS or finding.of == process
        )

    def offered(self, paper, developer_id=None):
        """(learned or None, box): what a plan for that paper would be offered, in its usual
        developer by default.
        """
        learned = self.learned(paper, developer_id or self.usual.get(paper.pk))
        return learned, of_box(paper, self._findings_of(paper))

    def best(self, paper):
        """The Proposal that a plan for that paper would start from."""
        learned, of_box = self.offered(paper)
        return learned or of_box


def ratings():
    """The Ratings of every paper, in two queries."""
    newest = (
        Development.objects.order_by()
        .values("sheet__paper")
        .annotate(last=Max("pk"))
        .values("last")
    )
    usual = dict(
        Development.objects.filter(pk__in=newest).values_list("sheet__paper", "run__developer")
    )
    return _ratings(of_pairs(), usual)


def _ratings(lessons, usual):
    findings = kept_findings()
    by_pair = {(lesson.paper_id, lesson.developer_id): lesson for lesson in lessons}
    return Ratings(by_pair, usual, findings, _last_processes(findings))


def _school_of(paper, findings):
    """The reciprocity of a paper that its own sheets say, if that was kept."""
    exponents = (f.mean for f in findings if (f.kind, f.of) == ("exponent", str(paper.pk)))
    mean = next(exponents, None)
    return None if mean is None else own_school(paper, mean)


def _from_lesson(lesson):
    if lesson is None or lesson.standing == Lesson.Standing.DECLINED:
        return None
    bath = f"in {lesson.developer}" if lesson.developer else "in all your developers"
    sheets = "1 sheet of yours" if lesson.sheets == 1 else f"{lesson.sheets} sheets of yours"
    why = f"{sheets} {bath}: EI between {number(lesson.low, 2)} and {number(lesson.high, 2)}."
    return Proposal(lesson.speed, lesson.sd_log2, Exposure.EiFrom.LEARNED, why, lesson)


def usual_developer_id(paper):
    """The developer that the paper went into last."""
    last = (
        Development.objects.filter(sheet__paper=paper)
        .order_by("-pk")
        .values_list("run__developer", flat=True)
    )
    return last.first()
