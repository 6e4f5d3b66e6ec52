"""From version to version: the gain, how sure it is, the class's gain, and how many things were changed."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from girder_core.results import (
    BreachPolicy,
    Gain,
    Rules,
    School,
    Score,
    TrialRule,
    VerdictKind,
    changes_in,
    class_gain,
    class_gain_of,
    gain,
    score,
)
from girder_core.tests import tries
from girder_core.tests.support import broke, ran_out
from girder_core.trial import TrialResult

MOST = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)


def of(*trials: TrialResult) -> Score:
    scored = score(trials, None, MOST, False)
    assert isinstance(scored, Score)
    return scored


class OnePair(unittest.TestCase):
    def test_by_hand(self) -> None:
        gained = gain(of(broke(40)), of(broke(50)), 0.88, 0.8)
        self.assertAlmostEqual(gained.value, 0.25)
        self.assertAlmostEqual(gained.bounds.low, 50 / 41 - 1)
        self.assertAlmostEqual(gained.bounds.high, 51 / 40 - 1)
        self.assertEqual(gained.kind, VerdictKind.LIKELY)
        self.assertTrue(gained.reason.startswith("The new version is probably better"))

    def test_a_loss_is_judged_the_other_way_round(self) -> None:
        worse = gain(of(broke(55)), of(broke(40)), 0.01, 0.05)
        self.assertEqual(worse.kind, VerdictKind.CLEAR)
        self.assertAlmostEqual(worse.value, 40 / 55 - 1)
        self.assertIn("the version before would be ahead of the new version more than 9 times in 10", worse.reason)
        self.assertEqual(gain(of(broke(40)), of(broke(55)), 0.6, 0.55).kind, VerdictKind.TOO_CLOSE)

    def test_run_outs(self) -> None:
        after = gain(of(broke(40)), of(ran_out(60)), 0.95, 0.9)
        self.assertTrue(after.at_least)
        self.assertEqual(after.bounds.high, math.inf)
        before = gain(of(ran_out(40)), of(broke(60)), 0.7, 0.6)
        self.assertEqual((before.kind, before.bounds.low), (VerdictKind.CANNOT_SAY, -1.0))
        self.assertEqual(gain(of(broke(0)), of(broke(5)), 0.99, 0.9).value, math.inf)


class OfTheClass(unittest.TestCase):
    @settings(max_examples=tries(30))
    @given(st.lists(st.floats(0.3, 4), min_size=2, max_size=10, unique=True))
    def test_as_scipys_paired_test_of_logarithms(self, ratios: list[float]) -> None:
        overall, theirs = class_gain(ratios), stats.ttest_1samp(np.log(ratios), 0)
        low, high = theirs.confidence_interval(0.95)
        assert overall.bounds is not None and overall.typical is not None
        np.testing.assert_allclose([overall.bounds.low, overall.bounds.high], [math.exp(low) - 1, math.exp(high) - 1])
        self.assertAlmostEqual(overall.typical, stats.gmean(ratios) - 1)
        if abs(theirs.pvalue - 0.05) > 1e-6:
            self.assertEqual(overall.kind is VerdictKind.CLEAR, theirs.pvalue < 0.05)

    def test_only_pairs_whose_gain_is_known_count(self) -> None:
        def pair(before: TrialResult, after: TrialResult) -> Gain:
            scores = [score([result], None, MOST, False) for result in (before, after)]
            assert isinstance(scores[0], Score) and isinstance(scores[1], Score)
            return gain(scores[0], scores[1], 0.9, 0.8)

        nothing = broke(0)
        pairs = [pair(broke(10), broke(20)), pair(ran_out(10), broke(30)), pair(nothing, broke(5)),
                pair(broke(20), ran_out(30))]  # fmt: skip
        overall = class_gain_of(pairs)
        # 10 nuts to 20, and 20 to 30 and more.
        self.assertEqual((overall.n, overall.improved), (2, 2))
        assert overall.typical is not None
        self.assertAlmostEqual(overall.typical, math.sqrt(20 / 10 * 30 / 20) - 1)
        self.assertIn("at least", overall.says)

    def test_in_words(self) -> None:
        self.assertEqual(class_gain([]).kind, VerdictKind.CANNOT_SAY)
        self.assertIn("says nothing about a whole class", class_gain([1.4]).says)
        self.assertIn("3 of 3 second versions did better; typically 20% more, clear", class_gain([1.2] * 3).says)
        self.assertIn("at least", class_gain([1.2, 1.3, 1.25], at_least=1).says)
        self.assertIn("no more than chance", class_gain([0.8, 1.3, 1.0, 0.9, 1.2]).says)


class Changes(unittest.TestCase):
    def test_one_and_more(self) -> None:
        for text, count in (
            ("deeper pleats", 1), ("pleats of 12,5 mm", 1), ("pleats of 12.5 mm", 1),
            ("deeper pleats and more tape", 2),
            ("tape; glue\nwider deck", 3), ("two layers + glue", 2), ("", 0), ("a sandwich", 1), ("longer, stiffer", 2),
        ):  # fmt: skip
            self.assertEqual(len(changes_in(text)), count, text)
