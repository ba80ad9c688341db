"""What must hold for any sky, any light and any day: inverses, bounds, symmetry, order."""

import math
from datetime import date, timedelta
from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as some

from pinhole import exposure, light, outing, reciprocity, shake, solargraph, sun
from pinhole.exposure import brackets
from pinhole.projection import ArcBack, CanBack, FlatBack, Pointing, RoundBack, directions
from pinhole.solargraph import noons, pointing
from pinhole.solargraph.skyline import Skyline
from pinhole.solargraph.tracks import OF_DAYS

LATITUDES, LONGITUDES = some.floats(-89.5, 89.5), some.floats(-180, 180)
MOMENTS = some.integers(0, 100 * 365 * 86_400).map(
    lambda s: np.datetime64("1950-01-01", "s") + np.timedelta64(s, "s")
)
POINTINGS = some.builds(Pointing, some.floats(0, 360), some.floats(-85, 85), some.floats(-180, 180))
BACKS = some.sampled_from(
    (
        FlatBack(125, 119, 94),
        RoundBack(80, 120, 120),
        CanBack(66, 178, 120, 10),
        ArcBack(80, 200, 90),
    )
)
SCHOOLS = some.sampled_from(
    (
        reciprocity.NoCorrection(),
        reciprocity.PowerLaw(1.16),
        reciprocity.Table(((1, 2), (4, 20), (20, 180))),
    )
)
COURSES = some.lists(some.tuples(some.floats(1, 900), some.floats(2, 900)), min_size=1, max_size=6)
POINTS = some.lists(
    some.tuples(some.integers(0, 359), some.floats(0, 60)),
    min_size=1,
    max_size=8,
    unique_by=lambda p: p[0],
)


def course(steps, school):
    times = np.cumsum([step for step, _ in steps])
    return light.course(times, [metered for _, metered in steps], school)


