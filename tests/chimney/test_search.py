"""The log asked as one speaks: what a line is understood as, and which sheets it finds."""

from datetime import UTC, datetime, timedelta

from chimney.darkroom import flows as darkroom
from chimney.kit.models import Developer, Paper
from chimney.lessons.search.craft import understand
from chimney.logbook import flows
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.places import flows as place_flows
from chimney.places.models import Place
from chimney.results import flows as results
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase


class Asked(TestCase):
    def test_a_line_is_taken_apart(self):
        for text, chips in (
            ("slipway November too dark", ["exposed in November", "too dark", "“slipway”"]),
            ("coffee", ["“coffee”"]),
            ("fog", ["fog all over"]),
            ("half a stop less", ["wanted −½ stop"]),
            ("+1½ stops 2025", ["exposed in 2025", "wanted +1½ stops"]),
            ("Two stops more in the kiln", ["wanted +2 stops", "“kiln”"]),
            ("not read", ["not read"]),
            ("the pump house, right", ["right", "“pump”", "“house”"]),
            ("R-114", ["“R-114”"]),
            ("", []),
            ("  ,; 12345 stopsign", ["“12345”", "“stopsign”"]),
        ):
            with self.subTest(text):
                said = [
                    chip.replace("-", "−") if "wanted" in chip else chip
                    for chip in understand(text).chips
                ]
                self.assertEqual(said, chips)


class Found(TestCase):
    """Three sheets, each looked for by what is written on it and nowhere else."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        coffee = Developer.objects.create(name="coffee", usual_s=420)
        positive = Paper.objects.create(name="direct fibre", kind="positive", box_ei=3)
        rauholm = place_flows.keep(
            Place(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm")
        )
        self.make("slipway", 11, self.paper, -1.0, faults=["fog"])
        self.make("kiln mouth", 6, positive, 1.0, developer=coffee, remarks="a gull came by")
        self.make("slipway", 6, self.paper, 0.0, place=rauholm)

    def make(self, subject, month, paper, stops_more, *, developer=None, place=None, **verdict):
        with clock.at(datetime(2026, month, 3, 12, tzinfo=UTC)):
            exposure = opened(self.camera, paper, self.holder)
            exposure.subject, exposure.place = subject, place
            exposure.save()
        with clock.at(datetime(2026, month, 3, 12, 5, tzinfo=UTC)):
            flows.close_hole(exposure)
            flows.unload(exposure.loading)
            developer = developer or self.developer
            darkroom.develop([exposure.sheet], developer, parts=9, seconds=60)
            results.judge(exposure.sheet, stops_more=stops_more, **verdict)

    def test_each_word_is_looked_for_everywhere(self):
        for words, codes in (
            ("slipway November too dark", ["S-001"]),
            ("coffee", ["S-002"]),
            ("fog", ["S-001"]),
            ("slipway", ["S-003", "S-001"]),
            ("slipway June", ["S-003"]),
            ("gull", ["S-002"]),
            ("Rauholm", ["S-003"]),
            # A dark positive had too little light.
            ("too dark", ["S-002", "S-001"]),
            ("too pale", []),
            ("right", ["S-003"]),
            ("1 stop more", ["S-002"]),
            ("2026 direct", ["S-002"]),
            ("2025", []),
            ("mouth kiln", ["S-002"]),
            ("S-003", ["S-003"]),
            ("snow", []),
        ):
            with self.subTest(words):
                page = self.client.get("/learn/search/", {"words": words})
                self.assertEqual([sheet.code for sheet in page.context["page"]], codes)
        self.assertContains(self.client.get("/learn/search/?words=too dark coffee"), "“coffee”")

    def test_dates_are_those_of_the_exposure(self):
        Sheet.objects.update(cut_at=datetime(2020, 1, 1, tzinfo=UTC))
        for since, until, count in (
            ("2026-11-03", "2026-11-03", 1),
            ("2026-06-01", "", 3),
            ("", "2026-10-31", 2),
            ("2020-01-01", "2020-12-31", 0),
        ):
            page = self.client.get("/learn/search/", {"since": since, "until": until})
            self.assertEqual(len(page.context["page"]), count, (since, until))
        # What was never exposed is as old as its cutting.
        flows.load(self.paper, self.holder, "A")
        with clock.at(clock.now() + timedelta(days=1)):
            Sheet.objects.filter(stage="loaded").update(cut_at=datetime(2020, 5, 1, tzinfo=UTC))
        page = self.client.get("/learn/search/", {"since": "2020-04-01", "until": "2020-12-31"})
        self.assertEqual(len(page.context["page"]), 1)

    def test_the_box_in_every_foot_finds_words_in_any_order(self):
        for words, count in (
            ("mouth kiln", 1),
            ("slipway rauholm", 1),
            ("fibre kiln", 1),
            ("x y", 0),
        ):
            page = self.client.get("/sheets/", {"q": words})
            self.assertEqual(page.context["page"].paginator.count, count, words)
