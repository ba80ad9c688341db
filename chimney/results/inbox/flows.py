"""Files of the inbox taken in when they are whole, and what was seen there remembered."""

from chimney.ledger.once import setting
from chimney.parts import clock
from chimney.results.models import InboxFile, Scan
from chimney.results.scans import files
from chimney.results.scans import flows as scans

CHUNK_BYTES = 1 << 20
# Whoever waits to write waits no longer than for so many rows.
FILES_AT_ONCE = 200
INBOX_FIELDS = ("size_bytes", "changed_ns", "sha256", "trouble", "seen_at")


def marks():
    """{name: mark} of what was looked at before."""
    return {inbox_file.name: inbox_file.mark for inbox_file in InboxFile.objects.all()}


def take(path, mark):
    """(InboxFile that is not written down yet, whether a new Scan came of it). A file is looked
    through before it is written down, so that half of one is never matched to a sheet. Raises
    OSError where the disc is not well: nothing is remembered, and it is taken another time.
    """
    try:
        digest = files.digest_of(path)
        if Scan.objects.filter(sha256=digest).exists():
            return _seen(path, mark, sha256=digest), False
        with path.open("rb") as file:
            stored = files.store(iter(lambda: file.read(CHUNK_BYTES), b""))
    except files.NoPictureError:
        return _seen(path, mark), False
    except files.UnreadableError as error:
        return _seen(path, mark, trouble=str(error)), False
    try:
        looked = files.look_through(files.path_of(stored))
    except files.UnreadableError as error:
        if not Scan.objects.filter(sha256=stored.sha256).exists():
            files.put_away(stored)
        return _seen(path, mark, trouble=str(error)), False
    _take_in(path.name, stored, looked)
    return _seen(path, mark, sha256=stored.sha256), True


def refused(path, mark, trouble):
    """The InboxFile of what is let be, and why."""
    return _seen(path, mark, trouble=trouble)


@setting
def _take_in(name, stored, looked):
    scan, _ = scans.write_down(name, stored)
    scans.keep_seen(scan, looked)


def _seen(path, mark, **told):
    size, changed = mark
    return InboxFile(
        name=path.name, size_bytes=size, changed_ns=changed, seen_at=clock.now(), **told
    )


def remember(files):
    """InboxFiles written down, new or as they are now."""
    for start in range(0, len(files), FILES_AT_ONCE):
        _write(files[start : start + FILES_AT_ONCE])


@setting
def _write(files):
    InboxFile.objects.bulk_create(
        files, update_conflicts=True, unique_fields=["name"], update_fields=list(INBOX_FIELDS)
    )
