"""Clear, likely, chances and ranges of places keep their word: a part of the grid that docs/claims.md prints whole."""

import unittest
from dataclasses import replace

import numpy as np

from girder_core.results import BreachPolicy, Entry, Rules, School, TrialRule, VerdictKind, compare
from girder_core.tests import tries
from girder_core.tests.claims.classes import MOST, Cell, Tally, bins, tallied, trial

CLASSES = tries(14)


class Claims(unittest.TestCase):
    """Bounds are those that are claimed, with room for how few classes are tried here: about three standard errors."""

    def test_where_designs_differ(self) -> None:
        cells = [
            Cell(8, scatter, spread, trials)
            for scatter in (0.08, 0.2, 0.35)
            for spread in (0.2, 0.6)
            for trials in ((1,), (3,), (2, 1, 1, 1))
        ]
        cells += [Cell(8, 0.2, 0.4, (2,), step=0.4), Cell(8, 0.2, 0.4, (2,), kit=1.2)]
        whole = Tally()
        for number, cell in enumerate(cells):
            part = tallied(cell, CLASSES, number)
            whole.designs, whole.in_range = whole.designs + part.designs, whole.in_range + part.in_range
            for kind in whole.said:
                whole.said[kind] += part.said[kind]
                whole.wrong[kind] += part.wrong[kind]
            for name in ("better", "ahead", "first"):
                getattr(whole, name).extend(getattr(part, name))
        # Enough for a share to say something; the quick suite tries fewer classes.
        self.assertGreater(whole.said[VerdictKind.CLEAR], 7.2 * CLASSES)
        self.assertLess(whole.wrongly(VerdictKind.CLEAR), 0.025)
        self.assertLess(whole.wrongly(VerdictKind.LIKELY), 0.2)
        self.assertGreater(whole.covered(), 0.88)
        for name in ("better", "ahead", "first"):
            for low, count, said, came in bins(getattr(whole, name), 0.2):
                room = 0.05 + 3 * (0.25 / count) ** 0.5
                self.assertLess(abs(said - came), room, (name, low, count, said, came))

    def test_where_all_are_equal_hardly_anybody_is_called_better(self) -> None:
        said = {VerdictKind.LIKELY: 0, VerdictKind.CLEAR: 0}
        neighbours = 0
        for number, (scatter, trials) in enumerate([(0.2, (1,)), (0.35, (1,)), (0.08, (3,)), (0.2, (3,))]):
            part = tallied(Cell(8, scatter, 0.0, trials), CLASSES, number)
            neighbours += part.neighbours
            for kind in said:
                said[kind] += part.said[kind]
        self.assertLess(said[VerdictKind.LIKELY] / neighbours, 0.05)
        self.assertLess(said[VerdictKind.CLEAR] / neighbours, 0.01)

    def test_it_is_not_kept_by_saying_nothing(self) -> None:
        part = tallied(Cell(8, 0.2, 0.4, (3,)), 3 * CLASSES, 5)
        self.assertGreater(part.share(VerdictKind.LIKELY) + part.share(VerdictKind.CLEAR), 0.3)

    def test_being_tested_often_wins_nothing(self) -> None:
        # Eight equal designs, one of them tested five times: it comes first on the day far more often than one time in
        # eight, and would win again as often as the others.
        first = today = 0.0
        cell, classes = Cell(8, 0.2, 0.0), 2 * CLASSES
        dice = np.random.default_rng(3)
        for _ in range(classes):
            shown = np.exp(dice.normal(0, cell.scatter, (8, 5)))
            entries = [
                Entry(f"d{i}", f"T{i}", tuple(trial(float(v), cell.step, cell.kit) for v in own[: 1 if i else 5]))
                for i, own in enumerate(shown)
            ]
            places = {place.entry.key: place for place in compare(entries, MOST).places}
            today += places["d0"].place == 1
            first += places["d0"].prospect.first
        self.assertGreater(today / classes, 0.25)
        self.assertAlmostEqual(first / classes, 1 / 8, delta=0.05)


class EveryWayOfScoring(unittest.TestCase):
    def test_chances_hold_for_ratios_means_and_the_last(self) -> None:
        rules = [
            replace(MOST, school=School.STRENGTH_TO_WEIGHT),
            replace(MOST, trial_rule=TrialRule.MEAN),
            replace(MOST, trial_rule=TrialRule.LAST),
            Rules(School.THRESHOLD, TrialRule.BEST, BreachPolicy.NOTE, minimum_kg=1.0),
        ]
        for number, scored in enumerate(rules):
            with self.subTest(scored.school.value, rule=scored.trial_rule.value):
                part = tallied(Cell(6, 0.2, 0.4, (2,), rules=scored), 2 * CLASSES, 50 + number)
                self.assertEqual(bool(part.passes), scored.school is School.THRESHOLD)
                for low, count, said, came in [*bins(part.better, 0.25), *bins(part.passes, 0.25)]:
                    self.assertLess(abs(said - came), 0.05 + 3 * (0.25 / count) ** 0.5, (low, count, said, came))
