"""Lessons of a paper's own sheets on its curve: how they were judged, what light made them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pinhole import media
from pinhole.ranges import Array
from pinhole.scans.candidates import Curves, Known, curves
from pinhole.scans.reading import KEY_SD, by_each
from pinhole.scans.tones import SheetTones
from pinhole.tones import ToneCurve

# A density beside what its light would make: its sd, how often it is of something else (somebody
# stood there), and how much of its neighbour's error each shares (common practice).
DENSITY_SD, ODD_SHARE, OWN_SHARE = 0.1, 0.05, 1 / 3
# How far a whole sheet may lie from the light that was foreseen [stops].
OFFSETS = np.linspace(-4.0, 4.0, 41)
OFFSET_SD = 1.2


@dataclass(frozen=True)
class LitTones:
    """Tones of a sheet whose scene was measured: stops: light that it was to get over right,
    densities; (k,) each.
    """

    stops: Array
    densities: Array


def know(
    sheets: Sequence[tuple[SheetTones, float]],
    curve: ToneCurve,
    *,
    medium: str = "negative",
    verdict_sd: float = 0.4,
    lit: Sequence[LitTones] = (),
) -> Known:
    """The Known of judged sheets of a paper: (its SheetTones, stops of light that it needed more).

    verdict_sd [stops]: of one verdict; lit: sheets of it whose scenes were measured. Source: the
    same average as read_scan, over all sheets together; the mean of what is left is a normal's.
    """
    every = curves(curve)
    weights, noise = np.zeros(len(every.prior)), float(np.hypot(verdict_sd, KEY_SD))
    surpluses = []
    for tones, needed in sheets:
        result = by_each(tones, every, medium)
        sd = np.hypot(noise, result.tail_sd)
        weights += result.likely - ((result.surplus + needed) / sd) ** 2 / 2 - np.log(sd)
        surpluses.append(result.surplus + needed)
    for known_light in lit:
        weights += _lit(known_light, every, medium)
    best = np.exp(every.prior + weights - (every.prior + weights).max())
    best /= best.sum()
    leftovers = [float(best @ surplus) for surplus in surpluses]
    precision = 1 / KEY_SD**2 + len(leftovers) / noise**2
    shift = float(np.sum(leftovers)) / noise**2 / precision
    return Known(weights, shift, precision**-0.5, len(sheets) + len(lit))


def _lit(tones: LitTones, every: Curves, medium: str) -> Array:
    """Log likelihood of each curve by what known light made, (n,), however much of it there was.

    Source: each density is normal about its curve's, or of something else; summed over offsets.
    """
    odds = np.empty((OFFSETS.size, every.prior.size))
    for n, offset in enumerate(OFFSETS):
        share = every.shares(np.asarray(tones.stops, float) + offset)
        share = 1 - share if media.medium(medium).is_positive else share
        drawn = every.base[:, None] + (every.blackest - every.base)[:, None] * share
        away = (np.asarray(tones.densities, float) - drawn) / DENSITY_SD
        each = np.log((1 - ODD_SHARE) * np.exp(-(away**2) / 2) + ODD_SHARE * DENSITY_SD)
        odds[n] = OWN_SHARE * each.sum(axis=1) - (offset / OFFSET_SD) ** 2 / 2
    return np.asarray(np.logaddexp.reduce(odds, axis=0))
