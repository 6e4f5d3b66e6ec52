"""“Known to ±”: lengths and areas from made-up views whose truth is known, against what is stated of them."""

import math
import unittest

import numpy as np

from girder_core.measure import COVERAGE_FACTOR, Quantity
from girder_core.photo import SETS, Pointed, area, cards, length, see
from girder_core.tests import tries
from girder_core.tests.photographed import Eye, Laid, eye, seen

N = tries(100)
NOISE_PX = 0.08
"""What the adapter leaves, from pictures (docs/photo.md)."""


def world(chance: np.random.Generator, count: int) -> tuple[Eye, list[Laid], np.ndarray]:
    """A camera that looks from up to 50° aside through a lens that bends, cards, and two points of their plane."""
    while True:
        camera = eye(
            chance.uniform(0.6, 1.6), math.radians(chance.uniform(0, 50)), chance.uniform(0, 2 * math.pi),
            chance.uniform(-0.3, 0.3), focal_px=chance.uniform(2600, 4400), k1=chance.uniform(-0.1, 0.1),
            k2=chance.uniform(-0.02, 0.02),
        )  # fmt: skip
        whole = cards(int(chance.integers(1, SETS + 1)))
        chosen = whole[:1] if count == 1 else whole
        places = chance.uniform([-0.35, -0.25, -0.2], [0.35, 0.25, 0.2], (len(chosen), 3))
        laid = [Laid(card, *map(float, place)) for card, place in zip(chosen, places, strict=True)]
        half, rise = chance.uniform(0.07, 0.4), chance.uniform(-0.1, 0.1, 2)
        ends = np.array([[-half, rise[0], 0.0], [half, rise[1], 0.0]])
        if camera.all_inside(np.concatenate([*(one.points() for one in laid), ends])):
            return camera, laid, ends


class Sizes(unittest.TestCase):
    def covered(self, count: int, off_px: float, n: int) -> tuple[float, list[tuple[float, float]]]:
        chance = np.random.default_rng([count, 11])
        inside, errors = 0, []
        for i in range(n):
            camera, laid, ends = world(chance, count)
            view = see(seen(camera, laid, NOISE_PX, i), camera.frame)
            pixels = camera.sees(ends) + chance.normal(0.0, off_px, (2, 2))
            found = length(view, Pointed(tuple(map(tuple, pixels)), off_px), Quantity(1.0)).quantity
            true = float(np.linalg.norm(ends[0] - ends[1]))
            inside += abs(found.value - true) <= COVERAGE_FACTOR * found.standard_uncertainty
            errors.append((abs(found.value - true), true))
        return inside / n, errors

    def held(self, share: float, n: int) -> None:
        # 95 % are asked, 93 to 97 % allowed; three standard errors of a share of so many for chance.
        room = 3 * math.sqrt(0.95 * 0.05 / n)
        self.assertTrue(0.93 - room <= share <= 0.97 + room, f"{share:.3f} of {n}")

    def test_one_card(self) -> None:
        share, errors = self.covered(1, 0.5, N)
        self.held(share, N)
        self.assertGreaterEqual(np.mean([off <= 0.01 * true + 0.001 for off, true in errors]), 0.95)

    def test_four_cards(self) -> None:
        n = N // 2
        share, errors = self.covered(4, 0.3, n)
        self.held(share, n)
        self.assertGreaterEqual(np.mean([off <= 0.004 * true + 0.0005 for off, true in errors]), 0.95)

    def test_where_pointing_is_all_but_perfect_the_cards_own_share_holds(self) -> None:
        share, _ = self.covered(1, 0.02, N)
        self.held(share, N)

    def test_what_an_attack_left_of_a_face(self) -> None:
        chance, inside = np.random.default_rng(31), 0
        n = N // 2
        for i in range(n):
            camera, laid, ends = world(chance, 1)
            # Two stumps, one of them with a hole, between the two points.
            (x0, x1), y = ends[:, 0], float(ends[:, 1].mean())
            wide = float(x1 - x0)
            stumps = [(x0, y, 0.35 * wide, 0.3 * wide), (x0 + 0.6 * wide, y, 0.4 * wide, 0.2 * wide)]
            hole = (x0 + 0.1 * wide, y + 0.1 * wide, 0.15 * wide, 0.08 * wide)
            outlines = [[(a, b), (a + c, b), (a + c, b + d), (a, b + d)] for a, b, c, d in (*stumps, hole)]
            corners = np.array([(u, v, 0.0) for outline in outlines for u, v in outline])
            view = see(seen(camera, laid, NOISE_PX, i), camera.frame)
            pixels = camera.sees(corners) + chance.normal(0.0, 0.5, (12, 2))
            pointed = Pointed(tuple(map(tuple, pixels)), 0.5, outlines=(4, 4, 4))
            found = area(view, pointed, Quantity(1.0)).quantity
            true = sum(c * d for _, _, c, d in stumps) - hole[2] * hole[3]
            inside += abs(found.value - true) <= COVERAGE_FACTOR * found.standard_uncertainty
        self.held(inside / n, n)
