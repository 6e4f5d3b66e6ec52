import math
import unittest
from dataclasses import replace
from random import Random
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.kit import Kit, LoadItem
from girder_core.measure import Quantity
from girder_core.tests import tries
from girder_core.tests.support import MOVES, NUT_KG, Script, kit, setup
from girder_core.trial import (
    Event,
    EventKind,
    Interval,
    Outcome,
    Part,
    StepState,
    TrialResult,
    admit,
    middle_kg,
    parts_of,
    replay,
)


def bare() -> Script:
    """A trial whose platform of 20 g is on and has held."""
    return Script().hold("platform")


class HeldAndBroke(unittest.TestCase):
    def test_the_step_that_broke_it_does_not_count(self) -> None:
        result = bare().hold(count=10).place(count=3).fail().result()
        self.assertEqual(result.outcome, Outcome.BROKE)
        self.assertAlmostEqual(result.held.value, 0.020 + 10 * NUT_KG)
        assert result.broke_at is not None
        self.assertAlmostEqual(result.broke_at.value, 0.020 + 13 * NUT_KG)
        self.assertAlmostEqual(result.last_step_kg, 3 * NUT_KG)
        self.assertEqual(result.mode, "crimp")
        self.assertEqual([step.state for step in result.steps], [StepState.HELD, StepState.HELD, StepState.BROKE])

    def test_platform_alone_counts_as_load(self) -> None:
        self.assertAlmostEqual(bare().result().held.value, 0.020)
        broke_under_it = Script().place("platform").fail().result()
        self.assertEqual(broke_under_it.interval, Interval(0.0, 0.020))

    def test_breaking_later_under_a_load_that_held_keeps_it_held(self) -> None:
        result = bare().hold(count=10).fail().result()
        self.assertAlmostEqual(result.held.value, 0.180)
        assert result.interval is not None
        self.assertAlmostEqual(result.interval.high, result.interval.low)

    def test_where_it_most_likely_gave_way(self) -> None:
        # Between 10 and 13 nuts; one that ran out or is void gave way nowhere.
        broke = bare().hold(count=10).place(count=3).fail().result()
        self.assertAlmostEqual(middle_kg(broke) or 0, 0.020 + 11.5 * NUT_KG)
        self.assertIsNone(middle_kg(bare().hold(count=10).run_out().result()))
        self.assertIsNone(middle_kg(bare().place(count=5).void().result()))
        self.assertIsNone(middle_kg(bare().hold(count=2).result()))

    def test_ran_out_is_open_above(self) -> None:
        result = bare().hold(count=10).run_out().result()
        assert result.interval is not None
        self.assertTrue(math.isinf(result.interval.high))
        self.assertAlmostEqual(result.interval.low, 0.180)

    def test_void_has_no_bounds(self) -> None:
        result = bare().place(count=5).void().result()
        self.assertEqual(result.outcome, Outcome.VOID)
        self.assertIsNone(result.interval)
        self.assertEqual(result.steps[-1].state, StepState.NOT_COUNTED)

    def test_two_placements_before_one_wait_are_one_step(self) -> None:
        result = bare().place(count=2).place(count=3).fail().result()
        self.assertAlmostEqual(result.last_step_kg, 5 * NUT_KG)
        self.assertAlmostEqual(result.held.value, 0.020)

    def test_taking_off_keeps_the_most_that_held(self) -> None:
        script = bare().hold(count=10).add(EventKind.REMOVE, item="nut", count=4)
        self.assertAlmostEqual(script.result().held.value, 0.180)
        self.assertAlmostEqual(script.result().load_on.value, 0.116)

    def test_pieces_are_the_most_that_stood_together(self) -> None:
        script = bare().hold(count=10).add(EventKind.REMOVE, item="nut", count=4).hold(count=2)
        self.assertEqual((script.result().pieces_held, script.result().pieces_on), (10, 8))
        self.assertEqual(bare().hold(count=3).place(count=2).fail().result().pieces_held, 3)

    def test_mass_uncertainty_widens_both_ends(self) -> None:
        load = Kit((LoadItem("nut", Quantity(0.016, 0.0001), 50, key="nut"),))
        result = Script().hold(count=10).place(count=2).fail().result(setup(load))
        assert result.interval is not None
        self.assertAlmostEqual(result.interval.low, 0.160 - 2 * 0.001)
        self.assertAlmostEqual(result.interval.high, 0.192 + 2 * 0.0012)
        self.assertAlmostEqual(result.held.value, 0.160)

    def test_signs_and_sags_carry_the_load_they_were_seen_at(self) -> None:
        script = bare().place(count=5).add(EventKind.OBSERVE, sign="crack")
        result = script.add(EventKind.MEASURE, sag="4 mm").result()
        self.assertEqual(result.signs, (("crack", result.load_on.value),))
        (sag,) = result.taken
        self.assertEqual((sag.key, sag.load_kg, sag.quantity.value), ("sag", result.load_on.value, 0.004))
        self.assertEqual(result.steps[-1].signs, ("crack",))

    def test_a_weighed_pile_replaces_the_count(self) -> None:
        whole = bare().hold(count=10).place(count=3).fail()
        result = whole.add(EventKind.PILE_READING, mass="230 g", resolution="1 g").result()
        self.assertAlmostEqual(result.held.value, 0.230 - 3 * NUT_KG)
        self.assertTrue(result.pile_weighed)
        out = bare().hold(count=10).run_out()
        result = out.add(EventKind.PILE_READING, mass="182 g", resolution="1 g", covers="held").result()
        self.assertAlmostEqual(result.held.value, 0.182)
        self.assertEqual(result.outcome, Outcome.RAN_OUT)

    def test_a_pile_of_what_it_held_leaves_out_the_step_that_broke_it(self) -> None:
        whole = bare().hold(count=10).place(count=3).fail()
        result = whole.add(EventKind.PILE_READING, mass="182 g", resolution="1 g", covers="held").result()
        assert result.broke_at is not None
        self.assertAlmostEqual(result.held.value, 0.182)
        self.assertAlmostEqual(result.broke_at.value, 0.182 + 3 * NUT_KG)

    def test_a_pile_lighter_than_its_last_step_is_refused(self) -> None:
        whole = bare().hold(count=10).place(count=3).fail()
        result = whole.add(EventKind.PILE_READING, mass="40 g", resolution="1 g").result()
        self.assertEqual([refusal.code for refusal in result.refused], ["pile_too_light"])
        self.assertFalse(result.pile_weighed)

    def test_everything_off_again_leaves_nothing_waiting(self) -> None:
        script = Script().place("platform").add(EventKind.REMOVE, item="platform", count=1)
        self.assertEqual((script.result().step_waiting, script.result().load_on.value), (False, 0.0))


