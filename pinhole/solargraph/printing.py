"""Width of trails and how dark they print: from the sun's disc, the hole, and how long the image of
the sun rests on a place of the paper.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from pinhole import sun
from pinhole.ranges import Array, ArrayLike, Numbers, checked

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.projection.pointing import Pointing
    from pinhole.solargraph.tracing import Trails
    from pinhole.solargraph.tracks import Track


# A small turn in the sky [rad], to see how the paper stretches there.
TURN = 1e-4
# Dull days after which a gap is looked for.
MOST_DULL_DAYS = 40
# The image of the sun is followed in steps of so many minutes at most.
FOLLOWED_MIN = 0.5


@dataclass(frozen=True)
class Lines:
    """Lie of the daily lines. width_mm: (least, most) of a line on the paper, nan without any;
    usual_mm: the middle one; widths_mm: of each sample on the paper, nan elsewhere, (n, t);
    gaps_mm: from the line of a noon to that of the next day's, square to it, where both lie on the
    paper, else nan, (n - 1,); opens_after: how many dull days between two clear ones leave a gap at
    best, None if no number does.
    """

    width_mm: tuple[float, float]
    usual_mm: float
    widths_mm: Array
    gaps_mm: Array
    opens_after: int | None


def lines(drawn: Trails, back: Back, pointing: Pointing, hole_mm: float) -> Lines:
    """The Lines of Trails seen with that back and pointing.

    drawn: solargraph.Trails; hole_mm [above 0]. Raises ValueError outside. Source: geometry; the
    disc of 0.533 degrees (Astronomical Almanac, from memory) as the paper stretches it across the
    trail, and the width of the hole, added in squares. The sun moves at most 0.4 degrees from noon
    to noon, less than its disc is wide, so that neighbouring clear days always touch.
    """
    hole = float(checked("hole_mm", hole_mm, above=0))
    widths = np.full(drawn.on_paper.shape, np.nan)
    track = drawn.track
    sky = track.sky[:, drawn.on_paper[track.up]]
    widths[drawn.on_paper] = _across(sky, track, back, pointing, hole)[0]
    widths_known = widths[drawn.on_paper]
    ends = (
        (float(widths_known.min()), float(widths_known.max()))
        if widths_known.size
        else (np.nan, np.nan)
    )
    usual = float(np.median(widths_known)) if widths_known.size else np.nan
    at_noon, square = _across(track.noon_sky, track, back, pointing, hole)
    noons = np.stack([drawn.noon_x_mm, drawn.noon_y_mm])
    noons = np.where(drawn.noon_on_paper, noons, np.nan)
    gaps = _apart(noons, square, 1)
    return Lines(ends, usual, widths, gaps, _opens_after(noons, square, at_noon))


def _across(
    sky: Array, track: Track, back: Back, pointing: Pointing, hole_mm: float
) -> tuple[Array, Array]:
    """(widths across the trail of the sun in those directions, (3, k) to (k,); unit vectors across
    the trail on the paper, (2, k)).
    """
    latitude = np.radians(track.latitude_deg)
    pole = np.array([0.0, np.cos(latitude), np.sin(latitude)])[:, None]
    # Along the sun's way, and square to it.
    along = np.cross(sky, pole, axis=0)
    along = along / np.linalg.norm(along, axis=0)
    square = np.cross(sky, along, axis=0)
    place_here, ahead, beside = (
        np.stack(back.place(pointing, sky + TURN * step)[:2]) for step in (0, along, square)
    )
    way, aside = (ahead - place_here) / TURN, (beside - place_here) / TURN
    across = np.stack([-way[1], way[0]]) / np.hypot(*way)
    disc = np.abs((across * aside).sum(axis=0))
    return np.hypot(np.radians(sun.DISC_DEG) * disc, hole_mm), across


def _apart(noons: Array, across: Array, days: float) -> Array:
    """Distance between the lines of noons so many days apart [mm], square to them."""
    moved = noons[:, days:] - noons[:, :-days]
    return np.abs((moved * across[:, :-days]).sum(axis=0))


def _opens_after(noons: Array, across: Array, width_mm: Array) -> int | None:
    """noons, across: (2, n), nan where a noon is not on the paper; width_mm (n,)."""
    for days in range(1, min(MOST_DULL_DAYS, noons.shape[1] - 1) + 1):
        wide = (width_mm[days:] + width_mm[:-days]) / 2
        if (_apart(noons, across, days) > wide).any():
            return days - 1
    return None


@dataclass(frozen=True)
class Darkening:
    """Time that the image of the sun rests on a place of its trails, as minutes of clear sun at
    f/200: usual_min, which half of the light stays below, and most_min where lines crowd; 0 where
    nothing lands.
    """

    usual_min: float
    most_min: float


def darkening(
    drawn: Trails,
    back: Back,
    pointing: Pointing,
    f_number: float,
    hole_mm: float,
    sunshine: Array | None = None,
) -> Darkening:
    """The Darkening of Trails.

    drawn: solargraph.Trails; f_number, hole_mm [above 0]; sunshine: share of each day in which the
    sun really shone, (n,), all of it if None. Raises ValueError outside. A relative figure:
    printing-out is not proportional for long, and papers differ by stops. Source: time added up on
    places as wide as a line, light after Back.land, spread where the hole is wider than the disc.
    """
    scale = (200 / float(checked("f_number", f_number, above=0))) ** 2
    hole = float(checked("hole_mm", hole_mm, above=0))
    pair = drawn.on_paper[:, :-1] & drawn.on_paper[:, 1:]
    single = drawn.on_paper & ~_beside(pair)
    if not drawn.on_paper.any():
        return Darkening(0.0, 0.0)
    track = drawn.track
    weight = np.full(drawn.on_paper.shape, np.nan)
    landing = back.land(
        pointing, track.azimuth_deg[drawn.on_paper], track.altitude_deg[drawn.on_paper]
    )
    disc = landing.ray_mm * np.radians(sun.DISC_DEG)
    weight[drawn.on_paper] = landing.illuminance * scale * disc**2 / (disc**2 + hole**2)
    if sunshine is not None:
        weight = weight * np.asarray(sunshine)[:, None]
    step = float(track.minutes[1] - track.minutes[0])
    x, y, minutes = _followed(drawn, pair, weight, step)
    x, y = np.append(x, drawn.x_mm[single]), np.append(y, drawn.y_mm[single])
    minutes = np.append(minutes, weight[single] * step)
    cell = float(np.median(np.hypot(disc, hole)))
    rests = _on_places(x / cell, y / cell, minutes)
    return Darkening(*_by_light(rests, 0.5, 0.99))


def _by_light(rests: Array, *shares: float) -> list[float]:
    """Value that so large a share of all the light stays below: a place at the rim of a trail
    counts little.
    """
    ordered = np.sort(rests)
    below = np.cumsum(ordered)
    return [float(ordered[np.searchsorted(below, share * below[-1])]) for share in shares]


def _beside(pair: Array) -> Array:
    """True for samples with a neighbour on the paper."""
    beside = np.zeros((pair.shape[0], pair.shape[1] + 1), bool)
    beside[:, :-1] |= pair
    beside[:, 1:] |= pair
    return beside


def _followed(
    drawn: Trails, pair: Array, weight: Array, step_min: float
) -> tuple[Array, Array, Array]:
    """(x, y, minutes) along the trails, in steps of FOLLOWED_MIN or less."""
    parts = max(1, int(np.ceil(step_min / FOLLOWED_MIN)))
    share = (np.arange(parts) + 0.5) / parts
    x, y, minutes = (
        (a[:, :-1][pair][:, None] * (1 - share) + a[:, 1:][pair][:, None] * share).ravel()
        for a in (drawn.x_mm, drawn.y_mm, weight)
    )
    return x, y, minutes * step_min / parts


def _on_places(x: Array, y: Array, minutes: Array) -> Array:
    """The minutes added up on each place, one unit wide, that has any."""
    column, row = (np.floor(a - a.min()).astype(int) for a in (x, y))
    total = np.bincount(row * (column.max() + 1) + column, weights=minutes)
    return total[total > 0] if (total > 0).any() else np.zeros(1)


def mirrored_share(altitude_deg: ArrayLike, index: float = 1.33) -> Numbers:
    """The share of the sun's light that still water gives back, sun at that altitude.

    altitude_deg [0 to 90], any shape; index: of water. Raises ValueError outside. Source: Fresnel's
    equations for unpolarised light.
    """
    sine = np.sin(np.radians(checked("altitude_deg", altitude_deg, least=0, most=90)))
    inside = np.sqrt(index**2 - 1 + sine**2)
    across = ((sine - inside) / (sine + inside)) ** 2
    along = ((index**2 * sine - inside) / (index**2 * sine + inside)) ** 2
    result = (across + along) / 2
    return float(result) if np.ndim(result) == 0 else result
