"""Rawson & Tupper, Basic Ship Theory, ch. 3 and 4 (floating and stability), and Archimedes; all from memory.

Closed forms of a box are exact, so 1e-6; second routes are integrals by scipy. Small boats of the classroom.
"""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import integrate, optimize

from girder_core.ground import GirderError
from girder_core.physics import (
    STOCKS,
    Hull,
    afloat,
    best_open_box,
    boat,
    capsizes,
    dish,
    heel_deg,
    open_box,
    payload_in_items,
    payload_to_rim_kg,
    pressed_dish,
    raft,
    v_hull,
    water_density_kg_m3,
)
from girder_core.physics.flotation import draft_m, freeboard_m, metacentric_height_m
from girder_core.physics.hulls import Planform
from girder_core.physics.stability import Stability, rim_angle_deg
from girder_core.tests import tries

FOIL = STOCKS["foil"]


def barge(mass: float, centre: float, length: float = 0.12, beam: float = 0.08, depth: float = 0.03) -> Hull:
    return Hull(Planform.RECTANGLE, length, beam, length, beam, depth, mass, centre)


class Barge(unittest.TestCase):
    def test_floats_and_rights_itself(self) -> None:
        # Worked out apart from this code: T=m/(rho L B); KB=T/2; BM=B^2/(12T); GM=KB+BM-KG; payload to freeboard
        # f: rho L B (D-f) - m; to the rim: rho L B D - m.
        # L 0.12, B 0.08, m 0.1 kg, ρ 998: T = m/(ρ L B); KB = T/2; BM = B²/(12 T); GM = KB + BM − KG.
        hull = barge(0.1, 0.012)
        state = afloat(hull, 0.0, 0.0, 998.0)
        for value, expected in (
            (state.draft_m, 0.010437541750167001), (state.buoyancy_m, 0.005218770875083501),
            (state.metacentric_radius_m, 0.0510976), (state.metacentric_height_m, 0.0443163708750835),
            (state.freeboard_m, 0.019562458249833), (payload_to_rim_kg(hull, 998.0), 0.187424),
            (payload_to_rim_kg(hull, 998.0, 0.005), 0.13951999999999998),
        ):  # fmt: skip
            self.assertAlmostEqual(value / expected, 1, delta=1e-6)
        self.assertAlmostEqual(freeboard_m(hull, 0.0, 998.0), state.freeboard_m, delta=1e-12)

    def test_heel_from_a_small_load_off_centre(self) -> None:
        # Worked out apart from this code: small: tan(phi)=w d/((m0+w) GM); wall-sided: tan(phi)(GM + BM
        # tan^2(phi)/2) = w d/(m0+w).
        # Hull 0.08 kg with KG 12 mm, 10 g at 4 mm height and 6 mm off: wall-sided formula by root finding (scipy).
        hull = barge(0.08, 0.012, depth=0.04)
        self.assertAlmostEqual(metacentric_height_m(hull, 0.01, 0.004, 998.0) / 0.05036089378757516, 1, delta=1e-6)
        heel = heel_deg(hull, 0.01, 0.006, 0.004, 998.0)
        self.assertAlmostEqual(math.radians(heel.small_angle_deg) / 0.013237011471347504, 1, delta=1e-5)
        self.assertAlmostEqual(math.radians(heel.angle_deg) / 0.013235704470870455, 1, delta=1e-5)
        self.assertTrue(heel.small)

    def test_smallest_beam_for_upright_stability(self) -> None:
        # GM = T/2 + B²/(12 T) − KG = 0 at B = √(12 T (KG − T/2)): T 30 mm, KG 40 mm, B 94.868 mm.
        for beam, upright in ((0.0949, True), (0.0948, False)):
            mass = 998.0 * 0.12 * beam * 0.03
            state = afloat(barge(mass, 0.04, beam=beam, depth=0.06), 0.0, 0.0, 998.0)
            self.assertEqual(state.metacentric_height_m > 0, upright)

    def test_below_zero_it_lolls_where_the_texts_say(self) -> None:
        # tan φ = √(−2 GM/BM).
        hull = barge(998.0 * 0.12 * 0.09 * 0.03, 0.04, beam=0.09, depth=0.06)
        state = afloat(hull, 0.0, 0.0, 998.0)
        loll = math.degrees(math.atan(math.sqrt(-2 * state.metacentric_height_m / state.metacentric_radius_m)))
        verdict = capsizes(hull, 0.0, 0.0, 0.0, 998.0)
        self.assertEqual(verdict.stability, Stability.LOLLS)
        self.assertAlmostEqual(verdict.angle_deg / loll, 1, delta=1e-6)

    def test_the_rim_goes_under(self) -> None:
        # While the bottom corner stays wet tan φ = 2(D − T)/B, else D²/(2 B T); they meet at T = D/2.
        hull = barge(0.1, 0.012)
        self.assertAlmostEqual(rim_angle_deg(hull, 0.02), math.degrees(math.atan(2 * 0.01 / 0.08)), delta=1e-9)
        self.assertAlmostEqual(
            rim_angle_deg(hull, 0.01), math.degrees(math.atan(0.03**2 / (2 * 0.08 * 0.01))), delta=1e-9
        )
        self.assertAlmostEqual(rim_angle_deg(hull, 0.015), math.degrees(math.atan(2 * 0.015 / 0.08)), delta=1e-9)

    def test_heeled_by_pieces_of_the_section(self) -> None:
        # Second route, independent of the wall-sided formula: righting lever from the centroid of the wetted polygon.
        hull, angle = barge(0.08, 0.012, depth=0.04), math.radians(8)
        state = afloat(hull, 0.0, 0.0, 998.0)
        b, t = 0.08, state.draft_m
        ys = np.linspace(-b / 2, b / 2, 20001)
        depth = t + ys * math.tan(angle)
        self.assertGreater(depth.min(), 0)
        area = integrate.trapezoid(depth, ys)
        y_b, z_b = integrate.trapezoid(depth * ys, ys) / area, integrate.trapezoid(depth**2 / 2, ys) / area
        lever = y_b * math.cos(angle) + (z_b - 0.012) * math.sin(angle)
        wall_sided = math.sin(angle) * (
            state.metacentric_height_m + 0.5 * state.metacentric_radius_m * math.tan(angle) ** 2
        )
        self.assertAlmostEqual(lever / wall_sided, 1, delta=1e-6)


