"""Facts of the trade, common practice without a published source: order, and order of magnitude.

These hold the whole chain of a model (material ranges, formulas, limit states) against what classrooms see. Loads are
rules of thumb in books and coins, so a factor of two either way is as near as they can be held.
"""

import unittest

from girder_core.drafting import draft_kind, expectation
from girder_core.ground import GRAVITY_M_S2
from girder_core.physics import STOCKS, Prediction, simply_supported, tube_column

BOOK_KG = 0.6
"""A book of the kind that classes pile on columns; order of magnitude."""
COIN_KG = 0.0025


def column(shape: str) -> Prediction:
    paper = STOCKS["printer-80"]
    return tube_column(shape, 0.28, 0.216, paper.thickness_m.typical, 1, paper)


def bridge(**typed: str) -> Prediction:
    kind = draft_kind("sheet_bridge")
    prediction = expectation(kind, {"sheet": "printer-80", "width_m": "216 mm", "span_m": "200 mm", **typed}).prediction
    assert prediction is not None
    return prediction


def boat(wall: str) -> Prediction:
    kind = draft_kind("boat")
    prediction = expectation(
        kind, {"long_m": "127 mm", "wide_m": "127 mm", "wall_m": wall, "offset_m": "3 mm"}
    ).prediction
    assert prediction is not None
    return prediction


class Columns(unittest.TestCase):
    def test_round_far_above_square_above_triangle(self) -> None:
        round_, square, triangle = (column(shape).typical_n for shape in ("circle", "square", "triangle"))
        self.assertGreater(round_, 3 * square)
        self.assertGreater(square, 1.15 * triangle)

    def test_two_or_three_books_on_flat_walls_seven_to_sixteen_on_a_round_one(self) -> None:
        books = {shape: column(shape).typical_kg / BOOK_KG for shape in ("circle", "square", "triangle")}
        self.assertTrue(2 / 2 <= books["triangle"] <= 3 * 2, books)
        self.assertTrue(2 / 2 <= books["square"] <= 3 * 2, books)
        self.assertTrue(7 / 2 <= books["circle"] <= 16 * 2, books)

    def test_layers_help(self) -> None:
        paper = STOCKS["printer-80"]
        two = tube_column("circle", 0.14, 0.216, paper.thickness_m.typical, 2, paper)
        single = tube_column("circle", 0.14, 0.216, paper.thickness_m.typical, 1, paper)
        self.assertGreater(two.typical_n, 1.8 * single.typical_n)

    def test_as_walls_get_many_it_nears_the_round_tube_and_never_passes_it(self) -> None:
        paper = STOCKS["printer-80"]
        last = 0.0
        for walls in (3, 4, 6, 8, 12, 24, 60, 200):
            load = tube_column("n-gon", 0.28, 0.216, paper.thickness_m.typical, 1, paper, walls=walls).typical_n
            self.assertGreater(load, last)
            last = load
        self.assertLessEqual(last, column("circle").typical_n * 1.0001)
        self.assertGreater(last, 0.9 * column("circle").typical_n)


class Bridges(unittest.TestCase):
    def test_flat_below_trough_below_pleats(self) -> None:
        flat = bridge(shape="flat")
        trough = bridge(shape="trough", depth_m="25 mm")
        pleats = bridge(shape="pleated", depth_m="8 mm", pleats="8")
        # Flat drops under one light object; two folded edges carry several; many pleats far more.
        self.assertLess(flat.typical_kg, 0.01)
        self.assertTrue(2 <= trough.typical_kg / 0.01 <= 20, trough.typical_kg)
        self.assertGreater(pleats.typical_n, 3 * trough.typical_n)

    def test_pleats_must_run_along_the_span(self) -> None:
        # Across the span a pleated sheet bends at its folds: no stiffer than flat, which is what the model has for it.
        along = bridge(shape="pleated", depth_m="8 mm", pleats="8")
        self.assertGreater(along.typical_n, 100 * max(bridge(shape="flat").typical_n, 1e-3))

    def test_spread_bends_half_as_much(self) -> None:
        spot, spread = (simply_supported(0.3, 1.0, placement).max_moment_nm for placement in ("centre", "uniform"))
        self.assertAlmostEqual(spread / spot, 0.5, delta=1e-12)
        point, even = bridge(shape="trough", depth_m="25 mm", placement="centre"), bridge(
            shape="trough", depth_m="25 mm", placement="uniform"
        )  # fmt: skip
        self.assertAlmostEqual(even.typical_n / point.typical_n, 2, delta=0.05)


