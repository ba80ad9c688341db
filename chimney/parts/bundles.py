"""The scripts of every page as one file, joined of their parts when a part is newer: a first visit
asks for one file instead of seven.
"""

import os
import re
from functools import cache
from pathlib import Path
from urllib.parse import quote

from django.conf import settings
from django.contrib.staticfiles.finders import BaseFinder
from django.core.files.storage import FileSystemStorage

# In the order in which they hold. The styles are one file already (scripts/styles.sh).
BUNDLES = {
    "js/all.js": (
        "vendor/htmx.min.js",
        "js/taps.js",
        "js/counting.js",
        "js/timer.js",
        "js/drag.js",
        "js/links.js",
        "js/keys.js",
        "js/thumb.js",
    ),
}
REMARK = re.compile(r"/\*.*?\*/", re.S)
MAP = re.compile(r"/[*/][#@] sourceMappingURL=.*")


def _source(part):
    return settings.ROOT / "chimney" / "static" / part


def _place():
    return settings.ROOT / "var" / "bundles"


@cache
def icon():
    """The icon of every page, in the page itself: one question less."""
    return f"data:image/svg+xml,{quote(_source('icon.svg').read_text().strip())}"


def joined(name):
    """The text of a bundle."""
    return "\n".join(_text(part) for part in BUNDLES[name])


def _text(part):
    text = MAP.sub("", _source(part).read_text()).strip()
    if not part.startswith("vendor/"):
        text = _shorter(text)
    return f"{text};"


def _shorter(text):
    """The same without what is written for people: remarks on lines of their own, and indents."""
    lines = map(str.strip, REMARK.sub("", text).splitlines())
    return "\n".join(line for line in lines if line and not line.startswith("//"))


def built(name):
    """Path of a bundle, joined anew if one of its parts is newer."""
    path = _place() / name
    newest = max(_source(part).stat().st_mtime_ns for part in BUNDLES[name])
    if not path.exists() or path.stat().st_mtime_ns < newest:
        path.parent.mkdir(parents=True, exist_ok=True)
        begun = path.with_name(f"{path.name}.{os.getpid()}")
        begun.write_text(joined(name))
        begun.replace(path)
    return path


class Finder(BaseFinder):
    """Finds the bundles among the files that the site serves."""

    def check(self, **kwargs):
        return []

    def find(self, path, find_all=False, **kwargs):
        paths = [str(built(path))] if path in BUNDLES else []
        return paths if find_all else (paths[0] if paths else [])

    def list(self, ignore_patterns):
        storage = FileSystemStorage(location=Path(_place()))
        for name in BUNDLES:
            built(name)
            yield name, storage
