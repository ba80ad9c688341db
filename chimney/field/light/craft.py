"""Light on a scene, by the sky that the eye named or by a reading, and what its colour asks of a
paper.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

from chimney.kit.catalogue.papers import BLUENESS
from chimney.places import craft as places
from pinhole import light


@dataclass(frozen=True)
class Lit:
    """Light on a scene: height of the sun and its angle from behind the camera, None for both where
    nobody knows; shade: whether it has no direct sun; stops_less, stops_less_sd: what cloud takes,
    and how sure that is; looks_deg: where the camera looks, None where nobody said.
    """

    altitude_deg: float | None = None
    off_deg: float = 0.0
    shade: bool = False
    stops_less: float = 0.0
    stops_less_sd: float = 0.0
    looks_deg: float | None = None

    @property
    def has_shadows(self):
        """True if the sun throws shadows that one sees."""
        up = self.altitude_deg is None or self.altitude_deg > 0
        return up and not self.shade and self.stops_less < light.SHADOWS_STOPS


NOBODY_KNOWS = Lit()


def lit_at(place, moment, *, looks_deg=None, shade=False, sky=None, ev100=None):
    """The Lit of a scene at a moment: cloud as the eye called it, else as a reading of so many EV
    tells it against the clear sky of that moment, else none.

    sky: a light.Sky or None; ev100: at ISO 100 or None.
    """
    lit = Lit(shade=shade, looks_deg=looks_deg, stops_less=sky.stops_less if sky else 0.0)
    if place is None or moment is None:
        return lit
    azimuth, altitude = places.sun_at(place, moment)
    lit = replace(lit, altitude_deg=altitude, off_deg=places.off_deg(azimuth, looks_deg))
    return lit if sky or ev100 is None else as_read(lit, ev100)


def as_read(lit, ev100):
    """A Lit under the cloud that a reading of so many EV at ISO 100 tells of; the same where nobody
    knows how the sun stands.
    """
    if lit.altitude_deg is None:
        return lit
    less, sd = light.cloud_stops(ev100, lit.altitude_deg, lit.off_deg, shade=lit.shade)
    return replace(lit, stops_less=less, stops_less_sd=sd)


# With the sun this low it is twilight, whose colour this does not know.
LOWEST_COLOUR_DEG = 0.5


def colour_in(paper, lit):
    """(stops, sd) that the colour of the light of a Lit asks of a paper; nothing where nobody knows
    how the sun stands.
    """
    weight = BLUENESS[paper.sees]
    if not weight or lit.altitude_deg is None or lit.altitude_deg <= LOWEST_COLOUR_DEG:
        return 0.0, 0.0
    stops, sd = _blue_stops(replace(lit, looks_deg=None))
    small = abs(weight * stops) < light.LEAST_COLOUR_STOPS
    return (0.0, 0.0) if small else (weight * stops, weight * sd)


@lru_cache(maxsize=1024)
def _blue_stops(lit):
    """(stops, sd) of the light of a Lit for a paper that sees blue alone. A table of readings comes
    to the same light again and again: all that are brighter than a clear sky.
    """
    return light.blue_stops(
        lit.altitude_deg,
        lit.off_deg,
        stops_less=lit.stops_less,
        stops_less_sd=lit.stops_less_sd,
        shade=lit.shade,
    )


def lit_of_shot(shot, *, sky=None, ev100=None, moment=None):
    """The Lit of a Shot on its outing, at its hour if no moment is given: under a light.Sky, or as
    a reading tells it.
    """
    place = shot.outing and shot.outing.place
    at, looks = moment or shot.starts_at, shot.azimuth_deg
    return lit_at(place, at, looks_deg=looks, shade=shot.shade, sky=sky, ev100=ev100)


# A reading that differs more from that of its photo was typed [stops].
SAME_READING_STOPS = 0.02


def by_photo(reading, photo):
    """The Reading as sure as the ScenePhoto that it was taken from, unless another was typed."""
    known = photo and photo.corrected_ev100
    if known is None or abs(reading.ev100 - known) > SAME_READING_STOPS:
        return reading
    return replace(reading, said=f"{reading.said}, by your photo", sd_stops=photo.sd_stops)
