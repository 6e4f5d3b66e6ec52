"""Corrections of a ledger, held against the same ledger as it should have been written."""

import unittest
from dataclasses import replace
from random import Random
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.tests import tries
from girder_core.tests.support import MOVES, NUT_KG, Script, setup
from girder_core.trial import (
    MAY_SAY,
    Event,
    EventKind,
    Fate,
    Outcome,
    StepState,
    TrialResult,
    admit,
    lines,
    replay,
)


def correct(script: Script, entry: str, **data: Any) -> Script:
    return script.add(EventKind.CORRECT, event=entry, **data)


def bare_of_bookkeeping(result: TrialResult) -> TrialResult:
    """A result without what says how it was written down."""
    return replace(result, undoable=None, next_sequence=0, corrected=(), refused=(), late=(), notes=())


def refusal(script: Script) -> GirderError:
    """The error by which the last entry of a ledger is refused."""
    try:
        admit(script.events[:-1], script.events[-1], setup())
    except GirderError as error:
        return error
    raise AssertionError("it was let in")


def whole() -> Script:
    """Platform, 10 nuts and 3 nuts held; it went under 2 more: entries e1 to e8."""
    return Script().hold("platform").hold(count=10).hold(count=3).place(count=2).fail()


class AnEarlierStep(unittest.TestCase):
    def test_a_count_that_was_wrong_five_entries_ago(self) -> None:
        result = correct(whole(), "e3", count=9).result()
        self.assertAlmostEqual(result.held.value, 0.020 + 12 * NUT_KG)
        assert result.broke_at is not None
        self.assertAlmostEqual(result.broke_at.value, 0.020 + 14 * NUT_KG)
        self.assertEqual(result.placed, {"platform": 1, "nut": 14})
        self.assertEqual([step.count for step in result.steps], [1, 9, 3, 2])
        self.assertEqual(result.corrected, ("e3",))
        self.assertEqual(result.refused, ())

    def test_a_step_that_never_was_goes_with_its_wait(self) -> None:
        result = correct(whole(), "e5", gone=True).result()
        self.assertAlmostEqual(result.held.value, 0.020 + 10 * NUT_KG)
        self.assertEqual([step.event_id for step in result.steps], ["e1", "e3", "e7"])
        fates = {
            line.event.id: (line.fate, line.by) for line in lines(correct(whole(), "e5", gone=True).events, setup())
        }
        self.assertEqual(fates["e5"], (Fate.STRUCK, "e9"))
        self.assertEqual(fates["e6"], (Fate.STRUCK, "e9"))
        self.assertEqual(fates["e7"], (Fate.STANDS, ""))

    def test_another_object_and_another_way_of_failing(self) -> None:
        result = correct(correct(whole(), "e3", item="bag", count=1), "e8", mode="snap", note="at the fold").result()
        self.assertEqual(result.placed, {"platform": 1, "bag": 1, "nut": 5})
        self.assertEqual((result.mode, result.note), ("snap", "at the fold"))

    def test_corrected_twice_and_taken_back_one_after_the_other(self) -> None:
        script = correct(correct(whole(), "e3", count=9), "e3", count=8)
        self.assertEqual(script.result().placed["nut"], 13)
        self.assertEqual(lines(script.events, setup())[2].by, "e10")
        self.assertEqual(script.undo("e10").result().placed["nut"], 14)
        self.assertEqual(lines(script.events, setup())[2].by, "e9")
        self.assertEqual(script.undo("e9").result(), replace(whole().result(), next_sequence=13))
        self.assertEqual(lines(script.events, setup())[2].fate, Fate.STANDS)

    def test_what_was_undone_in_between_is_still_told(self) -> None:
        script = correct(Script().hold("platform").hold(count=10), "e3", count=9).place(count=2).undo("e6").undo("e5")
        self.assertEqual(lines(script.events, setup())[5].fate, Fate.STRUCK)
        self.assertEqual(script.result().placed["nut"], 10)

    def test_in_the_midst_of_a_trial(self) -> None:
        script = correct(Script().hold("platform").hold(count=10).place(count=5), "e3", count=11)
        self.assertTrue(script.result().step_waiting)
        self.assertAlmostEqual(script.settle().result().held.value, 0.020 + 16 * NUT_KG)

    def test_a_typed_figure_is_read_and_asked_about_as_when_it_was_first_typed(self) -> None:
        weighed = whole().add(EventKind.PILE_READING, mass="230 g", resolution="1 g")
        self.assertAlmostEqual(correct(weighed, "e9", mass="262 g").result().held.value, 0.262 - 2 * NUT_KG)
        self.assertEqual(refusal(correct(weighed, "e9", mass="heavy")).code, "not_a_number")
        sagged = Script().hold("platform").add(EventKind.MEASURE, key="sag", text="3 mm", zero="", resolution="1 mm")
        self.assertIsInstance(refusal(correct(sagged, "e3", text="900 mm")), NeedsConfirmation)
        sure = correct(sagged, "e3", text="900 mm", confirmed=True).result()
        self.assertEqual(sure.measures["sag"].value, 0.9)

    def test_a_figure_that_is_typed_again_is_from_no_picture_any_more(self) -> None:
        script = Script().hold("platform")
        measured = {"key": "sag", "text": "4 mm", "zero": "", "resolution": "1 mm"}
        ident = script.add(EventKind.MEASURE, **measured, source="picture").events[-1].id
        told = {line.event.id: line for line in lines(correct(script, ident, text="5 mm").events, setup())}
        self.assertEqual(told[ident].says, {**measured, "text": "5 mm"})
        self.assertEqual(told[ident].event.data["source"], "picture")
        finer = {line.event.id: line for line in lines(correct(script, ident, resolution="0.5 mm").events, setup())}
        self.assertNotIn("source", finer[ident].says)


