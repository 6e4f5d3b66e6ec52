"""The model behind every chance: against a brute-force sum of its own assumptions, and what must not move it."""

import math
import unittest

import numpy as np
from scipy.special import ndtr

from girder_core.ground import GirderError
from girder_core.results import Scatter, ScatterBelief, belief_from, strengths
from girder_core.results.again import SCATTER_UNSURE_LOG, SPREAD_SCALE, USUAL_SCATTER, middles
from girder_core.trial import Interval

TWICE = [
    [Interval(1.0, 1.05), Interval(1.2, 1.25)],
    [Interval(0.9, 0.95), Interval(0.8, 0.85)],
    [Interval(0.6, 0.65), Interval(0.7, math.inf)],
    [Interval(0.0, 0.3), Interval(0.45, 0.5)],
]


def weights(trials: list[list[Interval]], truth: np.ndarray, scatter: np.ndarray) -> np.ndarray:
    """How likely each draw makes the trials."""
    weight = np.ones(len(truth))
    for i, own in enumerate(trials):
        for trial in own:
            low = -np.inf if trial.low == 0 else math.log(trial.low)
            high = np.inf if math.isinf(trial.high) else math.log(trial.high)
            weight *= ndtr((high - truth[:, i]) / scatter) - ndtr((low - truth[:, i]) / scatter)
    return weight


def by_brute_force(trials: list[list[Interval]], draws: int = 400_000) -> np.ndarray:
    """Chance that each design is better than the next, by drawing scatter, spread, middle and all strengths from what
    is believed beforehand, and weighing each draw by how likely it makes the trials."""
    dice = np.random.default_rng(11)
    scatter = np.exp(dice.normal(math.log(USUAL_SCATTER), SCATTER_UNSURE_LOG, draws))
    spread = np.abs(dice.normal(0, SPREAD_SCALE, draws))
    middle = dice.uniform(-1.5, 1.0, draws)
    truth = middle[:, None] + spread[:, None] * dice.normal(size=(draws, len(trials)))
    weight = weights(trials, truth, scatter)
    return np.array([np.average(truth[:, i] > truth[:, i + 1], weights=weight) for i in range(len(trials) - 1)])


class Model(unittest.TestCase):
    def better(self, trials: list[list[Interval]], belief: ScatterBelief | None = None) -> np.ndarray:
        drawn = strengths(trials, belief).log_strength
        return np.asarray((drawn[:, :-1] > drawn[:, 1:]).mean(0))

    def test_as_its_own_assumptions_added_up_by_brute_force(self) -> None:
        # The grid of scatters ends at 0.03 and 0.9, of spreads at 0.025; both sums are made of draws: 4 in a hundred.
        np.testing.assert_allclose(self.better(TWICE), by_brute_force(TWICE), atol=0.04)
        once = [own[:1] for own in TWICE]
        np.testing.assert_allclose(self.better(once), by_brute_force(once), atol=0.04)

    def test_the_unit_does_not_matter_and_hardly_the_order(self) -> None:
        grams = [[Interval(1000 * t.low, 1000 * t.high) for t in own] for own in TWICE]
        np.testing.assert_allclose(self.better(grams), self.better(TWICE), atol=1e-9)
        back = 1 - self.better(TWICE[::-1])[::-1]
        np.testing.assert_allclose(back, self.better(TWICE), atol=0.04)

    def test_the_same_trials_give_the_same_answer(self) -> None:
        first, second = (strengths(TWICE, ScatterBelief(0.2, 0.3, basis)) for basis in ("here", "elsewhere"))
        np.testing.assert_array_equal(first.log_strength, second.log_strength)

    def test_a_class_that_is_known_to_scatter_less_is_surer(self) -> None:
        once = [own[:1] for own in TWICE[:3]]
        calm, wild = (self.better(once, ScatterBelief(scatter, 0.05))[0] for scatter in (0.06, 0.5))
        self.assertGreater(calm, wild + 0.1)

    def test_designs_far_apart_nothing_known_and_hardly_any(self) -> None:
        self.assertGreater(self.better([[Interval(100, 101)] * 3, [Interval(2, 2.1)] * 3])[0], 0.99)
        unknown = [[Interval(0.0, math.inf)], [Interval(0.0, math.inf)]]
        self.assertAlmostEqual(self.better(unknown)[0], 0.5, delta=0.05)
        alike = self.better([[Interval(0.8, 0.8)], [Interval(0.8, 0.8)]])[0]
        self.assertAlmostEqual(alike, 0.5, delta=0.05)
        for trials in (unknown, [[Interval(0, 0.1)] * 2, [Interval(5, math.inf)]], TWICE):
            self.assertTrue(np.isfinite(strengths(trials).log_strength).all())

    def test_a_design_without_a_trial(self) -> None:
        with self.assertRaises(GirderError):
            strengths([[Interval(1, 2)], []])

    def test_a_new_trial_scatters_about_the_design(self) -> None:
        drawn = strengths(TWICE)
        again = drawn.tested_again(3)
        self.assertEqual(again.shape, (*drawn.log_strength.shape, 3))
        off = (again - drawn.log_strength[:, :, None]) / drawn.scatter[:, None, None]
        self.assertAlmostEqual(float(off.std()), 1.0, delta=0.02)
        self.assertAlmostEqual(float(off.mean()), 0.0, delta=0.02)


