"""EN 1993-1-5, plated structures: coefficients of table 4.1 and 4.2 and Winter's reduction; all from memory.

Von Kármán's effective width is an upper bound of Winter's, which was fitted to tests: ρ = (λ − 0.22)/λ². They differ by
(1 − 0.22/λ), so the tolerance is that expression, not a figure.
"""

import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.physics import STOCKS, Prediction, tube_column
from girder_core.physics.columns import column_load_n
from girder_core.physics.sections import FREE_EDGE, SQUEEZED_WALL
from girder_core.physics.thin_walls import effective_width_load_n, plate_buckling_coefficient, plate_buckling_stress_pa
from girder_core.tests import tries


class Plates(unittest.TestCase):
    @given(st.floats(1e9, 7e10), st.floats(0.7, 40.0), st.floats(1e6, 3e8))
    @settings(max_examples=tries(100))
    def test_above_winter_by_just_what_the_curves_say(self, modulus: float, slender: float, strength: float) -> None:
        buckling = strength / slender**2
        karman = float(effective_width_load_n(buckling, strength, 1.0)) / strength
        if slender <= 1:
            self.assertAlmostEqual(karman, 1, delta=1e-12)
            return
        winter = (slender - 0.22) / slender**2
        self.assertAlmostEqual(winter / karman, 1 - 0.22 / slender, delta=1e-9)
        self.assertGreater(modulus, 0)

    def test_coefficients(self) -> None:
        # Table 4.1: k = 4 for an internal wall squeezed evenly; table 4.2: 0.43 for an outstand.
        self.assertEqual(SQUEEZED_WALL[0], 4.0)
        self.assertEqual(FREE_EDGE[0], 0.43)
        # Simply supported strips of whole squares reach the same 4 (Timoshenko & Gere 9.2, from memory); others more.
        for squares in (1, 2, 3, 7):
            self.assertAlmostEqual(plate_buckling_coefficient(squares * 0.05, 0.05), 4, delta=1e-12)
        self.assertAlmostEqual(plate_buckling_coefficient(math.sqrt(2) * 0.05, 0.05), 4.5, delta=1e-9)
        self.assertGreater(plate_buckling_coefficient(0.5 * 0.05, 0.05), 6)

    def test_stress_falls_with_the_square_of_the_width(self) -> None:
        narrow = float(plate_buckling_stress_pa(3e9, 1e-4, 0.03))
        self.assertAlmostEqual(float(plate_buckling_stress_pa(3e9, 1e-4, 0.06)) / narrow, 0.25, delta=1e-12)
        self.assertAlmostEqual(float(plate_buckling_stress_pa(3e9, 2e-4, 0.03)) / narrow, 4, delta=1e-12)


def made(shape: str, **changed: object) -> Prediction:
    paper = STOCKS["card-160"]
    given = {
        "perimeter_m": 0.2, "height_m": 0.15, "sheet_m": paper.thickness_m.typical, "layers": 1, "material": paper,
    } | changed  # fmt: skip
    return tube_column(shape, **given)  # type: ignore[arg-type]


def of(prediction: Prediction, key: str) -> float:
    """Typical load of one limit state [N]."""
    return next(state.typical_n for state in prediction.limit_states if state.key == key)


class Columns(unittest.TestCase):
    def test_tall_ones_bow_out_and_short_ones_crumple(self) -> None:
        short, tall = made("square", height_m=0.1), made("square", perimeter_m=0.05, height_m=0.5)
        self.assertLess(of(short, "wall"), of(short, "column"))
        self.assertGreater(of(tall, "wall"), of(tall, "column"))
        # A tall thin one leans, too: the pile on it topples first.
        self.assertEqual(tall.governing.key, "topple")

    def test_held_ends_help_where_it_bows_out_and_nowhere_else(self) -> None:
        free = made("square", perimeter_m=0.05, height_m=0.9)
        held = made("square", perimeter_m=0.05, height_m=0.9, end_condition="fixed-fixed")
        # Euler: four times, where both are slender.
        self.assertAlmostEqual(of(held, "column") / of(free, "column"), 4, delta=0.6)
        short = made("square")
        self.assertAlmostEqual(made("square", end_condition="fixed-fixed").typical_n / short.typical_n, 1, delta=0.02)

    def test_euler_and_johnson_never_exceed_crushing(self) -> None:
        for height in (0.01, 0.05, 0.2, 1.0, 3.0):
            load = float(column_load_n(9e6, 3e9, 4e-5, 1e-8, height))
            self.assertLessEqual(load, 9e6 * 4e-5)
            self.assertGreater(load, 0)

    def test_pleats_open_at_their_free_edges(self) -> None:
        # Two panels of a zigzag have a free edge, so it carries less than a closed tube of as many walls.
        self.assertLess(made("zigzag", walls=6).typical_n, made("n-gon", walls=6).typical_n)

    def test_refusals(self) -> None:
        for change, words in (
            ({"sheet_m": 0.02}, "millimetres"), ({"layers": 0}, "at least 1"),
            ({"height_m": -0.1}, "more than zero"),
            ({"end_condition": "glued"}, "holding the ends"), ({"perimeter_m": math.nan}, "more than zero"),
        ):  # fmt: skip
            with self.assertRaises(GirderError) as caught:
                made("square", **change)
            self.assertIn(words, caught.exception.sentence)
        with self.assertRaises(GirderError):
            made("star")
        with self.assertRaises(GirderError):
            made("n-gon", walls=2)
