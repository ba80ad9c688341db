"""The state of the Learn pages."""

import statistics
from dataclasses import dataclass
from datetime import timedelta
from urllib.parse import urlencode

from django.utils import timezone

from chimney.kit.models import Camera
from chimney.lessons import craft, figures, queries, wording
from chimney.lessons.models import Evidence, Finding, WholeLog
from chimney.lessons.progress import queries as progress
from chimney.lessons.whole.craft import own_school
from chimney.parts import clock
from pinhole import lessons as teaching
from pinhole import optics

# Metered times that a test sheet may have [s], and how many are proposed.
TRIED_TIMES_S, PROPOSED = (15.0, 120.0, 900.0), 2
# Sheets of this long count as what is usual.
USUAL_DAYS, MOST_USUAL = 365, 60
# How a search names the kinds of light.
SEARCHED = {craft.LOW_SUN: "low", craft.CLOUD: "cloud"}


@dataclass(frozen=True)
class Said:
    """A Finding as the page tells it."""

    finding: Finding
    sentence: str
    range: str
    more: int | None
    uses: str

    @property
    def asked(self):
        """The search that finds its sheets, as an address says it."""
        kind, name = self.finding.kind, self.finding.of
        fields = {"camera": ("camera", name), "exponent": ("paper", name)}
        fields |= {"light": ("light", SEARCHED.get(name, "")), "eye": ("light", "eye")}
        fields |= {"process": ("process", name)}
        return urlencode([fields[kind]])


def findings():
    """([Said] that are clear or kept, [Said] that are not yet), what changes most first."""
    rows = Finding.objects.select_related("paper", "camera")
    ranked = sorted(rows, key=lambda one: -abs(wording.changes_stops(one)) * one.sheets)
    sentences = [
        Said(
            row,
            wording.sentence(row),
            wording.range_words(row),
            wording.more_sheets(row),
            wording.uses(row),
        )
        for row in ranked
    ]
    loud = [row for row in sentences if row.finding.is_clear or row.finding.standing == "kept"]
    return loud, [row for row in sentences if row not in loud]


@dataclass(frozen=True)
class TestPlan:
    """A test sheet worth making: paper, camera; metered_s; fields of its plan; how sure plans are
    without and with it.
    """

    paper: object
    camera: object
    metered_s: float
    fields: dict
    before_stops: float
    after_stops: float


def tests_worth_making():
    """[TestPlan], those that tell most of what was exposed in the last year."""
    since = clock.now() - timedelta(days=USUAL_DAYS)
    usual = list(queries.counted().filter(exposed_at__gte=since)[:MOST_USUAL])
    model_row = WholeLog.objects.filter(data__isnull=False).first()
    if not (usual and model_row):
        return []
    plans = [(e.paper_id, (e.paper_id, e.developer_id), e.camera_id, e.metered_s) for e in usual]
    papers = {e.paper_id: e for e in usual}
    cameras = {camera.pk: camera for camera in Camera.objects.in_use()}
    candidates = [
        (paper, (paper, e.developer_id), camera, seconds)
        for paper, e in papers.items()
        for camera in cameras
        for seconds in TRIED_TIMES_S
    ]
    best = {}
    for test in teaching.worth_trying(teaching.from_data(model_row.data), candidates, plans):
        if len(best) < PROPOSED:
            best.setdefault(test.paper, test)
    return [
        _planned(test, papers[test.paper].paper, cameras[test.camera]) for test in best.values()
    ]


def _planned(test, paper, camera):
    """The fields that make it a plan: what a meter would say of light that asks for that time."""
    factor = optics.meter_factor(camera.f_number, optics.METER_F_NUMBER)
    fields = {
        "camera": str(camera.pk),
        "paper": str(paper.pk),
        "kind": "seconds",
        "seconds": f"{test.metered_s / factor:.3g}",
        "meter_f": str(optics.METER_F_NUMBER),
        "meter_iso": f"{paper.box_ei:g}",
        "ei_from": "box",
        "sheets": "single",
        "subject": f"test sheet, {paper}",
    }
    return TestPlan(paper, camera, test.metered_s, fields, test.before_stops, test.after_stops)


def learned():
    """Context of the Learn page."""
    pairs, pooled = queries.lessons()
    pairs.sort(key=lambda pair: -wording.changes_most(pair[0]))
    loud, quiet = findings()
    page = {"pairs": pairs, "pooled": pooled, "loud": loud, "quiet": quiet}
    page["differ"] = sum(lesson.speed != lesson.paper.box_ei for lesson, _ in pairs)
    page["shares"] = figures.shares([lesson for lesson, _ in pairs], loud + quiet)
    page["tests"] = tests_worth_making()
    page["months"] = figures.months_of(progress.months())
    page |= {"wasted": progress.wasted(), "cost": progress.cost()}
    page["odd"] = Evidence.objects.filter(
        reason="", weight__lt=teaching.model.NAMED_WEIGHT
    ).select_related("sheet__paper", "sheet__verdict")[:12]
    return page


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
