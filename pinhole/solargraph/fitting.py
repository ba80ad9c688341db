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
from dataclasses import dataclass, replace
from datetime import date
from typing import TYPE_CHECKING, Any

import numpy as np

from pinhole.projection import Pointing
from pinhole.ranges import Array, checked
from pinhole.solargraph.marked import MarkedScene, marked_scene, residuals_of

if TYPE_CHECKING:
    from pinhole.projection.back import Back


LEAST_MARKS = 4
# Marks further off than this count less and less; so finely do hands mark, which is believed like
# so many marks (common practice) [mm].
LOOSE_MM, CLICK_MM, CLICKS_BELIEVED = 1.5, 0.4, 6.0
# A mark that lies off by more than this contradicts the rest [mm], and a direction that is less
# sure than that is none [degrees] (common practice).
SUSPECT_MM, TOLD_SD_DEG = 3.0, 5.0
# Of so many marks each is tried as the one that is wrong.
MOST_TRIED = 8
# Of those the likeliest are followed.
FOLLOWED = 3
# A picture lies otherwise where its marks then cost less than this share of what they do.
LIKELIER = 0.4
# Ways in which a picture may lie: (across, down) to what they are then.
LIES = {"mirrored": (-1, 1), "upside down": (-1, -1), "mirrored and upside down": (1, -1)}
# Far from the answer nothing is wrong yet: looser first.
LOOSER_MM = (30.0, 6.0, LOOSE_MM)
# No answer that is less sure than this is one [degrees].
MOST_SD_DEG = 30.0
FITTING_STEPS, QUICK_STEPS, NUDGE_DEG, CLOSE_SHARE = 25, 6, 0.01, 1e-7
# Turns and leans from how it was meant to stand.
STARTS_DEG = ((0.0, 0.0), (50.0, 15.0), (-50.0, 15.0), (110.0, 0.0), (-110.0, 0.0), (180.0, 15.0))


@dataclass(frozen=True)
class Fit:
    """azimuth_deg, tilt_deg, roll_deg: how it stood; *_sd: how sure [degrees]; residuals_mm: how
    far each mark lies from where it should, square to its trail, shape (n,); told: whether the
    marks tell a direction and do not contradict themselves; suspects: which contradict the rest;
    lies: how the picture would lie if they were right, a name of LIES, "" as it is.
    """

    azimuth_deg: float
    tilt_deg: float
    roll_deg: float
    azimuth_sd: float
    tilt_sd: float
    roll_sd: float
    residuals_mm: Array
    told: bool = True
    suspects: tuple[int, ...] = ()
    lies: str = ""

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
    paper_sd_mm: float = 1.0,
) -> Fit:
    """The Fit of a can to marks on its paper.

    latitude_deg, longitude_deg as sun.position; back: of pinhole.projection; marks: at least 4 of
    (x_mm, y_mm, on): on a datetime.date whose trail the mark lies on, somewhere, None on the level
    horizon, or (azimuth_deg, altitude_deg) of a known point of the skyline; utc_offset_h [-14 to
    14]: of the clock whose days these are; start: how it was meant to stand, from where all ways
    round are tried as well; paper_sd_mm [mm, above 0]: how far the paper may lie off along and
    across, part of the doubt. Marks that agree with no others are weighted down. Raises ValueError
    outside, for fewer marks, for marks that are not finite, and where they fix nothing.
    Source: least squares, reweighted (Cauchy); the sun by sun.position with refraction.
    """
    if len(marks) < LEAST_MARKS:
        raise ValueError(f"at least {LEAST_MARKS} marks are needed")
    paper_sd = float(checked("paper_sd_mm", paper_sd_mm, above=0))
    options = latitude_deg, longitude_deg, back, utc_offset_h, paper_sd
    scene = marked_scene(marks, *options)
    cost, state = _stood(scene, start)
    fit = _fit(scene, state)
    if not fit.suspects:
        return fit
    # They may be right on a picture that lies otherwise, or all but one of them.
    turned = {
        name: marked_scene([(x * a, y * b, on) for x, y, on in marks], *options)
        for name, (a, b) in LIES.items()
    }
    stands = {name: _stood(as_lies, start, QUICK_STEPS, 1) for name, as_lies in turned.items()}
    best = min(stands, key=lambda name: stands[name][0])
    if stands[best][0] < LIKELIER * cost and _is_met(turned[best], stands[best][1]):
        return replace(fit, lies=best)
    return _stray(scene, marks, options, start) or fit


