"""Pooled scatter against one-way analysis of variance, with scipy as oracle."""

import unittest

import numpy as np
from scipy import stats

from girder_core.results import pooled_cv


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
