"""The pair of paper and developer that the Learn page is about, an exposure, and its sheets."""

import math
from contextlib import suppress
from dataclasses import dataclass
from statistics import NormalDist

from chimney.kit.models import Camera
from chimney.ledger.keys import row_key
from chimney.lessons.craft import CLOUD, LOW_SUN
from chimney.lessons.models import Evidence, Finding, Lesson
from chimney.lessons.progress import queries as progress
from chimney.lessons.queries import TIMES_S, of_pairs
from chimney.lessons.whole.craft import filter_key
from chimney.results.training.craft import UNTRAINED_SD
from pinhole import exposure
from pinhole.lessons import CENTRAL_90

# A drawing shows so many of the newest sheets; the model counts all.
MOST_DOTS, MOST_OF_PAIRS = 60, 2000
# No filter takes more (common practice).
MOST_FILTER_STOPS = 20.0
KINDS_OF_LIGHT = (LOW_SUN, CLOUD)


@dataclass(frozen=True)
class Occasion:
    """An exposure that the page asks about: lesson of its pair; camera, light; metered_s: at the
    box EI; sheet: the row that it is like, None for a plan; subject: what it is of, or ""; glass:
    key of its filter.
    """

    lesson: Lesson
    camera: Camera | None
    light: str
    metered_s: float
    sheet: object = None
    subject: str = ""
    glass: str | None = None


def pairs():
    """Lessons of pairs, most sheets first."""
    return sorted(of_pairs().exclude(developer=None), key=lambda lesson: -lesson.sheets)


def occasion(lessons, params):
    """The Occasion that an address asks for: a plan's own, else the newest sheet of the pair
    chosen, else of all.
    """
    chosen = row_key(params.get("lesson"))
    lesson = next((row for row in lessons if row.pk == chosen), None)
    rows = Evidence.objects.filter(metered_s__range=TIMES_S, reason="")
    rows = rows.select_related("camera", "sheet")
    if lesson is None:
        newest = rows.first()
        same = (row for row in lessons if newest and row.paper_id == newest.paper_id)
        fit = [row for row in same if row.developer_id == newest.developer_id]
        lesson = fit[0] if fit else lessons[0]
    newest = rows.filter(paper=lesson.paper_id, developer=lesson.developer_id).first()
    return _of_plan(lesson, params) or (newest and _of_sheet(lesson, newest))


def _of_plan(lesson, params):
    """The Occasion of a plan that an address tells of, None where it does not."""
    try:
        metered_s = float(params.get("metered_s", ""))
    except ValueError:
        return None
    if not TIMES_S[0] <= metered_s <= TIMES_S[1]:
        return None
    camera = Camera.objects.filter(pk=row_key(params.get("camera"))).first()
    light = next((kind for kind in KINDS_OF_LIGHT if kind == params.get("light")), "")
    subject = str(params.get("subject", ""))[:120]
    return Occasion(lesson, camera, light, metered_s, subject=subject, glass=_glass(params))


def _glass(params):
    """Key of the filter that an address names, None for none."""
    with suppress(ValueError):
        stops = float(params.get("filter_stops") or 0.0)
        return filter_key(stops) if 0 < stops < MOST_FILTER_STOPS else None
    return None


def _of_sheet(lesson, evidence):
    exposure = evidence.sheet.last_exposure
    subject = exposure.subject if exposure else ""
    return Occasion(
        lesson,
        evidence.camera,
        evidence.light,
        evidence.metered_s,
        evidence.sheet,
        subject,
        filter_key(evidence.filter_stops),
    )


def sheets_of(lesson):
    """The newest Evidence of a pair with its sheets."""
    rows = Evidence.objects.filter(paper=lesson.paper_id, developer=lesson.developer_id)
    timed = rows.filter(metered_s__range=TIMES_S, needed_s__range=TIMES_S)
    return list(timed.select_related("sheet", "camera")[:MOST_DOTS])


def dots_of_pairs():
    """{(paper, developer): [(metered_s, needed_s)]} of the newest counted sheets."""
    rows = Evidence.objects.filter(metered_s__range=TIMES_S, needed_s__range=TIMES_S, reason="")
    by_pair = {}
    columns = ("paper_id", "developer_id", "metered_s", "needed_s")
    for paper, developer, metered_s, needed_s in rows.values_list(*columns)[:MOST_OF_PAIRS]:
        by_pair.setdefault((paper, developer), []).append((metered_s, needed_s))
    return by_pair


def findings():
    """{(kind, of): Finding} with their cameras and papers."""
    return {(row.kind, row.of): row for row in Finding.objects.select_related("camera", "paper")}


@dataclass(frozen=True)
class WithinHalf:
    """The first months, None of one alone, and the last: (words, sheets, those within half a
    stop); of looked_at sheets, those inside the range of their plan, and how many were due to be,
    each seen by an eye that is half a stop unsure.
    """

    early: tuple
    late: tuple
    months: list
    inside: int
    due: int
    looked_at: int


# The ranges of so many of the newest sheets are looked at.
RANGES_LOOKED_AT = 60


def progress_line():
    """The WithinHalf of the log, None before its first month."""
    every = progress.months()
    if not every:
        return None
    half = len(every) // 2
    early = _together(every[:half]) if half else None
    return WithinHalf(early, _together(every[half:]), every, *_in_their_range())


def _together(few):
    ends = f"{few[0].first:%b}", f"{few[-1].first:%b}"
    words = ends[0] if len(few) == 1 else f"{ends[0]} to {ends[1]}"
    return words, sum(month.sheets for month in few), sum(month.good for month in few)


def _in_their_range():
    """(sheets that needed a time within the range of their plan, how many of them were due to, all)
    of the newest.
    """
    rows = Evidence.objects.filter(reason="", sheet__exposures__given_s__gt=0, needed_s__gt=0)
    values = rows.values_list("needed_s", "sheet__exposures__calculation_data")[:RANGES_LOOKED_AT]
    ranges = [(needed_s, exposure.from_data(data)) for needed_s, data in values]
    inside = sum(plan.low_s <= needed_s <= plan.high_s for needed_s, plan in ranges)
    return inside, round(math.fsum(_chance(plan) for _, plan in ranges)), len(ranges)


def _chance(plan):
    """Chance that a verdict falls into the range of a plan whose doubt is true."""
    wide = math.hypot(plan.sd_stops, UNTRAINED_SD)
    return 2 * NormalDist(0, wide).cdf(CENTRAL_90 * plan.sd_stops) - 1
