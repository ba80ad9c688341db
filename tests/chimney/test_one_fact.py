"""One fact, one value: whatever is told of the same exposure, shot or can on any page, file or
export is the same, and every word about sun and shadow is true of where the sun stands.
"""

import io
import json
import math
import re
from dataclasses import MISSING, fields
from datetime import UTC, date, datetime, timedelta

import icalendar
import numpy as np
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext
from pypdf import PdfReader

from chimney.field import craft as field
from chimney.field.light.craft import lit_of_shot
from chimney.field.models import Outing, Shot, SkyChange
from chimney.field.notebook.craft import CARD_EVS, notebook_shots
from chimney.field.outing import page as days
from chimney.field.plan.prints import CARD_ROWS
from chimney.field.pocket import craft as pocket
from chimney.field.wording import LONG_SHADOWS_DEG
from chimney.kit.models import Meter
from chimney.lessons.models import WholeLog
from chimney.lessons.proposing import queries as lessons
from chimney.logbook import flows as logbook
from chimney.logbook.flows import while_open
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.places import craft as places
from chimney.places.models import Place
from chimney.solar.models import Solargraph
from demo import year as demo
from pinhole import durations, exposure, light, sun
from pinhole.lessons.model import LEFT_TO_PAPERS_SD
from tests import years
from tests.chimney.kitchen import kit, known, planned, pocket_event, typed
from tests.chimney.told import differences, words_of

RAUHOLM = {"name": "Rauholm", "latitude_deg": 57.1, "longitude_deg": 19.6}
# A November morning on the island: the sun stands nine degrees up in the south-south-east.
LOW = datetime(2026, 11, 24, 9, tzinfo=UTC)
TENTH_STOP, PERMILLE = 0.1, 1e-3


