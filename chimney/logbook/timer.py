"""A running or finished exposure as a page shows it, computed from the log alone."""

from dataclasses import dataclass
from datetime import timedelta

from chimney.logbook.models import Exposure
from chimney.parts import sum as the_sum
from pinhole.exposure import Sum


@dataclass(frozen=True)
class Timer:
    """open_s: how long the hole has been free; left_s: until the planned time, negative after it."""

    exposure: Exposure
    done: Sum
    open_s: float
    state: str
    closes_at: object

    @classmethod
    def of(cls, exposure, now):
        opening = exposure.opening
        open_s = opening.open_s(now)
        state = "closed" if opening.closed_at else "covered" if opening.covered else "open"
        closes_at = opening.closed_at or now + timedelta(seconds=exposure.planned_s - open_s)
        return cls(exposure, exposure.done, open_s, state, closes_at)

    @property
    def left_s(self):
        return self.exposure.planned_s - self.open_s

    @property
    def digits(self):
        """What the clock shows until a script counts: 1:12, or +0:05 past the time."""
        whole = int(abs(self.left_s) + (0.999 if self.left_s > 0 else 0))
        hours, rest = divmod(whole, 3600)
        minutes, seconds = divmod(rest, 60)
        words = f"{hours}:{minutes:02d}:{seconds:02d}" if hours else f"{minutes}:{seconds:02d}"
        return words if self.left_s > 0 else f"+{words}"

    @property
    def bar(self):
        """How far the bar of 1000 is filled; past the planned time it is full."""
        return min(1000, round(1000 * self.open_s / self.exposure.planned_s))

    @property
    def tiles(self):
        return the_sum.tiles(
            self.done, the_sum.Links(camera_words=self.exposure.camera.name, reading_url="", scene_url="")
        )

    @property
    def given_words(self):
        return the_sum.given_words(self.done, max(self.open_s, 0.01))
