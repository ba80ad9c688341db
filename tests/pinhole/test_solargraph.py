"""What a can draws: trails against ray tracing and astropy, and the rules of a survey on cases done
by hand.
"""

from datetime import date
from unittest import TestCase

import numpy as np

from pinhole import solargraph, sun
from pinhole.projection import ArcBack, CanBack, FlatBack, Pointing
from pinhole.solargraph import climate, noons, pointing
from pinhole.solargraph.skyline import Skyline, at, read_csv
from tests.pinhole.test_against_ray_tracing import traced
from tests.pinhole.test_sun_against_astropy import astropy_position

TENTH_MM = 0.1
CAN = CanBack(66, 178, 120)
# place, UTC offset without summer time, back, pointing: both hemispheres, the tropics, a pole, any
# tilt and roll.
CASES = (
    (57.1, 19.6, 1, CAN, Pointing(180, 14)),
    (-43.95, 171.6, 12, CAN, Pointing(0, 10, 5)),
    (1.3, 103.8, 8, FlatBack(100, 240, 180), Pointing(90, 45)),
    (78.2, 15.6, 1, ArcBack(80, 240, 120), Pointing(200, -5, 170)),
    (-89.9, 0, 0, CAN, Pointing(300, 20)),
)
YEAR = date(2026, 1, 1), date(2026, 12, 31)
SPRING = date(2026, 3, 1), date(2026, 3, 10)


class Trails(TestCase):
    def test_trails_lie_where_traced_rays_of_astropys_sun_do(self):
        met = 0
        for latitude, longitude, offset, back, aim in CASES:
            seen = solargraph.track(
                latitude,
                longitude,
                date(2026, 6, 10),
                date(2026, 6, 12),
                utc_offset_h=offset,
                step_min=30,
            )
            look = solargraph.trails(seen, back, aim)
            for day, slot in zip(*np.nonzero(look.on_paper), strict=True):
                utc = seen.days[day].astype("datetime64[s]") + np.timedelta64(
                    int(seen.minutes[slot]) * 60 - offset * 3600, "s"
                )
                azimuth, altitude = (
                    float(part[0]) for part in astropy_position(utc, latitude, longitude)
                )
                altitude += sun.refraction_deg(altitude)
                expected = traced(back, aim, np.radians(azimuth), np.radians(altitude))
                if altitude < 10:
                    continue  # Where astropy is no authority for refraction.
                met += 1
                here = look.x_mm[day, slot], look.y_mm[day, slot]
                # The sun's 0.02 degrees are up to 0.06 mm here.
                np.testing.assert_allclose(
                    here, expected[:2], atol=TENTH_MM, err_msg=f"{latitude} {back}"
                )
        self.assertGreater(met, 100)

    def test_a_days_sun_is_that_of_the_places_own_day(self):
        # In Auckland's zone the sun of 24 November rises on the 23rd in UTC: minutes count from the
        # place's midnight.
        seen = solargraph.track(
            -43.95, 171.6, date(2026, 11, 24), date(2026, 11, 24), utc_offset_h=12
        )
        up = seen.minutes[seen.altitude_deg[0] > 0]
        self.assertTrue(4 * 60 < up[0] < 6 * 60 and 19 * 60 < up[-1] < 21 * 60)
        self.assertEqual(seen.azimuth_deg.shape, (1, 720))
        # Its noon stands in the north.
        self.assertLess(min(seen.noon_azimuth_deg[0], 360 - seen.noon_azimuth_deg[0]), 1)
        self.assertAlmostEqual(seen.noon_altitude_deg[0], seen.altitude_deg[0].max(), delta=0.02)


