"""Today's light at each view: its line, its week, a forecast brought in; the card; the weeks of a
can.
"""

from datetime import UTC, date, datetime
from io import BytesIO
from zoneinfo import ZoneInfo

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from pypdf import PdfReader

from chimney.field.hours.wording import minutes_of
from chimney.field.today.files import read_clouds
from chimney.field.today.page import views_today
from chimney.parts import clock
from chimney.places.models import Place, View
from chimney.solar.craft import predict
from pinhole.projection import Pointing
from pinhole.solargraph.skyline import Skyline
from tests.chimney.kitchen import kit
from tests.chimney.pages import TestCase

NOON = datetime(2026, 11, 24, 11, tzinfo=UTC)
ZONE = ZoneInfo("Europe/Stockholm")


class Today(TestCase):
    def setUp(self):
        self.camera, self.paper, *_ = kit()
        zone = {"name": "Rauholm", "zone": "Europe/Stockholm", "home": True}
        self.place = Place.objects.create(latitude_deg=57.1, longitude_deg=19.6, **zone)
        self.view = View.objects.create(place=self.place, subject="kiln mouth", azimuth_deg=320.0)
        View.objects.create(place=self.place, subject="anywhere")

    def test_a_view_says_its_hours_and_the_chart_says_the_same(self):
        with clock.at(NOON):
            (row,) = views_today("sun")
            page = self.client.get("/plan/today/?sky=sun")
            line = self.client.get("/plan/today/line/")
            year = self.client.get(f"/plan/year/?{row.year}").context["page"]
        self.assertContains(page, row.sentence)
        self.assertContains(line, row.sentence)
        self.assertIn("Kiln mouth: open from ", row.sentence)
        self.assertEqual(row.between, year.year.sensible(date(2026, 11, 24)))
        # Opened before its last moment it takes an hour at most, after it more, or
        # dusk comes first.
        last = row.between[1]
        for minute, is_within in ((last - 5, True), (last + 5, False)):
            seconds = year.year.opening(date(2026, 11, 24), minute).seconds
            self.assertEqual(seconds <= 3600, is_within)
        self.assertEqual(next(row.week)[0], date(2026, 11, 24))
        with clock.at(datetime(2026, 11, 24, 20, tzinfo=UTC)):
            (late,) = views_today("sun")
            self.assertIn("last opening was at", late.sentence)
            (dull,) = views_today("heavy")
            self.assertIn("no opening gets full", dull.sentence)

    def test_nowhere_and_nothing_is_said_and_breaks_nothing(self):
        View.objects.all().delete()
        self.assertContains(self.client.get("/plan/today/"), "No view says which way it looks")
        self.assertEqual(self.client.get("/plan/today/line/").status_code, 200)
        self.assertEqual(self.client.get("/plan/today/?sky=x").status_code, 422)
        far = {"latitude_deg": 78.2, "longitude_deg": 15.6, "zone": "Europe/Oslo"}
        north = Place.objects.create(name="North", **far)
        View.objects.create(place=north, subject="hut", azimuth_deg=0.0)
        with clock.at(datetime(2026, 12, 21, 11, tzinfo=UTC)):
            self.assertContains(self.client.get("/plan/today/"), "no opening gets full")
        with clock.at(datetime(2026, 6, 21, 23, 59, tzinfo=UTC)):
            self.assertContains(self.client.get("/plan/today/"), "Hut: ")

    def test_a_forecast_dims_the_hours_it_tells_of(self):
        rows = "moment;cloud\n" + "\n".join(f"2026-11-24 {h:02d}:00;100" for h in range(24))
        file = SimpleUploadedFile("clouds.csv", rows.encode())
        with clock.at(NOON):
            (clear,) = views_today("sun")
            sent = {"place": self.place.pk, "file": file}
            answer = self.client.post("/plan/today/forecast/", sent, follow=True)
            self.assertContains(answer, "24 hours of cloud are kept")
            self.assertEqual(answer.context["form"].data["sky"], "forecast")
            (dull,) = views_today("forecast")
        day = date(2026, 11, 24)
        evs = [row.hours.opening(day, 720.0).ev100 for row in (clear, dull)]
        self.assertGreater(evs[0] - evs[1], 1.0)
        wrong = SimpleUploadedFile("clouds.csv", b"2026-11-24 09:00;80\n2026-11-24 10:00;high")
        sent = {"place": self.place.pk, "file": wrong}
        refused = self.client.post("/plan/today/forecast/", sent)
        self.assertContains(refused, "Row 2 is not a moment", status_code=422)

    def test_clouds_are_read_as_people_write_them(self):
        told = read_clouds([["2026-11-24 10:00", "80"], ["2026-11-24T09:00", "40 %"]], ZONE)
        nine = datetime(2026, 11, 24, 9, tzinfo=ZONE).timestamp()
        self.assertEqual(told, [[nine, 40.0], [nine + 3600, 80.0]])
        other = read_clouds(
            [["2026-11-24", "09:00+00:00", "1,5"], ["2026-11-24T11:00Z", "2"]], ZONE
        )
        self.assertEqual(other[0], [nine + 3600, 1.5])
        many = [[f"2026-11-{1 + n // 24:02d} {n % 24:02d}:00", "1"] for n in range(500)]
        for rows, told in (
            ([["2026-11-24 10:00", "80"]], "two rows"),
            ([["2026-11-24 10:00", "80"], ["2026-11-24 11:00", "101"]], "from 0 to 100"),
            (many, "more than 420"),
            ([["x", "y"], ["2026-11-24 11:00"]], "row 2"),
        ):
            with self.assertRaisesMessage(ValueError, told):
                read_clouds(rows, ZONE)


