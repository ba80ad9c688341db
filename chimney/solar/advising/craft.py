"""Calls to the craft for how a can should stand, and what is lost as it does."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from pinhole import solargraph
from pinhole.solargraph import noons

KEPT_CURES = 4


@dataclass(frozen=True)
class Cure:
    """Remedy for lost suns: stand, a noons.Stand; total: of how many; share: of the sun's time
    that is on the paper then; landscape: whether the horizon ahead is.
    """

    stand: noons.Stand
    total: int
    share: float
    landscape: bool


def _wanted_sky(prediction):
    """Unit vectors of the suns that a can shall keep: its noons, or those of its clock time."""
    track, trails = prediction.track, prediction.trails
    if prediction.is_eight:
        return track.sky[:, trails.counted[track.up]]
    return track.noon_sky[:, trails.noon_seen]


def cure(prediction):
    """The Cure of a Prediction's lost noons, or of what its clock time loses; None where nothing is
    lost or no way keeps more.
    """
    if prediction.minutes and not prediction.is_eight:
        return None
    sky = _wanted_sky(prediction)
    stand = noons.remedy(
        sky,
        prediction.back,
        prediction.pointing,
        _half_a_trail_mm(prediction),
        due=not prediction.minutes,
    )
    if stand is None:
        return None
    share = _share_on_paper(
        prediction.track, prediction.back, stand.pointing, prediction.skyline, prediction.minutes
    )
    landscape = noons.horizon_on_paper(prediction.back, stand.pointing)
    return Cure(stand, sky.shape[1], share, landscape)


@lru_cache(maxsize=KEPT_CURES)
def _share_on_paper(*stands):
    """Share of the sun's time that trails keep; kept, since one way may cure all that a can is
    dragged to.
    """
    return solargraph.summed(solargraph.trails(*stands)).share_on_paper


def kept_out(prediction):
    """Share of the sun's time that would lie on the paper, and that the hole's own tube or the
    opening before it keeps out.
    """
    if prediction.back.half_field_deg >= 90 or not prediction.survey.days:
        return 0.0
    trails = prediction.trails
    held = trails.counted & prediction.back.holds(trails.x_mm, trails.y_mm)
    return float((held & ~trails.on_paper).sum() / max(1, trails.counted.sum()))


def stand_of(prediction):
    """The noons.Stand of the way that a can faces: which leans keep as many noons as any."""
    aim = prediction.pointing
    return noons.stand(
        _wanted_sky(prediction),
        prediction.back,
        aim.azimuth_deg,
        aim.roll_deg,
        near_deg=aim.tilt_deg,
        margin_mm=_half_a_trail_mm(prediction),
    )


def _half_a_trail_mm(prediction):
    """Distance from the edge at which a noon is drawn whole; 0 where no trail lands."""
    return float(np.nan_to_num(prediction.lines.usual_mm)) / 2


def fates(prediction):
    """Fate of each day's noon, as noons.fate tells it."""
    return noons.fate(prediction.track, prediction.back, prediction.pointing, prediction.skyline)