class SurveyRules(TestCase):
    def survey(self, back=CAN, aim=None, span=SPRING, place=(57.1, 19.6), **more):
        return solargraph.survey(*place, back, aim or Pointing(180), *span, utc_offset_h=1, **more)

    def test_noons_over_the_top_and_the_lean_that_keeps_them(self):
        upright = self.survey(span=YEAR)
        # Closed form: a can sees atan(60 / 66) = 42.27 degrees up; noon is 90 - 57.1 + declination,
        # so over the top while the declination passes 9.4 degrees: mid-April to the end of August
        # (Astronomical Almanac, from memory).
        self.assertTrue(130 < upright.days_noon_over_top < 140)
        self.assertEqual(self.survey(aim=Pointing(180, 14.5), span=YEAR).days_noon_over_top, 0)
        seen = solargraph.track(57.1, 19.6, *YEAR, utc_offset_h=1)
        look = solargraph.trails(seen, CAN, Pointing(180))
        ((first, last),) = solargraph.spans(seen.days, look.noon_over_top)
        self.assertTrue(
            date(2026, 4, 12) <= first <= date(2026, 4, 17)
            and date(2026, 8, 25) <= last <= date(2026, 8, 30)
        )
        tilt = noons.stand(seen.noon_sky, CAN, 180).least_deg
        self.assertEqual((tilt, round(pointing.wedge_mm(66, tilt))), (14.5, 17))
        # Lowest on the paper is the highest sun: -D tan(42.27) for a can, no further than its edge.
        self.assertAlmostEqual(upright.y_min_mm, -60, delta=0.3)
        self.assertLess(upright.y_max_mm, 0)

    def test_a_skyline_hides_and_noon_does_not_care(self):
        free, walled = self.survey(span=YEAR), self.survey(span=YEAR, horizon=[(0, 30)])
        self.assertLess(walled.days_on_paper, free.days_on_paper)
        self.assertEqual(walled.days_noon_over_top, free.days_noon_over_top)
        hidden = self.survey(horizon=[(180, 89)])
        self.assertEqual(
            (hidden.days_on_paper, hidden.first_on_paper, hidden.last_on_paper), (0, None, None)
        )
        self.assertTrue(np.isnan(hidden.share_on_paper) and np.isnan(hidden.y_min_mm))

    def test_counts_and_dates(self):
        found = self.survey()
        self.assertEqual((found.days, found.days_on_paper), (10, 10))
        self.assertEqual((found.first_on_paper, found.last_on_paper), SPRING)
        self.assertGreater(found.share_on_paper, 0.9)
        self.assertEqual(self.survey(aim=Pointing(0)).days_on_paper, 0)
        night = self.survey(place=(78.2, 15.6), span=(date(2026, 12, 10), date(2026, 12, 20)))
        self.assertTrue(night.days_on_paper == 0 and np.isnan(night.share_on_paper))
        for span, words in (
            ((SPRING[1], SPRING[0]), "must not be before"),
            ((date(2020, 1, 1), date(2030, 2, 1)), "at most 3660"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                self.survey(span=span)
        with self.assertRaisesRegex(ValueError, "utc_offset_h"):
            solargraph.survey(57, 19, CAN, Pointing(0), *SPRING, utc_offset_h=20)

    def lines_of(self, aim=None, span=YEAR, minutes=None, sunshine=None):
        aim = aim or Pointing(180, 14.5)
        seen = solargraph.track(57.1, 19.6, *span, utc_offset_h=1)
        look = solargraph.trails(seen, CAN, aim, minutes=minutes)
        dark = solargraph.darkening(look, CAN, aim, 220, 0.3, sunshine)
        return look, solargraph.lines(look, CAN, aim, 0.3), dark

    def test_lines_touch_and_dull_days_part_them(self):
        look, lines, _ = self.lines_of()
        # By hand: 66 mm x 0.533 degrees = 0.614, with the hole 0.683 mm where the ray is as long as
        # the can is wide; 60 degrees aside the ray is half as long, 0.307 with the hole 0.429.
        middle = np.hypot(look.x_mm, look.y_mm - 0) < 1.5
        self.assertAlmostEqual(float(np.nanmedian(lines.widths_mm[middle])), 0.683, delta=0.02)
        aside = np.abs(np.abs(look.x_mm) - 66 * np.pi / 3) < 0.5
        level = aside & (np.abs(look.y_mm) < 4)
        self.assertAlmostEqual(float(np.nanmin(lines.widths_mm[level])), 0.429, delta=0.03)
        self.assertEqual(np.isfinite(lines.widths_mm).tolist(), look.on_paper.tolist())
        # Declination moves 0.4 degrees a day at the equinoxes and hardly at the solstices
        # (Astronomical Almanac, from memory); the disc is 0.53 degrees, so that two days touch and
        # three do not.
        self.assertLess(lines.gaps_mm.min(), 0.02)
        self.assertAlmostEqual(lines.gaps_mm[78], 66 * np.radians(0.4), delta=0.15)
        self.assertLess(np.nanmax(lines.gaps_mm), lines.usual_mm)
        self.assertEqual(lines.opens_after, 1)
        # Noons off the paper are no gap.
        _, upright, _ = self.lines_of(Pointing(180))
        self.assertTrue(np.isnan(upright.gaps_mm[150:190]).all())
        self.assertIsNone(self.lines_of(span=(date(2026, 6, 19), date(2026, 6, 23)))[1].opens_after)

    def test_nowhere_do_two_clear_days_part(self):
        # Half a degree of disc over at most 0.4 of a step (Astronomical Almanac, from memory),
        # however paper and ray stretch them.
        chance, seen = np.random.default_rng(12), 0
        for _ in range(30):
            latitude, aim = chance.uniform(-70, 70), Pointing(*chance.uniform((0, -30), (360, 60)))
            back = (CAN, FlatBack(100, 240, 180), ArcBack(80, 240, 120))[chance.integers(3)]
            track = solargraph.track(
                latitude, 10, date(2026, 2, 1), date(2026, 5, 1), utc_offset_h=1, step_min=10
            )
            look = solargraph.trails(track, back, aim)
            parted = solargraph.lines(look, back, aim, 0.3).opens_after
            seen += parted is not None
            self.assertNotEqual(parted, 0)
        self.assertGreater(seen, 5)

    def test_the_sun_rests_on_a_place_for_two_minutes_a_day(self):
        # By hand: 15 degrees an hour pass a disc of 0.533 degrees in 2.13 minutes; at f/220 with a
        # hole of 0.3 mm under a disc of 0.61 that is worth (200/220)^2 x 0.61^2 / 0.683^2 of it.
        day = (date(2026, 3, 20), date(2026, 3, 20))
        _, _, once = self.lines_of(span=day)
        self.assertAlmostEqual(once.most_min, 2.13 * 0.826 * 0.806, delta=0.4)
        # Aside the sun falls in aslant and from further off its axis.
        self.assertTrue(0.4 < once.usual_min < once.most_min)
        _, _, year = self.lines_of()
        self.assertTrue(once.usual_min < year.usual_min < 15)
        # A figure of eight stays a string of single minutes: its sun hardly ever comes back.
        _, _, eight = self.lines_of(minutes=(720, 720))
        self.assertLess(eight.usual_min, 3 * once.usual_min)
        _, _, dull = self.lines_of(sunshine=np.full(365, 0.25))
        self.assertAlmostEqual(dull.usual_min, year.usual_min / 4)
        # Light on the paper goes with 1 / N^2 (ISO 2720).
        look, _, _ = self.lines_of(span=day)
        twice = solargraph.darkening(look, CAN, Pointing(180, 14.5), 440, 0.3)
        self.assertAlmostEqual(twice.usual_min, once.usual_min / 4)

    def test_water_gives_back_what_fresnel_says(self):
        # A glance of 4 degrees 65 %, 41 degrees 3 %, straight down 2 % (Fresnel, index 1.33).
        told = solargraph.mirrored_share([4, 41, 90])
        np.testing.assert_allclose(told, [0.65, 0.03, 0.02], atol=0.01)
        self.assertEqual(solargraph.mirrored_share(0), 1)

    def test_open_at_one_clock_time_draws_a_figure_of_eight(self):
        seen = solargraph.track(57.1, 19.6, *YEAR, utc_offset_h=1)
        look = solargraph.trails(seen, CAN, Pointing(180, 14.5), minutes=(720, 720))
        self.assertEqual(set(look.counted.sum(axis=1)), {1})
        x = look.x_mm[:, 360]
        # The equation of time swings by half an hour, 7.7 degrees (Astronomical Almanac, from
        # memory).
        self.assertTrue(66 * np.radians(6) < np.ptp(x) < 66 * np.radians(13))
        noon = solargraph.trails(seen, CAN, Pointing(180, 14.5)).noon_x_mm
        self.assertLess(np.ptp(noon), 0.5)


class Pointings(TestCase):
    def test_the_best_way_shows_as_much_as_any_on_a_grid_and_what_it_promises(self):
        for latitude, longitude, offset, span, roll in (
            (57.1, 19.6, 1, SPRING, 0),
            (-43.95, 171.6, 12, (date(2026, 3, 20), date(2026, 6, 21)), 0),
            (0.0, 10.0, 1, YEAR, 0),
            (78.0, 15.0, 1, SPRING, 0),
            (57.1, 19.6, 1, SPRING, 90),
        ):
            with self.subTest(latitude=latitude, roll=roll):
                seen = solargraph.track(
                    latitude, longitude, *span, utc_offset_h=offset, step_min=10
                )
                found = pointing.best(seen, CAN, roll_deg=roll)

                def share(azimuth, tilt, seen=seen, roll=roll):
                    look = solargraph.trails(seen, CAN, Pointing(azimuth, tilt, roll))
                    return solargraph.summed(look).share_on_paper

                grid = [share(a, t) for a in range(0, 360, 10) for t in range(-20, 86, 7)]
                self.assertGreater(found.share, max(grid) - 0.01)
                self.assertAlmostEqual(found.share, share(found.azimuth_deg, found.tilt_deg), 9)
        with self.assertRaisesRegex(ValueError, "no sun stands"):
            pointing.best(seen, CAN, horizon=[(0, 89)])

    def test_what_becomes_of_a_noon_and_of_the_landscape(self):
        """Closed form: on 21 June the noon sun of 57.1 N stands 56.3 degrees high in the south, and
        a can sees 42.3 degrees up and down from where it looks.
        """
        june = (date(2026, 6, 21), date(2026, 6, 21))
        seen = solargraph.track(57.1, 19.6, *june, utc_offset_h=1, step_min=30)
        for aim, fate, landscape in (
            (Pointing(180), noons.OVER, True),
            (Pointing(180, 0, 180), noons.OVER, True),
            (Pointing(180, 15), noons.ON, True),
            (Pointing(180, 15, 180), noons.ON, True),
            (Pointing(180, 42), noons.ON, True),
            (Pointing(180, 43), noons.ON, False),
            (Pointing(180, 89), noons.ON, False),
            (Pointing(180, -30), noons.OVER, True),
            (Pointing(0), noons.BEHIND, True),
            (Pointing(80), noons.SIDE, True),
        ):
            with self.subTest(aim):
                self.assertEqual(noons.fate(seen, CAN, aim).tolist(), [fate])
                self.assertEqual(noons.horizon_on_paper(CAN, aim), landscape)
        # In December it stands 9.5 degrees high, below what a can leaned back by 60 sees.
        december = (date(2026, 12, 21), date(2026, 12, 21))
        low = solargraph.track(57.1, 19.6, *december, utc_offset_h=1, step_min=30)
        for roll in (0, 180):
            self.assertEqual(noons.fate(low, CAN, Pointing(180, 60, roll)).tolist(), [noons.UNDER])
        night = solargraph.track(80, 19.6, *december, utc_offset_h=1, step_min=30)
        self.assertEqual(noons.fate(night, CAN, Pointing(180)).tolist(), [noons.DOWN])

    def test_the_best_way_for_noons_and_for_a_landscape(self):
        seen = solargraph.track(64, 19.6, *SPRING, utc_offset_h=1, step_min=10)
        every = pointing.best(seen, CAN, noons=True)
        fates = noons.fate(seen, CAN, Pointing(every.azimuth_deg, every.tilt_deg))
        self.assertEqual(set(fates), {noons.ON})
        land = pointing.best(seen, CAN, landscape=True)
        aim = Pointing(land.azimuth_deg, land.tilt_deg)
        self.assertTrue(noons.horizon_on_paper(CAN, aim))
        self.assertLessEqual(land.share, pointing.best(seen, CAN).share + 1e-9)

    def test_sticks_wedges_and_compasses(self):
        self.assertEqual(pointing.stick_shadow_deg(200), 20)
        # 14 degrees under a 66 mm can: 16 mm (closed form, width x tan tilt).
        self.assertAlmostEqual(pointing.wedge_mm(66, 14), 16.46, places=2)
        self.assertEqual(pointing.compass_deg(3, 7), 356)

    def test_seasons(self):
        # Astronomical Almanac, from memory, in UT.
        for found, published in zip(
            sun.seasons(2026),
            ("03-20T14:46", "06-21T08:25", "09-23T00:05", "12-21T20:50"),
            strict=True,
        ):
            self.assertLess(
                abs(found - np.datetime64(f"2026-{published}")), np.timedelta64(15, "m")
            )


class Skylines(TestCase):
    def test_straight_between_across_north_and_leaves_in_season(self):
        line = Skyline(((350, 10), (10, 20)), ((0, 40),), (11, 1), (2, 1))
        self.assertEqual(line.altitude_deg([350, 0, 10]).tolist(), [10, 15, 20])
        self.assertEqual(line.altitude_deg(180), 15)
        self.assertEqual((Skyline(((77, 8),)).altitude_deg(200), Skyline().altitude_deg(5)), (8, 0))
        self.assertEqual(line.altitude_deg(0, True), 40)
        days = np.array(
            ["2026-10-31", "2026-11-01", "2026-12-31", "2026-02-01", "2026-02-02"], "datetime64[D]"
        )
        self.assertEqual(line.leafy(days).tolist(), [False, True, True, True, False])
        seen = solargraph.track(57.1, 19.6, date(2026, 4, 28), date(2026, 5, 2), utc_offset_h=1)
        wood = Skyline((), ((0, 89),))
        self.assertEqual(
            solargraph.trails(seen, CAN, Pointing(180), wood).on_paper.any(axis=1).tolist(),
            [True] * 3 + [False] * 2,
        )

    def test_leaves_are_on_in_the_summer_of_their_own_side(self):
        days = np.array(["2026-01-10", "2026-07-10"], "datetime64[D]")
        for latitude, leafy in ((57.1, [False, True]), (-43.95, [True, False])):
            self.assertEqual(at(latitude, (), ((0, 9),)).leafy(days).tolist(), leafy)

    def test_tables(self):
        self.assertEqual(
            read_csv([["direction", "height"], ["90", "5,5"], [], ["-10", "3"]]),
            ((90, 5.5), (350, 3)),
        )
        for rows, words in (
            ([["90"]], "row 1"),
            ([["1", "2"], ["x", "y"]], "row 2"),
            ([["1", "90.5"]], "between -90"),
            ([["1", "-90.5"]], "between -90"),
            ([["361", "9"]], "within 360"),
            ([["-361", "9"]], "within 360"),
            ([["0", "1"]] * 721, "720"),
        ):
            if rows == [["90"]]:
                rows = [["1", "1"], ["90"]]
                words = "row 2"
            with self.assertRaisesRegex(ValueError, words):
                read_csv(rows)


class Weather(TestCase):
    def test_a_climate_is_as_bright_as_it_says_in_winter_and_in_summer(self):
        days = np.arange(np.datetime64("2026-01-01"), np.datetime64("2027-01-01"))
        winter, summer = slice(345, 365), slice(162, 182)
        for weather in climate.CLIMATES[1:]:
            for latitude, low, high in ((50.0, winter, summer), (-30.0, summer, winter)):
                with self.subTest(weather.code, latitude=latitude):
                    shares = np.array(
                        [climate.sunshine(weather, latitude, days, seed) for seed in range(80)]
                    )
                    # A bright day has the sun for more than half of it, hardly any dull day has.
                    for part, share in ((low, weather.bright[0]), (high, weather.bright[1])):
                        self.assertAlmostEqual((shares[:, part] > 0.45).mean(), share, delta=0.08)

    def test_climates_and_measured_days(self):
        days = np.arange(np.datetime64("2026-01-01"), np.datetime64("2027-01-01"))
        clear, coast, dry = (climate.sunshine(climate.CLIMATES[n], 57.1, days) for n in (0, 1, 3))
        self.assertTrue(
            (clear == 1).all() and 0.2 < coast.mean() < 0.6 and dry.mean() > coast.mean()
        )
        np.testing.assert_array_equal(coast, climate.sunshine(climate.CLIMATES[1], 57.1, days))
        shone = climate.shining(coast, 720)
        np.testing.assert_allclose(shone.mean(axis=1), coast, atol=0.005)
        hours = np.full(len(days), 8.0)
        found = climate.read_csv(
            [["date", "hours"], ["2026-01-02", "4"], ["2026-01-03", "12"], ["1999-01-01", "3"]],
            days,
            hours,
        )
        self.assertEqual(found[:3].tolist(), [0, 0.5, 1])
        # Of other years alone: the mean of the same day, as a likeness.
        past = climate.read_csv([["1999-01-02", "4"], ["2001-01-02", "2"]], days, hours)
        self.assertEqual(past[:3].tolist(), [0, 0.375, 0])
        for rows, words in (
            ([["2026-01-02", "x"], ["y", "1"]], "row 2"),
            ([["2026-01-02", "25"]], "between 0 and 24"),
            ([["date", "hours"]], "none of its days"),
            ([["2026-01-01", "1"]] * 20_001, "20 000"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                climate.read_csv(rows, days, hours)
