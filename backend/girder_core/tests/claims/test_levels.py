"""What is varied: no effect is called clear in 2.5 % at most, an effect that is there is found, bounds hold."""

import math
import unittest

import numpy as np

from girder_core.tests import tries
from girder_core.tests.claims.classes import varied

CLASSES = tries(32)


class Levels(unittest.TestCase):
    def test_no_effect_is_hardly_ever_called_clear(self) -> None:
        # Many and few, once each and repeated, alike and unlike spreads within levels: 2.5 % in the long run; of these
        # classes no more than that and three standard errors.
        clear = likely = classes = 0
        for number, (designs, scatter, spreads, trials) in enumerate((
            ((4, 4), 0.2, (0.2, 0.2), 1), ((3, 3), 0.1, (0.5, 0.5), 3), ((2, 6), 0.2, (0.5, 0.1), 1),
            ((3, 3, 3), 0.2, (0.3, 0.3, 0.3), 2), ((8, 8), 0.35, (0.3, 0.3), 1),
        )):  # fmt: skip
            dice = np.random.default_rng(number)
            for _ in range(CLASSES):
                effect = varied(designs, (0.0,) * len(designs), scatter, spreads, trials, dice)
                clear, likely, classes = (
                    clear + (effect.sure == "clear"),
                    likely + (effect.sure == "likely"),
                    classes + 1,
                )
        room = 3 * (0.025 * 0.975 / classes) ** 0.5
        self.assertLess(clear / classes, 0.025 + room)
        self.assertLess(likely / classes, 0.12 + 3 * (0.12 * 0.88 / classes) ** 0.5)

    def test_an_effect_that_is_there_is_found_and_its_bounds_hold(self) -> None:
        dice, found, held = np.random.default_rng(9), 0, 0
        for _ in range(CLASSES):
            effect = varied((4, 4), (0.0, 0.6), 0.15, (0.2, 0.2), 2, dice)
            found += effect.best == "1" and effect.sure in ("clear", "likely")
            assert effect.times is not None
            # Of the level that came out best over the other; the other way round where that is the wrong one.
            true = math.exp(0.6) if effect.best == "1" else math.exp(-0.6)
            held += effect.times.low <= true <= effect.times.high
        self.assertGreater(found / CLASSES, 0.7)
        self.assertGreater(held / CLASSES, 0.9 - 3 * (0.09 / CLASSES) ** 0.5)
