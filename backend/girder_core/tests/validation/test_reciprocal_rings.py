"""Plane geometry of rings whose struts carry each other; no published table, so every figure has a second route here.

Coordinates by rotation, intersections by solving linear equations (numpy): exact, so 1e-6.
"""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.physics import (
    STOCKS,
    clear_circles_m,
    inner_radii_m,
    longest_fit_m,
    ring_load,
    ring_plan,
    ring_weight_n,
    strut_length_m,
)
from girder_core.physics.rings import contact_force_n, exact_slope, most_supports, shortest_fit_m
from girder_core.tests import tries


class Worked(unittest.TestCase):
    def test_three_pencils_and_eight_dowels(self) -> None:
        # Worked out apart from this code: L=sqrt(R^2-r^2)+r tan(pi/n); spacing 2 r tan(pi/n); support to near
        # crossing sqrt(R^2-r^2)-r tan(pi/n); slope d/(2 r tan(pi/n)) (vertical offset = d); exact for round rods:
        # slope = d/sqrt((2 r tan(pi/n))^2-(d/cos(pi/n))^2); valid if r <= R cos(pi/n).
        # L = √(R² − r²) + r tan(π/n); spacing 2 r tan(π/n).
        self.assertAlmostEqual(strut_length_m(3, 0.15, 0.03) / 0.19893090879405698, 1, delta=1e-6)
        self.assertAlmostEqual(strut_length_m(8, 0.4, 0.12) / 0.43128130805154974, 1, delta=1e-6)
        self.assertAlmostEqual(exact_slope(3, 0.03, 0.007) / 0.06797718569067676, 1, delta=1e-6)
        self.assertAlmostEqual(exact_slope(8, 0.12, 0.006) / 0.06048454402998865, 1, delta=1e-6)
        plan = ring_plan(3, 0.02, 0.19893090879405698, 0.007, 0.15)
        self.assertAlmostEqual(plan.inner_radius_m / 0.03, 1, delta=1e-6)
        self.assertAlmostEqual(plan.crossing_spacing_m / 0.1039230484541326, 1, delta=1e-6)
        self.assertAlmostEqual(plan.near_crossing_m / 0.0950078603399244, 1, delta=1e-6)
        self.assertAlmostEqual(plan.slope_simple / 0.06735753140545636, 1, delta=1e-6)
        self.assertAlmostEqual(plan.crown_m / 0.013399494936611668, 1, delta=1e-6)

    def test_one_strut_one_ring(self) -> None:
        # Worked out apart from this code: with r=R sin(phi): L = R cos(phi - pi/n)/cos(pi/n), so phi = pi/n -+
        # arccos(L cos(pi/n)/R); admissible 0<r<=R cos(pi/n); L ranges between R (r->0) and 2R sin(pi/n) (r=R
        # cos(pi/n), one strut per chord), with an interior maximum R/cos(pi/n) at r=R sin(pi/n) when n>4.
        radii = inner_radii_m(4, 0.1, 0.12)
        self.assertEqual(len(radii), 1)
        self.assertAlmostEqual(radii[0] / 0.02258342613226058, 1, delta=1e-6)
        self.assertAlmostEqual(longest_fit_m(4, 0.1) / 0.1414213562373095, 1, delta=1e-6)
        self.assertAlmostEqual(shortest_fit_m(4, 0.1), 0.1, delta=1e-12)

    def test_cups_around_a_circle(self) -> None:
        # Chord 2 R sin(π/n) of 8 on R = 0.25 is 191.34 mm; 22 cups of 70 mm fit.
        self.assertEqual(most_supports(0.25, 0.07), 22)


