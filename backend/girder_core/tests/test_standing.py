"""Where a design stands: what check-in waits for, whether it was tested, which version counts."""

import unittest

from girder_core.families import (
    AWAY_WORDS,
    FAMILIES,
    TO_BE_TESTED,
    Away,
    DesignState,
    Standing,
    TeamStage,
    counting_version,
    family_of,
    let_to_bench,
    still_to_do,
    team_stage,
)
from girder_core.ground import GirderError
from girder_core.measure import Quantity
from girder_core.results import BreachPolicy
from girder_core.tests.support import Script, broke, ran_out, setup
from girder_core.trial import EventKind, TrialResult, replay

BRIDGE, WALL = family_of("bridge"), family_of("wall")


def running() -> TrialResult:
    return replay([], setup())


def void() -> TrialResult:
    return Script().add(EventKind.VOID, reason="knocked").result(setup())


def state(checked_in: bool, *trials: TrialResult) -> DesignState:
    return Standing(BRIDGE, checked_in, (), trials).state


class State(unittest.TestCase):
    def test_each_word_has_its_moment(self) -> None:
        self.assertEqual(state(False), DesignState.WAITING)
        self.assertEqual(state(True), DesignState.CHECKED_IN)
        self.assertEqual(state(True, running()), DesignState.ON_BENCH)
        self.assertEqual(state(True, broke(10)), DesignState.BROKE)
        self.assertEqual(state(True, ran_out(10)), DesignState.RAN_OUT)
        self.assertEqual(state(True, void()), DesignState.VOID)

    def test_the_latest_that_counts_is_told_and_an_open_trial_before_all(self) -> None:
        self.assertEqual(state(True, broke(10), ran_out(12)), DesignState.RAN_OUT)
        # A void trial after one that counts takes nothing away.
        self.assertEqual(state(True, broke(10), void()), DesignState.BROKE)
        self.assertEqual(state(True, broke(10), running()), DesignState.ON_BENCH)

    def test_who_is_away_is_told_till_there_is_a_result(self) -> None:
        for why, told in ((Away.ABSENT, DesignState.ABSENT), (Away.WITHDRAWN, DesignState.WITHDRAWN)):
            for checked_in, trials in ((False, ()), (True, (void(),))):
                gone = Standing(BRIDGE, checked_in, (), trials, why)
                self.assertEqual((gone.state, gone.expected), (told, False))
                self.assertNotIn(gone.state, TO_BE_TESTED)
            for trial in (broke(10), running()):
                there = Standing(BRIDGE, True, (), (trial,), why)
                self.assertTrue(there.expected)
        self.assertEqual(set(AWAY_WORDS), set(Away))

    def test_who_still_waits_for_a_test_that_counts(self) -> None:
        self.assertEqual(TO_BE_TESTED, {DesignState.WAITING, DesignState.CHECKED_IN, DesignState.VOID})


class Tested(unittest.TestCase):
    def test_a_trial_that_counts(self) -> None:
        for trials, tested in (((), False), ((void(),), False), ((running(),), False), ((void(), broke(3)), True)):
            self.assertEqual(Standing(BRIDGE, True, ("gap",), trials).tested, tested, trials)

    def test_readings_tell_a_result_where_nothing_is_loaded_and_only_after_check_in(self) -> None:
        both = ("pieces", "left")
        self.assertTrue(Standing(WALL, True, both, ()).tested)
        self.assertEqual(Standing(WALL, True, both, ()).state, DesignState.MEASURED)
        self.assertFalse(Standing(WALL, False, both, ()).tested)
        self.assertFalse(Standing(WALL, True, ("pieces",), ()).tested)
        # What is loaded has its result from the bench, whatever was measured.
        for family in FAMILIES.values():
            if family.loaded:
                self.assertFalse(Standing(family, True, [spec.key for spec in family.readings], ()).tested, family.key)


