"""Counted coins as load. Source: United States Mint, coin specifications (from memory).

Nominal masses: cent since 1983 2.500 g, before 1982 3.11 g, five cents 5.000 g, dime 2.268 g, quarter 5.670 g. A roll
holds 50 cents or dimes, 40 of the others.
"""

import unittest

from girder_core.kit import Kit, LoadItem
from girder_core.measure import Quantity, item_mass_kg

SPECIFICATION_G = {"cent": (2.500, 50), "five cents": (5.000, 40), "dime": (2.268, 50), "quarter": (5.670, 40)}


class Rolls(unittest.TestCase):
    def test_a_roll_weighed_whole_gives_the_mass_of_one(self) -> None:
        for name, (mass_g, roll) in SPECIFICATION_G.items():
            with self.subTest(name):
                mass = item_mass_kg(round(mass_g * roll) / 1000, roll, 0.001)
                # The scale rounds to whole grams: half a gram over the roll at most, plus float rounding.
                self.assertAlmostEqual(mass.value, mass_g / 1000, delta=0.0005 / roll + 1e-12)

    def test_roll_masses(self) -> None:
        # 125 g, 200 g, 113.4 g, 226.8 g.
        items = tuple(LoadItem(n, Quantity(m / 1000), r, key=n) for n, (m, r) in SPECIFICATION_G.items())
        kit = Kit(items)
        rolls = [kit.mass({n: r}).value for n, (m, r) in SPECIFICATION_G.items()]
        for ours, published in zip(rolls, [0.125, 0.200, 0.1134, 0.2268], strict=True):
            self.assertAlmostEqual(ours, published, delta=1e-9)

    def test_old_cents_are_a_quarter_heavier(self) -> None:
        # Common practice, no source: coins of one kind from different years can differ by a quarter in mass.
        self.assertAlmostEqual(3.11 / 2.5, 1.25, delta=0.01)
        old = item_mass_kg(0.1555, 50, 0.0001)
        self.assertAlmostEqual(old.value / 0.0025, 1.244, delta=0.001)
