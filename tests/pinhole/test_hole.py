"""Holes of known size, drawn with exact coverage of each pixel, spoilt as scans are, and
measured.
"""

from contextlib import suppress
from unittest import TestCase

import cv2
import numpy as np

from pinhole.imaging import hole, outline

TWO_PERCENT = 0.02
INCH_MM = 25.4


def plate(width_mm, height_mm, dpi, *, size=None, plate_grey=40, hole_grey=210, at=None, turn=0.0):
    """A plate with an elliptical hole, each pixel the mean of 8 x 8 exact points."""
    px = dpi / INCH_MM
    size = size or int(1.7 * max(width_mm, height_mm) * px) + 50
    x0, y0 = at or (size / 2 + 0.3, size / 2 - 0.4)
    # No further from its middle than this; elsewhere is plate.
    reach = max(width_mm, height_mm) * px / 2 + 1
    columns, rows = (
        np.arange(max(0, int(middle - reach)), min(size, int(middle + reach) + 2))
        for middle in (x0, y0)
    )
    x, y = np.meshgrid(_eighths(columns) - x0, _eighths(rows) - y0)
    c, s = np.cos(turn), np.sin(turn)
    inside = ((c * x + s * y) / (width_mm * px / 2)) ** 2 + (
        (c * y - s * x) / (height_mm * px / 2)
    ) ** 2 <= 1
    cover = np.zeros((size, size))
    cover[np.ix_(rows, columns)] = inside.reshape(len(rows), 8, len(columns), 8).mean(axis=(1, 3))
    return plate_grey + cover * (hole_grey - plate_grey)


def _eighths(pixels):
    return (pixels[:, None] + (np.arange(8) + 0.5) / 8).ravel()


