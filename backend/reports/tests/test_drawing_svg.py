"""Drawings on paper: one scale, real text, nothing that a name could smuggle in."""

from __future__ import annotations

import re
from xml.etree import ElementTree

from django.test import SimpleTestCase

from girder_core.families import FAMILIES
from girder_core.ground import Drawing, Role, block, circle, label, line, measure
from girder_core.measure import System
from girder_core.safety import AgeBand
from reports.drawing_svg import fitted, to_svg
from reports.footprint import PAPERS

SVG = "{http://www.w3.org/2000/svg}"


def parsed(svg: str) -> ElementTree.Element:
    return ElementTree.fromstring(svg)


class Paper(SimpleTestCase):
    def test_at_scale_one_a_millimetre_is_a_millimetre(self) -> None:
        drawing = Drawing((block(Role.SUPPORT, 0, 0, 0.12, 0.05), measure((0, 0), (0.12, 0))), "a block")
        root = parsed(to_svg(drawing, 1.0, 8.0, System.METRIC))
        points = root.find(f"{SVG}polygon").attrib["points"].split()  # type: ignore[union-attr]
        xs = [float(point.split(",")[0]) for point in points]
        ys = [float(point.split(",")[1]) for point in points]
        self.assertAlmostEqual(max(xs) - min(xs), 120)
        self.assertAlmostEqual(max(ys) - min(ys), 50)
        self.assertEqual(root.attrib["width"], "136.000mm")
        self.assertEqual([t.text for t in root.iter(f"{SVG}text")], ["120 mm"])

    def test_lengths_are_labelled_in_the_reader_s_units(self) -> None:
        drawing = Drawing((measure((0, 0), (0.254, 0)),), "ten inches")
        drawing = Drawing((*drawing.shapes, block(Role.GROUND, 0, -0.01, 0.254, 0.01)), drawing.says)
        self.assertIn(">10.00 in<", to_svg(drawing, 1.0, 8.0, System.US))

    def test_every_family_fits_its_room_and_says_what_it_shows(self) -> None:
        for family in FAMILIES.values():
            drawing = family.draw(family.usual(AgeBand.AGES_5_7))
            root = parsed(fitted(drawing, 176, 60, System.METRIC))
            width, height = (float(root.attrib[side].removesuffix("mm")) for side in ("width", "height"))
            self.assertLessEqual(width, 176.001, family.key)
            self.assertLessEqual(height, 60.001, family.key)
            self.assertEqual(root.find(f"{SVG}title").text, drawing.says)  # type: ignore[union-attr]
            drawn = [child for child in root if child.tag != f"{SVG}title"]
            self.assertGreaterEqual(len(drawn), len(drawing.shapes))

    def test_kinds_of_shapes(self) -> None:
        drawing = Drawing(
            (circle(Role.LOAD, (0.05, 0.05), 0.02), line(Role.STRUCTURE, (0, 0), (0.1, 0), (0.1, 0.1))), "both"
        )
        root = parsed(to_svg(drawing, 0.5, 0.0, System.METRIC))
        self.assertAlmostEqual(float(root.find(f"{SVG}circle").attrib["r"]), 10)  # type: ignore[union-attr]
        self.assertEqual(len(root.find(f"{SVG}polyline").attrib["points"].split()), 3)  # type: ignore[union-attr]

    def test_whatever_a_shape_stands_for_can_be_drawn(self) -> None:
        for role in Role:
            shapes = (block(role, 0, 0, 0.1, 0.1), line(role, (0, 0), (0.1, 0)), circle(role, (0.05, 0.05), 0.01),
                      label(role, (0.05, 0.05), f"a <{role}>"))  # fmt: skip
            root = parsed(to_svg(Drawing(shapes, "all"), 1.0, 0.0, System.METRIC))
            kinds = [child.tag.removeprefix(SVG) for child in root if child.tag != f"{SVG}title"]
            self.assertEqual(kinds, ["polygon", "polyline", "circle", "text"], role)
            self.assertEqual(root.find(f"{SVG}text").text, f"a <{role}>")  # type: ignore[union-attr]

    def test_words_cannot_break_out(self) -> None:
        drawing = Drawing((block(Role.LOAD, 0, 0, 1, 1), measure((0, 0), (1, 0), "<b>&")), '"><script>')
        svg = to_svg(drawing, 0.1, 5, System.METRIC)
        self.assertNotIn("<script>", svg)
        self.assertEqual(re.findall(r"<b>", svg), [])
        parsed(svg)


class Papers(SimpleTestCase):
    def test_a4_follows_iso_216_and_letter_is_eight_and_a_half_by_eleven_inches(self) -> None:
        """ISO 216: the sides of A4 are 2^(-9/4) and 2^(-7/4) m, rounded to millimetres (from memory)."""
        self.assertEqual(PAPERS["a4"], (round(1000 * 2**-2.25), round(1000 * 2**-1.75)))
        # ANSI/ASME Y14.1 (from memory).
        self.assertEqual([round(side, 1) for side in PAPERS["letter"]], [215.9, 279.4])
        self.assertAlmostEqual(PAPERS["letter"][0] / 25.4, 8.5)
