"""A run as its taps add up, against what must hold for any process and any order of taps, and the
starting set against its own clock.
"""

from math import inf
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as some

from chimney.darkroom.catalogue.processes import ALL
from chimney.darkroom.catalogue.schools import DARKROOM_SCHOOLS, FIX_AFTER
from pinhole import developing
from pinhole.developing import Step, Tap

READY = Step("Ready", "ready")
PLAIN = (
    READY,
    Step("Developer", "develop", 60, 90, 5, 10),
    Step("Stop", "stop", 10, 20),
    Step("Fix", "fix", 120, 120),
    Step("Fix again", "fix", 180, 180, light="white"),
    Step("Wash", "wash", 120, 300, light="white"),
)
REVERSAL = next(process.steps for process in ALL if process.key == "reversal-camera")
TIMES = some.floats(0, 7200)
WORDS = some.sampled_from(developing.TAP_WORDS)
PROCESSES = some.sampled_from([process.steps for process in ALL])


def step_s(steps):
    """By hand: seconds in each, one after the other."""
    least = most = 0
    for step in steps:
        least, most = least + step.least_s, most + step.most_s
    return least, most


def taken(steps, taps, count):
    """The taps of a list that can be made, one after the other."""
    made = []
    for tap in taps:
        try:
            developing.lanes(steps, [*made, tap], count, 0.0)
        except ValueError:
            continue
        made.append(tap)
    return made


class Steps(TestCase):
    def test_every_process_adds_up_to_the_second(self):
        # By hand from the times that stand in the steps (common practice).
        known = {"rc-trays": (370, 410), "film-tank": (690, 810), "reversal-tank": (510, 885)}
        for process in ALL:
            with self.subTest(process.key):
                total = developing.total_s(process.steps, alone=False)
                by_hand = step_s(s for s in process.steps if s.purpose not in ("wash", "dry"))
                self.assertEqual(total, by_hand)
                self.assertEqual(total, known.get(process.key, total))
                self.assertEqual(developing.total_s(process.steps), step_s(process.steps))
                # White light comes after a fixer or a second exposure, and film sees no red.
                # Right before that a sheet may be taken out of its camera.
                white = developing.white_from(process.steps)
                white += white < len(process.steps) and process.steps[white].is_ticked
                before = process.steps[:white]
                allowed = {step.purpose for step in before} | {
                    process.steps[len(before)].purpose if len(before) < len(process.steps) else ""
                }
                self.assertTrue({"fix", "light"} & allowed)
                if "film" in process.kinds:
                    self.assertIsNone(developing.open_in_red(process.steps))
                again = developing.from_data(developing.to_data(process.steps))
                self.assertEqual(again, process.steps)

    def test_where_schools_differ_each_has_its_reason_and_one_is_the_default(self):
        for of in ("stop", "wash"):
            here = [school for school in DARKROOM_SCHOOLS if school.of == of]
            self.assertGreaterEqual(len(here), 3)
            self.assertTrue(all(school.reason for school in here))
            self.assertTrue(any(school.reason.startswith("Default") for school in here))
        self.assertEqual([school.step is None for school in FIX_AFTER], [True, False])

    def test_what_is_no_process_is_told(self):
        for made, words in (
            (lambda: developing.checked_steps([]), "at least one step"),
            (lambda: developing.checked_steps([READY]), "develops"),
            (lambda: developing.checked_steps([*PLAIN[1:3], READY]), "before the first bath"),
            (lambda: developing.checked_steps([PLAIN[1], PLAIN[4]]), None),
            (
                lambda: developing.checked_steps([PLAIN[1], PLAIN[5], PLAIN[3]]),
                "before the fixer",
            ),
            (
                lambda: developing.checked_steps([READY, Step("D", "develop", 1, 1, again=1)]),
                "further than its sheet came",
            ),
            (lambda: Step("D", "develop"), "time above 0"),
            (lambda: Step("D", "develop", 9, 3), "longer one last"),
            (lambda: Step("D", "develop", -3, 3), "between 0 and a week"),
            (lambda: Step("D", "develop", inf, inf), "between 0 and a week"),
            (lambda: Step("R", "ready", 5, 5), "has no time"),
            (lambda: Step("D", "develop", 5, 5, drip_s=5), "drip"),
            (lambda: Step("D", "soak", 5, 5), "a purpose must be one of"),
            (lambda: Step("D", "develop", 5, 5, light="blue"), "a light must be one of"),
            (lambda: developing.from_data({"version": 9, "steps": []}), "version 1"),
        ):
            if words is None:
                made()
                continue
            with self.assertRaisesRegex(ValueError, words):
                made()


