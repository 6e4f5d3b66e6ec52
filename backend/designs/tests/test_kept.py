"""Check-in that was typed without a network: all of it or nothing, and nothing merged in silence."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from designs.models import Reading
from people.tests.support import Api, run, teacher

GAP = {"key": "gap", "text": "30 cm", "resolution_text": "1 mm", "before": ""}
WEIGHT = {"key": "self_mass", "text": "38.4 g", "resolution_text": "0.1 g", "before": ""}
OVERLAPS = [{"key": f"overlap_{side}", "text": "4 cm", "resolution_text": "1 mm", "before": ""}
            for side in ("left", "right")]  # fmt: skip
ANSWERS = [{"key": key, "value": value, "before": None}
           for key, value in (("stands", True), ("piers", False), ("papered", False))]  # fmt: skip


class Kept(TestCase):
    def setUp(self) -> None:
        self.ada = teacher("Ada")
        self.run_ = run(self.ada)
        self.tern = self.run_.designs.all()[0]
        self.api, self.path = Api(self.ada), f"designs/{self.tern.pk}/check-in-kept"

    def whole(self, **more: Any) -> dict[str, Any]:
        return {"readings": [GAP, WEIGHT, *OVERLAPS], "answers": ANSWERS, "check_in": True, **more}

    def test_all_of_it_at_once_and_the_design_is_checked_in(self) -> None:
        shown = self.api.send("POST", self.path, self.whole())
        self.assertEqual((shown["checked_in"], shown["still_to_do"]), (True, []))
        self.assertEqual({one["key"]: one["text"] for one in shown["readings"]}["self_mass"], "38.4 g")
        self.assertEqual(shown["answers"], {"stands": True, "piers": False, "papered": False})

    def test_sent_twice_because_an_answer_was_lost_it_is_there_once(self) -> None:
        for _ in range(2):
            self.api.send("POST", self.path, self.whole())
        self.assertEqual(Reading.objects.count(), 4)

    def test_a_part_of_it_without_checking_in(self) -> None:
        shown = self.api.send("POST", self.path, {"readings": [GAP], "answers": [], "check_in": False})
        self.assertEqual((shown["checked_in"], [one["key"] for one in shown["readings"]]), (False, ["gap"]))

    def test_what_somebody_else_wrote_meanwhile_is_asked_about_and_nothing_is_written_till_then(self) -> None:
        self.api.send("POST", f"designs/{self.tern.pk}/readings", {**WEIGHT, "text": "41 g"})
        self.api.send("PUT", f"designs/{self.tern.pk}/answers", {"answers": {"stands": False}})
        status, answer = self.api.refused("POST", self.path, self.whole())
        self.assertEqual((status, answer["code"], answer["confirm"]), (422, "written_meanwhile", True))
        self.assertIn("Own weight: 41 g by now, 38.4 g here.", answer["sentence"])
        self.assertIn("No by now, yes here.", answer["sentence"])
        self.assertNotIn("Clear gap", answer["sentence"])
        self.assertEqual(Reading.objects.count(), 1)
        shown = self.api.send("POST", self.path, self.whole(confirmed=True))
        self.assertEqual({one["key"]: one["text"] for one in shown["readings"]}["self_mass"], "38.4 g")
        # The other one stays on record.
        self.assertEqual(Reading.objects.filter(key="self_mass").count(), 2)

    def test_what_stood_there_when_it_was_typed_is_no_conflict(self) -> None:
        self.api.send("POST", f"designs/{self.tern.pk}/readings", {**WEIGHT, "text": "41 g"})
        readings = [GAP, {**WEIGHT, "before": "41 g"}, *OVERLAPS]
        shown = self.api.send("POST", self.path, self.whole(readings=readings))
        self.assertTrue(shown["checked_in"])

    def test_the_same_by_somebody_else_is_none_either(self) -> None:
        self.api.send("POST", f"designs/{self.tern.pk}/readings", WEIGHT)
        self.assertTrue(self.api.send("POST", self.path, self.whole())["checked_in"])
        self.assertEqual(Reading.objects.filter(key="self_mass").count(), 1)

    def test_a_slip_is_asked_about_with_the_rest(self) -> None:
        readings = [GAP, {**WEIGHT, "text": "38 kg"}, *OVERLAPS]
        status, answer = self.api.refused("POST", self.path, self.whole(readings=readings))
        self.assertEqual((status, answer["code"]), (422, "written_meanwhile"))
        self.assertIn("Own weight:", answer["sentence"])
        self.assertEqual(Reading.objects.count(), 0)

    def test_one_bad_part_and_nothing_is_written(self) -> None:
        for change, code in (
            ({"readings": [GAP, {**WEIGHT, "text": "light"}, *OVERLAPS]}, "not_a_number"),
            ({"readings": [GAP, {**WEIGHT, "key": "secret"}, *OVERLAPS]}, "unknown_reading"),
            ({"answers": [*ANSWERS, {"key": "secret", "value": True, "before": None}]}, "unknown_question"),
            ({"readings": [WEIGHT]}, "check_in_incomplete"),
        ):
            answer = self.api.refused("POST", self.path, self.whole(**change))[1]
            self.assertEqual(answer["code"], code)
            self.tern.refresh_from_db()
            self.assertEqual((Reading.objects.count(), self.tern.answers, self.tern.checked_in_at), (0, {}, None))
