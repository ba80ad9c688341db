"""The model of a whole log: against scipy, and on synthetic logbooks of known truth."""

import json
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as some
from scipy import optimize, stats

from pinhole import reciprocity
from pinhole.lessons import (
    BENDS_AT,
    PRIOR_SD,
    Judged,
    Share,
    estimate_ei,
    estimate_line,
    fitting_ei,
    from_data,
    from_shift,
    learn,
    pooled,
    steepness,
    to_data,
)
from pinhole.lessons.fitting import Design, fit, looked
from tests.pinhole.logbooks import JUDGEMENT_SD, coverage, logbook
from tests.pinhole.worlds import WORLDS, held_by_plans

SCHOOLS = (
    reciprocity.NoCorrection(),
    reciprocity.PowerLaw(1.3),
    reciprocity.PowerLaw(1.1, 10),
    reciprocity.Table(((1, 2), (4, 20), (20, 180))),
)
TIMES = some.lists(some.floats(0.05, 3000), min_size=0, max_size=12)


def unbent(learned):
    """The Learned whose papers are straight lines."""
    return learned.held({name: 0.0 for name in learned.names if name[0] == "bend"})


def bends_of(judged, n):
    """{name: how often a bend counts} of a sheet, away from the middle of its paper's times."""
    its = [judged.metered_s[m] for m, p in enumerate(judged.paper) if p == judged.paper[n]]
    middle, time = np.median(np.log2(its)), np.log2(judged.metered_s[n])
    times = {at: time - at if at >= middle else at - time for at in BENDS_AT}
    return {("bend", (judged.paper[n], at)): count for at, count in times.items() if count > 0}


def one_paper(metered, needed, **more):
    none = (None,) * len(metered)
    keys = {"paper": ("RC",) * len(metered), "pair": none, "camera": none, "light": none}
    return Judged(metered, metered, needed, **(keys | {"process": none} | more))


class Alike(TestCase):
    """The EI that a sheet would have been right at: by powers worked out by hand, there and
    back.
    """

    def test_by_hand(self):
        power, plain = reciprocity.PowerLaw(1.3), reciprocity.NoCorrection()
        # 100^1.3 = 10^2.6 = 398.1 s (arithmetic): 400 s at EI 1 and EI 4.
        self.assertAlmostEqual(fitting_ei(10**2.6, 400, power), 4, places=6)
        self.assertAlmostEqual(fitting_ei(10**2.6, 400, plain), 400 / 10**2.6, places=6)
        # A stop of light is 1.3 stops of the clock: the exponent is the slope on log axes.
        self.assertAlmostEqual(steepness(power, 500), 1.3, places=6)
        self.assertAlmostEqual(steepness(plain, 500), 1.0, places=9)
        self.assertAlmostEqual(steepness(power, 0.5), 1.0, places=6)
        # A tenth of a stop over the time where an exponent of 1.3 begins: of the quarter of a stop
        # on either side, 0.15 are plain and 0.35 steep (arithmetic): 0.3 + 0.7 * 1.3.
        kinked = reciprocity.PowerLaw(1.3, 10)
        self.assertAlmostEqual(steepness(kinked, 10 * 2**0.1), 1.21, places=6)

    @given(some.floats(0.5, 200), some.floats(1, 5000), some.sampled_from(SCHOOLS))
    def test_there_and_back(self, ei, at_one_s, school):
        back = fitting_ei(school.adjusted_s(at_one_s / ei), at_one_s, school)
        self.assertAlmostEqual(back / ei, 1, places=6)

    def test_what_is_no_time_is_refused(self):
        plain = reciprocity.NoCorrection()
        for call in (
            lambda: fitting_ei(0, 1, plain),
            lambda: fitting_ei(1, -1, plain),
            lambda: steepness(plain, -1),
        ):
            self.assertRaises(ValueError, call)


