"""Maxwell 1864 and Betti 1872 (reciprocity), Clapeyron (work), Cremona's equilibrium of joints; theorems, from memory.

Nothing here knows how the forces were found: each test holds the answers against a law they must obey. Tolerances are
those of solving well-conditioned linear systems (1e-8 of the largest value).
"""

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.physics import PATTERNS, PlaneTruss, deck_load, moved, pattern, total_length_m
from girder_core.physics.trusses import TrussForces
from girder_core.tests import tries

NAMES = st.sampled_from(PATTERNS)
PANELS = st.sampled_from([4, 6, 8])


def made(name: str, panels: int, stiff: float = 1e5) -> PlaneTruss:
    truss = pattern(name, 0.6, 0.12, panels)
    return PlaneTruss(truss.joints, truss.members, truss.supports, stiff)


def free(truss: PlaneTruss) -> list[str]:
    return [name for name in truss.joints if name not in truss.supports]


class Laws(unittest.TestCase):
    @given(NAMES, PANELS, st.randoms(use_true_random=False))
    @settings(max_examples=tries(40))
    def test_every_joint_is_in_balance(self, name: str, panels: int, luck: Any) -> None:
        truss = made(name, panels)
        loads = {joint: (luck.uniform(-20, 20), luck.uniform(-20, 20)) for joint in free(truss)}
        solution = truss.solve(loads)
        for joint, (x, y) in truss.joints.items():
            fx, fy = loads.get(joint, (0.0, 0.0))
            fx += solution.reactions_n.get(f"{joint}x", 0.0)
            fy += solution.reactions_n.get(f"{joint}y", 0.0)
            for (a, b), tension in zip(truss.members, solution.member_forces_n.values(), strict=True):
                if joint in (a, b):
                    ox, oy = truss.joints[b if joint == a else a]
                    long = math.hypot(ox - x, oy - y)
                    fx, fy = fx + tension * (ox - x) / long, fy + tension * (oy - y) / long
            self.assertAlmostEqual(fx, 0, delta=1e-6)
            self.assertAlmostEqual(fy, 0, delta=1e-6)

    @given(NAMES, PANELS, st.randoms(use_true_random=False))
    @settings(max_examples=tries(40))
    def test_the_whole_is_in_balance(self, name: str, panels: int, luck: Any) -> None:
        truss = made(name, panels)
        loads = {joint: (luck.uniform(-20, 20), luck.uniform(-20, 20)) for joint in free(truss)}
        solution = truss.solve(loads)
        forces = [(truss.joints[joint], load) for joint, load in loads.items()]
        for key, value in solution.reactions_n.items():
            forces.append((truss.joints[key[:-1]], (value, 0.0) if key[-1] == "x" else (0.0, value)))
        self.assertAlmostEqual(sum(fx for _, (fx, _) in forces), 0, delta=1e-6)
        self.assertAlmostEqual(sum(fy for _, (_, fy) in forces), 0, delta=1e-6)
        self.assertAlmostEqual(sum(x * fy - y * fx for (x, y), (fx, fy) in forces), 0, delta=1e-6)

    @given(NAMES, PANELS, st.randoms(use_true_random=False))
    @settings(max_examples=tries(40))
    def test_reciprocity(self, name: str, panels: int, luck: Any) -> None:
        # A push at one joint moves another as far as the same push there moves the first.
        truss = made(name, panels)
        a, b = luck.sample(free(truss), 2)
        down, right = (0.0, -7.0), (7.0, 0.0)
        at_a, at_b = truss.solve({a: down}), truss.solve({b: right})
        work_one = 7.0 * at_a.displacements_m[b][0]
        work_other = -7.0 * at_b.displacements_m[a][1]
        self.assertAlmostEqual(work_one, work_other, delta=1e-8)

    @given(NAMES, PANELS, st.randoms(use_true_random=False))
    @settings(max_examples=tries(40))
    def test_the_work_of_the_loads_is_the_energy_in_the_members(self, name: str, panels: int, luck: Any) -> None:
        truss = made(name, panels)
        loads = {joint: (luck.uniform(-9, 9), luck.uniform(-9, 9)) for joint in free(truss)}
        solution = truss.solve(loads)
        work = sum(
            fx * solution.displacements_m[joint][0] + fy * solution.displacements_m[joint][1]
            for joint, (fx, fy) in loads.items()
        )
        stored = sum(
            force**2 * float(long) / 1e5
            for force, long in zip(solution.member_forces_n.values(), truss.lengths_m, strict=True)
        )
        self.assertAlmostEqual(work, stored, delta=1e-8 * max(1e-3, stored))

    @given(NAMES, PANELS, st.floats(-3, 3), st.floats(-3, 3))
    @settings(max_examples=tries(40))
    def test_loads_add_up(self, name: str, panels: int, load: float, other: float) -> None:
        truss = made(name, panels)
        a, b = free(truss)[:2]
        first, second = truss.solve({a: (0, -1)}), truss.solve({b: (1, -2)})
        both = truss.solve({a: (0, -load), b: (other, -2 * other)})
        for member, force in both.member_forces_n.items():
            expected = load * first.member_forces_n[member] + other * second.member_forces_n[member]
            self.assertAlmostEqual(force, expected, delta=1e-8)

    @given(NAMES, PANELS, st.floats(1e3, 1e8))
    @settings(max_examples=tries(30))
    def test_a_determinate_truss_does_not_ask_how_stiff_it_is(self, name: str, panels: int, stiff: float) -> None:
        truss = made(name, panels)
        if truss.determinacy().kind != "determinate":
            return
        soft = truss.solve(dict.fromkeys(free(truss), (0.0, -1.0)))
        hard = made(name, panels, stiff).solve(dict.fromkeys(free(truss), (0.0, -1.0)))
        for member, force in soft.member_forces_n.items():
            self.assertAlmostEqual(hard.member_forces_n[member], force, delta=1e-7)
        sag, other = (min(y for _, y in solved.displacements_m.values()) for solved in (soft, hard))
        self.assertAlmostEqual(other / sag * stiff / 1e5, 1, delta=1e-6)


