"""Readings of the light: seconds, EV, lux, or the sky by eye, each told as seconds at an f-number
and an ISO.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import log2
from typing import TYPE_CHECKING

from pinhole import light, optics

if TYPE_CHECKING:
    from pinhole.light.skies import Height, Sky


# How far a meter may be off, until something better is known (common practice).
METER_SD_STOPS = 1 / 6


@dataclass(frozen=True)
class Reading:
    """Reading of the light, as seconds at an f-number and an ISO.

    kind: "seconds", "ev", "lux" or "sky"; said: how it was typed; sd_stops: how far the reading
    itself may be off; seen, eye_stops: what the eye called the sky beside a meter, the name of a
    light.Sky, and how many stops more light it would have taken it for, None where it did not say;
    spots_stops: how far apart darkest and brightest were metered, whose middle it is, None for one
    value.
    """

    kind: str
    said: str
    seconds: float
    f_number: float
    iso: float
    sd_stops: float = METER_SD_STOPS
    seen: str = ""
    eye_stops: float | None = None
    spots_stops: float | None = None

    @property
    def ev100(self) -> float:
        """The same as an exposure value at ISO 100. Source: ANSI PH2.5."""
        return log2(self.f_number**2 * 100 / (self.seconds * self.iso))


def read_ev(
    ev: float, iso: float, said: str, *, kind: str = "ev", sd_stops: float = METER_SD_STOPS
) -> Reading:
    """A Reading from an exposure value shown at `iso`, told as seconds at the usual last f-number
    of a meter.

    ev [at that ISO], iso [above 0]. Raises ValueError outside. Source: ANSI PH2.5 additive system.
    """
    ev100 = light.ev100_at_iso(ev, iso)
    seconds = light.metered_s(ev100, optics.METER_F_NUMBER, iso)
    return Reading(kind, said, seconds, optics.METER_F_NUMBER, iso, sd_stops)


def read_lux(lux: float, said: str) -> Reading:
    """A Reading from incident light [lx, above 0] on a flat receptor. Raises ValueError outside."""
    return read_ev(light.ev100_from_lux(lux), 100, said, kind="lux")


def read_sky(
    sky: Sky,
    height: Height,
    said: str,
    *,
    altitude_deg: float | None = None,
    off_deg: float | None = None,
) -> Reading:
    """A Reading from a light.Sky and a light.Height judged by eye, with the doubt that belongs to
    them; altitude_deg, off_deg: as light.by_eye.
    """
    ev100, sd_stops = light.by_eye(sky, height, altitude_deg=altitude_deg, off_deg=off_deg)
    return read_ev(ev100, 100, said, kind="sky", sd_stops=sd_stops)


def seen_as(
    reading: Reading,
    sky: Sky,
    height: Height | None = None,
    *,
    altitude_deg: float | None = None,
    off_deg: float | None = None,
) -> Reading:
    """A metered Reading beside what the eye makes of the same light: a light.Sky and, where that is
    said, a light.Height, without which the eye names no amount; altitude_deg, off_deg: as
    light.by_eye.
    """
    if height is None:
        return replace(reading, seen=sky.name)
    ev100, _ = light.by_eye(sky, height, altitude_deg=altitude_deg, off_deg=off_deg)
    return replace(reading, seen=sky.name, eye_stops=float(ev100 - reading.ev100))
