"""The whole log asked in plain fields, and the sheets most like a plan."""

import math
from datetime import date, datetime, time, timedelta
from functools import reduce
from operator import or_

from django.db.models import Max, Min, Prefetch, Q
from django.utils import timezone

from chimney.darkroom.models import Development
from chimney.lessons.craft import CLOUD, LOW_SUN
from chimney.lessons.models import Evidence, KeptSearch
from chimney.lessons.queries import timed
from chimney.lessons.search.craft import understand
from chimney.logbook.models import Exposure, Opening, Sheet
from chimney.logbook.queries import with_thread, with_word
from chimney.results.models import Verdict
from pinhole import media

# No sheet was cut outside of these, and every clock knows them.
OLDEST, NEWEST_DAY = date(1900, 1, 1), date(9998, 1, 1)
# Of so many of the newest sheets the nearest are found.
MOST_LOOKED_AT = 2000
# Amounts this near count as the one that was asked for [stops].
HALF_A_STEP = 0.25
# How many earlier sheets a plan is shown.
SHOWN_NEAR = 3


def nearest(paper, camera, seconds):
    """[(sheet, verdict, evidence)] of the same paper whose time was nearest, the same camera
    counting as a stop nearer.
    """
    rows = timed().filter(paper=paper).select_related("sheet__paper", "sheet__verdict")
    wanted_log2 = math.log2(seconds)

    def off(evidence):
        is_other_camera = bool(camera) and evidence.camera_id != camera.pk
        return abs(math.log2(evidence.needed_s) - wanted_log2) + is_other_camera

    nearest_rows = sorted(rows[:MOST_LOOKED_AT], key=off)[:SHOWN_NEAR]
    codes = with_thread(Sheet.objects.filter(pk__in=[e.sheet_id for e in nearest_rows])).in_bulk()
    return [(codes[e.sheet_id], e.sheet.verdict, e) for e in nearest_rows]


def processes():
    """The names of processes that judged sheets went through."""
    names = Evidence.objects.order_by("process").values_list("process", flat=True).distinct()
    return [name for name in names if name]


VERDICTS = {
    "more": {"verdict__stops_more__gte": 0.5},
    "right": {"verdict__stops_more__gt": -0.5, "verdict__stops_more__lt": 0.5},
    "less": {"verdict__stops_more__lte": -0.5},
    "none": {"verdict": None},
}
LIGHT_CONDITIONS = {
    "eye": {"exposures__calculation_data__reading__kind": "sky"},
    "low": {"evidence__light": LOW_SUN},
    "cloud": {"evidence__light": CLOUD},
}
# What each field asks; places are known by the rooms above, which hang them on exposures and cans.
SEARCH_FIELDS = {
    "paper": "paper",
    "camera": "exposures__camera",
    "developer": "development__run__developer",
    "process": "evidence__process",
}


def find(search):
    """Sheets, newest first, that are all that is asked, with what hangs on them."""
    return with_thread(such(search).order_by("-pk"))


def titled(rows):
    """Sheets with no more than their titles."""
    exposures = Exposure.objects.only("sheet", "subject")
    return rows.prefetch_related(Prefetch("exposures", exposures))


def such(search):
    """Sheets that are all that is asked."""
    rows = _spoken(understand(search.get("words") or ""))
    conditions = [{SEARCH_FIELDS[name]: search[name]} for name in SEARCH_FIELDS if search.get(name)]
    conditions += [VERDICTS.get(search.get("verdict")), LIGHT_CONDITIONS.get(search.get("light"))]
    if search.get("fault"):
        conditions.append({"verdict__faults__icontains": f'"{search["fault"]}"'})
    for lookup in filter(None, conditions):
        rows = _narrowed(rows, Q(**lookup))
    rows = rows.filter(_exposed_within(search.get("since"), search.get("until")))
    if search.get("place"):
        at_place = Q(exposures__place=search["place"])
        rows = _narrowed(rows, at_place | Q(solargraph__place=search["place"]))
    return rows


def _spoken(asked):
    """Sheets that are all that was said of them: each word is looked for everywhere."""
    rows = Sheet.objects.all()
    for word in asked.words:
        rows = rows.filter(_anywhere(word))
    for part in ("month", "year"):
        if number := getattr(asked, part):
            opened = Opening.objects.filter(**{f"opened_at__{part}": number})
            rows = rows.filter(pk__in=opened.values("exposure__sheet"))
    if asked.sense:
        rows = _narrowed(rows, _looks(asked.sense))
    if asked.stops_more is not None:
        near = (asked.stops_more - HALF_A_STEP, asked.stops_more + HALF_A_STEP)
        rows = _narrowed(rows, Q(verdict__stops_more__range=near))
    if asked.faults:
        shown = (Q(verdict__faults__icontains=f'"{code}"') for code in asked.faults)
        rows = _narrowed(rows, reduce(or_, shown))
    return rows


def _anywhere(word):
    """That a word stands on a sheet, its exposure, its development, its verdict or its can."""

    def on(model, *names):
        said = reduce(or_, (Q(**{f"{name}__icontains": word}) for name in names))
        return Q(pk__in=model.objects.filter(said).values("sheet"))

    of_can = ("solargraph__place__name", "solargraph__spot", "solargraph__name")
    in_can = reduce(or_, (Q(**{f"{name}__icontains": word}) for name in of_can))
    return (
        with_word(word)
        | Q(person__period__icontains=word)
        | Q(pk__in=Sheet.objects.filter(in_can).values("pk"))
        | on(Exposure, "note", "developer__name")
        | on(Development, "run__developer__name", "run__process_name", "run__remarks")
        | on(Verdict, "remarks")
    )


def _looks(sense):
    """That a verdict calls a sheet so, in the sense of its medium."""
    if sense in ("right", "none"):
        return Q(**VERDICTS[sense])
    conditions = Q()
    for name, medium in media.MEDIA.items():
        wants_less = (sense == "dark") == (medium.darkening_sense > 0)
        conditions |= Q(paper__kind=name, **VERDICTS["less" if wants_less else "more"])
    return conditions


def _exposed_within(since, until):
    """From the beginning of a day at home to the end of another: the day of the exposure, and of
    the cutting for what was never exposed.
    """
    if not since and not until:
        return Q()
    opened = _between("opened_at", since, until)
    exposed = Opening.objects.filter(opened).values("exposure__sheet")
    return Q(pk__in=exposed) | (Q(exposures=None) & _between("cut_at", since, until))


def _between(name, since, until):
    """A moment from the beginning of a day to the end of another, as an index knows it."""
    begins = Q(**{f"{name}__gte": _midnight(since)}) if since else Q()
    day_after = until and min(until, NEWEST_DAY) + timedelta(days=1)
    return begins & (Q(**{f"{name}__lt": _midnight(day_after)}) if until else Q())


def _midnight(day):
    return timezone.make_aware(datetime.combine(min(max(day, OLDEST), NEWEST_DAY), time()))


def _narrowed(rows, search):
    """Sheets that are so, each once, however many exposures are so."""
    return rows.filter(pk__in=Sheet.objects.filter(search).order_by().values("pk"))


def years():
    """The years in which sheets were cut, newest first."""
    ends = Sheet.objects.aggregate(first=Min("cut_at"), last=Max("cut_at"))
    if ends["first"] is None:
        return []
    return list(range(ends["last"].year, ends["first"].year - 1, -1))


def kept():
    """Searches that were kept."""
    return KeptSearch.objects.all()
