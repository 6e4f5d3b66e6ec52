import pkgutil
import unittest
from importlib import import_module
from typing import Any

from girder_core import families
from girder_core.families import FAMILIES, Family, Status, aim_kg, check_setup, family_of
from girder_core.ground import GirderError
from girder_core.kit import LoadEstimate, LoadItem, kit_covers
from girder_core.measure import Kind, Quantity, System, TypedReading, measure, read_in
from girder_core.results import School
from girder_core.safety import AgeBand, SafetySheet, bench_caution, safety_sheet
from girder_core.tests.support import kit

GOOD = {"stands": True, "piers": False, "papered": False}
SETUP = check_setup("bridge", {"gap_m": 0.36, "overlap_min_m": 0.02, "overlap_max_m": 0.05, "tape_max_m": 0.3})


def statuses(**readings: Quantity) -> dict[str, Status]:
    return {result.key: result.status for result in family_of("bridge").check(SETUP, readings, GOOD)}


class Every(unittest.TestCase):
    def test_every_module_with_a_kind_is_on_the_list(self) -> None:
        kinds = {
            value.key
            for module in pkgutil.iter_modules(families.__path__, "girder_core.families.")
            for value in vars(import_module(module.name)).values()
            if isinstance(value, Family)
        }
        self.assertEqual(kinds, set(FAMILIES))

    def test_each_is_complete(self) -> None:
        for family in FAMILIES.values():
            with self.subTest(family.key):
                for group in (family.setup, family.readings, family.questions, family.failure_modes,
                              family.loading_errors, family.observations, family.metrics, family.schools,
                              family.quotas, family.vocabulary, family.ideas, family.factors, family.controls,
                              family.standards):  # fmt: skip
                    self.assertTrue(group)
                # An attack is over when its throws are made; everything else may run out.
                procedure = family.procedure(family.usual(AgeBand.AGES_8_10))
                self.assertEqual(bool(family.run_out_reasons), not procedure.hit_or_miss)
                self.assertTrue(all(mode.redesign for mode in family.failure_modes))
                self.assertLess(len(family.young.split()), len(family.older.split()))
                self.assertIn("?", family.question)

    def test_ranges_are_in_order_and_inside_what_is_allowed(self) -> None:
        for family in FAMILIES.values():
            for spec in family.setup:
                self.assertIn(len(spec.ages), (0, 4), (family.key, spec.key))
                for r in spec.ages:
                    self.assertTrue(spec.low <= r.low <= r.typical <= r.high <= spec.high, (family.key, spec.key, r))

    def test_limits_and_results_name_readings_and_fields_that_exist(self) -> None:
        for family in FAMILIES.values():
            fields = {spec.key for spec in family.setup}
            for limit in family.limits:
                self.assertIn(limit.reading, family.reading_keys)
                self.assertIn(limit.field, fields)
            outcome = family.outcome
            before = [pair[0] for pair in family.before_and_after]
            named = {outcome.size, outcome.survived, *before, *family.result_readings} - {""}
            self.assertTrue(named <= set(family.reading_keys), (family.key, named))
            self.assertTrue(family.tallest == "" or family.tallest in fields)

    def test_a_school_is_offered_only_where_it_can_be_worked_out(self) -> None:
        for family in FAMILIES.values():
            for choice in family.schools:
                with self.subTest(family.key, school=choice.school):
                    if choice.school in (School.MOST_HELD, School.STRENGTH_TO_WEIGHT, School.CAPACITY):
                        self.assertTrue(family.loaded)
                    if choice.school is School.SURVIVED:
                        self.assertTrue(family.outcome.survived)
                    if choice.school is School.LEFT_STANDING:
                        self.assertTrue(family.before_and_after)
                    if choice.school is School.TALLEST:
                        self.assertTrue(family.outcome.size)

    def test_drawings_are_to_scale(self) -> None:
        """A dimension in the drawing is as long as the set-up quantity that it stands for."""
        for family in FAMILIES.values():
            setup = family.usual(AgeBand.AGES_8_10)
            lengths = [value for key, value in setup.items() if value and key.endswith("_m")]
            drawing = family.draw(setup)
            measured = [shape.length_m for shape in drawing.shapes if shape.kind == "measure"]
            self.assertTrue(measured)
            for length in measured:
                self.assertTrue(any(abs(length - value) < 1e-9 for value in lengths), (family.key, length, setup))
            left, bottom, right, top = family.footprint(setup).box()
            self.assertTrue(0.03 < right - left < 1.3 and 0.03 < top - bottom < 1.3, family.key)

    def test_standards_are_of_the_age(self) -> None:
        for family in FAMILIES.values():
            for age, start in ((AgeBand.AGES_5_7, "K-2-ETS1"), (AgeBand.AGES_11_13, "MS-ETS1")):
                codes = [standard.code for standard in family.standards_for(age)]
                self.assertTrue(codes[0].startswith(start))
                self.assertEqual(len(codes), len(set(codes)))
                self.assertFalse(any(code.startswith("HS-") for code in codes))

    def test_no_dangerous_thing_without_its_caution(self) -> None:
        # Common practice, no source: what goes with each kind of challenge.
        for key, cautions in {
            "bridge": {"snapping", "scissors"}, "boat": {"water", "glass"}, "wall": {"throwing"},
            "shake_tower": {"shaking"}, "drop_house": {"dropping"}, "tower": {"snapping", "elastic"},
            "furniture": {"heavy_pieces"},
        }.items():  # fmt: skip
            self.assertTrue(cautions <= {caution.key for caution in family_of(key).cautions}, key)

    def test_the_facts_that_scoring_needs(self) -> None:
        facts = family_of("wall").facts({"pieces": Quantity(40), "left": Quantity(30)})
        self.assertAlmostEqual(facts.share_left.value if facts.share_left else 0, 0.75)
        self.assertIsNone(family_of("wall").facts({"pieces": Quantity(0), "left": Quantity(0)}).share_left)
        self.assertEqual(family_of("drop_house").survived_kind, Kind.LENGTH)
        self.assertEqual(aim_kg({"target_kg": 9.0, "margin": 2.0}), 18.0)
        self.assertIsNone(aim_kg({"target_kg": None}))

    def test_letters_are_unique_where_they_are_pressed_together(self) -> None:
        for family in FAMILIES.values():
            for group in (family.failure_modes, family.loading_errors, family.run_out_reasons, family.observations):
                letters = [mode.letter for mode in group]
                self.assertEqual(len(letters), len(set(letters)), family.key)

    def test_a_key_means_one_thing_whichever_group_it_stands_in(self) -> None:
        for family in FAMILIES.values():
            groups = (family.failure_modes, family.loading_errors, family.run_out_reasons, family.observations)
            keys = [mode.key for group in groups for mode in group]
            self.assertEqual(len(keys), len(set(keys)), (family.key, sorted(k for k in keys if keys.count(k) > 1)))
            self.assertEqual(len(family.words()), len(keys))

    def test_no_failure_mode_is_a_loading_error(self) -> None:
        for family in FAMILIES.values():
            self.assertFalse({m.key for m in family.failure_modes} & {m.key for m in family.loading_errors})

    def test_unknown_family(self) -> None:
        with self.assertRaises(GirderError):
            family_of("submarine")


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
        kept = statuses(overlap_left=Quantity(0.058, 0.0003), overlap_right=Quantity(0.03, 0.0003))
        self.assertEqual(kept["overlap_left_max"], Status.BREACHED)
        self.assertEqual(kept["overlap_right_max"], Status.KEPT)

    def test_a_reading_within_its_doubt_of_the_limit_is_not_a_breach(self) -> None:
        self.assertEqual(statuses(gap=Quantity(0.3596, 0.0003))["gap"], Status.DOUBTFUL)

    def test_exactly_at_the_limit_is_kept(self) -> None:
        self.assertEqual(statuses(gap=Quantity(0.36))["gap"], Status.KEPT)

    def test_missing_is_said(self) -> None:
        self.assertEqual(statuses()["tape"], Status.MISSING)

    def test_answers(self) -> None:
        results = {r.key: r for r in family_of("bridge").check(SETUP, {}, {"stands": False, "piers": False})}
        self.assertEqual(results["stands"].status, Status.BREACHED)
        self.assertEqual(results["piers"].status, Status.KEPT)
        self.assertEqual(results["papered"].status, Status.MISSING)

    def test_a_recipe_without_a_limit_checks_none(self) -> None:
        free = check_setup("bridge", {"gap_m": 0.36})
        keys = {result.key for result in family_of("bridge").check(free, {}, GOOD)}
        self.assertEqual(keys, {"gap", "stands", "piers", "papered"})


