"""Backs against rays traced step by step in three dimensions, written here without a formula of the
package.
"""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy.spatial.transform import Rotation

from pinhole import optics
from pinhole.projection import ArcBack, CanBack, FlatBack, Pointing, RoundBack
from pinhole.solargraph import can
from tests.pinhole.test_sun_against_astropy import astropy_position

HUNDREDTH_MM = 0.01
BACKS = (FlatBack(125, 119, 94), CanBack(66, 178, 120, 10), ArcBack(80, 200, 90))


def turned(pointing):
    """Camera axes as scipy turns them: level and north first, then heading, then tilt and roll
    about its own axes.
    """
    level = Rotation.from_matrix(
        np.array([[1.0, 0, 0], [0, 1, 0], [0, 0, 1]])
    )  # r east, f north, u up
    heading = Rotation.from_rotvec([0, 0, -np.radians(pointing.azimuth_deg)])
    tilt = Rotation.from_rotvec([np.radians(pointing.tilt_deg), 0, 0])
    roll = Rotation.from_rotvec([0, np.radians(pointing.roll_deg), 0])
    return (heading * tilt * roll * level).as_matrix()


def traced(back, pointing, azimuth, altitude):
    """(x, y, ray, incidence): follow the ray from the hole in small steps until it is through the
    paper's surface.
    """
    level = np.cos(altitude)
    sky = np.array([level * np.sin(azimuth), level * np.cos(azimuth), np.sin(altitude)])
    inward = -turned(pointing).T @ sky  # in the camera's own (r, f, u)
    if inward[1] >= 0:
        return None

    def outside(far):
        r, f, _ = inward * far
        if isinstance(back, FlatBack):
            return -f - back.focal_mm
        centre = -back.diameter_mm / 2 if isinstance(back, CanBack) else 0
        radius = back.diameter_mm / 2 if isinstance(back, CanBack) else back.radius_mm
        return np.hypot(r, f - centre) - radius

    near, far = 1e-6, 1e-6
    while outside(far) < 0 and far < 1e6:
        near, far = far, far * 1.05 + 0.01
    for _ in range(80):
        middle = (near + far) / 2
        near, far = (middle, far) if outside(middle) < 0 else (near, middle)
    r, f, u = inward * far
    if isinstance(back, FlatBack):
        return -r, u, far, np.degrees(np.arccos(-inward[1]))
    centre = -back.diameter_mm / 2 if isinstance(back, CanBack) else 0.0
    radial = np.array([r, f - centre, 0]) / np.hypot(r, f - centre)
    turn = np.arctan2(-r, -(f - centre))
    radius = np.hypot(r, f - centre)
    rise = u - (back.offset_mm if isinstance(back, CanBack) else 0)
    return radius * turn, rise, far, np.degrees(np.arccos(inward @ radial))


