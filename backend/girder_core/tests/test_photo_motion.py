"""What a point did between two pictures, against made-up cameras that stood still, were bumped, or held by hand."""

import math
import unittest
from dataclasses import replace

import numpy as np
from scipy.spatial.transform import Rotation

from girder_core.ground import GirderError
from girder_core.measure import Kind, Quantity, System, parse
from girder_core.photo import (
    Followed,
    Shaken,
    Size,
    View,
    Way,
    camera_moved,
    cards,
    moved_told,
    see,
    shifted,
    tape_step_m,
    went_as,
    went_told,
    went_typed,
)
from girder_core.tests.photographed import Eye, Laid, eye, seen, standing

TRUE = Quantity(1.0)
IN_PLANE, DEEPER = Quantity(0.0), np.array([0.0, 0.01, 0.0])
SURE = ((1e-6, 0.0), (0.0, 1e-6))
PLACE = np.array([0.21, 0.12, 0.0])
SUPPORTS = [Laid(cards(1)[2], -0.25, -0.1), Laid(cards(1)[3], 0.25, -0.1)]


def bumped(camera: Eye, turn: tuple[float, float, float], way: tuple[float, float, float]) -> Eye:
    """The camera turned a little and moved [rad, m]."""
    by = Rotation.from_rotvec(turn).as_matrix()
    return replace(camera, turn=by @ camera.turn, place=by @ camera.place + np.array(way))


def pixel(camera: Eye, place: np.ndarray) -> tuple[float, float]:
    x, y = camera.sees(place[None])[0]
    return float(x), float(y)


class Motions(unittest.TestCase):
    camera = eye(1.1, 0.3, 0.8, 0.05, k1=-0.05)

    def went(
        self, moved: tuple[float, float, float], later: Eye | None = None, laid: list[Laid] | None = None,
        way: Way = Way.DOWN, place: np.ndarray = PLACE, plane_m: Quantity = IN_PLANE,
    ) -> Size:  # fmt: skip
        laid, later = laid or [standing()], later or self.camera
        view, shaken = self.shaken(later, laid)
        there = Followed(pixel(self.camera, place), pixel(later, place + np.array(moved)), SURE)
        return shifted(view, shaken, there, way, plane_m, TRUE)

    def shaken(self, later: Eye, laid: list[Laid]) -> tuple[View, Shaken]:
        before, after = seen(self.camera, laid), seen(later, laid)
        view = see(before, self.camera.frame)
        return view, camera_moved(view, before, after)

    def test_down_and_up_aside_to_both_hands(self) -> None:
        for moved, way, true in (
            ((0.0, -0.006, 0.0), Way.DOWN, 0.006), ((0.0, 0.004, 0.0), Way.DOWN, -0.004),
            ((0.009, -0.001, 0.0), Way.ASIDE, 0.009), ((-0.003, 0.0, 0.0), Way.ASIDE, -0.003),
        ):  # fmt: skip
            with self.subTest(moved):
                self.assertAlmostEqual(self.went(moved, way=way).quantity.value, true, delta=4e-5)

    def test_a_camera_that_was_bumped_or_is_held_by_hand_moves_nothing(self) -> None:
        for name, turn, way in (
            ("stands", (0.0, 0.0, 0.0), (0.0, 0.0, 0.0)),
            ("touched", (0.001, -0.0005, 0.0004), (0.0005, 0.001, 0.0)),
            ("by hand", (0.02, -0.015, 0.01), (0.02, -0.015, 0.03)),
        ):
            for laid in ([standing()], SUPPORTS):
                with self.subTest(name, cards=len(laid)):
                    size = self.went((0.0, -0.005, 0.0), bumped(self.camera, turn, way), laid)
                    off = 3 * size.quantity.standard_uncertainty
                    self.assertAlmostEqual(size.quantity.value, 0.005, delta=off)
                    self.assertLess(off, 0.0035)

    def test_where_the_camera_stands_still_hardly_anything_is_left_open(self) -> None:
        still = self.went((0.0, -0.005, 0.0))
        self.assertLess(still.quantity.standard_uncertainty, 1e-4)
        hand = self.went((0.0, -0.005, 0.0), bumped(self.camera, (0.02, -0.015, 0.01), (0.02, -0.015, 0.03)))
        self.assertGreater(hand.quantity.standard_uncertainty, still.quantity.standard_uncertainty)

    def test_nearer_to_the_camera_the_same_way_looks_longer(self) -> None:
        # Similar triangles: 100 mm before the cards, seen squarely from 1.1 m, everything looks 1.1 times as large.
        self.camera = eye(1.1)
        place, moved = np.array([0.2, 0.1, 0.1]), (0.0, -0.006, 0.0)
        told = self.went(moved, place=place, plane_m=Quantity(0.1, 0.002)).quantity.value
        self.assertAlmostEqual(told, 0.006, delta=2e-5)
        untold = self.went(moved, place=place).quantity.value
        self.assertAlmostEqual(untold, 0.006 * 1.1 / 1.0, delta=3e-5)

    def test_how_large_the_cards_were_printed_counts(self) -> None:
        laid = [standing()]
        before = seen(self.camera, laid, printed=0.97)
        view = see(before, self.camera.frame)
        shaken = camera_moved(view, before, before)
        there = Followed(pixel(self.camera, PLACE), pixel(self.camera, PLACE - DEEPER), SURE)
        size = shifted(view, shaken, there, Way.DOWN, printed=Quantity(0.97, 0.002))
        self.assertAlmostEqual(size.quantity.value, 0.01, delta=1e-4)
        self.assertAlmostEqual(size.parts["print"], 0.01 * 0.002 / 0.97, delta=1e-7)

    def test_where_a_point_would_be_that_did_not_move(self) -> None:
        later = bumped(self.camera, (0.002, 0.001, -0.001), (0.003, -0.002, 0.001))
        view, shaken = self.shaken(later, [standing()])
        stayed = shaken.still_at(view, np.array(pixel(self.camera, PLACE)))
        np.testing.assert_allclose(stayed, pixel(later, PLACE), atol=1.5)
        self.assertGreater(shaken.moved_px, 1)

    def refused(self, code: str, *given: object) -> None:
        with self.assertRaises(GirderError) as caught:
            camera_moved(*given)  # type: ignore[arg-type]
        self.assertEqual(caught.exception.code, code)

    def test_a_card_that_was_moved_is_noticed(self) -> None:
        before = seen(self.camera, SUPPORTS, 0.05, 1)
        nudged = [SUPPORTS[0], replace(SUPPORTS[1], y=-0.097)]
        after = seen(self.camera, nudged, 0.05, 2)
        self.refused("card_moved", see(before, self.camera.frame), before, after)

    def test_without_the_same_marks_in_both_there_is_nothing_to_hold_on_to(self) -> None:
        before, other = seen(self.camera, SUPPORTS), seen(self.camera, [standing()])
        self.refused("cards_gone", see(before, self.camera.frame), before, other)
        self.refused("no_card", see(before, self.camera.frame), before, [])

    def test_along_a_card_that_lies_nothing_comes_down(self) -> None:
        lying = [Laid(cards(1)[1])]
        before = seen(self.camera, lying)
        view = see(before, self.camera.frame)
        there = Followed((2000.0, 1500.0), (2000.0, 1510.0), SURE)
        with self.assertRaises(GirderError) as caught:
            shifted(view, camera_moved(view, before, before), there, Way.DOWN)
        self.assertEqual(caught.exception.code, "card_lies")
        self.assertTrue(cards(1)[1].lies)

    def test_a_card_on_its_head_or_its_side_tells_no_down(self) -> None:
        for turn, fine in ((math.pi, False), (math.pi / 2, False), (-math.pi / 2, False), (0.2, True), (-0.2, True)):
            laid = [replace(standing(), turn=turn)]
            before = seen(self.camera, laid)
            view = see(before, self.camera.frame)
            there = Followed((2000.0, 1500.0), (2000.0, 1510.0), SURE)
            with self.subTest(turn=turn):
                if fine:
                    shifted(view, camera_moved(view, before, before), there, Way.DOWN)
                    continue
                with self.assertRaises(GirderError) as caught:
                    shifted(view, camera_moved(view, before, before), there, Way.DOWN)
                self.assertEqual(caught.exception.code, "card_turned")

    def test_every_card_but_the_lying_one_stands(self) -> None:
        self.assertFalse(any(card.lies for card in (cards(1)[0], *cards(1)[2:])))


