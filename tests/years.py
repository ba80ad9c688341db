"""The demo's year, lived once in each process for each moment at which it is asked for."""

from django.apps import apps
from django.db import connection, transaction

from chimney.parts import clock
from demo import pictures
from demo import year as demo

_lived = {}
# What an installation has before anything is done on it.
OWN = ("exchange_installation",)


def a_year(scans=0, *, cans=False):
    """Make everything, or lay down again what was made at that moment; returns how many sheets
    there are. scans: so many sheets are scanned, into the folder of the tests; cans: those of cans
    too.
    """
    made = clock.now(), scans, cans
    if any(_rows(table) for table in _tables()):
        return _live(scans, cans=cans)
    if made not in _lived:
        sheets = _live(scans, cans=cans)
        _lived[made] = sheets, {table: _rows(table) for table in _tables()}
        return sheets
    sheets, rows = _lived[made]
    with transaction.atomic(), connection.cursor() as cursor:
        for table, lines in rows.items():
            if lines:
                places = ", ".join(["%s"] * len(lines[0]))
                cursor.executemany(f"INSERT INTO {table} VALUES ({places})", lines)
    return sheets


def _live(scans, *, cans):
    sheets = demo.a_year()
    if scans:
        pictures.scan_all(scans)
    if cans:
        pictures.scan_cans()
    return sheets


def _tables():
    models = apps.get_models(include_auto_created=True)
    ours = [model._meta.db_table for model in models if model.__module__.startswith("chimney.")]
    return [table for table in ours if table not in OWN]


def _rows(table):
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT * FROM {table}")
        return cursor.fetchall()
