"""Stocks, and the two tests that measure one."""

import math
import unittest

import numpy as np
from numpy.typing import NDArray
from scipy import integrate, optimize

from girder_core.ground import GirderError
from girder_core.measure import Quantity
from girder_core.physics import (
    STOCKS,
    Form,
    droop_stiffness,
    grammage_from_sheets,
    own_sheet,
    stated_grammage,
    thickness_from_stack,
    with_stiffness,
)
from girder_core.physics.measuring import droop_number, grammage_from_basis_weight


class Shelf(unittest.TestCase):
    def test_everything_a_classroom_builds_with(self) -> None:
        forms = {stock.form for stock in STOCKS.values()}
        self.assertEqual(forms, set(Form))
        for key in ("printer-80", "construction", "newsprint", "manila", "board-b", "foil", "straw-paper",
                    "craft-stick", "dowel-6", "skewer", "string", "tape", "glue", "clay", "marshmallow", "gumdrop",
                    "pasta", "wood-block"):  # fmt: skip
            self.assertIn(key, STOCKS)

    def test_every_range_names_where_it_is_from(self) -> None:
        for stock in STOCKS.values():
            for bounds in (stock.density_kg_m3, stock.thickness_m, stock.elastic_modulus_pa, stock.compression_pa,
                           stock.tension_pa, stock.friction):  # fmt: skip
                self.assertTrue(bounds.source, stock.key)

    def test_paper_is_weaker_squeezed_than_pulled_and_across_than_along(self) -> None:
        # Facts of the trade; about a third and a half (from memory).
        for stock in STOCKS.values():
            if stock.form is Form.SHEET and "foil" not in stock.key:
                self.assertLess(stock.compression_pa.typical, 0.6 * stock.tension_pa.typical, stock.key)
                self.assertLess(stock.weak_way().elastic_modulus_pa.typical, stock.elastic_modulus_pa.typical)

    def test_names_tell_the_grammage(self) -> None:
        for key, grammage in (("printer-80", 0.08), ("manila", 0.22), ("card-300", 0.3)):
            self.assertAlmostEqual(STOCKS[key].grammage_kg_m2 / grammage, 1, delta=1e-9)


class Weighing(unittest.TestCase):
    def test_ten_sheets_on_a_whole_gram_scale(self) -> None:
        # A4 is 1/16 m²: ten of 80 g/m² weigh 49.9 g; the step leaves 1/√12 g, 0.6 %.
        sheet = grammage_from_sheets(0.050, 10, 0.297, 0.210, 0.001)
        self.assertAlmostEqual(sheet.value, 0.050 / 10 / (0.297 * 0.210), delta=1e-12)
        self.assertAlmostEqual(sheet.relative, math.hypot(0.001 / math.sqrt(12) / 0.05, 0.0016), delta=2e-4)
        with self.assertRaises(GirderError) as caught:
            grammage_from_sheets(0.005, 1, 0.297, 0.210, 0.001)
        self.assertIn("Weigh more sheets", caught.exception.sentence)

    def test_a_stack_between_two_blocks(self) -> None:
        # Ten sheets of 2.6 mm together: 0.26 mm, a tenth of the calliper's 0.1 mm/√12.
        sheet = thickness_from_stack(0.0026, 10)
        self.assertAlmostEqual(sheet.value, 0.00026, delta=1e-12)
        self.assertAlmostEqual(sheet.standard_uncertainty, 1e-5 / math.sqrt(12), delta=1e-12)
        self.assertAlmostEqual(stated_grammage(0.2).relative, 0.03, delta=1e-12)
        for wrong in (lambda: thickness_from_stack(0.0, 10), lambda: stated_grammage(-1.0)):
            with self.assertRaises(GirderError):
                wrong()

    def test_basis_weights(self) -> None:
        # 500 sheets of 17 × 22 in (bond), 20 × 26 (cover), 25.5 × 30.5 (index); from memory.
        for pounds, grade, grammage in (
            (20, "bond", 0.07519460744803844),
            (24, "bond", 0.09023352893764612),
            (65, "cover", 0.17576739490978982),
            (110, "index", 0.19887535521776284),
        ):
            self.assertAlmostEqual(grammage_from_basis_weight(pounds, grade) / grammage, 1, delta=1e-6)
        with self.assertRaises(GirderError):
            grammage_from_basis_weight(20, "news")


