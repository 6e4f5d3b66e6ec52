"""Gere & Timoshenko, Mechanics of Materials: beam tables and impact (from memory); integration as second route."""

import math
import unittest

import numpy as np
from scipy import integrate

from girder_core.ground import GirderError
from girder_core.physics import drop_factor, drop_height_for, simply_supported, sudden_load_factor
from girder_core.physics.beams import cantilever, deflection_m, fixed_ended

SPAN, STIFF = 0.6, 0.648


class Tables(unittest.TestCase):
    def check(self, response, load: float, deflection: float, moment: float) -> None:  # type: ignore[no-untyped-def]
        # E I = 0.648 N·m², L = 0.6 m; tables give closed forms, so 1e-6.
        sag = deflection_m(response, load, SPAN, STIFF, 1.0)
        self.assertAlmostEqual(float(sag) / deflection, 1, delta=1e-6)
        self.assertAlmostEqual(response.mid_moment_nm / moment, 1, delta=1e-6)
        self.assertAlmostEqual(response.max_shear_n, load / 2, delta=1e-12)

    def test_simple_spans(self) -> None:
        # Worked out apart from this code: M=PL/4; delta=PL^3/(48EI); M=wL^2/8; delta=5wL^4/(384EI);
        # M_mid=W(2L-w)/8; delta_mid=W(8L^3-4Lw^2+w^3)/(384EI); limits w->0 gives PL/4, PL^3/48EI; w=L gives WL/8,
        # 5WL^3/384EI.
        self.check(simply_supported(SPAN, 5.0, "centre"), 5.0, 0.03472222222222222, 0.75)
        self.check(simply_supported(SPAN, 4.8, "uniform"), 4.8, 0.02083333333333333, 0.36)
        self.check(simply_supported(SPAN, 5.0, "patch", 0.1), 5.0, 0.034260063014403284, 0.6874999999999999)
        # Two halves of the load at thirds: M = P L/6, δ = 23 P L³/(1296 E I).
        self.check(simply_supported(SPAN, 6.0, "two_point"), 6.0, 23 * 6 * SPAN**3 / 1296 / STIFF, 0.6)

    def test_fixed_ends(self) -> None:
        # Centre: P L/8 and P L³/192 E I; uniform: W L/12 at the ends, W L/24 at midspan, W L³/384 E I.
        centre = fixed_ended(SPAN, 5.0, "centre")
        self.check(centre, 5.0, 5 * SPAN**3 / 192 / STIFF, 5 * SPAN / 8)
        self.assertAlmostEqual(centre.end_moment_nm, -5 * SPAN / 8, delta=1e-12)
        uniform = fixed_ended(SPAN, 5.0, "uniform")
        self.check(uniform, 5.0, 5 * SPAN**3 / 384 / STIFF, 5 * SPAN / 24)
        self.assertAlmostEqual(uniform.max_moment_nm, 5 * SPAN / 12, delta=1e-12)
        third = fixed_ended(SPAN, 6.0, "two_point")
        self.check(third, 6.0, 5 * 6 * SPAN**3 / 1296 / STIFF, 6 * SPAN / 18)

    def test_cantilever(self) -> None:
        # Worked out apart from this code: M=-PL; delta=PL^3/(3EI).
        # L = 0.25 m, P = 1.5 N: δ = P L³/(3 E I) = 12.0563 mm, M = −0.375 N·m.
        tip = cantilever(0.25, 1.5, "tip")
        self.assertAlmostEqual(float(deflection_m(tip, 1.5, 0.25, STIFF, 1)) / 0.012056327160493827, 1, delta=1e-6)
        self.assertAlmostEqual(tip.end_moment_nm, -0.375, delta=1e-12)
        self.assertAlmostEqual(cantilever(0.25, 1.5, "uniform").deflection_coefficient, 1 / 8, delta=1e-12)

    def test_uniform_load_has_half_the_moment(self) -> None:
        ratio = simply_supported(1, 1, "uniform").max_moment_nm / simply_supported(1, 1, "centre").max_moment_nm
        self.assertAlmostEqual(ratio, 0.5, delta=1e-12)

    def test_patch_by_integration(self) -> None:
        # Second route: δ by integrating M(x)·m(x)/E I with the virtual unit load, at several patch widths.
        for width in (0.05, 0.2, 0.45):
            start, end = (SPAN - width) / 2, (SPAN + width) / 2

            def moment(x: float, start: float = start, end: float = end, width: float = width) -> float:
                over = np.clip(x - start, 0, end - start)
                return float(0.5 * x - over**2 / 2 / width - max(x - end, 0.0))

            half = integrate.quad(lambda x, m=moment: m(x) * x / 2, 0, SPAN / 2, points=[start], epsabs=1e-14)[0]
            ours = deflection_m(simply_supported(SPAN, 1.0, "patch", width), 1.0, SPAN, STIFF, 1.0)
            self.assertAlmostEqual(float(ours) / (2 * half / STIFF), 1, delta=1e-6)

    def test_refusals(self) -> None:
        for wrong in (lambda: simply_supported(0, 1, "centre"), lambda: simply_supported(1, 1, "patch", 1.2),
                      lambda: simply_supported(1, 1, "aside"), lambda: cantilever(1, 1, "centre")):  # fmt: skip
            with self.assertRaises(GirderError):
                wrong()


class Impact(unittest.TestCase):
    def test_sudden_and_dropped(self) -> None:
        # Worked out apart from this code: factor = 1 + sqrt(1 + 2h/delta); 2 when h = 0.
        self.assertEqual(sudden_load_factor(), 2.0)
        self.assertAlmostEqual(drop_factor(0.0, 0.00245), 2.0, delta=1e-12)
        # k = 1500 N/m, 0.2 kg, h = 50 mm: δ = 1.30755 mm, factor 9.8022, force 19.2253 N.
        static = 0.2 * 9.80665 / 1500
        self.assertAlmostEqual(drop_factor(0.05, static) / 9.802199496338664, 1, delta=1e-6)

    def test_against_the_energy_balance(self) -> None:
        # Second route: integrate the motion of mass on spring from first touch (scipy as oracle).
        k, m, h = 900.0, 0.15, 0.03
        path = integrate.solve_ivp(
            lambda _, y: [y[1], 9.80665 - k / m * y[0]], (0, 0.1), [0, math.sqrt(2 * 9.80665 * h)], max_step=1e-4,
            rtol=1e-10, atol=1e-12,
        )  # fmt: skip
        factor = float(path.y[0].max()) * k / (m * 9.80665)
        self.assertAlmostEqual(drop_factor(h, m * 9.80665 / k) / factor, 1, delta=1e-4)

    def test_beam_mass_softens_and_the_inverse_holds(self) -> None:
        # Cox 1849: with a beam as heavy as the load the height counts 1/(1 + 17/35) = 0.673.
        self.assertAlmostEqual(drop_factor(0.05, 0.001, 1.0), 1 + math.sqrt(1 + 2 * 0.05 * 35 / 52 / 0.001), delta=1e-9)
        self.assertAlmostEqual(drop_height_for(drop_factor(0.07, 0.002), 0.002), 0.07, delta=1e-12)
        with self.assertRaises(GirderError):
            drop_factor(0.1, 0.0)