class ReadLoads(unittest.TestCase):
    """Loads that are not counted: sand in a bucket, a gauge, a figure on paper."""

    def test_a_gauge_at_its_highest_then_it_went(self) -> None:
        # Its strength is what the gauge showed, known to the gauge's step and no better: 2 × 10 g / √12.
        result = Script().read("1.24 kg", resolution="10 g").fail().result()
        self.assertEqual((result.outcome, result.mode), (Outcome.BROKE, "crimp"))
        assert result.interval is not None and result.broke_at is not None
        self.assertAlmostEqual(result.held.value, 1.24)
        self.assertAlmostEqual(result.broke_at.value, 1.24)
        doubt = 2 * 0.010 / math.sqrt(12)
        self.assertAlmostEqual(result.interval.low, 1.24 - doubt)
        self.assertAlmostEqual(result.interval.high, 1.24 + doubt)
        self.assertAlmostEqual(result.last_step_kg, 0.010)
        self.assertEqual((dict(result.placed), result.pieces_held, result.loaded), ({}, 0, True))

    def test_a_gauge_may_show_newtons(self) -> None:
        # 12 N over 9.80665 m/s².
        result = Script().read("12 N", resolution="0.1 N").result()
        self.assertAlmostEqual(result.held.value, 12 / 9.80665)
        self.assertAlmostEqual(result.held.standard_uncertainty, 0.1 / 9.80665 / math.sqrt(12))

    def test_what_was_counted_comes_on_top(self) -> None:
        result = bare().hold(count=10).read("500 g").result()
        self.assertAlmostEqual(result.held.value, 0.180 + 0.500)
        self.assertAlmostEqual(result.load_on.value, 0.680)
        counted = bare().read("500 g").hold(count=10).place(count=5).fail().result()
        self.assertAlmostEqual(counted.held.value, 0.680)
        assert counted.broke_at is not None
        self.assertAlmostEqual(counted.broke_at.value, 0.680 + 5 * NUT_KG)

    def test_held_at_one_figure_and_gone_at_the_next(self) -> None:
        result = Script().read("1.2 kg").read("1.35 kg", held=False).fail().result()
        assert result.broke_at is not None
        self.assertAlmostEqual(result.held.value, 1.2)
        self.assertAlmostEqual(result.broke_at.value, 1.35)
        self.assertAlmostEqual(result.last_step_kg, 0.15)
        self.assertEqual([step.state for step in result.steps], [StepState.HELD, StepState.BROKE])
        waited = Script().read("1.2 kg", held=False).settle().run_out().result()
        self.assertAlmostEqual(waited.held.value, 1.2)
        self.assertEqual(waited.outcome, Outcome.RAN_OUT)

    def test_a_reading_that_held_settles_what_waited(self) -> None:
        result = bare().place(count=3).read("100 g").result()
        self.assertFalse(result.step_waiting)
        self.assertEqual({step.state for step in result.steps}, {StepState.HELD})
        self.assertEqual(result.pieces_held, 3)

    def test_it_is_taken_back_like_anything_else(self) -> None:
        result = bare().hold(count=2).read("1 kg").undo("e5").result()
        self.assertEqual((result.read.value, result.held.value), (0.0, 0.020 + 2 * NUT_KG))

    def test_taking_everything_counted_off_leaves_what_was_read(self) -> None:
        result = bare().read("1 kg").add(EventKind.REMOVE, item="platform", count=1).result()
        self.assertAlmostEqual(result.load_on.value, 1.0)
        self.assertTrue(result.loaded)


