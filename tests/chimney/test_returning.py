"""The light of a sheet that comes back: its days, its times, and what the sheet would need then."""

from datetime import UTC, date, datetime, timedelta

import numpy as np
from icalendar import Calendar

from chimney.field.models import Outing, Shot
from chimney.logbook import flows as logbook
from chimney.parts import clock
from chimney.places.models import Place, View
from chimney.results.models import Verdict
from pinhole import light
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
        rows = [row for row, _ in page.context["page"].rows]
        nearest = page.context["page"].nearest
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
        every = self.client.get(self.url, {"all": "1"}).context["page"]
        self.assertEqual(len(every.rows), every.count)
        self.assertGreater(every.count, len(rows))
        Verdict.objects.create(sheet=self.exposure.sheet, stops_more=1.0, judged_at=clock.now())
        judged = [row for row, _ in self.client.get(self.url).context["page"].rows]
        for before, after in zip(rows, judged, strict=True):
            self.assertGreater(after.seconds, 1.8 * before.seconds)

    def test_a_day_goes_into_the_calendar_and_into_a_plan(self):
        page = self.client.get(self.url)
        nearest = page.context["page"].nearest
        book = Calendar.from_ical(self.client.get(f"{self.url}{nearest.stamp}.ics").content)
        (event,) = book.walk("VEVENT")
        begins = nearest.begins.astimezone(UTC)
        self.assertEqual(event.decoded("dtstart"), begins.replace(microsecond=0))
        self.assertEqual(self.client.get(f"{self.url}7.ics").status_code, 404)
        row, query = page.context["page"].rows[0]
        planned = self.client.get(f"/plan/?{query}").context["page"]
        metered = self.exposure.calculation.reading.ev100 - row.light_stops
        self.assertAlmostEqual(planned.plan.calculation.reading.ev100, metered, delta=0.01)

    def test_a_sheet_whose_sun_nobody_knows_says_so(self):
        self.exposure.place = None
        self.exposure.save()
        self.assertContains(self.client.get(self.url), "is not written down", status_code=409)
        self.assertEqual(self.client.get("/plan/returns/nothing/").status_code, 404)


class HalfWay(TestCase):
    """Views, kept plans and moments; the same direction, the same height."""

    def setUp(self):
        self.camera, self.paper, _, self.holder = kit()
        zone = {"name": "Rauholm", "zone": "Europe/Stockholm", "home": True}
        self.place = Place.objects.create(latitude_deg=PLACE[0], longitude_deg=PLACE[1], **zone)
        self.view = View.objects.create(place=self.place, subject="kiln mouth", azimuth_deg=320.0)

    def made(self):
        with clock.at(THEN):
            exposure = opened(self.camera, self.paper, self.holder)
        exposure.place, exposure.azimuth_deg, exposure.subject = self.place, 320.0, "Kiln mouth"
        exposure.save()
        with clock.at(THEN + timedelta(seconds=70)):
            logbook.close_hole(exposure)
        return exposure

    def test_a_view_has_the_light_of_its_last_sheet_and_says_so_without_one(self):
        url = f"/plan/returns/?view={self.view.pk}"
        self.assertContains(self.client.get(url), "choose a moment in the year", status_code=409)
        sheet = self.made().sheet
        page = self.client.get(url).context["page"]
        self.assertEqual(page.then.sheet, sheet)
        self.assertEqual(
            page.nearest, self.client.get(f"/plan/returns/{sheet}/").context["page"].nearest
        )
        book = Calendar.from_ical(self.client.get("/plan/returns/views.ics").content)
        self.assertEqual(len(book.walk("VEVENT")), len(page.rows))
        entry = self.client.get(f"/plan/returns/{page.nearest.stamp}.ics?view={self.view.pk}")
        self.assertEqual(len(Calendar.from_ical(entry.content).walk("VEVENT")), 1)

    def test_it_passes_the_same_direction_and_the_same_height(self):
        sheet = self.made().sheet
        page = self.client.get(f"/plan/returns/{sheet}/").context["page"]
        stood = [angle[0] for angle in astropy_position(np.datetime64("2026-04-09T10:40"), *PLACE)]
        for (_, rows), what in zip(page.halfway, (0, 1), strict=True):
            self.assertGreater(len(rows), 8)
            for row, _ in rows:
                best = np.array([np.datetime64(row.best.astimezone(UTC).replace(tzinfo=None))])
                seen = [angle[0] for angle in astropy_position(best, *PLACE)]
                self.assertAlmostEqual(seen[what], stood[what], delta=0.05)
                self.assertGreater(row.off_deg, 3.0)
                clear = (light.scene_ev100(h, a - 140.0) for a, h in (stood[:2], seen[:2]))
                self.assertAlmostEqual(row.light_stops, np.subtract(*clear), delta=0.02)
                # Common practice: countable times are within an eighth of a stop.
                self.assertAlmostEqual(
                    np.log2(row.seconds / 70), row.light_stops, delta=0.25 + 0.3 * row.light_stops
                )

    def test_a_plan_and_a_moment_have_their_light_too(self):
        day_out = Outing.objects.create(
            name="May", place=self.place, day=date(2026, 6, 3), sky="sun", made_at=clock.now()
        )
        at = datetime(2026, 6, 3, 9, tzinfo=UTC)
        fields = {"camera": self.camera, "paper": self.paper, "kept_at": clock.now()}
        fields |= {"starts_at": at, "azimuth_deg": 320.0, "subject": "kilns"}
        shot = Shot.objects.create(outing=day_out, **fields)
        plan = self.client.get(f"/plan/returns/?shot={shot.pk}").context["page"]
        asked = {"place": self.place.pk, "stood": "2026-06-03T11:00", "azimuth_deg": "NW"}
        asked |= {"camera": self.camera.pk, "paper": self.paper.pk, "sky": "sun"}
        asked["azimuth_deg"] = "320"
        moment = self.client.get("/plan/returns/", asked).context["page"]
        self.assertEqual(plan.nearest, moment.nearest)
        self.assertEqual(plan.then.stood, moment.then.stood)
        wrong = {"stood": "soon"}, {"stood": "0001-01-01T00:00"}, {"sky": "x"}, {"camera": "9999"}
        for one in (*wrong, {"place": ""}, {"shot": "9" * 30, "place": ""}):
            self.assertEqual(self.client.get("/plan/returns/", asked | one).status_code, 409)
