"""The first page: four doors on an empty house, the answer of each, and the thing it ends at."""

import itertools
from datetime import UTC, datetime, timedelta

from chimney.darkroom.models import Run
from chimney.hearth import invariants
from chimney.hearth.begin import page as doors
from chimney.kit.forms.roster import names_in
from chimney.kit.models import Camera, Developer, Holder, Paper, Person
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock
from chimney.places.models import Place
from chimney.solar.cans import craft as cans
from chimney.solar.models import Solargraph
from pinhole import light
from tests.chimney.pages import TestCase

NOON = datetime(2026, 11, 28, 11, 10, tzinfo=UTC)


class Minutes(TestCase):
    """An empty house says a first time before anything was asked."""

    def setUp(self):
        moved = clock.at(NOON)
        moved.__enter__()
        self.addCleanup(moved.__exit__, None, None, None)

    def answer(self, **more):
        typed = {"what": "box", "depth_mm": "150", "hole_mm": "0.5", "paper": "grade-2 RC"}
        return self.client.post("/begin/minutes/", typed | {"plan": "1"} | more)

    def test_the_empty_house_says_a_time_at_once_and_a_button_starts_it(self):
        page = self.client.get("/").context["page"]
        self.assertContains(self.client.get("/"), "Start the clock")
        low, high = page.first.low_s, page.first.high_s
        self.assertLess(low, page.first.seconds)
        self.assertLess(page.first.seconds, page.first.second_s)
        self.assertLess(page.first.second_s, high)
        timer = self.client.post("/begin/minutes/", follow=True)
        self.assertContains(timer, "Close the hole")
        exposure = Exposure.objects.get()
        self.assertEqual(exposure.planned_s, page.first.seconds)
        self.assertEqual((Camera.objects.count(), Sheet.objects.count()), (1, 1))
        self.assertEqual(list(invariants.broken()), [])
        self.assertContains(self.client.get("/"), "One camera is open")

    def test_every_door_answers_whatever_asks(self):
        for door in doors.BY_CODE:
            for headers in ({}, {"HX-Request": "true"}):
                answer = self.client.get(f"/begin/{door}/", {"names": "x"}, headers=headers)
                self.assertEqual(answer.status_code, 200, door)

    def test_what_the_door_says_is_what_the_plan_says(self):
        """Whatever was answered: the two ask the craft the same."""
        skies = [sky.name for sky in light.SKIES]
        papers = [name for name, _ in doors.PAPERS]
        answers = zip(
            itertools.cycle(("minutes", "minutes", "room")),
            ("30", "90", "9 cm", "250", "6 in", "150"),
            itertools.cycle(skies),
            itertools.cycle(papers),
            strict=False,
        )
        for code, depth, sky, paper in answers:
            with self.subTest(code, depth=depth, sky=sky, paper=paper):
                typed = {"depth_mm": depth, "sky": sky, "paper": paper}
                said = self.client.get(f"/begin/{code}/", typed).context["page"].first.seconds
                sent = typed | ({"what": "lens", "hole_mm": "8"} if code == "room" else {})
                self.client.post(f"/begin/{code}/", sent)
                self.assertEqual(Exposure.objects.latest("pk").planned_s, said)

    def test_what_ends_in_no_day_starts_no_clock_and_is_told(self):
        typed = {"depth_mm": "20000", "hole_mm": "0.5", "sky": "heavy", "what": "tin"}
        for more in ({}, {"depth_mm": "5000", "hole_mm": ""}, {"depth_mm": "5", "hole_mm": "0.05"}):
            shown = self.client.get("/begin/minutes/", typed | more)
            self.assertEqual(shown.status_code, 200)
            answer = self.client.post("/begin/minutes/", typed | more, follow=True)
            self.assertIn(answer.status_code, (200, 422))
            starts = shown.context["page"].starts
            self.assertEqual(Exposure.objects.exists(), starts, more)
            Exposure.objects.all().delete()

    def test_every_tile_says_its_own_time(self):
        page = self.client.get("/begin/minutes/").context["page"]
        times = [seconds for *_, seconds in page.skies]
        self.assertEqual(times, sorted(times))
        by_ei = sorted((ei, seconds) for _, _, ei, seconds in page.papers[:5])
        self.assertEqual([s for _, s in by_ei], sorted((s for _, s in by_ei), reverse=True))

    def test_at_night_it_is_worked_out_for_the_next_noon_and_starts_nothing(self):
        for hour in range(0, 24, 3):
            with clock.at(NOON.replace(hour=hour, minute=0)):
                page = self.client.get("/begin/minutes/").context["page"]
                self.assertGreater(page.sun.altitude_deg, 2)
                self.assertEqual(page.sun.is_dark, page.sun.moment != clock.now())
                self.assertLess(page.sun.moment - clock.now(), timedelta(days=1, hours=1))
                self.client.post("/begin/minutes/")
        # At 9 and 12 o'clock UTC the sun is up over Stockholm in November.
        self.assertEqual(Exposure.objects.count(), 2)

    def test_where_the_sun_does_not_rise_no_hours_are_counted(self):
        night = {"latitude_deg": 78.2, "longitude_deg": 15.6, "zone": "Arctic/Longyearbyen"}
        Place.objects.create(name="hut", home=True, **night)
        for headers in ({}, {"HX-Request": "true"}):
            answer = self.client.get("/begin/minutes/", headers=headers)
            self.assertContains(answer, "over 24 h")
            self.assertContains(answer, "The sun does not rise")
            self.assertNotRegex(answer.content.decode(), r"\d{3,} h\b|nine times in ten")

    def test_each_answer_makes_what_a_first_exposure_needs(self):
        for what, more, n, holders in (
            ("box", {}, 300, 1),
            ("tin", {"depth_mm": "90", "hole_mm": "0,3"}, 300, 1),
            ("can", {"depth_mm": "66", "hole_mm": "0.3"}, 220, 1),
            ("can", {"depth_mm": "40", "hole_mm": "0.2"}, 200, 1),
            ("lens", {"depth_mm": "150", "hole_mm": "8"}, 8, 1),
            # The hole that suits 150 mm by Rayleigh's rule is 1.9 sqrt(150 x 0.00055) = 0.55 mm.
            ("box", {"paper": "ISO 100 sheet film", "hole_mm": ""}, 150 / 0.5, 1),
            ("tin", {"size": "5x7"}, 300, 1),
        ):
            with self.subTest(what, **more):
                for model in (Holder, Camera, Paper, Developer):
                    model.objects.all().delete()
                self.assertContains(self.client.get("/"), "What do you want to do?")
                answer = self.answer(what=what, **more)
                camera = Camera.objects.get()
                self.assertAlmostEqual(camera.f_number, n, delta=0.01)
                self.assertEqual(Holder.objects.count(), holders)
                self.assertTrue(Developer.objects.exists())
                page = self.client.get(answer["Location"] + "&seconds=2").context["page"]
                self.assertEqual((page.camera, page.paper), (camera, Paper.objects.get()))
                self.assertIsNotNone(page.plan)
                self.assertTrue(page.fitting)

    def test_a_hole_that_nobody_measured_suits_the_depth_with_its_doubt(self):
        self.answer(hole_mm="", depth_mm="90")
        camera = Camera.objects.get()
        self.assertEqual((camera.diameter_mm, camera.diameter_sd_mm), (0.4, 0.1))

    def test_wrong_answers_are_told_beside_them_and_nothing_is_made(self):
        for more, words in (
            ({"depth_mm": "deep"}, "must be a number"),
            ({"hole_mm": "8"}, "did you mean 0.8?"),
            ({"what": "lens", "hole_mm": ""}, "needs its marked f-number"),
            ({"what": ""}, "This field is required"),
            ({"what": "can", "depth_mm": "4", "hole_mm": "0.1"}, "between 5"),
            ({"size": "as large as a hand"}, "A size is written like"),
        ):
            with self.subTest(**more):
                answer = self.answer(**more)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="', status_code=422)
                self.assertFalse(Camera.objects.exists() or Paper.objects.exists())
        for more in ({"paper": "wallpaper"}, {"sky": "green"}):
            self.assertEqual(self.answer(**more).status_code, 422)
        self.assertEqual(self.client.get("/begin/nowhere/").status_code, 404)


