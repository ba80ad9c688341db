"""Where lessons call the craft: what one judged sheet says, and what a whole log does."""

import math
from collections import Counter
from dataclasses import dataclass

import numpy as np

from chimney.results.training.craft import UNTRAINED_SD
from pinhole import exposure as craft
from pinhole import lessons as teaching
from pinhole import light
from pinhole.lessons import CENTRAL_90

# Light whose colour asked for more than this had a low sun.
LOW_SUN_STOPS, LOW_SUN = 1 / 6, "low sun"
# How far a word for the light may lie from what people mean by it [stops] (common practice).
EYE_PRIOR_SD = 0.7
SKY_OF = {sky.words.partition(",")[0]: sky.name for sky in light.SKIES}
# A time whose school is asked how steep it is there.
STEEPNESS = 2**0.25


def said(exposure, paper, stops_more):
    """The columns of an Evidence: the EI that would have been right, seconds at the box EI before
    reciprocity, those that would have been right, and the light.
    """
    calculation, given_s = exposure.calculation, exposure.effective_s
    asked = calculation.specification
    stops = craft.stops_more_than_box(calculation, given_s, stops_more, paper.box_ei)
    known = 2.0 ** sum(stops for _, stops, _ in asked.learned)
    school = calculation.school
    return {
        "log2_ei": math.log2(paper.box_ei) - stops,
        "metered_s": calculation.metered_s * asked.ei / paper.box_ei / known,
        "needed_s": school.adjusted_s(school.metered_s(given_s) * 2.0**stops_more),
        "sky": sky_of(calculation.reading),
        "light": LOW_SUN if abs(asked.colour_stops) >= LOW_SUN_STOPS else "",
    }


def sky_of(reading):
    """What a Reading by eye called the sky; nothing of a metered one and of two at once."""
    return SKY_OF.get(reading.said.partition(",")[0], "") if reading.kind == "sky" else ""


def eye_findings(judged_by_eye, log, judgement_sd):
    """{("eye", sky): (columns, Share)}: how many stops more than its word says such light needed,
    from sheets whose paper, camera and developer are known.
    """
    told = {}
    for evidence in judged_by_eye:
        told.setdefault(evidence.sky, []).append(_off_by_eye(evidence, log))
    found = {}
    for sky, rows in told.items():
        weights = [1 / (judgement_sd**2 + sd**2) for _, sd in rows]
        total = EYE_PRIOR_SD**-2 + sum(weights)
        mean = sum(w * off for w, (off, _) in zip(weights, rows, strict=True)) / total
        found["eye", sky] = {}, teaching.Share("eye", sky, mean, total**-0.5, len(rows))
    return found


def _off_by_eye(evidence, log):
    """(stops more than the rest of the log explains, how sure that is)."""
    paper = evidence.paper
    names = {("paper", paper.pk): 1.0, ("pair", (paper.pk, evidence.developer_id)): 1.0}
    names |= {("camera", evidence.camera_id): 1.0}
    names |= {("exponent", paper.pk): math.log2(evidence.metered_s)}
    known, sd = log.learned.stops(names)
    school_s = paper.schools[paper.school].adjusted_s(evidence.metered_s)
    return math.log2(evidence.needed_s / school_s) - known, sd


@dataclass(frozen=True)
class Rating:
    """An EI with its central 90 %, how sure [stops], and how many sheets speak of it."""

    ei: float
    low: float
    high: float
    sd_log2: float
    sheets: int


