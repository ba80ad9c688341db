"""Copies of the folder of one photographer: made while it is in use, checked, put in place whole,
and turned over by age. No Django here.
"""

import fcntl
import json
import os
import shutil
import sqlite3
from contextlib import closing, suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from chimney import beside, folder

COPY_NAME = "copy-%Y%m%d-%H%M%S"
# Where copies go unless told otherwise: another disc is better.
PLACE = Path(os.environ.get("CHIMNEY_COPIES", folder.DATA / "copies"))
DAILY = timedelta(hours=20)
# The newest of so many days, weeks and months stay (common practice).
KEPT_COPIES = (("%Y%m%d", 7), ("%G%V", 5), ("%Y%m", 12))
SCANS = "scans"
# A database and what SQLite may have written beside it that is not in it yet.
ENDINGS = ("", "-wal", "-journal")


class CopyError(Exception):
    """The reason why there is no copy, or none to go back to; what is here is unchanged."""


def make(place=None, now=None):
    """A new copy in a folder: the database as it is at one moment, checked, its secret, and every
    original that is not there yet. Returns its path. Raises CopyError, and leaves no half copy.
    """
    place = Path(place or PLACE)
    name = (now or datetime.now(UTC)).astimezone(UTC).strftime(COPY_NAME)
    begun = place / f"begun-{os.getpid()}"
    try:
        begun.mkdir(mode=folder.OWNER_ALONE, parents=True)
        _copy_database(folder.DATABASE, begun / folder.DATABASE.name)
        shutil.copy2(folder.SECRET, begun)
        _copy_originals(folder.DATA / SCANS, place / SCANS)
        target = place / name
        begun.rename(target)
    except (OSError, sqlite3.Error) as error:
        raise CopyError(f"No copy could be made in {place}: {error}.") from error
    finally:
        shutil.rmtree(begun, ignore_errors=True)
    return target


def _copy_database(source, target):
    if not source.exists():
        raise CopyError(f"There is no database at {source} yet.")
    with (
        closing(sqlite3.connect(f"{source.as_uri()}?mode=ro", uri=True)) as old,
        closing(sqlite3.connect(target)) as new,
    ):
        old.backup(new)
    target.chmod(folder.OWNERS_FILE)
    check(target)


def _looked_at(database):
    """A connection that reads a database and leaves nothing beside it: one without a log of writes
    is read as a file that nobody changes.
    """
    log = database.with_name(f"{database.name}-wal")
    mode = "" if log.exists() and log.stat().st_size else "&immutable=1"
    return sqlite3.connect(f"{database.as_uri()}?mode=ro{mode}", uri=True)


def check(database):
    """Raises CopyError where that is no sound database of ours."""
    try:
        with closing(_looked_at(database)) as connection:
            verdict = connection.execute("PRAGMA integrity_check(1)").fetchone()
            connection.execute("SELECT 1 FROM django_migrations LIMIT 1").fetchone()
    except sqlite3.Error as error:
        raise CopyError(f"{database} is no sound database of Chimney: {error}.") from error
    if verdict != ("ok",):
        raise CopyError(f"{database} is damaged: {verdict[0]}.")


def _copy_originals(source, target):
    """An original is named after what is in it, so one that is there need not be copied again."""
    if not source.exists():
        return
    target.mkdir(mode=folder.OWNER_ALONE, parents=True, exist_ok=True)
    for original in source.iterdir():
        target_path = target / original.name
        if original.name.startswith("begun-") or target_path.exists():
            continue
        begun = target / f"begun-{os.getpid()}"
        shutil.copyfile(original, begun)
        begun.chmod(folder.OWNERS_FILE)
        begun.replace(target_path)


def known(place=None):
    """[(moment, path)] of the copies in a folder, newest first."""
    copies = []
    for path in Path(place or PLACE).glob("copy-*"):
        try:
            copies.append((datetime.strptime(path.name, COPY_NAME).replace(tzinfo=UTC), path))
        except ValueError:
            continue
    return sorted(copies, reverse=True)


def turn_over(place=None):
    """Away with copies that are neither of the last days, weeks nor months; the paths of those."""
    copies, keeping = known(place), set()
    for pattern, count in KEPT_COPIES:
        newest = {}
        for moment, path in copies:
            newest.setdefault(moment.strftime(pattern), path)
        keeping |= set(list(newest.values())[:count])
    removed = [path for _, path in copies if path not in keeping]
    for path in removed:
        shutil.rmtree(path)
    return removed


