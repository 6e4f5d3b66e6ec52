"""The adapter against made-up pictures with known truth, and against OpenCV's own marks."""

import math
import unittest
from typing import Any

import cv2
import numpy as np

from camera.detector import dictionary, marks_in, mirrored, screen_steps, segments_in, sharpness
from camera.scenes import Camera, Patch, Spoilt, card_patch, plain, render
from girder_core.photo import FIELDS, MARKS_PER_SET, SETS, Frame, Seen, cards, fields_of, see
from girder_core.tests import tries

X, Y = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
CAMERA = Camera((0.12, 0.2, 0.9), (0.03, 0.02, 0.0), 1600, 1200, 1350.0, -0.05, 0.004)


def grey(picture: Any) -> Any:
    return cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)


def truth(camera: Camera, patch: Patch, marks: Any, printed: float = 1.0) -> dict[int, Any]:
    """Where the corners of marks are in the picture, by the pinhole that drew it."""
    return {
        mark.id: camera.pixels(np.array([patch.at(printed * x, printed * y) for x, y in mark.corners]))
        for mark in marks
    }


class Marks(unittest.TestCase):
    def test_the_printed_marks_are_opencv_s(self) -> None:
        known = dictionary()
        for i in range(SETS * MARKS_PER_SET):
            self.assertTrue(((known.generateImageMarker(i, FIELDS) > 127) == fields_of(i)).all(), i)

    def test_marks_are_found_to_a_fraction_of_a_pixel_and_none_is_taken_for_another(self) -> None:
        chance = np.random.default_rng(8)
        off: list[float] = []
        there = found = 0
        for i in range(tries(12)):
            tilt, round_ = math.radians(chance.uniform(0, 50)), chance.uniform(0, 2 * math.pi)
            away = chance.uniform(0.5, 1.3)
            place = away * np.array(
                [math.sin(tilt) * math.cos(round_), math.sin(tilt) * math.sin(round_), math.cos(tilt)]
            )
            camera = Camera(tuple(place), (0, 0, 0), 1600, 1200, 1600 * chance.uniform(0.65, 1.0),
                            chance.uniform(-0.1, 0.08), 0.0, chance.uniform(-0.5, 0.5))  # fmt: skip
            card = cards(int(chance.integers(1, SETS + 1)))[int(chance.integers(0, 2))]
            patch = card_patch(card, (0.0, 0.0, 0.0), X, Y)
            true = truth(camera, patch, card.marks)
            spoilt = Spoilt(
                chance.uniform(0.4, 1.0), 0.0, chance.uniform(1, 6), chance.uniform(0, 0.5), chance.uniform(0.5, 1)
            )
            seen = marks_in(grey(render(camera, [patch], i, spoilt)))
            self.assertTrue({mark.id for mark in seen} <= set(true))
            inside = {id_ for id_, four in true.items() if (four > 4).all() and (four < (1596, 1196)).all()}
            there += len(inside)
            found += len([mark for mark in seen if mark.id in inside])
            off += [float(o) for mark in seen for o in np.hypot(*(np.array(mark.corners) - true[mark.id]).T)]
        self.assertGreaterEqual(found, 0.98 * there)
        self.assertLess(float(np.sqrt(np.mean(np.square(off)))), 0.2)

    def test_noise_alone_has_no_marks(self) -> None:
        chance = np.random.default_rng(1)
        for _ in range(3):
            self.assertEqual(marks_in(chance.integers(0, 256, (900, 1200), dtype=np.uint8)), [])

    def test_a_mirrored_picture_is_known_as_one(self) -> None:
        picture = grey(render(CAMERA, [card_patch(cards(5)[0], (0, 0, 0), X, Y)], 2))
        turned = np.ascontiguousarray(picture[:, ::-1])
        self.assertEqual(marks_in(turned), [])
        self.assertTrue(mirrored(turned))
        self.assertFalse(mirrored(picture))


