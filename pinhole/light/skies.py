"""The sky and the sun judged by eye, and the light that they throw on an upright subject."""

from dataclasses import dataclass

import numpy as np

from pinhole.light.subject import subject_ev100


@dataclass(frozen=True)
class Sky:
    """What the eye calls a sky. stops_less: what it takes of the light on level ground; sd_stops:
    how much such skies differ.
    """

    name: str
    words: str
    stops_less: float
    sd_stops: float

    @property
    def ev100(self):
        """Exposure value at ISO 100 on an upright subject with a high sun in its face."""
        return by_eye(self, HEIGHTS[0])[0]


@dataclass(frozen=True)
class Height:
    """How the sun stands to the subject: its height and how far it is from the subject's face, as
    subject_ev100 has them; sd_stops: how much such lights differ.
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
HEIGHTS = (
    Height("high", "sun high", 45.0, 0.0, False, 0.2),
    Height("middle", "sun halfway up, or winter noon", 20.0, 0.0, False, 0.3),
    Height("low", "sun low, a hand above the horizon", 10.0, 0.0, False, 0.6),
    Height("side", "sun from the side", 30.0, 70.0, False, 0.5),
    Height("shade", "subject in open shade, or against the sun", 40.0, 180.0, True, 0.7),
)


def by_eye(sky, height):
    """(ev100, sd_stops) of the light on an upright subject, from a Sky and a Height judged by eye.

    Source: subject_ev100; which sky takes how much is common practice.
    """
    ev100 = subject_ev100(
        height.altitude_deg, height.off_deg, stops_less=sky.stops_less, shade=height.shade
    )
    return ev100, float(np.hypot(sky.sd_stops, height.sd_stops))
