"""Two who measured the same thing: when their difference is more than instruments explain."""

from __future__ import annotations

import math
import unittest
from random import Random

from girder_core.measure import Kind, Quantity, System, apart, resolution_uncertainty


class Two(unittest.TestCase):
    def test_the_zeta_score_decides(self) -> None:
        # ISO 13528:2022, 9.6: zeta = (x - y) / sqrt(ux^2 + uy^2), satisfactory up to 2. With u of 1 mm and 0.1 mm the
        # limit is 2 sqrt(1.01) = 2.01 mm; what two displays can be off together is 1.9 mm, so it does not reach as far.
        other = Quantity(0.4120, 1e-4)
        self.assertTrue(apart(Quantity(0.4140, 1e-3), other, Kind.LENGTH).agree, "zeta is 1.99")
        self.assertFalse(apart(Quantity(0.4141, 1e-3), other, Kind.LENGTH).agree, "zeta is 2.09")

    def test_two_who_read_the_same_length_off_rulers_agree(self) -> None:
        # Each reading is the nearest mark, so it is off by half a step at most, and both together by a whole one.
        chance, step = Random(1818), 1e-3
        u, neighbours = resolution_uncertainty(step), 0
        for _ in range(20_000):
            true = chance.uniform(0.1, 0.5)
            # Each lays the tape's zero on the edge as well as eyes can tell, so the marks lie elsewhere each time.
            starts = [chance.uniform(0, step) for _ in range(2)]
            one, other = (Quantity(round((true + at) / step) * step - at, u) for at in starts)
            self.assertTrue(apart(one, other, Kind.LENGTH).agree)
            neighbours += abs(one.value - other.value) > 2 * math.hypot(u, u)
        # Twice the standard uncertainty alone would have called (1 - 2 / sqrt(6))^2 = 3.4 % of them apart.
        self.assertAlmostEqual(neighbours / 20_000, (1 - 2 / math.sqrt(6)) ** 2, delta=0.005)

    def test_chance_errors_of_the_stated_size_are_seldom_called_apart(self) -> None:
        # Normal errors: the limit is 2 sqrt(3) u, which a difference with the deviation u sqrt(2) passes with 1.4 %.
        chance, u, called = Random(18), 1e-3, 0
        for _ in range(20_000):
            one, other = (Quantity(chance.gauss(0.3, u), u) for _ in range(2))
            called += not apart(one, other, Kind.LENGTH).agree
        self.assertAlmostEqual(called / 20_000, math.erfc(math.sqrt(6) / math.sqrt(2)), delta=0.003)

    def test_a_tape_that_starts_at_one_is_found(self) -> None:
        # The slip of the trade: a centimetre too much (common practice, no source).
        u = resolution_uncertainty(1e-3)
        found = apart(Quantity(0.37, u), Quantity(0.36, u), Kind.LENGTH, System.METRIC)
        self.assertFalse(found.agree)
        self.assertEqual(found.words, "10 mm more; the instruments explain 1 mm at most")

    def test_counts_agree_when_they_are_equal(self) -> None:
        self.assertTrue(apart(Quantity(12), Quantity(12), Kind.COUNT).agree)
        found = apart(Quantity(11), Quantity(12), Kind.COUNT)
        self.assertEqual((found.agree, found.words), (False, "1 less; one of the two is a slip"))

    def test_in_words_and_in_the_readers_units(self) -> None:
        u = resolution_uncertainty(1e-4)
        one, other = Quantity(0.03850, u), Quantity(0.0384, u)
        same = apart(one, one, Kind.MASS)
        self.assertEqual((same.agree, same.words), (True, "the same"))
        self.assertEqual(apart(Quantity(0.41, 3e-4), Quantity(0.4105, 3e-4), Kind.LENGTH).words[:12], "0.5 mm less,")
        self.assertIn(" oz more", apart(Quantity(0.05, u), other, Kind.MASS, System.US).words)
        self.assertTrue(apart(one, other, Kind.MASS).agree, "a tenth of a gram on scales that show tenths")

    def test_what_a_sum_of_binary_fractions_leaves_is_no_difference(self) -> None:
        found = apart(Quantity(0.1 + 0.2), Quantity(0.3), Kind.COUNT)
        self.assertEqual((found.agree, found.words), (True, "the same"))
