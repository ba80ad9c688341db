"""A class opens its cameras by one tap and closes them by another."""

from datetime import UTC, datetime

from chimney.hearth import invariants
from chimney.kit import flows as kit_flows
from chimney.kit.models import Camera, Paper, Person
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock
from chimney.places.models import Place
from tests.chimney.kitchen import kit
from tests.chimney.pages import TestCase
from tests.chimney.test_thread import NOON, later

READING = {"kind": "seconds", "seconds": "2", "meter_f": "128", "meter_iso": "6"}
READING |= {"ev_iso": "100", "sky": "sun", "height": "high"}


class Together(TestCase):
    def setUp(self):
        plank, rc, *_ = kit()
        positive = Paper.objects.create(name="direct positive", kind="positive", box_ei=3)
        self.loadings = []
        for number, paper in enumerate((rc, positive, rc), 1):
            tin = Camera(name=f"Tin {number}", focal_mm=60 * number, diameter_mm=0.4)
            for field in ("size", "cut_width_mm", "cut_height_mm"):
                setattr(tin, field, getattr(plank, field))
            tin.visible_width_mm, tin.visible_height_mm = 119, 93.6
            kit_flows.keep_camera(tin, loads_directly=True)
            self.loadings.append(logbook.load(paper, tin.own_back, "A"))
        self.keys = [f"{loading.holder_id}A" for loading in self.loadings]
        Sheet.objects.filter(pk=self.loadings[0].sheet_id).update(
            person=Person.objects.create(name="Anna")
        )

    def test_each_camera_has_the_time_that_its_own_plan_would_have(self):
        # The sun of a November noon has lost some of its blue, and that is in both.
        Place.objects.create(
            name="Quay", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm", home=True
        )
        with clock.at(datetime(2026, 11, 24, 11, tzinfo=UTC)):
            page = self.client.get("/plan/together/", READING, headers={"HX-Request": "true"})
            for one in page.context["planned"]:
                plan = READING | {"camera": one.camera.pk, "paper": one.sheet.paper.pk}
                alone = self.client.get("/plan/", plan).context["page"]
                self.assertEqual(one.seconds, alone.sheet.seconds)
                blue = [f for f in one.plan.calculation.factors if f.name == "colour"]
                self.assertGreater(blue[0].multiplier, 1)
        self.assertContains(page, "Anna")
        # Twice and three times as deep with the same hole, and half the EI: 4 x 2 and 9 times.
        times = [one.plan.calculation.exact_s for one in page.context["planned"]]
        self.assertAlmostEqual(times[1] / times[0], 8, delta=0.01)
        self.assertAlmostEqual(times[2] / times[0], 9, delta=0.01)

    def test_one_tap_opens_what_is_ticked_and_one_closes_what_was_shown(self):
        with later(0):
            wanted = {"sides": self.keys[:2], "subject": "yard"}
            self.client.post("/plan/together/", READING | wanted)
        first, second = Exposure.objects.order_by("pk")
        self.assertEqual({first.subject, second.subject}, {"yard"})
        opened = {exposure.opening.opened_at for exposure in (first, second)}
        self.assertEqual(opened, {NOON})
        page = self.client.get("/plan/together/")
        self.assertContains(page, "2 cameras are open")
        self.assertEqual([side.key for side in page.context["loaded"]], self.keys[2:])
        with later(5):
            self.client.post("/plan/together/", READING | {"sides": self.keys[2:]})
        third = Exposure.objects.latest("pk")
        shown = [first.pk, second.pk, "x", 9**17]
        with later(40):
            answer = self.client.post("/expose/close-all/", {"exposure": shown}, follow=True)
        self.assertContains(answer, "2 holes are shut")
        self.assertEqual(
            [exposure.given_s for exposure in Exposure.objects.order_by("pk")], [40, 40, None]
        )
        again = self.client.post("/expose/close-all/", {"exposure": shown}, follow=True)
        self.assertContains(again, "0 holes are shut")
        self.assertIsNone(third.opening.closed_at)
        self.assertEqual(list(invariants.broken()), [])

    def test_all_or_none(self):
        for more, words in (
            ({"sides": []}, "Tick at least one camera"),
            ({"sides": ["999A"]}, "not loaded any more"),
            ({"seconds": ""}, "required"),
            ({"seconds": "23h"}, "that is a solargraph"),
        ):
            wrong = self.client.post("/plan/together/", READING | {"sides": self.keys} | more)
            self.assertContains(wrong, words, status_code=422)
        with clock.at(NOON):
            logbook.unload(self.loadings[1])
        wrong = self.client.post("/plan/together/", READING | {"sides": self.keys})
        self.assertContains(wrong, "not loaded any more", status_code=422)
        self.assertFalse(Exposure.objects.exists())
