"""A rubric: what results give, what adds up, what is refused."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.results import (
    PROPOSED,
    Attempt,
    BestLoad,
    Criterion,
    Gain,
    Source,
    VerdictKind,
    evidence_of,
    level_from,
    points,
    rubric_of,
)
from girder_core.results.rubric import Evidence
from girder_core.trial import Interval

FOUR = ("a", "b", "c", "d")


def line(source: Source, weight: float = 1.0, key: str = "x", name: str = "X") -> Criterion:
    return Criterion(key, name, source, FOUR, weight)


def gained(value: float, kind: VerdictKind) -> Gain:
    return Gain(value, Interval(value, value), False, kind, "")


class WhatResultsTell(unittest.TestCase):
    def test_the_latest_gain_and_prediction_and_the_most_held(self) -> None:
        gain = gained(0.5, VerdictKind.CLEAR)
        first = Attempt(True, BestLoad(2.0, Interval(2.0, 2.1), Interval(2.0, 2.1)), 1.0, None, True, (True,), None)
        second = Attempt(
            True, BestLoad(1.5, Interval(1.5, 1.6), Interval(1.5, 1.6)), 1.8, gain, True, (True, True), True
        )
        evidence = evidence_of([first, second], 4.0, [True, True])
        # 2 of 4 kg; 1.8 said where 1.5 held is 20 % too much; everything is written down.
        self.assertEqual((evidence.margin, evidence.gain, evidence.versions, evidence.said), (0.5, gain, 2, True))
        self.assertAlmostEqual(evidence.error or 0, 0.2)
        self.assertEqual(evidence.recorded, 1.0)

    def test_what_is_missing_from_the_record_counts_against_it(self) -> None:
        # Own weight missing, one ending of two told, the change told, one answer of three: 3 of 7.
        poor = Attempt(True, None, None, None, False, (True, False), True)
        self.assertAlmostEqual(evidence_of([poor], 1.0, [True, False, False]).recorded or 0, 3 / 7)
        unasked = Attempt(True, None, None, None, None, (), None)
        self.assertEqual(evidence_of([unasked], 1.0, []).recorded, 0.0)

    def test_nothing_tested_tells_nothing(self) -> None:
        evidence = evidence_of([Attempt(False, predicted=1.0, own_weight=True)], 1.0, [True])
        self.assertEqual(evidence, Evidence(said=True))
        self.assertIsNone(evidence_of([Attempt(True, BestLoad(1.0, Interval(1, 2), Interval(1, 2)))], 0.0, []).margin)


class FromResults(unittest.TestCase):
    def test_quarters_of_what_can_be_reached(self) -> None:
        for margin, level in ((None, None), (0.0, 0), (0.24, 0), (0.25, 1), (0.74, 2), (0.99, 3), (1.0, 3), (1.7, 3)):
            self.assertEqual(level_from(line(Source.TARGET), Evidence(margin=margin)), level, margin)
            self.assertEqual(level_from(line(Source.RECORD), Evidence(recorded=margin)), level, margin)

    def test_a_gain_counts_by_how_sure_it_is(self) -> None:
        for evidence, level in (
            (Evidence(), None), (Evidence(versions=1), 0), (Evidence(versions=2), 1),
            (Evidence(versions=2, gain=gained(-0.2, VerdictKind.CLEAR)), 1),
            (Evidence(versions=2, gain=gained(0.2, VerdictKind.TOO_CLOSE)), 2),
            (Evidence(versions=2, gain=gained(0.2, VerdictKind.CLEAR)), 3),
        ):  # fmt: skip
            self.assertEqual(level_from(line(Source.GAIN), evidence), level, evidence)

    def test_a_prediction_counts_by_how_near_it_came(self) -> None:
        for evidence, level in (
            (Evidence(), None), (Evidence(versions=1), 0), (Evidence(said=True, versions=1), None),
            (Evidence(said=True, error=-0.1), 3), (Evidence(said=True, error=0.3), 2),
            (Evidence(said=True, error=3), 1),
        ):  # fmt: skip
            self.assertEqual(level_from(line(Source.PREDICTION), evidence), level, evidence)

    def test_what_is_judged_by_hand_comes_from_nothing_else(self) -> None:
        everything = Evidence(1.0, gained(1, VerdictKind.CLEAR), 2, True, 0.0, 1.0)
        self.assertIsNone(level_from(line(Source.HAND), everything))

    @given(st.floats(0, 2), st.floats(0, 2), st.integers(2, 6))
    def test_more_never_gives_a_lower_level(self, value: float, other: float, n: int) -> None:
        low, high = sorted((value, other))
        criterion = Criterion("x", "X", Source.TARGET, tuple("abcdef"[:n]), 1)
        lower, higher = (level_from(criterion, Evidence(margin=margin)) for margin in (low, high))
        assert lower is not None and higher is not None
        self.assertTrue(0 <= lower <= higher < n)


class Points(unittest.TestCase):
    def test_weighted_over_what_is_judged(self) -> None:
        criteria = [line(Source.HAND, 2, "a", "A"), line(Source.HAND, 1, "b", "B"), line(Source.HAND, 5, "c", "C")]
        # (2 * 3/3 + 1 * 1/3) / 3 of 100; the third is not judged.
        self.assertAlmostEqual(points(criteria, {"a": 3, "b": 1, "c": None}) or 0, 100 * (2 + 1 / 3) / 3)
        self.assertIsNone(points(criteria, {}))
        with self.assertRaises(GirderError):
            points(criteria, {"a": 4})

    def test_the_proposed_one_holds_together(self) -> None:
        self.assertEqual(rubric_of(PROPOSED), PROPOSED)
        top = {criterion.key: len(criterion.levels) - 1 for criterion in PROPOSED}
        self.assertAlmostEqual(points(PROPOSED, top) or 0, 100)

    def test_what_does_not_hold_together(self) -> None:
        for make in (
            lambda: line(Source.HAND, name=" "), lambda: Criterion("x", "X", Source.HAND, ("one",), 1),
            lambda: Criterion("x", "X", Source.HAND, ("one", " "), 1), lambda: line(Source.HAND, -1),
            lambda: line(Source.HAND, float("nan")),
            lambda: rubric_of([line(Source.HAND), line(Source.HAND, key="y")]),
            lambda: rubric_of([line(Source.HAND, 0)]),
        ):  # fmt: skip
            with self.assertRaises(GirderError):
                make()
