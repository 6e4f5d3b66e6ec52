"""Towers that stand, levels of shaking, drops and throws: from events to a result, and what is refused."""

import math
import unittest
from dataclasses import replace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from girder_core.families import FAMILIES, family_of
from girder_core.ground import GirderError
from girder_core.kit import Kit
from girder_core.measure import Kind, Plausible, Quantity
from girder_core.results import BreachPolicy, Candidate, Rules, School, Score, TrialRule, score_all
from girder_core.results.scoring import Unranked
from girder_core.safety import AgeBand, round_caution
from girder_core.tests.support import kit
from girder_core.trial import (
    DROPPING,
    LOADING,
    SHAKING,
    STANDING,
    THROWING,
    BenchMeasure,
    Event,
    EventKind,
    Interval,
    Outcome,
    Procedure,
    Shows,
    TrialResult,
    TrialSetup,
    admit,
    counted_rounds,
    drop_rounds,
    off_centre,
    replay,
    seat_offset,
    shake_rounds,
    stand_round,
    throw_rounds,
)
from girder_core.trial.rounds import SEATS

NO_LOAD = Kit(())
SHAKE = family_of("shake_tower").trial_setup(
    {"stroke_m": 0.03, "frequency_hz": 1.0, "frequency_step_hz": 0.5, "levels": 3, "hold_s": 10}, NO_LOAD
)
DROP = family_of("drop_house").trial_setup({"first_drop_m": 0.2, "drop_step_m": 0.15, "drop_max_m": 0.5}, NO_LOAD)
ATTACK = family_of("wall").trial_setup({"throws": 3}, NO_LOAD)
MAST = family_of("tower").trial_setup({"hold_s": 20}, NO_LOAD)


def rules(school: School, trial_rule: TrialRule = TrialRule.BEST, minimum_kg: float | None = None) -> Rules:
    return Rules(school, trial_rule, BreachPolicy.NOTE, minimum_kg=minimum_kg)


class Told:
    """Events as they are told, each admitted in its turn."""

    def __init__(self, setup: TrialSetup) -> None:
        self.setup, self.events = setup, [Event("e0", 0, EventKind.ROUND)][:0]

    def add(self, kind: EventKind, **data: Any) -> "Told":
        event = Event(f"e{len(self.events) + 1}", len(self.events) + 1, kind, data)
        admit(self.events, event, self.setup)
        self.events.append(event)
        return self

    def survive(self, times: int = 1, waited_s: float = 99) -> "Told":
        for _ in range(times):
            self.add(EventKind.ROUND).add(EventKind.SETTLE, waited_s=waited_s)
        return self

    def result(self) -> TrialResult:
        return replay(self.events, self.setup)

    def refused(self, kind: EventKind, **data: Any) -> str:
        before = len(self.events)
        try:
            self.add(kind, **data)
        except GirderError as error:
            assert len(self.events) == before
            return error.code
        raise AssertionError("it was taken")


