"""Obstacles to a start, each in a sentence with the way out, looked at before anything is begun. No
Django here.
"""

import os
import pwd
import socket
import sqlite3
import sys
from contextlib import closing, suppress
from zoneinfo import ZoneInfo

from chimney import folder

BIND = "127.0.0.1:8000"
MOST_WORKERS = 64


def refuse(obstacles):
    """End here with what stands in the way, if anything does."""
    obstacles_found = list(obstacles)
    if obstacles_found:
        sys.exit("\n".join(["Chimney does not start.", *obstacles_found]))


def in_settings():
    """Fault in what was set from outside."""
    zone = os.environ.get("CHIMNEY_ZONE", "")
    if zone:
        try:
            ZoneInfo(zone)
        except (ValueError, OSError, LookupError):
            yield (
                f"CHIMNEY_ZONE is {zone!r}, and no zone is called that: write it like "
                "Europe/Stockholm, or leave it out and the machine's own is used."
            )
    text = os.environ.get("CHIMNEY_WORKERS", "")
    number = int(text) if text.isascii() and text.isdecimal() and len(text) < 4 else 0
    if text and not 1 <= number <= MOST_WORKERS:
        yield (
            f"CHIMNEY_WORKERS is {text!r}: write a whole number from 1 to {MOST_WORKERS}, or leave "
            "it out and there are as many as suit the machine."
        )


def in_folder():
    """Fault of the folder of one photographer, before a byte of it is touched."""
    data = folder.DATA
    if data.exists() and not data.is_dir():
        yield f"{data} is a file: name a folder in CHIMNEY_DATA, or move that file away."
        return
    nearest = next(place for place in (data, *data.parents) if place.exists())
    if data.exists() and data.stat().st_uid != os.geteuid():
        yield (
            f"{data} belongs to {_name_of(data.stat().st_uid)}: start Chimney as that user, or "
            "name a folder of your own in CHIMNEY_DATA."
        )
    elif not os.access(nearest, os.W_OK | os.X_OK):
        yield f"Nothing may be written in {nearest}: name another folder in CHIMNEY_DATA."
    elif folder.SECRET.exists() and not _is_read(folder.SECRET):
        yield (
            f"{folder.SECRET} cannot be read. Give it back to {_name_of(os.geteuid())}, or move it "
            "away: a new one is made then, and every device comes in by the passphrase again."
        )
    elif _is_of_another_program():
        yield (
            f"{folder.DATABASE} is a database of another program; nothing in it was changed. Name "
            "another folder in CHIMNEY_DATA."
        )


def _name_of(uid):
    try:
        return pwd.getpwuid(uid).pw_name
    except KeyError:
        return f"user {uid}"


def _is_read(path):
    try:
        return bool(path.read_text().strip()) or not path.stat().st_size
    except (OSError, ValueError):
        return False


def _is_of_another_program():
    """True if there are tables, and none of ours; what cannot be read is told elsewhere."""
    if not folder.DATABASE.is_file():
        return False
    with (
        suppress(sqlite3.Error),
        closing(sqlite3.connect(f"{folder.DATABASE.as_uri()}?mode=ro", uri=True)) as connection,
    ):
        tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master")}
        if not tables or "logbook_sheet" in tables:
            return False
        if "django_migrations" not in tables:
            return True
        # Ours from its first days, before there were sheets.
        query = "SELECT 1 FROM django_migrations WHERE app IN ('logbook', 'kit') LIMIT 1"
        return connection.execute(query).fetchone() is None
    return False


def at_the_port(bind):
    """Obstacle at the address that the server is to answer at."""
    host, _, port = bind.rpartition(":")
    if not (port.isascii() and port.isdecimal() and 0 < int(port) < 65_536 and host):
        yield f"CHIMNEY_BIND is {bind!r}: write it like {BIND}."
        return
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with closing(socket.socket(family, socket.SOCK_STREAM)) as trial:
        trial.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            trial.bind((host.strip("[]"), int(port)))
        except OSError as error:
            yield (
                f"Nothing can be served at {bind} ({error.strerror}): perhaps Chimney runs there "
                f"already. Stop it, or start this one elsewhere: make run PORT={int(port) + 1}."
            )
