"""Folder of files that were handed over, until they are in, or left."""

import hashlib
import os
import re
from contextlib import suppress

from django.conf import settings

from chimney.results.models import Scan
from chimney.results.scans import files as scans

# Originals lie under the checksum of what is in them, and under no other name.
ORIGINAL = re.compile(r"[0-9a-f]{64}\.(jpg|png|tif)")


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
