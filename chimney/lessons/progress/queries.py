"""How good one has become: sheets near to right month by month, what went wrong, and before and
after a lesson.
"""

from collections import Counter
from dataclasses import dataclass

from django.db.models import Count, Q
from django.db.models.functions import TruncMonth

from chimney.lessons.queries import behind
from chimney.logbook.models import Sheet
from chimney.results.catalogue.faults import BY_CODE
from chimney.results.models import Verdict

MOST_MONTHS = 24
# Judged sheets this near to right are good ones.
GOOD_STOPS = 0.5


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
        Verdict.objects.annotate(month=TruncMonth("judged_at"))
        .order_by("month")
        .values("month")
        .annotate(
            sheets=Count("pk"),
            good=Count("pk", filter=Q(stops_more__range=(-GOOD_STOPS, GOOD_STOPS))),
            wasted=Count("pk", filter=Q(left_out=True)),
        )
    )
    return [Month(r["month"], r["sheets"], r["good"], r["wasted"]) for r in rows][-MOST_MONTHS:]


def wasted():
    """[(cause, sheets)] of sheets that came to nothing, the commonest first."""
    causes = Counter()
    for faults in Verdict.objects.values_list("faults", flat=True):
        causes.update(code for code in faults)
    named = [(BY_CODE[code].words, n) for code, n in causes.items() if code in BY_CODE]
    gone = Sheet.objects.filter(stage__in=(Sheet.Stage.SPOILED, Sheet.Stage.LOST))
    stages = gone.order_by().values_list("stage").annotate(Count("pk"))
    named += [(Sheet.Stage(stage).label, count) for stage, count in stages]
    return sorted(named, key=lambda row: -row[1])


def by_rating(lesson):
    """[(words, sheets, share within half a stop)] of the lesson's sheets by the EI that they were
    rated at: before and after it was learned.
    """
    rows = behind(lesson).filter(reason="").order_by()
    found = []
    for value, words in (("box", "rated at the box EI"), ("learned", "rated at the learned EI")):
        stops = rows.filter(sheet__exposures__ei_from=value)
        stops = list(stops.values_list("sheet__verdict__stops_more", "sheet").distinct())
        if stops:
            good = sum(abs(stop) <= GOOD_STOPS for stop, _ in stops)
            found.append((words, len(stops), good / len(stops)))
    return found