class Sheets(unittest.TestCase):
    def test_best_box_from_a_square(self) -> None:
        # Worked out apart from this code: V=h(s-2h)^2, h=s/6, V=2s^3/27; corners tucked, so the whole sheet
        # floats: m=rho_foil t s^2; payload=rho V - m.
        # 127 mm square of 16 µm foil: wall a/6 = 21.1667 mm, volume 2 a³/27, 60 coins of 2.5 g at the rim.
        self.assertAlmostEqual(best_open_box(0.127), 0.127 / 6, delta=1e-12)
        wall = 0.127 / 6
        hull = open_box(0.127 - 2 * wall, 0.127 - 2 * wall, wall, 1.6e-5, FOIL)
        self.assertAlmostEqual(hull.volume_m3 / 0.00015173207407407407, 1, delta=1e-6)
        self.assertAlmostEqual(hull.mass_kg / 0.0006967728, 1, delta=1e-6)
        payload = payload_to_rim_kg(hull, 998.0)
        self.assertAlmostEqual(payload / 0.15073183712592592, 1, delta=1e-6)
        self.assertEqual(payload_in_items(payload, 0.0025), 60)

    @given(st.floats(0.05, 0.5), st.floats(0.4, 1.0), st.floats(0.0, 0.15))
    @settings(max_examples=tries(40))
    def test_no_other_wall_carries_more(self, side: float, ratio: float, freeboard: float) -> None:
        other, rest = side * ratio, freeboard * side * ratio
        best = best_open_box(side, rest, other)

        def volume(h: float) -> float:
            return (h - rest) * (side - 2 * h) * (other - 2 * h)

        for h in np.linspace(rest, min(side, other) / 2, 60):
            self.assertLessEqual(volume(float(h)), volume(best) * (1 + 1e-9))

    def test_freeboard_moves_the_best_wall(self) -> None:
        # d/dh (h − f)(a − 2h)² = 0 at h = (a + 4f)/6.
        self.assertAlmostEqual(best_open_box(0.12, 0.006), (0.12 + 4 * 0.006) / 6, delta=1e-12)


