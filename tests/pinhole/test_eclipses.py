"""Eclipses against the sun and the moon of astropy (ERFA's sun, ELP's moon), and one that almanacs
have.
"""

import warnings
from datetime import UTC, date, datetime, timedelta
from unittest import TestCase

import astropy.units as u
import numpy as np
from astropy.coordinates import AltAz, EarthLocation, get_body
from astropy.time import Time
from astropy.utils import iers

from pinhole.solargraph.eclipses import covered, eclipses

PLACES = ((57.1, 19.6), (-43.95, 171.6), (40.4, -3.7))
iers.conf.auto_download = False
iers.conf.auto_max_age = None
iers.conf.iers_degraded_accuracy = "warn"
SUN_KM, MOON_KM = 695_700.0, 1_737.4


def discs(place, moments):
    """(between middles, radius of the sun, of the moon, height of the sun) [radians], (4, n)."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        where = EarthLocation(lat=place[0] * u.deg, lon=place[1] * u.deg)
        when = Time(list(moments), location=where)
        frame = AltAz(obstime=when, location=where)
        sun, moon = (get_body(name, when, where).transform_to(frame) for name in ("sun", "moon"))
        radii = (np.arcsin(r / x.distance.km) for r, x in ((SUN_KM, sun), (MOON_KM, moon)))
        return np.array([sun.separation(moon).rad, *radii, sun.alt.rad])


def counted(apart, of_sun, of_moon):
    """The covered share, counted on a grid of the sun's disc."""
    x, y = np.mgrid[-1:1:401j, -1:1:401j] * of_sun
    disc = np.hypot(x, y) < of_sun
    return (disc & (np.hypot(x - apart, y) < of_moon)).sum() / disc.sum()


class Eclipses(TestCase):
    def test_contacts_are_those_of_astropy_to_a_minute_and_none_is_missed(self):
        first, last = date(2026, 1, 1), date(2028, 12, 31)
        for place in PLACES:
            told = eclipses(*place, first, last)
            self.assertTrue(told, place)
            for seen in told:
                with self.subTest(place, begins=seen.begins):
                    self._met(place, seen)
            # Every three quarters of an hour of each new moon's day, a synodic month apart.
            days = {seen.greatest.date() for seen in told}
            start = datetime(2026, 1, 18, 20, tzinfo=UTC)
            months = [timedelta(days=29.530589 * month) for month in range(37)]
            steps = [timedelta(minutes=45 * n) for n in range(-24, 25)]
            looks = np.array([[start + month + step for step in steps] for month in months])
            found = discs(place, looks.ravel()).reshape(4, *looks.shape)
            for hours, (apart, of_sun, of_moon, height) in zip(
                looks, found.swapaxes(0, 1), strict=True
            ):
                deep = apart < 0.9 * (of_sun + of_moon)
                if (deep & (height > np.radians(1))).any():
                    day = hours[int(np.where(deep, apart, np.inf).argmin())].date()
                    self.assertTrue(any(abs((day - one).days) <= 1 for one in days), day)

    def _met(self, place, seen):
        around = [timedelta(seconds=s) for s in (-100, 100)]
        # On the way there as well, and nothing before it begins.
        minutes = np.linspace(0, (seen.ends - seen.begins) / timedelta(minutes=1), 5)
        on_the_way = [seen.begins + timedelta(minutes=float(minute)) for minute in minutes]
        contacts = [moment + step for moment in (seen.begins, seen.ends) for step in around]
        found = discs(place, [*contacts, seen.greatest, *on_the_way])
        for at, before_is_seen in ((slice(0, 2), False), (slice(2, 4), True)):
            apart, of_sun, of_moon, height = found[:, at]
            if abs(np.degrees(height)).min() < 1.5:
                # It ends with the day: refraction lifts the sun, which is not the contact.
                continue
            is_seen = apart < of_sun + of_moon
            self.assertEqual(is_seen.tolist(), [before_is_seen, not before_is_seen])
        shares = [seen.share, *covered(*place, seen.begins, minutes)]
        for share, disc in zip(shares, found.T[4:], strict=True):
            self.assertAlmostEqual(share, counted(*disc[:3]), delta=0.01)

    def test_what_almanacs_have(self):
        # 12 August 2026 is total in the north of Spain, at about 18:28 UTC (from memory).
        (seen,) = eclipses(42.6, -5.6, date(2026, 8, 1), date(2026, 8, 31))
        self.assertGreater(seen.share, 0.995)
        greatest = datetime(2026, 8, 12, 18, 28, tzinfo=UTC)
        self.assertLess(abs(seen.greatest - greatest), timedelta(minutes=3))

    def test_limits(self):
        for wrong in (
            (91, 0, date(2026, 1, 1), date(2026, 2, 1)),
            (0, 0, date(2026, 2, 1), date(2026, 1, 1)),
            (0, 0, date(2026, 2, 1), date(2226, 1, 1)),
        ):
            self.assertRaises(ValueError, eclipses, *wrong)
            self.assertRaises(ValueError, covered, 91, 0, datetime(2026, 1, 1, tzinfo=UTC), [0])
        self.assertEqual(eclipses(57.1, 19.6, date(2026, 1, 1), date(2026, 1, 2)), [])