class Stated(TestCase):
    def test_a_shift_is_an_ei_with_its_range_on_both_sides(self):
        # Half a stop more than EI 8, one stop give or take: 90 % lie within 1.645 sd (tables).
        found = from_shift(8.0, 0.5, 1.0)
        self.assertAlmostEqual(found.ei, 8 / 2**0.5)
        self.assertAlmostEqual(np.log2(found.high / found.ei), 1.645, places=3)
        self.assertAlmostEqual(np.log2(found.ei / found.low), 1.645, places=3)
        # Two stops of the clock to one of light.
        steep = from_shift(8.0, 0.5, 1.0, steepness=2)
        self.assertAlmostEqual(np.log2(8 / steep.ei), 0.25)
        self.assertAlmostEqual(steep.sd_log2, 0.5)

    def test_a_share_is_as_sure_as_it_is_far_from_nothing(self):
        self.assertEqual([Share("camera", 1, mean, 0.25, 3).sure for mean in (0.5, -1)], [2.0, 4.0])


class Pooled(TestCase):
    @given(some.lists(some.tuples(some.floats(-3, 3), some.floats(0.1, 2)), min_size=1, max_size=6))
    @settings(max_examples=25, deadline=None)
    def test_it_is_what_scipy_finds_by_summing(self, sightings):
        values, sds = map(np.array, zip(*sightings, strict=True))
        mean, sd = pooled(values, sds, prior_sd=0.7)
        at = mean + sd * np.linspace(-8, 8, 4001)
        logs = stats.norm.logpdf(at, 0, 0.7) + stats.norm.logpdf(
            values[:, None], at, sds[:, None]
        ).sum(0)
        weight = np.exp(logs - logs.max())
        weight /= weight.sum()
        self.assertAlmostEqual(mean, (weight * at).sum(), places=4)
        self.assertAlmostEqual(sd, np.sqrt((weight * (at - mean) ** 2).sum()), places=4)


class Line(TestCase):
    @given(TIMES, some.integers(0, 999))
    @settings(max_examples=25, deadline=None)
    def test_it_is_what_scipy_finds_by_summing_over_a_grid(self, metered, seed):
        chance = np.random.default_rng(seed)
        needed = np.array(metered) ** 1.1 * 2 ** chance.normal(0.5, 0.5, len(metered))
        line = estimate_line(metered, needed)
        shift, exponent = np.meshgrid(
            line.shift + line.shift_sd * np.linspace(-7, 7, 181),
            line.exponent + line.exponent_sd * np.linspace(-7, 7, 181),
            indexing="ij",
        )
        logs = stats.norm.logpdf(shift, 0, 1) + stats.norm.logpdf(exponent, 1, 0.15)
        for m, n in zip(metered, needed, strict=True):
            logs += stats.norm.logpdf(np.log2(n), shift + exponent * np.log2(m), 0.5)
        weight = np.exp(logs - logs.max())
        weight /= weight.sum()
        means = [(weight * axis).sum() for axis in (shift, exponent)]
        sds = [
            np.sqrt((weight * (axis - mean) ** 2).sum())
            for axis, mean in zip((shift, exponent), means, strict=True)
        ]
        np.testing.assert_allclose([line.shift, line.exponent], means, atol=2e-3)
        np.testing.assert_allclose([line.shift_sd, line.exponent_sd], sds, rtol=5e-3)
        both = (weight * (shift - means[0]) * (exponent - means[1])).sum() / np.prod(sds)
        self.assertAlmostEqual(line.correlation, both, delta=0.01)

    def test_no_sheets_give_the_prior_and_nonsense_is_refused(self):
        line = estimate_line([], [], shift_sd=0.7, exponent_mean=1.2, exponent_sd=0.1)
        got = line.shift, line.shift_sd, line.exponent, line.exponent_sd, line.correlation
        np.testing.assert_allclose(got, (0, 0.7, 1.2, 0.1, 0), atol=1e-12)
        # Times of a minute or so pull hard on both.
        self.assertAlmostEqual(estimate_line([60] * 9, [70] * 9).correlation, -0.9, delta=0.1)
        for wrong in (([1], [1, 2]), ([0], [1]), ([1], [-1]), ([[1]], [[1]])):
            with self.assertRaises(ValueError):
                estimate_line(*wrong)
        with self.assertRaises(ValueError):
            estimate_line([1], [1], judgement_sd=0)