class Sky(TestCase):
    @given(MOMENTS, LATITUDES, LONGITUDES)
    def test_the_antipode_has_the_sun_below_as_far_as_here_above(self, utc, latitude, longitude):
        here = sun.position(utc, latitude, longitude)[1]
        there = sun.position(utc, -latitude, longitude - 180 if longitude > 0 else longitude + 180)[
            1
        ]
        self.assertAlmostEqual(here, -there, delta=0.006)  # both lose their parallax

    @given(MOMENTS, LATITUDES)
    def test_180_east_is_180_west(self, utc, latitude):
        np.testing.assert_allclose(
            sun.position(utc, latitude, 180), sun.position(utc, latitude, -180), atol=1e-6
        )

    @given(some.floats(-90, 90))
    def test_air_lifts_and_never_turns_over(self, altitude):
        lift = sun.refraction_deg(altitude)
        self.assertTrue(0 <= lift < 0.75)
        self.assertGreater(
            altitude + 0.01 + sun.refraction_deg(min(90, altitude + 0.01)),
            altitude + lift - 0.7 * (altitude < -0.9),
        )

    @given(POINTINGS, some.floats(-179, 179), some.floats(-89, 89))
    def test_what_is_seen_is_found_again(self, aim, right, up):
        azimuth, altitude = aim.sky(right, up)
        r, u, f = aim.seen(azimuth, altitude)
        expected = np.sin(np.radians(right)) * np.cos(np.radians(up)), np.sin(np.radians(up))
        np.testing.assert_allclose((r, u), expected, atol=1e-6)
        self.assertAlmostEqual(r * r + u * u + f * f, 1)

    @given(BACKS, POINTINGS, some.floats(0, 360), some.floats(-89, 89))
    def test_a_quick_look_lands_where_a_full_one_does(self, back, aim, azimuth, altitude):
        whole = back.land(aim, azimuth, altitude)
        level = np.cos(np.radians(altitude))
        sky = np.array(
            [
                level * np.sin(np.radians(azimuth)),
                level * np.cos(np.radians(azimuth)),
                np.sin(np.radians(altitude)),
            ]
        )
        x, y, on_paper = back.place(aim, sky)
        np.testing.assert_allclose((x, y), (whole.x_mm, whole.y_mm), atol=1e-9)
        self.assertEqual(bool(on_paper), whole.on_paper)

    @given(POINTS, some.floats(-720, 720))
    def test_a_skyline_stays_between_its_points_and_comes_round(self, points, azimuth):
        line = Skyline(tuple(points))
        heights = [height for _, height in points]
        found = float(line.altitude_deg(azimuth))
        self.assertTrue(min(heights) - 1e-9 <= found <= max(heights) + 1e-9)
        self.assertAlmostEqual(found, float(line.altitude_deg(azimuth + 360)), places=6)

    @settings(max_examples=40, deadline=None)
    @given(
        some.dates(date(1900, 1, 2), date(2100, 12, 30)),
        some.integers(0, 75),
        some.tuples(some.floats(0, 1), some.floats(0, 1)).map(sorted),
        LATITUDES,
        some.integers(-12, 12),
    )
    @example(date(1900, 1, 2), 40, [0.0, 0.5], 57.1, 12)
    @example(date(2100, 10, 31), 60, [0.5, 1.0], 57.1, -12)
    def test_a_day_of_the_sun_is_the_same_in_every_span(self, first, days, ends, latitude, offset):
        days = min(days, (date(2100, 12, 30) - first).days)
        begins, finishes = (round(end * days) for end in ends)
        options = {"utc_offset_h": offset, "step_min": 60}
        span = solargraph.track(latitude, 15, first, first + timedelta(days), **options)
        inner = first + timedelta(begins), first + timedelta(finishes)
        part = solargraph.track(latitude, 15, *inner, **options)
        rows = slice(begins, finishes + 1)
        for name in OF_DAYS:
            np.testing.assert_array_equal(getattr(part, name), getattr(span, name)[rows], name)
        seen = directions(np.radians(part.azimuth_deg), np.radians(part.altitude_deg))
        np.testing.assert_allclose(part.sky, seen[:, part.up], atol=1e-12)
        # Of a single moment, which goes over no grid and through no memory.
        utc = np.datetime64(inner[1], "s") + np.timedelta64((13 - offset) * 3600, "s")
        altitude = sun.position(utc, latitude, 15, refraction=True)[1]
        self.assertAlmostEqual(part.altitude_deg[-1, 13], altitude, delta=0.005)

    @settings(max_examples=20, deadline=None)
    @given(
        BACKS,
        some.floats(0, 360),
        some.floats(-20, 45),
        some.sampled_from(((57.1, 19.6, 1), (-43.95, 171.6, 12), (0.0, 0.0, 0))),
    )
    def test_a_survey_never_says_more_than_there_is(self, back, azimuth, tilt, place):
        latitude, longitude, offset = place
        seen = solargraph.track(
            latitude,
            longitude,
            date(2026, 5, 1),
            date(2026, 5, 20),
            utc_offset_h=offset,
            step_min=20,
        )
        look = solargraph.trails(seen, back, Pointing(azimuth, tilt), [(0, 2), (180, 9)])
        found = solargraph.summed(look)
        self.assertTrue(0 <= found.days_on_paper <= found.days == 20)
        self.assertTrue(0 <= found.share_on_paper <= 1)
        self.assertTrue(0 <= found.days_noon_over_top <= 20)
        self.assertFalse((look.on_paper & ~look.counted).any())
        if found.days_on_paper:
            half = back.half_mm[1]
            self.assertTrue(-half - 1e-6 <= found.y_min_mm <= found.y_max_mm <= half + 1e-6)
            self.assertTrue(
                date(2026, 5, 1) <= found.first_on_paper <= found.last_on_paper <= date(2026, 5, 20)
            )

    @settings(max_examples=60)
    @given(
        BACKS,
        some.builds(
            Pointing,
            some.sampled_from((0, 90, 180, 250)),
            some.floats(-60, 85),
            some.sampled_from((0, 0, 90, 180)),
        ),
        some.sampled_from((0.0, 23.0, -35.0, 57.1, 64.0, -57.0, 78.0)),
        some.integers(1, 12),
        some.integers(1, 200),
    )
    def test_what_is_advised_cures_what_was_named(self, back, aim, latitude, month, days):
        """Any place, back and direction: standing as the remedy says, a can keeps as many noons as
        was promised, and where it says so they stay when it hangs two degrees off.
        """
        first = date(2026, month, 3)
        span = (first, first + timedelta(days=days))
        seen = solargraph.track(latitude, 10, *span, utc_offset_h=1, step_min=60)
        before = noons.fate(seen, back, aim)
        stand = noons.remedy(seen.noon_sky[:, seen.noon_altitude_deg > 0], back, aim, 0.3)
        above = int((before != noons.DOWN).sum())
        on = int((before == noons.ON).sum())
        if stand is None:
            # Nothing is lost, or no direction of a coarse grid keeps more.
            ways = [Pointing(a, t) for a in range(0, 360, 30) for t in range(-60, 86, 10)]
            most = max(int((noons.fate(seen, back, way) == noons.ON).sum()) for way in ways)
            self.assertTrue(on == above or most <= on, (most, on))
            return
        after = noons.fate(seen, back, stand.pointing)
        self.assertEqual(int((after == noons.ON).sum()), stand.count)
        self.assertGreater(stand.count, on)
        self.assertTrue(stand.least_deg <= stand.pointing.tilt_deg <= stand.most_deg)
        turn, lean, roll = (
            stand.pointing.azimuth_deg,
            stand.pointing.tilt_deg,
            stand.pointing.roll_deg,
        )
        if stand.steady:
            for off in (-2, 2):
                for way in (Pointing(turn + off, lean, roll), Pointing(turn, lean + off, roll)):
                    kept = int((noons.fate(seen, back, way) == noons.ON).sum())
                    self.assertGreaterEqual(kept, stand.count)
        if stand.count == above:
            self.assertIsNone(
                noons.remedy(
                    seen.noon_sky[:, seen.noon_altitude_deg > 0], back, stand.pointing, 0.3
                )
            )

    @given(some.floats(20, 400), some.floats(-60, 60))
    def test_a_wedge_leans_as_far_back_as_it_was_asked(self, width, tilt):
        self.assertAlmostEqual(
            np.degrees(np.arctan(pointing.wedge_mm(width, tilt) / width)), tilt, places=6
        )


