"""One shot, one truth: the plan page, the day, the pocket sheet, its way home, the card and the
notebook tell the same time for the same reading, whatever the shot was rated and filtered by.

The expected times are reckoned by hand, from 2 s at f/128 and ISO 6 before a camera of f/300.
"""

import json
import math
from datetime import UTC, date, datetime, timedelta
from importlib import import_module
from io import BytesIO

import numpy as np
from pypdf import PdfReader

from chimney.darkroom import flows as darkroom
from chimney.field import craft
from chimney.field.models import Outing, Shot, Taken
from chimney.field.notebook.craft import notebook_shots
from chimney.field.outing import page as days
from chimney.field.outing.wording import packing_list
from chimney.field.pocket import craft as pocket
from chimney.kit.models import Camera, Meter
from chimney.lessons.models import Evidence, Lesson
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.places.models import Place
from chimney.results import flows as results
from pinhole import exposure
from pinhole.lessons import BENDS_AT
from pinhole.lessons.model import LEFT_TO_PAPERS_SD
from tests.chimney.kitchen import kit, known, opened, planned, pocket_event, typed
from tests.chimney.pages import TestCase

NOON = datetime(2026, 6, 2, 10, 30, tzinfo=UTC)
# Half a step of five seconds in the times that are counted here.
COUNT = 0.06
# A filter of two stops, one stop more, EI 3 and the power law of 1/0.86 from 1 s on, by hand:
# 2 x (300 / 128)^2 x 6 / 3 x 4 x 2 = 175.8 s, and 175.8^(1 / 0.86) = 408 s.
METERED_S = 2 * (300 / 128) ** 2 * 2 * 4 * 2
FILTERED_S = METERED_S ** (1 / 0.86)
FILTERED = {
    "filter_stops": 2.0,
    "compensation_stops": 1.0,
    "ei_from": "typed",
    "ei": 3.0,
    "school": "power",
}


