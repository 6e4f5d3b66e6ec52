"""Hulls that lie over, against polygons clipped at the waterline (Sutherland and Hodgman 1974; area and centroid by the
shoelace formula, any text of geometry): a second route that shares nothing with the integrals of the code."""

import math
import unittest
from random import Random

import numpy as np
from scipy import optimize

from girder_core.physics import STOCKS, Hull, boat, capsizes, dish, heel_deg, open_box, payload_to_rim_kg, raft, v_hull
from girder_core.physics.hulls import Planform
from girder_core.physics.righting import levels_at, wetted
from girder_core.physics.stability import Stability
from girder_core.tests import tries

RHO = 998.2
FOIL, CARD = STOCKS["foil"], STOCKS["manila"]
Point = tuple[float, float]


def section(hull: Hull) -> list[Point]:
    floor, top = hull.bottom_beam_m / 2, hull.beam_m / 2
    return [(-floor, 0.0), (floor, 0.0), (top, hull.depth_m), (-top, hull.depth_m)]


def clipped(corners: list[Point], heel: float, level: float) -> list[Point]:
    """The part of a section below the water; heights count upright to the heeled waterline."""
    height = [z * math.cos(heel) - y * math.sin(heel) - level for y, z in corners]
    below: list[Point] = []
    for i, (y, z) in enumerate(corners):
        k = i - 1
        if (height[i] < 0) != (height[k] < 0):
            share = height[k] / (height[k] - height[i])
            below.append((corners[k][0] + share * (y - corners[k][0]), corners[k][1] + share * (z - corners[k][1])))
        if height[i] < 0:
            below.append((y, z))
    return below


def area_and_moments(corners: list[Point]) -> tuple[float, float, float]:
    area = y_moment = z_moment = 0.0
    for (y0, z0), (y1, z1) in zip(corners, corners[1:] + corners[:1], strict=True):
        cross = y0 * z1 - y1 * z0
        area, y_moment, z_moment = area + cross / 2, y_moment + (y0 + y1) * cross / 6, z_moment + (z0 + z1) * cross / 6
    return area, y_moment, z_moment


def any_hull(draws: Random) -> Hull:
    beam, depth = draws.uniform(0.03, 0.2), draws.uniform(0.01, 0.1)
    floor = draws.choice((beam, 0.0, draws.uniform(0.0, beam)))
    return Hull(Planform.RECTANGLE, 0.15, beam, 0.15, floor, depth, draws.uniform(0.001, 0.02), draws.uniform(0, depth))


def righting_by_polygons(hull: Hull, volume: float, heel: float, mass_y: float, mass_z: float) -> float:
    """Horizontal way from the centre of mass to that of the water pushed aside; above zero it turns back upright."""

    def left(level: float) -> float:
        own = clipped(section(hull), heel, level)
        return (area_and_moments(own)[0] if len(own) > 2 else 0.0) * hull.length_m - volume

    level = optimize.brentq(left, -0.5, 0.5, xtol=1e-14)
    area, y_moment, z_moment = area_and_moments(clipped(section(hull), heel, level))
    return (y_moment / area - mass_y) * math.cos(heel) + (z_moment / area - mass_z) * math.sin(heel)


class Wetted(unittest.TestCase):
    def test_at_200_sections_and_heels(self) -> None:
        draws = Random(3)
        for _ in range(tries(200)):
            hull, heel = any_hull(draws), math.radians(draws.uniform(0.5, 88))
            level = draws.uniform(-0.1, 0.1)
            own = clipped(section(hull), heel, level)
            area, y_moment, z_moment = area_and_moments(own) if len(own) > 2 else (0.0, 0.0, 0.0)
            found = wetted(hull, heel, level)
            for value, expected in zip(found, (area, y_moment, z_moment), strict=True):
                self.assertAlmostEqual(float(value), 0.15 * expected, delta=1e-9 * 0.15 * hull.beam_m * hull.depth_m)

    def test_a_round_dish_by_adding_up_columns_of_water(self) -> None:
        hull = dish(0.1, 0.06, 0.03, 0.003, STOCKS["clay"])
        for degrees, level in ((5, 0.02), (20, 0.015), (40, 0.01)):
            heel = math.radians(degrees)
            # A fine grid of the dish: each cell counts where it lies inside and below the water.
            y, x, z = np.meshgrid(np.linspace(-0.05, 0.05, 241), np.linspace(-0.05, 0.05, 241),
                                  (np.arange(120) + 0.5) * 0.03 / 120, indexing="ij")  # fmt: skip
            inside = np.hypot(x, y) <= 0.03 + 0.02 * z / 0.03
            under = inside & (z * math.cos(heel) - y * math.sin(heel) < level)
            cell = (0.1 / 240) ** 2 * 0.03 / 120
            volume, y_moment, z_moment = (float(value) for value in wetted(hull, heel, level))
            self.assertAlmostEqual(volume / (under.sum() * cell), 1, delta=4e-3)
            self.assertAlmostEqual(y_moment / ((y * under).sum() * cell), 1, delta=1e-2)
            self.assertAlmostEqual(z_moment / ((z * under).sum() * cell), 1, delta=4e-3)

    def test_the_level_is_where_it_pushes_aside_what_it_weighs(self) -> None:
        hull = v_hull(0.2, 0.08, 0.05, 4e-4, FOIL)
        heels = np.radians([0.0, 10.0, 35.0, 60.0])
        volume = 0.4 * hull.volume_m3
        np.testing.assert_allclose(wetted(hull, heels, levels_at(hull, volume, heels))[0], volume, rtol=1e-9)


