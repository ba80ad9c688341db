"""Photos that the invented photographer took of invented views before exposing sheets to them: as a
phone would, with a tone of its own and a light that is a little off.
"""

import random
from dataclasses import replace
from datetime import timedelta

import numpy as np

from chimney.field.photo import flows
from chimney.field.photo.craft import Scenery
from chimney.field.photo.files import Brought
from chimney.parts import clock, previews
from chimney.results.curves.craft import curve_of
from pinhole import scene
from pinhole.projection import Pointing

WIDE_PX, HIGH_PX = 1000, 800
# A phone keeps its highlights, and is a little off; a darker mean than its meter's (invented).
KEEPS_STOPS, PHONE_OFF_STOPS, PHONE_SD = 1.0, -0.3, 0.15
MIDDLE_GREY, BEFORE = 0.18, timedelta(minutes=4)


def take(exposure, light):
    """Take a photo of what an Exposure was made of, with the spots that were metered; light: of the
    view over its middle, (HIGH_PX, WIDE_PX).
    """
    reading, camera = exposure.calculation.reading, exposure.camera
    chance = random.Random(f"{exposure.sheet.code} by phone")
    set_ev100 = reading.ev100 + KEEPS_STOPS + chance.gauss(PHONE_OFF_STOPS, PHONE_SD)
    half_across, _ = camera.geometry.half_mm
    focal_px = WIDE_PX / 2 * camera.focal_mm / half_across
    equivalent_mm = focal_px * scene.FRAME_DIAGONAL_MM / float(np.hypot(WIDE_PX, HIGH_PX))
    with clock.at(exposure.made_at - BEFORE):
        photo = flows.bring(
            Brought(
                _jpeg(light),
                *(WIDE_PX, HIGH_PX, set_ev100, "An invented phone", round(equivalent_mm, 1)),
                *(clock.now(), None, None, None, "demo phone", False, False),
            )
        )
        here = Scenery(
            *(photo, camera, exposure.sheet.paper, (), Pointing(0), photo.equivalent_mm),
            curve_of(exposure.sheet.paper),
        )
        here = replace(here, places=_places(here))
        answers = {"camera": camera, "paper": here.paper, "upright": False, "meter_ev100": None}
        answers |= dict.fromkeys(("turn_deg", "tilt_deg", "right_cm", "lower_cm", "nearer_cm"))
        answers |= {"away_m": None, "equivalent_mm": photo.equivalent_mm}
        flows.keep(photo, answers, here.spots, None)
    flows.expose(photo, exposure, reading)


def _jpeg(light):
    """The codes of a phone that shows the middle darker than grey, to keep the highlights."""
    linear = np.clip(MIDDLE_GREY * light / 2.0**KEEPS_STOPS, 0, 1)
    share = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    grey = np.round(255 * share).astype(np.uint8)
    return previews.jpeg(np.repeat(grey[..., None], 3, axis=2))


def _places(here):
    """Places of shadow, middle (where the scene is as light as its mean) and highlight."""
    shadow, _, highlight = scene.proposed(here.eye)
    goal = here.photo.set_ev100 - KEEPS_STOPS
    grid = [(x, y) for x in np.linspace(0.2, 0.8, 9) for y in np.linspace(0.25, 0.8, 9)]
    middle = min(grid, key=lambda place: abs(scene.spot(here.eye, *place).ev100 - goal))
    return (shadow.x, shadow.y), tuple(map(float, middle)), (highlight.x, highlight.y)
