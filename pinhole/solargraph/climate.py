"""Bright and dull days: a small simulated climate, and days of sunshine as they were measured.

The simulation is invented arithmetic in the likeness of a climate, for seeing what a broken sky
does to a picture; it forecasts nothing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from pinhole.ranges import Array, checked


@dataclass(frozen=True)
class Climate:
    """code, words; bright: share of bright days at the solstices (winter, summer); lasting: days a
    spell goes on.
    """

    code: str
    words: str
    bright: tuple[float, float]
    lasting: float


# Shares of bright days by feel, common practice; editable by handing in measured sunshine instead.
CLIMATES = (
    Climate("clear", "clear every day", (1.0, 1.0), 1.0),
    Climate("coast", "cool coast", (0.3, 0.55), 2.5),
    Climate("inland", "inland, cold winters", (0.4, 0.6), 3.5),
    Climate("dry", "dry country", (0.7, 0.9), 6.0),
    Climate("rainy", "rainy most of the year", (0.2, 0.35), 2.0),
)


def sunshine(climate: Climate, latitude_deg: float, days: Array, seed: int = 1) -> Array:
    """The share of each day in which the sun shines, 0 to 1, shape (n,).

    climate: a Climate; latitude_deg [-90 to 90] for the side of the year; days: datetime64[D],
    shape (n,), in order; seed: another one is another year. Raises ValueError outside.
    Source: a two-state chain of bright and dull days with beta-distributed shares, invented.
    """
    south = float(checked("latitude_deg", latitude_deg, least=-90, most=90)) < 0
    if climate.bright == (1.0, 1.0):
        return np.ones(len(days))
    chance = np.random.default_rng(seed)
    of_year = (days - days.astype("datetime64[Y]").astype("datetime64[D]")).astype(int)
    summer = 0.5 - 0.5 * np.cos(2 * np.pi * (of_year + 10) / 365.25)
    summer = 1 - summer if south else summer
    bright_share = climate.bright[0] + (climate.bright[1] - climate.bright[0]) * summer
    stays, draws = np.exp(-1 / climate.lasting), chance.random((len(days), 2))
    bright, bright_days = False, np.empty(len(days), bool)
    for n, (keep, draw) in enumerate(draws):
        bright = bright if n and keep < stays else bool(draw < bright_share[n])
        bright_days[n] = bright
    return np.where(bright_days, chance.beta(5, 1.5, len(days)), chance.beta(0.8, 6, len(days)))


def shining(shares: Array, samples: int, seed: int = 1) -> Array:
    """True for samples of each day in which the sun shines, bool (n, samples): clouds come and go
    in spells.

    shares: as sunshine() gives them, (n,); samples: how many a day. Source: smoothed noise, ranked
    within its day.
    """
    chance = np.random.default_rng(seed + 1)
    noise = chance.normal(size=(len(shares), samples))
    spell = max(1, samples // 40)
    smooth = np.cumsum(np.pad(noise, ((0, 0), (spell, 0))), axis=1)
    smooth = smooth[:, spell:] - smooth[:, :-spell]
    rank = np.argsort(np.argsort(smooth, axis=1), axis=1) / max(1, samples - 1)
    return rank <= np.asarray(shares)[:, None] - 1e-9


def read_csv(rows: Sequence[list[str]], days: Array, day_hours: Array) -> Array:
    """Measured sunshine as shares of each of the days, (n,); days that are not in it count as dull.
    Where none of the days is in it, each takes the mean of the same day of other years, as their
    likeness.

    rows: iterable of (ISO date, hours of sun) as text, a first row of words passed over; days:
    datetime64[D], (n,); day_hours: how long the sun was up on each, (n,). Raises ValueError that
    names the row for anything else.
    """
    measured = {}
    for number, row in enumerate(rows, 1):
        if number > 20_000:
            raise ValueError("more than 20 000 rows: a day each is enough")
        cells = [cell.strip() for cell in row if cell.strip()]
        if not cells:
            continue
        try:
            when, hours = (
                np.datetime64(date.fromisoformat(cells[0]), "D"),
                float(cells[1].replace(",", ".")),
            )
        except (ValueError, IndexError) as error:
            if number == 1:
                continue
            raise ValueError(
                f"row {number} is not a date and hours of sun: {' '.join(cells)[:40]}"
            ) from error
        if not 0 <= hours <= 24:
            raise ValueError(f"row {number}: hours of sun lie between 0 and 24")
        measured[when] = hours
    shone = [measured.get(day) for day in days]
    if all(hour is None for hour in shone):
        shone = _of_other_years(measured, days)
    if all(hour is None for hour in shone):
        raise ValueError(
            "none of its days lies between first and last day, in this year or another"
        )
    return np.array(
        [
            min(1.0, hour / length) if hour is not None and length else 0.0
            for hour, length in zip(shone, day_hours, strict=True)
        ]
    )


def _of_other_years(measured: dict[Any, Any], days: Array) -> list[float | None]:
    """The mean hours of the same day of other years for each of the days, None without any."""
    same: dict[str, list[float]] = {}
    for day, hours in measured.items():
        same.setdefault(str(day)[5:], []).append(hours)
    means = {day: float(np.mean(hours)) for day, hours in same.items()}
    return [means.get(str(day)[5:]) for day in days]
