"""What a log is told: findings, late jumps, boxes, times that pull apart; in worlds drawn otherwise
than the model has them, and counted.
"""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from pinhole.lessons import Judged, findings, late_jump, learn, pulled_apart
from tests.pinhole.worlds import (
    BENT,
    BODIES,
    CURVED,
    PAPERS_OF_WORLD,
    WORLD_LOOKS,
    held_by_plans,
    log_of,
)

NOTHING_BUT_SPEED = {("camera", body): 0.0 for body in BODIES}
NOTHING_BUT_SPEED |= {("exponent", paper): 0.0 for paper in PAPERS_OF_WORLD}
NOTHING_BUT_SPEED |= {("light", "low"): 0.0, ("process", "tank"): 0.0}


def clear(learned):
    return {name for name, held in findings(learned).items() if held.is_clear}


class Findings(TestCase):
    def test_hardly_any_log_whose_speeds_alone_are_off_is_told_a_finding(self):
        chance = np.random.default_rng(11)
        for sheets in (6, 10, 30, 60):
            logs = [log_of(chance, "plain", sheets, truth=NOTHING_BUT_SPEED)[0] for _ in range(150)]
            false = np.mean([bool(clear(learn(judged))) for judged in logs])
            with self.subTest(sheets=sheets):
                # One in twenty at most, give or take what chance does to 150 logs.
                self.assertLess(false, 0.09)

    def test_a_camera_half_a_stop_off_is_mostly_found_after_sixty_sheets(self):
        chance, slow = np.random.default_rng(12), {("camera", "W"): 0.5}
        found = []
        for _ in range(120):
            judged, _ = log_of(chance, "plain", 60, truth=NOTHING_BUT_SPEED | slow)
            found.append(clear(learn(judged)))
        self.assertGreater(np.mean([("camera", "W") in names for names in found]), 0.5)
        # The others are right, and told so: they are held against each other, not one by one.
        self.assertLess(np.mean([bool(names - {("camera", "W")}) for names in found]), 0.15)

    def test_a_log_of_nothing_finds_nothing(self):
        none: tuple = ()
        self.assertEqual(findings(learn(Judged([], [], [], none, none, none, none, none))), {})


class Jumps(TestCase):
    """One stop more from some sheet on: looked at again, and the verdict rounded to a look."""

    def jumped(self, chance, kind, sheets, after):
        judged, _ = log_of(chance, kind, sheets)
        late = np.flatnonzero([paper == "A" for paper in judged.paper])[-after:]
        looks = judged.verdict_stops.copy()
        for n in late:
            looks[n] = WORLD_LOOKS[np.abs(WORLD_LOOKS - looks[n] - 1.0).argmin()]
        needed_s = judged.needed_s * 2.0 ** (looks - judged.verdict_stops)
        return replace(judged, needed_s=needed_s, verdict_stops=looks), late

    def test_none_is_seen_where_there_is_none(self):
        chance = np.random.default_rng(3)
        for kind in ("plain", "slips", "coarse"):
            seen = []
            for _ in range(60):
                judged, _ = log_of(chance, kind, 80)
                learned = learn(judged)
                jumps = [late_jump(judged, learned, p, looks=2) for p in PAPERS_OF_WORLD]
                seen.append(any(jump is not None for jump in jumps))
            self.assertLess(np.mean(seen), 0.09, kind)

    def test_one_is_seen_about_where_it_was(self):
        chance, stops, off = np.random.default_rng(4), [], []
        for _ in range(40):
            judged, late = self.jumped(chance, "plain", 200, 20)
            learned = learn(judged)
            jump = late_jump(judged, learned, "A", looks=2)
            self.assertIsNone(late_jump(judged, learned, "C"))
            if jump:
                own = np.flatnonzero([paper == "A" for paper in judged.paper])
                stops.append(jump.stops)
                off.append(abs(jump.first - np.flatnonzero(own == late[0])[0]))
        self.assertGreater(len(stops), 28)
        self.assertTrue(0.6 < np.median(stops) < 1.1, np.median(stops))
        self.assertLess(np.median(off), 3)


