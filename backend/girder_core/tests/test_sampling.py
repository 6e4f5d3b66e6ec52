"""Seeded samples against the distribution they are said to follow, with scipy as oracle."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from girder_core.physics import STOCKS, Bounds, Samples, State, predict
from girder_core.physics.predictions import SAMPLES
from girder_core.tests import tries


class Distribution(unittest.TestCase):
    @given(st.floats(0.1, 100), st.floats(1.05, 5), st.floats(1.05, 5))
    @settings(max_examples=tries(40))
    def test_two_halves_even_on_a_logarithmic_scale(self, middle: float, below: float, above: float) -> None:
        bounds = Bounds(middle / below, middle, middle * above)
        draws = Samples().draw(bounds, "ks")
        # Kolmogorov-Smirnov against the two log-uniform halves; stratified draws lie far closer than random ones.
        lower, upper = draws[draws < middle], draws[draws >= middle]
        self.assertAlmostEqual(lower.size / draws.size, 0.5, delta=0.001)
        for part, low, high in ((lower, bounds.low, middle), (upper, middle, bounds.high)):
            fits = stats.kstest(part, stats.loguniform(low, high).cdf)
            self.assertLess(fits.statistic, 2 / part.size)

    def test_as_many_as_are_said_and_frozen(self) -> None:
        draws = Samples().draw(Bounds(1, 2, 3), "n")
        self.assertEqual(draws.size, SAMPLES)
        self.assertEqual(Samples(count=50).draw(Bounds(1, 2, 3), "n").size, 50)

    def test_causes_are_independent_of_each_other(self) -> None:
        names = ["manila modulus", "manila compression", "folds", "plate coefficient", "lean"]
        table = np.array([Samples().draw(Bounds(1, 2, 4), name) for name in names])
        for i in range(len(names)):
            for j in range(i):
                rank = stats.spearmanr(table[i], table[j]).statistic
                self.assertLess(abs(rank), 4 / math.sqrt(SAMPLES), f"{names[i]} and {names[j]}")

    def test_another_seed_tells_the_same_story(self) -> None:
        # Percentiles of 2,000 samples move by a few per cent at most when the dice are thrown anew.
        def range_of(seed: int) -> tuple[float, float, float]:
            draws = Samples(seed=seed)
            strong, wide = STOCKS["manila"].compression_pa, Bounds(0.6, 0.85, 1.0)
            load = draws.draw(strong, "a") * draws.draw(wide, "b") * 1e-5
            prediction = predict([State("s", "s", load, "e", "y", "src")])
            return prediction.low_n, prediction.typical_n, prediction.high_n

        first = range_of(1729)
        for seed in (1, 2, 3, 4):
            for drawn, other in zip(first, range_of(seed), strict=True):
                self.assertAlmostEqual(other / drawn, 1, delta=0.04)

    def test_weakest_of_many_like_causes_is_weaker(self) -> None:
        # The least of n independent draws: its median is the 1 − 2^(−1/n) quantile of one.
        bounds, n = Bounds(1.0, 2.0, 4.0), 8
        draws = [Samples().draw(bounds, f"joint {i}") for i in range(n)]
        prediction = predict([State(str(i), str(i), drawn, "e", "y", "src") for i, drawn in enumerate(draws)])
        share = 1 - 0.5 ** (1 / n)
        expected = math.exp(2 * share * math.log(2.0))
        self.assertAlmostEqual(prediction.typical_n / expected, 1, delta=0.02)
