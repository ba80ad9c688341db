"""Mutants of the rooms that judge and learn: a small change in one place each, and how many of them
the tests of that room notice. Fixed seed; each runs in a copy of the tree that goes afterwards.

Usage: python scripts/mutants.py [ROOM ...]
"""

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SEED, EACH, AT_ONCE, LONGEST_S = 60, 20, 2, 300
# Room: (files that are changed, tests that should notice).
ROOMS = {
    "sheet": (
        ("pinhole/sheet.py", "pinhole/densitometry.py", "pinhole/corners.py"),
        ("tests.pinhole.test_sheet",),
    ),
    "learning": (
        ("pinhole/lessons/ei.py", "pinhole/lessons/line.py", "pinhole/lessons/model.py"),
        ("tests.pinhole.test_learning",),
    ),
    "lessons": (
        ("chimney/lessons/craft.py", "chimney/lessons/flows.py"),
        ("tests.chimney.test_lessons", "tests.chimney.test_reading"),
    ),
    "scans": (
        ("chimney/results/scans/craft.py", "chimney/results/scans/page.py"),
        ("tests.chimney.test_scans",),
    ),
    "darkroom": (
        ("chimney/darkroom/craft.py", "chimney/darkroom/page.py", "chimney/darkroom/flows.py"),
        ("tests.chimney.test_darkroom",),
    ),
    "chemistry": (("pinhole/chemistry.py",), ("tests.pinhole.test_chemistry",)),
}
OTHER_WAY = {
    ast.Lt: ast.GtE,
    ast.GtE: ast.Lt,
    ast.Gt: ast.LtE,
    ast.LtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.And: ast.Or,
    ast.Or: ast.And,
}


@dataclass(frozen=True)
class Mutant:
    """path; number: of its place in the file; words: what is changed; text: the file then."""

    path: str
    number: int
    words: str
    text: str


def places(tree):
    """Nodes that can be changed, in their order."""
    return [node for node in ast.walk(tree) if is_place(node)]


def is_place(node):
    """True for comparisons, sums, "and", "not", a sign and a number."""
    if isinstance(node, ast.Compare):
        return type(node.ops[0]) in OTHER_WAY
    if isinstance(node, ast.BinOp | ast.BoolOp):
        return type(node.op) in OTHER_WAY
    if isinstance(node, ast.UnaryOp):
        return isinstance(node.op, ast.Not | ast.USub)
    return isinstance(node, ast.Constant) and type(node.value) in (int, float, bool)


def changed(node):
    """Change a node in its place, and say how."""
    line = getattr(node, "lineno", 0)
    before = ast.unparse(node)
    if isinstance(node, ast.Compare):
        node.ops[0] = OTHER_WAY[type(node.ops[0])]()
    elif isinstance(node, ast.BinOp | ast.BoolOp):
        node.op = OTHER_WAY[type(node.op)]()
    elif isinstance(node, ast.UnaryOp):
        node.op = ast.UAdd() if isinstance(node.op, ast.USub) else ast.Not()
        node.operand = ast.UnaryOp(ast.Not(), node.operand) if "not" in before else node.operand
    elif isinstance(node.value, bool):
        node.value = not node.value
    else:
        node.value = node.value + 1 if node.value in (0, 1) else node.value * 1.5
    return f"line {line}: {before} -> {ast.unparse(node)}"


def mutants(paths):
    """EACH Mutants of these files, chosen by chance."""
    chance, every = random.Random(SEED), []
    for path in paths:
        count = len(places(ast.parse((ROOT / path).read_text())))
        every += [(path, number) for number in range(count)]
    for path, number in chance.sample(every, min(EACH, len(every))):
        tree = ast.parse((ROOT / path).read_text())
        words = changed(places(tree)[number])
        yield Mutant(path, number, words, ast.unparse(tree))


def is_noticed(mutant, tests):
    """True if the tests of its room fail, or hang, with the mutant in a copy of the tree."""
    with tempfile.TemporaryDirectory() as place:
        tree = Path(place) / "tree"
        skipped = shutil.ignore_patterns(".git", ".venv", "node_modules", "var", "screenshots")
        shutil.copytree(ROOT, tree, ignore=skipped)
        (tree / mutant.path).write_text(mutant.text)
        env = os.environ | {"CHIMNEY_DATA": f"{place}/data", "CHIMNEY_ZONE": "Europe/Stockholm"}
        command = [sys.executable, "manage.py", "test", "--noinput", "--failfast", *tests]
        try:
            ended = subprocess.run(
                command, cwd=tree, env=env, capture_output=True, timeout=LONGEST_S
            )
        except subprocess.TimeoutExpired:
            return True
        return ended.returncode != 0


def main():
    wanted = sys.argv[1:] or list(ROOMS)
    print("| room | mutants | noticed |\n|---|---|---|", flush=True)
    for room in wanted:
        paths, tests = ROOMS[room]
        every = list(mutants(paths))
        with ThreadPoolExecutor(AT_ONCE) as pool:
            noticed = list(pool.map(lambda mutant, t=tests: is_noticed(mutant, t), every))
        print(f"| {room} | {len(every)} | {sum(noticed)} |", flush=True)
        for mutant, was_noticed in zip(every, noticed, strict=True):
            if not was_noticed:
                print(f"    lives: {mutant.path} {mutant.words}", file=sys.stderr, flush=True)


if __name__ == "__main__":
    main()
