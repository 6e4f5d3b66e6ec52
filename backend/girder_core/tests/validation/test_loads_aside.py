"""Loads off the middle and tubes in a bundle: a frame package, pressure by strips, second moments by points."""

import io
import math
import unittest
from contextlib import redirect_stdout

import numpy as np
from anastruct import SystemElements
from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.drafting import draft_kind, expectation
from girder_core.ground import GirderError
from girder_core.physics import pattern, simply_supported, trusses_share
from girder_core.physics.beams import aside_share, loaded_aside
from girder_core.physics.trusses import deck_load
from girder_core.physics.tubes import bundle_gain, bundle_half_base_m
from girder_core.tests import tries


def held(kind: str, **typed: str) -> float:
    prediction = expectation(draft_kind(kind), typed).prediction
    assert prediction is not None
    return prediction.typical_n


class Beams(unittest.TestCase):
    def test_against_a_frame_package(self) -> None:
        for off, patch in ((0.0, 0.08), (0.05, 0.08), (0.1, 0.04), (0.12, 0.12), (0.08, 0.0)):
            n, span = 120, 0.4
            beam = SystemElements()
            with redirect_stdout(io.StringIO()):
                for i in range(n):
                    beam.add_element([[span * i / n, 0], [span * (i + 1) / n, 0]], EA=1e6, EI=10.0)
                beam.add_support_hinged(node_id=1)
                beam.add_support_roll(node_id=n + 1)
                middle = span / 2 + off
                if patch:
                    loaded = [i for i in range(n) if abs(span * (i + 0.5) / n - middle) < patch / 2]
                    for i in loaded:
                        beam.q_load(element_id=i + 1, q=-1 / (len(loaded) * span / n))
                else:
                    beam.point_load(node_id=round(middle / span * n) + 1, Fy=-1)
                beam.solve()
            moments = [abs(m) for i in range(n) for m in beam.get_element_results(i + 1, verbose=True)["M"]]
            made = loaded_aside(span, 1.0, off, patch)
            self.assertAlmostEqual(made.max_moment_nm / max(moments), 1, delta=0.01)

    def test_in_the_middle_it_is_the_plain_span(self) -> None:
        for patch in (0.0, 0.1, 0.29):
            plain, aside = simply_supported(0.3, 2.0, "patch", patch), loaded_aside(0.3, 2.0, 0.0, patch)
            for name in ("max_moment_nm", "max_shear_n", "deflection_coefficient"):
                self.assertAlmostEqual(getattr(aside, name), getattr(plain, name), delta=1e-12)

    def test_midspan_is_the_worst_place(self) -> None:
        loads = [held("sheet_bridge", off_m=off) for off in ("0 mm", "30 mm", "60 mm", "90 mm")]
        self.assertEqual(loads, sorted(loads))

    def test_pressure_under_a_platform_that_turns(self) -> None:
        # Strips that only push: level and tilt so that force and moment balance; the most pressed strip decides.
        wide = 0.2
        at = (np.arange(4000) + 0.5) / 4000 * wide - wide / 2
        for aside in (0.0, 0.01, 0.03, 0.05, 0.08):
            low, high = -1.0, 0.499
            for _ in range(100):
                start = (low + high) / 2
                push = np.maximum(at - start * wide, 0)
                centre = float((push * at).sum() / push.sum())
                low, high = (start, high) if centre < aside else (low, start)
            push /= push.mean()
            if aside > wide / 6 + 1e-9:
                self.assertAlmostEqual(aside_share(wide, aside) * float(push.max()), 1, delta=5e-3)
            else:
                even = 1 + 12 * aside * at / wide**2
                self.assertAlmostEqual(float((even * at).mean()), aside, delta=1e-6)
                self.assertAlmostEqual(aside_share(wide, aside) * float(even.max()), 1, delta=2e-3)

    def test_open_folds_mind_and_closed_ones_do_not(self) -> None:
        for shape, minds in (("pleated", True), ("trough", True), ("tube", False), ("box", False)):
            middle, aside = (held("sheet_bridge", shape=shape, aside_m=off) for off in ("0 mm", "12 mm"))
            self.assertEqual(aside < middle * 0.999, minds, shape)
        for off in ("60 mm", "199 mm"):
            with self.assertRaises(GirderError):
                held("sheet_bridge", shape="tube", aside_m=off)

    def test_a_cup_at_the_edge_has_fewer_pleats_under_it(self) -> None:
        middle, edge = (held("sheet_bridge", placement="cup", aside_m=off) for off in ("0 mm", "70 mm"))
        self.assertLess(edge, 0.8 * middle)


