"""Plane trusses: worked cases by joints (Hibbeler, Structural Analysis, ch. 3; from memory), the count of Pellegrino &
Calladine 1986, and random trusses against two general frame packages, anastruct and PyNiteFEA.
"""

import io
import math
import unittest
from contextlib import redirect_stdout

import numpy as np
from anastruct import SystemElements
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from Pynite import FEModel3D

from girder_core.ground import GirderError
from girder_core.physics import PATTERNS, PlaneTruss, deck_load, pattern
from girder_core.tests import tries


class Worked(unittest.TestCase):
    def assert_forces(self, truss: PlaneTruss, loads: dict, expected: dict) -> None:  # type: ignore[type-arg]
        forces = truss.solve(loads).member_forces_n
        for name, value in expected.items():
            self.assertAlmostEqual(forces[name], value, delta=1e-6 * max(1.0, abs(value)), msg=name)

    def test_king_post(self) -> None:
        # 1.2 m, 0.45 m high, 90 N at the post: post +90, rafters −75, tie +60; D moves 0.36 and −1.8225 mm at EA 1e5.
        truss = PlaneTruss(
            {"A": (0, 0), "B": (1.2, 0), "C": (0.6, 0.45), "D": (0.6, 0)},
            (("A", "D"), ("D", "B"), ("A", "C"), ("C", "B"), ("C", "D")), {"A": "xy", "B": "y"},
        )  # fmt: skip
        self.assert_forces(truss, {"D": (0, -90)}, {"A-D": 60, "D-B": 60, "A-C": -75, "C-B": -75, "C-D": 90})
        solved = truss.solve({"D": (0, -90)})
        self.assertAlmostEqual(solved.reactions_n["Ay"], 45, delta=1e-9)
        self.assertAlmostEqual(solved.displacements_m["D"][0], 0.00036, delta=1e-12)
        self.assertAlmostEqual(solved.displacements_m["D"][1], -1.8225e-3, delta=1e-12)
        count = truss.determinacy()
        self.assertEqual((count.kind, count.rank, count.mechanisms, count.self_stress_states), ("determinate", 8, 0, 0))

    def test_warren_of_four_panels(self) -> None:
        # 0.8 m, 0.15 m deep, 100 N at the middle: chords 33.3, 100 below and −66.7, −133.3 above, diagonals ±60.0925.
        d = 50 * math.hypot(0.1, 0.15) / 0.15
        self.assert_forces(
            pattern("Warren", 0.8, 0.15, 4), {"B2": (0, -100)},
            {"B0-B1": 100 / 3, "B1-B2": 100, "T0-T1": -200 / 3, "T1-T2": -400 / 3, "B0-T0": -d, "T0-B1": d, "T1-B2": d},
        )  # fmt: skip

    def test_howe_of_six_panels(self) -> None:
        # 0.9 m, 0.2 m deep, 12 N at each deck joint: verticals pulled, diagonals squeezed.
        self.assert_forces(
            pattern("Howe", 0.9, 0.2, 6), {f"B{i}": (0, -12) for i in range(1, 6)},
            {"B0-B1": 22.5, "B1-B2": 36, "B2-B3": 40.5, "T1-T2": -22.5, "T2-T3": -36, "B1-T1": 30, "B3-T3": 12,
             "B0-T1": -37.5, "B1-T2": -22.5, "B2-T3": -7.5},
        )  # fmt: skip

    def test_pratt_is_the_other_way_round(self) -> None:
        # Same loads: posts squeezed (or idle), inner diagonals pulled; chords between as in the Howe, one panel on.
        forces = pattern("Pratt", 0.9, 0.2, 6).solve({f"B{i}": (0, -12) for i in range(1, 6)}).member_forces_n
        self.assertGreater(forces["T1-B2"], 0)
        self.assertLess(forces["B2-T2"], 0)
        self.assertAlmostEqual(forces["T1-B2"], 22.5, delta=1e-9)

    def test_cantilever_on_two_pins(self) -> None:
        # r = 4 and still determinate: 25 N at the tip.
        truss = PlaneTruss(
            {"B0": (0, 0), "B1": (0.2, 0), "B2": (0.4, 0), "B3": (0.6, 0), "T0": (0, 0.2), "T1": (0.2, 0.2),
             "T2": (0.4, 0.2)},
            (("B0", "B1"), ("B1", "B2"), ("B2", "B3"), ("T0", "T1"), ("T1", "T2"), ("B1", "T1"), ("B2", "T2"),
             ("T0", "B1"), ("T1", "B2"), ("T2", "B3")), {"B0": "xy", "T0": "xy"},
        )  # fmt: skip
        self.assert_forces(
            truss, {"B3": (0, -25)}, {"B0-B1": -75, "T0-T1": 50, "B1-T1": -25, "T0-B1": 25 * math.sqrt(2)}
        )
        self.assertAlmostEqual(truss.solve({"B3": (0, -25)}).reactions_n["T0x"], -75, delta=1e-9)


