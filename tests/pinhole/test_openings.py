"""Openings all at once, against one exposure after the other, and against sums that are counted in
small steps.
"""

from unittest import TestCase

import numpy as np

from pinhole import light
from pinhole.light import dusk
from pinhole.light.openings import openings
from pinhole.reciprocity import NoCorrection, PowerLaw
from tests.pinhole.test_sun_against_astropy import astropy_position

F_NUMBER, EI = 305.0, 5.0
SECOND = 1.0
# Of what is counted in steps of so long.
STEP_S = 2.0
PLACES = ((57.1, 19.6), (-43.95, 171.6), (78.2, 15.6), (-0.2, -78.5))


def days_at(place, month, days=2):
    """(seconds, height of the sun, seconds metered) every ten minutes, by astropy's sun."""
    minutes = np.arange(0, 1440 * days, 10)
    start = np.datetime64(f"2027-{month:02d}-10")
    azimuth, altitude = astropy_position(start + minutes * np.timedelta64(60, "s"), *place)
    ev100 = light.scene_ev100(altitude, azimuth - 140.0)
    return minutes * 60.0, altitude, light.metered_s(ev100, F_NUMBER, EI)


class Opening(TestCase):
    def test_each_is_what_one_exposure_is(self):
        for place in PLACES:
            for month in (3, 6, 12):
                times, altitude, metered = days_at(place, month)
                course = light.course(times, metered, NoCorrection())
                seen = openings(times, metered, altitude, NoCorrection())
                for n in range(0, times.size // 2, 7):
                    dark_s = dusk.dark_from_s(times[n:], altitude[n:])
                    if np.isnan(dark_s):
                        self.assertTrue(np.isnan(seen.open_s[n]))
                        continue
                    alone = dusk.prospect(course, times[n], dark_s)
                    with self.subTest(place=place, month=month, n=n):
                        if alone.full and alone.closes_s < times[-1]:
                            self.assertAlmostEqual(
                                seen.open_s[n], alone.closes_s - times[n], delta=SECOND
                            )
                        elif not alone.full:
                            self.assertEqual(seen.open_s[n], np.inf)
                            self.assertAlmostEqual(
                                min(seen.short_stops[n], 99), min(alone.short_stops, 99), places=3
                            )

    def test_light_that_is_added_up_in_small_steps_fills_a_sheet(self):
        times, altitude, metered = days_at(PLACES[0], 4, days=1)
        fine = np.arange(times[0], times[-1], STEP_S)
        for school in (NoCorrection(), PowerLaw(1.26)):
            seen = openings(times, metered, altitude, school)
            adjusted = school.adjusted_s(np.exp(np.interp(fine, times, np.log(metered))))
            for n in np.flatnonzero(np.isfinite(seen.open_s))[::6]:
                during = (fine >= times[n]) & (fine < times[n] + seen.open_s[n])
                share = (STEP_S / adjusted[during]).sum()
                # Two steps of what it takes.
                self.assertAlmostEqual(share, 1.0, delta=0.01 + 2 * STEP_S / seen.open_s[n])

    def test_limits(self):
        good = np.arange(3.0), np.ones(3), np.full(3, 20.0)
        for wrong in (
            (good[0][::-1], *good[1:]),
            (good[0][:1], good[1][:1], good[2][:1]),
            (good[0], np.zeros(3), good[2]),
            (good[0], good[1], np.full(3, 91.0)),
            (good[0], good[1][:2], good[2]),
        ):
            self.assertRaises(ValueError, openings, *wrong, NoCorrection())
        # It would get full after the last moment that is known.
        late = openings(*good, NoCorrection())
        self.assertEqual(late.open_s.tolist(), [1.0, 1.0, np.inf])
