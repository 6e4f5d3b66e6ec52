import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.kit import (
    Container,
    Kit,
    LoadEstimate,
    LoadItem,
    PlanEnd,
    estimate_from,
    estimate_from_kit,
    fills,
    load_plan,
    side_by_side,
)
from girder_core.kit.loading import container_capacity
from girder_core.measure import Quantity
from girder_core.tests import tries
from girder_core.tests.support import NUT_KG, kit


class Items(unittest.TestCase):
    def test_what_a_load_item_needs(self) -> None:
        for change in ({"name": " "}, {"mass": Quantity(0)}, {"mass": Quantity(-1)}, {"count": 0}, {"roll_of": 0}):
            fields = {"name": "nut", "mass": Quantity(0.01), "count": 3, **change}
            with self.subTest(change), self.assertRaises(GirderError):
                LoadItem(**fields)  # type: ignore[arg-type]

    def test_two_items_of_one_key_are_refused(self) -> None:
        nut = LoadItem("nut", Quantity(0.01), 3, key="nut")
        with self.assertRaises(GirderError):
            Kit((nut, nut))

    def test_error_of_the_item_mass_grows_with_the_count(self) -> None:
        load = Kit((LoadItem("nut", Quantity(0.016, 0.0001), 50, key="nut"),))
        self.assertAlmostEqual(load.mass({"nut": 30}).standard_uncertainty, 0.003)

    def test_the_smallest_of_those_in_use_or_of_all(self) -> None:
        # Nuts of 16 g, bags of twenty, and a tray, which is no object.
        def key(*among: str) -> str | None:
            item = kit().smallest(among)
            return item.key if item else None

        self.assertEqual((key("bag"), key("bag", "nut"), key(), key("platform")), ("bag", "nut", "nut", "nut"))
        self.assertIsNone(Kit(()).smallest(["nut"]))


class Capacity(unittest.TestCase):
    def test_volume_over_volume_times_packing(self) -> None:
        # A cup ten object diameters wide and ten object heights tall holds 0.6 * 1000 of them.
        nut = LoadItem("nut", Quantity(0.01), 1, diameter_m=0.008, thickness_m=0.005)
        self.assertEqual(container_capacity(Container(0.08, 0.05), nut), 600)

    def test_too_wide_an_object_does_not_fit(self) -> None:
        nut = LoadItem("nut", Quantity(0.01), 1, diameter_m=0.09, thickness_m=0.005)
        self.assertEqual(container_capacity(Container(0.08, 0.05), nut), 0)

    def test_a_kit_in_a_cup_leaves_out_platform_and_objects_of_unknown_size(self) -> None:
        # The bag of the kit has no size. 0.6 * 80² * 50 / (20² * 10) = 48 nuts.
        self.assertEqual([(f.item, f.count) for f in fills(Container(0.08, 0.05), kit())], [("nut", 48)])

    def test_unknown_size_is_said(self) -> None:
        with self.assertRaises(GirderError):
            container_capacity(Container(0.08, 0.05), LoadItem("nut", Quantity(0.01), 1))


class Estimate(unittest.TestCase):
    def test_results_come_before_target_before_prediction(self) -> None:
        known = estimate_from([1.0, 2.0, 4.0], 3.0, 9.0)
        assert known is not None
        self.assertEqual((known.low_kg, known.typical_kg, known.high_kg), (0.5, 2.0, 6.0))
        by_target = estimate_from([1.0], 3.0, 9.0)
        assert by_target is not None
        self.assertEqual(by_target.typical_kg, 3.0)
        by_team = estimate_from([], None, 9.0)
        assert by_team is not None
        self.assertEqual(by_team.typical_kg, 9.0)
        self.assertIsNone(estimate_from([], None, None))

    def test_the_model_comes_before_all(self) -> None:
        model = LoadEstimate(0.7, 1.1, 1.6, "the model")
        self.assertEqual(estimate_from([1.0, 2.0], 3.0, 9.0, model), model)
        nothing = LoadEstimate(0.0, 0.0, 0.0, "the model")
        by_target = estimate_from([], 3.0, None, nothing)
        assert by_target is not None
        self.assertEqual(by_target.typical_kg, 3.0)

    def test_with_nothing_known_the_kit_gives_the_scale(self) -> None:
        by_kit = estimate_from_kit(kit(0, nuts=50, bags=2))
        self.assertAlmostEqual(by_kit.high_kg, 90 * NUT_KG)
        self.assertLess(by_kit.low_kg, by_kit.typical_kg)


