"""What is made by hand, held against other routes: strips and columns one by one, an eigenvalue problem by finite
differences, a plate strip by strip, a frame package for the loaded deck of a truss.
"""

import io
import math
import unittest
from contextlib import redirect_stdout
from itertools import pairwise

import numpy as np
from anastruct import SystemElements
from numpy.typing import NDArray
from scipy import linalg

from girder_core.ground import GirderError
from girder_core.physics import STOCKS, member_of, pleated, rectangle
from girder_core.physics.beams import SPREAD, spread_section, wall_stress_pa, working_width_m
from girder_core.physics.columns import FURTHER, supports_needed, together
from girder_core.physics.laps import lap_strength_n
from girder_core.physics.members import BETWEEN, brazier_moment_nm, chord_sway_n, joint_strength
from girder_core.physics.sections import laminate
from girder_core.physics.truss_strength import PEAKED
from girder_core.physics.tubes import uneven_rim_share


class Rims(unittest.TestCase):
    def test_strips_side_by_side(self) -> None:
        # 4,000 strips whose tops lie evenly over a; each carries 1 at a shortening of 1 and r after it.
        for off in (0.1, 0.5, 0.8, 1.5, 5.0, 12.0):
            for still in (0.0, 0.15, 0.4, 0.9):
                tops = (np.arange(4000) + 0.5) / 4000 * off
                way = np.linspace(0, off + 1.5, 1500)[:, None] - tops
                carries = np.where(way < 0, 0, np.where(way <= 1, way, still)).mean(1)
                self.assertAlmostEqual(float(uneven_rim_share(off, still)), float(carries.max()), delta=0.004)

    def test_a_flush_rim_carries_all(self) -> None:
        self.assertEqual(uneven_rim_share(0.0, 0.3), 1.0)
        for bad in (-0.1, 1.1):
            with self.assertRaises(GirderError):
                uneven_rim_share(1.0, bad)


class Sharing(unittest.TestCase):
    def test_simulated_columns_under_one_stiff_deck(self) -> None:
        # Tubes that fail at 15 to 25 % of scatter after 0.6 mm (wall and crumpled rim), cut to 0.1 to 0.5 mm; a deck
        # that tilts takes the plane through their heights away; what has failed keeps half. Four to twelve of them.
        luck = np.random.default_rng(5)
        shares = []
        for _ in range(1500):
            n = int(luck.integers(4, 13))
            angle = 2 * math.pi * np.arange(n) / n
            plane = np.column_stack([np.ones(n), np.cos(angle), np.sin(angle)])
            heights = luck.normal(0, luck.uniform(0.1, 0.5), n)
            heights -= plane @ np.linalg.lstsq(plane, heights, rcond=None)[0]
            strong = np.exp(luck.normal(0, luck.uniform(0.15, 0.25), n))
            way = (np.linspace(-1.5, 3, 300)[:, None] + heights) / 0.6
            carries = strong * np.where(way < 0, 0, np.where(way <= 1, way, 0.5))
            shares.append((carries.sum(1).max() - 1) / (n - 1))
        low, middle, high = np.quantile(shares, [0.1, 0.5, 0.9])
        self.assertLess(abs(middle - FURTHER.typical), 0.15)
        self.assertGreater(low, FURTHER.low - 0.1)
        self.assertLess(high, FURTHER.high + 0.1)

    def test_how_many_are_needed_undoes_how_many_carry(self) -> None:
        for further in (0.45, 0.65, 1.0):
            for load in (0.5, 1.0, 1.01, 3.7, 12.0):
                n = supports_needed(load, 1.0, further=further)
                self.assertGreaterEqual(float(together(1.0, n, further)), load - 1e-9)
                if n > 1:
                    self.assertLess(float(together(1.0, n - 1, further)), load)


