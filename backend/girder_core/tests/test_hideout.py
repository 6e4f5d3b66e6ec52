"""Hideouts: from the looks and the push to a score, and what does not go together."""

import unittest
from dataclasses import replace
from itertools import product
from typing import Any

from girder_core.families import fact_origin, family_of, headline, result_in_words
from girder_core.families.hideout import SIDES
from girder_core.ground import GirderError, Origin
from girder_core.kit import Kit
from girder_core.measure import Quantity
from girder_core.results import BreachPolicy, Candidate, Rules, School, Score, TrialRule, amount, score_all
from girder_core.results.scoring import Unranked
from girder_core.safety import AgeBand
from girder_core.trial import Event, EventKind, Outcome, TrialResult, admit, replay

FAMILY = family_of("hideout")
SETUP = {**FAMILY.usual(AgeBand.AGES_8_10), "figures": 3.0, "blocks_max": 24.0}
JUDGED = FAMILY.trial_setup(SETUP, Kit(()))


def looked(seen: int, hidden: int | None, end: EventKind | None = EventKind.FINISH) -> TrialResult:
    """A trial in which the first so many looks saw somebody."""
    story: list[tuple[EventKind, dict[str, Any]]] = [(EventKind.ROUND, {"hit": n < seen}) for n in range(9)]
    if hidden is not None:
        story.append((EventKind.MEASURE, {"key": "hidden", "text": str(hidden), "resolution": "1"}))
    if end is not None:
        story.append((end, {"mode": "fell_in"} if end is EventKind.FAIL else {}))
    return told(story)


def told(story: list[tuple[EventKind, dict[str, Any]]]) -> TrialResult:
    events: list[Event] = []
    for n, (kind, data) in enumerate(story, start=1):
        event = Event(f"e{n}", n, kind, data)
        admit(events, event, JUDGED)
        events.append(event)
    return replay(events, JUDGED)


def by(school: School, blocks: float, *trials: TrialResult, rule: TrialRule = TrialRule.BEST) -> Score | Unranked:
    facts = FAMILY.facts({"pieces": Quantity(blocks)}, trials, rule, SETUP)
    return score_all([Candidate(trials, facts=facts)], Rules(school, rule, BreachPolicy.NOTE))[0]


class Looks(unittest.TestCase):
    def test_eight_directions_and_above(self) -> None:
        assert JUDGED.rounds is not None
        self.assertEqual(len(JUDGED.rounds.planned), 9)
        self.assertEqual([round_.name for round_ in JUDGED.rounds.planned], list(SIDES))
        self.assertEqual(SIDES[-1], "above")
        self.assertIn("from the back", JUDGED.rounds.shown()[4].note)

    def test_it_is_looked_at_from_all_sides_before_anybody_is_counted(self) -> None:
        with self.assertRaisesRegex(GirderError, "all sides"):
            told([(EventKind.ROUND, {"hit": False}), (EventKind.MEASURE, {"key": "hidden", "text": "3"})])

    def test_what_was_seen_and_what_is_hidden_go_together(self) -> None:
        """For every number of looks that saw somebody and every count: all are hidden exactly when nobody was seen."""
        for seen, hidden in product(range(10), range(5)):
            possible = hidden <= 3 and (hidden == 3) is (seen == 0)
            with self.subTest(seen=seen, hidden=hidden):
                if possible:
                    self.assertIs(looked(seen, hidden).outcome, Outcome.DONE)
                else:
                    with self.assertRaises(GirderError) as refused:
                        looked(seen, hidden)
                    self.assertIn(refused.exception.code, ("does_not_agree", "measure_too_great"))

    def test_a_look_put_right_later_asks_for_the_count_again(self) -> None:
        result = looked(0, 3, end=None)
        events = [Event(f"e{n}", n, EventKind.ROUND, {"hit": False}) for n in range(1, 10)]
        events.append(Event("e10", 10, EventKind.MEASURE, {"key": "hidden", "text": "3", "resolution": "1"}))
        self.assertEqual(replay(events, JUDGED).measures, result.measures)
        with self.assertRaises(GirderError):
            admit(events, Event("c", 11, EventKind.CORRECT, {"event": "e2", "hit": True}), JUDGED)

    def test_it_may_fall_in_at_any_moment(self) -> None:
        for made in range(1, 10):
            story: list[tuple[EventKind, dict[str, Any]]] = [(EventKind.ROUND, {"hit": False})] * made
            result = told([*story, (EventKind.FAIL, {"mode": "wall_went"})])
            self.assertIs(result.outcome, Outcome.BROKE)

    def test_it_ends_only_once_counted(self) -> None:
        with self.assertRaisesRegex(GirderError, "Figures hidden"):
            looked(0, None)


