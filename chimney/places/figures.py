"""The sun's height through one day at a place."""

import numpy as np

from chimney.parts import svg
from chimney.parts.axes import Axis
from chimney.parts.scales import compass
from chimney.places import craft

SUN_WIDTH, SUN_HEIGHT = 460.0, 170.0
SUN_LEFT, SUN_RIGHT, SUN_TOP, SUN_BASE = 34.0, 8.0, 10.0, 142.0
# Drawn down to the end of nautical twilight.
DRAWN_FROM_DEG = -12.0


def height_of_day(sun_day):
    """A Drawing of altitude against the hours of the place's clock."""
    start, end = craft.bounds(sun_day.place, sun_day.day)
    day_light = craft.daylight(sun_day.place, start, end)
    top = max(30.0, float(np.ceil(day_light.altitude_deg.max() / 15) * 15))

    x = Axis(0.0, float(day_light.times_s[-1]), SUN_LEFT, SUN_WIDTH - SUN_RIGHT)
    y = Axis(DRAWN_FROM_DEG, top, SUN_BASE, SUN_TOP)
    level, risen = y(0), day_light.altitude_deg > DRAWN_FROM_DEG
    path = list(zip(x(day_light.times_s[risen]), y(day_light.altitude_deg[risen]), strict=True))
    shapes = [svg.rect(SUN_LEFT, SUN_TOP, SUN_WIDTH - SUN_LEFT - SUN_RIGHT, level - SUN_TOP, "sky")]
    shapes += [
        svg.polyline(path, "sun-path"),
        svg.line(SUN_LEFT, level, SUN_WIDTH - SUN_RIGHT, level, "axis"),
    ]
    for degrees in range(15, int(top) + 1, 15):
        shapes += [svg.line(SUN_LEFT, y(degrees), SUN_WIDTH - SUN_RIGHT, y(degrees), "grid")]
        shapes += [svg.text(SUN_LEFT - 5, y(degrees) + 4, f"{degrees}°", "label", "end")]
    for hour in range(0, 25, 4):
        place_x = x(hour / 24 * day_light.times_s[-1])
        shapes.append(svg.text(place_x, SUN_BASE + 20, f"{hour}", "label", "middle"))
    label = sun_day.words
    if sun_day.noon:
        noon = f"{sun_day.noon_altitude_deg:.0f} degrees at {sun_day.noon:%H:%M}"
        label += f"; highest {noon}, in the {compass(sun_day.noon_azimuth_deg)}"
    return svg.Drawing("The sun's height", label, SUN_WIDTH, SUN_HEIGHT, tuple(shapes), "sun-day")