def _stood(
    scene: MarkedScene, start: Pointing, steps: int = FITTING_STEPS, follow: int = 2
) -> tuple[float, Array]:
    """(cost, angles) of how it stood, from start and from all around, in so many steps from each;
    the best few are followed.
    """
    return _followed(scene, _loosely(scene, start, steps)[1][:follow])


def _followed(scene: MarkedScene, states: Array) -> tuple[float, Array]:
    """(cost, angles) of the best to which places lead that were found loosely, (k, 3)."""
    for loose_mm in LOOSER_MM[1:]:
        costs, states = _settled(scene, states, loose_mm)
    return float(costs.min()), states[costs.argmin()]


def _loosely(scene: MarkedScene, start: Pointing, steps: int) -> tuple[Array, Array]:
    """(costs (k,), angles (k, 3)), the best first, from start and from all around."""
    starts = [
        (
            start.azimuth_deg + turn,
            float(np.clip(start.tilt_deg + lean, -80.0, 80.0)),
            start.roll_deg,
        )
        for turn, lean in STARTS_DEG
    ]
    costs, states = _settled(scene, np.array(starts), LOOSER_MM[0], steps)
    order = np.argsort(costs, kind="stable")
    return costs[order], states[order]


def _stray(
    scene: MarkedScene,
    marks: Sequence[tuple[float, float, date | None]],
    options: tuple[Any, ...],
    start: Pointing,
) -> Fit | None:
    """The Fit by all marks but one, where one alone contradicts the others; else None."""
    tried = []
    for n in range(len(marks) if LEAST_MARKS < len(marks) <= MOST_TRIED else 0):
        rest = marked_scene([*marks[:n], *marks[n + 1 :]], *options)
        costs, states = _loosely(rest, start, QUICK_STEPS)
        tried.append((costs[0], n, rest, states[:1]))
    followed = [
        (rest, *_followed(rest, states))
        for _, _, rest, states in sorted(tried, key=lambda row: row[:2])[:FOLLOWED]
    ]
    fits = [(cost, state) for rest, cost, state in followed if _is_met(rest, state)]
    return _fit(scene, min(fits, key=lambda pair: pair[0])[1]) if fits else None


def _is_met(scene: MarkedScene, state: Array) -> bool:
    """True if no mark contradicts that it stood so."""
    return bool(np.abs(residuals_of(scene, state[None])[0]).max() < SUSPECT_MM)


def _fit(scene: MarkedScene, state: Array) -> Fit:
    residuals, weights, slopes = (rows[0] for rows in _linear(scene, state[None]))
    by_mark = [residuals[rows] for rows in scene.rows]
    off_mm = np.array([rows[0] if len(rows) == 1 else np.hypot(*rows) for rows in by_mark])
    _, with_paper = residuals_of(scene, state[None])
    spread = _covariance(residuals, weights, slopes, scene.paper_sd * with_paper[0].T)
    azimuth_sd, tilt_sd, roll_sd = (float(value) for value in np.sqrt(np.diag(spread)))
    suspects = tuple(np.flatnonzero(np.abs(off_mm) > SUSPECT_MM).tolist())
    # Trails turn about the pole of the sky: they alone tell no direction.
    has_height = any(table is None for table in scene.tables)
    told = has_height and not suspects and azimuth_sd < TOLD_SD_DEG
    roll = float((state[2] + 180) % 360 - 180)
    lies = "upside down" if abs(roll) > 90 else ""
    return Fit(
        float(state[0] % 360),
        float(state[1]),
        roll,
        azimuth_sd,
        tilt_sd,
        roll_sd,
        residuals_mm=off_mm,
        told=told,
        suspects=suspects,
        lies=lies,
    )


