"""The rules of the house, read off the files."""

import ast
import re
import subprocess
import sys
from functools import cache
from hashlib import sha256
from io import StringIO
from pathlib import Path

from django.core.management import call_command
from django.test import TestCase

ROOT = Path(__file__).resolve().parent.parent.parent
# Imports go down this list only; rooms on one line do not know each other.
FLOORS = (
    ("hearth",),
    ("exchange",),
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
# What an app's modules are called, by what they do; a sub-folder of an app holds the same kinds.
KIND = {
    "models",
    "forms",
    "flows",
    "queries",
    "craft",
    "page",
    "figures",
    "wording",
    "views",
    "urls",
}
KIND |= {"files", "prints", "signals", "apps", "catalogue"}
MORE = {"logbook": {"stages"}, "hearth": {"navigation", "invariants", "middleware"}}
# Mechanisms rather than rooms: what forms, drawings, receipts and devices are made with.
TOOLS = {"parts", "ledger"}
# Of an app, what stands over its rooms.
OVER = {"urls.py", "views.py", "apps.py", "management"}
LEVEL = {room: level for level, floor in enumerate(FLOORS) for room in floor}
KINDS = {room: KIND | MORE.get(room, set()) for room in LEVEL}
ROOMS = {room: set() for room in LEVEL}
ROOMS |= {
    "field": {"plan", "outing", "pocket", "together", "light", "notebook"},
    "solar": {"planner", "cans", "marks", "advising", "round"},
}
ROOMS |= {
    "kit": {"hole", "needs", "room"},
    "results": {"scans", "pictures", "comparing", "training", "wedges", "inbox", "wrong"},
}
ROOMS["results"] |= {"placing", "papers", "curves", "marks"}
ROOMS["field"] |= {"strip", "again", "ahead", "returning", "year", "hours", "today"}
ROOMS["field"] |= {"photo", "practice", "foreseen"}
ROOMS["solar"] |= {"season"}
ROOMS |= {"hearth": {"made", "begin", "guests"}, "logbook": {"row"}}
ROOMS |= {"lessons": {"progress", "search", "whole", "proposing", "explained", "knowing", "heard"}}
ROOMS |= {"exchange": {"whole", "tables", "feed", "own"}}
ROOMS |= {"darkroom": {"mixing", "procedure", "room", "running", "printing"}}
ABOVE_ALL = {"settings.py", "urls.py", "wsgi.py", "__init__.py"}
ABOVE_ALL |= {"folder.py", "copies.py", "beside.py", "serving.py", "starting.py", "turns.py"}


# Names that say nothing of what they hold, and docstrings that ask.
VAGUE = set(
    re.findall(
        r"\w+",
        """
        found told said known made kept wanted asked shown seen given one there here at of more most
        least way ways words what which whole done gone taken read once near far off over own other
        others
        """,
    )
)
# Turns that were on the screens once and made people guess, and words of machines.
NEVER_SAID = ("let it wait", "take that", "it is for that", "whose hearth", "for hanging it off")
NEVER_SAID += ("stops of light more", "dashboard", "successfully", "invalid input")
ASKING = set(re.findall(r"\w+", "What Whether How Which Where When Who Why Whose As"))


def sources():
    """Our own modules."""
    every = [*(ROOT / "pinhole").rglob("*.py"), *(ROOT / "chimney").rglob("*.py")]
    return [path for path in every if "migrations" not in path.parts]


@cache
def parsed(path):
    """The syntax of a module, for every rule that reads it."""
    return ast.parse(path.read_text())


def constants(tree):
    """Names of the constants of a module."""
    for node in tree.body:
        targets = node.targets if isinstance(node, ast.Assign) else ()
        for name in (name for target in targets for name in ast.walk(target)):
            if isinstance(name, ast.Name) and name.id.replace("_", "").isupper():
                yield name.id


def _luminance(colour):
    """Relative luminance of #rgb or #rrggbb (WCAG 2.2)."""
    digits = colour[1:] if len(colour) == 7 else "".join(2 * digit for digit in colour[1:])
    linear = []
    for n in (0, 2, 4):
        share = int(digits[n : n + 2], 16) / 255
        linear.append(share / 12.92 if share <= 0.04045 else ((share + 0.055) / 1.055) ** 2.4)
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def imports(path):
    for node in ast.walk(parsed(path)):
        if isinstance(node, ast.ImportFrom):
            yield node.module or ""
            yield from (f"{node.module}.{alias.name}" for alias in node.names)
        elif isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)


# The heading of a page is what leads to it as well; a number has its name in a heading too.
TITLES = {"What do I need at least", "with the sun on the paper"}
LEAST_WORDS = 6


