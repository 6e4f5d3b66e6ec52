import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.measure import (
    Kind,
    System,
    format_length,
    format_mass,
    format_value,
    parse,
    plural,
    si_per,
    typed_text,
)


class Parse(unittest.TestCase):
    def test_spellings_a_teacher_types(self) -> None:
        cases = [
            ("36 cm", Kind.LENGTH, 0.36), ("36cm", Kind.LENGTH, 0.36), ("36,5 cm", Kind.LENGTH, 0.365),
            ("14 1/4 in", Kind.LENGTH, 0.36195), ('14-1/4"', Kind.LENGTH, 0.36195), ("3/8 inch", Kind.LENGTH, 0.009525),
            ("1 ft", Kind.LENGTH, 0.3048), (".5 m", Kind.LENGTH, 0.5), ("38.4 g", Kind.MASS, 0.0384),
            ("5 000 g", Kind.MASS, 5.0), ("12\u202f500 mg", Kind.MASS, 0.0125), ("2 LB", Kind.MASS, 0.90718474),
            ("5 min", Kind.TIME, 300.0), ("7 s.", Kind.TIME, 7.0),
        ]  # fmt: skip
        for text, kind, si in cases:
            with self.subTest(text):
                self.assertAlmostEqual(parse(text, kind).si, si, delta=1e-12)

    def test_several_figures_and_fractions_of_one_sign(self) -> None:
        # 1 in = 0.0254 m, 1 lb = 0.45359237 kg, 1 oz a sixteenth of it (agreement of 1959).
        cases = [
            ("1' 2\"", Kind.LENGTH, 14 * 0.0254), ("1’2”", Kind.LENGTH, 14 * 0.0254), ("1' 2''", Kind.LENGTH,
             14 * 0.0254),
            ("1 ft 2 in", Kind.LENGTH, 14 * 0.0254), ("1ft2in", Kind.LENGTH, 14 * 0.0254),
            ("2 ft 3 1/2 in", Kind.LENGTH, 27.5 * 0.0254), ("1½ in", Kind.LENGTH, 1.5 * 0.0254),
            ("1 ½ in", Kind.LENGTH, 1.5 * 0.0254), ("¾ in", Kind.LENGTH, 0.75 * 0.0254), ("1 ft 2½ in.", Kind.LENGTH,
            14.5 * 0.0254), ("3 cm 5 mm", Kind.LENGTH, 0.035), ("3cm 5mm", Kind.LENGTH, 0.035),
            ("3 dm", Kind.LENGTH, 0.3), ("1 m 2 dm 5 mm", Kind.LENGTH, 1.205), ("1 m 0 cm", Kind.LENGTH, 1.0),
            ("1 kg 250 g", Kind.MASS, 1.25), ("1 lb 4 oz", Kind.MASS, 1.25 * 0.45359237),
            ("2 min 30 s", Kind.TIME, 150),
        ]  # fmt: skip
        for text, kind, si in cases:
            with self.subTest(text):
                typed = parse(text, kind)
                self.assertAlmostEqual(typed.si, si, delta=1e-12)
                self.assertEqual(typed.text, text)
        both = parse("3 cm 5 mm", Kind.LENGTH)
        self.assertAlmostEqual(both.value, 3.5)
        self.assertEqual(both.unit, "cm")
        for text in ("2 in 1 ft", "1 ft 14 in", "3 cm 5 cm", "3 cm 5", "3 cm 5 mm 2", "1 ft -2 in", "1 ft 2 g"):
            with self.subTest(text), self.assertRaises(GirderError):
                parse(text, Kind.LENGTH)

    def test_keeps_what_was_typed(self) -> None:
        typed = parse("14 1/4 inches", Kind.LENGTH)
        self.assertEqual((typed.text, typed.value, typed.unit), ("14 1/4 inches", 14.25, "in"))

    def test_hundreds_of_digits_are_refused_in_words(self) -> None:
        for text in ("1" + 400 * "0" + " g", "0." + 400 * "0" + "1 g", "1" + 90 * "0" + " g", "10000000000 g",
                     "0.0000000000001 g", 5000 * "9" + " g"):  # fmt: skip
            with self.subTest(text[:20]), self.assertRaises(GirderError) as caught:
                parse(text, Kind.MASS)
            self.assertIn(caught.exception.code, ("out_of_all_range", "not_a_number"))
        with self.assertRaises(GirderError):
            parse("10^400 g", Kind.MASS)

    def test_minus_nothing_is_nothing(self) -> None:
        self.assertEqual(str(parse("-0 g", Kind.MASS).si), "0.0")

    def test_negative_is_read_and_left_to_the_reading_to_judge(self) -> None:
        self.assertAlmostEqual(parse("-3 mm", Kind.LENGTH).si, -0.003)
        self.assertAlmostEqual(parse("−3 mm", Kind.LENGTH).si, -0.003)

    def test_a_bare_number_needs_a_default_unit(self) -> None:
        self.assertEqual(parse("12", Kind.MASS, "g").si, 0.012)
        with self.assertRaises(GirderError) as caught:
            parse("12", Kind.MASS)
        self.assertEqual(caught.exception.code, "unit_missing")

    def test_refusals(self) -> None:
        for text, code in [
            ("", "not_a_number"), ("about 3 cm", "not_a_number"), ("1.2.3 cm", "not_a_number"),
            ("3/0 in", "not_a_number"), ("3 stone", "unknown_unit"), ("3 g", "unknown_unit"),
            ("1,250 mm", "ambiguous_comma"),
        ]:  # fmt: skip
            with self.subTest(text), self.assertRaises(GirderError) as caught:
                parse(text, Kind.LENGTH)
            self.assertEqual(caught.exception.code, code)

    def test_a_leading_zero_makes_a_comma_a_decimal(self) -> None:
        self.assertAlmostEqual(parse("0,250 kg", Kind.MASS).si, 0.25)

    @given(st.text(max_size=20))
    def test_any_text_is_read_or_refused_with_a_sentence(self, text: str) -> None:
        try:
            parse(text, Kind.MASS)
        except GirderError as error:
            self.assertGreater(len(error.sentence), 10)

    @given(st.integers(1, 10**6), st.sampled_from(["mm", "cm", "m", "in", "ft"]))
    def test_typed_value_times_factor_is_the_si_value(self, number: int, unit: str) -> None:
        self.assertAlmostEqual(parse(f"{number} {unit}", Kind.LENGTH).si / (number * si_per(unit, Kind.LENGTH)), 1.0)


