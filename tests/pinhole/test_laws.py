"""What must hold for any input: inverses, never shorter, one shape in and out, limits named."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as some

from pinhole import clock, durations, exposure, light, media, optics, reciprocity, verdicts

SECONDS = some.floats(1e-3, 1e6)
SCHOOLS = some.one_of(
    some.just(reciprocity.NoCorrection()),
    some.builds(reciprocity.PowerLaw, some.floats(1, 3), some.floats(0.01, 1000)),
    # Steps in log-log no steeper than a person may type.
    some.lists(
        some.tuples(some.floats(0.05, 2), some.floats(0.01, reciprocity.table.STEEPEST_RISE)),
        min_size=1,
        max_size=6,
    ).map(
        lambda steps: reciprocity.Table(
            tuple(
                zip(
                    *np.exp(np.cumsum([(x, x * slope) for x, slope in steps], axis=0)).T,
                    strict=True,
                )
            )
        )
    ),
)


class Laws(TestCase):
    @given(SCHOOLS, SECONDS)
    def test_no_school_shortens_and_each_has_its_inverse(self, school, seconds):
        adjusted = school.adjusted_s(seconds)
        self.assertGreaterEqual(adjusted, seconds * (1 - 1e-12))
        self.assertAlmostEqual(school.metered_s(adjusted) / seconds, 1, places=6)
        self.assertEqual(reciprocity.from_data(school.as_data()), school)

    @given(SCHOOLS, some.floats(-0.3, 0.5), SECONDS)
    def test_a_steeper_school_makes_so_much_more_of_long_times_and_shortens_none(
        self, school, more, seconds
    ):
        steeper = school.steeper(more)
        self.assertGreaterEqual(steeper.adjusted_s(seconds), seconds * (1 - 1e-12))
        # At the lines of a table, and beyond the onset of a law.
        onset = getattr(school, "onset_s", 1.0)
        lines = [metered for metered, _ in getattr(school, "points", ())] if more >= 0 else []
        lines = lines if school.name == "table" else [max(seconds, 1.0, onset)]
        for at in (at for at in lines if at >= 1):
            wanted = max(at, school.adjusted_s(at) * at**more)
            self.assertAlmostEqual(steeper.adjusted_s(at) / wanted, 1, places=6)

    @given(SCHOOLS, some.lists(some.floats(-1, 1), min_size=4, max_size=4), SECONDS)
    def test_own_sheets_bend_a_school_by_so_many_stops_from_a_second_on(self, school, stops, at):
        log2_s = np.array([0.0, 4.0, 9.0, 20.0])
        own = reciprocity.OwnCurve.from_stops(school, log2_s, stops)
        adjusted = own.adjusted_s(at)
        self.assertAlmostEqual(own.metered_s(adjusted) / at, 1, places=6)
        self.assertEqual(reciprocity.from_data(own.as_data()), own)
        self.assertGreater(own.adjusted_s(at * 1.01), adjusted)
        for seconds, more in zip(2.0 ** log2_s[1:], np.array(stops[1:]) - stops[0], strict=True):
            bent = np.log2(own.adjusted_s(seconds) / school.adjusted_s(seconds))
            # It bends as far down as a rising curve can.
            self.assertGreaterEqual(bent, more - 1e-6)
            if np.ptp(stops) < 0.3:
                self.assertAlmostEqual(bent, more, places=6)
        if at <= 1 and school.name != "table":
            self.assertAlmostEqual(adjusted / school.adjusted_s(at), 1)

    @given(SCHOOLS, some.lists(SECONDS, min_size=2, max_size=8))
    def test_arrays_are_what_scalars_are(self, school, times):
        found = school.adjusted_s(np.array(times))
        self.assertEqual(found.dtype, np.float64)
        np.testing.assert_allclose(found, [school.adjusted_s(seconds) for seconds in times])

    @given(some.floats(0.5, 86400))
    def test_a_counted_time_is_read_as_it_is_said(self, seconds):
        counted = durations.countable_s(seconds)
        self.assertEqual(durations.parse_s(durations.say(counted)), counted)
        self.assertLessEqual(abs(counted - seconds), max(0.5, 0.1 * seconds))

    @given(some.text(max_size=45))
    def test_any_text_is_a_time_or_refused(self, text):
        try:
            self.assertGreaterEqual(durations.parse_s(text), 0)
        except ValueError as error:
            self.assertTrue(str(error))

    def test_scalars_arrays_nan_and_limits(self):
        # call with one good value, one value outside, the words that name the limit
        for call, good, bad, words in (
            (lambda x: optics.f_number(x, 0.4), 100.0, 0, "focal_mm must be above 0"),
            (lambda x: optics.f_number(100, x), 0.4, -1, "diameter_mm must be above 0"),
            (optics.meter_factor, 300.0, 0, "f_number must be above 0"),
            (optics.best_diameter_mm, 89.0, float("inf"), "finite"),
            (lambda x: optics.fall_off_stops(100, x), 50.0, -1, "off_axis_mm must be at least 0"),
            (light.ev100_from_lux, 100.0, 0, "lux must be above 0"),
            (lambda x: light.metered_s(12, x, 100), 250.0, 0, "f_number must be above 0"),
            (reciprocity.PowerLaw(1.2).adjusted_s, 5.0, 0, "metered_s must be above 0"),
            (reciprocity.Table(((1, 2), (4, 20))).metered_s, 5.0, -2, "adjusted_s must be above 0"),
            (
                lambda x: exposure.equivalent_s(
                    x, from_f_number=1, to_f_number=2, from_iso=1, to_iso=1
                ),
                5.0,
                0,
                "above 0",
            ),
        ):
            with self.subTest(words):
                self.assertIsInstance(call(good), float)
                array = call(np.array([[good], [np.nan]]))
                self.assertEqual((array.shape, array[0, 0]), ((2, 1), call(good)))
                self.assertTrue(np.isnan(array[1, 0]))
                with self.assertRaisesRegex(ValueError, words):
                    call(np.array([good, bad]))

    def test_schools_refuse_what_is_no_school(self):
        for make in (
            lambda: reciprocity.PowerLaw(0.86),
            lambda: reciprocity.PowerLaw(1.1, 0),
            lambda: reciprocity.Table(()),
            lambda: reciprocity.Table(((1, 2), (1, 3))),
            lambda: reciprocity.Table(((1, 3), (2, 3))),
            lambda: reciprocity.Table(((0, 3),)),
            lambda: reciprocity.Table(((float("nan"), 3),)),
        ):
            with self.assertRaises(ValueError):
                make()

    def test_a_clock_adds_up_what_the_hole_was_free_for(self):
        log = [(0, "opened"), (10, "covered"), (11, "covered"), (25, "uncovered"), (40, "closed")]
        for until, total in ((5, 5), (20, 10), (30, 15), (99, 25)):
            self.assertEqual(
                clock.open_s([moment for moment in log if moment[0] <= until], until), total
            )
        with self.assertRaisesRegex(ValueError, "ajar is not one of"):
            clock.open_s([(0, "ajar")], 9)

    @given(
        some.lists(
            some.tuples(some.integers(0, 40), some.sampled_from(sorted(clock.RANK))), max_size=9
        )
    )
    def test_any_log_in_any_order_adds_up(self, log):
        # Counted second by second, by the definition: open and not covered in the middle of it.
        told, now = clock.tally(log, 40), 40
        ordered = sorted(log, key=lambda moment: (moment[0], clock.RANK[moment[1]]))
        total = 0
        for second in range(now):
            words = [word for at, word in ordered if at <= second]
            is_open = [word for word in words if word in clock.OPEN][-1:] == ["opened"]
            is_covered = [word for word in words if word in clock.COVER][-1:] == ["covered"]
            total += is_open and not is_covered
        self.assertEqual(told.open_s, total)
        self.assertTrue(all(a < b for a, b in told.spans) and set(told.odd) <= set(clock.ODD))
        if log == ordered and ordered[:1] and ordered[0][1] == "opened":
            self.assertEqual(told.odd, ())


class Small(TestCase):
    def test_a_medium_is_metered_if_it_is_timed_and_is_not_printed_from_and_a_positive(self):
        for name, medium in media.MEDIA.items():
            self.assertEqual(bool(medium.metering), medium.is_timed, name)
            self.assertFalse(medium.is_printed_from and medium.is_positive, name)
        with self.assertRaises(ValueError):
            media.medium("slate")

    def test_too_dark_by_so_much_is_told_like_too_pale_by_so_much(self):
        for medium in media.MEDIA:
            steps = [seen.stops_more for seen in verdicts.looks(medium)]
            self.assertEqual([-step for step in steps], steps[::-1])
            # A paper held far too pale is two stops off, the usual most that one judges by eye
            # (common practice).
            self.assertEqual({abs(step) for step in steps}, {0, 0.5, 1, 2})

    def test_the_steepest_part_of_a_table_is_the_largest_of_its_powers(self):
        # 1 to 10 s grows with the power 1, 10 to 100 with 2, 100 to 1000 with 1.5.
        table = reciprocity.Table(((1, 1), (10, 10), (100, 1000), (1000, 1000 * 10**1.5)))
        self.assertAlmostEqual(table.steepest, 2)
        self.assertEqual(reciprocity.Table(((4, 20),)).steepest, 1)

    @given(some.floats(1, 8), some.floats(0, 8), SCHOOLS)
    def test_a_pre_flash_leaves_the_middle_and_lifts_what_lies_under_it(
        self, flash, shadow, school
    ):
        plain = exposure.Specification(f_number=250, ei=6, school=school)
        reading = exposure.read_ev(13, 100, "")
        without = exposure.calculate(reading, plain)
        flashed = exposure.calculate(reading, replace(plain, preflash_stops=flash))
        # Light adds: what the picture gives and what the flash gave are the whole.
        given_share = flashed.metered_s / without.metered_s
        self.assertAlmostEqual(given_share + 2**-flash, 1)
        card_s = school.metered_s(exposure.flash_s(flashed))
        self.assertAlmostEqual(card_s / (without.metered_s * 2**-flash), 1, places=6)
        lifted = exposure.lift_stops(flash, shadow)
        self.assertAlmostEqual(2**lifted, given_share + 2 ** (shadow - flash))
        self.assertAlmostEqual(exposure.lift_stops(flash, 0), 0)
        self.assertGreaterEqual(exposure.lift_stops(flash, shadow + 1), lifted)
        self.assertIsNone(exposure.flash_s(without))