class EveryReader(TestCase):
    """Every field of a Specification set, by every reader, in each arrangement."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.paper.exponent, self.paper.onset_s = 1 / 0.86, 1.0
        self.paper.save()
        self.place = Place.objects.create(**RAUHOLM, zone="Europe/Stockholm", home=True)
        Meter.objects.create(name="meter", lowest_iso=6, last_f_number=128)
        self.outing = Outing.objects.create(
            name="Kilns", place=self.place, day=LOW.date(), made_at=LOW, sky="sun"
        )
        known({("camera", self.camera.pk): (1.0, 0.3), ("light", "low sun"): (0.5, 0.25)})
        self.shot = Shot.objects.create(
            outing=self.outing,
            subject="kiln",
            camera=self.camera,
            paper=self.paper,
            kept_at=LOW,
            starts_at=LOW,
            set_up_s=0.0,
            azimuth_deg=330.0,
            school="power",
            ei_from="typed",
            ei=3.0,
            # As another paper would want it: its name says what it takes of this one.
            filter_stops=1.0,
            compensation_stops=-0.5,
            preflash_stops=4.0,
            reading={"filter_name": "yellow"},
        )

    def plan(self, ev, **more):
        """The plan's page for a reading of EV at ISO 100, at the hour of the shot."""
        asked = {"kind": "ev", "ev": f"{ev}", "ev_iso": "100", "reckon": ""} | more
        with clock.at(LOW):
            page = self.client.get(f"/plan/{self.shot.pk}/", asked).context["page"]
        self.assertIsNotNone(page.plan, page.form.errors)
        return page

    def test_no_field_of_a_specification_is_left_at_its_default(self):
        Shot.objects.update(sheets="bracket", bracket_stops=0.5)
        plan = self.plan(13).plan
        for one in fields(exposure.Specification):
            default = one.default if one.default is not MISSING else None
            if one.name not in ("hole_sd_stops", "ei_sd_stops"):
                told = [getattr(s.calculation.specification, one.name) for s in plan.sheets]
                self.assertTrue(any(value != default for value in told), one.name)
        asked = plan.calculation.specification
        # What comes before reciprocity, by hand: each request once, and each doubt.
        names = [name for name, *_ in asked.requests]
        expected = {"colour", "own sheets", "filter", "compensation", "preflash"}
        self.assertEqual((set(names), len(names)), (expected, len(expected)))
        more = 1.0 + 0.5 + 3.0 - 0.5 + math.log2(1 - 2**-4) + asked.colour_stops
        self.assertAlmostEqual(asked.more_stops, more)
        doubts = (0.3, 0.25, 0.4, asked.colour_sd_stops, asked.ei_sd_stops, LEFT_TO_PAPERS_SD)
        self.assertAlmostEqual(asked.sd_stops, math.hypot(*doubts))
        told = exposure.calculate(exposure.read_ev(13, 100, ""), asked)
        self.assertAlmostEqual(told.metered_s, asked.metered_s(13))

    def test_plan_day_pocket_home_and_notebook_tell_one_time(self):
        arrangements = ({}, {"sheets": "bracket"}, {"sheets": "schools"}, {"sheets": "strip"})
        for arrangement in arrangements:
            Shot.objects.update(**({"sheets": "single", "bracket_stops": 0.5} | arrangement))
            with self.subTest(**arrangement):
                with clock.at(LOW):
                    pack = pocket.packed(self.outing)
                (packed,) = pack["shots"]
                for ev in (15.0, 14.0, 13.0):
                    sheets = self.plan(ev).plan.sheets
                    row = packed["tables"]["ev"][pocket.EVS.index(ev)]
                    self.assertEqual(
                        [sheet.seconds for sheet in sheets], [time[0] for time in row[2]]
                    )
                    self.assertEqual(
                        [[band.pull_s for band in sheet.bands] for sheet in sheets],
                        [time[3] for time in row[2]],
                    )
                    # Each factor is told with it.
                    for words in ("your sheets × 2", "filter × 8", "EI 3"):
                        self.assertIn(words, row[3])
                self._day_and_plan_agree(sheets=len(sheets))

    def _day_and_plan_agree(self, sheets):
        """In the day's own light, the light reckoned on as on the plan."""
        self.shot.refresh_from_db()
        day = days.schedule(self.outing)
        (slot,) = day.slots
        at = (slot.opens - day.daylight.start).total_seconds()
        ev100 = float(np.interp(at, day.daylight.times_s, day.daylight.before(330.0)))
        page = self.plan(ev100, reckon="on")
        ratings = lessons.ratings()
        _, asked = field.specification_of(
            self.shot, ratings, lit_of_shot(self.shot, sky=self.outing.sky_at(LOW))
        )
        told = page.plan.calculation.specification
        # A reading tells the sky less sharply than the eye that names it.
        self.assertAlmostEqual(asked.more_stops, told.more_stops, delta=TENTH_STOP / 2)
        self.assertEqual(len(slot.seconds), sheets)
        if self.shot.sheets != "strip":
            self.assertAlmostEqual(math.log2(slot.seconds[0] / page.seconds), 0, delta=TENTH_STOP)
        low, high = slot.range_s
        self.assertLess(low, slot.seconds[0])
        least = exposure.calculate(exposure.read_ev(ev100, 100, ""), asked)
        self.assertGreater(high / low, least.high_s / least.low_s)

    def test_what_comes_home_is_what_the_phone_was_told(self):
        logbook.load(self.paper, self.holder, "A")
        with clock.at(LOW):
            pack = pocket.packed(self.outing)
        kind = pack["kinds"][0]
        two = pack["seconds_of"].index(2.0)
        row = pack["shots"][0]["tables"][kind["key"]][two]
        event = pocket_event(
            self.shot, self.holder, LOW, 400, meter_f=kind["f"], meter_iso=kind["iso"]
        )
        back = {"chimney": "pocket", "version": 3, "token": pack["token"], "events": [event]}
        # What is kept of the camera since changes nothing of what was timed.
        WholeLog.objects.all().delete()
        with clock.at(LOW + timedelta(hours=1)):
            url = f"/plan/outings/{self.outing.pk}/pocket/"
            self.client.post(url, {"text": json.dumps(back), "take": "1"})
        made = Exposure.objects.get()
        self.assertEqual(made.planned_s, row[2][0][0])
        self.assertAlmostEqual(math.log2(made.calculation.metered_s), row[1], places=5)
        self.assertGreater(made.calculation.specification.colour_stops, 0)

    def test_the_notebook_has_a_row_for_each_sheet_and_says_what_the_sun_adds(self):
        Shot.objects.update(sheets="bracket")
        (noted,) = notebook_shots(self.outing)
        self.assertEqual(len(noted.rows), 3)
        plain = self.plan(13, plain_light="on")
        at = CARD_EVS.index(13)
        said = [durations.say(sheet.seconds) for sheet in plain.plan.sheets]
        self.assertEqual([times[at] for _, times in noted.rows], said)
        more = self.plan(13).sheet.calculation.specification.colour_stops
        self.assertIn("degrees up: where it shines, × ", noted.low_sun)
        factor = float(re.search(r"shines, × ([\d.]+)", noted.low_sun)[1])
        self.assertAlmostEqual(math.log2(factor), more, delta=TENTH_STOP)

    def test_the_card_has_what_a_plan_by_eye_has(self):
        Place.objects.all().update(home=False)
        self.paper.school = "none"
        self.paper.save()
        answer = self.client.get(f"/plan/card/{self.camera.pk}.pdf")
        text = PdfReader(io.BytesIO(answer.content)).pages[0].extract_text().splitlines()
        for words, sky, height in CARD_ROWS:
            asked = typed(self.camera, self.paper, kind="sky", sky=sky, height=height)
            page = self.client.get("/plan/", asked).context["page"]
            with self.subTest(words):
                said = durations.say(page.sheet.calculation.seconds)
                self.assertIn(said, text)