class Version(unittest.TestCase):
    def test_the_latest_that_was_tested_else_the_latest(self) -> None:
        for tested, counts in (([True], 0), ([False], 0), ([True, False], 0), ([True, True], 1), ([False, False], 1),
                               ([False, True, False], 1)):  # fmt: skip
            self.assertEqual(counting_version(tested), counts, tested)


class Stage(unittest.TestCase):
    def test_a_design_that_waits_is_read_about_and_then_built(self) -> None:
        self.assertEqual(team_stage(DesignState.WAITING, False), TeamStage.BRIEF)
        self.assertEqual(team_stage(DesignState.WAITING, True), TeamStage.BUILD)

    def test_every_state_has_one_whatever_the_clock_says(self) -> None:
        for state in set(DesignState) - {DesignState.WAITING}:
            stages = {team_stage(state, building) for building in (False, True)}
            self.assertEqual(len(stages), 1, state)
            # Who may still be tested is not told a result, and the other way round.
            self.assertEqual(stages == {TeamStage.READY}, state in TO_BE_TESTED, state)


class CheckIn(unittest.TestCase):
    READINGS = {key: Quantity(value) for key, value in
                {"gap": 0.3, "overlap_left": 0.03, "overlap_right": 0.03, "tape": 0.1}.items()}  # fmt: skip
    ANSWERS = {"stands": True, "piers": False, "papered": False}
    SETUP = {"gap_m": 0.3, "overlap_max_m": 0.05, "tape_max_m": 0.2, "hold_s": 5.0}

    def refused(self, readings: object, answers: object, policy: BreachPolicy = BreachPolicy.NOTE) -> GirderError:
        with self.assertRaises(GirderError) as caught:
            let_to_bench(BRIDGE, self.SETUP, readings, answers, policy)  # type: ignore[arg-type]
        return caught.exception

    def test_what_is_still_to_do_is_named_in_the_order_of_the_sheet(self) -> None:
        every = still_to_do(BRIDGE, (), {})
        needed = [spec.label for spec in BRIDGE.readings if spec.needed and not spec.may_follow]
        self.assertEqual(list(every), needed + [question.text for question in BRIDGE.questions])
        self.assertEqual(still_to_do(BRIDGE, self.READINGS, self.ANSWERS), ())
        # The own weight can follow after the test, so nobody waits for it.
        self.assertNotIn("self_mass", self.READINGS)

    def test_something_missing(self) -> None:
        error = self.refused({k: v for k, v in self.READINGS.items() if k != "gap"}, self.ANSWERS)
        self.assertEqual((error.code, len(error.data["missing"])), ("check_in_incomplete", 1))

    def test_what_does_not_stand_is_not_tested(self) -> None:
        self.assertEqual(self.refused(self.READINGS, {**self.ANSWERS, "stands": False}).code, "nothing_to_test")

    def test_a_broken_rule_holds_back_only_where_the_recipe_says_so(self) -> None:
        broken = {**self.ANSWERS, "piers": True}
        for policy in (BreachPolicy.NOTE, BreachPolicy.PENALTY):
            passed = let_to_bench(BRIDGE, self.SETUP, self.READINGS, broken, policy)
            self.assertEqual([rule.key for rule in passed], ["piers"])
        error = self.refused(self.READINGS, broken, BreachPolicy.REFUSE)
        self.assertEqual(error.code, "breach_refused")
        self.assertIn("Mend it", error.sentence)
        kept = let_to_bench(BRIDGE, self.SETUP, self.READINGS, self.ANSWERS, BreachPolicy.REFUSE)
        self.assertEqual(kept, ())


class Arrangement(unittest.TestCase):
    def test_the_first_until_a_trial_counts_then_what_most_had(self) -> None:
        first, second = (way.key for way in BRIDGE.bench.arrangements[:2])
        self.assertEqual(BRIDGE.usual_arrangement([]), first)
        self.assertEqual(BRIDGE.usual_arrangement([second, second, first]), second)
        self.assertEqual(family_of("boat").usual_arrangement([]), "")
