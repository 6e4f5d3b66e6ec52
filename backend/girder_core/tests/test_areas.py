"""Areas and perimeters from what was typed, against shapely; their uncertainty against samples; what is refused."""

import math
import unittest

import numpy as np
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from girder_core.families import FAMILIES, family_of, worked_out
from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.measure import (
    Kind,
    Plausible,
    Quantity,
    System,
    TypedReading,
    format_value,
    measure,
    outline,
    parse,
    typed_text,
)

STEP = 0.001
CORNER = st.tuples(st.integers(0, 40), st.integers(0, 40))


def cm2(text: str) -> float:
    return outline(text, STEP).area.value * 1e4


def around_cm(text: str) -> float:
    perimeter = outline(text, STEP).perimeter
    assert perimeter is not None
    return perimeter.value * 100


class Shapes(unittest.TestCase):
    def test_textbook_values(self) -> None:
        # Plain geometry; the triangle of sides 13, 14, 15 has area 84 (Heron's own example).
        for text, area, edge in (
            ("30 cm x 20 cm", 600, 100), ("rectangle 30 cm by 20 cm", 600, 100), ("30 x 20 cm", 600, 100),
            ("square 12 cm", 144, 48), ("triangle 13 cm, 14 cm, 15 cm", 84, 42),
            ("circle 20 cm", 100 * math.pi, 20 * math.pi), ("corners 0 0, 3 0, 3 4 cm", 6, 12),
            ("corners (0 0) (10 0) (10 10) (0 10) mm", 1, 4), ("1 ft x 6 in", 30.48 * 15.24, 91.44),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(cm2(text), area, places=6)
                self.assertAlmostEqual(around_cm(text), edge, places=6)
        self.assertAlmostEqual(cm2("412 cm2"), 412)
        self.assertAlmostEqual(cm2("64 in²"), 64 * 2.54**2)
        self.assertAlmostEqual(cm2("42 squares of 1 cm"), 42)
        self.assertAlmostEqual(cm2("12 1/2 squares of 2 cm"), 50)
        self.assertIsNone(outline("42 squares of 1 cm", STEP).perimeter)

    @given(st.lists(CORNER, min_size=3, max_size=7, unique=True))
    def test_polygons_against_shapely(self, corners: list[tuple[int, int]]) -> None:
        """A polygon is refused exactly where shapely calls it invalid; else area and length agree."""
        polygon = shapely.Polygon(corners)
        text = "corners " + ", ".join(f"{x} {y}" for x, y in corners) + " cm"
        if not polygon.is_valid or polygon.area == 0:
            with self.assertRaises(GirderError):
                outline(text, STEP)
            return
        # A corner that lies on an edge touches it: shapely lets a shape touch itself in no more than points.
        assume(polygon.is_simple and polygon.exterior.is_simple)
        self.assertAlmostEqual(cm2(text), polygon.area, places=6)
        self.assertAlmostEqual(around_cm(text), polygon.length, places=6)

    @given(st.tuples(CORNER, CORNER), st.lists(st.integers(-20, 20), min_size=3, max_size=6, unique=True))
    def test_corners_on_one_line_are_no_shape(
        self, line: tuple[tuple[int, int], tuple[int, int]], steps: list[int]
    ) -> None:
        """In tenths, which no float has exactly."""
        (x, y), (across, up) = line
        corners = ", ".join(f"{(x + k * across) / 10} {(y + k * up) / 10}" for k in steps)
        with self.assertRaises(GirderError):
            outline(f"corners {corners} cm", STEP)

    def test_what_is_no_shape_is_refused_by_name(self) -> None:
        for text, code in (
            ("triangle 1 cm, 2 cm, 5 cm", "no_triangle"), ("triangle 1 cm, 2 cm, 3 cm", "no_triangle"),
            ("corners 0 0, 30 20, 30 0, 0 20 cm", "corners_cross"), ("corners 0 0, 3 0 cm", "too_few_corners"),
            ("corners 0 0, 3 0, 3 0, 0 4 cm", "corners_cross"), ("corners 0 0, 4 0, 2 0, 2 3 cm", "corners_cross"),
            ("corners 0 0, 3 0, 3", "unit_missing"), ("corners 0 0, 3, 3 4 cm", "no_shape"),
            ("corners " + ", ".join(f"{i} {i * i}" for i in range(60)) + " cm", "too_many_corners"),
            ("bla", "no_shape"), ("12", "no_shape"), ("rectangle 3 cm x 2 cm x 4 cm", "no_shape"),
            ("circle -3 cm", "not_positive"), ("0 cm x 3 cm", "not_positive"), ("0 squares of 1 cm", "not_positive"),
            ("42 squares", "no_shape"), ("triangle 3 cm, 4 cm", "no_shape"), ("circle 20", "unit_missing"),
            ("corners 9 0, 17 4, 27 9 cm", "corners_cross"), (f"corners 0 0, {'9' * 400} 0, 3 4 cm", "no_shape"),
        ):  # fmt: skip
            with self.subTest(text[:40]), self.assertRaises(GirderError) as refused:
                outline(text, STEP)
            self.assertEqual(refused.exception.code, code, text[:40])

    def test_own_units_count_too(self) -> None:
        self.assertAlmostEqual(outline("6 cubes x 4 cubes", 0.02, {"cube": 0.02}).area.value * 1e4, 96)


class Off(unittest.TestCase):
    """How far an area can be off, against samples with a known ruler (JCGM 101:2008, propagation of distributions)."""

    def spread(self, text: str, areas: np.ndarray) -> None:
        stated = outline(text, 0.002).area.standard_uncertainty
        self.assertAlmostEqual(stated / float(np.std(areas)), 1.0, delta=0.05)

    def test_shapes(self) -> None:
        dice = np.random.default_rng(7)

        def read(length: float) -> np.ndarray:
            return length + dice.uniform(-0.001, 0.001, 40_000)

        self.spread("30 cm x 20 cm", read(0.3) * read(0.2))
        self.spread("square 20 cm", read(0.2) ** 2)
        self.spread("circle 24 cm", np.pi / 4 * read(0.24) ** 2)
        a, b, c = read(0.2), read(0.21), read(0.29)
        half = (a + b + c) / 2
        self.spread("triangle 20 cm, 21 cm, 29 cm", np.sqrt(half * (half - a) * (half - b) * (half - c)))
        corners = [(0.0, 0.0), (0.3, 0.02), (0.28, 0.2), (0.1, 0.25)]
        xs, ys = [read(x) for x, _ in corners], [read(y) for _, y in corners]
        twice = sum(xs[i] * ys[(i + 1) % 4] - xs[(i + 1) % 4] * ys[i] for i in range(4))
        self.spread("corners 0 0, 30 2, 28 20, 10 25 cm", twice / 2)

    def test_counted_squares_against_circles_laid_on_squared_paper(self) -> None:
        """Squares counted that are at least half inside, of circles laid down by chance: the stated doubt is honest."""
        dice, errors = np.random.default_rng(11), []
        fine = (np.arange(10) + 0.5) / 10
        for _ in range(150):
            radius, (cx, cy) = dice.uniform(2.5, 5), dice.uniform(0, 1, 2)
            count = 0
            for i in range(-7, 8):
                for j in range(-7, 8):
                    x, y = np.meshgrid(i + fine - cx, j + fine - cy)
                    count += float((x * x + y * y <= radius**2).mean()) >= 0.5
            stated = outline(f"{count} squares of 1 cm", STEP).area
            errors.append((stated.value - math.pi * radius**2 * 1e-4) / stated.standard_uncertainty)
        self.assertLess(float(np.std(errors)), 1.2)
        self.assertGreater(float(np.std(errors)), 0.2)


class AsReadings(unittest.TestCase):
    PLAUSIBLE = Plausible(1e-4, 0.5, "the deck’s area")

    def test_a_reading_keeps_what_was_typed(self) -> None:
        taken = measure(TypedReading("30 cm x 20 cm", "1 mm"), Kind.AREA, self.PLAUSIBLE)
        self.assertAlmostEqual(taken.quantity.value, 0.06)
        self.assertEqual((taken.typed.text, taken.typed.unit), ("30 cm x 20 cm", "cm²"))

    def test_one_far_off_is_asked_about(self) -> None:
        with self.assertRaises(NeedsConfirmation) as asked:
            measure(TypedReading("3 m x 2 m", "1 mm"), Kind.AREA, self.PLAUSIBLE)
        self.assertIn("60 000 cm²", asked.exception.sentence)
        taken = measure(TypedReading("3 m x 2 m", "1 mm"), Kind.AREA, self.PLAUSIBLE, True)
        self.assertAlmostEqual(taken.quantity.value, 6)

    def test_areas_and_volumes_in_words(self) -> None:
        for value, kind, metric, us in (
            (0.0412, Kind.AREA, "412 cm²", "63.9 in²"), (0.00065, Kind.VOLUME, "650 cm³", "39.7 in³"),
            (0.0021, Kind.VOLUME, "2.1 L", "128 in³"),
        ):  # fmt: skip
            self.assertEqual(format_value(value, kind), metric)
            self.assertEqual(format_value(value, kind, System.US), us)
            self.assertAlmostEqual(parse(typed_text(value, kind), kind).si / value, 1, places=6)


class WorkedOut(unittest.TestCase):
    def figures(self, family: str, typed: dict[str, str]) -> dict[str, float]:
        kind = family_of(family)
        readings, outlines = {}, {}
        for key, text in typed.items():
            spec = kind.reading_keys[key]
            readings[key] = measure(TypedReading(text, "1 mm"), spec.kind, spec.plausible, True).quantity
            if spec.kind is Kind.AREA:
                outlines[key] = outline(text, STEP)
        return {figure.key: figure.quantity.value for figure in worked_out(kind.derived, readings, outlines)}

    def test_a_deck_without_a_shape_is_a_rectangle(self) -> None:
        told = self.figures("capacity_table", {"length": "30 cm", "width": "20 cm"})
        self.assertAlmostEqual(told["floor_area"], 0.06)
        self.assertAlmostEqual(told["perimeter"], 1.0)

    def test_the_shape_that_was_measured_stands_before_the_sides(self) -> None:
        told = self.figures("boat", {"length": "13 cm", "width": "12 cm", "floor": "circle 12 cm"})
        self.assertAlmostEqual(told["floor_area"], math.pi * 0.06**2)
        self.assertAlmostEqual(told["perimeter"], math.pi * 0.12)
        counted = self.figures("boat", {"length": "13 cm", "width": "12 cm", "floor": "90 squares of 1 cm"})
        self.assertNotIn("perimeter", counted)

    def test_the_room_inside_a_hideout(self) -> None:
        sides = {"inside_length": "9 cm", "inside_width": "8 cm", "inside_height": "10 cm"}
        self.assertAlmostEqual(self.figures("hideout", sides)["room"], 0.00072)
        round_floor = {"floor": "circle 10 cm", "inside_height": "10 cm"}
        self.assertAlmostEqual(self.figures("hideout", round_floor)["room"], math.pi * 0.05**2 * 0.1)

    def test_without_readings_nothing_is_told(self) -> None:
        for family in FAMILIES.values():
            self.assertEqual(worked_out(family.derived, {}, {}), ())
            some = {"length": Quantity(0.3), "height": Quantity(0.1)}
            for figure in worked_out(family.derived, some, {}):
                self.assertGreater(figure.quantity.value, 0)
