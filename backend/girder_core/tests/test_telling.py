"""Results in words: in few, in a sentence, and between which sizes a strength lies. Invented trials."""

import unittest
from collections.abc import Mapping

from girder_core.families import (
    FAMILIES,
    aims,
    ended_in_words,
    family_of,
    headline,
    how_it_ended,
    result_in_words,
    sizes_drawn,
    strength_in_words,
    trial_line,
    ways_on,
)
from girder_core.kit import Kit
from girder_core.measure import Kind, System
from girder_core.safety import AgeBand
from girder_core.tests.support import Script, broke, kit, ran_out, setup
from girder_core.trial import Event, EventKind, TrialResult, replay

BRIDGE = family_of("bridge")
HOUSE, TOWER, SHAKEN, WALL = (family_of(key) for key in ("drop_house", "tower", "shake_tower", "wall"))
LEVELS: dict[str, float] = {
    "stroke_m": 0.03,
    "frequency_hz": 1.0,
    "frequency_step_hz": 0.5,
    "levels": 4.0,
    "hold_s": 5.0,
}


def played(key: str, terms: Mapping[str, float], *events: tuple[EventKind, Mapping[str, object]]) -> TrialResult:
    made = [Event(f"e{n}", n, kind, data) for n, (kind, data) in enumerate(events, start=1)]
    result = replay(made, family_of(key).trial_setup(terms, Kit(())))
    assert not result.refused, result.refused
    return result


ROUND: tuple[EventKind, dict[str, object]] = (EventKind.ROUND, {})
SURVIVED = (EventKind.SETTLE, {"waited_s": 9})


class Pictures(unittest.TestCase):
    def test_what_is_measured_goes_before_what_is_asked_for_and_that_before_the_usual(self) -> None:
        asked = {"gap_m": 0.36, "overlap_min_m": None, "overlap_max_m": 0.05}
        self.assertEqual(
            sizes_drawn(BRIDGE, asked, {"overlap_left": 0.041, "self_mass": 0.03}),
            {"gap": 0.36, "overlap_left": 0.041, "overlap_right": 0.05},
        )
        bare = sizes_drawn(BRIDGE, {}, {})
        self.assertEqual(set(bare), {"gap", "overlap_left", "overlap_right"})
        self.assertTrue(all(size > 0 for size in bare.values()))

    def test_every_picture_has_a_size_for_every_line_and_only_lengths_that_are_read(self) -> None:
        for family in FAMILIES.values():
            for key, size in sizes_drawn(family, family.usual(AgeBand.AGES_11_13), {}).items():
                self.assertIs(family.reading_keys[key].kind, Kind.LENGTH, (family.key, key))
                self.assertGreater(size, 0, (family.key, key))


class Loads(unittest.TestCase):
    def test_a_load_and_at_least_one(self) -> None:
        # 10 nuts of 16 g.
        self.assertEqual(result_in_words(BRIDGE, {}, broke(10)), "160 g")
        self.assertEqual(result_in_words(BRIDGE, {}, ran_out(10)), "at least 160 g")
        self.assertEqual(result_in_words(BRIDGE, {}, ran_out(10), System.US), "at least 5.64 oz")
        self.assertEqual(headline(BRIDGE, {}, "Gannet", broke(10)), "Gannet held 160 g.")

    def test_pieces_for_a_young_class_and_where_pieces_are_what_counts(self) -> None:
        self.assertEqual(result_in_words(BRIDGE, {}, broke(10), in_pieces=True), "10 pieces")
        self.assertEqual(result_in_words(family_of("capacity_table"), {}, broke(1)), "1 piece")

    def test_a_line_says_how_it_ended(self) -> None:
        self.assertEqual(trial_line(BRIDGE, {}, broke(10)), "160 g, crimped")
        self.assertEqual(how_it_ended(BRIDGE, broke(10)), "Crimped")
        self.assertEqual(trial_line(BRIDGE, {}, played("bridge", {})), "under way")


def broken_by(mode: str) -> TrialResult:
    return Script().hold(count=3).place().fail(mode).result(setup(kit(0, nuts=100)))