class Format(unittest.TestCase):
    def test_mass(self) -> None:
        self.assertEqual(format_mass(0.0384), "38.4 g")
        self.assertEqual(format_mass(1.185), "1.185 kg")
        self.assertEqual(format_mass(0.45359237, System.US), "1.00 lb")
        self.assertEqual(format_mass(0.028349523125, System.US), "1.00 oz")

    def test_length(self) -> None:
        self.assertEqual(format_length(0.36), "360 mm")
        self.assertEqual(format_length(0.0254, System.US), "1.00 in")


class OtherKinds(unittest.TestCase):
    def test_counts_have_no_unit_and_are_whole(self) -> None:
        for text, value in (("12", 12), ("7 pieces", 7), ("3×", 3), ("1 200", 1200), ("0", 0)):
            self.assertEqual(parse(text, Kind.COUNT).si, value)
        for text, code in (
            ("2.5", "not_whole"),
            ("1/2", "not_whole"),
            ("3 cm", "unknown_unit"),
            ("few", "not_a_number"),
        ):
            with self.assertRaises(GirderError) as caught:
                parse(text, Kind.COUNT)
            self.assertEqual(caught.exception.code, code)
        self.assertIn("Type a plain number.", self.sentence_of("3 cm", Kind.COUNT))

    def sentence_of(self, text: str, kind: Kind) -> str:
        with self.assertRaises(GirderError) as caught:
            parse(text, kind)
        return caught.exception.sentence

    def test_frequencies(self) -> None:
        self.assertAlmostEqual(parse("1,4 Hz", Kind.FREQUENCY).si, 1.4)
        self.assertIn("Use one of Hz", self.sentence_of("2 rpm", Kind.FREQUENCY))
        self.assertIn("has no unit", self.sentence_of("2", Kind.FREQUENCY))

    def test_words_of_every_kind(self) -> None:
        for value, kind, words in (
            (6, Kind.TIME, "6 s"), (90, Kind.TIME, "90 s"), (180, Kind.TIME, "3 min"), (1.4, Kind.FREQUENCY, "1.4 Hz"),
            (4, Kind.COUNT, "4"), (0.36, Kind.LENGTH, "360 mm"), (1.5, Kind.MASS, "1.500 kg"),
        ):  # fmt: skip
            self.assertEqual(format_value(value, kind), words)

    @given(st.floats(1e-4, 400), st.sampled_from([Kind.LENGTH, Kind.MASS]), st.sampled_from(list(System)))
    def test_what_could_have_been_typed_is_read_back(self, value: float, kind: Kind, system: System) -> None:
        rounded = float(f"{value:.5g}")
        back = parse(typed_text(rounded, kind, system), kind).si
        # Half a ten-thousandth of an inch or an ounce, or a part in 10⁶.
        self.assertAlmostEqual(back, rounded, delta=max(1e-6 * rounded, 2.5e-5 if system is System.US else 0))

    @given(st.integers(0, 10**6))
    def test_counts_are_read_back(self, count: int) -> None:
        self.assertEqual(parse(typed_text(count, Kind.COUNT), Kind.COUNT).si, count)


class Plurals(unittest.TestCase):
    def test_as_people_say_it(self) -> None:
        # Common practice, no source.
        for noun, several in (
            ("nut", "nuts"), ("penny", "pennies"), ("tray", "trays"), ("box", "boxes"), ("torch", "torches"),
            ("glass", "glasses"), ("M12 hex nut, zinc", "M12 hex nuts, zinc"),
        ):  # fmt: skip
            self.assertEqual(plural(noun, 1), noun)
            for count in (0, 0.5, 2, 99):
                self.assertEqual(plural(noun, count), several)
