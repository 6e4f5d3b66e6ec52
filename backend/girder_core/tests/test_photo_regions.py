"""Areas of several outlines: pieces apart, holes, islands in holes, against regular polygons; what is refused."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.measure import Kind, Quantity, System
from girder_core.photo import Pointed, area, plainly_typed, proposed_corners, see, typed_as
from girder_core.tests import tries
from girder_core.tests.photographed import eye, pair, seen, standing

TRUE = Quantity(1.0)
Corners = list[tuple[float, float]]


def regular(n: int, r: float, x: float = 0.0, y: float = 0.0, turn: float = 0.0, back: bool = False) -> Corners:
    """Corners of a regular polygon, once round either way."""
    ways = turn + 2 * math.pi * np.arange(n) / n
    around = [(x + r * math.cos(way), y + r * math.sin(way)) for way in ways]
    return around[::-1] if back else around


def room(n: int, r: float) -> float:
    """Area of a regular polygon: n/2 · r² · sin(2π/n); any geometry text."""
    return n / 2 * r**2 * math.sin(2 * math.pi / n)


class Several(unittest.TestCase):
    def setUp(self) -> None:
        self.camera = eye(1.3, 0.4, 0.8, k1=-0.05)
        self.view = see(seen(self.camera, [standing()]), self.camera.frame)

    def pointed(self, *outlines: Corners) -> Pointed:
        points = pair(self.camera, *((x, y, 0.0) for outline in outlines for x, y in outline))
        return Pointed(points, outlines=tuple(map(len, outlines)))

    def found(self, *outlines: Corners) -> float:
        return area(self.view, self.pointed(*outlines), TRUE).quantity.value

    @settings(max_examples=tries(40), deadline=None)
    @given(
        st.integers(3, 9), st.integers(3, 8), st.floats(0, 6), st.booleans(), st.booleans(), st.permutations(range(4))
    )
    def test_what_is_apart_adds_up_a_hole_is_none_and_an_island_in_it_counts(
        self, n: int, m: int, turn: float, one_way: bool, other_way: bool, order: list[int]
    ) -> None:
        # However they are gone round, and in whatever order they were drawn.
        outlines = [
            regular(n, 0.2, back=one_way), regular(m, 0.08, 0.01, 0.0, turn, other_way),
            regular(4, 0.03, 0.01, 0.0, -turn), regular(m, 0.1, 0.35, 0.1, turn),
        ]  # fmt: skip
        true = room(n, 0.2) - room(m, 0.08) + room(4, 0.03) + room(m, 0.1)
        found = self.found(*(outlines[i] for i in order))
        self.assertAlmostEqual(found, true, delta=2e-3 * true)

    def test_a_narrow_ring_and_one_that_is_all_hole_but_a_corner(self) -> None:
        # What lies inside of the outer one lies in its hole, nearly wherever one looks.
        for n in (3, 4, 7):
            for order in (1, -1):
                outlines = [regular(n, 0.2, turn=0.3), regular(n, 0.19, turn=0.3)][::order]
                self.assertAlmostEqual(self.found(*outlines), room(n, 0.2) - room(n, 0.19), delta=2e-4)
        low = [(-0.15, -0.1), (0.15, -0.1), (0.15, 0.15), (-0.15, 0.1)]
        hole = [(-0.14, -0.095), (0.14, -0.095), (0.14, 0.05), (-0.14, 0.05)]
        self.assertAlmostEqual(self.found(low, hole), 0.3 * 0.225 - 0.28 * 0.145, delta=2e-4)

    def test_side_by_side_they_add_up(self) -> None:
        left = [(-0.2, -0.1), (0.0, -0.1), (0.0, 0.1), (-0.2, 0.1)]
        right = [(0.0, -0.1), (0.15, -0.1), (0.15, 0.1), (0.0, 0.1)]
        for outlines in ((left, right), (right, left)):
            self.assertAlmostEqual(self.found(*outlines), 0.04 + 0.03, delta=1e-4)

    def test_one_outline_is_as_it_was(self) -> None:
        five = regular(5, 0.15)
        one = self.pointed(five)
        self.assertEqual(area(self.view, one, TRUE), area(self.view, Pointed(one.points), TRUE))

    def test_it_is_typed_as_an_area(self) -> None:
        ring = self.pointed(regular(6, 0.15), regular(6, 0.05))
        size = area(self.view, ring, TRUE)
        text = typed_as(self.view, ring, size, Kind.AREA, TRUE, System.METRIC)
        self.assertEqual(text, plainly_typed(size, Kind.AREA, System.METRIC)[0])
        self.assertTrue(text.endswith("cm²"))

    def test_refused(self) -> None:
        square, bow = regular(4, 0.1), [(0.0, 0.0), (0.1, 0.1), (0.1, 0.0), (0.0, 0.1)]
        for code, outlines in (
            ("corners_cross", (square, regular(4, 0.1, 0.05))), ("corners_cross", (square, bow)),
            ("corners_cross", (square, regular(4, 0.1, turn=0.1, back=True))), ("corners_cross", (square, square)),
            ("too_few_points", (square, square[:2])), ("too_many_points", (regular(40, 0.1), regular(30, 0.05))),
        ):  # fmt: skip
            with self.subTest(code), self.assertRaises(GirderError) as caught:
                self.found(*outlines)
            self.assertEqual(caught.exception.code, code)
        for counts in ((4, 4), (3,), (5, -1)):
            with self.subTest(counts), self.assertRaises(GirderError) as caught:
                area(self.view, Pointed(self.pointed(square).points, outlines=counts), TRUE)
            self.assertIn(caught.exception.code, ("bad_outlines", "too_few_points"))

    def test_a_wall_s_corners_are_proposed(self) -> None:
        def edge(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float, float, float]:
            (x0, y0), (x1, y1) = pair(self.camera, (*a, 0.0), (*b, 0.0))
            return x0, y0, x1, y1

        # Its sides and rows, and a joint; none of them reaches its corners.
        edges = [
            edge((0.2, -0.08), (0.2, 0.1)), edge((0.45, -0.05), (0.452, 0.1)), edge((0.25, -0.1), (0.4, -0.1)),
            edge((0.22, 0.12), (0.43, 0.12)), edge((0.22, 0.0), (0.43, 0.0)), edge((0.3, 0.0), (0.3, 0.12)),
        ]  # fmt: skip
        at = self.view.points(np.array(proposed_corners(self.view, edges)))
        self.assertLess(np.abs(at - [(0.2, -0.1), (0.45, -0.1), (0.452, 0.12), (0.2, 0.12)]).max(), 2e-3)
        self.assertEqual(proposed_corners(self.view, edges[:2]), ())
