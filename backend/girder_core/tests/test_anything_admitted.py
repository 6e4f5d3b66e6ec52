"""Whatever the rules let into a ledger, everything that is told of it can be told."""

from __future__ import annotations

import math
import unittest
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise, product
from random import Random

from girder_core.families import FAMILIES, Family
from girder_core.kit import pile_check
from girder_core.measure import Kind, Quantity
from girder_core.results import (
    BreachPolicy,
    Entry,
    Rules,
    School,
    Score,
    TieRule,
    TrialRule,
    compare,
    gain,
    like_with_like,
    retests,
    score,
)
from girder_core.safety import AgeBand
from girder_core.tests.anything import any_ledger, small_kit
from girder_core.trial import TrialResult, middle_kg, replay

MIX = {School.MOST_HELD: 1, School.TALLEST: 1}
RULES = [
    Rules(school, rule, BreachPolicy.NOTE, tie_rule=tie, minimum_kg=0.2, weights=MIX)
    for school, rule, tie in product(School, TrialRule, TieRule)
]


class Told(unittest.TestCase):
    def readings(self, family: Family, draws: Random) -> dict[str, Quantity]:
        """What check-in could hold: anything plausible, and now and then nothing."""
        taken = {}
        for spec in family.readings:
            if draws.random() < 0.85:
                low, high = spec.plausible.low, spec.plausible.high
                value = low + draws.random() * (high - low)
                whole = spec.kind is Kind.COUNT
                taken[spec.key] = Quantity(float(round(value)) if whole else value, 0.0 if whole else 0.01 * value)
        return taken

    def sane(self, score: Score) -> None:
        self.assertFalse(math.isnan(score.value) or math.isnan(score.interval.low) or math.isnan(score.interval.high))
        self.assertLessEqual(score.interval.low, score.interval.high)

    def tell_all(
        self, family: Family, trials: list[tuple[TrialResult, ...]], draws: Random, various: Sequence[Rules]
    ) -> None:
        readings = [self.readings(family, draws) for _ in trials]
        for rules in various:
            entries = [
                Entry(
                    str(i), f"Team {i}", results, taken.get("self_mass"), gap=taken.get("gap"),
                    facts=family.facts(taken, results, rules.trial_rule),
                )
                for i, (results, taken) in enumerate(zip(trials, readings, strict=True))
            ]  # fmt: skip
            comparison = compare(entries, replace(rules, survived_kind=family.survived_kind))
            self.assertEqual(len(comparison.places) + len(comparison.unranked), len(entries))
            for place in comparison.places:
                self.sane(place.score)
                self.assertLessEqual(place.ranks.best, place.place)
                self.assertGreaterEqual(place.ranks.worst, place.place)
            like_with_like(comparison)
            retests(comparison, rules)
            # A mix is worked out over a whole run.
            alone = [
                score((r,), None, rules, False, family.facts(readings[0], (r,), rules.trial_rule))
                for r in trials[0]
                if rules.school is not School.MIX
            ]
            scores = [s for s in (*alone, *(p.score for p in comparison.places)) if isinstance(s, Score)]
            for before, after in pairwise(scores):
                gained = gain(before, after, 0.7, 0.6)
                self.assertLessEqual(gained.bounds.low, gained.bounds.high)

    def test_any_admitted_ledger_of_any_family_can_be_shown(self) -> None:
        for number, family in enumerate(FAMILIES.values()):
            entries = 0
            for seed in range(12):
                draws = Random(1000 * number + seed)
                kit = small_kit(draws)
                rules = family.trial_setup(family.usual(draws.choice(list(AgeBand))), kit)
                with self.subTest(family.key, seed=seed):
                    trials = []
                    for design in range(3):
                        ledgers = [
                            any_ledger(family, rules, draws, f"{design}-{n}") for n in range(draws.randint(0, 2))
                        ]
                        entries += sum(map(len, ledgers))
                        results = tuple(replay(events, rules) for events in ledgers)
                        for result in results:
                            self.assertEqual(result.refused, ())
                            middle_kg(result)
                            if result.pile:
                                pile_check(kit, result.placed, result.pile)
                        trials.append(results)
                    if trials[0]:
                        # Twelve classes of each kind meet every rule four times.
                        self.tell_all(family, trials, draws, RULES[seed % 3 :: 3])
            # The rules let enough in for this to say something.
            with self.subTest(family.key):
                self.assertGreater(entries, 40)