class Card(TestCase):
    def test_it_holds_the_numbers_of_the_chart(self):
        camera, paper, *_ = kit()
        zone = {"name": "Rauholm", "zone": "Europe/Stockholm", "home": True}
        place = Place.objects.create(latitude_deg=57.1, longitude_deg=19.6, **zone)
        asked = {"camera": camera.pk, "paper": paper.pk, "place": place.pk, "azimuth_deg": "320"}
        answer = self.client.get("/plan/year/card.pdf", asked)
        (sheet,) = PdfReader(BytesIO(answer.content)).pages
        text = sheet.extract_text()
        year = self.client.get("/plan/year/", asked).context["page"].year
        noon = year.opening(date(2027, 6, 15), 720.0)
        for words in (camera.name, "looking NW", "JFMAMJ"[0], "Never look into the sun"):
            self.assertIn(words, text)
        self.assertIn(minutes_of(noon.seconds), text.split())
        self.assertEqual(self.client.get("/plan/year/card.pdf", {"camera": "x"}).status_code, 409)

    def test_minutes_are_told_shortly(self):
        for seconds, told in ((40, "40s"), (90, "1½"), (720, "12"), (3601, "–"), (np.inf, "–")):
            self.assertEqual(minutes_of(seconds), told)
        self.assertEqual(minutes_of(np.nan), "–")


class Weeks(TestCase):
    def test_each_week_draws_what_a_can_put_out_then_would_draw(self):
        camera, *_ = kit()
        zone = {"name": "Rauholm", "zone": "Europe/Stockholm", "home": True}
        place = Place.objects.create(latitude_deg=57.1, longitude_deg=19.6, **zone)
        asked = {"camera": camera.pk, "place": place.pk, "azimuth_deg": "180", "tilt_deg": "20"}
        asked |= {"kind": "span", "climate": "coast", "first_day": "2026-12-21"}
        page = self.client.get("/plan/sun/season/", asked | {"last_day": "2027-03-20"})
        rows = page.context["rows"]
        self.assertEqual(len(rows), 52)
        for first, last, _, drawn, noons, query in rows[::13]:
            self.assertEqual((last - first).days, 89)
            alone = predict(
                *(place, camera, Pointing(180.0, 20.0), first, last),
                skyline=Skyline(),
            )
            self.assertAlmostEqual(drawn, alone.survey.days_on_paper, delta=1)
            self.assertAlmostEqual(noons, int(alone.trails.noon_on_paper.sum()), delta=1)
            planned = self.client.get(f"/plan/sun/?{query}").context["page"]
            self.assertEqual(planned.form.cleaned_data["first_day"], first)
        self.assertEqual(self.client.get("/plan/sun/season/?first_day=x").status_code, 409)
        long = asked | {"last_day": "2036-12-20"}
        self.assertEqual(self.client.get("/plan/sun/season/", long).status_code, 409)
