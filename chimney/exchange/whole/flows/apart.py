"""The database as it is at one moment, apart: what is read there agrees with itself, what is
written there is nowhere else, and nobody waits for either.
"""

import os
from contextlib import contextmanager

from django.db import connections

from chimney.exchange.whole import files


def copied(path):
    """A connection to a copy of the database."""
    connection = connections["default"]
    connection.ensure_connection()
    if connection.in_atomic_block:
        raise RuntimeError("What is not written down yet cannot be copied.")
    files.folder().mkdir(mode=0o700, parents=True, exist_ok=True)
    os.close(os.open(path, os.O_CREAT | os.O_WRONLY, 0o600))
    copy = connections.create_connection("default")
    copy.settings_dict = {**copy.settings_dict, "NAME": str(path)}
    copy.ensure_connection()
    connection.connection.backup(copy.connection)
    with copy.cursor() as cursor:
        # It is thrown away where anything goes wrong.
        cursor.execute("PRAGMA synchronous = OFF")
        cursor.execute("PRAGMA journal_mode = MEMORY")
    return copy


@contextmanager
def within(copy):
    """Read and write there whatever is read and written inside, on this thread alone."""
    original = connections["default"]
    connections["default"] = copy
    try:
        yield
    finally:
        copy.close()
        connections["default"] = original


def away_with(path):
    for ending in ("", "-journal", "-wal", "-shm"):
        path.with_name(path.name + ending).unlink(missing_ok=True)