class Agreed(unittest.TestCase):
    def test_what_all_build_to_is_asked_about_when_far_off_and_the_rest_as_ever(self) -> None:
        bridge = family_of("bridge")
        gap, tape = bridge.reading_keys["gap"], bridge.reading_keys["tape"]
        narrow = bridge.plausible(gap, {"gap_m": 0.3})
        self.assertAlmostEqual(narrow.low, 0.2)
        self.assertAlmostEqual(narrow.high, 0.45)
        self.assertIn("300 mm", narrow.agreed)
        self.assertEqual(bridge.plausible(gap, {}), gap.plausible)
        self.assertEqual(bridge.plausible(tape, {"tape_max_m": 0.1}), tape.plausible)
        for family in FAMILIES.values():
            for limit in family.limits:
                self.assertIn(limit.reading, family.reading_keys)


class Cautions(unittest.TestCase):
    def test_raised_when_the_load_nears_the_expected_break(self) -> None:
        estimate = LoadEstimate(1.0, 1.5, 2.0, "")
        self.assertIsNone(bench_caution(0.79, estimate))
        self.assertIn("behind the line", bench_caution(0.81, estimate) or "")
        self.assertIn("without warning", bench_caution(2.1, estimate) or "")
        self.assertIsNone(bench_caution(5.0, None))

    def test_every_family_says_what_its_numbers_are_not_for(self) -> None:
        for family in FAMILIES.values():
            self.assertIn("models_only", [caution.key for caution in family.cautions])

    def sheet(self, **changes: Any) -> SafetySheet:
        given = {"family": family_of("column").cautions, "materials": (), "load": (), "tallest_m": 0.0,
                 "age": AgeBand.AGES_11_13}  # fmt: skip
        return safety_sheet(**{**given, **changes})

    def test_what_is_used_brings_its_caution_once(self) -> None:
        marble = LoadItem("marble", Quantity(0.005), 50, key="m", diameter_m=0.016, thickness_m=0.016)
        paver = LoadItem("paver", Quantity(1.2), 5, key="p", diameter_m=0.2, thickness_m=0.05)
        keys = [c.key for c in self.sheet(materials=("scissors", "glass"), load=(marble, paver)).cautions]
        self.assertEqual(len(keys), len(set(keys)))
        self.assertTrue({"glass", "falling_load", "heavy_pieces", "small_objects"} <= set(keys))
        self.assertEqual(keys[-1], "models_only")

    def test_small_parts_and_the_youngest(self) -> None:
        # 31.7 mm: the small-parts cylinder of 16 CFR 1501.4 (from memory).
        for wide, asked in ((0.0316, True), (0.0318, False)):
            item = LoadItem("piece", Quantity(0.005), 50, key="m", diameter_m=wide, thickness_m=0.016)
            sheet = self.sheet(load=(item,), age=AgeBand.AGES_5_7)
            self.assertEqual("choking" in [c.key for c in sheet.to_confirm], asked)

    def test_what_needs_a_word_and_what_is_refused(self) -> None:
        sheet = self.sheet(declared=("hot_glue", "launcher"), tallest_m=1.8)
        self.assertEqual([c.key for c in sheet.to_confirm], ["hot_glue", "launcher", "chair"])
        sure = self.sheet(declared=("hot_glue",), confirmed=("hot_glue",))
        self.assertEqual(sure.to_confirm, ())
        self.assertEqual(sure.cautions[0].key, "hot_glue")
        with self.assertRaises(GirderError) as caught:
            self.sheet(declared=("person_load",))
        self.assertEqual(caught.exception.code, "person_load_refused")
        grown = self.sheet(declared=("person_load",), age=AgeBand.AGES_14_18)
        self.assertIn("spotter", grown.to_confirm[0].condition)
        with self.assertRaises(GirderError):
            self.sheet(materials=("dragons",))