class Plans(unittest.TestCase):
    def test_levels_of_shaking(self) -> None:
        # Half the stroke times (2πf)², worked by hand: 0.015 m at 1 Hz is 0.592 m/s², at 2 Hz four times that.
        first, second, third = shake_rounds(0.03, 1.0, 0.5, 3, 10).planned
        self.assertAlmostEqual(first.acceleration_m_s2, 0.592, places=3)
        self.assertEqual({first.stroke_m, third.stroke_m}, {0.03})
        self.assertAlmostEqual(third.acceleration_m_s2, 4 * first.acceleration_m_s2)
        self.assertEqual([planned.size for planned in (first, second, third)], [1, 2, 3])
        self.assertEqual(second.frequency_hz, 1.5)

    def test_drops_end_at_or_below_the_highest(self) -> None:
        self.assertEqual([planned.size for planned in drop_rounds(0.2, 0.15, 0.5).planned], [0.2, 0.35, 0.5])
        self.assertEqual([planned.size for planned in drop_rounds(0.2, 0.15, 0.49).planned], [0.2, 0.35])
        self.assertEqual([planned.size for planned in drop_rounds(0.3, 0.15, 0.2).planned], [0.3])

    @given(st.floats(0.02, 2), st.floats(0.01, 1), st.floats(0.05, 3))
    def test_each_drop_is_higher_and_none_is_too_high(self, first: float, step: float, highest: float) -> None:
        plan = drop_rounds(first, step, highest)
        sizes = [planned.size for planned in plan.planned]
        self.assertEqual(sizes, sorted(set(sizes)))
        self.assertLessEqual(sizes[-1], plan.most + 1e-6)

    def test_nonsense_is_refused(self) -> None:
        for bad in (
            lambda: stand_round(0), lambda: shake_rounds(0, 1, 1, 3, 5), lambda: shake_rounds(0.03, 1, 1, 0, 5),
            lambda: drop_rounds(-1, 0.1, 1), lambda: drop_rounds(0.1, 0, 1), lambda: throw_rounds(0, None),
            lambda: throw_rounds(3, -2.0),
        ):  # fmt: skip
            with self.assertRaises(GirderError):
                bad()

    def test_every_family_is_either_loaded_or_has_rounds(self) -> None:
        for key, family in FAMILIES.items():
            plan = family.round_plan(family.usual(AgeBand.AGES_11_13))
            self.assertEqual(plan is None, family.loaded, key)
            self.assertEqual(family.procedure(family.usual(AgeBand.AGES_11_13)) is LOADING, family.loaded, key)
            # What tells the result is a reading too, so that paper records can be typed in.
            for spec in family.bench.measures:
                if spec.needed and spec.key not in ("area_left", "height_left"):
                    self.assertIn(spec.key, family.reading_keys, key)


class OfItsOwn(unittest.TestCase):
    """A procedure that no shipped kind has: a kite that lifts one more washer each round."""

    LIFT = Procedure("lift", Shows.SURVIVED, lead="Washers lifted", out_of="of {most}", next="Fly with {n}",
                     next_note="for {hold} s", all_made="All were lifted.", size_words="{} washers")  # fmt: skip

    def setup(self, **more: object) -> TrialSetup:
        names = {name: frozenset({name}) for name in
                 ("failure_modes", "loading_errors", "run_out_reasons", "observations")}  # fmt: skip
        plan = counted_rounds(self.LIFT, 3, 4.0)
        return TrialSetup(Kit(()), 0.0, None, rounds=plan, **names, **more)  # type: ignore[arg-type]

    def played(self, rules: TrialSetup, *kinds: str, **data: object) -> TrialResult:
        said: dict[str, dict[str, object]] = {
            "settle": {"waited_s": 4},
            "fail": {"mode": "failure_modes"},
            "measure": data,
        }
        events = [Event(f"e{n}", n, EventKind(kind), said.get(kind, {})) for n, kind in enumerate(kinds, start=1)]
        return replay(events, rules)

    def test_it_is_made_round_by_round_and_named_by_its_own_words(self) -> None:
        result = self.played(self.setup(), "round", "settle", "round", "fail")
        assert result.survived is not None
        self.assertEqual((result.outcome, result.survived.low, result.survived.high), (Outcome.BROKE, 1, 2))
        plan = counted_rounds(self.LIFT, 3, 4.0)
        self.assertEqual([(planned.title, planned.note) for planned in plan.shown()][1], ("Fly with 2", "for 4 s"))
        self.assertEqual((plan.out_of, self.LIFT.sized(2)), ("of 3", "2 washers"))
        over = self.played(self.setup(), *("round", "settle") * 3, "round")
        self.assertEqual(
            [(refusal.code, refusal.sentence) for refusal in over.refused], [("rounds_over", "All were lifted.")]
        )
        with self.assertRaises(GirderError):
            counted_rounds(self.LIFT, 0, 4.0)

    def test_a_count_has_its_hard_maximum_and_a_yes_is_one(self) -> None:
        points = BenchMeasure("points", "Points", Kind.COUNT, "", Plausible(0, 5, "the points"), most=10, needed=True)
        tail = BenchMeasure("tail", "Tail on", Kind.COUNT, "", Plausible(0, 1, "the tail"), yes_no=True, needed=True)
        rules = self.setup(measures={"points": points, "tail": tail}, needs_all=True)

        def taken(key: str, text: str) -> list[str]:
            result = self.played(rules, "round", "settle", "measure", key=key, text=text, resolution="1", zero="",
                                 confirmed=True)  # fmt: skip
            return [refusal.code for refusal in result.refused]

        self.assertEqual((taken("points", "7"), taken("points", "11")), ([], ["measure_too_great"]))
        self.assertEqual((taken("tail", "1"), taken("tail", "2")), ([], ["not_yes_or_no"]))
        # All that tells the result is needed, or one of it would do.
        self.assertEqual((rules.told(["tail"]), rules.told(["tail", "points"])), (False, True))
        self.assertTrue(replace(rules, needs_all=False).told(["tail"]))


