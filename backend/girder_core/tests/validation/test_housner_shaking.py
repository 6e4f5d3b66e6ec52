"""Housner 1963 (rocking, after West), Rayleigh (swinging mass), Den Hartog (isolation), equilibrium; all from memory.

Closed forms, so 1e-6; frequencies of a cantilever against the exact beam equation solved by scipy.
"""

import math
import unittest

from scipy import integrate, optimize

from girder_core.ground import GirderError
from girder_core.physics import (
    STOCKS,
    Bounds,
    Isolation,
    TowerShape,
    frame_tower,
    peak_acceleration_m_s2,
    rocking_threshold_g,
    shake_limits,
    shaken,
    smallest_half_base_m,
    toppling_angle_deg,
    transmissibility,
    wall_overturning,
)
from girder_core.physics.towers import cantilever_stiffness_n_m, natural_frequency_hz, swinging_mass_kg

GLUE = STOCKS["glue"].joint_n or Bounds(1, 1, 1)
DOWEL = STOCKS["dowel-4"]


class Rigid(unittest.TestCase):
    def test_tilt_rock_and_jerk(self) -> None:
        # Worked out apart from this code: tan(theta)=b/h; a=(2 pi f)^2 A; v=2 pi f A.
        self.assertAlmostEqual(toppling_angle_deg(0.06, 0.4) / 8.530765609948132, 1, delta=1e-6)
        self.assertAlmostEqual(rocking_threshold_g(0.05, 0.3), 1 / 6, delta=1e-12)
        self.assertAlmostEqual(peak_acceleration_m_s2(2.0, 0.01) / 1.5791367041742974, 1, delta=1e-6)

    def test_a_triangle_of_feet_stands_worst_towards_its_edge(self) -> None:
        # Inradius s/(2√3), against s/√3 to a corner.
        self.assertAlmostEqual(smallest_half_base_m(3, 0.12), 0.12 / (2 * math.sqrt(3)), delta=1e-12)
        self.assertAlmostEqual(smallest_half_base_m(4, 0.12), 0.06, delta=1e-12)

    def test_wall(self) -> None:
        # W t/(2h) against μ W: tips first where t/(2h) < μ.
        tipping = wall_overturning(0.2, 0.05, 1.0, 600.0, 0.2, 0.5)
        weight = 600 * 0.2 * 0.05 * 9.80665
        self.assertAlmostEqual(tipping.overturning_n, weight * 0.05 / 0.4, delta=1e-9)
        self.assertAlmostEqual(tipping.sliding_n, weight / 2, delta=1e-9)
        self.assertTrue(tipping.tips_first)