class Drawn(unittest.TestCase):
    @given(st.integers(3, 12), st.floats(0.1, 0.95))
    @settings(max_examples=tries(80))
    def test_crossings_where_lines_cross(self, n: int, share: float) -> None:
        radius = 0.3
        inner = share * radius * math.cos(math.pi / n)
        if inner <= 0.004 / (2 * math.sin(math.pi / n)) * 1.05:
            return
        length = strut_length_m(n, radius, inner)
        plan = ring_plan(n, 0.01, length, 0.004, radius)
        # The plan takes the wider of two rings.
        self.assertGreaterEqual(plan.inner_radius_m, inner - 1e-9)
        a, b = np.array(plan.starts[0]), np.array(plan.ends[0])
        along = (b - a) / np.linalg.norm(b - a)
        self.assertAlmostEqual(float(np.linalg.norm(b - a)), length, delta=1e-9)
        self.assertAlmostEqual(float(abs(a[0] * along[1] - a[1] * along[0])), plan.inner_radius_m, delta=1e-9)
        for other, at in ((1, None), (n - 1, None)):
            c, d = np.array(plan.starts[other]), np.array(plan.ends[other])
            far = np.linalg.solve(np.column_stack([b - a, c - d]), c - a)[0] * length
            expected = {plan.near_crossing_m, plan.near_crossing_m + plan.crossing_spacing_m}
            self.assertTrue(any(abs(far - radius) < 1e-6 for radius in expected), (far, expected, at))

    @given(st.integers(3, 12), st.floats(0.02, 0.999))
    @settings(max_examples=tries(80))
    def test_length_and_radius_are_each_other_s_inverse(self, n: int, share: float) -> None:
        inner = share * 0.2 * math.cos(math.pi / n)
        radii = inner_radii_m(n, 0.2, strut_length_m(n, 0.2, inner))
        self.assertTrue(any(abs(radius - inner) < 1e-7 for radius in radii))
        for radius in radii:
            self.assertAlmostEqual(strut_length_m(n, 0.2, radius), strut_length_m(n, 0.2, inner), delta=1e-9)

    def test_slope_of_touching_rods_in_space(self) -> None:
        # Second route: distance of two skew lines, rotated by 2π/n about the axis, must be the thickness (numpy).
        n, r, d = 5, 0.08, 0.006
        slope = exact_slope(n, r, d)
        turn = 2 * math.pi / n
        p, u = np.array([r, 0, 0.0]), np.array([0, 1, slope])
        spin = np.array([[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1]])
        q, v = spin @ p, spin @ u
        normal = np.cross(u, v)
        self.assertAlmostEqual(float(abs((q - p) @ normal) / np.linalg.norm(normal)) / d, 1, delta=1e-6)


