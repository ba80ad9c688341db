"""The invented year, and that no page asks more often because there is more to show."""

import math
import random
import re
from datetime import timedelta
from urllib.parse import urlencode

import numpy as np
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from chimney.darkroom import flows as darkroom
from chimney.darkroom.models import Bath, LightTest, SafeLight, Vessel
from chimney.darkroom.room import flows as room
from chimney.field.craft import specification
from chimney.field.models import Shot
from chimney.field.plan.queries import OFFERED, last_reading
from chimney.hearth import invariants
from chimney.kit import flows as kit_flows
from chimney.kit.models import Camera, Developer, Holder, Paper
from chimney.lessons.models import Evidence, Finding, Lesson
from chimney.lessons.proposing import queries as proposing
from chimney.logbook import flows, queries
from chimney.logbook.models import Opening, Sheet
from chimney.parts import clock, previews
from chimney.results import flows as results
from chimney.results.models import Verdict
from chimney.results.scans import flows as scans
from chimney.results.training import craft
from chimney.results.training import flows as training
from demo import dark, pictures
from demo import year as demo
from pinhole.exposure import calculate
from tests import years

PAGES = (
    "/",
    "/kit/",
    "/plan/?seconds=4",
    "/expose/",
    "/expose/packet/",
    "/plan/outings/",
    "/plan/outings/1/",
    "/plan/places/",
    "/plan/places/1/",
    "/plan/sun/",
    "/expose/cans/",
    "/expose/cans/1/",
    "/develop/",
    "/develop/room/",
    "/develop/process/rc-trays/",
    "/develop/place/",
    "/read/",
    "/read/scans/",
    "/read/trainer/",
    "/read/compare/?s=R-071&s=R-072",
    "/sheets/?view=pictures",
    "/learn/",
    "/learn/1/",
    "/sheets/",
    "/keys/",
)


