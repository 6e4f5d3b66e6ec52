import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.measure import Kind, Plausible, Quantity, TypedReading, measure, own_unit, parse, repeated
from girder_core.measure.units import spellings

GAP = Plausible(0.02, 3.0, "the clear gap")
BRIDGE = Plausible(0.0005, 0.5, "a classroom bridge")


class Measure(unittest.TestCase):
    def test_a_tape_that_starts_at_one(self) -> None:
        reading = measure(TypedReading("37 cm", "1 mm", zero_text="1 cm"), Kind.LENGTH, GAP).quantity
        self.assertAlmostEqual(reading.value, 0.36)
        # Both ends were read off the tape.
        self.assertAlmostEqual(reading.standard_uncertainty, math.sqrt(2) * 0.001 / math.sqrt(12))

    def test_tare_is_taken_off(self) -> None:
        reading = measure(TypedReading("61.2 g", "0.1 g", tare_text="22.8"), Kind.MASS, BRIDGE).quantity
        self.assertAlmostEqual(reading.value, 0.0384)

    def test_without_offset_one_end_is_exact(self) -> None:
        reading = measure(TypedReading("36 cm", "1 mm"), Kind.LENGTH, GAP).quantity
        self.assertAlmostEqual(reading.standard_uncertainty, 0.001 / math.sqrt(12))

    def test_kilograms_typed_for_grams_are_asked_about(self) -> None:
        with self.assertRaises(NeedsConfirmation) as caught:
            measure(TypedReading("5 kg", "1 g"), Kind.MASS, BRIDGE)
        self.assertIn("5 kg for a classroom bridge?", caught.exception.sentence)
        with self.assertRaises(NeedsConfirmation) as caught:
            measure(TypedReading("5000 g", "1 g"), Kind.MASS, BRIDGE)
        self.assertIn("5 000 g for a classroom bridge?", caught.exception.sentence)

    def test_confirmed_it_is_taken(self) -> None:
        reading = measure(TypedReading("5 kg", "1 g"), Kind.MASS, BRIDGE, confirmed=True)
        self.assertEqual(reading.quantity.value, 5.0)

    def test_zero_negative_and_more_tare_than_reading_are_refused_even_when_confirmed(self) -> None:
        for text, tare in [("0 g", ""), ("-4 g", ""), ("4 g", "5 g"), ("4 g", "4 g")]:
            with self.subTest(text), self.assertRaises(GirderError) as caught:
                measure(TypedReading(text, "1 g", tare_text=tare), Kind.MASS, BRIDGE, confirmed=True)
            self.assertEqual(caught.exception.code, "not_positive")

    def test_an_instrument_without_a_step_is_refused(self) -> None:
        with self.assertRaises(GirderError) as caught:
            measure(TypedReading("4 g", "0 g"), Kind.MASS, BRIDGE)
        self.assertEqual(caught.exception.code, "resolution_not_positive")


class Repeated(unittest.TestCase):
    """Several readings of one thing (JCGM 100:2008, 4.2.3 and 4.3.7), worked by hand."""

    def test_mean_and_standard_error(self) -> None:
        # 300, 304 and 302 mm: mean 302, sample deviation 2, standard error 2/√3, and the tape's own 1/√12.
        mean = repeated([Quantity(value, 0.001 / 12**0.5) for value in (0.300, 0.304, 0.302)])
        self.assertAlmostEqual(mean.value, 0.302)
        self.assertAlmostEqual(mean.standard_uncertainty, ((2e-3) ** 2 / 3 + 1e-6 / 12) ** 0.5)

    def test_one_reading_is_itself_and_none_is_refused(self) -> None:
        length = Quantity(0.3, 0.001)
        self.assertEqual(repeated([length]), length)
        with self.assertRaises(GirderError):
            repeated([])

    @given(st.lists(st.floats(0.1, 2), min_size=2, max_size=6), st.floats(1e-5, 1e-2))
    def test_never_surer_than_the_instrument(self, values: list[float], doubt: float) -> None:
        mean = repeated([Quantity(value, doubt) for value in values])
        self.assertGreaterEqual(mean.standard_uncertainty, doubt * (1 - 1e-12))
        self.assertTrue(min(values) - 1e-9 <= mean.value <= max(values) + 1e-9)


class CountedUnits(unittest.TestCase):
    def test_cubes(self) -> None:
        cube = own_unit(" Cube ", "2 cm")
        self.assertEqual((cube.name, cube.size_m), ("cube", 0.02))
        own = {cube.name: cube.size_m}
        for text in ("12 cubes", "12 cube", "12 CUBES"):
            typed = parse(text, Kind.LENGTH, own=own)
            self.assertAlmostEqual(typed.si, 0.24)
            self.assertEqual(typed.unit, "cube")
        # Everything else is read as ever.
        self.assertAlmostEqual(parse("24 cm", Kind.LENGTH, own=own).si, 0.24)
        with self.assertRaises(GirderError):
            parse("12 cubes", Kind.LENGTH)

    def test_what_is_no_unit(self) -> None:
        for name, size, field in (
            ("cm", "1 cm", "name"), ("c2", "1 cm", "name"), ("", "1 cm", "name"), ("cube", "big", "size"),
            ("cube", "3 m", "size"), ("cube", "0 mm", "size"),
        ):  # fmt: skip
            with self.assertRaises(GirderError) as caught:
                own_unit(name, size)
            self.assertEqual((caught.exception.code, list(caught.exception.data["fields"])), ("bad_unit", [field]))

    def test_no_name_of_a_unit_is_free(self) -> None:
        self.assertTrue({"mm", "inch", "feet"} <= spellings(Kind.LENGTH))
        self.assertNotIn("cube", spellings(Kind.LENGTH))
