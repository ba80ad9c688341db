"""An exposure by all shares of the log together, share by share."""

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from chimney.lessons.knowing.craft import BESIDE, Knowledge
from pinhole.lessons import CENTRAL_90, least_of, steepness

# A test strip is judged by the band that is right among its neighbours: surer than one sheet alone
# by so much (common practice).
STRIP_SHARE = 0.6
# Two times nearer than this need no share of long times [stops].
LEAST_APART = 1 / 3


@dataclass(frozen=True)
class ExplainedShare:
    """One share of an exposure: kind and key of the model; stops more, and how sure [stops]; sheets
    that speak of it.
    """

    kind: str
    key: object
    stops: float
    sd: float
    sheets: int

    @property
    def low(self):
        return self.stops - CENTRAL_90 * self.sd

    @property
    def high(self):
        return self.stops + CENTRAL_90 * self.sd


@dataclass(frozen=True)
class Explained:
    """The exposure Occasion by what is known; its schools are the paper's own."""

    occasion: object
    knowledge: Knowledge

    @property
    def lesson(self):
        return self.occasion.lesson

    @cached_property
    def school(self):
        paper = self.lesson.paper
        return paper.schools[paper.school]

    @cached_property
    def own_school(self):
        """The school that its sheets make of it."""
        return self.knowledge.school(self.lesson.paper)

    @cached_property
    def usual_s(self):
        return float(self.knowledge.usual(self.lesson.paper_id, self.lesson.developer_id))

    @cached_property
    def names(self):
        """{kind: key} of its shares."""
        camera = self.occasion.camera.pk if self.occasion.camera else None
        pair = self.lesson.paper_id, self.lesson.developer_id
        return self.knowledge.names(*pair, camera, self.occasion.light, self.occasion.glass)

    @cached_property
    def before_school(self):
        """Stops more than at the box EI that go in before its school."""
        steep = steepness(self.own_school, self.usual_s)
        return self.knowledge.before_school(self.names, steep)

    def planned_s(self, metered_s):
        """Seconds of such an exposure as it is planned. metered_s [s], any shape."""
        return self.own_school.adjusted_s(metered_s * 2.0**self.before_school)

    def sd_at(self, metered_s):
        """Doubt of it at metered_s [stops]."""
        return self.knowledge.plan(self.names, metered_s)[1]

    @cached_property
    def sd_stops(self):
        """Doubt of it [stops]."""
        return self.sd_at(self.occasion.metered_s)

    @property
    def box_s(self):
        return self.school.adjusted_s(self.occasion.metered_s)

    @cached_property
    def range_s(self):
        """(low, middle, high) seconds by the sheets, central 90 %."""
        middle_s = self.planned_s(self.occasion.metered_s)
        return tuple(middle_s * 2.0 ** (sign * CENTRAL_90 * self.sd_stops) for sign in (-1, 0, 1))

    @property
    def shares(self):
        """[ExplainedShare] of this exposure: paper and developer at their usual times, long times
        beyond those, its box, camera, light, process and filter.
        """
        learned, refused, names = self.knowledge.learned, self.knowledge.refused, self.names
        apart = self._box_apart(names["box"])
        kinds = ("paper", "pair") if apart else ("paper", "pair", "box")
        speed = learned.exposure({kind: names[kind] for kind in kinds}, self.usual_s)
        count = learned.share("pair", names["pair"]).sheets
        rows = [ExplainedShare("speed", names["pair"], *learned.stops(speed), count)]
        further = math.log2(self.occasion.metered_s / self.usual_s)
        if abs(further) > LEAST_APART:
            rows.append(self._longer())
        rows += [
            self._share(kind, names[kind])
            for kind in (("box", *BESIDE) if apart else BESIDE)
            if names[kind] is not None and (kind, names[kind]) not in refused
        ]
        return rows

    def _box_apart(self, box):
        """True if a box is another than its paper's others were, or new: else it is their speed."""
        if box is None:
            return False
        learned = self.knowledge.learned
        share, of_paper = learned.share("box", box), learned.share("paper", self.lesson.paper_id)
        is_one_of_several = 0 < share.sheets < of_paper.sheets
        return not share.sheets or (is_one_of_several and abs(share.mean) > least_of("box"))

    def _longer(self):
        """Share of times longer or shorter than the usual ones: an exponent and its bends."""
        paper, learned = self.lesson.paper_id, self.knowledge.learned
        ends = (self.occasion.metered_s, self.usual_s)
        its, usual = (learned.long_times(paper, seconds) for seconds in ends)
        names = {name: its.get(name, 0.0) - usual.get(name, 0.0) for name in its | usual}
        sheets = learned.share("exponent", paper).sheets
        return ExplainedShare("exponent", paper, *learned.stops(names), sheets)

    def _share(self, kind, key):
        learned = self.knowledge.learned
        mean, sd = learned.stops({(kind, key): 1.0})
        return ExplainedShare(kind, key, mean, sd, learned.share(kind, key).sheets)

    @property
    def other_shares(self):
        """[ExplainedShare] of other cameras, lights and processes, and of what is switched off."""
        occasion = {(share.kind, share.key) for share in self.shares}
        return [
            self._share(kind, key)
            for kind, key in self.knowledge.learned.names
            if kind in BESIDE and (kind, key) not in occasion and not _is_past(kind, key)
        ]

    def as_if(self, evidence):
        """Seconds that a sheet would have needed in this camera, light and process."""
        pair = self.lesson.paper_id, self.lesson.developer_id
        its = self.knowledge.names(*pair, evidence.camera_id, evidence.light)
        process = evidence.process if ("process", evidence.process) in self._all else None
        beside = self.knowledge.beside_ei
        return evidence.needed_s * 2.0 ** (beside(self.names) - beside(its | {"process": process}))

    @property
    def _all(self):
        return self.knowledge.learned.names

    def after(self, metered_s, sd_stops, *, in_light):
        """The same after a test sheet in this camera at that metered time, in this light and
        process or in any plain one.
        """
        names = self.names if in_light else self.names | {"light": None, "process": None}
        learned = self.knowledge.learned
        narrowed = learned.narrowed(learned.exposure(names, metered_s), sd_stops)
        return replace(self, knowledge=replace(self.knowledge, learned=narrowed))

    def tests(self):
        """[TestChoice], best first: a strip or a sheet in this camera; where this exposure is, in
        its light and in any, a stop shorter, and at the usual time.
        """
        before, here_s = self.sd_stops, self.occasion.metered_s
        places = [(here_s, True), *((s, False) for s in sorted({here_s, here_s / 2, self.usual_s}))]
        trials = []
        eye_sd = self.knowledge.learned.judgement_sd
        for kind, sd in (("strip", STRIP_SHARE * eye_sd), ("sheet", eye_sd)):
            for metered_s, in_light in places:
                after = self.after(metered_s, sd, in_light=in_light)
                narrowing = 1 - after.sd_stops / before if before else 0.0
                trials.append(TestChoice(kind, metered_s, in_light, narrowing, after))
        return sorted(trials, key=lambda trial: -trial.narrowing)


