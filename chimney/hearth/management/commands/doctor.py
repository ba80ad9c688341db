import platform
import shutil
import sqlite3
from contextlib import closing
from datetime import datetime, timedelta

import django
from django.core.management.base import CommandError
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor

from chimney import copies, folder
from chimney.hearth import invariants
from chimney.parts import waiting
from chimney.parts.commands import PagelessCommand
from chimney.results.models import Scan
from chimney.results.scans import files as scans

OLD = timedelta(days=3)
LITTLE_BYTES = 500_000_000
# Before any of these nothing else can be asked.
FIRST_LINES = 2


class Command(PagelessCommand):
    help = "Looks at the folder, the database, the originals and the copies, and says what to do."

    def handle(self, **options):
        wrong = 0
        for number, check in enumerate(
            (folder_is_well, database, upgrades, stages, originals, strays, disc, copied, worker)
        ):
            try:
                faults = list(check())
            except (DatabaseError, OSError) as error:
                faults = [f"Could not be asked: {error}."]
            for sentence in faults:
                self.stderr.write(self.style.ERROR(sentence))
            wrong += len(faults)
            if faults and number < FIRST_LINES:
                break
            if not faults:
                self.stdout.write(f"Well: {check.__doc__}")
        self.stdout.write(
            f"Python {platform.python_version()}, Django {django.__version__}, "
            f"SQLite {sqlite3.sqlite_version}, data in {folder.DATA}"
        )
        if wrong:
            raise CommandError(f"{wrong} to put right; nothing was changed.")


def folder_is_well():
    """the folder is there and may be written to"""
    trouble = folder.trouble()
    if trouble:
        yield f"{trouble.wrong} {trouble.safe} {trouble.todo}"


def database():
    """the database is whole, and its rows point to rows that are there"""
    with closing(sqlite3.connect(f"{folder.DATABASE.as_uri()}?mode=ro", uri=True)) as connection:
        verdicts = connection.execute("PRAGMA integrity_check(5)").fetchall()
        astray = connection.execute("PRAGMA foreign_key_check").fetchmany(5)
    if verdicts != [("ok",)]:
        fault = verdicts[0][0]
        yield f"The database is damaged ({fault}): go back to a copy with manage.py restore."
    for table, row, parent, _ in astray:
        yield f"Row {row} of {table} points to a row of {parent} that is gone: restore a copy."


def upgrades():
    """the database is of this version"""
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        yield "The database is of another version: start Chimney with make run, which brings it up."


def stages():
    """sheets, loadings, exposures and runs agree with each other"""
    for sentence in invariants.broken():
        yield f"{sentence}: open it and put it right on its page."


def originals():
    """every original of a scan is there, bit for bit"""
    for scan in Scan.objects.order_by("pk"):
        path = scans.path_of(scan)
        if not path.exists():
            yield f"The original of {scan.name} is gone: copy {path.name} back from a copy's scans."
        elif scans.digest_of(path) != scan.sha256:
            yield f"The original of {scan.name} is not what it was: take it from a copy's scans."


def strays():
    """every file among the originals belongs to a scan"""
    if not scans.folder().is_dir():
        return
    originals = {scans.path_of(scan).name for scan in Scan.objects.all()}
    for path in sorted(scans.folder().iterdir()):
        if path.name not in originals and not path.name.startswith("begun-"):
            yield f"{path} belongs to no scan: bring it in on the page of scans, or put it away."


def disc():
    """there is room on the disc"""
    free = shutil.disk_usage(folder.DATA).free
    if free < LITTLE_BYTES:
        yield f"Only {free // 1_000_000} MB are free on the disc of {folder.DATA}: make room."


def worker():
    """whoever looks through scans is at work while Chimney runs"""
    overdue = copies.is_running() and waiting.overdue()
    if overdue:
        yield overdue


def copied():
    """there is a copy that is not old"""
    state = copies.state()
    if state["failed"]:
        yield f"The last copy was not made. {state['failed']}"
    if state["made"] is None:
        yield f"There is no copy in {copies.PLACE}: make one with manage.py backup, best elsewhere."
    elif datetime.now().astimezone() - state["made"] > OLD:
        yield f"The newest copy is of {state['made']:%d %B %Y}: make one with manage.py backup."
