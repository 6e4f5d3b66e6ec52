"""What each kind of draft says, against figures worked by hand from the same inputs."""

import math
import unittest

from girder_core.drafting import KINDS, Worked, draft, draft_kind
from girder_core.drafting.drop import survives_m
from girder_core.ground import GRAVITY_M_S2
from girder_core.physics import FLOORS, STOCKS, Prediction, drop_factor, landing_force_n


def worked(key: str, **typed: str) -> Worked:
    return draft(draft_kind(key), typed)


def fact(finished: Worked, label: str) -> float:
    """The figure whose label begins so."""
    return next(fact.value for fact in finished.shown.facts if fact.label.startswith(label))


def predicted(finished: Worked) -> Prediction:
    assert finished.expected.prediction is not None
    return finished.expected.prediction


class SheetBridge(unittest.TestCase):
    TYPED = {"sheet": "manila", "width_m": "200 mm", "span_m": "300 mm", "overlap_m": "40 mm"}

    def made(self, **typed: str) -> Worked:
        return worked("sheet_bridge", **{**self.TYPED, **typed})

    def test_own_weight_is_area_times_grammage(self) -> None:
        # 200 × (300 + 2 · 40) mm of 220 g/m²: 16.72 g; two sheets twice that.
        self.assertAlmostEqual(self.made().expected.mass_kg, 0.2 * 0.38 * 0.22, delta=1e-9)
        self.assertAlmostEqual(self.made(layers="2").expected.mass_kg, 2 * 0.2 * 0.38 * 0.22, delta=1e-9)

    def test_stiffer_than_flat_by_depth_over_thickness_squared(self) -> None:
        # I/I₀ = (d² + (t/cos θ)²)/t² with sin θ = d/s, s = 200/12 mm.
        depth, thick, panel = 0.010, 0.28e-3, 0.2 / 12
        rise = thick / math.sqrt(1 - (depth / panel) ** 2)
        drafted = self.made(shape="pleated", pleats="6", depth_m="10 mm")
        self.assertAlmostEqual(fact(drafted, "Stiffer than flat"), (depth**2 + rise**2) / thick**2, delta=1e-6 * 1300)

    def test_bending_against_spread(self) -> None:
        # A patch of w: M = W(2L − w)/8 over WL/8.
        self.assertAlmostEqual(fact(self.made(placement="centre"), "Bending, against"), 2, delta=1e-12)
        self.assertAlmostEqual(fact(self.made(placement="uniform"), "Bending, against"), 1, delta=1e-12)
        self.assertAlmostEqual(fact(self.made(patch_m="60 mm"), "Bending, against"), 2 - 60 / 300, delta=1e-12)

    def test_sag_when_it_gives_way(self) -> None:
        # δ = W L³/(48 E I) at the typical load, E = 2.8 GPa, flat sheet: I = b t³/12.
        drafted = self.made(shape="flat", placement="centre", span_m="60 mm")
        load, second = predicted(drafted).typical_n, 0.2 * 0.28e-3**3 / 12
        self.assertAlmostEqual(
            fact(drafted, "Sag when") / (load * 0.06**3 / (48 * 2.8e9 * second)), 1, delta=1e-9
        )  # fmt: skip

    def test_loose_layers_double_and_the_weak_way_is_weaker(self) -> None:
        single, two = self.made(), self.made(layers="2")
        self.assertAlmostEqual(predicted(two).typical_n / predicted(single).typical_n, 2, delta=0.02)
        self.assertLess(predicted(self.made(grain="across")).typical_n, 0.8 * predicted(single).typical_n)

    def test_a_longer_gap_holds_less_and_sags_more(self) -> None:
        short, long = self.made(span_m="200 mm"), self.made(span_m="400 mm")
        self.assertAlmostEqual(predicted(short).typical_n / predicted(long).typical_n, 370 / 170, delta=0.1)
        self.assertGreater(fact(long, "Sag when"), fact(short, "Sag when"))


