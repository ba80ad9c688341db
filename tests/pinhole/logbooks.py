"""Synthetic logbooks whose truth is known: what a person would log whose paper, camera, developer
and light are so, and who judges so.
"""

from dataclasses import dataclass

import numpy as np

from pinhole.lessons import CENTRAL_90, Judged, learn

PAPERS, DEVELOPERS, CAMERAS = ("RC", "fibre"), ("fresh", "coffee"), ("Plank", "Wedge", "Tom")
# How truths are spread, as people differ: speeds by most of a stop, exponents by a tenth, holes by
# a tenth of their width.
SPREAD = {
    "paper": 0.8,
    "pair": 0.4,
    "exponent": 0.12,
    "camera": 0.28,
    "light": 0.38,
    "process": 0.28,
}
JUDGEMENT_SD = 0.5


@dataclass(frozen=True)
class Logbook:
    """judged: what was logged; truth: {(kind, key): stops or exponent}."""

    judged: Judged
    truth: dict

    def stops(self, names):
        return sum(self.truth[name] * times for name, times in names.items())


def logbook(chance, sheets, *, odd=0.0):
    """A Logbook; odd: the share of its verdicts that are mistaken by three stops."""
    truth = {("paper", paper): chance.normal(0, SPREAD["paper"]) for paper in PAPERS}
    truth |= {("exponent", paper): chance.normal(0, SPREAD["exponent"]) for paper in PAPERS}
    pairs = [(paper, developer) for paper in PAPERS for developer in DEVELOPERS]
    truth |= {("pair", pair): chance.normal(0, SPREAD["pair"]) for pair in pairs}
    truth |= {("camera", camera): chance.normal(0, SPREAD["camera"]) for camera in CAMERAS}
    truth |= {("light", "evening"): chance.normal(0, SPREAD["light"])}
    truth |= {("process", "tank"): chance.normal(0, SPREAD["process"])}
    rows = [_sheet(chance) for _ in range(sheets)]
    metered = np.array([2.0 ** chance.uniform(2, 11) for _ in rows])
    more = np.array([sum(truth[name] for name in row.items() if name[1]) for row in rows])
    more += [
        truth["exponent", row["paper"]] * np.log2(m) for row, m in zip(rows, metered, strict=True)
    ]
    more += chance.normal(0, JUDGEMENT_SD, sheets) + 3 * (chance.random(sheets) < odd)
    keys = {kind: tuple(row[kind] for row in rows) for kind in rows[0]}
    return Logbook(Judged(metered, metered, metered * 2**more, **keys), truth)


def _sheet(chance):
    paper, developer = PAPERS[chance.integers(2)], DEVELOPERS[chance.integers(2)]
    return {
        "paper": paper,
        "pair": (paper, developer),
        "camera": CAMERAS[chance.integers(3)],
        "light": "evening" if chance.random() < 0.4 else None,
        "process": "tank" if chance.random() < 0.4 else None,
    }


def coverage(books, sheets, seed, *, odd=0.0):
    """{what: share of logbooks whose stated 90 % range holds the truth}, and the share of times
    within half a stop.
    """
    chance, held = np.random.default_rng(seed), {}
    plan = {"paper": "RC", "pair": ("RC", "coffee"), "camera": "Wedge"}
    plan |= {"light": None, "process": None}
    for _ in range(books):
        book = logbook(chance, sheets, odd=odd)
        learned = learn(book.judged, judgement_sd=JUDGEMENT_SD)
        asked = {
            "exponent": {("exponent", "RC"): 1.0},
            "camera": {("camera", "Wedge"): 1.0},
            "evening light": {("light", "evening"): 1.0},
            "process": {("process", "tank"): 1.0},
        }
        for what, names in asked.items():
            mean, sd = learned.stops(names)
            off = abs(mean - book.stops(names))
            held.setdefault(what, []).append(off < CENTRAL_90 * sd)
        mean, sd = learned.plan(**plan, metered_s=128.0)
        names = {(kind, key): 1.0 for kind, key in plan.items() if key} | {("exponent", "RC"): 7.0}
        off = abs(mean - book.stops(names))
        held.setdefault("the time of a plan", []).append(off < CENTRAL_90 * sd)
    return {what: float(np.mean(found)) for what, found in held.items()}
