"""The structure to practise on: the same for everybody, breaking as often as promised, never silently."""

import unittest

from scipy import stats

from girder_core.ground import GirderError
from girder_core.trial import behave, drop_rounds, round_range, shake_rounds, specimen, stand_round, throw_rounds
from girder_core.trial.rehearsal import TEN_PERCENT

WORDS = {"crimp": "Crimped", "lean": "Leaning", "crack": "Crack heard or seen"}


class Rehearsals(unittest.TestCase):
    def test_the_same_seed_gives_the_same_structure(self) -> None:
        first, again, other = (specimen(1, 2, ["crimp"], ["lean", "crack"], seed) for seed in (7, 7, 8))
        self.assertEqual(first, again)
        self.assertNotEqual(first.breaks_at, other.breaks_at)

    def test_one_in_ten_breaks_below_the_range_and_one_in_ten_above(self) -> None:
        loads = [specimen(1, 2, ["crimp"], [], seed).breaks_at for seed in range(3000)]
        # Three standard deviations of a binomial count of 3000 at a tenth are 49.
        self.assertAlmostEqual(sum(load < 1 for load in loads), 300, delta=50)
        self.assertAlmostEqual(sum(load > 2 for load in loads), 300, delta=50)
        self.assertAlmostEqual(TEN_PERCENT, float(stats.norm.ppf(0.9)), places=12)

    def test_it_shows_signs_before_it_goes(self) -> None:
        drawn = specimen(1, 2, ["crimp"], ["lean", "crack"], 3)
        (first, sign), (second, _) = drawn.signs
        self.assertTrue(0.45 * drawn.breaks_at <= first <= second < drawn.breaks_at)
        self.assertIsNone(behave(drawn, 0.9 * first, WORDS).sign)
        self.assertEqual(behave(drawn, first, WORDS).sign, sign)
        gone = behave(drawn, drawn.breaks_at, WORDS)
        self.assertTrue(gone.broke)
        self.assertEqual(gone.says, "It gives way: crimped.")

    def test_nonsense_is_refused(self) -> None:
        for low, high, modes in ((0, 1, ["crimp"]), (2, 1, ["crimp"]), (1, 2, [])):
            with self.assertRaises(GirderError):
                specimen(low, high, modes, [], 1)

    def test_in_rounds_a_tower_seldom_falls_and_a_wall_never(self) -> None:
        for plan, least, most in (
            (stand_round(20), 0.05, 0.45), (shake_rounds(0.03, 1, 0.5, 6, 5), 0.75, 0.99),
            (drop_rounds(0.2, 0.15, 1.4), 0.75, 0.99), (throw_rounds(6, None), 0.0, 0.01),
        ):  # fmt: skip
            low, high = round_range(plan)
            gave_way = sum(
                behave(specimen(low, high, ["crimp"], [], seed), plan.planned[-1].size, WORDS).broke
                for seed in range(1000)
            )
            self.assertTrue(least <= gave_way / 1000 <= most, (plan.procedure.key, gave_way))
