"""Predictions: ranges, the weakest in each sample, and learning from a class."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from girder_core.ground import GRAVITY_M_S2, GirderError
from girder_core.physics import (
    Bounds,
    Help,
    ModelBelief,
    Prediction,
    Samples,
    State,
    calibrate,
    calibrated,
    model_belief,
    modelled,
    predict,
    rank_helps,
    scaled,
    told_by_class,
)
from girder_core.physics.predictions import PRIOR_LOG, USUAL_SCATTER_LOG, WORTH, with_model_error
from girder_core.tests import tries


def state(key: str, load: object) -> State:
    return State(key, key, load, "why", "why", "source")  # type: ignore[arg-type]


class Sampling(unittest.TestCase):
    def test_half_below_and_half_above_and_within(self) -> None:
        draws = Samples().draw(Bounds(1.0, 2.0, 8.0), "x")
        self.assertAlmostEqual(float(np.median(draws)), 2.0, delta=0.01)
        self.assertTrue(((draws >= 1.0) & (draws <= 8.0)).all())

    def test_a_name_is_a_cause(self) -> None:
        bounds = Bounds(1.0, 2.0, 4.0)
        same, other = Samples().draw(bounds, "a"), Samples().draw(bounds, "b")
        self.assertTrue((same == Samples().draw(bounds, "a")).all())
        # Two causes are independent: rank correlation by scipy, |ρ| within four standard errors of 0.
        self.assertLess(abs(stats.spearmanr(same, other).statistic), 4 / math.sqrt(2000))
        self.assertFalse((same == Samples(seed=2).draw(bounds, "a")).all())

    def test_a_range_is_in_order(self) -> None:
        for low, middle, high in ((2, 1, 3), (0, 1, 2), (1, 2, math.inf)):
            with self.assertRaises(GirderError):
                Bounds(low, middle, high)


class Ladder(unittest.TestCase):
    def test_percentiles_of_a_known_distribution(self) -> None:
        # Evenly spread on a logarithmic scale between 1 and 100: percentiles are 100^q.
        draws = Samples().draw(Bounds(1, 10, 100), "known")
        prediction = predict([state("only", draws)])
        for value, share in ((prediction.low_n, 0.1), (prediction.typical_n, 0.5), (prediction.high_n, 0.9)):
            self.assertAlmostEqual(value / 100**share, 1, delta=0.005)

    def test_the_weakest_governs_sample_by_sample(self) -> None:
        first, two = Samples().draw(Bounds(1, 2, 4), "p"), Samples().draw(Bounds(1, 2, 4), "q")
        prediction = predict([state("one", first), state("two", two)])
        weakest = np.minimum(first, two)
        self.assertAlmostEqual(prediction.typical_n, float(np.quantile(weakest, 0.5)), delta=0.01)
        self.assertAlmostEqual(sum(s.share for s in prediction.limit_states), 1.0, delta=1e-12)
        self.assertLess(prediction.typical_n, prediction.governing.typical_n)

    def test_what_never_happens_is_left_out(self) -> None:
        prediction = predict([state("can", 5.0), state("never", np.full(2000, np.inf))])
        self.assertEqual([s.key for s in prediction.limit_states], ["can"])
        with self.assertRaises(GirderError) as caught:
            predict([state("never", np.inf)])
        self.assertEqual(caught.exception.code, "nothing_fails")

    def test_never_a_blank(self) -> None:
        with self.assertRaises(GirderError) as caught:
            predict([state("bad", np.array([1.0, math.nan]))])
        self.assertEqual(caught.exception.code, "not_computable")
        self.assertEqual(predict([state("below", -3.0)]).typical_n, 0.0)

    def test_helps_in_order_and_only_gains(self) -> None:
        given = [Help("a", 1, 0, "a", 1), Help("b", -1, 0, "b", 1), Help("c", 3, 0, "c", 1)]
        self.assertEqual([helpful.change for helpful in rank_helps(given)], ["c", "a"])


def plain(typical: float = 10.0, factor: float = 2.0) -> Prediction:
    return predict([state("only", Samples().draw(Bounds(typical / factor, typical, typical * factor), "plain"))])


class Learning(unittest.TestCase):
    def test_posterior_mean_by_the_textbook(self) -> None:
        # Gelman et al., Bayesian Data Analysis, eq. 2.12: precision-weighted mean of prior 0 and data (from memory).
        pairs = [(6.0, 10.0), (5.0, 10.0)]
        logs = [math.log(0.6), math.log(0.5)]
        mean = math.fsum(logs) / 2
        # The variance of a normal sample with a scaled inverse chi-square prior, ibid. 2.6: pooled sums of squares.
        scatter = (WORTH * USUAL_SCATTER_LOG**2 + math.fsum((log - mean) ** 2 for log in logs)) / (WORTH + 1)
        prior, data = 1 / PRIOR_LOG**2, 2 / scatter
        self.assertAlmostEqual(calibrate(pairs).correction, math.exp(data * mean / (prior + data)), delta=1e-12)
        self.assertAlmostEqual(calibrate(pairs).measured, math.sqrt(0.3), delta=1e-12)

    def test_few_count_part_of_the_way_and_many_nearly_all(self) -> None:
        single, many = calibrate([(5.0, 10.0)]), calibrate([(5.0, 10.0)] * 30)
        self.assertTrue(many.correction < single.correction < 1)
        self.assertAlmostEqual(many.correction, 0.5, delta=0.01)
        self.assertIn("over 1 trial.", single.says("tubes"))
        self.assertIn("held 0.5 times what the model said, over 30 trials.", many.says("tubes"))
        self.assertIn("only part of that is used", single.says("tubes"))

    @given(st.lists(st.tuples(st.floats(0.1, 100), st.floats(0.1, 100)), min_size=1, max_size=12), st.floats(0.2, 5))
    @settings(max_examples=tries(60))
    def test_between_nothing_learnt_and_all(self, pairs: list[tuple[float, float]], unit: float) -> None:
        calibration = calibrate(pairs)
        low, high = sorted((1.0, calibration.measured))
        self.assertTrue(low - 1e-9 <= calibration.correction <= high + 1e-9)
        # Units do not matter.
        again = calibrate([(m * unit, p * unit) for m, p in pairs])
        self.assertAlmostEqual(again.correction, calibration.correction, delta=1e-9)

    def test_applied_and_taken_back(self) -> None:
        before, calibration = plain(), calibrate([(6.0, 10.0)] * 7)
        after = calibrated(before, calibration)
        self.assertAlmostEqual(after.typical_n / before.typical_n, calibration.correction, delta=1e-12)
        alone = with_model_error(before, PRIOR_LOG)
        self.assertLess(after.high_n / after.low_n, alone.high_n / alone.low_n)
        self.assertAlmostEqual(scaled(after, 1 / after.correction).typical_n, before.typical_n, delta=1e-9)

    def test_a_kept_range_is_moved_as_the_prediction_is(self) -> None:
        before, calibration = plain(), calibrate([(6.0, 10.0)] * 7)
        after = calibrated(before, calibration)
        kept = modelled(before.low_n, before.typical_n, before.high_n, calibration)
        for mass, load in (
            (kept.low_kg, after.low_n),
            (kept.typical_kg, after.typical_n),
            (kept.high_kg, after.high_n),
        ):
            self.assertAlmostEqual(mass * GRAVITY_M_S2 / load, 1, delta=1e-12)
        self.assertIn("as the class held", kept.basis)
        bare = modelled(before.low_n, before.typical_n, before.high_n)
        self.assertEqual((bare.basis, bare.typical_kg), ("the model", before.typical_n / GRAVITY_M_S2))

    def test_another_class_by_the_textbook(self) -> None:
        # Two jointly normal values of variance e² and covariance e²/2, the second read to s: mean y·(e²/2)/(e² + s²),
        # variance e² − (e²/2)²/(e² + s²).
        e, s, y = math.log(2), 0.2, math.log(0.6)
        belief = model_belief(e, "card", [("card", y, s)])
        self.assertAlmostEqual(belief.off_log, y * (e**2 / 2) / (e**2 + s**2))
        self.assertAlmostEqual(belief.unsure_log**2, e**2 - (e**2 / 2) ** 2 / (e**2 + s**2))
        # Another material tells less, and no class nothing.
        self.assertLess(abs(model_belief(e, "foil", [("card", y, s)]).off_log), abs(belief.off_log))
        self.assertEqual(model_belief(e, "card"), ModelBelief(0.0, e))

    def test_a_class_without_a_trial_has_what_others_told(self) -> None:
        other = calibrate([(0.6, 1.0)] * 5)
        belief = model_belief(PRIOR_LOG, "card", [("card", *told_by_class(other))])
        first = calibrate([], belief=belief)
        self.assertTrue(0.6 < first.correction < 1)
        self.assertEqual((first.count, first.classes), (0, 1))
        said = f"In your other class tubes held {first.measured:.2g} times what the model said."
        self.assertEqual(first.says("tubes"), said)
        # Its own trials then count beside that, and it is said.
        own = calibrate([(1.0, 1.0)], belief=belief)
        self.assertLess(own.correction, calibrate([(1.0, 1.0)]).correction)
        self.assertIn("With what your other class showed, it is times", own.says("tubes"))

    def test_nothing_to_learn_from(self) -> None:
        for pairs in ([], [(0.0, 1.0)], [(1.0, math.inf)]):
            with self.assertRaises(GirderError):
                calibrate(pairs)
        with self.assertRaises(GirderError):
            scaled(plain(), 0.0)