class InSpace(unittest.TestCase):
    """Struts as lines in space, each raised by its slope from its support on: what lies on what."""

    @given(st.integers(3, 30), st.floats(0.05, 0.98))
    @settings(max_examples=tries(60))
    def test_at_its_far_crossing_a_strut_lies_on_its_neighbour(self, n: int, share: float) -> None:
        thick, cup, long = 0.006, 0.05, 0.4
        low, high = clear_circles_m(n, long, cup, thick)
        if low >= high:
            return
        plan = ring_plan(n, cup, long, thick, low + share * (high - low))
        a, b = (np.array(plan.starts[0]), np.array(plan.ends[0]))
        along = (b - a) / np.linalg.norm(b - a)
        far, near = plan.near_crossing_m + plan.crossing_spacing_m, plan.near_crossing_m
        # The neighbour whose near crossing is this strut's far crossing.
        at = a + far * along
        others = [i for i in range(1, n) if abs(np.linalg.norm(at - np.array(plan.starts[i])) - near) < 1e-6]
        self.assertEqual(len(others), 1)
        c, d = np.array(plan.starts[others[0]]), np.array(plan.ends[others[0]])
        own, other = (np.append(along, plan.slope), np.append((d - c) / np.linalg.norm(d - c), plan.slope))
        up = np.cross(other, own)
        up *= math.copysign(1.0, up[2]) / np.linalg.norm(up)
        # Exactly a thickness above it.
        self.assertAlmostEqual(float((np.append(a, 0.0) - np.append(c, 0.0)) @ up) / thick, 1, delta=1e-6)

    @given(st.integers(3, 30), st.floats(0.1, 0.6), st.floats(0.02, 0.09))
    @settings(max_examples=tries(60))
    def test_struts_clear_the_rims_on_the_circles_that_are_said_and_on_no_others(
        self, n: int, long: float, cup: float
    ) -> None:
        # Second route: distance of every other support's middle from the strut as a segment, numpy, on circles
        # inside the range and just beyond either end.
        thick = 0.006
        low, high = clear_circles_m(n, long, cup, thick)

        def nearest(radius: float) -> float:
            """The best that any ring of this strut does on this circle; less than nothing where none closes."""
            best = -1.0
            if 2 * radius * math.sin(math.pi / n) < cup + thick:
                return best
            inners = np.linspace(thick / 2 / math.sin(math.pi / n) * 1.0001, radius * math.cos(math.pi / n), 3000)
            off = np.sqrt(np.maximum(radius**2 - inners**2, 0)) + inners * math.tan(math.pi / n) - long
            for inner in inners[:-1][np.sign(off[1:]) != np.sign(off[:-1])]:
                start = np.array([inner, -math.sqrt(radius**2 - inner**2)])
                end = start + np.array([0.0, long])
                turns = 2 * math.pi * np.arange(1, n) / n
                cos, sin = np.cos(turns), np.sin(turns)
                cups = np.column_stack([cos * start[0] - sin * start[1], sin * start[0] + cos * start[1]])
                y = np.clip(cups[:, 1], start[1], end[1])
                best = max(best, float(np.hypot(cups[:, 0] - inner, cups[:, 1] - y).min()) - (cup + thick) / 2)
            return best

        if low < high:
            for share in (0.2, 0.5, 0.8):
                self.assertGreater(nearest(low + share * (high - low)), -2e-3)
            self.assertLess(nearest(high * 1.03), 2e-3)
            self.assertLess(nearest(low * 0.97), 2e-3)
        else:
            for radius in np.linspace(long * 0.3, long * 3, 12):
                self.assertLess(nearest(float(radius)), 2e-3)

    def test_facts_of_the_trade(self) -> None:
        # Common practice, no source: around 22 cups of 80 mm struts of 165 mm do not close, those of 300 mm do,
        # around 30 as well.
        for n, long, closes in ((22, 0.165, False), (22, 0.3, True), (30, 0.3, True)):
            low, high = clear_circles_m(n, long, 0.08, 0.007)
            self.assertEqual(low < high, closes, (n, long))


class Forces(unittest.TestCase):
    def test_levers_balance(self) -> None:
        # n W down on the struts, n W up from the cups; contact W x/(2 r tan(π/n)).
        n, r, weight, at = 5, 0.06, 3.0, 0.1
        push = contact_force_n(weight, at, n, r)
        self.assertAlmostEqual(push * 2 * r * math.tan(math.pi / n), weight * at, delta=1e-12)

    def test_a_ring_with_too_short_struts_says_so(self) -> None:
        for make, words in (
            (lambda: ring_plan(4, 0.05, 0.09, 0.006, 0.1), "do not reach"),
            (lambda: ring_plan(4, 0.05, 0.1001, 0.012, 0.1), "jam in the middle"),
            (lambda: ring_plan(12, 0.2, 0.2, 0.006), "fewer supports or longer struts"),
            (lambda: ring_plan(2, 0.05, 0.2, 0.006), "whole number"),
            (lambda: ring_plan(6, 0.1, 0.2, 0.006, 0.05), "overlap"),
        ):
            with self.assertRaises(GirderError) as caught:
                make()
            self.assertIn(words, caught.exception.sentence)

    def test_thicker_struts_carry_more(self) -> None:
        plan = ring_plan(5, 0.04, 0.16, 0.006, 0.13)
        thick = ring_load(plan, STOCKS["dowel-6"])
        thin = ring_load(ring_plan(5, 0.04, 0.16, 0.004, 0.13), STOCKS["dowel-4"])
        self.assertGreater(thick.typical_n, thin.typical_n)
        self.assertAlmostEqual(
            ring_weight_n(plan, STOCKS["dowel-6"], 0.16), 5 * 650 * math.pi * 0.003**2 * 0.16 * 9.80665
        )