class Refusals(unittest.TestCase):
    def refused(self, script: Script, **rules: object) -> str:
        *before, new = script.events
        with self.assertRaises(GirderError) as caught:
            admit(before, new, setup(**rules))  # type: ignore[arg-type]
        # A ledger that holds it all the same is read as if it were not there.
        self.assertEqual(
            replace(replay(script.events, setup(**rules)), refused=(), next_sequence=0),  # type: ignore[arg-type]
            replace(replay(before, setup(**rules)), refused=(), next_sequence=0),  # type: ignore[arg-type]
        )
        return caught.exception.code

    def test_each_refusal_has_its_code(self) -> None:
        ended = bare().place().fail()
        cases = {
            "fail_before_load": Script().fail(),
            "nothing_to_settle": bare().hold().settle(),
            "wait_too_short": bare().place().add(EventKind.SETTLE, waited_s=3),
            "kit_exceeded": bare().place(count=51),
            "count_not_positive": bare().place(count=0),
            "unknown_item": bare().place("brick"),
            "platform_first": Script().place(),
            "platform_last": bare().place().add(EventKind.REMOVE, item="platform", count=1),
            "not_that_many_on": bare().place().add(EventKind.REMOVE, item="nut", count=2),
            "loading_error_is_void": bare().place().fail("pile_toppled"),
            "unknown_mode": bare().place().fail("gremlins"),
            "unknown_sign": bare().add(EventKind.OBSERVE, sign="smell"),
            "unit_missing": bare().add(EventKind.MEASURE, sag="4"),
            "sag_out_of_range": bare().add(EventKind.MEASURE, sag="-1 mm"),
            "step_not_settled": bare().place().run_out(),
            "nothing_held": Script().run_out(),
            "unknown_reason": bare().void("bored"),
            "trial_ended": Script.place(ended),
            "pile_too_early": bare().add(EventKind.PILE_READING, mass="1 kg", resolution="1 g"),
            "load_not_more": Script().read("2 kg").read("2 kg"),
            "load_was_read": Script().read("2 kg").fail().add(EventKind.PILE_READING, mass="2 kg", resolution="1 g"),
            "mass_not_positive": Script().read("0 g"),
            "undo_not_last": bare().place().undo("e1"),
        }
        for code, script in cases.items():
            with self.subTest(code):
                self.assertEqual(self.refused(script), code)

    def test_kit_is_counted_over_the_whole_trial(self) -> None:
        self.assertEqual(self.refused(bare().hold(count=50).place()), "kit_exceeded")

    def test_bench_limit(self) -> None:
        self.assertEqual(self.refused(bare().place(count=10), bench_limit_kg=0.1), "over_bench_limit")
        self.assertEqual(self.refused(bare().read("81 g"), bench_limit_kg=0.1), "over_bench_limit")
        self.assertEqual(self.refused(Script().read("1.2")), "unit_missing")

    def test_a_boolean_is_not_a_count(self) -> None:
        self.assertEqual(self.refused(bare().add(EventKind.PLACE, item="nut", count=True)), "entry_not_plain")


