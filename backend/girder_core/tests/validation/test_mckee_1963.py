"""McKee, Gander & Wachuta 1963 (box compression) and Maltenfort (edge crush); both from memory.

The published constant, 5.87, is for pounds and inches; ours is consistent in SI. Both must give the same box, to the
rounding of the published constant (0.2 %).
"""

import math
import unittest

from girder_core.ground import GirderError
from girder_core.measure import Kind, si_per
from girder_core.physics import STOCKS, board_leg
from girder_core.physics.boards import box_compression_n, edge_crush_n_m

LBF_N = si_per("lb", Kind.MASS) * 9.80665
INCH_M = si_per("in", Kind.LENGTH)
BOARD = STOCKS["board-b"]


class Boxes(unittest.TestCase):
    def test_in_pounds_and_inches(self) -> None:
        # A C-flute box of 32 lb/in edge crush, 0.16 in thick, 60 in around: 5.87 · 32 · √(0.16 · 60) = 582 lb.
        pounds = 5.87 * 32 * math.sqrt(0.16 * 60)
        ours = float(box_compression_n(32 * LBF_N / INCH_M, 0.16 * INCH_M, 60 * INCH_M)) / LBF_N
        self.assertAlmostEqual(ours / pounds, 1, delta=0.002)
        self.assertAlmostEqual(pounds, 582, delta=0.5)

    def test_as_published_it_grows_with_the_root_of_thickness_and_perimeter(self) -> None:
        thin = float(box_compression_n(4000.0, 0.003, 0.4))
        self.assertAlmostEqual(float(box_compression_n(4000.0, 0.012, 0.4)) / thin, 2, delta=1e-9)
        self.assertAlmostEqual(float(box_compression_n(4000.0, 0.003, 1.6)) / thin, 2, delta=1e-9)
        self.assertAlmostEqual(float(box_compression_n(8000.0, 0.003, 0.4)) / thin, 2, delta=1e-9)

    def test_edge_crush_adds_its_papers(self) -> None:
        # 0.7 (2 · 3000 + 1.4 · 2000) N/m.
        self.assertAlmostEqual(float(edge_crush_n_m(3000.0, 2000.0, 1.4)), 0.7 * 8800, delta=1e-9)


class Stools(unittest.TestCase):
    def typical(self, **changed: object) -> float:
        given = {"side_m": 0.09, "walls": 3, "height_m": 0.24, "legs": 3} | changed
        return board_leg(BOARD, **given).typical_n  # type: ignore[arg-type]

    def test_flutes_upright_carry_two_to_three_times_as_much(self) -> None:
        # Strong along its flutes and weak across (common practice, no source).
        ratio = self.typical() / self.typical(flutes_upright=False)
        self.assertTrue(1.7 <= ratio <= 3.3, ratio)

    def test_nested_prisms_and_more_legs_help(self) -> None:
        self.assertGreater(self.typical(nested=1), 1.3 * self.typical())
        self.assertAlmostEqual(self.typical(legs=6) / self.typical(legs=3), 2, delta=1e-9)
        self.assertGreater(self.typical(walls=6), self.typical(walls=3))

    def test_one_leg_needs_no_even_share(self) -> None:
        self.assertGreater(3 * self.typical(legs=1), self.typical(legs=3))

    def test_a_very_tall_thin_leg_buckles_as_a_whole(self) -> None:
        leg = board_leg(BOARD, 0.02, 3, 3.0, 1)
        self.assertEqual(leg.governing.key, "column")

    def test_refusals(self) -> None:
        for make, words in (
            (lambda: board_leg(STOCKS["manila"], 0.1, 3, 0.2, 3), "no corrugated card"),
            (lambda: board_leg(BOARD, 0.0, 3, 0.2, 3), "more than zero"),
            (lambda: board_leg(BOARD, 0.1, 2, 0.2, 3), "at least 3"),
            (lambda: edge_crush_n_m(1.0, 1.0, 0.9), "at least as long"),
        ):
            with self.assertRaises(GirderError) as caught:
                make()
            self.assertIn(words, caught.exception.sentence)
