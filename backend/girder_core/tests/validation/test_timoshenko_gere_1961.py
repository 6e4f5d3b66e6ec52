"""Timoshenko & Gere, Theory of Elastic Stability, 2nd ed. 1961: columns, plates, cylinders; all from memory.

Tolerances of 1e-6 are those of closed forms; every figure was worked by hand or by an independent library, named.
"""

import math
import unittest

import numpy as np
from scipy import optimize, special

from girder_core.ground import GirderError
from girder_core.physics.columns import (
    END_FACTORS,
    GREENHILL,
    column_load_n,
    euler_load_n,
    johnson_load_n,
    self_buckling_height_m,
    transition_slenderness,
)
from girder_core.physics.thin_walls import (
    cylinder_buckling_stress_pa,
    effective_width_load_n,
    plate_buckling_coefficient,
    plate_buckling_stress_pa,
    shell_knockdown,
)


class Euler(unittest.TestCase):
    def test_pinned_spaghetti(self) -> None:
        # Worked out apart from this code: P_cr = pi^2 E I/(K L)^2, I = pi d^4/64; K = 1, 2, 0.5, pi/4.4934095
        # (=0.699156, textbook 0.7).
        # d = 1.8 mm, E = 3.8 GPa, L = 250 mm: I = π d⁴/64 = 5.152997e-13 m⁴, P = 0.309217 N.
        second = math.pi * 0.0018**4 / 64
        self.assertAlmostEqual(euler_load_n(3.8e9, second, 0.25, 1.0) / 0.3092169155751595, 1, delta=1e-6)

    def test_end_factors(self) -> None:
        # Ch. 2: four times, a quarter; fixed-pinned from the first root of tan x = x (scipy as oracle).
        root = optimize.brentq(lambda x: math.tan(x) - x, 4.4, 4.6, xtol=1e-14)
        self.assertAlmostEqual(END_FACTORS["fixed-pinned"], math.pi / root, delta=1e-9)
        pinned = euler_load_n(1e9, 1e-12, 0.3, END_FACTORS["pinned-pinned"])
        self.assertAlmostEqual(euler_load_n(1e9, 1e-12, 0.3, END_FACTORS["fixed-fixed"]) / pinned, 4, delta=1e-9)
        self.assertAlmostEqual(euler_load_n(1e9, 1e-12, 0.3, END_FACTORS["fixed-free"]) / pinned, 0.25, delta=1e-9)

    def test_against_a_string_of_rigid_links(self) -> None:
        # Second route: eigenvalue of the second-difference matrix, 400 pieces; its own error is π²/(12·400²) = 5e-6.
        n = 400
        matrix = (2 * np.eye(n - 1) - np.eye(n - 1, k=1) - np.eye(n - 1, k=-1)) * n**2
        least = float(np.linalg.eigvalsh(matrix)[0])
        self.assertAlmostEqual(euler_load_n(1.0, 1.0, 1.0, 1.0) / least, 1, delta=1e-5)


class Johnson(unittest.TestCase):
    """J. B. Johnson's parabola; Shigley, Mechanical Engineering Design (from memory)."""

    def test_short_aluminium_rod(self) -> None:
        # Worked out apart from this code: r = sqrt(I/A) = d/4; lambda = K L/r; C = sqrt(2 pi^2 E/sigma_y);
        # lambda<=C: sigma = sigma_y(1 - sigma_y lambda^2/(4 pi^2 E)); else pi^2 E/lambda^2.
        # d = 10 mm, L = 150 mm, E = 69 GPa, 270 MPa: slenderness 60 below 71.0244, P = 13 638.97 N.
        area, second = math.pi * 0.01**2 / 4, math.pi * 0.01**4 / 64
        self.assertAlmostEqual(transition_slenderness(270e6, 69e9) / 71.02439349736042, 1, delta=1e-6)
        load = johnson_load_n(270e6, 69e9, area, second, 0.15, 1.0)
        self.assertAlmostEqual(load / 13638.970834731646, 1, delta=1e-6)
        self.assertAlmostEqual(float(column_load_n(270e6, 69e9, area, second, 0.15)) / load, 1, delta=1e-12)

    def test_the_curves_meet_at_half_the_strength(self) -> None:
        area, second = 3e-5, 2e-11
        length = float(transition_slenderness(20e6, 3e9)) * math.sqrt(second / area)
        johnson = johnson_load_n(20e6, 3e9, area, second, length)
        self.assertAlmostEqual(johnson / euler_load_n(3e9, second, length), 1, delta=1e-9)
        self.assertAlmostEqual(johnson / (area * 20e6), 0.5, delta=1e-9)
        with self.assertRaises(GirderError) as caught:
            johnson_load_n(20e6, 3e9, area, second, 1.01 * length)
        self.assertEqual(caught.exception.code, "too_slender")