class Run(TestCase):
    def test_two_sheets_one_after_the_other_by_hand(self):
        taps = [Tap(30, 0, "next"), Tap(95, 0, "next"), Tap(100, 1, "next"), Tap(112, 0, "next")]
        first, second = developing.lanes(PLAIN, taps, 2, 0.0)
        self.assertEqual([v.step for v in first.visits], [0, 1, 2, 3])
        self.assertEqual(first.visits[1].lasted_s(999), 65)
        self.assertEqual((second.now.step, second.now.lasted_s(130), second.moves), (1, 30, 1))
        self.assertEqual(developing.given_s(PLAIN, second, "develop", 130), 30)
        # The second wants a hand in 60 s, the first in 102: the developer comes first.
        self.assertEqual(developing.turn(PLAIN, (first, second), 130), 1)
        self.assertEqual(developing.left_s(PLAIN, first, 130), 102)
        # Before that, while the first lay in the stop, it was the second's turn to go in.
        self.assertEqual(developing.turn(PLAIN, developing.lanes(PLAIN, taps[:2], 2, 0.0), 96), 1)
        self.assertEqual(developing.turn(PLAIN, developing.lanes(PLAIN, taps[:1], 2, 0.0), 90), 0)
        self.assertEqual(developing.open_s(PLAIN, first, 130), 100)
        self.assertFalse(developing.is_light_safe(PLAIN, first))
        later = developing.lanes(PLAIN, [*taps, Tap(240, 0, "next")], 2, 0.0)
        self.assertTrue(developing.is_light_safe(PLAIN, later[0]))

    def test_of_lanes_that_are_there_the_one_before_decides(self):
        first, gone, third = developing.lanes(
            PLAIN, [Tap(30, 0, "next"), Tap(95, 0, "next")], 3, 0.0
        )
        self.assertFalse(developing.may_go_in(PLAIN, (first, gone, third), 2))
        self.assertTrue(developing.may_go_in(PLAIN, (first, third), 2))
        self.assertEqual(developing.turn(PLAIN, (first, third), 96), 2)

    def test_a_bleach_that_is_repeated_and_a_sheet_that_goes_back(self):
        bleach = next(n for n, step in enumerate(REVERSAL) if step.purpose == "bleach")
        taps = [Tap(10.0 * n, 0, "next") for n in range(1, bleach + 2)]
        at = taps[-1].at_s
        taps += [Tap(at + 40, 0, "again"), Tap(at + 100, 0, "next"), Tap(at + 130, 0, "next")]
        (lane,) = developing.lanes(REVERSAL, taps, 1, 0.0)
        steps = [visit.step for visit in lane.visits][-4:]
        self.assertEqual(steps, [bleach + 1, bleach, bleach + 1, bleach + 2])
        self.assertEqual(developing.given_s(REVERSAL, lane, "bleach", 9e9), 10 + 60)
        plain = [Tap(5, 0, "next"), Tap(60, 0, "next"), Tap(70, 0, "back"), Tap(95, 0, "next")]
        (lane,) = developing.lanes(PLAIN, plain, 1, 0.0)
        self.assertEqual([v.step for v in lane.visits], [0, 1, 2, 1, 2])
        self.assertEqual(developing.given_s(PLAIN, lane, "develop", 500), 55 + 25)

    @given(PROCESSES, some.lists(some.tuples(TIMES, some.integers(0, 2), WORDS), max_size=60))
    def test_whatever_is_tapped_a_lane_is_somewhere_and_its_times_follow_each_other(
        self, steps, raw
    ):
        made = taken(steps, [Tap(at, lane, word, 15.0) for at, lane, word in raw], 3)
        lanes = developing.lanes(steps, made, 3, 0.0)
        for lane in lanes:
            ends = [visit.until_s for visit in lane.visits[:-1]]
            self.assertNotIn(None, ends)
            for one, following in zip(lane.visits, lane.visits[1:], strict=False):
                self.assertEqual(one.until_s, following.from_s)
                self.assertLessEqual(one.from_s, one.until_s)
            self.assertEqual(lane.is_waiting + (lane.now is not None) + lane.is_over, 1)
            moved = [t for t in made if t.lane == lane.number and t.word in developing.MOVES]
            self.assertEqual(lane.moves, len(moved))
            inside = sum(visit.lasted_s(9000.0) for visit in lane.visits)
            if lane.visits:
                end = 9000.0 if lane.now else lane.visits[-1].until_s
                self.assertAlmostEqual(inside, end - lane.visits[0].from_s, places=6)
        turn = developing.turn(steps, lanes, 9000.0)
        self.assertEqual(turn is None, all(lane.is_over for lane in lanes))

    @given(PROCESSES, some.lists(TIMES, min_size=20, max_size=20), some.integers(1, 3))
    def test_going_on_leads_through_every_step_and_to_an_end(self, steps, times, count):
        now, taps = 0.0, []
        for pause in (times * 6)[: count * len(steps)]:
            now += pause
            number = developing.turn(steps, developing.lanes(steps, taps, count, 0.0), now)
            if number is None:
                break
            taps.append(Tap(now, number, "next"))
        lanes = developing.lanes(steps, taps, count, 0.0)
        self.assertTrue(all(lane.is_over for lane in lanes))
        wet = developing.first_wet(steps)
        for lane in lanes:
            self.assertEqual(
                [v.step for v in lane.visits][-(len(steps) - wet) :], list(range(wet, len(steps)))
            )
            self.assertTrue(developing.is_light_safe(steps, lane))

    def test_what_cannot_be_tapped_is_told(self):
        over = [Tap(n, 0, "next") for n in range(len(PLAIN))]
        for taps, words in (
            ([Tap(1, 0, "jump")], "not one of"),
            ([Tap(1, 1, "again")], "only go in"),
            ([Tap(1, 0, "again")], "not repeated"),
            ([Tap(1, 1, "longer")], "nothing is under way"),
            ([Tap(1, 0, "back")], "no developer"),
            ([*over, Tap(99, 0, "next")], "nothing is left"),
            ([*over, Tap(99, 0, "back")], "nothing is left"),
            ([Tap(1, 7, "next")], "at most 1"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                developing.lanes(PLAIN, taps, 2, 0.0)
        with self.assertRaisesRegex(ValueError, "at least 1"):
            developing.lanes(PLAIN, [], 0, 0.0)
