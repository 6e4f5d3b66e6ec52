"""What may be done in a trial now: what is said beforehand is what the ledger refuses, in every kind of challenge."""

import unittest
from collections.abc import Mapping
from random import Random

from girder_core.families import FAMILIES, Does, Family, family_of, keys_of
from girder_core.ground import GirderError
from girder_core.kit import Kit
from girder_core.safety import AgeBand
from girder_core.tests import tries
from girder_core.tests.anything import any_event, any_ledger, small_kit
from girder_core.tests.support import Script, setup
from girder_core.trial import Event, EventKind, Fact, TrialSetup, acts, admit, facts_of, replay
from girder_core.trial.acts import needs_of


def ledgers(name: str, count: int = 12) -> list[tuple[Family, TrialSetup, list[Event], Random]]:
    """Random ledgers of every kind of challenge, each cut at some length."""
    made = []
    for key, family in FAMILIES.items():
        for n in range(tries(count)):
            draws = Random(f"{name} {key} {n}")
            rules = family.trial_setup(family.usual(draws.choice(list(AgeBand))), small_kit(draws))
            events = any_ledger(family, rules, draws, key)
            made.append((family, rules, events[: draws.randint(0, len(events))], draws))
    return made


class SaidBeforehand(unittest.TestCase):
    def test_what_is_refused_was_said_and_what_was_said_is_refused(self) -> None:
        refused = taken = 0
        for family, rules, events, draws in ledgers("said"):
            result = replay(events, rules)
            said = {(act.kind, act.measure): act.reason for act in acts(result, rules)}
            for _ in range(12):
                kind, data = any_event(family, rules, events, draws)
                asked = (kind, str(data.get("key", "")) if kind is EventKind.MEASURE else "")
                if asked not in said:
                    # Nothing of that name is measured here.
                    continue
                reason = said[asked]
                sentences = {need.says for need in needs_of(kind, rules, asked[1])}
                try:
                    admit(events, Event("probe", len(events) + 1, kind, data), rules)
                except GirderError as error:
                    # Refused for what was said, or for what only the entry itself could tell.
                    refused += bool(reason)
                    heard = error.sentence if error.sentence in sentences else reason
                    self.assertEqual(heard, reason, (kind, data))
                else:
                    taken += 1
                    self.assertEqual(reason, "", (family.key, kind, data))
        self.assertGreater(min(refused, taken), 50)

    def test_every_kind_of_entry_and_every_measure_is_told(self) -> None:
        for challenge in FAMILIES.values():
            rules = challenge.trial_setup(challenge.usual(AgeBand.AGES_11_13), Kit(()))
            lawful = [(act.kind, act.measure) for act in acts(replay([], rules), rules)]
            self.assertEqual(len(lawful), len(set(lawful)), challenge.key)
            self.assertEqual({kind for kind, _ in lawful}, set(EventKind) - (set() if rules.measures else
                             {EventKind.MEASURE}))  # fmt: skip
            self.assertEqual({measure for kind, measure in lawful if kind is EventKind.MEASURE}, set(rules.measures))

    def test_by_hand(self) -> None:
        def reason(script: Script, kind: EventKind) -> str:
            return next(act.reason for act in acts(script.result(), setup()) if act.kind is kind)

        new = Script()
        self.assertEqual(reason(new, EventKind.PLACE), "")
        self.assertIn("Nothing was done to it", reason(new, EventKind.SETTLE))
        self.assertIn("Nothing has held yet", reason(new, EventKind.RUN_OUT))
        self.assertIn("nothing to take back", reason(new, EventKind.UNDO))
        waiting = Script().place("platform")
        self.assertEqual(reason(waiting, EventKind.SETTLE), "")
        self.assertIn("Wait for the last step", reason(waiting, EventKind.RUN_OUT))
        ended = Script().hold("platform").hold().place().fail()
        self.assertIn("has ended", reason(ended, EventKind.PLACE))
        self.assertEqual(reason(ended, EventKind.PILE_READING), "")


class Keys(unittest.TestCase):
    def test_no_two_keys_that_are_there_at_once_have_one_letter(self) -> None:
        for family, rules, events, _ in ledgers("keys"):
            facts = facts_of(replay(events, rules), rules)
            keys = [
                key
                for key in keys_of(family, family.usual(AgeBand.AGES_11_13))
                if all((fact in facts) is so for fact, so in key.shown.items())
            ]
            letters = [key.letter for key in keys if key.letter]
            self.assertEqual(len(letters), len(set(letters)), (family.key, letters, sorted(facts)))
            entering = [
                key
                for key in keys
                if key.enter is not None and all((fact in facts) is so for fact, so in key.enter.items())
            ]
            self.assertLessEqual(len(entering), 1, (family.key, [key.does for key in entering], sorted(facts)))

    def test_there_is_always_a_key_that_leads_on(self) -> None:
        for family, rules, events, _ in ledgers("on"):
            result = replay(events, rules)
            facts = facts_of(result, rules)
            free = {(act.kind, act.measure) for act in acts(result, rules) if not act.reason}
            usable = [
                key.does
                for key in keys_of(family, family.usual(AgeBand.AGES_11_13))
                if all((fact in facts) is so for fact, so in key.shown.items())
                and (key.act is None or (key.act, key.measure) in free)
            ]
            self.assertIn(Does.VOID if result.outcome == "running" else Does.GO_ON, usable, (family.key, sorted(facts)))
            self.assertGreater(len(usable), 1)

    def test_a_tower_is_let_go_measured_then_loaded_or_done(self) -> None:
        tower = family_of("tower")
        rules = tower.trial_setup({"hold_s": 5.0}, setup().kit)

        def enter(*events: tuple[EventKind, Mapping[str, object]]) -> list[tuple[Does, str]]:
            made = [Event(f"e{n}", n, kind, data) for n, (kind, data) in enumerate(events, start=1)]
            facts = facts_of(replay(made, rules), rules)
            return [
                (key.does, key.measure)
                for key in keys_of(tower, {"hold_s": 5.0})
                if key.enter is not None
                and all((fact in facts) is so for fact, so in (*key.shown.items(), *key.enter.items()))
            ]

        go: tuple[EventKind, dict[str, object]] = (EventKind.ROUND, {})
        stood = (EventKind.SETTLE, {"waited_s": 5})
        tall = (EventKind.MEASURE, {"key": "height", "text": "61 cm", "resolution": "1 mm", "zero": ""})
        self.assertEqual(enter(), [(Does.ROUND, "")])
        self.assertEqual(enter(go), [(Does.HELD, "")])
        self.assertEqual(enter(go, stood), [(Does.MEASURE, "height")])
        self.assertEqual(enter(go, stood, tall), [(Does.PLANNED, "")])

    def test_a_fact_that_is_named_can_come_about(self) -> None:
        seen: set[Fact] = set()
        # A pile is weighed seldom, by chance: by hand here.
        weighed = Script().hold("platform").hold().place().fail()
        weighed.add(EventKind.PILE_READING, mass="60 g", resolution="1 g", covers="all")
        seen |= facts_of(weighed.result(), setup())
        for _, rules, events, _ in ledgers("facts"):
            for n in range(len(events) + 1):
                seen |= facts_of(replay(events[:n], rules), rules)
        self.assertEqual(set(Fact) - seen, {Fact.NEVER})
