"""The sun against astropy (ERFA), pvlib and the worked example of NREL, on every latitude, day and
night.
"""

import warnings
from functools import lru_cache
from unittest import TestCase

import astropy.units as u
import numpy as np
from astropy.coordinates import GCRS, AltAz, EarthLocation, SkyCoord, get_sun
from astropy.coordinates.erfa_astrom import ErfaAstromInterpolator, erfa_astrom
from astropy.time import Time
from astropy.utils import iers
from pvlib.solarposition import spa_python

from pinhole import sun

SUN_DEG = 0.02
MINUTE = np.timedelta64(60, "s")
YEAR_S, BEAT_MIN = 31_557_600, 240

iers.conf.auto_download = False
iers.conf.auto_max_age = None
iers.conf.iers_degraded_accuracy = "warn"


def beats(utc):
    """The moments between which everything in the sky goes straight enough, and those before and
    after; None where reckoning each moment is as little work.
    """
    around = np.unique(utc.astype("datetime64[m]").astype(int) // BEAT_MIN)
    if len(utc) <= 2 * len(around):
        return None
    return (np.union1d(around, around + 1) * BEAT_MIN).astype("datetime64[m]")


@lru_cache(maxsize=99)
def _sun_of(moments):
    """The sun of moments, bytes of datetime64[us]: the same wherever one stands."""
    utc = np.frombuffer(moments, "datetime64[us]")
    when, known = Time(utc.astype(object)), beats(utc)
    if known is None:
        return get_sun(when)
    known = known.astype("datetime64[us]")
    places = get_sun(Time(known.astype(object))).cartesian.xyz
    between = [np.interp(utc.astype(float), known.astype(float), axis) for axis in places.value]
    return SkyCoord(
        *between * places.unit, frame=GCRS(obstime=when), representation_type="cartesian"
    )


def earth_of(utc):
    """How astropy reckons the Earth: at each moment, or at each beat and straight between. That and
    the same of the sun move it by less than a second of arc.
    """
    few = beats(utc) is None
    return erfa_astrom.set(
        erfa_astrom.get() if few else ErfaAstromInterpolator(BEAT_MIN * u.minute)
    )


def astropy_position(utc, latitude_deg, longitude_deg):
    """True topocentric (azimuth, altitude)."""
    utc = np.atleast_1d(utc).astype("datetime64[us]")
    with warnings.catch_warnings(), earth_of(utc):
        warnings.simplefilter("ignore")
        where = EarthLocation(lon=longitude_deg * u.deg, lat=latitude_deg * u.deg)
        when = Time(utc.astype(object), location=where)
        seen = _sun_of(utc.tobytes()).transform_to(AltAz(obstime=when, location=where))
    return seen.az.deg, seen.alt.deg


def apart_deg(azimuth, altitude, other_azimuth, other_altitude):
    a, b, c, d = np.radians([azimuth, altitude, other_azimuth, other_altitude])
    return np.degrees(
        np.arccos(np.clip(np.sin(b) * np.sin(d) + np.cos(b) * np.cos(d) * np.cos(a - c), -1, 1))
    )


class Sun(TestCase):
    def test_the_worked_example_of_nrel(self):
        # Reda & Andreas, NREL/TP-560-34302: azimuth 194.34024; zenith without refraction 50.1280 by
        # pvlib.
        azimuth, altitude = sun.position(
            np.datetime64("2003-10-17T19:30:30"), 39.742476, -105.1786, 1830.14
        )
        self.assertAlmostEqual(azimuth, 194.34024, delta=SUN_DEG)
        self.assertAlmostEqual(90 - altitude, 50.1280, delta=SUN_DEG)
        lifted = sun.position(
            np.datetime64("2003-10-17T19:30:30"), 39.742476, -105.1786, 1830.14, refraction=True
        )[1]
        self.assertAlmostEqual(90 - lifted, 50.11162, delta=SUN_DEG)

    def test_any_place_any_moment(self):
        chance = np.random.default_rng(1)
        utc = np.datetime64("1990-01-01", "s") + chance.integers(0, 60 * 365 * 86_400, 300).astype(
            "timedelta64[s]"
        )
        latitude, longitude = chance.uniform(-90, 90, 300), chance.uniform(-180, 180, 300)
        found, expected = (
            sun.position(utc, latitude, longitude),
            astropy_position(utc, latitude, longitude),
        )
        self.assertLess(apart_deg(*found, *expected).max(), SUN_DEG)

    def test_on_the_whole_it_errs_by_a_quarter_of_a_minute_and_to_no_side(self):
        # Single moments allow for the sum of all that is left out; over 90 years and many
        # latitudes a term that is missing or wrong shows in the mean.
        chance, off = np.random.default_rng(5), []
        for latitude in (-66, -35, -10, 0, 24, 48, 60, 75):
            longitude = float(chance.uniform(-180, 180))
            utc = np.datetime64("1960-01-01", "s") + np.sort(chance.integers(0, 90 * YEAR_S, 400))
            seen = spa_python(utc.astype("datetime64[ns]"), latitude, longitude, delta_t=None)
            azimuth, altitude = sun.position(utc, latitude, longitude)
            across = (azimuth - seen["azimuth"].to_numpy() + 180) % 360 - 180
            up = altitude - seen["elevation"].to_numpy()
            off.append([across * np.cos(np.radians(altitude)), up])
        across, up = np.concatenate(off, axis=1)
        self.assertLess(np.sqrt(np.mean(across**2 + up**2)), 0.004)
        self.assertLess(abs(up.mean()), 0.0003)

    def test_a_year_over_the_grid_is_what_single_moments_are(self):
        utc = np.arange(
            np.datetime64("2026-01-01", "s"),
            np.datetime64("2027-01-01", "s"),
            np.timedelta64(997, "s"),
        )
        whole = np.stack(sun.position(utc, -43.95, 171.6))[:, ::53]
        single = np.array([sun.position(one, -43.95, 171.6) for one in utc[::53]]).T
        self.assertLess(apart_deg(*whole, *single).max(), 0.001)

    def test_refraction_is_that_of_pvlib_and_of_the_horizon(self):
        utc = np.arange(
            np.datetime64("2026-03-20T04", "m"),
            np.datetime64("2026-03-20T12", "m"),
            np.timedelta64(11, "m"),
        )
        altitude = sun.position(utc, 57.1, 19.6, refraction=True)[1]
        seen = spa_python(
            utc.astype("datetime64[ns]"),
            57.1,
            19.6,
            pressure=101_000,
            temperature=10,
            atmos_refract=0.5667,
        )
        up = seen["elevation"].to_numpy() > 0.5
        np.testing.assert_allclose(
            altitude[up], seen["apparent_elevation"].to_numpy()[up], atol=SUN_DEG
        )
        # Meeus (1991): 34.5' at the horizon seen, so about 29' at a true altitude of 0.
        self.assertAlmostEqual(sun.refraction_deg(0) * 60, 29, delta=0.5)
        self.assertEqual(sun.refraction_deg(-1.5), 0)
        self.assertTrue(np.isnan(sun.refraction_deg(np.nan)))

    def test_rise_set_and_noon_are_where_astropy_has_them(self):
        for latitude, longitude, day in (
            (57.1, 19.6, "2026-11-24"),
            (-43.95, 171.6, "2026-06-21"),
            (12, -60, "2026-12-21"),
        ):
            start = np.datetime64(day, "s") - np.timedelta64(round(longitude * 240), "s")
            found = sun.day(start, start + np.timedelta64(1, "D"), latitude, longitude)
            for moments, rising in ((found.rises_utc, True), (found.sets_utc, False)):
                self.assertEqual(len(moments), 1)
                around = moments[0] + np.array([-MINUTE, 0 * MINUTE, MINUTE])
                altitude = astropy_position(around, latitude, longitude)[1]
                self.assertAlmostEqual(altitude[1], -0.833, delta=SUN_DEG)
                self.assertEqual(altitude[2] > altitude[0], rising)
            azimuth = astropy_position(found.noon_utc, latitude, longitude)[0][0]
            self.assertLess(
                min(abs((azimuth - meridian + 180) % 360 - 180) for meridian in (0, 180)), 1.0
            )
            self.assertEqual(found.always, "")

    def test_the_noon_of_a_day_and_that_of_many_days_are_one(self):
        # Sampled and interpolated there, refined from the hour angle here.
        chance = np.random.default_rng(8)
        for _ in range(40):
            latitude, longitude = chance.uniform(-89, 89), chance.uniform(-180, 180)
            start = np.datetime64("2024-01-01", "s") + int(chance.integers(2e8))
            found = sun.day(start, start + np.timedelta64(1, "D"), latitude, longitude)
            refined = sun.noons(np.array([start]), latitude, longitude)[0]
            self.assertLess(abs(found.noon_utc - refined), np.timedelta64(2, "s"))

    def test_poles_nights_and_limits(self):
        for latitude, day, always in (
            (78, "2026-06-21", "up"),
            (78, "2026-12-21", "down"),
            (-90, "2026-12-21", "up"),
        ):
            start = np.datetime64(day)
            found = sun.day(start, start + np.timedelta64(1, "D"), latitude, 15)
            self.assertEqual((found.always, found.rises_utc.size), (always, 0))
        # The noon sun of Corrie Flat stands in the north.
        self.assertLess(
            abs(
                (
                    sun.day(
                        np.datetime64("2026-06-20T12"),
                        np.datetime64("2026-06-21T12"),
                        -43.95,
                        171.6,
                    ).noon_azimuth_deg
                    + 180
                )
                % 360
                - 180
            ),
            1,
        )
        azimuth, altitude = sun.position(
            np.array(["2026-01-01", "NaT"], "datetime64[s]"), [[50], [np.nan]], 0
        )
        self.assertEqual(azimuth.shape, (2, 2))
        self.assertEqual(np.isnan(altitude).tolist(), [[False, True], [True, True]])
        self.assertIsInstance(sun.position(np.datetime64("2026-01-01"), 0, 0)[0], float)
        for call, words in (
            (lambda: sun.position(np.datetime64("2026-01-01"), 91, 0), "latitude_deg must be"),
            (lambda: sun.position(np.datetime64("1800-01-01"), 0, 0), "from 1900 to 2100"),
            (lambda: sun.position(5, 0, 0), "datetime64"),
            (
                lambda: sun.day(np.datetime64("2026-01-02"), np.datetime64("2026-01-01"), 0, 0),
                "after start_utc",
            ),
        ):
            with self.assertRaisesRegex(ValueError, words):
                call()

    def test_the_sun_against_the_camera(self):
        # Closed forms: a person of 1.75 m under a sun at 45 degrees has a shadow of 1.75 m.
        behind = sun.stance(180, 45, 10, 60)
        self.assertEqual(
            (behind.side, behind.shadow_azimuth_deg, behind.in_field), ("behind", 0, True)
        )
        self.assertAlmostEqual(behind.shadow_mm, 1750)
        self.assertEqual(sun.stance(180, 45, 100, 60).side, "side")
        against = sun.stance(350, 10, 10, 60)
        self.assertEqual((against.side, against.off_deg, against.in_field), ("against", -20, False))
        self.assertFalse(sun.stance(180, 75, 0, 60).in_field)
        self.assertTrue(np.isnan(sun.stance(180, -5, 0, 60).shadow_mm))