class Shaking(unittest.TestCase):
    def test_between_the_level_it_stood_and_the_one_it_did_not(self) -> None:
        ledger = Told(SHAKE).survive(2).add(EventKind.ROUND).add(EventKind.FAIL, mode="joint", after_s=4.5)
        result = ledger.result()
        self.assertEqual((result.outcome, result.survived), (Outcome.BROKE, Interval(2, 3)))
        self.assertEqual(result.rounds[-1].lasted_s, 4.5)
        self.assertIsNone(result.broke_at)

    def test_fell_at_the_first(self) -> None:
        result = Told(SHAKE).add(EventKind.ROUND).add(EventKind.FAIL, mode="toppled").result()
        self.assertEqual(result.survived, Interval(0, 1))

    def test_all_levels_is_at_least(self) -> None:
        ledger = Told(SHAKE).survive(3)
        self.assertEqual(ledger.refused(EventKind.ROUND), "rounds_over")
        result = ledger.add(EventKind.RUN_OUT, reason="all_levels").result()
        self.assertEqual(result.survived, Interval(3, math.inf))

    def test_a_level_counts_only_after_its_time(self) -> None:
        ledger = Told(SHAKE).add(EventKind.ROUND)
        self.assertEqual(ledger.refused(EventKind.SETTLE, waited_s=8), "wait_too_short")
        self.assertEqual(ledger.refused(EventKind.ROUND), "round_waiting")
        self.assertEqual(ledger.refused(EventKind.RUN_OUT, reason="all_levels"), "step_not_settled")

    def test_nothing_more_after_its_end_but_the_end_can_be_taken_back(self) -> None:
        ledger = Told(SHAKE).survive().add(EventKind.ROUND).add(EventKind.FAIL, mode="joint")
        self.assertEqual(ledger.refused(EventKind.ROUND), "trial_ended")
        ledger.add(EventKind.UNDO, event="e4")
        self.assertTrue(ledger.result().round_waiting)

    def test_a_void_trial_has_no_bounds(self) -> None:
        result = Told(SHAKE).survive(2).add(EventKind.VOID, reason="knocked").result()
        self.assertIsNone(result.survived)

    def test_load_is_not_placed_on_a_shaking_tower(self) -> None:
        self.assertEqual(Told(SHAKE).survive().refused(EventKind.PLACE, item="nut", count=1), "stand_first")

    def test_loaded_kinds_have_no_rounds(self) -> None:
        bridge = family_of("bridge").trial_setup({"hold_s": 5}, kit())
        self.assertEqual(Told(bridge).refused(EventKind.ROUND), "no_rounds")
        self.assertEqual(Told(bridge).refused(EventKind.FINISH), "not_to_finish")