class Months(TestCase):
    def test_a_can_faces_the_noon_and_keeps_every_one_of_its_days(self):
        """Asked of the trails that it will draw, not of the rule that leans it."""
        for where, faces in (
            ("57.1 N 19.6 E", 180),
            ("Stockholm", 180),
            ("-43.95, 171.6", 0),
            ("51 30 N, 0 W", 180),
        ):
            for wide, until in ((66, "2026-12-21"), (66, "2027-06-21"), (100, "2027-06-21")):
                with self.subTest(where, wide=wide, until=until), clock.at(NOON):
                    query = {"where": where, "wide_mm": wide, "until": until}
                    page = self.client.get("/begin/can/", query).context["page"]
                    trails = page.can.prediction.trails
                    self.assertEqual(page.ladder.aim.azimuth_deg, faces)
                    self.assertTrue(trails.noon_on_paper.all())
                    self.assertEqual(f"{page.ladder.last_day}", until)

    def test_a_can_anywhere_and_on_any_day(self):
        """The pole in its night, the equator, the far ends of the clock: no error, one button."""
        for where in ("89 N 10 E", "79.9 S 0 E", "0 N 0 E", "Nairobi", "52.0, -180"):
            for moment in ("2026-12-20T23:59:00", "2026-12-21T12:00:00", "2027-06-21T00:00:00"):
                with self.subTest(where, at=moment), clock.at(datetime.fromisoformat(f"{moment}Z")):
                    page = self.client.get("/begin/can/", {"where": where})
                    self.assertContains(page, "Take it out")
                    made = self.client.post("/begin/can/", {"where": where})
                    self.assertContains(self.client.get(made["Location"]), "The hole is open")

    def test_a_can_is_out_in_two_posts_and_the_rest_is_said_later(self):
        with clock.at(NOON):
            answer = self.client.post("/begin/can/", {"where": "57.1 N 19.6 E"})
            can = Solargraph.objects.get()
            self.assertContains(self.client.get(answer["Location"]), "The hole is open")
            self.client.post(f"/expose/cans/{can.pk}/out/")
        can.refresh_from_db()
        self.assertEqual((can.stage, can.opened_at), ("out", NOON))
        self.assertTrue(can.place.home)
        self.assertEqual(list(invariants.broken()), [])
        later = {"spot": "third post of the hedge", "compass_deg": "170", "plumb_deg": "15"}
        url = f"/expose/cans/{can.pk}/spot/"
        wrong = self.client.post(url, later | {"plumb_deg": "upright"})
        self.assertContains(wrong, "third post of the hedge", status_code=422)
        self.client.post(url, later)
        can = Solargraph.objects.get()
        self.assertEqual((can.spot, can.stood_tilt_deg, can.stage), (later["spot"], 15, "out"))
        self.assertEqual(cans.measured_stand(can, 170, day=NOON.date()), can.stood_azimuth_deg)

    def test_a_place_that_is_kept_is_meant_before_any_town(self):
        place = Place.objects.create(
            name="Rauholm",
            latitude_deg=57.1,
            longitude_deg=19.6,
            zone="Europe/Stockholm",
            home=True,
        )
        with clock.at(NOON):
            self.assertContains(self.client.get("/begin/can/"), "Looks south")
            self.client.post("/begin/can/", {"where": " rauholm "})
        self.assertEqual(Solargraph.objects.get().place, place)

    def test_any_paper_serves(self):
        for kind in ("negative", "positive", "solargraph", None):
            with self.subTest(kind), clock.at(NOON):
                if kind:
                    Paper.objects.update(kind=kind, retired_at=None)
                else:
                    Paper.objects.update(retired_at=NOON)
                self.client.post("/begin/can/", {"where": "Stockholm"})
                can = Solargraph.objects.latest("pk")
                self.client.post(f"/expose/cans/{can.pk}/out/")
                self.assertEqual(Solargraph.objects.latest("pk").stage, "out")
                self.client.post(f"/expose/cans/{can.pk}/close/")
                self.client.post(f"/expose/cans/{can.pk}/scanned/", {"minutes": "2", "lux": "20"})
                self.assertEqual(list(invariants.broken()), [])
        self.assertFalse(Run.objects.exists())
        # One town is one place, however often it is named.
        self.assertEqual(Place.objects.count(), 1)

    def test_what_is_no_place_or_no_can_is_told(self):
        for more, words in (
            ({"where": "Xyzzy Nowhere"}, "No town of that name"),
            ({"where": "91 N 10 E"}, "No town of that name"),
            ({"where": ""}, "This field is required"),
            ({"wide_mm": "3 m"}, "must be a number"),
            ({"wide_mm": "4000"}, "between 30 and 400"),
            ({"until": "2020-01-01"}, "Select a valid choice"),
        ):
            with self.subTest(**more), clock.at(NOON):
                answer = self.client.post("/begin/can/", {"where": "Stockholm"} | more)
                self.assertContains(answer, words, status_code=422)
        self.assertFalse(Solargraph.objects.exists() or Place.objects.exists())


