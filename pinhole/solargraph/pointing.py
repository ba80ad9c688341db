"""Pointing a can: the best way for what one wants, and finding it without instruments."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import chain, groupby
from math import tan
from operator import itemgetter
from typing import TYPE_CHECKING

import numpy as np

from pinhole import solargraph
from pinhole.projection import Pointing, directions
from pinhole.projection.pointing import tilted
from pinhole.ranges import Array, Numbers, checked
from pinhole.solargraph.skyline import Skyline

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.solargraph.tracks import Track


def wedge_mm(width_mm: float, tilt_deg: float) -> float:
    """Height of a wedge or shim that leans a can of that width by that tilt: width * tan(tilt).

    width_mm [mm, above 0], tilt_deg [-80 to 80]; scalars; negative leans it forward. Raises
    ValueError outside.
    Source: geometry.
    """
    width = float(checked("width_mm", width_mm, above=0))
    return width * tan(np.radians(float(checked("tilt_deg", tilt_deg, least=-80, most=80))))


@dataclass(frozen=True)
class Best:
    """A way to point and what it gives: azimuth_deg, tilt_deg, share of the wanted sun on the
    paper.
    """

    azimuth_deg: float
    tilt_deg: float
    share: float


# What a way to point is worth, its azimuth and its tilt [degrees].
Tried = tuple[float, float, float]
# Coarse to fine: steps of direction and lean in degrees, how far around each of the best so far to
# look, around how many of them, and by how many moments of the sun.
SEARCH_STEPS = ((15.0, 10.0, None, 1, 800), (4.0, 4.0, 12.0, 6, 1600), (1.0, 1.0, 3.0, 3, 4000))
# Of two ways that show as much, the more upright and the nearer to the sun's middle is better:
# shares per degree, together less than half a point.
LEAN_COSTS, TURN_COSTS = 2e-5, 1e-5
MOST_SAMPLES = SEARCH_STEPS[-1][-1]


def best(
    sun_track: Track,
    back: Back,
    *,
    horizon: Sequence[tuple[float, float]] | Skyline | None = None,
    minutes: tuple[float, float] | None = None,
    wanted: Array | None = None,
    roll_deg: float = 0.0,
    noons: bool = False,
    landscape: bool = False,
    tilts: tuple[float, float] = (-20.0, 85.0),
) -> Best:
    """The Best pointing for the sun that is wanted.

    sun_track: solargraph.Track; back, horizon, minutes as solargraph.trails; wanted: which samples
    of the Track, bool (n, t), all counted ones if None; roll_deg: as the can hangs; noons: the most
    noons first, then the most sun; landscape: only ways that keep the level horizon ahead; tilts:
    least and greatest [degrees]. Raises ValueError where no sun is wanted. Source: search over the
    same computation as the survey, thinned by chance to MOST_SAMPLES moments; the share it tells is
    that of them all.
    """
    skyline = horizon if isinstance(horizon, Skyline) else Skyline(tuple(horizon or ()))
    counted = solargraph.trails(sun_track, back, Pointing(0), skyline, minutes).counted
    chosen = counted if wanted is None else counted & wanted
    sun_sky = sun_track.sky[:, chosen[sun_track.up]]
    if not sun_sky.shape[1]:
        raise ValueError("no sun stands above the horizon in what is wanted")
    # A stride would meet the same clock times every day.
    chance = np.random.default_rng(0)
    sky = sun_sky[:, chance.permutation(sun_sky.shape[1])[:MOST_SAMPLES]]
    seen = sun_track.noons_seen(skyline)
    noon = sun_track.noon_sky[:, seen] if noons else np.empty((3, 0))
    middle = float(np.degrees(np.arctan2(*sky[:2].mean(axis=1))) % 360)

    def worths(azimuth: float, leans: Sequence[float], moments: int) -> list[Tried]:
        """Worth of each of those leans that way, by some moments."""
        values = _shown(back, (noon, sky[:, :moments]), azimuth, leans, roll_deg)
        values -= TURN_COSTS * abs((azimuth - middle + 180) % 360 - 180)
        if landscape:
            ahead = directions(np.radians([azimuth]), np.zeros(1))
            flat = back.meet(*tilted(ahead, azimuth, np.array(leans), roll_deg))[2][:, 0]
            values = np.where(flat, values, -1.0)
        return [
            (float(value), azimuth % 360, tilt) for value, tilt in zip(values, leans, strict=True)
        ]

    azimuth, tilt = _searched(worths, middle, tilts)
    share = float(back.place(Pointing(azimuth, tilt, roll_deg), sun_sky)[2].mean())
    return Best(float(azimuth), float(tilt), share)


def _shown(
    back: Back, skies: tuple[Array, Array], azimuth: float, leans: Sequence[float], roll: float
) -> Array:
    """Shares of noons, ten times, and of the sun that each of those leans shows, less what leaning
    costs; shape (m,). skies: unit vectors of the noons that are wanted, if any, and of the sun.
    """
    leaned = np.array(leans)
    noons, shares = (
        back.meet(*tilted(suns, azimuth, leaned, roll))[2].mean(axis=1) if suns.size else 0.0
        for suns in skies
    )
    return np.asarray(10 * noons + shares - LEAN_COSTS * np.abs(leaned))


def _searched(
    worths: Callable[[float, Sequence[float], int], list[Tried]],
    middle: float,
    tilts: tuple[float, float],
) -> tuple[float, float]:
    """(azimuth, tilt) worth most, from coarse to fine around the best."""
    ranked = [(0.0, middle % 360, 0.0)]
    for turn, lean, reach, followed, moments in SEARCH_STEPS:
        starts = [None] if reach is None else ranked[:followed]
        tries = {
            aim_tried
            for start_at in starts
            for aim_tried in _around(start_at, turn, lean, reach, tilts)
        }
        tries |= {start_at[1:] for start_at in ranked[:followed]}
        ways = groupby(sorted(tries), key=itemgetter(0))
        found = (worths(way, [tilt for _, tilt in tried], moments) for way, tried in ways)
        ranked = sorted(set(chain.from_iterable(found)), reverse=True)
    return ranked[0][1:]


def _around(
    aim: tuple[float, float, float] | None,
    turn: float,
    lean: float,
    reach: float | None,
    tilts: tuple[float, float],
) -> list[tuple[float, float]]:
    """(azimuth, tilt) all over, or around one that did well."""
    if aim is None or reach is None:
        around, leans = np.arange(0, 360, turn), np.arange(tilts[0], tilts[1] + 0.1, lean)
    else:
        around = aim[1] + np.arange(-reach, reach + 0.1, turn)
        leans = aim[2] + np.arange(-reach, reach + 0.1, lean)
    return [
        (round(float(azimuth) % 360, 3), float(tilt))
        for azimuth in around
        for tilt in leans
        if tilts[0] <= tilt <= tilts[1]
    ]


def stick_shadow_deg(sun_azimuth_deg: float) -> Numbers:
    """Direction of the shadow of an upright stick: opposite the sun. Any shape. Source:
    geometry.
    """
    return (np.asarray(sun_azimuth_deg, dtype=np.float64) + 180) % 360


def compass_deg(true_deg: Numbers, declination_deg: Numbers) -> Numbers:
    """Reading of a compass for a true direction: true less declination (east positive). Source:
    definition.
    """
    return (np.asarray(true_deg, dtype=np.float64) - declination_deg) % 360
