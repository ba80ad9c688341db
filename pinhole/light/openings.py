"""Openings at every moment of a stretch of days: how long the hole stays open until the sheet is
full, in light that changes meanwhile.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from pinhole.light.courses import LEAST_RATE, log_areas
from pinhole.light.dusk import DARK_DEG
from pinhole.ranges import Array, checked

if TYPE_CHECKING:
    from pinhole.reciprocity.school import School


@dataclass(frozen=True)
class Openings:
    """times_s: moments of opening; open_s: how long from each, inf where dusk comes first, nan in
    the dark; short_stops: how much would lack at dusk, 0 where it gets full, nan in the dark;
    spare_stops: how much more than a sheet there is until dusk, below 0 where that lacks; all (n,).
    """

    times_s: Array
    open_s: Array
    short_stops: Array
    spare_stops: Array


def openings(times_s: Array, metered_s: Array, altitude_deg: Array, school: School) -> Openings:
    """The Openings at each of times_s.

    times_s [s, strictly increasing]; metered_s [s, above 0]: by the light of each, straight in
    stops between; altitude_deg: of the sun, straight between, which is dark below DARK_DEG; all
    (n,), n at least 2; school: one of pinhole.reciprocity. Raises ValueError outside. Source: as
    light.course and dusk.prospect, all at once.
    """
    times = checked("times_s", np.asarray(times_s, float))
    metered = checked("metered_s", np.asarray(metered_s, float), above=0)
    height = checked("altitude_deg", np.asarray(altitude_deg, float), least=-90, most=90)
    if times.ndim != 1 or times.size < 2 or not times.shape == metered.shape == height.shape:
        raise ValueError("times_s, metered_s and altitude_deg must be of one length, at least 2")
    if not (np.diff(times) > 0).all():
        raise ValueError("times_s must be strictly increasing")
    logs = np.log(np.maximum(1 / np.asarray(school.adjusted_s(metered)), LEAST_RATE))
    sums = np.concatenate([[0.0], np.cumsum(log_areas(np.diff(times), logs))])
    dark_s = _dark_from(times, height)
    is_dark = height < DARK_DEG
    due_s = _reached(times, logs, sums, sums + 1)
    is_full = due_s <= dark_s
    share = np.maximum(_filled(times, logs, sums, dark_s) - sums, 2.0**-1000)
    open_s = np.where(is_full, due_s - times, np.inf)
    short = np.where(is_full, 0.0, -np.log2(np.minimum(share, 1.0)))
    columns = (open_s, short, np.log2(share))
    return Openings(times, *(np.where(is_dark, np.nan, column) for column in columns))


def _dark_from(times: Array, height: Array) -> Array:
    """The next moment at which it gets dark, for each of the times; inf where it does not."""
    sinks = np.flatnonzero((height[:-1] >= DARK_DEG) & (height[1:] < DARK_DEG))
    a, b = height[sinks], height[sinks + 1]
    moments = times[sinks] + (a - DARK_DEG) / (a - b) * (times[sinks + 1] - times[sinks])
    return np.append(moments, np.inf)[np.searchsorted(moments, times)]


def _filled(times: Array, logs: Array, sums: Array, moments: Array) -> Array:
    """Sheets that light has filled until each of the moments, from times[0] on."""
    inside = np.clip(moments, times[0], times[-1])
    piece = np.clip(np.searchsorted(times, inside, side="right") - 1, 0, times.size - 2)
    slope = (logs[piece + 1] - logs[piece]) / (times[piece + 1] - times[piece])
    lasts = inside - times[piece]
    bend = slope * lasts
    small = np.abs(bend) < 1e-9
    grown = np.where(small, 1 + bend / 2, np.expm1(bend) / np.where(small, 1, bend))
    return np.asarray(sums[piece] + lasts * np.exp(logs[piece]) * grown)


def _reached(times: Array, logs: Array, sums: Array, wanted: Array) -> Array:
    """The moment at which light has filled so many sheets; inf past the last of the times."""
    piece = np.clip(np.searchsorted(sums, wanted) - 1, 0, times.size - 2)
    slope = (logs[piece + 1] - logs[piece]) / (times[piece + 1] - times[piece])
    steady = (wanted - sums[piece]) / np.exp(logs[piece])
    bend = slope * steady
    small = np.abs(bend) < 1e-9
    with np.errstate(invalid="ignore", divide="ignore"):
        grown = np.where(small, 1 - bend / 2, np.log1p(bend) / np.where(small, 1, bend))
    return np.where(wanted > sums[-1], np.inf, times[piece] + steady * grown)