class OneSpecification(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.paper.exponent, self.paper.onset_s = 1 / 0.86, 1.0
        self.paper.save()
        Meter.objects.create(name="meter", lowest_iso=6, last_f_number=128)
        self.place = Place.objects.create(
            name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm"
        )
        self.outing = Outing.objects.create(
            name="Kilns", place=self.place, day=date(2026, 6, 2), made_at=NOON, sky="sun"
        )
        more = {"kept_at": NOON, "starts_at": NOON, "set_up_s": 0.0, "outing": self.outing}
        self.shot = Shot.objects.create(
            subject="kiln", camera=self.camera, paper=self.paper, **more | FILTERED
        )
        self.loading = logbook.load(self.paper, self.holder, "A")

    def change(self, **fields):
        Shot.objects.filter(pk=self.shot.pk).update(**fields)
        self.shot.refresh_from_db()

    def pack(self):
        return pocket.packed(self.outing)

    def row(self, seconds=2.0, step=0):
        """[seconds to give, exact ones, stops] of the pocket sheet for a reading."""
        (shot,) = self.pack()["shots"]
        nearest = min(range(len(pocket.SECONDS)), key=lambda n: abs(pocket.SECONDS[n] - seconds))
        (kind, *_) = self.pack()["kinds"]
        self.assertEqual((kind["f"], kind["iso"]), (128, 6))
        return shot["tables"][kind["key"]][nearest][2][step]

    def bring_home(self, **more):
        event = pocket_event(self.shot, self.holder, NOON, 400)
        back = {"chimney": "pocket", "version": 2, "token": self.pack()["token"]}
        text = json.dumps(back | {"events": [event | more]})
        with clock.at(NOON + timedelta(hours=1)):
            self.client.post(f"/plan/outings/{self.outing.pk}/pocket/", {"text": text, "take": "1"})
        return Exposure.objects.get()

    def test_a_note_that_was_changed_in_the_pocket_later_comes_home_too(self):
        event = pocket_event(self.shot, self.holder, NOON, 400)
        token = self.pack()["token"]
        for note, said in (("fog", "1 exposure is written down"), ("fog, then sun", "1 note was")):
            back = {"chimney": "pocket", "version": 2, "token": token}
            text = json.dumps(back | {"events": [event | {"note": note}]})
            with clock.at(NOON + timedelta(hours=1)):
                url = f"/plan/outings/{self.outing.pk}/pocket/"
                answer = self.client.post(url, {"text": text, "take": "1"}, follow=True)
            self.assertIn(said, answer.content.decode())
            self.assertEqual(Exposure.objects.get().note, note)

    def test_a_slide_that_was_never_pulled_in_the_field_leaves_its_sheet_loaded(self):
        kept = self.bring_home(slip=True)
        self.assertEqual((kept.slip, kept.sheet.stage), ("slide_in", "loaded"))
        self.shot.refresh_from_db()
        self.assertFalse(self.shot.done)

    def test_a_side_is_offered_to_the_camera_that_takes_it(self):
        (side,) = self.pack()["sides"]
        self.assertEqual((side["size"], side["body"]), ("4x5 in", None))

    def test_every_reader_tells_the_time_that_the_shot_asks_for(self):
        page = self.client.get(
            f"/plan/{self.shot.pk}/?kind=seconds&seconds=2&meter_f=128&meter_iso=6&reckon="
        )
        told = page.context["page"].sheet.calculation
        self.assertAlmostEqual(told.metered_s, METERED_S, places=6)
        self.assertAlmostEqual(told.exact_s, FILTERED_S, places=3)
        self.assertAlmostEqual(self.row()[1], FILTERED_S, places=3)
        kept = self.bring_home().calculation
        self.assertAlmostEqual(kept.exact_s, FILTERED_S, places=3)
        self.assertEqual(kept.specification, told.specification)
        # EV 15 at ISO 100 asks for 300^2 / 2^15 x 100 / 3 x 8 = 732.4 s, and 732.4^(1 / 0.86) for
        # 2142 s.
        self.change(done=False)
        (noted,) = notebook_shots(self.outing)
        ((_, times),) = noted.rows
        self.assertEqual((noted.ei, times[0]), (3.0, "36 min"))

    def test_a_pre_flash_is_in_every_readers_time_and_is_kept(self):
        self.change(preflash_stops=3.0)
        # An eighth has been given before.
        exact_s = (METERED_S * 7 / 8) ** (1 / 0.86)
        reading = "kind=seconds&seconds=2&meter_f=128&meter_iso=6&reckon="
        page = self.client.get(f"/plan/{self.shot.pk}/?{reading}")
        self.assertAlmostEqual(page.context["page"].sheet.calculation.exact_s, exact_s, places=3)
        self.assertAlmostEqual(self.row()[1], exact_s, places=3)
        # Through the same hole, without filter and the stop more: (2 x (300 / 128)^2 x 2 / 8) is
        # 2.75 s, and 2.75^(1 / 0.86) is 3.2, a third stop.
        self.assertContains(page, "close before the hole, 3.2 s if the card reads as above")
        self.assertContains(page, "3 stops under the middle before the picture")
        kept = self.bring_home()
        self.assertEqual(kept.calculation.specification.preflash_stops, 3)
        self.assertContains(self.client.get(f"/sheets/{kept.sheet.code}/"), "pre-flashed")
        # A plan without one is without one again.
        self.change(done=False, preflash_stops=0.0)
        page = self.client.get(f"/plan/{self.shot.pk}/?{reading}")
        self.assertNotContains(page, "Pre-flash first")

    def test_a_low_sun_asks_the_same_of_every_reader(self):
        at = datetime(2026, 11, 24, 11, tzinfo=UTC)
        self.change(starts_at=at, filter_stops=0, compensation_stops=0)
        Outing.objects.update(sky="sun", day=at.date())
        self.outing.refresh_from_db()
        with clock.at(at):
            page = self.client.get(
                f"/plan/{self.shot.pk}/?kind=seconds&seconds=2&meter_f=128&meter_iso=6&reckon="
            )
        told = page.context["page"].sheet.calculation
        self.assertGreater(told.specification.colour_stops, 0.4)
        self.assertAlmostEqual(self.row()[1] / told.exact_s, 1, places=6)
        (slot,) = days.schedule(self.outing).slots
        Shot.objects.filter(pk=self.shot.pk).update(reading={"plain_light": "on"})
        (plain,) = days.schedule(self.outing).slots
        self.assertGreater(slot.seconds[0], 1.3 * plain.seconds[0])

    def test_the_day_is_laid_by_what_the_shot_asks_for(self):
        Outing.objects.update(sky="sun")
        self.outing.refresh_from_db()
        day = days.schedule(self.outing)
        (slot,) = day.slots
        at = (slot.opens - day.daylight.start).total_seconds()
        noon = float(np.interp(at, day.daylight.times_s, day.daylight.before()))
        plain_s = 300**2 / 2**noon * 100 / 3 * 8
        # Light around noon hardly moves in that time.
        self.assertAlmostEqual(slot.seconds[0] / plain_s ** (1 / 0.86), 1, delta=0.1)
        # Without the filter it is short enough that light stands still meanwhile.
        self.change(filter_stops=0, compensation_stops=0)
        (slot,) = days.schedule(self.outing).slots
        self.change(shade=True)
        shaded = days.schedule(self.outing).slots[0].seconds[0]
        # Common practice: open shade takes about three stops, of which its blue gives this paper a
        # third of one back; grey cloud takes two and a half to four.
        self.assertAlmostEqual(math.log2(shaded / slot.seconds[0]), 2.67 / 0.86, delta=0.9)
        self.change(shade=False)
        Outing.objects.update(sky="grey")
        self.outing.refresh_from_db()
        grey = days.schedule(self.outing).slots[0].seconds[0]
        self.assertAlmostEqual(math.log2(grey / slot.seconds[0]), 3.25 / 0.86, delta=0.9)

    def test_sky_and_wind_of_the_day_reach_its_words(self):
        still = days.schedule(self.outing).slots[0].risk
        Outing.objects.update(wind="gusts", sky="heavy")
        self.outing.refresh_from_db()
        day = days.schedule(self.outing)
        self.assertNotEqual(day.slots[0].risk, still)
        self.assertIn("camera will shake", day.slots[0].risk)
        lines = " ".join(dict(packing_list(day))["For this weather"])
        self.assertIn("rain cape", lines)
        self.assertIn("windbreak", lines)

    def test_a_bracket_in_the_pocket_comes_home_as_that_sheet_by_effect_and_by_clock(self):
        plain = {"filter_stops": 0, "compensation_stops": 0, "ei_from": "box", "ei": None}
        self.change(**plain, sheets="bracket", bracket_stops=1.0)
        # By hand, EI 6 and 8 s: 43.9 s metered, 81.4 s corrected; a stop of effect is
        # 2^(1 / 0.86) on the clock.
        middle_s = (8 * (300 / 128) ** 2) ** (1 / 0.86)
        self.assertAlmostEqual(
            self.row(8.0, step=2)[0] / (middle_s * 2 ** (1 / 0.86)), 1, delta=COUNT
        )
        more = self.bring_home(step=2)
        self.assertEqual((more.taken.step, more.planned_s), (2, self.row(step=2)[0]))
        self.assertFalse(Shot.objects.get().done)
        Exposure.objects.all().delete()
        Taken.objects.all().delete()
        self.loading.sheet.stage = "loaded"
        self.loading.sheet.save()
        # A file of the first version names the stops and not the sheet.
        older = self.bring_home(stops=-1.0)
        self.assertEqual((older.taken.step, older.taken.words), (1, "−1 of effect"))
        self.change(bracket_by="clock", done=False)
        self.assertAlmostEqual(self.row(8.0, step=2)[0] / (2 * middle_s), 1, delta=COUNT)

    def test_what_comes_home_keeps_the_numbers_that_it_was_timed_by(self):
        packed = self.pack()
        token = packed["token"]
        self.change(ei=6.0, filter_stops=0.0)
        event = pocket_event(self.shot, self.holder, NOON, 400, step=0)
        text = json.dumps({"chimney": "pocket", "version": 2, "token": token, "events": [event]})
        with clock.at(NOON + timedelta(hours=1)):
            self.client.post(f"/plan/outings/{self.outing.pk}/pocket/", {"text": text, "take": "1"})
        self.assertEqual(Exposure.objects.get().calculation.specification.ei, 3.0)

    def test_a_kept_plan_is_the_form_that_made_it(self):
        asked = typed(
            self.camera,
            self.paper,
            seconds="2",
            filter_stops="2",
            compensation_stops="+1",
            note="fog",
        )
        asked |= {"ei_from": "typed", "ei": "3", "school": "power", "developer": self.developer.pk}
        asked |= {"sheets": "bracket", "bracket_stops": "1/2", "bracket_by": "clock", "hand_s": "5"}
        self.client.post("/plan/", asked | {"keep": "1", "subject": "hedge"})
        shot = Shot.objects.get(subject="hedge")
        self.assertEqual((shot.ei, shot.filter_stops, shot.school), (3, 2, "power"))
        again = self.client.get(f"/plan/{shot.pk}/").context["page"]
        first = self.client.get("/plan/", asked).context["page"]
        self.assertEqual(again.plan, first.plan)
        self.assertEqual(again.form.cleaned_data["hand_s"], 5)
        for name in ("developer", "note", "bracket_by"):
            self.assertEqual(again.form.cleaned_data[name], first.form.cleaned_data[name], name)

    def test_headline_and_tiles_agree_on_every_sheet_of_every_arrangement(self):
        for school in ("none", "power"):
            for sheets in ("single", "bracket", "schools", "strip"):
                for by in ("effect", "clock"):
                    plan = planned(
                        self.camera, self.paper, seconds=7.0, school=school, sheets=sheets,
                        bracket_stops=1.0, bracket_by=by, bands=5,
                    )  # fmt: skip
                    for sheet in plan.sheets:
                        with self.subTest(school=school, sheets=sheets, by=by, words=sheet.words):
                            told = sheet.calculation
                            self.assertEqual(told.seconds, sheet.seconds)
                            product = math.prod(factor.multiplier for factor in told.factors)
                            self.assertAlmostEqual(told.reading.seconds * product, sheet.seconds)


class Doubts(TestCase):
    """How sure a time is comes from the hole as it was measured and the EI as it was learned."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def test_the_measured_hole_and_the_learned_ei_make_the_range(self):
        # By hand: 2 sd / (d ln 2) of a hole of 0.5 mm known to 0.05 mm.
        Camera.objects.update(diameter_sd_mm=0.05)
        camera = Camera.objects.get()
        Lesson.objects.create(
            paper=self.paper, ei=5, low=4, high=6, sd_log2=0.11, sheets=9, learned_at=NOON
        )
        straight = [("bend", (self.paper.pk, at)) for at in BENDS_AT]
        straight += [("pair", (self.paper.pk, None)), ("exponent", self.paper.pk)]
        none = dict.fromkeys(straight, (0, 0))
        known({("paper", self.paper.pk): (math.log2(6 / 5), 0.11)} | none)
        told = planned(camera, self.paper).calculation
        hole = 2 * 0.05 / (0.5 * math.log(2))
        self.assertAlmostEqual(told.factor("camera").sd_stops, hole)
        self.assertAlmostEqual(told.factor("paper").sd_stops, 0.11)
        left = LEFT_TO_PAPERS_SD**2
        self.assertAlmostEqual(told.sd_stops, math.sqrt(hole**2 + 0.11**2 + left + 1 / 36))
        row = craft.specification(camera, self.paper, planned(camera, self.paper).proposal)
        self.assertEqual(row, told.specification)

    def test_a_second_reading_keeps_every_doubt(self):
        Camera.objects.update(diameter_sd_mm=0.05)
        told = planned(Camera.objects.get(), self.paper).calculation
        again = exposure.recalculate(told, reading=told.reading)
        self.assertEqual(again, told)

    def test_a_lesson_comes_from_the_time_that_counted(self):
        made = opened(self.camera, self.paper, self.holder)
        with clock.at(made.made_at + timedelta(seconds=11)):
            logbook.close_hole(made)
        # Light that fell made twice the time worth no more than the planned one.
        Exposure.objects.update(given_s=22.0, worth_s=11.0)
        logbook.unload(made.loading)
        darkroom.develop([made.sheet], self.developer, parts=10, seconds=60)
        results.judge(made.sheet, stops_more=0)
        self.assertAlmostEqual(Evidence.objects.get().ei, 6 * 10.986 / 11, places=2)

    def test_the_field_card_stands_on_what_was_learned(self):
        Lesson.objects.create(
            paper=self.paper, ei=3.1, low=2.6, high=3.7, sd_log2=0.1, sheets=9, learned_at=NOON
        )
        known({("paper", self.paper.pk): (math.log2(6 / 3.1), 0.1)})
        answer = self.client.get(f"/plan/card/{self.camera.pk}.pdf")
        text = PdfReader(BytesIO(answer.content)).pages[0].extract_text()
        # By hand, in the light that the card names: 300^2 / 2^14.8 x 100 / 3 = 105 s, counted by
        # fives; at the box's EI 6 it would be 53 s.
        self.assertIn("EV 14.8", text)
        self.assertIn("EI 3 (yours)", text)
        self.assertRegex(text, r"\n1:4[05]\n|\n1:50\n")
        self.assertNotIn("55 s", text)


class FormsOfTheVersionBefore(TestCase):
    """Shots once kept their form as text; what stood there is what they are made with now."""

    BEFORE = (
        ({}, {"school": "", "ei_from": "learned", "ei": None, "reckon": True, "reading": {}}),
        ({"ei": "EI 3,2", "ei_from": "typed"}, {"ei": 3.2, "ei_from": "typed"}),
        ({"ei": "soon", "ei_from": "guess"}, {"ei": None, "ei_from": "learned"}),
        ({"filter_stops": "1 1/3", "compensation_stops": "−½"}, {"compensation_stops": -0.5}),
        ({"filter_stops": "1/0", "compensation_stops": "a lot"}, {"compensation_stops": 0.0}),
        ({"school": "table", "hand_s": "5", "reckon": ""}, {"school": "table", "hand_s": 5}),
        ({"school": "of thought", "hand_s": "x"}, {"school": "", "hand_s": 0}),
        ({"developer": "7"}, {"developer_id": 7}),
        ({"developer": "8"}, {"developer_id": None}),
        ({"note": "fog " * 200}, {"note": ("fog " * 200)[:300]}),
        (
            {"kind": "ev", "ev": "12", "ev_iso": "100", "lux": "", "side": "1A", "paper": "4"},
            {"reading": {"kind": "ev", "ev": "12", "ev_iso": "100"}},
        ),
    )

    def test_each_field_is_taken_over_or_forgiven(self):
        before = import_module("chimney.field.migrations.0004_specification")
        for typed_then, expected in self.BEFORE:
            with self.subTest(typed_then):
                found = before.specified(typed_then, {7})
                self.assertEqual({name: found[name] for name in expected}, expected)
                # Every column that it names is one of a Shot.
                columns = {field.attname for field in Shot._meta.concrete_fields}
                self.assertLessEqual(set(found), columns)


class Sentences(TestCase):
    """What the plan's page says, word for word, for readings before a camera of f/300 and EI 6."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def page(self, **more):
        asked = typed(self.camera, self.paper, side=f"{self.holder.pk}A", **more)
        return self.client.get("/plan/", asked).context["page"]

    def test_headline_and_button(self):
        for more, headline, button in (
            ({}, "Open Plank for 11 s", "Load and open"),
            ({"seconds": ""}, "What is the light?", None),
            ({"sheets": "bracket"}, "Open Plank for 11 s", "Load and open for 11 s"),
            (
                {"sheets": "strip", "bands": "3"},
                "Open Plank for 22 s, pushing the slide in band by band",
                None,
            ),
        ):
            page = self.page(**more)
            with self.subTest(more):
                self.assertEqual(page.headline, headline)
                if button:
                    self.assertEqual(page.open_words, button)
        self.assertEqual(page.made_with, "Plank, f/300; grade-2 RC; holder 1, side A")
        logbook.load(self.paper, self.holder, "A")
        self.assertEqual(self.page().open_words, "Open the hole")

    def test_what_else_is_said(self):
        self.assertIn("shorter than a hand can count", self.page(seconds="1/100").too_short)
        self.assertEqual(self.page().too_short, "")
        narrow = self.page(seconds="", darkest="2", brightest="1")
        self.assertEqual(narrow.scene_words[1], "all of it fits.")
        wide = self.page(seconds="", darkest="8m", brightest="1/4", hold="shadows")
        self.assertRegex(wide.scene_words[0], "^The scene spans 11 stops, grade-2 RC holds ")
        self.assertRegex(wide.scene_words[1], r"are lost, so \+[\d.½¼¾ /]+ holds the chosen end\.$")
        strip = self.page(sheets="strip", bands="3", bracket_stops="1")
        # By hand: 5.5, 11 and 22 s, counted.
        self.assertEqual(strip.strip_words[:2], ("5 s, 11 s", "22 s"))
        self.assertEqual(self.page().doubling_words, "")
        self.assertIn("+1 stop of effect", self.page(sheets="bracket").doubling_words)
        self.assertIn(self.page().is_bracket_worth, (True, False))

    def test_schools_and_sheets_to_choose_from(self):
        schools = {name: (seconds, chosen) for name, _, seconds, chosen in self.page().schools}
        self.assertEqual(schools["none"], (11, True))
        # 10.986^(1 / 0.86) is 16.2 s.
        self.assertEqual(schools["power"], (16, False))
        ((key, words, _),) = [one for one in self.page().side_choices if one[2]]
        self.assertEqual((key, words), (f"{self.holder.pk}A", "fresh sheet into holder 1, side A"))
        loading = logbook.load(self.paper, self.holder, "A")
        (words,) = [words for _, words, chosen in self.page().side_choices if chosen]
        self.assertEqual(words, f"{loading.sheet} in holder 1, side A: grade-2 RC")
        values = [value for value, *_ in self.page().ei_choices]
        self.assertEqual(values, ["box", "typed"])
        self.assertEqual(
            self.page().ei_why, "Starting EI of grade-2 RC; nothing of yours is in it."
        )

    def test_stops_of_a_kept_plan_stand_in_the_form_as_they_are_typed(self):
        more = {"camera": self.camera, "paper": self.paper, "kept_at": NOON, "subject": "hedge"}
        shot = Shot.objects.create(filter_stops=1 / 3, compensation_stops=-1.5, **more)
        form = self.client.get(f"/plan/{shot.pk}/").context["page"].typed
        said = [form[name] for name in ("filter_stops", "compensation_stops", "bracket_stops")]
        self.assertEqual(said, ["1/3", "−1½", "1"])
        Shot.objects.update(filter_stops=0.37, compensation_stops=0.0)
        form = self.client.get(f"/plan/{shot.pk}/").context["page"].typed
        self.assertEqual((form["filter_stops"], form["compensation_stops"]), ("0.37", ""))
