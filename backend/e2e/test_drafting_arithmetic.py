"""The arithmetic behind the drafting table: scales, words, and what counts of what is typed."""

from __future__ import annotations

from typing import Any

from django.test import SimpleTestCase

from e2e.typescript import call, call_all
from girder_core.drafting import KINDS
from girder_core.drafting.engine import in_words, read_values, start_values
from girder_core.drafting.model import DraftKind
from girder_core.units import Kind, System, parse


def shaped(kind: DraftKind) -> dict[str, Any]:
    """A kind as the interface gets it, as far as its arithmetic reads it."""
    params = [
        {
            "key": param.key, "kind": param.kind and param.kind.value, "only_key": param.only[0],
            "only_values": list(param.only[1]), "options": [{"key": one.key} for one in param.options],
            "forms": [form.value for form in param.forms],
        }
        for param in kind.params
    ]  # fmt: skip
    return {"key": kind.key, "params": params}


class Words(SimpleTestCase):
    def test_loads_read_the_same_on_the_ladder_and_in_the_headline(self) -> None:
        loads = [0.0, 0.12, 1.0, 4.4, 11.8, 14.7, 99.4, 240.0, 1234.0]
        for push in (False, True):
            shown = call_all("app/format.ts", "formatLoad", [[load, push, "metric"] for load in loads])
            told = [in_words(load, push, System.METRIC) for load in loads]
            for one, other in zip(shown, told, strict=True):
                # Forces of 100 N and more are whole newtons in a sentence and two figures on the ladder.
                if push and float(other.split()[0]) >= 100:
                    self.assertAlmostEqual(float(one.split()[0]) / float(other.split()[0]), 1, delta=0.05)
                else:
                    self.assertEqual(float(one.split()[0]), float(other.split()[0]), (one, other))
                    self.assertEqual(one.split()[1], other.split()[1])

    def test_what_a_slider_writes_the_core_reads_back(self) -> None:
        cases = [(0.0125, "length"), (0.3, "length"), (0.05, "mass"), (1.25, "mass"), (7, "count"), (1.4, "frequency")]
        for units in ("metric", "us"):
            texts = call_all("app/format.ts", "typedText", [[value, kind, units] for value, kind in cases])
            for text, (value, kind) in zip(texts, cases, strict=True):
                self.assertAlmostEqual(parse(text, Kind(kind)).si / value, 1, delta=0.003, msg=text)

    def test_figures_of_every_kind(self) -> None:
        cases = {
            "length": (0.0125, "12.5 mm"), "mass": (0.0167, "16.7 g"), "force": (50.43, "50.4 N"),
            "frequency": (1.4, "1.4 Hz"), "angle": (19.28, "19.3°"), "share": (0.124, "12 %"),
            "ratio": (270.4, "270 ×"), "count": (15, "15"), "words": (0, ""),
        }  # fmt: skip
        shown = call_all("app/format.ts", "formatFact", [[value, kind, "metric"] for kind, (value, _) in cases.items()])
        self.assertEqual(shown, [told for _, told in cases.values()])
        self.assertEqual(call("app/format.ts", "formatFact", 4.64, "length", "metric"), "4.64 m")
        self.assertEqual(call("app/format.ts", "formatFact", 13, "mass", "metric"), "13 kg")

    def test_an_estimate_has_two_figures_and_a_sheet_s_thickness_three(self) -> None:
        self.assertEqual(call("app/format.ts", "formatEstimate", 1.8961, "metric"), "1.9 kg")
        self.assertEqual(call("app/format.ts", "formatEstimate", 0.8201, "metric"), "820 g")
        self.assertEqual(call("app/format.ts", "formatThickness", 1.6e-5, "metric"), "0.016 mm")
        self.assertEqual(call("app/format.ts", "formatThickness", 2.54e-4, "us"), "0.0100 in")

    def test_a_clock_rounds_up_and_stops_at_nothing(self) -> None:
        shown = call_all("app/clockText.ts", "clockText", [[1200], [59.2], [0.4], [0], [-12]])
        self.assertEqual(shown, ["20:00", "1:00", "0:01", "0:00", "0:00"])