def go_back(copy):
    """Put a copy, or the newest of a folder of them, in the place of the database, and lay missing
    originals back. What was there is kept beside it, its log of writes with it; returns where.
    Raises CopyError, with nothing changed.
    """
    copy = Path(copy).resolve()
    if copy.is_dir() and not (copy / folder.DATABASE.name).exists() and known(copy):
        copy = known(copy)[0][1]
    database = copy / folder.DATABASE.name if copy.is_dir() else copy
    if not database.is_file():
        raise CopyError(f"There is no copy at {copy}.")
    check(database)
    if is_running():
        raise CopyError("Chimney is running: stop it first, then go back.")
    aside = folder.DATA / f"before-{datetime.now(UTC):%Y%m%d-%H%M%S}.sqlite3"
    fresh = folder.DATA / f"begun-{os.getpid()}.sqlite3"
    try:
        folder.make()
        if folder.DATABASE.exists():
            _set_aside(aside)
            _empty_log()
        with closing(_looked_at(database)) as old, closing(sqlite3.connect(fresh)) as new:
            old.backup(new)
        _copy_originals(copy.parent / SCANS, folder.DATA / SCANS)
        _replace(fresh)
        folder.KNOWN.unlink(missing_ok=True)
    except (OSError, sqlite3.Error, CopyError) as error:
        # Where a log of writes was set aside it may be gone from where it was.
        if list(folder.DATA.glob(f"{aside.name}*")) == [aside]:
            aside.unlink()
        if isinstance(error, CopyError):
            raise
        raise CopyError(f"The copy was not put in place: {error}. Nothing is changed.") from error
    finally:
        fresh.unlink(missing_ok=True)
    return aside if aside.exists() else None


def hold_running():
    """The open file by which a server shows that it runs, for as long as it keeps it. Where no
    other does, what one was storing when it was killed is cleared away.
    """
    held = open(folder.DATA / "running", "w")  # noqa: SIM115 - held as long as the server lives
    with suppress(BlockingIOError):
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        _clear_begun()
    fcntl.flock(held, fcntl.LOCK_SH)
    return held


def _clear_begun():
    for begun in folder.DATA.glob("*/begun-*"):
        # What cannot be removed keeps nobody from starting; a begun copy is a folder.
        with suppress(OSError):
            begun.unlink()


def is_running():
    """True if a server holds the folder."""
    try:
        with open(folder.DATA / "running", "w") as held:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        return False
    return False


def _set_aside(aside):
    """The database with its log of writes, bit for bit, sound or not: opening what is damaged may
    throw that log away.
    """
    for ending in ENDINGS:
        source = folder.DATABASE.with_name(f"{folder.DATABASE.name}{ending}")
        if source.exists():
            target = aside.with_name(f"{aside.name}{ending}")
            shutil.copyfile(source, target)
            target.chmod(folder.OWNERS_FILE)


def _empty_log():
    """All work out of the write-ahead log, which nobody else may hold open."""
    try:
        with closing(sqlite3.connect(folder.DATABASE, timeout=1)) as held:
            held.execute("PRAGMA journal_mode=DELETE")
    except sqlite3.DatabaseError as error:
        if "locked" in str(error):
            refusal = "Something holds the database open: stop Chimney first, then go back."
            raise CopyError(refusal) from error
        # What is damaged is put aside as it is.


def _replace(fresh):
    """Put the new database in the place of the old one, whose companions are set aside by now."""
    fresh.chmod(folder.OWNERS_FILE)
    for ending in (*ENDINGS[1:], "-shm"):
        (folder.DATA / f"{folder.DATABASE.name}{ending}").unlink(missing_ok=True)
    fresh.replace(folder.DATABASE)


def _noted():
    return folder.DATA / "copies.json"


def state():
    """{"made": when the newest copy is from, "failed": why the last one was not made}."""
    copies = known()
    try:
        failed = json.loads(_noted().read_text()).get("failed", "")
    except (OSError, ValueError, AttributeError):
        failed = ""
    is_inside = PLACE.is_relative_to(folder.DATA)
    place = f"{PLACE.relative_to(folder.DATA)}, beside the database" if is_inside else str(PLACE)
    return {"made": copies[0][0] if copies else None, "failed": failed, "place": place}


def daily(now=None):
    """A copy where the newest is not of today, old ones turned over; whether one was made. A
    failure is noted for the page that tells of it, and raised.
    """
    now = now or datetime.now(UTC)
    copies = known()
    if copies and now - copies[0][0] < DAILY:
        return False
    try:
        if PLACE.is_relative_to(folder.DATA) and folder.is_full():
            raise CopyError(folder.FULL_TROUBLE.wrong)
        make(now=now)
        turn_over()
    except (CopyError, OSError) as error:
        _note(str(error))
        raise CopyError(str(error)) from error
    _note("")
    return True


def _note(failed):
    try:
        _noted().write_text(json.dumps({"failed": failed}))
    except OSError:
        return


def watch(every_s=600):
    """Make a copy each day, for as long as the server runs; one process does it."""
    held = None
    while True:
        held = held or beside.alone("backup")
        try:
            if held:
                daily()
        except CopyError as error:
            print(error, flush=True)
        beside.rest(every_s)
