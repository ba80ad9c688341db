"""Landings of the noons of a span, and stands of a can that keep them, or other suns, on its
paper.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from pinhole.projection import Pointing, directions
from pinhole.projection.pointing import tilted
from pinhole.ranges import Array

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.solargraph.skyline import Skyline
    from pinhole.solargraph.tracks import Track


# Why a noon is not on the paper; "over" and "under" are higher and lower than the picture, as it
# hangs.
ON, OVER, UNDER, SIDE, BEHIND, DOWN = "on", "over", "under", "side", "behind", "down"
KEPT_OUT, HIDDEN = "kept out", "hidden"
# No sun then, wherever a can looks.
UNSEEN = (DOWN, HIDDEN)
# So far behind square to the camera still counts as beside it.
ASIDE_DEG = 20.0
# How far off a can hangs by hand (common practice).
HANGING_DEG = 2.0
# As far as a can is leaned, and how finely leans and directions are tried.
STEEPEST_LEAN_DEG, LEAN_STEP_DEG, TURN_STEP_DEG = 85.0, 0.5, 15.0
# All ways round are tried with so many suns first. What a can keeps lies from one height to
# another: one of the few may be told wrongly at either end, here and where most are kept.
FEW_SUNS, MISCOUNTED_SUNS = 48, 4


def fate(sun_track: Track, back: Back, pointing: Pointing, skyline: Skyline | None = None) -> Array:
    """Fate of the noon of each day: one of ON, OVER, UNDER, SIDE, BEHIND, KEPT_OUT by the hole
    itself, and, with the sun below the skyline or the horizon, HIDDEN and DOWN; shape (n,).

    sun_track: solargraph.Track; back: a projection back; pointing: Pointing; skyline: Skyline, none
    if None. A can hung upside down
    has its noons over the top at its upper edge. Source: projection.
    """
    noon = sun_track.noon_sky
    x, y, lands = back.place(pointing, noon)
    half_across, _ = back.half_mm
    upside_down = np.cos(np.radians(pointing.roll_deg)) < 0
    with np.errstate(invalid="ignore"):
        high = y > 0 if upside_down else y < 0
        fates = np.where(high, OVER, UNDER)
        fates = np.where(np.abs(x) > half_across, SIDE, fates)
        fates = np.where(back.holds(x, y), KEPT_OUT, fates)
    # What stands square to the camera is beside it, whichever side of square it is.
    behind = pointing.turned(noon)[2] < -np.sin(np.radians(ASIDE_DEG))
    fates = np.where(lands, ON, np.where(np.isnan(x), np.where(behind, BEHIND, SIDE), fates))
    if skyline is not None:
        fates = np.where(sun_track.noons_seen(skyline), fates, HIDDEN)
    return np.where(sun_track.noon_altitude_deg <= 0, DOWN, fates)


@dataclass(frozen=True)
class Stand:
    """A way for a can to stand: pointing; count: how many of the suns that are wanted it keeps;
    least_deg, most_deg: of the leans that way that keep as many; steady: whether it still does when
    it hangs HANGING_DEG off and a trail has its width.
    """

    pointing: Pointing
    count: int
    least_deg: float
    most_deg: float
    steady: bool


def leans(sky: Array, back: Back, azimuth_deg: float, roll_deg: float = 0.0) -> tuple[Array, Array]:
    """(leans [degrees], how many suns each keeps), shape (m,) each, for a can that faces so.

    sky: unit vectors of those wanted, (3, k); back: a projection back. Source: projection.
    """
    tilts = np.arange(-STEEPEST_LEAN_DEG, STEEPEST_LEAN_DEG + 0.1, LEAN_STEP_DEG)
    return tilts, back.meet(*tilted(sky, azimuth_deg, tilts, roll_deg))[2].sum(axis=1)


def _landed(sky: Array, back: Back, pointing: Pointing, margin_mm: float = 0.0) -> int:
    """Number of suns that lie on the paper, so far inside its edge."""
    x, y, lands = back.place(pointing, sky)
    half_across, half_high = back.half_mm
    with np.errstate(invalid="ignore"):
        inside = (np.abs(x) <= half_across - margin_mm) & (np.abs(y) <= half_high - margin_mm)
    return int((lands & inside).sum())


def stand(
    sky: Array,
    back: Back,
    azimuth_deg: float,
    roll_deg: float = 0.0,
    *,
    near_deg: float = 0.0,
    margin_mm: float = 0.0,
) -> Stand:
    """The Stand of a can that faces so and keeps most suns: of the leans that do, the one nearest
    to near_deg that leaves room for HANGING_DEG either way, or the middle one where there is none.

    sky: as in leans(); margin_mm [at least 0]: half the width of a trail. Source: leans().
    """
    tilts, counts = leans(sky, back, azimuth_deg, roll_deg)
    count = int(counts.max())
    good = tilts[_run(counts == count, tilts, near_deg)]
    lowest, highest = float(good[0]), float(good[-1])
    inner = good[(good >= lowest + HANGING_DEG) & (good <= highest - HANGING_DEG)]
    ordered = inner[np.argsort(np.abs(inner - near_deg), kind="stable")]
    for tilt in ordered:
        if _steady(sky, back, azimuth_deg, float(tilt), roll_deg, margin_mm, count):
            aim = Pointing(azimuth_deg, float(tilt), roll_deg)
            return Stand(aim, count, lowest, highest, True)
    middle = float(good[len(good) // 2])
    return Stand(Pointing(azimuth_deg, middle, roll_deg), count, lowest, highest, False)


def _run(flags: Array, tilts: Array, near_deg: float) -> Array:
    """The run of flags that comes nearest to near_deg, as their places."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flags.astype(int), [0]])))
    runs = [np.arange(a, b) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    return min(runs, key=lambda run: np.abs(tilts[run] - near_deg).min())


def _steady(
    sky: Array,
    back: Back,
    azimuth_deg: float,
    tilt_deg: float,
    roll_deg: float,
    margin_mm: float,
    total: int,
) -> bool:
    """True if it keeps its suns when hung HANGING_DEG off in any corner."""
    return all(
        _landed(sky, back, Pointing(azimuth_deg + turn, tilt_deg + lean, roll_deg), margin_mm)
        >= total
        for turn in (-HANGING_DEG, HANGING_DEG)
        for lean in (-HANGING_DEG, HANGING_DEG)
    )


def remedy(
    sky: Array, back: Back, pointing: Pointing, margin_mm: float = 0.0, *, due: bool = True
) -> Stand | None:
    """The Stand that cures lost noons, or other suns, with the least change: leaned as it faces,
    else turned to their side, else whatever keeps most, a landscape rather than none; None where no
    way keeps more than it does now.

    due: their side is due south or north, else where they stand on the whole. Other arguments as
    stand(). Source: search over the same landings as the survey.
    """
    now, total = _landed(sky, back, pointing), sky.shape[1]
    if not total or now == total:
        return None
    side = float(np.degrees(np.arctan2(*sky[:2].mean(axis=1))) % 360)
    noon_side = 180.0 if abs(side - 180) < 90 else 0.0
    sides = [pointing.azimuth_deg, noon_side if due else float(round(side) % 360)]
    near_stands = [
        _stand(sky, back, azimuth, roll, pointing, margin_mm)
        for roll in dict.fromkeys((pointing.roll_deg, 0.0))
        for azimuth in dict.fromkeys(sides)
    ]
    whole_stands = [
        candidate for candidate in near_stands if candidate.count == total and candidate.steady
    ]
    with_landscape = [
        candidate for candidate in whole_stands if horizon_on_paper(back, candidate.pointing)
    ]
    if whole_stands:
        return (with_landscape or whole_stands)[0]
    around = [
        _stand(sky, back, float(azimuth), 0.0, pointing, margin_mm)
        for azimuth in _worth_turning_to(sky, back)
    ]
    best_stand = max([*near_stands, *around], key=lambda one: (one.count, one.steady))
    return best_stand if best_stand.count > now else None


def _worth_turning_to(sky: Array, back: Back) -> Array:
    """Directions [degrees] that may keep as many suns as any, by a few suns from low to high."""
    ordered = np.argsort(sky[2])
    evenly = np.linspace(0, len(ordered) - 1, min(len(ordered), FEW_SUNS))
    few = sky[:, ordered[evenly.round().astype(int)]]
    azimuths, counts = _all_round(few.tobytes(), back)
    return np.asarray(azimuths[counts >= counts.max() - MISCOUNTED_SUNS])


@lru_cache(maxsize=8)
def _all_round(suns: bytes, back: Back) -> tuple[Array, Array]:
    """(directions [degrees], how many of some suns each keeps at most), shape (m,) each: the same
    wherever a can is dragged to. suns: unit vectors, (3, k), as bytes.
    """
    few, azimuths = np.frombuffer(suns).reshape(3, -1), np.arange(0, 360, TURN_STEP_DEG)
    return azimuths, np.array([leans(few, back, float(way))[1].max() for way in azimuths])


def _stand(
    sky: Array, back: Back, azimuth: float, roll: float, pointing: Pointing, margin_mm: float
) -> Stand:
    if azimuth != pointing.azimuth_deg:
        return _turned_stand(sky.tobytes(), back, azimuth, roll, margin_mm)
    near_deg = max(0.0, pointing.tilt_deg)
    return stand(sky, back, azimuth, roll, near_deg=near_deg, margin_mm=margin_mm)


@lru_cache(maxsize=32)
def _turned_stand(suns: bytes, back: Back, azimuth: float, roll: float, margin_mm: float) -> Stand:
    """The Stand of a can turned another way, wherever it is dragged to; suns as _all_round."""
    sky = np.frombuffer(suns).reshape(3, -1)
    return stand(sky, back, azimuth, roll, margin_mm=margin_mm)


def horizon_on_paper(back: Back, pointing: Pointing) -> bool:
    """True if the level horizon straight ahead lands on the paper, so that a landscape is kept."""
    ahead = directions(np.radians(pointing.azimuth_deg), np.array(0.0))
    return bool(back.place(pointing, ahead)[2])
