"""The arithmetic behind the drawings, and that the browser's words and projections agree with the core's."""

from __future__ import annotations

import math
import random
from itertools import pairwise
from statistics import NormalDist
from typing import Any

from django.test import SimpleTestCase

from e2e.typescript import call, call_all
from girder_core.families import family
from girder_core.ledger import replay
from girder_core.loading import Kit
from girder_core.tests.support import MOVES, Script, kit, setup
from girder_core.trial import Event, EventKind, Outcome, TrialResult
from girder_core.units import System, format_length, format_mass


class Words(SimpleTestCase):
    """Figures on the screen against those in the core's sentences: one person reads both."""

    def test_masses_read_the_same(self) -> None:
        masses = [0.0, 0.0005, 0.0384, 0.02834952, 0.1, 0.4535, 0.45359237, 0.9999, 1.0, 1.185, 2.132, 47.25]
        for system in System:
            shown = call_all("app/format.ts", "formatMass", [[kg, system.value] for kg in masses])
            self.assertEqual(shown, [format_mass(kg, system) for kg in masses])

    def test_lengths_read_the_same(self) -> None:
        lengths = [0.0004, 0.0254, 0.036, 0.3048, 0.36, 0.3605]
        for system in System:
            shown = call_all("app/format.ts", "formatLength", [[m, system.value] for m in lengths])
            self.assertEqual(shown, [format_length(m, system) for m in lengths])

    def test_doubt_is_shown_with_as_many_digits_as_it_has(self) -> None:
        # Twice 0.0289 g, 0.289 g and 2.89 g.
        shown = call_all(
            "app/format.ts", "formatMassWithDoubt",
            [[0.0384, 0.0000289, "metric"], [0.0384, 0.000289, "metric"], [0.0384, 0.00289, "metric"]],
        )  # fmt: skip
        self.assertEqual(shown, ["38.40 ± 0.06 g", "38.4 ± 0.6 g", "38.4 ± 5.8 g"])


class Axes(SimpleTestCase):
    def test_ticks_are_round_evenly_spaced_and_reach_as_far_as_they_can(self) -> None:
        tops = [0.003, 0.05, 0.79, 1.0, 2.4, 44.5, 873.0, 1e5]
        for top, found in zip(tops, call_all("drawing/ticks.ts", "ticks", [[top, 6] for top in tops]), strict=True):
            step = found[1]
            digits = float(f"{step:.6e}".split("e")[0])
            self.assertIn(round(digits, 6), (1, 2, 5))
            self.assertEqual(found[0], 0)
            for a, b in pairwise(found):
                self.assertAlmostEqual(b - a, step, delta=1e-9 * top)
            self.assertLessEqual(found[-1], top * (1 + 1e-9))
            self.assertGreater(found[-1] + step, top)
            self.assertTrue(4 <= len(found) <= 8, found)

    def test_an_axis_of_nothing(self) -> None:
        self.assertEqual(call("drawing/ticks.ts", "ticks", 0, 6), [0])

    def test_rays_leave_at_the_border_and_have_their_ratio(self) -> None:
        found = call("features/compare/rays.ts", "rays", 0.075, 2.4, [35.3, 24.3, 32.9])
        self.assertTrue(3 <= len(found) <= 7)
        for ray in found:
            self.assertAlmostEqual(ray["load"] / ray["selfMass"], ray["ratio"])
            on_border = abs(ray["selfMass"] - 0.075) < 1e-9 or abs(ray["load"] - 2.4) < 1e-9
            self.assertTrue(on_border, ray)
        ratios = [ray["ratio"] for ray in found]
        self.assertLess(min(ratios), 24.3)
        self.assertGreater(max(ratios), 35.3)

    def test_labels_do_not_lie_on_each_other(self) -> None:
        points = [{"x": 200, "y": 200, "text": "Skua"}, {"x": 206, "y": 204, "text": "Guillemot"},
                  {"x": 210, "y": 196, "text": "Fulmar"}, {"x": 480, "y": 60, "text": "Razorbill"}]  # fmt: skip
        size = 17
        boxes = []
        for label in call("features/compare/rays.ts", "placeLabels", points, 520, size):
            width = len(label["text"]) * size * 0.5
            left = label["x"] if label["anchor"] == "start" else label["x"] - width
            self.assertTrue(left > 0 and left + width < 520, label)
            boxes.append((left, label["y"] - size, left + width, label["y"] + size * 0.2))
        for i, a in enumerate(boxes):
            for b in boxes[i + 1 :]:
                apart = a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]
                self.assertTrue(apart, (a, b))


