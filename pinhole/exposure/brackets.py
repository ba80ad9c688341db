"""Brackets and test strips: several times for one scene, told in stops of effect and of the clock.

Once reciprocity is in play a doubling of the clock is not one stop: effect goes through the school,
the clock does not.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from pinhole.exposure.calculation import effect_stops, recalculate
from pinhole.ranges import Array, checked

if TYPE_CHECKING:
    from pinhole.exposure.calculation import Calculation
    from pinhole.projection.back import Back


def bracket(
    calculation: Calculation, stops: Iterable[float], *, on_clock: bool = False
) -> tuple[Calculation, ...]:
    """A Calculation for each number of stops more than the one given.

    stops: iterable [stops], of effect: the metered time is doubled, then corrected; on_clock: of
    the clock instead: the corrected time is doubled. Source: the school of the Calculation.
    """
    return tuple(_off(calculation, float(stop), on_clock=on_clock) for stop in stops)


def _off(calculation: Calculation, stop: float, *, on_clock: bool) -> Calculation:
    if stop == 0:
        return calculation
    clock_effect = effect_stops(calculation, calculation.exact_s * 2.0**stop) if on_clock else stop
    return recalculate(calculation, trial_stops=clock_effect)


@dataclass(frozen=True)
class Band:
    """One band of a test strip. pull_s: when on the clock the slide covers it; effect_stops against
    the Calculation; middle_mm: its middle across the sheet, from the sheet's own; fall_off_stops:
    light it lacks by its place.
    """

    pull_s: float
    effect_stops: float
    middle_mm: float
    fall_off_stops: float

    @property
    def corrected_stops(self) -> float:
        """Stops that it received against the Calculation, its place counted."""
        return self.effect_stops - self.fall_off_stops


def centred_stops(count: int, step_stops: float) -> Array:
    """Offsets of that many bands or sheets, step_stops apart, about 0; shape (count,)."""
    return step_stops * (np.arange(count) - (count - 1) / 2)


def alike(bands: Sequence[Band], step_stops: float) -> tuple[tuple[int, int], ...]:
    """Pairs of neighbouring Bands, by their number from 1, whose places give them so much or so
    little light that they differ by less than half of step_stops.
    """
    half_step = float(checked("step_stops", step_stops, above=0)) / 2
    pairs = enumerate(pairwise(bands), 1)
    return tuple(
        (number, number + 1)
        for number, (band, next_one) in pairs
        if next_one.corrected_stops - band.corrected_stops < half_step
    )


def test_strip(
    calculation: Calculation,
    back: Back,
    *,
    bands: float = 5,
    step_stops: float = 0.5,
    from_stops: float | None = None,
) -> tuple[Band, ...]:
    """The Bands of one sheet that the dark slide covers step by step along its width, least light
    first.

    calculation: a Calculation; back: a projection back, whose visible width is cut into bands [2 to
    12] of step_stops of effect [above 0]; from_stops: of the first band, centred on the Calculation
    if None. The hole is covered at each move, so the clock counts only while it is free. Pull times
    are countable and grow.
    Raises ValueError outside, and where two pulls would fall on the same count.
    Source: bracket for each band; the back's own fall-off at the band's middle.
    """
    count = int(checked("bands", bands, least=2, most=12))
    step = float(checked("step_stops", step_stops, above=0))
    offsets = centred_stops(count, step)
    if from_stops is not None:
        offsets = float(checked("from_stops", from_stops)) + step * np.arange(count)
    times = bracket(calculation, offsets)
    if any(b.seconds <= a.seconds for a, b in pairwise(times)):
        raise ValueError("step_stops must be wide enough that each pull has a count of its own")
    half, _ = back.half_mm
    middles = half * (2 * (np.arange(count) + 0.5) / count - 1)
    lost = np.atleast_1d(back.fall_off_stops(middles, 0.0))
    return tuple(
        Band(time.seconds, effect_stops(calculation, time.seconds), float(x), float(less))
        for time, x, less in zip(times, middles, lost, strict=True)
    )


@dataclass(frozen=True)
class Scene:
    """Several readings of one scene. range_stops: brightest over darkest; fits: whether the paper
    holds it; lost_stops: what does not fit; rate_stops: given on purpose against the middle so that
    the chosen end is held.
    """

    range_stops: float
    fits: bool
    lost_stops: float
    rate_stops: float


def scene(ev100s: Sequence[float], paper_range_stops: float, hold: str) -> Scene:
    """The Scene of several readings.

    ev100s: at least one, shape (n,); paper_range_stops [stops, above 0]; hold: "middle",
    "highlights" or "shadows". rate_stops is what to give beyond an exposure for the mean of darkest
    and brightest: holding the highlights takes away half of what does not fit, holding the shadows
    adds it. Raises ValueError outside.
    Source: geometry of two ranges laid over each other; that the middle is the mean is common
    practice.
    """
    values = np.atleast_1d(checked("ev100s", ev100s))
    held = float(checked("paper_range_stops", paper_range_stops, above=0))
    if hold not in ("middle", "highlights", "shadows") or not values.size or np.isnan(values).any():
        raise ValueError("hold must be middle, highlights or shadows, of at least one reading")
    spread = float(values.max() - values.min())
    lost = max(0.0, spread - held)
    return Scene(
        spread, lost == 0, lost, {"middle": 0.0, "highlights": -lost / 2, "shadows": lost / 2}[hold]
    )