class Words(unittest.TestCase):
    def size(self, value: float, off: float = 1e-4) -> Size:
        return Size(Quantity(value, off), {"followed": off})

    def test_whither_is_said_where_it_is_known(self) -> None:
        for value, way, told in (
            (0.0047, Way.DOWN, "4.7 mm down, ± 0.2 mm"), (-0.0047, Way.DOWN, "4.7 mm up, ± 0.2 mm"),
            (0.0113, Way.ASIDE, "11.3 mm to the right, ± 0.2 mm"),
            (-0.0113, Way.ASIDE, "11.3 mm to the left, ± 0.2 mm"),
            (0.0001, Way.DOWN, "0.1 mm, ± 0.2 mm"),
        ):  # fmt: skip
            with self.subTest(told):
                words = went_told(self.size(value), way, System.METRIC)
                self.assertEqual(words.split(",")[1], told.split(",")[1])
                self.assertEqual(words.split(" mm")[1].split(",")[0], told.split(" mm")[1].split(",")[0])
                self.assertAlmostEqual(float(words.split(" ")[0]), float(told.split(" ")[0]), delta=0.05)

    def test_the_bench_writes_down_no_minus_and_a_lean_to_either_hand(self) -> None:
        self.assertEqual(went_as(self.size(-0.003), Way.DOWN).quantity, Quantity(0.0, 1e-4))
        self.assertEqual(went_as(self.size(-0.003), Way.ASIDE).quantity, Quantity(0.003, 1e-4))
        self.assertEqual(went_as(self.size(0.003), Way.DOWN).quantity, Quantity(0.003, 1e-4))

    def test_as_typed_it_is_as_near_and_as_sure(self) -> None:
        for value, off in ((0.004731, 9e-5), (-0.01134, 4e-4), (0.12345, 3e-3)):
            text, step = (parse(typed, Kind.LENGTH).si for typed in went_typed(self.size(value, off), Way.ASIDE))
            self.assertLess(abs(text - abs(value)), 0.2 * off)
            self.assertAlmostEqual(step / math.sqrt(12), off, delta=0.04 * off)

    def test_that_the_tablet_moved_is_said_where_it_did(self) -> None:
        still, moved = (Shaken(np.zeros(6), np.zeros((6, 6)), px, lambda _: np.zeros(6)) for px in (2.0, 40.0))
        self.assertEqual(moved_told(still), "")
        self.assertIn("The tablet moved", moved_told(moved))

    def test_a_reading_with_that_step_is_as_sure(self) -> None:
        size = self.size(0.004, 9e-5)
        self.assertAlmostEqual(tape_step_m(size, Kind.LENGTH) / math.sqrt(12), 9e-5, delta=3e-6)
