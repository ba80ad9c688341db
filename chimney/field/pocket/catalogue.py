"""Scales of meters. Common practice."""

from pinhole import durations

# Third stops, as meters show them and as one would type them: EV from deep dusk to snow in the sun,
# and seconds.
EVS = [round(n / 3, 1) for n in range(-12, 52)]
FRACTIONS_UNDER = (60, 50, 40, 30, 25, 20, 15, 13, 10, 8, 6, 5, 4)
SECONDS_OVER = (
    0.3,
    0.4,
    0.5,
    0.6,
    0.8,
    1,
    1.3,
    1.6,
    2,
    2.5,
    3.2,
    4,
    5,
    6,
    8,
    10,
    13,
    15,
    20,
    25,
    30,
)
MINUTES = (40, 50, 60, 80, 100, 120, 160, 200, 240, 320, 400, 480, 640, 800, 960)
HALF_HOURS = (1200, 1500, 1800, 2400, 3000, 3600, 4800, 6000, 7200)
SECONDS = [*(1 / n for n in FRACTIONS_UNDER), *map(float, SECONDS_OVER + MINUTES + HALF_HOURS)]


def said(seconds):
    return f"1/{round(1 / seconds)} s" if seconds < SECONDS_OVER[0] else durations.say(seconds)
