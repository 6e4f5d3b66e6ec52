"""A calibrated lens: ranges that rest on it hold, are narrower, and pictures through another lens are noticed."""

import math
import unittest

import numpy as np

from girder_core.measure import COVERAGE_FACTOR, Quantity
from girder_core.photo import Pointed, calibrated, cards, length, see
from girder_core.tests import tries
from girder_core.tests.photographed import Eye, Laid, eye, focused, for_calibration, lens_drawn, seen

TABLETS = tries(14)
EACH = 6
"""Pictures that are measured in with each tablet."""


def world(lens: dict[str, float], chance: np.random.Generator, nearer: float = 1.0) -> tuple[Eye, Laid, np.ndarray]:
    """A tablet that looks at one card, and two points of its plane."""
    while True:
        camera = eye(
            chance.uniform(0.6, 1.6) * nearer, math.radians(chance.uniform(0, 50)), chance.uniform(0, 2 * math.pi),
            chance.uniform(-0.3, 0.3), **focused(lens, chance),
        )  # fmt: skip
        card = Laid(cards(1)[0], *map(float, chance.uniform([-0.35, -0.25, -0.2], [0.35, 0.25, 0.2])))
        half, rise = chance.uniform(0.07, 0.4), chance.uniform(-0.1, 0.1, 2)
        ends = np.array([[-half, rise[0], 0.0], [half, rise[1], 0.0]])
        if camera.all_inside(np.concatenate([card.points(), ends])):
            return camera, card, ends


class Lenses(unittest.TestCase):
    def measured(self, zoom: float) -> np.ndarray:
        """For each picture: whether another lens was noticed, the error, the range with the lens and without [m]."""
        rows = []
        for tablet in range(TABLETS):
            chance = np.random.default_rng([tablet, 41])
            lens = lens_drawn(chance)
            known = calibrated(for_calibration(lens, chance, 6)).lens
            for _ in range(EACH):
                taken = {**lens, "focal_px": lens["focal_px"] * zoom}
                camera, card, ends = world(taken, chance, max(1.0, 0.8 * zoom))
                marks = seen(camera, [card], 0.08, int(chance.integers(2**31)))
                pixels = camera.sees(ends) + chance.normal(0.0, 0.2, (2, 2))
                pointed = Pointed(tuple(map(tuple, pixels)), 0.2)
                view = see(marks, camera.frame, known)
                size = length(view, pointed, Quantity(1.0)).quantity
                plain = length(see(marks, camera.frame), pointed, Quantity(1.0)).quantity
                true = float(np.linalg.norm(ends[0] - ends[1]))
                off, alone = (COVERAGE_FACTOR * one.standard_uncertainty / true for one in (size, plain))
                rows.append([view.through_another, abs(size.value - true) / true, off, alone])
        return np.array(rows, dtype=float)

    def test_ranges_that_rest_on_it_hold_and_are_narrower(self) -> None:
        rows = self.measured(1.0)
        noticed, off, stated, alone = rows.T
        # One in a thousand is taken for another's by chance.
        self.assertLessEqual(noticed.sum(), 1 + len(rows) // 200)
        room = 3 * math.sqrt(0.95 * 0.05 / len(rows))
        share = float(np.mean(off <= stated))
        self.assertTrue(0.93 - room <= share <= 0.97 + room, f"{share:.3f} of {len(rows)}")
        self.assertLess(float(np.median(stated / alone)), 0.85)

    def test_a_zoomed_picture_is_noticed_or_does_little_harm(self) -> None:
        rows = self.measured(1.5)
        noticed, off, stated, _ = rows.T
        self.assertGreaterEqual(float(noticed.mean()), 0.85)
        self.assertGreaterEqual(float(np.mean(off <= stated)), 0.9)
        self.assertLess(float(off.max()), 0.01)
