"""Marks on the paper of a can, and what each asks of how it stood: its place in the sky against the
sun's trail of a day, the level horizon, or a known point of the skyline.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import TYPE_CHECKING, Any

import numpy as np

from pinhole import sun
from pinhole.projection.pointing import axes_of
from pinhole.ranges import Array, checked

if TYPE_CHECKING:
    from pinhole.projection.back import Back

NUDGE_MM = 0.05
# Minutes between two places of a day's trail.
TABLE_MIN = 10
# Days of a can are asked for again and again.
KEPT_TABLES = 128


@dataclass(frozen=True)
class MarkedScene:
    """Constants while the pointing is looked for: rays, what the marks ask, as unit vectors in the
    camera, with two nudged neighbours each, (3, 3, m); against what each is held: the sun's
    declination by hour angle on a day, a bearing, or a height; rows: which of these each mark asks;
    paper_sd: how far the paper may lie off [mm].
    """

    latitude: float
    rays: Array
    tables: tuple[Any, ...]
    bearings_deg: Array
    heights_deg: Array
    rows: tuple[list[int], ...]
    paper_sd: float


def marked_scene(
    marks: Sequence[tuple[float, float, date | None]],
    latitude_deg: float,
    longitude_deg: float,
    back: Back,
    utc_offset_h: float,
    paper_sd: float,
) -> MarkedScene:
    """The MarkedScene of marks; arguments and errors as fitting.fit_pointing."""
    latitude = float(checked("latitude_deg", latitude_deg, least=-90, most=90))
    offset = float(checked("utc_offset_h", utc_offset_h, least=-14, most=14))
    rays: list[tuple[Any, ...]] = []
    rows: list[list[int]] = []
    for x, y, on in marks:
        directions_marked = _ways(on)
        rows.append(list(range(len(rays), len(rays) + len(directions_marked))))
        rays += [(float(x), float(y), *direction) for direction in directions_marked]
    places = np.array([(x, y) for x, y, *_ in rays])
    _, _, days, *held = zip(*rays, strict=True)
    bearings, heights = (np.array(column, float) for column in held)
    if not np.isfinite(places).all() or not np.isfinite(heights).all():
        raise ValueError("marks must be finite")
    nudged = places[None] + NUDGE_MM * np.array([[0, 0], [1, 0], [0, 1]])[:, None, :]
    right, up = (np.radians(angle) for angle in back.sight(nudged[..., 0], nudged[..., 1]))
    seen = np.stack([np.cos(up) * np.sin(right), np.sin(up), np.cos(up) * np.cos(right)])
    known = {day: _table(latitude, longitude_deg, day, offset) for day in set(days) if day}
    tables = tuple(known.get(day) for day in days)
    held_against = tables, bearings, heights, tuple(rows)
    return MarkedScene(np.radians(latitude), seen, *held_against, paper_sd)


def _ways(on: date | None) -> list[tuple[date | None, float, float]]:
    """(day, bearing, height) of each way in which a mark is held against the sky."""
    if not isinstance(on, tuple):
        return [(on, np.nan, 0.0)]
    bearing, height = on
    if not np.isfinite(bearing):
        raise ValueError("marks must be finite")
    return [(None, np.nan, height), (None, bearing, height)]


@lru_cache(maxsize=KEPT_TABLES)
def _table(
    latitude_deg: float, longitude_deg: float, day: date, offset_h: float
) -> tuple[Array, Array]:
    """(hour angles, declinations) of the sun through a day, by hour angle, over all of the circle
    [radians].
    """
    start = np.datetime64(day, "s") - np.timedelta64(round(offset_h * 3600), "s")
    moments = start + np.arange(0, 1440 + TABLE_MIN, TABLE_MIN) * np.timedelta64(60, "s")
    azimuth, altitude = sun.position(moments, latitude_deg, longitude_deg)
    declination, hour = _equatorial(np.radians(latitude_deg), azimuth, altitude)
    order = np.argsort(hour)
    # Once more beyond either end, so that each hour lies between two.
    order = np.concatenate((order[-1:], order, order[:1]))
    turns = np.zeros(len(order))
    turns[0], turns[-1] = -2 * np.pi, 2 * np.pi
    return hour[order] + turns, declination[order]


def _equatorial(latitude: float, azimuth_deg: Array, altitude_deg: Array) -> tuple[Array, Array]:
    """(declination, hour angle) of directions in the sky [radians]."""
    azimuth, altitude = np.radians(azimuth_deg), np.radians(altitude_deg)
    sine = np.sin(latitude) * np.sin(altitude)
    sine = sine + np.cos(latitude) * np.cos(altitude) * np.cos(azimuth)
    declination = np.arcsin(np.clip(sine, -1, 1))
    west = -np.sin(azimuth) * np.cos(altitude)
    south = np.sin(altitude) * np.cos(latitude) - np.cos(altitude) * np.cos(azimuth) * np.sin(
        latitude
    )
    return declination, np.arctan2(west, south)


def _true_altitude(apparent_deg: Array) -> Array:
    """The altitude without refraction [degrees]; what lies below the horizon is left as it is."""
    true = apparent_deg
    for _ in range(3):
        true = apparent_deg - sun.lift_deg(np.clip(true, -1.0, 90.0))
    return np.where(apparent_deg > -1.0, true, apparent_deg)


def residuals_of(scene: MarkedScene, states: Array) -> tuple[Array, Array]:
    """(distance of each mark from what it is held against, square to it [mm], shape (k, m), how
    that goes with the paper along and across [mm a mm], (k, 2, m)).

    states: azimuth, lean and roll [degrees], (k, 3). Source: see fitting.
    """
    leans = np.clip(states[:, 1], -90, 90)
    axes = axes_of(np.stack([states[:, 0], leans, states[:, 2]]))
    east, north, above = np.einsum("ack,anm->cknm", axes, scene.rays)
    azimuth = np.degrees(np.arctan2(east, north)) % 360
    altitude = np.degrees(np.arctan2(above, np.hypot(east, north)))
    off_rad = np.radians(altitude - scene.heights_deg)
    turned = (azimuth - scene.bearings_deg + 180) % 360 - 180
    beside = np.radians(turned) * np.cos(np.radians(altitude))
    off_rad = np.where(np.isnan(scene.bearings_deg), off_rad, beside)
    declination, hour = _equatorial(scene.latitude, azimuth, _true_altitude(altitude))
    for number, table in enumerate(scene.tables):
        if table is not None:
            wanted = np.interp(hour[..., number], *table)
            off_rad[..., number] = declination[..., number] - wanted
    gains = (off_rad[:, 1:] - off_rad[:, :1]) / NUDGE_MM
    slope = np.maximum(np.hypot(gains[:, 0], gains[:, 1]), 1e-9)
    return off_rad[:, 0] / slope, gains / slope[:, None]
