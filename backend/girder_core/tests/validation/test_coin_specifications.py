"""Published coin masses, diameters and rolls.

Sources: United States Mint, coin specifications; Council Regulation (EU) 729/2014, annex I; The Royal Mint, UK coin
specifications. All values from memory; tolerances are a tenth of a per cent, because they are nominal figures.
"""

import math
import unittest

from girder_core.kit import COINS

US = {
    # key: mass [g], diameter [mm], coins in a roll, mass of a roll [g]
    "us-cent-1983": (2.500, 19.05, 50, 125.0),
    "us-cent-1981": (3.11, 19.05, 50, 155.5),
    "us-5-cent": (5.000, 21.21, 40, 200.0),
    "us-dime": (2.268, 17.91, 50, 113.4),
    "us-quarter": (5.670, 24.26, 40, 226.8),
}
EURO_G = {
    "euro-1-cent": 2.30, "euro-2-cent": 3.06, "euro-5-cent": 3.92, "euro-10-cent": 4.10, "euro-20-cent": 5.74,
    "euro-50-cent": 7.80, "euro-1": 7.50, "euro-2": 8.50,
}  # fmt: skip


class Specifications(unittest.TestCase):
    def test_us_coins_and_rolls(self) -> None:
        for key, (gram, wide, roll, together) in US.items():
            coin = COINS[key]
            self.assertTrue(math.isclose(coin.mass_kg, gram / 1000, rel_tol=1e-3))
            self.assertTrue(math.isclose(coin.diameter_m, wide / 1000, rel_tol=1e-3))
            self.assertEqual(coin.roll_of, roll)
            self.assertTrue(math.isclose(coin.mass_kg * roll, together / 1000, rel_tol=1e-3))

    def test_euro_coins(self) -> None:
        for key, gram in EURO_G.items():
            self.assertTrue(math.isclose(COINS[key].mass_kg, gram / 1000, rel_tol=1e-3), key)

    def test_uk_coppers_weigh_by_their_value(self) -> None:
        # Two pence weigh twice a penny, ten pence twice five: coins of one alloy were banked by weight.
        self.assertAlmostEqual(COINS["uk-2-pence"].mass_kg, 2 * COINS["uk-1-penny"].mass_kg, places=9)
        self.assertAlmostEqual(COINS["uk-10-pence"].mass_kg, 2 * COINS["uk-5-pence"].mass_kg, places=9)

    def test_old_cents_are_a_quarter_heavier(self) -> None:
        # Common practice, no source: coins of one kind can differ by a quarter in mass from year to year.
        self.assertAlmostEqual(COINS["us-cent-1981"].mass_kg / COINS["us-cent-1983"].mass_kg, 1.25, delta=0.01)
