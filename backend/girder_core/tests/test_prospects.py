"""What is to be expected again, under every way of scoring; figures worked by hand, trials invented."""

import unittest
from dataclasses import replace

from girder_core.measure import Quantity, System, times_in_ten
from girder_core.results import (
    BreachPolicy,
    Candidate,
    Entry,
    Facts,
    Prospect,
    Rules,
    School,
    TrialRule,
    compare,
    pairs_compared,
    prospects,
    ranking_chart,
    worth_testing,
)
from girder_core.tests.support import broke, ran_out

MOST = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)


def by(school: School, *candidates: Candidate, **rules: object) -> tuple[Prospect, ...]:
    return prospects(candidates, replace(MOST, school=school, **rules))  # type: ignore[arg-type]


class Schools(unittest.TestCase):
    def test_chances_of_coming_first_add_up(self) -> None:
        told = by(School.MOST_HELD, *[Candidate((broke(n),)) for n in (40, 36, 30, 12)])
        self.assertAlmostEqual(sum(prospect.first for prospect in told), 1.0)
        self.assertAlmostEqual(sum(prospect.best for prospect in told), 1.0)
        self.assertIsNone(told[-1].better)
        self.assertEqual((by(School.MOST_HELD), by(School.MOST_HELD, Candidate((broke(4),)))[0].first), ((), 1.0))

    def test_a_ratio_turns_the_order_round(self) -> None:
        heavy = Candidate((broke(40),) * 3, Quantity(0.08, 0.0001))
        light = Candidate((broke(30),) * 3, Quantity(0.02, 0.0001))
        self.assertGreater(by(School.MOST_HELD, heavy, light)[0].first, 0.8)
        self.assertLess(by(School.STRENGTH_TO_WEIGHT, heavy, light)[0].first, 0.1)

    def test_an_own_weight_that_is_hardly_known_leaves_a_ratio_open(self) -> None:
        def ahead(off_kg: float) -> float:
            tern = Candidate((broke(40),) * 3, Quantity(0.040, off_kg))
            auk = Candidate((broke(30),) * 3, Quantity(0.040, off_kg))
            return by(School.STRENGTH_TO_WEIGHT, tern, auk)[0].better or 0.0

        self.assertGreater(ahead(0.0001), ahead(0.012) + 0.05)

    def test_a_penalty_counts(self) -> None:
        odd = Candidate((broke(40),) * 3, None, True)
        fair = Candidate((broke(38),) * 3)
        plain = by(School.MOST_HELD, odd, fair)[0].first
        fined = by(School.MOST_HELD, odd, fair, breach_policy=BreachPolicy.PENALTY, penalty=0.5)[0].first
        self.assertGreater(plain, fined + 0.3)

    def test_a_full_deck_is_the_end_of_the_count_and_no_more_load_is_not(self) -> None:
        other = Candidate((broke(30),) * 3)
        full = by(School.CAPACITY, other, Candidate((ran_out(20, "container_full"),) * 3))
        short = by(School.CAPACITY, other, Candidate((ran_out(20),) * 3))
        self.assertLess(full[1].best, 0.05)
        self.assertGreater(short[1].best, 0.3)

    def test_what_is_measured_once_is_one_reading_however_many_trials(self) -> None:
        def tall(height: float, trials: int) -> Candidate:
            facts = Facts(size=Quantity(height, 0.0003))
            return Candidate((broke(1),) * trials, None, False, facts, (facts,) * trials)

        once = by(School.TALLEST, tall(1.2, 1), tall(1.0, 1))
        often = by(School.TALLEST, tall(1.2, 5), tall(1.0, 5))
        self.assertEqual(once[0].better, often[0].better)
        left = by(School.LEFT_STANDING, *[Candidate((), facts=Facts(share_left=Quantity(s, 0.02))) for s in (1.0, 0.3)])
        self.assertGreater(left[0].first, 0.6)

    def test_a_mix_weighs_its_parts(self) -> None:
        strong = Candidate((broke(60),) * 3, Quantity(0.1))
        light = Candidate((broke(20),) * 3, Quantity(0.01))
        weights = {School.MOST_HELD: 9.0, School.STRENGTH_TO_WEIGHT: 1.0}
        self.assertGreater(by(School.MIX, strong, light, weights=weights)[0].first, 0.9)
        weights = {School.MOST_HELD: 1.0, School.STRENGTH_TO_WEIGHT: 9.0}
        self.assertLess(by(School.MIX, strong, light, weights=weights)[0].first, 0.1)


class Pairs(unittest.TestCase):
    def test_as_the_neighbours_of_a_comparison(self) -> None:
        candidates = [Candidate((broke(n),) * 2) for n in (40, 33, 20)]
        told = prospects(candidates, MOST)
        ((better, ahead),) = pairs_compared(candidates, [(0, 1)], MOST)
        self.assertEqual((better, ahead), (told[0].better, told[0].ahead))
        ((back, _),) = pairs_compared(candidates, [(1, 0)], MOST)
        self.assertAlmostEqual(better + back, 1.0, delta=1e-3)


class Worth(unittest.TestCase):
    def test_the_trial_that_tells_most_is_of_those_who_may_be_the_best(self) -> None:
        candidates = [Candidate((broke(n),)) for n in (40, 38, 5)]
        told = worth_testing(candidates, MOST)
        assert told is not None
        self.assertEqual(set(told.running), {0, 1})
        self.assertIn(told.design, told.running)
        self.assertTrue(told.now <= told.then <= 1 and told.now <= told.after <= 1)
        self.assertIsNone(worth_testing(candidates[:1], MOST))

    def test_in_words(self) -> None:
        said = [times_in_ten(chance) for chance in (0.0, 0.07, 0.55, 0.62, 0.96, 0.995)]
        self.assertEqual(said, ["hardly ever", "about once in 10 times", "about 6 times in 10", "about 6 times in 10",
                                "more than 9 times in 10", "nearly always"])  # fmt: skip


class Passing(unittest.TestCase):
    RULES = Rules(School.THRESHOLD, TrialRule.BEST, BreachPolicy.NOTE, minimum_kg=0.8)

    def entries(self) -> list[Entry]:
        # 16 g a nut: 1.12 kg, 0.8 kg, just, and 0.4 kg.
        tested = (("Tern", 70), ("Auk", 50), ("Rail", 25))
        return [Entry(name, name, (broke(nuts),), Quantity(0.04)) for name, nuts in tested]

    def test_each_has_a_chance_of_its_own_to_hold_the_target(self) -> None:
        comparison = compare(self.entries(), self.RULES)
        passes = [place.prospect.passes or 0.0 for place in comparison.places]
        self.assertGreater(passes[0], 0.75)
        # Just above the target on the day, it is about as likely to fall below it the next time.
        self.assertAlmostEqual(passes[1], 0.5, delta=0.15)
        self.assertLess(passes[2], 0.15)
        about = f"about {round(sum(passes))} of 3 designs would hold the target."
        self.assertEqual(comparison.again, f"Built and tested again, {about}")
        labels = {entry.key: entry.name for entry in self.entries()}
        chart = ranking_chart(comparison, self.RULES, labels, {}, System.METRIC)
        self.assertIn("would pass again", [shape.text for shape in chart.drawn])

    def test_where_no_target_decides_there_is_none(self) -> None:
        (place, *_) = compare(self.entries(), MOST).places
        self.assertIsNone(place.prospect.passes)