def sentences_in(path):
    """Sentences of six words and more that a template or a module has for the screen."""
    text = path.read_text()
    if path.suffix == ".html":
        parts = re.split(r"\{#.*?#\}|\{%.*?%\}|\{\{.*?\}\}|<[^>]+>", text, flags=re.S)
    else:
        tree = parsed(path)
        notes = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
        every = [n for n in ast.walk(tree) if isinstance(n, ast.Constant) and id(n) not in notes]
        parts = [n.value for n in every if isinstance(n.value, str)]
    for part in parts:
        for sentence in re.split(r"[.?!](?:\s|$)", " ".join(part.split())):
            if len(sentence.split()) >= LEAST_WORDS:
                yield sentence.strip()


class House(TestCase):
    def test_the_craft_loads_no_django_and_no_site(self):
        paths = [
            path.relative_to(ROOT).with_suffix("") for path in (ROOT / "pinhole").rglob("*.py")
        ]
        names = [".".join(path.parts).removesuffix(".__init__") for path in paths]
        self.assertGreater(len(names), 30)
        wrong = "{'django', 'chimney'} & set(sys.modules)"
        code = f"import sys, {', '.join(names)}; sys.exit(bool({wrong}))"
        self.assertEqual(
            subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=False).returncode, 0
        )

    def test_imports_go_down(self):
        seen = 0
        for path in (ROOT / "chimney").rglob("*.py"):
            room = path.relative_to(ROOT / "chimney").parts[0]
            for name in imports(path):
                found = re.match(r"chimney\.(\w+)", name)
                if room in ABOVE_ALL or not found or f"{found[1]}.py" in {f"{room}.py"} | ABOVE_ALL:
                    continue
                seen += 1
                self.assertLess(LEVEL[room], LEVEL.get(found[1], -1), f"{path} imports {name}")
        self.assertGreater(seen, 50)

    def test_no_two_rooms_of_an_app_know_each_other(self):
        """Its addresses and its first views stand over its rooms, all else of it beneath them."""
        for app, rooms in ROOMS.items():
            known = {}
            for path in (ROOT / "chimney" / app).rglob("*.py"):
                parts = path.relative_to(ROOT / "chimney" / app).parts
                at = parts[0] if parts[0] in rooms else "over" if parts[0] in OVER else "beneath"
                for name in imports(path):
                    found = re.match(rf"chimney\.{app}\.(\w+)", name)
                    other = found and (found[1] if found[1] in rooms else "beneath")
                    if other and f"{found[1]}.py" not in OVER:
                        known.setdefault(at, set()).add(other)
            for at, others in known.items():
                both = [other for other in others - {at} if at in known.get(other, ())]
                self.assertEqual(both, [], f"{app}: {at}")

    def test_a_stage_is_written_in_one_place(self):
        for path in (ROOT / "chimney").rglob("*.py"):
            if path == ROOT / "chimney/logbook/flows/sheets.py":
                continue
            wrong = re.search(r"\.stage = |update\(stage=|stage=stage\)\.save", path.read_text())
            self.assertIsNone(wrong, path)

    def test_each_app_has_the_same_kinds_of_module(self):
        for path in (ROOT / "chimney").rglob("*.py"):
            room, *inside = path.relative_to(ROOT / "chimney").parts
            if not inside or room in TOOLS or {"migrations", "management"} & set(inside):
                continue
            names = {part.removesuffix(".py") for part in inside} - {"__init__"}
            self.assertTrue(names & KINDS[room] or not names - ROOMS[room], path)

    def test_only_flows_write(self):
        """And the mechanism they write by; a form's instance is not the database's."""
        verbs = "create|bulk_create|update_or_create|get_or_create|delete|bulk_update"
        for path in (ROOT / "chimney").rglob("*.py"):
            parts = path.relative_to(ROOT / "chimney").parts
            if parts[0] in TOOLS or "flows" in str(path) or "migrations" in parts:
                continue
            for line in path.read_text().splitlines():
                self.assertIsNone(
                    re.search(rf"\.({verbs})\(|objects.*\.update\(", line), (path, line)
                )
                saves = re.search(r"\.save\((?!commit=False|out, )", line)
                self.assertIsNone(saves, (path, line))

    def test_reads_of_a_page_are_queries(self):
        for path in (ROOT / "chimney").rglob("views.py"):
            self.assertNotIn(".objects", path.read_text(), path)

    def test_functions_are_short_and_views_shorter(self):
        sizes = {}
        for path in [
            *ROOT.glob("pinhole/**/*.py"),
            *ROOT.glob("chimney/**/*.py"),
            *ROOT.glob("scripts/*.py"),
        ]:
            for node in ast.walk(parsed(path)):
                if isinstance(node, ast.FunctionDef) and "migrations" not in path.parts:
                    doc = node.body[0] if ast.get_docstring(node) else None
                    size = node.end_lineno - node.lineno + 1
                    sizes[path, node.name] = size - (doc.end_lineno - doc.lineno + 1 if doc else 0)
        for (path, name), size in sizes.items():
            self.assertLessEqual(size, 15 if path.name == "views.py" else 40, f"{path} {name}")
        lengths = sorted(sizes.values())
        self.assertLessEqual(lengths[len(lengths) // 2], 6)
        self.assertLessEqual(lengths[int(len(lengths) * 0.9)], 20)

    def test_every_public_name_of_the_craft_is_documented(self):
        for path in (ROOT / "pinhole").rglob("*.py"):
            for node in ast.walk(parsed(path)):
                if isinstance(node, ast.FunctionDef | ast.ClassDef) and node.name[0] != "_":
                    self.assertTrue(ast.get_docstring(node), f"{path} {node.name}")

    def test_a_name_is_one_thing(self):
        known = {}
        for path in [*(ROOT / "pinhole").rglob("*.py"), *(ROOT / "chimney").rglob("*.py")]:
            if {"migrations", "commands"} & set(path.parts):
                continue
            for node in parsed(path).body:
                if isinstance(node, ast.ClassDef):
                    self.assertNotIn(node.name, known, path)
                    known[node.name] = path

    def test_a_constant_is_one_thing(self):
        known = {}
        for path in sources():
            # Django's settings repeat what the folder says.
            if path.name == "settings.py":
                continue
            for name in constants(parsed(path)):
                self.assertEqual(known.setdefault(name, path), path, name)

    def test_names_are_nouns_and_docstrings_say_what_is_returned_or_done(self):
        bound = vague = 0
        for path in sources():
            for node in ast.walk(parsed(path)):
                if isinstance(node, ast.Name | ast.arg):
                    stored = isinstance(node, ast.arg) or isinstance(node.ctx, ast.Store)
                    name = node.arg if isinstance(node, ast.arg) else node.id
                    bound, vague = bound + stored, vague + (stored and name in VAGUE)
                elif isinstance(node, ast.FunctionDef | ast.ClassDef | ast.Module):
                    first = (ast.get_docstring(node) or "-").split()[0].strip(".,:;")
                    self.assertNotIn(first, ASKING, f"{path} {getattr(node, 'name', '')}")
        self.assertLess(vague, 0.015 * bound)

    def test_templates_are_laid_out_to_be_read(self):
        for path in (ROOT / "chimney").rglob("*.html"):
            for number, line in enumerate(path.read_text().splitlines(), 1):
                self.assertLessEqual(len(line), 120, f"{path} {number}")
            self.assertLessEqual(number, 120, path)

    def test_what_a_hand_has_to_find_stands_out_three_to_one(self):
        """Borders of fields against what they lie on, in every dress (WCAG 2.2, 1.4.11)."""
        tokens = (ROOT / "chimney/styles/_tokens.scss").read_text()
        colours = {
            name: [_luminance(colour) for colour in re.findall(r"#[0-9a-f]+", dresses)]
            for name, dresses in re.findall(r"^  ([\w-]+): \(([^)]+)\),$", tokens, re.M)
        }
        for ground in ("paper", "ash", "tile"):
            for dress, (one, other) in enumerate(
                zip(colours["rule"], colours[ground], strict=True)
            ):
                ratio = (max(one, other) + 0.05) / (min(one, other) + 0.05)
                self.assertGreaterEqual(ratio, 3, (ground, dress))

    def test_styles_are_built_of_what_stands_there_and_stay_short(self):
        sources = sorted((ROOT / "chimney/styles").glob("*.scss"))
        texts = [source.read_bytes() for source in sources]
        of = sha256(b"".join(texts)).hexdigest()[:16]
        # A change of the sources is built by `make styles`.
        self.assertIn(of, (ROOT / "chimney/static/css/chimney.css").read_text())
        own = [
            text for source, text in zip(sources, texts, strict=True) if "boot" not in source.name
        ]
        self.assertLess(sum(text.count(b"\n") for text in own), 1750)

    def test_words_that_nobody_would_say_are_not_on_the_screens(self):
        spoken = [*(ROOT / "chimney" / "templates").rglob("*.html")]
        spoken += [path for path in sources() if "wording" in str(path) or path.name == "forms.py"]
        for path in spoken:
            text = " ".join(path.read_text().split()).lower()
            for words in NEVER_SAID:
                self.assertNotIn(words, text, path)

    def test_a_sentence_of_the_screens_stands_in_one_place(self):
        places = {}
        for path in [*(ROOT / "chimney").rglob("*.html"), *(ROOT / "chimney").rglob("*.py")]:
            if "migrations" not in path.parts:
                for sentence in sentences_in(path):
                    places.setdefault(sentence, set()).add(path.name)
        twice = {words: sorted(names) for words, names in places.items() if len(names) > 1}
        self.assertEqual({words: twice[words] for words in set(twice) - TITLES}, {})
        self.assertGreater(len(places), 600)

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
