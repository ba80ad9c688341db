"""Light that changes: its integral against scipy, the sky against the published model, and days
laid along it.
"""

import math
from datetime import timedelta
from itertools import pairwise
from pathlib import Path
from unittest import TestCase

import numpy as np
import pvlib
from hypothesis import given
from hypothesis import strategies as some
from scipy import integrate, optimize

from pinhole import clock, exposure, light, outing, reciprocity, shake
from pinhole.exposure import brackets, changing
from pinhole.light import dusk
from pinhole.light.progress import progress
from pinhole.projection import CanBack, FlatBack

PERMILLE = 1e-3
SCHOOLS = (
    reciprocity.NoCorrection(),
    reciprocity.PowerLaw(1.2, 5),
    reciprocity.Table(((1, 2), (4, 20), (20, 180))),
)
TIMES, EVS = np.array([0, 600, 1800, 3600.0]), np.array([12.0, 11, 9, 8])


def calculation_of(seconds=4.0, school=None):
    reading = exposure.Reading("seconds", "", seconds, 128, 6)
    return exposure.calculate(
        reading,
        exposure.Specification(f_number=300, ei=6, school=school or reciprocity.NoCorrection()),
    )


class Integral(TestCase):
    def test_closing_is_that_of_numerical_integration(self):
        for school in SCHOOLS:
            for f_number, iso in ((120, 6), (300, 6), (300, 100)):

                def rate(t, f_number=f_number, iso=iso, school=school):
                    return 1 / school.adjusted_s(
                        light.metered_s(np.interp(t, TIMES, EVS), f_number, iso)
                    )

                def lacks(end, rate=rate):
                    knots = [t for t in TIMES if 0 < t < end]
                    return integrate.quad(rate, 0, end, limit=400, points=knots or None)[0] - 1

                found = light.closing(TIMES, EVS, f_number, iso, school)
                expected = optimize.brentq(lacks, 1e-3, 1e7)
                self.assertLess(
                    abs(found.seconds / expected - 1), PERMILLE, (school, f_number, iso)
                )
                self.assertEqual(found.beyond_last, expected > TIMES[-1])

    def test_light_that_stands_still_asks_for_the_metered_time(self):
        self.assertAlmostEqual(light.closing_time_s([5], [12], 300, 6), light.metered_s(12, 300, 6))
        self.assertAlmostEqual(
            light.closing_time_s([5, 9], [12, 12], 300, 6), light.metered_s(12, 300, 6)
        )
        metered = light.metered_s(15, 300, 6)
        self.assertAlmostEqual(
            light.closing([5], [15], 300, 6, SCHOOLS[1]).seconds, SCHOOLS[1].adjusted_s(metered)
        )

    def test_a_forecast_goes_on_from_the_last_reading(self):
        """By hand: a forecast of 4 s, then 8 s at 100 s, then 16 s; read again as 3 s at 50 s."""
        forecast = [(0, 4.0), (100, 8.0), (200, 16.0)]
        known = changing.known_light(1000.0, 4.0, [(1050.0, 3.0)], forecast)
        # At 50 s the forecast said 4 x sqrt(2) s, so what is to come is 3 / (4 x sqrt(2)) of it.
        scale = 3 / (4 * math.sqrt(2))
        self.assertEqual(known[0], (1000.0, 1050.0, 1100.0, 1200.0))
        np.testing.assert_allclose(known[1], (4, 3, 8 * scale, 16 * scale))
        self.assertEqual(changing.known_light(5.0, 4.0, [(4.0, 9.0)], []), ((5.0,), (4.0,)))

    def test_what_is_left_until_dark_is_counted_from_now(self):
        """By hand: 10 s in steady light, 4 of them given, and dark 3 s from now: 0.7 is reached."""
        course = light.course([0.0], [10.0], reciprocity.NoCorrection())
        found = progress(course, [(0.0, 4.0)], [], 4.0, dark_s=7.0)
        self.assertAlmostEqual(found.left_s, 3.0)
        self.assertAlmostEqual(found.short_stops, -math.log2(0.7))
        later = progress(course, [(1000.0, 1004.0)], [], 1004.0, dark_s=1007.0)
        self.assertAlmostEqual(later.left_s, 3.0)
        self.assertAlmostEqual(progress(course, [(0.0, 4.0)], [], 4.0).left_s, 6.0)
        over = progress(course, [(0.0, 8.0), (20.0, 25.0)], [], 25.0)
        self.assertAlmostEqual(over.left_s, -3.0)
        self.assertAlmostEqual(over.share, 1.3)

    def test_a_sheet_fills_in_the_time_that_was_planned(self):
        told = calculation_of(7.0, SCHOOLS[1])
        for planned_s in (told.exact_s, told.seconds, 2 * told.exact_s):
            course = changing.filling_course(told, planned_s, [0.0], [told.metered_s])
            self.assertAlmostEqual(course.reach_s(0.0, 1.0), planned_s)

    def test_shares_add_up_and_reach_is_their_inverse(self):
        course = light.course(TIMES, light.metered_s(EVS, 300, 6), SCHOOLS[1])
        whole = course.share(100, 2500)
        self.assertAlmostEqual(whole, course.share(100, 1700) + course.share(1700, 2500))
        self.assertAlmostEqual(course.reach_s(100, whole), 2500, places=5)
        self.assertEqual((course.share(50, 20), course.reach_s(7, 0)), (0, 7))
        self.assertAlmostEqual(course.scaled(2).share(100, 2500), 2 * whole)

    def test_progress_part_by_part(self):
        # By hand, in light that stands still and asks for 100 s: covered for 50 s, read again at
        # 20.
        still = light.course([0], [100.0], SCHOOLS[0])
        found = progress(still, [(0, 30), (80, 100)], [20], 100)
        self.assertEqual([round(part.seconds) for part in found.parts], [20, 10, 20])
        self.assertAlmostEqual(found.share, 0.5)
        self.assertAlmostEqual(found.left_s, 50)
        self.assertAlmostEqual(progress(still, [(0, 30), (80, 170)], [], 170).left_s, -20)
        self.assertAlmostEqual(progress(still, [], [], 0).left_s, 100)

    def test_limits_are_named(self):
        for call, words in (
            (lambda: light.closing_time_s([0, 0], [1, 2], 300, 6), "strictly increasing"),
            (lambda: light.closing_time_s([0, 1], [1], 300, 6), "one metered time to each"),
            (lambda: light.closing_time_s([], [], 300, 6), "strictly increasing"),
            (lambda: light.closing_time_s([0, 1], [1, np.nan], 300, 6), "must be numbers"),
            (lambda: light.closing_time_s([0], [1], 0, 6), "f_number must be above 0"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                call()


class Dusk(TestCase):
    def test_what_is_full_before_dark_and_until_when_it_makes_sense_to_open(self):
        # By hand: 100 s of light that stands still, and one stop less from 300 on; dark at 400.
        light_of = light.course([0, 300, 300.001, 400], [100, 100, 200, 200], SCHOOLS[0])
        for opens, full, closes, share in (
            (0, True, 100, 1),
            (220, True, 340, 1),
            (310, False, 400, 0.45),
        ):
            found = dusk.prospect(light_of, opens, 400)
            self.assertEqual(found.full, full)
            self.assertAlmostEqual(found.closes_s, closes, places=2)
            self.assertAlmostEqual(found.share, share, places=4)
            # 100 s after 300 are worth half a sheet, so the other half begins 50 s before.
            self.assertAlmostEqual(found.latest_s, 250, places=2)
        self.assertAlmostEqual(dusk.prospect(light_of, 300, 400).short_stops, 1, places=3)
        self.assertEqual(dusk.prospect(light_of, 500, 400).short_stops, math.inf)
        self.assertEqual(dusk.prospect(light_of, 0, math.inf).latest_s, math.inf)

    def test_dark_is_the_end_of_civil_twilight(self):
        self.assertAlmostEqual(dusk.dark_from_s([0, 100, 200], [3, -5, -7]), 150)
        self.assertEqual(dusk.dark_from_s([0, 100], [3, -5]), math.inf)
        self.assertTrue(math.isnan(dusk.dark_from_s([0, 100], [-7, 3])))

    @given(some.floats(-1500, 200), some.floats(0.01, 1e6), some.sampled_from(SCHOOLS))
    def test_an_end_that_never_comes_is_no_error(self, ev, f_number, school):
        found = light.closing([0, 600], [ev, ev - 9], f_number, 0.05, school)
        self.assertGreaterEqual(found.seconds, 0)
        self.assertTrue(found.beyond_last or found.seconds <= 600)
        reading = exposure.Reading("seconds", "", 1e300, 1.0, 1e6)
        self.assertEqual(
            exposure.calculate(
                reading, exposure.Specification(f_number=1e6, ei=1e-6, school=school)
            ).seconds,
            math.inf,
        )


class Sky(TestCase):
    def test_the_published_model(self):
        # USNO Circular 171: 1.1 to 1.3e5 lux overhead, about 7e2 at the horizon, and no jump where
        # its cubics meet.
        self.assertTrue(1.1e5 < light.clear_lux(90) < 1.3e5)
        self.assertAlmostEqual(light.clear_lux(0) / 7e2, 1, delta=0.1)
        for joint in (20, 5, -0.8, -5, -12):
            low, high = light.clear_lux([joint - 1e-6, joint + 1e-6])
            self.assertAlmostEqual(low / high, 1, delta=0.02)
        falling = light.clear_lux(np.linspace(90, -18, 400))
        self.assertTrue((np.diff(falling) < 0).all())
        self.assertEqual(light.clear_lux(-60), light.clear_lux(-18))
        self.assertTrue(math.isnan(light.clear_lux(float("nan"))))

    def test_the_light_on_a_subject_is_that_of_pvlib(self):
        """Irradiance on a tilted plane by pvlib, three clear skies and three models of how bright
        the sky is around the sun, at 105 lumens a watt; how far these are apart among themselves is
        the doubt.
        """
        for altitude in (5, 8, 12, 20, 30, 45, 60, 75, 90):
            for off, upright in (
                (0, True),
                (45, True),
                (70, True),
                (110, True),
                (180, True),
                (0, False),
            ):
                with self.subTest(altitude=altitude, off=off, upright=upright):
                    known = list(self.of_pvlib(altitude, off, upright))
                    told = light.subject_ev100(altitude, off, upright=upright)
                    middle = float(np.median(known))
                    self.assertLess(abs(told - middle), max(0.25, 0.6 * np.ptp(known)))
                    self.assertLess(abs(told - middle), 0.45)

    def of_pvlib(self, altitude, off, upright):
        zenith, air_mass = 90 - altitude, pvlib.atmosphere.get_relative_airmass(90 - altitude)
        for sky in (
            pvlib.clearsky.ineichen(zenith, air_mass, 3.0, dni_extra=1364),
            pvlib.clearsky.simplified_solis(altitude, aod700=0.1, precipitable_water=1.0),
            pvlib.clearsky.bird(zenith, air_mass, 0.1, 0.1, 1.5),
        ):
            for around in ("isotropic", "haydavies", "perez"):
                watts = pvlib.irradiance.get_total_irradiance(
                    90 if upright else 0,
                    180 + off,
                    zenith,
                    180,
                    sky["dni"],
                    sky["ghi"],
                    sky["dhi"],
                    dni_extra=1364,
                    airmass=air_mass,
                    albedo=0.2,
                    model=around,
                )["poa_global"]
                yield light.ev100_from_lux(105 * float(watts))

    def test_the_colour_of_the_light_is_that_of_a_clear_spectrum(self):
        """Bird's clear-sky spectrum by pvlib (spectrl2), summed over planes turned up to 90 degrees
        from the sun that is behind the camera, and over the ground, with the sun on them or not,
        weighed by blue below 490 nm against the eye's curve.
        """

        def plane(altitude, shade, turned, tilt):
            aoi = math.degrees(
                math.acos(math.cos(math.radians(altitude)) * math.cos(math.radians(turned)))
            )
            spectrum = pvlib.spectrum.spectrl2(
                apparent_zenith=90 - altitude,
                aoi=aoi if tilt else 90 - altitude,
                surface_tilt=tilt,
                ground_albedo=0.2,
                surface_pressure=101_300,
                relative_airmass=pvlib.atmosphere.get_relative_airmass(90 - altitude),
                precipitable_water=1.0,
                ozone=0.31,
                aerosol_turbidity_500nm=0.1,
                dayofyear=80,
            )
            energy = spectrum["poa_global"] - (spectrum["poa_direct"] if shade else 0)
            return np.interp(light_nm, spectrum["wavelength"], np.nan_to_num(energy).ravel())

        light_nm = np.arange(380, 720)

        def blue(altitude, shade):
            turns = np.arange(-80, 81, 20)
            seen = np.cos(np.radians(turns))
            walls = sum(
                share * plane(altitude, shade, float(turned), 90)
                for turned, share in zip(turns, seen / seen.sum(), strict=True)
            )
            energy = 0.8 * walls + 0.2 * plane(altitude, shade, 0.0, 0)
            eye = np.exp(-0.5 * ((light_nm - 559) / 42) ** 2)
            return math.log2(energy[light_nm <= 490].sum() / (energy * eye).sum())

        for altitude in (8, 12, 20, 30, 45, 60):
            for shade in (False, True):
                with self.subTest(altitude=altitude, shade=shade):
                    stops, sd = light.blue_stops(altitude, 0, shade=shade)
                    asked = blue(45, False) - blue(altitude, shade)
                    self.assertAlmostEqual(stops, asked, delta=0.25)
                    self.assertLess(abs(stops - asked), 2 * sd)
        # A closed sky has one colour, wherever the subject faces.
        self.assertAlmostEqual(
            light.blue_stops(30, 0, stops_less=3)[0], light.blue_stops(30, 180, stops_less=3)[0]
        )

    def test_less_light_with_more_cloud_less_sun_and_the_back_turned(self):
        altitudes, offs = np.linspace(-18, 90, 109)[:, None], np.linspace(0, 180, 37)[None, :]
        for upright in (True, False):
            clouds = [
                light.subject_ev100(altitudes, offs, stops_less=cloud, upright=upright)
                for cloud in np.arange(0, 6.1, 0.5)
            ]
            self.assertTrue(all((np.diff(ev, axis=1) < 1e-9).all() for ev in clouds))
            self.assertTrue(all(np.isfinite(ev).all() for ev in clouds))
            # Thin cloud lights what the sun does not reach; the sunlit side only loses.
            lit = altitudes[:, 0] <= 75
            self.assertTrue((np.diff([ev[lit, 0] for ev in clouds], axis=0) < 0).all())
            # Without shadows nothing is turned away from the sun, and shade is no darker.
            self.assertLess(np.ptp(clouds[4], axis=1).max(), 1e-9)
            shaded = light.subject_ev100(altitudes, offs, stops_less=2, shade=True, upright=upright)
            np.testing.assert_allclose(shaded, clouds[4])
        flat = light.subject_ev100(altitudes[:, 0], 0, upright=False)
        self.assertTrue((np.diff(flat) > -1e-9).all())
        # No jump at sunrise or where twilight's light leaves off.
        fine = light.subject_ev100(np.arange(-6, 30, 0.01), 0)
        self.assertLess(np.abs(np.diff(fine)).max(), 0.05)

    def test_a_scene_is_the_mean_of_the_surfaces_that_a_camera_sees(self):
        """By a sum of the test's own over upright surfaces, a degree apart, and the ground. Front
        to side is about a stop, front to back about two (common practice), without a step between.
        """
        turned = np.radians(np.arange(-89.5, 90))
        for altitude in (5, 20, 30, 45, 70):
            for off in (0, 60, 90, 135, 180):
                with self.subTest(altitude=altitude, off=off):
                    walls = 2 ** light.subject_ev100(altitude, off + np.degrees(turned))
                    ground = 2 ** light.subject_ev100(altitude, 0, upright=False)
                    mean = 0.8 * np.average(walls, weights=np.cos(turned)) + 0.2 * ground
                    self.assertAlmostEqual(
                        light.scene_ev100(altitude, off), math.log2(mean), delta=0.01
                    )
        heights = np.arange(20, 51.0)
        front, side, back = (light.scene_ev100(heights, off).mean() for off in (0, 90, 180))
        self.assertAlmostEqual(front - side, 1, delta=0.25)
        self.assertAlmostEqual(front - back, 2, delta=0.35)
        round_the_sun = light.scene_ev100(heights[:, None], np.arange(0, 181.0))
        self.assertLess(np.abs(np.diff(round_the_sun, axis=1)).max(), 0.05)

    def test_light_on_level_ground_is_that_of_two_measured_years(self):
        """The typical years of Miami and Greensboro that pvlib ships: hours with global and direct
        light over 0.9 and 0.85 of the Ineichen clear sky, by the height of the sun.
        """
        folder = Path(pvlib.__file__).parent / "data"
        tmy2 = pvlib.iotools.read_tmy2(folder / "12839.tm2")
        tmy3 = pvlib.iotools.read_tmy3(folder / "723170TYA.CSV", map_variables=True)
        half_hour = timedelta(minutes=30)
        for (rows, at), names, middle in (
            (tmy2, ("GHI", "DNI", "GHillum", "DHillum"), half_hour),
            (tmy3, ("ghi", "dni", "GH illum (lx)", "DH illum (lx)"), -half_hour),
        ):
            moments = rows.index + middle
            sun = pvlib.solarposition.get_solarposition(moments, at["latitude"], at["longitude"])
            altitude = sun["elevation"].to_numpy()
            clear = pvlib.clearsky.ineichen(
                sun["apparent_zenith"],
                pvlib.atmosphere.get_relative_airmass(sun["apparent_zenith"]),
                pvlib.clearsky.lookup_linke_turbidity(
                    moments, at["latitude"], at["longitude"]
                ).to_numpy(),
                dni_extra=1364,
            )
            # Both files count in hundreds of lux.
            over, direct, lux, sky_lux = (rows[name].to_numpy() for name in names)
            lux, sky_lux = 100.0 * lux, 100.0 * sky_lux
            is_clear = (over > 0.9 * clear["ghi"].to_numpy()) & (
                direct > 0.85 * clear["dni"].to_numpy()
            )
            for low, high in pairwise((3, 6, 10, 15, 20, 30, 40, 50, 60, 80)):
                hours = is_clear & (altitude >= low) & (altitude < high)
                told = light.subject_ev100(altitude[hours], 0, upright=False)
                with self.subTest(year=names[2], low=low, hours=int(hours.sum())):
                    self.assertGreater(hours.sum(), 40)
                    off = float(np.median(told - np.log2(lux[hours] * 100 / 250)))
                    self.assertLess(off, 0.22)
                    self.assertGreater(off, -0.3)
                    # Taken apart it is the light of clearer air than over both towns: more of it
                    # straight from the sun, a sky darker by up to a stop and a half.
                    sky = light.subject_ev100(altitude[hours], 0, upright=False, shade=True)
                    darker = float(np.median(np.log2(sky_lux[hours] * 100 / 250) - sky))
                    self.assertGreater(darker, 0.4)
                    self.assertLess(darker, 1.5)
            # A fifth of the clear light is 2.2 to 2.5 stops down, a half about one.
            left = over / np.maximum(clear["ghi"].to_numpy(), 1)
            for share, stops in ((0.2, 2.25), (0.5, 1.05)):
                hours = (np.abs(left - share) < 0.05) & (altitude > 15)
                told = light.subject_ev100(
                    altitude[hours], 0, upright=False, stops_less=-math.log2(share)
                )
                off = float(np.median(told - np.log2(lux[hours] * 100 / 250)))
                self.assertAlmostEqual(off, stops + math.log2(share), delta=0.2)

    def test_a_reading_says_how_much_cloud_there_is(self):
        """Round trip through every sky and side, and nothing read from a scene that is as bright as
        a clear one: half the stated doubt off either way.
        """
        for altitude in (2, 8, 20, 45, 70):
            for off in (0, 60, 120):
                for cloud in (0.0, 0.9, 1.6, 2.5, 5.0):
                    ev = light.scene_ev100(altitude, off, stops_less=cloud)
                    told, sd = light.cloud_stops(ev, altitude, off)
                    with self.subTest(altitude=altitude, off=off, cloud=cloud):
                        # Thin cloud that brightens the shadow side is taken for a clear sky.
                        brightens = ev > light.scene_ev100(altitude, off) - 1e-9
                        self.assertAlmostEqual(told, 0.0 if brightens else cloud, delta=sd / 2)
        self.assertEqual(light.cloud_stops(17, 45, 0)[0], 0)
        self.assertGreater(light.cloud_stops(3, 45, 0)[0], 5)

    def test_skies_by_eye_are_what_cards_say(self):
        """Common practice: EI 6 at f/250 is half a minute in full sun and half an hour under heavy
        cloud, a third of a stop either way; a scene keeps its light while the sun stands low behind
        the camera, and loses about three stops in the shade.
        """
        skies, heights = (
            {one.name: one for one in table} for table in (light.SKIES, light.HEIGHTS)
        )

        def ev(sky, height="high"):
            return light.by_eye(skies[sky], heights[height])[0]

        for sky, card_s in (("sun", 30), ("heavy", 1800)):
            off_stops = math.log2(light.metered_s(ev(sky), 250, 6) / card_s)
            self.assertAlmostEqual(off_stops, 0, delta=1 / 3)
        self.assertEqual([round(ev(sky.name)) for sky in light.SKIES[:3]], [15, 14, 13])
        self.assertLess(ev("sun") - ev("sun", "low"), 1)
        self.assertAlmostEqual(ev("sun") - ev("sun", "shade"), 3, delta=0.5)
        self.assertLess(ev("heavy") - ev("heavy", "shade"), 0.3)
        # A November noon at 57 N: the sun 12 degrees high in the face of an upright subject.
        self.assertAlmostEqual(light.subject_ev100(12, 0), 14.8, delta=0.2)


class Brackets(TestCase):
    def test_a_doubling_of_the_clock_is_not_a_stop_of_effect(self):
        told = calculation_of(school=SCHOOLS[1])
        # Closed form: through t^1.2 a stop on the clock is 1 / 1.2 of effect, and a stop of effect
        # 1.2 on the clock.
        for found, stop in zip(
            brackets.bracket(told, (-1, 1), on_clock=True), (-1, 1), strict=True
        ):
            self.assertAlmostEqual(found.specification.trial_stops, stop / 1.2)
            self.assertAlmostEqual(found.exact_s / told.exact_s, 2.0**stop)
        middle, more = brackets.bracket(told, (0, 1))
        self.assertAlmostEqual(math.log2(more.exact_s / told.exact_s), 1.2)
        self.assertIs(middle, told)

    def test_a_strip_counts_each_band_in_its_place(self):
        done, back = calculation_of(), FlatBack(125, 119, 94)
        bands = brackets.test_strip(done, back, bands=5, step_stops=0.5)
        for band, stop in zip(bands, (-1, -0.5, 0, 0.5, 1), strict=True):
            # Countable times move a band by less than a tenth of a stop; fall-off is cos^4
            # (textbook optics).
            self.assertAlmostEqual(band.effect_stops, stop, delta=0.1)
            less = -4 * math.log2(math.cos(math.atan(band.middle_mm / 125)))
            self.assertAlmostEqual(band.corrected_stops, band.effect_stops - less)
        self.assertEqual([band.middle_mm for band in bands][2], 0)
        self.assertEqual(brackets.alike(bands, 0.5), ())
        # In a box as shallow as 40 mm the last band, 48 mm off, lacks 2.5 stops and the one before
        # it, 24 mm off, 0.9: what half a stop more gives, its place takes away.
        shallow = brackets.test_strip(done, FlatBack(40, 119, 94), bands=5, step_stops=0.5)
        self.assertEqual(brackets.alike(shallow, 0.5), ((3, 4), (4, 5)))
        self.assertEqual(len(brackets.test_strip(done, CanBack(66, 170, 100), bands=3)), 3)
        for more, words in (
            ({"bands": 1}, "bands must be"),
            ({"step_stops": 0}, "above 0"),
            ({"bands": 12, "step_stops": 0.01}, "wide enough"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                brackets.test_strip(done, back, **more)

    def test_a_scene_against_a_paper(self):
        # By hand: EV 8 to 15 are 7 stops, 2 more than 5; holding an end moves the middle by half of
        # what is lost.
        for hold, rate in (("middle", 0), ("highlights", -1), ("shadows", 1)):
            found = brackets.scene([8, 15, 12], 5, hold)
            self.assertEqual(
                (found.range_stops, found.fits, found.lost_stops, found.rate_stops),
                (7, False, 2, rate),
            )
        self.assertTrue(brackets.scene([10, 12], 5, "highlights").fits)
        with self.assertRaises(ValueError):
            brackets.scene([1], 5, "sky")


class Outing(TestCase):
    def sheet(self, ei=6.0, stops=0.0, evs=(12.0, 12.0)):
        asked = exposure.Specification(300, ei, SCHOOLS[0], compensation_stops=stops)
        return outing.SheetWanted(asked, np.array(evs))

    def test_shots_follow_one_another_and_pairs_run_side_by_side(self):
        times = [0.0, 36_000.0]
        length = light.metered_s(12, 300, 6)
        wants = (
            outing.ShotWanted(100, 60, ((self.sheet(),),)),
            outing.ShotWanted(120, 30, ((self.sheet(stops=1),), (self.sheet(ei=12.0),))),
            outing.ShotWanted(0, 0, ((self.sheet(), self.sheet(evs=(11.0, 11.0))),)),
        )
        first, pair, two = outing.schedule(wants, times)
        # By hand: two sheets first (T, change, 2 T), then what was wanted at 100, then the pair,
        # its longer half 2 T.
        self.assertAlmostEqual(two.ends_s, 3 * length + outing.CHANGE_S)
        self.assertAlmostEqual(first.begins_s, two.ends_s)
        self.assertAlmostEqual(first.waits_s, two.ends_s - 100)
        self.assertAlmostEqual(pair.ends_s - pair.opens_s, 2 * length)
        self.assertAlmostEqual(pair.sheets[1][0][1] - pair.opens_s, length / 2)
        self.assertFalse(pair.beyond)

    def test_evening_light_makes_a_shot_longer(self):
        times, evs = np.arange(0, 7200, 300.0), np.linspace(12, 4, 24)
        noon, evening = outing.schedule(
            (
                outing.ShotWanted(0, 0, ((self.sheet(evs=evs),),)),
                outing.ShotWanted(3600, 0, ((self.sheet(evs=evs),),)),
            ),
            times,
        )
        self.assertGreater(evening.ends_s - evening.opens_s, 4 * (noon.ends_s - noon.opens_s))
        self.assertTrue(evening.beyond)

    def test_what_shakes_and_what_stirs(self):
        still, *_, gusts = shake.WINDS
        self.assertEqual(
            (
                shake.risk(still, 600).camera,
                shake.risk(gusts, 600).camera,
                shake.risk(still, 4).camera,
            ),
            (0, 2, 2),
        )
        self.assertEqual(shake.risk(still, 4, hand=True).camera, 0)
        self.assertAlmostEqual(shake.risk(still, 600).vanish_s, 60)

    def test_spans_are_the_free_times(self):
        log = [(0, "opened"), (0, "covered"), (5, "uncovered"), (10, "covered"), (25, "uncovered")]
        self.assertEqual(clock.spans(log, 40), ((5, 10), (25, 40)))
        self.assertEqual(clock.spans(log[:3], 2), ())
