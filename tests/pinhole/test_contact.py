"""Contact prints: the inverse square far off, and a broad lamp against light added up over its
disc.
"""

from math import hypot, log2, pi
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as some

from pinhole import chemistry, contact

MM = some.floats(50, 5000)


def disc_light(distance_mm, lamp_mm, rings=400):
    """Light on the axis of an even disc, added up ring by ring: cos^2 / r^2 of each."""
    edges = np.linspace(0, lamp_mm / 2, rings + 1)
    middle, area = (edges[:-1] + edges[1:]) / 2, pi * np.diff(edges**2)
    away = np.hypot(middle, distance_mm)
    return float(np.sum(area * (distance_mm / away) ** 2 / away**2))


class Contact(TestCase):
    def test_twice_as_far_is_four_times_as_long(self):
        # Textbook: 10 s at 500 mm are 40 s at 1 m from a point.
        self.assertAlmostEqual(contact.time_at_s(10, 500, 1000), 40)
        np.testing.assert_allclose(contact.time_at_s([1, 2], 100, 300), [9, 18])
        # A lamp that is as wide as it is near: the square law is off by nearly a third of a stop.
        off = contact.point_off_stops(200, 400, 200)
        self.assertAlmostEqual(off, 0.234, places=3)

    @given(MM, MM, some.floats(1, 400))
    def test_a_broad_lamp_against_its_disc(self, near, far, lamp):
        told = contact.time_at_s(1.0, near, far, lamp)
        by_hand = disc_light(near, lamp) / disc_light(far, lamp)
        self.assertLess(abs(log2(told / by_hand)), 1e-3)

    def test_where_the_square_law_holds(self):
        # At five widths and beyond, whatever the other distance (geometry).
        for near, far in ((500, 4000), (500, 600), (600, 9000)):
            self.assertLess(abs(contact.point_off_stops(near, far, 100)), 1 / 69)
        self.assertEqual(contact.NEAR_WIDTHS, 5)

    def test_a_corner_gets_less(self):
        # 8x10 in under a lamp at 500 mm: by the angle of its corner, cos^4.
        cosine = 500 / hypot(500, hypot(203.2, 254) / 2)
        self.assertAlmostEqual(contact.corner_stops(500, 203.2, 254), -4 * log2(cosine))

    def test_a_strip_and_what_it_says(self):
        times = contact.bands_s(4, 0.5, 5)
        self.assertEqual([round(t, 2) for t in times], [4, 5.66, 8, 11.31, 16])
        self.assertAlmostEqual(contact.from_strip_s(times, 2), 8)
        self.assertAlmostEqual(contact.from_strip_s(times, 1.5), (5.65685 * 8) ** 0.5, places=4)
        for best in (-0.5, 4.5):
            with self.assertRaisesRegex(ValueError, "best must be"):
                contact.from_strip_s(times, best)


class Tired(TestCase):
    def test_a_bath_by_area_and_by_age(self):
        # Half a square metre of two, a day of four: half and a quarter.
        self.assertEqual(chemistry.used_up(1e6, 2e6, 1, 4), 0.5)
        self.assertEqual(chemistry.used_up(0, 2e6, 9, 3), 3)
        np.testing.assert_allclose(chemistry.longer([0, 0.5, 0.75, 1, 7]), [1, 1, 1.25, 1.5, 1.5])

    @given(some.floats(1, 50), some.floats(50, 2000), some.floats(0, 200))
    def test_topping_up_keeps_what_is_there(self, parts, volume, more):
        after, total = chemistry.topped_up(parts, volume, more)
        before_ml, _ = chemistry.dilute(parts, volume)
        now_ml, _ = chemistry.dilute(after, total) if after > 0 else (total, 0)
        self.assertAlmostEqual(now_ml, before_ml + more, places=6)
        self.assertAlmostEqual(total, volume + more)
        # 5 ml into a pair's drum of 100 ml at 1+10 (common practice): 1+6.4.
        self.assertAlmostEqual(chemistry.topped_up(10, 100, 5)[0], 6.45, places=2)