class Shapes(unittest.TestCase):
    def test_a_dish_pressed_of_foil_weighs_what_its_round_of_foil_does(self) -> None:
        # A round of 110 mm: floor 60 mm across, sides of 25 mm. Mass of the round; its centre by a sum over rings.
        hull = pressed_dish(0.09, 0.06, 0.02, 1.6e-5, FOIL)
        areal = FOIL.density_kg_m3.typical * 1.6e-5
        self.assertAlmostEqual(hull.mass_kg, areal * math.pi * 0.055**2, delta=1e-12)
        rings = np.linspace(0.0, 0.055, 200_001)
        height = np.maximum(rings - 0.03, 0.0) * 0.02 / 0.025
        centre = integrate.trapezoid(height * rings, rings) / integrate.trapezoid(rings, rings)
        self.assertAlmostEqual(hull.mass_centre_m / centre, 1, delta=1e-6)
        # Of foil, the same dish floats with a cargo; as a lump of 4 mm it did not.
        self.assertGreater(payload_to_rim_kg(hull), 0.05)

    def test_volumes_by_integration(self) -> None:
        clay = STOCKS["clay"]
        for hull in (v_hull(0.2, 0.08, 0.05, 4e-4, FOIL), dish(0.1, 0.06, 0.03, 3e-3, clay)):
            for draft in (0.3 * hull.depth_m, hull.depth_m):
                volume = integrate.quad(lambda z, h=hull: float(h.waterplane_m2(z)), 0, draft)[0]
                centre = integrate.quad(lambda z, h=hull: z * float(h.waterplane_m2(z)), 0, draft)[0] / volume
                self.assertAlmostEqual(float(hull.displaced_m3(draft)) / volume, 1, delta=1e-9)
                self.assertAlmostEqual(float(hull.buoyancy_centre_m(draft)) / centre, 1, delta=1e-9)

    def test_round_cone_by_its_formula(self) -> None:
        # Frustum: π h (R² + R r + r²)/3 (Euclid).
        hull = dish(0.1, 0.06, 0.03, 3e-3, STOCKS["clay"])
        self.assertAlmostEqual(hull.volume_m3, math.pi * 0.03 * (0.05**2 + 0.05 * 0.03 + 0.03**2) / 3, delta=1e-15)

    def test_a_solid_raft_shows_its_density(self) -> None:
        # Archimedes: the share below water is the ratio of densities.
        slab = raft(0.1, 0.1, 0.02, STOCKS["wood-block"])
        share = STOCKS["wood-block"].density_kg_m3.typical / 998.2
        self.assertAlmostEqual(draft_m(slab, 0.0) / 0.02, share, delta=1e-9)

    @given(st.floats(0.05, 0.3), st.floats(0.3, 1.0), st.floats(0.05, 0.4), st.floats(0.02, 0.95))
    @settings(max_examples=tries(60))
    def test_displaced_weight_is_the_weight(self, length: float, slim: float, wall: float, share: float) -> None:
        hull = open_box(length, length * slim, wall * length, 1.6e-5, FOIL)
        load = share * payload_to_rim_kg(hull)
        draft = draft_m(hull, load)
        self.assertAlmostEqual(float(hull.displaced_m3(draft)) * 998.2 / (hull.mass_kg + load), 1, delta=1e-9)
        # A box sinks in evenly, so a bisection finds the same.
        rough = optimize.bisect(lambda t: t * length * length * slim * 998.2 - hull.mass_kg - load, 0, wall * length)
        self.assertAlmostEqual(draft, rough, delta=1e-9)


class Water(unittest.TestCase):
    def test_density_by_temperature(self) -> None:
        # Worked out apart from this code: Tanaka et al. 2001 (CIPM formula): 999.974950 (1-(t-3.983035)^2
        # (t+301.797)/(522528.9 (t+69.34881))).
        # Tanaka et al., Metrologia 38 (2001) 301, air-free water at 101 325 Pa (from memory): 4, 15, 22 °C.
        for degrees, density in ((4.0, 999.9749477037103), (15.0, 999.1025717180356), (22.0, 997.7729769381818)):
            self.assertAlmostEqual(water_density_kg_m3(degrees) / density, 1, delta=1e-8)
        self.assertAlmostEqual(water_density_kg_m3(20), 998.2, delta=0.01)
        # UNESCO 1983, EOS-80 at 35 g/kg and the surface: check values at 5 and 25 °C; 15 °C as ships use it.
        for degrees, dense in ((5, 1027.675), (25, 1023.343), (15, 1025.97), (0, 1028.106)):
            self.assertAlmostEqual(water_density_kg_m3(degrees, salt=True), dense, delta=0.02)


class Off(unittest.TestCase):
    def test_refusals(self) -> None:
        hull = open_box(0.1, 0.08, 0.02, 1.6e-5, FOIL)
        for wrong, words in (
            (lambda: open_box(0.1, 0.1, 0.0, 1.6e-5, FOIL), "without walls"),
            (lambda: draft_m(hull, 5.0), "It sinks: it can carry"),
            (lambda: water_density_kg_m3(90), "between 0 and 40"),
            (lambda: best_open_box(0.1, 0.06), "less than half"),
            (lambda: payload_in_items(0.1, 0.0), "more than zero"),
        ):
            with self.assertRaises(GirderError) as caught:
                wrong()
            self.assertIn(words, caught.exception.sentence)

    def test_off_centre_cargo_sinks_it_before_it_is_full(self) -> None:
        # Common practice, no source.
        hull = open_box(0.085, 0.085, 0.021, 1.6e-5, FOIL)
        centred, off = boat(hull, 0.006, 0.001), boat(hull, 0.006, 0.012)
        self.assertLess(off.typical_n, 0.8 * centred.typical_n)
        self.assertEqual(off.governing.mode, "capsized")

    def test_a_narrow_tall_box_goes_over_first(self) -> None:
        # Expected in any text: GM falls with B²; common practice.
        tall = boat(open_box(0.12, 0.03, 0.06, 1.6e-5, FOIL), 0.035, 0.001)
        self.assertEqual(tall.governing.mode, "capsized")
