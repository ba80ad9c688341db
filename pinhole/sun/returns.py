"""Returns of the sun: when it stands again as it did once.

apart(t) <= within_deg, and up: looked at every so many minutes; between two looks that miss it
the nearest approach is sought, and each end of a span by halves
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from pinhole.ranges import Array, Numbers, checked
from pinhole.sun.standing import position

# Looked at so often; a nearest approach and an end are found to a second by so many halvings.
LOOK_MIN, HALVINGS = 10, 14
# A nearest moment is looked for among so many, and among as many about the best of them.
FINE = 41
LONGEST_YEARS_AHEAD = 20


@dataclass(frozen=True)
class Return:
    """start_utc, end_utc: of a span in which the sun stands up and near where it stood; best_utc:
    when it is nearest; off_deg: how far off it is then. datetime64[s] each.
    """

    start_utc: np.datetime64
    end_utc: np.datetime64
    best_utc: np.datetime64
    off_deg: float


def again(
    utc: np.datetime64,
    latitude_deg: float,
    longitude_deg: float,
    first_day: date,
    last_day: date,
    *,
    within_deg: float = 3.0,
) -> list[Return]:
    """[Return] of the true sun to where it stood at a moment, in order, each good to a minute.

    utc: datetime64; latitude_deg, longitude_deg as position(); first_day, last_day: of UTC, both
    included, at most 20 years apart; within_deg [above 0, at most 180]. A span that is cut by
    either end of the days, or by sunrise and sunset, begins and ends there. Raises ValueError
    outside and for reversed days. Source: angles between directions; search.
    """
    limit_deg = float(checked("within_deg", within_deg, above=0, most=180))
    start, looks, place, stood = _search(utc, latitude_deg, longitude_deg, first_day, last_day)

    def inside(seconds: Array) -> tuple[Array, Array]:
        """(degrees inside the span, below 0 outside; degrees from where it stood)."""
        sky = _vector(start + (1000 * seconds).astype("timedelta64[ms]"), place)
        apart = np.degrees(2 * np.arcsin(np.clip(_chord(sky, stood) / 2, 0, 1)))
        height = np.degrees(np.arcsin(np.clip(sky[2], -1, 1)))
        return np.minimum(limit_deg - apart, height), apart

    depth, apart = inside(looks)
    looks, depth, apart = _with_tops(inside, looks, depth, apart)
    return [
        _return(inside, start, looks, apart, *ends) for ends in _spans(inside, looks, depth > 0)
    ]


@dataclass(frozen=True)
class Passages:
    """utc: datetime64[s] at which the sun passes, in order; azimuth_deg, altitude_deg: where it
    stands then; all (n,).
    """

    utc: Array
    azimuth_deg: Array
    altitude_deg: Array


def passages(
    utc: np.datetime64,
    latitude_deg: float,
    longitude_deg: float,
    first_day: date,
    last_day: date,
) -> tuple[Passages, Passages]:
    """(in the same direction, at the same height): the Passages of the true sun, while it is up,
    through the azimuth and through the altitude at which it stood at a moment, to a second.

    Arguments and errors as again(). A day on which it only touches that height is none of them.
    Source: changes of sign, found by halves.
    """
    start, looks, place, _ = _search(utc, latitude_deg, longitude_deg, first_day, last_day)

    def _seen(seconds: Array) -> tuple[Numbers, Numbers]:
        return position(start + (1000 * seconds).astype("timedelta64[ms]"), *place)

    azimuth, altitude = position(np.datetime64(utc).astype("datetime64[ms]"), *place)

    def _aside(seconds: Array) -> Array:
        return np.asarray((_seen(seconds)[0] - azimuth + 180) % 360 - 180)

    def _above(seconds: Array) -> Array:
        return np.asarray(_seen(seconds)[1] - altitude)

    return _passed(_seen, _aside, start, looks), _passed(_seen, _above, start, looks)


def _passed(
    stands: Callable[[Array], tuple[Numbers, Numbers]],
    off_deg: Callable[[Array], Array],
    start: np.datetime64,
    looks: Array,
) -> Passages:
    """Passages at which off_deg changes its sign and not by a turn, with the sun up."""
    angles = off_deg(looks)
    # An azimuth that jumps from one side of the sky to the other passes nothing.
    turns = np.flatnonzero(
        ((angles[1:] > 0) != (angles[:-1] > 0)) & (np.abs(np.diff(angles)) < 180)
    )
    low, high, rises = looks[turns], looks[turns + 1], angles[turns + 1] > 0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        passed = (off_deg(middle) > 0) == rises
        low, high = np.where(passed, low, middle), np.where(passed, middle, high)
    moments = (low + high) / 2
    azimuth, altitude = (np.asarray(angle) for angle in stands(moments))
    up = altitude > 0
    utc = (start + np.round(1000 * moments).astype("timedelta64[ms]")).astype("datetime64[s]")
    return Passages(utc[up], azimuth[up], altitude[up])


def _search(
    utc: np.datetime64,
    latitude_deg: float,
    longitude_deg: float,
    first_day: date,
    last_day: date,
) -> tuple[np.datetime64, Array, tuple[float, float], Array]:
    """(start, seconds after it to look at, place, where the sun stood). Raises ValueError for
    reversed days, more than 20 years, and what is no moment.
    """
    if last_day < first_day or (last_day - first_day).days > 366 * LONGEST_YEARS_AHEAD:
        raise ValueError("last_day must not be before first_day, nor 20 years after it")
    if np.isnat(np.datetime64(utc)):
        raise ValueError("utc must be a moment")
    place = latitude_deg, longitude_deg
    stood = _vector(np.array([utc], "datetime64[ms]"), place)[:, 0]
    lasts_s = ((last_day - first_day) + timedelta(days=1)).total_seconds()
    looks = np.arange(0, lasts_s + 60 * LOOK_MIN, 60 * LOOK_MIN).clip(max=lasts_s)
    return np.datetime64(first_day, "ms"), looks, place, stood


def _vector(utc: Array, place: tuple[float, float]) -> Array:
    """Unit vectors (east, north, up) of the true sun, (3, n)."""
    azimuth, altitude = np.radians(position(utc, *place))
    level = np.cos(altitude)
    return np.stack([level * np.sin(azimuth), level * np.cos(azimuth), np.sin(altitude)])


def _chord(sky: Array, stood: Array) -> Array:
    return np.asarray(np.linalg.norm(sky - stood[:, None], axis=0))


def _with_tops(
    inside: Callable[[Array], tuple[Array, Array]], looks: Array, depth: Array, apart: Array
) -> tuple[Array, Array, Array]:
    """The looks, and one more at each deepest place between looks that are outside: a passage may
    be shorter than the time between them.
    """
    higher = (depth[1:-1] >= depth[:-2]) & (depth[1:-1] >= depth[2:]) & (depth[1:-1] <= 0)
    tops = np.flatnonzero(higher) + 1
    # The sun goes no faster than a quarter of a degree a minute.
    tops = tops[depth[tops] > -LOOK_MIN / 4]
    low, high = looks[tops - 1], looks[tops + 1]
    for _ in range(2 * HALVINGS):
        third = (high - low) / 3
        goes_right = inside(low + third)[0] < inside(high - third)[0]
        low, high = np.where(goes_right, low + third, low), np.where(goes_right, high, high - third)
    middles = (low + high) / 2
    more_depth, more_apart = inside(middles)
    every = np.concatenate([looks, middles])
    order = np.argsort(every, kind="stable")
    depths, aparts = np.append(depth, more_depth), np.append(apart, more_apart)
    return every[order], depths[order], aparts[order]


def _spans(
    inside: Callable[[Array], tuple[Array, Array]], looks: Array, is_in: Array
) -> list[tuple[float, float]]:
    """[(start, end)] of the runs that are inside, each end found by halves [seconds]."""
    turns = np.flatnonzero(is_in[1:] != is_in[:-1])
    low, high, rises = looks[turns], looks[turns + 1], is_in[turns + 1]
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        passed = (inside(middle)[0] > 0) == rises
        low, high = np.where(passed, low, middle), np.where(passed, middle, high)
    ends = ((low + high) / 2).tolist()
    if is_in[0]:
        ends = [float(looks[0]), *ends]
    if is_in[-1]:
        ends = [*ends, float(looks[-1])]
    return list(zip(ends[::2], ends[1::2], strict=True))


def _return(
    inside: Callable[[Array], tuple[Array, Array]],
    start: np.datetime64,
    looks: Array,
    apart: Array,
    begins: float,
    ends: float,
) -> Return:
    """The Return of a span [seconds]."""
    among = looks[(looks > begins) & (looks < ends)]
    tried = np.concatenate([[begins], among, [ends]])
    nearest = float(tried[np.argmin(inside(tried)[1])])
    best, reach = nearest, 60.0 * LOOK_MIN
    for _ in range(2):
        fine = np.linspace(max(begins, best - reach), min(ends, best + reach), FINE)
        off = inside(fine)[1]
        best, reach = float(fine[np.argmin(off)]), reach / FINE * 2
    moments = (start + np.timedelta64(round(second), "s") for second in (begins, ends, best))
    first, last, nearest_utc = (moment.astype("datetime64[s]") for moment in moments)
    return Return(first, last, nearest_utc, float(off.min()))