class Refused(unittest.TestCase):
    def test_one_that_makes_a_later_entry_impossible_names_it(self) -> None:
        script = Script().hold("platform").place(count=6).add(EventKind.REMOVE, item="nut", count=5)
        error = refusal(correct(script, "e3", count=4))
        self.assertEqual(error.code, "correction_breaks_later")
        self.assertIn("entry 4", error.sentence)
        self.assertIn("There are not 5", error.sentence)
        self.assertEqual(refusal(correct(whole(), "e1", gone=True)).code, "correction_breaks_later")

    def test_more_than_the_kit_has_or_the_bench_may_carry(self) -> None:
        self.assertEqual(refusal(correct(whole(), "e3", count=60)).code, "kit_exceeded")
        # 40 are there for this step alone, but not with what followed.
        self.assertEqual(refusal(correct(whole(), "e3", count=48)).code, "correction_breaks_later")

    def test_what_names_nothing_or_says_nothing(self) -> None:
        for data in ({"event": "nowhere", "count": 3}, {"event": "e3"}, {"event": "e3", "gone": True, "count": 2},
                     {"event": "e3", "mode": "crimp"}, {"event": "e4", "waited_s": 9}):  # fmt: skip
            with self.subTest(data):
                self.assertEqual(refusal(whole().add(EventKind.CORRECT, **data)).code, "not_correctable")
        self.assertEqual(refusal(correct(whole(), "e3", count=10)).code, "nothing_corrected")
        self.assertEqual(refusal(correct(whole().undo("e8"), "e8", mode="snap")).code, "already_undone")
        self.assertEqual(refusal(correct(correct(whole(), "e3", count=9), "e9", count=8)).code, "not_correctable")
        self.assertEqual(refusal(correct(whole(), "e8", mode="melted")).code, "unknown_mode")

    def test_a_refused_correction_changes_nothing(self) -> None:
        script = correct(whole(), "e1", gone=True)
        self.assertEqual(bare_of_bookkeeping(script.result()), bare_of_bookkeeping(whole().result()))


