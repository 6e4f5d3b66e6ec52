"""Drafts: every kind works out from its defaults, follows its parameters, refuses in words, and is drawn to scale."""

import math
import unittest
from collections.abc import Mapping
from itertools import pairwise
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from girder_core.drafting import (
    KINDS,
    DraftKind,
    Worked,
    draft,
    draft_kind,
    expectation,
    in_words,
    kinds_for,
    read_values,
    start_values,
    summary,
)
from girder_core.drafting.model import Param
from girder_core.families import FAMILIES
from girder_core.ground import GRAVITY_M_S2, Drawing, GirderError
from girder_core.measure import Kind, System, parse
from girder_core.physics import STOCKS, Stock, calibrate
from girder_core.safety import AgeBand
from girder_core.tests import tries


def worked(key: str, moves: Any = None, **typed: str) -> Worked:
    return draft(draft_kind(key), typed, moves=moves)


def sentence(key: str, moves: Any = None, **typed: str) -> GirderError:
    try:
        worked(key, moves, **typed)
    except GirderError as error:
        return error
    raise AssertionError("was taken")


def finite(drawing: Drawing) -> bool:
    return all(math.isfinite(ordinate) for shape in drawing.shapes for point in shape.points for ordinate in point)


def stocks_for(param: Param, stocks: Mapping[str, Stock]) -> list[Stock]:
    """The stocks that serve a parameter."""
    return [stock for stock in stocks.values() if stock.form in param.forms]


class EveryKind(unittest.TestCase):
    def test_each_family_has_one_or_says_so_and_each_starts_from_its_set_up(self) -> None:
        for family in FAMILIES.values():
            kinds = kinds_for(family.key)
            self.assertEqual(bool(kinds), family.drafted, family.key)
            for kind in kinds:
                for age in AgeBand:
                    drafted = draft(kind, start_values(kind, family.usual(age), {}))
                    self.assertTrue(drafted.headline.endswith("."), (family.key, kind.key, age))

    def test_modes_are_the_bench_s_own(self) -> None:
        for kind in KINDS.values():
            known = {mode.key for key in kind.families for mode in FAMILIES[key].failure_modes}
            for choice in (p for p in kind.params if p.kind is None and not p.forms):
                for option in choice.options:
                    try:
                        drafted = expectation(kind, {choice.key: option.key})
                    except GirderError:
                        continue
                    for state in drafted.prediction.limit_states if drafted.prediction else ():
                        self.assertIn(state.mode, known, f"{kind.key}: {state.key}")

    def test_ladders_are_complete(self) -> None:
        for kind in KINDS.values():
            prediction = draft(kind, {}).expected.prediction
            assert prediction is not None
            for state in prediction.limit_states:
                self.assertTrue(state.explanation and state.young and state.source and state.name, kind.key)
                self.assertTrue(0 <= state.low_n <= state.typical_n <= state.high_n)
            self.assertEqual(prediction.governing, prediction.limit_states[0])
            self.assertLessEqual(len(prediction.what_helps), 6)

    def test_parameters_hold_together(self) -> None:
        for kind in KINDS.values():
            keys = {param.key for param in kind.params}
            self.assertEqual(len(keys), len(kind.params))
            self.assertIn(kind.material, keys)
            self.assertLessEqual(set(kind.blame.values()), keys)
            for param in kind.params:
                if param.kind is not None:
                    self.assertTrue(param.low <= param.default <= param.high, param.key)
                if param.forms:
                    self.assertIn(param.options[0].key, [stock.key for stock in stocks_for(param, STOCKS)])
                other, wanted = param.only
                if other:
                    offered = {option.key for p in kind.params if p.key == other for option in p.options}
                    self.assertLessEqual(set(wanted), offered)

    def test_set_up_and_readings_named_exist(self) -> None:
        for kind in KINDS.values():
            setup = {f.key for key in kind.families for f in FAMILIES[key].setup}
            readings = {r.key for key in kind.families for r in FAMILIES[key].readings}
            for param in kind.params:
                self.assertIn(param.setup or next(iter(setup)), setup, f"{kind.key}.{param.key}")
                self.assertIn(param.reading or next(iter(readings)), readings, f"{kind.key}.{param.key}")

    def test_measured_beats_planned_beats_default(self) -> None:
        kind = draft_kind("sheet_bridge")
        self.assertEqual(start_values(kind, {}, {})["span_m"], "300 mm")
        self.assertEqual(start_values(kind, {"gap_m": 0.36}, {})["span_m"], "360 mm")
        self.assertEqual(start_values(kind, {"gap_m": 0.36}, {"gap": 0.355})["span_m"], "355 mm")


