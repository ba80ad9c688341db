"""The folder of one photographer: where it is, that it is nobody else's, and what is wrong with it.
No Django here.
"""

import json
import os
import secrets
import shutil
import sqlite3
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
DATA = Path(os.environ.get("CHIMNEY_DATA", ROOT / "var" / "own")).resolve()
DATABASE, SECRET, KNOWN = DATA / "chimney.sqlite3", DATA / "secret", DATA / "known.json"
OWNER_ALONE, OWNERS_FILE = 0o700, 0o600
# Less room than this on the disc, and the next photo or sheet may not fit.
LEAST_FREE_BYTES = 8 * 1024 * 1024
# Room that is given up when there is no other, so that a hole can still be closed.
RESERVE, RESERVE_BYTES = DATA / "reserve", 8 * 1024 * 1024
NO_BYTE_FREE = 1024 * 1024
# The header of a write-ahead log; anything longer holds work.
LOG_HEADER_BYTES = 32


@dataclass(frozen=True)
class Trouble:
    """Fault of the folder, with what is safe all the same and what to do, each a sentence or
    two.
    """

    wrong: str
    safe: str
    todo: str


FULL_TROUBLE = Trouble(
    f"The disc that holds {DATA} is full.",
    "Everything kept so far is safe; what you sent last was not kept. Clocks of open "
    "holes run on from the log.",
    "Make room on the disc, go back with the browser's arrow, and send it again.",
)
READ_ONLY = Trouble(
    f"Chimney may not write into {DATA}.",
    "Everything kept so far is safe and unchanged; what you sent last was not kept.",
    "Give the folder back to the user who starts Chimney (owner and write permission), "
    "then send it again.",
)
DAMAGED = Trouble(
    f"The database {DATABASE} is damaged, or is no database.",
    "Nothing was written to it since that was noticed. Copies made before upgrades lie "
    "beside it: before-*.sqlite3.",
    "Stop Chimney and copy the whole folder away first. Then put the newest sound copy "
    "in its place, or have the "
    "database read out with the sqlite3 tool's .recover.",
)
EMPTIED_TROUBLE = Trouble(
    f"The database {DATABASE} is gone or empty, but one was begun there before.",
    "No new one was begun in its place, so nothing was overwritten. A write-ahead log "
    "beside it (-wal) may hold the "
    "last work: do not delete it.",
    "Put the database back from your copy. If you really mean to begin anew, move "
    "known.json and everything beside it "
    "out of the folder and start Chimney again.",
)
BUSY = Trouble(
    "The database was busy for too long: something else holds it open for writing.",
    "Everything kept so far is safe; what you sent last was not kept.",
    "Go back with the browser's arrow and send it again. If this stays, see what else "
    "has the database open.",
)
UNREADY = Trouble(
    "The database was made by another version of Chimney and was not brought up to this one.",
    "Nothing in it was changed.",
    "Stop Chimney and start it with make run or make serve, which bring it up to date "
    "and keep a copy from before.",
)


def secret():
    """The installation's secret; a passing one while there is no folder to keep it in."""
    try:
        text = SECRET.read_text().strip()
    except OSError:
        text = ""
    return text or secrets.token_urlsafe(50)


def make():
    """The folder and its secret, readable by their owner alone. Raises OSError where that cannot
    be.
    """
    DATA.mkdir(mode=OWNER_ALONE, parents=True, exist_ok=True)
    DATA.chmod(OWNER_ALONE)
    if not SECRET.exists() or not SECRET.stat().st_size:
        # Written whole beside its place and then moved there: a full disc leaves no half secret
        # behind.
        fresh = DATA / f"secret.{os.getpid()}"
        with open(os.open(fresh, os.O_CREAT | os.O_TRUNC | os.O_WRONLY, OWNERS_FILE), "w") as file:
            file.write(secrets.token_urlsafe(50))
            file.flush()
            os.fsync(file.fileno())
        fresh.replace(SECRET)
    for database in DATA.glob("*.sqlite3*"):
        database.chmod(OWNERS_FILE)


def lay_reserve():
    """Keep room for the taps that cannot wait, where there is plenty of it."""
    try:
        if RESERVE.exists() or _free_bytes() < 4 * RESERVE_BYTES:
            return
        with open(os.open(RESERVE, os.O_CREAT | os.O_WRONLY, OWNERS_FILE), "wb") as file:
            os.posix_fallocate(file.fileno(), 0, RESERVE_BYTES)
    except OSError:
        return


def give_reserve():
    """Let the reserve go if not a byte is free."""
    with suppress(OSError):
        if RESERVE.exists() and _free_bytes() < NO_BYTE_FREE:
            RESERVE.unlink()


def is_emptied():
    """True if there is nothing where a database was begun; looked at before anything opens it."""
    noted = known()
    if noted.get("emptied"):
        return True
    try:
        if DATABASE.exists() and DATABASE.stat().st_size:
            return False
        log = DATA / f"{DATABASE.name}-wal"
        return bool(noted) or (log.exists() and log.stat().st_size > LOG_HEADER_BYTES)
    except OSError:
        return False


def known():
    """Note of the database from the last start: {"sheets": number}; empty before the first."""
    try:
        notes = json.loads(KNOWN.read_text())
    except (OSError, ValueError):
        return {}
    return notes if isinstance(notes, dict) else {}


def remember(sheets):
    """Note how many sheets there are; fewer than none of many is told from a database that was
    emptied.
    """
    before = known().get("sheets", 0)
    emptied = not sheets and isinstance(before, int) and before > 0
    KNOWN.write_text(
        json.dumps({"sheets": before, "emptied": True} if emptied else {"sheets": sheets})
    )
    return not emptied


def is_sound():
    """True if SQLite reads the database as one; a missing one is sound."""
    if not DATABASE.exists():
        return True
    try:
        with closing(
            sqlite3.connect(f"{DATABASE.as_uri()}?mode=rw", uri=True, timeout=5)
        ) as database:
            return database.execute("PRAGMA quick_check(1)").fetchone() == ("ok",)
    except sqlite3.OperationalError as error:
        return "not a database" not in str(error) and "malformed" not in str(error)
    except sqlite3.DatabaseError:
        return False


def trouble(error=None):
    """The Trouble that the folder is in, told from an error if there is one; None if nothing is
    wrong with it.
    """
    message = str(error or "").lower()
    if is_emptied():
        return EMPTIED_TROUBLE
    if "malformed" in message or "not a database" in message or not is_sound():
        return DAMAGED
    if "full" in message or "no space" in message or is_full():
        return FULL_TROUBLE
    if (
        "readonly" in message
        or "read-only" in message
        or "permission" in message
        or not _is_writable()
    ):
        return READ_ONLY
    if "locked" in message or "busy" in message:
        return BUSY
    return UNREADY if "no such table" in message or "no such column" in message else None


def _free_bytes():
    return shutil.disk_usage(DATA if DATA.exists() else DATA.parent).free


def is_full():
    """True if there is too little room for a photo or a scan."""
    try:
        return _free_bytes() < LEAST_FREE_BYTES
    except OSError:
        return False


def _is_writable():
    places = [place for place in (DATA, DATABASE) if place.exists()]
    return bool(places) and all(os.access(place, os.W_OK) for place in places)
