"""The pile on the scale against the count: the likely culprit is named; figures worked by hand."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.kit import PLATFORM, Kit, LoadItem, pile_check
from girder_core.kit.pile import Suspect
from girder_core.measure import Quantity

# A plate of 80 g, bags of 62 g each known to 0.1 g.
KIT = Kit(
    (
        LoadItem("plate", Quantity(0.080, 0.0003), 1, key=PLATFORM, shape="platform"),
        LoadItem("gravel bag", Quantity(0.062, 0.0001), 40, key="bag", shape="bag"),
    )
)
ON = {PLATFORM: 1, "bag": 10}  # 700 g


def check(grams: float, step_g: float = 1.0) -> Suspect:
    return pile_check(KIT, ON, Quantity(grams / 1000, step_g / 1000 / 12**0.5)).suspect


class Piles(unittest.TestCase):
    def test_agreement_within_the_doubt(self) -> None:
        for grams in (700, 699, 701, 702):
            self.assertIs(check(grams), Suspect.NOTHING)

    def test_a_miscount(self) -> None:
        checked = pile_check(KIT, ON, Quantity(0.638, 0.0003))
        self.assertIs(checked.suspect, Suspect.COUNT)
        self.assertIn("1 × gravel bag", checked.sentence)
        self.assertIn("too high", checked.sentence)
        self.assertIn("too low", pile_check(KIT, ON, Quantity(0.824, 0.0003)).sentence)

    def test_the_plate_left_off(self) -> None:
        self.assertIs(check(620), Suspect.PLATFORM)

    def test_a_wrong_unit(self) -> None:
        self.assertIs(check(0.7, 0.001), Suspect.UNIT)
        self.assertIs(check(700 * 28.35, 100), Suspect.UNIT)

    def test_objects_that_are_not_alike(self) -> None:
        self.assertIs(check(668), Suspect.ITEMS)

    def test_what_cannot_be_told(self) -> None:
        self.assertIs(check(390), Suspect.UNCLEAR)

    def test_without_a_platform_nothing_is_said_of_one(self) -> None:
        bare = Kit((LoadItem("slate", Quantity(0.031), 40, key="slate"),))
        self.assertNotIn("platform", pile_check(bare, {"slate": 10}, Quantity(0.1)).sentence)

    @given(st.floats(0.01, 5), st.floats(1e-5, 0.01))
    def test_something_is_always_said(self, kg: float, doubt: float) -> None:
        checked = pile_check(KIT, ON, Quantity(kg, doubt))
        self.assertTrue(checked.sentence.endswith((".", "?")))
        self.assertEqual(checked.agrees, checked.suspect is Suspect.NOTHING)