class Drooping(unittest.TestCase):
    def elastica(self, overhang: float, weight_m: float, rigidity: float) -> float:
        """Droop of an overhanging strip by the exact equation of a heavy elastica, shooting with scipy."""

        def tip_curvature(root: float) -> tuple[float, float]:
            path = integrate.solve_ivp(
                lambda s, y: [y[1], weight_m * (overhang - s) * math.cos(y[0]) / rigidity * -1, math.sin(y[0])],
                (0, overhang), [0, root, 0], rtol=1e-9, atol=1e-12,
            )  # fmt: skip
            return float(path.y[1][-1]), float(path.y[2][-1])

        root = optimize.brentq(lambda k: tip_curvature(k)[0], 1e-6, 1e3)
        return tip_curvature(root)[1]

    def test_against_the_heavy_elastica(self) -> None:
        # From barely drooping to 0.88 of the overhang; a tenth of a per cent, for the formula is exact.
        thickness, grammage, modulus = 1.0e-4, 0.08, 3.4e9
        rigidity = modulus * thickness**3 / 12
        for overhang in (0.09, 0.11, 0.13, 0.16, 0.2):
            droop = self.elastica(overhang, grammage * 9.80665, rigidity)
            sheet = droop_stiffness(overhang, droop, Quantity(grammage, 1e-3), Quantity(thickness, 1e-6), 0.001)
            self.assertAlmostEqual(sheet.modulus_pa.value / modulus, 1, delta=1e-3)

    def test_against_a_chain_of_links(self) -> None:
        # No equation of a beam: 400 stiff links with springs between them, their least potential energy.
        links, weight_m, rigidity, long = 400, 0.8, 3e-4, 0.15
        size = long / links
        # Link i carries all links beyond its middle.
        beyond = weight_m * size * (links - np.arange(links) - 0.5)

        def pulls(slopes: NDArray[np.float64]) -> NDArray[np.float64]:
            bends = np.diff(slopes, prepend=-slopes[0]) * rigidity / size
            return np.asarray(bends - np.append(bends[1:], 0.0) - beyond * size * np.cos(slopes))

        slopes = optimize.fsolve(pulls, np.linspace(0.1, 0.8, links), xtol=1e-12)
        droop = float(np.sin(slopes).sum() * size)
        self.assertAlmostEqual(droop_number(droop / long)[0] / (weight_m * long**3 / rigidity), 1, delta=5e-3)

    def test_a_stiff_strip_droops_by_an_eighth_of_its_number(self) -> None:
        # Beam tables: δ = w L⁴/8G.
        self.assertAlmostEqual(droop_number(0.004)[0] / 0.032, 1, delta=1e-3)

    def test_thickness_is_the_weak_point(self) -> None:
        # Cubed: 5 % of thickness is 15 % of stiffness.
        sure = droop_stiffness(0.12, 0.04, Quantity(0.08, 0), Quantity(1e-4, 0), 0.001).modulus_pa.relative
        loose = droop_stiffness(0.12, 0.04, Quantity(0.08, 0), Quantity(1e-4, 5e-6), 0.001).modulus_pa.relative
        self.assertAlmostEqual(math.sqrt(loose**2 - sure**2), 0.15, delta=0.001)

    def test_refusals_say_what_to_change(self) -> None:
        paper = (Quantity(0.08, 0), Quantity(1e-4, 0), 0.001)
        for overhang, droop, words in ((0.1, 0.002, "more of the strip"), (0.1, 0.098, "less of the strip"),
                                       (-0.1, 0.02, "more than zero")):  # fmt: skip
            with self.assertRaises(GirderError) as caught:
                droop_stiffness(overhang, droop, *paper)
            self.assertIn(words, caught.exception.sentence)


class Own(unittest.TestCase):
    def test_centimetres_for_millimetres(self) -> None:
        with self.assertRaises(GirderError) as caught:
            own_sheet("mine", "our card", 0.22, 0.0028, STOCKS["manila"])
        self.assertIn("centimetres instead of millimetres", caught.exception.sentence)

    def test_a_measured_stock_is_narrower_than_a_remembered_one(self) -> None:
        mine = own_sheet("mine", "our card", 0.2, 0.00026, STOCKS["manila"])
        self.assertGreater(
            mine.elastic_modulus_pa.high / mine.elastic_modulus_pa.low,
            STOCKS["manila"].elastic_modulus_pa.high / STOCKS["manila"].elastic_modulus_pa.low,
        )
        sure = with_stiffness(mine, Quantity(3.1e9, 0.2e9))
        self.assertLess(sure.elastic_modulus_pa.high / sure.elastic_modulus_pa.low, 1.4)
        self.assertTrue(sure.measured)
        with self.assertRaises(GirderError):
            with_stiffness(mine, Quantity(3.1e12, 1e10))