class Scores(unittest.TestCase):
    def test_the_smallest_that_hides_all(self) -> None:
        whole = by(School.SPARED, 18, looked(0, 3))
        assert isinstance(whole, Score)
        self.assertEqual(whole.value, 6)
        seen = by(School.SPARED, 10, looked(1, 2))
        assert isinstance(seen, Unranked)
        self.assertEqual(seen.code, "not_whole")

    def test_the_most_for_its_blocks(self) -> None:
        for seen, hidden, blocks, for_ten in ((0, 3, 15, 2.0), (2, 2, 16, 1.25), (9, 0, 12, 0.0)):
            score = by(School.FOR_ITS_PIECES, blocks, looked(seen, hidden))
            assert isinstance(score, Score)
            self.assertAlmostEqual(10 * score.value, for_ten)

    def test_what_fell_in_hides_nobody(self) -> None:
        fallen = looked(0, 3, EventKind.FAIL)
        for school in (School.SPARED, School.FOR_ITS_PIECES):
            lost = by(school, 12, fallen)
            assert isinstance(lost, Unranked)
            self.assertEqual(lost.code, "fell")
            # The other trial counts, whatever the one that fell had hidden.
            other = by(school, 12, fallen, looked(0, 3))
            self.assertIsInstance(other, Score)
        partly = by(School.FOR_ITS_PIECES, 10, fallen, looked(4, 1))
        assert isinstance(partly, Score)
        self.assertAlmostEqual(10 * partly.value, 1.0)

    def test_which_trial_counts(self) -> None:
        all_hidden, one_seen = looked(0, 3), looked(1, 2)
        for rule, trials, ranked in (
            (TrialRule.BEST, (all_hidden, one_seen), True),
            (TrialRule.LAST, (all_hidden, one_seen), False),
            (TrialRule.LAST, (one_seen, all_hidden), True),
            (TrialRule.MEAN, (all_hidden, one_seen), False),
            (TrialRule.MEAN, (all_hidden, all_hidden), True),
        ):
            with self.subTest(rule=rule, trials=[trial.hits for trial in trials]):
                self.assertEqual(isinstance(by(School.SPARED, 20, *trials, rule=rule), Score), ranked)
        mean = by(School.FOR_ITS_PIECES, 20, all_hidden, one_seen, rule=TrialRule.MEAN)
        assert isinstance(mean, Score)
        self.assertAlmostEqual(10 * mean.value, 1.25)

    def test_from_paper_without_a_trial(self) -> None:
        readings = {"pieces": Quantity(20.0), "hidden": Quantity(3.0)}
        facts = FAMILY.facts(readings, (), TrialRule.BEST, SETUP)
        (score,) = score_all([Candidate((), facts=facts)], Rules(School.SPARED, TrialRule.BEST, BreachPolicy.NOTE))
        assert isinstance(score, Score)
        self.assertEqual(score.value, 4)
        (none,) = score_all([Candidate(())], Rules(School.SPARED, TrialRule.BEST, BreachPolicy.NOTE))
        assert isinstance(none, Unranked)
        self.assertEqual(none.code, "not_measured")

    def test_in_words(self) -> None:
        rules = Rules(School.SPARED, TrialRule.BEST, BreachPolicy.NOTE)
        self.assertEqual([amount(value, rules) for value in (1, 6)], ["1 block left over", "6 blocks left over"])
        self.assertEqual(amount(0.125, replace(rules, school=School.FOR_ITS_PIECES)), "1.25 for ten blocks")
        self.assertEqual(headline(FAMILY, SETUP, "Skua", looked(2, 1)), "Skua has 1 hidden, seen on 2 looks.")
        fallen = looked(0, 3, EventKind.FAIL)
        self.assertEqual(headline(FAMILY, SETUP, "Skua", fallen), "Skua fell in.")
        self.assertEqual(result_in_words(FAMILY, SETUP, fallen), "fell in")

    def test_how_it_was_worked_out(self) -> None:
        pieces, hidden = (
            Origin(name, str(n), "x", n, source="counted") for name, n in (("Blocks", 16.0), ("Hid", 2.0))
        )
        read = {"pieces": pieces, "hidden": hidden}
        left, each = (
            fact_origin(FAMILY, school, TrialRule.BEST, read, [], SETUP)
            for school in (School.SPARED, School.FOR_ITS_PIECES)
        )
        assert left is not None and each is not None
        self.assertEqual((left.si, each.si), (8.0, 0.125))
        self.assertEqual([origin.si for origin in left.inputs], [24.0, 16.0])
        self.assertIsNone(fact_origin(FAMILY, School.SPARED, TrialRule.BEST, {"pieces": pieces}, [], SETUP))
