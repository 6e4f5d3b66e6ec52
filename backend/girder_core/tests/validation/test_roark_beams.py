"""Roark's Formulas for Stress and Strain, ch. 8, beam tables (from memory): single spans against a beam solved anew.

The second route is a finite-element beam of Hermite cubics with consistent loads, written here from the element matrix
of any text of structural analysis; at its nodes it is exact for loads that end at nodes, so 1e-6 leaves room for the
conditioning of 240 unknowns only.
"""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from girder_core.physics import sag_curve, simply_supported
from girder_core.physics.beams import cantilever, deflection_m, fixed_ended
from girder_core.tests import tries

PIECES = 120
SPAN, STIFF = 0.36, 0.5


def solved(load_per_m: NDArray[np.float64], points: dict[int, float], ends: str) -> tuple[NDArray[np.float64], float]:
    """Deflections at the nodes [m] and the moment at midspan [N·m], sagging positive."""
    long = SPAN / PIECES
    element = STIFF / long**3 * np.array(
        [[12, 6 * long, -12, 6 * long], [6 * long, 4 * long**2, -6 * long, 2 * long**2],
         [-12, -6 * long, 12, -6 * long], [6 * long, 2 * long**2, -6 * long, 4 * long**2]]
    )  # fmt: skip
    size = 2 * (PIECES + 1)
    matrix, force = np.zeros((size, size)), np.zeros(size)
    for i in range(PIECES):
        at = slice(2 * i, 2 * i + 4)
        matrix[at, at] += element
        force[at] += load_per_m[i] * long / 2 * np.array([1, long / 6, 1, -long / 6])
    for node, load in points.items():
        force[2 * node] += load
    held = [0, size - 2] + ([1, size - 1] if ends == "fixed" else [])
    if ends == "cantilever":
        held = [0, 1]
    free = np.setdiff1d(np.arange(size), held)
    moves = np.zeros(size)
    moves[free] = np.linalg.solve(matrix[np.ix_(free, free)], force[free])
    left = slice(PIECES, PIECES + 4)
    inner = element @ moves[left]
    inner -= load_per_m[PIECES // 2] * long / 2 * np.array([1, long / 6, 1, -long / 6])
    return moves[::2], float(inner[1])


class Spans(unittest.TestCase):
    def check(self, placement: str, patch: float, load_per_m: NDArray[np.float64], points: dict[int, float]) -> None:
        for ends, respond in (("simple", simply_supported), ("fixed", fixed_ended)):
            response = respond(SPAN, 1.0, placement, patch)
            sags, middle = solved(load_per_m, points, ends)
            self.assertAlmostEqual(float(load_per_m.sum() * SPAN / PIECES) + sum(points.values()), 1)
            ours = float(deflection_m(response, 1.0, SPAN, STIFF, 1.0))
            self.assertAlmostEqual(ours / float(sags[PIECES // 2]), 1, delta=1e-6, msg=f"{placement} {ends}")
            self.assertAlmostEqual(response.mid_moment_nm / middle, 1, delta=1e-6, msg=f"{placement} {ends}")

    def test_one_spot(self) -> None:
        self.check("centre", 0.0, np.zeros(PIECES), {PIECES // 2: 1.0})

    def test_two_points(self) -> None:
        self.check("two_point", 0.0, np.zeros(PIECES), {PIECES // 3: 0.5, 2 * PIECES // 3: 0.5})

    def test_all_along(self) -> None:
        self.check("uniform", 0.0, np.full(PIECES, 1 / SPAN), {})

    @given(st.integers(1, PIECES // 2))
    @settings(max_examples=tries(12))
    def test_any_patch(self, half: int) -> None:
        load = np.zeros(PIECES)
        load[PIECES // 2 - half : PIECES // 2 + half] = 1 / (2 * half * SPAN / PIECES)
        self.check("patch", 2 * half * SPAN / PIECES, load, {})

    def test_a_cantilever(self) -> None:
        for placement, load, points in (
            ("tip", np.zeros(PIECES), {PIECES: 1.0}),
            ("uniform", np.full(PIECES, 1 / SPAN), {}),
        ):
            sags, _ = solved(load, points, "cantilever")
            ours = cantilever(SPAN, 1.0, placement)
            self.assertAlmostEqual(ours.deflection_coefficient * SPAN**3 / STIFF / float(sags[-1]), 1, delta=1e-6)

    def test_the_drawn_curve_is_the_deflected_one(self) -> None:
        sags, _ = solved(np.zeros(PIECES), {PIECES // 2: 1.0}, "simple")
        drawn = sag_curve(SPAN, float(sags[PIECES // 2]), PIECES + 1)
        np.testing.assert_allclose([-y for _, y in drawn], sags, atol=1e-6 * float(sags.max()))

    @given(st.floats(0.05, 2.0), st.floats(0.1, 50.0), st.floats(0.0, 1.0))
    @settings(max_examples=tries(60))
    def test_a_wider_patch_never_bends_more(self, span: float, load: float, share: float) -> None:
        narrow = simply_supported(span, load, "patch", share * span * 0.9)
        wide = simply_supported(span, load, "patch", share * span)
        self.assertLessEqual(wide.max_moment_nm, narrow.max_moment_nm * (1 + 1e-12))
        self.assertLessEqual(wide.deflection_coefficient, narrow.deflection_coefficient * (1 + 1e-12))
        # Between its two limits, spread and in one spot.
        self.assertGreaterEqual(narrow.max_moment_nm, load * span / 8 * (1 - 1e-12))
        self.assertLessEqual(narrow.max_moment_nm, load * span / 4 * (1 + 1e-12))
