"""A ledger that is written on, entry by entry, comes to what the whole of it comes to when it is read at once."""

from __future__ import annotations

import re
import unittest
from pathlib import Path
from random import Random

from girder_core.families import FAMILIES
from girder_core.ground import GirderError
from girder_core.safety import AgeBand
from girder_core.tests.anything import any_event, small_kit
from girder_core.trial import Event, EventKind, OpenLedger, Part, StepState, TrialSetup, admit, parts_of, replay


def any_rules(number: int, seed: int) -> tuple[TrialSetup, Random]:
    draws = Random(7000 * number + seed)
    family = list(FAMILIES.values())[number]
    return family.trial_setup(family.usual(draws.choice(list(AgeBand))), small_kit(draws)), draws


class OnAndOn(unittest.TestCase):
    """Every kind, with entries of any sort: undone, corrected, refused, reopened."""

    def test_each_entry_leads_where_reading_all_again_leads(self) -> None:
        let_in = refused = steps_held = 0
        for number, family in enumerate(FAMILIES.values()):
            for seed in range(8):
                rules, draws = any_rules(number, seed)
                ledger, events = OpenLedger(rules), list[Event]()
                for n in range(40):
                    new = Event(f"e{n}", len(events) + 1, *any_event(family, rules, events, draws))
                    with self.subTest(family.key, seed=seed, n=n):
                        before = ledger.result
                        anew = OpenLedger(rules, events)
                        try:
                            ledger.admit(new)
                        except GirderError as error:
                            refused += 1
                            self.assertEqual(ledger.result, before, "what was refused left a trace")
                            with self.assertRaises(GirderError) as again:
                                anew.admit(new)
                            self.assertEqual(again.exception.code, error.code)
                            continue
                        let_in += 1
                        events.append(new)
                        whole = replay(events, rules)
                        self.assertEqual(ledger.result, whole)
                        anew.admit(new)
                        self.assertEqual(anew.result, whole)
                        self.assertEqual(whole.refused, ())
                        # What came before a step that held is decided.
                        states = [step.state for step in whole.steps]
                        held = max((at for at, state in enumerate(states) if state is StepState.HELD), default=0)
                        self.assertFalse({StepState.WAITING, StepState.BROKE} & set(states[:held]))
                        steps_held += StepState.HELD in states
        # Enough of both for this to say something.
        self.assertGreater(let_in, 600)
        self.assertGreater(refused, 1000)
        self.assertGreater(steps_held, 100)

    def test_read_on_it_comes_to_what_reading_all_again_comes_to(self) -> None:
        """What stands in a ledger, whether the rules let it in or not, some of it before its turn."""
        left_out = came_early = 0
        for number, family in enumerate(FAMILIES.values()):
            for seed in range(6):
                rules, draws = any_rules(number, 900 + seed)
                ledger, events = OpenLedger(rules), list[Event]()
                for n in range(30):
                    events.append(Event(f"e{n}", n + 1, *any_event(family, rules, events, draws)))
                if draws.random() < 0.5:
                    at = draws.randrange(29)
                    events[at], events[at + 1] = events[at + 1], events[at]
                    came_early += 1
                for n, event in enumerate(events, start=1):
                    ledger.read(event)
                    with self.subTest(family.key, seed=seed, n=n):
                        self.assertEqual(ledger.result, replay(events[:n], rules))
                left_out += len(ledger.result.refused)
        self.assertGreater(left_out, 300)
        self.assertGreater(came_early, 10)

    def test_in_any_order_of_arrival(self) -> None:
        waited = 0
        for number, family in enumerate(FAMILIES.values()):
            for seed in range(8):
                rules, draws = any_rules(number, 50 + seed)
                events, ledger = list[Event](), OpenLedger(rules)
                for n in range(30):
                    new = Event(f"e{n}", len(events) + 1, *any_event(family, rules, events, draws))
                    try:
                        ledger.admit(new)
                    except GirderError:
                        continue
                    events.append(new)
                draws.shuffle(events)
                ledger = OpenLedger(rules)
                for n, event in enumerate(events, start=1):
                    # Nothing is asked: the load that ran out may have been placed by an entry that is still to come.
                    ledger.admit(event, asking=False)
                    now = ledger.result
                    waited += len(now.late)
                    with self.subTest(family.key, seed=seed, n=n):
                        self.assertEqual(now, replay(events[:n], rules))
        self.assertGreater(waited, 500)


class Places(unittest.TestCase):
    def setUp(self) -> None:
        self.rules, _ = any_rules(0, 1)
        note = {"text": "The left support had moved."}
        self.one, self.two, self.four = (Event(f"n{n}", n, EventKind.NOTE, note) for n in (1, 2, 4))

    def test_a_place_is_one_entrys(self) -> None:
        ledger = OpenLedger(self.rules, [self.one, self.two, self.four])
        before = ledger.result
        for place in (1, 2, 4):
            # A smaller id than that of the entry whose place it is does not push that one out.
            pushing = Event("a", place, EventKind.NOTE, {"text": "Mine."})
            with self.subTest(place), self.assertRaises(GirderError) as caught:
                ledger.admit(pushing)
            self.assertEqual((caught.exception.code, caught.exception.data["event"]), ("sequence_taken", "a"))
            with self.subTest(place), self.assertRaises(GirderError):
                admit([self.one, self.two, self.four], pushing, self.rules)
        self.assertEqual(ledger.result, before)

    def test_what_waited_follows_when_its_turn_comes(self) -> None:
        ledger = OpenLedger(self.rules, [self.one, self.two, self.four])
        self.assertEqual((ledger.result.late, ledger.result.next_sequence), (("n4",), 3))
        ledger.admit(Event("n3", 3, EventKind.NOTE, {"text": "And the right one."}))
        self.assertEqual((ledger.result.late, ledger.result.next_sequence), ((), 5))
        self.assertEqual(len(ledger.result.notes), 4)


class Documented(unittest.TestCase):
    def test_the_run_file_s_page_says_what_an_entry_can_say(self) -> None:
        page = (Path(__file__).parents[3] / "docs" / "run-file.md").read_text("utf-8")
        rows = {
            cells[0].strip(): cells[1]
            for line in page.splitlines()
            if len(cells := re.findall(r"\| (.+?) (?=\|)", line)) > 1
        }
        for kind in set(EventKind) - {EventKind.CORRECT}:
            told = [
                f"`{name}`" + ("" if part is Part.TEXT else f" ({part.value})")
                for name, part in parts_of(kind).items()
                if name != "confirmed"
            ]
            self.assertEqual(rows[f"`{kind.value}`"].strip(), ", ".join(told))