def layer(key: str, shape: str, count: int, width_mm: float, height_mm: float) -> dict[str, Any]:
    size = {"diameterM": width_mm / 1000, "thicknessM": height_mm / 1000}
    return {"key": key, "shape": shape, "count": count, "state": "held", **size}


class Pile(SimpleTestCase):
    def pile(self) -> list[dict[str, Any]]:
        layers = [
            layer("platform", "platform", 1, 90, 6),
            layer("bag", "bag", 2, 70, 34),
            layer("nut", "nut", 23, 20, 10),
        ]
        pieces: list[dict[str, Any]] = call("drawing/bridgeGeometry.ts", "pile", layers)
        return pieces

    def test_every_object_is_drawn_in_its_own_size(self) -> None:
        pieces = self.pile()
        self.assertEqual(len(pieces), 26)
        for piece in pieces:
            size = {"platform": (90, 6), "bag": (70, 34), "nut": (20, 10)}[piece["shape"]]
            self.assertAlmostEqual(piece["width"], size[0])
            self.assertAlmostEqual(piece["height"], size[1])

    def test_objects_rest_on_something_and_do_not_overlap(self) -> None:
        pieces = self.pile()
        tops = {0.0} | {round(piece["y"], 6) for piece in pieces}
        for i, a in enumerate(pieces):
            self.assertIn(round(a["y"] + a["height"], 6), tops)
            for b in pieces[i + 1 :]:
                beside = a["x"] + a["width"] <= b["x"] + 1e-6 or b["x"] + b["width"] <= a["x"] + 1e-6
                above = a["y"] + a["height"] <= b["y"] + 1e-6 or b["y"] + b["height"] <= a["y"] + 1e-6
                self.assertTrue(beside or above, (a, b))

    def test_the_pile_is_no_wider_than_its_platform_and_stands_in_the_middle(self) -> None:
        pieces = self.pile()
        self.assertGreaterEqual(min(piece["x"] for piece in pieces), -45.001)
        self.assertLessEqual(max(piece["x"] + piece["width"] for piece in pieces), 45.001)
        row = [piece for piece in pieces if piece["shape"] == "nut"][:4]
        self.assertAlmostEqual(row[0]["x"], -(row[-1]["x"] + row[-1]["width"]))

    def test_what_is_taken_off_comes_off_the_latest(self) -> None:
        items = [{"key": "nut", "shape": "nut", "diameter_m": 0.02, "thickness_m": 0.01}]
        step = {"item": "nut", "state": "held", "mass_kg": 1, "signs": [], "event_id": "x"}
        steps = [
            {**step, "kind": "place", "count": 3},
            {**step, "kind": "place", "count": 2},
            {**step, "kind": "remove", "count": 4},
        ]
        found = call("drawing/bridgeGeometry.ts", "layersOf", steps, items)
        self.assertEqual([one["count"] for one in found], [1, 0])

    def test_the_frame_is_to_scale(self) -> None:
        frame = call("drawing/bridgeGeometry.ts", "bridgeFrame", 0.36, 0.034, 0.057)
        self.assertEqual((frame["gap"], frame["left"], frame["right"]), (360, 34, 57))
        self.assertGreater(frame["supportWidth"], 57)


