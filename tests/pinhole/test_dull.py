"""Dull days, found in pictures that astropy's sun drew as discs, in weather that is known."""

from datetime import date, timedelta
from unittest import TestCase

import numpy as np

from pinhole import solargraph, sun
from pinhole.projection import CanBack, FlatBack, Pointing
from pinhole.solargraph import dull, dull_days
from tests.pinhole.test_sun_against_astropy import astropy_position

PX_PER_MM = 4.0
DISC_DEG = 0.53
# Astropy's sun every so often, and steps between.
EVERY_MIN, FINE = 30, 36
CANS = (
    ((57.1, 19.6), 1, CanBack(66, 178, 100), Pointing(180, 18), date(2026, 12, 27)),
    ((-43.95, 171.6), 12, CanBack(100, 240, 120), Pointing(0, 22), date(2026, 7, 1)),
    ((57.1, 19.6), 1, FlatBack(60, 127, 178), Pointing(180, 25), date(2026, 7, 3)),
)
DAYS = 165


def weather(chance):
    """(n,) whether each day is dull; dull days come in runs of one to nine."""
    dull = np.zeros(DAYS, bool)
    for _ in range(9):
        first = chance.integers(0, DAYS)
        dull[first : first + chance.integers(1, 10)] = True
    return dull


def sun_of(place, offset_h, first, days):
    """(azimuth, apparent altitude) of the sun, (days, times EVERY_MIN apart), by astropy."""
    start = np.datetime64(first, "s") - np.timedelta64(int(offset_h * 3600), "s")
    moments = start + np.arange(0, 1440 * days, EVERY_MIN) * np.timedelta64(60, "s")
    azimuth, altitude = (np.reshape(a, (days, -1)) for a in astropy_position(moments, *place))
    return azimuth, altitude + sun.refraction_deg(np.clip(altitude, -1, 90))


def picture(can, dull, chance):
    """The upright positive: every clear stretch of each day's sun drawn as wide as its disc, more
    light where trails cross, and grain.
    """
    place, offset_h, back, pointing, first = can
    azimuth, altitude = sun_of(place, offset_h, first, len(dull))
    # A clear day has clouds too, an hour here and there.
    hours = 60 // EVERY_MIN
    clear = np.repeat(chance.random((len(dull), 24)) < 0.75, hours, axis=1) & ~dull[:, None]
    landed = back.land(pointing, azimuth, altitude)
    shown = clear & (altitude > 0) & landed.on_paper
    half_x, half_y = back.half_mm
    light = np.zeros((round(2 * half_y * PX_PER_MM), round(2 * half_x * PX_PER_MM)))
    for n in range(len(dull)):
        both = shown[n, :-1] & shown[n, 1:]
        places = [
            _between((values[n] + half) * PX_PER_MM, both)
            for values, half in ((landed.x_mm, half_x), (landed.y_mm, half_y))
        ]
        radius = landed.ray_mm[n] * np.radians(DISC_DEG / 2) * PX_PER_MM
        light += drawn(light.shape, *places, _between(radius, both))
    return np.minimum(light, 2) + chance.normal(0, 0.15, light.shape)


def _between(values, both):
    """Each stretch between two neighbours that are both there, in FINE steps."""
    ends = values[:-1][both], values[1:][both]
    return np.linspace(*ends, FINE, axis=-1).ravel()


def drawn(shape, x, y, radius):
    """Where any of those discs lies."""
    found = np.zeros(shape, bool)
    known = np.isfinite(x) & np.isfinite(y)
    x, y, radius = x[known], y[known], radius[known]
    reach = int(np.ceil(radius.max(initial=0)))
    columns, rows = np.round(x).astype(int), np.round(y).astype(int)
    for across, down in np.ndindex(2 * reach + 1, 2 * reach + 1):
        column, row = columns + across - reach, rows + down - reach
        inside = (column - x) ** 2 + (row - y) ** 2 <= radius**2
        inside &= (column >= 0) & (column < shape[1]) & (row >= 0) & (row < shape[0])
        found[row[inside], column[inside]] = True
    return found


