"""What a challenge came to in other classes, and what a next class may expect of it."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np
from statsmodels.regression.mixed_linear_model import MixedLM

from girder_core.ground import GirderError
from girder_core.kit import Material
from girder_core.results import (
    Elsewhere,
    SharedHistory,
    amounts,
    expected_after,
    history_in_words,
    same_terms,
    shared_history,
    told_elsewhere,
)
from girder_core.trial import Interval

STEP_KG = 0.05


def designs(rng: random.Random, middle_log: float, scatter: float, count: int, kit_kg: float) -> list[Interval]:
    """What designs of a class held in steps of 50 g, with so much load at the bench."""
    bounds = []
    for _ in range(count):
        strength = math.exp(rng.gauss(middle_log, scatter))
        held = math.floor(strength / STEP_KG) * STEP_KG
        bounds.append(Interval(kit_kg, math.inf) if strength >= kit_kg else Interval(held, held + STEP_KG))
    return bounds


class ToldElsewhere(unittest.TestCase):
    def test_the_range_holds_eight_designs_in_ten_of_a_class_that_nobody_has_seen(self) -> None:
        # Made-up classes with known truth: how far classes and designs are apart, in how many runs, where load ends.
        for between, scatter, runs, kit_kg, own in (
            (0.3, 0.35, 5, math.inf, 0), (0.1, 0.2, 5, math.inf, 0), (0.3, 0.35, 2, math.inf, 0),
            (0.3, 0.35, 5, math.inf, 2), (0.3, 0.35, 4, 1.3, 0), (0.2, 0.5, 8, 1.3, 2),
        ):  # fmt: skip
            with self.subTest(between=between, scatter=scatter, runs=runs, kit=kit_kg, own=own):
                rng, within, tried = random.Random(11), 0, 0
                for _ in range(12):
                    classes = [designs(rng, rng.gauss(0, between), scatter, 8, kit_kg) for _ in range(runs + own)]
                    told = told_elsewhere(classes[own:])
                    assert told is not None
                    estimate = expected_after(told, classes[:own])
                    for _ in range(100):
                        strength = math.exp(rng.gauss(rng.gauss(0, between), scatter))
                        tried += 1
                        within += estimate.low_kg <= strength <= estimate.high_kg
                # 1200 designs of 12 tellings: what the tellings do by chance is about five in a hundred.
                self.assertGreater(within / tried, 0.74)
                self.assertLess(within / tried, 0.90)

    def test_with_all_bounds_narrow_it_is_the_textbook_s_posterior(self) -> None:
        # Normal means with known variances (Gelman et al., Bayesian Data Analysis, 5.4, from memory): a run's mean
        # tells the middle of all with variance b² + s²/n.
        told = Elsewhere(40, 5, 1.2, 0.3, 0.25, 0.4)
        own = [[1.0, 1.5, 2.2], [0.9, 2.0]]
        precision, weighed = 1 / 0.3**2, math.log(1.2) / 0.3**2
        for run in own:
            variance = 0.25**2 + 0.4**2 / len(run)
            precision += 1 / variance
            weighed += sum(math.log(load) for load in run) / len(run) / variance
        doubt = math.sqrt(1 / precision + 0.25**2 + 0.4**2)
        estimate = expected_after(told, [[Interval(load, load) for load in run] for run in own])
        self.assertAlmostEqual(math.log(estimate.typical_kg), weighed / precision, places=4)
        self.assertAlmostEqual(math.log(estimate.high_kg / estimate.typical_kg) / 1.2816, doubt, places=4)
        self.assertAlmostEqual(estimate.low_kg * estimate.high_kg, estimate.typical_kg**2)
        self.assertEqual(estimate.basis, "40 designs in other classes and 5 designs in earlier runs")

    def test_with_many_classes_it_finds_what_a_mixed_model_finds(self) -> None:
        # statsmodels' linear mixed model (REML) of the same logarithms; beforehand little is known, so data decide.
        rng = random.Random(29)
        logs = [[rng.gauss(middle, 0.4) for _ in range(12)] for middle in (rng.gauss(0.5, 0.3) for _ in range(14))]
        told = told_elsewhere([[Interval(math.exp(log), math.exp(log)) for log in run] for run in logs])
        assert told is not None
        flat = [log for run in logs for log in run]
        groups = [number for number, run in enumerate(logs) for _ in run]
        fit = MixedLM(np.array(flat), np.ones((len(flat), 1)), np.array(groups)).fit(reml=True)
        error = float(fit.bse_fe[0])
        self.assertLess(abs(math.log(told.typical_kg) - float(fit.fe_params[0])), 0.2 * error)
        self.assertAlmostEqual(told.unsure_log / error, 1, delta=0.2)
        self.assertAlmostEqual(told.scatter_log / math.sqrt(float(fit.scale)), 1, delta=0.05)
        self.assertAlmostEqual(told.between_log / math.sqrt(float(fit.cov_re[0][0])), 1, delta=0.2)

    def test_without_runs_of_one_s_own_it_is_what_was_told(self) -> None:
        told = Elsewhere(12, 2, 0.8, 0.3, 0.25, 0.4)
        estimate = expected_after(told)
        self.assertAlmostEqual(estimate.typical_kg, 0.8, places=6)
        self.assertAlmostEqual(math.log(estimate.high_kg / 0.8), 1.2816 * math.sqrt(0.09 + 0.0625 + 0.16), places=3)
        self.assertEqual(estimate.basis, "12 designs in other classes")

    def test_many_runs_of_one_s_own_outweigh_what_was_told(self) -> None:
        rng = random.Random(3)
        told = Elsewhere(40, 5, 1.0, 0.1, 0.3, 0.35)
        own = [designs(rng, math.log(4) + rng.gauss(0, 0.1), 0.3, 8, math.inf) for _ in range(30)]
        few, many = expected_after(told, own[:1]), expected_after(told, own)
        self.assertLess(1.0, few.typical_kg)
        self.assertLess(few.typical_kg, many.typical_kg)
        self.assertGreater(many.typical_kg, 2.5)

    def test_loads_of_another_unit_change_nothing_but_the_load(self) -> None:
        rng = random.Random(7)
        runs = [designs(rng, rng.gauss(0, 0.3), 0.3, 8, 1.5) for _ in range(3)]
        told = told_elsewhere(runs)
        heavy = told_elsewhere([[Interval(100 * one.low, 100 * one.high) for one in run] for run in runs])
        assert told is not None and heavy is not None
        self.assertAlmostEqual(heavy.typical_kg / told.typical_kg, 100, places=6)
        self.assertAlmostEqual(heavy.scatter_log, told.scatter_log, places=6)
        self.assertAlmostEqual(heavy.between_log, told.between_log, places=6)

    def test_what_ran_out_counts_as_more_than_what_broke_there(self) -> None:
        broke = [[Interval(0.9, 1.0)] * 3 + [Interval(1.0, 1.1)] * 3]
        ran_out = [[Interval(0.9, 1.0)] * 3 + [Interval(1.0, math.inf)] * 3]
        one, other = told_elsewhere(broke), told_elsewhere(ran_out)
        assert one is not None and other is not None
        self.assertGreater(other.typical_kg, 1.05 * one.typical_kg)

    def test_what_held_nothing_and_what_all_outlasted_is_no_accident(self) -> None:
        some = told_elsewhere([[Interval(0, 0.1)] * 2 + [Interval(0.5, 0.6)] * 4])
        assert some is not None
        self.assertTrue(0.1 < some.typical_kg < 0.6)
        every = told_elsewhere([[Interval(1.0, math.inf)] * 6])
        assert every is not None
        self.assertGreater(every.typical_kg, 1.0)
        self.assertTrue(math.isfinite(expected_after(every).high_kg))
        self.assertIsNone(told_elsewhere([[Interval(0, 0.1)] * 6]))

    def test_of_fewer_than_five_designs_nothing_is_told(self) -> None:
        four = [[Interval(1, 1.1)] * 2, [Interval(2, 2.1)] * 2]
        self.assertIsNone(told_elsewhere(four))
        self.assertIsNone(shared_history(four))
        self.assertIsNotNone(shared_history([*four, [Interval(1, 1.2)]]))

    def test_what_cannot_be_is_refused(self) -> None:
        told = Elsewhere(40, 5, 1.0, 0.1, 0.3, 0.35)
        for name in ("typical_kg", "unsure_log", "between_log", "scatter_log"):
            for value in (0.0, -1.0, math.nan, math.inf):
                with self.subTest(name, value=value), self.assertRaises(GirderError):
                    replace(told, **{name: value})  # type: ignore[arg-type]


class Shared(unittest.TestCase):
    def test_best_median_and_middle_half(self) -> None:
        # By hand: eight loads 1 to 8; a quarter have gone at 2, half at 4, three quarters at 6.
        told = shared_history(
            [[Interval(n, n + 0.5) for n in (1, 3, 5, 7)], [Interval(n, n + 0.5) for n in (2, 4, 6, 8)]]
        )
        assert told is not None
        self.assertEqual((told.designs, told.runs, told.best, told.best_at_least), (8, 2, 8, False))
        self.assertEqual((told.low, told.median, told.high), (2, 4, 6))

    def test_nobody_finds_a_design_by_its_figure(self) -> None:
        told = shared_history([[Interval(1.2345 + n / 100, 2) for n in range(6)], []])
        assert told is not None
        self.assertEqual((told.runs, told.best, told.median), (1, 1.3, 1.3))

    def test_where_most_came_through_all_there_was_no_median_is_made_up(self) -> None:
        told = shared_history([[Interval(1, 1.1), *[Interval(3, math.inf)] * 5]])
        assert told is not None
        self.assertEqual((told.best, told.best_at_least, told.low, told.median, told.high), (3, True, None, None, None))

    def test_in_words(self) -> None:
        def kg(value: float) -> str:
            return f"{value:g} kg"

        whole = SharedHistory(8, 2, 2.1, True, 0.75, 0.58, 1.1)
        self.assertEqual(history_in_words(whole, kg), "the best at least 2.1 kg, half 0.75 kg or less; the middle half "
                         "between 0.58 kg and 1.1 kg")  # fmt: skip
        most_left = replace(whole, median=None, high=None)
        self.assertEqual(history_in_words(most_left, kg), "the best at least 2.1 kg, more than half all there was")


class SameTerms(unittest.TestCase):
    def test_what_asks_for_another_structure_tells_nothing(self) -> None:
        sheet = Material("card", "card", final=2.0, buildable=True)
        tools = Material("scissors", "scissors", final=1.0, buildable=False)
        self.assertEqual(amounts([sheet, tools]), {"card": 2.0})
        terms = ({"gap_m": 0.30, "target_kg": None}, amounts([sheet]))
        # 11.8 inches are 299.7 mm: the same gap, typed by a reader of other units.
        self.assertTrue(same_terms(terms, ({"gap_m": 0.29972, "target_kg": None}, {"card": 2.0})))
        for setup, materials in (
            ({"gap_m": 0.31, "target_kg": None}, {"card": 2.0}), ({"gap_m": None, "target_kg": None}, {"card": 2.0}),
            ({"gap_m": 0.30, "target_kg": 1.0}, {"card": 2.0}), ({"gap_m": 0.30}, {"card": 2.0}),
            ({"gap_m": 0.30, "target_kg": None}, {"card": 3.0}), ({"gap_m": 0.30, "target_kg": None}, {}),
        ):  # fmt: skip
            with self.subTest(setup=setup, materials=materials):
                self.assertFalse(same_terms(terms, (setup, materials)))


if __name__ == "__main__":
    unittest.main()
