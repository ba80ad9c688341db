"""A running or finished exposure as a page shows it, computed from the log alone."""

from dataclasses import dataclass
from datetime import timedelta

from chimney.logbook import changing
from chimney.logbook.models import Exposure
from chimney.parts import scales
from chimney.parts import sum as the_sum
from pinhole import durations
from pinhole.exposure import Sum
from pinhole.progress import Part

# Below this a move of the finishing time is not worth a word.
LEAST_MOVE_S = 1.0


@dataclass(frozen=True)
class Timer:
    """open_s: how long the hole has been free; left_s: of free hole until there is enough, negative after it.

    state: "hand" (up to hand_left_s more before the hole), "open", "covered" or "closed".
    """

    exposure: Exposure
    done: Sum
    open_s: float
    left_s: float
    state: str
    closes_at: object
    parts: tuple
    beyond: bool
    hand_left_s: float

    @classmethod
    def of(cls, exposure, now):
        opening = exposure.opening
        until = min(now, opening.closed_at) if opening.closed_at else now
        open_s, free_from = opening.open_s(until), opening.free_from(now)
        state = "closed" if opening.closed_at else "hand" if free_from else "covered" if opening.covered else "open"
        done, hand_left_s = exposure.done, (free_from - now).total_seconds() if free_from else 0.0
        if exposure.light_changes:
            found = changing.progress(exposure, until)
            parts, left_s, beyond = found.parts, found.left_s, found.beyond
        else:
            left_s, beyond = exposure.planned_s - open_s, False
            parts = (Part(open_s, open_s / exposure.planned_s),)
        closes_at = opening.closed_at or now + timedelta(seconds=left_s + hand_left_s)
        return cls(exposure, done, open_s, left_s, state, closes_at, parts, beyond, hand_left_s)

    @property
    def total_s(self):
        """How long the hole will have been free when there is enough."""
        return self.open_s + self.left_s

    @property
    def digits(self):
        """What the clock shows until a script counts: 1:12, or +0:05 past the time."""
        left_s = self.hand_left_s or self.left_s
        whole = int(abs(left_s) + (0.999 if left_s > 0 else 0))
        hours, rest = divmod(whole, 3600)
        minutes, seconds = divmod(rest, 60)
        words = f"{hours}:{minutes:02d}:{seconds:02d}" if hours else f"{minutes}:{seconds:02d}"
        return words if left_s > 0 else f"+{words}"

    @property
    def bar(self):
        """What each part gave, as (from, width) on a bar of 1000; past enough it is full."""
        found, at = [], 0.0
        for part in self.parts:
            end = min(1000.0, at + 1000 * part.share)
            found.append((round(at), max(0, round(end - at) - (2 if end < 1000 and part is not self.parts[-1] else 0))))
            at = end
        return found or [(0, 0)]

    @property
    def moves(self):
        """What each second reading did, in words."""
        opened = self.exposure.opening.opened_at
        for reread in self.exposure.rereads.all():
            after = durations.say(max(1.0, (reread.at - opened).total_seconds()))
            light = "as expected" if abs(reread.stops) < 0.05 else scales.size_of_stops(reread.stops)
            took = light if light == "as expected" else f"{light} {'more' if reread.stops > 0 else 'less'} light"
            moved = (
                ""
                if abs(reread.moved_s) < LEAST_MOVE_S
                else (f", {'adds' if reread.moved_s > 0 else 'takes away'} {durations.say(abs(reread.moved_s))}")
            )
            yield f"read again after {after}: {took}{moved}"

    @property
    def tiles(self):
        return the_sum.tiles(
            self.done, the_sum.Links(camera_words=self.exposure.camera.name, reading_url="", scene_url="")
        )

    @property
    def given_words(self):
        """What the light really given was worth."""
        worth = self.exposure.worth_s if self.exposure.worth_s is not None else self.open_s
        return the_sum.given_words(self.done, max(worth, 0.01))
