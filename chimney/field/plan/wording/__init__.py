"""The page of a plan in words."""

from math import isinf

from django.urls import reverse

from chimney.field.forms import PlanForm
from chimney.field.plan.wording.doors import PlanDoors
from chimney.logbook.models import Exposure
from chimney.logbook.wording import at_camera
from chimney.parts import calculation as parts
from chimney.parts.scales import many_stops, number, size_of_stops, stops
from chimney.parts.templatetags.said import there
from pinhole import durations, exposure
from pinhole.exposure import brackets

# A shadow so far under the middle shows what a pre-flash does.
DEEP_STOPS = 4
PARTS = {
    "reading": "the light is judged otherwise",
    "camera": "the camera is another",
    "colour": "the colour of the light asks for another time",
    "filter": "the filter takes another part of this paper's light",
    "compensation": "more or less is given on purpose",
    "preflash": "the pre-flash is another",
}
NOT_TODAY = "Not even all the light of this day fills it."


class PlanSentences(PlanDoors):
    """Sentences on the page of a plan, from its state: mixed into plan.page.PlanPage."""

    @property
    def flash_words(self):
        """Words on pre-flashing the sheet, and what it does; nothing if none is asked for."""
        flash_s = exposure.flash_s(self.sheet.calculation)
        if not flash_s:
            return ""
        strength = self.sheet.calculation.specification.preflash_stops
        lift = size_of_stops(round(4 * exposure.lift_stops(strength, DEEP_STOPS)) / 4)
        time_words = durations.say(durations.countable_s(flash_s))
        return (
            f"Pre-flash first, the same sheet in the same camera: an evenly lit white card close "
            f"before the hole, {time_words} if the card reads as above, else 1/{2**strength:g} of "
            f"its own time. It lifts shadows {DEEP_STOPS} stops under the middle by {lift}; try it "
            "on a scrap first."
        )

    @property
    def headline(self):
        if self.refused:
            # What was refused is not promised any more.
            return self.refused.sentence
        if self.short:
            return f"{self.camera} is not full before dark"
        if self.plan:
            return f"Open {self.camera} for {durations.say(self.seconds)}{self.pulling}"
        return str(self.shot) if self.shot else "What is the light?"

    @property
    def made_with(self):
        """Camera, paper and side, as far as they are known."""
        camera = self.camera and f"{self.camera}, f/{number(self.f_number)}"
        parts = (camera, self.paper, self.side and self.side.words)
        return "; ".join(str(word) for word in parts if word)

    @property
    def colour_words(self):
        """The switch that leaves the colour of the light out, where it says anything."""
        if not self.plan:
            return ""
        says = self.plan.calculation.specification.colour_stops or self.typed.get("plain_light")
        return PlanForm.base_fields["plain_light"].label if says else ""

    @property
    def moved_words(self):
        """By what the time moved beside the field that was just changed, nothing where it did
        not.
        """
        movements = [f"{self._part(part)}, {many_stops(moved)}" for part, moved in self.moved]
        return f"Something else moved the time too: {'; '.join(movements)}." if movements else ""

    def _part(self, part):
        spec = self.plan.calculation.specification
        if part == "ei":
            return f"the paper is rated EI {number(spec.ei)} now"
        return PARTS.get(part, "what your sheets say of it is another")

    @property
    def is_bracket_worth(self):
        return self.sheet.calculation.bracket

    @property
    def too_short(self):
        """That nobody counts it, where nobody does."""
        exact_s = self.sheet.calculation.exact_s
        if exact_s >= 1 or self.camera.is_lens:
            return ""
        return (
            f"{durations.say(exact_s)} is shorter than a hand can count: a smaller hole, a filter "
            "or a slower paper."
        )

    @property
    def before_words(self):
        """Words for what must be done at this camera before the hole opens."""
        straight_in = bool(self.side and self.side.holder.camera_id)
        return at_camera(straight_in, is_lens=self.camera.is_lens).before

    @property
    def open_words(self):
        """Words on the button that opens."""
        empty = self.side and self.side.state == "empty"
        one_of = f" for {durations.say(self.seconds)}" if len(self.plan.sheets) > 1 else ""
        return f"{'Load and open' if empty else 'Open the hole'}{one_of}"

    @property
    def scene_words(self):
        """(how far the scene spans against the paper, what comes of that), None without a scene."""
        scene = self.plan.scene
        if scene is None:
            return None
        spans = size_of_stops(scene.range_stops)
        holds = size_of_stops(self.paper.range_stops)
        head = f"The scene spans {spans}, {self.paper} holds {holds}"
        if scene.fits:
            return head, "all of it fits."
        held = f", so {stops(scene.rate_stops)} holds the chosen end" if scene.rate_stops else ""
        return head, f"{size_of_stops(scene.lost_stops)} are lost{held}."

    @property
    def closing_words(self):
        without = f", not {there(self.without)}" if self.without else ""
        return f"Closing at {there(self.closes_at)}{without}"

    @property
    def light_words(self):
        """Words for what the light until then does to the exposure."""
        if self.short:
            latest, past = self.latest or (None, False)
            late = f"Opened by {there(latest)} it would have been full." if past else NOT_TODAY
            return f"Open now it closes at {there(self.closes_at)}, {self.short_words}. {late}"
        still = self.sheet.seconds
        direction = "fall" if self.forecast.prospect.closes_s > still else "rise"
        times = f"{durations.say(self.seconds)} in all instead of {durations.say(still)}"
        return f"the light will {direction} by the sun at {self.place}: {times}."

    @property
    def short_words(self):
        """ "a stop short", or that nothing comes of it."""
        lacks = self.short.short_stops
        if isinf(lacks) or lacks > 6:
            return "with hardly anything on it"
        return f"{size_of_stops(lacks)} short"

    @property
    def doubling_words(self):
        """Words for what twice the time on the clock is worth through the school, in a bracket."""
        if self.typed.get("sheets") != "bracket":
            return ""
        calculation = self.plan.calculation
        worth = many_stops(exposure.effect_stops(calculation, 2 * calculation.exact_s))
        return f"Twice the time on the clock is {worth} of effect here."

    @property
    def strip_words(self):
        """(when the slide goes in over the next band, when the hole is shut, what the bands get)
        of a test strip.
        """
        *moves, end = (durations.say(band.pull_s) for band in self.sheet.bands)
        return (
            ", ".join(moves),
            end,
            ", ".join(stops(band.corrected_stops) for band in self.sheet.bands),
        )

    @property
    def sheets(self):
        return [(sheet, _say_sheet(sheet), sheet is self.sheet) for sheet in self.plan.sheets]

    @property
    def bands_alike(self):
        """Words for the bands of a test strip that will hardly differ, because the edge of the
        paper gets less light.
        """
        apart = self.form.cleaned_data.get("bracket_stops") or 1.0
        pairs = brackets.alike(self.sheet.bands, apart) if self.sheet.bands else ()
        band_pairs = " and ".join(f"{band} and {next_band}" for band, next_band in pairs[:2])
        return (
            f"Bands {band_pairs} will hardly differ: the paper's edge gets less light. Wider "
            "steps, or fewer bands."
            if pairs
            else ""
        )

    @property
    def advice(self):
        return self.paper.medium.metering

    @property
    def range(self):
        return parts.range_words(self.sheet.calculation)

    @property
    def tiles(self):
        """The calculation, each tile leading to where its number is from, and the light to come."""
        of_box = self.plan.proposal.ei_from == Exposure.EiFrom.BOX
        links = parts.Links(
            camera_words=self.camera.name,
            camera_url=reverse("kit:edit", args=["camera", self.camera.pk]),
            paper_url=reverse("kit:edit", args=["paper", self.paper.pk]),
            ei_words="box says" if of_box else "you rate it",
            ei_source=self.plan.proposal.why,
            learn_url=self._learn_url,
        )
        return parts.tiles(self.sheet.calculation, links) + self._light_tile()

    def _light_tile(self):
        if not (self.forecast and self.forecast.matters):
            return ()
        still, ratio = self.sheet.seconds, self.seconds / self.sheet.seconds
        moves = f"the light {'falls' if ratio > 1 else 'rises'}"
        source = f"By the sun at {self.place}: {durations.say(still)} if the light stood still."
        label = "until it is dark" if self.short else moves
        return (parts.Tile("light", label, f"× {number(ratio)}", source, "#id_reckon"),)

    @property
    def schools(self):
        """Every school beside the chosen one: (name, words, time, whether it is chosen)."""
        used, own_school = self.plan.calculation.school, self.paper.schools[self.paper.school]
        learned = used not in self.paper.schools.values()
        if learned:
            # It stands in the place of the paper's own.
            exact_s = self.plan.calculation.exact_s
            label = f"{used.words}, from your sheets"
            yield self.paper.school, label, durations.countable_s(exact_s), True
        for school, exact_s, clock_stops in self.plan.schools:
            if learned and school == own_school:
                continue
            chosen, label = school == self.plan.calculation.school, school.words
            stops_words = stops(clock_stops)
            if not chosen:
                label += ", the same" if stops_words == "0" else f", {many_stops(clock_stops)}"
            yield school.name, label, durations.countable_s(exact_s), chosen

    @property
    def ei_choices(self):
        """(value, words, why, chosen) for the EIs that can be had."""
        learned, box = self.offered
        chosen = self.plan.proposal.ei_from if self.plan else self.typed["ei_from"]
        if chosen == "learned" and not learned:
            chosen = "box"
        choices = [("learned", f"yours, EI {number(learned.ei)}", learned.why)] if learned else []
        choices += [("box", f"box, EI {number(box.ei)}", box.why), ("typed", "another", "")]
        return [(*choice, choice[0] == chosen) for choice in choices]

    @property
    def ei_why(self):
        return next((why for _, _, why, chosen in self.ei_choices if chosen), "")

    @property
    def side_choices(self):
        """(key, words, chosen) of the sides that the camera can take."""
        return [
            (side.key, _say_side(side), side.key == self.typed.get("side")) for side in self.fitting
        ]


def _say_side(side):
    if not side.loading:
        return f"fresh sheet into {side.words}"
    sheet = side.loading.sheet
    state = "" if side.state == "loaded" else f", {side.state}"
    return f"{sheet} in {side.words}: {sheet.paper}{state}"


def _say_sheet(sheet):
    """ "30 s (-1 of effect)"."""
    return (
        f"{durations.say(sheet.seconds)} ({sheet.words})"
        if sheet.words
        else durations.say(sheet.seconds)
    )