class SideBySide(unittest.TestCase):
    def test_tubes_under_one_deck(self) -> None:
        single, three = (held("sheet_bridge", shape="tube", beside=n) for n in ("1", "3"))
        self.assertTrue(2.2 * single < three < 3 * single)


class Trusses(unittest.TestCase):
    @given(st.integers(2, 4), st.floats(0, 0.04))
    @settings(max_examples=tries(30))
    def test_shares_of_a_stiff_deck(self, n: int, aside: float) -> None:
        # Springs of one stiffness under a stiff bar: level and tilt by least squares.
        places = np.linspace(-0.04, 0.04, n)
        matrix = np.array([[n, places.sum()], [places.sum(), (places**2).sum()]])
        level, tilt = np.linalg.solve(matrix, [1.0, aside])
        self.assertAlmostEqual(trusses_share(n, 0.08, aside), float((level + tilt * places).max()), delta=1e-9)

    def test_the_lever_along_the_deck(self) -> None:
        truss = pattern("Warren", 0.4, 0.08, 4)
        self.assertEqual(deck_load(truss, "centre"), {"B2": 1.0})
        shares = deck_load(truss, "centre", 0.03)
        self.assertAlmostEqual(shares["B3"], 0.3, delta=1e-12)
        self.assertAlmostEqual(sum(shares.values()), 1, delta=1e-12)
        with self.assertRaises(GirderError):
            deck_load(truss, "centre", 0.21)

    def test_aside_the_nearer_truss_breaks_first(self) -> None:
        loads = [held("truss", trusses="2", aside_m=off) for off in ("0 mm", "10 mm", "40 mm")]
        self.assertEqual(loads, sorted(loads, reverse=True))
        self.assertAlmostEqual(loads[2] / loads[0], 0.5, delta=1e-9)
        self.assertEqual(held("truss", aside_m="30 mm"), held("truss"))


class Bundles(unittest.TestCase):
    def test_second_moments_of_points_on_a_ring(self) -> None:
        for n in (3, 4, 5, 7, 12):
            ring = 0.02 / math.sin(math.pi / n)
            for turn in (0.0, 0.3, 1.1):
                angles = 2 * math.pi * np.arange(n) / n + turn
                gain = float(((ring * np.sin(angles)) ** 2).mean()) / 0.014**2
                self.assertAlmostEqual(bundle_gain(n, 0.02, 0.014) / gain, 1, delta=1e-9)

    def test_the_foot_of_a_ring_of_circles(self) -> None:
        for n in (3, 4, 6, 9):
            ring = 0.02 / math.sin(math.pi / n)
            # Support lines of the hull of n circles: the nearest is that over a side.
            angles = 2 * math.pi * np.arange(n) / n
            reach = [max(ring * math.cos(a - way) for a in angles) + 0.02 for way in np.linspace(0, 2 * math.pi, 7201)]
            self.assertAlmostEqual(bundle_half_base_m(n, 0.02), min(reach), delta=1e-6)

    def test_bound_together_slender_tubes_hold_more(self) -> None:
        typed = {"perimeter_m": "40 mm", "height_m": "600 mm", "columns": "4", "sheet": "printer-80"}
        self.assertGreater(held("column", stand="bound", **typed), 1.3 * held("column", **typed))

    def test_aside_it_is_crushed_on_its_near_side(self) -> None:
        loads = [held("column", aside_m=off) for off in ("0 mm", "4 mm", "10 mm", "20 mm")]
        self.assertEqual(loads, sorted(loads, reverse=True))
        with self.assertRaises(GirderError):
            held("column", aside_m="40 mm")