class Pleats(unittest.TestCase):
    def test_under_a_narrow_load_by_strips(self) -> None:
        # Beam strips along the span of stiffness D_l (π/L)⁴ by width, joined by the sheet's own bending D_t across:
        # finite differences; the width that works is the mean over the largest deflection times the whole width.
        for pleats, depth, across in ((6, 0.008, 0.0), (8, 0.006, 0.03), (12, 0.005, 0.06), (5, 0.01, 0.05)):
            section, span = pleated(0.3, depth, pleats, 2e-4), 0.15
            wide = float(section.width_m)
            n = 1200
            step = wide / n
            unfold = 2e-4**3 / 12 * wide / 0.3
            along = float(section.second_moment_m4) / wide * (math.pi / span) ** 4
            second = np.diff(np.eye(n), 2, axis=0) / step**2
            stiff = unfold * second.T @ second + along * np.eye(n)
            middles = (np.arange(n) + 0.5) * step - wide / 2
            load = np.abs(middles) <= max(across / 2, step)
            bends = np.linalg.solve(stiff, load.astype(float))
            exact = float(bends.sum() / bends.max() * step)
            self.assertAlmostEqual(float(working_width_m(section, span, across)) / exact, 1, delta=0.02)

    def test_a_wide_load_or_a_closed_section_works_as_a_whole(self) -> None:
        section = pleated(0.3, 0.008, 8, 2e-4)
        self.assertEqual(float(working_width_m(section, 0.15, 0.3)), float(section.width_m))
        self.assertEqual(working_width_m(rectangle(0.1, 3e-4), 0.15, 0.0), 0.1)

    def test_spread_is_the_section_folded_less_deep(self) -> None:
        # The same sheet folded to the depth that is left; walls thin enough that t/cos θ hardly matters.
        spread, flatter = spread_section(pleated(0.2, 0.01, 6, 1e-5), SPREAD.typical), pleated(0.2, 0.0078, 6, 1e-5)
        self.assertAlmostEqual(float(spread.second_moment_m4 / flatter.second_moment_m4), 1, delta=1e-5)
        self.assertAlmostEqual(float(spread.depth_m / flatter.depth_m), 1, delta=1e-3)

    def test_walls_with_a_free_edge_lose_less(self) -> None:
        # ρ = λ^−¾ against 1/λ, λ = √(σ/σ_cr) = 4.
        self.assertAlmostEqual(float(wall_stress_pa(1e6, 1e6, 16e6, 1.0)), 16e6 * 4**-0.75, delta=1)
        self.assertAlmostEqual(float(wall_stress_pa(1e6, 1e6, 16e6, 0.0)), 4e6, delta=1e-3)
        self.assertEqual(float(wall_stress_pa(9e7, 9e7, 16e6, 0.5)), 16e6)


class Laps(unittest.TestCase):
    def test_by_adding_up_shear_and_peel_over_the_lap(self) -> None:
        # Stiff pieces: even shear N/(b l), peel that grows evenly from the middle and balances N t/2. It holds until
        # shear over its strength and peel over its own add up to one at the end of the lap.
        wide, lap, thick, shear = 0.01, 0.014, 0.002, 2e6
        holds = float(lap_strength_n(shear, wide, lap, thick))
        at = np.linspace(-lap / 2, lap / 2, 100_001)
        slope = holds * thick / 2 / (wide * np.trapezoid(at**2, at))
        self.assertAlmostEqual(holds / (wide * lap) / shear + slope * lap / 2 / (shear / 2), 1, delta=1e-6)

    def test_the_couple_against_a_frame_package(self) -> None:
        # Half of a craft stick that lies flat on pieces which do not turn, glued at its end and pulled at its middle,
        # where symmetry keeps it level. Forty hinged links across the lap peel; one at its middle slides, in the plane
        # of the glue. The couple of the links is what the formula spreads over the lap: N t/2.
        lap, thick, links = 0.014, 0.002, 41
        at = (np.arange(links) + 0.5) / links * lap - lap / 2
        stick = {"EA": 9e9 * 2e-5, "EI": 9e9 * 0.01 * thick**3 / 12}
        frame = SystemElements()
        with redirect_stdout(io.StringIO()):
            for left, right in pairwise([*at, 0.06]):
                frame.add_element([[left, thick], [right, thick]], **stick)
            for x in at:
                frame.add_truss_element([[x, 0], [x, thick]], EA=7e4)
            frame.add_element([[0, 0], [0, thick / 2]], EA=1e6, EI=1e3, spring={2: 0})
            frame.add_element([[0, thick / 2], [0, thick]], EA=1e6, EI=1e3)
            for x in at:
                frame.add_support_fixed(frame.find_node_id([x, 0]))
            end = frame.find_node_id([0.06, thick])
            frame.add_support_rotational(end)
            frame.point_load(end, Fx=1.0)
            frame.solve()
            pulls = [frame.get_element_results(links + 1 + i, verbose=True)["N"] for i in range(links)]
        couple = abs(sum(float(np.mean(pull)) * x for pull, x in zip(pulls, at, strict=True)))
        self.assertAlmostEqual(couple / (thick / 2), 1, delta=0.1)

    def test_twice_the_lap_is_more_than_twice_the_strength(self) -> None:
        self.assertGreater(
            float(lap_strength_n(2e6, 0.01, 0.02, 0.002)), 2 * float(lap_strength_n(2e6, 0.01, 0.01, 0.002))
        )

    def test_a_joint_that_is_no_glue_does_not_know_of_laps(self) -> None:
        stick, tape, glue = STOCKS["craft-stick"], STOCKS["tape"], STOCKS["glue"]
        self.assertEqual(joint_strength(tape, stick, 0.05), tape.joint_n)
        assert glue.joint_n is not None
        crossed = joint_strength(glue, stick)
        assert crossed is not None
        self.assertAlmostEqual(crossed.typical, glue.joint_n.typical, delta=1e-9)
        thin = joint_strength(glue, STOCKS["skewer"])
        assert thin is not None
        self.assertLess(thin.typical, 0.3 * crossed.typical)


