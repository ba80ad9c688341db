"""Harm that weather does to paper, against what climates are known for."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as some

from pinhole.solargraph import weathering

YEAR = np.arange(np.datetime64("2026-01-01"), np.datetime64("2027-01-01"))
# Mean temperatures of January and July [degrees Celsius], by the sea or not: climate normals of
# towns at those places, from memory.
NORMALS = (
    (59.3, 28, True, -1, 18),
    (1.3, 16, True, 26, 28),
    (-26.2, 1753, False, 20, 10),
    (64.1, 10, True, 0, 11),
    (52.3, 440, False, -18, 18),
    (-33.9, 40, True, 23, 13),
    (39.9, 50, False, -3, 27),
    (28.6, 220, False, 14, 31),
    (-54.8, 20, True, 10, 2),
)


class Weather(TestCase):
    def test_a_year_is_as_warm_as_such_places_are(self):
        off = []
        for latitude, height_m, at_sea, january, july in NORMALS:
            usual = weathering.usual_c(latitude, height_m, YEAR, at_sea=at_sea)
            off += [usual[15] - january, usual[196] - july]
        self.assertLess(np.abs(off).max(), 8, np.round(off))
        self.assertLess(np.abs(off).mean(), 4, np.round(off))

    def test_harms_are_those_of_the_season(self):
        def codes(latitude, climate, first, days=120):
            span = np.datetime64(first) + np.arange(days)
            return {harm.code: harm.days for harm in weathering.harms(latitude, 0, span, climate)}

        self.assertIn("frost", codes(57, "inland", "2026-12-01"))
        self.assertNotIn("frost", codes(57, "inland", "2026-05-15"))
        self.assertIn("heat", codes(-30, "dry", "2026-12-01"))
        self.assertNotIn("heat", codes(-30, "dry", "2026-06-01", 60))
        self.assertEqual(codes(30, "dry", "2026-10-01").keys() & {"dew", "mould"}, set())
        self.assertIn("mould", codes(30, "rainy", "2026-04-01", 180))
        self.assertNotIn("mould", codes(30, "rainy", "2026-04-01", 50))

    @given(
        some.floats(-90, 90),
        some.floats(-500, 9000),
        some.sampled_from(("clear", "coast", "inland", "dry", "rainy", "measured")),
        some.integers(1, 700),
    )
    def test_no_harm_lasts_longer_than_the_can_is_out(self, latitude, height_m, climate, days):
        span = np.datetime64("2026-03-01") + np.arange(days)
        harms = weathering.harms(latitude, height_m, span, climate)
        self.assertTrue(all(weathering.FEWEST_DAYS <= harm.days <= days for harm in harms))
        longest = [harm.days for harm in harms]
        self.assertEqual(longest, sorted(longest, reverse=True))
