"""Where a point went, in rendered pictures whose truth is known; and what cannot be followed."""

import math
import unittest
from dataclasses import replace
from typing import Any

import cv2
import numpy as np

from camera.detector import marks_in
from camera.following import followed, recognisable
from camera.scenes import Camera, Spoilt, render
from camera.standins import STANDINS, gangway
from girder_core.ground import GirderError
from girder_core.measure import COVERAGE_FACTOR, Quantity
from girder_core.photo import Followed, Frame, Way, camera_moved, see, shifted
from girder_core.tests import tries

DOT = np.array([[0.0, 0.17, 0.001]])
GANGWAY = STANDINS["gangway"]


def drawn(camera: Camera, sag_m: float, seed: int, spoilt: Spoilt) -> Any:
    picture = render(camera, gangway(3, sag_m), seed, spoilt, (0.8, 0.81, 0.79), 2)
    return cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)


class Sagging(unittest.TestCase):
    def test_sag_between_two_pictures_of_a_tablet_that_stands_still_or_was_touched(self) -> None:
        chance = np.random.default_rng(5)
        errors, inside, n = [], 0, tries(4)
        for i in range(n):
            place = np.array(GANGWAY.camera.place) + chance.normal(0, 0.03, 3)
            camera = replace(
                GANGWAY.camera, place=tuple(place), k1=chance.uniform(-0.08, 0.06), roll_rad=chance.normal(0, 0.02)
            )
            held = (0.0, 1e-4, 1e-3)[i % 3]
            later = replace(
                camera, place=tuple(place + chance.normal(0, held, 3)),
                target=tuple(np.array(camera.target) + chance.normal(0, held, 3)),
            )  # fmt: skip
            sag = chance.uniform(0, 0.012)
            looks = [
                Spoilt(chance.uniform(0.5, 1.2), 0.0, chance.uniform(1, 5), chance.uniform(0, 0.4), light)
                for light in chance.uniform(0.8, 1.05, 2)
            ]
            one, other = drawn(camera, 0.0, i, looks[0]), drawn(later, sag, 100 + i, looks[1])
            before, after = marks_in(one), marks_in(other)
            view = see(before, Frame(camera.width_px, camera.height_px))
            shaken = camera_moved(view, before, after)
            at = camera.pixels(DOT)[0] + chance.normal(0, 1, 2)
            there = followed(one, other, at, shaken.still_at(view, at))
            way = Followed((float(at[0]), float(at[1])), there.point, there.spread)
            found = shifted(view, shaken, way, Way.DOWN, Quantity(0.0, 0.001), Quantity(1.0)).quantity
            errors.append(abs(found.value - sag))
            inside += errors[-1] <= COVERAGE_FACTOR * found.standard_uncertainty
        # Three megapixels from 0.8 m; those of twelve are measured by benchmarks/photo.py.
        self.assertLess(max(errors), 0.0004)
        self.assertGreaterEqual(inside, n - 1 - n // 10)


class Refused(unittest.TestCase):
    camera = GANGWAY.camera
    picture: Any
    dot: Any

    @classmethod
    def setUpClass(cls) -> None:
        cls.picture = drawn(cls.camera, 0.0, 1, Spoilt(0.7, 0.0, 2.0, 0.1))
        cls.dot = cls.camera.pixels(DOT)[0]

    def refused(self, code: str, work: Any) -> None:
        with self.assertRaises(GirderError) as caught:
            work()
        self.assertEqual(caught.exception.code, code)

    def test_a_dot_is_recognised_and_a_wall_or_a_plain_edge_is_not(self) -> None:
        recognisable(self.picture, self.dot)
        wall = self.camera.pixels(np.array([[0.0, 0.3, 0.0]]))[0]
        self.refused("nothing_to_follow", lambda: recognisable(self.picture, wall))
        # Along the straight upper edge of the deck everything looks the same.
        edge = self.camera.pixels(np.array([[0.07, 0.18, 0.0]]))[0]
        self.refused("nothing_to_follow", lambda: recognisable(self.picture, edge))

    def test_near_the_rim_there_is_no_room(self) -> None:
        rim = np.array([3.0, self.dot[1]])
        self.refused("point_at_edge", lambda: recognisable(self.picture, rim))

    def test_what_is_hidden_is_lost_and_what_is_there_twice_is_unsure(self) -> None:
        x, y = (round(float(v)) for v in self.dot)
        r = 24
        hidden = self.picture.copy()
        hidden[y - r : y + r, x - r : x + r] = 120
        self.refused("point_lost", lambda: followed(self.picture, hidden, self.dot, self.dot))
        twice = self.picture.copy()
        twice[y - r : y + r, x + 60 - r : x + 60 + r] = self.picture[y - r : y + r, x - r : x + r]
        self.refused("point_unsure", lambda: followed(self.picture, twice, self.dot, self.dot))

    def test_less_light_and_more_noise_move_nothing(self) -> None:
        dim = np.clip(self.picture * 0.6 + 12 + np.random.default_rng(2).normal(0, 4, self.picture.shape), 0, 255)
        there = followed(self.picture, dim.astype(np.uint8), self.dot, self.dot + np.array([9, -7]))
        self.assertLess(math.dist(there.point, self.dot), 0.15)
