"""A phone as a meter: how sure it is, and what readings beside a meter teach of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pinhole.ranges import checked

# Tone curves and what a phone does to parts of a picture: how far its reading may be off until it
# is known, and how far pairs of readings differ among themselves (common practice) [stops].
PHONE_SD_STOPS, PAIR_SD_STOPS = 0.65, 0.3
# A night picture is put together of many.
NIGHT_SD_STOPS = 1.0


@dataclass(frozen=True)
class Phone:
    """stops: by which a meter reads more than its photos; sd_stops: of a reading put right by that;
    pairs: how many it was learned from.
    """

    stops: float
    sd_stops: float
    pairs: int


def learned(differences: Sequence[float]) -> Phone:
    """The Phone of what a meter read more than its photos of the same spots [stops].

    Raises ValueError for what is no number. Source: closed-form normal posterior, prior 0 with
    PHONE_SD_STOPS, pairs PAIR_SD_STOPS apart.
    """
    values = np.asarray([float(checked("differences", value)) for value in differences])
    weight = 1 / PHONE_SD_STOPS**2 + values.size / PAIR_SD_STOPS**2
    mean = values.sum() / PAIR_SD_STOPS**2 / weight
    return Phone(float(mean), float(np.hypot(weight**-0.5, PAIR_SD_STOPS)), values.size)