class Skies(TestCase):
    """A reading keeps the sky it was made under, and outvotes what was assumed of the light."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.place = Place.objects.create(**RAUHOLM, zone="Europe/Stockholm", home=True)
        self.outing = Outing.objects.create(
            name="Kilns", place=self.place, day=date(2026, 6, 2), made_at=LOW, sky="sun"
        )
        more = {"kept_at": LOW, "set_up_s": 0.0, "outing": self.outing, "azimuth_deg": 330.0}
        more |= {"camera": self.camera, "paper": self.paper}
        self.at = datetime(2026, 6, 2, 6, 33, tzinfo=UTC)
        self.first = Shot.objects.create(subject="kiln", starts_at=self.at, **more)
        self.second = Shot.objects.create(
            subject="loft", starts_at=self.at + timedelta(hours=1), **more
        )

    def read(self, stops=0.0):
        """The first shot exposed in the light of a clear sky, that many stops off."""
        with clock.at(self.at):
            sun_over = places.stands(self.place, self.at, 330.0)
            ev = round(
                float(
                    light.scene_ev100(
                        **{
                            "sun_altitude_deg": sun_over["altitude_deg"],
                            "sun_off_deg": sun_over["off_deg"],
                        }
                    )
                )
                + stops,
                2,
            )
            loading = logbook.load(self.paper, self.holder, "A")
            asked = typed(self.camera, self.paper, kind="ev", ev=f"{ev}", open="", made="0")
            self.client.post(f"/plan/{self.first.pk}/", asked | {"side": f"{self.holder.pk}A"})
        with clock.at(self.at + timedelta(minutes=2)):
            logbook.close_hole(Exposure.objects.get())
        return loading

    def slot(self, minutes=10):
        with clock.at(self.at + timedelta(minutes=minutes)):
            self.outing = Outing.objects.get()
            return days.schedule(self.outing)

    def test_a_sky_that_clouds_over_never_shortens_what_is_to_come(self):
        self.read()
        before = self.slot().to_come[0].seconds[0]
        seconds = {"sun": before}
        for sky in ("haze", "bright", "grey", "heavy"):
            SkyChange.objects.all().delete()
            with clock.at(self.at + timedelta(minutes=5)):
                self.client.post(f"/plan/outings/{self.outing.pk}/sky/", {"sky": sky})
            day = self.slot()
            seconds[sky] = day.to_come[0].seconds[0]
            # The reading still stands on the sky it was made under.
            self.assertEqual(day.anchor.sky.name, "sun")
            self.assertAlmostEqual(day.anchor.stops_more, 0, delta=0.02)
            self.assertIn("carried over", day.light_words)
        ordered = [seconds[sky.name] for sky in light.SKIES]
        self.assertEqual(ordered, sorted(ordered))
        # By common practice heavy cloud takes about five stops.
        self.assertAlmostEqual(math.log2(seconds["heavy"] / before), 5, delta=1)
        low, high = day.to_come[0].range_s
        self.assertGreater(math.log2(high / low), 2 * 1.645 * 1.0)
        # And back again is as it was.
        change = SkyChange.objects.get()
        self.client.post(f"/plan/outings/sky/{change.pk}/undo/")
        self.assertAlmostEqual(self.slot().to_come[0].seconds[0] / before, 1, delta=PERMILLE)

    def test_another_sky_in_the_form_of_the_day_is_one_that_changed(self):
        form = {"name": "Kilns", "place": self.place.pk, "day": "2026-06-02", "wind": "still"}
        url = f"/plan/outings/{self.outing.pk}/edit/"
        with clock.at(self.at - timedelta(hours=1)):
            self.client.post(url, form | {"sky": "haze"})
        self.assertEqual((Outing.objects.get().sky, SkyChange.objects.count()), ("haze", 0))
        self.read()
        with clock.at(self.at + timedelta(minutes=9)):
            self.client.post(url, form | {"sky": "haze"})
            self.assertEqual(SkyChange.objects.count(), 0)
            self.client.post(url, form | {"sky": "grey"})
        self.assertEqual(Outing.objects.get().sky, "haze")
        self.assertEqual(SkyChange.objects.get().sky, "grey")
        self.assertEqual(self.slot(20).anchor.sky.name, "haze")

    def test_the_meter_outvotes_a_low_sun(self):
        # EV 7 at eight in an October morning is no sunshine; EV 12.5 may be.
        morning = datetime(2026, 10, 20, 6, 45, tzinfo=UTC)
        with clock.at(morning):
            self.assertLess(places.sun_at(self.place, morning)[1], 10)
            asked = typed(self.camera, self.paper, kind="ev", azimuth_deg="290")
            dull = self.client.get("/plan/", asked | {"ev": "7"}).context["page"]
            sunny = self.client.get("/plan/", asked | {"ev": "12.5"}).context["page"]
            said = self.client.get("/plan/", asked | {"ev": "12.5", "seen": "heavy"})
        self.assertEqual(dull.sheet.calculation.specification.colour_stops, 0)
        self.assertGreater(sunny.sheet.calculation.specification.colour_stops, 0.4)
        self.assertEqual(said.context["page"].sheet.calculation.specification.colour_stops, 0)

    def test_by_eye_after_sunset_is_refused_with_a_way_out(self):
        for hour, refused in ((10, False), (18, False), (20, True), (23, True), (1, True)):
            with clock.at(datetime(2026, 6, 2, hour, 23, tzinfo=UTC)):
                asked = typed(self.camera, self.paper, kind="sky", sky="sun")
                answer = self.client.get("/plan/", asked)
                is_up = places.sun_at(self.place, clock.now())[1] > sun.RISE_DEG
            page = answer.context["page"]
            with self.subTest(hour=hour):
                self.assertEqual((page.plan is None, is_up), (refused, not refused))
                if refused:
                    words = words_of(answer)
                    self.assertIn("The sun is down at Rauholm", words)
                    self.assertRegex(words, r"Meter what light there is.* up again .*\d\d:\d\d")

    def test_every_word_about_sun_and_shadow_is_true_of_where_the_sun_stands(self):
        """Against pinhole.sun: over days, hours, directions and skies."""
        chance = np.random.default_rng(22)
        seen = {"down": 0, "long": 0, "own": 0, "clouded": 0}
        for _ in range(60):
            moment = datetime(2026, 1, 1, tzinfo=UTC) + timedelta(
                days=int(chance.integers(365)), minutes=int(chance.integers(24 * 60))
            )
            looks, sky = float(chance.integers(360)), str(chance.choice(["sun", "haze", "grey"]))
            Outing.objects.update(sky=sky, day=moment.astimezone(self.place.tz).date())
            Shot.objects.filter(pk=self.first.pk).update(starts_at=moment, azimuth_deg=looks)
            Shot.objects.exclude(pk=self.first.pk).delete()
            day = days.schedule(Outing.objects.get())
            (slot,) = day.slots
            azimuth, altitude = sun.position(
                np.datetime64(slot.opens.astimezone(UTC).replace(tzinfo=None), "s"),
                self.place.latitude_deg,
                self.place.longitude_deg,
            )
            with self.subTest(moment=moment, looks=looks, sky=sky):
                down, clear = altitude < sun.RISE_DEG, sky != "grey"
                self.assertEqual("The sun is down" in slot.sun, down)
                seen["down"] += down
                if not clear or down:
                    self.assertNotRegex(slot.sun, "long shadow|own shadow")
                    seen["clouded"] += not down
                if "long shadows" in slot.sun:
                    self.assertLess(altitude, LONG_SHADOWS_DEG)
                    seen["long"] += 1
                if "own shadow" in slot.sun:
                    # It falls away from the sun, into what the camera sees.
                    off = abs((azimuth + 180 - looks + 180) % 360 - 180)
                    self.assertLess(off, self.camera.geometry.field_deg()[0] / 2)
                    seen["own"] += 1
        self.assertTrue(all(seen.values()), seen)


class OneValue(TestCase):
    """The demo's year, swept: what each page and file tells of the same thing."""

    @classmethod
    def setUpTestData(cls):
        years.a_year()
        outing = Outing.objects.get()
        # One of its shots was made with a hand before the hole for a while.
        shot = outing.shots.get(camera__name="Wedge", sheets="bracket")
        cls.outing, cls.shot = outing, shot
        at = shot.starts_at
        camera, paper = shot.camera, shot.paper
        with clock.at(at):
            loading = logbook.load(paper, demo._empty_holder(camera.size), "A")
            plan = planned(camera, paper, seconds=4.0)
            asked = {"camera": camera, "paper": paper, "subject": "", "developer": None}
            asked |= {"note": "", "again": False}
            from chimney.field.plan import flows as plans

            side = next(s for s in logbook_sides() if s.loading and s.loading.pk == loading.pk)
            cls.made = plans.open_shot(asked, plan, side, shot)
        while_open.cover_then(cls.made, [(at + timedelta(seconds=10), at + timedelta(seconds=33))])
        with clock.at(at + timedelta(seconds=85)):
            logbook.close_hole(cls.made)

    def test_one_exposure_has_one_duration(self):
        """62 s free of 85 by the clock, on every page and in every file that tells it."""
        made = Exposure.objects.get(pk=self.made.pk)
        self.assertEqual(made.given_s, 62)
        code = made.sheet.code
        with clock.at(self.shot.starts_at + timedelta(minutes=30)):
            pages = {
                url: words_of(self.client.get(url))
                for url in (
                    f"/expose/{made.pk}/",
                    f"/sheets/{code}/",
                    f"/plan/outings/{self.outing.pk}/",
                    f"/plan/of/{code}/",
                )
            }
            table = self.client.get("/data/table/exposures.csv").content.decode()
        for url in (f"/expose/{made.pk}/", f"/sheets/{code}/", f"/plan/outings/{self.outing.pk}/"):
            with self.subTest(url):
                found = set(re.findall(r"[Ff]ree for (\d[\d:]* ?(?:min|s|h)?)", pages[url]))
                self.assertIn("1:02", {one.strip() for one in found})
                self.assertNotIn("1:25", pages[url])
        row = next(line for line in table.splitlines() if line.startswith(f"{code},"))
        self.assertIn(",62.0,", row)

    def test_pages_fragments_and_tables_tell_the_same(self):
        self.assertEqual(differences(self.client, step=5), [])

    def test_every_finished_exposure_is_told_alike_by_timer_and_sheet(self):
        for made in Exposure.objects.exclude(given_s=None).order_by("pk")[::6]:
            said = f"ree for {durations.say(made.given_s)}"
            for url in (f"/expose/{made.pk}/", f"/sheets/{made.sheet.code}/"):
                with self.subTest(url=url):
                    self.assertIn(said, words_of(self.client.get(url)))

    def test_a_shot_has_one_length_on_the_day_in_its_calendar_and_on_the_round(self):
        with clock.at(self.shot.starts_at - timedelta(hours=3)):
            day = days.schedule(Outing.objects.get())
            page = words_of(self.client.get(f"/plan/outings/{self.outing.pk}/"))
            book = icalendar.Calendar.from_ical(
                self.client.get(f"/plan/outings/{self.outing.pk}/outing.ics").content
            )
        events = {str(event["SUMMARY"]) for event in book.walk("VEVENT")}
        self.assertEqual(len(events), len(day.to_come))
        for slot in day.to_come:
            self.assertIn(f"{slot.shot}: {slot.shot.camera}, {slot.lengths}", events)
            self.assertIn(f"open for {slot.lengths}", page)

    def test_a_day_reads_its_skies_once_however_often_it_is_asked_for_them(self):
        with clock.at(self.shot.starts_at - timedelta(hours=3)):
            for number in range(3):
                at = clock.now() - timedelta(minutes=number)
                SkyChange.objects.create(outing=self.outing, at=at, sky="grey")
            for part in ("", "notebook/", "pocket.html"):
                with CaptureQueriesContext(connection) as asked:
                    self.client.get(f"/plan/outings/{self.outing.pk}/{part}")
                skies = [query for query in asked if "field_skychange" in query["sql"]]
                self.assertLessEqual(len(skies), 2, part)

    def test_a_can_has_one_number_of_days_and_one_moment_wherever_it_is_told(self):
        round_to_go = PdfReader(io.BytesIO(self.client.get("/expose/cans/round.pdf").content))
        printed = " ".join(page.extract_text() for page in round_to_go.pages)
        everywhere = words_of(self.client.get("/expose/cans/"))
        for can in Solargraph.objects.filter(sheet__stage="out"):
            own = words_of(self.client.get(f"/expose/cans/{can.pk}/"))
            with self.subTest(can.name):
                self.assertIn(can.name, printed)
                to_go = f"{can.days_to_go} day{'s' if can.days_to_go != 1 else ''} to go"
                self.assertIn(to_go, own)
                self.assertIn(f"{to_go.removesuffix(' to go')} {can.days_passed} day", everywhere)
                # On the clock of its place, named where that is not home's.
                there = can.opened_at.astimezone(can.place.tz)
                zone = f" ({can.place.zone})" if can.place.zone != "Europe/Stockholm" else ""
                self.assertRegex(own, f"Out since .*{there:%H:%M}{re.escape(zone)}")

    def test_whatever_the_hour_the_demo_lives_by_daylight_and_nobody_works_at_night(self):
        place = Place.objects.get(home=True)
        for made in Exposure.objects.select_related("sheet"):
            altitude = places.sun_at(place, made.made_at)[1]
            if "work lamps" not in made.subject:
                self.assertGreater(altitude, sun.RISE_DEG, (made.subject, made.made_at))


def logbook_sides():
    from chimney.logbook.queries import sides

    return sides()