class Named(unittest.TestCase):
    """The wrong answers that were found, each against the clipped section."""

    def tips_at(self, hull: Hull, offset: float, height: float) -> float:
        """The smallest cargo that no heel short of the rim can balance, by polygons."""

        def stands(load: float) -> bool:
            total = hull.mass_kg + load
            mass_y, mass_z = load * offset / total, (hull.mass_kg * hull.mass_centre_m + load * height) / total
            for degrees in np.linspace(0.4, 70, 120):
                heel, volume = math.radians(degrees), total / RHO
                rim = hull.depth_m * math.cos(heel) - hull.beam_m / 2 * math.sin(heel)
                own = clipped(section(hull), heel, rim)
                if len(own) < 3 or area_and_moments(own)[0] * hull.length_m <= volume:
                    return False
                if righting_by_polygons(hull, volume, heel, mass_y, mass_z) >= 0:
                    return True
            return False

        loads = np.linspace(0.002, payload_to_rim_kg(hull, RHO), 40)
        return float(next((load for load in loads if not stands(float(load))), loads[-1]))

    def test_a_deep_v_still_carries(self) -> None:
        for depth in (0.040, 0.045, 0.050, 0.055):
            half = 0.075
            hull = v_hull(0.15 - 2 * min(depth, 0.06), 2 * math.sqrt(half**2 - depth**2), depth, 1.6e-5, FOIL)
            with self.subTest(depth=depth):
                tips = self.tips_at(hull, 0.004, 0.006)
                prediction = boat(hull, 0.006, 0.004, RHO)
                heel = next(state for state in prediction.limit_states if state.key == "heel")
                # Offsets of the cargo are drawn, so the typical one is near that of 4 mm; loads go in 40 steps.
                step = payload_to_rim_kg(hull, RHO) / 40
                self.assertAlmostEqual(heel.typical_n / 9.80665, tips, delta=0.12 * tips + 2 * step)
                self.assertGreater(heel.typical_n, 0)

    def test_a_narrow_box_goes_over_when_its_bottom_corner_has_left_the_water(self) -> None:
        hull = open_box(0.1, 0.06, 0.06, 0.0005, CARD)
        tips = self.tips_at(hull, 0.004, 0.030)
        prediction = boat(hull, 0.030, 0.004, RHO)
        carries = min(state.typical_n for state in prediction.limit_states) / 9.80665
        self.assertAlmostEqual(carries, tips, delta=0.12 * tips + 2 * payload_to_rim_kg(hull, RHO) / 40)

    def test_a_raft_does_not_fill(self) -> None:
        slab = raft(0.1, 0.1, 0.02, STOCKS["wood-block"])
        prediction = boat(slab, 0.021, 0.0001, RHO)
        self.assertNotIn("swamp", [state.key for state in prediction.limit_states])
        sinks = next(state for state in prediction.limit_states if state.key == "sink")
        # Archimedes: all of it under water.
        self.assertAlmostEqual(sinks.typical_n / 9.80665, payload_to_rim_kg(slab, RHO), delta=1e-6)

    def test_equilibrium_at_random_boxes(self) -> None:
        draws = Random(8)
        seen = 0
        for _ in range(tries(60)):
            hull = any_hull(draws)
            load = draws.uniform(0.05, 0.7) * payload_to_rim_kg(hull, RHO)
            offset, height = draws.uniform(0, 0.1) * hull.beam_m, draws.uniform(0, hull.depth_m)
            if load <= 0:
                continue
            verdict = capsizes(hull, load, height, offset, RHO)
            total = hull.mass_kg + load
            mass_y, mass_z = load * offset / total, (hull.mass_kg * hull.mass_centre_m + load * height) / total

            def lever(degrees: float, hull: Hull = hull, total: float = total, y: float = mass_y,
                      z: float = mass_z) -> float:  # fmt: skip
                return righting_by_polygons(hull, total / RHO, math.radians(degrees), y, z)

            if verdict.stability is not Stability.CAPSIZES and verdict.angle_deg > 0.05:
                seen += 1
                self.assertAlmostEqual(lever(verdict.angle_deg), 0.0, delta=1e-6 * hull.beam_m)
                # It turns back from beyond, and on from before.
                self.assertGreater(lever(verdict.angle_deg + 0.02), 0)
                self.assertLess(lever(verdict.angle_deg - 0.02), 0)
        self.assertGreater(seen, 5)

    def test_small_angles_as_ever(self) -> None:
        hull = open_box(0.12, 0.08, 0.03, 0.0005, CARD)
        heel = heel_deg(hull, 0.05, 0.001, 0.005, RHO)
        self.assertAlmostEqual(heel.angle_deg / heel.small_angle_deg, 1, delta=0.01)