class Mechanisms(unittest.TestCase):
    """A count of m + r = 2j is not enough; rank is (Pellegrino & Calladine 1986)."""

    def test_four_bars(self) -> None:
        frame = PlaneTruss(
            {"A": (0, 0), "B": (1, 0), "C": (1, 1), "D": (0, 1)}, (("A", "B"), ("B", "C"), ("C", "D"), ("D", "A")),
            {"A": "xy", "B": "y"},
        )  # fmt: skip
        determinacy = frame.determinacy()
        self.assertEqual(
            (determinacy.kind, determinacy.rank, determinacy.mechanisms, determinacy.self_stress_states),
            ("mechanism", 7, 1, 0),
        )
        self.assertIn(determinacy.moving_joint, ("C", "D"))
        with self.assertRaises(GirderError) as caught:
            frame.solve({"D": (1, 0)})
        self.assertEqual(caught.exception.code, "mechanism")
        self.assertIn(determinacy.moving_joint, caught.exception.sentence)

    def test_right_count_and_still_a_mechanism(self) -> None:
        # Two squares side by side: the left one doubly braced, the right one not; m + r = 2j = 12.
        frame = PlaneTruss(
            {"A": (0, 0), "B": (1, 0), "C": (2, 0), "D": (0, 1), "E": (1, 1), "F": (2, 1)},
            (("A", "B"), ("B", "C"), ("D", "E"), ("E", "F"), ("A", "D"), ("B", "E"), ("C", "F"), ("A", "E"),
             ("B", "D")),
            {"A": "xy", "B": "y"},
        )  # fmt: skip
        determinacy = frame.determinacy()
        self.assertEqual(determinacy.members + determinacy.reactions, 2 * determinacy.joints)
        self.assertEqual(
            (determinacy.kind, determinacy.mechanisms, determinacy.self_stress_states), ("mechanism", 1, 1)
        )
        with self.assertRaises(GirderError):
            frame.solve({"F": (0, -1)})

    def test_three_joints_in_a_row(self) -> None:
        # A middle joint on a straight string cannot take a push across it.
        line = PlaneTruss({"A": (0, 0), "M": (0.5, 0), "B": (1, 0)}, (("A", "M"), ("M", "B")), {"A": "xy", "B": "xy"})
        self.assertEqual(line.determinacy().moving_joint, "M")
        with self.assertRaises(GirderError):
            line.solve({"M": (0, -1)})

    def test_bad_trusses_are_refused_in_words(self) -> None:
        corners = {"A": (0.0, 0.0), "B": (1.0, 0.0), "C": (0.0, 0.0)}
        for make, code in (
            (lambda: PlaneTruss(corners, (("A", "B"),), {"A": "xy"}), "joints_meet"),
            (lambda: PlaneTruss({"A": (0, 0), "B": (1, 0)}, (("A", "Z"),), {"A": "xy"}), "unknown_joint"),
            (lambda: PlaneTruss({"A": (0, 0), "B": (1, 0)}, (("A", "A"),), {"A": "xy"}), "bad_member"),
            (lambda: PlaneTruss({"A": (0, 0), "B": (math.nan, 0)}, (("A", "B"),), {"A": "xy"}), "bad_joint"),
            (lambda: PlaneTruss({"A": (0, 0)}, (), {}), "empty_truss"),
            (lambda: pattern("Pratt", 0.5, 0.1, 5), "out_of_domain"),
        ):
            with self.assertRaises(GirderError) as caught:
                make()
            self.assertEqual(caught.exception.code, code)


