"""Proposals of an EI to plan with, and of what camera, light and process ask for beside it."""

import math
from dataclasses import dataclass, replace
from functools import cached_property

from django.db.models import Max

from chimney.darkroom.models import Development
from chimney.lessons.craft import light_of
from chimney.lessons.knowing.craft import Knowledge
from chimney.lessons.models import Finding, Lesson, WholeLog
from chimney.lessons.whole.craft import filter_key
from chimney.logbook.models import Exposure
from chimney.parts.calculation import OWN_EYE, OWN_SHEETS
from chimney.parts.scales import number
from pinhole import exposure as craft
from pinhole import lessons as teaching


@dataclass(frozen=True)
class Proposal:
    """The EI to plan with: ei, how sure [stops], where it is from and why; school: of long times,
    where one's own sheets add to it; knowledge: what they say beside the EI of paper_pk in
    developer_pk, None where the box alone is believed; eye: {sky: Finding} of one's own words for
    the light; steepness: stops of the clock to one of light at its usual times.
    """

    ei: float
    sd_stops: float
    ei_from: str
    why: str
    lesson: Lesson | None = None
    school: object = None
    knowledge: Knowledge | None = None
    paper_pk: int | None = None
    developer_pk: int | None = None
    eye: tuple = ()
    steepness: float = 1.0
    # Stops that its EI asks for more than the box's: the rest of what the sheets say stands beside.
    rated_stops: float = 0.0

    def names(self, camera, light, filter_stops=0.0):
        """{kind: key} of an exposure of its paper."""
        glass = filter_key(filter_stops)
        return self.knowledge.names(self.paper_pk, self.developer_pk, camera.pk, light, glass)

    def learned_stops(self, camera, *, low_sun, seen=("", False), metered_s=None, filter_stops=0.0):
        """((name, stops more, sd), ...) that one's own sheets ask for beside the EI with that
        camera in that light, so sure that both together are as sure as all the shares together.

        seen: what the eye called the sky, and whether that is all that is known of the light;
        metered_s: at the box EI, the usual time of the paper by default; filter_stops: what its
        filter is taken to take.
        """
        sky, by_eye = seen
        names = self.knowledge and self.names(camera, light_of(sky, low_sun), filter_stops)
        rows = self._own(names, metered_s) if self.knowledge else ()
        by_word = [word for word in self.eye if by_eye and word.of == sky]
        return (*rows, *((OWN_EYE, word.mean, word.sd) for word in by_word))

    def _own(self, names, metered_s):
        stops = self.knowledge.beside_ei(names) / self.steepness
        if self.ei_from == Exposure.EiFrom.LEARNED:
            stops = self.knowledge.before_school(names, self.steepness)
        stops -= self.rated_stops
        doubt = self.sd_together(names, metered_s)
        return ((OWN_SHEETS, stops, math.sqrt(max(0.0, doubt**2 - self.sd_stops**2))),)

    @cached_property
    def _doubts(self):
        """{(names, metered seconds): doubt}, of which a kit of many cameras asks a few over and
        over.
        """
        return {}

    def sd_together(self, names, metered_s=None):
        """Doubt of EI and of what stands beside it together [stops]."""
        key = (*names.items(), metered_s)
        if key not in self._doubts:
            self._doubts[key] = self._sd_together(names, metered_s)
        return self._doubts[key]

    def _sd_together(self, names, metered_s):
        metered_s = metered_s or self.knowledge.usual(self.paper_pk, self.developer_pk)
        if self.ei_from != Exposure.EiFrom.LEARNED:
            names = names | {"paper": None, "pair": None, "box": None}
            return math.hypot(self.sd_stops, self.knowledge.plan(names, metered_s)[1])
        # The clock's doubt as one of the light, by the school at that time.
        light_s = metered_s * 2.0 ** self.knowledge.before_school(names, self.steepness)
        steep = teaching.steepness(self.school, light_s)
        return self.knowledge.plan(names, metered_s)[1] / steep

    def doubts(self, camera, *, low_sun, seen=("", False), metered_s=None, filter_stops=0.0):
        """(of the EI, of the hole) [stops] beside what learned_stops says: a camera that sheets
        speak of has its hole's doubt in its share.
        """
        if self.knowledge is None:
            return self.sd_stops, camera.hole_sd_stops
        names = self.names(camera, light_of(seen[0], low_sun), filter_stops)
        hole = camera.hole_sd_stops if names["camera"] is None else 0.0
        return min(self.sd_stops, self.sd_together(names, metered_s)), hole


def of_box(paper, knowledge=None, eye=()):
    """Proposal of the starting EI of a paper, and of nothing else; knowledge: that of camera
    and light where no sheet of the paper is judged yet.
    """
    why = f"Starting EI of {paper}; nothing of yours is in it."
    doubt, source = paper.medium.untried_sd_stops, Exposure.EiFrom.BOX
    return Proposal(
        paper.box_ei, doubt, source, why, knowledge=knowledge, paper_pk=paper.pk, eye=eye
    )


def offered(paper, developer):
    """(what the log proposes for the pair, else for the paper in any developer, else None; what
    the box says of it).
    """
    of_paper = _ratings(Lesson.objects.select_related("paper", "developer").filter(paper=paper), {})
    return of_paper.offered(paper, developer and developer.pk)


