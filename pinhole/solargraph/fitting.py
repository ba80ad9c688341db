"""Fit of how a can really stood: direction, lean and roll from marks on its trails and its horizon.

A mark on the paper is sent back through the hole into the sky. Where it should lie on the sun's
trail of a day, its declination is held against the sun's at that hour angle; where on the level
horizon, its altitude against none. Neither asks at what hour the sun was there. A point of the
skyline whose direction is known is held against both of its angles.

    mark (x, y) --back.sight--> direction in the camera --Pointing.sky--> (azimuth, altitude)
       --refraction taken off--> declination, hour angle  <->  the sun of that day
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, Any

import numpy as np

from pinhole import sun
from pinhole.projection import Pointing
from pinhole.ranges import Array, checked

if TYPE_CHECKING:
    from pinhole.projection.back import Back


LEAST_MARKS = 4
# Marks further off than this count less and less, and hands mark no finer than that (common
# practice) [mm].
LOOSE_MM, FINEST_MM = 1.5, 0.25
# Far from the answer nothing is wrong yet: looser first.
LOOSER_MM = (30.0, 6.0, LOOSE_MM)
# No answer that is less sure than this is one [degrees].
MOST_SD_DEG = 30.0
FITTING_STEPS, NUDGE_DEG, NUDGE_MM = 25, 0.01, 0.05
# Turns and leans from how it was meant to stand.
STARTS_DEG = ((0.0, 0.0), (50.0, 15.0), (-50.0, 15.0), (110.0, 0.0), (-110.0, 0.0), (180.0, 15.0))
TABLE_MIN = 10


@dataclass(frozen=True)
class Fit:
    """azimuth_deg, tilt_deg, roll_deg: how it stood; *_sd: how sure [degrees]; residuals_mm: how
    far each mark lies from where it should, square to its trail, shape (n,).
    """

    azimuth_deg: float
    tilt_deg: float
    roll_deg: float
    azimuth_sd: float
    tilt_sd: float
    roll_sd: float
    residuals_mm: Array

    @property
    def pointing(self) -> Pointing:
        """The same as a Pointing."""
        return Pointing(self.azimuth_deg, self.tilt_deg, self.roll_deg)


def fit_pointing(
    latitude_deg: float,
    longitude_deg: float,
    back: Back,
    marks: Sequence[tuple[float, float, date | None]],
    *,
    utc_offset_h: float,
    start: Pointing = Pointing(180),  # noqa: B008
) -> Fit:
    """The Fit of a can to marks on its paper.

    latitude_deg, longitude_deg as sun.position; back: of pinhole.projection; marks: at least 4 of
    (x_mm, y_mm, on): on a datetime.date whose trail the mark lies on, somewhere, None on the level
    horizon, or (azimuth_deg, altitude_deg) of a known point of the skyline; utc_offset_h [-14 to
    14]: of the clock whose days these are; start: how it was meant to stand, from where all ways
    round are tried as well. Marks that agree with no others are weighted down. Raises ValueError
    outside, for fewer marks, for marks that are not finite, and where they fix nothing.
    Source: least squares, reweighted (Cauchy); the sun by sun.position with refraction.
    """
    if len(marks) < LEAST_MARKS:
        raise ValueError(f"at least {LEAST_MARKS} marks are needed")
    scene = _scene(latitude_deg, longitude_deg, back, marks, utc_offset_h)
    starts = [
        (start.azimuth_deg + turn, np.clip(start.tilt_deg + lean, -80.0, 80.0), start.roll_deg)
        for turn, lean in STARTS_DEG
    ]
    ranked = sorted(
        (_settled(scene, np.array(start_at), LOOSER_MM[0]) for start_at in starts),
        key=lambda pair: pair[0],
    )
    _, start_at = min(
        (_followed(scene, start_at) for _, start_at in ranked[:2]), key=lambda pair: pair[0]
    )
    residuals, weights, slopes = _linear(scene, start_at)
    by_mark = [residuals[rows] for rows in scene.rows]
    off_mm = np.array([rows[0] if len(rows) == 1 else np.hypot(*rows) for rows in by_mark])
    spread = _covariance(residuals, weights, slopes)
    azimuth_sd, tilt_sd, roll_sd = (float(value) for value in np.sqrt(np.diag(spread)))
    roll = float((start_at[2] + 180) % 360 - 180)
    return Fit(
        float(start_at[0] % 360), float(start_at[1]), roll, azimuth_sd, tilt_sd, roll_sd, off_mm
    )


@dataclass(frozen=True)
class _Scene:
    """Constants while the pointing is looked for: what the marks ask, as directions in the camera,
    with two nudged neighbours each, and against what each is held: the sun's declination by hour
    angle on a day, a bearing, or a height; rows: which of these each mark asks.
    """

    latitude: float
    right: Array
    up: Array
    tables: tuple[Any, ...]
    bearings_deg: Array
    heights_deg: Array
    rows: tuple[list[int], ...]


def _scene(
    latitude_deg: float,
    longitude_deg: float,
    back: Back,
    marks: Sequence[tuple[float, float, date | None]],
    utc_offset_h: float,
) -> _Scene:
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
    right, up = back.sight(nudged[..., 0], nudged[..., 1])
    known = {day: _table(latitude, longitude_deg, day, offset) for day in set(days) if day}
    tables = tuple(known.get(day) for day in days)
    return _Scene(np.radians(latitude), right, up, tables, bearings, heights, tuple(rows))


def _ways(on: date | None) -> list[tuple[date | None, float, float]]:
    """(day, bearing, height) of each way in which a mark is held against the sky."""
    if not isinstance(on, tuple):
        return [(on, np.nan, 0.0)]
    bearing, height = on
    if not np.isfinite(bearing):
        raise ValueError("marks must be finite")
    return [(None, np.nan, height), (None, bearing, height)]


def _table(
    latitude_deg: float, longitude_deg: float, day: date, offset_h: float
) -> tuple[Array, Array]:
    """(hour angles, declinations) of the sun through a day, by hour angle [radians]."""
    start = np.datetime64(day, "s") - np.timedelta64(round(offset_h * 3600), "s")
    moments = start + np.arange(0, 1440 + TABLE_MIN, TABLE_MIN) * np.timedelta64(60, "s")
    azimuth, altitude = sun.position(moments, latitude_deg, longitude_deg)
    declination, hour = _equatorial(np.radians(latitude_deg), azimuth, altitude)
    order = np.argsort(hour)
    return hour[order], declination[order]


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
        true = apparent_deg - sun.refraction_deg(np.clip(true, -1.0, 90.0))
    return np.where(apparent_deg > -1.0, true, apparent_deg)


def _residuals(scene: _Scene, state: Array) -> Array:
    """Distance of each mark from what it is held against, square to it [mm], shape (m,)."""
    pointing = Pointing(state[0], float(np.clip(state[1], -90, 90)), state[2])
    azimuth, altitude = pointing.sky(scene.right, scene.up)
    off_rad = np.radians(altitude - scene.heights_deg)
    turned = (azimuth - scene.bearings_deg + 180) % 360 - 180
    beside = np.radians(turned) * np.cos(np.radians(altitude))
    off_rad = np.where(np.isnan(scene.bearings_deg), off_rad, beside)
    declination, hour = _equatorial(scene.latitude, azimuth, _true_altitude(altitude))
    for number, table in enumerate(scene.tables):
        if table is not None:
            wanted = np.interp(hour[:, number], table[0], table[1], period=2 * np.pi)
            off_rad[:, number] = declination[:, number] - wanted
    slope = np.hypot(off_rad[1] - off_rad[0], off_rad[2] - off_rad[0]) / NUDGE_MM
    return off_rad[0] / np.maximum(slope, 1e-9)


def _weights(residuals: Array, loose_mm: float) -> Array:
    return 1 / (1 + (residuals / loose_mm) ** 2)


def _linear(scene: _Scene, state: Array, loose_mm: float = LOOSE_MM) -> tuple[Array, Array, Array]:
    """(residuals, weights, slopes to the three angles)."""
    residuals = _residuals(scene, state)
    slopes = np.stack(
        [
            (_residuals(scene, state + nudge) - residuals) / NUDGE_DEG
            for nudge in NUDGE_DEG * np.eye(3)
        ],
        axis=1,
    )
    return residuals, _weights(residuals, loose_mm), slopes


def _cost(residuals: Array, loose_mm: float) -> float:
    return float(np.sum(np.log1p((residuals / loose_mm) ** 2)))


def _followed(scene: _Scene, state: Array) -> tuple[float, Array]:
    """(cost, angles) to which a place leads that was found loosely."""
    for loose_mm in LOOSER_MM[1:]:
        cost, state = _settled(scene, state, loose_mm)
    return cost, state


def _settled(scene: _Scene, state: Array, loose_mm: float) -> tuple[float, Array]:
    """(cost, angles) of the next lowest place, damped as long as that helps."""
    cost, damping = _cost(_residuals(scene, state), loose_mm), 1e-2
    for _ in range(FITTING_STEPS):
        residuals, weights, slopes = _linear(scene, state, loose_mm)
        normal = slopes.T @ (weights[:, None] * slopes)
        pull = slopes.T @ (weights * residuals)
        stiff = normal + damping * np.diag(np.diag(normal) + 1e-9)
        step = np.clip(-np.linalg.solve(stiff, pull), -15, 15)
        next_at = state + step
        next_at[1] = np.clip(next_at[1], -89.9, 89.9)
        reached = _cost(_residuals(scene, next_at), loose_mm)
        if reached < cost:
            gain, state, cost, damping = cost - reached, next_at, reached, damping / 4
            if gain < 1e-7 * (1 + cost):
                break
        else:
            damping *= 6
            if damping > 1e8:
                break
    return cost, state


def _covariance(residuals: Array, weights: Array, slopes: Array) -> Array:
    """Of the three angles [degrees^2]. Raises ValueError where the marks fix one of them not."""
    normal = slopes.T @ (weights[:, None] * slopes)
    freedom = max(1.0, float(weights.sum()) - 3)
    noise = max(FINEST_MM**2, float(np.sum(weights * residuals**2)) / freedom)
    try:
        spread = noise * np.linalg.inv(normal)
    except np.linalg.LinAlgError as error:
        raise ValueError("these marks fix nothing") from error
    diagonal = np.diag(spread)
    if not (
        np.isfinite(diagonal).all() and (diagonal > 0).all() and diagonal.max() < MOST_SD_DEG**2
    ):
        raise ValueError("these marks fix nothing: take some further apart, or on other days")
    return spread