class Truss(unittest.TestCase):
    def test_the_top_chord_by_the_method_of_sections(self) -> None:
        # Warren of four panels, load W in the middle: about B2 the chord carries W L/4 over the depth.
        drafted = worked("truss", span_m="360 mm", depth_m="80 mm")
        load = predicted(drafted).typical_n
        self.assertEqual(predicted(drafted).governing.part, "T1-T2")
        self.assertAlmostEqual(fact(drafted, "In T1-T2"), load * 0.36 / 4 / 0.08, delta=1e-6 * load)

    def test_stick_needed_and_its_weight(self) -> None:
        # 4 + 3 chords of 90 mm and 8 diagonals of √(45² + 80²) mm; sticks of 10 × 2 mm and 620 kg/m³.
        drafted = worked("truss", span_m="360 mm", depth_m="80 mm")
        length = 7 * 0.09 + 8 * math.hypot(0.045, 0.08)
        self.assertAlmostEqual(fact(drafted, "Stick needed"), length, delta=1e-9)
        self.assertAlmostEqual(drafted.expected.mass_kg, length * 0.01 * 0.002 * 620, delta=1e-9)
        self.assertEqual(fact(drafted, "Members"), 15)

    def test_spread_over_the_deck_it_holds_more(self) -> None:
        middle, spread = worked("truss"), worked("truss", placement="uniform")
        self.assertGreater(predicted(spread).typical_n, predicted(middle).typical_n)

    def test_weak_joints_go_before_members(self) -> None:
        # Joints usually fail before members (common practice, no source).
        drafted = worked("truss", joint="marshmallow")
        self.assertEqual(predicted(drafted).governing.key, "joint")
        self.assertLess(predicted(drafted).typical_n, 0.1 * predicted(worked("truss")).typical_n)

    def test_every_pattern_works(self) -> None:
        for name in ("king post", "queen post", "Warren with verticals", "Pratt", "Howe", "bowstring"):
            self.assertGreater(predicted(worked("truss", pattern=name)).typical_n, 0, name)


class Column(unittest.TestCase):
    def test_half_as_wide_as(self) -> None:
        # From 210 mm: round P/2π, square P/8, triangle P/(6√3).
        for shape, half in (("circle", 2 * math.pi), ("square", 8), ("triangle", 6 * math.sqrt(3))):
            drafted = worked("column", shape=shape, perimeter_m="210 mm")
            self.assertAlmostEqual(fact(drafted, "Half as wide"), 0.21 / half, delta=1e-9)

    def test_several_share_the_load_not_quite_evenly(self) -> None:
        single, four = worked("column", columns="1"), worked("column", columns="4")
        # Each further one brings 0.45 to 0.85 of the first, test_made_by_hand.Sharing.
        self.assertTrue(1 + 3 * 0.5 < predicted(four).typical_n / predicted(single).typical_n < 1 + 3 * 0.8)
        self.assertAlmostEqual(four.expected.mass_kg, 4 * single.expected.mass_kg, delta=1e-12)
        self.assertAlmostEqual(single.expected.mass_kg, 0.1 * 0.21 * 0.16, delta=1e-9)

    def test_other_shapes_from_the_same_sheet(self) -> None:
        drafted = worked("column", shape="square")
        ratio = predicted(worked("column", shape="circle")).typical_n / predicted(drafted).typical_n
        self.assertAlmostEqual(fact(drafted, "Round, same sheet"), ratio, delta=1e-9)


class Boat(unittest.TestCase):
    def test_best_wall_and_items(self) -> None:
        drafted = worked("boat", long_m="150 mm", wide_m="150 mm", wall_m="25 mm", item_kg="6 g")
        self.assertAlmostEqual(fact(drafted, "Best height"), 0.025, delta=1e-9)
        # 100 × 100 × 25 mm displaces 249.55 g at 20 °C; the sheet weighs 0.972 g.
        carries = 998.207 * 0.1 * 0.1 * 0.025 - 0.15 * 0.15 * 16e-6 * 2700
        self.assertAlmostEqual(fact(drafted, "Carries"), carries, delta=2e-6)
        self.assertEqual(fact(drafted, "That many"), math.floor(carries / 0.006))
        self.assertIn("near the best height", " ".join(drafted.shown.says))

    def test_salt_water_carries_more(self) -> None:
        fresh, salt = (fact(worked("boat", water=water), "Carries") for water in ("fresh-20", "salt-20"))
        own = worked("boat").expected.mass_kg
        self.assertAlmostEqual((salt + own) / (fresh + own), 1024.763 / 998.207, delta=1e-5)

    def test_freeboard_and_draft_add_up_to_the_wall(self) -> None:
        drafted = worked("boat", cargo_kg="120 g", wall_m="22 mm", offset_m="0 mm")
        self.assertAlmostEqual(fact(drafted, "Freeboard") + fact(drafted, "Draft"), 0.022, delta=1e-9)

    def test_other_hulls(self) -> None:
        vee = worked("boat", hull="vee", wall_m="30 mm")
        self.assertGreater(predicted(vee).typical_n, 0)
        bowl = worked("boat", hull="dish", sheet="clay", wall_m="30 mm", rim_m="100 mm", floor_m="60 mm")
        # Frustum less the clay's own weight.
        volume = math.pi * 0.03 * (0.05**2 + 0.05 * 0.03 + 0.03**2) / 3
        self.assertAlmostEqual(fact(bowl, "Carries"), 998.207 * volume - bowl.expected.mass_kg, delta=1e-5)
        slab = worked("boat", hull="raft", sheet="wood-block", wall_m="12 mm", rim_m="100 mm")
        self.assertAlmostEqual(slab.expected.mass_kg, 650 * 0.1 * 0.1 * 0.012, delta=1e-9)


