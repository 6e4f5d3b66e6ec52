"""Cross-sections against sectionproperties (a finite-element section library) and against section tables.

The library integrates its triangles exactly for area and second moments, so 1e-6 would do; thin-wall formulas (the
triangle) are held to 1 % in their stated range, and random sections to 1 % as well.
"""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from sectionproperties.analysis import Section as Meshed
from sectionproperties.pre import CompoundGeometry, Geometry
from shapely import Polygon

from girder_core.ground import GirderError
from girder_core.physics import Section, box, pleated, rectangle, round_tube, trough
from girder_core.physics.sections import corrugated_board, i_beam, laminate, round_rod, square_tube, triangular_tube
from girder_core.tests import tries


def meshed(section: Section, holes: bool = False) -> tuple[float, float, float]:
    """Area, second moment and height of the centroid of the drawn outline, by the library."""
    loops = [Polygon(loop) for loop in section.outline]
    shape = loops[0]
    for other in loops[1:]:
        shape = shape - other if holes else shape | other
    width = shape.bounds[2] - shape.bounds[0]
    geometry = Geometry(shape).create_mesh(mesh_sizes=[width**2], coarse=True)
    meshed_section = Meshed(geometry)
    meshed_section.calculate_geometric_properties()
    second, _, _ = meshed_section.get_ic()
    return float(meshed_section.get_area()), float(second), float(meshed_section.get_c()[1])


class AgainstTheLibrary(unittest.TestCase):
    def compare(self, section: Section, tolerance: float, holes: bool = False) -> None:
        area, second, centre = meshed(section, holes)
        self.assertAlmostEqual(float(section.area_m2) / area, 1, delta=tolerance)
        self.assertAlmostEqual(float(section.second_moment_m4) / second, 1, delta=tolerance)
        self.assertAlmostEqual(float(section.neutral_axis_m) / centre, 1, delta=tolerance)

    def test_exact_shapes(self) -> None:
        self.compare(rectangle(0.012, 0.003), 1e-6)
        self.compare(trough(0.12, 0.025, 0.0005), 1e-6)
        self.compare(i_beam(0.06, 0.05, 0.004, 0.003), 1e-6)
        self.compare(box(0.05, 0.03, 0.001), 1e-6, holes=True)
        self.compare(square_tube(0.03, 0.001), 1e-6, holes=True)
        self.compare(pleated(0.279, 0.010, 9, 0.0004), 1e-6)
        self.compare(laminate(0.1, 0.0004, 5, bonded=True), 1e-6)

    def test_round_shapes_are_drawn_with_72_corners(self) -> None:
        # A regular 72-gon has 0.13 % less area and 0.25 % less second moment than its circle.
        self.compare(round_rod(0.004), 0.003)
        self.compare(round_tube(0.05, 0.002), 0.003, holes=True)

    def test_thin_triangle(self) -> None:
        # Thin and, mitred, up to the thickest that is accepted.
        for wall in (0.0006, 0.003, 0.008, 0.0118):
            self.compare(triangular_tube(0.06, wall), 1e-3, holes=True)

    def test_corrugated_board(self) -> None:
        # Across the flutes only the faces carry: the library on two strips.
        sizes = (0.05, 0.0003, 0.004, 0.00025)
        across = corrugated_board(*sizes, 1.4, along_flutes=False)
        faces = [Geometry(Polygon(loop)) for loop in across.outline[:2]]
        section = Meshed(CompoundGeometry(faces).create_mesh(mesh_sizes=[1.0], coarse=True))
        section.calculate_geometric_properties()
        self.assertAlmostEqual(float(across.second_moment_m4) / float(section.get_ic()[0]), 1, delta=1e-6)
        # Along them the medium adds what a zigzag of its length and depth has (thin: its t_v² is left out, 0.5 %).
        along = corrugated_board(*sizes, 1.4, along_flutes=True)
        more = float(along.second_moment_m4) - float(across.second_moment_m4)
        zigzag = pleated(0.05 * 1.4, 0.004 - 0.00025, 7, 0.00025)
        self.assertAlmostEqual(more / float(zigzag.second_moment_m4), 1, delta=0.02)

    @settings(max_examples=tries(25))
    @given(st.floats(0.05, 0.4), st.integers(1, 12), st.floats(0.1, 0.9), st.floats(0.0005, 0.01))
    def test_random_pleats(self, width: float, pleats: int, steep: float, thin: float) -> None:
        panel = width / (2 * pleats)
        self.compare(pleated(width, steep * panel, pleats, thin * panel), 0.01)

    @settings(max_examples=tries(25))
    @given(st.floats(0.02, 0.3), st.floats(0.1, 1.5), st.floats(0.002, 0.1))
    def test_random_troughs_boxes_and_beams(self, base: float, ratio: float, thin: float) -> None:
        depth = base * ratio
        sheet = thin * min(base, depth)
        self.compare(trough(base, depth, sheet), 0.01)
        self.compare(box(base, depth, sheet), 0.01, holes=True)
        self.compare(i_beam(base, depth, sheet, sheet), 0.01)


