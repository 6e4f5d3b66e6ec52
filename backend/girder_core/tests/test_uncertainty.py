import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.measure import (
    MaterialUse,
    Quantity,
    item_mass_kg,
    resolution_uncertainty,
    scale_good_enough,
    self_mass_from_materials,
    strength_to_weight,
)
from girder_core.measure.uncertainty import spread

positive = st.floats(1e-3, 1e3)


class Propagation(unittest.TestCase):
    def test_sum_in_quadrature(self) -> None:
        total = Quantity(3, 0.3) + Quantity(4, 0.4)
        self.assertAlmostEqual(total.value, 7)
        self.assertAlmostEqual(total.standard_uncertainty, 0.5)

    @given(positive, positive)
    def test_relative_uncertainties_add_in_quadrature_for_product_and_ratio(self, a: float, b: float) -> None:
        x, y = Quantity(a, 0.03 * a), Quantity(b, 0.04 * b)
        self.assertAlmostEqual((x * y).relative, 0.05)
        self.assertAlmostEqual((x / y).relative, 0.05)

    def test_an_exact_factor_scales_the_uncertainty(self) -> None:
        self.assertEqual((3 * Quantity(2, 0.1)).standard_uncertainty, 3 * 0.1)

    def test_not_a_number_never_gets_in(self) -> None:
        for bad in (math.nan, math.inf):
            with self.assertRaises(GirderError):
                Quantity(bad)
        with self.assertRaises(GirderError):
            Quantity(1, -1)
        with self.assertRaises(GirderError):
            Quantity(1) / Quantity(0)


class Refusals(unittest.TestCase):
    def test_zero_and_negative(self) -> None:
        for call in (
            lambda: resolution_uncertainty(-1),
            lambda: item_mass_kg(0, 10, 0.001),
            lambda: item_mass_kg(0.1, 0, 0.001),
            lambda: strength_to_weight(Quantity(1), Quantity(0)),
            lambda: scale_good_enough(0, 0.001),
            lambda: self_mass_from_materials([]),
            lambda: self_mass_from_materials([MaterialUse(-1, Quantity(1))]),
            lambda: self_mass_from_materials([MaterialUse(0, Quantity(1))]),
            lambda: spread([1.0]),
        ):
            with self.assertRaises(GirderError):
                call()


class Materials(unittest.TestCase):
    def test_error_of_a_unit_mass_is_shared_by_all_its_units(self) -> None:
        # 3 sheets of 10 g ± 0.1 g and 0.2 m of tape at 2 g/m ± 0.5 g/m: 30.4 g, sqrt(0.3² + 0.1²) g.
        mass = self_mass_from_materials(
            [MaterialUse(3, Quantity(0.010, 0.0001)), MaterialUse(0.2, Quantity(0.002, 0.0005))]
        )
        self.assertAlmostEqual(mass.value, 0.0304)
        self.assertAlmostEqual(mass.standard_uncertainty, math.hypot(0.0003, 0.0001))


class ScaleAdvice(unittest.TestCase):
    def test_whole_gram_scale_is_too_coarse_for_a_light_bridge(self) -> None:
        advice = scale_good_enough(0.007, 0.001)
        self.assertFalse(advice.good)
        self.assertIn("finer scale", advice.advice)

    def test_fine_scale_needs_no_advice(self) -> None:
        self.assertEqual(scale_good_enough(0.007, 0.0001).advice, "")
