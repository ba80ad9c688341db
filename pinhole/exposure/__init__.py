"""Exposure: readings of the light, the calculation of a time, brackets, speeds, and calculations
kept as data.
"""

from pinhole.exposure.calculation import (
    BRACKET_STOPS,
    EI_SD_STOPS,
    FILTER_SD_STOPS,
    HOLE_SD_SHARE,
    LONGEST_S,
    Calculation,
    Factor,
    Specification,
    calculate,
    effect_stops,
    flash_left_stops,
    recalculate,
    schools_beside,
    stops_more_than_box,
)
from pinhole.exposure.kept import from_data, specification_from_data, specification_to_data, to_data
from pinhole.exposure.preflash import STRENGTHS, flash_s, lift_stops
from pinhole.exposure.readings import METER_SD_STOPS, Reading, read_ev, read_lux, read_sky, seen_as
from pinhole.exposure.speeds import SPEEDS, equivalent_s, meter_setting, nearest_speed

__all__ = [
    "BRACKET_STOPS",
    "EI_SD_STOPS",
    "FILTER_SD_STOPS",
    "HOLE_SD_SHARE",
    "LONGEST_S",
    "METER_SD_STOPS",
    "SPEEDS",
    "STRENGTHS",
    "Calculation",
    "Factor",
    "Reading",
    "Specification",
    "calculate",
    "effect_stops",
    "equivalent_s",
    "flash_left_stops",
    "flash_s",
    "from_data",
    "lift_stops",
    "meter_setting",
    "nearest_speed",
    "read_ev",
    "read_lux",
    "read_sky",
    "recalculate",
    "schools_beside",
    "seen_as",
    "specification_from_data",
    "specification_to_data",
    "stops_more_than_box",
    "to_data",
]
