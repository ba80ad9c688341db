"""What the documentation says of a parameter is what the craft does with it, for every public
function whose parameters are all numbers with a stated range.
"""

import importlib
import inspect
import pkgutil
import re
from unittest import TestCase

import numpy as np

import pinhole

STATED = re.compile(
    r"((?:\w+(?: \([^)]*\))?, )*\w+(?: \([^)]*\))?) "
    r"\[([^\]]*?(?:above|at least|at most|-?\d+ to -?\d+)[^\]]*)\]"
)
LIMIT = re.compile(r"(above|at least|at most|(-?\d+) to) (-?[\d.]+)")
USUAL = 10.0


def stated(function):
    """{parameter: (refused, taken)} from its docstring: values just outside and just inside."""
    doc = " ".join((function.__doc__ or "").split())
    ranges = {}
    for names, words in STATED.findall(doc):
        refused, taken = [], []
        for kind, low, text in LIMIT.findall(words):
            limit = float(text)
            if kind == "above":
                refused, taken = [*refused, limit, limit - 0.5], [*taken, limit + 0.5]
            elif kind == "at least":
                refused, taken = [*refused, limit - 1e-6], [*taken, limit]
            else:
                refused, taken = [*refused, limit + 1e-6], [*taken, limit]
            if low:
                refused, taken = [*refused, float(low) - 1e-6], [*taken, float(low)]
        for name in re.sub(r" \([^)]*\)", "", names).split(", "):
            ranges[name] = (refused, taken)
    return ranges


def all_stated():
    """(name, function, ranges) where every parameter without a default has a range or is a plain
    number.
    """
    for module in pkgutil.walk_packages(pinhole.__path__, "pinhole."):
        for name, function in vars(importlib.import_module(module.name)).items():
            if not inspect.isfunction(function) or function.__module__ != module.name:
                continue
            parameters = inspect.signature(function).parameters.values()
            ranges = stated(function)
            needed = {one.name for one in parameters if one.default is one.empty}
            if ranges and not name.startswith("_") and needed <= {*ranges, "ev100", "ev"}:
                named = {one.name for one in parameters}
                yield (
                    f"{module.name}.{name}",
                    function,
                    needed,
                    {key: limits for key, limits in ranges.items() if key in named},
                )


class Limits(TestCase):
    def test_what_is_stated_is_kept(self):
        functions = list(all_stated())
        self.assertGreater(len(functions), 20)
        for name, function, needed, ranges in functions:
            usual = {key: ranges[key][1][0] if key in ranges else USUAL for key in needed}
            function(**usual)
            for parameter, (refused, taken) in ranges.items():
                for value in refused:
                    with (
                        self.subTest(f"{name}({parameter}={value})"),
                        self.assertRaisesRegex(ValueError, f"{parameter} must be"),
                    ):
                        function(**usual | {parameter: value})
                for value in taken:
                    with self.subTest(f"{name}({parameter}={value})"):
                        self.assertFalse(
                            np.isnan(
                                np.ravel(_numbers(function(**usual | {parameter: value})))
                            ).any()
                        )


def _numbers(result):
    return [part for part in np.atleast_1d(result) if isinstance(part, float)]
