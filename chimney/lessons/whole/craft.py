"""The model of the whole log, and what plans know by it."""

import math
from collections import Counter
from dataclasses import dataclass, replace
from datetime import timedelta
from functools import cached_property

import numpy as np
from django.utils import timezone

from chimney.results.models import Verdict
from chimney.results.training.craft import UNTRAINED_SD, trained_medium
from pinhole import lessons as teaching

# What no eye says.
MEASURED_BY = (Verdict.Source.SCAN, Verdict.Source.PHOTO)

YEAR = timedelta(days=365.25)
# A hole that was replaced since.
OLD_HOLE = "before"
# Where it is asked how much a table lengthens [s].
STEEP_AT_S = 600.0


@dataclass(frozen=True)
class Shelf:
    """The kit as it is now: renewed: {camera: when its hole became another}; boxes: {paper: the box
    of its next sheet}.
    """

    renewed: dict
    boxes: dict


@dataclass(frozen=True)
class Eyes:
    """Whoever judges: every: the Eye of all training; by_medium: {medium: its Eye}."""

    every: object
    by_medium: dict

    @property
    def sd_stops(self):
        return self.every.spread_stops if self.every.is_known else UNTRAINED_SD

    def bias_of(self, columns):
        """Stops that the eye asked for too much, of each sheet: a scan, a strip and a ladder are
        no eye alone.
        """
        names = ("paper__kind", "sheet__verdict__source", "sheet__verdict__band")
        rows = zip(*(columns[name] for name in names), strict=True)
        return np.array(
            [
                self._bias(medium) if source == Verdict.Source.HAND and band is None else 0.0
                for medium, source, band in rows
            ]
        )

    def _bias(self, medium):
        eye = self.by_medium.get(trained_medium(medium))
        return eye.bias_stops if eye and eye.is_known else 0.0


@dataclass(frozen=True)
class Log:
    """The craft's Learned of a whole log, of its Judged; papers: {pk: Paper}; pairs: {(paper,
    developer): median metered seconds}; counts: sheets of each pair; processes: {paper: the process
    of its newest sheet, None for the usual one}; boxes: {paper: the box it comes from now}.
    """

    learned: teaching.Learned
    judged: teaching.Judged
    papers: dict
    pairs: dict
    counts: dict
    processes: dict
    boxes: dict

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
        learned = teaching.straightened(self.judged, self.learned).held(low)
        return replace(learned, spread=self.learned.spread)

    @cached_property
    def straight(self):
        """The Learned in which no paper bends."""
        bends = [name for name in self.learned.names if name[0] == "bend"]
        return self.learned.held(dict.fromkeys(bends, 0.0))

    def ratings(self):
        """{(paper, developer or None): (Estimate, sheets)}."""
        every = [*self.pairs, *((paper, None) for paper in self.papers)]
        return {pair: (self._rating(*pair), self.counts[pair]) for pair in every}

    def _rating(self, paper, developer):
        keys = {"paper": paper, "pair": (paper, developer) if developer else None}
        keys |= {"box": self.boxes.get(paper)}
        # By the paper's own school it is right at the usual times: nobody rates one at a second.
        usual_s, of_paper = self.usual_s(paper, developer), self.papers[paper]
        mean, sd = self.used.stops(self.used.exposure(keys, usual_s))
        steep = teaching.steepness(of_paper.schools[of_paper.school], usual_s)
        return teaching.from_shift(of_paper.box_ei, mean, sd, steepness=steep)

    def usual_s(self, paper, developer):
        """Median metered seconds of a pair, else of its paper."""
        every = [s for (paper_key, _), s in self.pairs.items() if paper_key == paper]
        return self.pairs.get((paper, developer)) or float(np.median(every))

    def apart(self):
        """[[paper, Apart's numbers]] of papers whose short and long sheets pull apart."""
        learned, judged, rows = self.straight, self.judged, []
        # What no straight line takes up is left in the residuals.
        lost = teaching.designed(judged, learned).expected(self.learned.mean - learned.mean)
        residuals = learned.residuals + lost
        for paper in self.papers:
            rows_of = np.array([key == paper for key in judged.paper])
            of_paper = judged.metered_s[rows_of], residuals[rows_of], learned.weights[rows_of]
            apart = teaching.pulled_apart(*of_paper, learned.judgement_sd)
            rows += [[paper, apart.less_s, apart.more_s, apart.stops]] if apart else []
        return rows

    def as_data(self):
        """Plain data of all that plans need of it."""
        usual = [[paper, developer, s] for (paper, developer), s in self.pairs.items()]
        usual_rows = {"usual": usual, "processes": list(map(list, self.processes.items()))}
        usual_rows |= {"boxes": list(map(list, self.boxes.items())), "apart": self.apart()}
        return teaching.to_data(self.used) | usual_rows

    def findings(self):
        """{(kind, of): (columns, Share)} of all but speeds, and of holes that are no more."""
        rows, papers_of_boxes = {}, dict(zip(self.judged.box, self.judged.paper, strict=True))
        for (kind, key), held in teaching.findings(self.learned).items():
            if kind == "camera" and isinstance(key, tuple):
                continue
            columns = {"bar": held.bar, "is_clear": held.is_clear}
            columns |= {"camera_id": key} if kind == "camera" else {}
            columns |= {"paper_id": key} if kind == "exponent" else {}
            columns |= {"paper_id": papers_of_boxes.get(key)} if kind == "box" else {}
            rows[kind, str(key)] = columns, self.learned.share(kind, key)
        return rows