class RayTracing(TestCase):
    def test_every_back_any_way_it_stands(self):
        chance = np.random.default_rng(3)
        met = 0
        for back in BACKS:
            for _ in range(150):
                pointing = Pointing(
                    chance.uniform(0, 360), chance.uniform(-40, 40), chance.uniform(-180, 180)
                )
                azimuth, altitude = chance.uniform(0, 360), chance.uniform(-80, 80)
                found = back.land(pointing, azimuth, altitude)
                expected = traced(back, pointing, np.radians(azimuth), np.radians(altitude))
                if expected is None:
                    self.assertTrue(np.isnan(found.x_mm) and not found.on_paper)
                    continue
                if expected[2] > 2000:
                    continue
                met += 1
                got = (found.x_mm, found.y_mm, found.ray_mm, found.incidence_deg)
                np.testing.assert_allclose(
                    got, expected, atol=HUNDREDTH_MM, err_msg=f"{back} {pointing}"
                )
        self.assertGreater(met, 150)

    def test_signs_edges_and_light(self):
        north = Pointing(0)
        for back in BACKS:
            landed = back.land(north, 10, 10)
            self.assertTrue(landed.x_mm > 0 and landed.y_mm < 0 and landed.on_paper is True, back)
        # Closed forms: cos^4 for a flat back; x = D alpha, and 178 mm in 66 mm sees 154.5 degrees.
        self.assertAlmostEqual(BACKS[0].land(north, 30, 0).illuminance, np.cos(np.radians(30)) ** 4)
        self.assertAlmostEqual(CanBack(66, 178, 120).land(north, 30, 0).x_mm, 66 * np.radians(30))
        self.assertEqual(
            CanBack(66, 178, 120).land(north, [77.2, 77.3], 0).on_paper.tolist(), [True, False]
        )
        self.assertTrue(FlatBack(100, 200, 50).land(north, 45, 0).on_paper)
        # A tilted camera is a rotation: a sun at the tilt's height, straight ahead, lands in the
        # middle.
        self.assertAlmostEqual(BACKS[0].land(Pointing(180, 14), 180, 14).y_mm, 0)
        # Rolled clockwise by a quarter turn, what was to the right is now up in the camera: below
        # the middle.
        rolled = BACKS[0].land(Pointing(0, 0, 90), 10, 0)
        self.assertTrue(abs(rolled.x_mm) < 1e-9 and rolled.y_mm < 0)

    def test_a_hole_with_thickness_lets_in_what_passes_both_of_its_rims(self):
        """At 12 places from 78 N to 46 S, a tin can whose plate is as thick as its hole is wide."""
        chance, let_in, kept_out = np.random.default_rng(8), 0, 0
        radius, angle = (
            np.sqrt(chance.uniform(0, 1, 4000)) * 0.15,
            chance.uniform(0, 2 * np.pi, 4000),
        )
        rim = radius * np.array([np.cos(angle), np.sin(angle)])
        for latitude in np.linspace(-46, 78, 12):
            pointing = Pointing(0.0 if latitude < 0 else 180.0, 20.0)
            thick, thin = 0.3, CanBack(66, 178, 120, 10)
            half = optics.wall_field_deg(0.3, thick) / 2
            back = replace(thin, half_field_deg=half, tube_half_deg=half)
            moments = np.datetime64("2026-06-21T00:00") + np.arange(0, 1440, 20)
            azimuth, altitude = astropy_position(moments, latitude, 10.0)
            for sun_azimuth, height in zip(azimuth, altitude, strict=True):
                landed = back.land(pointing, sun_azimuth, height)
                ray = traced(thin, pointing, np.radians(sun_azimuth), np.radians(height))
                if ray is None or abs(ray[0]) > 88 or abs(ray[1]) > 59:
                    continue
                level = np.cos(np.radians(height))
                turn = np.radians(sun_azimuth)
                sky = [level * np.sin(turn), level * np.cos(turn), np.sin(np.radians(height))]
                across, out, up = -turned(pointing).T @ sky
                # What goes through the outer rim, where it meets the inner one, in a plate a bit
                # thinner and a bit thicker.
                slope = np.array([[across], [up]]) / -out
                passes = [
                    bool((np.hypot(*(rim + share * thick * slope)) < 0.15).any())
                    for share in (0.94, 1.06)
                ]
                if passes[0] != passes[1]:
                    continue
                self.assertEqual(bool(landed.on_paper), passes[0], (latitude, sun_azimuth))
                self.assertEqual(bool(back.reached(*ray[:2])), passes[0])
                # The hole is seen narrower: the share of those rays that pass both rims.
                share = (np.hypot(*(rim + thick * slope)) < 0.15).mean()
                less = landed.illuminance / thin.land(pointing, sun_azimuth, height).illuminance
                self.assertAlmostEqual(less, share, delta=0.03)
                let_in, kept_out = let_in + passes[0], kept_out + (not passes[0])
                np.testing.assert_allclose((landed.x_mm, landed.y_mm), ray[:2], atol=HUNDREDTH_MM)
        self.assertGreater(let_in, 100)
        self.assertGreater(kept_out, 50)

    def test_a_round_sheet_ends_at_its_rim(self):
        # Closed form: the rim of a 100 mm disc 50 mm behind the hole is seen at 45 degrees,
        # whichever way.
        disc = RoundBack(50, 100, 100)
        for right, up in ((45, 0), (0, 45), (0, -45)):
            self.assertTrue(disc.land(Pointing(0), right, up).on_paper)
        self.assertFalse(disc.land(Pointing(0), 40, 40).on_paper)
        self.assertTrue(FlatBack(50, 100, 100).land(Pointing(0), 40, 40 * 0.8).on_paper)
        right, up = np.radians(disc.outline())
        np.testing.assert_allclose(np.cos(right) * np.cos(up), np.cos(np.pi / 4), atol=1e-12)
        with self.assertRaisesRegex(ValueError, "height_mm"):
            RoundBack(50, 100, 90)

    def test_from_above_a_place_lies_in_its_own_ray_and_leads_back(self):
        for back in BACKS:
            half = back.half_mm[0]
            x = np.linspace(-half, half, 9)
            aside, behind = back.above(x)
            np.testing.assert_allclose(back.along(aside, behind), x, atol=1e-9)
            right, _ = back.sight(x, np.zeros(9))
            np.testing.assert_allclose(np.degrees(np.arctan2(aside, behind)), right, atol=1e-9)
            # A step along the paper is as long seen from above.
            fine_aside, fine_behind = back.above(np.linspace(-half, half, 4001))
            way = np.hypot(np.diff(fine_aside), np.diff(fine_behind)).sum()
            self.assertAlmostEqual(way, 2 * half, places=3)

    def test_the_outline_is_the_way_back(self):
        for back in BACKS:
            right, up = back.outline(7)
            landed = back.land(Pointing(0), right, up)
            half = (
                np.abs(landed.x_mm) / landed.x_mm.max(),
                np.abs(landed.y_mm) / np.abs(landed.y_mm).max(),
            )
            np.testing.assert_allclose(np.maximum(*half), 1, atol=1e-9)

    def test_fields_and_fall_off(self):
        # Closed forms: 2 atan(w / 2F); L / D; the corner of a flat back by cos^4; a can evens out
        # its wall.
        for back, across in (
            (BACKS[0], optics.field_deg(125, 119)),
            (BACKS[1], np.degrees(178 / 66)),
        ):
            self.assertAlmostEqual(back.field_deg()[0], across)
        self.assertAlmostEqual(BACKS[1].field_deg()[1], np.degrees(np.arctan(50 / 66)))
        corner = BACKS[0].fall_off_stops(59.5, 47)
        self.assertAlmostEqual(corner, optics.fall_off_stops(125, np.hypot(59.5, 47)))
        np.testing.assert_allclose(
            CanBack(66, 178, 120).fall_off_stops([0, 40, 89], 0), 0, atol=1e-12
        )
        self.assertAlmostEqual(BACKS[2].fall_off_stops(80 * np.pi / 4, 0), 0.5)
        self.assertEqual(CanBack(66, 178, 120).half_mm, (89, 60))
        self.assertEqual(ArcBack(100, 178, 120).half_mm, (89, 60))

    def test_shapes_nan_and_limits(self):
        landed = BACKS[1].land(Pointing(0), np.array([[0.0], [np.nan]]), np.array([1.0, 2, 3]))
        self.assertEqual((landed.x_mm.shape, landed.on_paper.dtype), ((2, 3), np.dtype(bool)))
        self.assertTrue(np.isnan(landed.x_mm[1]).all() and not landed.on_paper[1].any())
        for make, words in (
            (lambda: FlatBack(0, 1, 1), "focal_mm must be above 0"),
            (lambda: CanBack(66, 300, 10), "length_mm must be above 0 and at most 207"),
            (lambda: ArcBack(10, 40, 10), "length_mm"),
            (lambda: Pointing(0, 91), "tilt_deg must be at least -90"),
            (lambda: BACKS[0].land(Pointing(0), 0, 91), "altitude_deg must be"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                make()

    def test_walls_dots_blur_and_cans(self):
        # 0.3 mm in 0.1 mm: 143 degrees (common practice; 2 atan 3). A 6 mm opening 3 mm deep: 90
        # degrees.
        self.assertAlmostEqual(optics.wall_field_deg(0.3, 0.1), 143.13, places=2)
        self.assertAlmostEqual(optics.opening_field_deg(6, 3), 90)
        # The line through opposite dots is the edge of the field, whatever the body's length.
        for body, room in ((125, 80), (60, 80), (300, 80)):
            back, aside = optics.sighting_dots_mm(125, 119, body, room)
            self.assertAlmostEqual(
                2 * np.degrees(np.arctan2(aside, back)), optics.field_deg(125, 119)
            )
            self.assertTrue(back <= body and aside <= room)
        # The blur is least between Petzval's and Rayleigh's holes.
        holes = np.linspace(0.2, 0.8, 601)
        best = holes[np.argmin(optics.blur_mm(125, holes))]
        self.assertTrue(
            optics.best_diameter_mm(125, constant=2**0.5) < best < optics.best_diameter_mm(125)
        )
        # A 5x7 in sheet in a tall drinks can leaves the hole free (common practice): 66 mm, 150 mm
        # high.
        lying, upright = can.fits(66, 150, (127, 177.8))
        self.assertEqual(
            (lying.length_mm, lying.trim_length_mm, lying.trim_height_mm), (177.8, 0, 0)
        )
        self.assertAlmostEqual(lying.across_deg, 154.35, places=2)
        self.assertGreater(lying.gap_mm, 2 * can.CLEAR_MM)
        self.assertAlmostEqual(upright.trim_height_mm, 27.8)
        # Whatever can and sheet: what lies in it and what comes off are the sheet, it clears
        # the hole and the lid, and the rays to its upper and lower edge are those of its triangle.
        chance = np.random.default_rng(6)
        for wide, high, a, b in chance.uniform(40, 300, (40, 4)):
            up = float(chance.uniform(0.1, 1)) * high
            ways = can.fits(wide, high, (a, b), hole_up_mm=up)
            for fit in ways:
                sheet = fit.length_mm + fit.trim_length_mm, fit.height_mm + fit.trim_height_mm
                np.testing.assert_allclose(sorted(sheet), sorted((a, b)))
                self.assertLessEqual(fit.height_mm, high)
                self.assertAlmostEqual(fit.gap_mm + fit.length_mm, np.pi * wide)
                self.assertGreaterEqual(fit.gap_mm, 2 * can.CLEAR_MM - 1e-9)
                self.assertAlmostEqual(np.tan(np.radians(fit.up_deg)) * wide, up)
                self.assertAlmostEqual(np.tan(np.radians(fit.down_deg)) * wide, fit.height_mm - up)
            kept = [fit.length_mm * fit.height_mm for fit in ways]
            self.assertEqual(kept, sorted(kept, reverse=True))
        trimmed = can.fits(50, 90, (127, 177.8))[0]
        self.assertAlmostEqual(trimmed.gap_mm, 2 * can.CLEAR_MM)
