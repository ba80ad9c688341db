"""The Learn page: one exposure, by all that its log knows."""

import math
from dataclasses import dataclass, replace
from urllib.parse import urlencode

from django.urls import reverse

from chimney.lessons.explained import craft, figures, queries, wording
from chimney.lessons.models import Evidence, Finding, Lesson
from chimney.lessons.progress import queries as progress
from chimney.lessons.proposing import queries as proposing
from pinhole import lessons as teaching
from pinhole import optics

MOST_ODD, MOST_BARS = 3, 4


@dataclass(frozen=True)
class Row:
    """A share as the page tells it: name, under it what speaks of it; switch: (address, is_on),
    None where there is none; hint: (words, address) or None.
    """

    share: craft.ExplainedShare
    name: str
    under: str
    switch: tuple | None = None
    hint: tuple | None = None

    @property
    def bar(self):
        return figures.bar(self.share)

    @property
    def range(self):
        return wording.range_words(self.share)


@dataclass(frozen=True)
class Tab:
    """A pair to choose: its lesson, a small drawing, and the time of the exposure asked about."""

    lesson: Lesson
    drawing: object
    words: str
    href: str
    is_chosen: bool


def learned(params):
    """Context of the Learn page."""
    lessons, knowledge = queries.pairs(), proposing.knowledge()
    occasion = queries.occasion(lessons, params) if lessons and knowledge else None
    if occasion is None:
        return {"explained": None}
    explained = craft.Explained(occasion, knowledge)
    tests = explained.tests()
    after = tests[0].after
    sheets = queries.sheets_of(occasion.lesson)
    page = {"explained": explained, "headline": wording.headline(explained), "occasion": occasion}
    page |= {"low": wording.say(explained.range_s[0]), "high": wording.say(explained.range_s[2])}
    page |= {"yours": wording.say(explained.range_s[1]), "box": wording.say(explained.box_s)}
    page |= {"tabs": _tabs(lessons, knowledge, occasion), "rows": _rows(explained)}
    page |= {"drawing": figures.needs(explained, sheets, after)}
    page |= {"magnified": figures.magnified(explained, after), "sum": _sum(explained)}
    page |= {"apart": wording.apart(explained)}
    page |= {"counted": sum(not e.reason for e in sheets)}
    page |= {"left_out": sum(bool(e.reason) for e in sheets)} | _test(tests, explained)
    page |= {"progress": queries.progress_line(), "odd": _odd(), "news": _news()}
    return page | {"cost": progress.cost(), "wasted": progress.wasted()[:4]}


def _tabs(lessons, knowledge, occasion):
    dots, tabs = queries.dots_of_pairs(), []
    for lesson in lessons:
        of_pair = replace(occasion, lesson=lesson, sheet=None, subject="")
        explained = craft.Explained(of_pair, knowledge)
        rows = dots.get((lesson.paper_id, lesson.developer_id), [])[: queries.MOST_DOTS]
        ends = [min(m for m, _ in rows), max(m for m, _ in rows)] if rows else [1.0, 60.0]
        box, own = (
            [(m, adjusted_s(m)) for m in ends]
            for adjusted_s in (explained.school.adjusted_s, explained.planned_s)
        )
        drawing = figures.tab(box, rows, own)
        words = f"metered {wording.say(occasion.metered_s)}: {wording.say(explained.range_s[1])}"
        is_chosen = lesson.pk == occasion.lesson.pk
        tabs.append(Tab(lesson, drawing, words, f"?{urlencode(_query_of(of_pair))}", is_chosen))
    return tabs


def _query_of(occasion):
    """The address that asks about a Occasion."""
    fields = {
        "lesson": occasion.lesson.pk,
        "metered_s": f"{occasion.metered_s:.6g}",
        "light": occasion.light,
    }
    return fields | {
        "camera": occasion.camera.pk if occasion.camera else "",
        "subject": occasion.subject,
        "filter_stops": occasion.glass or "",
    }


def _rows(explained):
    """(rows of this exposure, rows of other_rows)."""
    findings = queries.findings()
    mine = [_row(share, explained, findings) for share in explained.shares]
    other_rows = [_row(share, explained, findings) for share in explained.other_shares]
    other_rows += [
        _row(craft.ExplainedShare("eye", row.of, row.mean, row.sd, row.sheets), explained, findings)
        for row in findings.values()
        if row.kind == Finding.Kind.EYE
    ]
    return mine, sorted(other_rows, key=lambda row: -abs(row.share.stops) / row.share.sd)


def _row(share, explained, findings):
    finding = findings.get((share.kind, str(share.key)))
    name = wording.name_of(share, explained)
    if share.kind == "camera" and finding:
        name = str(finding.camera)
    elif share.kind == "process":
        name = f"{share.key[:1].upper()}{share.key[1:]}"
    under = f"{wording.under(share, explained)}{wording.more_sheets(finding)}"
    return Row(share, name, under, _switch(share, explained, finding), wording.hint(finding))


def _switch(share, explained, finding):
    declined = Lesson.Standing.DECLINED
    if share.kind == "speed":
        lesson = explained.lesson
        return reverse("lessons:answer", args=[lesson.pk]), lesson.standing != declined
    if finding is None:
        return None
    return reverse("lessons:answer_finding", args=[finding.pk]), finding.standing != declined


def _sum(explained):
    """The Row of all shares together."""
    stops = math.log2(explained.range_s[1] / explained.box_s)
    share = craft.ExplainedShare("together", None, stops, explained.sd_stops, 0)
    return {
        "share": share,
        "bar": figures.bar(share, is_sum=True),
        "range": wording.range_words(share),
        "times": 2.0**stops,
    }


def _test(trials, explained):
    """The test sheet that tells most, beside other_rows."""
    best = trials[0]
    if best.narrowing <= 0:
        return {}
    heading, sentence = wording.test_words(best, explained)
    bars = [
        (wording.trial_words(row), row.narrowing, 100 * row.narrowing / best.narrowing)
        for row in trials[:MOST_BARS]
    ]
    page = {"test": heading, "test_words": sentence, "bars": bars}
    return page | {"test_fields": test_fields(best, explained)}


def test_fields(trial, explained):
    """Fields of the plan of a test sheet: what a meter says of light that asks for that time."""
    camera, paper = explained.occasion.camera, explained.lesson.paper
    f_number = camera.f_number if camera else optics.METER_F_NUMBER
    seconds = trial.metered_s / optics.meter_factor(f_number, optics.METER_F_NUMBER)
    fields = {"camera": str(camera.pk)} if camera else {}
    fields |= {"paper": str(paper.pk), "kind": "seconds", "seconds": f"{seconds:.3g}"}
    fields |= {"meter_f": str(optics.METER_F_NUMBER), "meter_iso": f"{paper.box_ei:g}"}
    fields |= {"ei_from": "learned", "sheets": "strip" if trial.kind == "strip" else "single"}
    return fields | {"bands": "4", "bracket_stops": "0.5", "subject": f"test sheet, {paper}"}


def _odd():
    """Evidence that agrees with no other."""
    rows = Evidence.objects.filter(reason="", weight__lt=teaching.model.NAMED_WEIGHT)
    return rows.select_related("sheet")[:MOST_ODD]


def _news():
    """Number of findings and lessons that nobody has seen yet."""
    new = Lesson.Standing.NEW
    lessons = Lesson.objects.filter(standing=new).exclude(developer=None).count()
    return lessons + Finding.objects.filter(standing=new).clear().count()
