"""Light: its levels, its course through a day, dusk, and how far it has filled a sheet."""

from pinhole.light.colour import LEAST_COLOUR_STOPS, blue_stops
from pinhole.light.courses import Closing, Course, closing, closing_time_s, course
from pinhole.light.levels import (
    clear_lux,
    ev100_at_iso,
    ev100_from_lux,
    lux_from_ev100,
    metered_s,
)
from pinhole.light.skies import (
    CLOUD_SHARE_SD_STOPS,
    HEIGHT_BY_NAME,
    HEIGHTS,
    SHADOWS_STOPS,
    SKIES,
    SKY_BY_NAME,
    Height,
    Sky,
    by_eye,
    cloud_share_stops,
)
from pinhole.light.subject import (
    NO_SHADOWS_STOPS,
    SCENE_SD_STOPS,
    SUBJECT_SD_STOPS,
    cloud_stops,
    scene_ev100,
    subject_ev100,
)

__all__ = [
    "CLOUD_SHARE_SD_STOPS",
    "HEIGHTS",
    "HEIGHT_BY_NAME",
    "LEAST_COLOUR_STOPS",
    "NO_SHADOWS_STOPS",
    "SCENE_SD_STOPS",
    "SHADOWS_STOPS",
    "SKIES",
    "SKY_BY_NAME",
    "SUBJECT_SD_STOPS",
    "Closing",
    "Course",
    "Height",
    "Sky",
    "blue_stops",
    "by_eye",
    "clear_lux",
    "closing",
    "closing_time_s",
    "cloud_share_stops",
    "cloud_stops",
    "course",
    "ev100_at_iso",
    "ev100_from_lux",
    "lux_from_ev100",
    "metered_s",
    "scene_ev100",
    "subject_ev100",
]
