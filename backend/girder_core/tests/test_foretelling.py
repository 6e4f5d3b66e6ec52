"""Predictions where nothing is loaded: levels, heights and counts, read, told and scored like loads."""

import unittest
from typing import Any

from girder_core.families import FAMILIES, Foretells, family_of, foretells
from girder_core.ground import GirderError
from girder_core.kit import Kit, Relation, read_size
from girder_core.measure import Kind, System
from girder_core.results import Attempt, evidence_of, foresee
from girder_core.safety import AgeBand
from girder_core.trial import Event, EventKind, TrialResult, replay

AGE = AgeBand.AGES_11_13


def told(key: str, **setup: float) -> Foretells:
    family = family_of(key)
    found = foretells(family, {**family.usual(AGE), **setup})
    assert found is not None
    return found


def trial(key: str, *story: tuple[EventKind, dict[str, Any]], **setup: float) -> TrialResult:
    family = family_of(key)
    terms = {**family.usual(AGE), **setup}
    events = [Event(f"e{n}", n, kind, data) for n, (kind, data) in enumerate(story, start=1)]
    result = replay(events, family.trial_setup(terms, Kit(())))
    assert not result.refused, result.refused
    return result


SURVIVED: tuple[tuple[EventKind, dict[str, Any]], ...] = ((EventKind.ROUND, {}), (EventKind.SETTLE, {"waited_s": 99}))


class What(unittest.TestCase):
    def test_what_each_kind_foretells(self) -> None:
        for key, kind, words in (
            ("shake_tower", Kind.COUNT, "level 3"), ("drop_house", Kind.LENGTH, None), ("tower", Kind.LENGTH, None),
            ("wall", Kind.COUNT, "3 left"), ("hideout", Kind.COUNT, "3 hidden"),
        ):  # fmt: skip
            self.assertIs(told(key).kind, kind)
            if words:
                self.assertEqual(told(key).words(3), words)
        for family in FAMILIES.values():
            self.assertEqual(foretells(family, family.usual(AGE)) is None, family.loaded, family.key)

    def test_its_own_example_is_read(self) -> None:
        for family in FAMILIES.values():
            found = foretells(family, family.usual(AGE))
            for system in System if found else ():
                assert found is not None
                example = found.example(system)
                self.assertGreater(read_size(example, found.kind, example, {}).amount, 0, (family.key, example))


class Reading(unittest.TestCase):
    def test_as_classes_say_it(self) -> None:
        for text, kind, amount in (
            ("level 4", Kind.COUNT, 4), ("4", Kind.COUNT, 4), ("4 levels", Kind.COUNT, 4), ("18 left", Kind.COUNT, 18),
            ("65 cm", Kind.LENGTH, 0.65), ("2 ft", Kind.LENGTH, 0.6096), ("0", Kind.COUNT, 0),
        ):  # fmt: skip
            self.assertAlmostEqual(read_size(text, kind, "level 4", {}).amount, amount)

    def test_compared_with_another_team(self) -> None:
        came = {"Tern": 3.0, "Auk": None}
        said = read_size("more than Tern", Kind.COUNT, "level 4", came)
        self.assertEqual((said.amount, said.relation), (3, Relation.MORE))
        self.assertEqual(said.words(told=told("shake_tower").words), "more than Tern, level 3")
        for text, code in (("less than nobody", "nobody_of_that_name"), ("like Auk", "not_tested_yet")):
            with self.assertRaises(GirderError) as refused:
                read_size(text, Kind.COUNT, "level 4", came)
            self.assertEqual(refused.exception.code, code)

    def test_what_is_no_size_is_refused_with_an_example(self) -> None:
        for text, kind in (("many", Kind.COUNT), ("40 g", Kind.LENGTH), ("", Kind.COUNT), ("12", Kind.LENGTH)):
            with self.assertRaisesRegex(GirderError, "65 cm"):
                read_size(text, kind, "65 cm", {})
        with self.assertRaises(GirderError) as refused:
            read_size("-3", Kind.COUNT, "level 4", {})
        self.assertEqual(refused.exception.code, "not_positive")


class Scored(unittest.TestCase):
    def test_levels_lie_between_the_last_come_through_and_the_one_too_much(self) -> None:
        shaken = trial("shake_tower", *SURVIVED, *SURVIVED, (EventKind.ROUND, {}), (EventKind.FAIL, {"mode": "joint"}))
        bounds = told("shake_tower").came_to([shaken])
        assert bounds is not None
        self.assertEqual((bounds.low, bounds.high), (2, 3))
        for said, verdict in ((2, "right"), (3, "right"), (1, "too_low"), (5, "too_high")):
            self.assertEqual(foresee("", "", said, bounds.low, bounds, Relation.AMOUNT).verdict, verdict)

    def test_a_tower_that_fell_came_to_nothing(self) -> None:
        fell = trial("tower", (EventKind.ROUND, {}), (EventKind.FAIL, {"mode": "toppled"}))
        stood = trial("tower", *SURVIVED, (EventKind.MEASURE, {"key": "height", "text": "80 cm", "resolution": "1 mm"}),
                      (EventKind.FINISH, {}))  # fmt: skip
        tower = told("tower")
        bounds, best = tower.came_to([fell]), tower.came_to([fell, stood])
        assert bounds is not None and best is not None
        self.assertEqual((bounds.low, best.low), (0, 0.8))
        self.assertIsNone(tower.came_to([]))
        self.assertEqual(foresee("", "", 0.85, best.low, best).verdict, "right")
        self.assertEqual(foresee("", "", 1.2, best.low, best).verdict, "too_high")

    def test_the_rubric_sees_how_far_off_it_was(self) -> None:
        stood = trial("tower", *SURVIVED, (EventKind.MEASURE, {"key": "height", "text": "80 cm", "resolution": "1 mm"}),
                      (EventKind.FINISH, {}))  # fmt: skip
        evidence = evidence_of([Attempt(True, predicted=1.0, reached=told("tower").came_to([stood]))], 0.0, [])
        self.assertTrue(evidence.said)
        self.assertAlmostEqual(evidence.error or 0, 0.25)
