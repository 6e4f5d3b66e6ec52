import unittest

from girder_core.errors import GirderError
from girder_core.families import FAMILIES, check_setup, family
from girder_core.families.constraints import Status
from girder_core.loading import LoadEstimate
from girder_core.safety import bench_caution
from girder_core.uncertainty import Quantity

GOOD = {"stands": True, "piers": False, "papered": False}
SETUP = check_setup("bridge", {"gap_m": 0.36, "overlap_min_m": 0.02, "overlap_max_m": 0.05, "tape_max_m": 0.3})


def statuses(**readings: Quantity) -> dict[str, Status]:
    return {result.key: result.status for result in family("bridge").check(SETUP, readings, GOOD)}


class Every(unittest.TestCase):
    def test_letters_are_unique_where_they_are_pressed_together(self) -> None:
        for one in FAMILIES.values():
            for group in (one.failure_modes, one.loading_errors, one.run_out_reasons, one.observations):
                letters = [mode.letter for mode in group]
                self.assertEqual(len(letters), len(set(letters)), one.key)

    def test_no_failure_mode_is_a_loading_error(self) -> None:
        for one in FAMILIES.values():
            self.assertFalse({m.key for m in one.failure_modes} & {m.key for m in one.loading_errors})

    def test_unknown_family(self) -> None:
        with self.assertRaises(GirderError):
            family("submarine")


class Setup(unittest.TestCase):
    def test_bad_fields_are_all_named_at_once(self) -> None:
        with self.assertRaises(GirderError) as caught:
            check_setup("bridge", {"gap_m": -1, "hold_s": "x", "wheels": 4, "bench_limit_kg": True})
        self.assertEqual(set(caught.exception.data["fields"]), {"gap_m", "hold_s", "wheels", "bench_limit_kg"})

    def test_least_overlap_above_most(self) -> None:
        with self.assertRaises(GirderError) as caught:
            check_setup("bridge", {"overlap_min_m": 0.05, "overlap_max_m": 0.02})
        self.assertIn("overlap_min_m", caught.exception.data["fields"])

    def test_defaults_fill_up(self) -> None:
        self.assertEqual(check_setup("bridge", {})["hold_s"], 5)


class BridgeConstraints(unittest.TestCase):
    def test_span_below_the_minimum(self) -> None:
        self.assertEqual(statuses(gap=Quantity(0.350, 0.0003))["gap"], Status.BREACHED)

    def test_overlap_over_the_limit(self) -> None:
        found = statuses(overlap_left=Quantity(0.058, 0.0003), overlap_right=Quantity(0.03, 0.0003))
        self.assertEqual(found["overlap_left_max"], Status.BREACHED)
        self.assertEqual(found["overlap_right_max"], Status.KEPT)

    def test_a_reading_within_its_doubt_of_the_limit_is_not_a_breach(self) -> None:
        self.assertEqual(statuses(gap=Quantity(0.3596, 0.0003))["gap"], Status.DOUBTFUL)

    def test_exactly_at_the_limit_is_kept(self) -> None:
        self.assertEqual(statuses(gap=Quantity(0.36))["gap"], Status.KEPT)

    def test_missing_is_said(self) -> None:
        self.assertEqual(statuses()["tape"], Status.MISSING)

    def test_answers(self) -> None:
        found = {r.key: r for r in family("bridge").check(SETUP, {}, {"stands": False, "piers": False})}
        self.assertEqual(found["stands"].status, Status.BREACHED)
        self.assertEqual(found["piers"].status, Status.KEPT)
        self.assertEqual(found["papered"].status, Status.MISSING)

    def test_a_recipe_without_a_limit_checks_none(self) -> None:
        free = check_setup("bridge", {"gap_m": 0.36})
        keys = {result.key for result in family("bridge").check(free, {}, GOOD)}
        self.assertEqual(keys, {"gap", "stands", "piers", "papered"})


class Cautions(unittest.TestCase):
    def test_raised_when_the_load_nears_the_expected_break(self) -> None:
        estimate = LoadEstimate(1.0, 1.5, 2.0, "")
        self.assertIsNone(bench_caution(0.79, estimate))
        self.assertIn("behind the line", bench_caution(0.81, estimate) or "")
        self.assertIn("without warning", bench_caution(2.1, estimate) or "")
        self.assertIsNone(bench_caution(5.0, None))

    def test_every_family_says_what_its_numbers_are_not_for(self) -> None:
        for one in FAMILIES.values():
            self.assertIn("models_only", [caution.key for caution in one.cautions])