class Undo(unittest.TestCase):
    def test_takes_back_the_latest_and_keeps_the_record(self) -> None:
        script = bare().hold(count=5).place(count=9)
        before = bare().hold(count=5).result()
        after = script.undo("e5").result()
        self.assertEqual(
            (after.placed, after.held, after.steps, after.undoable),
            (before.placed, before.held, before.steps, before.undoable),
        )
        self.assertEqual(after.next_sequence, 7)

    def test_again_and_again_to_the_start(self) -> None:
        result = bare().place().undo("e3").undo("e2").undo("e1").result()
        self.assertEqual((dict(result.placed), result.undoable), ({}, None))

    def test_an_end_can_be_taken_back(self) -> None:
        self.assertEqual(bare().place().fail().undo("e4").result().outcome, Outcome.RUNNING)

    def test_undo_of_an_undone_event_is_refused(self) -> None:
        *before, again = bare().place().undo("e3").undo("e3").events
        with self.assertRaises(GirderError) as caught:
            admit(before, again, setup())
        self.assertEqual(caught.exception.code, "already_undone")


class Arrival(unittest.TestCase):
    def test_a_repeated_event_changes_nothing(self) -> None:
        script = bare().hold(count=10)
        self.assertEqual(replay(script.events * 2, setup()), script.result())

    def test_a_gap_waits_for_the_missing_event(self) -> None:
        events = bare().hold(count=10).events
        early = replay([*events[:2], events[3]], setup())
        self.assertEqual((early.late, early.next_sequence), (("e4",), 3))
        self.assertEqual(replay([*events[:2], events[3], events[2]], setup()), replay(events, setup()))

    def test_two_events_at_one_place_keep_one_and_name_the_other(self) -> None:
        events = [*bare().events, Event("e2b", 2, EventKind.SETTLE)]
        self.assertEqual([refusal.code for refusal in replay(events, setup()).refused], ["sequence_taken"])


actions = st.lists(
    st.sampled_from(
        ["nut", "three", "bag", "settle", "fail", "run_out", "void", "undo", "remove", "crack", "read", "read_waiting"]
    ),
    max_size=25,
)


def play(names: list[str]) -> Script:
    script = bare()
    for name in names:
        if name == "undo":
            script.undo(script.result().undoable or "none")
        else:
            MOVES[name](script)
    return script


class Properties(unittest.TestCase):
    @settings(max_examples=tries(150))
    @given(actions, st.randoms(use_true_random=False))
    def test_order_of_arrival_does_not_matter(self, names: list[str], random: Random) -> None:
        events = play(names).events
        shuffled = events[:]
        random.shuffle(shuffled)
        self.assertEqual(replay(shuffled, setup()), replay(events, setup()))

    @settings(max_examples=tries(150))
    @given(actions)
    def test_what_holds_of_every_ledger(self, names: list[str]) -> None:
        result = play(names).result()
        load = kit()
        self.assertTrue(all(left >= 0 for left in load.remaining(result.placed).values()))
        self.assertAlmostEqual(result.load_on.value, load.mass(result.placed).value + result.read.value)
        if result.interval is not None:
            self.assertLessEqual(result.interval.low, result.interval.high)
            self.assertLessEqual(result.interval.low, result.held.value)
        self.assertEqual(result.outcome is Outcome.VOID, result.interval is None)
        if result.outcome is Outcome.BROKE:
            assert result.broke_at is not None
            self.assertGreaterEqual(result.broke_at.value, result.held.value)


class AsksWhetherItRanOut(unittest.TestCase):
    """“Everything is on it” held against the ledger's own count."""

    def ends(self, script: Script, reason: str, confirmed: bool = False, **rules: Any) -> TrialResult:
        event = Event("end", len(script.events) + 1, EventKind.RUN_OUT, {"reason": reason, "confirmed": confirmed})
        return admit(script.events, event, setup(**rules))

    def test_load_that_is_left_is_asked_about_and_taken_when_confirmed(self) -> None:
        # 101 of 150: the third boat of a class.
        script = Script().hold("platform").hold("nut", 30)
        with self.assertRaises(NeedsConfirmation) as caught:
            self.ends(script, "no_more_load")
        self.assertEqual(caught.exception.code, "load_left")
        self.assertIn("20 × nut and 2 × bag", caught.exception.sentence)
        self.assertIs(self.ends(script, "no_more_load", confirmed=True).outcome, Outcome.RAN_OUT)

    def test_with_everything_on_it_nobody_asks(self) -> None:
        script = Script().hold("platform").hold("nut", 50).hold("bag", 2)
        self.assertIs(self.ends(script, "no_more_load").outcome, Outcome.RAN_OUT)

    def test_a_bench_limit_with_room_left_is_asked_about(self) -> None:
        script = Script().hold("platform").hold("nut", 10)
        with self.assertRaises(NeedsConfirmation):
            self.ends(script, "bench_limit", bench_limit_kg=1.0)
        # 20 g and ten nuts of 16 g; not one more nut fits under 190 g.
        self.assertIs(self.ends(script, "bench_limit", bench_limit_kg=0.19).outcome, Outcome.RAN_OUT)

    def test_a_load_that_was_read_says_nothing_of_the_kit(self) -> None:
        script = Script().hold("platform").read("1 kg")
        self.assertIs(self.ends(script, "no_more_load").outcome, Outcome.RAN_OUT)

    def test_a_full_container_is_what_eyes_see(self) -> None:
        self.assertIs(self.ends(Script().hold("platform"), "container_full").outcome, Outcome.RAN_OUT)

    def test_a_record_is_not_asked(self) -> None:
        script = Script().hold("platform")
        event = Event("end", 3, EventKind.RUN_OUT, {"reason": "no_more_load"})
        self.assertIs(admit(script.events, event, setup(), asking=False).outcome, Outcome.RAN_OUT)

    def test_what_the_rules_refuse_is_refused_and_not_asked(self) -> None:
        event = Event("end", 2, EventKind.RUN_OUT, {"reason": "no_more_load"})
        with self.assertRaises(GirderError) as caught:
            admit(Script().place("platform").events, event, setup())
        self.assertEqual(caught.exception.code, "step_not_settled")


