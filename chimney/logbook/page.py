"""A running or finished exposure as a page shows it, computed from the log alone."""

import logging
import math
from dataclasses import dataclass
from datetime import timedelta

from chimney.logbook import craft, wording
from chimney.logbook.models import Exposure
from chimney.parts import calculation as tiles_of
from chimney.parts import scales
from pinhole import clock as craft_clock
from pinhole import durations
from pinhole.exposure import LONGEST_S, Calculation
from pinhole.light.progress import Part, Progress

log = logging.getLogger(__name__)
# Below this a move of the finishing time is not worth a word.
LEAST_MOVE_S = 1.0
UNKNOWN = Progress((Part(0.0, 0.0),), math.inf, 0.0, False)


@dataclass(frozen=True)
class Timer:
    """open_s: how long the hole has been free; left_s: of free hole until there is enough or it is
    dark, negative after it, None where no end comes within a day: then the clock simply counts.

    state: "hand" (up to hand_left_s more before the hole), "open", "covered" or "closed";
    calculation: the Calculation, None if what was kept cannot be read; short_stops: what it will
    lack when it is dark; odd: what is odd about its log, in words.
    """

    exposure: Exposure
    calculation: Calculation | None
    open_s: float
    left_s: float | None
    state: str
    closes_at: object
    parts: tuple
    beyond: bool
    hand_left_s: float
    short_stops: float
    odd: tuple

    @classmethod
    def of(cls, exposure, now):
        opening = exposure.opening
        until = min(now, opening.closed_at) if opening.closed_at else now
        tally, free_from = opening.tally(until), opening.free_from(now)
        state = (
            "closed"
            if opening.closed_at
            else "hand"
            if free_from
            else "covered"
            if opening.covered
            else "open"
        )
        hand_left_s = (free_from - now).total_seconds() if free_from and state == "hand" else 0.0
        progress, calculation = _reckoned(exposure, until, tally.open_s)
        left_s = progress.left_s if abs(progress.left_s) <= 2 * LONGEST_S else None
        closes_at = opening.closed_at
        if not closes_at and left_s is not None:
            closes_at = now + timedelta(seconds=left_s + hand_left_s)
        return cls(
            exposure=exposure,
            calculation=calculation,
            open_s=tally.open_s,
            left_s=left_s,
            state=state,
            closes_at=closes_at,
            parts=progress.parts,
            beyond=progress.beyond,
            hand_left_s=hand_left_s,
            short_stops=progress.short_stops,
            odd=tuple(craft_clock.ODD[key] for key in tally.odd),
        )

    @property
    def total_s(self):
        """Time that the hole will have been free when there is enough; None where that is not
        known.
        """
        return None if self.left_s is None else self.open_s + self.left_s

    @property
    def moment(self):
        """Key of the sentence that holds now: its state, or "due" where its time is over."""
        is_over = self.state == "open" and self.left_s is not None and self.left_s <= 0
        return "due" if is_over else self.state

    @property
    def counts_up(self):
        """True if it can only say how long the hole has been free."""
        return self.left_s is None

    @property
    def digits(self):
        """Digits of the clock until a script counts: 1:12, or +0:05 past the time, or the time so
        far.
        """
        if self.hand_left_s:
            return clock_words(self.hand_left_s)
        if self.left_s is None:
            return clock_words(self.open_s)
        return (
            clock_words(self.left_s)
            if self.left_s > 0
            else f"+{clock_words(-self.left_s, up=False)}"
        )

    @property
    def short_words(self):
        """ "a stop short", where it gets dark before it is full."""
        if not self.short_stops:
            return ""
        if math.isinf(self.short_stops):
            return "with nothing on it"
        return f"{scales.size_of_stops(self.short_stops)} short"

    @property
    def bar(self):
        """Shares that the parts gave, as (from, width) on a bar of 1000; past enough it is full."""
        stretches, start = [], 0.0
        for part in self.parts:
            end = min(1000.0, start + 1000 * part.share)
            stretches.append(
                (
                    round(start),
                    max(
                        0,
                        round(end - start)
                        - (2 if end < 1000 and part is not self.parts[-1] else 0),
                    ),
                )
            )
            start = end
        return stretches or [(0, 0)]

    @property
    def moves(self):
        """Words for what each second reading did."""
        opened = self.exposure.opening.opened_at
        for reread in self.exposure.rereads.all():
            after = durations.say(max(1.0, (reread.at - opened).total_seconds()))
            light = (
                "as expected" if abs(reread.stops) < 0.05 else scales.size_of_stops(reread.stops)
            )
            took = (
                light
                if light == "as expected"
                else f"{light} {'more' if reread.stops > 0 else 'less'} light"
            )
            yield f"read again after {after}: {took}{_moved(reread.moved_s)}"

    @property
    def free_words(self):
        """Words for the time that the hole was free, and for its worth."""
        return wording.free_for(self.open_s, self.exposure.worth_s)

    @property
    def at_camera(self):
        """Words for what is done at this camera."""
        exposure = self.exposure
        return wording.at_camera(exposure.goes_straight_in, is_lens=exposure.camera.is_lens)

    @property
    def order(self):
        """[(step at the camera, its class)]: done, now, or still to come."""
        steps = self.at_camera.steps
        now = {"hand": 2, "closed": 4}.get(self.state, 3)
        now = len(steps) if self.exposure.slide_back_at else now
        classes = ["order-done"] * now + ["order-now"] + [""] * len(steps)
        return list(zip(steps, classes, strict=False))

    @property
    def tiles(self):
        if self.calculation is None:
            return ()
        # What was calculated then leads to no field now.
        nowhere = dict.fromkeys(("reading_url", "scene_url", "colour_url"), "")
        links = tiles_of.Links(camera_words=self.exposure.camera.name, **nowhere)
        return tiles_of.tiles(self.calculation, links)

    @property
    def given_words(self):
        """Words for the worth of the light really given."""
        if self.calculation is None:
            return "its calculation cannot be read any more"
        worth = self.exposure.worth_s if self.exposure.worth_s is not None else self.open_s
        return tiles_of.given_words(self.calculation, max(worth, 0.01))


def _reckoned(exposure, until, open_s):
    """(Progress, Calculation). Whatever fails here, the hole can still be seen and shut: the plain
    clock goes on.
    """
    try:
        calculation = exposure.calculation
        if exposure.light_changes or exposure.dark_at:
            return craft.progress(exposure, until), calculation
        share = open_s / exposure.planned_s
        return Progress(
            (Part(open_s, share),), exposure.planned_s - open_s, 0.0, False
        ), calculation
    except Exception:
        log.exception("exposure %s cannot be reckoned", exposure.pk)
        return UNKNOWN, None


def clock_words(seconds, *, up=True):
    """1:12 or 1:02:05, whole seconds; up: the second that has begun counts."""
    whole_s = int(seconds + (0.999 if up else 0))
    hours, rest = divmod(whole_s, 3600)
    minutes, seconds = divmod(rest, 60)
    return f"{hours}:{minutes:02d}:{seconds:02d}" if hours else f"{minutes}:{seconds:02d}"


def _moved(moved_s):
    """Words for what a second reading did to the end."""
    if moved_s is None:
        return ", and no end is in sight"
    if abs(moved_s) < LEAST_MOVE_S:
        return ""
    return f", {'adds' if moved_s > 0 else 'takes away'} {durations.say(abs(moved_s))}"