class Greenhill(unittest.TestCase):
    def test_coefficient_from_the_bessel_function(self) -> None:
        # Worked out apart from this code: q L^3/EI = (9/4) j^2, j = first zero of J_{-1/3}; L_max = (c E I/(rho g
        # A))^(1/3).
        # Greenhill 1881; 2.12: (9/4) j², j the first zero of J of order −1/3 (scipy as oracle).
        zero = optimize.brentq(lambda x: special.jv(-1 / 3, x), 1.5, 2.2, xtol=1e-14)
        self.assertAlmostEqual(GREENHILL, 2.25 * zero**2, delta=1e-9)
        self.assertAlmostEqual(zero, 1.866350858873895, delta=1e-9)

    def test_height(self) -> None:
        # Worked out apart from this code: q L^3/EI = (9/4) j^2, j = first zero of J_{-1/3}; L_max = (c E I/(rho g
        # A))^(1/3).
        # E I = 1 N·m², μ g = 1 N/m: the cube root of 7.8373.
        self.assertAlmostEqual(float(self_buckling_height_m(1.0, 1.0, 1 / 9.80665)), 7.8373474389434845 ** (1 / 3), 6)


class Cylinder(unittest.TestCase):
    def test_drinks_can(self) -> None:
        # Worked out apart from this code: sigma_cl = E t/(R sqrt(3(1-nu^2))); gamma =
        # 1-0.901(1-exp(-sqrt(R/t)/16)); P = gamma sigma_cl 2 pi R t.
        # E = 70 GPa, ν = 0.33, R = 33 mm, t = 0.1 mm: 129.736 MPa classical; SP-8007 share 0.388495; 1045.05 N.
        classical = cylinder_buckling_stress_pa(70e9, 1e-4, 0.033, 0.33)
        share = shell_knockdown(0.033, 1e-4)
        self.assertAlmostEqual(classical / 129735924.4938741, 1, delta=1e-6)
        self.assertAlmostEqual(share / 0.3884945220774543, 1, delta=1e-6)
        self.assertAlmostEqual(share * classical * 2 * math.pi * 0.033 * 1e-4 / 1045.0545456592863, 1, delta=1e-6)

    def test_knockdown_table(self) -> None:
        # SP-8007, eq. 5 and 6 by hand: R/t = 100 gives √100/16 = 0.625, 1 − 0.901(1 − 0.535261) = 0.58127.
        self.assertAlmostEqual(shell_knockdown(0.1, 0.001), 0.58127, delta=5e-6)
        self.assertAlmostEqual(shell_knockdown(1e-9, 1.0), 1.0, delta=1e-4)
        with self.assertRaises(GirderError):
            shell_knockdown(1.5, 0.001)


class Plate(unittest.TestCase):
    def test_square_panel(self) -> None:
        # Worked out apart from this code: sigma_cr = k pi^2 E/(12(1-nu^2)) (t/b)^2; k = min_m (m b/a + a/(m
        # b))^2.
        # E = 3 GPa, ν = 0.3, t/b = 0.1/54: 37.194 kPa with k = 4.
        stress = plate_buckling_stress_pa(3e9, 1e-4, 0.054, 0.3, plate_buckling_coefficient(0.054, 0.054))
        self.assertAlmostEqual(stress / 37193.82414978127, 1, delta=1e-6)

    def test_coefficient_of_finite_plates(self) -> None:
        # 9.2: k is 4 at whole aspect ratios and 4.5 where one and two half waves meet, at a/b = √2.
        for aspect, k in ((1, 4.0), (2, 4.0), (3, 4.0), (math.sqrt(2), 4.5), (0.5, 6.25)):
            self.assertAlmostEqual(plate_buckling_coefficient(aspect, 1.0), k, delta=1e-9)

    def test_against_a_hinged_strip_of_differences(self) -> None:
        # Second route: the plate's fourth-order equation with sin(πx/a) along the squeeze, differences across it.
        n, aspect = 200, 1.0
        second = (np.eye(n - 1, k=1) + np.eye(n - 1, k=-1) - 2 * np.eye(n - 1)) * n**2
        wave = (math.pi / aspect) ** 2
        operator = second @ second - 2 * wave * second + wave**2 * np.eye(n - 1)
        least = float(np.linalg.eigvals(operator).real.min()) / wave
        self.assertAlmostEqual(least / math.pi**2, 4.0, delta=4e-4)

    def test_stocky_and_thin_walls(self) -> None:
        # Worked out apart from this code: P = sqrt(sigma_cr sigma_y) A when sigma_cr < sigma_y, else sigma_y A.
        # von Kármán, Sechler & Donnell 1932. Stocky card square: full strength, 640 N; thin: √(σcr σy) A.
        stocky = plate_buckling_stress_pa(2e9, 0.001, 0.02, 0.3)
        self.assertAlmostEqual(stocky / 18076198.536793698, 1, delta=1e-6)
        self.assertAlmostEqual(effective_width_load_n(stocky, 8e6, 4 * 0.02 * 0.001), 640.0, delta=1e-6)
        self.assertAlmostEqual(effective_width_load_n(1e5, 1e7, 1e-4), 100.0, delta=1e-9)