class Facts(unittest.TestCase):
    def test_sharp_and_blurred(self) -> None:
        card = [card_patch(cards(5)[0], (0, 0, 0), X, Y)]
        sharp, soft = (sharpness(grey(render(CAMERA, card, 2, Spoilt(blur)))) for blur in (0.6, 6.0))
        self.assertGreater(sharp, 0.25)
        self.assertLess(soft, 0.2)
        # Where there is nothing to be sharp, nothing is blurred.
        self.assertEqual(sharpness(np.full((400, 600), 120, np.uint8)), 1.0)

    def test_a_screen_has_a_pattern_and_paper_has_none(self) -> None:
        card = cards(5)[0]
        paper = card_patch(card, (0, 0, 0), X, Y)

        def dots(x: Any, y: Any) -> Any:
            # A screen of 0.25 mm between its points, dark in between.
            colour, there = paper.paint(x, y)
            lit = ((x / 0.25e-3) % 1 < 0.7) * ((y / 0.25e-3) % 1 < 0.8)
            return colour * (0.55 + 0.45 * lit)[:, None], there

        for patch, low, high in ((paper, 0.0, 0.5), (Patch(paper.origin, X, Y, paper.box, dots), 0.6, 40.0)):
            picture = grey(render(CAMERA, [patch], 3, Spoilt(noise=4.0)))
            steps = screen_steps(picture, see(marks_in(picture), Frame(1600, 1200)))
            self.assertTrue(low <= steps <= high, steps)

    def test_straight_edges(self) -> None:
        block = Patch((0.1, -0.1, 0.0), X, Y, (0.0, 0.0, 0.1, 0.25), plain(0.2, 0.15, 0.1))
        edges = np.array(segments_in(grey(render(CAMERA, [block], 4))))
        for one, other in (((0, 0), (0, 0.25)), ((0.1, 0), (0.1, 0.25)), ((0, 0.25), (0.1, 0.25))):
            ends = CAMERA.pixels(np.array([block.at(*one), block.at(*other)]))
            off = np.minimum(
                np.abs(edges.reshape(-1, 4) - ends.ravel()).max(axis=1),
                np.abs(edges.reshape(-1, 4) - ends[::-1].ravel()).max(axis=1),
            )
            self.assertLess(off.min(), 8.0)


class Scenes(unittest.TestCase):
    def test_the_made_up_lens_is_opencv_s(self) -> None:
        # An outside derivation: OpenCV's own projection of the same points through the same lens.
        points = np.array([(0.2, 0.1, 0.0), (-0.3, 0.25, 0.1), (0.0, -0.2, -0.2)])
        camera = Camera((0.3, 0.5, 1.4), (0.0, 0.1, 0.0), 2000, 1500, 1700.0, -0.11, 0.02, 0.3)
        turn = camera.turn()
        shown = cv2.projectPoints(
            points, cv2.Rodrigues(turn)[0], -turn @ np.array(camera.place),
            np.array([[1700.0, 0, 999.5], [0, 1700.0, 749.5], [0, 0, 1]]), np.array([-0.11, 0.02, 0, 0]),
        )[0].reshape(-1, 2)  # fmt: skip
        np.testing.assert_allclose(camera.pixels(points), shown, atol=1e-6)

    def test_a_ray_goes_back_to_its_pixel(self) -> None:
        camera = Camera((0.3, 0.5, 1.4), (0.0, 0.1, 0.0), 2000, 1500, 1700.0, -0.11, 0.02, 0.3)
        x, y = np.meshgrid([0.0, 700.0, 1999.0], [0.0, 900.0, 1499.0])
        rays = camera.rays(x, y).reshape(-1, 3)
        back = camera.pixels(np.array(camera.place) + 1.3 * rays)
        np.testing.assert_allclose(back, np.column_stack([x.ravel(), y.ravel()]), atol=1e-3)

    def test_a_card_s_view_is_where_the_camera_was(self) -> None:
        found = marks_in(grey(render(CAMERA, [card_patch(cards(5)[0], (0, 0, 0), X, Y)], 6)))
        self.assertIsInstance(found[0], Seen)
        view = see(found, Frame(1600, 1200, 1350.0))
        self.assertAlmostEqual(view.away_m, math.hypot(0.12, 0.2, 0.9), delta=0.02)