class Beliefs(unittest.TestCase):
    def test_earlier_repeats_move_what_is_thought_and_make_it_surer(self) -> None:
        plain, told = belief_from(None), belief_from(Scatter(0.08, 40, 20))
        self.assertEqual((plain.typical, plain.unsure_log), (USUAL_SCATTER, SCATTER_UNSURE_LOG))
        self.assertTrue(0.08 < told.typical < 0.12)
        self.assertLess(told.unsure_log, 0.25)
        self.assertIn("this kind of challenge", told.basis)

    def test_few_repeats_and_other_kinds_say_less(self) -> None:
        few, many = belief_from(Scatter(0.08, 1, 1)), belief_from(Scatter(0.08, 40, 20))
        self.assertGreater(few.typical, many.typical)
        elsewhere = belief_from(None, Scatter(0.08, 40, 20))
        self.assertTrue(many.typical < elsewhere.typical < USUAL_SCATTER)
        self.assertEqual(elsewhere.basis, "your earlier runs")

    def test_repeats_that_came_out_exactly_alike_say_nothing(self) -> None:
        self.assertEqual(belief_from(Scatter(0.0, 3, 2)).typical, USUAL_SCATTER)


class Groups(unittest.TestCase):
    def test_as_its_own_assumptions_added_up_by_brute_force(self) -> None:
        found = middles([TWICE[:2], TWICE[2:]])
        better, times = found.compared(0, 1, 0.5)
        dice, draws = np.random.default_rng(5), 600_000
        scatter = np.exp(dice.normal(math.log(USUAL_SCATTER), SCATTER_UNSURE_LOG, draws))
        spread = np.abs(dice.normal(0, SPREAD_SCALE, draws))
        centre = dice.uniform(found.log_middle[0], found.log_middle[-1], (draws, 2))
        truth = np.repeat(centre, 2, axis=1) + spread[:, None] * dice.normal(size=(draws, 4))
        weight = weights(TWICE, truth, scatter)
        apart = centre[:, 0] - centre[:, 1]
        self.assertAlmostEqual(better, float(np.average(apart > 0, weights=weight)), delta=0.04)
        order = np.argsort(apart)
        share = np.cumsum(weight[order]) / weight.sum()
        for end, at in ((times.low, 0.25), (times.high, 0.75)):
            self.assertAlmostEqual(math.log(end), float(apart[order][np.searchsorted(share, at)]), delta=0.12)

    def test_the_other_way_round_is_the_same(self) -> None:
        found = middles([TWICE[:2], TWICE[2:]])
        (better, times), (worse, back) = found.compared(0, 1, 0.9), found.compared(1, 0, 0.9)
        self.assertAlmostEqual(better + worse, 1)
        self.assertAlmostEqual(times.low * back.high, 1)
        self.assertAlmostEqual(found.compared(0, 0, 0.9)[0], 0.5)

    def test_a_group_without_a_trial_is_refused(self) -> None:
        nobody: list[list[list[Interval]]] = [TWICE, []]
        untested: list[list[list[Interval]]] = [TWICE, [[]]]
        for groups in (nobody, untested):
            with self.assertRaises(GirderError) as caught:
                middles(groups)
            self.assertEqual(caught.exception.code, "no_trials")
