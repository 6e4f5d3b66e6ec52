"""Similarity: what a model at another size must do, by dimensional analysis (Buckingham 1914; from memory).

No figure of ours is expected here. When every length is multiplied by s, and material stays the same, areas go with s²,
second moments with s⁴, loads by strength or by buckling with s², weights with s³. These hold
exactly, so the tolerance is that of floating point (1e-9), or of a search where there is one.
"""

import math
import unittest
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.physics import (
    PATTERNS,
    STOCKS,
    Bounds,
    Stock,
    best_open_box,
    box,
    capsizes,
    corbel_stability,
    deck_load,
    drop_factor,
    inner_radii_m,
    longest_fit_m,
    open_box,
    pattern,
    payload_to_rim_kg,
    pleated,
    rectangle,
    ring_plan,
    rocking_threshold_g,
    round_tube,
    sheet_bridge,
    smallest_half_base_m,
    strut_length_m,
    toppling_angle_deg,
    transmissibility,
    trough,
    tube_column,
)
from girder_core.physics.columns import euler_load_n, self_buckling_height_m
from girder_core.physics.flotation import draft_m, metacentric_height_m
from girder_core.physics.rings import shortest_fit_m
from girder_core.physics.sections import corrugated_board, i_beam
from girder_core.physics.thin_walls import cylinder_buckling_stress_pa, plate_buckling_stress_pa, shell_knockdown
from girder_core.tests import tries

SIZES = st.floats(0.3, 4.0)
CARD = STOCKS["manila"]


def at_size(stock: Stock, size: float) -> Stock:
    """The same sheet, thicker or thinner."""
    thick = stock.thickness_m
    return replace(stock, thickness_m=Bounds(thick.low * size, thick.typical * size, thick.high * size, thick.source))


class Sections(unittest.TestCase):
    @given(SIZES)
    @settings(max_examples=tries(40))
    def test_areas_with_the_square_and_second_moments_with_the_fourth_power(self, s: float) -> None:
        for small, large in (
            (rectangle(0.02, 0.003), rectangle(0.02 * s, 0.003 * s)),
            (round_tube(0.03, 0.001), round_tube(0.03 * s, 0.001 * s)),
            (box(0.04, 0.03, 0.001), box(0.04 * s, 0.03 * s, 0.001 * s)),
            (trough(0.08, 0.03, 0.0003), trough(0.08 * s, 0.03 * s, 0.0003 * s)),
            (pleated(0.2, 0.01, 6, 0.0003), pleated(0.2 * s, 0.01 * s, 6, 0.0003 * s)),
            (i_beam(0.03, 0.04, 0.002, 0.001), i_beam(0.03 * s, 0.04 * s, 0.002 * s, 0.001 * s)),
            (corrugated_board(0.1, 2e-4, 2.5e-3, 1.6e-4, 1.3, True),
             corrugated_board(0.1 * s, 2e-4 * s, 2.5e-3 * s, 1.6e-4 * s, 1.3, True)),
        ):  # fmt: skip
            self.assertAlmostEqual(float(large.area_m2) / float(small.area_m2) / s**2, 1, delta=1e-9)
            self.assertAlmostEqual(float(large.second_moment_m4) / float(small.second_moment_m4) / s**4, 1, delta=1e-9)
            self.assertAlmostEqual(float(large.neutral_axis_m) / float(small.neutral_axis_m) / s, 1, delta=1e-9)

    @given(st.floats(0.05, 0.5), st.integers(1, 15), st.floats(0.05, 0.9))
    @settings(max_examples=tries(60))
    def test_an_outline_never_leaves_its_box(self, width: float, pleats: int, steep: float) -> None:
        section = pleated(width, steep * width / 2 / pleats, pleats, width / 2000)
        ys = [y for loop in section.outline for _, y in loop]
        self.assertAlmostEqual(min(ys), 0, delta=1e-12)
        self.assertAlmostEqual(max(ys), float(section.depth_m), delta=1e-9 * width)