class Dropping(unittest.TestCase):
    def test_bounds_in_metres(self) -> None:
        result = Told(DROP).survive(2).add(EventKind.ROUND).add(EventKind.FAIL, mode="roof").result()
        self.assertEqual(result.survived, Interval(0.35, 0.5))

    def test_a_drop_off_the_plan_has_to_be_higher(self) -> None:
        ledger = Told(DROP).survive()
        self.assertEqual(ledger.refused(EventKind.ROUND, height="18 cm"), "drop_not_higher")
        self.assertEqual(ledger.refused(EventKind.ROUND, height="2 m"), "drop_too_high")
        self.assertEqual(ledger.refused(EventKind.ROUND, height="low"), "not_a_number")
        ledger.add(EventKind.ROUND, height="27 cm").add(EventKind.SETTLE, waited_s=0)
        # The plan goes on above it.
        self.assertAlmostEqual(ledger.add(EventKind.ROUND).result().rounds[-1].size, 0.35)

    def test_pieces_apart_are_counted_with_the_drop(self) -> None:
        ledger = Told(DROP).survive().add(EventKind.MEASURE, key="apart", text="2", resolution="1", zero="")
        self.assertEqual(ledger.result().measures["apart"].value, 2)
        self.assertEqual(ledger.result().taken[0].rounds, 1)


class Attacking(unittest.TestCase):
    def thrown(self, *hits: bool) -> Told:
        ledger = Told(ATTACK)
        for hit in hits:
            ledger.add(EventKind.ROUND, hit=hit)
        return ledger

    def test_throws_are_limited_and_all_are_made(self) -> None:
        ledger = self.thrown(True, False)
        ledger.add(EventKind.MEASURE, key="left", text="20", resolution="1")
        self.assertEqual(ledger.refused(EventKind.FINISH), "throws_left")
        ledger.add(EventKind.ROUND, hit=True)
        self.assertEqual(ledger.refused(EventKind.ROUND, hit=True), "rounds_over")
        result = ledger.add(EventKind.FINISH).result()
        self.assertEqual((result.outcome, result.hits, len(result.rounds)), (Outcome.DONE, 2, 3))

    def test_what_is_left_is_counted_first(self) -> None:
        self.assertEqual(self.thrown(True, True, True).refused(EventKind.FINISH), "not_measured_yet")

    def test_a_wall_does_not_fail_it_is_counted(self) -> None:
        self.assertEqual(self.thrown(True).refused(EventKind.FAIL, mode="breached"), "attack_goes_on")

    def test_against_the_clock_the_number_is_free(self) -> None:
        ledger = Told(family_of("wall").trial_setup({"throws": 3, "attack_s": 20.0}, NO_LOAD))
        for _ in range(7):
            ledger.add(EventKind.ROUND, hit=True)
        ledger.add(EventKind.MEASURE, key="left", text="9", resolution="1").add(EventKind.FINISH)
        self.assertEqual(len(ledger.result().rounds), 7)

    def test_share_by_count_before_share_by_size(self) -> None:
        wall, before = family_of("wall"), {"pieces": Quantity(30), "height": Quantity(0.3)}
        ledger = self.thrown(True, True, True)
        ledger.add(EventKind.MEASURE, key="height_left", text="15 cm", resolution="1 cm")
        by_size = wall.facts(before, [ledger.add(EventKind.FINISH).result()])
        assert by_size.share_left is not None
        self.assertAlmostEqual(by_size.share_left.value, 0.5)
        counted = self.thrown(True, True, True).add(EventKind.MEASURE, key="left", text="24", resolution="1")
        by_count = wall.facts(before, [counted.add(EventKind.FINISH).result()])
        assert by_count.share_left is not None
        self.assertAlmostEqual(by_count.share_left.value, 0.8)

    def test_share_by_area_before_share_by_height(self) -> None:
        wall, before = family_of("wall"), {"area": Quantity(0.2, 0.001), "height": Quantity(0.3)}
        ledger = self.thrown(True, True, True)
        ledger.add(EventKind.MEASURE, key="height_left", text="15 cm", resolution="1 cm")
        ledger.add(EventKind.MEASURE, key="area_left", text="1600 cm2", resolution="1 mm")
        by_area = wall.facts(before, [ledger.add(EventKind.FINISH).result()])
        assert by_area.share_left is not None
        self.assertAlmostEqual(by_area.share_left.value, 0.8)
        # A ratio's relative uncertainty is that of both (JCGM 100:2008, 5.1.6): 1 mm's step for the root of the area.
        off = 2 * 0.4 * 0.001 / math.sqrt(12) / 0.16
        self.assertAlmostEqual(by_area.share_left.standard_uncertainty / 0.8, math.hypot(off, 0.005), delta=1e-5)
        # Nobody measured the area before: the height tells it.
        without = wall.facts({"height": Quantity(0.3)}, [ledger.result()])
        assert without.share_left is not None
        self.assertAlmostEqual(without.share_left.value, 0.5)

    def test_of_a_wall_nothing_may_be_left_and_an_end_waits_for_no_more_than_one_figure(self) -> None:
        ledger = self.thrown(True, True, True)
        ledger.add(EventKind.MEASURE, key="area_left", text="0 cm2", resolution="1 mm")
        result = ledger.add(EventKind.FINISH).result()
        self.assertEqual((result.outcome, result.measures["area_left"].value), (Outcome.DONE, 0.0))
        facts = family_of("wall").facts({"area": Quantity(0.2)}, [result])
        assert facts.share_left is not None
        self.assertEqual(facts.share_left.value, 0.0)


