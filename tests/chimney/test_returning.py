"""The light of a sheet that comes back: its days, its times, and what the sheet would need then."""

from datetime import UTC, datetime, timedelta

import numpy as np
from icalendar import Calendar

from chimney.logbook import flows as logbook
from chimney.parts import clock
from chimney.places.models import Place
from chimney.results.models import Verdict
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase
from tests.pinhole.test_sun_again import off_deg
from tests.pinhole.test_sun_against_astropy import astropy_position

THEN = datetime(2026, 4, 9, 10, 40, tzinfo=UTC)
PLACE = 57.1, 19.6


class Returning(TestCase):
    def setUp(self):
        camera, paper, _, holder = kit()
        zone = "Europe/Stockholm"
        place = Place.objects.create(
            name="Rauholm", latitude_deg=PLACE[0], longitude_deg=PLACE[1], zone=zone
        )
        with clock.at(THEN):
            self.exposure = opened(camera, paper, holder)
        self.exposure.place, self.exposure.azimuth_deg = place, 320.0
        self.exposure.save()
        with clock.at(THEN + timedelta(seconds=70)):
            logbook.close_hole(self.exposure)
        self.exposure.refresh_from_db()
        self.url = f"/plan/returns/{self.exposure.sheet.code}/"

    def test_its_days_are_told_with_the_time_by_the_sheet_itself(self):
        page = self.client.get(self.url)
        rows = [row for row, _ in page.context["rows"]]
        nearest = page.context["nearest"]
        then = np.datetime64(THEN.replace(tzinfo=None))
        stood = [angle[0] for angle in astropy_position(then, *PLACE)]
        for row in rows:
            best = np.array([np.datetime64(row.best.astimezone(UTC).replace(tzinfo=None))])
            apart, _ = off_deg(best, PLACE, stood)
            self.assertAlmostEqual(apart[0], row.off_deg, delta=0.03)
            self.assertTrue(row.begins <= row.best <= row.ends)
            # The same sun, within three degrees: a third of a stop at most at this height.
            self.assertLess(abs(row.light_stops), 0.34)
            self.assertAlmostEqual(row.seconds, 70 * 2**row.light_stops, delta=16)
        # The declination of 9 April comes again about 3 September (Astronomical Almanac, from
        # memory).
        days = [(4, day) for day in range(7, 12)] + [(9, day) for day in range(1, 6)]
        self.assertIn((nearest.best.month, nearest.best.day), days)
        self.assertLess(nearest.off_deg, 0.3)
        self.assertContains(page, f"comes back on {nearest.day}, {nearest.hours}")
        # Of each season the first, the nearest and the last.
        self.assertIn(nearest, rows)
        self.assertLessEqual(len(rows), 9)
        every = self.client.get(self.url, {"all": "1"}).context
        self.assertEqual(len(every["rows"]), every["count"])
        self.assertGreater(every["count"], len(rows))
        Verdict.objects.create(sheet=self.exposure.sheet, stops_more=1.0, judged_at=clock.now())
        judged = [row for row, _ in self.client.get(self.url).context["rows"]]
        for before, after in zip(rows, judged, strict=True):
            self.assertGreater(after.seconds, 1.8 * before.seconds)

    def test_a_day_goes_into_the_calendar_and_into_a_plan(self):
        page = self.client.get(self.url)
        nearest = page.context["nearest"]
        book = Calendar.from_ical(self.client.get(f"{self.url}{nearest.stamp}.ics").content)
        (event,) = book.walk("VEVENT")
        begins = nearest.begins.astimezone(UTC)
        self.assertEqual(event.decoded("dtstart"), begins.replace(microsecond=0))
        self.assertEqual(self.client.get(f"{self.url}7.ics").status_code, 404)
        row, query = page.context["rows"][0]
        planned = self.client.get(f"/plan/?{query}").context["page"]
        metered = self.exposure.calculation.reading.ev100 - row.light_stops
        self.assertAlmostEqual(planned.plan.calculation.reading.ev100, metered, delta=0.01)

    def test_a_sheet_whose_sun_nobody_knows_says_so(self):
        self.exposure.place = None
        self.exposure.save()
        self.assertContains(self.client.get(self.url), "is not written down", status_code=409)
        self.assertEqual(self.client.get("/plan/returns/nothing/").status_code, 404)
