"""Progress of a photographer: sheets near to right month by month, what went wrong, and before and
after a lesson.
"""

from collections import Counter
from dataclasses import dataclass
from datetime import date

from django.db.models import CharField, Count, Q
from django.db.models.functions import Cast, Substr

from chimney.kit.models import Box
from chimney.logbook.models import Sheet
from chimney.results.models import Verdict
from pinhole.faults import FAULTS

MOST_MONTHS = 24
# In the box or in a holder they have cost nothing yet.
UNUSED = (Sheet.Stage.BOXED, Sheet.Stage.LOADED)
# Judged sheets this near to right are good ones.
GOOD_STOPS = 0.5
RATING_WORDS = (("box", "rated at the box EI"), ("learned", "rated at the learned EI"))


@dataclass(frozen=True)
class Month:
    """first: its first day; sheets judged in it, those within half a stop, those that teach
    nothing.
    """

    first: object
    sheets: int
    good: int
    wasted: int

    @property
    def share(self):
        return self.good / self.sheets


def months():
    """[Month] of the last two years in which a sheet was judged, oldest first."""
    rows = (
        # As the database writes a day: cheaper than a calendar over a whole log.
        Verdict.objects.annotate(month=Substr(Cast("judged_at", CharField()), 1, 7))
        .order_by("month")
        .values("month")
        .annotate(
            sheets=Count("pk"),
            good=Count("pk", filter=Q(stops_more__range=(-GOOD_STOPS, GOOD_STOPS))),
            wasted=Count("pk", filter=Q(left_out=True)),
        )
    )
    return [
        Month(date.fromisoformat(f"{row['month']}-01"), row["sheets"], row["good"], row["wasted"])
        for row in list(rows)[-MOST_MONTHS:]
    ]


def wasted():
    """[(cause, sheets)] of sheets that came to nothing, the commonest first."""
    causes = Counter()
    for faults in Verdict.objects.exclude(faults=[]).values_list("faults", flat=True):
        causes.update(code for code in faults)
    named = [(FAULTS[code].words, n) for code, n in causes.items() if code in FAULTS]
    wasted_sheets = Sheet.objects.filter(stage__in=(Sheet.Stage.SPOILED, Sheet.Stage.LOST))
    stages = wasted_sheets.order_by().values_list("stage").annotate(Count("pk"))
    named += [(Sheet.Stage(stage).label, count) for stage, count in stages]
    return sorted(named, key=lambda row: -row[1])


@dataclass(frozen=True)
class Cost:
    """Cost of sheets out of priced boxes: of all, of those read and near to right, and of one of
    these when the others are paid for too.
    """

    sheets: int
    good: int
    each: float


def cost():
    """The Cost of sheets out of boxes whose price was typed; None without a good one."""
    boxes = Box.objects.filter(price__gt=0)
    used = Sheet.objects.filter(box__in=boxes).exclude(stage__in=UNUSED)
    good = used.filter(
        verdict__stops_more__range=(-GOOD_STOPS, GOOD_STOPS), verdict__left_out=False
    )
    count = dict(used.order_by().values_list("box").annotate(Count("pk")))
    spent = sum(count.get(box.pk, 0) * box.price / box.pieces for box in boxes)
    good_count = good.count()
    return Cost(sum(count.values()), good_count, spent / good_count) if good_count else None


def by_rating(lesson):
    """[(words, sheets, share within half a stop)] of the lesson's sheets by the EI that they were
    rated at: before and after it was learned.
    """
    is_near = Q(sheet__verdict__stops_more__range=(-GOOD_STOPS, GOOD_STOPS))
    # A sheet that counts has one exposure that does.
    counted = {"reason": "", "sheet__exposures__slip": "", "sheet__exposures__given_s__gt": 0}
    rows = lesson.evidence.filter(**counted).order_by().values_list("sheet__exposures__ei_from")
    rows = rows.annotate(all=Count("pk"), good=Count("pk", filter=is_near))
    counts = {rated: (sheets, good / sheets) for rated, sheets, good in rows if sheets}
    return [(label, *counts[rated]) for rated, label in RATING_WORDS if rated in counts]
