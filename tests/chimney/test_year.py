"""The invented year, and that no page asks more often because there is more to show."""

import random
import re
from datetime import timedelta

from django.core.management import CommandError, call_command
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from chimney.field.models import Shot
from chimney.kit.models import Camera, Developer, Holder, Paper
from chimney.lessons.models import Lesson
from chimney.logbook import flows
from chimney.logbook.models import Opening, Sheet
from chimney.parts import clock
from chimney.results import flows as results
from chimney.results.models import Verdict
from demo import year as demo

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
    "/read/",
    "/learn/",
    "/learn/1/",
    "/sheets/",
    "/keys/",
)


class Year(TestCase):
    @classmethod
    def setUpTestData(cls):
        demo.a_year()

    def asked(self):
        """How many queries each page takes."""
        found = {}
        for url in PAGES:
            with CaptureQueriesContext(connection) as queries:
                self.assertEqual(self.client.get(url).status_code, 200, url)
            found[url] = len(queries)
        return found

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
        lesson = Lesson.objects.get(paper__name="grade-2 RC", developer__name="paper developer")
        truth = demo.TRUTH["grade-2 RC"]["paper developer"]
        self.assertTrue(lesson.low < truth < lesson.high, lesson)

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
            demo._burning(chance, clock.now(), wedge, "0", holder.name, "beech hedge", 0.5, 12.0)
        self.assertEqual(self.asked(), before)
