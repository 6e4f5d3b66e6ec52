"""What a plan says follows from what is built with: units, words, and what is kept the same."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from people.tests.support import Api, teacher

ASKED = {"family": "bridge", "age_band": "8-10", "minutes": 50, "teams": 6, "students": None, "difficulty": 0}


class BuiltWith(TestCase):
    def setUp(self) -> None:
        self.api = Api(teacher())

    def sheet(self, name: str | None, **own: Any) -> Any:
        if name is not None:
            own["materials"] = [{"name": name, "unit": "", "final": 20, "pack_size": 100, "buildable": True}]
        return self.api.send("POST", "plans", {**ASKED, "own": own})

    def test_straws_are_counted_in_straws_and_spoken_of(self) -> None:
        sheet = self.sheet("paper straw, 200 mm")
        self.assertEqual(sheet["kit_list"][0]["needed_words"], "120 straws")
        self.assertIn("triangles", " ".join(sheet["saying"]["ideas"]).lower())
        self.assertIn("the same number of sticks", sheet["entry"]["controls"])
        self.assertIn("side", [factor["name"] for factor in sheet["saying"]["factors"]])

    def test_what_the_teacher_keeps_the_same_stays(self) -> None:
        sheet = self.sheet("paper straw", controls=["the same singing"])
        self.assertEqual(sheet["entry"]["controls"], ["the same singing"])

    def test_a_unit_that_was_named_is_kept(self) -> None:
        materials = [{"name": "paper straw", "unit": "bundle", "final": 2, "buildable": True}]
        sheet = self.sheet(None, materials=materials)
        self.assertEqual(sheet["kit_list"][0]["needed_words"], "12 bundles")

    def test_without_a_change_all_is_as_proposed(self) -> None:
        sheet = self.sheet(None)
        self.assertIn("pleats", " ".join(sheet["saying"]["ideas"]).lower())
        self.assertIn("the same card", sheet["entry"]["controls"])


class Reasons(TestCase):
    """No sentence of the proposal is left standing that what the teacher chose contradicts."""

    def setUp(self) -> None:
        self.api = Api(teacher())

    def reasons(self, **own: Any) -> Any:
        asked = {**ASKED, "teams": 10, "minutes": 60}
        return self.api.send("POST", "plans", {**asked, "own": own})["reasons"]

    def test_a_number_of_benches_is_said_only_where_it_is_the_proposal_s(self) -> None:
        self.assertIn("2 benches", self.reasons()["day"])
        self.assertNotIn("day", self.reasons(benches=1))
        self.assertNotIn("day", self.reasons(build_minutes=10))

    def test_the_load_and_the_goal_likewise(self) -> None:
        self.assertIn("load", self.reasons(benches=1))
        own = self.reasons(kit=[{"name": "brick", "shape": "tile", "count": 2, "mass": "1 kg"}], school="most_held")
        self.assertNotIn("load", own)
        self.assertNotIn("goal", own)
