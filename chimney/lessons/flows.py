"""Learning from verdicts, and proposing what was learned to the next plan."""

import math
from dataclasses import dataclass

from django.db.models import Max

from chimney.darkroom.models import Development
from chimney.kit.models import Paper
from chimney.ledger.once import current, verb
from chimney.lessons.models import Evidence, Lesson
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.parts.scales import number
from chimney.results.models import Verdict
from pinhole import exposure as craft
from pinhole import lessons as teaching

# A lesson that moves by a third of a stop since it was answered is asked about again.
NEWS_STOPS = 1 / 3


@verb
def learn_from(sheet):
    """Take in the sheet's verdict as it stands now, or forget it, and draw its lessons anew."""
    before = Evidence.objects.filter(sheet=sheet).first()
    Evidence.objects.filter(sheet=sheet).delete()
    after = _evidence(sheet)
    if after:
        after.save()
    for paper, developer in {(e.paper, e.developer) for e in (before, after) if e}:
        draw(paper, developer)
        draw(paper, None)


def _evidence(sheet):
    """The Evidence of a sheet, unsaved; None when it was never judged, developed or exposed."""
    verdict = Verdict.objects.filter(sheet=sheet).first()
    development = Development.objects.select_related("developer").filter(sheet=sheet).first()
    exposures = list(Exposure.objects.filter(sheet=sheet, slip="", given_s__gt=0))
    if not (verdict and development and exposures):
        return None
    newest = exposures[0]
    stops = craft.stops_more_than_box(newest.done, newest.effective_s, verdict.stops_more, sheet.paper.box_ei)
    return Evidence(
        sheet=sheet,
        paper=sheet.paper,
        developer=development.developer,
        exposed_at=newest.made_at,
        log2_ei=math.log2(sheet.paper.box_ei) - stops,
        reason=_reason_not(verdict, exposures),
    )


def _reason_not(verdict, exposures):
    """Why a sheet teaches no EI, or nothing."""
    misleading = [fault.words for fault in verdict.found if fault.misleads]
    if verdict.left_out:
        return "left out by you"
    if misleading:
        return f"{misleading[0]}: its density is not the exposure's"
    if len(exposures) > 1:
        return "exposed more than once"
    if exposures[0].is_strip:
        return "a test strip: each band had a time of its own"
    if exposures[0].done.reading.kind == "sky":
        return "light judged by eye, not metered"
    return ""


def draw(paper, developer):
    """Compute one lesson anew; no counted sheet, no lesson."""
    counted = Evidence.objects.filter(paper=paper, reason="")
    if developer:
        counted = counted.filter(developer=developer)
    box = math.log2(paper.box_ei)
    stops = [box - log2_ei for log2_ei in counted.values_list("log2_ei", flat=True)]
    if not stops:
        Lesson.objects.filter(paper=paper, developer=developer).delete()
        return
    found = teaching.estimate_ei(paper.box_ei, stops)
    given = {"ei": found.ei, "low": found.low, "high": found.high, "sd_log2": found.sd_log2, "sheets": len(stops)}
    lesson, _ = Lesson.objects.update_or_create(
        paper=paper, developer=developer, defaults=given | {"learned_at": clock.now()}
    )
    if lesson.answered_ei and abs(math.log2(lesson.ei / lesson.answered_ei)) >= NEWS_STOPS:
        lesson.standing, lesson.answered_ei = Lesson.Standing.NEW, None
        lesson.save(update_fields=["standing", "answered_ei"])


def draw_all_of(paper):
    """The starting EI is where the prior stands, so its change moves every lesson of the paper."""
    for lesson in Lesson.objects.filter(paper=paper).select_related("developer"):
        draw(paper, lesson.developer)


@verb
def answer(lesson, standing):
    """Keep proposing it, or do not, until it moves."""
    lesson = current(lesson)
    lesson.standing, lesson.answered_ei = standing, lesson.ei
    lesson.save(update_fields=["standing", "answered_ei"])


@dataclass(frozen=True)
class Proposal:
    """The EI to plan with: ei, how sure [stops], where it is from and why."""

    ei: float
    sd_stops: float
    ei_from: str
    why: str
    lesson: Lesson | None = None


def box(paper):
    why = f"Starting EI of {paper}; nothing of yours is in it."
    return Proposal(paper.box_ei, craft.EI_SD_STOPS, Exposure.EiFrom.BOX, why)


def propose(paper, developer):
    """What the log proposes for the pair, else for the paper in any developer, else None."""
    found = {
        lesson.developer_id: lesson
        for lesson in Lesson.objects.filter(paper=paper).select_related("developer", "paper")
        if lesson.developer_id in (None, developer and developer.pk)
    }
    return _from_lesson(found.get(developer.pk) if developer and developer.pk in found else found.get(None))


def _from_lesson(lesson):
    if lesson is None or lesson.standing == Lesson.Standing.DECLINED:
        return None
    bath = f"in {lesson.developer}" if lesson.developer else "in all your developers"
    sheets = "1 sheet of yours" if lesson.sheets == 1 else f"{lesson.sheets} sheets of yours"
    why = f"{sheets} {bath}: EI between {number(lesson.low, 2)} and {number(lesson.high, 2)}."
    return Proposal(lesson.speed, lesson.sd_log2, Exposure.EiFrom.LEARNED, why, lesson)


def usual_proposals(papers):
    """{paper's pk: the Proposal a plan for it would start from}, in two queries however many papers."""
    newest = Development.objects.order_by().values("sheet__paper").annotate(last=Max("pk")).values("last")
    usual = dict(Development.objects.filter(pk__in=newest).values_list("sheet__paper", "developer"))
    found = {(one.paper_id, one.developer_id): one for one in Lesson.objects.select_related("paper", "developer")}
    return {paper.pk: _proposed(found, paper, usual.get(paper.pk)) or box(paper) for paper in papers}


def usual_proposal(paper):
    """The same for one paper."""
    return usual_proposals([paper])[paper.pk]


def _proposed(found, paper, developer_id):
    lesson = found.get((paper.pk, developer_id)) if developer_id else None
    return _from_lesson(lesson or found.get((paper.pk, None)))


def usual_developer_id(paper):
    """The developer that the paper went into last."""
    last = Development.objects.filter(sheet__paper=paper).order_by("-pk").values_list("developer", flat=True)
    return last.first()


def paper_saved(sender, instance, **kwargs):
    if isinstance(instance, Paper):
        draw_all_of(instance)
