"""One axis of a drawing: from what is drawn to where it lies, and back."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Axis:
    """Values low to high lie evenly from start to end, in the units of the drawing; end may be the
    smaller one. What lies outside is drawn outside.
    """

    low: float
    high: float
    start: float
    end: float

    def __call__(self, value):
        share = (np.asarray(value, float) - self.low) / (self.high - self.low)
        place = self.start + share * (self.end - self.start)
        return float(place) if np.ndim(place) == 0 else place

    def inside(self, value):
        """Place of a value, or the end of the axis that it lies beyond."""
        return self(np.clip(value, self.low, self.high))

    def value(self, place):
        """The inverse."""
        return self.low + (place - self.start) / (self.end - self.start) * (self.high - self.low)
