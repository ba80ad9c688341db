"""The moon against that of astropy (ERFA), and its light against common practice."""

import warnings
from unittest import TestCase

import astropy.units as u
import numpy as np
from astropy.coordinates import AltAz, EarthLocation, get_body
from astropy.time import Time

from pinhole import light
from pinhole.moon import moon, moonlight_ev100, together_ev100
from tests.pinhole.test_sun_against_astropy import apart_deg

PLACES = ((57.1, 19.6), (-43.95, 171.6), (0.0, -78.5), (78.2, 15.6))
QUARTER_H = np.timedelta64(15, "m")
# Half the moon's own width; where its light is, to a tenth of a stop.
MOON_DEG, PHASE_DEG = 0.25, 1.5


def astropy_moon(utc, place):
    """(azimuth, altitude, phase angle) [degrees]."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        where = EarthLocation(lat=place[0] * u.deg, lon=place[1] * u.deg)
        when = Time(utc.astype("datetime64[us]").astype(object), location=where)
        moon_body, sun_body = (get_body(name, when, where) for name in ("moon", "sun"))
        seen = moon_body.transform_to(AltAz(obstime=when, location=where))
        apart = moon_body.separation(sun_body, origin_mismatch="ignore").rad
        far = sun_body.distance.km, moon_body.distance.km
        phase = np.arctan2(far[0] * np.sin(apart), far[1] - far[0] * np.cos(apart))
    return seen.az.deg, seen.alt.deg, np.degrees(phase)


class TheMoon(TestCase):
    def test_it_stands_where_astropy_has_it_for_two_years(self):
        utc = np.arange(np.datetime64("2026-11-30"), np.datetime64("2028-11-30"), QUARTER_H)
        picked = np.random.default_rng(4).integers(0, utc.size, 150)
        for place in PLACES:
            seen = moon(utc, *place)
            azimuth, altitude, phase = astropy_moon(utc[picked], place)
            off = apart_deg(seen.azimuth_deg[picked], seen.altitude_deg[picked], azimuth, altitude)
            self.assertLess(off.max(), MOON_DEG, place)
            self.assertLess(np.abs(seen.phase_deg[picked] - phase).max(), PHASE_DEG, place)

    def test_a_full_moon_gives_what_photographers_say(self):
        utc = np.arange(np.datetime64("2026-11-30"), np.datetime64("2027-11-30"), QUARTER_H)
        seen = moon(utc, *PLACES[0])
        told = moonlight_ev100(seen)
        high = seen.altitude_deg > 35
        # Common practice: EV -2 to -3 under a full moon, about three stops less under half of it
        # (a tenth of the light, from memory).
        full = told[high & (seen.phase_deg < 8)]
        self.assertTrue((full > -3.2).all() and (full < -2.0).all(), (full.min(), full.max()))
        half = told[high & (np.abs(seen.phase_deg - 90) < 4)]
        self.assertAlmostEqual(full.mean() - half.mean(), np.log2(10), delta=0.7)
        self.assertTrue(np.isneginf(told[seen.altitude_deg <= 0]).all())
        self.assertTrue((seen.lit_share >= 0).all() and (seen.lit_share <= 1).all())

    def test_lights_add_up_and_nothing_is_no_light(self):
        self.assertEqual(together_ev100(3.0, 3.0), 4.0)
        self.assertEqual(together_ev100(3.0, -np.inf), 3.0)
        by_day = light.scene_ev100(40.0, 0.0)
        self.assertAlmostEqual(together_ev100(by_day, -2.0), by_day, places=4)
        for wrong in (np.array(["NaT"], "datetime64[s]"), np.array([], "datetime64[s]")):
            self.assertRaises(ValueError, moon, wrong, 57.1, 19.6)
        self.assertRaises(ValueError, moon, np.array(["2027-01-01"], "datetime64[s]"), 91.0, 0.0)
