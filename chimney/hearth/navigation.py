"""The six courses of the chimney, first step of the work first, with what waits at each."""

from dataclasses import dataclass

from django.db.models import Q
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import SimpleLazyObject

from chimney.field.models import Shot
from chimney.lessons.models import Finding, Lesson
from chimney.logbook import queries
from chimney.logbook.models import Sheet
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


def navigation(request):
    """Context: the courses, counted only when a page draws them, and only for somebody who was let
    in.
    """
    if not getattr(request, "let_in", False):
        return {"courses": None}
    counted = getattr(request, "sheet_counts", None)
    return {"courses": SimpleLazyObject(lambda: chimney(request.path, counted))}


@dataclass(frozen=True)
class Chimney:
    """all: the courses, Kit first; burning: whether a hole is open; home: whether this is the
    Hearth.
    """

    all: list
    burning: bool
    home: bool


def chimney(path, counted=None):
    """The Chimney of a page; counted: the sheets by stage, where the page knows them."""
    sheets = counted or queries.counts()
    return Chimney(
        _courses(path, _waiting(sheets)),
        sheets[Sheet.Stage.EXPOSING] > 0,
        path == reverse("hearth:hearth"),
    )


def _courses(path, waiting):
    entries = []
    for number, (name, url_name) in enumerate(COURSES, 1):
        url = reverse(url_name)
        count, words = waiting.get(name, (0, ""))
        here = path.startswith(url) or any(
            path.startswith(p) and name == n for p, n in ALSO.items()
        )
        entries.append(NavigationEntry(str(number), name, url, count, words, here))
    return entries


def _waiting(sheets):
    loaded, exposing = sheets[Sheet.Stage.LOADED], sheets[Sheet.Stage.EXPOSING]
    to_develop, to_read = sheets[Sheet.Stage.EXPOSED], sheets[Sheet.Stage.DEVELOPED]
    wet = sheets[Sheet.Stage.DEVELOPING]
    out, to_scan = sheets[Sheet.Stage.OUT], sheets[Sheet.Stage.HOME]
    today = timezone.localdate(clock.now())
    kept = Shot.objects.filter(Q(outing=None) | Q(outing__day__gte=today), done=False).count()
    news = Lesson.objects.filter(standing=Lesson.Standing.NEW).exclude(developer=None).count()
    news += sum(found.is_clear for found in Finding.objects.filter(standing=Lesson.Standing.NEW))
    return {
        "Plan": (kept, f"{kept} to do"),
        "Expose": (
            loaded + exposing + out,
            f"{loaded} loaded, {exposing} exposing, {out} out in the sun",
        ),
        "Develop": (to_develop + wet, f"{to_develop} to develop, {wet} in the dark room"),
        "Read": (to_read + to_scan, f"{to_read} to read, {to_scan} to scan"),
        "Learn": (news, f"{news} new"),
    }
