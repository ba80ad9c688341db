"""Runs, baths and prints: what taps add up to in the log, whoever makes them, and what no room may
do.
"""

import re
from datetime import timedelta
from html import escape
from io import BytesIO
from types import SimpleNamespace

from django.test import TestCase
from pypdf import PdfReader

from chimney.darkroom import craft, flows, page, queries, wording
from chimney.darkroom.catalogue.processes import BY_KEY
from chimney.darkroom.models import (
    Bath,
    Development,
    LaneTap,
    LightTest,
    OwnProcess,
    Print,
    Run,
    SafeLight,
    Vessel,
)
from chimney.darkroom.procedure import flows as procedure
from chimney.darkroom.room import flows as room
from chimney.darkroom.running.page import Bench
from chimney.hearth import invariants
from chimney.kit.models import Holder, Paper, Person
from chimney.logbook import flows as logbook
from chimney.logbook.flows import corrections
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from pinhole import chemistry, developing
from pinhole.developing import Step
from tests.chimney.kitchen import kit, opened
from tests.runner import MORNING

RC, CAMERA = BY_KEY["rc-trays"], BY_KEY["reversal-camera"]


class Dark(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.now = MORNING

    def exposed(self, count=1, paper=None):
        sheets = []
        for _ in range(count):
            exposure = opened(self.camera, paper or self.paper, self.holder)
            logbook.close_hole(exposure)
            logbook.unload(exposure.loading)
            sheets.append(exposure.sheet)
        return sheets

    def begin(self, sheets, process=RC, **kept):
        kept = {"together": False} | kept
        with clock.at(self.now):
            return flows.begin(sheets, process, self.developer, **kept)

    def tap(self, run, after_s, lane, moves, word="next"):
        self.now += timedelta(seconds=after_s)
        with clock.at(self.now):
            flows.tap(run, lane, moves, word)

    def refused(self, words, call, *args, **kwargs):
        before = LaneTap.objects.count()
        with self.assertRaisesRegex(Refused, words):
            call(*args, **kwargs)
        self.assertEqual(LaneTap.objects.count(), before)

    def bench(self, run):
        return Bench.of(queries.whole(Run.objects).get(pk=run.pk), self.now)

    def tearDown(self):
        self.assertEqual(list(invariants.broken()), [])


class Runs(Dark):
    def test_four_sheets_one_after_the_other_to_the_second(self):
        sheets = self.exposed(4)
        run = self.begin(sheets)
        given = {0: 65, 1: 71, 2: 80, 3: 62}
        self.tap(run, 30, 0, 0)
        for lane, seconds in given.items():
            if lane:
                self.tap(run, 4, lane, 0)
            self.tap(run, seconds, lane, 1)
        for lane, seconds in given.items():
            kept = Development.objects.get(run=run, lane=lane)
            self.assertEqual((kept.seconds, kept.developed_at), (seconds, None))
        first = LaneTap.objects.filter(lane=0).values_list("at", flat=True)
        self.assertEqual([(at - MORNING).total_seconds() for at in first], [30, 95])

    def test_a_slip_that_is_noticed_in_the_developer_contradicts_nothing(self):
        for slip in ("slide_in", "slide_out"):
            with self.subTest(slip):
                (sheet,) = self.exposed()
                self.begin([sheet])
                corrections.log_slip(sheet.exposures.get(), slip)
                self.assertEqual(Sheet.objects.get(pk=sheet.pk).stage, "developing")
                self.assertEqual(list(invariants.broken()), [])

    def test_a_run_of_one_sheet_from_the_packet_to_the_eye(self):
        (sheet,) = self.exposed()
        run = self.begin([sheet])
        self.assertEqual(Sheet.objects.get(pk=sheet.pk).stage, "developing")
        for moves, seconds in enumerate((40, 75, 15, 120, 180, 300)):
            self.tap(run, seconds, 0, moves)
            self.assertIsNone(Development.objects.get().developed_at)
        self.assertTrue(self.bench(run).goes_on_alone)
        self.tap(run, 7200, 0, 6)
        kept = Development.objects.get()
        self.assertEqual((kept.seconds, kept.developed_at), (75, self.now))
        self.assertEqual(Sheet.objects.get(pk=sheet.pk).stage, "developed")
        flows.undo(run, 0, 7)
        self.assertEqual(Sheet.objects.get(pk=sheet.pk).stage, "developing")
        self.tap(run, 1, 0, 6)
        flows.take_back(Development.objects.get())
        self.assertEqual((Sheet.objects.get().stage, Run.objects.count()), ("exposed", 0))

    def test_two_devices_drive_one_run(self):
        run = self.begin(self.exposed(2))
        self.tap(run, 30, 0, 0)
        self.refused(r"ended already at \d\d:\d\d:\d\d", flows.tap, run, 0, 0, "next")
        # A tap that was made earlier, and comes later, counts from when it was made.
        self.now += timedelta(seconds=100)
        with clock.at(self.now - timedelta(seconds=35)):
            flows.tap(run, 0, 1, "next")
        self.assertEqual(Development.objects.get(lane=0).seconds, 65)
        # But from a clock that is behind, never from before what is in the log.
        with clock.at(self.now - timedelta(hours=3)):
            flows.tap(run, 0, 2, "next")
        taps = list(LaneTap.objects.values_list("at", flat=True))
        self.assertEqual(taps, sorted(taps))
        self.refused("no such sheet", flows.tap, run, 9, 0, "next")

    def test_white_light_waits_for_the_last_fixer_and_shuts_the_way_back(self):
        sheets = self.exposed(2)
        run = self.begin(sheets)
        for moves, seconds in enumerate((30, 60, 15)):
            self.tap(run, seconds, 0, moves)
        self.refused(f"{sheets[1]} would be fogged", flows.white, run)
        self.assertTrue(self.bench(run).is_dark)
        self.assertIn("Red light only", self.bench(run).light)
        # Back for more, from the fixer: both stays count.
        self.tap(run, 5, 0, 3, "back")
        self.tap(run, 25, 0, 4)
        self.assertEqual(Development.objects.get(lane=0).seconds, 85)
        for moves in (5, 6):
            self.tap(run, 120, 0, moves)
        for moves in range(4):
            self.tap(run, 60, 1, moves)
        self.assertTrue(self.bench(run).white_allowed)
        flows.white(run)
        self.assertFalse(self.bench(run).is_dark)
        self.refused("fogged by now", flows.tap, run, 1, 4, "back")
        # The last fixing was tapped too early: that was no white light yet.
        flows.undo(run, 1, 4)
        self.assertTrue(self.bench(run).is_dark)

    def test_a_sheet_that_is_given_up_is_passed_and_comes_back_as_far_as_the_others(self):
        first, second = self.exposed(2)
        run = self.begin([first, second], together=True)
        corrections.give_up(first, "spoiled")
        self.assertNotIn(str(first), self.bench(run).card.codes)
        for moves in range(7):
            self.tap(run, 100, 0, moves)
        corrections.restore(first)
        self.assertEqual(set(Sheet.objects.values_list("stage", flat=True)), {"developed"})

    def test_a_sheet_given_up_while_it_waits_lets_the_next_one_go_in(self):
        first, second, third = self.exposed(3)
        run = self.begin([first, second, third])
        self.tap(run, 30, 0, 0)
        corrections.give_up(second, "lost")
        cards = {str(card.sheets[0]): card for card in self.bench(run).cards}
        self.assertFalse(cards[str(third)].may_go)
        self.tap(run, 60, 0, 1)
        self.assertEqual(self.bench(run).card.codes, str(third))
        self.assertEqual(self.bench(run).card.head, "goes in now")

    def test_a_run_called_off_lays_everything_back(self):
        exposure = opened(self.camera, self.paper, self.holder)
        logbook.close_hole(exposure)
        run = self.begin([exposure.sheet])
        self.assertIsNotNone(exposure.sheet.loadings.get().unloaded_at)
        self.tap(run, 30, 0, 0)
        flows.call_off(run)
        self.assertIsNone(exposure.sheet.loadings.get().unloaded_at)
        self.assertEqual((Sheet.objects.get().stage, Run.objects.count()), ("exposed", 0))

    def test_a_reversal_in_the_camera_is_locked_ticked_bleached_again_and_rinsed(self):
        paper = Paper.objects.create(name="RC for reversal", kind="reversal", box_ei=0.8)
        (sheet,) = self.exposed(paper=paper)
        Holder.objects.create(name="own", size="4x5 in", camera=self.camera)
        own = Holder.objects.get(name="own")
        run = self.begin([sheet], CAMERA)
        words = []
        for moves in range(4):
            words.append(self.bench(run).card.head)
            self.tap(run, 20, 0, moves)
        self.assertEqual(words, ["Slide shut", "Pinhole plate off", "Filler on", "Slide open"])
        for moves, seconds in enumerate((70, 40, 30, 60), 4):
            self.tap(run, seconds, 0, moves)
        self.assertEqual(self.bench(run).card.again, "Peroxide bleach again")
        self.tap(run, 25, 0, 8, "again")
        self.assertEqual(self.bench(run).card.head, "Peroxide bleach, second time")
        self.tap(run, 55, 0, 9)
        self.refused("not rinsed yet", logbook.load, self.paper, own, "A")
        bench = self.bench(run)
        bleached = [v.lasted_s(0) for v in bench.card.lane.visits if v.step == 7]
        self.assertEqual(bleached, [60, 55])
        heads = []
        for moves in range(10, 16):
            heads.append(self.bench(run).card.head)
            # Once the filler is in, nothing asks for darkness or a red lamp any more.
            self.assertNotRegex(self.bench(run).light, "darkness|Red light")
            self.tap(run, 60, 0, moves)
        out, light = heads.index("Sheet out of the camera"), heads.index("White light")
        self.assertEqual(out + 1, light)
        self.assertEqual(self.bench(run).card.head, "Rinse the camera")
        self.refused("not rinsed yet", logbook.load, self.paper, own, "A")
        self.tap(run, 60, 0, 16)
        logbook.unload(logbook.load(self.paper, own, "A"))
        flows.undo(run, 0, 17)
        self.refused("not rinsed yet", logbook.load, self.paper, own, "A")
        self.tap(run, 60, 0, 16)
        self.assertEqual(Development.objects.get().seconds, 70)

    def test_a_developer_that_is_half_used_up_takes_longer_and_a_tired_one_says_so(self):
        with clock.at(self.now):
            bath = room.mix(
                Bath(
                    name="bath 12",
                    developer=self.developer,
                    parts=10,
                    volume_ml=1000,
                    capacity_m2=0.05,
                    lasts_days=10,
                )
            )
            sheets = self.exposed(3)
            self.begin(sheets, baths=[bath])
        (state,) = queries.baths(self.now)
        # Three 4x5 in sheets are 0.0387 m2 of 0.05: by hand 77 %, and so 27 % longer.
        self.assertAlmostEqual(state.used, 0.774, places=3)
        self.assertAlmostEqual(state.longer, 1.274, places=3)
        self.assertIn("27 % longer", state.words)
        (late,) = queries.baths(self.now + timedelta(days=11))
        self.assertTrue(late.is_tired and "by its age" in late.words)
        room.top_up(bath, 50)
        self.assertAlmostEqual(Bath.objects.get().parts, 1050 / (1000 / 11 + 50) - 1)
        room.pour_back(bath)
        self.assertEqual((Bath.objects.get().parts, Bath.objects.get().volume_ml), (10, 1000))
        room.throw_away(bath)
        self.refused("was thrown away", self.begin, self.exposed(), baths=[bath])
        self.refused("was thrown away", room.top_up, bath, 5)

    def test_a_bath_is_worn_by_what_wears_it_more_and_is_tired_at_its_end(self):
        bath = Bath(capacity_m2=0.1, lasts_days=10, purpose="develop", mixed_at=self.now)
        sheet = Sheet(size="4x5 in", paper=self.paper)
        # Days old, 4x5 in sheets of 0.0129 m2: what wears it, whether it is tired.
        for days, sheets, by_age, tired in (
            (1, 0, True, False),
            (1, 4, False, False),
            (9, 4, True, False),
            (10, 0, True, True),
            (0, 8, False, True),
            (9.9, 7, True, False),
        ):
            state = craft.bath_state(
                bath, [(1, sheet.size)] * sheets, self.now + timedelta(days=days)
            )
            self.assertEqual((state.by_age, state.is_tired), (by_age, tired), (days, sheets))
            self.assertGreaterEqual(
                state.used + 1e-9, max(days / 10, sheets * 0.0129 / 0.1) - 0.001
            )
        longer = [
            craft.bath_state(bath, [], self.now + timedelta(days=days)).longer for days in range(13)
        ]
        self.assertEqual(longer, sorted(longer))
        self.assertEqual((longer[0], longer[11]), (1.0, longer[10]))

    def test_the_most_sensitive_paper_says_how_long_a_lamp_is_safe(self):
        other, untested = (
            Paper.objects.create(name=name, kind="negative", box_ei=6) for name in ("fast", "new")
        )
        lamp = SafeLight.objects.create(name="red lamp")
        for paper, safe_s, days in ((self.paper, 480, 0), (other, 120, 0), (self.paper, 240, 1)):
            # The coin shows first at twice the time that was safe.
            test = {"distance_mm": 1200, "times_s": [60, 120, 240, 480, 960]}
            test["shows_s"] = 2 * safe_s
            moment = self.now + timedelta(days=days)
            LightTest.objects.create(light=lamp, paper=paper, tested_at=moment, **test)
        sheets = {p.pk: Sheet(paper=p) for p in (self.paper, other, untested)}
        for papers, safe_s in (
            ([self.paper], 240),
            ([other], 120),
            ([self.paper, other], 120),
            ([other, self.paper], 120),
            ([self.paper, untested], None),
            ([], None),
        ):
            found = page.safe_s(lamp, [sheets[paper.pk] for paper in papers])
            self.assertEqual(found, safe_s, papers)
        self.assertIsNone(page.safe_s(None, [sheets[other.pk]]))


class ByHand(Dark):
    """What one can work out on paper of a step, a bath, a vessel and a room."""

    def test_longer_is_a_quarter_in_steps_of_five_seconds_and_a_tired_bath_stretches(self):
        # A quarter of 60, of 100 and of 300 s; never under 15 s.
        for most_s, longer_s in ((20, 15), (60, 15), (100, 25), (300, 75)):
            self.assertEqual(craft.longer_s(Step("Fixer", "fix", 10, most_s)), longer_s)
        steps = (Step("Developer", "develop", 60, 90), Step("Fixer", "fix", 120, 120))
        grown = craft.with_longer(steps, 1.5)
        self.assertEqual([(s.least_s, s.most_s) for s in grown], [(90, 135), (120, 120)])
        self.assertEqual(craft.with_longer(steps, 1.01), steps)

    def test_half_a_life_is_fifty_percent(self):
        bath = Bath(capacity_m2=0.1, lasts_days=10, purpose="develop", mixed_at=self.now)
        state = craft.bath_state(bath, [], self.now + timedelta(days=5))
        self.assertEqual(state.used_percent, 50)
        self.assertIn("50 % used by its age", state.words)

    def test_what_covers_sheets_depends_on_the_vessel(self):
        sheets = [Sheet(size="4x5 in", paper=self.paper)] * 2
        tray = Vessel(kind="tray", width_mm=200, height_mm=250)
        tank = Vessel(kind="tank", diameter_mm=100)
        drum, can = Vessel(kind="drum"), Vessel(kind="camera")
        amounts = [craft.least_ml(vessel, sheets) for vessel in (tray, tank, drum, can)]
        # 5 x 5 in of tray under a finger's breadth; a cylinder as high as the short side; a film.
        expected = chemistry.tray_ml(200, 250), chemistry.tank_ml(100, 101.6)
        self.assertEqual(amounts[:2], [*expected])
        self.assertAlmostEqual(amounts[2], chemistry.drum_ml(101.6 * 127, 2)[0])
        self.assertIsNone(amounts[3])
        self.assertIsNone(craft.least_ml(tray, []))

    def test_a_run_has_a_lane_before_anything_lies_in_it(self):
        nothing = SimpleNamespace(all=list)
        run = SimpleNamespace(taps=nothing, developments=nothing, clock_began_s=0.0)
        run.steps = (Step("Developer", "develop", 60, 90),)
        self.assertEqual(len(craft.lanes_of(run)), 1)

    def test_a_room_is_as_it_was_but_for_what_is_tired(self):
        more = {"capacity_m2": 1.0, "lasts_days": 10, "mixed_at": self.now, "volume_ml": 500}
        good, next_one, tired, other = (
            Bath.objects.create(name=name, purpose=purpose, developer=developer, **more)
            for name, purpose, developer in (
                ("fix", "fix", None),
                ("stop", "stop", None),
                ("old fix", "fix", None),
                ("dev", "develop", self.developer),
            )
        )
        tray = Vessel.objects.create(name="tray", holds=4)
        lamp = SafeLight.objects.create(name="red lamp")
        run = self.begin(self.exposed(), baths=[tired, good], vessel=tray, light=lamp)
        # One that was written down afterwards says nothing of the room.
        written = self.exposed()
        flows.develop(written, self.developer, parts=9, seconds=90, process=RC)
        later = self.now + timedelta(days=1)
        last = queries.last_runs(RC, written)
        newest = written[0].development.run_id
        self.assertEqual([found.pk for found in last], [newest, newest, run.pk])
        through = [(run.pk, "4x5 in")]
        states = [craft.bath_state(bath, [], later) for bath in (next_one, other)]
        states.append(craft.bath_state(good, through, later))
        states.append(craft.bath_state(tired, through, self.now + timedelta(days=11)))
        usual = page._usual_room(RC, states, self.developer, run)
        self.assertEqual(set(usual["baths"]), {good.pk, next_one.pk, other.pk})
        self.assertEqual((usual["vessel"], usual["light"]), (tray.pk, lamp.pk))
        # Two for one step: that of last time, and no second beside it.
        twice = [*states[:3], craft.bath_state(tired, through, later)]
        self.assertEqual(len(page._usual_room(RC, twice, self.developer, run)["baths"]), 4)


class Pages(Dark):
    def post(self, url, data, status):
        answer = self.client.post(url, data)
        self.assertEqual(answer.status_code, status, answer.content.decode()[:2000])
        return answer

    def form(self, sheets, **more):
        data = {"sheets": [sheet.pk for sheet in sheets], "process": "rc-trays", "order": "one"}
        return data | {"developer": self.developer.pk, "begin": "1"} | more

    def test_from_the_hearth_to_the_first_step_in_three_taps(self):
        (sheet,) = self.exposed()
        self.assertContains(self.client.get("/"), 'href="/develop/"')
        page = self.client.get("/develop/")
        self.assertContains(page, f'value="{sheet.pk}" checked')
        answer = self.post("/develop/", self.form([sheet]), 302)
        run = self.client.get(answer["Location"])
        self.assertContains(run, "Developer now")
        self.assertEqual(run.client.cookies["dress"].value, "darkroom")
        self.assertContains(run, 'data-dress="darkroom"')
        tap = f"/develop/run/{Run.objects.get().pk}/0/0/next/"
        self.post(tap, {}, 302)
        self.assertContains(self.client.get(answer["Location"]), f"{sheet}: Developer")
        # Whoever sends it again, from a page that is old by now, is told.
        self.assertContains(self.client.post(tap, {}), "ended already", status_code=409)

    def test_what_a_run_cannot_be_is_told_beside_the_field_and_nothing_is_lost(self):
        film = Paper.objects.create(name="film", kind="film", base="film", sees="pan", box_ei=100)
        pearl = Paper.objects.create(name="pearl", kind="solargraph", box_ei=6)
        (sheet,) = self.exposed()
        (blind,) = self.exposed(paper=film)
        sun = Sheet.objects.create(code="Q-1", paper=pearl, size="5x7 in", cut_at=self.now)
        bath = room.mix(Bath(name="cup", purpose="fix", volume_ml=20, capacity_m2=1, lasts_days=9))
        gone = room.mix(Bath(name="old", purpose="fix", volume_ml=900, capacity_m2=1, lasts_days=9))
        room.throw_away(gone)
        tray = Vessel.objects.create(name="tray", kind="tray", width_mm=180, height_mm=240)
        drum = Vessel.objects.create(name="drum", kind="drum", holds=1, most_ml=15)
        for data, words in (
            (self.form([]), "Tick at least one sheet"),
            (self.form([sun]), "does not wait for the developer"),
            (self.form([blind]), "sees red"),
            (self.form([sheet], process="film-tank"), "is for other papers"),
            (self.form([sheet], process="nothing"), "dropped or retired"),
            (self.form([sheet], process=""), "Choose a process"),
            (self.form([sheet], parts="0"), "between 0.1 and 1000"),
            (self.form([sheet], temperature_c="-5"), "between 2 and 60"),
            (self.form([sheet], baths=[gone.pk]), "was thrown away"),
            (self.form([sheet], baths=[bath.pk], vessel=tray.pk), "346 ml cover the sheet"),
            (self.form([sheet], baths=[bath.pk], vessel=drum.pk), "takes 15 ml"),
            (self.form([sheet, blind], vessel=drum.pk, order="together"), "holds 1 at once"),
            ({"sheets": [sheet.pk], "developer": self.developer.pk, "log": "1"}, "How long was it"),
        ):
            with self.subTest(words):
                answer = self.post("/develop/", data | {"remarks": "mild soup"}, 422)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, "mild soup", status_code=422)
        self.assertFalse(Run.objects.exists())

    def test_what_a_bath_or_a_vessel_cannot_be_is_told(self):
        bath = {"name": "soup", "purpose": "develop", "developer": self.developer.pk}
        bath |= {"volume_ml": "500", "parts": "10"}
        for kind, typed, words in (
            ("bath", bath | {"parts": "0"}, "between 0.1 and 1000"),
            ("bath", bath | {"volume_ml": "-5"}, "between 1 and 100000 ml"),
            ("bath", bath | {"developer": ""}, "Which developer is it?"),
            ("bath", bath | {"lasts_days": "0"}, "between 0.01 and 3650"),
            ("vessel", {"name": "tank", "kind": "tank", "holds": "1"}, "How wide is it inside?"),
            ("vessel", {"name": "tank", "kind": "drum", "holds": "0"}, "between 1 and 50"),
            ("light", {"name": ""}, "required"),
        ):
            with self.subTest(words):
                answer = self.post(f"/develop/room/{kind}/new/", typed, 422)
                self.assertContains(answer, words, status_code=422)
        self.post("/develop/room/bath/new/", bath, 302)
        made = Bath.objects.get()
        # As usual for half a litre: a square metre, a day (common practice).
        self.assertEqual((made.capacity_m2, made.lasts_days), (1.0, 1.0))
        top_up = f"/develop/room/bath/{made.pk}/top-up/"
        self.assertContains(
            self.post(top_up, {"concentrate_ml": "-1"}, 422), "between 0.1", status_code=422
        )
        film = Paper.objects.create(name="film", kind="film", sees="pan", box_ei=100)
        self.post("/develop/room/light/new/", {"name": "torch"}, 302)
        test = {"paper": film.pk, "distance_mm": "900", "shows": "0"}
        answer = self.post("/develop/room/light/1/test/", test, 422)
        self.assertContains(answer, "no lamp is safe", status_code=422)

    def test_a_doubtful_pair_is_said_beforehand_with_how_sure_that_is(self):
        positive = Paper.objects.create(name="direct positive", kind="positive", box_ei=3)
        self.developer.name = "coffee"
        self.developer.save()
        self.exposed(paper=positive)
        # What nobody knows is not taken by alphabet: coffee is none for the process of positives.
        page = self.client.get("/develop/")
        self.assertContains(page, "which one?")
        self.assertIn('value="" selected', str(page.context["form"]["developer"]))
        page = self.client.get("/develop/?process=coffee-fix")
        self.assertContains(page, "very dark, but that sheet also had a stop less light")
        self.assertContains(page, "one trial, doubtful")
        # Said as soon as the process is changed, before anything is begun.
        (sheet,) = Sheet.objects.all()
        asked = {"sheets": sheet.pk, "process": "positive-drum", "developer": self.developer.pk}
        self.developer.name = "bought"
        self.developer.save()
        self.assertNotContains(self.client.get("/develop/", asked), "doubtful")
        asked["process"] = "coffee-fix"
        self.assertContains(self.client.get("/develop/", asked), "one trial, doubtful")

    def test_a_process_is_changed_and_comes_back_and_runs_keep_their_steps(self):
        (sheet,) = self.exposed()
        run = self.begin([sheet])
        url = "/develop/process/rc-trays/"
        vinegar = next(
            n
            for n, school, _ in self.client.get(url).context["schools"]
            if "vinegar" in school.words
        )
        self.post(f"{url}school/{vinegar}/", {}, 302)
        self.assertContains(self.client.get(url), "<strong>Vinegar, 1+4</strong> 15 s to 30 s")
        self.assertEqual(Run.objects.get(pk=run.pk).steps[2].name, "Stop bath")
        self.post(f"{url}drop/", {}, 302)
        self.assertEqual(queries.all_processes()["rc-trays"].steps, RC.steps)

    def rows(self, *steps, **more):
        data = {"steps-TOTAL_FORMS": len(steps), "steps-INITIAL_FORMS": 0, "name": "mine"}
        data = {key.replace("steps-", "form-"): value for key, value in data.items()}
        data |= {"kinds": ["negative"], "vessels": ["tray"]}
        for n, step in enumerate(steps):
            data |= {f"form-{n}-{name}": value for name, value in step.items()}
        return data | more

    def test_a_process_of_ones_own_and_what_is_none(self):
        develop = {"name": "Soup", "purpose": "develop", "least_s": "3m", "light": "red"}
        fix = {"name": "Fix", "purpose": "fix", "most_s": "2m", "light": "red"}
        for rows, words in (
            ([], "at least one step"),
            ([fix], "must have a step that develops"),
            ([develop | {"least_s": ""}], "must have a time above 0"),
            ([develop | {"least_s": "-3"}], "not a time"),
            ([develop | {"light": "white"}], "would come before the fixer"),
            ([develop | {"least_s": "5m", "most_s": "2m"}], "the longer one last"),
        ):
            with self.subTest(words):
                answer = self.post("/develop/process/new/", self.rows(*rows), 422)
                self.assertContains(answer, words, status_code=422)
        self.post(
            "/develop/process/new/", self.rows(fix | {"place": "2"}, develop | {"place": "1"}), 302
        )
        own = OwnProcess.objects.get()
        self.assertEqual([s.name for s in own.process.steps], ["Soup", "Fix"])
        self.assertEqual(own.process.steps[0].most_s, 180)
        again = self.post("/develop/process/new/", self.rows(develop), 422)
        self.assertContains(again, "Another process has this name", status_code=422)
        self.assertContains(self.client.get("/develop/process/own-1/"), "Soup")

    def test_a_strip_is_planned_read_and_turned_into_a_time_at_another_distance(self):
        (sheet,) = self.exposed()
        flows.develop([sheet], self.developer, parts=9, seconds=60)
        url = f"/develop/print/{sheet}/"
        strip = {"paper": self.paper.pk, "kind": "strip", "first_s": "4", "step_stops": "1"}
        strip |= {"bands": "3", "distance_mm": "500", "lamp_mm": ""}
        self.post(url, strip, 302)
        made = Print.objects.get()
        self.assertEqual(made.times_s, [4, 8, 16])
        self.assertEqual(Sheet.objects.get(pk=made.sheet_id).stage, "exposed")
        # Nothing can be read on it before it is developed.
        self.assertNotContains(self.client.get(url), "Right is")
        self.post(f"/develop/print/strip/{made.pk}/", {"best": "1"}, 409)
        self.assertContains(self.client.get(f"/sheets/{made.sheet}/"), "Printed under a lamp")
        self.assertNotContains(self.client.get(f"/sheets/{made.sheet}/"), "Load it")
        # The print waits, and is proposed its process.
        self.assertContains(self.client.get("/develop/"), "contact print")
        flows.develop([made.sheet], self.developer, parts=9, seconds=60)
        self.post(f"/develop/print/strip/{made.pk}/", {"best": "1"}, 302)
        self.assertEqual(Print.objects.get().best_s, 8)
        page = self.client.get(f"{url}?distance_mm=1000&lamp_mm=300")
        self.assertContains(page, "The lamp is broad")
        self.assertContains(self.client.get(url), 'value="8 s"')
        # The time follows the lamp, by hand: 8 x (800 / 500)^2 = 20.5 s; a time that was typed for
        # that distance stays.
        look = {"look": "1", "paper": self.paper.pk, "kind": "whole", "distance_mm": "800"}
        look |= {"shown_mm": "500.0", "seconds": "8 s", "shown_seconds": "8 s"}
        self.assertContains(self.client.get(url, look), 'value="20.5"')
        self.assertContains(self.client.get(url, look | {"seconds": "9"}), 'value="9"')
        self.assertContains(self.client.get(url, look | {"seconds": ""}), "For how long?")
        # It is linked both ways.
        self.assertContains(self.client.get(f"/develop/of/{sheet}/"), str(made.sheet))
        self.assertContains(self.client.get(f"/develop/of/{made.sheet}/"), str(sheet))
        for bad, words in (
            ({"distance_mm": "-1"}, "between 20 and"),
            ({"bands": "1"}, "between 2 and 10"),
            ({"first_s": "30m", "bands": "9"}, "more than an hour"),
            ({"kind": "whole"}, "For how long"),
        ):
            self.assertContains(self.post(url, strip | bad, 422), words, status_code=422)
        self.post(f"/develop/print/{made.pk}/take-back/", {}, 409)
        self.post(url, strip, 302)
        self.post(f"/develop/print/{Print.objects.first().pk}/take-back/", {}, 302)
        self.assertEqual(Print.objects.count(), 1)

    def test_a_lamp_is_tested_with_a_coin_and_the_run_is_held_against_it(self):
        self.post("/develop/room/light/new/", {"name": "torch"}, 302)
        (sheet,) = self.exposed()
        data = {"paper": self.paper.pk, "distance_mm": "900", "shows": "240"}
        self.post("/develop/room/light/1/test/", data, 302)
        self.assertContains(self.client.get("/develop/room/"), "safe for 2 min")
        answer = self.post("/develop/", self.form([sheet], light="1"), 302)
        run = Run.objects.get()
        self.assertEqual(run.safe_s, 120)
        self.tap(run, 30, 0, 0)
        self.now += timedelta(seconds=150)
        with clock.at(self.now):
            page = self.client.get(answer["Location"])
        self.assertContains(page, "tested safe for 2 min: cover it")

    def test_a_class_is_a_queue_by_period_and_the_door_asks_for_everyones_paper(self):
        person = Person.objects.create(name="Asta", period="third hour")
        mine, hers = self.exposed(2)
        corrections.give_owner(hers, person)
        page = self.client.get("/develop/?period=third hour")
        self.assertContains(page, f'value="{hers.pk}" checked')
        self.assertNotContains(page, f'value="{mine.pk}" checked')
        run = self.begin([hers])
        for moves in range(4):
            self.tap(run, 60, 0, moves)
        page = self.client.get(f"/develop/run/{run.pk}/")
        self.assertContains(page, "Is everyone's paper away")
        self.assertContains(page, "Asta")
        self.post(f"/develop/run/{run.pk}/white/", {"on": "1"}, 302)
        self.assertEqual(self.client.cookies["dress"].value, "day")


