"""A day out: laid along its light, timed while the light changes, carried in a pocket and brought
home once.
"""

import json
import math
from datetime import UTC, date, datetime, timedelta

import numpy as np
from django.contrib.auth import get_user_model
from django.core.exceptions import ValidationError
from django.core.management import CommandError, call_command
from django.test import RequestFactory, override_settings
from icalendar import Calendar

from chimney.darkroom import flows as darkroom
from chimney.field.light.craft import lit_at
from chimney.field.models import Outing, Pocketed, Shot
from chimney.field.outing import figures
from chimney.field.outing import flows as trips
from chimney.field.outing import page as days
from chimney.field.plan import craft as coming
from chimney.field.plan import flows
from chimney.field.pocket import craft as pocket
from chimney.field.pocket import files as pocket_files
from chimney.field.pocket import flows as pocket_flows
from chimney.hearth import flows as door
from chimney.kit import flows as kit_flows
from chimney.kit.models import Camera, Holder, Meter, Paper
from chimney.lessons.models import Evidence
from chimney.logbook import flows as logbook
from chimney.logbook import queries
from chimney.logbook.flows import corrections, while_open
from chimney.logbook.models import Exposure, Sheet
from chimney.logbook.page import Timer
from chimney.parts import clock, taps
from chimney.parts.refusal import Refused
from chimney.places import craft as places
from chimney.places import files
from chimney.places import flows as place_flows
from chimney.places.models import Place, View
from chimney.results import flows as results
from demo.cans import CAN
from pinhole import durations, exposure
from tests.chimney.kitchen import kit, opened, planned, pocket_event, typed
from tests.chimney.pages import TestCase
from tests.runner import HASHERS

NOON = datetime(2026, 6, 1, 10, tzinfo=UTC)


def later(seconds):
    return clock.at(NOON + timedelta(seconds=seconds))


