"""The sky and the sun judged by eye, and the light that they throw on a scene."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.light.subject import scene_ev100
from pinhole.ranges import Numbers, checked, plain


@dataclass(frozen=True)
class Sky:
    """A sky as the eye names it. stops_less: what it takes of the light on level ground; sd_stops:
    how much such skies differ.
    """

    name: str
    words: str
    stops_less: float
    sd_stops: float

    @property
    def ev100(self) -> float:
        """Exposure value at ISO 100 on a scene with a high sun behind the camera."""
        return by_eye(self, HEIGHTS[0])[0]


@dataclass(frozen=True)
class Height:
    """Stand of the sun to the scene: its height and its angle from behind the camera, as
    scene_ev100 has them; sd_stops: how much such lights differ.
    """

    name: str
    words: str
    altitude_deg: float
    off_deg: float
    shade: bool
    sd_stops: float


# Common practice: cards on cameras call full sun EV 15 and go one stop down for haze, two for
# bright cloud, three to four for grey and six for heavy cloud, on a subject with the sun in its
# face.
SKIES = (
    Sky("sun", "full sun, sharp shadows", 0.0, 0.3),
    Sky("haze", "bright haze, soft shadows", 0.8, 0.5),
    Sky("bright", "bright cloud, no shadows", 1.4, 0.6),
    Sky("grey", "grey cloud", 2.5, 0.7),
    Sky("heavy", "heavy cloud or rain", 5.0, 1.0),
)
SKY_BY_NAME = {sky.name: sky for sky in SKIES}
# Cloud that takes more than this leaves no shadows that one sees: between haze and bright cloud
# (common practice).
SHADOWS_STOPS = 1.1
HEIGHTS = (
    Height("high", "sun high", 45.0, 0.0, False, 0.2),
    Height("middle", "sun halfway up, or winter noon", 20.0, 0.0, False, 0.3),
    Height("low", "sun low, a hand above the horizon", 10.0, 0.0, False, 0.6),
    Height("side", "sun from the side", 30.0, 90.0, False, 0.5),
    Height("shade", "subject in open shade, or against the sun", 40.0, 180.0, True, 0.7),
)
HEIGHT_BY_NAME = {height.name: height for height in HEIGHTS}


# Doubt of light told by how much of the sky is covered: cloud is thin or thick (common practice).
CLOUD_SHARE_SD_STOPS = 0.8


def cloud_share_stops(share: Numbers) -> Numbers:
    """Stops that cloud takes of the light on level ground, by the share of the sky that it covers.

    share [0 to 1], any shape. Raises ValueError outside. Source: F. Kasten, G. Czeplak, Solar
    Energy 24 (1980), from memory: 1 - 0.75 share^3.4 of a clear sky's light is left. Its spread is
    CLOUD_SHARE_SD_STOPS.
    """
    covered = checked("share", share, least=0, most=1)
    return plain(-np.log2(1 - 0.75 * covered**3.4))


def by_eye(
    sky: Sky, height: Height, *, altitude_deg: float | None = None, off_deg: float | None = None
) -> tuple[float, float]:
    """(ev100, sd_stops) of the light on a scene, from a Sky and a Height judged by eye.

    altitude_deg, off_deg: how the sun really stands, where place and moment tell it, instead of
    what the Height takes it for. Raises ValueError outside.
    Source: scene_ev100; which sky takes how much is common practice.
    """
    ev100 = scene_ev100(
        height.altitude_deg if altitude_deg is None else altitude_deg,
        height.off_deg if off_deg is None else off_deg,
        stops_less=sky.stops_less,
        shade=height.shade,
    )
    return ev100, float(np.hypot(sky.sd_stops, height.sd_stops))