class WhatCannotBeWrittenDown(unittest.TestCase):
    def refusal(self, kind: EventKind, data: dict[str, Any]) -> GirderError:
        with self.assertRaises(GirderError) as caught:
            admit(Script().hold("platform").events, Event("n", 3, kind, data), setup())
        return caught.exception

    def test_endless_and_nested_values_are_refused_in_every_part_of_every_kind(self) -> None:
        bad: list[Any] = [math.inf, math.nan, 10**400, -(10**400), 1e300, [1], {"a": 1}, "a\x00b", "x" * 2001, "\ud83d"]
        for kind in EventKind:
            for part in parts_of(kind):
                for value in bad:
                    with self.subTest(kind=kind, part=part, value=repr(value)[:20]):
                        self.assertEqual(self.refusal(kind, {part: value}).code, "entry_not_plain")

    def test_a_part_is_what_it_is(self) -> None:
        is_not: dict[Part, list[Any]] = {
            Part.NUMBER: [True, "1"], Part.WHOLE: [True, 1.0, "1"], Part.FLAG: [1, 0, "yes"], Part.TEXT: [1, 0.5, True],
        }  # fmt: skip
        for kind in EventKind:
            for part, is_to_be in parts_of(kind).items():
                for value in is_not[is_to_be]:
                    with self.subTest(kind=kind, part=part, value=value):
                        refusal = self.refusal(kind, {part: value})
                        self.assertEqual(refusal.code, "entry_not_plain")
                        self.assertIn(f"“{part}” has to be", refusal.sentence)

    def test_an_entry_has_no_part_that_its_kind_has_not(self) -> None:
        for kind in EventKind:
            for name in ("extra", "", "x" * 500, "a\x00b", "__class__", "\ud83d"):
                with self.subTest(kind=kind, name=name[:9]):
                    refusal = self.refusal(kind, {name: 1})
                    self.assertEqual(refusal.code, "entry_not_plain")
                    self.assertLess(len(refusal.sentence), 120)
                    refusal.sentence.encode()

    def test_a_part_that_is_not_said_may_be_there(self) -> None:
        events = Script().place("platform").events
        settle = Event("n", 2, EventKind.SETTLE, {"waited_s": 600, "confirmed": None})
        self.assertEqual(admit(events, settle, setup()).next_sequence, 3)

    def test_a_ledger_that_holds_them_all_the_same_can_be_read(self) -> None:
        for data in ({"mode": "crimp", "after_s": 10**400}, {"mode": "crimp", "after_s": math.nan}):
            events = [*Script().hold("platform").events, Event("f", 3, EventKind.FAIL, data)]
            self.assertIs(replay(events, setup()).outcome, Outcome.BROKE)
        targets: list[Any] = [[], {}, None]
        for target in targets:
            events = [*Script().hold("platform").events, Event("u", 3, EventKind.UNDO, {"event": target})]
            self.assertEqual([refusal.code for refusal in replay(events, setup()).refused], ["undo_not_last"])

    def test_minus_nothing_is_nothing(self) -> None:
        for kind, data, code in (
            (EventKind.PLACE, {"item": "nut", "count": -0}, "count_not_positive"),
            (EventKind.LOAD_READING, {"mass": "-0 g", "resolution": "1 g"}, "mass_not_positive"),
            (EventKind.SETTLE, {"waited_s": -0.0}, "nothing_to_settle"),
        ):
            with self.subTest(kind), self.assertRaises(GirderError) as caught:
                admit(Script().hold("platform").events, Event("n", 3, kind, data), setup())
            self.assertEqual(caught.exception.code, code)
