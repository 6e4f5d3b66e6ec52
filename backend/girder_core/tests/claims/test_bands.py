"""“Eight times in ten”: ranges of predictions against results whose model error, scatter and class are known."""

import math
import unittest

import numpy as np

from girder_core.drafting import KINDS, draft, expectation, start_values
from girder_core.physics import (
    PRIOR_LOG,
    State,
    calibrate,
    calibrated,
    model_belief,
    predict,
    told_by_class,
    with_model_error,
)
from girder_core.tests import tries

N = tries(4000)
ROOM = 0.05 + 3 * math.sqrt(0.8 * 0.2 / N)


class Bands(unittest.TestCase):
    def test_a_range_holds_eight_in_ten_although_the_model_errs(self) -> None:
        dice = np.random.default_rng(2)
        for own, errs in ((0.1, PRIOR_LOG), (0.4, PRIOR_LOG), (0.3, 0.5), (0.3, 0.15), (0.4, 0.0)):
            draws = np.exp(dice.normal(math.log(5.0), own, 20_000))
            prediction = with_model_error(predict([State("s", "s", draws, "e", "y", "src")]), errs)
            truth = np.exp(dice.normal(math.log(5.0), own, N) + dice.normal(0.0, errs, N))
            inside = float(np.mean((prediction.low_n <= truth) & (truth <= prediction.high_n)))
            self.assertAlmostEqual(inside, 0.8, delta=ROOM, msg=(own, errs))

    def test_without_it_the_range_would_lie(self) -> None:
        dice = np.random.default_rng(3)
        draws = np.exp(dice.normal(0.0, 0.3, 20_000))
        bare = predict([State("s", "s", draws, "e", "y", "src")])
        truth = np.exp(dice.normal(0.0, math.hypot(0.3, PRIOR_LOG), N))
        self.assertLess(float(np.mean((bare.low_n <= truth) & (truth <= bare.high_n))), 0.5)

    def test_a_class_s_own_range_holds_eight_in_ten_of_its_next_designs(self) -> None:
        # A class has a factor of its own, its designs scatter about it; some outlast the load of the bench.
        # What a class scatters by is not known from one trial, so a calm class is told too much and a wild one too
        # little; over classes as they are it comes out at eight in ten.
        dice = np.random.default_rng(4)
        for tested in (1, 3, 8):
            shares = []
            for scatter in (0.15, 0.25, 0.35, 0.5):
                inside = classes = 0
                for _ in range(N // 4):
                    bias, kit = dice.normal(0.0, PRIOR_LOG), 3.0
                    held = np.exp(bias + dice.normal(0.0, scatter, tested))
                    broke = [(float(value), 1.0) for value in held if value < kit]
                    if broke:
                        learnt = calibrate(broke, [(kit, 1.0)] * (tested - len(broke)))
                        low, high = learnt.around(learnt.correction)
                        classes += 1
                        inside += low <= math.exp(bias + dice.normal(0.0, scatter)) <= high
                shares.append(inside / classes)
            room = 3 * math.sqrt(0.16 / (N // 4) / len(shares))
            self.assertAlmostEqual(float(np.mean(shares)), 0.83, delta=0.05 + room, msg=(tested, shares))
            self.assertGreater(min(shares), 0.62)

    def test_other_classes_narrow_the_range_and_it_still_holds(self) -> None:
        # A model that errs by a factor of two, half of that for this material in all classes of a teacher, a quarter
        # for the kind; three other classes with this material and one with another.
        dice, classes = np.random.default_rng(6), N // 4
        for tested in (0, 2):
            inside, wide, narrow = 0, 0.0, 0.0
            for _ in range(classes):
                kind, material, elsewhere = PRIOR_LOG * dice.normal(size=3) * np.sqrt([0.25, 0.25, 0.25])
                own, *others = PRIOR_LOG * math.sqrt(0.5) * dice.normal(size=5)

                def shown(count: int, bias: float) -> list[tuple[float, float]]:
                    return [(float(value), 1.0) for value in np.exp(bias + dice.normal(0.0, 0.3, count))]

                told = [("card", *told_by_class(calibrate(shown(4, kind + material + off)))) for off in others[:3]]
                told.append(("foil", *told_by_class(calibrate(shown(4, kind + elsewhere + others[3])))))
                belief = model_belief(PRIOR_LOG, "card", told)
                bias = kind + material + own
                here = shown(tested, bias)
                pooled = calibrate(here, belief=belief)
                low, high = pooled.around(pooled.correction)
                inside += low <= math.exp(bias + dice.normal(0.0, 0.3)) <= high
                narrow += math.log(high / low)
                alone = calibrate(here) if here else None
                low, high = alone.around(1.0) if alone else (1.0, math.exp(2.5632 * math.hypot(PRIOR_LOG, 0.35)))
                wide += math.log(high / low)
            self.assertAlmostEqual(inside / classes, 0.82, delta=0.05 + 3 * math.sqrt(0.16 / classes), msg=str(tested))
            self.assertLess(narrow, wide)

    def test_run_outs_only_ever_raise_what_is_learnt(self) -> None:
        plain, more = calibrate([(5.0, 10.0)]), calibrate([(5.0, 10.0)], [(9.0, 10.0)])
        self.assertGreater(more.correction, plain.correction)
        little = calibrate([(5.0, 10.0)], [(0.1, 10.0)])
        self.assertAlmostEqual(little.correction, plain.correction, delta=1e-3)

    def test_a_wild_class_widens_the_range(self) -> None:
        draws = np.exp(np.random.default_rng(5).normal(0.0, 0.1, 20_000))
        prediction = predict([State("s", "s", draws, "e", "y", "src")])
        wild = calibrate([(0.3, 1.0), (3.0, 1.0), (0.4, 1.0), (2.5, 1.0), (1.0, 1.0)])
        after, before = calibrated(prediction, wild), with_model_error(prediction, 0.5)
        self.assertGreater(after.high_n / after.low_n, before.high_n / before.low_n)


class EveryKind(unittest.TestCase):
    def test_the_range_of_every_kind_has_its_model_s_error_in_it(self) -> None:
        for kind in KINDS.values():
            with self.subTest(kind.key):
                typed = start_values(kind, {}, {})
                prediction = draft(kind, typed).expected.prediction
                kept = expectation(kind, typed).prediction
                if prediction is None or kept is None:
                    continue
                self.assertGreaterEqual(
                    math.log(prediction.high_n / prediction.typical_n), 1.2816 * kind.errs_log * (1 - 1e-9)
                )
                self.assertEqual((kept.low_n, kept.high_n), (prediction.low_n, prediction.high_n))
                for state in prediction.limit_states:
                    self.assertTrue(state.low_n <= state.typical_n <= state.high_n)