class Projection(SimpleTestCase):
    """What the bench draws before the server answers must be what the server will say."""

    def result(self, found: TrialResult) -> dict[str, Any]:
        return {
            "outcome": found.outcome.value, "placed": dict(found.placed), "load_on_kg": found.load_on.value,
            "held_kg": found.held.value, "step_waiting": found.step_waiting, "mode": found.mode, "reason": found.reason,
            "undoable": found.undoable, "pieces_on": found.pieces_on, "pieces_held": found.pieces_held,
            "round_waiting": found.round_waiting, "stood": found.stood, "hits": found.hits, "seats": dict(found.seats),
            "rounds": [
                {"event_id": r.event_id, "number": r.number, "size": r.size, "state": r.state.value, "hit": r.hit,
                 "lasted_s": r.lasted_s} for r in found.rounds
            ],
            "steps": [
                {"event_id": s.event_id, "kind": s.kind.value, "item": s.item, "count": s.count, "mass_kg": s.mass_kg,
                 "state": s.state.value, "signs": list(s.signs)} for s in found.steps
            ],
        }  # fmt: skip

    def play(self, draws: random.Random) -> Script:
        """A lawful trial: what the bench's keys allow."""
        script = Script().hold("platform")
        for _ in range(draws.randint(2, 14)):
            now = script.result()
            if now.outcome is not Outcome.RUNNING:
                break
            moves = ["nut", "three", "bag"] if draws.random() < 0.8 else ["fail", "void"]
            if now.step_waiting and draws.random() < 0.7:
                moves = ["settle"]
            if now.placed.get("nut") and draws.random() < 0.15:
                moves = ["remove"]
            if not now.step_waiting and draws.random() < 0.05:
                moves = ["run_out"]
            if draws.random() < 0.1:
                moves = ["read", "read_waiting"]
            MOVES[draws.choice(moves)](script)
            if script.result().refused:
                script.events.pop()
        return script

    def test_waiting_events_show_what_the_core_will_say(self) -> None:
        draws = random.Random(5)
        read = 0
        items = [{"key": i.key, "mass_kg": i.mass.value, "shape": i.shape} for i in kit().items]
        arguments, expected = [], []
        for _ in range(120):
            events = self.play(draws).events
            known = draws.randint(0, len(events))
            pending = [
                {"id": e.id, "trial": "t", "sequence": e.sequence, "kind": e.kind.value, "data": dict(e.data),
                 "happened_at": ""} for e in events[known:]
            ]  # fmt: skip
            # How heavy a load is that was typed, only the server can tell.
            if any(event.kind is EventKind.LOAD_READING for event in events[known:]):
                read += 1
                continue
            arguments.append([self.result(replay(events[:known], setup())), pending, items])
            expected.append(self.result(replay(events, setup())))
        self.assertGreater(len(arguments), read)
        for found, told in zip(call_all("features/bench/projection.ts", "project", arguments), expected, strict=True):
            for key in ("outcome", "placed", "step_waiting", "undoable", "pieces_on", "pieces_held"):
                self.assertEqual(found[key], told[key], key)
            for key in ("load_on_kg", "held_kg"):
                self.assertAlmostEqual(found[key], told[key], msg=key)
            self.assertEqual([s["state"] for s in found["steps"]], [s["state"] for s in told["steps"]])

    def test_a_waiting_load_reading_shows_that_it_holds_and_leaves_the_figure_to_the_server(self) -> None:
        before = self.result(Script().hold("platform").place(count=2).result())
        items = [{"key": i.key, "mass_kg": i.mass.value, "shape": i.shape} for i in kit().items]
        for held, waiting in ((True, False), (False, True)):
            pending = [{"id": "a", "sequence": 4, "kind": "load_reading", "data": {"mass": "1 kg", "held": held}}]
            found = call("features/bench/projection.ts", "project", before, pending, items)
            self.assertEqual(
                (found["step_waiting"], found["undoable"], found["placed"]), (waiting, "a", before["placed"])
            )
            self.assertEqual(found["steps"][-1]["state"], "held" if held else "waiting")

    def test_a_waiting_undo_hides_what_it_takes_back(self) -> None:
        script = Script().hold("platform")
        before = self.result(script.result())
        pending = [
            {"id": "a", "sequence": 3, "kind": "place", "data": {"item": "nut", "count": 2}},
            {"id": "b", "sequence": 4, "kind": "undo", "data": {"event": "a"}},
        ]
        items = [{"key": i.key, "mass_kg": i.mass.value, "shape": i.shape} for i in kit().items]
        self.assertEqual(call("features/bench/projection.ts", "project", before, pending, items), before)

    def test_rounds_show_what_the_core_will_say(self) -> None:
        shaken = {"stroke_m": 0.03, "frequency_hz": 1.0, "frequency_step_hz": 0.5, "levels": 3, "hold_s": 5}
        stories: dict[str, tuple[dict[str, float], list[tuple[EventKind, dict[str, Any]]]]] = {
            "shake_tower": (shaken, [(EventKind.ROUND, {}), (EventKind.SETTLE, {"waited_s": 5}), (EventKind.ROUND, {}),
                                     (EventKind.FAIL, {"mode": "joint"})]),
            "wall": ({"throws": 3}, [(EventKind.ROUND, {"hit": hit}) for hit in (True, False, True)]),
            "drop_house": ({}, [(EventKind.ROUND, {}), (EventKind.VOID, {"reason": "tumbled"})]),
        }  # fmt: skip
        for key, (terms, told) in stories.items():
            rules = family(key).trial_setup(terms, Kit(()))
            assert rules.rounds is not None
            plan = {
                "control": rules.rounds.control.value, "hold_s": rules.rounds.hold_s, "most": rules.rounds.most,
                "attack_s": None, "planned": [{"number": p.number, "size": p.size} for p in rules.rounds.planned],
            }  # fmt: skip
            events = [Event(f"e{n}", n, kind, data) for n, (kind, data) in enumerate(told, start=1)]
            for known in range(len(events) + 1):
                pending = [
                    {"id": e.id, "trial": "t", "sequence": e.sequence, "kind": e.kind.value, "data": dict(e.data)}
                    for e in events[known:]
                ]
                before, after = (self.result(replay(some, rules)) for some in (events[:known], events))
                found = call("features/bench/projection.ts", "project", before, pending, [], plan)
                for name in ("rounds", "round_waiting", "stood", "hits", "outcome", "undoable"):
                    self.assertEqual(found[name], after[name], (key, known, name))


