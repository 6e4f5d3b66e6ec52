"""What a team says beforehand, read by hand: a tray of 20 g, nuts of 16 g, bags of twenty."""

import unittest

from girder_core.ground import GirderError
from girder_core.kit import Foretold, Kit, LoadItem, Relation, read_foretold
from girder_core.measure import Quantity, System
from girder_core.results import foresee, foresight_of_all
from girder_core.tests.support import kit
from girder_core.trial import Interval

HELD = {"Gannet": 0.974, "Auk": None}


def said(text: str, counts: bool = False, load: Kit | None = None) -> Foretold:
    return read_foretold(text, load or kit(), HELD, counts)


class Read(unittest.TestCase):
    def test_a_mass_or_a_force(self) -> None:
        self.assertEqual(said("850 g"), Foretold(0.85))
        self.assertAlmostEqual(said("9.80665 N").amount, 1.0)

    def test_so_many_objects_with_what_carries_them(self) -> None:
        for text, kg in (("40 nuts", 0.66), ("40 × nut", 0.66), ("1 nut", 0.036), ("2 bags", 0.66), ("2x bag", 0.66)):
            self.assertAlmostEqual(said(text).amount, kg, msg=text)
        self.assertAlmostEqual(said("40", counts=True).amount, 0.66)
        two = Kit((LoadItem("M12 hex nut", Quantity(0.016), 9, key="a"), LoadItem("glass marble", Quantity(0.005), 9,
                                                                              key="b")))  # fmt: skip
        self.assertAlmostEqual(said("4 marbles", load=two).amount, 0.020)

    def test_more_less_or_as_much_as_somebody(self) -> None:
        for text, relation in (
            ("more than Gannet", Relation.MORE), ("Less than gannet.", Relation.LESS),
            ("about the same as Gannet", Relation.SAME), ("as much as GANNET", Relation.SAME),
        ):  # fmt: skip
            self.assertEqual(said(text), Foretold(0.974, relation, "Gannet"), text)
        self.assertEqual(said("more than Gannet").words(), "more than Gannet, 974 g")
        self.assertEqual(said("850 g").words(System.US), "1.87 lb")

    def test_what_nobody_can_say(self) -> None:
        for text, code in (
            ("less than nobody", "nobody_of_that_name"), ("more than", "not_a_number"),
            ("more than Auk", "not_tested_yet"), ("40 bricks", "no_such_object"), ("0 nuts", "not_positive"),
            ("0 g", "not_positive"), ("40", "unit_missing"), ("lots", "not_a_number"),
        ):  # fmt: skip
            with self.subTest(text):
                with self.assertRaises(GirderError) as caught:
                    said(text)
                self.assertEqual(caught.exception.code, code)
        with self.assertRaises(GirderError) as caught:
            said("less than nobody")
        self.assertIn("These were tested: Gannet.", caught.exception.sentence)


class Held(unittest.TestCase):
    def verdict(self, relation: Relation, held: float, high: float) -> str:
        return foresee("a", "A", 1.0, held, Interval(held, high), relation).verdict

    def test_a_comparison_is_right_or_wrong_or_open(self) -> None:
        endless = float("inf")
        for relation, held, high, verdict in (
            (Relation.MORE, 1.2, 1.3, "right"), (Relation.MORE, 0.8, 0.9, "too_high"),
            (Relation.MORE, 0.8, endless, "open"), (Relation.MORE, 1.2, endless, "right"),
            (Relation.LESS, 0.8, 0.9, "right"), (Relation.LESS, 1.2, 1.3, "too_low"),
            (Relation.LESS, 0.8, endless, "open"), (Relation.LESS, 1.2, endless, "too_low"),
            (Relation.SAME, 1.1, 1.12, "right"), (Relation.SAME, 1.4, 1.5, "too_low"),
        ):  # fmt: skip
            self.assertEqual(self.verdict(relation, held, high), verdict, (relation, held, high))

    def test_comparisons_count_among_the_right_ones_but_are_off_by_no_figure(self) -> None:
        exact = foresee("a", "A", 1.0, 2.0, Interval(2.0, 2.1))
        more = foresee("b", "B", 1.0, 2.0, Interval(2.0, 2.1), Relation.MORE)
        self.assertIsNone(more.error)
        told = foresight_of_all("The teams", [exact, more])
        self.assertIn("got 1 of 2 right", told.says)
        self.assertAlmostEqual(told.typical_error or 0, 0.5)
