import math
import unittest
from typing import Any

from girder_core.ground import GirderError
from girder_core.measure import Quantity
from girder_core.results import (
    BreachPolicy,
    Candidate,
    Entry,
    Facts,
    Rules,
    School,
    Score,
    TieRule,
    TrialRule,
    amount,
    best_load,
    compare,
    needs_trial,
    score,
    score_all,
)
from girder_core.results.scoring import _SCHOOLS, _TRIAL_RULES, Unranked
from girder_core.tests.support import NUT_KG, Script, broke, ran_out, setup
from girder_core.trial import Interval, replay


def rules(school: School = School.MOST_HELD, trial: TrialRule = TrialRule.BEST, **more: object) -> Rules:
    return Rules(school, trial, more.pop("policy", BreachPolicy.NOTE), **more)  # type: ignore[arg-type]


def scored(outcome: Score | Unranked) -> Score:
    assert isinstance(outcome, Score), outcome
    return outcome


class TrialRules(unittest.TestCase):
    trials = (broke(50), broke(40), broke(60, step=6))

    def nuts(self, rule: TrialRule) -> tuple[float, float, float]:
        got = scored(score(self.trials, None, rules(trial=rule), False))
        return tuple(round(v / NUT_KG, 6) for v in (got.value, got.interval.low, got.interval.high))  # type: ignore[return-value]

    def test_best_mean_last(self) -> None:
        self.assertEqual(self.nuts(TrialRule.BEST), (60, 60, 66))
        self.assertEqual(self.nuts(TrialRule.MEAN), (50, 50, round((51 + 41 + 66) / 3, 6)))
        self.assertEqual(self.nuts(TrialRule.LAST), (60, 60, 66))

    def test_mean_with_a_run_out_is_at_least(self) -> None:
        got = scored(score([broke(50), ran_out(70)], None, rules(trial=TrialRule.MEAN), False))
        self.assertTrue(got.at_least)
        self.assertAlmostEqual(got.value, 60 * NUT_KG)

    def test_best_of_a_failure_and_a_lighter_run_out_stays_open_above(self) -> None:
        got = scored(score([broke(50), ran_out(30)], None, rules(), False))
        self.assertEqual((got.at_least, round(got.value / NUT_KG)), (True, 50))

    def test_the_best_load_is_the_score_by_the_best_trial(self) -> None:
        trials = [broke(30), ran_out(20), broke(10, 4)]
        best = best_load(trials)
        assert best is not None
        same = scored(score(trials, None, rules(), False))
        self.assertEqual((best.held_kg, best.interval, best.at_least), (same.held_kg, same.held_interval, True))
        # All masses of this kit are exact, so the bounds are the same without their uncertainty.
        self.assertEqual(best.nominal, best.interval)
        alone = best_load([broke(10, 4)])
        assert alone is not None
        # 10 nuts of 16 g, and 4 more.
        self.assertAlmostEqual(alone.nominal.low, 0.160)
        self.assertAlmostEqual(alone.nominal.high, 0.224)
        self.assertIsNone(best_load([]))
        self.assertIsNone(best_load([replay([], setup())]))

    def test_every_rule_and_school_has_its_function(self) -> None:
        self.assertEqual({rule: f.__name__ for rule, f in _TRIAL_RULES.items()},
                         {TrialRule.BEST: "_best", TrialRule.MEAN: "_mean", TrialRule.LAST: "_last"})  # fmt: skip
        self.assertEqual({school: f.__name__ for school, f in _SCHOOLS.items()},
                         {School.MOST_HELD: "_most_held", School.STRENGTH_TO_WEIGHT: "_times_own_weight",
                          School.THRESHOLD: "_threshold", School.TALLEST: "_tallest", School.CAPACITY: "_capacity",
                          School.SURVIVED: "_survived", School.LEFT_STANDING: "_left_standing",
                          School.SPARED: "_spared", School.FOR_ITS_PIECES: "_for_its_pieces"})  # fmt: skip
        # A mix is made of the others and has none of its own.
        self.assertEqual(set(School) - set(_SCHOOLS), {School.MIX})


