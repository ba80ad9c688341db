"""The rules of the house, read off the files."""

import ast
import re
import subprocess
import sys
from io import StringIO
from pathlib import Path

from django.core.management import call_command
from django.test import TestCase

ROOT = Path(__file__).resolve().parent.parent.parent
# Imports go down this list only; rooms on one line do not know each other.
FLOORS = (
    ("hearth",),
    ("field", "solar"),
    ("lessons",),
    ("results",),
    ("darkroom",),
    ("logbook",),
    ("kit",),
    ("places",),
    ("ledger",),
    ("parts",),
)
LEVEL = {room: level for level, floor in enumerate(FLOORS) for room in floor}
ABOVE_ALL = {"settings.py", "urls.py", "wsgi.py", "folder.py", "__init__.py"}


def imports(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom):
            yield node.module or ""
            yield from (f"{node.module}.{alias.name}" for alias in node.names)
        elif isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)


class House(TestCase):
    def test_the_craft_loads_no_django_and_no_site(self):
        names = [f"pinhole.{path.stem}" for path in (ROOT / "pinhole").glob("*.py")] + [
            "pinhole.reciprocity"
        ]
        code = (
            f"import sys, {', '.join(names)}; sys.exit(bool({{'django', 'chimney'}} & "
            "set(sys.modules)))"
        )
        self.assertEqual(
            subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=False).returncode, 0
        )

    def test_imports_go_down(self):
        seen = 0
        for path in (ROOT / "chimney").rglob("*.py"):
            room = path.relative_to(ROOT / "chimney").parts[0]
            for name in imports(path):
                found = re.match(r"chimney\.(\w+)", name)
                if room in ABOVE_ALL or not found or found[1] in (room, "folder"):
                    continue
                seen += 1
                self.assertLess(LEVEL[room], LEVEL.get(found[1], -1), f"{path} imports {name}")
        self.assertGreater(seen, 50)

    def test_a_stage_is_written_in_one_place(self):
        for path in (ROOT / "chimney").rglob("*.py"):
            if path.name == "flows.py" and path.parent.name == "logbook":
                continue
            self.assertIsNone(
                re.search(r"\.stage = |update\(stage=|stage=stage\)\.save", path.read_text()), path
            )

    def test_no_migration_is_missing(self):
        call_command("makemigrations", check=True, dry_run=True, stdout=StringIO())

    def test_files_stay_readable(self):
        for path in [*(ROOT / "pinhole").rglob("*.py"), *(ROOT / "chimney").rglob("*.py")]:
            self.assertLessEqual(len(path.read_text().splitlines()), 300, path)

    def test_nothing_is_fetched_and_no_style_stands_in_a_tag(self):
        for path in (ROOT / "chimney" / "templates").rglob("*.html"):
            text = path.read_text()
            for found in (
                re.search(r'(src|href)="(https?:)?//', text),
                re.search(r"\sstyle=|\son\w+=|hx-on", text),
            ):
                self.assertIsNone(found, path)