class Buckling(unittest.TestCase):
    @given(SIZES)
    @settings(max_examples=tries(40))
    def test_stresses_do_not_know_the_size_and_loads_go_with_its_square(self, s: float) -> None:
        self.assertAlmostEqual(
            float(plate_buckling_stress_pa(3e9, 2e-4 * s, 0.03 * s)) / float(plate_buckling_stress_pa(3e9, 2e-4, 0.03)),
            1, delta=1e-9,
        )  # fmt: skip
        self.assertAlmostEqual(
            float(cylinder_buckling_stress_pa(3e9, 2e-4 * s, 0.03 * s))
            / float(cylinder_buckling_stress_pa(3e9, 2e-4, 0.03)),
            1, delta=1e-9,
        )  # fmt: skip
        self.assertAlmostEqual(
            float(shell_knockdown(0.03 * s, 2e-4 * s)), float(shell_knockdown(0.03, 2e-4)), delta=1e-12
        )
        ratio = float(euler_load_n(3e9, 1e-12 * s**4, 0.3 * s)) / float(euler_load_n(3e9, 1e-12, 0.3))
        self.assertAlmostEqual(ratio / s**2, 1, delta=1e-9)

    @given(st.sampled_from(["circle", "square", "triangle"]), st.floats(0.5, 2.0))
    @settings(max_examples=tries(20))
    def test_a_column_s_strength_goes_with_the_square_of_its_size(self, shape: str, s: float) -> None:
        # But for the pile that topples: its weight by its height is the load's own.
        small = tube_column(shape, 0.2, 0.15, CARD.thickness_m.typical, 1, CARD)
        large = tube_column(shape, 0.2 * s, 0.15 * s, CARD.thickness_m.typical * s, 1, at_size(CARD, s))
        for model, other in zip(
            sorted((a for a in small.limit_states if a.key != "topple"), key=lambda a: a.key),
            sorted((a for a in large.limit_states if a.key != "topple"), key=lambda a: a.key),
            strict=True,
        ):
            self.assertAlmostEqual(other.typical_n / model.typical_n / s**2, 1, delta=1e-9, msg=model.key)

    def test_greenhill_s_height_with_the_two_thirds(self) -> None:
        # A rod twice as thick is 2^(2/3) as tall when it just stands: E I/μ goes with d².
        def height(d: float) -> float:
            return float(self_buckling_height_m(10e9, math.pi * d**4 / 64, 650 * math.pi * d**2 / 4))

        self.assertAlmostEqual(height(0.008) / height(0.004), 2 ** (2 / 3), delta=1e-9)

    @given(st.floats(0.5, 2.0))
    @settings(max_examples=tries(15))
    def test_a_bridge_s_walls_and_fibres_go_with_the_square(self, s: float) -> None:
        # Own weight goes with the cube; with so light a sheet it is left below a part in a hundred.
        small = sheet_bridge(pleated(0.2, 0.012, 6, 3e-4), 0.25, 0.04, CARD, "centre")
        large = sheet_bridge(pleated(0.2 * s, 0.012 * s, 6, 3e-4 * s), 0.25 * s, 0.04 * s, CARD, "centre")
        for state in small.limit_states:
            other = next(a for a in large.limit_states if a.key == state.key)
            self.assertAlmostEqual(other.typical_n / state.typical_n / s**2, 1, delta=0.02, msg=state.key)


class Floating(unittest.TestCase):
    @given(SIZES, st.floats(0.1, 0.9))
    @settings(max_examples=tries(40))
    def test_boats(self, s: float, share: float) -> None:
        foil = STOCKS["foil"]
        small, large = open_box(0.1, 0.07, 0.02, 2e-5, foil), open_box(0.1 * s, 0.07 * s, 0.02 * s, 2e-5 * s, foil)
        self.assertAlmostEqual(payload_to_rim_kg(large) / payload_to_rim_kg(small) / s**3, 1, delta=1e-9)
        load = share * payload_to_rim_kg(small)
        self.assertAlmostEqual(draft_m(large, load * s**3) / draft_m(small, load) / s, 1, delta=1e-7)
        self.assertAlmostEqual(
            metacentric_height_m(large, load * s**3, 0.01 * s) / metacentric_height_m(small, load, 0.01) / s,
            1, delta=1e-6,
        )  # fmt: skip
        model, other = capsizes(small, load, 0.01, 0.006), capsizes(large, load * s**3, 0.01 * s, 0.006 * s)
        self.assertEqual(model.stability, other.stability)
        self.assertAlmostEqual(model.angle_deg, other.angle_deg, delta=1e-5 * max(1, model.angle_deg))

    @given(SIZES, st.floats(0.4, 1.0))
    @settings(max_examples=tries(30))
    def test_the_best_wall(self, s: float, ratio: float) -> None:
        # Found by search for a rectangle, to a nanometre.
        self.assertAlmostEqual(
            best_open_box(0.2 * s, 0.0, 0.2 * ratio * s) / best_open_box(0.2, 0.0, 0.2 * ratio) / s, 1, delta=1e-5
        )