class Year(TestCase):
    @classmethod
    def setUpTestData(cls):
        years.a_year()
        pictures.scan_all(2)

    def asked(self):
        """How many queries each page takes."""
        found = {}
        for url in PAGES:
            with CaptureQueriesContext(connection) as queries:
                self.assertEqual(self.client.get(url).status_code, 200, url)
            found[url] = len(queries)
        return found

    def test_a_page_asks_the_database_for_each_thing_once(self):
        # Half of what they were, or near it; a page that asks for more says why here.
        pages = {"/": 15, "/develop/": 17, "/plan/": 14, "/begin/minutes/": 10, "/expose/row/": 6}
        # All that is offered is typed, as where a plan writes its own address.
        typed = last_reading({})
        self.assertEqual(typed.keys(), OFFERED)
        typed |= {"seconds": "4", "for_paper": typed["paper"]}
        for url, most in (pages | {f"/plan/?{urlencode(typed)}": 12}).items():
            with CaptureQueriesContext(connection) as queries:
                self.client.get(url)
            self.assertLessEqual(len(queries), most, url)
            asked = [query["sql"] for query in queries]
            self.assertEqual(len(set(asked)), len(asked), url)

    def test_where_a_sheet_lies_is_the_same_read_with_it_or_asked_for(self):
        asked = [str(sheet.open_loading) for sheet in Sheet.objects.all()]
        sheets = list(queries.with_thread())
        with self.assertNumQueries(0):
            self.assertEqual([str(sheet.open_loading) for sheet in sheets], asked)
        self.assertGreater(len(set(asked)), 5)
        self.assertIn("None", asked)

    def test_the_column_counts_what_the_pages_say(self):
        for name in ("Expose", "Develop", "Read"):
            page = self.client.get("/")
            course = next(one for one in page.context["courses"].all if one.name == name)
            said = re.search(r"<h1>(.*?)</h1>", self.client.get(course.url).content.decode(), re.S)
            self.assertEqual(sum(map(int, re.findall(r"\d+", said[1]))), course.count, said[1])

    def test_a_year_on_rauholm(self):
        self.assertGreaterEqual(Camera.objects.count(), 3)
        self.assertGreaterEqual(Paper.objects.count(), 5)
        self.assertGreaterEqual(Sheet.objects.count(), 40)
        stages = set(Sheet.objects.order_by().values_list("stage", flat=True).distinct())
        self.assertEqual(
            stages,
            {
                "loaded",
                "exposing",
                "exposed",
                "developing",
                "developed",
                "read",
                "spoiled",
                "lost",
                "out",
                "home",
                "scanned",
            },
        )
        self.assertEqual(
            (
                Opening.objects.filter(closed_at=None).count(),
                Shot.objects.filter(done=False, outing=None).count(),
            ),
            (2, 2),
        )
        faults = {
            fault for faults in Verdict.objects.values_list("faults", flat=True) for fault in faults
        }
        self.assertLessEqual({"leak", "double", "stain"}, faults)
        with self.assertRaises(CommandError):
            call_command("demo")
        call_command("demo", if_empty=True)

    def test_the_learned_ei_finds_the_speed_nobody_knows(self):
        """And the paper's long times, the hole that is not what was measured, a low sun, a process
        and an eye.
        """
        clear = {
            (found.kind, str(found.paper or found.camera or found.of)): found.mean
            for found in Finding.objects.all()
            if found.is_clear
        }
        tent = dark.queries.all_processes()["rc-drawers"].name
        truth = {
            ("exponent", "grade-2 RC"): demo.LONGER["grade-2 RC"],
            ("camera", "Wedge"): demo.SLOW["Wedge"],
            ("light", "low sun"): demo.LOW_SUN,
            ("process", tent): demo.PROCESS["rc-drawers"],
        }
        # Which words of the eye are clear is chance, but not which way they lean.
        truth |= {name: demo.EYE for name in clear if name[0] == "eye"}
        # Seven sheets of a tent, or twenty at times much alike, may not be enough to be sure of
        # it; nothing else is claimed.
        self.assertLessEqual(set(clear), set(truth))
        unsure = {("process", tent), ("exponent", "grade-2 RC")}
        self.assertLessEqual(set(truth) - set(clear), unsure)
        self.assertGreaterEqual(sum(name[0] == "eye" for name in clear), 1)
        for name, mean in clear.items():
            self.assertGreater(mean * truth[name], 0, name)
        learned, box = np.array(self.errors_stops()).T
        # The story's truths lie far out, so that few sheets show them, and what is learned goes
        # most of the way from the box to them.
        self.assertLess(np.abs(learned).mean(), 0.6 * np.abs(box).mean())

    def test_two_entries_of_one_paper_become_one(self):
        twice, paper = (
            Paper.objects.get(name=f"{name} RC") for name in ("grade-2", "variable-contrast")
        )
        film = Paper.objects.get(name="ISO 100 sheet film")
        url, sheets = f"/kit/paper/{twice.pk}/merge/", Sheet.objects.count()
        for wrong in ("", "x", film.pk, twice.pk, 10**9):
            answer = self.client.post(url, {"into": wrong})
            self.assertContains(answer, "Entered twice?", status_code=422)
        own = Sheet.objects.filter(paper__in=[twice, paper]).count()
        self.assertContains(
            self.client.post(url, {"into": paper.pk}, follow=True), f"belongs to {paper} now"
        )
        self.assertFalse(Paper.objects.filter(pk=twice.pk).exists())
        self.assertEqual(Sheet.objects.filter(paper=paper).count(), own)
        self.assertEqual(Sheet.objects.count(), sheets)
        taught = Evidence.objects.filter(paper=paper, reason="").count()
        self.assertEqual(Lesson.objects.get(paper=paper, developer=None).sheets, taught)
        self.assertEqual(Finding.objects.get(kind="exponent", of=paper.pk).sheets, taught)
        self.assertEqual(list(invariants.broken()), [])
        for url in ("/", "/kit/", "/plan/", "/learn/"):
            self.assertEqual(self.client.get(url).status_code, 200, url)

    def errors_stops(self):
        """[(by what was learned, by the box)]: how far a plan for each counted sheet is off."""
        found = []
        for taught in Evidence.objects.filter(reason="").exclude(process__contains="tent"):
            exposure = taught.sheet.exposures.first()
            asked, paper = exposure.calculation.specification, taught.paper
            light_s = paper.schools[paper.school].metered_s(exposure.given_s)
            truth_s = light_s * 2 ** demo.lacked_stops(exposure, taught.developer)
            colour = asked.colour_stops, asked.colour_sd_stops
            found.append(
                [
                    math.log2(self.light_s(exposure, proposal, colour) / truth_s)
                    for proposal in proposing.offered(taught.paper, taught.developer)
                ]
            )
        return found

    def light_s(self, exposure, proposal, colour):
        """Seconds of light that a plan gives by a Proposal, by the paper's own school."""
        paper, reading = exposure.sheet.paper, exposure.calculation.reading
        asked = specification(exposure.camera, paper, proposal, colour=colour)
        planned = calculate(reading, asked)
        return paper.schools[paper.school].metered_s(planned.exact_s)

    def test_no_list_queries_in_a_loop(self):
        before = self.asked()
        chance, wedge = random.Random(1), Camera.objects.get(name="Wedge")
        paper, developer = (
            Paper.objects.get(name="grade-2 RC"),
            Developer.objects.get(name="paper developer"),
        )
        for number in range(5):
            wedge.pk, wedge.name = None, f"Box {number}"
            wedge.save(force_insert=True)
            holder = Holder.objects.create(name=f"more {number}", size=wedge.size)
            flows.load(paper, holder, "B")
            Shot.objects.create(subject="hedge", camera=wedge, paper=paper, kept_at=clock.now())
            for stage in range(3):
                sheet = demo._expose(
                    chance, paper, developer, clock.now() - timedelta(hours=1), wedge
                ).sheet
                if stage:
                    demo._develop(chance, sheet, developer, clock.now())
                if stage == 2:
                    results.judge(sheet, stops_more=0, faults=["stain"])
                    scans.bring(f"{sheet.code}.png", [previews.png(pictures.picture_of(sheet))])
            bath = Bath(name=f"bath {number}", purpose="fix", volume_ml=500, capacity_m2=1)
            bath.lasts_days = 9
            room.mix(bath)
            self.in_the_dark(number, sheet)
            demo._burning(chance, clock.now(), wedge, "0", holder.name, "beech hedge", 0.5, 12.0)
        scans.work_off()
        self.assertEqual(self.asked(), before)

    def in_the_dark(self, number, like):
        """A vessel, a tested lamp, a judged trial and a run in progress more."""
        kit_flows.keep(Vessel(name=f"tray {number}", kind="tray", holds=1))
        lamp = kit_flows.keep(SafeLight(name=f"lamp {number}"))
        kept = {"distance_mm": 900.0, "times_s": [60.0], "tested_at": clock.now()}
        room.keep_test(LightTest(light=lamp, paper=like.paper, shows_s=None, **kept))
        training.judge(craft.puzzle(number), 0.5, "")
        sheet = Sheet.objects.filter(stage="exposed").first()
        process = dark.process_for(sheet.paper, like.development.run.developer)
        darkroom.begin([sheet], process, like.development.run.developer, together=True)
