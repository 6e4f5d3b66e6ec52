import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.families import family_of
from girder_core.ground import Drawing, Role, Shape, area, arrow, block, circle, label, line, measure

metres = st.floats(-5, 5).map(lambda v: round(v, 4))
sizes = st.floats(0.001, 3).map(lambda v: round(v, 4))


class Shapes(unittest.TestCase):
    @given(metres, metres, sizes, sizes)
    def test_a_block_has_its_corners_where_it_should(self, x: float, y: float, wide: float, high: float) -> None:
        made = block(Role.SUPPORT, x, y, wide, high)
        self.assertEqual(len(made.points), 4)
        left, bottom, right, top = Drawing((made,), "").box()
        self.assertAlmostEqual(right - left, wide)
        self.assertAlmostEqual(top - bottom, high)

    @given(metres, metres, metres, metres)
    def test_a_measure_is_as_long_as_the_way_between_its_ends(self, a: float, b: float, c: float, d: float) -> None:
        self.assertAlmostEqual(measure((a, b), (c, d)).length_m, math.dist((a, b), (c, d)))

    def test_a_circle_counts_with_its_radius(self) -> None:
        box = Drawing((circle(Role.LOAD, (0.1, 0.2), 0.05), line(Role.GHOST, (0, 0), (0.3, 0))), "").box()
        for value, expected in zip(box, (0, 0, 0.3, 0.25), strict=True):
            self.assertAlmostEqual(value, expected)

    def test_an_area_keeps_its_corners_in_order(self) -> None:
        corners = ((0.0, 0.0), (1.0, 0.0), (0.5, 1.0))
        self.assertEqual(area(Role.STRUCTURE, *corners).points, corners)


class Sketches(unittest.TestCase):
    def test_the_ring_struts_are_tangent_and_meet_their_neighbour(self) -> None:
        """Plane geometry: each strut touches the inner circle, and all are equally long."""
        setup = {"supports": 5.0, "circle_m": 0.30, "support_m": 0.06}
        struts = [s for s in family_of("ring").draw(setup).shapes if s.kind == "line"]
        self.assertEqual(len(struts), 5)
        radius, inner = 0.15, 0.05
        for strut in struts:
            (x0, y0), (x1, y1) = strut.points
            length = math.dist((x0, y0), (x1, y1))
            self.assertAlmostEqual(math.hypot(x0, y0), radius)
            distance = abs(x0 * y1 - x1 * y0) / length
            self.assertAlmostEqual(distance, inner)
            self.assertAlmostEqual(length, math.sqrt(radius**2 - inner**2) + inner * math.tan(math.pi / 5))

    def test_the_corbel_closes_its_opening(self) -> None:
        setup = {"opening_m": 0.16, "rise_max_m": 0.2}
        blocks = [s for s in family_of("arch").draw(setup).shapes if s.role is Role.STRUCTURE]
        top = max(p[1] for s in blocks for p in s.points)
        highest = [s for s in blocks if any(abs(p[1] - top) < 1e-9 for p in s.points)]
        inner = sorted(x for s in highest for x, _ in s.points)
        # The right edge of the left block meets the left edge of the right one in the middle.
        self.assertAlmostEqual(inner[2], 0.0, places=9)
        self.assertAlmostEqual(inner[4], 0.0, places=9)

    def test_as_many_columns_as_the_rules_allow(self) -> None:
        shapes = family_of("column").draw({"height_m": 0.15, "columns": 4.0}).shapes
        self.assertEqual(len([s for s in shapes if s.role is Role.STRUCTURE]), 4)

    def test_the_boat_floats_and_is_clear_of_the_ground(self) -> None:
        shapes = family_of("boat").draw({"water_depth_m": 0.08, "length_max_m": 0.16}).shapes
        hull = next(s for s in shapes if s.role is Role.STRUCTURE)
        keel, rim = min(y for _, y in hull.points), max(y for _, y in hull.points)
        self.assertTrue(0 < keel < 0.08 < rim)


class Plain(unittest.TestCase):
    def test_forces_and_the_weakest_place_are_kept_back(self) -> None:
        pulled = Shape("line", Role.TENSION, ((0, 0), (1, 0)), text="12 N", key="A-B")
        drawing = Drawing(
            (
                pulled, line(Role.COMPRESSION, (0, 0), (0, 1)), line(Role.WEAKEST, (0, 0), (1, 0)),
                block(Role.SUPPORT, 0, 0, 1, 1), arrow((0, 2), (0, 1)), label(Role.GHOST, (0, 0), "here"),
            ),
            "The governing member is A-B.",
        )  # fmt: skip
        plain = drawing.plain()
        self.assertEqual([shape.role for shape in plain.shapes],
                         [Role.STRUCTURE, Role.STRUCTURE, Role.SUPPORT, Role.ARROW, Role.GHOST])  # fmt: skip
        self.assertEqual(plain.shapes[0].text, "")
        self.assertEqual(plain.shapes[0].points, pulled.points)
        self.assertNotIn("A-B", plain.says)

    def test_an_arrow_ends_where_it_acts_and_words_stand_at_a_point(self) -> None:
        force = arrow((0.1, 0.3), (0.1, 0.2), "2 N")
        self.assertEqual((force.role, force.points[-1], force.text), (Role.ARROW, (0.1, 0.2), "2 N"))
        self.assertEqual(label(Role.AXIS, (1.0, 2.0), "axis").points, ((1.0, 2.0),))