class Standing(unittest.TestCase):
    def measured(self, text: str) -> Told:
        return Told(MAST).survive().add(EventKind.MEASURE, key="height", text=text, resolution="1 mm", zero="1 cm")

    def test_height_only_after_it_stood(self) -> None:
        ledger = Told(MAST)
        self.assertEqual(ledger.refused(EventKind.MEASURE, key="height", text="1 m", resolution="1 mm"),
                         "measured_too_early")  # fmt: skip
        result = self.measured("81 cm").add(EventKind.FINISH).result()
        self.assertEqual(result.outcome, Outcome.DONE)
        self.assertAlmostEqual(result.measures["height"].value, 0.8)

    def test_a_negative_net_reading_is_refused(self) -> None:
        ledger = Told(MAST).survive()
        self.assertEqual(
            ledger.refused(EventKind.MEASURE, key="height", text="4 cm", zero="5 cm", resolution="1 mm"), "not_positive"
        )
        self.assertEqual(ledger.refused(EventKind.MEASURE, key="height", text="9 m", resolution="1 mm"),
                         "unlikely_reading")  # fmt: skip
        ledger.add(EventKind.MEASURE, key="height", text="9 m", resolution="1 mm", confirmed=True)
        self.assertEqual(
            ledger.refused(EventKind.MEASURE, key="girth", text="1 m", resolution="1 mm"), "unknown_measure"
        )

    def test_a_tower_that_fell_has_no_height_whatever_was_written_before(self) -> None:
        fell = Told(MAST).add(EventKind.ROUND).add(EventKind.FAIL, mode="toppled").result()
        facts = family_of("tower").facts({"height": Quantity(1.2)}, [fell])
        (score,) = score_all([Candidate([fell], None, False, facts)], rules(School.TALLEST))
        assert isinstance(score, Unranked)
        self.assertEqual(score.code, "fell")

    def test_a_load_on_top_comes_after_standing(self) -> None:
        loaded = family_of("tower").trial_setup({"hold_s": 5}, kit(platform_kg=0))
        self.assertEqual(Told(loaded).refused(EventKind.PLACE, item="nut", count=1), "stand_first")
        ledger = Told(loaded).survive().add(EventKind.MEASURE, key="height", text="90 cm", resolution="1 mm")
        ledger.add(EventKind.PLACE, item="nut", count=5).add(EventKind.SETTLE, waited_s=5)
        ledger.add(EventKind.PLACE, item="nut", count=5).add(EventKind.FAIL, mode="leg")
        result = ledger.result()
        self.assertAlmostEqual(result.held.value, 5 * 0.016)
        facts = family_of("tower").facts({}, [result])
        enough, too_little = (
            score_all([Candidate([result], None, False, facts)], rules(School.TALLEST, minimum_kg=kg))[0]
            for kg in (0.07, 0.09)
        )
        assert isinstance(enough, Score) and isinstance(too_little, Unranked)
        self.assertAlmostEqual(enough.value, 0.9)
        self.assertEqual(too_little.code, "below_minimum")

    def test_of_several_heights_the_trial_rule_takes_one(self) -> None:
        trials = [self.measured(text).add(EventKind.FINISH).result() for text in ("61 cm", "81 cm", "71 cm")]
        for rule, height in ((TrialRule.BEST, 0.8), (TrialRule.LAST, 0.7), (TrialRule.MEAN, 0.7)):
            size = family_of("tower").facts({}, trials, rule).size
            assert size is not None
            self.assertAlmostEqual(size.value, height)


