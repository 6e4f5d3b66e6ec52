"""ISO 216 and ISO 536 (sheet sizes and grammage), US basis weights; from memory. Nominal values, so 1e-6."""

import unittest

from girder_core.measure import Kind, si_per
from girder_core.physics import STOCKS, Form, grammage_from_sheets, own_sheet
from girder_core.physics.measuring import BASIS_SHEET_M2, grammage_from_basis_weight

A4_M2 = 0.297 * 0.210
LETTER_M2 = 0.2794 * 0.2159


class Sheets(unittest.TestCase):
    def test_what_one_sheet_weighs(self) -> None:
        # Letter of 20 lb bond: 20 lb / 500 / 4, because a basis sheet cuts into four: 4.536 g.
        letter = grammage_from_basis_weight(20, "bond") * LETTER_M2
        self.assertAlmostEqual(letter / (20 * si_per("lb", Kind.MASS) / 500 / 4), 1, delta=1e-6)
        self.assertAlmostEqual(BASIS_SHEET_M2["bond"] / LETTER_M2, 4, delta=1e-9)

    def test_basis_sheets_are_those_of_the_trade(self) -> None:
        # Bond 17 x 22 in, cover 20 x 26 in, index 25 1/2 x 30 1/2 in (from memory).
        inch = si_per("in", Kind.LENGTH)
        for grade, (wide, long) in {"bond": (17, 22), "cover": (20, 26), "index": (25.5, 30.5)}.items():
            self.assertAlmostEqual(BASIS_SHEET_M2[grade] / (wide * inch * long * inch), 1, delta=1e-9, msg=grade)

    def test_sixteen_sheets_of_a4_weigh_as_a_square_metre_does(self) -> None:
        # ISO 216: A0 is a square metre, and A4 a sixteenth of it, rounded down to millimetres; ISO 536 for the mass.
        for grammage in (0.080, 0.160):
            sheet = grammage_from_sheets(grammage, 16, 0.297, 0.210, 0.0)
            self.assertAlmostEqual(sheet.value / grammage, 1, delta=0.003)

    def test_weighing_ten_finds_the_grammage_back(self) -> None:
        for grammage in (0.045, 0.08, 0.16, 0.22):
            shown = round(10 * grammage * A4_M2, 3)
            sheet = grammage_from_sheets(shown, 10, 0.297, 0.210, 0.001)
            self.assertLessEqual(abs(sheet.value - grammage), 2 * sheet.standard_uncertainty)

    def test_shipped_sheets_are_as_dense_as_paper_is(self) -> None:
        # Bulk of printing papers about 1.1 to 1.6 cm³/g, of rough papers up to 2.5 (from memory).
        for stock in STOCKS.values():
            if stock.form is Form.SHEET and "foil" not in stock.key:
                bulk = 1000 / stock.density_kg_m3.typical
                self.assertTrue(1.0 <= bulk <= 2.5, f"{stock.key}: {bulk:.2f} cm³/g")

    def test_a_caliper_in_thousandths_of_an_inch(self) -> None:
        # 11 mil card of 110 lb index: 198.9 g/m² over 0.2794 mm is 712 kg/m³, a card.
        thick = 0.011 * si_per("in", Kind.LENGTH)
        stock = own_sheet("mine", "index card", grammage_from_basis_weight(110, "index"), thick, STOCKS["manila"])
        self.assertAlmostEqual(stock.density_kg_m3.typical, 711.8, delta=0.5)
