"""Calls to the craft for times by the sun's height and the sky, true on any day of the year."""

from dataclasses import dataclass

import numpy as np

from chimney.field.hours.queries import specify_with
from chimney.field.light.craft import Lit, colour_in
from pinhole import exposure, light

HEIGHTS_ON_CARD_DEG = (60, 45, 30, 20, 15, 10, 7, 5, 3, 1)
# Side and back of the light, told at that height.
SIDE_LIGHT_DEG, BACK_LIGHT_DEG, TOLD_AT_DEG = 90.0, 180.0, 30.0


@dataclass(frozen=True)
class ByHeight:
    """Times of a camera and a paper; ratings: the lessons' Ratings."""

    camera: object
    paper: object
    ratings: object

    def seconds(self, sky, height_deg, off_deg=0.0):
        """A plan's time by a light.Sky with the sun at a height, so far from behind the camera."""
        lit = Lit(float(height_deg), off_deg, stops_less=sky.stops_less)
        ev100 = light.scene_ev100(lit.altitude_deg, lit.off_deg, stops_less=sky.stops_less)
        specify = specify_with(self.camera, self.paper, sky.name, self.ratings)
        spec = specify(colour=colour_in(self.paper, lit))
        return exposure.calculate(exposure.read_ev(float(ev100), 100, ""), spec).exact_s

    @property
    def rows(self):
        """[(height, length of a shadow in lengths of what throws it, [seconds by sky])]."""
        for height in HEIGHTS_ON_CARD_DEG:
            shadow = float(1 / np.tan(np.radians(height)))
            yield height, shadow, [self.seconds(sky, height) for sky in light.SKIES]

    @property
    def turned(self):
        """(aside, against): what to multiply by where the sun does not stand behind."""
        sky = light.SKIES[0]
        straight = self.seconds(sky, TOLD_AT_DEG)
        angles = SIDE_LIGHT_DEG, BACK_LIGHT_DEG
        return tuple(self.seconds(sky, TOLD_AT_DEG, angle) / straight for angle in angles)