class Tables(unittest.TestCase):
    """Gere & Timoshenko, Mechanics of Materials, appendix (from memory)."""

    def test_craft_stick_and_hollow_square(self) -> None:
        # Worked out apart from this code: A=a^2-(a-2t)^2, I=(a^4-(a-2t)^4)/12; J Bredt = (a-t)^3 t.
        stick = rectangle(0.012, 0.003)
        self.assertAlmostEqual(float(stick.second_moment_m4) / 2.7e-11, 1, delta=1e-6)
        square = square_tube(0.03, 0.001)
        self.assertAlmostEqual(float(square.area_m2) / 0.000116, 1, delta=1e-6)
        self.assertAlmostEqual(float(square.second_moment_m4) / 1.6278666666666677e-08, 1, delta=1e-6)

    def test_pleated_strip(self) -> None:
        # Worked out apart from this code: one pleat = one full V = 2 panels of slant s=W/(2n); folded width 2n
        # sqrt(s^2-d^2); A=W t; Ixx = W t (d^2 + t_v^2)/12, t_v = t/cos(theta), sin(theta)=d/s; thin: W t d^2/12;
        # gain over the flat strip of width W: (d/t)^2.
        # Nine pleats of 10 mm from 279 mm of 0.1 mm paper: folded width 213.169 mm, gain over flat (d/t)² = 10 000.
        strip = pleated(0.279, 0.010, 9, 0.0001)
        self.assertAlmostEqual(float(strip.second_moment_m4) / 2.32539827540107e-10, 1, delta=1e-9)
        self.assertAlmostEqual(float(strip.width_m) / 0.21316894708188622, 1, delta=1e-9)
        flat = pleated(0.279, 0.0, 0, 0.0001)
        gain = float(strip.second_moment_m4) / float(flat.second_moment_m4)
        self.assertAlmostEqual(gain / 10000, 1, delta=0.002)

    def test_layers_loose_and_bonded(self) -> None:
        loose, bonded = laminate(0.1, 0.0003, 4, False), laminate(0.1, 0.0003, 4, True)
        self.assertAlmostEqual(float(bonded.second_moment_m4) / float(loose.second_moment_m4), 16, delta=1e-9)

    def test_depth_squared(self) -> None:
        # Common practice, no source: twice as deep a pleat, four times as stiff (same number of pleats, thin sheet).
        ratio = float(pleated(0.3, 0.02, 6, 1e-4).second_moment_m4) / float(
            pleated(0.3, 0.01, 6, 1e-4).second_moment_m4
        )
        self.assertAlmostEqual(ratio, 4, delta=0.001)


class Refusals(unittest.TestCase):
    def test_each_says_what_to_change(self) -> None:
        for make, words in (
            (lambda: pleated(0.2, 0.02, 8, 1e-4), "cannot be as deep"),
            (lambda: pleated(0.2, 0.01, 2.5, 1e-4), "whole number"),  # type: ignore[arg-type]
            (lambda: round_tube(0.01, 0.006), "millimetres"),
            (lambda: box(0.01, 0.02, 0.006), "millimetres"),
            (lambda: trough(0.05, 0.0001, 0.0003), "Make them higher"),
            (lambda: rectangle(float("nan"), 0.01), "more than zero"),
            (lambda: triangular_tube(0.01, 0.003), "millimetres"),
            (lambda: i_beam(0.01, 0.004, 0.002, 0.001), "no deeper"),
            (lambda: corrugated_board(0.1, 2e-4, 1e-4, 2e-4, 1.3, True), "flutes"),
        ):
            with self.assertRaises(GirderError) as caught:
                make()
            self.assertIn(words, caught.exception.sentence)
