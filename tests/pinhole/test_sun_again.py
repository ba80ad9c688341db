"""Returns of the sun against astropy (ERFA): every look of a brute search, and every end."""

from datetime import date
from unittest import TestCase

import numpy as np

from pinhole import sun
from tests.pinhole.test_sun_against_astropy import apart_deg, astropy_position

# (latitude, longitude, when it stood, within): polar day, the line, the south, the turn of a year.
CASES = (
    (57.1, 19.6, "2026-10-16T10:40", 3.0),
    (78.2, 15.6, "2026-06-01T23:10", 3.0),
    (-0.2, -78.5, "2026-03-21T17:05", 3.0),
    (-43.95, 171.6, "2026-12-30T01:00", 2.0),
    (46.9, 7.4, "2026-12-21T11:20", 0.5),
    (21.3, -157.9, "2026-07-15T22:40", 8.0),
    (-54.8, -68.3, "2026-06-21T16:30", 3.0),
    (35.7, 139.7, "2026-02-28T21:40", 20.0),
)
TWO_YEARS = date(2027, 1, 1), date(2028, 12, 31)
SUN_DEG = 0.03
# The sun goes a quarter of a degree in it.
MINUTE = np.timedelta64(60, "s")


def off_deg(moments, place, stood):
    """(degrees from where it stood, height) at those moments, by astropy."""
    azimuth, altitude = astropy_position(moments, *place)
    return apart_deg(*np.broadcast_arrays(azimuth, altitude, *stood)), altitude


class Again(TestCase):
    def test_none_is_missed_and_every_end_is_one_to_a_minute(self):
        for latitude, longitude, when, within in CASES:
            with self.subTest(latitude=latitude):
                place = latitude, longitude
                stood = [angle[0] for angle in astropy_position(np.datetime64(when), *place)]
                told = sun.again(np.datetime64(when), *place, *TWO_YEARS, within_deg=within)
                starts = np.array([one.start_utc for one in told])
                ends = np.array([one.end_utc for one in told])
                self.assertTrue((starts <= ends).all() and (ends[:-1] < starts[1:]).all())
                # Each fourteenth day of two years, every quarter of an hour.
                days = np.arange(np.datetime64("2027-01-01"), np.datetime64("2029-01-01"), 14)
                looks = (days[:, None] + np.arange(0, 1440, 15).astype("timedelta64[m]")).ravel()
                apart, altitude = off_deg(looks, place, stood)
                deep = np.minimum(within - apart, altitude)
                is_in = ((starts <= looks[:, None]) & (looks[:, None] <= ends)).any(axis=1)
                self.assertTrue(is_in[deep > SUN_DEG].all())
                self.assertFalse(is_in[deep < -SUN_DEG].any())
                self._ends_are_ends(told, place, stood, within)

    def _ends_are_ends(self, told, place, stood, within):
        some = told[:: max(1, len(told) // 12)]
        for at, step in (("start_utc", -MINUTE), ("end_utc", MINUTE)):
            moments = np.array([getattr(one, at) for one in some])
            for off, sign in ((step, -1), (-step, 1)):
                apart, altitude = off_deg(moments + off, place, stood)
                deep = np.minimum(within - apart, altitude) * sign
                # A passage shorter than two minutes has no inside a minute from its ends.
                short = np.array([one.end_utc - one.start_utc < 3 * MINUTE for one in some])
                self.assertTrue((deep > -SUN_DEG)[~short | (sign < 0)].all(), (place, at))
        best = np.array([one.best_utc for one in some])
        offs, _ = off_deg(best, place, stood)
        np.testing.assert_allclose([one.off_deg for one in some], offs, atol=SUN_DEG)

    def test_the_moment_itself_is_one_and_reaches_further_the_wider_it_is_asked(self):
        when, place = np.datetime64("2028-02-29T10:00"), (57.1, 19.6)
        day = date(2028, 2, 29)
        before = 0
        for within in (0.02, 0.5, 3.0, 180.0):
            (one,) = sun.again(when, *place, day, day, within_deg=within)
            self.assertLess(one.off_deg, 0.01)
            self.assertLess(abs(one.best_utc - when), MINUTE)
            lasts = (one.end_utc - one.start_utc).astype(int)
            self.assertGreater(lasts, before)
            before = lasts
        # All that it is up.
        risen = sun.day(np.datetime64(day), np.datetime64(day) + 1, *place)
        self.assertLess(abs(one.start_utc - risen.rises_utc[0]), 8 * MINUTE)

    def test_limits(self):
        day = date(2027, 1, 1)
        good = np.datetime64("2026-06-01T12:00"), 57.1, 19.6, day, day
        for wrong, more in (
            ((np.datetime64("NaT"), *good[1:]), {}),
            ((*good[:3], day, date(2026, 1, 1)), {}),
            ((*good[:3], day, date(2099, 1, 1)), {}),
            ((good[0], 91.0, *good[2:]), {}),
            (good, {"within_deg": 0.0}),
            (good, {"within_deg": 181.0}),
        ):
            self.assertRaises(ValueError, sun.again, *wrong, **more)
        # It does not come back to where it stands in June.
        self.assertEqual(sun.again(*good), [])


class Passing(TestCase):
    def test_it_passes_that_direction_and_that_height_as_often_as_astropy_says(self):
        for latitude, longitude, when, _ in CASES:
            place = latitude, longitude
            stood = [float(one[0]) for one in astropy_position(np.datetime64(when), *place)]
            directions, heights = sun.passages(np.datetime64(when), *place, *TWO_YEARS)
            for told, what in ((directions, 0), (heights, 1)):
                with self.subTest(latitude=latitude, what=what):
                    self._is_there(told, place, stood, what)
                    self._none_is_missed(told, place, stood, what)

    def _is_there(self, told, place, stood, what):
        some = slice(None, None, max(1, told.utc.size // 40))
        seen = np.array(astropy_position(told.utc[some], *place))
        # Near the zenith the direction turns many degrees a minute.
        size = np.cos(np.radians(seen[1])) if what == 0 else 1
        off = (seen[what] - stood[what] + 180) % 360 - 180
        # Where it stood is as doubtful as where it stands.
        self.assertLess(np.abs(off * size).max(), 2 * SUN_DEG)
        self.assertLess(np.abs(told.altitude_deg[some] - seen[1]).max(), SUN_DEG)

    def _none_is_missed(self, told, place, stood, what):
        looks = np.arange(0, 1440, 10).astype("timedelta64[m]")
        for day in np.arange(np.datetime64("2027-01-05"), np.datetime64("2028-12-20"), 120):
            seen = np.array(astropy_position(day + looks, *place))
            off = (seen[what] - stood[what] + 180) % 360 - 180
            up = seen[1] > SUN_DEG
            turns = (off[1:] > 0) != (off[:-1] > 0)
            turns &= (np.abs(np.diff(off)) < 180) & up[1:] & up[:-1]
            if np.abs(off).min() < SUN_DEG and what == 1:
                continue
            count = np.sum((told.utc >= day) & (told.utc < day + looks[-1]))
            self.assertEqual(count, turns.sum(), (place, day))