class InTheReadersUnits(unittest.TestCase):
    def setUp(self) -> None:
        self.enterContext(read_in(lambda: System.US))

    def test_limits_breaches_and_what_is_asked_follow_the_units(self) -> None:
        """Every figure of a limit, a breach and a question is in the units that are chosen on top."""
        bridge = family_of("bridge")
        setup = {**bridge.usual(AgeBand.AGES_11_13), "gap_m": 0.3048, "tape_max_m": 0.254}
        readings = {"gap": Quantity(0.2794), "tape": Quantity(0.381)}
        told = {rule.key: rule.sentence for rule in bridge.check(setup, readings, {})}
        self.assertEqual(told["gap"], "Below the limit: 11.00 in against the gap of this challenge, 12.00 in.")
        self.assertEqual(told["tape"], "Over the limit: 15.00 in against the tape allowed, 10.00 in.")
        self.assertIn("12.00 in", bridge.plausible(bridge.reading_keys["gap"], setup).agreed)
        with self.assertRaises(GirderError) as asked:
            measure(TypedReading("30 lb", "1 oz"), Kind.MASS, bridge.reading_keys["self_mass"].plausible)
        self.assertIn("oz and", asked.exception.sentence)
        self.assertNotIn(" g ", asked.exception.sentence)

    def test_so_does_what_is_said_of_the_kit(self) -> None:
        nuts = kit(nuts=20)
        estimate = LoadEstimate(0.5, 1.0, 2.0, "the target")
        for teams in (1, 8):
            cover = kit_covers(nuts, estimate, teams, 0.2)
            self.assertRegex(cover.sentence, r"\d (oz|lb)")
            self.assertNotRegex(cover.sentence + cover.coarse, r"\d k?g\b")
