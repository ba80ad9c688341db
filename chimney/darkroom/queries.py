"""Queries for the pages of the dark room, each in a constant number of queries."""

from dataclasses import dataclass
from functools import reduce
from operator import attrgetter, or_

from django.db.models import Exists, OuterRef, Prefetch, Q

from chimney.darkroom import craft
from chimney.darkroom.catalogue import processes
from chimney.darkroom.models import (
    Bath,
    Development,
    OwnProcess,
    Print,
    Run,
    SafeLight,
    Vessel,
)
from chimney.kit.models import Developer
from chimney.ledger.keys import row_key
from chimney.logbook import queries
from chimney.logbook.models import Sheet


@dataclass(frozen=True)
class DarkRoom:
    """The things to work with, read once for a page: processes by key; baths: the BathStates of
    those in use; developers, vessels and lights in use.
    """

    processes: dict
    baths: list
    developers: list
    vessels: list
    lights: list

    @property
    def rows(self):
        """{field of a form: its rows}."""
        return {"developer": self.developers, "vessel": self.vessels, "light": self.lights}

    def row(self, name, key):
        """The row of a field with that number, None for one that is not there."""
        wanted = row_key(key)
        return next((row for row in self.rows[name] if row.pk == wanted), None)


def dark_room(now):
    rows = (list(model.objects.in_use()) for model in (Developer, Vessel, SafeLight))
    return DarkRoom(all_processes(), baths(now), *rows)


def whole(runs=None):
    """Runs with all that a page of one shows."""
    runs = Run.objects if runs is None else runs
    sheets = queries.with_thread()
    developments = Development.objects.order_by("lane", "pk")
    return runs.select_related("developer", "vessel", "light").prefetch_related(
        Prefetch("developments", developments.prefetch_related(Prefetch("sheet", sheets))),
        "taps",
        "baths",
    )


def log(runs):
    """Runs with what flows and a small card read of one."""
    developments = Development.objects.order_by("lane", "pk").select_related("sheet__person")
    return runs.prefetch_related(Prefetch("developments", developments), "taps")


def going():
    """Runs with a sheet that is not through, the newest first."""
    open_ones = Development.objects.filter(developed_at=None).values("run")
    return log(Run.objects.filter(pk__in=open_ones))


def all_processes():
    """{key: Process}: the starting set, with what was changed of it, then one's own."""
    changed = {row.key: row for row in OwnProcess.objects.filter(retired_at=None)}
    found = {
        process.key: changed.pop(process.key).process if process.key in changed else process
        for process in processes.ALL
    }
    return found | {key: row.process for key, row in changed.items()}


def proposed(paper, processes, developer=None, *, is_print=False):
    """The keys of the processes that such paper is offered, the proposed one first: the one it went
    through last in that developer, else the first of the starting set that suits both.
    """
    suiting = [key for key, process in processes.items() if process.suits(paper)]
    like_it = Development.objects.filter(run=OuterRef("pk"), sheet__paper=paper)
    runs = Run.objects.filter(Exists(like_it.filter(sheet__is_print=is_print)))
    runs = runs.filter(process_key__in=suiting)
    if developer:
        runs = runs.filter(developer=developer)
    last = runs.values_list("process_key", flat=True).first()
    of_kitchen = bool(developer) and "coffee" in developer.name.lower()
    usual = {"contact-print": is_print, "coffee-fix": of_kitchen and not is_print}
    first = last or next((key for key in suiting if usual.get(key)), None)
    return sorted(suiting, key=lambda key: key != first) if first else suiting


def baths(now, *, thrown=False):
    """[BathState] of the baths in use, or of those thrown away, newest first."""
    rows = Bath.objects.filter(thrown_at__isnull=not thrown).select_related("developer")
    rows = list(rows.prefetch_related("top_ups")[:40])
    through = _through(rows)
    return [craft.bath_state(bath, through[bath.pk], bath.thrown_at or now) for bath in rows]


def _through(baths):
    """{bath's pk: [(run's pk, size of a sheet of it or None)]} of those baths, in one query."""
    found = {bath.pk: [] for bath in baths}
    rows = Run.baths.through.objects.filter(bath__in=baths).order_by("pk")
    for bath, *went in rows.values_list("bath", "run", "run__developments__sheet__size"):
        found[bath].append(went)
    return found


def last_runs(process, sheets):
    """(its last run with such paper, its last, its last that was timed) of a process, None for what
    there is none of; one query.
    """
    runs = Run.objects.filter(process_key=process.key)
    papers = {sheet.paper_id for sheet in sheets}
    such = Development.objects.filter(run=OuterRef("pk"), sheet__paper__in=papers)
    runs = runs.annotate(of_paper=Exists(such))
    groups = (runs.filter(of_paper=True), runs, runs.filter(timed=True))
    newest = list(runs.filter(reduce(or_, (Q(pk__in=group.values("pk")[:1]) for group in groups))))
    tests = (attrgetter("of_paper"), bool, attrgetter("timed"))
    return [next(filter(test, newest), None) for test in tests]


def negatives(sheets):
    """{sheet's pk: code of the negative} of those sheets that are contact prints."""
    rows = Print.objects.filter(sheet__in=sheets)
    return dict(rows.values_list("sheet", "negative__code"))


def prints():
    """Contact prints with their negatives and sheets, the newest first."""
    return Print.objects.select_related("negative", "sheet")


def is_changed(key):
    """True if a process of the starting set stands there as it was changed."""
    return OwnProcess.objects.filter(key=key, retired_at=None).exists()


def lamps():
    """Safelights in use with what was tested under each."""
    return SafeLight.objects.in_use().prefetch_related("tests__paper")


def vessels(*, retired=False):
    """Vessels in use, or those that were retired."""
    return Vessel.objects.exclude(retired_at=None) if retired else Vessel.objects.in_use()


def developments():
    """Developments with their sheets, runs and developers."""
    return Development.objects.select_related("sheet", "run__developer")


def sheets_in_the_dark():
    """Sheets with what became of each in the dark room."""
    development = "development__run__developer", "printed__negative"
    return Sheet.objects.select_related("paper", *development)
