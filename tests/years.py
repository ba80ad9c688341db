"""The demo's year, lived and scanned once in a run for each moment at which it is asked for."""

import fcntl
import pickle
import shutil
import sqlite3
from contextlib import closing, contextmanager
from pathlib import Path

from django.apps import apps
from django.db import connection, transaction

from chimney.parts import clock
from demo import pictures
from demo import year as demo

_lived = {}
# What an installation has before anything is done on it.
OWN = ("exchange_installation",)
# Where the processes of one run leave each other the years that they lived, if it is given.
shelf: Path | None = None
EMPTY = "empty.sqlite3"


def shelve_empty():
    """Leave the database of the tests to others, empty as it was made."""
    with closing(sqlite3.connect(shelf / EMPTY)) as copy:
        connection.connection.backup(copy)


def begin_in(folder):
    """Lay an empty database into the folder of an installation, where this run made one: there it
    need not be made anew.
    """
    if (shelf / EMPTY).exists():
        shutil.copy(shelf / EMPTY, Path(folder) / "chimney.sqlite3")


def a_year(scans=0, *, cans=False):
    """Make everything, or lay down again what was made at that moment; returns how many sheets
    there are. scans: so many sheets are scanned, into the folder of the tests; cans: those of cans
    too.
    """
    made = clock.now(), scans, cans
    if any(_rows(table) for table in _tables()):
        sheets = demo.a_year()
        _scan(scans, cans=cans)
        return sheets
    if made in _lived:
        _lay(_lived[made])
    else:
        _lay_or_live(*made)
        _lived[made] = _all_rows()
    return len(_lived[made][demo.Sheet._meta.db_table])


def _lay_or_live(moment, scans, cans):
    """A year as this process or another lived it and scanned it, else lived and scanned here."""
    with _alone(f"{moment:%Y%m%dT%H%M%S%f}-{scans}-{cans}") as left:
        if left is None or not left.exists():
            if scans or cans:
                _lay_or_live(moment, 0, False)
                _scan(scans, cans=cans)
            else:
                demo.a_year()
            if left:
                left.write_bytes(pickle.dumps(_all_rows()))
            return
        rows = pickle.loads(left.read_bytes())
    _lay(rows)


@contextmanager
def _alone(year):
    """Where a year is left to others, held by one process at a time; None if nobody else is at
    work.
    """
    if shelf is None:
        yield None
        return
    left = shelf / year
    with left.with_suffix(".held").open("w") as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield left


def _scan(scans, *, cans):
    if scans:
        pictures.scan_all(scans)
    if cans:
        pictures.scan_cans()


def _lay(rows_of):
    with transaction.atomic(), connection.cursor() as cursor:
        for table, rows in rows_of.items():
            if rows:
                places = ", ".join(["%s"] * len(rows[0]))
                cursor.executemany(f"INSERT INTO {table} VALUES ({places})", rows)


def _all_rows():
    return {table: _rows(table) for table in _tables()}


def _tables():
    models = apps.get_models(include_auto_created=True)
    ours = [model._meta.db_table for model in models if model.__module__.startswith("chimney.")]
    return [table for table in ours if table not in OWN]


def _rows(table):
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT * FROM {table}")
        return cursor.fetchall()
