"""JCGM 100:2008 (GUM): resolution of a digital display, ratio of independent inputs, Student's t for repeats."""

import math
import unittest

import numpy as np
from scipy import stats

from girder_core.measure import Quantity, item_mass_kg, resolution_uncertainty, scale_good_enough, strength_to_weight
from girder_core.measure.uncertainty import spread


class Resolution(unittest.TestCase):
    def test_f_2_2_1(self) -> None:
        # F.2.2.1: u = 0.29 times the step; two digits are printed, so half a unit of the second.
        self.assertAlmostEqual(resolution_uncertainty(1.0), 0.29, delta=0.005)

    def test_against_the_rectangular_distribution(self) -> None:
        # scipy's uniform distribution as oracle.
        self.assertAlmostEqual(resolution_uncertainty(0.5), stats.uniform(0, 0.5).std(), delta=1e-12)

    def test_batch_of_fifty_on_a_whole_gram_scale(self) -> None:
        # Worked out apart from this code: m=W/n; u(W)=d/sqrt(12) (sqrt 2 more if the zero is a rounded reading
        # too); u(m)=u(W)/n.
        # Worked by 4.3.7: 125 g / 50 = 2.5 g; 1 g / sqrt(12) / 50 = 5.7735 mg.
        mass = item_mass_kg(0.125, 50, 0.001)
        self.assertAlmostEqual(mass.value, 0.0025, delta=1e-12)
        self.assertAlmostEqual(mass.standard_uncertainty, 5.773502691896258e-06, delta=1e-14)

    def test_a_five_gram_structure_on_a_whole_gram_scale(self) -> None:
        # Common practice, no source: "uncertain by 10 %". Half the step over the mass is that bound; the expanded
        # uncertainty 2/sqrt(12) = 0.577 of a step must come out a little above half a step.
        advice = scale_good_enough(0.005, 0.001)
        self.assertFalse(advice.good)
        self.assertAlmostEqual(advice.relative, 0.1155, delta=0.0001)


class Ratio(unittest.TestCase):
    def test_5_1_6(self) -> None:
        # Worked out apart from this code: u(R)/R = sqrt((u_P/P)^2+(u_m/m)^2), independent inputs.
        # 4.85 kg ± 0.05 kg over 12.3 g ± 0.29 g; sqrt((0.05/4.85)² + (0.29/12.3)²) = 0.025733.
        ratio = strength_to_weight(Quantity(4.85, 0.05), Quantity(0.0123, 0.00029))
        self.assertAlmostEqual(ratio.value, 394.30894308943084, delta=1e-6)
        self.assertAlmostEqual(ratio.relative, 0.025732610959126392, delta=1e-8)

    def test_against_simulation(self) -> None:
        # Monte Carlo as second route (JCGM 101): a million seeded draws; its own error is about 0.1 %.
        draws = np.random.default_rng(20260309)
        ratios = draws.normal(1.2, 0.01, 10**6) / draws.normal(0.04, 0.0004, 10**6)
        ours = strength_to_weight(Quantity(1.2, 0.01), Quantity(0.04, 0.0004))
        self.assertAlmostEqual(ours.standard_uncertainty / float(np.std(ratios)), 1.0, delta=0.005)


class Repeats(unittest.TestCase):
    def test_against_scipy(self) -> None:
        for values in ([5.2, 4.8, 6.1], [0.81, 0.77, 0.92, 0.85, 0.79]):
            ours = spread(values)
            low, high = stats.t.interval(0.95, len(values) - 1, np.mean(values), stats.sem(values))
            self.assertAlmostEqual(ours.standard_deviation, float(np.std(values, ddof=1)), delta=1e-12)
            self.assertAlmostEqual(ours.low, float(low), delta=1e-9)
            self.assertAlmostEqual(ours.high, float(high), delta=1e-9)

    def test_t_table(self) -> None:
        # Worked out apart from this code: mean +- t_{0.975,n-1} s/sqrt n.
        # Student's t, 97.5 %, 2 degrees of freedom: 4.303 (GUM table G.2 gives 4.30 for 95 %).
        ours = spread([5.2, 4.8, 6.1])
        self.assertAlmostEqual((ours.high - ours.mean) / ours.standard_error, 4.303, delta=0.0005)
        self.assertAlmostEqual(ours.standard_error, 0.6658328118479392 / math.sqrt(3), delta=1e-12)
