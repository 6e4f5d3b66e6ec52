"""Unit factors. Source: international yard and pound agreement 1959; NIST SP 811, Appendix B.8 (from memory)."""

import unittest

from girder_core.measure import Kind, si_per


class ExactFactors(unittest.TestCase):
    def test_exact_by_definition(self) -> None:
        # Tolerance: one rounding of a float, the factors are exact.
        for unit, kind, value in [
            ("in", Kind.LENGTH, 0.0254), ("ft", Kind.LENGTH, 0.3048), ("mm", Kind.LENGTH, 0.001),
            ("lb", Kind.MASS, 0.45359237), ("oz", Kind.MASS, 0.028349523125), ("g", Kind.MASS, 0.001),
            ("min", Kind.TIME, 60.0),
        ]:  # fmt: skip
            with self.subTest(unit):
                self.assertAlmostEqual(si_per(unit, kind) / value, 1.0, delta=1e-12)