class Patterns(unittest.TestCase):
    def test_every_pattern_stands_and_balances(self) -> None:
        for name in PATTERNS:
            truss = pattern(name, 0.8, 0.16, 6)
            self.assertEqual(truss.determinacy().kind, "determinate", name)
            share = deck_load(truss, "uniform")
            self.assertAlmostEqual(math.fsum(share.values()), 1, delta=1e-12)
            solved = truss.solve({joint: (0, -force) for joint, force in share.items()})
            lifts = sum(value for name, value in solved.reactions_n.items() if name.endswith("y"))
            self.assertAlmostEqual(lifts, 1, delta=1e-9)
            # The bottom chord of a sagging truss is pulled at midspan, whatever the pattern.
            self.assertGreater(max(v for k, v in solved.member_forces_n.items() if k[0] == "B" and "-B" in k), 0.1)


EA = 1e5


def by_anastruct(truss: PlaneTruss, loads: dict[str, tuple[float, float]]) -> list[float]:
    system = SystemElements(EA=EA)
    ids = {}
    for index, (a, b) in enumerate(truss.members, 1):
        system.add_truss_element([truss.joints[a], truss.joints[b]])
        ids[a], ids[b] = system.element_map[index].node_id1, system.element_map[index].node_id2
    for name, support in truss.supports.items():
        if support == "xy":
            system.add_support_hinged(ids[name])
        else:
            system.add_support_roll(ids[name], direction="x" if support == "y" else "y")
    for name, (x, y) in loads.items():
        system.point_load(ids[name], Fx=x, Fy=y)
    system.solve()
    return [float(result["Nmax"]) for result in system.get_element_results()]


def by_pynite(truss: PlaneTruss, loads: dict[str, tuple[float, float]]) -> list[float]:
    model = FEModel3D()
    model.add_material("m", EA, 1, 0.3, 1)
    model.add_section("s", 1.0, 1.0, 1.0, 1.0)
    for name, (x, y) in truss.joints.items():
        model.add_node(name, x, y, 0)
        support = truss.supports.get(name, "")
        model.def_support(name, "x" in support, "y" in support, True, True, True, True)
    for index, (a, b) in enumerate(truss.members):
        model.add_member(f"M{index}", a, b, "m", "s")
        model.def_releases(f"M{index}", Ryi=True, Rzi=True, Ryj=True, Rzj=True)
    for name, (x, y) in loads.items():
        model.add_node_load(name, "FX", x)
        model.add_node_load(name, "FY", y)
    with redirect_stdout(io.StringIO()):
        model.analyze_linear(check_stability=False)
    return [-float(model.members[f"M{i}"].max_axial("Combo 1")) for i in range(len(truss.members))]


@st.composite
def trusses(draw: st.DrawFn) -> tuple[PlaneTruss, dict[str, tuple[float, float]]]:
    """A growing row of triangles with jittered joints; some with spare members or a second pin."""
    count = draw(st.integers(3, 9))
    jitter = st.integers(-12, 12).map(lambda n: n / 100)
    push = st.integers(-50, 50).filter(bool).map(float)
    joints = {
        f"J{i}": (0.4 * i + draw(jitter), (0.5 if i % 2 else 0.0) + draw(jitter)) for i in range(count)
    }  # fmt: skip
    members = [(f"J{i}", f"J{i + 1}") for i in range(count - 1)] + [(f"J{i}", f"J{i + 2}") for i in range(count - 2)]
    spare = [(f"J{i}", f"J{i + 3}") for i in range(count - 3)]
    members += [member for member in spare if draw(st.booleans())]
    supports = {"J0": "xy", f"J{count - 1}": draw(st.sampled_from(["xy", "y"]))}
    loads = {f"J{i}": (draw(push), draw(push)) for i in range(1, count - 1)}
    return PlaneTruss(joints, tuple(members), supports, EA), loads  # type: ignore[arg-type]


class AgainstFramePackages(unittest.TestCase):
    @settings(max_examples=tries(20))
    @given(trusses())
    def test_random_trusses(self, case: tuple[PlaneTruss, dict[str, tuple[float, float]]]) -> None:
        truss, loads = case
        assume(truss.determinacy().kind != "mechanism")
        ours = np.array(list(truss.solve(loads).member_forces_n.values()))
        size = max(1.0, float(np.abs(ours).max()))
        # Both packages solve the same linear system; 1e-6 leaves room for their own conditioning.
        np.testing.assert_allclose(by_pynite(truss, loads), ours, rtol=1e-6, atol=1e-6 * size)
        np.testing.assert_allclose(by_anastruct(truss, loads), ours, rtol=1e-6, atol=1e-6 * size)
