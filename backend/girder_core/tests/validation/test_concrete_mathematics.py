"""Graham, Knuth & Patashnik, Concrete Mathematics, 6.3: the leaning stack of cards; from memory. Moments by hand."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.physics import corbel_load, corbel_stability, max_overhang_m
from girder_core.tests import tries


class Overhang(unittest.TestCase):
    def test_harmonic(self) -> None:
        # Worked out apart from this code: overhang = (l/2) sum_{i=1..k} 1/i (limit case, zero margin).
        # Half a block times 1, 3/2, 11/6, 25/12.
        for blocks, lengths in ((1, 0.5), (2, 0.75), (3, 0.9166666666666666), (4, 1.0416666666666667)):
            self.assertAlmostEqual(max_overhang_m(0.1, blocks), lengths * 0.1, delta=1e-12)

    def test_at_the_limit_it_just_stands(self) -> None:
        steps = [0.1 / (2 * i) for i in range(1, 6)]
        self.assertTrue(corbel_stability(steps, 0.1).stable)
        steps[2] += 1e-6
        self.assertEqual(corbel_stability(steps, 0.1).tips, 3)


class Corbels(unittest.TestCase):
    def test_below_the_limits(self) -> None:
        # Worked out apart from this code: at joint i: centre of mass of everything above must lie inside the
        # overlap of courses i and i+1; inner margin = inner edge of the overlap - x_cg; outer margin = x_cg -
        # outer edge of the overlap.
        stability = corbel_stability([0.04, 0.02, 0.015, 0.01], 0.1)
        self.assertTrue(stability.stable)
        inner = [0.01, 0.01, 0.008333333333333338, 0.00875]
        outer = [0.05, 0.07, 0.07666666666666667, 0.08125]
        for layer, a, b in zip(stability.layers, inner, outer, strict=True):
            self.assertAlmostEqual(layer.inner_margin_m, a, delta=1e-9)
            self.assertAlmostEqual(layer.outer_margin_m, b, delta=1e-9)
        self.assertEqual(stability.worst, 3)
        self.assertAlmostEqual(stability.span_m, 0.17, delta=1e-12)

    def test_equal_steps_fail_at_the_third_joint(self) -> None:
        stability = corbel_stability([0.03] * 4, 0.1)
        self.assertEqual((stability.stable, stability.tips, stability.worst), (False, 3, 4))
        for layer, margin in zip(stability.layers, (0.02, 0.005, -0.01, -0.025), strict=True):
            self.assertAlmostEqual(layer.inner_margin_m, margin, delta=1e-9)
        self.assertIn("Layer 3 from the top tips", stability.says)

    def test_weight_on_the_tail_saves_it(self) -> None:
        # A corbel needs weight on its tail (common practice, no source).
        self.assertFalse(corbel_stability([0.03] * 4, 0.1, 0.0, 1.0).stable)
        self.assertTrue(corbel_stability([0.03] * 4, 0.1, [1.0] * 4, 1.0).stable)

    @given(st.lists(st.floats(0.001, 0.03), min_size=1, max_size=6), st.floats(0.0, 2.0))
    @settings(max_examples=tries(80))
    def test_moments_about_every_edge(self, steps: list[float], tail: float) -> None:
        """Second route: positions built from the bottom up, sums of moments, no running totals."""
        stability = corbel_stability(steps, 0.1, [tail] * len(steps), 1.0)
        starts = [0.0]
        for step in steps:
            starts.append(starts[-1] - step)
        for i, layer in enumerate(stability.layers):
            edge = starts[i + 1] + 0.1
            moment = sum(edge - (starts[k] + 0.05) + tail * (edge - starts[k]) for k in range(i + 1))
            self.assertAlmostEqual(layer.inner_margin_m, moment / ((i + 1) * (1 + tail)), delta=1e-9)

    def test_what_it_carries_balances(self) -> None:
        # One layer, 1 N, step 20 mm of 100: tip load P·20 mm = 1 N·30 mm for each half when all is even; less where the
        # load stands nearer to one half, the block is light and was placed too far in.
        load = corbel_load([0.02], 0.1, 1.0)
        even = 2 * 0.03 / 0.02
        self.assertLess(load.high_n, 1.07 * even)
        self.assertGreater(load.low_n, 0.55 * 0.93 * (0.03 - 0.004) / 0.03 * even)

    def test_refusals(self) -> None:
        for make, words in (
            (lambda: corbel_stability([0.1], 0.1), "a block's length or more"),
            (lambda: corbel_stability([], 0.1), "at least one layer"),
            (lambda: corbel_stability([-0.01], 0.1), "the wrong way"),
            (lambda: corbel_load([0.06], 0.1, 1.0), "tips into the opening"),
        ):
            with self.assertRaises(GirderError) as caught:
                make()
            self.assertIn(words, caught.exception.sentence)
