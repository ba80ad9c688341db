"""Calls to the craft for a sheet beside the photo that let one foresee it."""

from dataclasses import dataclass
from math import isfinite

from chimney.field.photo.craft import STAND_FIELDS, USUAL_EQUIVALENT_MM, Scenery, aimed, stand
from chimney.results.scans.craft import Pictured
from pinhole import scene


@dataclass(frozen=True)
class Beside:
    """A sheet beside what was foreseen of it: stops: light over right that it got; corners: that
    they got more beside that, None where nobody can tell; light, densities: its tones.
    """

    stops: float
    corners: float | None
    light: list
    densities: list


def as_kept(photo, curve):
    """The Scenery of a ScenePhoto as it was kept; curve: of its paper."""
    return Scenery(
        *(photo, photo.camera, photo.paper, tuple(map(tuple, photo.spots))),
        aimed(photo.turn_deg, photo.tilt_deg, upright=photo.upright),
        photo.equivalent_mm or USUAL_EQUIVALENT_MM,
        curve,
        stand=stand(*(getattr(photo, name) for name in STAND_FIELDS)),
    )


def beside(scenery, scan, stops):
    """A Scan Beside the sheet that was foreseen with so many stops more than planned; None where
    nothing can be told.
    """
    # The emulsion shows the scene mirrored.
    densities, sheet = Pictured.of(scan).inside[:, ::-1], scenery.foreseen(stops)
    lies = [each.shape[0] > each.shape[1] for each in (densities, sheet.densities)]
    if lies[0] != lies[1]:
        return None
    away = scene.difference(densities, sheet, scenery.curve, scenery.paper.kind)
    if away is None:
        return None
    light, tones = scene.lit_tones(densities, sheet)
    corners = round(away.corners, 3) if isfinite(away.corners) else None
    surplus = round(away.stops + stops, 3)
    return Beside(surplus, corners, light.round(3).tolist(), tones.round(3).tolist())