class Swinging(unittest.TestCase):
    # A strut of 4 mm, 3.8 GPa and 1450 kg/m³: E I = 0.04775 N·m², 18.22 g/m; 250 mm, ten times its mass at the tip.
    EI, PER_M, LONG, TIP = 3.8e9 * math.pi * 0.004**4 / 64, 1450 * math.pi * 0.004**2 / 4, 0.25, 0.04555

    def test_rayleigh(self) -> None:
        # Worked out apart from this code: f = sqrt(3EI/L^3/(M+0.2357 m))/(2 pi), 33/140=0.235714; exact: 1+cos x
        # cosh x + (M/m) x (cos x sinh x - sin x cosh x)=0, omega = x^2 sqrt(EI/(mu L^4)).
        mass = swinging_mass_kg(self.TIP, self.PER_M * self.LONG)
        stiff = cantilever_stiffness_n_m(self.EI, 1.0, self.LONG)
        self.assertAlmostEqual(float(natural_frequency_hz(stiff, mass)) / 2.23184417164242, 1, delta=1e-6)
        bare = float(natural_frequency_hz(stiff, self.TIP))
        self.assertAlmostEqual(bare / 2.257996610462084, 1, delta=1e-6)

    def test_against_the_exact_beam(self) -> None:
        # 1 + cosh b cos b + (M/m) b (sinh b cos b − cosh b sin b) = 0; Rayleigh lies a little above.
        ratio = self.TIP / (self.PER_M * self.LONG)
        b = optimize.brentq(
            lambda x: (
                1 + math.cosh(x) * math.cos(x) + ratio * x * (math.sinh(x) * math.cos(x) - math.cosh(x) * math.sin(x))
            ),
            0.1,
            1.8,
        )
        exact = b**2 / (2 * math.pi) * math.sqrt(self.EI / self.PER_M) / self.LONG**2
        ours = float(
            natural_frequency_hz(
                cantilever_stiffness_n_m(self.EI, 1.0, self.LONG), swinging_mass_kg(self.TIP, self.PER_M * self.LONG)
            )
        )
        self.assertAlmostEqual(ours / exact, 1, delta=1e-4)
        self.assertGreater(ours, exact)

    def test_gravity_softens(self) -> None:
        # Second route: the tip weight that takes all stiffness is near Euler's π² E I/(4 L²).
        weight = 3 * self.EI / self.LONG**2 / (6 / 5)
        euler = math.pi**2 * self.EI / (4 * self.LONG**2)
        self.assertAlmostEqual(weight / euler, 1, delta=0.02)
        soft = cantilever_stiffness_n_m(self.EI, 1.0, self.LONG, weight / 9.80665 * 0.999)
        self.assertGreater(float(soft), 0)
        with self.assertRaises(GirderError):
            natural_frequency_hz(cantilever_stiffness_n_m(self.EI, 1.0, self.LONG, weight / 9.80665 * 1.001), 1.0)

    def test_isolation(self) -> None:
        # Worked out apart from this code: T=sqrt((1+(2 zeta r)^2)/((1-r^2)^2+(2 zeta r)^2)), r=f/f_n; T=1 at
        # r=sqrt 2 for every zeta.
        self.assertAlmostEqual(float(transmissibility(2.0, 0.1)) / 0.35586170710706266, 1, delta=1e-6)
        for damping in (0.02, 0.2, 0.6):
            self.assertAlmostEqual(float(transmissibility(math.sqrt(2), damping)), 1, delta=1e-12)
        with self.assertRaises(GirderError):
            transmissibility(1.0, 0.0)

    def test_isolation_by_integrating_the_motion(self) -> None:
        # Mass on spring and damper on a table that moves as cos: steady amplitude after many cycles (scipy).
        r, z = 1.6, 0.15
        path = integrate.solve_ivp(
            lambda t, y: [y[1], -2 * z * (y[1] + r * math.sin(r * t)) - (y[0] - math.cos(r * t))],
            (0, 160), [0, 0], max_step=0.02, rtol=1e-8,
        )  # fmt: skip
        late = path.y[0][path.t > 120]
        self.assertAlmostEqual((late.max() - late.min()) / 2 / float(transmissibility(r, z)), 1, delta=2e-3)


class Frames(unittest.TestCase):
    def shape(self, **changed: float) -> TowerShape:
        given = {"height_m": 0.4, "base_m": 0.2, "top_m": 0.1, "legs": 4, "levels": 3, "braced": True} | changed
        return TowerShape(**given)  # type: ignore[arg-type]

    def test_diagonals_and_wide_feet_help(self) -> None:
        # Facts of the trade: triangles make frames stiff; a wide base stands (common practice, no source).
        braced = frame_tower(self.shape(), DOWEL, GLUE, hangers=4)
        bare = frame_tower(self.shape(braced=False), DOWEL, GLUE, hangers=4)
        self.assertLess(bare.typical_n, braced.typical_n * 1.0001)
        self.assertIn("rack", {state.key for state in bare.limit_states})
        self.assertNotIn("rack", {state.key for state in braced.limit_states})
        wide = shake_limits(self.shape(base_m=0.3), DOWEL, GLUE, Bounds(0.9, 1.0, 1.1))
        narrow = shake_limits(self.shape(base_m=0.1, top_m=0.05), DOWEL, GLUE, Bounds(0.9, 1.0, 1.1))
        self.assertGreater(
            wide.limit_states[0].typical_n / self.shape(base_m=0.3).mass_kg(DOWEL),
            narrow.limit_states[0].typical_n / self.shape(base_m=0.1, top_m=0.05).mass_kg(DOWEL),
        )

    def test_a_soft_layer_lets_little_through_above_its_frequency(self) -> None:
        tower = self.shape(top_mass_kg=0.05)
        soft = Isolation((2 * math.pi * 0.7) ** 2 * tower.mass_kg(DOWEL), 0.1)
        self.assertLess(shaken(tower, DOWEL, 3.0, 0.02, soft).felt_g, 0.3 * shaken(tower, DOWEL, 3.0, 0.02).table_g)

    def test_a_tower_that_cannot_stand_is_told(self) -> None:
        with self.assertRaises(GirderError) as caught:
            shaken(self.shape(height_m=1.5, braced=False, levels=1, top_mass_kg=2.0), DOWEL, 1.0, 0.02)
        self.assertIn("too slender", caught.exception.sentence)
