"""What must never get worse: facts of the trade as property tests over random drafts (common practice, no source)."""

import unittest
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from girder_core.drafting import KINDS, draft, draft_kind, expectation, read_values, start_values
from girder_core.ground import GirderError
from girder_core.measure import System
from girder_core.physics import Prediction
from girder_core.tests import tries

OFTEN = settings(max_examples=tries(25), suppress_health_check=[HealthCheck.filter_too_much])


def held(kind: str, **typed: str) -> Prediction | None:
    """The prediction, or None for a draft that cannot be built."""
    try:
        return expectation(draft_kind(kind), typed).prediction
    except GirderError:
        return None


def mm(low: float, high: float) -> Any:
    return st.floats(low, high).map(lambda value: f"{value:.3f} mm")


class NeverWorse(unittest.TestCase):
    def stronger(self, less: Prediction | None, more: Prediction | None, slack: float = 1e-9) -> None:
        if less is None or more is None:
            return
        self.assertGreaterEqual(more.typical_n, less.typical_n * (1 - slack))
        self.assertGreaterEqual(more.low_n, less.low_n * (1 - slack))
        self.assertGreaterEqual(more.high_n, less.high_n * (1 - slack))

    @given(st.sampled_from(["flat", "trough", "pleated", "tube", "box"]), st.integers(1, 3), mm(120, 400))
    @OFTEN
    def test_one_more_sheet(self, shape: str, layers: int, span: str) -> None:
        typed = {"shape": shape, "span_m": span}
        self.stronger(
            held("sheet_bridge", layers=str(layers), **typed), held("sheet_bridge", layers=str(layers + 1), **typed)
        )

    @given(st.sampled_from(["trough", "pleated", "tube", "box"]), st.floats(150, 450), st.floats(5, 80))
    @OFTEN
    def test_a_shorter_gap(self, shape: str, span: float, less: float) -> None:
        long, short = (held("sheet_bridge", shape=shape, span_m=f"{size:.3f} mm") for size in (span, span - less))
        self.stronger(long, short)

    @given(st.floats(150, 400), st.floats(10, 100), st.floats(5, 40))
    @OFTEN
    def test_a_longer_platform(self, span: float, patch: float, more: float) -> None:
        small, large = (
            held("sheet_bridge", span_m=f"{span:.3f} mm", patch_m=f"{size:.3f} mm") for size in (patch, patch + more)
        )
        self.stronger(small, large)

    @given(st.sampled_from(["circle", "square", "triangle", "n-gon"]), st.integers(1, 5), mm(90, 300))
    @OFTEN
    def test_one_more_layer_around_a_column(self, shape: str, layers: int, around: str) -> None:
        typed = {"shape": shape, "perimeter_m": around}
        self.stronger(held("column", layers=str(layers), **typed), held("column", layers=str(layers + 1), **typed))

    @given(st.sampled_from(["circle", "square", "triangle"]), st.floats(60, 500), st.floats(10, 50))
    @OFTEN
    def test_a_shorter_column(self, shape: str, height: float, less: float) -> None:
        tall, short = (held("column", shape=shape, height_m=f"{size:.3f} mm") for size in (height, height - less))
        self.stronger(tall, short)

    @given(st.sampled_from(["Warren", "Pratt", "Howe"]), st.sampled_from(["4", "6"]), st.integers(1, 3))
    @OFTEN
    def test_one_more_piece_in_each_member(self, pattern: str, panels: str, doubled: int) -> None:
        typed = {"pattern": pattern, "panels": panels}
        self.stronger(held("truss", doubled=str(doubled), **typed), held("truss", doubled=str(doubled + 1), **typed))

    @given(st.sampled_from(["Warren", "Pratt", "Howe"]), st.floats(200, 800), st.floats(10, 100))
    @OFTEN
    def test_a_shorter_truss(self, pattern: str, span: float, less: float) -> None:
        long, short = (held("truss", pattern=pattern, span_m=f"{size:.3f} mm") for size in (span, span - less))
        self.stronger(long, short)

    @given(st.floats(0, 20), st.floats(1, 10), mm(10, 40))
    @OFTEN
    def test_cargo_nearer_the_middle(self, offset: float, nearer: float, wall: str) -> None:
        far, near = (
            held("boat", offset_m=f"{max(0.0, size):.3f} mm", wall_m=wall) for size in (offset, offset - nearer)
        )
        self.stronger(far, near)

    @given(mm(80, 250), st.floats(5, 60), mm(10, 30))
    @OFTEN
    def test_a_larger_sheet_for_a_boat(self, side: str, more: float, wall: str) -> None:
        larger = f"{float(side[:-3]) + more:.3f} mm"
        self.stronger(
            held("boat", long_m=side, wide_m=side, wall_m=wall), held("boat", long_m=larger, wide_m=side, wall_m=wall)
        )

    @given(st.integers(1, 8), mm(150, 600), st.sampled_from(["dowel-4", "craft-stick", "skewer"]))
    @OFTEN
    def test_one_more_storey(self, levels: int, height: str, stick: str) -> None:
        typed = {"height_m": height, "member": stick, "bracing": "braced"}
        # A storey more weighs more, which a tower that topples feels; all else is stronger.
        self.stronger(held("tower", levels=str(levels), **typed), held("tower", levels=str(levels + 1), **typed), 0.02)

    @given(st.floats(30, 150), st.floats(5, 40), mm(60, 300))
    @OFTEN
    def test_a_thicker_wall(self, thick: float, more: float, push: str) -> None:
        thin, stout = (held("wall", thick_m=f"{size:.3f} mm", push_m=push) for size in (thick, thick + more))
        self.stronger(thin, stout)

    @given(st.integers(1, 8), st.integers(0, 3), st.sampled_from(["upright", "lying"]))
    @OFTEN
    def test_one_more_prism_of_card(self, legs: int, nested: int, flutes: str) -> None:
        typed = {"nested": str(nested), "flutes": flutes, "side_m": "120 mm"}
        if legs == 1:
            return  # One leg has no uneven share; two have.
        self.stronger(held("furniture", legs=str(legs), **typed), held("furniture", legs=str(legs + 1), **typed))

    @given(st.integers(1, 50), st.sampled_from(["tape", "glue", "band"]))
    @OFTEN
    def test_one_more_joint_in_a_house(self, joints: int, joint: str) -> None:
        self.stronger(held("drop", joints=str(joints), joint=joint), held("drop", joints=str(joints + 1), joint=joint))

    @given(st.floats(0, 100), st.floats(1, 50))
    @OFTEN
    def test_more_weight_on_the_tails_of_an_arch(self, tail: float, more: float) -> None:
        self.stronger(held("arch", tail_kg=f"{tail:.3f} g"), held("arch", tail_kg=f"{tail + more:.3f} g"))


class SameDraft(unittest.TestCase):
    def test_in_either_system_it_is_the_same_draft(self) -> None:
        for kind in KINDS.values():
            metric, us = (read_values(kind, start_values(kind, {}, {}, system)) for system in System)
            for param in kind.params:
                if param.kind is not None:
                    # US texts have four decimals.
                    self.assertAlmostEqual(
                        us[param.key], metric[param.key], delta=1e-3 * abs(metric[param.key]) + 1e-5, msg=param.key
                    )
            in_metres, other = draft(kind, {}), draft(kind, {}, system=System.US)
            self.assertEqual(in_metres.expected.mass_kg, other.expected.mass_kg)
            assert in_metres.expected.prediction is not None and other.expected.prediction is not None
            self.assertEqual(in_metres.expected.prediction.typical_n, other.expected.prediction.typical_n)
