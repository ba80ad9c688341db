"""Sums that the scripts go on with alone, held to what the server reckons from the whole log:
random walks of taps, of which the server knows those before some moment.
"""

import random
from datetime import UTC, datetime, timedelta
from unittest import mock

from django.conf import settings
from django.db import transaction
from django.test import TestCase
from playwright.sync_api import sync_playwright

from chimney.darkroom.catalogue.processes import BY_KEY
from chimney.darkroom.craft import longer_s
from chimney.logbook.flows import corrections, sheets, while_open
from chimney.logbook.models import Exposure
from chimney.logbook.page import Timer
from chimney.parts import clock
from pinhole import developing
from tests.browser.chromium import launch
from tests.chimney import kitchen

SCRIPT = settings.ROOT / "chimney" / "static" / "js" / "counting.js"
START = datetime(2026, 6, 1, 9, tzinfo=UTC)
VERBS = {
    "close": sheets.close_hole,
    "reopen": corrections.reopen,
    "cover": while_open.cover,
    "uncover": while_open.uncover,
}
OFFERED = {
    "hand": ["close", "cover"],
    "open": ["close", "cover"],
    "covered": ["close", "uncover"],
    "closed": ["reopen"],
}


def counted(sums, cases):
    """What the script makes of each case."""
    with sync_playwright() as playwright:
        browser = launch(playwright)
        page = browser.new_page()
        page.add_script_tag(path=SCRIPT)
        results = page.evaluate(f"cases => cases.map({sums})", cases)
        browser.close()
    return results