class Scored(unittest.TestCase):
    def levels(self, survived: int) -> TrialResult:
        ledger = Told(SHAKE).survive(survived)
        if survived == 3:
            return ledger.add(EventKind.RUN_OUT, reason="all_levels").result()
        return ledger.add(EventKind.ROUND).add(EventKind.FAIL, mode="joint").result()

    def score(self, trials: list[TrialResult], trial_rule: TrialRule = TrialRule.BEST) -> Score:
        (scored,) = score_all([Candidate(trials)], rules(School.SURVIVED, trial_rule))
        assert isinstance(scored, Score)
        return scored

    def test_levels(self) -> None:
        self.assertEqual(self.score([self.levels(2)]).interval, Interval(2, 3))
        best = self.score([self.levels(1), self.levels(3)])
        self.assertEqual((best.value, best.at_least), (3, True))
        mean = self.score([self.levels(1), self.levels(2)], TrialRule.MEAN)
        self.assertEqual((mean.value, mean.interval), (1.5, Interval(1.5, 2.5)))
        self.assertEqual(self.score([self.levels(2), self.levels(1)], TrialRule.LAST).value, 1)

    @given(st.lists(st.integers(0, 3), min_size=1, max_size=4))
    def test_the_score_lies_within_its_bounds(self, survived: list[int]) -> None:
        for rule in TrialRule:
            scored = self.score([self.levels(n) for n in survived], rule)
            self.assertTrue(scored.interval.low <= scored.value <= scored.interval.high)


