"""Pooled scatter and verdicts against one-way analysis of variance and the t-test, with scipy as oracle."""

import math
import unittest

import numpy as np
from scipy import stats

from girder_core.results import VerdictKind, pooled_cv
from girder_core.results.comparison import Contender, verdict
from girder_core.trial import Interval


class PooledScatter(unittest.TestCase):
    def test_within_groups_mean_square(self) -> None:
        # With every group scaled to mean 1, our pooled cv² is the within mean square of a one-way ANOVA, which is
        # MSB / F with scipy's F. Groups invented.
        raw = [[10.2, 11.9, 9.5, 10.8], [12.1, 14.0, 13.2], [5.0, 5.6]]
        ours = pooled_cv(raw)
        assert ours is not None
        groups = [np.array(g) / np.mean(g) + shift for g, shift in zip(raw, [0, 1, 2], strict=True)]
        everything = np.concatenate(groups)
        between = sum(len(g) * (g.mean() - everything.mean()) ** 2 for g in groups) / (len(groups) - 1)
        f_value = stats.f_oneway(*groups).statistic
        self.assertAlmostEqual(ours.cv**2, between / f_value, delta=1e-12)
        self.assertEqual(ours.degrees_of_freedom, 6)


class Verdicts(unittest.TestCase):
    def test_clear_exactly_where_the_two_sided_t_test_is_significant(self) -> None:
        # Equal n, a pooled relative scatter and exact loads: the verdict is clear where Student's pooled t-test on
        # the logarithms has p <= 0.05. Seeded samples; those within 0.01 of the boundary are left out, because
        # relative and logarithmic scatter agree only to second order.
        draws = np.random.default_rng(7)
        judged = 0
        for _ in range(300):
            a = draws.normal(1.0 + draws.uniform(0, 0.25), 0.05, 4)
            b = draws.normal(1.0, 0.05, 4)
            if a.mean() <= b.mean():
                continue
            p = float(stats.ttest_ind(np.log(a), np.log(b)).pvalue)
            if abs(p - 0.05) < 0.01:
                continue
            judged += 1
            scatter = pooled_cv([a.tolist(), b.tolist()])
            ma, mb = float(a.mean()), float(b.mean())
            kind = verdict(Contender("A", Interval(ma, ma), 4), Contender("B", Interval(mb, mb), 4), scatter).kind
            self.assertEqual(kind is VerdictKind.CLEAR, p <= 0.05, (p, kind))
        self.assertGreater(judged, 100)

    def test_certain_without_any_scatter(self) -> None:
        scatter = pooled_cv([[1.0, 1.0], [2.0, 2.0]])
        assert scatter is not None
        self.assertEqual(scatter.cv, 0.0)
        judged = verdict(Contender("A", Interval(2, 2), 2), Contender("B", Interval(1, 1), 2), scatter)
        self.assertEqual(judged.kind, VerdictKind.CLEAR)
        self.assertTrue(math.isfinite(scatter.cv))
