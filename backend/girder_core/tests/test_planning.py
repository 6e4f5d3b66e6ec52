"""Proposals and their consequences, for every family, age, length, class and dial."""

import unittest
from dataclasses import replace
from itertools import pairwise

from hypothesis import example, given, settings
from hypothesis import strategies as st

from girder_core.families import FAMILIES, check_setup, family_of
from girder_core.ground import GirderError
from girder_core.kit import PLATFORM, Container, LoadItem, load_plan
from girder_core.measure import Kind, Quantity, System, parse, typed_text
from girder_core.planning import (
    DIAL,
    Answers,
    Factor,
    Plan,
    Proposal,
    assign_levels,
    consequences,
    propose,
    tidy_controls,
)
from girder_core.planning.proposal import planned_estimate
from girder_core.safety import AgeBand
from girder_core.tests import tries
from girder_core.tests.support import kit_of_proposal

KEYS = sorted(FAMILIES)
BANDS = list(AgeBand)
answers = st.builds(
    Answers,
    family=st.sampled_from(KEYS),
    age=st.sampled_from(BANDS),
    minutes=st.integers(30, 100),
    teams=st.integers(2, 12),
    students=st.none(),
    difficulty=st.sampled_from(DIAL),
    system=st.sampled_from(list(System)),
)


def plan_of(asked: Answers, proposal: Proposal) -> Plan:
    day = proposal.day
    return Plan(
        answers=asked, setup={p.key: p.value for p in proposal.setup}, materials=proposal.materials,
        kit=kit_of_proposal(family_of(asked.family), proposal), build_minutes=day.build_minutes, benches=day.benches,
        two_lessons=day.two_lessons, drying_minutes=day.drying_minutes,
    )  # fmt: skip


class EveryFamily(unittest.TestCase):
    @settings(max_examples=tries(60))
    @given(answers)
    def test_a_proposal_is_complete_and_sound(self, asked: Answers) -> None:
        proposal = propose(asked)
        follows = consequences(plan_of(asked, proposal))
        # What needs a teacher's word (small parts with the youngest) is asked; nothing else is wrong.
        self.assertEqual({k: v for k, v in follows.problems.items() if not k.startswith("confirm.")}, {})
        self.assertEqual(check_setup(asked.family, {p.key: p.value for p in proposal.setup}).keys(),
                         {spec.key for spec in family_of(asked.family).setup})  # fmt: skip
        self.assertTrue(all(p.reason for p in proposal.setup))
        self.assertTrue(follows.lines)
        self.assertIn("models_only", [c.key for c in follows.safety.cautions] if follows.safety else [])

    @settings(max_examples=tries(60))
    # Nine teams in half an hour need five benches.
    @example(Answers("furniture", AgeBand.AGES_14_18, 30, 9, None, 2, System.METRIC))
    @given(answers)
    def test_never_over_the_time(self, asked: Answers) -> None:
        follows = consequences(plan_of(asked, propose(asked)))
        assert follows.timeline is not None
        self.assertTrue(follows.timeline.fits, follows.timeline.gives)
        for lesson in follows.timeline.lessons:
            self.assertLessEqual(lesson[-1].end_min, asked.minutes + 1e-9)
            for before, after in pairwise(lesson):
                self.assertAlmostEqual(before.end_min, after.start_min)

    @settings(max_examples=tries(60))
    @given(answers)
    def test_the_load_lasts_and_is_never_planned_beyond_the_kit(self, asked: Answers) -> None:
        proposal = propose(asked)
        plan = plan_of(asked, proposal)
        if plan.kit is None:
            self.assertFalse(family_of(asked.family).loaded)
            return
        follows = consequences(plan)
        self.assertTrue(follows.cover and follows.cover.enough, follows.cover)
        steps = load_plan(plan.kit, planned_estimate(plan.kit, plan.setup), 600, 2, 5, 0.1,
                          bench_limit_kg=plan.setup["bench_limit_kg"]).steps  # fmt: skip
        used = {item.key: sum(s.count for s in steps if s.item == item.key) for item in plan.kit.items}
        for item in plan.kit.items:
            self.assertLessEqual(used[item.key], item.count)
        self.assertLessEqual(plan.kit.mass(used).value, (plan.setup["bench_limit_kg"] or 0) + 1e-9)

    def test_a_harder_dial_is_never_easier(self) -> None:
        moved = 0
        for key in KEYS:
            for age in BANDS:
                for system in System:
                    made = [propose(Answers(key, age, 50, 8, difficulty=d, system=system)) for d in DIAL]
                    for spec in family_of(key).setup:
                        values = [next(p.value for p in plan.setup if p.key == spec.key) for plan in made]
                        for easier, harder in pairwise(values):
                            if spec.harder and easier is not None and harder is not None:
                                self.assertGreaterEqual(spec.harder * (harder - easier), -1e-12, (key, age, spec.key))
                        moved += spec.harder != 0 and values[0] != values[-1]
                    for i in range(len(made[0].materials)):
                        if family_of(key).quotas[0].harder < 0 and made[0].materials[i].buildable:
                            finals = [plan.materials[i].final for plan in made]
                            self.assertEqual(finals, sorted(finals, reverse=True))
        self.assertGreater(moved, 100)

    def test_older_is_never_easier_where_more_is_harder(self) -> None:
        for key in KEYS:
            for spec in family_of(key).setup:
                # Older arms throw from further away; that alone makes nothing easier.
                if spec.ages and spec.harder and spec.key != "distance_m":
                    typical = [spec.harder * age.typical for age in spec.ages]
                    self.assertEqual(typical, sorted(typical), (key, spec.key))

    def test_a_longer_lesson_never_leaves_less_to_build_nor_coarser_steps_in_one_bench(self) -> None:
        for key in KEYS:
            days = [propose(Answers(key, AgeBand.AGES_11_13, minutes, 6)).day for minutes in range(40, 101, 10)]
            single = [day for day in days if day.benches == 1 and not day.two_lessons]
            built = [day.build_minutes for day in single]
            self.assertEqual(built, sorted(built), key)

    def test_figures_are_round_in_either_system(self) -> None:
        for system, unit in ((System.METRIC, "mm"), (System.US, "in")):
            (gap, *_) = propose(Answers("bridge", AgeBand.AGES_11_13, 50, 8, system=system)).setup
            text = typed_text(gap.value or 0, Kind.LENGTH, system)
            self.assertTrue(text.endswith(unit))
            self.assertLessEqual(len(text.split()[0]), 5)
            self.assertAlmostEqual(parse(text, Kind.LENGTH).si, gap.value or 0, places=9)


