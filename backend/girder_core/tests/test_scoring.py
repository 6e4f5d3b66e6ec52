import math
import unittest

from girder_core.errors import GirderError
from girder_core.scoring import (
    _SCHOOLS,
    _TRIAL_RULES,
    BreachPolicy,
    Rules,
    School,
    Score,
    TrialRule,
    Unranked,
    score,
)
from girder_core.tests.support import NUT_KG, Script, broke, ran_out, setup
from girder_core.uncertainty import Quantity


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

    def test_every_rule_and_school_has_its_function(self) -> None:
        self.assertEqual({rule: f.__name__ for rule, f in _TRIAL_RULES.items()},
                         {TrialRule.BEST: "_best", TrialRule.MEAN: "_mean", TrialRule.LAST: "_last"})  # fmt: skip
        self.assertEqual({school: f.__name__ for school, f in _SCHOOLS.items()},
                         {School.MOST_HELD: "_most_held", School.STRENGTH_TO_WEIGHT: "_times_own_weight",
                          School.THRESHOLD: "_threshold", School.TALLEST: "_tallest", School.CAPACITY: "_capacity",
                          School.SURVIVED: "_survived", School.LEFT_STANDING: "_left_standing"})  # fmt: skip
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
