"""The plan page as it stands: what was typed, filled up with what was used last, and what comes of it."""

from dataclasses import dataclass, field
from datetime import timedelta
from functools import cached_property
from math import isinf

from django.urls import reverse

from chimney.field import flows, starts, words
from chimney.field.forms import PlanForm
from chimney.kit import figures
from chimney.kit.models import Camera, Developer, Meter, Paper
from chimney.lessons.flows import usual_developer_id
from chimney.logbook import queries
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.parts import sum as the_sum
from chimney.parts.readings import FIELDS_OF
from chimney.parts.scales import number, size_of_stops
from chimney.places import flows as places
from pinhole import durations, exposure

# Rating schools, by what the medium forgives (common practice).
ADVICE = {
    "negative": "Meter the middle of the scene. A dense negative still scans: when in doubt give +1/2.",
    "positive": "Contrasty paper: meter the middle, or hold the sunlit highlights with -2/3.",
    "reversal": "Meter the highlights you want to keep: what bleaches out is gone.",
    "film": "Meter the shadows you want to keep; film forgives more than paper.",
}
# Fields that are swapped with the answer, and radios, which cannot be typed wrong.
INSIDE = {"side", "again", "ei", "school", "ei_from", "kind", "developer", "sheets", "bracket_stops", "bracket_by"}
INSIDE |= {"bands", "hand_s", "reckon", "made"}
MOST_METERS = 3
NAMES = [*PlanForm.base_fields, "for_paper"]
# Boxes that a browser leaves out when they are not ticked, so their absence says something.
BOXES = ("reckon",)


@dataclass
class Desk:
    """form: bound to typed; plan: the worked-out one or None; fitting: sides this camera can take."""

    typed: dict
    form: PlanForm
    camera: Camera | None
    paper: Paper | None
    offered: tuple = (None, None)
    plan: flows.Plan | None = None
    fitting: list = field(default_factory=list)
    shot: object = None
    refused: object = None
    place: object = None
    forecast: object = None

    @property
    def side(self):
        return self.form.sides.get(self.typed.get("side"))

    @cached_property
    def step(self):
        """The sheet of the plan that is next."""
        return flows.next_step(self.plan, self.shot)[1]

    @property
    def made(self):
        """How many sheets of its shot are exposed, so that a page that was overtaken is noticed."""
        return len(self.shot.steps_made) if self.shot else 0

    @property
    def short(self):
        """The Prospect of an exposure that does not get full before dark, else None."""
        found = self.forecast and self.forecast.prospect
        return found if found and not found.full else None

    @property
    def seconds(self):
        """How long the hole will be open, the light expected until then reckoned with."""
        if not (self.forecast and self.forecast.matters):
            return self.step.seconds
        closes_s = self.forecast.prospect.closes_s
        return closes_s if self.short else durations.countable_s(closes_s)

    @property
    def steps(self):
        return [(step, flows.say_step(step), step is self.step) for step in self.plan.steps]

    @property
    def doubling(self):
        """What twice the time on the clock is worth through this school, in stops of effect."""
        return exposure.effect_stops(self.plan.done, 2 * self.plan.done.exact_s)

    @property
    def closes_at(self):
        """When it closes on the place's clock, the forecast reckoned with."""
        return self._local(clock.now() + timedelta(seconds=self.seconds))

    @property
    def without(self):
        """When it would close if the light stood still, where that is another minute and another sentence."""
        ends = self._local(clock.now() + timedelta(seconds=self.step.seconds))
        return ends if f"{ends:%H:%M}" != f"{self.closes_at:%H:%M}" else None

    @property
    def latest(self):
        """(moment on the place's clock, whether it is past) of the last opening that makes sense today, or None."""
        at = self.forecast and self.forecast.latest_at
        return (self._local(at), at < clock.now()) if at else None

    @property
    def short_words(self):
        """ "a stop short", or that nothing comes of it."""
        stops = self.short.short_stops
        return "with hardly anything on it" if isinf(stops) or stops > 6 else f"{size_of_stops(stops)} short"

    def _local(self, moment):
        return places.local(moment, self.place)

    @property
    def stance(self):
        """How the sun stands to the camera right now, in words; nothing without a place and a direction."""
        azimuth = self.form.cleaned_data.get("azimuth_deg") if self.plan else None
        return words.stance(self.place, clock.now(), azimuth, self.camera) if self.place and azimuth is not None else ""

    @property
    def risk(self):
        """What may move during the exposure, in a wind of an outing or none."""
        wind = self.shot.outing.wind if self.shot and self.shot.outing else "still"
        return words.risk(wind, self.seconds, hand=bool(self.form.cleaned_data["hand_s"]))

    @property
    def outside(self):
        """The fields that stand outside the answer, whose messages a live answer brings along."""
        return [field for field in self.form if field.name not in INSIDE]

    @property
    def advice(self):
        return ADVICE[self.paper.kind]

    @property
    def settings(self):
        """For each meter owned: what to set, where to read, what to multiply by, at the EI that stands."""
        ei = self.plan.proposal.ei if self.plan else (self.offered[0] or self.offered[1]).ei
        return [(meter, *flows.meter_setting(meter, self.camera, ei)) for meter in Meter.objects.in_use()[:MOST_METERS]]

    @property
    def drawing(self):
        return figures.section(self.camera)

    @property
    def tiles(self):
        links = the_sum.Links(
            camera_words=self.camera.name,
            camera_url=reverse("kit:edit", args=["camera", self.camera.pk]),
            paper_url=reverse("kit:edit", args=["paper", self.paper.pk]),
            ei_words="you rate it" if self.plan.proposal.ei_from != Exposure.EiFrom.BOX else "box says",
            ei_source=self.plan.proposal.why,
        )
        return the_sum.tiles(self.step.done, links) + self._light_tile()

    def _light_tile(self):
        """What the light expected until then makes of the time, as the last tile."""
        if not (self.forecast and self.forecast.matters):
            return ()
        ratio = self.seconds / self.step.seconds
        label = "until it is dark" if self.short else f"the light {'falls' if ratio > 1 else 'rises'}"
        source = f"By the sun at {self.place}: {durations.say(self.step.seconds)} if the light stood still."
        return (the_sum.Tile("light", label, f"× {number(ratio)}", source, "#id_reckon"),)

    @property
    def range(self):
        return the_sum.range_words(self.step.done)

    @property
    def schools(self):
        """Every school beside the chosen one: (name, words, time, stops against the chosen, chosen)."""
        return [
            (
                school.name,
                the_sum.school_words(school),
                durations.countable_s(exact),
                stops,
                school == self.plan.done.school,
            )
            for school, exact, stops in self.plan.schools
        ]

    @property
    def ei_choices(self):
        """(value, words, why, chosen) for the EIs that can be had."""
        learned, box = self.offered
        chosen = self.plan.proposal.ei_from if self.plan else self.typed["ei_from"]
        if chosen == "learned" and not learned:
            chosen = "box"
        found = [("learned", f"yours, EI {number(learned.ei)}", learned.why)] if learned else []
        found += [("box", f"box, EI {number(box.ei)}", box.why), ("typed", "another", "")]
        return [(*choice, choice[0] == chosen) for choice in found]