class Patterns(unittest.TestCase):
    def solved(self, name: str, panels: int = 6) -> tuple[PlaneTruss, TrussForces]:
        truss = made(name, panels)
        shares = deck_load(truss, "uniform")
        return truss, truss.solve({joint: (0.0, -share) for joint, share in shares.items()})

    def test_a_symmetric_truss_under_a_symmetric_load(self) -> None:
        for name in PATTERNS:
            truss, solution = self.solved(name)
            if name == "queen post":
                continue  # One diagonal in its middle field: not symmetric.
            middle = 0.3
            lengths: dict[tuple[float, float], list[float]] = {}
            for (a, b), force in zip(truss.members, solution.member_forces_n.values(), strict=True):
                (ax, ay), (bx, by) = truss.joints[a], truss.joints[b]
                spot = (round(abs((ax + bx) / 2 - middle), 9), round((ay + by) / 2, 9))
                lengths.setdefault(spot, []).append(force)
            for forces in lengths.values():
                self.assertAlmostEqual(max(forces), min(forces), delta=1e-8, msg=name)

    def test_the_bottom_is_pulled_and_the_top_squeezed(self) -> None:
        # Facts of the trade for a truss on two supports (common practice, no source).
        for name in ("Warren", "Pratt", "Howe", "bowstring"):
            _, solution = self.solved(name)
            for member, force in solution.member_forces_n.items():
                a, b = member.split("-")
                if a[0] == b[0] == "B":
                    self.assertGreater(force, -1e-9, f"{name} {member}")
                elif a[0] == b[0] == "T":
                    self.assertLess(force, 1e-9, f"{name} {member}")

    def test_diagonals_of_a_pratt_are_pulled_and_of_a_howe_squeezed(self) -> None:
        for name, sign in (("Pratt", 1), ("Howe", -1)):
            _, solution = self.solved(name)
            inner = {m: f for m, f in solution.member_forces_n.items() if _slants(m) and m not in ("B0-T1", "B6-T5")}
            self.assertTrue(inner)
            for member, force in inner.items():
                self.assertGreaterEqual(sign * force, -1e-9, f"{name} {member}")

    def test_a_parabola_under_an_even_load_needs_no_diagonals(self) -> None:
        # The thrust line of a uniform load is a parabola, so a bowstring's diagonals carry nothing.
        _, solution = self.solved("bowstring")
        for member, force in solution.member_forces_n.items():
            if _slants(member) and "B0" not in member and "B6" not in member:
                self.assertAlmostEqual(force, 0, delta=1e-8, msg=member)

    def test_moved_far_and_back_it_is_the_same(self) -> None:
        truss = made("Warren", 4)
        there = moved(truss, "T1", (0.2, 0.3))
        self.assertNotEqual(total_length_m(there), total_length_m(truss))
        back = moved(there, "T1", truss.joints["T1"])
        np.testing.assert_allclose(back.lengths_m, truss.lengths_m)


def _slants(member: str) -> bool:
    """Whether a member joins top and bottom of different numbers."""
    a, b = member.split("-")
    return a[0] != b[0] and a[1:] != b[1:]