def spoilt(picture, how, seed=5):
    chance = np.random.default_rng(seed)
    size = picture.shape[0]
    if how == "tilted light":
        picture = picture * np.linspace(0.7, 1.15, size)[None, :]
    if how == "noise":
        picture = picture + chance.normal(0, 9, picture.shape)
    if how == "soft":
        picture = cv2.GaussianBlur(picture, (0, 0), 1.6)
    if how == "dust":
        # 25 specks on 400 x 400 pixels.
        for _ in range(max(3, 25 * size**2 // 400**2)):
            x, y = chance.integers(4, size - 4, 2)
            picture[y : y + 2, x : x + 2] = chance.integers(0, 255)
    grey = np.clip(picture, 0, 255).astype(np.uint8)
    if how == "jpeg":
        grey = cv2.imdecode(
            cv2.imencode(".jpg", grey, [cv2.IMWRITE_JPEG_QUALITY, 60])[1], cv2.IMREAD_GRAYSCALE
        )
    return grey


def scene(chance, *, hole_mm, dpi, disc, through, second_mm=0.0):
    """(greys, middle of the hole as x, y): a plate with its hole on what it was laid on, a label
    below it, all at places drawn by chance.
    """
    px = dpi / INCH_MM
    side = int(hole_mm * px * chance.uniform(12, 18))
    lid, metal = (245, 95) if through else (225, 150)
    hole_grey = 245 if through else 18
    wide, high = int(side * chance.uniform(1.5, 2)), int(side * chance.uniform(1.5, 1.9))
    picture = np.full((high, wide), float(lid))
    left, top = (int(chance.uniform(5, room - side - 5)) for room in (wide, high))
    if disc:
        y, x = np.mgrid[0:high, 0:wide]
        on = np.hypot(x - left - side / 2, y - top - side / 2) <= side / 2
        picture[on] = metal
    else:
        picture[top : top + side, left : left + side] = metal
    cut = int(2 * hole_mm * px) + 40
    at = tuple(cut / 2 + chance.uniform(-3, 3, 2))
    patch = plate(hole_mm, hole_mm, dpi, size=cut, plate_grey=metal, hole_grey=hole_grey, at=at)
    x0, y0 = (int(edge + side * chance.uniform(0.35, 0.55) - cut / 2) for edge in (left, top))
    picture[y0 : y0 + cut, x0 : x0 + cut] = patch
    if second_mm:
        small = plate(second_mm, second_mm, dpi, plate_grey=metal, hole_grey=hole_grey)
        there = y0 - len(small) + 2, x0 + 5
        picture[there[0] : there[0] + len(small), there[1] : there[1] + len(small)] = small
    picture = np.round(picture).astype(np.uint8)
    cv2.putText(picture, "LID 7", (left + 4, top + side + 24), 0, 0.8, 40, 2)
    return picture.astype(float), np.array([x0, y0]) + at - 0.5


class Measured(TestCase):
    def test_a_plate_with_its_surroundings_is_searched_for_its_small_round_spot(self):
        chance = np.random.default_rng(3)
        for n in range(32):
            disc, through = n % 2 == 0, n % 4 < 2
            mm, dpi = chance.uniform(0.25, 0.6), int(chance.choice((1200, 2400)))
            picture, middle = scene(chance, hole_mm=mm, dpi=dpi, disc=disc, through=through)
            with self.subTest(n=n, mm=mm, dpi=dpi, disc=disc, through=through):
                spot = hole.measure(spoilt(picture, ("clean", "noise")[n % 3 > 0]), INCH_MM / dpi)
                self.assertLess(abs(spot.area_mm / mm - 1), TWO_PERCENT)
                self.assertLess(np.abs(spot.outline.mean(axis=0) - middle).max(), 0.6)
                self.assertEqual(spot.bright, through)
                self.assertEqual(spot.beside_mm, ())

    def test_a_second_smaller_hole_is_told_and_dust_is_not(self):
        chance = np.random.default_rng(4)
        for n in range(12):
            picture, _ = scene(
                chance, hole_mm=0.5, dpi=2400, disc=False, through=n % 2 == 0, second_mm=0.14
            )
            with self.subTest(n=n):
                spot = hole.measure(spoilt(picture, ("clean", "noise")[n % 3 > 0]), INCH_MM / 2400)
                self.assertLess(abs(spot.area_mm / 0.5 - 1), TWO_PERCENT)
                self.assertEqual(len(spot.beside_mm), 1)
                # Counted in pixels of 0.01 mm.
                self.assertAlmostEqual(spot.beside_mm[0], 0.14, delta=0.015)

    def test_the_area_of_a_spike_is_taken_off(self):
        for deep in (6, 10, 14):
            for turn in range(4):
                picture = plate(0.5, 0.5, 2400, size=400, at=(200.0, 200.0))
                # A bar of metal seven pixels wide from beyond the edge inward.
                picture[197:204, int(200 + 23.62 - deep) : 240] = 40
                with self.subTest(deep=deep, turn=turn):
                    spot = hole.measure(spoilt(np.rot90(picture, turn), "clean"), INCH_MM / 2400)
                    # Half of 0.5 mm at 2400 to the inch is 23.62 px.
                    open_px = np.pi * 23.62**2 - 7 * deep
                    self.assertTrue(spot.burr)
                    self.assertAlmostEqual(
                        spot.area_mm, 2 * (open_px / np.pi) ** 0.5 * INCH_MM / 2400, delta=0.002
                    )
                    self.assertAlmostEqual(spot.mean_mm, 0.5, delta=0.006)

    def test_within_two_percent_however_it_was_scanned(self):
        for dpi in (1200, 2400, 4800):
            for mm in (0.25, 0.41, 0.7):
                for how in ("clean", "tilted light", "noise", "soft", "dust", "jpeg"):
                    for greys in ({}, {"plate_grey": 215, "hole_grey": 30}):
                        with self.subTest(dpi=dpi, mm=mm, how=how, **greys):
                            found = hole.measure(
                                spoilt(plate(mm, mm, dpi, **greys), how), INCH_MM / dpi
                            )
                            self.assertLess(abs(found.mean_mm / mm - 1), TWO_PERCENT)
                            self.assertLess(abs(found.area_mm / mm - 1), TWO_PERCENT)
                            self.assertLess(abs(found.area_mm - mm), 4 * found.sd_mm)
                            self.assertEqual(found.bright, not greys)
                            self.assertEqual(found.beside_mm, ())
                            self.assertFalse(found.burr and how != "dust")
                            self.assertGreater(found.roundness, 0.9)

    def test_an_ellipse_is_told_from_a_circle(self):
        found = hole.measure(spoilt(plate(0.5, 0.4, 2400, turn=0.6), "clean"), INCH_MM / 2400)
        self.assertAlmostEqual(found.roundness, 0.8, delta=0.03)
        self.assertAlmostEqual(found.area_mm, (0.5 * 0.4) ** 0.5, delta=0.008)
        self.assertAlmostEqual(found.greatest_mm, 0.5, delta=0.01)
        self.assertEqual(found.outline.shape, (hole.RAYS, 2))

    def test_a_plate_seen_aslant_is_as_doubtful_as_it_is_short(self):
        # 30 degrees off: cos 30 is 0.866 across, so the area is that of 0.4 x 0.93.
        spot = hole.measure(spoilt(plate(0.4, 0.4 * 0.866, 2400), "clean"), INCH_MM / 2400)
        self.assertAlmostEqual(spot.area_mm / 0.4, 0.931, delta=0.01)
        self.assertLess(abs(spot.area_mm - 0.4), 2 * spot.sd_mm)
        flat = hole.measure(spoilt(plate(0.4, 0.4, 2400), "clean"), INCH_MM / 2400)
        self.assertLess(flat.sd_mm, spot.sd_mm / 4)

    def test_a_burr_is_flagged(self):
        picture = plate(0.5, 0.5, 2400, size=400)
        picture[195:206, 215:240] = 40
        self.assertTrue(hole.measure(spoilt(picture, "clean"), INCH_MM / 2400).burr)

    def test_a_scratch_that_leaves_the_hole_moves_neither_its_middle_nor_its_size(self):
        for turn in range(4):
            picture = plate(0.5, 0.5, 2400, size=400)
            # A bright line three pixels wide runs out to one side; no box has its middle on the
            # hole's.
            picture[199:202, 220:236] = 210
            spot = hole.measure(spoilt(np.rot90(picture, turn), "clean"), INCH_MM / 2400)
            self.assertLess(abs(spot.mean_mm / 0.5 - 1), TWO_PERCENT)
            self.assertLess(abs(spot.area_mm / 0.5 - 1), TWO_PERCENT)
            along = np.linalg.norm(spot.outline - np.array([199.5, 199.5]), axis=1)
            # Half of 0.5 mm at 2400 to the inch, in pixels.
            self.assertLess(np.abs(np.median(along) - 23.6), 0.4)
            self.assertLess(np.ptp(np.quantile(along, (0.05, 0.9))), 3)

    def test_a_soft_edge_is_less_sure(self):
        clean, soft = (
            hole.measure(spoilt(plate(0.5, 0.5, 2400), how), INCH_MM / 2400)
            for how in ("clean", "soft")
        )
        self.assertGreater(soft.sd_mm, 1.2 * clean.sd_mm)

    def test_points_laid_by_hand_make_the_ellipse_through_them(self):
        # Closed form: an ellipse of 60 by 50 px at 0.01 mm a pixel; widths average to the mean of
        # its support.
        turn = np.radians(np.arange(0, 360, 36))
        points = np.stack([100 + 30 * np.cos(turn), 90 + 25 * np.sin(turn)], axis=1)
        found = outline.from_points(points, 0.01)
        self.assertAlmostEqual(found.area_mm, 0.01 * (60 * 50) ** 0.5, places=4)
        self.assertAlmostEqual(found.roundness, 50 / 60, places=4)
        x, y = (found.outline - [100, 90]).T
        np.testing.assert_allclose((x / 30) ** 2 + (y / 25) ** 2, 1, atol=1e-6)
        for bad in (points[:4], np.zeros((9, 2)), points * [1, 0.02], np.full((9, 2), np.nan)):
            with self.assertRaises(hole.UnusableError):
                outline.from_points(bad, 0.01)

    def test_a_wrong_picture_is_told_and_never_measured(self):
        chance = np.random.default_rng(1)
        two = np.maximum(
            plate(0.4, 0.4, 2400, at=(120, 200), size=400),
            plate(0.35, 0.35, 2400, at=(290, 200), size=400),
        )
        below = two.T
        ring = plate(0.9, 0.9, 2400, size=300) - plate(
            0.5, 0.5, 2400, size=300, plate_grey=0, hole_grey=170
        )
        slit = plate(0.2, 0.9, 2400)
        cut = plate(0.5, 0.5, 2400, at=(10, 200), size=400)
        for what, picture, words in (
            ("black", np.zeros((300, 300)), "No hole"),
            ("noise", chance.integers(0, 255, (300, 300)), "hole|crop"),
            ("stripes", np.tile(np.arange(300) % 40 * 6, (300, 1)), "hole"),
            ("two", two, "2 things like a hole"),
            ("two, mirrored", two[:, ::-1], "2 things like a hole"),
            ("two, one below", below, "2 things like a hole"),
            ("two, one above", below[::-1], "2 things like a hole"),
            ("ring", ring, "a ring, not a hole"),
            ("slit", slit, "hole"),
            *((f"cut {turn}", np.rot90(cut, turn), "No hole") for turn in range(4)),
            ("tiny", plate(0.06, 0.06, 2400), "pixels across|No hole"),
            ("faint", plate(0.5, 0.5, 2400, plate_grey=100, hole_grey=112), "stands out"),
            ("small", np.zeros((5, 5)), "too small"),
            ("oblong", plate(0.3, 0.55, 2400), "too long to be a pinhole"),
            ("few", plate(0.08, 0.08, 2400, size=120), "only 8 pixels across: scan it at 2 times"),
            (
                "blurred",
                cv2.GaussianBlur(plate(0.5, 0.5, 2400, size=300), (0, 0), 4.5),
                "edge is too soft",
            ),
            (
                "soft",
                cv2.GaussianBlur(plate(0.3, 0.3, 2400), (0, 0), 7),
                "too soft|hardly|not one even|No hole",
            ),
        ):
            with self.subTest(what), self.assertRaisesRegex(hole.UnusableError, words):
                hole.measure(np.asarray(picture).astype(np.uint8), INCH_MM / 2400)
        with self.assertRaisesRegex(ValueError, "mm_per_px must be above 0"):
            hole.measure(np.zeros((300, 300), np.uint8), 0)

    def test_clouds_are_hardly_ever_taken_for_a_hole(self):
        chance, taken = np.random.default_rng(11), 0
        for _ in range(200):
            cloud = cv2.GaussianBlur(
                chance.normal(0, 1, (chance.integers(60, 400),) * 2), (0, 0), chance.uniform(1, 20)
            )
            cloud = (cloud - cloud.min()) / np.ptp(cloud) * 255
            with suppress(hole.UnusableError):
                taken += bool(hole.measure(cloud.astype(np.uint8), 0.01))
        # A threshold finds a disc in a few of any hundred clouds; the person sees the outline
        # before keeping it.
        self.assertLessEqual(taken, 6)

    def test_a_big_picture_holds_the_same_hole(self):
        big = np.full((4000, 5000), 40, np.uint8)
        big[1500:1900, 2500:2900] = spoilt(plate(0.8, 0.8, 1200, size=400), "noise")
        self.assertEqual(hole.measure(big, INCH_MM / 1200).beside_mm, ())
        # Six of its own widths away, so that no crop around the one holds the other.
        big[1550:1750, 3000:3200] = plate(0.5, 0.5, 1200, size=200).astype(np.uint8)
        with self.assertRaisesRegex(hole.UnusableError, "2 things"):
            hole.measure(big, INCH_MM / 1200)
        big[1550:1750, 3000:3200] = plate(0.3, 0.3, 1200, size=200).astype(np.uint8)
        found = hole.measure(big, INCH_MM / 1200)
        self.assertLess(abs(found.area_mm / 0.8 - 1), TWO_PERCENT)
        self.assertLess(np.abs(found.outline.mean(axis=0) - (2699.8, 1699.1)).max(), 0.6)
        self.assertAlmostEqual(found.beside_mm[0], 0.3, delta=0.01)