class Asked(unittest.TestCase):
    def test_more_teams_than_students(self) -> None:
        with self.assertRaises(GirderError) as caught:
            Answers("bridge", AgeBand.AGES_8_10, 50, 9, students=8)
        self.assertEqual((caught.exception.code, caught.exception.data["field"]), ("more_teams_than_students", "teams"))

    def test_a_lesson_of_five_minutes(self) -> None:
        with self.assertRaises(GirderError) as caught:
            propose(Answers("boat", AgeBand.AGES_8_10, 5, 6))
        self.assertEqual(caught.exception.code, "lesson_too_short")

    def test_the_dial_has_five_positions(self) -> None:
        with self.assertRaises(GirderError):
            Answers("boat", AgeBand.AGES_8_10, 50, 6, difficulty=3)


class Edits(unittest.TestCase):
    def setUp(self) -> None:
        self.asked = Answers("bridge", AgeBand.AGES_11_13, 50, 8)
        self.plan = plan_of(self.asked, propose(self.asked))

    def test_the_kit_follows_a_target_that_was_typed(self) -> None:
        small, large = (propose(self.asked, {"target_kg": kg}) for kg in (0.4, 4.0))
        mass = [sum(item.count * item.mass_kg for item in plan.load) for plan in (small, large)]
        self.assertAlmostEqual(mass[1] / mass[0], 10, delta=1.5)

    def test_a_field_that_was_emptied_sets_no_limit(self) -> None:
        for family in FAMILIES.values():
            asked = Answers(family.key, AgeBand.AGES_11_13, 60, 8)
            usual = propose(asked)
            for spec in family.setup:
                with self.subTest(family=family.key, emptied=spec.key):
                    emptied = propose(asked, {spec.key: None})
                    self.assertEqual([item.idea for item in emptied.load], [item.idea for item in usual.load])
                    self.assertTrue(all(item.count >= 1 for item in emptied.load))

    def test_a_gap_longer_than_the_card(self) -> None:
        follows = consequences(replace(self.plan, setup={**self.plan.setup, "gap_m": 0.60}))
        # 600 mm and twice 22 mm on the supports against a sheet of 620 mm.
        self.assertIn("longer than the manila card", follows.problems["setup.gap_m"])
        self.assertEqual(consequences(replace(self.plan, setup={**self.plan.setup, "gap_m": 0.57})).problems, {})

    def test_a_quota_of_zero(self) -> None:
        none = tuple(replace(m, final=0.0) if m.buildable else m for m in self.plan.materials)
        self.assertIn("quota is zero", consequences(replace(self.plan, materials=none)).problems["materials"])

    def test_a_container_too_small_for_one(self) -> None:
        follows = consequences(replace(self.plan, container=Container(0.015, 0.1)))
        self.assertIn("Not one “M12 hex nut” fits", follows.problems["container"])

    def test_a_container_that_is_full_before_the_target(self) -> None:
        # 0.6 * 40² * 50 / (20² * 10) = 12 nuts of 17 g.
        follows = consequences(replace(self.plan, container=Container(0.040, 0.050)))
        self.assertEqual([fill.count for fill in follows.fills if fill.item.endswith("1")], [12])
        self.assertTrue(any("12 × M12 hex nut (204 g)" in note for note in follows.notes), follows.notes)

    def test_a_kit_that_is_too_small_says_what_to_bring(self) -> None:
        assert self.plan.kit is not None
        items = tuple(replace(i, count=1) for i in self.plan.kit.items)
        follows = consequences(replace(self.plan, kit=replace(self.plan.kit, items=items)))
        self.assertFalse(follows.cover and follows.cover.enough)
        self.assertTrue(any("would outlast" in note for note in follows.notes))

    def test_drying_longer_than_to_the_next_lesson(self) -> None:
        follows = consequences(replace(self.plan, drying_minutes=25 * 60))
        self.assertIn("24 h away", follows.problems["drying_minutes"])
        dried = consequences(replace(self.plan, drying_minutes=20 * 60)).timeline
        self.assertEqual([len(lesson) for lesson in dried.lessons] if dried else [], [3, 3])

    def test_a_platform_heavier_than_the_bench_may_carry_is_said(self) -> None:
        kit = self.plan.kit
        assert kit is not None
        self.assertNotIn("setup.bench_limit_kg", consequences(self.plan).problems)
        slab = LoadItem("slab", Quantity(30.0), 1, key=PLATFORM, shape="platform")
        heavy = replace(kit, items=(slab, *(item for item in kit.items if item.key != PLATFORM)))
        told = consequences(replace(self.plan, kit=heavy)).problems["setup.bench_limit_kg"]
        self.assertIn("The platform alone weighs 30.000 kg", told)

    def test_what_does_not_fit_says_what_gives(self) -> None:
        follows = consequences(replace(self.plan, benches=1, build_minutes=30, answers=replace(self.asked, teams=12)))
        assert follows.timeline is not None
        self.assertFalse(follows.timeline.fits)
        says = " ".join(follows.timeline.gives)
        for words in ("benches all 12 teams", "test in the next"):
            self.assertIn(words, says)

    def test_the_youngest_and_small_parts_need_a_word(self) -> None:
        asked = Answers("boat", AgeBand.AGES_5_7, 45, 6)
        plan = plan_of(asked, propose(asked))
        self.assertIn("confirm.choking", consequences(plan).problems)
        self.assertEqual(consequences(replace(plan, confirmed=("choking",))).problems, {})

    def test_a_heavy_piece_warns_of_feet(self) -> None:
        assert self.plan.kit is not None
        brick = LoadItem("brick", Quantity(1.2), 2, key="brick", diameter_m=0.2, thickness_m=0.05)
        heavier = replace(self.plan.kit, items=(*self.plan.kit.items, brick))
        safety = consequences(replace(self.plan, kit=heavier)).safety
        self.assertIn("heavy_pieces", [c.key for c in safety.cautions] if safety else [])


