"""Learning from verdicts, and proposing what was learned to the next plan."""

import math
from contextlib import suppress

from django.db import IntegrityError, OperationalError
from django.db.models import F, Q

from chimney import beside
from chimney.darkroom.models import Development
from chimney.kit.models import Paper
from chimney.ledger.once import afterwards, current, setting, verb
from chimney.lessons import craft as learning
from chimney.lessons import queries
from chimney.lessons.models import Evidence, Finding, Lesson, WholeLog
from chimney.lessons.whole.craft import Eyes, whole_log
from chimney.lessons.whole.queries import shelf
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.results.models import Verdict
from chimney.results.training import queries as training

# A lesson that moves by a third of a stop since it was answered is asked about again.
NEWS_STOPS = 1 / 3
# A weight that moves by less is not written down.
WORTH_WRITING = 0.05
# More sheets are learned from beside the server: nobody waits for them.
QUICK_SHEETS = 1000
# Where the makings of an exposure stand in the data of its calculation.
SPECIFICATION = "sheet__exposures__calculation_data__specification"
# Weights are written down in strokes that hold nobody up.
STROKE = 200
# Why a sheet teaches the eye and nothing else.
JUDGED_BY_EYE = "light judged by eye, not metered"
# The same of a finding: in stops, and of an exponent.
NEWS = (NEWS_STOPS, 0.05)


@verb
def learn_from(sheet):
    """Take in the sheet's verdict as it stands now, or forget it, and estimate its lessons anew."""
    before = Evidence.objects.filter(sheet=sheet).first()
    Evidence.objects.filter(sheet=sheet).delete()
    after = _evidence(sheet)
    if after:
        after.save()
    if before or after:
        ask_to_learn()


def _evidence(sheet):
    """The Evidence of a sheet, unsaved; None when it was never judged, developed or exposed."""
    verdict = Verdict.objects.filter(sheet=sheet).first()
    through = Development.objects.exclude(developed_at=None).select_related("run__developer")
    development = through.filter(sheet=sheet).first()
    exposures = list(Exposure.objects.filter(sheet=sheet, slip="", given_s__gt=0))
    if not (verdict and development and exposures):
        return None
    newest, run = exposures[0], development.run
    needed = learning.said(newest, sheet.paper, verdict.stops_more)
    return Evidence(
        sheet=sheet,
        paper=sheet.paper,
        developer=run.developer,
        exposed_at=newest.made_at,
        camera_id=newest.camera_id,
        process=_process_of(run),
        reason=_reason_not(verdict, exposures),
        **needed,
    )


def _process_of(run):
    """Name of a run's process in the model of the log; nothing for one written down afterwards."""
    return f"{run.process_name}{', by eye' if run.by_eye else ''}"[:80] if run.process_key else ""


def _reason_not(verdict, exposures):
    """Reason why a sheet teaches no EI, or nothing."""
    misleading = [fault.words for fault in verdict.found if fault.misleads]
    if verdict.left_out:
        return "left out by you"
    if misleading:
        return f"{misleading[0]}: its density is not the exposure's"
    if len(exposures) > 1:
        return "exposed more than once"
    if exposures[0].is_strip and verdict.band is None:
        return "a test strip: say which of its bands is right"
    if exposures[0].calculation.reading.kind == "sky":
        return JUDGED_BY_EYE
    return ""


@setting
def ask_to_learn():
    """The log is another than the one that was learned from: it is learned anew when that is
    written down.
    """
    WholeLog.objects.get_or_create(pk=1)
    WholeLog.objects.filter(pk=1).update(changes=F("changes") + 1)
    afterwards(catch_up)


def catch_up():
    """Learn anew, unless that takes longer than anybody waits and is done beside the server."""
    if queries.counted_sheets() <= QUICK_SHEETS or not beside.is_alive():
        # Where somebody else holds the log, or changes it, it stays behind until it is asked again.
        with suppress(OperationalError, IntegrityError):
            relearn()


def learn_what_is_behind():
    """Learn what is behind; True if there was something."""
    behind = WholeLog.objects.exclude(learned_changes=F("changes")).exists()
    if behind:
        relearn()
    return behind


def relearn():
    """Every lesson anew from the whole log, in one model. It is reckoned while others write; what
    they write meanwhile leaves it behind.
    """
    changes = queries.changes()
    columns = queries.counted_columns()
    papers = Paper.objects.in_bulk(set(columns["paper_id"]))
    eyes = Eyes(training.eye(), training.eyes())
    log = whole_log(columns, papers, eyes, shelf())
    by_eye = (
        queries.timed().filter(Q(reason=JUDGED_BY_EYE) | Q(eye_stops__isnull=False)).exclude(sky="")
    )
    judged_by_eye = by_eye.select_related("paper")
    by_word = learning.eye_findings(judged_by_eye, log, eyes.sd_stops)
    _keep(log, log.findings() | by_word, changes)
    _weigh(columns, log.weights)


@setting
def _keep(log, findings, changes):
    """Keep what was learned of the log as it was after so many changes."""
    kept_data = {"data": log.as_data(), "learned_at": clock.now()}
    kept_data["learned_changes"] = changes
    WholeLog.objects.update_or_create(pk=1, defaults=kept_data)
    _write_lessons(log)
    _write_findings(findings)