class Schools(unittest.TestCase):
    def test_strength_to_weight_by_hand(self) -> None:
        # Held 50 nuts of 16 g = 0.8 kg, broke at 51 = 0.816 kg; own weight 40 g ± 1 g.
        got = scored(score([broke(50)], Quantity(0.040, 0.001), rules(School.STRENGTH_TO_WEIGHT), False))
        self.assertAlmostEqual(got.value, 20.0)
        self.assertAlmostEqual(got.interval.low, 20.0 - 2 * 20.0 / 40)
        self.assertAlmostEqual(got.interval.high, 20.4 + 2 * 20.4 / 40)

    def test_a_run_out_ratio_is_open_above(self) -> None:
        got = scored(score([ran_out(50)], Quantity(0.040), rules(School.STRENGTH_TO_WEIGHT), False))
        self.assertTrue(math.isinf(got.interval.high) and got.at_least)

    def test_no_own_weight_no_ratio(self) -> None:
        got = score([broke(50)], None, rules(School.STRENGTH_TO_WEIGHT), False)
        self.assertEqual(got, Unranked("no_self_mass", "Own weight was not taken, so there is no ratio."))


class Breaches(unittest.TestCase):
    def test_policies(self) -> None:
        refused = score([broke(50)], None, rules(policy=BreachPolicy.REFUSE), True)
        self.assertEqual(getattr(refused, "code", None), "breach")
        fined = scored(score([broke(50)], None, rules(policy=BreachPolicy.PENALTY, penalty=0.25), True))
        self.assertAlmostEqual(fined.value, 0.75 * 50 * NUT_KG)
        self.assertAlmostEqual(fined.interval.high, 0.75 * 51 * NUT_KG)
        self.assertTrue(fined.penalised)
        noted = scored(score([broke(50)], None, rules(), True))
        self.assertAlmostEqual(noted.value, 50 * NUT_KG)

    def test_penalty_range(self) -> None:
        with self.assertRaises(GirderError):
            Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.PENALTY, 1.0)


class NotScored(unittest.TestCase):
    def test_reasons(self) -> None:
        void = Script().hold("platform").void().result(setup())
        running = Script().hold("platform").result(setup())
        for trials, code in [((), "untested"), ((void,), "void"), ((void, running), "running")]:
            self.assertEqual(getattr(score(trials, None, rules(), False), "code", None), code)

    def test_a_void_trial_is_left_out_of_the_mean(self) -> None:
        void = Script().hold("platform").void().result(setup())
        got = scored(score([void, broke(50)], None, rules(trial=TrialRule.MEAN), False))
        self.assertEqual((got.trials, round(got.value / NUT_KG)), (1, 50))


MEASURED = Quantity(1.20, 0.001)