def rauholm():
    return place_flows.keep(
        Place(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm")
    )


def metered(seconds):
    return exposure.Reading("seconds", f"{seconds} s", seconds, 128, 6)


class ChangingLight(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def timer(self, exposure, seconds):
        fresh = queries.whole(Exposure.objects).get(pk=exposure.pk)
        return Timer.of(fresh, NOON + timedelta(seconds=seconds))

    def test_a_second_reading_moves_the_end_and_keeps_what_was_given(self):
        # 20 s at f/128 on f/300 are 109.9 s, counted 110. At 55 s the light has fallen by a stop,
        # straight in stops: the integral of 2^(-t/55)/110 to 55 is 0.5/ln 2 x 0.5 = 0.3607; the
        # rest takes 0.6393 x 220 = 140.7 s.
        with later(0):
            exposure = opened(self.camera, self.paper, self.holder, seconds=20.0)
        with later(55):
            found = while_open.reread(exposure, metered(40.0))
        self.assertAlmostEqual(found.stops, -1, places=3)
        timer = self.timer(exposure, 55)
        self.assertAlmostEqual(timer.left_s, 140.7, delta=0.2)
        self.assertAlmostEqual(found.moved_s, 140.7 - 55, delta=0.3)
        self.assertAlmostEqual(timer.parts[0].share, 0.3607, places=3)
        self.assertIn("1 stop less light, adds 1:26", next(iter(timer.moves)))
        with later(55 + 140.7):
            logbook.close_hole(Exposure.objects.get(pk=exposure.pk))
        exposure.refresh_from_db()
        self.assertAlmostEqual(exposure.given_s, 195.7, delta=0.1)
        # What counts for the lesson is what the sheet received: the whole of what was planned.
        self.assertAlmostEqual(exposure.effective_s, 110, delta=0.2)
        self.assertEqual(self.timer(exposure, 500).given_words, "as worked out")

    def test_covering_pauses_and_the_parts_add_up(self):
        with later(0):
            exposure = opened(self.camera, self.paper, self.holder, seconds=20.0)
        for at, step in ((30, while_open.cover), (90, while_open.uncover)):
            with later(at):
                step(exposure)
        with later(95):
            while_open.reread(exposure, metered(20.0))
        timer = self.timer(exposure, 100)
        self.assertEqual([round(part.seconds) for part in timer.parts], [30, 5, 5])
        self.assertAlmostEqual(timer.left_s, 70, delta=0.2)
        self.assertAlmostEqual(self.timer(exposure, 180).left_s, -10, delta=0.3)

    def test_the_hand_before_the_hole_does_not_count(self):
        with later(0):
            exposure = opened(self.camera, self.paper, self.holder)
            loading = exposure.loading
            flows_open = planned(self.camera, self.paper).calculation
            corrections.take_back(exposure)
            exposure = logbook.open_hole(loading, self.camera, flows_open, hand_s=5)
        waiting = self.timer(exposure, 2)
        self.assertEqual((waiting.state, waiting.hand_left_s, waiting.open_s), ("hand", 3, 0))
        self.assertEqual(
            (self.timer(exposure, 8).open_s, self.timer(exposure, 8).state), (3, "open")
        )
        with later(4):
            logbook.close_hole(exposure)
        self.assertEqual(Exposure.objects.get(pk=exposure.pk).given_s, 0)

    def test_the_forecast_says_when_it_will_really_close(self):
        place = rauholm()
        done = planned(self.camera, self.paper, seconds=400.0).calculation
        dusk = datetime(2026, 6, 1, 17, 40, tzinfo=UTC)
        # A reading so far under the clear sky of that moment tells of cloud.
        lit = lit_at(place, dusk, ev100=done.reading.ev100)
        self.assertGreater(lit.stops_less, 2)
        found = coming.forecast(place, done, done.seconds, dusk, lit)
        # The sun sinks: the integral runs longer than the clock of a light that stands still, and
        # never past a day.
        self.assertGreater(found.prospect.closes_s, done.seconds * 1.1)
        self.assertFalse(
            coming.forecast(
                place, done, done.seconds, datetime(2026, 6, 1, 10, 40, tzinfo=UTC)
            ).matters
        )
        self.assertIsNone(coming.forecast(None, done, done.seconds, dusk))
        with clock.at(dusk):
            page = self.client.get(
                "/plan/",
                typed(self.camera, self.paper, seconds="400", reckon="on", plain_light="on"),
            )
            self.assertContains(page, "because the light will fall")
            still = self.client.get("/plan/", typed(self.camera, self.paper, seconds="400"))
            self.assertNotContains(still, "because the light will fall")
            self.client.post(
                "/plan/",
                typed(
                    self.camera,
                    self.paper,
                    seconds="400",
                    reckon="on",
                    plain_light="on",
                    open="",
                    side=f"{self.holder.pk}A",
                ),
            )
        exposure = Exposure.objects.get()
        self.assertGreater(len(exposure.forecast), 5)
        timer = Timer.of(queries.whole(Exposure.objects).get(), dusk)
        self.assertAlmostEqual(
            timer.total_s, found.prospect.closes_s, delta=4e-3 * found.prospect.closes_s
        )

    def test_taps_of_a_device_without_network_count_from_when_they_were_made(self):
        with later(0):
            exposure = opened(self.camera, self.paper, self.holder)
        with later(600):
            self.client.post(f"/expose/{exposure.pk}/close/", {"ago_ms": "588000"})
        self.assertEqual(Exposure.objects.get().given_s, 12)
        again = self.client.post(f"/expose/{exposure.pk}/close/", {"ago_ms": "588000"})
        self.assertEqual(again.status_code, 409)
        with later(700):
            corrections.reopen(Exposure.objects.get())
            self.client.post(f"/expose/{exposure.pk}/close/", {"ago_ms": "99999999999"})
        # A clock that jumps cannot close a hole before it was opened.
        self.assertEqual(Exposure.objects.get().given_s, 0)
        for bad in ("x", "-5", "²", ""):
            self.assertEqual(
                self.client.post(f"/expose/{exposure.pk}/close/", {"ago_ms": bad}).status_code, 409
            )

    def test_a_device_whose_clock_is_put_right_moves_no_tap(self):
        """Made at 0 s, tapped at 60 s, sent at 600 s, in every order of naps and set clocks."""
        on_the_day = {"after_ms": 60_000, "ago_ms": 540_000}
        on_the_page = {"after_life_ms": 60_000, "ago_life_ms": 540_000}
        hour, true = 3_600_000, on_the_day | on_the_page
        cases = (
            ("well", {}, 60),
            ("a page that is gone", {"ago_life_ms": None}, 60),
            ("put forward after the tap", {"ago_ms": 540_000 + hour}, 60),
            ("put forward before the tap", {"after_ms": 60_000 + hour}, 60),
            ("put back after the tap", {"ago_ms": 0}, 60),
            ("asleep before the tap", {"after_life_ms": 5_000}, 60),
            ("asleep after the tap", {"ago_life_ms": 9_000}, 60),
            ("forward, and the page gone", {"ago_ms": 540_000 + hour, "ago_life_ms": None}, 60),
            ("asleep and put forward", {"after_life_ms": 9_000, "after_ms": hour}, 60),
            ("nobody was right", {"after_life_ms": 5_000, "ago_ms": hour, "ago_life_ms": 0}, None),
            (
                "asleep, forward, and the page gone",
                {"after_life_ms": 5_000, "ago_ms": 540_000 + hour, "ago_life_ms": None},
                None,
            ),
            ("a day of another age", {"after_ms": 10**13, "ago_ms": 99_999_999_999_999}, 60),
            ("nothing but another age", dict.fromkeys(true, 99_999_999_999_999), None),
            ("no word of the form", dict.fromkeys(("after_ms", "after_life_ms")), 60),
        )
        for name, changed, wanted_s in cases:
            with self.subTest(name):
                told = {key: value for key, value in (true | changed).items() if value is not None}
                with later(0):
                    told["made_ms"] = round(clock.now().timestamp() * 1000)
                request = RequestFactory().post("/", told)
                with later(600):
                    if wanted_s is None:
                        self.assertRaises(Refused, taps.tapped_at, request)
                        continue
                    moment = taps.tapped_at(request)
                with later(wanted_s):
                    self.assertAlmostEqual((moment - clock.now()).total_seconds(), 0, delta=10)

    def test_reading_again_on_the_page(self):
        with later(0):
            exposure = opened(self.camera, self.paper, self.holder, seconds=20.0)
            page = f"/expose/{exposure.pk}/reading/"
            self.assertContains(self.client.get(page), 'value="128"')
            reading = {"kind": "seconds", "meter_f": "128", "meter_iso": "6"}
            wrong = self.client.post(page, reading | {"seconds": "bright"})
            self.assertContains(wrong, "not a time", status_code=422)
        with later(55):
            self.client.post(page, reading | {"seconds": "40"})
            self.assertContains(self.client.get(f"/expose/{exposure.pk}/"), "1 stop less light")


class Sheets(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def plan(self, **more):
        given = {
            "sheets": "single",
            "bracket_stops": 1.0,
            "bands": 5,
            "bracket_by": "effect",
        } | more
        return planned(self.camera, self.paper, seconds=20.0, **given)

    def test_brackets_strips_and_schools_are_worked_out(self):
        bracket = self.plan(sheets="bracket")
        self.assertEqual([step.seconds for step in bracket.sheets], [110, 55, 225])
        clocked = self.plan(sheets="bracket", bracket_by="clock", school="power")
        self.assertAlmostEqual(
            clocked.sheets[2].seconds / clocked.calculation.exact_s, 2, delta=0.06
        )
        schools = self.plan(sheets="schools")
        self.assertEqual(
            [step.words for step in schools.sheets], ["as if no reciprocity", "with reciprocity"]
        )
        (strip,) = self.plan(sheets="strip").sheets
        self.assertEqual((len(strip.bands), strip.seconds), (5, strip.bands[-1].pull_s))

    def test_a_bracket_goes_on_until_its_last_sheet(self):
        data = typed(
            self.camera,
            self.paper,
            seconds="20",
            sheets="bracket",
            bracket_stops="1",
            bracket_by="effect",
        )
        given = []
        for side in "AB":
            url = f"/plan/{Shot.objects.get().pk}/" if Shot.objects.exists() else "/plan/"
            if Shot.objects.exists():
                # The next sheet begins with what was typed for the first, its own time ready to be
                # opened.
                headline = self.client.get(url).context["page"].headline
                self.assertEqual(headline, "Open Plank for 55 s")
            self.client.post(
                url, data | {"side": f"{self.holder.pk}{side}", "open": "", "subject": "kiln"}
            )
            exposure = Exposure.objects.first()
            given.append(exposure.planned_s)
            beside = self.client.get(f"/plan/beside/{exposure.pk}/")
            logbook.close_hole(exposure)
        self.assertEqual(given, [110, 55])
        self.assertContains(beside, "another sheet of kiln")
        self.assertFalse(Shot.objects.get().done)
        with_it = self.client.get(f"/plan/of/{exposure.sheet.code}/")
        self.assertContains(with_it, "Beside it")
        self.assertContains(with_it, "−1 of effect")

    def test_an_exposure_keeps_where_it_was_made_and_which_way_it_looked(self):
        home = Place.objects.create(
            name="quay", latitude_deg=57, longitude_deg=19, zone="Europe/Stockholm", home=True
        )
        far = Place.objects.create(name="far", latitude_deg=-43, longitude_deg=171, zone="UTC")
        trip = Outing.objects.create(
            name="day", place=far, day=clock.now().date(), made_at=clock.now()
        )
        shot = Shot.objects.create(
            outing=trip, camera=self.camera, paper=self.paper, azimuth_deg=20, kept_at=clock.now()
        )
        for side, url, more, where in (
            ("A", "/plan/", {}, (None, None)),
            ("B", "/plan/", {"azimuth_deg": "NW"}, (home, 315.0)),
            ("A", f"/plan/{shot.pk}/", {}, (far, 20.0)),
        ):
            sent = typed(self.camera, self.paper, side=f"{self.holder.pk}{side}", open="", **more)
            answer = self.client.post(url, sent)
            self.assertEqual(answer.status_code, 302)
            exposure = Exposure.objects.first()
            self.assertEqual((exposure.place, exposure.azimuth_deg), where)
            logbook.close_hole(exposure)
            logbook.unload(exposure.loading)
        page = self.client.get(f"/sheets/{exposure.sheet.code}/")
        self.assertContains(page, "far, looking")
        found = self.client.get("/learn/search/", {"place": far.pk})
        self.assertContains(found, "1 sheet")
        self.assertContains(found, exposure.sheet.code)

    def test_a_test_strip_keeps_its_pulls(self):
        data = typed(
            self.camera,
            self.paper,
            seconds="20",
            sheets="strip",
            bracket_stops="1/2",
            bands="3",
            subject="wall",
        )
        self.client.post("/plan/", data | {"side": f"{self.holder.pk}A", "open": ""})
        exposure = Exposure.objects.get()
        self.assertContains(self.client.get(f"/plan/beside/{exposure.pk}/"), "Band by band")
        self.assertEqual([band["pull_s"] for band in exposure.taken.bands], [80, 110, 150])
        self.assertEqual(exposure.planned_s, 150)
        # Bands of different times teach no EI.
        with clock.at(clock.now() + timedelta(seconds=150)):
            logbook.close_hole(exposure)
        darkroom.develop([exposure.sheet], self.developer, parts=10, seconds=60)
        results.judge(exposure.sheet, stops_more=1)
        self.assertIn("a test strip", Evidence.objects.get().reason)

    def test_several_readings_and_a_feeling(self):
        page = self.client.get(
            "/plan/",
            typed(
                self.camera,
                self.paper,
                seconds="",
                darkest="1m",
                brightest="1/2",
                hold="highlights",
            ),
        )
        # By hand: 60 s to 0.5 s are 6.9 stops; the paper holds 5, so 1.9 are lost and half of that
        # is taken away.
        self.assertContains(page, "The scene spans 7 stops")
        self.assertAlmostEqual(
            page.context["page"].plan.calculation.specification.compensation_stops, -0.953, places=2
        )
        wrong = self.client.get("/plan/", typed(self.camera, self.paper, darkest="dim"))
        self.assertContains(wrong, "not a time")
        felt = self.client.get("/plan/", typed(self.camera, self.paper, kind="sky", felt_s="40"))
        self.assertEqual(felt.context["page"].plan.calculation.seconds, 40)
        self.assertContains(felt, "By feeling")
        metered_one = self.client.get("/plan/", typed(self.camera, self.paper, felt_s="40"))
        self.assertEqual(metered_one.context["page"].plan.calculation.seconds, 11)
        close = typed(self.camera, self.paper, sheets="strip", bracket_stops="0.01", bands="12")
        self.assertContains(
            self.client.get("/plan/", close), "wide enough that each pull has a count of its own"
        )


def exposure_of(*, seconds):
    """A Reading of that many seconds at f/128, ISO 6."""
    return exposure.Reading("seconds", f"{seconds:g} s", seconds, 128.0, 6.0)


class AtTheBag(TestCase):
    """What a plan takes from the side that it is opened for."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.film = Paper.objects.create(name="film", kind="film", box_ei=100)

    def plan(self, **more):
        return self.client.get("/plan/", {"seconds": "2"} | more).context["page"]

    def test_paper_that_goes_straight_into_a_camera_is_exposed_in_that_camera(self):
        mine, hers = (
            kit_flows.keep_camera(Camera(name=name, **CAN), loads_directly=True)
            for name in ("Anna's can", "Bert's can")
        )
        opened(mine, self.paper, Holder.objects.get(camera=mine), "A")
        side = next(side for side in queries.sides() if side.holder.camera_id == hers.pk)
        logbook.load(self.paper, side.holder, side.letter)
        page = self.plan(side=side.key)
        self.assertEqual((page.camera, page.side.key), (hers, side.key))

    def test_a_second_exposure_is_reckoned_for_the_sheet_that_lies_there(self):
        exposure = opened(self.camera, self.paper, self.holder)
        logbook.close_hole(exposure)
        side = queries.sides()[0].key
        twice = {"side": side, "again": "on", "kind": "seconds"}
        page = self.plan(**twice, paper=self.film.pk, for_paper=self.film.pk)
        self.assertEqual(page.paper, self.paper)
        # Without the second exposure asked for, another paper is not sneaked onto it.
        given = typed(self.camera, self.film, side=side, open="1")
        refused = self.client.post("/plan/", given)
        self.assertNotEqual(refused.status_code, 302)
        self.assertEqual(Exposure.objects.count(), 1)

    def test_film_is_not_loaded_by_daylight_unasked(self):
        self.assertEqual(self.plan(paper=self.film.pk, for_paper=self.film.pk).typed["side"], "")
        self.assertNotEqual(
            self.plan(paper=self.paper.pk, for_paper=self.paper.pk).typed["side"], ""
        )

    def test_film_is_surer_of_its_speed_than_paper(self):
        doubts = [
            self.plan(paper=paper.pk, for_paper=paper.pk, kind="seconds").plan.proposal.sd_stops
            for paper in (self.film, self.paper)
        ]
        self.assertEqual(doubts, [1 / 6, 1])

    def test_the_return_key_without_script_keeps_the_token_out_of_the_address(self):
        data = typed(self.camera, self.paper, work="", csrfmiddlewaretoken="secret")
        answer = self.client.post("/plan/", data)
        self.assertIn("seconds=2", answer["Location"])
        self.assertNotIn("secret", answer["Location"])
        self.assertFalse(Exposure.objects.exists())

    def test_the_next_sheet_is_the_rest_of_the_shot_in_the_light_read_last(self):
        side = f"{self.holder.pk}A"
        bracket = {"sheets": "bracket", "bracket_stops": "1", "side": side, "open": ""}
        self.client.post("/plan/", typed(self.camera, self.paper, **bracket))
        exposure = Exposure.objects.get()
        while_open.reread(exposure, exposure_of(seconds=4.0))
        logbook.close_hole(exposure)
        answer = self.client.get(f"/plan/after/{exposure.pk}/")
        self.assertEqual(answer["Location"], f"/plan/{Shot.objects.get().pk}/")
        # What was typed just before the last sheet was opened is answered and no error.
        Shot.objects.update(done=True)
        late = self.client.get(answer["Location"], {"seconds": "2"}, headers={"HX-Request": "true"})
        self.assertEqual(late.status_code, 200)
        Shot.objects.update(done=False)
        page = self.client.get(answer["Location"]).context["page"]
        # 4 s at f/128 and ISO 6 are EV 128^2 x 100 / (4 x 6) = log2 68 267.
        self.assertEqual((page.typed["kind"], page.typed["ev"]), ("ev", "16.06"))
        lone = opened(self.camera, self.paper, self.holder, "B")
        self.assertEqual(self.client.get(f"/plan/after/{lone.pk}/")["Location"], "/plan/")

    def test_a_middle_that_was_typed_beside_both_ends_is_told_to_stand_aside(self):
        page = self.plan(darkest="8", brightest="2", kind="seconds")
        self.assertAlmostEqual(page.plan.calculation.reading.seconds, 4)
        self.assertIn("without the 2 above", page.plan.calculation.reading.said)


class Colour(TestCase):
    """What the colour of the light, and of a filter, asks of a paper."""

    def setUp(self):
        self.camera, self.paper, *_ = kit()
        self.film = Paper.objects.create(name="film", kind="film", box_ei=100, sees="pan")

    def plan(self, paper=None, **more):
        data = typed(self.camera, paper or self.paper) | {"kind": "sky", "height": "low"}
        return self.client.get("/plan/", data | more)

    def test_a_low_sun_is_a_tile_that_one_tap_leaves_out(self):
        page = self.plan()
        told = page.context["page"].plan.calculation
        self.assertContains(page, ">low sun<")
        self.assertTrue(0.5 < told.specification.colour_stops < 1)
        self.assertGreater(told.sd_stops, 0.25)
        without = self.plan(plain_light="on")
        self.assertNotContains(without, ">low sun<")
        self.assertContains(without, "Leave the colour of the light out")
        plain = without.context["page"].plan.calculation
        stops = math.log2(told.metered_s / plain.metered_s)
        self.assertAlmostEqual(stops, told.specification.colour_stops)
        for more in ({"paper": self.film}, {"height": "high"}):
            self.assertNotContains(self.plan(**more), "Leave the colour")

    def test_where_the_sun_stands_over_the_place_counts_for_a_meter(self):
        rauholm()
        for hour, tile in ((12, False), (20, True)):
            with clock.at(datetime(2026, 6, 1, hour - 2, 20, tzinfo=UTC)):
                page = self.plan(kind="seconds", seconds="2")
                self.assertEqual(">low sun<" in page.content.decode(), tile)

    def test_a_filter_takes_what_this_paper_sees_of_it(self):
        for paper, name, stops in (
            (self.paper, "yellow", 3),
            (self.film, "yellow", 1),
            (self.film, "red", 3),
        ):
            told = self.plan(paper, filter_name=name).context["page"].plan.calculation
            self.assertEqual(told.specification.filter_stops, stops)
        self.assertContains(self.plan(filter_name="red"), "sees hardly anything through it")
        wrong = self.plan(filter_name="rainbow")
        self.assertEqual(wrong.status_code, 200)


class DayOut(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.place = rauholm()
        self.outing = Outing.objects.create(
            name="Kilns",
            place=self.place,
            day=date(2026, 11, 24),
            sky="haze",
            wind="light",
            made_at=NOON,
        )
        self.url = f"/plan/outings/{self.outing.pk}/"

    def add(self, **more):
        data = {
            "subject": "kiln",
            "time": "10:00",
            "set_up_s": "5m",
            "camera": self.camera.pk,
            "paper": self.paper.pk,
        }
        data |= {"sheets": "single", "bracket_by": "effect", "azimuth_deg": "N"} | more
        return self.client.post(f"{self.url}shot/", data)

    def test_a_length_says_how_far_it_may_be_off(self):
        self.add()
        (slot,) = days.schedule(self.outing).slots
        low, high = slot.range_s
        # No correction for long times, so the range is 2 to the power of 1.645 sd either way: 3 %
        # of the hole (0.087 stop), a stop of an untried paper, the spread of a hazy sky (half a
        # stop) and of clear days (0.3), and what the blue of a November sun is unsure of.
        least = 1.645 * math.hypot(0.0866, 1, 0.5, 0.3)
        for ratio in (slot.seconds[0] / low, high / slot.seconds[0]):
            self.assertGreaterEqual(math.log2(ratio), least - 0.001)
            self.assertLess(math.log2(ratio), least + 0.2)
        self.assertContains(self.client.get(self.url), f"Nine in ten: {slot.range_words}.")

    def test_what_is_open_ends_on_the_day_where_its_timer_says(self):
        self.add()
        with clock.at(datetime(2026, 11, 24, 10, tzinfo=UTC)):
            shot = Shot.objects.get()
            typed_in = typed(self.camera, self.paper, kind="seconds", seconds="4m", made="0")
            side = f"{self.holder.pk}A"
            self.client.post(f"/plan/{shot.pk}/", typed_in | {"side": side, "open": ""})
        with clock.at(datetime(2026, 11, 24, 10, 10, tzinfo=UTC)):
            exposure = Exposure.objects.get()
            while_open.reread(exposure, metered(480.0))
            fresh = queries.whole(Exposure.objects).get()
            due = Timer.of(fresh, clock.now()).closes_at
            (slot,) = (slot for slot in days.schedule(self.outing).slots if slot.running)
            self.assertLess(abs(slot.ends - due), timedelta(seconds=1))
            planned_end = fresh.opening.opened_at + timedelta(seconds=fresh.planned_s)
            self.assertGreater(due, planned_end + timedelta(minutes=2))

    def test_shots_are_laid_along_the_light_and_moved(self):
        self.add()
        self.add(subject="net loft", time="10:02")
        first, second = days.schedule(self.outing).slots
        self.assertEqual(f"{first.begins:%H:%M}", "10:00")
        self.assertEqual(second.begins, first.ends)
        self.assertIn("behind", first.sun)
        day = days.schedule(self.outing)
        x = figures.hours_axis(day.daylight)(
            (first.begins - day.daylight.start).total_seconds() + 7200
        )
        live = {"HX-Request": "true"}
        place = f"{first.shot.pk} {x:.1f} 12"
        moving = self.client.post(f"{self.url}move/", {"dragged": f"{place} moving"}, headers=live)
        # Still in the hand: drawn at its new hour, kept at its old one.
        self.assertEqual(
            [f"{slot.begins:%H:%M}" for slot in moving.context["day"].slots], ["10:02", "12:00"]
        )
        self.assertEqual(days.schedule(self.outing).slots[0].begins, first.begins)
        page = self.client.post(f"{self.url}move/", {"dragged": place}, headers=live)
        self.assertContains(page, 'hx-swap-oob="true"')
        self.assertEqual(
            [f"{slot.begins:%H:%M}" for slot in days.schedule(self.outing).slots],
            ["10:02", "12:00"],
        )
        for bad in (
            "",
            "x y z",
            f"{first.shot.pk} nan 1",
            f"{first.shot.pk} 1e99 1",
            "999999 10 10",
            "1",
        ):
            self.assertEqual(
                self.client.post(f"{self.url}move/", {"dragged": bad}, headers=live).status_code,
                200,
            )
        self.add(subject="too late", time="15:00")
        self.assertIn("not full when it gets dark at", days.schedule(self.outing).slots[-1].wrong)
        self.assertContains(self.client.get(self.url), "1 of 3 shots do not fit")
        self.client.post(f"{self.url}shot/{first.shot.pk}/drop/")
        self.assertEqual(Shot.objects.count(), 2)
        self.client.post(f"{self.url}shot/{second.shot.pk}/again/")
        twins = [
            slot for slot in days.schedule(self.outing).slots if slot.shot.subject == "net loft"
        ]
        self.assertEqual(twins[1].begins, twins[0].ends)

    def test_the_day_goes_on_from_what_was_made_and_a_bracket_is_one_shot(self):
        self.add(sheets="bracket", bracket_stops="1")
        shot = Shot.objects.get()
        at = datetime(2026, 11, 24, 9, 5, tzinfo=UTC)
        made = self.expose(shot, at, 3, 13.0)
        with clock.at(at + timedelta(minutes=9)):
            page = self.client.get(self.url)
            self.assertContains(page, f'hx-get="/plan/again/{made.pk}/"')
            # Once more is all three of it, and each paper has times of its own.
            Paper.objects.create(name="fast film", kind="film", box_ei=100.0)
            ways = self.client.get(f"/plan/again/{made.pk}/").context["ways"]
            self.assertEqual(ways[0][0], "Same again")
            times = [times.split(", ") for _, times, _ in ways]
            self.assertEqual([len(row) for row in times], [3] * len(ways))
            self.assertEqual(len({tuple(row) for row in times}), len(ways))
            plan = self.client.get(f"/plan/?{ways[0][2]}").context["page"]
            self.assertEqual([durations.say(s.seconds) for s in plan.plan.sheets], times[0])

    def expose(self, shot, at, minutes, ev, letter="A"):
        """Opened at its plan's reading, shut so many minutes later."""
        plan = planned(self.camera, self.paper, kind="ev", ev=ev, ev_iso=100.0)
        with clock.at(at):
            logbook.load(self.paper, self.holder, letter)
        given = {"camera": self.camera, "paper": self.paper, "subject": "kiln"}
        given |= {"developer": None, "note": "", "again": False}
        with clock.at(at):
            side = queries.sides()["AB".index(letter)]
            opened = flows.open_shot(given, plan, side, shot)
        with clock.at(at + timedelta(minutes=minutes)):
            logbook.close_hole(opened)
        return opened

    def test_the_day_is_laid_anew_from_what_happened(self):
        self.add(time="9:00")
        self.add(subject="net loft", time="10:00")
        self.add(subject="jetty", time="13:30")
        kiln, loft, jetty = (slot.shot for slot in days.schedule(self.outing).slots)
        planned_s = {slot.shot: slot.seconds[0] for slot in days.schedule(self.outing).slots}
        # An hour and a half late, and the light two stops under what a November haze is thought
        # to throw on a front: the sun stands at some 11 degrees then.
        at = datetime(2026, 11, 24, 9, 40, tzinfo=UTC)
        daylight = days.schedule(self.outing).daylight
        expected = float(
            np.interp((at - daylight.start).total_seconds(), daylight.times_s, daylight.before(0.0))
        )
        self.expose(kiln, at, 7, round(expected - 2, 2))
        now = datetime(2026, 11, 24, 10, 0, tzinfo=UTC)
        with clock.at(now):
            day = days.schedule(self.outing)
            self.assertEqual(
                [(slot.shot, slot.made) for slot in day.slots],
                [(kiln, True), (loft, False), (jetty, False)],
            )
            made, second, third = day.slots
            self.assertEqual((made.opens, made.seconds), (at, (420.0,)))
            # What was missed begins now, what is planned later keeps its hour.
            self.assertEqual((second.begins, f"{third.begins:%H:%M}"), (now, "13:30"))
            self.assertAlmostEqual(day.anchor.stops_more, -2, delta=0.02)
            ratio = second.seconds[0] / planned_s[loft]
            # Four times, less the low sun's colour that is not there behind such cloud.
            self.assertTrue(2.3 < ratio < 6, ratio)
            self.assertGreater(second.latest, now)
            page = self.client.get(self.url)
            self.assertContains(page, "stands on the reading of 10:40, 2 stops darker")
            self.assertContains(page, "1 made, 2 shots to come")
            self.client.post(f"{self.url}shot/{kiln.pk}/again/")
            twin = days.schedule(self.outing).to_come[0]
            self.assertEqual((twin.shot.subject, twin.begins), ("kiln", now))
        with clock.at(now + timedelta(days=1)):
            over = days.schedule(self.outing)
            self.assertEqual(over.finding, "1 of 4 shots were made")
            self.assertEqual({slot.wrong for slot in over.to_come}, {"it was not made"})
        # Shot on the day after: no block on this day, and not to be done any more.
        self.expose(loft, now + timedelta(days=1), 5, 12, "B")
        self.assertEqual(days.schedule(self.outing).elsewhere, (loft,))

    def test_a_pair_stays_together_and_the_bag_is_counted(self):
        film = Paper.objects.create(name="film", kind="film", box_ei=100)
        wedge = Camera.objects.create(
            **{
                field.name: getattr(self.camera, field.name)
                for field in Camera._meta.fields
                if field.name not in ("id", "name")
            },
            name="Wedge",
        )
        self.add(pair_camera=wedge.pk, pair_paper=film.pk)
        main, pair = days.schedule(self.outing).slots
        self.assertEqual((pair.shot.beside, pair.opens), (main.shot, main.opens))
        self.assertGreater(main.ends, pair.ends)
        missing = days.schedule(self.outing).missing
        self.assertEqual(
            [(str(paper), count) for paper, _, count in missing], [("grade-2 RC", 1), ("film", 1)]
        )
        logbook.load(self.paper, self.holder, "A")
        self.assertEqual(len(days.schedule(self.outing).missing), 1)
        opened = flows.open_shot(
            {
                "camera": self.camera,
                "paper": self.paper,
                "subject": "kiln",
                "developer": None,
                "note": "",
                "again": False,
            },
            planned(self.camera, self.paper),
            queries.sides()[0],
            main.shot,
        )
        self.assertContains(self.client.get(f"/plan/beside/{opened.pk}/"), "its pair")
        # One scene is metered once: the pair begins with the reading of the sheet it stands beside.
        main.shot.reading = {"kind": "seconds", "seconds": "7"}
        main.shot.save()
        self.assertEqual(
            self.client.get(f"/plan/{pair.shot.pk}/").context["page"].typed["seconds"], "7"
        )
        self.assertContains(
            self.add(pair_camera=wedge.pk), "needs both its camera and its paper", status_code=422
        )

    def test_papers_that_are_taken_along(self):
        Meter.objects.create(name="meter")
        self.add()
        self.assertContains(
            self.client.get(f"{self.url}packing/"), "1 × grade-2 RC, 4x5 in: 0 loaded, load 1 more"
        )
        self.assertContains(self.client.get(f"{self.url}notebook/"), "opened at")
        book = Calendar.from_ical(self.client.get(f"{self.url}outing.ics").content)
        (event,) = book.walk("VEVENT")
        slot = days.schedule(self.outing).slots[0]
        self.assertEqual(
            event.decoded("dtstart"), slot.begins.astimezone(UTC).replace(microsecond=0)
        )
        self.assertIn("kiln: Plank", str(event["summary"]))

    def test_days_without_light_and_shots_without_end_are_told(self):
        north = place_flows.keep(
            Place(name="Fjord", latitude_deg=78.2, longitude_deg=15.6, zone="Arctic/Longyearbyen")
        )
        self.outing.place, self.outing.day = north, date(2026, 12, 21)
        self.outing.save()
        self.add()
        page = self.client.get(self.url)
        self.assertContains(page, "the sun stays down all day")
        self.assertContains(page, "Does not fit")

    def test_bad_input_is_told_beside_its_field(self):
        for more, words in (
            ({"time": "25:99"}, "valid time"),
            ({"set_up_s": "9h"}, "at most 6 h"),
            ({"azimuth_deg": "NNNW"}, "must be a number"),
            ({"azimuth_deg": "400"}, "between 0 and 360"),
            ({"camera": "77"}, "valid choice"),
            ({"subject": ""}, "Name the subject"),
        ):
            self.assertContains(self.add(**more), words, status_code=422)
        self.assertFalse(Shot.objects.exists())
        new = {
            "name": "x",
            "place": self.place.pk,
            "day": "2026-11-25",
            "sky": "haze",
            "wind": "still",
        }
        for more, words in (
            ({"day": "May"}, "valid date"),
            ({"day": "2200-01-01"}, "1901 to 2099"),
            ({"sky": "green"}, "valid choice"),
        ):
            self.assertContains(
                self.client.post("/plan/outings/new/", new | more), words, status_code=422
            )
        self.assertEqual(self.client.post("/plan/outings/new/", new).status_code, 302)
        self.assertEqual(self.client.post(f"{self.url}drop/").status_code, 302)
        Outing.everything.all().delete()
        Place.objects.all().delete()
        self.assertContains(self.client.get("/plan/outings/new/"), "needs a place", status_code=409)


class Places(TestCase):
    def test_places_are_found_offline_by_name_and_typed_as_on_maps(self):
        found = self.client.get(
            "/plan/places/new/", {"find": "malmo"}, headers={"HX-Request": "true"}
        )
        self.assertContains(found, "Malmö")
        self.assertContains(found, "Europe/Stockholm")
        self.assertEqual([one.name for one in files.find("Christchurch")][:1], ["Christchurch"])
        self.assertContains(
            self.client.get("/plan/places/new/", {"find": "qqqq"}), "No town of that name"
        )
        # At sea the zone is that of the longitude.
        self.assertEqual(files.zone_at(-43.95, 171.6), "Pacific/Auckland")
        self.client.post(
            "/plan/places/new/",
            {"name": "Rauholm", "latitude_deg": "57 06 N", "longitude_deg": "19.6 E"},
        )
        place = Place.objects.get()
        self.assertAlmostEqual(place.latitude_deg, 57.1)
        self.assertTrue(place.home)
        self.client.post(
            "/plan/places/new/",
            {
                "name": "Corrie Flat",
                "latitude_deg": "43.95 S",
                "longitude_deg": "171.6",
                "home": "on",
            },
        )
        self.assertEqual([p.name for p in Place.objects.filter(home=True)], ["Corrie Flat"])
        for more, words in (
            ({"latitude_deg": "91"}, "between -90 and 90"),
            ({"longitude_deg": "east"}, "must be a number"),
            ({"zone": "Mars/Base"}, "no IANA time zone"),
            ({"name": "rauholm"}, "already a place"),
        ):
            data = {"name": "x", "latitude_deg": "1", "longitude_deg": "1"} | more
            self.assertContains(self.client.post("/plan/places/new/", data), words, status_code=422)
        for asked in ("2026-06-21", "9999-99-99", "x", "0001-01-01"):
            self.assertEqual(
                self.client.get(f"/plan/places/{place.pk}/", {"day": asked}).status_code, 200
            )

    def test_a_day_is_the_places_own(self):
        # Half of all rises fall on another UTC date; Auckland's 24 November begins at 11:00 UTC the
        # day before.
        place = Place(
            name="Corrie Flat", latitude_deg=-43.95, longitude_deg=171.6, zone="Pacific/Auckland"
        )
        start, end = places.bounds(place, date(2026, 11, 24))
        self.assertEqual((start.astimezone(UTC).day, (end - start).total_seconds()), (23, 86_400))
        found = places.sun_day(place, date(2026, 11, 24))
        self.assertEqual(
            (found.rise.date(), found.set.date()), (date(2026, 11, 24), date(2026, 11, 24))
        )
        self.assertTrue(found.rise < found.noon < found.set)
        # Where the clocks change the day has 25 hours.
        home = Place(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm")
        start, end = places.bounds(home, date(2026, 10, 25))
        self.assertEqual((end.astimezone(UTC) - start.astimezone(UTC)).total_seconds(), 25 * 3600)

    def test_a_view_keeps_a_dated_note_on_access(self):
        place = rauholm()
        data = {
            "subject": "hedge",
            "azimuth_deg": "SSE",
            "when": "snow",
            "access": "along the edge",
        }
        self.client.post(f"/plan/places/{place.pk}/view/", data)
        view = View.objects.get()
        self.assertEqual((view.azimuth_deg, view.access_on), (157.5, places.today(place)))
        self.assertContains(self.client.get(f"/plan/places/{place.pk}/"), "along the edge")
        self.client.post(f"/plan/places/view/{view.pk}/", {"drop": "1"})
        self.assertFalse(View.objects.exists())


class Pocket(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        Meter.objects.create(name="meter", lowest_iso=6, last_f_number=128)
        self.outing = Outing.objects.create(
            name="Kilns", place=rauholm(), day=date(2026, 6, 1), made_at=NOON
        )
        self.shot = Shot.objects.create(
            outing=self.outing, subject="kiln", camera=self.camera, paper=self.paper, kept_at=NOON
        )
        with later(-600):
            self.loading = logbook.load(self.paper, self.holder, "A")
        self.url = f"/plan/outings/{self.outing.pk}/pocket/"

    def back(self, **more):
        at = int(NOON.timestamp() * 1000)
        event = pocket_event(self.shot, self.holder, NOON, 15)
        event |= {"covers": [[at + 5_000, at + 9_000]], "note": "a gull", "turned": True}
        return {
            "chimney": "pocket",
            "version": 1,
            "token": pocket.packed(self.outing)["token"],
            "events": [event | more],
        }

    def test_its_tables_are_the_cores(self):
        found = self.client.get(f"/plan/outings/{self.outing.pk}/pocket.html")
        self.assertLess(len(found.content), 400_000)
        self.assertNotRegex(found.content.decode(), r'(src|href)="')
        (shot,) = pocket.packed(self.outing)["shots"]
        for table, read in (
            ("ev", lambda n: exposure.read_ev(pocket.EVS[n], 100, "")),
            ("s0", lambda n: exposure.Reading("seconds", "", pocket.SECONDS[n], 128, 6)),
        ):
            for n, (_, _, times, _) in enumerate(shot["tables"][table]):
                done = exposure.calculate(
                    read(n),
                    exposure.Specification(f_number=300, ei=6, school=self.paper.schools["none"]),
                )
                if done.exact_s > exposure.LONGEST_S:
                    self.assertEqual(times, [])
                else:
                    self.assertEqual(times[0][0], done.seconds)
                    self.assertAlmostEqual(times[0][1], done.exact_s, delta=0.006)

    def test_what_comes_back_is_shown_and_then_written_once(self):
        text = json.dumps(self.back())
        with later(3600):
            self.assertContains(self.client.post(self.url, {"text": text}), "S-001 becomes exposed")
            self.assertEqual(Exposure.objects.count(), 0)
            for _ in range(2):
                self.client.post(self.url, {"text": text, "take": "1"})
            self.assertContains(self.client.post(self.url, {"text": text}), "Known already")
        exposure = Exposure.objects.get()
        self.assertEqual((exposure.given_s, exposure.note, exposure.planned_s), (11, "a gull", 11))
        self.assertEqual((Sheet.objects.get().stage, Pocketed.objects.count()), ("exposed", 1))
        self.assertIsNotNone(exposure.slide_back_at)
        self.assertTrue(Shot.objects.get().done)

    def test_a_second_reading_in_the_pocket_counts(self):
        at = int(NOON.timestamp() * 1000)
        again = {"at": at + 6_000, "kind": "seconds", "value": 4.0, "meter_f": 128, "meter_iso": 6}
        with later(3600):
            coming = pocket_files.unpack(
                self.outing, json.dumps(self.back(covers=[], rereads=[again]))
            )
            pocket_flows.take_in(self.outing, coming)
        self.assertLess(Exposure.objects.get().effective_s, 15)

    def test_what_is_not_ours_or_in_the_way_is_told(self):
        other = Outing.objects.create(
            name="Other", place=self.outing.place, day=date(2026, 6, 2), made_at=NOON
        )
        whole = self.back()
        future = int((NOON + timedelta(days=9)).timestamp() * 1000)
        for text, words in (
            ("hello", "not JSON"),
            ("[]", "not what a pocket sheet gives back"),
            (json.dumps(whole | {"token": "x:y:z"}), "seal is not this installation"),
            (
                json.dumps(whole | {"token": pocket.packed(other)["token"]}),
                "belongs to another outing",
            ),
            (json.dumps(whole | {"events": 7}), "no list of at most"),
            (json.dumps(whole | {"events": [7]}), "not written as a pocket sheet"),
            (json.dumps(self.back(opened="soon")), "changed by hand"),
            (json.dumps(self.back(id="1")), "changed by hand"),
            (json.dumps(self.back(value=-3)), "changed by hand"),
            (json.dumps(self.back(opened=1e300)), "changed by hand"),
            (json.dumps(self.back(covers=[[1]])), "changed by hand"),
            (json.dumps(self.back(rereads=7)), "changed by hand"),
            ("[" * 100_000, "not JSON"),
            ("", "Choose the file"),
        ):
            with self.subTest(words, text=text[:60]):
                self.assertContains(
                    self.client.post(self.url, {"text": text}), words, status_code=422
                )
        for more, words in (
            ({"shot": 99}, "no longer on this outing"),
            ({"shot": [1]}, "no longer on this outing"),
            ({"rereads": [{"at": 5, "kind": "ev", "value": 12}]}, "out of order"),
            ({"side": "9Z"}, "not in the bag"),
            ({"code": "S-009"}, "does not hold S-009"),
            ({"closed": future - 10**7, "opened": future}, "out of order"),
            ({"opened": future, "closed": future + 1000, "covers": []}, "in the future"),
        ):
            with later(3600):
                self.assertContains(
                    self.client.post(self.url, {"text": json.dumps(self.back(**more))}), words
                )
                self.client.post(self.url, {"text": json.dumps(self.back(**more)), "take": "1"})
        self.assertFalse(Exposure.objects.exists())

    def test_an_empty_day_packs_nothing_and_trips_start_somewhere(self):
        Shot.objects.all().delete()
        self.assertEqual(pocket.packed(self.outing)["shots"], [])
        self.assertEqual(
            trips.usual_shot(self.outing, days.schedule(self.outing))["camera"], self.camera.pk
        )


class Door(TestCase):
    def test_this_machine_comes_in_and_others_need_the_passphrase(self):
        phone = {"REMOTE_ADDR": "192.168.1.20", "HTTP_HOST": "phone.test"}
        for near, host in (
            ("127.0.0.1", "localhost"),
            ("127.0.0.1", "127.0.0.1:8000"),
            ("::1", "[::1]"),
            ("::1", "[::1]:80"),
        ):
            self.assertEqual(
                self.client.get("/", REMOTE_ADDR=near, HTTP_HOST=host).status_code, 200, host
            )
        with override_settings(ALLOWED_HOSTS=["*"]):
            self.assertEqual(self.client.get("/", **phone).status_code, 403)
            with override_settings(SERVE=True):
                self.assertRedirects(
                    self.client.get("/", **phone), "/door/", fetch_redirect_response=False
                )
                # Another name for this machine may be somebody else's page asking through its
                # browser.
                rebound = {"REMOTE_ADDR": "127.0.0.1", "HTTP_HOST": "evil.test"}
                self.assertEqual(self.client.get("/", **rebound).status_code, 302)
                self.knock(phone)

    def knock(self, phone):
        with self.assertRaises(ValidationError):
            door.set_passphrase("short")
        with self.assertRaises(CommandError):
            call_command("passphrase")
        with override_settings(PASSWORD_HASHERS=HASHERS):
            door.set_passphrase("kiln mouth in the rain")
        kept = get_user_model().objects.get(username=door.PHOTOGRAPHER).password
        self.assertTrue(kept.startswith("pbkdf2_sha256$"), kept[:20])
        door.set_passphrase("kiln mouth in the rain")
        call_command("passphrase", "--if-none")
        wrong = self.client.post("/door/", {"passphrase": "guess"}, **phone)
        self.assertContains(wrong, "That is not the passphrase", status_code=422)
        self.assertEqual(
            self.client.post(
                "/door/", {"passphrase": "kiln mouth in the rain"}, **phone
            ).status_code,
            302,
        )
        self.assertEqual(self.client.get("/", **phone).status_code, 200)
        self.client.logout()
        for _ in range(6):
            last = self.client.post("/door/", {"passphrase": "guess"}, **phone)
        self.assertContains(last, "stays shut", status_code=429)
        shut = self.client.post("/door/", {"passphrase": "kiln mouth in the rain"}, **phone)
        self.assertEqual(shut.status_code, 429)
