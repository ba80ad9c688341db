"""The model of the whole log, and what plans know by it."""

import math
from collections import Counter
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from chimney.results.training.craft import UNTRAINED_SD
from pinhole import lessons as teaching

# Where it is asked how much a table lengthens [s].
STEEP_AT_S = 600.0


@dataclass(frozen=True)
class Log:
    """The craft's Learned of a whole log; papers: {pk: Paper}; pairs: {(paper, developer): median
    metered seconds}; counts: sheets of each pair; processes: {paper: the process of its newest
    sheet, None for the usual one}.
    """

    learned: teaching.Learned
    papers: dict
    pairs: dict
    counts: dict
    processes: dict

    @property
    def weights(self):
        """Weight of each sheet, as plain numbers."""
        return [float(weight) for weight in self.learned.weights]

    @cached_property
    def used(self):
        """The Learned that plans use: no exponent below what its paper's school can take off, with
        all doubt; the other shares have taken over the rest.
        """
        least = {("exponent", pk): least_exponent(paper) for pk, paper in self.papers.items()}
        low = {
            name: value for name, value in least.items() if self.learned.share(*name).mean < value
        }
        return replace(self.learned.held(low), spread=self.learned.spread)

    def ratings(self):
        """{(paper, developer or None): (Estimate, sheets)}."""
        every = [*self.pairs, *((paper, None) for paper in self.papers)]
        return {pair: (self._rating(*pair), self.counts[pair]) for pair in every}

    def _rating(self, paper, developer):
        names = {("paper", paper): 1.0}
        names |= {("pair", (paper, developer)): 1.0} if developer else {}
        # By the paper's own school it is right at the usual times: nobody rates one at a second.
        usual_s, of_paper = self.usual_s(paper, developer), self.papers[paper]
        further = {("exponent", paper): self.used.further(paper, usual_s)}
        mean, sd = self.used.stops(names | further)
        steep = teaching.steepness(of_paper.schools[of_paper.school], usual_s)
        return teaching.from_shift(of_paper.box_ei, mean, sd, steepness=steep)

    def usual_s(self, paper, developer):
        """Median metered seconds of a pair, else of its paper."""
        every = [s for (paper_key, _), s in self.pairs.items() if paper_key == paper]
        return self.pairs.get((paper, developer)) or float(np.median(every))

    def as_data(self):
        """Plain data of all that plans need of it."""
        usual = [[paper, developer, s] for (paper, developer), s in self.pairs.items()]
        usual_rows = {"usual": usual, "processes": list(map(list, self.processes.items()))}
        return teaching.to_data(self.used) | usual_rows

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


def least_exponent(paper):
    """The exponent over that of a paper's own school below which no time would be lengthened at
    all.
    """
    return 1.0 - teaching.steepness(paper.schools[paper.school], STEEP_AT_S)


def own_school(paper, mean):
    """The school of a paper whose sheets ask for so much more at long times than its own has."""
    school = paper.schools[paper.school]
    return school.steeper(mean) if mean else school


def _unusual(names, papers):
    """The usual process of each paper is none of its own: others are held against it. What nobody
    noted was the usual one.
    """
    told = {}
    for name, paper in zip(names, papers, strict=True):
        told.setdefault(paper, Counter())[name] += bool(name)
    usual = {paper: counts.most_common(1)[0][0] for paper, counts in told.items()}
    return tuple(
        None if name in ("", usual[paper]) else name
        for name, paper in zip(names, papers, strict=True)
    )


