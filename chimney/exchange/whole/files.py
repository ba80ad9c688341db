"""A whole log as a ZIP, and what was handed over as one: measured before it is opened, and told in
words where it is none.
"""

import hashlib
import json
import lzma
import os
import re
import zipfile
import zlib
from contextlib import closing, suppress
from itertools import islice

from django import forms
from django.conf import settings

from chimney.exchange.whole import queries
from chimney.exchange.whole.catalogue import FORMAT, KINDS, VERSION, data_of, model_of
from chimney.parts import plain_json
from chimney.results.models import Scan
from chimney.results.scans import files as scans

AT_ONCE = 500
LOG, MOST_LOG_BYTES, MOST_ROWS = "log.json", 250_000_000, 400_000
MOST_PICTURE_BYTES = 8_000_000
# As large as a scan that is taken in may be: 300 megapixels of three colours in 16 bits.
MOST_ORIGINAL_BYTES = 2_000_000_000
# A log packs to a tenth; what unpacks to many times that was made to fill a disc.
MOST_TIMES, NEVER_TOO_MUCH_BYTES = 60, 20_000_000
WAYS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
# What a ZIP raises that is damaged, locked, or packed in a way that is not known.
BROKEN = (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError, OSError, ValueError)
BROKEN += (zlib.error, lzma.LZMAError)
# Originals lie under the checksum of what is in them, and under no other name.
ORIGINAL = re.compile(r"[0-9a-f]{64}\.(jpg|png|tif)")
ROW = json.JSONEncoder(ensure_ascii=False, allow_nan=False)


def write(out):
    """The ZIP of the whole log into an open file: its JSON, its pictures and the originals of
    scans.
    """
    pictures = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as package:
        with package.open(LOG, "w", force_zip64=True) as log:
            for pieces in _by_many(_pieces_of(*queries.told(pictures))):
                log.write("".join(pieces).encode())
        for path, (kind, pk, field) in pictures.items():
            kept = model_of(kind)._base_manager.values_list(field, flat=True).get(pk=pk)
            package.writestr(zipfile.ZipInfo(path), bytes(kept))
        for scan in Scan.objects.order_by("pk"):
            original = scans.path_of(scan)
            if original.exists():
                package.write(original, f"scans/{original.name}", zipfile.ZIP_STORED)


def _by_many(pieces):
    """Lists of so many of them as are worth packing at once."""
    while some := list(islice(pieces, AT_ONCE)):
        yield some


def text_of(log):
    """A log as JSON, a row a line."""
    head = {name: value for name, value in log.items() if name not in ("rows", "answers")}
    rows = ((kind, log["rows"][kind]) for kind in KINDS if kind in log["rows"])
    return "".join(_pieces_of(head, rows, lambda: log["answers"]))


def _pieces_of(head, rows, answers):
    """The text of a log, piece by piece. rows: (kind, its rows) one after the other; answers: gives
    them when the rows are through.
    """
    opened = json.dumps(head, ensure_ascii=False)[:-1]
    yield f'{opened},\n"rows": {{'
    for number, (kind, of_kind) in enumerate(rows):
        between = ",\n" if number else ""
        yield f"{between}{json.dumps(kind)}: ["
        yield from _lines(of_kind, data_of(kind))
        yield "]"
    yield '},\n"answers": ['
    yield from _lines(answers())
    yield "]}\n"


def _lines(rows, data=()):
    """Each row on a line of its own. data: its fields that may be text in JSON already."""
    between = "\n"
    for row in rows:
        kept = [name for name in data if type(row[name]) is queries.JsonText]
        said = ROW.encode(row | {name: f"\0{name}" for name in kept} if kept else row)
        for name in kept:
            # No word in a log holds what stands for it meanwhile.
            said = said.replace(f'"\\u0000{name}"', row[name], 1)
        yield f"{between}{said}"
        between = ",\n"
    if between == ",\n":
        yield "\n"


def folder():
    return settings.DATA / "brought"


