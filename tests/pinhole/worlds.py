"""Logs of worlds that are not the model's: how often a plan's range holds the truth in them."""

from dataclasses import replace

import numpy as np

from pinhole.lessons import CENTRAL_90, Judged, late_boxes, learn, straightened

WORLD_LOOKS = np.array([-2.0, -1.0, -0.5, 0.0, 0.5, 1.0, 2.0])
# How an eye is off, by world; half a stop in the others.
EYES = {"coarse": 0.8, "fine": 0.25}
WORLDS = ("plain", "hole", "far hole", "slips", "coarse", "fine", "one camera a paper", "all of it")
# Beside those: a paper whose long times bend away from any exponent, one that curves, and one that
# slowly grows slower, of which a plan is made at the end.
BENT, CURVED, DRIFT = "bent", "curved", "drift"
BENT_STOPS, BENT_FROM = 0.2, 6.0
# One whose exponent grows all the while: so much for each doubling, of doublings squared.
CURVED_STOPS = 0.02
DRIFT_STOPS = 0.75
SHEETS_A_YEAR = 60
PAPERS_OF_WORLD, BATHS, BODIES = ("A", "B"), ("fresh", "coffee"), ("P", "W", "T")
LEFT_TO_METER = 1 / 6


def _truth(chance, kind):
    truth = {("paper", p): chance.normal(0, 0.8) for p in PAPERS_OF_WORLD}
    truth |= {("exponent", p): chance.normal(0.05, 0.1) for p in PAPERS_OF_WORLD}
    truth |= {("pair", (p, d)): chance.normal(0, 0.4) for p in PAPERS_OF_WORLD for d in BATHS}
    truth |= {("camera", c): chance.normal(0, 0.15) for c in BODIES}
    truth |= {("light", "low"): chance.normal(0.2, 0.4), ("process", "tank"): chance.normal(0, 0.3)}
    if kind in ("hole", "all of it"):
        truth["camera", "W"] = 0.75 * chance.choice([-1, 1])
    if kind == "far hole":
        truth["camera", "W"] = 1.5
    if kind == BENT:
        truth[BENT] = BENT_STOPS
    if kind == CURVED:
        truth[CURVED] = CURVED_STOPS
    if kind == DRIFT:
        truth[DRIFT] = DRIFT_STOPS
    return truth


def _exposure(chance, kind):
    paper, bath, body = (
        some[chance.integers(len(some))] for some in (PAPERS_OF_WORLD, BATHS, BODIES)
    )
    if kind == "one camera a paper":
        body = {"A": "P", "B": "W"}[paper]
    names = {"paper": paper, "pair": (paper, bath), "camera": body}
    names["light"] = "low" if chance.random() < 0.3 else None
    names["process"] = "tank" if chance.random() < 0.3 else None
    return names, 2 ** chance.uniform(2, 10)


def _needs(truth, names, metered_s, along=1.0):
    stops = truth.get(DRIFT, 0.0) * along if names["paper"] == "A" else 0.0
    stops += sum(truth[name] for name in names.items() if name[1] is not None)
    stops += truth["exponent", names["paper"]] * np.log2(metered_s)
    stops += truth.get(CURVED, 0.0) * np.log2(metered_s) ** 2
    return stops + truth.get(BENT, 0.0) * max(0.0, np.log2(metered_s) - BENT_FROM)


def log_of(chance, kind, sheets, **more):
    """(Judged, truth): whoever exposes has a guess of the truth already, and judges by looks; more:
    shares that are held.
    """
    truth, rows = _truth(chance, kind) | more.get("truth", {}), []
    for n in range(sheets):
        names, metered_s = _exposure(chance, kind)
        true = _needs(truth, names, metered_s, n / sheets)
        given_s = metered_s * 2 ** (true * chance.uniform(0, 0.9) + chance.normal(0, 0.3))
        off = true - np.log2(given_s / metered_s) + chance.normal(0, EYES.get(kind, 0.5))
        off += chance.normal(0, LEFT_TO_METER)
        if kind in ("slips", "all of it") and chance.random() < 1 / 12:
            off += chance.choice([-3, 3])
        look = WORLD_LOOKS[np.abs(WORLD_LOOKS - off).argmin()]
        rows.append((names, metered_s, given_s * 2**look, look))
    metered, needed, looks = (np.array([row[n] for row in rows]) for n in (1, 2, 3))
    keys = {kind: tuple(row[0][kind] for row in rows) for kind in rows[0][0]}
    ages = np.arange(sheets)[::-1] / SHEETS_A_YEAR
    return Judged(metered, metered, needed, **keys, verdict_stops=looks, age_years=ages), truth


def learned_with_jumps(judged):
    """(Learned, {paper: the box it comes from now}), as the site learns."""
    learned = learn(judged)
    boxes = late_boxes(judged, learned)
    if any(box is not None for box in boxes):
        learned = learn(replace(judged, box=tuple(boxes)))
    return straightened(judged, learned), dict(zip(judged.paper, boxes, strict=True))


def held_by_plans(kind, sheets, *, logs, seed):
    """(share of plans whose 90 % range holds the truth, share within half a stop): four a log."""
    chance, held, near = np.random.default_rng(seed), [], []
    for _ in range(logs):
        judged, truth = log_of(chance, kind, sheets)
        learned, boxes = learned_with_jumps(judged)
        for _ in range(4):
            names, metered_s = _exposure(chance, kind)
            box = boxes.get(names["paper"])
            mean, sd = learned.plan(**names, metered_s=metered_s, box=box)
            off = abs(mean - _needs(truth, names, metered_s))
            held.append(off < CENTRAL_90 * sd)
            near.append(off < 0.5)
    return float(np.mean(held)), float(np.mean(near))
