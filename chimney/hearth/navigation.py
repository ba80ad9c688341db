"""The six courses of the chimney, first step of the work first, with what waits at each."""

from dataclasses import dataclass
from functools import lru_cache

from django.conf import settings
from django.db import connection
from django.db.models import CharField, Count, Q, Value
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import SimpleLazyObject

from chimney.field.models import Shot
from chimney.lessons.models import Finding, Lesson
from chimney.logbook import queries
from chimney.logbook.models import Sheet
from chimney.logbook.stages import which
from chimney.parts import clock


@dataclass(frozen=True)
class NavigationEntry:
    """A row of bricks: its key on the keyboard, its name, where it leads, how much waits and what
    that is.
    """

    key: str
    name: str
    url: str
    count: int
    words: str
    here: bool


COURSES = (
    ("Kit", "kit:shelf"),
    ("Plan", "field:plan"),
    ("Expose", "logbook:bag"),
    ("Develop", "darkroom:run"),
    ("Read", "results:waiting"),
    ("Learn", "lessons:learned"),
)
ALSO = {"/sheets/": "Read"}
# What is counted beside the sheets of each stage.
KEPT_PLANS, LESSONS, FINDINGS = "kept plans", "new lessons", "new findings"


def navigation(request):
    """Context: the courses, counted only when a page draws them, and only for somebody who was let
    in.
    """
    if not getattr(request, "let_in", False):
        return {"courses": None}
    guest = getattr(request, "guest", False)
    courses = SimpleLazyObject(lambda: chimney(request.path, counted(request), guest=guest))
    shared = {"lets_phones_in": settings.SERVE, "is_demo": settings.DEMO}
    return {"courses": courses, "guest": guest} | shared


def counted(request):
    """{what waits: how many}: sheets by stage, KEPT_PLANS plans, and LESSONS with the findings that
    are clear; asked once for a page, in one query.
    """
    if not hasattr(request, "counted"):
        request.counted = _count()
    return request.counted


def _count():
    # Each page asks it: written out once a day, it takes a quarter of the time.
    sql, values = _count_on(timezone.localdate(clock.now()))
    with connection.cursor() as cursor:
        rows = dict(cursor.execute(sql, values).fetchall())
    rows[LESSONS] += rows.pop(FINDINGS)
    return dict.fromkeys(which("waits"), 0) | rows


@lru_cache(maxsize=1)
def _count_on(today):
    """(SQL, its values) of the query of what waits."""
    kept_plans = Shot.objects.filter(Q(outing=None) | Q(outing__day__gte=today), done=False)
    lessons = Lesson.objects.filter(standing=Lesson.Standing.NEW).exclude(developer=None)
    findings = Finding.objects.filter(standing=Lesson.Standing.NEW).clear()
    row_sets = (
        _as_rows(kept_plans, KEPT_PLANS),
        _as_rows(lessons, LESSONS),
        _as_rows(findings, FINDINGS),
    )
    return queries.stage_counts().union(*row_sets, all=True).query.sql_with_params()


def _as_rows(rows, name):
    """A row of a name and how many there are, be it none."""
    named = rows.order_by().annotate(what=Value(name, CharField())).values_list("what")
    return named.annotate(Count("pk"))


@dataclass(frozen=True)
class Chimney:
    """all: the courses, Kit first; burning: whether a hole is open; home: whether this is the
    Hearth.
    """

    all: list
    burning: bool
    home: bool


def chimney(path, counted, *, guest=False):
    """The Chimney of a page; counted: what waits; a guest has no kit."""
    courses = _courses(path, _waiting(counted))
    return Chimney(
        [course for course in courses if not (guest and course.name == "Kit")],
        counted[Sheet.Stage.EXPOSING] > 0,
        path == reverse("hearth:hearth"),
    )


def _courses(path, waiting):
    entries = []
    for number, (name, url_name) in enumerate(COURSES, 1):
        url = reverse(url_name)
        count, label = waiting.get(name, (0, ""))
        is_here = path.startswith(url) or any(
            path.startswith(p) and name == n for p, n in ALSO.items()
        )
        entries.append(NavigationEntry(str(number), name, url, count, label, is_here))
    return entries


def _waiting(counted):
    loaded, exposing = counted[Sheet.Stage.LOADED], counted[Sheet.Stage.EXPOSING]
    to_develop, to_read = counted[Sheet.Stage.EXPOSED], counted[Sheet.Stage.DEVELOPED]
    wet = counted[Sheet.Stage.DEVELOPING]
    out, to_scan = counted[Sheet.Stage.OUT], counted[Sheet.Stage.HOME]
    kept_plans, news = counted[KEPT_PLANS], counted[LESSONS]
    return {
        "Plan": (kept_plans, f"{kept_plans} to do"),
        "Expose": (
            loaded + exposing + out,
            f"{loaded} loaded, {exposing} exposing, {out} out in the sun",
        ),
        "Develop": (to_develop + wet, f"{to_develop} to develop, {wet} in the dark room"),
        "Read": (to_read + to_scan, f"{to_read} to read, {to_scan} to scan"),
        "Learn": (news, f"{news} new"),
    }