def choose(ei_from, typed_ei, learned, box):
    """The Proposal that was chosen: the EI typed, the learned one if there is one, else the
    box's.
    """
    if ei_from == Exposure.EiFrom.TYPED and typed_ei:
        typed = {"ei": typed_ei, "sd_stops": craft.EI_SD_STOPS, "why": "Typed for this sheet."}
        plain = {"lesson": None, "school": None, "steepness": 1.0, "rated_stops": 0.0}
        return replace(learned or box, ei_from=Exposure.EiFrom.TYPED, **plain, **typed)
    return learned if learned and ei_from == Exposure.EiFrom.LEARNED else box


@dataclass(frozen=True)
class Ratings:
    """lessons: {(paper's pk, developer's or None): Lesson}; usual: {paper's pk: the developer it
    went into last}; knowledge: of the whole log, None before it has any; eye: Findings of one's
    own words for the light.
    """

    lessons: dict
    usual: dict
    knowledge: Knowledge | None = None
    eye: tuple = ()

    def learned(self, paper, developer_id):
        """The Proposal of the pair, else of the paper in any developer, else None."""
        pair = self.lessons.get((paper.pk, developer_id)) if developer_id else None
        lesson = pair or self.lessons.get((paper.pk, None))
        if lesson is None or self.knowledge is None:
            return None
        # The shots of a day ask for a few of them over and over.
        if lesson.pk not in self._proposals:
            self._proposals[lesson.pk] = _from_lesson(lesson, self.knowledge, self.eye)
        return self._proposals[lesson.pk]

    @cached_property
    def _proposals(self):
        return {}

    def offered(self, paper, developer_id=None):
        """(learned or None, box): what a plan for that paper would be offered, in its usual
        developer by default.
        """
        learned = self.learned(paper, developer_id or self.usual.get(paper.pk))
        return learned, of_box(paper, None if learned else self.knowledge, self.eye)

    def best(self, paper):
        """The Proposal that a plan for that paper would start from."""
        learned, of_box = self.offered(paper)
        return learned or of_box


def ratings():
    """The Ratings of every paper."""
    newest = (
        Development.objects.order_by()
        .values("sheet__paper")
        .annotate(last=Max("pk"))
        .values("last")
    )
    usual = dict(
        Development.objects.filter(pk__in=newest).values_list("sheet__paper", "run__developer")
    )
    return _ratings(Lesson.objects.select_related("paper", "developer"), usual)


def _ratings(lessons, usual):
    by_pair = {(lesson.paper_id, lesson.developer_id): lesson for lesson in lessons}
    answered = list(Finding.objects.for_plans())
    refused = {(f.kind, f.of) for f in answered if f.standing == Finding.Standing.DECLINED}
    eye = [f for f in answered if f.kind == Finding.Kind.EYE and (f.kind, f.of) not in refused]
    return Ratings(by_pair, usual, knowledge(refused), tuple(eye))


def knowledge(switched_off=None):
    """The Knowledge of the whole log, None before it was learned once; switched_off: {(kind, key in
    words)} of findings, read where they are not given.
    """
    data = WholeLog.objects.filter(data__has_key="lower").values_list("data", flat=True).first()
    if switched_off is None:
        declined = Finding.objects.filter(standing=Finding.Standing.DECLINED)
        switched_off = set(declined.values_list("kind", "of"))
    return Knowledge.from_data(data, switched_off) if data else None


def _from_lesson(lesson, knowledge, eye):
    paper, bath = lesson.paper, lesson.developer
    school = knowledge.school(paper)
    usual_s = knowledge.usual(paper.pk, lesson.developer_id)
    rows = {
        "school": school,
        "knowledge": knowledge,
        "paper_pk": paper.pk,
        "developer_pk": lesson.developer_id,
        "eye": eye,
        "steepness": teaching.steepness(school, usual_s),
    }
    if lesson.standing == Lesson.Standing.DECLINED:
        names = {("paper", paper.pk), ("pair", (paper.pk, lesson.developer_id))}
        names |= {("box", knowledge.boxes.get(paper.pk))}
        rows["knowledge"] = replace(knowledge, refused=knowledge.refused | names)
        why = f"What your sheets say of {paper} is switched off."
        sd = math.hypot(teaching.PRIOR_SD["paper"], teaching.PRIOR_SD["pair"])
        return Proposal(paper.box_ei, sd, Exposure.EiFrom.LEARNED, why, lesson, **rows)
    bath_words = f"in {bath}" if bath else "in all your developers"
    sheets = "1 sheet of yours" if lesson.sheets == 1 else f"{lesson.sheets} sheets of yours"
    ends = f"{number(lesson.low, 2)} and {number(lesson.high, 2)}"
    why = f"{sheets} {bath_words}: the paper itself is between EI {ends}."
    rows["rated_stops"] = math.log2(paper.box_ei / lesson.speed)
    return Proposal(lesson.speed, lesson.sd_log2, Exposure.EiFrom.LEARNED, why, lesson, **rows)


def developers_of(paper):
    """The developers' pks that a paper went into, the last one first."""
    went = Development.objects.filter(sheet__paper=paper).order_by("-pk")
    return went.values_list("run__developer", flat=True)