class AClass(TestCase):
    def test_a_list_is_people_however_it_is_written(self):
        for text, names in (
            ("Holm, Ines\nBerg, Jonte\nLund, Mo", ["Ines Holm", "Jonte Berg", "Mo Lund"]),
            ("Holm, Ines\nBerg, Jonte\nMo", ["Ines Holm", "Jonte Berg", "Mo"]),
            ("Ines, Jonte, Mo", ["Ines", "Jonte", "Mo"]),
            ("Holm, Ines", ["Holm", "Ines"]),
            ("Ines; Jonte\tMo\n\n , ines", ["Ines", "Jonte", "Mo"]),
            ("Ines\nBert; Clara, Dora", ["Ines", "Bert", "Clara", "Dora"]),
            (" \n;,", []),
        ):
            with self.subTest(text):
                self.assertEqual(names_in(text), names)

    def test_a_class_is_made_loaded_exposed_and_unloaded(self):
        names = "\n".join(f"Pupil {n:02d}" for n in range(1, 17))
        made = self.client.post("/begin/class/", {"names": names, "period": "Tuesday 4"})
        page = self.client.get(made["Location"])
        self.assertContains(page, "16 names are new")
        lines = page.context["page"].lines
        self.assertEqual(len({line["person"].value() for line in lines}), 16)
        sent = {"paper": Paper.objects.get().pk}
        for line in lines[:15]:
            sent[line["takes_part"].html_name] = "on"
            sent[line["person"].html_name] = line["person"].value()
        self.assertContains(self.client.post("/expose/row/", sent, follow=True), "S-001 to S-015")
        self.assertEqual(Sheet.objects.filter(stage="loaded").count(), 15)
        owners = {sheet.person.name for sheet in Sheet.objects.all()}
        self.assertEqual(owners, set(names.split("\n")[:15]))
        # Sent twice, nothing is loaded on top.
        self.assertEqual(self.client.post("/expose/row/", sent).status_code, 422)
        self.assertEqual(Sheet.objects.count(), 15)
        Sheet.objects.update(stage="exposed")
        full = self.client.get("/expose/row/").context["page"].full
        self.client.post("/expose/row/unload/", {"side": [side.key for side in full[:9]]})
        self.assertEqual(len(self.client.get("/expose/row/").context["page"].full), 6)
        self.assertEqual(self.client.post("/expose/row/", {}).status_code, 422)

    def test_a_second_class_keeps_whom_it_had_and_a_period_goes_whole(self):
        for period, names in (("A", "Ines\nMo"), ("B", "Mo\nJonte")):
            self.client.post("/begin/class/", {"names": names, "period": period})
        self.assertEqual(Person.objects.count(), 3)
        self.assertEqual(Person.objects.get(name="Mo").period, "A")
        shelf = self.client.get("/kit/")
        self.assertContains(shelf, "Retire B")
        groups = dict(
            self.client.get("/expose/row/").context["page"].lines[0].fields["person"].choices
        )
        self.assertEqual(set(groups), {"", "A", "B"})
        self.client.post("/kit/people/retire/", {"period": "A"})
        self.client.post("/kit/people/retire/", {"period": ""})
        self.assertEqual([p.name for p in Person.objects.in_use()], ["Jonte"])
        # Who left and comes again is of the new period.
        self.client.post("/kit/people/", {"names": "mo", "period": "C"})
        self.assertEqual(Person.objects.in_use().get(name="Mo").period, "C")
        for more, words in (({"names": " "}, "required"), ({"period": " "}, "required")):
            answer = self.client.post("/begin/class/", {"names": "Bo", "period": "C"} | more)
            self.assertContains(answer, words, status_code=422)
        self.assertFalse(Person.objects.filter(name="Bo").exists())