@dataclass(frozen=True)
class Log:
    """The craft's Learned of a whole log; papers: {pk: Paper}; pairs: {(paper, developer): median
    metered seconds}; kept: names of findings that plans use; weights: of each sheet.
    """

    learned: teaching.Learned
    papers: dict
    pairs: dict
    counts: dict
    kept: frozenset

    @property
    def weights(self):
        """How much each sheet counts, as plain numbers."""
        return [float(weight) for weight in self.learned.weights]

    def ratings(self):
        """{(paper, developer or None): Rating}, what is not kept held at nothing."""
        found = {pair: self._rating(*pair) for pair in self.pairs}
        return found | {(paper, None): self._rating(paper, None) for paper in self.papers}

    def _rating(self, paper, developer):
        names = {("paper", paper): 1.0}
        names |= {("pair", (paper, developer)): 1.0} if developer else {}
        mean, sd = self.learned.stops(names, without=self._held)
        usual_s = self.pairs.get((paper, developer)) or self._usual_s(paper)
        known, steep = self.papers[paper], self.exponent(paper)
        if steep is None:
            steep = steepness(known, usual_s)
        else:
            # Shift and exponent pull on each other: the pair is as sure as its usual times are.
            names |= {("exponent", paper): math.log2(usual_s)}
            sd = self.learned.stops(names, without=self._held)[1]
        middle, sd = math.log2(known.box_ei) - mean / steep, sd / steep
        low, high = (2 ** (middle + sign * CENTRAL_90 * sd) for sign in (-1, 1))
        return Rating(2**middle, low, high, sd, self.counts[paper, developer])

    def _usual_s(self, paper):
        return float(np.median([s for (of, _), s in self.pairs.items() if of == paper]))

    @property
    def _held(self):
        """Shares that are not in the plans, so that speeds take over what they would explain."""
        names = (name for name in self.learned.names if name[0] not in ("paper", "pair"))
        return [name for name in names if (name[0], str(name[1])) not in self.kept]

    def exponent(self, paper):
        """The learned exponent of a paper where it is kept, else None."""
        if ("exponent", str(paper)) not in self.kept:
            return None
        return learned_exponent(self.papers[paper], self.learned.share("exponent", paper).mean)

    def findings(self):
        """{(kind, of): (columns, Share)} of all but speeds."""
        found = {}
        for share in self.learned.shares:
            if share.kind in ("paper", "pair"):
                continue
            columns = {"paper_id": share.key} if share.kind == "exponent" else {}
            columns |= {"camera_id": share.key} if share.kind == "camera" else {}
            found[share.kind, str(share.key)] = columns, share
        return found


def own_exponent(paper):
    """The exponent of a paper's own school, None for a table, which has none."""
    if paper.school == "table":
        return None
    return 1.0 if paper.school == "none" else paper.exponent


def learned_exponent(paper, mean):
    """The exponent of a paper whose sheets say so much more than its own school; None for a table,
    and no less than 1, as no school shortens a time.
    """
    own = own_exponent(paper)
    return own and max(1.0, own + mean)


def steepness(paper, metered_s):
    """How much a stop of light is in stops of the clock, by the paper's own school."""
    school = paper.schools[paper.school]
    ends = (school.adjusted_s(metered_s * step) for step in (1 / STEEPNESS, STEEPNESS))
    low, high = (math.log2(end) for end in ends)
    return (high - low) / (2 * math.log2(STEEPNESS))


def _unusual(names):
    """The usual process is none of its own: others are held against it."""
    usual = Counter(names).most_common(1)[0][0] if names else ""
    return tuple(None if name in ("", usual) else name for name in names)


def whole_log(columns, papers, eye, kept=frozenset()):
    """The Log of counted sheets, seen by that Eye. columns: as queries.counted_columns; papers:
    {pk: Paper} of them.
    """
    metered, of = np.array(columns["metered_s"], float), np.array(columns["paper_id"], int)
    school_s = metered.copy()
    for pk, paper in papers.items():
        school_s[of == pk] = paper.schools[paper.school].adjusted_s(metered[of == pk])
    pairs = tuple(zip(columns["paper_id"], columns["developer_id"], strict=True))
    judged = teaching.Judged(
        metered_s=metered,
        school_s=school_s,
        needed_s=np.array(columns["needed_s"], float),
        paper=columns["paper_id"],
        pair=pairs,
        camera=columns["camera_id"],
        light=tuple(light or None for light in columns["light"]),
        process=_unusual(columns["process"]),
    )
    sd = eye.spread_stops if eye.is_known else UNTRAINED_SD
    bias = eye.bias_stops if eye.is_known else 0.0
    learned = teaching.learn(judged, judgement_sd=sd, judgement_bias=bias)
    counts = Counter(pairs) + Counter((paper, None) for paper in columns["paper_id"])
    return Log(learned, papers, _usual_times(pairs, metered), counts, frozenset(kept))


def _usual_times(pairs, metered):
    """{pair: median metered seconds}."""
    times = {}
    for pair, seconds in zip(pairs, metered.tolist(), strict=True):
        times.setdefault(pair, []).append(seconds)
    return {pair: float(np.median(found)) for pair, found in times.items()}