class ComparisonDrawings(SimpleTestCase):
    """What the charts of a comparison work out for drawing."""

    def test_the_fitted_curve_as_the_standard_librarys_normal_distribution_has_it(self) -> None:
        asked = [[value, mu, sigma] for value in (0.2, 0.9, 1.4, 3.0) for mu in (-0.3, 0.4) for sigma in (0.1, 0.6)]
        for (value, mu, sigma), share in zip(asked, call_all("features/compare/logNormal.ts", "logNormalShare", asked),
                                             strict=True):  # fmt: skip
            self.assertAlmostEqual(share, NormalDist(mu, sigma).cdf(math.log(value)), places=6)
        self.assertEqual(call("features/compare/logNormal.ts", "logNormalShare", 0, 0, 1), 0)

    def test_scores_stand_in_the_units_of_their_axis(self) -> None:
        for school, survived, units, value, shown in (
            ("most_held", "", "metric", 1.2345, "1.23 kg"), ("most_held", "", "us", 0.45359237, "1 lb"),
            ("strength_to_weight", "", "metric", 44.51, "44.5 ×"), ("tallest", "", "us", 0.0254, "1 in"),
            ("survived", "length", "metric", 0.3, "300 mm"), ("survived", "count", "metric", 4, "4"),
            ("left_standing", "", "metric", 0.42, "42 %"), ("capacity", "", "metric", 17, "17 pieces"),
            ("threshold", "", "metric", 1.1, "1.1 × target"), ("mix", "", "metric", 64.6, "64.6 points"),
        ):  # fmt: skip
            axis = call("features/compare/scoreAxis.ts", "axisOf", school, survived, units)
            self.assertEqual(call("features/compare/scoreAxis.ts", "scoreText", value, axis), shown)
