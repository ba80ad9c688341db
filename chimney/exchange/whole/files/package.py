"""A file that was handed over as a log: measured before it is opened, refused in words if it is
none.
"""

import lzma
import zipfile
import zlib
from contextlib import closing

from django import forms

from chimney.exchange.whole.files.rows import SpooledLog
from chimney.exchange.whole.files.stored import ORIGINAL, folder
from chimney.exchange.whole.files.writing import LOG
from chimney.parts.json_stream import JsonStream
from chimney.results.scans import files as scans

MOST_LOG_BYTES = 250_000_000
MOST_PICTURE_BYTES = 8_000_000
# As large as a scan that is taken in may be: 300 megapixels of three colours in 16 bits.
MOST_ORIGINAL_BYTES = 2_000_000_000
# A log packs to a tenth; what unpacks to many times that was made to fill a disc.
MOST_TIMES, NEVER_TOO_MUCH_BYTES = 60, 20_000_000
COMPRESSIONS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
# What a ZIP raises that is damaged, locked, or packed in a way that is not known.
ZIP_ERRORS: tuple[type[Exception], ...] = (
    zipfile.BadZipFile,
    EOFError,
    NotImplementedError,
    RuntimeError,
    OSError,
    ValueError,
)
ZIP_ERRORS += (zlib.error, lzma.LZMAError)
# What reading one raises beside ValueError, which is the log's own fault.
UNREADABLE = tuple(error for error in ZIP_ERRORS if error not in (ValueError, OSError))


class Package:
    """A file that was handed over: a ZIP, or the JSON of one alone. Raises forms.ValidationError
    for anything else.
    """

    def __init__(self, stored_as):
        self.path = folder() / stored_as
        # One is read at a time, beside the server.
        self.spooled = SpooledLog(folder() / "rows")
        try:
            self.zip = zipfile.ZipFile(self.path) if zipfile.is_zipfile(self.path) else None
        except ZIP_ERRORS as error:
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
        if unpacked > too_much or any(part.compress_type not in COMPRESSIONS for part in parts):
            self.zip.close()
            raise forms.ValidationError("That ZIP is packed as no log is: nothing was unpacked.")

    def __enter__(self):
        return self

    def __exit__(self, *error):
        self.spooled.away()
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
        """The SpooledLog of it, of this version, which lies in the folder until the package is
        shut.
        """
        self._measured()
        try:
            with closing(self._opened()) as file:
                return self.spooled.read(JsonStream(file))
        except UNREADABLE as error:
            raise _damaged() from error
        except ValueError as error:
            raise _no_log() from error

    def _opened(self):
        if self.zip is None:
            return self.path.open("rb")
        try:
            return self.zip.open(LOG)
        except ZIP_ERRORS as error:
            raise _damaged() from error

    def _measured(self):
        """Raise ValidationError where there is no log in it, or one that is larger than any."""
        try:
            size = self.zip.getinfo(LOG).file_size if self.zip else self.path.stat().st_size
        except KeyError:
            raise forms.ValidationError("There is no log.json in that ZIP.") from None
        if size > MOST_LOG_BYTES:
            raise forms.ValidationError("That is larger than any log.")

    def picture(self, path):
        """The bytes of a picture, None where it is not there or is none."""
        try:
            if self.zip is None or self.zip.getinfo(path).file_size > MOST_PICTURE_BYTES:
                return None
            content = self.zip.read(path)
        except (KeyError, *ZIP_ERRORS):
            return None
        return content if content[:3] == b"\xff\xd8\xff" else None

    def holds_scan(self, sha256, suffix):
        """True if the original of a scan is in it, or here already, and has the right checksum."""
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
        except (KeyError, *ZIP_ERRORS):
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
        except (KeyError, *ZIP_ERRORS):
            return False
        return (stored.sha256, stored.suffix) == (sha256, suffix)


def _pieces(file):
    return iter(lambda: file.read(1 << 20), b"")


def _damaged():
    return forms.ValidationError("That ZIP is damaged, or cut short.")


def _no_log():
    return forms.ValidationError("That is no log: it is cut short, or no JSON.")
