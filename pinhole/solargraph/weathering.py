"""Harm that weather does to paper in a can, by place and season.

A likeness of the seasons, good for asking which harm comes when, and no forecast: usual
temperatures of a latitude, its side of the equator, the sea and the height.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.ranges import Array, checked

# Usual temperature of the year at latitudes either side of the equator, and how far summer and
# winter lie from it inland [degrees Celsius] (zonal means as in textbooks of climatology, from
# memory).
LATITUDES = (0, 10, 20, 30, 40, 50, 60, 70, 80, 90)
YEAR_C = (26, 26, 25, 20, 14, 6, -1, -10, -16, -20)
SEASON_C = (1, 2, 5, 8, 11, 14, 17, 17, 17, 17)
# The sea takes half of a season away and warms a cold year; the air cools as it rises.
AT_SEA, WARMED_C, COOLS_C_PER_M = 0.5, 6.0, 0.0065
# A year is warmest so many days after its longest day (common practice).
LATE_DAYS = 28
# Dew comes between these; a closed tin in the sun gets hot from this on; mould needs warmth, for so
# long (common practice).
DEW_C, HOT_C, MOULD_C, MOULD_DAYS = (1.0, 16.0), 20.0, 8.0, 60
# Harm of fewer days is not worth a word; emulsion lasted so long elsewhere (common practice).
FEWEST_DAYS, EMULSION_DAYS = 10, 366


@dataclass(frozen=True)
class Harm:
    """code: "frost", "heat", "dew" or "mould"; days: on how many of the span it may come."""

    code: str
    days: int


def usual_c(latitude_deg: float, elevation_m: float, days: Array, *, at_sea: bool) -> Array:
    """Usual temperature of each day [degrees Celsius], (n,).

    latitude_deg [-90 to 90]; elevation_m [m, -500 to 9000]; days: datetime64[D], (n,); at_sea:
    whether the sea is near. Raises ValueError outside. Source: zonal means and a sine of the year.
    """
    latitude = float(checked("latitude_deg", latitude_deg, least=-90, most=90))
    height_m = float(checked("elevation_m", elevation_m, least=-500, most=9000))
    year = np.interp(abs(latitude), LATITUDES, YEAR_C)
    season = np.interp(abs(latitude), LATITUDES, SEASON_C)
    if at_sea:
        year, season = year + WARMED_C * min(1.0, abs(latitude) / 50), season * AT_SEA
    of_year = (days - days.astype("datetime64[Y]").astype("datetime64[D]")).astype(int)
    turn = 2 * np.pi * (of_year + 10 - LATE_DAYS) / 365.25
    warmth = -np.cos(turn) if latitude >= 0 else np.cos(turn)
    return np.asarray(year + season * warmth - COOLS_C_PER_M * height_m)


def harms(latitude_deg: float, elevation_m: float, days: Array, climate_code: str) -> list[Harm]:
    """[Harm] that may come to paper in a can on those days, the longest first.

    climate_code: of a climate.Climate; other arguments and errors as usual_c(). Source: common
    practice.
    """
    at_sea = climate_code in ("coast", "rainy")
    usual = usual_c(latitude_deg, elevation_m, days, at_sea=at_sea)
    is_damp = climate_code != "dry"
    dew = is_damp & (usual > DEW_C[0]) & (usual < DEW_C[1])
    mould = is_damp & (usual > MOULD_C)
    # It needs weeks to begin.
    grown = int(mould.sum()) - MOULD_DAYS
    counts = {
        "frost": int((usual < 0).sum()),
        "heat": int((usual > HOT_C).sum()),
        "dew": int(dew.sum()),
        "mould": grown,
    }
    some = [Harm(code, count) for code, count in counts.items() if count >= FEWEST_DAYS]
    return sorted(some, key=lambda harm: -harm.days)