class Counting(TestCase):
    def setUp(self):
        self.now = START
        standing = mock.patch.object(clock, "now", lambda: self.now)
        standing.start()
        self.addCleanup(standing.stop)

    def test_a_hole_that_the_script_counts_is_as_open_as_the_log_says(self):
        dice = random.Random(24)
        self.kit = kitchen.kit()
        cases, truths = zip(*[self._hole(dice) for _ in range(60)], strict=True)
        self.assertEqual({first["state"] for first, _, _ in cases}, {"hand", "open", "covered"})
        self.assertEqual({word for _, taps, _ in cases for _, word in taps}, set(VERBS))
        sums = "([from, taps, until]) => window.chimneyCounting.hole(from, taps, until)"
        for case, truth, found in zip(cases, truths, counted(sums, cases), strict=True):
            self.assertEqual(found["state"], truth["state"], case)
            self.assertAlmostEqual(found["open"], truth["open"], 3, case)
            if truth["state"] == "hand":
                self.assertAlmostEqual(found["hand"], truth["hand"], 3, case)

    def _hole(self, dice):
        """((the server's word, the taps after it, when they end), the server's last word)."""
        camera, paper, developer, holder = self.kit
        with transaction.atomic():
            calculation = kitchen.planned(camera, paper, developer).calculation
            hand_s = dice.choice([0, 0, 5.0, 120.0])
            loading = sheets.load(paper, holder, "A")
            exposure = sheets.open_hole(loading, camera, calculation, hand_s=hand_s)
            first, said_at, taps = self._told(exposure), self.now, []
            for _ in range(dice.randint(1, 7)):
                state = self._pass(dice, exposure)
                if state["state"] != "closed" and dice.random() < 0.3:
                    first, said_at, taps = state, self.now, []
                    state = self._pass(dice, exposure)
                word = dice.choice(OFFERED[state["state"]])
                VERBS[word](Exposure.objects.get(pk=exposure.pk))
                taps.append([(self.now - said_at).total_seconds(), word])
            truth = self._pass(dice, exposure)
            transaction.set_rollback(True)
        return (first, taps, (self.now - said_at).total_seconds()), truth

    def _pass(self, dice, exposure):
        self.now += timedelta(seconds=round(dice.uniform(0.5, 20), 3))
        return self._told(exposure)

    def _told(self, exposure):
        timer = Timer.of(Exposure.objects.get(pk=exposure.pk), self.now)
        return {"open": timer.open_s, "hand": timer.hand_left_s, "state": timer.state}

    def test_a_run_that_the_script_carries_on_stands_where_its_log_says(self):
        dice = random.Random(42)
        runs = [self._run(dice, process.steps) for process in BY_KEY.values() for _ in range(8)]
        cases, truths = zip(*runs, strict=True)
        self.assertEqual({truth["turn"] for truth in truths}, {0, 1, 2, None})
        sums = """([lanes, until, steps]) => {
          const all = lanes.map(([from, taps]) =>
            window.chimneyCounting.lane(from, taps, until, steps));
          return { lanes: all, turn: window.chimneyCounting.turn(all) };
        }"""
        for truth, found in zip(truths, counted(sums, cases), strict=True):
            self.assertEqual(found["turn"], truth["turn"])
            for lane, told in zip(found["lanes"], truth["lanes"], strict=True):
                running = told["place"] is not None
                same = (
                    ("moves", "over", "place", "more", "elapsed") if running else ("moves", "over")
                )
                for of in same:
                    self.assertAlmostEqual(lane[of], told[of], 6)
                if running:
                    self.assertAlmostEqual(lane["left"], told["left"], 6)

    def _run(self, dice, steps):
        """(([(the server's word of a lane, the taps after it)], when they end, the steps as the
        page tells them), what the server makes of all taps).
        """
        taps, at_s, said_at = [], 0.0, None
        first = self._lanes(steps, taps, at_s)
        for _ in range(dice.randint(0, 3 * len(steps) + 6)):
            at_s += dice.uniform(1, 200)
            if said_at is None and dice.random() < 0.1:
                first, said_at, taps_known = self._lanes(steps, taps, at_s), at_s, len(taps)
            free = [n for n, lane in enumerate(self._lanes(steps, taps, at_s)) if not lane["over"]]
            if not free:
                break
            taps.append(self._tap(dice, steps, taps, at_s, dice.choice(free)))
        if said_at is None:
            said_at, taps_known = 0.0, 0
        at_s += dice.uniform(1, 200)
        after = [
            [[tap.at_s - said_at, tap.word] for tap in taps[taps_known:] if tap.lane == number]
            for number in range(3)
        ]
        lanes = developing.lanes(steps, taps, 3, 0.0)
        truth = {"lanes": self._lanes(steps, taps, at_s)}
        truth["turn"] = developing.turn(steps, lanes, at_s)
        told = [self._of_step(step) for step in steps]
        return (list(zip(first, after, strict=True)), at_s - said_at, told), truth

    @staticmethod
    def _tap(dice, steps, taps, at_s, number):
        lane = developing.lanes(steps, taps, 3, 0.0)[number]
        step = steps[lane.now.step] if lane.now else None
        words = ["next"] * 4
        words += ["again"] if step and step.again else []
        words += ["longer"] if step and not step.is_ticked else []
        word = dice.choice(words)
        more_s = longer_s(step) if word == "longer" else 0.0
        return developing.Tap(at_s, number, word, more_s)

    @staticmethod
    def _lanes(steps, taps, now_s):
        """What a page tells of three lanes."""
        return [
            {
                "place": lane.now and lane.now.step,
                "elapsed": lane.now.lasted_s(now_s) if lane.now else 0.0,
                "more": lane.now.more_s if lane.now else 0.0,
                "moves": lane.moves,
                "over": lane.is_over,
                "left": developing.left_s(steps, lane, now_s) if lane.now else None,
            }
            for lane in developing.lanes(steps, taps, 3, 0.0)
        ]

    @staticmethod
    def _of_step(step):
        return {
            "most": step.most_s,
            "longer": longer_s(step),
            "again": step.again,
            "alone": step.goes_on_alone,
            "ready": step.purpose == developing.READY,
        }