class Tower(unittest.TestCase):
    STRAIGHT = {"height_m": "300 mm", "base_m": "100 mm", "top_m": "100 mm", "legs": "4", "levels": "3",
                "top_kg": "0 g"}  # fmt: skip

    def test_stick_needed(self) -> None:
        # 4 legs of 300, three rings of 4 × 100, 12 diagonals of √2 · 100 mm.
        drafted = worked("tower", **self.STRAIGHT)
        self.assertAlmostEqual(fact(drafted, "Stick needed"), 1.2 + 1.2 + 12 * 0.1 * math.sqrt(2), delta=1e-9)
        bare = worked("tower", **self.STRAIGHT, bracing="open")
        self.assertAlmostEqual(fact(bare, "Stick needed"), 2.4, delta=1e-9)

    def test_centre_of_mass_and_the_angle_it_goes_over(self) -> None:
        drafted = worked("tower", **self.STRAIGHT)
        self.assertAlmostEqual(fact(drafted, "Centre of mass"), 0.15, delta=1e-9)
        self.assertAlmostEqual(fact(drafted, "Goes over at"), math.degrees(math.atan(0.05 / 0.15)), delta=1e-9)
        self.assertAlmostEqual(fact(drafted, "Begins to rock"), 1 / 3, delta=1e-9)
        heavy = worked("tower", **{**self.STRAIGHT, "top_kg": "500 g"})
        self.assertLess(fact(heavy, "Goes over at"), fact(drafted, "Goes over at"))

    def test_without_diagonals_it_racks(self) -> None:
        names = {state.key for state in predicted(worked("tower", bracing="open")).limit_states}
        self.assertIn("rack", names)

    def test_a_cup_bends_its_beam_and_a_load_on_top_does_not(self) -> None:
        hung = {state.key for state in predicted(worked("tower", hang_m="200 mm")).limit_states}
        stood = {state.key for state in predicted(worked("tower")).limit_states}
        self.assertIn("hanger", hung)
        self.assertNotIn("hanger", stood)

    def test_the_table_s_jerk(self) -> None:
        # (2π f)² s/2 over gravity: 2 Hz and 30 mm from end to end.
        drafted = worked("tower", test="shake", frequency_hz="2 Hz", stroke_m="30 mm")
        self.assertAlmostEqual(fact(drafted, "The table"), (4 * math.pi) ** 2 * 0.015 / GRAVITY_M_S2, delta=1e-9)


class RingArchWall(unittest.TestCase):
    def test_a_ring_weighs_its_struts(self) -> None:
        drafted = worked("ring")
        self.assertAlmostEqual(drafted.expected.mass_kg, 5 * 0.15 * math.pi * 0.003**2 * 650, delta=1e-9)
        spacing, opening = fact(drafted, "Between the crossings"), fact(drafted, "Opening")
        self.assertAlmostEqual(spacing, opening * math.tan(math.pi / 5), delta=1e-9)

    def test_an_arch_closes_twice_the_sum_of_its_steps(self) -> None:
        drafted = worked("arch", layers="3", step_1_m="15 mm", step_2_m="8 mm", step_3_m="5 mm")
        self.assertAlmostEqual(fact(drafted, "Closes an opening"), 2 * 0.028, delta=1e-9)
        # Layer 1 without the others: half the block, less the step; tail of 20 g on a block of 30 g at its end.
        margin = (0.03 * (0.03 - 0.015) + 0.02 * (0.06 - 0.015)) / 0.05
        self.assertAlmostEqual(fact(drafted, "Layer 1"), margin, delta=1e-9)
        self.assertAlmostEqual(drafted.expected.mass_kg, 2 * 3 * 0.05, delta=1e-9)

    def test_a_wall_tips_or_slides(self) -> None:
        # t/(2μ): 60 mm over 2 · 0.4.
        drafted = worked("wall", thick_m="60 mm")
        self.assertAlmostEqual(fact(drafted, "Tips or slides evenly"), 0.075, delta=1e-9)
        self.assertEqual(predicted(worked("wall", push_m="200 mm")).governing.key, "tip")
        self.assertEqual(predicted(worked("wall", push_m="20 mm")).governing.key, "slide")
        thicker = predicted(worked("wall", thick_m="120 mm")).limit_states
        tip = next(state for state in thicker if state.key == "tip").typical_n
        self.assertAlmostEqual(tip / predicted(drafted).typical_n, 4, delta=1e-6)