def lay(params, *, shot=None, judging=False):
    """The Desk for what came in. While not judging, empty fields are forgiven and an unfit side is changed."""
    sides = queries.sides()
    typed = (
        starts.FIRST
        | starts.last_reading()
        | starts.of_shot(shot)
        | {name: params[name] for name in NAMES if name in params}
    )
    if "kind" in params:
        typed |= {box: params.get(box, "") for box in BOXES}
    camera, paper = _camera(typed), _paper(typed, sides)
    typed |= {"camera": camera and str(camera.pk), "paper": paper and str(paper.pk)}
    if paper and str(typed.get("for_paper", "")) != str(paper.pk):
        developer = usual_developer_id(paper) or Developer.objects.in_use().values_list("pk", flat=True).first()
        typed |= {"for_paper": str(paper.pk), "school": paper.school, "developer": str(developer or "")}
    fitting = [side for side in sides if camera and _fits(side, camera)]
    if not judging:
        typed["side"] = _side(typed.get("side"), fitting, paper)
    form = PlanForm({name: value or "" for name, value in typed.items()}, sides=sides)
    valid = form.is_valid()
    if not judging:
        form.forgive_empty()
    desk = Desk(typed, form, camera, paper, fitting=fitting, shot=shot, place=_place(shot))
    if camera and paper:
        desk.offered = flows.proposals(paper, form.cleaned_data.get("developer"))
    if valid:
        _work_out(desk)
    return desk


def _place(shot):
    return shot.outing.place if shot and shot.outing else places.home()


def _work_out(desk):
    given = desk.form.cleaned_data
    try:
        plan = flows.work_out(given, desk.offered)
    except ValueError as error:
        desk.form.add_error("bracket_stops", f"Not like this: {error}.")
        return
    longest_s, first = plan.done.exact_s, FIELDS_OF[given["kind"]][0]
    if longest_s <= exposure.LONGEST_S:
        longest_s, first = max(step.seconds for step in plan.steps), "bracket_stops"
    if longest_s > exposure.LONGEST_S:
        which = "That" if first != "bracket_stops" else "Its longest sheet"
        desk.form.add_error(
            first, f"{which} {words.comes_to(longest_s)}. The limit is 24 h: longer is a solargraph's business."
        )
    else:
        desk.plan = plan
        desk.forecast = _forecast(desk)


def _forecast(desk):
    step = desk.step
    if step.bands or not desk.typed.get("reckon"):
        return None
    return flows.forecast(desk.place, step.done, step.seconds, clock.now())


def _pick(usable, wanted):
    found = usable.filter(pk=wanted).first() if str(wanted or "").isdecimal() and len(str(wanted)) < 18 else None
    return found or usable.first()


def _camera(typed):
    return _pick(Camera.objects.in_use(), typed.get("camera"))


def _paper(typed, sides):
    """The paper typed; on a plain link to a loaded side, the paper that lies there."""
    if "for_paper" not in typed:
        there = next((side for side in sides if side.key == typed.get("side") and side.loading), None)
        if there and there.loading.sheet.paper.kind != Paper.Kind.SOLARGRAPH:
            return there.loading.sheet.paper
    return _pick(Paper.objects.timed(), typed.get("paper"))


def _fits(side, camera):
    if side.loading and side.loading.sheet.paper.kind == Paper.Kind.SOLARGRAPH:
        return False
    return side.holder.size == camera.size and side.holder.camera_id in (None, camera.body_pk)


def _side(wanted, fitting, paper):
    """The side wanted if it can be exposed with this paper, else a loaded one, else an empty one."""

    def ready(side):
        return side.state == "loaded" and side.loading.sheet.paper_id == paper.pk

    if wanted in [side.key for side in fitting if side.state in ("exposed", "empty") or ready(side)]:
        return wanted
    ordered = [*filter(ready, fitting), *(side for side in fitting if side.state == "empty")]
    return ordered[0].key if ordered else ""