def store(upload):
    """The name under which what was handed over lies in the folder."""
    folder().mkdir(mode=0o700, parents=True, exist_ok=True)
    begun, digest = folder() / f"begun-{os.urandom(6).hex()}", hashlib.sha256()
    try:
        with open(os.open(begun, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
            for chunk in upload.chunks():
                digest.update(chunk)
                file.write(chunk)
        begun.replace(folder() / digest.hexdigest())
    finally:
        begun.unlink(missing_ok=True)
    return digest.hexdigest()


def forget(stored_as):
    (folder() / stored_as).unlink(missing_ok=True)


def remove_unkept(names):
    """Away with those originals that no scan has any more; one that cannot be removed stays, and a
    doctor finds it.
    """
    for name in filter(ORIGINAL.fullmatch, names):
        if not Scan.objects.filter(sha256=name[:64]).exists():
            with suppress(OSError):
                (scans.folder() / name).unlink()


class Package:
    """What was handed over: a ZIP, or the JSON of one alone. Raises forms.ValidationError for
    anything else.
    """

    def __init__(self, stored_as):
        self.path = folder() / stored_as
        try:
            self.zip = zipfile.ZipFile(self.path) if zipfile.is_zipfile(self.path) else None
        except BROKEN as error:
            raise _damaged() from error
        if self.zip:
            self._measure()

    def _measure(self):
        """Raise ValidationError where it would unpack to more than a log does. What each part says
        of its size is all that is ever read of it.
        """
        parts = self.zip.infolist()
        unpacked = sum(part.file_size for part in parts)
        too_much = max(NEVER_TOO_MUCH_BYTES, MOST_TIMES * self.path.stat().st_size)
        if unpacked > too_much or any(part.compress_type not in WAYS for part in parts):
            self.zip.close()
            raise forms.ValidationError("That ZIP is packed as no log is: nothing was unpacked.")

    def __enter__(self):
        return self

    def __exit__(self, *error):
        if self.zip:
            self.zip.close()

    def glance(self):
        """Raise ValidationError where it is no log at first sight, before anybody reads it."""
        if self.zip is None:
            with self.path.open("rb") as file:
                if not file.read(200).lstrip(b"\xef\xbb\xbf \r\n\t").startswith(b"{"):
                    raise _no_log()
        self._measured()

    def log(self):
        """The log as data, of this version."""
        return _checked(_parsed(self._text()))

    def _measured(self):
        """Raise ValidationError where there is no log in it, or one that is larger than any."""
        try:
            size = self.zip.getinfo(LOG).file_size if self.zip else self.path.stat().st_size
        except KeyError:
            raise forms.ValidationError("There is no log.json in that ZIP.") from None
        if size > MOST_LOG_BYTES:
            raise forms.ValidationError("That is larger than any log.")

    def _text(self):
        self._measured()
        try:
            return self.zip.read(LOG) if self.zip else self.path.read_bytes()
        except FileNotFoundError:
            raise
        except BROKEN as error:
            raise _damaged() from error

    def picture(self, path):
        """The bytes of a picture, None where it is not there or is none."""
        try:
            if self.zip is None or self.zip.getinfo(path).file_size > MOST_PICTURE_BYTES:
                return None
            found = self.zip.read(path)
        except (KeyError, *BROKEN):
            return None
        return found if found[:3] == b"\xff\xd8\xff" else None

    def holds_scan(self, sha256, suffix):
        """Whether the original of a scan is in it, or here already, and is what it says."""
        name = f"{sha256}.{suffix}"
        if not ORIGINAL.fullmatch(name):
            return False
        if (scans.folder() / name).exists():
            return True
        try:
            if not self.zip or self.zip.getinfo(f"scans/{name}").file_size > MOST_ORIGINAL_BYTES:
                return False
            with closing(self.zip.open(f"scans/{name}")) as original:
                return scans.told_by(_pieces(original)) == (sha256, suffix)
        except (KeyError, *BROKEN):
            return False

    def unpack_scan(self, sha256, suffix):
        """Lay the original of a scan into the folder; whether it is there and is what it says."""
        name = f"{sha256}.{suffix}"
        if (scans.folder() / name).exists():
            return True
        try:
            with closing(self.zip.open(f"scans/{name}")) as original:
                stored = scans.store(_pieces(original))
        except OSError:
            # The disc, which is no fault of the ZIP.
            raise
        except (KeyError, *BROKEN):
            return False
        return (stored.sha256, stored.suffix) == (sha256, suffix)


def _pieces(file):
    return iter(lambda: file.read(1 << 20), b"")


def _damaged():
    return forms.ValidationError("That ZIP is damaged, or cut short.")


def _no_log():
    return forms.ValidationError("That is no log: it is cut short, or no JSON.")


def _parsed(text):
    try:
        return plain_json.loads(text)
    except ValueError as error:
        raise _no_log() from error


def _checked(log):
    if not isinstance(log, dict) or log.get("format") != FORMAT:
        raise forms.ValidationError("That is JSON, but no log of Chimney.")
    if log.get("version") != VERSION:
        raise forms.ValidationError(
            f"That log is of version {str(log.get('version'))[:20]}, and version {VERSION} is "
            "read here. Bring this Chimney up to date, or write the log anew with the other one."
        )
    rows, answers = log.get("rows"), log.get("answers", [])
    good = isinstance(rows, dict) and all(isinstance(rows.get(kind), list) for kind in KINDS)
    if not good or not isinstance(answers, list):
        raise forms.ValidationError("Rows are missing in that log.")
    count = sum(len(rows[kind]) for kind in KINDS)
    if count > MOST_ROWS:
        raise forms.ValidationError(
            f"That log has {count:,} rows; {MOST_ROWS:,} are more than a life of sheets."
        )
    return log
