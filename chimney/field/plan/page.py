"""The plan page as it stands: what was typed, filled up with what was used last, and what comes of
it.
"""

import json
from dataclasses import dataclass, field
from datetime import timedelta
from functools import cached_property
from urllib.parse import urlencode

from chimney.field import craft, wording
from chimney.field.forms import PlanForm
from chimney.field.light.craft import NOBODY_KNOWS, Lit
from chimney.field.plan import craft as coming
from chimney.field.plan import flows, queries
from chimney.field.plan.figures import band
from chimney.field.plan.wording import PlanSentences
from chimney.kit import figures
from chimney.kit.models import Camera, Meter, Paper
from chimney.lessons.craft import metered_at_box_s
from chimney.lessons.proposing import queries as lessons
from chimney.parts import clock, plain_json
from chimney.parts.readings import FIELDS_OF
from chimney.places import craft as places
from chimney.places import queries as place_queries
from chimney.places import wording as place_wording
from pinhole import durations, exposure

# Fields that are swapped with the answer, and radios, which cannot be typed wrong.
ANSWER_FIELDS = {
    "side",
    "again",
    "ei",
    "school",
    "ei_from",
    "kind",
    "developer",
    "sheets",
    "bracket_stops",
    "bracket_by",
}
ANSWER_FIELDS |= {"camera", "aperture", "bands", "hand_s", "reckon", "made", "plain_light"}
MOST_METERS = 3
PLAN_FIELDS = [*PlanForm.base_fields, "for_paper", "rated"]
# Boxes that a browser leaves out when they are not ticked, so their absence says something.
PLAN_BOXES = ("reckon", "plain_light")


@dataclass
class PlanPage(PlanSentences):
    """form: bound to typed; plan: the worked-out one or None; fitting: sides this camera can
    take.
    """

    typed: dict
    form: PlanForm
    camera: Camera | None
    paper: Paper | None
    offered: tuple = (None, None)
    plan: craft.Plan | None = None
    fitting: list = field(default_factory=list)
    shot: object = None
    refused: object = None
    place: object = None
    # When its hole is opened: now, or at the hour of a day to come.
    moment: object = None
    lit: Lit = NOBODY_KNOWS
    # What its time moved by beside the field that was just changed: [(part, stops)].
    moved: list = field(default_factory=list)
    forecast: object = None

    @property
    def side(self):
        return self.form.sides.get(self.typed.get("side"))

    @cached_property
    def sheet(self):
        """The PlannedSheet that is next."""
        return flows.next_sheet(self.plan, self.shot)[1]

    @property
    def made(self):
        """Number of exposed sheets of its shot, so that a page that was overtaken is noticed."""
        return len(self.shot.steps_made) if self.shot else 0

    @property
    def short(self):
        """The Prospect of an exposure that does not get full before dark, else None."""
        prospect = self.forecast and self.forecast.prospect
        return prospect if prospect and not prospect.full else None

    @property
    def seconds(self):
        """Time that the hole will be open, with the light expected until then."""
        if not (self.forecast and self.forecast.matters):
            return self.sheet.seconds
        closes_s = self.forecast.prospect.closes_s
        return closes_s if self.short else durations.countable_s(closes_s)

    @property
    def closes_at(self):
        """Moment of closing on the place's clock, with the forecast."""
        return self._local(self.moment + timedelta(seconds=self.seconds))

    @property
    def without(self):
        """Moment at which it would close if the light stood still, where that is another minute and
        another sentence.
        """
        ends = self._local(self.moment + timedelta(seconds=self.sheet.seconds))
        return ends if f"{ends:%H:%M}" != f"{self.closes_at:%H:%M}" else None

    @property
    def latest(self):
        """(moment on the place's clock, whether it is past) of the last opening that makes sense
        today, or None.
        """
        at = self.forecast and self.forecast.latest_at
        return (self._local(at), at < self.moment) if at else None

    def _local(self, moment):
        return places.local(moment, self.place)

    @property
    def stance(self):
        """Words for how the sun stands to the camera when it is opened; nothing without a place and
        a direction.
        """
        looks = self.lit.looks_deg if self.plan else None
        if not self.place or looks is None:
            return ""
        shadows = self.lit.has_shadows
        return wording.stance(self.place, self.moment, looks, self.camera, shadows=shadows)

    @property
    def risk(self):
        """Words for what may move during the exposure, in the wind of an outing or none."""
        wind = self.shot.outing.wind if self.shot and self.shot.outing else "still"
        hand = bool(self.form.cleaned_data["hand_s"])
        return wording.risk(wind, self.seconds, hand=hand, lens=self.camera.is_lens)

    @property
    def shown(self):
        """Parts of the time that is shown and the values typed for it, for the next answer to tell
        what moved.
        """
        if not self.plan:
            return ""
        typed = {name: str(self.typed.get(name) or "") for name in coming.MOVERS}
        return json.dumps({"parts": coming.parts_of(self.plan.calculation), "typed": typed})

    @property
    def outside(self):
        """The fields that stand outside the answer, whose messages a live answer brings along."""
        fields = self.form.visible_fields()
        return [field for field in fields if field.name not in ANSWER_FIELDS]

    @property
    def like_it(self):
        """Query for sheets like it in the log, as in an address."""
        query = {"paper": self.paper.pk, "camera": self.camera.pk, "seconds": f"{self.seconds:.3f}"}
        query["metered_s"] = f"{metered_at_box_s(self.plan.calculation, self.paper):.6g}"
        return urlencode(query | {"exact_s": f"{self.plan.calculation.exact_s:.6g}"})

    @property
    def settings(self):
        """For each meter owned: what to set, where to read, what to multiply by, at the EI that
        stands.
        """
        ei = self.plan.proposal.ei if self.plan else (self.offered[0] or self.offered[1]).ei
        return [
            (meter, *craft.meter_setting(meter, self.f_number, ei))
            for meter in Meter.objects.in_use()[:MOST_METERS]
        ]

    @property
    def f_number(self):
        """Of its camera, at the aperture that stands."""
        return self.camera.f_number_at(self.form.cleaned_data.get("aperture"))

    @property
    def has_apertures(self):
        return bool(self.camera) and len(self.camera.stops) > 1

    @property
    def arrangement_fields(self):
        """Fields of a bracket or a test strip."""
        kinds = {"bracket": ("bracket_stops", "bracket_by"), "strip": ("bracket_stops", "bands")}
        return [self.form[name] for name in kinds.get(self.typed.get("sheets"), ())]

    @property
    def drawing(self):
        return figures.section(self.camera)

    @property
    def band(self):
        return band(self.sheet.calculation)