class Geometry(unittest.TestCase):
    @given(SIZES, st.integers(3, 10))
    @settings(max_examples=tries(60))
    def test_rings(self, s: float, n: int) -> None:
        inner = 0.4 * 0.15 * math.cos(math.pi / n)
        length = strut_length_m(n, 0.15, inner)
        self.assertAlmostEqual(strut_length_m(n, 0.15 * s, inner * s) / length / s, 1, delta=1e-9)
        self.assertAlmostEqual(longest_fit_m(n, 0.15 * s) / longest_fit_m(n, 0.15) / s, 1, delta=1e-9)
        self.assertAlmostEqual(shortest_fit_m(n, 0.15 * s) / shortest_fit_m(n, 0.15) / s, 1, delta=1e-9)
        for model, other in zip(
            inner_radii_m(n, 0.15, length), inner_radii_m(n, 0.15 * s, length * s), strict=True
        ):  # fmt: skip
            self.assertAlmostEqual(other / model / s, 1, delta=1e-6)
        small, large = ring_plan(n, 0.01, length, 0.003, 0.15), ring_plan(n, 0.01 * s, length * s, 0.003 * s, 0.15 * s)
        self.assertAlmostEqual(small.slope, large.slope, delta=1e-6)
        self.assertAlmostEqual(large.crown_m / small.crown_m / s, 1, delta=1e-6)

    @given(SIZES, st.lists(st.floats(0.002, 0.04), min_size=1, max_size=5), st.floats(0.0, 3.0))
    @settings(max_examples=tries(60))
    def test_corbels_know_neither_size_nor_weight(self, s: float, steps: list[float], tail: float) -> None:
        small = corbel_stability(steps, 0.1, tail, 1.0)
        large = corbel_stability([step * s for step in steps], 0.1 * s, tail * 7, 7.0)
        for model_layer, other in zip(small.layers, large.layers, strict=True):
            self.assertAlmostEqual(other.inner_margin_m, model_layer.inner_margin_m * s, delta=1e-9 * s)
        worst = min(abs(layer.inner_margin_m) for layer in small.layers)
        if worst > 1e-6:
            self.assertEqual(small.stable, large.stable)

    @given(SIZES, st.sampled_from(PATTERNS), st.sampled_from([4, 6, 8]), st.floats(1.0, 100.0))
    @settings(max_examples=tries(60))
    def test_a_truss_s_forces_know_only_its_shape(self, s: float, name: str, panels: int, load: float) -> None:
        small, large = pattern(name, 0.4, 0.1, panels), pattern(name, 0.4 * s, 0.1 * s, panels)

        def forces(truss: object, push: float) -> dict[str, float]:
            shares = deck_load(truss, "uniform")  # type: ignore[arg-type]
            solved = truss.solve({joint: (0.0, -share * push) for joint, share in shares.items()})  # type: ignore[attr-defined]
            return dict(solved.member_forces_n)

        model, other = forces(small, 1.0), forces(large, load)
        for member, force in model.items():
            self.assertAlmostEqual(other[member], force * load, delta=1e-7 * load)

    @given(SIZES)
    @settings(max_examples=tries(30))
    def test_toppling_and_shaking_know_no_size(self, s: float) -> None:
        half = smallest_half_base_m(3, 0.1)
        self.assertAlmostEqual(smallest_half_base_m(3, 0.1 * s) / half / s, 1, delta=1e-12)
        self.assertAlmostEqual(toppling_angle_deg(half * s, 0.2 * s), toppling_angle_deg(half, 0.2), delta=1e-9)
        self.assertAlmostEqual(rocking_threshold_g(half * s, 0.2 * s), rocking_threshold_g(half, 0.2), delta=1e-12)
        self.assertAlmostEqual(drop_factor(0.1 * s, 0.001 * s), drop_factor(0.1, 0.001), delta=1e-9)

    @given(st.floats(0.01, 10.0), st.floats(0.01, 1.0))
    @settings(max_examples=tries(60))
    def test_below_root_two_it_magnifies_and_above_it_isolates(self, ratio: float, damping: float) -> None:
        passed = float(transmissibility(ratio, damping))
        if ratio < math.sqrt(2) * (1 - 1e-9):
            self.assertGreater(passed, 1)
        elif ratio > math.sqrt(2) * (1 + 1e-9):
            self.assertLess(passed, 1)