class FurnitureAndDrop(unittest.TestCase):
    def test_prisms_weigh_their_card(self) -> None:
        board = STOCKS["board-b"]
        drafted = worked("furniture", side_m="90 mm", walls="3", legs="3", nested="1", height_m="240 mm")
        self.assertAlmostEqual(
            drafted.expected.mass_kg, board.grammage_kg_m2 * 3 * 0.09 * 1.5 * 3 * 0.24, delta=1e-9
        )  # fmt: skip
        self.assertAlmostEqual(fact(drafted, "Made for"), 13.0, delta=1e-9)
        self.assertIn("Never for a person", drafted.shown.says[0])

    def test_a_landing_by_its_formula(self) -> None:
        drafted = worked("drop", drop_m="250 mm", inside_kg="80 g", floor="mat")
        mass = drafted.expected.mass_kg + 0.08
        stiff = FLOORS["mat"].typical
        factor = 1 + math.sqrt(1 + 2 * 0.25 * stiff / (mass * GRAVITY_M_S2))
        self.assertAlmostEqual(fact(drafted, "Lands as hard"), factor, delta=1e-9)
        self.assertAlmostEqual(fact(drafted, "Force of"), factor * mass * GRAVITY_M_S2, delta=1e-9)
        self.assertAlmostEqual(drop_factor(0.25, mass * GRAVITY_M_S2 / stiff), factor, delta=1e-12)

    def test_survived_height_is_the_landing_s_inverse(self) -> None:
        for force in (5.0, 20.0, 80.0):
            height = survives_m(force, 0.11, 4000.0)
            self.assertAlmostEqual(landing_force_n(0.11, height, 4000.0), force, delta=1e-9)
        # Even let go without falling it acts twice: weaker than that survives no drop at all.
        self.assertEqual(survives_m(2 * 0.11 * GRAVITY_M_S2 * 0.99, 0.11, 4000.0), 0.0)

    def test_more_joints_and_softer_floors_survive_higher(self) -> None:
        few, many = worked("drop", joints="6"), worked("drop", joints="24")
        self.assertAlmostEqual(predicted(many).typical_n / predicted(few).typical_n, 4, delta=0.05)
        self.assertNotEqual(worked("drop", floor="foam").headline, worked("drop", floor="stone").headline)


class Lessons(unittest.TestCase):
    WIDE, HIGH, ROOM, LETTER = 340, 150, 30, 7.0
    """A lesson's figure on the screen and the widest that a letter of its labels is on the average [px]."""

    def test_no_label_stands_over_another_or_over_the_edge(self) -> None:
        for kind in KINDS.values():
            for lesson in kind.lessons:
                left, bottom, right, top = lesson.drawing.box()
                scale = min((self.WIDE - 2 * self.ROOM) / (right - left), (self.HIGH - 2 * self.ROOM) / (top - bottom))
                middle = (left + right) / 2
                labels = [shape for shape in lesson.drawing.shapes if shape.kind == "label"]
                placed = [
                    ((x - middle) * scale, y * scale, len(shape.text) * self.LETTER / 2)
                    for shape in labels
                    for x, y in shape.points
                ]
                for i, (x, y, half) in enumerate(placed):
                    self.assertLessEqual(abs(x) + half, self.WIDE / 2 + 2, (kind.key, labels[i].text))
                    for j, (other_x, other_y, other_half) in enumerate(placed[:i]):
                        apart = abs(x - other_x) >= half + other_half or abs(y - other_y) >= 14
                        self.assertTrue(apart, (kind.key, labels[i].text, labels[j].text))
