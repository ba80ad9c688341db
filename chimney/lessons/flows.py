"""Learning from verdicts, and proposing what was learned to the next plan."""

import math

from chimney.darkroom.models import Development
from chimney.kit.models import Paper
from chimney.ledger.once import current, verb
from chimney.lessons.models import Evidence, Lesson
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.results.models import Verdict
from chimney.results.training import queries as training
from chimney.results.training.craft import UNTRAINED_SD
from pinhole import exposure as craft
from pinhole import lessons as teaching

# A lesson that moves by a third of a stop since it was answered is asked about again.
NEWS_STOPS = 1 / 3


@verb
def learn_from(sheet):
    """Take in the sheet's verdict as it stands now, or forget it, and estimate its lessons anew."""
    before = Evidence.objects.filter(sheet=sheet).first()
    Evidence.objects.filter(sheet=sheet).delete()
    after = _evidence(sheet)
    if after:
        after.save()
    for paper, developer in {(e.paper, e.developer) for e in (before, after) if e}:
        estimate(paper, developer)
        estimate(paper, None)


def _evidence(sheet):
    """The Evidence of a sheet, unsaved; None when it was never judged, developed or exposed."""
    verdict = Verdict.objects.filter(sheet=sheet).first()
    through = Development.objects.exclude(developed_at=None).select_related("run__developer")
    development = through.filter(sheet=sheet).first()
    exposures = list(Exposure.objects.filter(sheet=sheet, slip="", given_s__gt=0))
    if not (verdict and development and exposures):
        return None
    newest = exposures[0]
    stops = craft.stops_more_than_box(
        newest.calculation, newest.effective_s, verdict.stops_more, sheet.paper.box_ei
    )
    return Evidence(
        sheet=sheet,
        paper=sheet.paper,
        developer=development.run.developer,
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
    if exposures[0].calculation.reading.kind == "sky":
        return "light judged by eye, not metered"
    return ""


def estimate(paper, developer):
    """Compute one lesson anew; no counted sheet, no lesson."""
    counted = Evidence.objects.filter(paper=paper, reason="")
    if developer:
        counted = counted.filter(developer=developer)
    box = math.log2(paper.box_ei)
    stops = [box - log2_ei for log2_ei in counted.values_list("log2_ei", flat=True)]
    if not stops:
        Lesson.objects.filter(paper=paper, developer=developer).delete()
        return
    eye = training.eye()
    if eye.is_known:
        # What an eye asks for too much was not needed.
        stops = [stop - eye.bias_stops for stop in stops]
    sd = eye.spread_stops if eye.is_known else UNTRAINED_SD
    rating = teaching.estimate_ei(paper.box_ei, stops, judgement_sd=sd)
    columns = {
        "ei": rating.ei,
        "low": rating.low,
        "high": rating.high,
        "sd_log2": rating.sd_log2,
        "sheets": len(stops),
    }
    lesson, _ = Lesson.objects.update_or_create(
        paper=paper, developer=developer, defaults=columns | {"learned_at": clock.now()}
    )
    if lesson.answered_ei and abs(math.log2(lesson.ei / lesson.answered_ei)) >= NEWS_STOPS:
        lesson.standing, lesson.answered_ei = Lesson.Standing.NEW, None
        lesson.save(update_fields=["standing", "answered_ei"])


def estimate_all_of(paper):
    """The starting EI is where the prior stands, so its change moves every lesson of the paper."""
    for lesson in Lesson.objects.filter(paper=paper).select_related("developer"):
        estimate(paper, lesson.developer)


def eye_trained(sender, **kwargs):
    """How sure verdicts are, and what they lean to, stands in every lesson."""
    for lesson in Lesson.objects.select_related("paper", "developer"):
        estimate(lesson.paper, lesson.developer)


@verb
def answer(lesson, standing):
    """Keep proposing it, or do not, until it moves."""
    lesson = current(lesson)
    lesson.standing, lesson.answered_ei = standing, lesson.ei
    lesson.save(update_fields=["standing", "answered_ei"])


def paper_saved(sender, instance, **kwargs):
    if isinstance(instance, Paper):
        estimate_all_of(instance)
