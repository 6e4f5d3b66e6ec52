import math
import unittest

from girder_core.errors import GirderError, NeedsConfirmation
from girder_core.readings import Plausible, TypedReading, measure
from girder_core.units import Kind

GAP = Plausible(0.02, 3.0, "the clear gap")
BRIDGE = Plausible(0.0005, 0.5, "a classroom bridge")


class Measure(unittest.TestCase):
    def test_a_tape_that_starts_at_one(self) -> None:
        found = measure(TypedReading("37 cm", "1 mm", zero_text="1 cm"), Kind.LENGTH, GAP).quantity
        self.assertAlmostEqual(found.value, 0.36)
        # Both ends were read off the tape.
        self.assertAlmostEqual(found.standard_uncertainty, math.sqrt(2) * 0.001 / math.sqrt(12))

    def test_tare_is_taken_off(self) -> None:
        found = measure(TypedReading("61.2 g", "0.1 g", tare_text="22.8"), Kind.MASS, BRIDGE).quantity
        self.assertAlmostEqual(found.value, 0.0384)

    def test_without_offset_one_end_is_exact(self) -> None:
        found = measure(TypedReading("36 cm", "1 mm"), Kind.LENGTH, GAP).quantity
        self.assertAlmostEqual(found.standard_uncertainty, 0.001 / math.sqrt(12))

    def test_kilograms_typed_for_grams_are_asked_about(self) -> None:
        with self.assertRaises(NeedsConfirmation) as caught:
            measure(TypedReading("5 kg", "1 g"), Kind.MASS, BRIDGE)
        self.assertIn("5 kg for a classroom bridge?", caught.exception.sentence)
        with self.assertRaises(NeedsConfirmation) as caught:
            measure(TypedReading("5000 g", "1 g"), Kind.MASS, BRIDGE)
        self.assertIn("5 000 g for a classroom bridge?", caught.exception.sentence)

    def test_confirmed_it_is_taken(self) -> None:
        found = measure(TypedReading("5 kg", "1 g"), Kind.MASS, BRIDGE, confirmed=True)
        self.assertEqual(found.quantity.value, 5.0)

    def test_zero_negative_and_more_tare_than_reading_are_refused_even_when_confirmed(self) -> None:
        for text, tare in [("0 g", ""), ("-4 g", ""), ("4 g", "5 g"), ("4 g", "4 g")]:
            with self.subTest(text), self.assertRaises(GirderError) as caught:
                measure(TypedReading(text, "1 g", tare_text=tare), Kind.MASS, BRIDGE, confirmed=True)
            self.assertEqual(caught.exception.code, "not_positive")

    def test_an_instrument_without_a_step_is_refused(self) -> None:
        with self.assertRaises(GirderError) as caught:
            measure(TypedReading("4 g", "0 g"), Kind.MASS, BRIDGE)
        self.assertEqual(caught.exception.code, "resolution_not_positive")