class FromTheRun(unittest.TestCase):
    def test_every_set_up_and_reading_a_challenge_allows_can_be_drafted(self) -> None:
        for kind in KINDS.values():
            for family in (FAMILIES[key] for key in kind.families):
                allowed = {f.key: (f.low, f.high) for f in family.setup}
                measured = {r.key: (r.plausible.low, r.plausible.high) for r in family.readings}
                for param in kind.params:
                    least, most = param.accepts
                    for low, high in filter(None, (allowed.get(param.setup), measured.get(param.reading))):
                        self.assertLessEqual(least, low, f"{kind.key}.{param.key} for {family.key}")
                        self.assertGreaterEqual(most, high, f"{kind.key}.{param.key} for {family.key}")

    def test_nothing_is_moved_into_bounds_unsaid(self) -> None:
        # Twenty-two supports open as twenty-two, forty as forty with a sentence at the field.
        ring = draft_kind("ring")
        self.assertEqual(start_values(ring, {"supports": 22}, {})["supports"], "22")
        start = start_values(ring, {"supports": 40}, {})
        self.assertEqual(start["supports"], "40")
        with self.assertRaises(GirderError) as caught:
            read_values(ring, start)
        self.assertIn("from 3 to 30", caught.exception.data["fields"]["supports"])

    def test_a_set_up_of_nothing_is_no_default(self) -> None:
        self.assertEqual(start_values(draft_kind("sheet_bridge"), {"overlap_min_m": 0.0}, {})["overlap_m"], "0 mm")

    def test_a_wall_is_not_hit_above_its_top(self) -> None:
        wall = draft_kind("wall")
        start = start_values(wall, {"height_m": 0.12}, {})
        self.assertEqual(read_values(wall, start)["push_m"], 0.12)
        with self.assertRaises(GirderError) as caught:
            draft(wall, {**start, "push_m": "130 mm"})
        self.assertIn("ends at 120 mm", caught.exception.data["fields"]["push_m"])


class SaidInsteadOfHidden(unittest.TestCase):
    def test_a_flat_sheet_cannot_carry_itself(self) -> None:
        flat = draft(draft_kind("sheet_bridge"), {"shape": "flat", "sheet": "printer-80", "span_m": "500 mm"})
        self.assertEqual(flat.headline, "It cannot carry itself.")
        assert flat.expected.prediction is not None
        self.assertTrue(flat.expected.prediction.governing.by_itself)
        self.assertFalse(any(state.by_itself for state in flat.expected.prediction.limit_states if state.typical_n > 1))
        self.assertNotIn("0 g", flat.headline + flat.note)

    def test_one_that_hardly_does(self) -> None:
        for span in range(100, 600, 10):
            told = draft(draft_kind("sheet_bridge"), {"shape": "flat", "sheet": "manila", "span_m": f"{span} mm"})
            self.assertNotRegex(told.headline + told.note, r"\b0 g")

    def test_cargo_beside_the_hull(self) -> None:
        for hull in ("box", "vee", "dish", "raft", "plain"):
            with self.assertRaises(GirderError) as caught:
                draft(draft_kind("boat"), {"hull": hull, "sheet": "wood-block" if hull == "raft" else "foil",
                                           "offset_m": "90 mm"})  # fmt: skip
            self.assertIn("offset_m", caught.exception.data["fields"])

    def test_columns_that_at_worst_hold_nothing(self) -> None:
        slender = {"perimeter_m": "40 mm", "height_m": "600 mm", "columns": "4"}
        told = draft(draft_kind("column"), slender)
        self.assertIn("hold nothing", next(f.words for f in told.shown.facts if f.label == "Columns for that load"))

    def test_foil_too_thin_for_a_tube_is_not_asked_for_its_unit(self) -> None:
        with self.assertRaises(GirderError) as caught:
            draft(draft_kind("column"), {"sheet": "foil", "perimeter_m": "300 mm"})
        self.assertIn("thinner than any round wall", caught.exception.sentence)
        self.assertNotIn("millimetres", caught.exception.sentence)


