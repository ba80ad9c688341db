"""Landings of the noons of a span, and stands of a can that keep them on its paper."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from pinhole.projection import Pointing, directions
from pinhole.projection.pointing import tilted
from pinhole.ranges import Array

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.solargraph.tracing import Track


# Why a noon is not on the paper; "over" and "under" are higher and lower than the picture, as it
# hangs.
ON, OVER, UNDER, SIDE, BEHIND, DOWN = "on", "over", "under", "side", "behind", "down"
KEPT_OUT = "kept out"
# So far behind square to the camera still counts as beside it.
ASIDE_DEG = 20.0
# How far off a can hangs by hand (common practice).
HANGING_DEG = 2.0
# As far as a can is leaned, and how finely leans and directions are tried.
STEEPEST_LEAN_DEG, LEAN_STEP_DEG, TURN_STEP_DEG = 85.0, 0.5, 15.0


def fate(sun_track: Track, back: Back, pointing: Pointing) -> Array:
    """Fate of the noon of each day: one of ON, OVER, UNDER, SIDE, BEHIND, KEPT_OUT by the hole
    itself, and, with the sun below the horizon, DOWN; shape (n,).

    sun_track: solargraph.Track; back: a projection back; pointing: Pointing. A can hung upside down
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
    return np.where(sun_track.noon_altitude_deg <= 0, DOWN, fates)


@dataclass(frozen=True)
class Stand:
    """A way for a can to stand: pointing; noons: how many of those above the horizon it keeps;
    least_deg, most_deg: of the leans that way that keep as many; steady: whether it still does when
    it hangs HANGING_DEG off and a trail has its width.
    """

    pointing: Pointing
    noons: int
    least_deg: float
    most_deg: float
    steady: bool


def leans(
    sun_track: Track, back: Back, azimuth_deg: float, roll_deg: float = 0.0
) -> tuple[Array, Array]:
    """(leans [degrees], how many noons each keeps), shape (m,) each, for a can that faces so."""
    tilts = np.arange(-STEEPEST_LEAN_DEG, STEEPEST_LEAN_DEG + 0.1, LEAN_STEP_DEG)
    directions_tried = tilted(sun_track.noons_above, azimuth_deg, tilts, roll_deg)
    return tilts, back.meet(*directions_tried)[2].sum(axis=1)


def _kept(noon: Array, back: Back, pointing: Pointing, margin_mm: float = 0.0) -> int:
    """Number of noons that lie on the paper, so far inside its edge."""
    x, y, lands = back.place(pointing, noon)
    half_across, half_high = back.half_mm
    with np.errstate(invalid="ignore"):
        inside = (np.abs(x) <= half_across - margin_mm) & (np.abs(y) <= half_high - margin_mm)
    return int((lands & inside).sum())


def stand(
    sun_track: Track,
    back: Back,
    azimuth_deg: float,
    roll_deg: float = 0.0,
    *,
    near_deg: float = 0.0,
    margin_mm: float = 0.0,
) -> Stand:
    """The Stand of a can that faces so and keeps most noons: of the leans that do, the one nearest
    to near_deg that leaves room for HANGING_DEG either way, or the middle one where there is none.

    margin_mm [at least 0]: half the width of a trail. Source: leans().
    """
    tilts, noons_kept = leans(sun_track, back, azimuth_deg, roll_deg)
    good = tilts[_run(noons_kept == noons_kept.max(), tilts, near_deg)]
    lowest, highest = float(good[0]), float(good[-1])
    inner = good[(good >= lowest + HANGING_DEG) & (good <= highest - HANGING_DEG)]
    ordered = inner[np.argsort(np.abs(inner - near_deg), kind="stable")]
    noon = sun_track.noons_above
    for tilt in ordered:
        if _steady(
            noon, back, azimuth_deg, float(tilt), roll_deg, margin_mm, int(noons_kept.max())
        ):
            aim = Pointing(azimuth_deg, float(tilt), roll_deg)
            return Stand(aim, int(noons_kept.max()), lowest, highest, True)
    middle = float(good[len(good) // 2])
    return Stand(
        Pointing(azimuth_deg, middle, roll_deg), int(noons_kept.max()), lowest, highest, False
    )


def _run(flags: Array, tilts: Array, near_deg: float) -> Array:
    """The run of flags that comes nearest to near_deg, as their places."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], flags.astype(int), [0]])))
    runs = [np.arange(a, b) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    return min(runs, key=lambda run: np.abs(tilts[run] - near_deg).min())


def _steady(
    noon: Array,
    back: Back,
    azimuth_deg: float,
    tilt_deg: float,
    roll_deg: float,
    margin_mm: float,
    wanted: float,
) -> bool:
    """True if it keeps its noons when hung HANGING_DEG off in any corner."""
    return all(
        _kept(noon, back, Pointing(azimuth_deg + turn, tilt_deg + lean, roll_deg), margin_mm)
        >= wanted
        for turn in (-HANGING_DEG, HANGING_DEG)
        for lean in (-HANGING_DEG, HANGING_DEG)
    )


def remedy(
    sun_track: Track, back: Back, pointing: Pointing, margin_mm: float = 0.0
) -> Stand | None:
    """The Stand that cures lost noons with the least change: leaned as it faces, else turned to the
    noon sun, else whatever keeps most, a landscape rather than none; None where no way keeps more
    than it does now.

    Arguments as fate() and stand(). Source: search over the same landings as the survey.
    """
    now = int((fate(sun_track, back, pointing) == ON).sum())
    noons = int((sun_track.noon_altitude_deg > 0).sum())
    middle = sun_track.noons_above
    if not noons or now == noons:
        return None
    side = float(np.degrees(np.arctan2(*middle[:2].mean(axis=1))) % 360)
    sides = [pointing.azimuth_deg, 180.0 if abs(side - 180) < 90 else 0.0]
    near_stands = [
        _stand(sun_track, back, azimuth, roll, pointing, margin_mm)
        for roll in dict.fromkeys((pointing.roll_deg, 0.0))
        for azimuth in dict.fromkeys(sides)
    ]
    whole_stands = [
        candidate for candidate in near_stands if candidate.noons == noons and candidate.steady
    ]
    with_landscape = [
        candidate for candidate in whole_stands if horizon_on_paper(back, candidate.pointing)
    ]
    if whole_stands:
        return (with_landscape or whole_stands)[0]
    around = [
        _stand(sun_track, back, float(azimuth), 0.0, pointing, margin_mm)
        for azimuth in np.arange(0, 360, TURN_STEP_DEG)
    ]
    best_stand = max([*near_stands, *around], key=lambda one: (one.noons, one.steady))
    return best_stand if best_stand.noons > now else None


def _stand(
    sun_track: Track, back: Back, azimuth: float, roll: float, pointing: Pointing, margin_mm: float
) -> Stand:
    same_way = azimuth == pointing.azimuth_deg
    near_tilt = max(0.0, pointing.tilt_deg) if same_way else 0.0
    return stand(sun_track, back, azimuth, roll, near_deg=near_tilt, margin_mm=margin_mm)


def horizon_on_paper(back: Back, pointing: Pointing) -> bool:
    """True if the level horizon straight ahead lands on the paper, so that a landscape is kept."""
    ahead = directions(np.radians(pointing.azimuth_deg), np.array(0.0))
    return bool(back.place(pointing, ahead)[2])