def tests_for(planned):
    """[(Explained, its TestChoice, share of the range that it takes in the middle of all)], best
    first; planned: Explained exposures of one Knowledge.
    """
    before = [explained.sd_stops for explained in planned]
    rows = []
    for explained in planned:
        for trial in explained.tests():
            after = [replace(exposure, knowledge=trial.after.knowledge) for exposure in planned]
            left = [later.sd_stops / sd for later, sd in zip(after, before, strict=True) if sd]
            rows.append((explained, trial, 1 - sum(left) / len(left) if left else 0.0))
    return sorted(rows, key=lambda row: -row[2])


@dataclass(frozen=True)
class TestChoice:
    """A test sheet: kind, "strip" or "sheet"; metered_s at the box EI; in_light: whether it stands
    in the light asked about; narrowing: the share of the range that it takes; after: Explained
    then.
    """

    kind: str
    metered_s: float
    in_light: bool
    narrowing: float
    after: Explained


def _is_past(kind, key):
    """True of a hole that is no more."""
    return kind == "camera" and isinstance(key, tuple)


def curve(explained, metered):
    """(low, middle, high) log2 seconds along metered times (n,), central 90 %."""
    middle = np.log2(explained.planned_s(np.asarray(metered, float)))
    sds = np.array([explained.sd_at(float(m)) for m in metered])
    return tuple(middle + sign * CENTRAL_90 * sds for sign in (-1, 0, 1))