def any_values(kind: DraftKind) -> Any:
    def setting(param: Param) -> Any:
        if param.forms:
            return st.sampled_from([stock.key for stock in stocks_for(param, STOCKS)])
        if param.kind is None:
            return st.sampled_from([option.key for option in param.options])
        unit = {Kind.LENGTH: "m", Kind.MASS: "kg", Kind.FREQUENCY: "Hz", Kind.COUNT: ""}[param.kind]
        if param.kind is Kind.COUNT:
            return st.integers(round(param.low), round(param.high)).map(str)
        return st.floats(param.low, param.high).map(lambda v: f"{v:.7f} {unit}".strip())

    return st.fixed_dictionaries({param.key: setting(param) for param in kind.params})


class Anything(unittest.TestCase):
    @given(st.data())
    @settings(max_examples=tries(150), suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
    def test_extreme_values_give_a_sentence_or_an_answer_never_a_blank(self, data: st.DataObject) -> None:
        kind = data.draw(st.sampled_from(list(KINDS.values())))
        typed = data.draw(any_values(kind))
        try:
            drafted = draft(kind, typed)
        except GirderError as error:
            self.assertGreater(len(error.sentence), 12)
            self.assertNotIn("nan", error.sentence.lower().split())
            return
        self.assertNotRegex(drafted.headline + drafted.note, r"\b(nan|inf|None)\b")
        self.assertTrue(math.isfinite(drafted.expected.mass_kg) and drafted.expected.mass_kg > 0)
        for fact in drafted.shown.facts:
            self.assertTrue(math.isfinite(fact.value), (kind.key, fact.label))
        for view in drafted.shown.views:
            self.assertTrue(finite(view.drawing), (kind.key, view.key))
        for curve in drafted.shown.curves:
            self.assertTrue(all(math.isfinite(x) and math.isfinite(y) for x, y in curve.points), curve.title)
        if drafted.expected.prediction:
            self.assertFalse(math.isnan(drafted.expected.prediction.typical_n))

    def test_the_same_draft_is_the_same_answer(self) -> None:
        for kind in KINDS.values():
            first, two = draft(kind, {}), draft(kind, {})
            self.assertEqual(first.headline, two.headline)
            self.assertEqual(first.expected.prediction, two.expected.prediction)


class Words(unittest.TestCase):
    def test_a_class_s_experience_moves_all_and_is_said(self) -> None:
        kind, learnt = draft_kind("column"), calibrate([(6.0, 10.0)] * 7)
        before, after = draft(kind, {}), draft(kind, {}, calibration=learnt)
        assert before.expected.prediction and after.expected.prediction
        self.assertAlmostEqual(
            after.expected.prediction.typical_n / before.expected.prediction.typical_n, learnt.correction, delta=1e-9
        )
        self.assertIn("It is the model times 0.6, as designs in your classes held", after.note)
        self.assertAlmostEqual(
            after.expected.prediction.what_helps[0].gain_n / before.expected.prediction.what_helps[0].gain_n,
            learnt.correction, delta=1e-6,
        )  # fmt: skip

    def test_units(self) -> None:
        self.assertIn("lb", draft(draft_kind("column"), {}, system=System.US).headline)
        self.assertEqual(in_words(1.234 * GRAVITY_M_S2, False, System.METRIC), "1.2 kg")
        self.assertEqual(in_words(0.0123 * GRAVITY_M_S2, False, System.METRIC), "12 g")
        self.assertEqual(in_words(31.4, True, System.METRIC), "31 N")
        self.assertEqual(in_words(math.inf, False, System.METRIC), "any load")

    def test_what_is_kept(self) -> None:
        prediction = draft(draft_kind("column"), {}).expected.prediction
        assert prediction is not None
        self.assertEqual(summary(prediction)["mode"], "crumple")
        self.assertEqual(summary(prediction)["typical_n"], prediction.typical_n)


class BadInput(unittest.TestCase):
    def test_fields_are_named_all_at_once(self) -> None:
        error = sentence("sheet_bridge", span_m="30", width_m="21 kg", sheet="gold", shape="knot", layers="1.5")
        self.assertEqual(set(error.data["fields"]), {"span_m", "width_m", "sheet", "shape", "layers"})

    def test_centimetres_for_millimetres(self) -> None:
        error = sentence("sheet_bridge", depth_m="12 m")
        self.assertIn("Is the unit right?", error.data["fields"]["depth_m"])

    def test_a_pleat_deeper_than_the_sheet_allows(self) -> None:
        error = sentence("sheet_bridge", width_m="210 mm", pleats="10", depth_m="20 mm")
        self.assertIn("cannot be as deep", error.data["fields"]["depth_m"])

    def test_a_mechanism_names_the_joint(self) -> None:
        # A Warren truss whose top joint is pulled into the line of its neighbours.
        error = sentence("truss", {"T0": (0.045, 0.0)}, panels="2", span_m="180 mm")
        self.assertEqual(error.code, "mechanism")
        self.assertIn("Joint T0 can move", error.sentence)

    def test_a_joint_on_another(self) -> None:
        kind = draft_kind("truss")
        at = (0.045 * 3, 0.08)
        error = sentence("truss", {"T0": at}, panels="4", span_m="360 mm")
        self.assertEqual(error.code, "joints_meet")
        self.assertIn("T0 and T1 lie on each other", error.sentence)
        self.assertIn("nowhere near", sentence("truss", {"T0": (math.inf, 0.0)}).sentence)
        self.assertIsNotNone(kind)

    def test_a_hull_of_no_wall(self) -> None:
        self.assertIn("without walls", sentence("boat", wall_m="0 mm").data["fields"]["wall_m"])
        self.assertIn("no floor", sentence("boat", wall_m="80 mm").data["fields"]["wall_m"])
        self.assertIn("no sheet to fold", sentence("boat", sheet="clay").data["fields"]["sheet"])

    def test_cargo_heavier_than_buoyancy_is_shown_sinking(self) -> None:
        drafted = worked("boat", cargo_kg="900 g")
        self.assertIn("It sinks: it can carry", drafted.shown.says[0])
        self.assertTrue(drafted.headline)

    def test_struts_too_short(self) -> None:
        self.assertIn("do not reach", sentence("ring", strut_m="120 mm").data["fields"]["strut_m"])

    def test_a_step_of_a_block_s_length(self) -> None:
        error = sentence("arch", step_1_m="60 mm", block_m="60 mm")
        self.assertIn("a block's length or more", error.data["fields"]["step_1_m"])

    def test_an_arch_that_tips_says_which_layer_and_has_no_load(self) -> None:
        drafted = worked("arch", step_1_m="40 mm", tail_kg="0 g")
        self.assertIsNone(drafted.expected.prediction)
        self.assertIn("Layer 1 from the top tips", drafted.headline)

    def test_unknown_kind(self) -> None:
        with self.assertRaises(GirderError):
            draft_kind("castle")


class ToScale(unittest.TestCase):
    def box(self, finished: Worked, view: str) -> tuple[float, float, float, float]:
        return next(drawn for drawn in finished.shown.views if drawn.key == view).drawing.box()

    def test_dimensions_are_what_was_typed(self) -> None:
        def longest(finished: Worked, view: str) -> list[float]:
            drawing = next(drawn for drawn in finished.shown.views if drawn.key == view).drawing
            return [round(shape.length_m, 6) for shape in drawing.shapes if shape.kind == "measure"]

        self.assertIn(0.36, longest(worked("sheet_bridge", span_m="36 cm"), "side"))
        self.assertIn(0.36, longest(worked("truss", span_m="36 cm"), "truss"))
        self.assertIn(0.2, longest(worked("column", height_m="20 cm"), "side"))
        self.assertIn(0.15, longest(worked("boat", long_m="15 cm"), "sheet"))
        self.assertIn(0.4, longest(worked("tower", height_m="40 cm"), "side"))
        self.assertIn(0.28, longest(worked("ring", circle_m="28 cm", strut_m="17 cm"), "plan"))
        self.assertIn(0.5, longest(worked("drop", drop_m="50 cm"), "side"))
        self.assertIn(0.09, longest(worked("furniture", side_m="9 cm"), "above"))

    def test_the_outline_of_a_column_is_as_long_as_its_sheet(self) -> None:
        for shape in ("circle", "square", "triangle", "n-gon", "zigzag"):
            drawing = worked("column", shape=shape, perimeter_m="21 cm").shown.views[0].drawing
            points = drawing.shapes[0].points
            around = sum(math.dist(a, b) for a, b in pairwise(points))
            self.assertAlmostEqual(around, 0.21, delta=0.0005)

    def test_what_is_drawn_under_water_weighs_what_the_boat_weighs(self) -> None:
        drafted = worked("boat", cargo_kg="100 g", offset_m="0 mm")
        draft_fact = next(fact.value for fact in drafted.shown.facts if fact.label == "Draft")
        hull = next(v for v in drafted.shown.views if v.key == "water").drawing.shapes[1]
        self.assertAlmostEqual(min(y for _, y in hull.points), -draft_fact, delta=1e-9)
        # 150 mm sheet with walls of 20 mm: floor 110 mm square.
        self.assertAlmostEqual(draft_fact * 0.11**2 * 998.207, 0.1 + drafted.expected.mass_kg, delta=1e-6)

    def test_struts_and_members_meet_where_they_are_drawn(self) -> None:
        drawing = worked("truss").shown.views[0].drawing
        joints = {shape.key: shape.points[0] for shape in drawing.shapes if shape.kind == "circle" and shape.key}
        members = [shape for shape in drawing.shapes if shape.key and shape.kind == "line"]
        self.assertEqual(len(members), 15)
        for member in members:
            a, b = member.key.split("-")
            self.assertEqual(member.points, (joints[a], joints[b]))


class Physics(unittest.TestCase):
    def test_a_round_column_has_no_walls_however_many_are_asked(self) -> None:
        headlines = {worked("column", walls=str(n)).headline for n in (3, 6, 24)}
        self.assertEqual(len(headlines), 1)
        prediction = worked("column", walls="3").expected.prediction
        assert prediction is not None
        names = {state.name for state in prediction.limit_states}
        self.assertIn("Round wall dents", names)
        self.assertNotIn("Wall crumples", names)

    def test_moving_a_joint_moves_the_answer(self) -> None:
        flat = worked("truss", {"T1": (0.135, 0.02), "T2": (0.225, 0.02)})
        assert flat.expected.prediction and worked("truss").expected.prediction
        self.assertLess(flat.expected.prediction.typical_n, worked("truss").expected.prediction.typical_n)  # type: ignore[union-attr]

    def test_supports_needed_is_said(self) -> None:
        drafted = worked("column", wanted_kg="12 kg")
        needed = next(fact.value for fact in drafted.shown.facts if fact.label == "Columns for that load")
        assert drafted.expected.prediction
        # The first holds the low end, each further one 0.45 of it: never equally high.
        least = 12 * GRAVITY_M_S2 / drafted.expected.prediction.low_n
        self.assertEqual(needed, 1 + math.ceil((least - 1) / 0.45))

    def test_a_harder_floor_lands_harder(self) -> None:
        force = {}
        for floor in ("stone", "wood", "mat", "foam"):
            force[floor] = next(
                f.value for f in worked("drop", floor=floor).shown.facts if f.label == "Force of the landing"
            )
        self.assertTrue(force["stone"] > force["wood"] > force["mat"] > force["foam"])

    def test_isolation_lets_less_arrive(self) -> None:
        def felt(**typed: str) -> float:
            drafted = worked("tower", test="shake", frequency_hz="3 Hz", **typed)
            return next(f.value for f in drafted.shown.facts if f.label == "What the tower feels")

        self.assertLess(felt(isolation="balls"), felt(isolation="foam"))
        self.assertLess(felt(isolation="balls"), 0.5 * felt())

    def test_the_slowest_shaking_that_makes_it_rock(self) -> None:
        def fact(label: str, **typed: str) -> float:
            drafted = worked("tower", test="shake", **typed)
            return next((f.value for f in drafted.shown.facts if f.label.startswith(label)), 0.0)

        rate = fact("Begins to rock when")
        rocks_at = fact("Begins to rock at")
        for change, rocks in ((-0.1, False), (0.1, True)):
            felt = fact("What the tower feels", frequency_hz=f"{rate + change:.2f} Hz")
            self.assertEqual(felt >= rocks_at, rocks)

    def test_typed_values_read_back(self) -> None:
        kind = draft_kind("boat")
        values = read_values(kind, {"long_m": "6 in", "item_kg": "0.2 oz"})
        self.assertAlmostEqual(values["long_m"], 0.1524, delta=1e-12)
        self.assertAlmostEqual(values["item_kg"], parse("0.2 oz", Kind.MASS).si, delta=1e-12)