class EveryProcess(Dark):
    """The starting set, swept: whatever a process is, it can be begun, tapped through on its page
    by its big button alone, printed, and read.
    """

    PAPERS = {"negative": "blue", "positive": "blue", "reversal": "blue", "film": "pan"}

    def big_button(self, page):
        """The address of the button that the space key presses, and what stands on it."""
        found = re.search(
            r'<form method="post" action="([^"]+/next/)"(?:(?!</form>).)*data-key="d"><span\s+'
            r"data-words>([^<]*)<",
            page,
            re.DOTALL,
        )
        return found and (found[1], found[2])

    def test_each_is_led_through_by_its_big_button_and_every_caution_is_shown(self):
        for process in BY_KEY.values():
            with self.subTest(process.key):
                kind = process.kinds[0]
                name, sees = f"paper for {process.key}", self.PAPERS[kind]
                paper = Paper.objects.create(name=name, kind=kind, sees=sees, box_ei=6)
                sheets = self.exposed(2, paper)
                run = self.begin(sheets, process, together=process.together)
                url, shown, pressed = f"/develop/run/{run.pk}/", "", 0
                while True:
                    with clock.at(self.now):
                        page = self.client.get(url).content.decode()
                        shown += page
                        button = self.big_button(page)
                        if button is None:
                            break
                        self.assertEqual(self.client.post(button[0]).status_code, 302, button)
                    self.now += timedelta(seconds=45)
                    pressed += 1
                    self.assertLess(pressed, 60)
                lanes = 1 if process.together or run.in_camera else 2
                ready = sum(step.purpose == "ready" for step in process.steps)
                # Made ready once; every lane then goes in and through each step, but that the last
                # tick of making ready leads lane 0 into its first bath.
                baths = len(process.steps) - ready
                self.assertEqual(pressed, ready + lanes * (baths + 1) - 1)
                for step in process.steps:
                    self.assertIn(escape(wording.caution(step)), shown)
                    self.assertIn(escape(step.name), shown)
                self.assertIn("Through", shown)
                stages = {Sheet.objects.get(pk=sheet.pk).stage for sheet in sheets}
                self.assertEqual(stages, {"developed"})

    def test_each_is_printed_whole_and_its_clock_begins_with_the_first_bath(self):
        for process in BY_KEY.values():
            with self.subTest(process.key):
                answer = self.client.get(f"/develop/process/{process.key}/sheet.pdf")
                pages = PdfReader(BytesIO(answer.content)).pages
                text = " ".join(" ".join(p.extract_text() for p in pages).split())
                for number, step in enumerate(process.steps, 1):
                    light = wording.LIGHT[step.light]
                    for told in (
                        f"{number} {step.name}",
                        step.remark,
                        wording.caution(step),
                        light,
                    ):
                        self.assertIn(" ".join(told.split()), text)
                clock_page = self.client.get(f"/develop/process/{process.key}/clock/")
                first = process.steps[developing.first_wet(process.steps)]
                self.assertContains(clock_page, f'data-name="{first.name}"')
                self.assertNotContains(clock_page, 'data-name="Make ready"')
        long = [Step(f"Bath {n}", "rinse", 9, 9) for n in range(33)]
        develop = Step("Soup", "develop", 9, 9)
        kept = {"name": "long", "kinds": ["negative"], "vessels": ["tray"], "why": ""}
        key = procedure.keep(None, [develop, *long], together=False, by_eye=False, **kept)
        answer = self.client.get(f"/develop/process/{key}/sheet.pdf")
        self.assertEqual(len(PdfReader(BytesIO(answer.content)).pages), 3)

    def test_a_label_says_what_it_is_since_when_and_what_it_does(self):
        for purpose, words in (
            ("develop", "Gloves"),
            ("fix", "holds silver"),
            ("bleach", "Never in a closed bottle"),
            ("stop", "Acid into water"),
        ):
            name = f"the {purpose} of the long winter evenings in the harbour master's wash house"
            bath = room.mix(
                Bath(name=name[:60], purpose=purpose, volume_ml=500, capacity_m2=1, lasts_days=1)
            )
            answer = self.client.get(f"/develop/room/bath/{bath.pk}/label.pdf")
            text = PdfReader(BytesIO(answer.content)).pages[0].extract_text()
            self.assertIn(words, text)
            self.assertIn("safety data sheet", text)
            self.assertIn("500 ml; mixed", text)
