"""How to point a can: the least lean, the best way for what one wants, and finding it without
instruments.
"""

from dataclasses import dataclass
from math import tan

import numpy as np

from pinhole import solargraph
from pinhole.projection import Pointing, directions
from pinhole.ranges import checked

STEEPEST_DEG = 60.0


def wedge_mm(width_mm, tilt_deg):
    """How high a wedge or shim leans a can of that width by that tilt: width * tan(tilt).

    width_mm [mm, above 0], tilt_deg [-80 to 80]; scalars; negative leans it forward. Raises
    ValueError outside.
    Source: geometry.
    """
    width = float(checked("width_mm", width_mm, above=0))
    return width * tan(np.radians(float(checked("tilt_deg", tilt_deg, least=-80, most=80))))


def least_tilt_deg(sun_track, back, azimuth_deg, roll_deg=0.0):
    """The least lean back, to half a degree, with which no noon of the Track passes over the top;
    None without one.

    sun_track: solargraph.Track; back: a projection back; azimuth_deg, roll_deg [any]. Source:
    over_top of the noons alone.
    """
    noon = directions(
        np.radians(sun_track.noon_azimuth_deg), np.radians(sun_track.noon_altitude_deg)
    )
    for tilt in np.arange(0, STEEPEST_DEG + 0.1, 0.5):
        x, y, _ = back.place(Pointing(azimuth_deg, float(tilt), roll_deg), noon)
        if not solargraph.over_top(back, x, y).any():
            return float(tilt)
    return None


@dataclass(frozen=True)
class Best:
    """A way to point and what it gives: azimuth_deg, tilt_deg, share of the wanted sun on the
    paper.
    """

    azimuth_deg: float
    tilt_deg: float
    share: float


# Coarse to fine: steps of direction and tilt in degrees, and how far around the best so far to
# look.
STEPS = ((15.0, 10.0, None), (4.0, 4.0, 16.0), (1.0, 1.0, 4.0))
# Of two ways that show as much, the more upright and the nearer to the sun's middle is better:
# shares per degree.
LEAN_COSTS, TURN_COSTS = 2e-4, 5e-5
SAMPLES = 1500


def best(sun_track, back, *, horizon=None, minutes=None, wanted=None, tilts=(-20.0, 50.0)):
    """The Best pointing for the sun that is wanted.

    sun_track: solargraph.Track; back, horizon, minutes as solargraph.trails; wanted: which samples
    of the Track, bool (n, t), all counted ones if None; tilts: least and greatest [degrees]. Raises
    ValueError where no sun is wanted.
    Source: search over the same computation as the survey, thinned evenly to SAMPLES moments.
    """
    counted = solargraph.trails(sun_track, back, Pointing(0), horizon, minutes).counted
    chosen = counted if wanted is None else counted & wanted
    sky = sun_track.sky[:, chosen[sun_track.up]]
    if not sky.shape[1]:
        raise ValueError("no sun stands above the horizon in what is wanted")
    sky = sky[:, :: max(1, sky.shape[1] // SAMPLES)]
    middle = float(np.degrees(np.arctan2(*sky[:2].mean(axis=1))) % 360)

    def worth(azimuth, tilt):
        """(what it is worth, the share of the sun, azimuth, tilt) of pointing that way."""
        share = float(back.place(Pointing(azimuth, tilt), sky)[2].mean())
        off = abs((azimuth - middle + 180) % 360 - 180)
        return share - LEAN_COSTS * abs(tilt) - TURN_COSTS * off, share, azimuth % 360, tilt

    best_yet = worth(middle, 0.0)
    for turn, lean, reach in STEPS:
        around = (
            np.arange(0, 360, turn)
            if reach is None
            else best_yet[2] + np.arange(-reach, reach + 0.1, turn)
        )
        leans = (
            np.arange(tilts[0], tilts[1] + 0.1, lean)
            if reach is None
            else best_yet[3] + np.arange(-reach, reach + 0.1, lean)
        )
        leans = [float(tilt) for tilt in leans if tilts[0] <= tilt <= tilts[1]]
        best_yet = max([best_yet, *(worth(float(a), tilt) for a in around for tilt in leans)])
    return Best(float(best_yet[2]), float(best_yet[3]), best_yet[1])


def stick_shadow_deg(sun_azimuth_deg):
    """Where the shadow of an upright stick points: opposite the sun. Any shape. Source:
    geometry.
    """
    return (np.asarray(sun_azimuth_deg, dtype=np.float64) + 180) % 360


def compass_deg(true_deg, declination_deg):
    """What a compass shows for a true direction: true less declination (east positive). Source:
    definition.
    """
    return (np.asarray(true_deg, dtype=np.float64) - declination_deg) % 360