class Boxes(TestCase):
    def test_half_of_a_jump_is_in_the_plan_after_two_sheets_of_a_new_box(self):
        chance = np.random.default_rng(6)
        with_box, without = [], []
        for _ in range(40):
            judged, _ = log_of(chance, "plain", 40)
            of_a = [n for n, paper in enumerate(judged.paper) if paper == "A"]
            needed = judged.needed_s.copy()
            needed[of_a[-2:]] *= 2.0
            box = [None] * len(judged)
            for n in of_a:
                box[n] = "new" if n in of_a[-2:] else "old"
            asked = {"paper": "A", "pair": ("A", "fresh"), "camera": "P", "light": None}
            asked |= {"process": None, "metered_s": 60.0}
            # Two verdicts that were measured, so that a stop is a stop.
            looks = judged.verdict_stops.copy()
            looks[of_a[-2:]] = np.nan
            moved = replace(judged, needed_s=needed, verdict_stops=looks, box=tuple(box))
            before = learn(replace(judged, box=tuple(box))).plan(**asked, box="new")[0]
            with_box.append(learn(moved).plan(**asked, box="new")[0] - before)
            plain = [learn(replace(log, box=None)).plan(**asked)[0] for log in (judged, moved)]
            without.append(plain[1] - plain[0])
        self.assertGreater(np.mean(with_box), 0.45)
        self.assertLess(np.mean(without), 0.2)


class Bends(TestCase):
    def test_no_paper_is_a_straight_line_for_ever_and_plans_follow_it(self):
        for kind in (BENT, CURVED):
            for sheets, least_near in ((10, 0.5), (60, 0.85)):
                with self.subTest(kind, sheets=sheets):
                    held, near = held_by_plans(kind, sheets, logs=40, seed=sheets)
                    self.assertGreaterEqual(held, 0.84)
                    self.assertGreaterEqual(near, least_near)

    def test_the_sheets_nearest_in_time_count_most_for_a_plan(self):
        chance = np.random.default_rng(3)
        metered = 2.0 ** chance.uniform(1, 11, 30)
        nothing, asked = (None,) * 30, {"paper": "RC", "pair": None, "camera": None, "light": None}
        moved = []
        for seconds in (4.0, 60.0, 900.0):
            plans = []
            for stops in (0.0, 1.0):
                near = np.abs(np.log2(metered / seconds)) < 1
                needed = metered * 2.0 ** (stops * near / near.sum())
                judged = Judged(metered, metered, needed, ("RC",) * 30, *(nothing,) * 4)
                learned = learn(judged, robust=False)
                plans.append(
                    [learned.plan(**asked, process=None, metered_s=s)[0] for s in (4, 60, 900)]
                )
            moved.append(np.subtract(*plans[::-1]))
        np.testing.assert_array_equal(np.argmax(moved, axis=1), [0, 1, 2])


class PulledApart(TestCase):
    def test_it_is_told_of_sheets_that_no_exponent_explains_and_of_no_others(self):
        chance = np.random.default_rng(7)
        told = {0.0: [], 0.9: []}
        for stops, rows in told.items():
            for _ in range(200):
                seconds = 2.0 ** chance.uniform(1, 11, 24)
                middle = (seconds > 16) & (seconds < 256)
                over = chance.normal(0, 0.5, 24) - stops * middle
                over -= over.mean()
                rows.append(pulled_apart(seconds, over, np.ones(24), 0.5))
        self.assertLess(np.mean([apart is not None for apart in told[0.0]]), 0.05)
        seen = [apart for apart in told[0.9] if apart is not None]
        self.assertGreater(len(seen), 100)
        self.assertTrue(all(16 / 2 < apart.less_s < 256 * 2 for apart in seen))
        self.assertTrue(0.6 < np.median([apart.stops for apart in seen]) < 1.6)
        self.assertIsNone(pulled_apart(np.ones(8), np.ones(8), np.ones(8), 0.5))