class Light(TestCase):
    @given(COURSES, SCHOOLS, some.floats(0, 3), some.floats(0, 2000))
    def test_reach_is_the_inverse_of_share(self, steps, school, share, start):
        found = course(steps, school)
        end = found.reach_s(start, share)
        self.assertGreaterEqual(end, start)
        self.assertAlmostEqual(found.share(start, end), share, delta=1e-6 * max(1, share))

    @given(COURSES, SCHOOLS, some.floats(0, 500), some.floats(0, 500), some.floats(0, 500))
    def test_shares_add_up_and_never_shrink(self, steps, school, start, first, second):
        found = course(steps, school)
        middle, end = start + first, start + first + second
        whole = found.share(start, end)
        self.assertAlmostEqual(
            whole, found.share(start, middle) + found.share(middle, end), delta=1e-9 + 1e-7 * whole
        )
        self.assertGreaterEqual(whole, found.share(start, middle) - 1e-12)

    @given(some.floats(2, 400), SCHOOLS, some.floats(0.2, 2))
    def test_a_bracket_grows_and_its_clock_never_outruns_its_effect(self, seconds, school, apart):
        reading = exposure.Reading("seconds", "", seconds, 128, 6)
        done = exposure.calculate(
            reading, exposure.Specification(f_number=200, ei=6, school=school)
        )
        less, middle, more = brackets.bracket(done, (-apart, 0, apart))
        self.assertTrue(less.seconds <= middle.seconds <= more.seconds)
        # No school shortens, so a stop of effect takes at least a stop of clock.
        self.assertGreaterEqual(math.log2(more.exact_s / middle.exact_s), apart - 1e-9)

    @given(
        some.lists(
            some.tuples(some.floats(0, 20_000), some.floats(0, 900), some.integers(1, 3)),
            min_size=1,
            max_size=7,
        )
    )
    def test_nobody_is_at_two_places_at_once(self, wanted):
        asked = exposure.Specification(300, 6, reciprocity.NoCorrection())
        sheet = outing.SheetWanted(asked, np.array([13.0, 11.0]))
        wants = [
            outing.ShotWanted(start, set_up, ((sheet,) * count,)) for start, set_up, count in wanted
        ]
        laid = outing.schedule(wants, [0.0, 30_000.0])
        for want, one in zip(wants, laid, strict=True):
            self.assertGreaterEqual(one.begins_s, want.start_s)
            self.assertAlmostEqual(one.opens_s, one.begins_s + want.set_up_s)
        ordered = sorted(laid, key=lambda one: one.begins_s)
        for before, after in pairwise(ordered):
            self.assertGreaterEqual(after.begins_s, before.ends_s - 1e-6)

    @given(some.lists(some.floats(-4, 17), min_size=1, max_size=6), some.floats(1, 12))
    def test_holding_an_end_moves_by_half_of_what_is_lost(self, evs, held):
        middle, high, low = (
            brackets.scene(evs, held, hold) for hold in ("middle", "highlights", "shadows")
        )
        self.assertEqual(middle.rate_stops, 0)
        self.assertAlmostEqual(high.rate_stops, -low.rate_stops)
        self.assertAlmostEqual(2 * low.rate_stops, middle.lost_stops)
        self.assertEqual(middle.fits, middle.lost_stops == 0)

    @given(some.sampled_from(shake.WINDS), some.floats(0.5, 5000))
    def test_longer_exposures_shake_less_at_the_flap(self, wind, seconds):
        short, long = shake.risk(wind, seconds), shake.risk(wind, 2 * seconds)
        self.assertGreaterEqual(short.camera, long.camera)
        self.assertLessEqual(shake.risk(wind, seconds, hand=True).camera, short.camera)