class Boats(unittest.TestCase):
    # From a 127 mm foil square: a plain raft about nine 2.5 g coins, 35 a hard target, high forties a very good boat.
    def test_a_raft_with_hardly_a_rim(self) -> None:
        self.assertTrue(9 / 2 <= boat("5 mm").typical_n / GRAVITY_M_S2 / COIN_KG <= 9 * 2)

    def test_a_very_good_boat(self) -> None:
        best = boat("21.2 mm")
        coins = best.typical_n / GRAVITY_M_S2 / COIN_KG
        self.assertTrue(40 <= coins <= 55, coins)
        self.assertLess(best.high_n / GRAVITY_M_S2 / COIN_KG, 60.3)  # what Archimedes allows

    def test_in_the_right_order(self) -> None:
        coins = [boat(wall).typical_n for wall in ("3 mm", "5 mm", "10 mm", "15 mm", "21 mm")]
        self.assertEqual(coins, sorted(coins))
        self.assertLess(boat("45 mm").typical_n, boat("21 mm").typical_n)


class Table(unittest.TestCase):
    """Every fact meets the range that is expected, and what is expected in the middle is never beyond it: a prediction
    that promises more than classes see is on the unsafe side. Books of 600 g, teaspoons of 25 g, coins of 2.5 g."""

    def meets(self, kind: str, unit_n: float, least: float, most: float, **typed: str) -> None:
        prediction = expectation(draft_kind(kind), typed).prediction
        assert prediction is not None
        low, middle, high = (load / unit_n for load in (prediction.low_n, prediction.typical_n, prediction.high_n))
        self.assertLessEqual(low, most, typed)
        self.assertGreaterEqual(high, least, typed)
        self.assertLessEqual(middle, 1.35 * most, typed)

    def test_books_on_a_sheet_of_printer_paper(self) -> None:
        sheet = {"sheet": "printer-80", "perimeter_m": "280 mm", "height_m": "216 mm"}
        book = BOOK_KG * GRAVITY_M_S2
        self.meets("column", book, 7, 16, shape="circle", **sheet)
        for shape in ("square", "triangle"):
            self.meets("column", book, 2, 3, shape=shape, **sheet)

    def test_teaspoons_on_folded_edges(self) -> None:
        for depth in ("15 mm", "20 mm", "25 mm"):
            self.meets("sheet_bridge", 0.025 * GRAVITY_M_S2, 4, 4, sheet="printer-80", width_m="216 mm",
                       span_m="200 mm", shape="trough", depth_m=depth)  # fmt: skip

    def test_teaspoons_on_many_pleats(self) -> None:
        for pleats, depth in (("6", "10 mm"), ("8", "8 mm"), ("12", "6 mm")):
            self.meets("sheet_bridge", 0.025 * GRAVITY_M_S2, 11, 40, sheet="printer-80", width_m="216 mm",
                       span_m="200 mm", shape="pleated", depth_m=depth, pleats=pleats)  # fmt: skip

    def test_a_cup_of_coins_on_a_large_index_card(self) -> None:
        for pleats, depth in (("4", "8 mm"), ("6", "8 mm"), ("5", "10 mm"), ("8", "6 mm")):
            self.meets("sheet_bridge", COIN_KG * GRAVITY_M_S2, 100, 200, sheet="card-160", width_m="127 mm",
                       span_m="150 mm", shape="pleated", depth_m=depth, pleats=pleats, placement="cup")  # fmt: skip

    def test_coins_on_straw_trusses(self) -> None:
        for name in ("Warren", "Pratt", "Howe", "king post", "queen post"):
            for straw in ("straw-plastic", "straw-paper"):
                self.meets("truss", COIN_KG * GRAVITY_M_S2, 100, 400, pattern=name, panels="4", span_m="200 mm",
                           depth_m="70 mm", member=straw, joint="tape")  # fmt: skip

    def test_tens_of_kilograms_on_two_trusses_of_glued_sticks(self) -> None:
        for pattern in ("Warren", "Pratt", "Howe"):
            self.meets("truss", GRAVITY_M_S2, 10, 100, pattern=pattern, span_m="360 mm", depth_m="80 mm", trusses="2")

    def test_newtons_on_card_tubes(self) -> None:
        # Of 45 mm, one by one; several under one deck carry less than as many alone.
        for sheet, layers in (("card-300", "1"), ("manila", "1"), ("card-160", "2"), ("card-160", "1")):
            self.meets("column", 1.0, 80, 200, sheet=sheet, layers=layers, shape="circle", perimeter_m="141 mm",
                       height_m="100 mm")  # fmt: skip
        single, four = (
            expectation(draft_kind("column"), {"sheet": "card-300", "columns": n}).prediction for n in ("1", "4")
        )
        assert single is not None and four is not None
        self.assertTrue(2 * single.typical_n < four.typical_n < 4 * single.typical_n)
