"""Lengths, areas and angles from a view, against similar triangles, plane geometry and samples; what is refused."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.measure import COVERAGE_FACTOR, Kind, Quantity, System, outline, parse
from girder_core.photo import (
    CAUSES,
    UNMEASURED,
    Frame,
    Pointed,
    Seen,
    angle,
    area,
    better_told,
    cards,
    causes_told,
    doubt_told,
    length,
    plane_grid,
    plane_said,
    rim_of,
    see,
    size_of,
    size_told,
    tape_step_m,
    typed_as,
    with_another_card,
)
from girder_core.tests import tries
from girder_core.tests.photographed import Laid, eye, pair, seen, standing

TRUE = Quantity(1.0)
ANYWHERE = st.floats(-1e5, 1e5) | st.just(math.nan)


def _marks(card: int, pixels: np.ndarray) -> list[Seen]:
    """The marks of a card of set 1 whose corners are seen there."""
    return [
        Seen(mark.id, tuple(map(tuple, four)))
        for mark, four in zip(cards(1)[card].marks, pixels.reshape(-1, 4, 2), strict=True)
    ]


class Lengths(unittest.TestCase):
    def test_straight_on_it_is_similar_triangles(self) -> None:
        # A pinhole: what is a metre away and 0.1 m long is 0.1 · f long in the picture.
        camera = eye(1.0)
        view = see(seen(camera, [standing()]), camera.frame)
        middle = camera.frame.middle
        ends = ((middle[0] - 165.0, middle[1]), (middle[0] + 165.0, middle[1]))
        self.assertAlmostEqual(length(view, Pointed(ends), TRUE).quantity.value, 0.1, delta=1e-5)

    def test_from_aside_through_a_bent_lens(self) -> None:
        for tilt in (0.2, 0.5, 0.85):
            camera = eye(1.0, tilt, 0.7, 0.2, k1=-0.08, k2=0.01)
            view = see(seen(camera, [standing(), Laid(cards(1)[1], -0.3, 0.1, 0.2)]), camera.frame)
            ends = pair(camera, (-0.2, -0.1, 0.0), (0.25, 0.16, 0.0))
            found = length(view, Pointed(ends), TRUE).quantity
            self.assertAlmostEqual(found.value, math.hypot(0.45, 0.26), delta=2 * found.standard_uncertainty)
            self.assertAlmostEqual(found.value, math.hypot(0.45, 0.26), delta=1e-3)

    def test_what_is_nearer_than_the_card_looks_larger(self) -> None:
        # Similar triangles: 5 cm before a card that is 1 m away makes it 1 / 0.95 as long.
        camera = replace(eye(1.0), frame=Frame(4000, 3000, 3300.0))
        view = see(seen(camera, [standing()]), camera.frame)
        ends = pair(camera, (-0.1, 0.0, 0.05), (0.1, 0.0, 0.05))
        self.assertAlmostEqual(length(view, Pointed(ends), TRUE).quantity.value, 0.2 / 0.95, delta=1e-4)
        told = length(view, Pointed(ends, 1.0, Quantity(0.05, 0.005)), TRUE)
        self.assertAlmostEqual(told.quantity.value, 0.2, delta=3e-4)
        # And 5 mm more or less of that makes a half per cent.
        self.assertAlmostEqual(told.parts["plane"], 0.2 * 0.005 / 0.95, delta=1e-5)

    def test_what_is_said_of_the_plane(self) -> None:
        # JCGM 100:2008, 4.3.7: limits ± a, even within them, are a / √3.
        for before, within, value, limit in (
            ("", "", 0.0, 0.002),
            ("3 cm", "2 mm", 0.03, 0.002),
            ("-2 cm", "", -0.02, 0.005),
            ("20 cm", "", 0.2, 0.02),
            ("− 1 in", "1/8 in", -0.0254, 0.003175),
        ):
            said = plane_said(before, within)
            self.assertAlmostEqual(said.value, value)
            self.assertAlmostEqual(said.standard_uncertainty, limit / math.sqrt(3))
        for before, within, field in (("3 apples", "", "before_text"), ("3 cm", "much", "within_text")):
            with self.assertRaises(GirderError) as refused:
                plane_said(before, within)
            self.assertIn(field, refused.exception.data["fields"])

    def test_a_card_that_came_out_smaller_makes_all_look_larger(self) -> None:
        camera = eye(1.0, 0.3)
        view = see(seen(camera, [standing()], printed=0.97), camera.frame)
        ends = pair(camera, (-0.1, 0.0, 0.0), (0.1, 0.05, 0.0))
        true = math.hypot(0.2, 0.05)
        self.assertAlmostEqual(length(view, Pointed(ends), TRUE).quantity.value, true / 0.97, delta=1e-3)
        told = length(view, Pointed(ends), Quantity(0.97, 0.001))
        self.assertAlmostEqual(told.quantity.value, true, delta=1e-3)
        self.assertAlmostEqual(told.parts["print"], true * 0.001 / 0.97, delta=1e-6)

    def test_pointing_is_propagated_as_samples_say(self) -> None:
        # An outside derivation: points shifted by chance, and what the length does.
        camera = eye(0.9, 0.6, 1.2)
        view = see(seen(camera, [standing()]), camera.frame)
        ends = np.array(pair(camera, (-0.1, -0.1, 0.0), (0.15, 0.12, 0.0)))
        chance = np.random.default_rng(5)
        found = [
            float(np.hypot(*np.diff(view.points(ends + chance.normal(0, 2.0, (2, 2))), axis=0)[0])) for _ in range(4000)
        ]
        stated = length(view, Pointed(tuple(map(tuple, ends)), 2.0), TRUE).parts["pointing"]
        self.assertAlmostEqual(float(np.std(found)) / stated, 1.0, delta=0.05)

    def test_causes_add_up_in_quadrature(self) -> None:
        camera = eye(1.0, 0.4)
        view = see(seen(camera, [standing()], 0.1), camera.frame)
        size = length(view, Pointed(pair(camera, (-0.1, 0, 0), (0.2, 0, 0)), 1.0, Quantity(0.0, 0.002)), UNMEASURED)
        # The two of a motion are none of a length.
        self.assertEqual(set(size.parts) | {"followed", "still"}, set(CAUSES))
        self.assertAlmostEqual(size.quantity.standard_uncertainty, math.hypot(*size.parts.values()), places=12)
        self.assertTrue(all(part > 0 for part in size.parts.values()), size.parts)

    def test_units_do_not_matter(self) -> None:
        """Everything twice as large and twice as far away is the same picture."""
        near, far = eye(0.8, 0.4), eye(1.6, 0.4)
        one = see(seen(near, [standing()]), near.frame)
        two = see(seen(far, [standing()], printed=2.0), far.frame)
        ends = Pointed(pair(near, (-0.1, 0.0, 0.0), (0.1, 0.1, 0.0)))
        single, double = length(one, ends, TRUE).quantity.value, length(two, ends, Quantity(2.0)).quantity.value
        self.assertAlmostEqual(double / single, 2.0, places=6)


class AreasAndAngles(unittest.TestCase):
    def test_a_square_and_its_corner(self) -> None:
        camera = eye(1.0, 0.5, 2.0, k1=-0.05)
        view = see(seen(camera, [standing(), Laid(cards(1)[2], 0.2, 0.15)]), camera.frame)
        corners = pair(camera, (-0.1, -0.1, 0), (0.1, -0.1, 0), (0.1, 0.1, 0), (-0.1, 0.1, 0))
        found = area(view, Pointed(corners), TRUE)
        self.assertAlmostEqual(found.quantity.value, 0.04, delta=2 * found.quantity.standard_uncertainty)
        self.assertAlmostEqual(found.quantity.value, 0.04, delta=1e-4)
        right = angle(view, Pointed(corners[:3]))
        self.assertAlmostEqual(right.quantity.value, math.pi / 2, delta=2e-3)
        # Half a per cent of the card's size is a whole one of an area.
        printed = area(view, Pointed(corners), Quantity(1.0, 0.005))
        self.assertAlmostEqual(printed.parts["print"] / printed.quantity.value, 0.01, places=6)

    def test_what_is_typed_for_it_means_the_same(self) -> None:
        camera = eye(1.0, 0.5)
        view = see(seen(camera, [standing()]), camera.frame)
        for system in System:
            corners = Pointed(pair(camera, (-0.1, -0.1, 0), (0.12, -0.1, 0), (0.1, 0.14, 0)))
            size = area(view, corners, TRUE)
            text = typed_as(view, corners, size, Kind.AREA, TRUE, system)
            self.assertAlmostEqual(outline(text, 0.001).area.value / size.quantity.value, 1.0, delta=1e-3)
            ends = Pointed(pair(camera, (-0.1, 0, 0), (0.2, 0, 0)))
            size = length(view, ends, TRUE)
            typed = parse(typed_as(view, ends, size, Kind.LENGTH, TRUE, system), Kind.LENGTH).si
            self.assertAlmostEqual(typed, size.quantity.value, delta=0.5 * size.quantity.standard_uncertainty)

    def test_very_many_corners_are_typed_as_an_area(self) -> None:
        camera = eye(1.0)
        view = see(seen(camera, [standing()]), camera.frame)
        turn = np.linspace(0, 2 * math.pi, 48, endpoint=False)
        rim = Pointed(pair(camera, *((0.1 * math.cos(t), 0.1 * math.sin(t), 0.0) for t in turn)))
        size = area(view, rim, TRUE)
        # A regular polygon: n/2 · r² · sin(2π/n).
        self.assertAlmostEqual(size.quantity.value, 24 * 0.01 * math.sin(2 * math.pi / 48), delta=2e-5)
        self.assertNotIn("corners", typed_as(view, rim, size, Kind.AREA, TRUE, System.METRIC))


class Better(unittest.TestCase):
    def test_what_another_card_would_bring_is_about_what_it_brings(self) -> None:
        camera = eye(1.2, 0.3, 0.4)
        ends = Pointed(pair(camera, (-0.1, 0.1, 0.0), (0.45, 0.1, 0.0)), 0.2)
        alone = see(seen(camera, [standing()], 0.08, 3), camera.frame)
        promised = with_another_card(alone, ends, Kind.LENGTH, TRUE)
        assert promised is not None
        both = see(seen(camera, [standing(), Laid(cards(1)[1], 0.45, 0.1)], 0.08, 4), camera.frame)
        brought = length(both, ends, TRUE).quantity.standard_uncertainty
        before = length(alone, ends, TRUE).quantity.standard_uncertainty
        self.assertLess(brought, 0.8 * before)
        self.assertAlmostEqual(promised.quantity.standard_uncertainty / brought, 1.0, delta=0.4)

    def test_it_is_said_by_how_much(self) -> None:
        camera = eye(1.2, 0.3, 0.4)
        ends = Pointed(pair(camera, (-0.1, 0.1, 0.0), (0.45, 0.1, 0.0)), 0.2)
        marks = seen(camera, [standing()], 0.08, 3)
        view = see(marks, camera.frame)
        self.assertRegex(better_told(view, marks, camera.frame, ends, Kind.LENGTH, TRUE, System.METRIC),
                         r"^With a second card near the far end it would be ± [\d.]+ mm\.$")  # fmt: skip
        marks = seen(camera, [standing(), Laid(cards(1)[1], 0.45, 0.1)], 0.08, 4)
        view = see(marks, camera.frame)
        self.assertRegex(better_told(view, marks, camera.frame, ends, Kind.LENGTH, TRUE, System.METRIC),
                         r"^With the \w+ card alone it would be ± [\d.]+ mm\.$")  # fmt: skip
        # Between its own ends a card is as good as two.
        short = Pointed(pair(camera, (-0.02, 0.0, 0.0), (0.02, 0.0, 0.0)), 3.0)
        self.assertEqual(better_told(view, marks, camera.frame, short, Kind.LENGTH, TRUE, System.METRIC), "")

    def test_a_whole_set_has_no_further_card(self) -> None:
        camera = eye(1.4)
        every = [Laid(card, x, y) for card, (x, y) in
                 zip(cards(1), ((-0.3, 0), (0.3, 0), (0, 0.2), (0, -0.2)), strict=True)]  # fmt: skip
        view = see(seen(camera, every), camera.frame)
        self.assertIsNone(with_another_card(view, Pointed(pair(camera, (0, 0, 0), (0.1, 0, 0))), Kind.LENGTH, TRUE))

    def test_sentences(self) -> None:
        camera = eye(1.0)
        view = see(seen(camera, [standing()]), camera.frame)
        size = length(view, Pointed(pair(camera, (0, 0, 0), (0.1, 0, 0)), 3.3), TRUE)
        # 3.3 px at 3300 px a metre is 1 mm at each end.
        self.assertEqual(doubt_told(view, size, Kind.LENGTH, TRUE, System.METRIC),
                         "Known to ± 2.8 mm, mostly by how well the ends were pointed at.")  # fmt: skip
        self.assertTrue(causes_told(size.parts, Kind.LENGTH, System.METRIC).startswith("± 2.8 mm by how well the ends"))
        self.assertEqual(causes_told({}, Kind.LENGTH), "")
        self.assertEqual(size_told(size, Kind.LENGTH, System.METRIC), "100 mm ± 2.8 mm")
        self.assertIn("bar of set 1 once", doubt_told(view, size, Kind.LENGTH, UNMEASURED, System.METRIC))
        self.assertAlmostEqual(tape_step_m(size, Kind.LENGTH), math.sqrt(2) * 1e-3 * math.sqrt(12), delta=5e-5)


class Drawn(unittest.TestCase):
    def test_the_rim_goes_round_the_marks_and_the_grid_is_even(self) -> None:
        camera = eye(1.0, 0.5, 0.3, k1=-0.06)
        view = see(seen(camera, [standing()]), camera.frame)
        card = cards(1)[0]
        rim = view.points(rim_of(view, 0))
        self.assertTrue(((np.abs(rim[:, 0]) > card.width_m / 2) | (np.abs(rim[:, 1]) > card.height_m / 2)).all())
        lines = plane_grid(view, 0.1)
        self.assertGreater(len(lines), 8)
        for line in lines:
            at = view.points(line)
            # Each runs along one direction, at a whole number of steps in the other.
            across = int(np.argmin(np.ptp(at, axis=0)))
            self.assertLess(np.ptp(at[:, across]), 1e-6)
            self.assertAlmostEqual(at[0, across] / 0.1, round(at[0, across] / 0.1), places=5)


class Refused(unittest.TestCase):
    def setUp(self) -> None:
        self.camera = eye(1.0, 0.3)
        self.marks = seen(self.camera, [standing()])
        self.view = see(self.marks, self.camera.frame)

    def refused(self, code: str, ask: object) -> None:
        with self.assertRaises(GirderError) as told:
            ask()  # type: ignore[operator]
        self.assertEqual(told.exception.code, code)
        self.assertTrue(told.exception.sentence.endswith("."))

    def test_points(self) -> None:
        one = ((10.0, 10.0),)
        self.refused("too_few_points", lambda: length(self.view, Pointed(one)))
        self.refused("too_few_points", lambda: area(self.view, Pointed(one * 2)))
        self.refused("too_few_points", lambda: angle(self.view, Pointed(one * 2)))
        self.refused("too_many_points", lambda: length(self.view, Pointed(one * 61)))
        four = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 2.0))
        self.refused("too_many_points", lambda: angle(self.view, Pointed(four)))
        self.refused("no_corner", lambda: angle(self.view, Pointed(((5.0, 5.0), (5.0, 5.0), (9.0, 9.0)))))
        bow = ((100.0, 100.0), (300.0, 300.0), (300.0, 100.0), (100.0, 300.0))
        self.refused("corners_cross", lambda: size_of(self.view, Pointed(bow), Kind.AREA))

    def test_cards(self) -> None:
        frame = self.camera.frame
        self.refused("no_card", lambda: see([], frame))
        self.refused("no_card", lambda: see([Seen(586, self.marks[0].corners)], frame))
        self.refused("card_twice", lambda: see([*self.marks, self.marks[2]], frame))
        other = seen(self.camera, [Laid(cards(2)[3], 0.2, 0.1)])
        self.refused("two_sets", lambda: see([*self.marks, *other], frame))

    def test_from_too_far_aside(self) -> None:
        camera = eye(1.0, math.radians(70))
        view = see(seen(camera, [standing()]), camera.frame)
        self.refused("too_steep", lambda: length(view, Pointed(pair(camera, (0, 0, 0), (0.1, 0, 0)))))

    def test_a_card_on_something_round(self) -> None:
        # Round a jar of 16 cm across: its left and right go back by 6 cm.
        for radius in (0.08, 0.2, 0.4):
            flat = standing().points()
            turned = flat[:, 0] / radius
            bent = np.column_stack([radius * np.sin(turned), flat[:, 1], radius * (np.cos(turned) - 1)])
            marks = _marks(0, self.camera.sees(bent))
            self.refused("card_bent", lambda marks=marks: see(marks, self.camera.frame))

    def test_two_cards_in_two_planes(self) -> None:
        # One stands, one lies on the table before it; the camera looks down at both.
        camera = eye(1.2, 0.5)
        flat = standing().points()
        lying = np.column_stack([0.3 + flat[:, 0], np.full(len(flat), -0.1), -flat[:, 1]])
        marks = [*seen(camera, [standing()]), *_marks(1, camera.sees(lying))]
        self.refused("card_bent", lambda: see(marks, camera.frame))

    @given(
        st.lists(st.tuples(*[ANYWHERE] * 8), min_size=1, max_size=6),
        st.integers(0, 575),
    )
    @settings(max_examples=tries(60), deadline=None)
    def test_whatever_corners_come_are_measured_or_refused(self, corners: list[tuple[float, ...]], first: int) -> None:
        marks = [
            Seen(first + i, tuple((row[2 * k], row[2 * k + 1]) for k in range(4))) for i, row in enumerate(corners)
        ]
        try:
            size = length(see(marks, Frame(4000, 3000)), Pointed(((100.0, 100.0), (2000.0, 900.0))), TRUE)
        except GirderError as refused:
            self.assertTrue(refused.sentence)
        else:
            self.assertTrue(math.isfinite(size.quantity.value))

    def test_a_mark_that_is_half_covered_is_left_out(self) -> None:
        camera = eye(1.0, 0.4, k1=-0.04)
        marks = seen(camera, [standing()], 0.08, 2)
        x, y = marks[1].corners[2]
        odd = replace(marks[1], corners=(*marks[1].corners[:2], (x + 14, y - 9), marks[1].corners[3]))
        view = see([marks[0], odd, *marks[2:]], camera.frame)
        self.assertEqual(view.left_out, (odd.id,))
        found = length(view, Pointed(pair(camera, (-0.1, 0, 0), (0.2, 0, 0)), 0.1), TRUE).quantity
        self.assertLess(abs(found.value - 0.3), COVERAGE_FACTOR * found.standard_uncertainty)