def read(can, dull, light, sd_deg=0.2, off_deg=(0.0, 0.0)):
    place, offset_h, back, pointing, first = can
    turned, leaned = off_deg
    pointing = Pointing(pointing.azimuth_deg + turned, pointing.tilt_deg + leaned)
    last = first + timedelta(days=len(dull) - 1)
    track = solargraph.track(*place, first, last, utc_offset_h=offset_h, step_min=10)
    return dull_days(solargraph.trails(track, back, pointing), back, light, sd_deg)


def said(found, first, days):
    """Which days lie in any span."""
    flags = np.zeros(days, bool)
    for span in found.spans:
        flags[(span.first - first).days : (span.last - first).days + 1] = True
    return flags


class DullDays(TestCase):
    def test_runs_of_dull_days_are_found_and_hardly_one_is_invented(self):
        for number, can in enumerate(CANS):
            with self.subTest(number):
                chance = np.random.default_rng(40 + number)
                dull = weather(chance)
                found = read(can, dull, picture(can, dull, chance))
                flags = said(found, can[-1], DAYS)
                self.assertGreater(found.told.mean(), 0.9)
                self.assertGreater((flags & dull).sum(), 0.9 * (dull & found.told).sum())
                self.assertLess((flags & ~dull).sum(), 0.03 * (~dull).sum())
                # At an equinox the sun moves 0.4 degrees a day; elsewhere nothing is surer.
                sure = [span.give_or_take_days for span in found.spans]
                self.assertGreaterEqual(min(sure), np.hypot(0.2, DISC_DEG / 4) / 0.41)

    def test_what_the_picture_cannot_tell_is_not_told(self):
        can, clear = CANS[0], np.zeros(DAYS, bool)
        light = picture(can, clear, np.random.default_rng(3))
        # A day of clouds all through may look dull.
        self.assertLess(sum(span.days for span in read(can, clear, light).spans), 4)
        # No trail anywhere, and a pointing that nobody knows.
        flat = np.random.default_rng(4).normal(0, 1, light.shape) * 0 + 1.0
        self.assertFalse(read(can, clear, flat).told.any())
        self.assertFalse(read(can, clear, light, sd_deg=20).told.any())
        # Over a solstice two days share a trail.
        year = (*can[:-1], date(2026, 5, 2))
        told = read(year, clear, light).told
        self.assertFalse(told[:80].any())
        for wrong in (np.zeros((4, 4)), np.full((20, 20), np.nan), np.zeros(20)):
            with self.assertRaises(ValueError):
                read(can, clear, wrong)

    def test_a_stand_that_is_a_little_off_makes_no_clear_day_dull(self):
        """Of readings by a stand that is off by as much as is said, none calls the last clear days
        or the first ones dull.
        """
        chance, clear, invented = np.random.default_rng(1), np.zeros(DAYS, bool), 0
        for can in CANS:
            light = picture(can, clear, chance)
            for sd_deg in (0.3, 0.6, 1.0):
                found = read(can, clear, light, sd_deg, chance.normal(0, sd_deg, 2))
                flags = said(found, can[-1], DAYS)
                self.assertFalse(flags[:5].any() or flags[-5:].any(), (can[-1], sd_deg))
                invented += flags.sum()
        self.assertLess(invented, 0.03 * 9 * DAYS)

    def test_percentiles_are_those_of_numpy(self):
        drawn = np.random.default_rng(5)
        values = drawn.random((41, 300))
        values[drawn.random(values.shape) < 0.4] = np.nan
        wanted = np.nanpercentile(values, (dull.DIM, dull.BRIGHT), axis=0)
        np.testing.assert_allclose(dull._percentiles(values, (dull.DIM, dull.BRIGHT)), wanted)