ESTIMATE = LoadEstimate(0.6, 0.9, 1.3, "test")


class Plan(unittest.TestCase):
    def test_platform_first_then_large_steps_then_fine_ones(self) -> None:
        plan = load_plan(kit(nuts=90), ESTIMATE, 600, 1, 5, 0.05)
        self.assertEqual(plan.steps[0].item, "platform")
        on = plan.steps[0].mass_kg
        for step in plan.steps[1:]:
            coarse_allowed = on + step.mass_kg <= 0.3 + 1e-9
            fine = step.mass_kg <= max(0.05 * on, NUT_KG) + 1e-9
            # Past 90 nuts and the platform there are only bags.
            self.assertTrue(coarse_allowed or fine or on > 0.020 + 90 * NUT_KG - 1e-9, (on, step))
            on += step.mass_kg
        self.assertGreaterEqual(on, 0.9)

    def test_far_below_whole_rolls_or_handfuls_and_never_most_of_it_at_once(self) -> None:
        # A cup of 2 g and coins of 2.5 g, expected to break at 250 g, 150 g at the least.
        cup = LoadItem("cup", Quantity(0.002), 1, key="platform", shape="platform")
        coin = LoadItem("coin", Quantity(0.0025), 400, key="coin")
        roll = LoadItem("roll of ten", Quantity(0.025), 4, roll_of=10, key="roll", shape="bag")
        expected = LoadEstimate(0.15, 0.25, 0.4, "")
        singles = load_plan(Kit((cup, coin)), expected, 600, 1, 5, 0.05).steps
        # A quarter of 150 g is 15 coins; half of it is reached in two handfuls and what is left to it.
        self.assertEqual([step.count for step in singles[:3]], [1, 15, 10])
        self.assertTrue(all(step.mass_kg <= expected.low_kg / 4 + 1e-9 for step in singles if step.far))
        rolls = load_plan(Kit((cup, coin, roll)), expected, 600, 1, 5, 0.05)
        self.assertEqual([(step.item, step.count) for step in rolls.steps[1:3]], [("roll", 1), ("roll", 1)])
        self.assertEqual(rolls.says, "cup, then 2 × roll of ten, then 9 × coin, then 1 to 7 × coin at a time")
        self.assertTrue(all(step.far for step in rolls.steps[:4]))
        self.assertFalse(any(step.far for step in rolls.steps if step.then_kg > 0.076))

    def test_a_step_that_the_teacher_chose_is_kept_to(self) -> None:
        plan = load_plan(kit(nuts=12), ESTIMATE, 30, 1, 5, 0.05, pinned=("nut", 5))
        self.assertEqual([(step.item, step.count) for step in plan.steps[:4]],
                         [("platform", 1), ("nut", 5), ("nut", 5), ("nut", 2)])  # fmt: skip
        # Then the plan goes on with what there is.
        self.assertEqual(plan.steps[4].item, "bag")
        slow = load_plan(kit(nuts=90), ESTIMATE, 30, 1, 5, 0.05, pinned=("nut", 1))
        self.assertIn("With the step that you chose", slow.warnings[0])
        limited = load_plan(kit(), ESTIMATE, 600, 1, 5, 0.05, bench_limit_kg=0.1, pinned=("nut", 10))
        self.assertAlmostEqual(limited.steps[-1].then_kg, 0.020 + 5 * NUT_KG)

    def test_a_roll_of_ten_is_ten_pieces(self) -> None:
        self.assertEqual(kit().pieces({"platform": 1, "bag": 2, "nut": 3}), 43)

    def test_a_container_that_fills_up_is_told_beforehand(self) -> None:
        # Nuts of 10 mm by 5 mm in a cup of 20 mm by 20 mm, 60 % packed: 0.6 * 8000 / 500 = 9.6, so nine.
        nut = LoadItem("nut", Quantity(NUT_KG), 90, diameter_m=0.010, thickness_m=0.005, key="nut")
        kit, cup = Kit((nut,)), Container(0.02, 0.02)
        estimate = LoadEstimate(20 * NUT_KG, 30 * NUT_KG, 40 * NUT_KG, "")
        plan = load_plan(kit, estimate, 600, 1, 5, 0.2, container=cup)
        self.assertEqual(sum(step.count for step in plan.steps), 9)
        self.assertIn("container will be full", " ".join(plan.warnings))
        begun = load_plan(kit, estimate, 600, 1, 5, 0.2, placed={"nut": 7}, container=cup)
        self.assertEqual(sum(step.count for step in begun.steps), 2)
        full = load_plan(kit, estimate, 600, 1, 5, 0.2, placed={"nut": 9}, container=cup)
        self.assertEqual(full.steps, ())
        self.assertIn("container will be full", " ".join(full.warnings))
        roomy = load_plan(kit, estimate, 600, 1, 5, 0.2, container=Container(0.06, 0.06))
        self.assertEqual(roomy, load_plan(kit, estimate, 600, 1, 5, 0.2))

    def test_replans_from_what_is_on(self) -> None:
        plan = load_plan(kit(), ESTIMATE, 600, 1, 5, 0.05, placed={"platform": 1, "bag": 1})
        self.assertEqual((plan.steps[0].item, plan.steps[0].count), ("nut", 1))

    def test_rolls_come_before_singles_where_they_fit(self) -> None:
        plan = load_plan(kit(), LoadEstimate(2.0, 2.5, 3.0, ""), 600, 1, 5, 0.05, placed={"platform": 1})
        self.assertEqual(plan.steps[0].item, "bag")

    def test_short_time_makes_coarser_steps_and_says_so(self) -> None:
        ample = load_plan(kit(nuts=90), ESTIMATE, 600, 1, 5, 0.02)
        short = load_plan(kit(nuts=90), ESTIMATE, ample.expected_seconds / 2, 1, 5, 0.02)
        self.assertLessEqual(short.expected_seconds, ample.expected_seconds / 2)
        self.assertGreater(short.expected_resolution, ample.expected_resolution)
        self.assertIn("steps grow", short.warnings[0])

    def test_running_out_of_singles_is_said(self) -> None:
        plan = load_plan(kit(nuts=40), ESTIMATE, 600, 1, 5, 0.05)
        self.assertIn("“bag” is a coarse step", plan.warnings[0])

    def test_a_kit_too_light_is_said(self) -> None:
        plan = load_plan(kit(nuts=10, bags=1), ESTIMATE, 600, 1, 5, 0.05)
        self.assertIn("The kit will run out", " ".join(plan.warnings))

    def test_the_bench_limit_is_said_when_it_comes_first(self) -> None:
        plan = load_plan(kit(), LoadEstimate(2.0, 2.5, 3.0, ""), 600, 1, 5, 0.05, bench_limit_kg=0.5)
        self.assertIn("The bench limit will be reached", " ".join(plan.warnings))

    def test_a_goal_that_is_no_share_is_refused(self) -> None:
        for goal in (0, 1, -0.1, 5):
            with self.assertRaises(GirderError):
                load_plan(kit(), ESTIMATE, 600, 1, 5, goal)

    def test_past_the_expected_range_the_plan_goes_on_to_the_end_of_the_kit(self) -> None:
        # The third boat of a class: the first two held 20 and 24 of 150 coins of 2.5 g, this one has 49 on.
        coin = Kit((LoadItem("coin", Quantity(0.0025), 150, key="coin"),))
        expected = estimate_from([20 * 0.0025, 24 * 0.0025], None, None)
        assert expected is not None
        self.assertLess(expected.high_kg, 49 * 0.0025)
        plan = load_plan(coin, expected, 600, 1, 5, 0.05, {"coin": 49})
        self.assertEqual(sum(step.count for step in plan.steps), 101)
        self.assertIs(plan.end, PlanEnd.KIT)
        on = 49
        for step in plan.steps:
            self.assertLessEqual(step.count, max(1, 0.05 * on + 1e-9))
            on += step.count
            # What is on after it, and the step as a share of that.
            self.assertAlmostEqual(step.then_kg, 0.0025 * on)
            self.assertAlmostEqual(step.share, step.count / on)
        self.assertEqual(plan.warnings, ())

    def test_a_plan_ends_with_the_kit_the_container_or_the_bench_limit_and_says_which(self) -> None:
        used_up = load_plan(kit(), ESTIMATE, 600, 1, 5, 0.05, {"platform": 1, "nut": 50, "bag": 2})
        self.assertEqual((used_up.steps, used_up.end), ((), PlanEnd.KIT))
        limited = load_plan(kit(), ESTIMATE, 600, 1, 5, 0.05, {"platform": 1, "nut": 40}, bench_limit_kg=0.665)
        self.assertEqual((limited.steps, limited.end), ((), PlanEnd.LIMIT))
        nut = Kit((LoadItem("nut", Quantity(NUT_KG), 90, diameter_m=0.010, thickness_m=0.005, key="nut"),))
        full = load_plan(nut, ESTIMATE, 600, 1, 5, 0.05, {"nut": 9}, container=Container(0.02, 0.02))
        self.assertEqual((full.steps, full.end), ((), PlanEnd.CONTAINER))

    @settings(max_examples=tries(60))
    @given(
        st.floats(0.05, 3), st.floats(1, 3), st.floats(1, 3), st.integers(0, 30), st.integers(0, 2),
        st.floats(0.05, 2.5), st.floats(0.01, 0.4),
    )  # fmt: skip
    def test_never_more_than_the_kit_nor_above_the_bench(
        self, low: float, mid: float, top: float, nuts: int, bags: int, limit: float, goal: float
    ) -> None:
        estimate = LoadEstimate(low, low * mid, low * mid * top, "")
        placed = {"platform": 1, "nut": nuts, "bag": bags}
        plan = load_plan(kit(), estimate, 60, 1, 5, goal, placed, limit)
        for step in plan.steps:
            placed[step.item] += step.count
        self.assertTrue(all(count >= 0 for count in kit().remaining(placed).values()))
        if plan.steps:
            self.assertLessEqual(kit().mass(placed).value, limit + 1e-9)
        # And nothing that could still go on is left out.
        remaining = [kit().item(key) for key, count in kit().remaining(placed).items() if count]
        room = limit - kit().mass(placed).value
        self.assertFalse([item.key for item in remaining if item.mass.value <= room - 1e-9])