class AfterTheEnd(unittest.TestCase):
    def test_an_end_pressed_too_soon_is_none_and_what_was_weighed_goes_with_it(self) -> None:
        weighed = whole().add(EventKind.PILE_READING, mass="230 g", resolution="1 g")
        open_again = correct(weighed, "e8", gone=True, why="it had only tipped")
        self.assertEqual(open_again.result().outcome, Outcome.RUNNING)
        self.assertTrue(open_again.result().step_waiting)
        self.assertFalse(open_again.result().pile_weighed)
        self.assertEqual(lines(open_again.events, setup())[8].fate, Fate.STRUCK)
        self.assertAlmostEqual(open_again.settle().result().held.value, 0.020 + 15 * NUT_KG)

    def test_void_after_the_end_is_no_failure_and_can_be_struck_out(self) -> None:
        void = whole().void()
        result = void.result()
        self.assertEqual((result.outcome, result.mode, result.broke_at), (Outcome.VOID, None, None))
        self.assertEqual(result.reason, "pile_toppled")
        self.assertNotIn(StepState.BROKE, [step.state for step in result.steps])
        self.assertEqual(refusal(whole().void().void()).code, "already_void")
        back = correct(void, "e9", gone=True).result()
        self.assertEqual(bare_of_bookkeeping(back), bare_of_bookkeeping(whole().result()))

    def test_notes_and_moves_change_no_result_and_are_not_what_undo_takes_back(self) -> None:
        script = whole().add(EventKind.NOTE, text=" The left  support had moved. ")
        script.add(EventKind.MOVE, **{"from": "Tern", "to": "Auk"})
        result = script.result()
        self.assertEqual(result.notes, ("The left support had moved.",))
        self.assertEqual((result.undoable, result.refused), ("e8", ()))
        self.assertEqual(bare_of_bookkeeping(result), bare_of_bookkeeping(whole().result()))
        self.assertEqual(script.undo("e8").result().outcome, Outcome.RUNNING)
        self.assertEqual(refusal(whole().add(EventKind.NOTE, text="  ")).code, "note_missing")


class EveryLedger(unittest.TestCase):
    """Whatever was written, corrected is as good as written so."""

    @settings(max_examples=tries(200))
    @given(st.lists(st.sampled_from(sorted(MOVES)), max_size=24), st.randoms(use_true_random=False))
    def test_a_correction_comes_to_what_the_right_ledger_comes_to(self, names: list[str], random: Random) -> None:
        script = Script().hold("platform")
        for name in names:
            MOVES[name](script)
        stood = [line.event for line in lines(script.events, setup()) if line.fate is Fate.STANDS]
        places = [event for event in stood if event.kind is EventKind.PLACE and event.data["item"] == "nut"]
        if not places:
            return
        wrong, count = random.choice(places), random.randint(1, 6)
        if wrong.data["count"] == count:
            return
        right = [replace(event, data={**event.data, "count": count}) if event is wrong else event for event in stood]
        numbered = [replace(event, sequence=i) for i, event in enumerate(right, start=1)]
        expected = replay(numbered, setup())
        correct(script, wrong.id, count=count)
        if expected.refused:
            self.assertIn(refusal(script).code, ("correction_breaks_later", "kit_exceeded"))
        else:
            self.assertEqual(bare_of_bookkeeping(script.result()), bare_of_bookkeeping(expected))
            back = script.undo(script.events[-1].id).result()
            self.assertEqual(bare_of_bookkeeping(back), bare_of_bookkeeping(replay(script.events[:-2], setup())))

    @settings(max_examples=tries(200))
    @given(st.lists(st.sampled_from([*sorted(MOVES), "correct", "gone", "undo"]), max_size=30),
           st.randoms(use_true_random=False))  # fmt: skip
    def test_every_line_is_told_once_and_the_standing_ones_make_the_result(
        self, names: list[str], random: Random
    ) -> None:
        script = Script()
        for name in names:
            if name in MOVES:
                MOVES[name](script)
            elif name == "undo":
                script.undo(script.result().undoable or "none")
            else:
                entry = random.choice(script.events).id if script.events else "none"
                correct(script, entry, **({"gone": True} if name == "gone" else {"count": random.randint(1, 5)}))
        told = lines(script.events, setup())
        self.assertEqual([line.event for line in told], script.events)
        standing = [
            Event(line.event.id, 0, line.event.kind, line.says)
            for line in told
            if line.fate in (Fate.STANDS, Fate.CORRECTED) and line.event.kind in MAY_SAY
        ]
        as_if = replay([replace(event, sequence=i) for i, event in enumerate(standing, start=1)], setup())
        self.assertEqual(as_if.refused, ())
        self.assertEqual(bare_of_bookkeeping(as_if), bare_of_bookkeeping(script.result()))
        self.assertEqual({line.event.id for line in told if line.correctable}, {event.id for event in standing})