def read(params, *, shot=None, judging=False, held=None):
    """The PlanPage for what came in. While not judging, empty fields are forgiven and an unfit side
    is changed. held: what queries.at_hand read, where several plans are made at once.
    """
    sides, rows = held or queries.at_hand()
    typed = (
        queries.FIRST_PLAN
        | queries.last_reading(params)
        | queries.of_shot(shot)
        | {name: params[name] for name in PLAN_FIELDS if name in params}
    )
    if "kind" in params:
        typed |= {box: params.get(box, "") for box in PLAN_BOXES}
    chosen = "camera" in params or shot is not None
    camera = queries.camera(typed, sides, rows["camera"], chosen=chosen)
    paper = queries.paper(typed, sides, rows["paper"])
    typed |= {"camera": camera and str(camera.pk), "paper": paper and str(paper.pk)}
    typed |= queries.rating(paper, typed, params, shot)
    fitting = [side for side in sides if camera and queries.fits(side, camera)]
    if not judging:
        typed["side"] = queries.side(typed.get("side"), fitting, paper)
    place, moment = _place(shot), clock.now() if judging else _moment(shot)
    form = PlanForm({name: value or "" for name, value in typed.items()}, sides=sides, rows=rows)
    form.takes(camera)
    form.stands(*place_wording.sun_over(place, moment))
    valid = form.is_valid()
    if not judging:
        form.forgive_empty()
    page = PlanPage(typed, form, camera, paper, fitting=fitting, shot=shot, place=place)
    page.moment = moment
    if camera and paper:
        page.offered = lessons.offered(paper, form.cleaned_data.get("developer"))
    if valid:
        _work_out(page)
        _tell_what_moved(page, params)
    return page


def _tell_what_moved(page, params):
    """Say on the page by what its time moved beside the fields that were just changed."""
    try:
        shown_before = plain_json.loads(params.get("shown") or "{}")
        before = {str(part): float(stops) for part, stops in shown_before["parts"].items()}
        changed = {
            name
            for name in coming.MOVERS
            if str(shown_before["typed"][name]) != params.get(name, "")
        }
    except (ValueError, TypeError, AttributeError, KeyError):
        return
    if page.plan and changed:
        page.moved = coming.moved_beside(before, page.plan.calculation, changed)


def _place(shot):
    return shot.outing.place if shot and shot.outing else place_queries.home()


def _moment(shot):
    """Now, or the hour of a shot on a day to come."""
    now = clock.now()
    if (
        shot
        and shot.outing
        and shot.starts_at
        and shot.outing.day > places.today(shot.outing.place)
    ):
        return shot.starts_at
    return now


def _work_out(page):
    cleaned = page.form.cleaned_data
    page.lit = coming.lit_of(cleaned, page.shot, page.place, page.moment)
    try:
        plan = craft.make_plan(cleaned, page.offered, page.lit)
    except ValueError as error:
        page.form.add_error("bracket_stops", f"Not like this: {error}.")
        return
    longest_s, first = plan.calculation.exact_s, FIELDS_OF[cleaned["kind"]][0]
    if longest_s <= exposure.LONGEST_S:
        longest_s, first = max(sheet.seconds for sheet in plan.sheets), "bracket_stops"
    if longest_s > exposure.LONGEST_S:
        subject_words = "That" if first != "bracket_stops" else "Its longest sheet"
        page.form.add_error(
            first,
            f"{subject_words} {wording.comes_to(longest_s)}. The limit is 24 h: longer is for a "
            "solargraph.",
        )
    else:
        page.plan = plan
        page.forecast = _forecast(page)


def _forecast(page):
    if page.sheet.bands or not page.typed.get("reckon"):
        return None
    sheet = page.sheet
    return coming.forecast(page.place, sheet.calculation, sheet.seconds, page.moment, page.lit)