class FairTest(unittest.TestCase):
    @given(st.integers(1, 24), st.integers(2, 6))
    def test_levels_are_dealt_out_evenly(self, teams: int, levels: int) -> None:
        factor = Factor("shape", tuple(f"level {i}" for i in range(levels)))
        dealt = assign_levels(factor, teams).levels
        counts = [dealt.count(level) for level in factor.levels]
        self.assertEqual(len(dealt), teams)
        self.assertLessEqual(max(counts) - min(counts), 1)
        # Neighbours differ, so that side by side is not the same level.
        self.assertTrue(all(a != b for a, b in pairwise(dealt)))

    def test_too_few_teams_to_tell_level_from_luck(self) -> None:
        factor = Factor("shape", ("round", "square", "triangle"))
        self.assertIn("luck", assign_levels(factor, 5).notes[0])
        self.assertIn("nobody gets triangle", assign_levels(factor, 2).notes[0])
        self.assertEqual(assign_levels(factor, 6).notes, ())

    def test_a_factor_needs_two_levels_of_different_names(self) -> None:
        for levels in (("round",), ("round", "Round "), ("round", "")):
            with self.assertRaises(GirderError):
                Factor("shape", levels)

    def test_controls_are_tidied(self) -> None:
        self.assertEqual(tidy_controls(["  the same  card ", "", "the same card"]), ("the same card",))