def whole_log(columns, papers, eye):
    """The Log of counted sheets, seen by that Eye. columns: as queries.counted_columns, newest
    first; papers: {pk: Paper} of them.
    """
    metered, paper_pks = np.array(columns["metered_s"], float), np.array(columns["paper_id"], int)
    school_s = metered.copy()
    for pk, paper in papers.items():
        school_s[paper_pks == pk] = paper.schools[paper.school].adjusted_s(metered[paper_pks == pk])
    pairs = tuple(zip(columns["paper_id"], columns["developer_id"], strict=True))
    processes = _unusual(columns["process"], columns["paper_id"])
    judged = teaching.Judged(
        metered_s=metered,
        school_s=school_s,
        needed_s=np.array(columns["needed_s"], float),
        paper=columns["paper_id"],
        pair=pairs,
        camera=columns["camera_id"],
        light=tuple(light or None for light in columns["light"]),
        process=processes,
        verdict_stops=np.array(_looks(columns), float),
    )
    sd = eye.spread_stops if eye.is_known else UNTRAINED_SD
    bias = eye.bias_stops if eye.is_known else 0.0
    learned = teaching.learn(judged, judgement_sd=sd, judgement_bias=bias)
    counts = Counter(pairs) + Counter((paper, None) for paper in columns["paper_id"])
    newest = dict(reversed(list(zip(columns["paper_id"], processes, strict=True))))
    return Log(learned, papers, _usual_times(pairs, metered), counts, newest)


def _looks(columns):
    """[stops that each sheet was seen to need more], nan where a band of a strip said it."""
    verdicts, bands = (columns[f"sheet__verdict__{name}"] for name in ("stops_more", "band"))
    return [
        math.nan if stops is None or band is not None else stops
        for stops, band in zip(verdicts, bands, strict=True)
    ]


def _usual_times(pairs, metered):
    """{pair: median metered seconds}."""
    times = {}
    for pair, seconds in zip(pairs, metered.tolist(), strict=True):
        times.setdefault(pair, []).append(seconds)
    return {pair: float(np.median(found)) for pair, found in times.items()}


@dataclass(frozen=True)
class Knowledge:
    """All that the log knows, as plans use it: learned; usual_s: {(paper, developer): metered
    seconds}; processes: {paper: its process, None for the usual one}; refused: {(kind, key)} that
    somebody switched off.
    """

    learned: teaching.Learned
    usual_s: dict
    processes: dict
    refused: frozenset

    @classmethod
    def from_data(cls, data, switched_off):
        """The Knowledge kept by Log.as_data; switched_off: {(kind, key in words)}."""
        learned = teaching.from_data(data)
        refused = {name for name in learned.names if (name[0], str(name[1])) in switched_off}
        usual = {(paper, developer): s for paper, developer, s in data.get("usual", ())}
        return cls(learned, usual, dict(data.get("processes", ())), frozenset(refused))

    def usual(self, paper_pk, developer_pk):
        """Usual metered seconds of a pair."""
        every = [s for (paper, _), s in self.usual_s.items() if paper == paper_pk]
        return self.usual_s.get((paper_pk, developer_pk)) or (
            np.median(every) if every else teaching.model.MIDDLE_TIME_S
        )

    def names(self, paper_pk, developer_pk, camera_pk=None, light=""):
        """{kind: key} of an exposure. A camera that no sheet speaks of is as good as its hole was
        measured, and no share of its own.
        """
        is_known = ("camera", camera_pk) in self.learned.names
        return {
            "paper": paper_pk,
            "pair": (paper_pk, developer_pk),
            "camera": camera_pk if is_known else None,
            "light": light or None,
            "process": self.processes.get(paper_pk),
        }

    def plan(self, names, metered_s):
        """(stops more than the paper's own school gives, sd), see Learned.plan."""
        return self.learned.plan(**names, metered_s=metered_s, refused=self.refused)

    def share(self, kind, key):
        """Stops, or the exponent, that plans use of a share: nothing of one that is refused."""
        return 0.0 if (kind, key) in self.refused else self.learned.share(kind, key).mean

    def at_one_second(self, names):
        """Stops more that paper, developer and long times ask for where schools begin to lengthen,
        at a metered second.
        """
        paper = names["paper"]
        speed = self.share("paper", paper) + self.share("pair", names["pair"])
        return speed + self.share("exponent", paper) * self.learned.further(paper, 1.0)

    def beside_ei(self, names):
        """Stops more that camera, light and process ask for beside the EI."""
        beside = ("camera", "light", "process")
        return math.fsum(
            self.share(kind, names[kind]) for kind in beside if names[kind] is not None
        )