class SideBySide(unittest.TestCase):
    def test_rows_and_columns_by_hand(self) -> None:
        # 280 by 210 mm take 7 rows of 5 counters of 38 mm.
        places = side_by_side(0.28, 0.21, 0.038)
        self.assertEqual(len(places), 35)
        # Seven and five are odd, so the first lies in the very middle.
        self.assertEqual(places[0], (0, 0))

    def test_an_item_larger_than_the_deck(self) -> None:
        self.assertEqual(side_by_side(0.1, 0.03, 0.04), ())
        for bad in ((0, 0.1, 0.01), (0.1, 0.1, 0)):
            with self.assertRaises(GirderError):
                side_by_side(*bad)

    @given(st.floats(0.05, 0.6), st.floats(0.05, 0.6), st.floats(0.01, 0.08))
    def test_nothing_overlaps_or_lies_over_the_edge(self, length: float, width: float, item: float) -> None:
        places = side_by_side(length, width, item)
        for x, y in places:
            self.assertLessEqual(abs(x) + item / 2, length / 2 + 1e-6)
            self.assertLessEqual(abs(y) + item / 2, width / 2 + 1e-6)
        self.assertEqual(len({(round(x / item, 3), round(y / item, 3)) for x, y in places}), len(places))
        # They can cover no more than the deck.
        self.assertLessEqual(len(places) * item**2, length * width * (1 + 1e-6))
