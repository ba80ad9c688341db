"""Density of scans, the paper's curve, and the verdict on sheets whose truth is known. The scenes
here are chance, none of those with which anything was made.
"""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as some

from pinhole import corners, densitometry, lookhere, sheet
from pinhole.faults import FAULTS, blurred
from pinhole.projection import FlatBack
from pinhole.tones import FLAT, ToneCurve

PAPERS = (
    ("negative", ToneCurve(0.05, 2.0, 4.5)),
    ("negative", ToneCurve(0.08, 1.6, 6.0)),
    ("positive", ToneCurve(0.07, 1.9, 3.6)),
    ("reversal", ToneCurve(0.06, 1.8, 4.5)),
)
STOPS = some.floats(-3, 3)


def scene(chance, high=90, wide=120):
    """Clouds of any size over a skyline, some of it dark; 1 where its middle is metered."""
    waves = np.fft.rfft2(chance.normal(0, 1, (high, wide)))
    y, x = np.fft.fftfreq(high)[:, None], np.fft.rfftfreq(wide)[None]
    rough = np.fft.irfft2(waves / np.maximum(np.hypot(y, x), 0.01) ** 1.3, (high, wide))
    logs = 1.1 * rough / rough.std()
    skyline = high * chance.uniform(0.25, 0.6)
    logs = logs + np.where(np.arange(high)[:, None] < skyline, 1.6, -0.2)
    middle = logs[high // 6 : -high // 6, wide // 6 : -wide // 6]
    # A meter adds up light, not stops.
    return 2.0**logs / (2.0**middle).mean()


def judged(chance, medium, curve, stops, faults=()):
    picture = sheet.simulate(
        scene(chance), stops, curve, medium=medium, blur_px=0.8, faults=faults, seed=1
    )
    # Through a scanner of 8 bits.
    return sheet.read_scan(sheet.scanned(picture), curve, medium=medium)


class Density(TestCase):
    def test_the_transfer_function_is_that_of_the_standard(self):
        # IEC 61966-2-1: code 128 is 0.2159, 10 lies on the straight part (10 / 255 / 12.92).
        for code, light in ((0, 0), (255, 1), (128, 0.21586), (10, 0.0030353)):
            self.assertAlmostEqual(densitometry.linear(code), light, places=5)
        codes = np.arange(256)
        np.testing.assert_array_equal(densitometry.coded(densitometry.linear(codes)), codes)
        every = np.arange(0, 65536, 97)
        np.testing.assert_array_equal(densitometry.coded(densitometry.linear(every, 16), 16), every)
        # ISO 5-4: half the light is 0.301, a tenth is 1.
        np.testing.assert_allclose(densitometry.density([1, 0.5, 0.1]), [0, 0.30103, 1], atol=1e-5)
        # No paper is darker than 3 (common practice).
        self.assertEqual((densitometry.density(0), densitometry.density(1e-5)), (3.0, 3.0))

    def test_a_wedge_is_believed_before_the_transfer_function(self):
        known = np.linspace(0.05, 1.95, 11)
        # A scanner whose curve is a plain power, which is none of the standard.
        codes = 255 * (10.0**-known) ** (1 / 1.8)
        wedge = densitometry.Wedge(tuple(codes), tuple(known))
        between = np.array([0.3, 1.1, 1.7])
        told = wedge.density(255 * (10.0**-between) ** (1 / 1.8))
        np.testing.assert_allclose(told, between, atol=0.02)
        plain = densitometry.density(densitometry.linear(codes))
        self.assertGreater(np.abs(plain - known).max(), 0.1)
        for bad in (((3,), (1,)), ((3, 4), (1, 2)), ((9, 3, 3), (0, 1, 2))):
            with self.assertRaises(ValueError):
                densitometry.Wedge(*bad)

    def test_what_cannot_be_is_told(self):
        for call, words in (
            (lambda: densitometry.linear(256), "at most 255"),
            (lambda: densitometry.linear(1, 12), "8 or 16"),
            (lambda: densitometry.density(1.2), "at most 1"),
            (lambda: densitometry.read_sheet(np.ones((4, 4))), "at least 8 x 8"),
            (lambda: densitometry.read_sheet(np.full((20, 20), np.nan)), "finite"),
            (lambda: ToneCurve(0.5, 0.4), "dmax must be"),
            (lambda: sheet.simulate(np.ones((9, 9)), 0, ToneCurve(), faults=["soup"]), "none of"),
            (lambda: sheet.simulate(np.zeros((9, 9)), 0, ToneCurve()), "above 0"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                call()


class Curve(TestCase):
    def test_its_range_is_what_it_says(self):
        # In the sense of ISO 6846: from 0.04 over base to nine tenths of the scale.
        for medium, curve in PAPERS:
            scale = curve.dmax - curve.dmin
            marks = np.array([0.04, 0.9 * scale])
            marks = marks if medium == "negative" else scale - marks
            toe, shoulder = curve.stops(curve.dmin + marks, medium)
            self.assertAlmostEqual(shoulder - toe, curve.range_stops, places=6)

    @given(STOPS, some.sampled_from(PAPERS))
    def test_there_and_back(self, stops, paper):
        medium, curve = paper
        share = float(curve.share(stops))
        if FLAT < share < 1 - FLAT:
            back = curve.stops(curve.density(stops, medium), medium)
            self.assertAlmostEqual(float(back), stops, places=6)
        darker = curve.density(stops + 0.1, medium) > curve.density(stops, medium)
        self.assertEqual(bool(darker), medium == "negative")

    def test_every_fault_shows(self):
        chance = np.random.default_rng(3)
        view, curve = scene(chance), ToneCurve()
        plain = sheet.simulate(view, 0, curve, seed=1)
        for fault in FAULTS:
            with self.subTest(fault):
                wrong = sheet.simulate(view, 0, curve, faults=[fault], seed=1)
                self.assertGreater(np.abs(wrong - plain).mean(), 0.003)
                self.assertTrue(((wrong >= 0) & (wrong <= 3)).all())

    def test_blur_keeps_the_light(self):
        point = np.zeros((61, 61))
        point[30, 30] = 1.0
        self.assertAlmostEqual(blurred(point, 3.0).sum(), 1.0, places=6)

    def test_the_same_seed_is_the_same_picture(self):
        one, other = (
            sheet.simulate(scene(np.random.default_rng(3)), 0, ToneCurve(), seed=n) for n in (5, 6)
        )
        again = sheet.simulate(scene(np.random.default_rng(3)), 0, ToneCurve(), seed=5)
        np.testing.assert_array_equal(one, again)
        self.assertTrue((one != other).any())


class Verdicts(TestCase):
    def test_stops_are_found_again_across_papers(self):
        chance, off = np.random.default_rng(7), []
        for _ in range(60):
            medium, curve = PAPERS[int(chance.integers(len(PAPERS)))]
            stops = float(chance.uniform(-1.5, 1.5))
            said = judged(chance, medium, curve, stops)
            if not said.cannot:
                off.append(said.stops_more + stops)
        self.assertGreater(len(off), 50)
        self.assertLess(np.median(np.abs(off)), 0.3)

    def test_what_is_beyond_reading_is_not_read(self):
        chance, told = np.random.default_rng(8), 0
        for number in range(60):
            medium, curve = PAPERS[int(chance.integers(len(PAPERS)))]
            stops, faults = ((0.0, ["blank"]), (7.0, ()), (-7.0, ()), (0.0, ["fog"]))[number % 4]
            told += bool(judged(chance, medium, curve, stops, faults).cannot)
        self.assertGreaterEqual(told / 60, 0.9)

    @settings(max_examples=25)
    @given(STOPS, some.sampled_from(PAPERS), some.integers(0, 99))
    def test_a_rung_of_the_ladder_is_the_sheet_that_more_light_makes(self, more, paper, seed):
        medium, curve = paper
        chance = np.random.default_rng(seed)
        light = chance.uniform(-1.5, 1.5, (20, 20))
        told = sheet.as_it_would_look(curve.density(light, medium), more, curve, medium)
        share = curve.share(light)
        inside = (share > FLAT) & (share < 1 - FLAT)
        np.testing.assert_allclose(
            told[inside], curve.density(light + more, medium)[inside], atol=1e-9
        )


class Reading(TestCase):
    """A sheet drawn by hand, place by place, and judgements that follow from others."""

    def sheet(self, base=0.1, left=1.0, right=1.4, between=2.9):
        """Rails 3 deep all around, what lies as deep again beside them, then two halves."""
        image = np.full((100, 140), base)
        image[3:-3, 3:-3] = between
        image[6:-6, 6:70], image[6:-6, 70:-6] = left, right
        return image

    def test_rails_are_the_base_and_what_lies_beside_them_is_not_read(self):
        reading = densitometry.read_sheet(self.sheet())
        self.assertEqual((reading.base, reading.lightest, reading.darkest), (0.1, 1.0, 1.4))
        self.assertAlmostEqual(reading.uneven, 0.4)
        self.assertAlmostEqual(reading.contrast, 0.4)
        self.assertAlmostEqual(reading.used(0.1, 2.1), 0.2)
        # Where nothing was covered all of it is the picture, and its lightest the base.
        whole = densitometry.read_sheet(self.sheet(base=0.9), rim=0)
        self.assertEqual((whole.base, whole.darkest), (0.9, 2.9))
        for lopsided in (self.sheet()[:, ::-1], self.sheet(left=1.4, right=1.0)):
            self.assertAlmostEqual(densitometry.read_sheet(lopsided).uneven, 0.4)

    def test_rails_cover_all_four_sides_of_a_sheet_that_is_made(self):
        bright = np.ones((60, 90))
        made = sheet.simulate(bright, 2.0, PAPERS[0][1], rim=0.1)
        for side in (made[:6], made[-6:], made[:, :6], made[:, -6:]):
            self.assertLess(side.max(), 0.3)
        self.assertGreater(made[7:-7, 7:-7].min(), 0.6)

    def test_what_is_beyond_the_limits_is_refused(self):
        for call in (
            lambda: densitometry.read_sheet(self.sheet(), rim=0.21),
            lambda: sheet.simulate(np.ones((20, 20)), 0, PAPERS[0][1], rim=0.21),
            lambda: sheet.as_it_would_look(np.ones(3), 10.1, PAPERS[0][1]),
            lambda: sheet.as_it_would_look(np.ones(3), -10.1, PAPERS[0][1]),
        ):
            with self.assertRaises(ValueError):
                call()
        self.assertTrue(densitometry.read_sheet(self.sheet(), rim=0.2))
        self.assertEqual(len(sheet.as_it_would_look(np.ones(3), 10, PAPERS[0][1])), 3)

    def test_which_share_of_the_picture_each_mark_stands_for(self):
        rng = np.random.default_rng(4)
        image = np.full((306, 306), 0.1)
        values = rng.permutation(np.linspace(0, 1, 282 * 282))
        image[12:-12, 12:-12] = values.reshape(282, 282)
        reading = densitometry.read_sheet(image, rim=6 / 306)
        marks = (reading.lightest, reading.low, reading.middle, reading.high, reading.darkest)
        np.testing.assert_allclose(marks, (0.01, 0.1, 0.5, 0.9, 0.99), atol=1e-4)


class LookingHere(TestCase):
    def kinds(self, chance, stops=0.0, faults=()):
        medium, curve = PAPERS[int(chance.integers(len(PAPERS)))]
        picture = sheet.simulate(
            scene(chance), stops, curve, medium=medium, faults=faults, seed=int(chance.integers(99))
        )
        back = sheet.densities_of(sheet.scanned(picture))
        return [one.kind for one in lookhere.look_here(back, curve, medium)]

    def test_what_is_there_is_pointed_at_and_what_is_not_rarely(self):
        chance = np.random.default_rng(12)
        for kind, stops, faults, least in (
            ("leak", 0.0, ["leak"], 0.7),
            ("blocked", 5.0, (), 0.9),
            ("empty", -5.0, (), 0.9),
        ):
            with self.subTest(kind):
                told = sum(kind in self.kinds(chance, stops, faults) for _ in range(20))
                self.assertGreaterEqual(told / 20, least)
        plain = [self.kinds(chance) for _ in range(30)]
        self.assertLessEqual(sum("leak" in kinds for kinds in plain) / 30, 0.25)

    def test_flare_is_looked_for_where_the_sun_stood(self):
        """A level camera to the south, 100 mm before 120 by 90 mm; tangents by hand."""
        back = FlatBack(100, 120, 90)
        right, up = math.tan(math.radians(10)), math.tan(math.radians(15))
        (seen,) = lookhere.towards_the_sun(back, 180, 190, 15)
        self.assertAlmostEqual((seen.left + seen.right) / 2, 0.5 + 100 * right / 120, places=6)
        high = 0.5 - 100 * up / math.cos(math.radians(10)) / 90
        self.assertAlmostEqual((seen.top + seen.bottom) / 2, high, places=6)
        # 40 degrees to the left: the edge is at atan(60/100) = 31.0; behind, below and far above.
        (edge,) = lookhere.towards_the_sun(back, 180, 140, 1)
        self.assertEqual((edge.left, edge.right), (0.0, 0.25))
        self.assertIn("9 degrees outside", edge.words)
        for azimuth, altitude in ((0, 15), (190, -1), (180, 60), (100, 10)):
            self.assertEqual(lookhere.towards_the_sun(back, 180, azimuth, altitude), [])


class Corners(TestCase):
    def fall_off(self, shape=(96, 120), focal_mm=60.0):
        """cos^4 of a flat back (textbook optics), in stops less."""
        y, x = np.mgrid[-50 : 50 : shape[0] * 1j, -63 : 63 : shape[1] * 1j]
        return -4 * np.log2(np.cos(np.arctan(np.hypot(x, y) / focal_mm)))

    def test_an_even_wall_shows_the_cameras_own_fall_off(self):
        less = self.fall_off()
        for medium, curve in PAPERS:
            made = sheet.simulate(
                np.ones(less.shape), 0.5, curve, medium=medium, fall_off=less, rim=0.03
            )
            found = corners.corners(made, curve, less, medium)
            self.assertAlmostEqual(found.measured_stops, found.computed_stops, delta=0.05)
            self.assertLess(found.computed_stops, -1.5)
            # A plate too thick: a stop more is lost in the corners than the camera makes.
            far = np.clip(less - 1.2, 0, 1)
            made = sheet.simulate(
                np.ones(less.shape), 1.0, curve, medium=medium, fall_off=less + far
            )
            self.assertGreater(corners.corners(made, curve, less, medium).more_stops, 0.5)

    def test_a_sheet_put_right_for_its_camera_is_judged_by_its_exposure(self):
        chance, less, off = np.random.default_rng(9), self.fall_off((90, 120)), []
        for _ in range(30):
            medium, curve = PAPERS[chance.integers(4)]
            given = chance.uniform(-1, 1)
            made = sheet.simulate(scene(chance), given, curve, medium=medium, fall_off=less)
            codes = sheet.scanned(made)
            both = [
                sheet.read_scan(codes, curve, medium=medium, fall_off=taken)
                for taken in (None, less)
            ]
            off.append([said.stops_more + given for said in both])
        plain, put_right = np.median(off, axis=0)
        self.assertLess(abs(put_right), 0.25)
        # What the camera takes from the middle is no fault of the exposure.
        self.assertGreater(plain - put_right, 0.15)

    def test_scenes_differ_and_the_doubt_says_how_much(self):
        chance, less, inside = np.random.default_rng(8), self.fall_off((90, 120)), []
        for _ in range(60):
            medium, curve = PAPERS[chance.integers(2)]
            made = sheet.simulate(scene(chance), 0.5, curve, medium=medium, fall_off=less)
            found = corners.corners(made, curve, less, medium)
            if not np.isnan(found.measured_stops):
                inside.append(abs(found.more_stops) < 1.645 * found.sd_stops)
        self.assertGreater(len(inside), 10)
        self.assertGreater(np.mean(inside), 0.8)
        self.assertTrue(np.isnan(corners.corners(np.full((90, 120), 1.95), curve, less).more_stops))
        for wrong in (np.zeros((5, 5)), less[:5], np.full((90, 120), np.nan)):
            with self.assertRaises(ValueError):
                corners.corners(wrong, curve, less)