class Members(unittest.TestCase):
    def test_sticks_glued_face_to_face(self) -> None:
        for n in (1, 2, 3):
            for glued in (False, True):
                plank = laminate(0.01, 0.002, n, glued)
                member = member_of(STOCKS["craft-stick"], n, glued)
                self.assertAlmostEqual(member.area_m2, float(plank.area_m2), delta=1e-15)
                self.assertAlmostEqual(member.out_of_plane_m4, float(plank.second_moment_m4), delta=1e-20)
        # In the truss's own plane 10 mm deep and n · 2 mm wide.
        self.assertAlmostEqual(
            member_of(STOCKS["craft-stick"], 3).modulus_in_plane_m3, 0.006 * 0.01**2 / 6, delta=1e-18
        )

    def test_brazier(self) -> None:
        # E 1.3 GPa, r 2.925 mm, t 0.15 mm, ν 0.4: 0.3143 π E r t²/√0.84 = 0.09217 N·m.
        self.assertAlmostEqual(float(brazier_moment_nm(1.3e9, 0.15e-3, 2.925e-3, 0.4)), 0.09217, delta=5e-5)


def sways(stiff: float, length: float, foundation: float, squeeze: NDArray[np.float64]) -> float:
    """Least factor of a squeeze, by finite differences: E I w'''' + (N w')' + k w = 0, hinged ends."""
    n = len(squeeze) - 1
    step = length / n
    second = (np.diff(np.eye(n + 1), 2, axis=0) / step**2)[:, 1:-1]
    first = (np.diff(np.eye(n + 1), 1, axis=0) / step)[:, 1:-1]
    at = (squeeze[1:] + squeeze[:-1]) / 2
    bends = stiff * second.T @ second + foundation * np.eye(n - 1)
    geometric = first.T @ (at[:, None] * first)
    return 1 / float(linalg.eigh(geometric, bends, eigvals_only=True)[-1])


class Chords(unittest.TestCase):
    def test_a_bar_on_an_elastic_foundation(self) -> None:
        for foundation in (0.0, 20.0, 500.0, 20_000.0):
            exact = sways(0.05, 0.3, foundation, np.ones(401))
            self.assertAlmostEqual(float(chord_sway_n(0.05, 0.3, foundation)) / exact, 1, delta=2e-3)

    def test_a_squeeze_that_fades_to_the_ends(self) -> None:
        # A parabola: as an even squeeze on 0.696 of the length.
        x = np.linspace(0, 1, 401)
        exact = sways(0.05, 0.3, 0.0, 4 * x * (1 - x))
        self.assertAlmostEqual(float(chord_sway_n(0.05, PEAKED * 0.3, 0.0)) / exact, 1, delta=0.03)


class LoadedDecks(unittest.TestCase):
    def test_a_cup_on_a_continuous_deck_of_four_panels(self) -> None:
        # A frame package: the deck of straws runs through over joints that do not give; cups of 0.6 to 1 panel on one
        # inner panel or over the middle joint; largest moment over load times panel.
        shares = []
        for start, wide in ((1.0, 1.0), (1.2, 0.6), (1.5, 1.0), (1.7, 0.6), (1.45, 0.1)):
            frame = SystemElements()
            with redirect_stdout(io.StringIO()):
                n = 80
                for i in range(n):
                    frame.add_element([[4 * i / n, 0], [4 * (i + 1) / n, 0]], EA=1e6, EI=1e3)
                frame.add_support_hinged(node_id=1)
                for joint in range(1, 5):
                    frame.add_support_roll(node_id=joint * n // 4 + 1)
                loaded = [i for i in range(n) if start - 1e-9 <= 4 * i / n < start + wide - 1e-9]
                for i in loaded:
                    frame.q_load(element_id=i + 1, q=-1 / (len(loaded) * 4 / n))
                frame.solve()
            moments = [abs(value) for i in range(n) for value in frame.get_element_results(i + 1, verbose=True)["M"]]
            shares.append(max(moments))
        self.assertGreater(min(shares), 0.9 * BETWEEN.low * 0.6)
        self.assertLess(max(shares), BETWEEN.high)
        self.assertTrue(BETWEEN.low < float(np.mean(shares)) < BETWEEN.high, shares)
        self.assertAlmostEqual(float(np.mean(shares)) / BETWEEN.typical, 1, delta=0.3)
