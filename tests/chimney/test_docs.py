"""Every name, path, address, command and setting that the documents quote is there."""

import importlib
import inspect
import re
import subprocess
from functools import cache
from pathlib import Path

from django.apps import apps
from django.core.management import get_commands
from django.test import SimpleTestCase
from django.urls import Resolver404, resolve

from chimney.exchange.whole.catalogue import ROW_KINDS

ROOT = Path(__file__).resolve().parent.parent.parent
DOCUMENTS = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md"))]
# Where a dotted name may begin.
BEGINNINGS = ("", "chimney.", "pinhole.", "tests.", "demo.")
# What stands for others of its kind, or is said by another program.
EXAMPLES = {"_name.html", "https://log.example.org", "scans/<sha256>.<suffix>"}
EXAMPLES |= {"X-Forwarded-Proto: https", "X-Forwarded-For"}
FOLDERS = (ROOT, ROOT / "chimney", ROOT / "pinhole", ROOT / "docs")
SUFFIXES = {".py", ".html", ".js", ".css", ".sh", ".txt", ".md", ".toml", ".json", ""}


def quoted():
    """(document, what stands between two backticks)."""
    for path in DOCUMENTS:
        text = re.sub(r"^```.*?^```", "", path.read_text(), flags=re.M | re.S)
        for span in re.findall(r"`([^`\n]+)`", text):
            yield path.relative_to(ROOT), span


@cache
def source():
    """All that is tracked and is no document, as one text."""
    tracked = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True)
    paths = (ROOT / name for name in tracked.stdout.splitlines())
    ours = (p for p in paths if p.suffix in SUFFIXES and "docs" not in p.parts and p.is_file())
    return "\n".join(
        p.read_text(errors="replace")
        for p in ours
        if p.name not in ("README.md", Path(__file__).name)
    )


@cache
def classes():
    """{name: [class]} of the craft and the site."""
    known = {}
    for path in [*(ROOT / "pinhole").rglob("*.py"), *(ROOT / "chimney").rglob("*.py")]:
        if {"migrations", "commands"} & set(path.parts) or path.name in ("wsgi.py", "serving.py"):
            continue
        module = importlib.import_module(".".join(path.relative_to(ROOT).with_suffix("").parts))
        for name, value in inspect.getmembers(module, inspect.isclass):
            known.setdefault(name, []).append(value)
    return known


def is_dotted_name(span):
    """True if a dotted name leads from a module, a model or a class to something there."""
    first, *rest = span.split(".")
    starts = list(classes().get(first, ()))
    starts += [(apps.get_model(first, rest[0]), rest[1:])] if _is_model(first, rest) else []
    for beginning in BEGINNINGS:
        for cut in range(len(rest) + 1, 0, -1):
            try:
                module = importlib.import_module(beginning + ".".join([first, *rest][:cut]))
            except (ImportError, ValueError):
                continue
            starts.append((module, rest[cut - 1 :]))
            break
    return any(_leads_on(*(s if isinstance(s, tuple) else (s, rest))) for s in starts)


def _is_model(first, rest):
    return first in apps.app_configs and rest and rest[0].lower() in apps.all_models[first]


def _leads_on(value, names):
    for name in names:
        fields = {f.name for f in value._meta.get_fields()} if hasattr(value, "_meta") else set()
        fields |= set(getattr(value, "__annotations__", ()))
        if not hasattr(value, name) and name not in fields:
            return False
        value = getattr(value, name, None)
    return True


def is_there(span):
    """True if what a document quotes is there, by what it looks like."""
    word = re.sub(r"^[A-Z]+=\S+ |\([^)]*\)$", "", span.strip())
    if word in EXAMPLES:
        return True
    if word.startswith("manage.py "):
        return word.split()[1] in get_commands()
    if word.startswith("make "):
        return re.search(rf"^{word.split()[1]}:", (ROOT / "Makefile").read_text(), re.M)
    if word.startswith("/"):
        return _resolves(word)
    path = word.split()[0]
    if "/" in path or re.search(r"\.(py|md|sh|sqlite3|json|toml)$", path):
        return any((folder / path).exists() for folder in FOLDERS) or path in source()
    if word in ROW_KINDS:
        return True
    if re.fullmatch(r"[A-Za-z_]\w*(\.\w+)+", word) and is_dotted_name(word):
        return True
    return all(part in source() for part in re.findall(r"[\w.-]+", re.sub(r"\(.*\)", "", word)))


def _resolves(address):
    try:
        return resolve(re.sub(r"[A-Z]{2,}|<[^>]*>|N\b", "1", address.partition("?")[0]))
    except Resolver404:
        return False


class Documents(SimpleTestCase):
    def test_whatever_is_quoted_is_there(self):
        spans = list(quoted())
        self.assertGreater(len(spans), 200)
        self.assertEqual([pair for pair in spans if not is_there(pair[1])], [])

    def test_what_is_not_there_is_found(self):
        for span in (
            "manage.py scans",
            "make nothing",
            "/data/chimney.zip",
            "tests/chimney/test_nowhere.py",
            "exchange.whole.forms.bounds_nowhere",
            "Specification.nowhere",
            "CHIMNEY_NOWHERE",
        ):
            self.assertFalse(is_there(span), span)

    def test_pictures_and_links_lead_somewhere(self):
        for path in DOCUMENTS:
            for target in re.findall(r"\]\(([^)#\s]+)", path.read_text()):
                if "://" not in target:
                    self.assertTrue((path.parent / target).exists(), f"{path.name}: {target}")
