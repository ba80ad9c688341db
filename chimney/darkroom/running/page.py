"""A run that is going, as its page shows it: computed from its log alone."""

from dataclasses import dataclass, replace

from django.utils.functional import cached_property

from chimney.darkroom import craft, wording
from chimney.darkroom.models import Run
from chimney.logbook.page import clock_words
from pinhole import developing, durations

HOUR_S = 3600


def lane_digits(seconds):
    """ "1:12", and of what takes hours "26 h 03"."""
    if seconds < HOUR_S:
        return clock_words(seconds, up=False)
    hours, rest = divmod(int(seconds), HOUR_S)
    return f"{hours} h {rest // 60:02d}"


@dataclass(frozen=True)
class LaneCard:
    """Sheets that go together, as a card of the run page: lane; sheets; step: the Step they are in,
    None while they wait or when they are through; elapsed_s: in it; more_s: left longer by so much.
    """

    lane: developing.Lane
    sheets: tuple
    steps: tuple
    step: developing.Step | None
    elapsed_s: float
    more_s: float
    is_turn: bool
    may_go: bool
    open_s: float
    safe_s: float | None
    # Of the sheets that go in before it, where it waits.
    before: str = ""

    @property
    def number(self):
        return self.lane.number

    @property
    def place(self):
        """The number of its step; empty while it waits."""
        return "" if self.lane.now is None else self.lane.now.step

    @property
    def codes(self):
        return ", ".join(map(str, self.sheets)) or "given up"

    @property
    def whose(self):
        """Their names, in a class."""
        return ", ".join(sorted({sheet.person.name for sheet in self.sheets if sheet.person}))

    @property
    def digits(self):
        return lane_digits(self.elapsed_s) if self.step else ""

    @property
    def is_long(self):
        """True if its clock tells hours by now."""
        return self.elapsed_s >= HOUR_S

    @property
    def calls(self):
        """Names of the stretches between two calls, for the script to go on with."""
        return "|".join(wording.calls(self.step)) if self.step else ""

    @property
    def beat_s(self):
        return self.step.beat_s if self.step else None

    @property
    def call(self):
        """Name of the soak that it is in."""
        calls = wording.calls(self.step) if self.step else ()
        place = int(self.elapsed_s // self.step.beat_s) if calls else 0
        return calls[min(place, len(calls) - 1)] if calls else ""

    @property
    def most_s(self):
        return self.step.most_s + self.more_s if self.step else 0.0

    @property
    def width(self):
        """Length of its bar, of 1000."""
        return round(1000 * min(1.0, self.elapsed_s / self.most_s)) if self.most_s else 0

    @property
    def mark(self):
        """Place on the bar where the shorter time ends; 0 if there is one time."""
        if not self.most_s or self.step.least_s >= self.most_s:
            return 0
        return round(1000 * self.step.least_s / self.most_s)

    @property
    def times(self):
        return wording.times(self.step, self.more_s) if self.step else ""

    @property
    def head(self):
        """Words for what is done with it now."""
        if self.lane.is_over:
            return "through"
        if self.step is None:
            out = f" until {self.before} is out of the first bath" if self.before else ""
            return "goes in now" if self.may_go else f"waits face down, covered,{out}"
        times = sum(visit.step == self.lane.now.step for visit in self.lane.visits)
        return f"{self.step.name}, {wording.ordinal(times)} time" if times > 1 else self.step.name

    @property
    def onward(self):
        return wording.onward(self.steps, None if self.step is None else self.lane.now.step)

    @property
    def key(self):
        """The key that ends its step, where its turn has come."""
        return "d" if self.is_turn else ""

    @property
    def again(self):
        """Words on the button that repeats a step from here, if one may be repeated."""
        if self.not_again:
            return ""
        return f"{self.steps[self.lane.now.step - self.step.again].name} again"

    @property
    def not_again(self):
        return not (self.step and self.step.again)

    @property
    def not_longer(self):
        return self.step is None or self.step.is_ticked

    @property
    def can_go_back(self):
        """True if a developer comes before its step, and no white step has been reached."""
        if self.step is None or developing.is_light_safe(self.steps, self.lane):
            return False
        before = self.steps[: self.lane.now.step]
        return self.step.purpose != "develop" and any(s.purpose == "develop" for s in before)

    @property
    def caution(self):
        return wording.caution(self.step) if self.step else ""

    @property
    def safe_words(self):
        """Words for the time it lay open, against that for which its lamp was tested."""
        if not self.open_s or self.lane.is_over:
            return ""
        lies = f"open under the lamp for {durations.say(max(1.0, self.open_s))}"
        if self.safe_s is None:
            return f"{lies}; this lamp is not tested with this paper"
        is_too_long = self.open_s > self.safe_s
        sentence = f"{lies}; tested safe for {durations.say(self.safe_s)}" if self.safe_s else lies
        return f"{sentence}: cover it" if is_too_long else sentence


@dataclass(frozen=True)
class Bench:
    """A run as its page shows it, from its log alone: run; cards: a LaneCard for each lane; turn:
    whose hand is wanted next; light: which light is allowed, in words.
    """

    run: Run
    cards: tuple
    turn: int | None
    light: str
    now: object

    @classmethod
    def of(cls, run, now):
        lanes, now_s = craft.lanes_of(run), now.timestamp()
        developments = [d for d in run.developments.all() if craft.still_there(d)]
        sheets = {
            lane.number: tuple(d.sheet for d in developments if d.lane == lane.number)
            for lane in lanes
        }
        used = [lane for lane in lanes if sheets[lane.number] or lane.number == 0]
        turn = developing.turn(run.steps, used, now_s) if used else None
        cards = tuple(cls._card(run, used, lane, sheets, now_s, turn) for lane in used)
        cards = tuple(
            replace(card, before=before.codes if before else "")
            for before, card in zip((None, *cards), cards, strict=False)
        )
        codes = {number: ", ".join(map(str, group)) for number, group in sheets.items()}
        light = wording.light(run.steps, lanes, codes, run.white_at)
        return cls(run, cards, turn, light, now)

    @staticmethod
    def _card(run, used, lane, sheets, now_s, turn):
        visit = lane.now
        return LaneCard(
            lane=lane,
            sheets=sheets[lane.number],
            steps=run.steps,
            step=run.steps[visit.step] if visit else None,
            elapsed_s=visit.lasted_s(now_s) if visit else 0.0,
            more_s=visit.more_s if visit else 0.0,
            is_turn=lane.number == turn,
            may_go=developing.may_go_in(run.steps, used, lane.number),
            open_s=developing.open_s(run.steps, lane, now_s),
            safe_s=run.safe_s,
        )

    @property
    def is_over(self):
        return self.turn is None

    @property
    def count(self):
        """Number of sheets that are in it and not through."""
        return sum(len(card.sheets) for card in self.cards if not card.lane.is_over)

    @property
    def card(self):
        """The LaneCard whose turn it is, None when all are through."""
        return next((card for card in self.cards if card.is_turn), None)

    @property
    def goes_on_alone(self):
        """True if nobody has to stand by any more: all wash or dry."""
        return all(c.lane.is_over or (c.step and c.step.goes_on_alone) for c in self.cards)

    @property
    def wants_a_hand(self):
        return not self.is_over and not self.goes_on_alone

    @property
    def white_allowed(self):
        steps = self.run.steps
        return all(developing.is_light_safe(steps, card.lane) for card in self.cards if card.sheets)

    @property
    def is_dark(self):
        """True if its page stays red: white light was not switched on."""
        return self.run.white_at is None and not self.is_over

    @property
    def can_call_off(self):
        return not any(d.developed_at for d in self.run.developments.all())

    @cached_property
    def steps(self):
        """[(number, Step, times, what a voice says, caution, how much a tap leaves it longer)]."""
        return [
            (
                number,
                step,
                wording.times(step),
                wording.spoken(step),
                wording.caution(step),
                craft.longer_s(step),
            )
            for number, step in enumerate(self.run.steps)
        ]

    @property
    def by_eye_words(self):
        developing_now = self.card and self.card.step and self.card.step.purpose == "develop"
        return wording.BY_EYE_HINTS if developing_now and self.run.by_eye else ()

    @property
    def codes(self):
        """Its sheets, or how many they are."""
        sheets = [str(sheet) for card in self.cards for sheet in card.sheets]
        return wording.named(sheets) or "given up"

    @property
    def left_words(self):
        """Words for the time that what goes on alone still takes, or for what it does."""
        card = self.card
        if card is None:
            return "through"
        left = developing.left_s(self.run.steps, card.lane, self.now.timestamp())
        if card.step is None or card.step.is_ticked:
            return card.head
        remaining = f"{durations.say(left)} left" if left > 0 else "its time is over"
        return f"{card.head.lower()}, {remaining}"

    @property
    def owners(self):
        """Names of those whose sheets are in it."""
        return sorted({s.person.name for card in self.cards for s in card.sheets if s.person})
