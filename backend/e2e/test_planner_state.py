"""The planner's state, and the scale of its drawings: React-free functions of the interface, called from here."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from challenges.entries import PlanRequestSerializer
from challenges.plans import sheet
from challenges.shown import shown_sheet
from e2e.typescript import call, call_all
from girder_core.families import FAMILIES
from girder_core.safety import AgeBand
from girder_core.units import System

STATE, SCALE = "features/plan/planState.ts", "drawing/scale.ts"
ANSWERS = {"family": "bridge", "age_band": "11-13", "minutes": 50, "teams": 8, "students": None, "difficulty": 0}


def filled(own: dict[str, Any]) -> dict[str, Any]:
    """The entry of a filled sheet, as the API answers."""
    request = PlanRequestSerializer(data={**ANSWERS, "own": own})
    request.is_valid(raise_exception=True)
    asked = dict(request.validated_data)
    return shown_sheet(sheet(asked, asked.pop("own"), System.METRIC), System.METRIC).entry


class State(TestCase):
    OWN: dict[str, Any] = {"name": "Mine", "setup": {"gap_m": "41 cm"}, "benches": 3}

    def test_a_kept_recipe_taken_apart_is_what_was_typed(self) -> None:
        apart = call(STATE, "takeApart", {"typed": filled(self.OWN)})
        self.assertEqual(apart["answers"], ANSWERS)
        self.assertEqual(apart["own"], self.OWN)

    def test_a_recipe_of_which_nothing_was_proposed_is_all_ones_own(self) -> None:
        typed = {**filled({}), "proposed": []}
        own = call(STATE, "takeApart", {"typed": typed})["own"]
        self.assertEqual(own["setup"], typed["setup"])
        self.assertEqual(set(own), set(typed) - set(ANSWERS) - {"proposed"})

    def test_what_was_typed_since_stands_on_top_of_what_came_back(self) -> None:
        late = {"setup": {"gap_m": "39 cm", "tape_max_m": ""}, "question": "Why?"}
        merged = call(STATE, "merged", filled({}), {**ANSWERS, "minutes": 45}, late)
        self.assertEqual((merged["setup"]["gap_m"], merged["setup"]["tape_max_m"]), ("39 cm", ""))
        self.assertEqual((merged["question"], merged["minutes"]), ("Why?", 45))
        self.assertEqual(merged["setup"]["hold_s"], filled({})["setup"]["hold_s"])
        for key in ("setup.gap_m", "setup.tape_max_m", "question"):
            self.assertNotIn(key, merged["proposed"])
        self.assertIn("setup.hold_s", merged["proposed"])

    def test_back_to_the_proposal(self) -> None:
        self.assertEqual(call(STATE, "without", self.OWN, "setup.gap_m"), {**self.OWN, "setup": {}})
        self.assertEqual(call(STATE, "without", self.OWN, "name"), {k: v for k, v in self.OWN.items() if k != "name"})

    def test_another_family_keeps_a_name_and_leaves_its_gap_behind(self) -> None:
        self.assertEqual(call(STATE, "forFamily", self.OWN), {"name": "Mine", "benches": 3})

    def test_a_sheet_begins_with_the_class(self) -> None:
        self.assertEqual(call(STATE, "answersFor", "bridge", 8), ANSWERS)


class Scale(TestCase):
    def test_every_drawing_fits_its_field_at_one_scale(self) -> None:
        width, height, room = 400, 262, 30
        drawings = []
        for one in FAMILIES.values():
            drawing = one.draw(one.usual(AgeBand.AGES_11_13))
            drawings.append((one.key, drawing.box()))
        scales = call_all(SCALE, "fit", [[{"box": list(box)}, width, height, room] for _, box in drawings])
        for (key, (left, bottom, right, top)), scale in zip(drawings, scales, strict=True):
            per_m = scale["perM"]
            across, up = (right - left) * per_m, (top - bottom) * per_m
            self.assertLessEqual(across, width - 2 * room + 1e-6, key)
            self.assertLessEqual(up, height - 2 * room + 1e-6, key)
            # It is as large as it can be: one of the two fills its room.
            self.assertTrue(abs(across - (width - 2 * room)) < 1e-6 or abs(up - (height - 2 * room)) < 1e-6, key)
