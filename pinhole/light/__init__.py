"""Light: its levels, its course through a day, dusk, and how far it has filled a sheet."""

from pinhole.light.courses import Closing, Course, closing, closing_time_s, course
from pinhole.light.levels import (
    HEIGHTS,
    SKIES,
    Height,
    Sky,
    by_eye,
    clear_lux,
    daylight_ev100,
    ev100_at_iso,
    ev100_from_lux,
    lux_from_ev100,
    metered_s,
)

__all__ = [
    "HEIGHTS",
    "SKIES",
    "Closing",
    "Course",
    "Height",
    "Sky",
    "by_eye",
    "clear_lux",
    "closing",
    "closing_time_s",
    "course",
    "daylight_ev100",
    "ev100_at_iso",
    "ev100_from_lux",
    "lux_from_ev100",
    "metered_s",
]