class Scales(SimpleTestCase):
    def test_the_weakest_states_fill_a_ladder_and_strong_ones_run_off(self) -> None:
        states = [{"low_n": 8.0, "high_n": 18.0}, {"low_n": 10.0, "high_n": 23.0}, {"low_n": 700.0, "high_n": 900.0}]
        found = call("drawing/ladderScale.ts", "ladderEnd", states, None)
        self.assertAlmostEqual(found, 3.2 * 18 * 1.04, delta=1e-9)

    def test_a_mark_near_by_is_on_the_ladder_and_one_far_off_is_not_waited_for(self) -> None:
        states = [{"low_n": 8.0, "high_n": 18.0}]
        near, far = call_all("drawing/ladderScale.ts", "ladderEnd", [[states, 60.0], [states, 6000.0]])
        self.assertGreaterEqual(near, 60)
        self.assertLess(far, 100)

    def test_what_never_fails_breaks_no_ladder(self) -> None:
        states = [{"low_n": 8.0, "high_n": None}, {"low_n": None, "high_n": None}]
        self.assertGreater(call("drawing/ladderScale.ts", "ladderEnd", states, None), 0)

    def test_a_curve_stays_in_its_field(self) -> None:
        curve = {"points": [[0.0, 0.0], [0.5, 3.0], [1.0, 1.0]], "here": [1.2, 2.0]}
        found = call("drawing/curveScale.ts", "curveScale", curve, 330, 190)
        self.assertEqual((found["right"], found["top"]), (1.2, 3.0))
        numbers = [float(one) for one in found["path"].replace("M", " ").replace("L", " ").split()]
        self.assertTrue(all(0 <= x <= 330 for x in numbers[::2]))
        self.assertTrue(all(0 <= y <= 190 for y in numbers[1::2]))


class Typed(SimpleTestCase):
    def test_what_counts_is_what_the_core_counts(self) -> None:
        asked, expected = [], []
        for kind in KINDS.values():
            for choice in (param for param in kind.params if param.kind is None and not param.forms):
                for option in choice.options:
                    asked.append([shaped(kind), {**start_values(kind, {}, {}), choice.key: option.key}])
                    words = read_values(kind, {choice.key: option.key}).words
                    expected.append([param.key for param in kind.params if param.counts(words)])
        shown = call_all("features/drafting/draftState.ts", "counting", asked)
        self.assertGreater(len(shown), 30)
        self.assertEqual([[one["key"] for one in params] for params in shown], expected)

    def test_steps_beyond_an_arch_s_layers_are_not_shown(self) -> None:
        kind = KINDS["arch"]
        typed = {**start_values(kind, {}, {}), "layers": "3"}
        shown = [one["key"] for one in call("features/drafting/draftState.ts", "laidOut", shaped(kind), typed)]
        self.assertEqual([key for key in shown if key.startswith("step_")], ["step_1_m", "step_2_m", "step_3_m"])

    def test_another_pattern_puts_moved_joints_back_and_other_settings_leave_them(self) -> None:
        state = {"typed": {"pattern": "Warren"}, "moves": {"T1": [0.1, 0.2]}}
        same = call("features/drafting/draftState.ts", "withTyped", state, "member", "dowel-6")
        self.assertEqual(same["moves"], {"T1": [0.1, 0.2]})
        other = call("features/drafting/draftState.ts", "withTyped", state, "pattern", "Pratt")
        self.assertEqual((other["moves"], other["typed"]["pattern"]), ({}, "Pratt"))

    def test_a_joint_is_moved_and_asked_about(self) -> None:
        state = {"typed": {"pattern": "Warren"}, "moves": {}}
        moved = call("features/drafting/draftState.ts", "withMove", state, "T1", [0.1, 0.05])
        asked = call("features/drafting/draftState.ts", "request", "truss", moved, 4)
        self.assertEqual(
            asked, {"kind": "truss", "typed": {"pattern": "Warren"}, "moves": {"T1": [0.1, 0.05]}, "run": 4}
        )
