"""Movement before a pinhole: where it stands against the phone, and what moves while it is open."""

from dataclasses import dataclass
from math import hypot

import numpy as np

from pinhole import scene

ABOVE, BELOW, PEOPLE = "above", "below", "people"
STAND_FIELDS = ("right_cm", "lower_cm", "nearer_cm", "away_m")


def stand(right_cm, lower_cm, nearer_cm, away_m):
    """The craft's Standpoint of a pinhole against a phone, None or nothing where it is not said;
    the same place where that cannot be.
    """
    apart = [(length_cm or 0.0) / 100 for length_cm in (right_cm, lower_cm, nearer_cm)]
    if away_m is None or away_m <= hypot(*apart):
        return scene.SAME_STAND
    return scene.Standpoint(apart[0], -apart[1], apart[2], away_m)


@dataclass(frozen=True)
class Moving:
    """Part of the scene that moves. part: ABOVE or BELOW a line that lies so far down the
    photo, or PEOPLE in a frame, (left, top, right, bottom) as shares of the photo, who stay for
    that share of the planned time.
    """

    part: str
    line: float
    frame: tuple
    share: float

    def washed(self, down):
        """True where all moves, or None; down: shares of the photo from its top."""
        if self.part not in (ABOVE, BELOW):
            return None
        return np.nan_to_num(down, nan=-1.0) < self.line if self.part == ABOVE else down > self.line

    def passing(self, across, down, stops):
        """(True where people stand, share of the time that they do), or None."""
        if self.part != PEOPLE:
            return None
        left, top, right, bottom = self.frame
        inside = (across > left) & (across < right) & (down > top) & (down < bottom)
        return inside, min(1.0, self.share / 2.0**stops)