class Model(TestCase):
    def test_one_paper_is_the_line(self):
        chance = np.random.default_rng(3)
        metered = 2 ** chance.uniform(1, 11, 15)
        needed = metered**1.15 * 2 ** chance.normal(-0.6, 0.5, 15)
        learned = unbent(learn(one_paper(metered, needed), robust=False))
        # Speed and exponent turn about the middle of the sheets' times.
        middle = np.median(np.log2(metered))
        line = estimate_line(
            metered / 2**middle,
            needed / 2**middle,
            shift_sd=PRIOR_SD["paper"],
            exponent_sd=PRIOR_SD["exponent"],
        )
        self.assertAlmostEqual(learned.further("RC", 1.0), -middle)
        self.assertAlmostEqual(learned.share("paper", "RC").mean, line.shift)
        self.assertAlmostEqual(learned.share("exponent", "RC").mean, line.exponent - 1)
        self.assertAlmostEqual(learned.share("exponent", "RC").sd, line.exponent_sd)

    def test_one_pair_alone_is_the_ei_that_estimate_ei_has(self):
        stops = [0.5, 1.0, -0.3]
        metered = np.full(3, 64.0)
        pair = ("RC", "coffee")
        judged = one_paper(metered, metered * 2 ** np.array(stops), pair=(pair,) * 3)
        names = {("paper", "RC"): 1.0, ("pair", pair): 1.0}
        mean, sd = learn(judged, robust=False).held({("exponent", "RC"): 0.0}).stops(names)
        known = estimate_ei(6, stops)
        self.assertAlmostEqual(np.log2(6) - mean, known.mean_log2)
        self.assertAlmostEqual(sd, known.sd_log2)

    def test_a_sheet_counts_as_students_t_has_it(self):
        chance = np.random.default_rng(5)
        metered = 2 ** chance.uniform(2, 8, 14)
        over = chance.normal(0, 0.4, 14)
        over[3] = 2.5
        learned = learn(one_paper(metered, metered * 2**over), judgement_sd=0.5)
        rows = np.ones((14, 1)), (np.log2(metered) - np.median(np.log2(metered)))[:, None]
        column = [learned.names["paper", "RC"], learned.names["exponent", "RC"]]
        rows = np.hstack(rows)
        noise = learned.judgement_sd
        # What Student's t tells less than a normal of its scale is in the spread already.
        spread = learned.spread[np.ix_(column, column)] * 7 / 9
        known = (rows @ spread * rows).sum(axis=1)
        scale = np.sqrt(np.maximum(noise**2 - known, 0.25 * noise**2))
        # Its weight is what the slope of scipy's density is, against a normal's of that width.
        residual, step = learned.residuals, 1e-5
        slope = stats.t.logpdf(residual + step, 6, 0, scale) - stats.t.logpdf(
            residual - step, 6, 0, scale
        )
        expected = np.minimum(1, -(scale**2) * slope / (2 * step) / residual)
        np.testing.assert_allclose(learned.weights, expected, atol=0.03)
        self.assertLess(learned.weights[3], 0.45)
        self.assertGreater((learned.weights == 1).sum(), 4)

    def test_a_look_tells_what_scipy_finds_by_summing_over_a_grid(self):
        # Two sheets that were only looked at, one of them at the open end: an ordered probit.
        ends = looked(np.array([0.7, 2.3]), np.array([0.5, 2.0]))
        np.testing.assert_allclose(ends, [[0.45, 1.8], [0.95, np.inf]])
        design = Design(np.array([[0], [0]]), np.ones((2, 1)), 1)
        fitted = fit(design, ends, np.array([0.75]), 0.5, robust=False)
        at = np.linspace(-4, 5, 20001)
        logs = stats.norm.logpdf(at, 0, 0.75**0.5)
        for low, high in ends.T:
            inside = stats.norm.cdf(high, at, 0.5) - stats.norm.cdf(low, at, 0.5)
            logs += np.log(np.maximum(inside, 1e-300))
        weight = np.exp(logs - logs.max())
        weight /= weight.sum()
        mean = (weight * at).sum()
        self.assertAlmostEqual(float(fitted.mean[0]), mean, delta=0.02)
        sd = np.sqrt((weight * (at - mean) ** 2).sum())
        self.assertAlmostEqual(float(fitted.spread[0, 0]) ** 0.5, sd, delta=0.02)

    def test_the_noise_of_an_eye_is_found(self):
        chance, metered = np.random.default_rng(8), 2 ** np.random.default_rng(9).uniform(2, 8, 120)
        for noise in (0.25, 0.5, 0.9):
            learned = learn(one_paper(metered, metered * 2 ** chance.normal(0.3, noise, 120)))
            # Student's t with six degrees of freedom is 1.22 times as wide as its scale.
            self.assertTrue(noise / 1.35 < learned.judgement_sd < 1.15 * noise, noise)

    def test_the_whole_model_is_the_likeliest_that_scipy_finds(self):
        book = logbook(np.random.default_rng(4), 30)
        learned, judged = learn(book.judged, robust=False), book.judged
        names = list(learned.names)

        def unlikely(values):
            of = dict(zip(names, values, strict=True))
            cost = sum((of[name] / PRIOR_SD[name[0]]) ** 2 for name in names)
            for n in range(len(judged)):
                more = sum(
                    of[kind, getattr(judged, kind)[n]]
                    for kind in ("paper", "pair", "camera", "light", "process")
                    if getattr(judged, kind)[n] is not None
                )
                further = learned.further(judged.paper[n], judged.metered_s[n])
                more += of["exponent", judged.paper[n]] * further
                more += sum(of[name] * times for name, times in bends_of(judged, n).items())
                off = np.log2(judged.needed_s[n] / judged.school_s[n]) - more
                cost += (off / 0.5) ** 2
            return cost / 2

        found = optimize.minimize(unlikely, np.zeros(len(names)), method="BFGS", tol=1e-9)
        np.testing.assert_allclose(learned.mean, found.x, atol=1e-4)

    def test_the_stated_range_holds_the_truth_about_nine_times_in_ten(self):
        # A smaller run of scripts/coverage.py, whose table stands in docs/learning.md.
        for sheets in (6, 25):
            for what, share in coverage(120, sheets, seed=sheets).items():
                with self.subTest((sheets, what)):
                    self.assertGreater(share, 0.82)

    def test_after_ten_sheets_of_a_paper_its_time_is_within_half_a_stop(self):
        chance, near = np.random.default_rng(6), []
        for _ in range(120):
            speed, exponent = chance.normal(0, 0.8), chance.normal(0, 0.1)
            metered = 2 ** chance.uniform(3, 9, 10)
            needed = metered * 2 ** (
                speed + exponent * np.log2(metered) + chance.normal(0, JUDGEMENT_SD, 10)
            )
            learned = learn(one_paper(metered, needed))
            further = learned.further("RC", 64.0)
            mean, _ = learned.stops({("paper", "RC"): 1.0, ("exponent", "RC"): further})
            near.append(abs(mean - speed - 6 * exponent) < 0.5)
        self.assertGreater(np.mean(near), 0.9)

    def test_no_sheet_leaves_everything_as_the_schools_have_it(self):
        learned = learn(one_paper([], []))
        self.assertEqual(learned.shares, [])
        mean, sd = learned.stops({("paper", "RC"): 1.0, ("exponent", "RC"): 6.0})
        self.assertEqual(mean, 0)
        self.assertAlmostEqual(sd, np.hypot(PRIOR_SD["paper"], 6 * 0.18))

    def test_what_was_learned_is_kept_as_data_and_comes_back(self):
        learned = learn(logbook(np.random.default_rng(1), 20).judged)
        back = from_data(json.loads(json.dumps(to_data(learned))))
        for kind, key in learned.names:
            self.assertEqual(back.share(kind, key), learned.share(kind, key))
        plan = {("paper", "RC"): 1.0, ("pair", ("RC", "coffee")): 1.0, ("exponent", "RC"): 4.0}
        np.testing.assert_allclose(back.stops(plan), learned.stops(plan), rtol=1e-12)
        self.assertEqual((len(back.weights), len(back.residuals)), (0, 0))
        self.assertEqual(from_data(to_data(learn(one_paper([], [])))).shares, [])

    def test_an_odd_sheet_is_named_and_hardly_moves_the_rest(self):
        metered = np.full(9, 60.0)
        plain = learn(one_paper(metered, metered * 2**0.5))
        needed = metered * 2 ** np.where(np.arange(9) == 4, -3.5, 0.5)
        odd = learn(one_paper(metered, needed))
        self.assertEqual(np.flatnonzero(odd.odd).tolist(), [4])
        at = {("paper", "RC"): 1.0, ("exponent", "RC"): plain.further("RC", 60)}
        self.assertLess(abs(odd.stops(at)[0] - plain.stops(at)[0]), 0.15)
        naive = learn(one_paper(metered, needed), robust=False)
        self.assertGreater(abs(naive.stops(at)[0] - plain.stops(at)[0]), 0.35)

    @given(some.permutations(range(12)), some.integers(0, 99))
    @settings(max_examples=20, deadline=None)
    def test_the_order_of_sheets_is_nothing_and_each_narrows(self, order, seed):
        judged = logbook(np.random.default_rng(seed), 12).judged
        mixed = Judged(
            *(getattr(judged, name)[order] for name in ("metered_s", "school_s", "needed_s")),
            *(
                tuple(getattr(judged, name)[n] for n in order)
                for name in ("paper", "pair", "camera", "light", "process")
            ),
        )
        one, other = learn(judged), learn(mixed)
        for kind, key in one.names:
            self.assertAlmostEqual(one.share(kind, key).mean, other.share(kind, key).mean, places=3)
            self.assertLessEqual(one.share(kind, key).sd, PRIOR_SD[kind] + 1e-9)
        # Held at nothing, a share asks for nothing, and the others are no less sure.
        exponent = ("exponent", judged.paper[0])
        held = one.held({exponent: 0.0})
        self.assertEqual(held.stops({exponent: 5.0}), (0.0, 0.0))
        paper = {("paper", judged.paper[0]): 1.0}
        self.assertLessEqual(held.stops(paper)[1], one.stops(paper)[1] + 1e-9)

    def test_what_a_sheet_would_tell_comes_true(self):
        chance = np.random.default_rng(2)
        metered = 2 ** np.concatenate([[1.0, 11.5], chance.uniform(3, 4, 10)])
        cameras = ("Plank",) * 12
        learned = learn(one_paper(metered, metered, camera=cameras), robust=False)
        plans = [("RC", s) for s in (20, 120, 1200)]

        def sds(by):
            keys = {"pair": None, "camera": "Plank", "light": None, "process": None}
            return np.array([by.plan(paper=p, metered_s=s, **keys)[1] for p, s in plans])

        names, low, short = (
            learned.exposure({"paper": "RC", "camera": "Plank"}, s) for s in (900, 1.0, 10)
        )
        long = sds(learned.narrowed(names, 0.5))
        # One sheet above the middle and one below it, so that it stays where it is.
        more = [*metered, 900.0, 1.0]
        made = learn(one_paper(more, more, camera=(*cameras, "Plank", "Plank")), robust=False)
        said = sds(learned.narrowed(names, 0.5).narrowed(low, 0.5))
        np.testing.assert_allclose(sds(made), said, atol=1e-9)
        # A long one tells more of long times than one more like the rest.
        self.assertLess(long[2], 0.9 * sds(learned.narrowed(short, 0.5))[2])

    def test_what_is_refused_is_left_out_and_its_doubt_stays(self):
        learned = learn(logbook(np.random.default_rng(1), 40).judged)
        asked = {"paper": "RC", "pair": ("RC", "coffee"), "light": None, "process": "tank"}
        asked |= {"camera": "Wedge", "metered_s": 64.0}
        mean, sd = learned.plan(**asked)
        left, wider = learned.plan(**asked, refused={("camera", "Wedge")})
        self.assertAlmostEqual(mean - left, learned.share("camera", "Wedge").mean)
        self.assertGreater(wider, PRIOR_SD["camera"])
        # What no sheet speaks of brings its prior's doubt.
        _, new = learned.plan(**asked | {"camera": "Tin"})
        self.assertGreater(new, max(sd, PRIOR_SD["camera"]))
        with self.assertRaises(ValueError):
            learned.plan(**asked | {"metered_s": 0.0})


class Worlds(TestCase):
    """Plans in worlds that are not the model's: photographers who correct half of what they see and
    judge by looks, holes far off, slips, coarse and fine eyes, one camera a paper.
    """

    def test_a_plans_range_holds_the_truth_and_sixty_sheets_are_near_it(self):
        for kind in WORLDS:
            for sheets in (10, 60):
                held, near = held_by_plans(kind, sheets, logs=25, seed=sheets)
                with self.subTest(kind, sheets=sheets):
                    # 100 plans: nine in ten, give or take what chance does to so few.
                    self.assertGreaterEqual(held, 0.78 if kind != "far hole" else 0.6)
                    if sheets == 60:
                        self.assertGreaterEqual(near, 0.75 if kind == "coarse" else 0.85)