class Seats(unittest.TestCase):
    def test_where_the_cargo_sits(self) -> None:
        self.assertEqual(seat_offset({}), (0, 0))
        self.assertEqual(seat_offset(dict.fromkeys(SEATS, 2)), (0, 0))
        along, across = seat_offset({"fs": 3, "mc": 3})
        self.assertAlmostEqual(along, 1 / 3)
        self.assertAlmostEqual(across, 1 / 3)

    def test_seats_are_told_and_taken_back(self) -> None:
        hull = family_of("boat").trial_setup({"hold_s": 5}, kit(platform_kg=0))
        ledger = Told(hull).add(EventKind.PLACE, item="nut", count=3, seat="fp").add(EventKind.SETTLE, waited_s=5)
        ledger.add(EventKind.REMOVE, item="nut", count=1, seat="fp")
        self.assertEqual(ledger.result().seats, {"fp": 2})
        self.assertEqual(ledger.refused(EventKind.REMOVE, item="nut", count=1, seat="as"), "not_that_many_on")
        self.assertEqual(ledger.refused(EventKind.PLACE, item="nut", count=1, seat="crow’s nest"), "unknown_seat")
        bridge = family_of("bridge").trial_setup({"hold_s": 5}, kit(platform_kg=0))
        self.assertEqual(Told(bridge).refused(EventKind.PLACE, item="nut", count=1, seat="mc"), "unknown_seat")

    def test_off_centre_from_a_quarter_on(self) -> None:
        self.assertFalse(off_centre((0.2, 0.1)))
        self.assertTrue(off_centre((0.2, 0.2)))
        # All of it in one corner is as far out as can be told.
        self.assertTrue(off_centre(seat_offset({"fp": 4})))

    @given(st.dictionaries(st.sampled_from(SEATS), st.integers(0, 30), max_size=9))
    def test_the_middle_of_the_cargo_lies_in_the_hull(self, seats: dict[str, int]) -> None:
        forward, starboard = seat_offset(seats)
        self.assertTrue(abs(forward) <= 2 / 3 + 1e-12 and abs(starboard) <= 2 / 3 + 1e-12)
        mirrored = {seat[0] + {"p": "s", "s": "p", "c": "c"}[seat[1]]: n for seat, n in seats.items()}
        self.assertAlmostEqual(seat_offset(mirrored)[1], -starboard)


class WhatComesNext(unittest.TestCase):
    def test_after_each_round_the_next_larger(self) -> None:
        plan = drop_rounds(0.2, 0.15, 0.5)
        following = [plan.after(size) for size in (0.0, 0.2, 0.27, 0.5)]
        self.assertEqual([planned.size if planned else None for planned in following], [0.2, 0.35, 0.35, None])

    def test_cautions_of_the_moment(self) -> None:
        self.assertIsNone(round_caution(STANDING, False))
        self.assertIn("behind the line", round_caution(STANDING, True) or "")
        for procedure, words in ((SHAKING, "Hands off"), (DROPPING, "drop zone"), (THROWING, "Behind")):
            plain, sharper = round_caution(procedure, False) or "", round_caution(procedure, True) or ""
            self.assertIn(words, plain)
            self.assertTrue(sharper.startswith(plain) and len(sharper) > len(plain))


class Lawful(unittest.TestCase):
    """Whatever is told to a trial in rounds, the ledger can be read and its bounds hold."""

    MOVES = st.lists(
        st.sampled_from(["round", "settle", "short", "fail", "void", "run_out", "finish", "undo", "measure", "place"]),
        max_size=25,
    )

    @given(MOVES, st.sampled_from([SHAKE, DROP, ATTACK, MAST]))
    def test_any_order_of_entries(self, moves: list[str], setup: TrialSetup) -> None:
        data: dict[str, dict[str, Any]] = {
            "round": {"hit": True}, "settle": {"waited_s": 99}, "short": {"waited_s": 0}, "place": {"item": "nut"},
            "fail": {"mode": min(setup.failure_modes)}, "void": {"reason": "knocked"}, "finish": {},
            "run_out": {"reason": min(setup.run_out_reasons, default="none")},
            "measure": {"key": "height", "text": "80 cm", "resolution": "1 mm"},
        }  # fmt: skip
        events: list[Event] = []
        for n, move in enumerate(moves, start=1):
            details = {"event": replay(events, setup).undoable} if move == "undo" else data[move]
            kind = EventKind.SETTLE if move == "short" else EventKind(move)
            events.append(Event(f"e{n}", n, kind, details))
        result = replay(events, setup)
        self.assertEqual(result.next_sequence, len(events) + 1)
        sizes = [done.size for done in result.rounds]
        self.assertEqual(sizes, sorted(set(sizes)))
        self.assertEqual(result.held.value, 0)
        if result.survived is not None:
            self.assertLessEqual(result.survived.low, result.survived.high)
        if result.outcome is Outcome.VOID:
            self.assertIsNone(result.survived)
        # The same again changes nothing, in whichever order it comes.
        self.assertEqual(replay([*reversed(events), *events], setup), result)