class WaysOn(unittest.TestCase):
    def test_they_belong_to_how_the_last_test_ended(self) -> None:
        crimped, snapped = (mode for mode in BRIDGE.failure_modes if mode.key in ("crimp", "snap"))
        first, second = (broken_by(mode) for mode in ("crimp", "snap"))
        self.assertEqual(ways_on(BRIDGE, [first]), crimped.redesign)
        self.assertEqual(ways_on(BRIDGE, [first, second]), snapped.redesign)
        self.assertEqual(ways_on(BRIDGE, [second, ran_out(9)]), snapped.redesign, "what held says nothing new")
        self.assertEqual(ways_on(BRIDGE, []), ())


class InRounds(unittest.TestCase):
    def test_shaken(self) -> None:
        result = played("shake_tower", LEVELS, ROUND, SURVIVED, ROUND, (EventKind.FAIL, {"mode": "joint"}))
        self.assertEqual(result_in_words(SHAKEN, LEVELS, result), "level 1")
        self.assertEqual(headline(SHAKEN, LEVELS, "Tern", result), "Tern survived level 1.")
        self.assertIn("Went. ", ended_in_words(SHAKEN, LEVELS, result))
        self.assertEqual(strength_in_words(SHAKEN, LEVELS, result), "Its strength lies between level 1 and level 2.")

    def test_dropped_and_never_opened(self) -> None:
        terms = {"first_drop_m": 0.2, "drop_step_m": 0.85, "drop_max_m": 1.05}
        result = played("drop_house", terms, ROUND, SURVIVED, ROUND, SURVIVED,
                        (EventKind.RUN_OUT, {"reason": "highest"}))  # fmt: skip
        self.assertEqual(result_in_words(HOUSE, terms, result), "at least 1.05 m")
        self.assertEqual(strength_in_words(HOUSE, terms, result), "At least 1.05 m.")
        self.assertEqual(strength_in_words(HOUSE, terms, result, System.US), "At least 41.3 in.")

    def test_a_tower_that_stood_was_measured_or_fell(self) -> None:
        terms = {"hold_s": 5.0}
        tall = (EventKind.MEASURE, {"key": "height", "text": "61 cm", "resolution": "1 mm", "zero": ""})
        stood = played("tower", terms, ROUND, SURVIVED, tall, (EventKind.FINISH, {}))
        self.assertEqual(headline(TOWER, terms, "Auk", stood), "Auk stands 610 mm tall.")
        self.assertEqual(ended_in_words(TOWER, terms, stood), "Measured")
        self.assertEqual(strength_in_words(TOWER, terms, stood), "")
        fell = played("tower", terms, ROUND, (EventKind.FAIL, {"mode": TOWER.failure_modes[0].key}))
        self.assertEqual(headline(TOWER, terms, "Auk", fell), "Auk fell.")
        self.assertIn("It fell. ", ended_in_words(TOWER, terms, fell))

    def test_a_wall_by_its_pieces_or_its_height(self) -> None:
        terms = {"throws": 2.0}
        throws = [(EventKind.ROUND, {"hit": hit}) for hit in (True, False)]
        left = (EventKind.MEASURE, {"key": "left", "text": "18", "resolution": "1", "zero": ""})
        high = (EventKind.MEASURE, {"key": "height_left", "text": "12 cm", "resolution": "1 mm", "zero": ""})
        done: tuple[EventKind, dict[str, object]] = (EventKind.FINISH, {})
        counted = played("wall", terms, *throws, left, done)
        self.assertEqual(headline(WALL, terms, "Skua", counted), "Skua has 18 left, after 1 hit.")
        self.assertEqual(result_in_words(WALL, terms, played("wall", terms, *throws, high, done)), "120 mm left")
        # Both: what is counted stands before what is measured.
        self.assertEqual(result_in_words(WALL, terms, played("wall", terms, *throws, high, left, done)), "18 left")


class Aims(unittest.TestCase):
    def test_target_and_margin(self) -> None:
        self.assertEqual(aims({}), ())
        self.assertEqual([(aim.label, aim.kg) for aim in aims({"target_kg": 0.4})], [("target 400 g", 0.4)])
        listed = [(aim.label, aim.kg) for aim in aims({"target_kg": 0.4, "margin": 1.5})]
        self.assertEqual([label for label, _ in listed], ["made for 400 g", "with its margin 600 g"])
        self.assertAlmostEqual(listed[1][1], 0.6)