class OtherSchools(unittest.TestCase):
    def rules(self, school: School, **changes: Any) -> Rules:
        return Rules(school, TrialRule.BEST, BreachPolicy.NOTE, **changes)

    def test_a_threshold_is_a_margin(self) -> None:
        # Held 0.8 kg, broke at 0.816 kg, asked for 0.5 kg.
        got = scored(score([broke(50)], None, self.rules(School.THRESHOLD, minimum_kg=0.5), False))
        self.assertAlmostEqual(got.value, 1.6)
        self.assertAlmostEqual(got.interval.high, 0.816 / 0.5)
        with self.assertRaises(GirderError) as caught:
            self.rules(School.THRESHOLD)
        self.assertEqual(caught.exception.code, "threshold_missing")

    def test_the_tallest_needs_no_trial_unless_it_has_to_hold(self) -> None:
        free, loaded = self.rules(School.TALLEST), self.rules(School.TALLEST, minimum_kg=1.0)
        facts = Facts(size=MEASURED)
        got = scored(score([], None, free, False, facts))
        self.assertEqual((got.value, got.at_least), (1.20, False))
        self.assertAlmostEqual(got.interval.low, 1.198)
        self.assertEqual(needs_trial(free), False)
        self.assertIsInstance(score([], None, loaded, False, facts), Unranked)
        weak = score([broke(50)], None, loaded, False, facts)
        self.assertEqual(weak.code if isinstance(weak, Unranked) else "", "below_minimum")
        self.assertIsInstance(score([], None, free, False), Unranked)

    def test_capacity_counts_what_held_and_a_full_deck_is_the_end_of_it(self) -> None:
        rules = self.rules(School.CAPACITY)
        got = scored(score([broke(20)], None, rules, False))
        # 20 held and the one more that broke it.
        self.assertEqual((got.value, got.interval), (20, Interval(20, 21)))
        full = scored(score([ran_out(15, "container_full")], None, rules, False))
        self.assertEqual((full.interval, full.at_least), (Interval(15, 15), False))
        self.assertTrue(scored(score([ran_out(15)], None, rules, False)).at_least)

    def test_survived_and_left_standing_are_read(self) -> None:
        facts = Facts(survived=Quantity(4.0), share_left=Quantity(0.75))
        self.assertEqual(scored(score([], None, self.rules(School.SURVIVED), False, facts)).value, 4)
        self.assertEqual(scored(score([], None, self.rules(School.LEFT_STANDING), False, facts)).value, 0.75)
        for school in (School.SURVIVED, School.LEFT_STANDING):
            missing = score([], None, self.rules(school), False)
            self.assertEqual(missing.code if isinstance(missing, Unranked) else "", "not_measured")

    def test_more_left_than_there_was_is_not_ranked_and_breaks_nothing(self) -> None:
        left = self.rules(School.LEFT_STANDING)
        # 25 of 24 pieces; 203 mm of 200 mm, each read to 1 mm.
        tape = 0.001 / math.sqrt(12)
        for share in (Quantity(25 / 24), Quantity(0.203, tape) / Quantity(0.200, tape)):
            alone = score([], None, left, False, Facts(share_left=share))
            assert isinstance(alone, Unranked)
            self.assertEqual(alone.code, "more_than_before")
        # 200.2 mm of 200 mm is within the doubt of the tape: all of it stands.
        close = scored(score([], None, left, False, Facts(share_left=Quantity(0.2002, tape) / Quantity(0.2, tape))))
        self.assertEqual((close.value, close.interval.high), (1.0, 1.0))

    def test_a_mix_by_hand(self) -> None:
        # Held 0.8 and 0.4 kg with 40 and 10 g of own weight: 20 and 40 times. Weights 3 to 1.
        rules = self.rules(School.MIX, weights={School.MOST_HELD: 3, School.STRENGTH_TO_WEIGHT: 1})
        first, two = score_all(
            [Candidate([broke(50)], Quantity(0.040)), Candidate([broke(25)], Quantity(0.010))], rules
        )
        self.assertAlmostEqual(scored(first).value, 75 * 1 + 25 * 0.5)
        self.assertAlmostEqual(scored(two).value, 75 * 0.5 + 25 * 1)
        self.assertAlmostEqual(scored(first).shares[School.MOST_HELD], 75)
        self.assertLess(scored(first).interval.low, scored(first).value + 1e-9)
        lacking = score_all([Candidate([broke(50)], None)], rules)[0]
        self.assertEqual(lacking.code if isinstance(lacking, Unranked) else "", "no_self_mass")

    def test_weights_that_make_no_sense(self) -> None:
        for weights, code in (
            ({School.MOST_HELD: 0.0}, "weights_sum_to_zero"),
            ({}, "weights_sum_to_zero"),
            ({School.MOST_HELD: -1.0, School.CAPACITY: 2.0}, "weight_negative"),
            ({School.MIX: 1.0}, "mix_in_mix"),
        ):
            with self.assertRaises(GirderError) as caught:
                self.rules(School.MIX, weights=weights)
            self.assertEqual(caught.exception.code, code)

    def test_scores_in_words(self) -> None:
        for school, value, words in (
            (School.MOST_HELD, 1.24, "1.240 kg"), (School.STRENGTH_TO_WEIGHT, 41.24, "41.2 times its own weight"),
            (School.TALLEST, 1.2, "1.2 m"), (School.CAPACITY, 31, "31 pieces"), (School.SURVIVED, 3, "level 3"),
            (School.LEFT_STANDING, 0.75, "75 % left standing"),
        ):  # fmt: skip
            self.assertEqual(amount(value, self.rules(school)), words)

    def test_ties(self) -> None:
        entries = [Entry("a", "A", (broke(10),), Quantity(0.05)), Entry("b", "B", (broke(10),), Quantity(0.04))]
        lighter = compare(entries, self.rules(School.MOST_HELD))
        self.assertEqual([(p.entry.name, p.place) for p in lighter.places], [("B", 1), ("A", 2)])
        shared = compare(entries, self.rules(School.MOST_HELD, tie_rule=TieRule.SHARED))
        self.assertEqual([p.place for p in shared.places], [1, 1])

    def test_a_measured_comparison_speaks_of_measuring(self) -> None:
        entries = [Entry(n, n, (), None, facts=Facts(size=Quantity(h, 0.0003))) for n, h in (("A", 1.0), ("B", 1.2))]
        comparison = compare(entries, self.rules(School.TALLEST))
        self.assertEqual(comparison.headline, "B won today.")
        self.assertIn("B reached 1.2 m.", comparison.explanation)
        self.assertIn("B would win about", comparison.again)
