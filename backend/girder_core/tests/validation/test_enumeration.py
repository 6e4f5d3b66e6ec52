"""Rank ranges and best-of-trials against brute force: every truth the bounds allow, one by one. No formula shared."""

import itertools
import random
import unittest

from girder_core.results import BreachPolicy, Rules, School, Score, TrialRule, score
from girder_core.results.comparison import rank_ranges
from girder_core.tests.support import NUT_KG, broke, ran_out
from girder_core.trial import Interval


class RankRanges(unittest.TestCase):
    def test_against_every_possible_truth(self) -> None:
        # Bounds on a coarse grid of distinct ends; each strength takes every grid value strictly inside its bounds.
        draws = random.Random(3)
        for _ in range(60):
            n = draws.randint(2, 4)
            ends = draws.sample(range(0, 24, 2), 2 * n)
            bounds = [tuple(sorted(ends[2 * i : 2 * i + 2])) for i in range(n)]
            truths = [[low + 0.5 + k for k in range(high - low)] for low, high in bounds]
            places: list[set[int]] = [set() for _ in range(n)]
            for truth in itertools.product(*truths):
                # Nudged apart, so that no two strengths are equal in either order.
                for order in (1, -1):
                    nudged = [value + order * i * 1e-6 for i, value in enumerate(truth)]
                    for i, value in enumerate(nudged):
                        places[i].add(1 + sum(other > value for other in nudged))
            ranges = rank_ranges([Interval(low, high) for low, high in bounds])
            for ranks, seen in zip(ranges, places, strict=True):
                self.assertEqual((ranks.best, ranks.worst), (min(seen), max(seen)), bounds)


class BestOfTrials(unittest.TestCase):
    def test_bounds_of_the_best_hold_for_every_possible_truth(self) -> None:
        rules = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)
        draws = random.Random(4)
        for _ in range(50):
            trials = [(draws.randint(1, 30), draws.randint(1, 6)) for _ in range(draws.randint(1, 3))]
            got = score([broke(held, step) for held, step in trials], None, rules, False)
            assert isinstance(got, Score)
            grids = [[held + k / 4 for k in range(4 * step + 1)] for held, step in trials]
            best = [max(truth) for truth in itertools.product(*grids)]
            self.assertAlmostEqual(got.interval.low, min(best) * NUT_KG)
            self.assertAlmostEqual(got.interval.high, max(best) * NUT_KG)

    def test_more_load_never_scores_less(self) -> None:
        for school, rule in itertools.product([School.MOST_HELD], TrialRule):
            rules = Rules(school, rule, BreachPolicy.NOTE)
            before = score([broke(20), broke(25)], None, rules, False)
            for more in ([broke(20), broke(26)], [broke(20), ran_out(25)], [broke(21), broke(25)]):
                after = score(more, None, rules, False)
                assert isinstance(before, Score) and isinstance(after, Score)
                self.assertGreaterEqual(after.value, before.value)
                self.assertGreaterEqual(after.interval.high, before.interval.high)
