"""Knowledge that plans have by the model of the whole log."""

import math
from dataclasses import dataclass

import numpy as np

from pinhole import lessons as teaching
from pinhole import reciprocity
from pinhole.lessons.model import MIDDLE_TIME_S

# log2 of the metered seconds where schools begin to lengthen, and beyond all bends.
KNEE, ENDLESS = 0, 24
# What stands beside the EI.
BESIDE = ("camera", "light", "process", "filter")


@dataclass(frozen=True)
class Knowledge:
    """All that the log knows, as plans use it: learned; usual_s: {(paper, developer): metered
    seconds}; processes: {paper: its process, None for the usual one}; boxes: {paper: the box it
    comes from now}; apart: {paper: (seconds about which its sheets want less, seconds about which
    they want more, by so many stops)}; refused: {(kind, key)} that somebody switched off.
    """

    learned: teaching.Learned
    usual_s: dict
    processes: dict
    boxes: dict
    apart: dict
    refused: frozenset

    @classmethod
    def from_data(cls, data, switched_off):
        """The Knowledge kept by Log.as_data; switched_off: {(kind, key in words)}."""
        learned = teaching.from_data(data)
        refused = {name for name in learned.names if _finding_of(name) in switched_off}
        usual = {(paper, developer): s for paper, developer, s in data.get("usual", ())}
        processes, boxes = (dict(data.get(name, ())) for name in ("processes", "boxes"))
        apart = {paper: tuple(numbers) for paper, *numbers in data.get("apart", ())}
        return cls(learned, usual, processes, boxes, apart, frozenset(refused))

    def usual(self, paper_pk, developer_pk):
        """Usual metered seconds of a pair."""
        every = [s for (paper, _), s in self.usual_s.items() if paper == paper_pk]
        return self.usual_s.get((paper_pk, developer_pk)) or (
            np.median(every) if every else MIDDLE_TIME_S
        )

    def names(self, paper_pk, developer_pk, camera_pk=None, light="", glass=None):
        """{kind: key} of an exposure. A camera or filter that no sheet speaks of is as good as it
        was measured, and no share of its own.
        """
        is_known = ("camera", camera_pk) in self.learned.names
        has_told = ("filter", glass) in self.learned.names
        return {
            "paper": paper_pk,
            "pair": (paper_pk, developer_pk),
            "camera": camera_pk if is_known else None,
            "light": light or None,
            "process": self.processes.get(paper_pk),
            "box": self.boxes.get(paper_pk),
            "filter": glass if has_told else None,
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
        paper, learned = names["paper"], self.learned
        speed = math.fsum(
            self.share(kind, names[kind])
            for kind in ("paper", "pair", "box")
            if names.get(kind) is not None
        )
        times = learned.long_times(paper, 1.0) if paper is not None else {}
        return speed + math.fsum(self.share(*name) * count for name, count in times.items())

    def school(self, paper):
        """The school of a paper as its sheets ask for more or less at long times than its own has:
        steeper, and bent where they bend it.
        """
        school, steeper = paper.schools[paper.school], self.share("exponent", paper.pk)
        school = school.steeper(steeper) if steeper else school
        if not any(self.share("bend", (paper.pk, corner)) for corner in teaching.BENDS_AT):
            return school
        times = np.array([KNEE, *teaching.BENDS_AT, ENDLESS], float)
        return reciprocity.OwnCurve.from_stops(school, times, self.learned.bent(paper.pk, times))

    def before_school(self, names, steepness):
        """Stops more than at the box EI that go in before the school of its paper does, whose
        clock has so many stops to one of light at the usual times.
        """
        return (self.beside_ei(names) + self.at_one_second(names)) / steepness

    def beside_ei(self, names):
        """Stops more that camera, light, process and filter ask for beside the EI."""
        return math.fsum(
            self.share(kind, names[kind]) for kind in BESIDE if names.get(kind) is not None
        )


def _finding_of(name):
    """(kind, key in words) of the finding that somebody switches a share off by: bends go with
    their paper's exponent.
    """
    kind, key = name
    return ("exponent", str(key[0])) if kind == "bend" else (kind, str(key))