def least_exponent(paper):
    """The exponent over that of a paper's own school below which no time would be lengthened at
    all.
    """
    return 1.0 - teaching.steepness(paper.schools[paper.school], STEEP_AT_S)


def _holes(columns, renewed):
    """The camera of each sheet, or (camera, "before") where its hole was another; renewed: {camera:
    when its hole was}.
    """
    return tuple(
        (camera, OLD_HOLE) if camera in renewed and at < renewed[camera] else camera
        for camera, at in zip(columns["camera_id"], columns["exposed_at"], strict=True)
    )


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


def whole_log(columns, papers, eyes, shelf):
    """The Log of counted sheets. columns: as queries.counted_columns, oldest first; papers: {pk:
    Paper} of them; eyes: by whom they were looked at; shelf: what cameras and boxes are now.
    """
    judged, bias = _judged(columns, papers, shelf), eyes.bias_of(columns)
    learned = teaching.learn(judged, judgement_sd=eyes.sd_stops, judgement_bias=bias)
    since = _since(judged, learned, columns)
    if any(since):
        judged = replace(judged, box=tuple(map(_first, judged.box, since)))
        learned = teaching.learn(judged, judgement_sd=eyes.sd_stops, judgement_bias=bias)
    counts = Counter(judged.pair) + Counter((paper, None) for paper in judged.paper)
    newest = dict(zip(judged.paper, judged.process, strict=True))
    boxes = _boxes_now(judged, shelf)
    times = _usual_times(judged.pair, judged.metered_s)
    return Log(learned, judged, papers, times, counts, newest, boxes)


def _judged(columns, papers, shelf):
    """The craft's Judged of the sheets."""
    metered, paper_pks = np.array(columns["metered_s"], float), np.array(columns["paper_id"], int)
    school_s = metered.copy()
    for pk, paper in papers.items():
        school_s[paper_pks == pk] = paper.schools[paper.school].adjusted_s(metered[paper_pks == pk])
    return teaching.Judged(
        metered_s=metered,
        school_s=school_s,
        needed_s=np.array(columns["needed_s"], float),
        paper=columns["paper_id"],
        pair=tuple(zip(columns["paper_id"], columns["developer_id"], strict=True)),
        camera=_holes(columns, shelf.renewed),
        light=tuple(light or None for light in columns["light"]),
        process=_unusual(columns["process"], columns["paper_id"]),
        verdict_stops=np.array(_looks(columns), float),
        box=columns["sheet__box_id"],
        filter=tuple(map(filter_key, columns["filter_stops"])),
        age_years=[(columns["exposed_at"][-1] - at) / YEAR for at in columns["exposed_at"]],
    )


def filter_key(stops):
    """Key of a filter by the stops that it is taken to take, None for no filter."""
    return f"{stops:.3g}" if stops else None


def _first(box, since):
    return since if box is None else box


def _since(judged, learned, columns):
    """["PAPER since DAY" of each sheet after a late jump of a paper whose boxes nobody noted, else
    None].
    """
    days = [
        None if first is None else timezone.localdate(columns["exposed_at"][first]).isoformat()
        for first in teaching.late_boxes(judged, learned)
    ]
    return [day and f"{paper} since {day}" for paper, day in zip(judged.paper, days, strict=True)]


def _boxes_now(judged, shelf):
    """{paper: key of the box it comes from now}: that of its next sheet where boxes are noted, else
    that of its last.
    """
    last = {}
    for paper, box in zip(judged.paper, judged.box, strict=True):
        last[paper] = box if box is not None else last.get(paper)
    return {
        paper: shelf.boxes.get(paper, box) if isinstance(box, int) else box
        for paper, box in last.items()
        if box is not None
    }


def _looks(columns):
    """[stops that each sheet was seen to need more], nan where it was measured: by a band of a
    strip, by its scan or beside a photo.
    """
    names = ("stops_more", "band", "source")
    rows = zip(*(columns[f"sheet__verdict__{name}"] for name in names), strict=True)
    return [
        math.nan if stops is None or band is not None or source in MEASURED_BY else stops
        for stops, band, source in rows
    ]


def _usual_times(pairs, metered):
    """{pair: median metered seconds}."""
    times = {}
    for pair, seconds in zip(pairs, metered.tolist(), strict=True):
        times.setdefault(pair, []).append(seconds)
    return {pair: float(np.median(found)) for pair, found in times.items()}
