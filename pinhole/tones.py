"""The curve by which a paper turns light into density."""

from __future__ import annotations

from dataclasses import dataclass
from math import log

import numpy as np

from pinhole import media
from pinhole.ranges import Array, Numbers, checked

# Where the metered middle of a scene falls on the scale of a sheet that came out right, as a share
# of it (common practice: a little under the middle of a negative, whose skies are dark).
MIDDLE_OF_SCALE = 0.42
# Shadows of ISO range begin this much over base, and end at this share of the scale.
TOE, SHOULDER = 0.04, 0.90
# What lies nearer to an end of the scale than this tells no exposure.
FLAT = 0.02


@dataclass(frozen=True)
class ToneCurve:
    """Curve by which a paper turns light into density: dmin, dmax; range_stops: from TOE over base
    to SHOULDER of its scale, the sense of an ISO range. Raises ValueError outside.
    """

    dmin: float = 0.06
    dmax: float = 1.95
    range_stops: float = 5.0

    def __post_init__(self) -> None:
        checked("dmin", self.dmin, least=0)
        checked("dmax", self.dmax, above=self.dmin + 0.2, most=3)
        checked("range_stops", self.range_stops, least=0.5, most=20)

    @property
    def steepness(self) -> float:
        """Of the logistic, in shares a stop. Source: definition of the range."""
        toe = TOE / (self.dmax - self.dmin)
        return (_logit(SHOULDER) - _logit(toe)) / self.range_stops

    def share(self, stops: Numbers) -> Numbers:
        """The share of the scale that so much light, in stops from right, makes of a negative."""
        return 1 / (
            1 + np.exp(-(self.steepness * np.asarray(stops, float) + _logit(MIDDLE_OF_SCALE)))
        )

    def density(self, stops: Numbers, medium: str = "negative") -> Numbers:
        """The density of that light; a positive's falls where a negative's grows."""
        share = self.share(stops)
        share = 1 - share if media.medium(medium).is_positive else share
        return self.dmin + (self.dmax - self.dmin) * share

    def light_for(self, share: Numbers) -> Numbers:
        """The light that makes a share of the scale [stops from right], the inverse of share()."""
        return (_logit(share) - _logit(MIDDLE_OF_SCALE)) / self.steepness

    def stops(self, densities: Array, medium: str = "negative") -> Array:
        """The light that made a density [stops from right]; held within FLAT of both ends."""
        share = (np.asarray(densities, float) - self.dmin) / (self.dmax - self.dmin)
        share = 1 - share if media.medium(medium).is_positive else share
        return np.asarray(self.light_for(np.clip(share, FLAT, 1 - FLAT)))


@dataclass(frozen=True)
class PointCurve(ToneCurve):
    """A curve through points, straight between them: at_stops [stops from right], rising;
    at_shares: of the scale, rising; both (n,). range_stops follows from them.
    """

    at_stops: tuple[float, ...] = (-4.0, 4.0)
    at_shares: tuple[float, ...] = (0.0, 1.0)

    def share(self, stops: Numbers) -> Numbers:
        """The share of the scale that so much light makes of a negative."""
        return np.interp(stops, self.at_stops, self.at_shares)

    def light_for(self, share: Numbers) -> Numbers:
        """The light that makes a share of the scale [stops from right]."""
        return np.interp(share, self.at_shares, self.at_stops)


def _logit(share: Numbers) -> Numbers:
    return np.log(share / (1 - share)) if np.ndim(share) else log(share / (1 - share))
