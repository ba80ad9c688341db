"""How a can stood, from six clicks on trails that astropy drew, in cans of known direction."""

from datetime import date
from unittest import TestCase

import numpy as np

from pinhole import sun
from pinhole.projection import ArcBack, CanBack, FlatBack, Pointing
from pinhole.solargraph import fit_pointing
from tests.pinhole.test_sun_against_astropy import astropy_position

BACKS = (FlatBack(120, 203, 254), CanBack(100, 254, 203), ArcBack(110, 254, 203))
DAYS = (date(2026, 12, 21), date(2027, 3, 8), date(2027, 4, 25), date(2027, 6, 21))
HALF_MM = 0.5


def trails(place, offset_h):
    """[(azimuth, apparent altitude)] of the sun through each of DAYS, every five minutes, by
    astropy.
    """
    starts = np.array(DAYS, "datetime64[s]") - np.timedelta64(int(offset_h * 3600), "s")
    moments = starts[:, None] + np.arange(0, 1440, 5) * np.timedelta64(60, "s")
    seen = np.array(astropy_position(moments.ravel(), *place)).reshape(2, *moments.shape)
    days = [angles[:, angles[1] > 1] for angles in seen.swapaxes(0, 1)]
    return [(azimuth, altitude + sun.refraction_deg(altitude)) for azimuth, altitude in days]


def clicks(place, back, pointing, offset_h):
    """Six places on the paper: both ends of the horizon and of the two longest trails; None where
    the paper does not show so many.
    """
    level = back.land(pointing, np.arange(0, 360, 1.0), 0.0)
    order = np.argsort(level.x_mm[level.on_paper])
    horizon = np.stack([level.x_mm, level.y_mm], 1)[level.on_paper][order]
    found = []
    for day, course in zip(DAYS, trails(place, offset_h), strict=True):
        seen = back.land(pointing, *course)
        shown = np.stack([seen.x_mm, seen.y_mm], 1)[seen.on_paper]
        found.append((np.ptp(shown[:, 0]) if len(shown) > 9 else 0.0, day, shown))
    longest = sorted(found, key=lambda one: -one[0])[:2]
    if len(horizon) < 20 or not all(length for length, *_ in longest):
        return None
    marks = [(*horizon[1], None), (*horizon[-2], None)]
    for _, day, shown in longest:
        marks += [(*shown[1], day), (*shown[-2], day)]
    return marks


def any_can(chance):
    """(latitude, how it was meant to stand, how it stands) of a can north or south."""
    south = bool(chance.integers(2))
    latitude = float(chance.uniform(25, 62)) * (-1 if south else 1)
    meant = Pointing(0.0 if south else 180.0)
    true = Pointing(
        (meant.azimuth_deg + float(chance.uniform(-45, 45))) % 360,
        float(chance.uniform(5, 35)),
        float(chance.normal(0, 4)),
    )
    return latitude, meant, true


def corners(back, pointing, chance):
    """Two points of a skyline, of known direction and height, left and right on the paper."""
    found, around = [], np.arange(0, 360, 1.0)
    for side in (-0.6, 0.6):
        height = float(chance.uniform(2, 8))
        seen = back.land(pointing, around, height)
        off = np.where(seen.on_paper, np.abs(seen.x_mm - side * back.half_mm[0]), np.inf)
        n = int(off.argmin())
        found.append((seen.x_mm[n], seen.y_mm[n], (float(around[n]), height)))
    return found


def marked(chance, back):
    """(latitude, how it was meant to stand, how it stands, two corners and four marks on trails) of
    any can that shows so many.
    """
    while True:
        latitude, meant, true = any_can(chance)
        marks = clicks((latitude, 15.0), back, true, 1)
        if marks is not None:
            return latitude, meant, true, [*corners(back, true, chance), *marks[2:]]


def moved(marks, off_mm):
    """The marks, each off by so much along and across, (n, 2)."""
    return [(x + dx, y + dy, on) for (x, y, on), (dx, dy) in zip(marks, off_mm, strict=True)]


