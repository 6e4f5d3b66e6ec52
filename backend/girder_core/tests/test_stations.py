"""Tests that teams make by themselves: what a stop holds back and what not, and how what was found is marked."""

from __future__ import annotations

import unittest
from random import Random

from girder_core.families import FAMILIES
from girder_core.ground import GirderError
from girder_core.measure import Quantity, System
from girder_core.results import (
    BreachPolicy,
    Circumstances,
    Entry,
    Rules,
    School,
    TrialRule,
    circumstantial,
    compare,
    like_with_like,
    ranking_chart,
)
from girder_core.safety import AgeBand
from girder_core.tests.anything import any_event, any_ledger, small_kit
from girder_core.tests.support import broke, ran_out
from girder_core.trial import (
    UNCONFIRMED,
    Event,
    EventKind,
    OpenLedger,
    Station,
    StationState,
    TrialResult,
    admit_at_station,
    confirm_at_station,
    held_at_station,
    station_state,
    with_mark,
)

STOPPED, CONFIRMED = Station(stopped=True), Station(stopped=False, confirmed=True)
RULES = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)
MENDS = (EventKind.UNDO, EventKind.PILE_READING)
"""These say what was so all along, and so can raise what was on without putting anything on."""


def refused(kind: EventKind, station: Station) -> str:
    try:
        admit_at_station(kind, station)
    except GirderError as error:
        return error.code
    return ""


class Stopped(unittest.TestCase):
    def test_whatever_a_team_still_writes_puts_nothing_more_on(self) -> None:
        written = 0
        for seed, family in enumerate(list(FAMILIES.values()) * 6):
            draws = Random(seed)
            kit = small_kit(draws)
            rules = family.trial_setup(family.usual(draws.choice(list(AgeBand))), kit)
            so_far = any_ledger(family, rules, draws, f"s{seed}", tries=draws.randint(3, 25))
            ledger = OpenLedger(rules, so_far)
            on, rounds = ledger.result.load_on.value, len(ledger.result.rounds)
            for n in range(40):
                kind, data = any_event(family, rules, so_far, draws)
                if kind in MENDS or refused(kind, STOPPED):
                    continue
                event = Event(f"{seed}-{n}", len(so_far) + 1, kind, data)
                try:
                    ledger.admit(event)
                except GirderError:
                    continue
                so_far.append(event)
                written += 1
                self.assertLessEqual(ledger.result.load_on.value, on + 1e-12, (family.key, kind, data))
                self.assertLessEqual(len(ledger.result.rounds), rounds, (family.key, kind))
        # They can say a good deal all the same.
        self.assertGreater(written, 100)

    def test_what_happened_can_be_said(self) -> None:
        for kind in (EventKind.SETTLE, EventKind.OBSERVE, EventKind.FAIL, EventKind.REMOVE, EventKind.VOID,
                     EventKind.RUN_OUT, EventKind.MEASURE, EventKind.UNDO, EventKind.NOTE):  # fmt: skip
            self.assertEqual(refused(kind, STOPPED), "", kind)

    def test_the_keys_that_are_held_back_are_those_that_would_be_refused(self) -> None:
        said = {kind.value for kind in EventKind if refused(kind, STOPPED) == "stopped"}
        self.assertEqual(set(held_at_station(STOPPED)), said)
        self.assertEqual(held_at_station(Station()), {})

    def test_only_a_teacher_puts_right_and_nobody_writes_after_the_confirmation(self) -> None:
        self.assertEqual({kind for kind in EventKind if refused(kind, Station()) == "of_teachers"},
                         {EventKind.CORRECT, EventKind.MOVE})  # fmt: skip
        self.assertEqual({refused(kind, CONFIRMED) for kind in EventKind}, {"confirmed"})


class Confirmed(unittest.TestCase):
    def test_only_what_is_over_and_as_it_was_looked_at(self) -> None:
        ended = broke(50)
        confirm_at_station(ended, ended.next_sequence)
        with self.assertRaises(GirderError) as meanwhile:
            confirm_at_station(ended, ended.next_sequence - 1)
        self.assertEqual(meanwhile.exception.code, "changed_meanwhile")
        with self.assertRaises(GirderError) as open_:
            confirm_at_station(TrialResult(), TrialResult().next_sequence)
        self.assertEqual(open_.exception.code, "trial_open")


class Where(unittest.TestCase):
    def test_what_wants_the_teacher_comes_first(self) -> None:
        running, ended = TrialResult(), broke(50)
        for told, state in (
            ((False, False, None, Station()), StationState.BUILDING),
            ((True, False, None, Station()), StationState.READY),
            ((True, False, running, Station()), StationState.TESTING),
            ((True, False, running, STOPPED), StationState.STOPPED),
            ((True, True, ended, Station()), StationState.TO_CONFIRM),
            ((True, True, ended, STOPPED), StationState.TO_CONFIRM),
            ((True, True, ended, CONFIRMED), StationState.DONE),
            ((True, True, None, Station()), StationState.DONE),
            ((True, False, None, Station(), True), StationState.AT_BENCH),
            ((True, True, ended, Station(), True), StationState.AT_BENCH),
        ):
            self.assertEqual(station_state(*told), state, told)


class Marked(unittest.TestCase):
    def compared(self, unconfirmed: bool) -> tuple[Entry, ...]:
        remarks = circumstantial(Circumstances(unconfirmed=unconfirmed), "", {})
        own = Quantity(0.04)
        return (
            Entry("tern", "Tern", (broke(50),), own, unconfirmed=unconfirmed, remarks=remarks),
            Entry("auk", "Auk", (ran_out(30),), own),
        )

    def test_wherever_a_comparison_speaks_of_it(self) -> None:
        comparison = compare(self.compared(True), RULES)
        self.assertTrue(comparison.headline.endswith("Not confirmed yet: Tern."), comparison.headline)
        words = {place.entry.key: place.words(RULES) for place in comparison.places}
        self.assertEqual({key: UNCONFIRMED in said for key, said in words.items()}, {"tern": True, "auk": False})
        (line,) = [line for line in like_with_like(comparison) if UNCONFIRMED in line.says]
        self.assertEqual((line.key, line.decides), ("tern", True))
        chart = ranking_chart(comparison, RULES, {"tern": "Tern", "auk": "Auk"}, {"tern": "", "auk": ""}, System.METRIC)
        drawn = [shape.text for shape in chart.drawn if UNCONFIRMED in shape.text]
        rows = [row for row in chart.rows if any(UNCONFIRMED in cell for cell in row)]
        self.assertEqual((len(drawn), [row[1] for row in rows]), (1, ["Tern"]))

    def test_the_word_changes_no_figure(self) -> None:
        marked, plain = (compare(self.compared(so), RULES) for so in (True, False))
        self.assertEqual(
            [(p.entry.key, p.score, p.ranks, p.prospect) for p in marked.places],
            [(p.entry.key, p.score, p.ranks, p.prospect) for p in plain.places],
        )
        self.assertNotIn(UNCONFIRMED, plain.headline.lower())

    def test_words_with_and_without(self) -> None:
        self.assertEqual(with_mark("490 g", True), "490 g, not confirmed yet")
        self.assertEqual((with_mark("", True), with_mark("490 g", False)), ("not confirmed yet", "490 g"))


if __name__ == "__main__":
    unittest.main()
