"""The learned EI against numerical Bayes, and against synthetic logbooks whose truth is known."""

from unittest import TestCase

import numpy as np
from scipy import integrate, stats

from pinhole.lessons import estimate_ei


class LearnedEi(TestCase):
    CASES = (
        (6, []),
        (6, [0.5]),
        (3, [-1, -0.5, 0]),
        (100, [2, 1.5, 2.5, 2, 0]),
        (0.8, [-0.25] * 12),
    )

    def test_posterior_is_that_of_numerical_integration(self):
        for box, stops in self.CASES:
            with self.subTest(box=box, stops=stops):
                grid = np.linspace(np.log2(box) - 6, np.log2(box) + 6, 20_001)
                weight = stats.norm.pdf(grid, np.log2(box), 1)
                for needed in stops:
                    weight *= stats.norm.pdf(np.log2(box) - needed, grid, 0.5)
                weight /= integrate.trapezoid(weight, grid)
                mean = integrate.trapezoid(weight * grid, grid)
                sd = integrate.trapezoid(weight * (grid - mean) ** 2, grid) ** 0.5
                found = estimate_ei(box, stops)
                np.testing.assert_allclose((found.mean_log2, found.sd_log2), (mean, sd), atol=1e-6)
                np.testing.assert_allclose(
                    (found.low, found.high), np.exp2(stats.norm.interval(0.9, mean, sd)), rtol=1e-5
                )
                self.assertEqual(found.ei, 2**found.mean_log2)

    def test_the_stated_range_holds_nine_times_in_ten(self):
        chance = np.random.default_rng(7)
        held, last = 0, []
        for _ in range(2000):
            truth = chance.normal(np.log2(6), 1)
            stops = np.log2(6) - truth + chance.normal(0, 0.5, chance.integers(1, 15))
            found = estimate_ei(6, stops)
            held += found.low <= 2**truth <= found.high
            last.append(found.mean_log2 - truth)
        # Binomial(2000, 0.9): three standard deviations are 0.02.
        self.assertAlmostEqual(held / 2000, 0.9, delta=0.02)
        self.assertAlmostEqual(np.mean(last), 0, delta=0.02)

    def test_ranges_are_named(self):
        for arguments in ((0, []), (6, [float("inf")])):
            with self.assertRaisesRegex(ValueError, "must be"):
                estimate_ei(*arguments)
        with self.assertRaisesRegex(ValueError, "prior_sd"):
            estimate_ei(6, [], prior_sd=0)