def _weights(residuals: Array, loose_mm: float) -> Array:
    return 1 / (1 + (residuals / loose_mm) ** 2)


def _linear(
    scene: MarkedScene, states: Array, loose_mm: float = LOOSE_MM
) -> tuple[Array, Array, Array]:
    """(residuals (k, m), weights (k, m), slopes to the three angles (k, m, 3)) of states (k, 3)."""
    nudges = NUDGE_DEG * np.concatenate([np.zeros((1, 3)), np.eye(3)])
    every, _ = residuals_of(scene, (states[:, None] + nudges).reshape(-1, 3))
    every = every.reshape(len(states), 4, -1)
    slopes = (every[:, 1:] - every[:, :1]) / NUDGE_DEG
    return every[:, 0], _weights(every[:, 0], loose_mm), slopes.transpose(0, 2, 1)


def _costs(scene: MarkedScene, states: Array, loose_mm: float) -> Array:
    return np.asarray(np.log1p((residuals_of(scene, states)[0] / loose_mm) ** 2).sum(axis=1))


def _settled(
    scene: MarkedScene, states: Array, loose_mm: float, steps: int = FITTING_STEPS
) -> tuple[Array, Array]:
    """(costs (k,), angles (k, 3)) of the lowest places next to states (k, 3), all at once, each
    damped as long as that helps.
    """
    states, costs = states.copy(), _costs(scene, states, loose_mm)
    damping, live = np.full(len(states), 1e-2), np.arange(len(states))
    for _ in range(steps):
        step = _step(scene, states[live], loose_mm, damping[live])
        tried = states[live] + step
        tried[:, 1] = np.clip(tried[:, 1], -89.9, 89.9)
        reached = _costs(scene, tried, loose_mm)
        gain = costs[live] - reached
        better = live[gain > 0]
        states[better], costs[better] = tried[gain > 0], reached[gain > 0]
        damping[live] *= np.where(gain > 0, 1 / 4, 6.0)
        goes_on = np.where(gain > 0, gain >= CLOSE_SHARE * (1 + reached), damping[live] <= 1e8)
        live = live[goes_on]
        if not live.size:
            break
    return costs, states


def _step(scene: MarkedScene, states: Array, loose_mm: float, damping: Array) -> Array:
    """Damped step of each state towards a lower cost [degrees], (k, 3)."""
    residuals, weights, slopes = _linear(scene, states, loose_mm)
    weighted = weights[..., None] * slopes
    normal = slopes.transpose(0, 2, 1) @ weighted
    pull = (weighted * residuals[..., None]).sum(axis=1)
    diagonal = np.einsum("kii->ki", normal) + 1e-9
    stiff = normal + damping[:, None, None] * diagonal[:, None] * np.eye(3)
    return np.asarray(np.clip(-np.linalg.solve(stiff, pull[..., None])[..., 0], -15, 15))


def _covariance(residuals: Array, weights: Array, slopes: Array, by_paper: Array) -> Array:
    """Of the three angles [degrees^2]; by_paper (m, 2): how far a paper that lies off by its sd
    along and across moves each residual [mm]. Raises ValueError where the marks fix one of them
    not.
    """
    freedom = CLICKS_BELIEVED + max(0.0, float(weights.sum()) - 3)
    squares = CLICKS_BELIEVED * CLICK_MM**2 + float(np.sum(weights * residuals**2))
    noise = squares / freedom
    normal = slopes.T @ (weights[:, None] * slopes)
    try:
        inverse = np.linalg.inv(normal)
    except np.linalg.LinAlgError as error:
        raise ValueError("these marks fix nothing") from error
    moved = inverse @ (slopes.T @ (weights[:, None] * by_paper))
    spread = noise * inverse + moved @ moved.T
    diagonal = np.diag(spread)
    if not (
        np.isfinite(diagonal).all() and (diagonal > 0).all() and diagonal.max() < MOST_SD_DEG**2
    ):
        raise ValueError("these marks fix nothing: take some further apart, or on other days")
    return spread