class SixClicks(TestCase):
    def test_half_a_millimetre_of_noise_is_answered_as_well_as_it_can_be_and_no_surer(self):
        chance = np.random.default_rng(1851)
        off, sure = [], []
        while len(off) < 24:
            latitude, meant, true = any_can(chance)
            back = BACKS[len(off) % 3]
            marks = clicks((latitude, 15.0), back, true, 1)
            if marks is None:
                continue
            noisy = moved(marks, chance.normal(0, HALF_MM, (6, 2)))
            fit = fit_pointing(latitude, 15.0, back, noisy, utc_offset_h=1, start=meant)
            turned = (fit.azimuth_deg - true.azimuth_deg + 180) % 360 - 180
            off.append((turned, fit.tilt_deg - true.tilt_deg))
            sure.append((fit.azimuth_sd, fit.tilt_sd))
        wrong = np.abs(off)
        self.assertLess(np.median(wrong[:, 0]), 0.5)
        self.assertLess(np.median(wrong[:, 1]), 0.25)
        # What it says of its own doubt holds: 90 % within 1.645 sd, and no less than seven in ten.
        self.assertGreater(np.mean(wrong < 1.645 * np.array(sure)), 0.7)

    def test_two_known_corners_of_the_skyline_tell_direction_and_lean_to_half_a_degree(self):
        """In 9 of 10 cans on flat, can and curved backs, north and south."""
        chance = np.random.default_rng(7)
        wrong = []
        while len(wrong) < 30:
            back = BACKS[len(wrong) % 3]
            latitude, meant, true, marks = marked(chance, back)
            noisy = moved(marks, chance.normal(0, HALF_MM, (6, 2)))
            fit = fit_pointing(latitude, 15.0, back, noisy, utc_offset_h=1, start=meant)
            self.assertEqual(fit.residuals_mm.shape, (6,))
            turned = (fit.azimuth_deg - true.azimuth_deg + 180) % 360 - 180
            wrong.append(max(abs(turned), abs(fit.tilt_deg - true.tilt_deg)))
        self.assertGreaterEqual(np.mean(np.array(wrong) < 0.5), 0.9)

    def test_clean_marks_are_met_and_a_wrong_one_is_weighted_down(self):
        true = Pointing(171.0, 14.0, -3.0)
        marks = clicks((57.1, 19.6), BACKS[1], true, 1)
        fit = fit_pointing(57.1, 19.6, BACKS[1], marks, utc_offset_h=1)
        for told, wanted in ((fit.azimuth_deg, 171), (fit.tilt_deg, 14), (fit.roll_deg, -3)):
            self.assertAlmostEqual(told, wanted, delta=0.1)
        self.assertLess(np.abs(fit.residuals_mm).max(), 0.1)
        x, y, day = marks[0]
        wrong = [(x, y + 12, day), *marks[1:]]
        fit = fit_pointing(57.1, 19.6, BACKS[1], wrong, utc_offset_h=1)
        self.assertAlmostEqual(fit.azimuth_deg, 171, delta=1)
        self.assertAlmostEqual(fit.tilt_deg, 14, delta=1)
        self.assertEqual(int(np.abs(fit.residuals_mm).argmax()), 0)

    def test_its_doubt_falls_as_the_root_of_marks_and_grows_with_the_noise(self):
        true = Pointing(171.0, 14.0, -3.0)
        marks = clicks((57.1, 19.6), BACKS[2], true, 1)
        chance = np.random.default_rng(2)

        def doubt(times, noise_mm):
            many = [
                (x + dx, y + dy, day)
                for _ in range(times)
                for (x, y, day), (dx, dy) in zip(
                    marks, chance.normal(0, noise_mm, (6, 2)), strict=True
                )
            ]
            surely = {"utc_offset_h": 1, "paper_sd_mm": 1e-3}
            return fit_pointing(57.1, 19.6, BACKS[2], many, **surely).azimuth_sd

        # Least squares: four times the marks, half the doubt; half the noise, half the doubt, as
        # far as so fine a hand is believed.
        few, many, quiet = doubt(3, 0.4), doubt(12, 0.4), doubt(12, 0.2)
        self.assertAlmostEqual(few / many, 2, delta=0.5)
        self.assertTrue(1.3 < many / quiet < 2.2, many / quiet)

    def test_it_is_found_from_wherever_it_was_meant_to_stand(self):
        true = Pointing(171.0, 14.0, -3.0)
        marks = clicks((57.1, 19.6), BACKS[0], true, 1)
        for azimuth in range(0, 360, 45):
            with self.subTest(azimuth):
                start = Pointing(azimuth, 5.0)
                fit = fit_pointing(57.1, 19.6, BACKS[0], marks, utc_offset_h=1, start=start)
                self.assertAlmostEqual(fit.azimuth_deg, 171, delta=0.2)

    def test_marks_that_contradict_themselves_or_tell_no_direction_are_not_told_from(self):
        """Mirrored, upside down, corners swapped, trails taken for each other, trails alone."""
        chance, told, lies = np.random.default_rng(31), [], {"mirrored": 0, "upside down": 0}
        while len(told) < 75:
            back = BACKS[len(told) % 3]
            latitude, meant, true, marks = marked(chance, back)
            off_mm = chance.normal(0, 0.5, 2) + chance.normal(0, 0.4, (6, 2))
            marks = moved(marks, off_mm)
            one, other, *rest = marks
            days = [rest[2][2], rest[2][2], rest[0][2], rest[0][2]]
            cases = (
                [(-x, y, on) for x, y, on in marks],
                [(-x, -y, on) for x, y, on in marks],
                [(*one[:2], other[2]), (*other[:2], one[2]), *rest],
                [one, other, *((x, y, day) for (x, y, _), day in zip(rest, days, strict=True))],
                rest,
            )
            for n, case in enumerate(cases):
                try:
                    fit = fit_pointing(latitude, 15.0, back, case, utc_offset_h=1, start=meant)
                except ValueError:
                    told.append(False)
                    continue
                turned = (fit.azimuth_deg - true.azimuth_deg + 180) % 360 - 180
                told.append(fit.told and max(abs(turned), abs(fit.tilt_deg - true.tilt_deg)) > 2)
                if n < 2:
                    lies[list(lies)[n]] += fit.lies == list(lies)[n]
        self.assertLessEqual(np.mean(told), 0.05)
        self.assertGreaterEqual(min(lies.values()), 13)

    def test_one_mark_that_contradicts_the_others_is_named(self):
        true = Pointing(171.0, 14.0, -3.0)
        marks = [*corners(BACKS[1], true, np.random.default_rng(3))]
        marks += clicks((57.1, 19.6), BACKS[1], true, 1)[2:]
        for n in range(len(marks)):
            strays = [(x, y + 14 * (m == n), on) for m, (x, y, on) in enumerate(marks)]
            fit = fit_pointing(57.1, 19.6, BACKS[1], strays, utc_offset_h=1)
            self.assertFalse(fit.told)
            self.assertIn(n, fit.suspects)

    def test_its_doubt_holds_where_the_paper_lies_a_millimetre_off(self):
        chance, wrong, doubts = np.random.default_rng(17), [], []
        while len(wrong) < 45:
            back = BACKS[len(wrong) % 3]
            latitude, meant, true, marks = marked(chance, back)
            off_mm = chance.normal(0, 1.0, 2) + chance.normal(0, 0.4, (6, 2))
            marks = moved(marks, off_mm)
            fit = fit_pointing(latitude, 15.0, back, marks, utc_offset_h=1, start=meant)
            turned = (fit.azimuth_deg - true.azimuth_deg + 180) % 360 - 180
            wrong.append((abs(turned), abs(fit.tilt_deg - true.tilt_deg)))
            doubts.append((fit.azimuth_sd, fit.tilt_sd))
        self.assertGreaterEqual(np.mean(np.array(wrong) < 1.645 * np.array(doubts)), 0.86)

    def test_what_fixes_nothing_is_told(self):
        one = (3.0, -10.0, DAYS[1])
        for marks, words in (
            ([one] * 3, "at least 4"),
            ([one] * 5, "fix nothing"),
            ([(np.nan, 0, None), *[one] * 4], "finite"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                fit_pointing(57, 19, BACKS[1], marks, utc_offset_h=1)