def _weigh(columns, weights):
    """Write the weight of each sheet, where it moved so far that a page would show it."""
    moved = [
        Evidence(pk=pk, weight=weight)
        for pk, before, weight in zip(columns["pk"], columns["weight"], weights, strict=True)
        if abs(before - weight) > WORTH_WRITING
    ]
    for start in range(0, len(moved), STROKE):
        _write_weights(moved[start : start + STROKE])


@setting
def _write_weights(moved):
    Evidence.objects.bulk_update(moved, ["weight"])


def _write_lessons(log):
    """The EI of each pair, and of each paper in any developer; no counted sheet, no lesson."""
    lessons = {(lesson.paper_id, lesson.developer_id): lesson for lesson in Lesson.objects.all()}
    ratings = log.ratings()
    learned = []
    for (paper, developer), (rating, sheets) in ratings.items():
        columns = {
            "ei": rating.ei,
            "low": rating.low,
            "high": rating.high,
            "sd_log2": rating.sd_log2,
            "sheets": sheets,
        }
        lesson = lessons.get((paper, developer)) or Lesson(paper_id=paper, developer_id=developer)
        if not _is_news(lesson, columns):
            continue
        if lesson.answered_ei and abs(math.log2(rating.ei / lesson.answered_ei)) >= NEWS_STOPS:
            lesson.standing, lesson.answered_ei = Lesson.Standing.NEW, None
        learned.append(lesson)
    _write_down(Lesson, learned, [lessons[pair] for pair in lessons.keys() - ratings.keys()])


def _write_findings(learned):
    """Write the findings on exponents, cameras, lights, processes and the eye."""
    findings = {(finding.kind, finding.of): finding for finding in Finding.objects.all()}
    written = []
    for name, (columns, share) in learned.items():
        finding = findings.get(name) or Finding(kind=name[0], of=name[1])
        shared = {"mean": share.mean, "sd": share.sd, "sheets": share.sheets}
        if not _is_news(finding, columns | shared):
            continue
        before, news = finding.answered_mean, NEWS[name[0] == Finding.Kind.EXPONENT]
        # What was kept follows the log; what was refused is asked about again.
        refused = finding.standing == Finding.Standing.DECLINED
        if refused and before is not None and abs(share.mean - before) >= news:
            finding.standing, finding.answered_mean = Finding.Standing.NEW, None
        written.append(finding)
    _write_down(Finding, written, [findings[name] for name in findings.keys() - learned.keys()])


def _is_news(row, columns):
    """False if a row says these columns already; else it says them from now on."""
    if row.pk and all(getattr(row, name) == value for name, value in columns.items()):
        return False
    for name, value in columns.items():
        setattr(row, name, value)
    row.learned_at = clock.now()
    return True


def _write_down(model, rows, dropped):
    """Write new and changed rows, and drop others: a few questions for all of them."""
    model.objects.filter(pk__in=[row.pk for row in dropped]).delete()
    columns = [field.name for field in model._meta.concrete_fields if not field.primary_key]
    changed = [row for row in rows if row.pk]
    # Whole rows over what stands there: an update of each column of each row takes five times that.
    model.objects.bulk_create(
        changed, update_conflicts=True, update_fields=columns, unique_fields=["pk"]
    )
    model.objects.bulk_create([row for row in rows if not row.pk])


@verb
def complete():
    """Write down anew what was written before there was a model of the whole log, or by an older
    one.
    """
    taught = Evidence.objects.select_related("sheet__paper")
    missing = taught.filter(metered_s=None)
    if missing.exists() or not WholeLog.objects.filter(data__has_key="lower").exists():
        write_anew(missing)
        write_anew(taught.filter(**{f"{SPECIFICATION}__filter_stops__gt": 0}).distinct())
        ask_to_learn()


@verb
def answer(lesson, standing):
    """Keep proposing it, or do not, until it moves."""
    lesson = current(lesson)
    lesson.standing, lesson.answered_ei = standing, lesson.ei
    lesson.save(update_fields=["standing", "answered_ei"])


@verb
def answer_finding(finding, standing):
    """Let it into the plans, or keep it out, until it moves."""
    finding = current(finding)
    finding.standing, finding.answered_mean = standing, finding.mean
    finding.save(update_fields=["standing", "answered_mean"])


@verb
def see_all():
    """Everything new was seen: it is used as before, and no news."""
    new = Lesson.Standing.NEW
    Lesson.objects.filter(standing=new).update(standing=Lesson.Standing.KEPT, answered_ei=F("ei"))
    kept = {"standing": Lesson.Standing.KEPT, "answered_mean": F("mean")}
    Finding.objects.filter(standing=new).clear().update(**kept)


def write_anew(taught):
    """Evidence as its sheets say it now; where the first says what it said, so do the others."""
    for number, evidence in enumerate(taught.iterator(chunk_size=200)):
        fresh = _evidence(evidence.sheet)
        if fresh is None:
            continue
        if number == 0 and evidence.metered_s and _same(fresh, evidence):
            return
        fresh.pk = evidence.pk
        fresh.save()


def _same(fresh, evidence):
    names = ("metered_s", "needed_s", "log2_ei", "filter_stops")
    return all(math.isclose(getattr(fresh, n), getattr(evidence, n)) for n in names)
