"""Check-in that was typed without a network: all of it or nothing, and nothing merged in silence."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from django.test import TestCase

from designs.models import Reading
from people.tests.support import Api, run, teacher


def typed(key: str, text: str, step: str = "1 mm", **more: Any) -> dict[str, Any]:
    """A reading as a device keeps it, where nothing stood there before."""
    return {"key": key, "text": text, "resolution_text": step, "sent_as": str(uuid4()), "stood": None, **more}


USES = [
    {"name": "card, sheets", "amount": 1.0, "batch_amount": 10.0, "batch_mass": "61 g", "scale_resolution": "1 g"},
    {"name": "tape, cm", "amount": 40.0, "batch_amount": 100.0, "batch_mass": "9 g", "scale_resolution": "1 g"},
]
ANSWERS = [{"key": key, "value": value, "before": None}
           for key, value in (("stands", True), ("piers", False), ("papered", False))]  # fmt: skip


class Kept(TestCase):
    def setUp(self) -> None:
        self.ada = teacher("Ada")
        self.run_ = run(self.ada)
        self.tern = self.run_.designs.all()[0]
        self.api, self.path = Api(self.ada), f"designs/{self.tern.pk}/check-in-kept"
        self.gap, self.weight = typed("gap", "30 cm"), typed("self_mass", "38.4 g", "0.1 g")
        self.overlaps = [typed(f"overlap_{side}", "4 cm") for side in ("left", "right")]

    def whole(self, **more: Any) -> dict[str, Any]:
        return {"readings": [self.gap, self.weight, *self.overlaps], "answers": ANSWERS, "check_in": True, **more}

    def send(self, *readings: dict[str, Any], **more: Any) -> dict[str, Any]:
        """Send kept readings and what else is named; the design as it stands then."""
        body = {"readings": readings, "answers": [], "check_in": False, **more}
        shown: dict[str, Any] = self.api.send("POST", self.path, body)
        return shown

    def asked(self, *readings: dict[str, Any], **more: Any) -> str:
        """What is asked about them."""
        body = {"readings": readings, "answers": [], "check_in": False, **more}
        status, answer = self.api.refused("POST", self.path, body)
        self.assertEqual((status, answer["code"], answer["confirm"]), (422, "written_meanwhile", True))
        return str(answer["sentence"])

    def take(self, key: str, text: str, **more: Any) -> int:
        """A reading that somebody takes with a network; its id."""
        body = {"key": key, "text": text, "resolution_text": "1 mm" if key == "gap" else "0.1 g", **more}
        shown = self.api.send("POST", f"designs/{self.tern.pk}/readings", body)
        return next(int(one["id"]) for one in shown["readings"] if one["key"] == key)

    def standing(self, shown: dict[str, Any], key: str) -> list[str]:
        """The readings that count together for a key, in order."""
        one = next(one for one in shown["readings"] if one["key"] == key)
        return [*(repeat["text"] for repeat in one["repeats"]), one["text"]]

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
        shown = self.api.send("POST", self.path, {"readings": [self.gap], "answers": [], "check_in": False})
        self.assertEqual((shown["checked_in"], [one["key"] for one in shown["readings"]]), (False, ["gap"]))

    def test_what_somebody_else_wrote_meanwhile_is_asked_about_and_nothing_is_written_till_then(self) -> None:
        self.take("self_mass", "41 g")
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
        other = self.take("self_mass", "41 g")
        readings = [self.gap, {**self.weight, "stood": other}, *self.overlaps]
        shown = self.api.send("POST", self.path, self.whole(readings=readings))
        self.assertTrue(shown["checked_in"])

    def test_the_same_by_somebody_else_is_none_either(self) -> None:
        self.take("self_mass", "38.4 g")
        self.assertTrue(self.api.send("POST", self.path, self.whole())["checked_in"])
        self.assertEqual(Reading.objects.filter(key="self_mass").count(), 1)

    def test_a_slip_is_asked_about_with_the_rest(self) -> None:
        readings = [self.gap, {**self.weight, "text": "38 kg"}, *self.overlaps]
        status, answer = self.api.refused("POST", self.path, self.whole(readings=readings))
        self.assertEqual((status, answer["code"]), (422, "written_meanwhile"))
        self.assertIn("Own weight:", answer["sentence"])
        self.assertEqual(Reading.objects.count(), 0)

    def test_one_bad_part_and_nothing_is_written(self) -> None:
        for change, code in (
            ({"readings": [self.gap, {**self.weight, "text": "light"}, *self.overlaps]}, "not_a_number"),
            ({"readings": [self.gap, {**self.weight, "key": "secret"}, *self.overlaps]}, "unknown_reading"),
            ({"answers": [*ANSWERS, {"key": "secret", "value": True, "before": None}]}, "unknown_question"),
            ({"readings": [self.weight]}, "check_in_incomplete"),
        ):
            answer = self.api.refused("POST", self.path, self.whole(**change))[1]
            self.assertEqual(answer["code"], code)
            self.tern.refresh_from_db()
            self.assertEqual((Reading.objects.count(), self.tern.answers, self.tern.checked_in_at), (0, {}, None))

    def test_repeats_count_with_what_stood_there_and_with_each_other(self) -> None:
        first = self.take("gap", "30 cm")
        again = typed("gap", "30.2 cm", stood=first, again=True)
        once_more = typed("gap", "30.4 cm", stood=first, again=True)
        shown = self.send(again, once_more)
        self.assertEqual(self.standing(shown, "gap"), ["30 cm", "30.2 cm", "30.4 cm"])
        gap = next(one for one in shown["readings"] if one["key"] == "gap")
        self.assertAlmostEqual(gap["value_si"], 0.302)

    def test_a_repeat_that_reads_the_same_is_there_once_however_often_it_is_sent(self) -> None:
        first = self.take("gap", "30 cm")
        again = typed("gap", "30 cm", stood=first, again=True)
        for _ in range(2):
            self.assertEqual(self.standing(self.send(again), "gap"), ["30 cm", "30 cm"])
        # What was typed after the answer was lost goes by the one that was lost with it.
        shown = self.send(again, typed("gap", "30 cm", stood=first, again=True))
        self.assertEqual(self.standing(shown, "gap"), ["30 cm", "30 cm", "30 cm"])

    def test_a_repeat_whose_answer_was_lost_with_the_network_is_there_once(self) -> None:
        first = self.take("gap", "30 cm")
        again = typed("gap", "30.2 cm", stood=first, again=True)
        self.take("gap", "30.2 cm", again=True, sent_as=again["sent_as"])
        self.assertEqual(self.standing(self.send(again), "gap"), ["30 cm", "30.2 cm"])
        self.take("gap", "30.2 cm", again=True, sent_as=again["sent_as"])
        self.assertEqual(Reading.objects.count(), 2)

    def test_a_first_reading_and_its_repeat_in_one(self) -> None:
        both = [self.gap, typed("gap", "30.2 cm", again=True)]
        for _ in range(2):
            self.assertEqual(self.standing(self.send(*both), "gap"), ["30 cm", "30.2 cm"])

    def test_a_repeat_of_what_somebody_else_took_anew_is_asked_about_and_is_no_repeat_of_theirs(self) -> None:
        first = self.take("gap", "30 cm")
        self.take("gap", "31 cm")
        again = typed("gap", "30.2 cm", stood=first, again=True)
        self.assertIn("Clear gap: 31 cm by now, 30.2 cm here.", self.asked(again))
        self.assertEqual(self.standing(self.send(again, confirmed=True), "gap"), ["30.2 cm"])

    def test_own_weight_from_materials(self) -> None:
        kept = {"key": "self_mass", "uses": USES, "sent_as": str(uuid4()), "stood": None}
        for _ in range(2):
            shown = self.send(kept)
            weight = next(one for one in shown["readings"] if one["key"] == "self_mass")
            # A sheet of ten that weigh 61 g, and 40 cm of a metre that weighs 9 g.
            self.assertAlmostEqual(weight["value_si"], 0.0097)
            self.assertTrue(weight["estimated"])
        self.assertEqual(Reading.objects.count(), 1)
        # A weight that was typed where none stood, and meets what was added up meanwhile.
        self.assertIn("Own weight: added up from materials by now, 38.4 g here.", self.asked(self.weight))

    def test_materials_against_a_weight_of_somebody_else_and_a_slip_in_them(self) -> None:
        self.take("self_mass", "41 g")
        kept = {"key": "self_mass", "uses": USES, "sent_as": str(uuid4()), "stood": None}
        self.assertIn("Own weight: 41 g by now, added up from materials here.", self.asked(kept))
        heavy = {**kept, "uses": [{**USES[0], "batch_mass": "610 kg"}]}
        self.assertIn("Check amounts and units.", self.asked(heavy))
        self.assertEqual(Reading.objects.count(), 1)

    def test_a_reading_has_words_or_materials_and_materials_are_an_own_weight(self) -> None:
        nothing = {"key": "gap", "sent_as": str(uuid4()), "stood": None}
        for bad in (nothing, {**self.gap, "resolution_text": ""}, {**nothing, "uses": USES},
                    {**nothing, "key": "self_mass", "uses": USES, "again": True}):  # fmt: skip
            status, answer = self.api.refused("POST", self.path, self.whole(readings=[bad]))
            self.assertEqual((status, answer["code"]), (400, "invalid"), bad)
        self.assertEqual(Reading.objects.count(), 0)

    def test_who_is_absent_is_so_and_whoever_checks_in_is_here(self) -> None:
        absent = {"value": "absent", "before": ""}
        self.assertEqual(self.send(away=absent)["away"], "absent")
        self.assertEqual(self.send(away=absent)["away"], "absent")
        self.api.send("PUT", f"designs/{self.tern.pk}/away", {"away": "withdrawn"})
        self.assertIn("The team is withdrawn by now, absent here.", self.asked(away=absent))
        self.assertEqual(self.send(away={"value": "", "before": "withdrawn"})["away"], "")
        self.api.send("PUT", f"designs/{self.tern.pk}/away", {"away": "absent"})
        shown = self.api.send("POST", self.path, self.whole())
        self.assertEqual((shown["away"], shown["checked_in"]), ("", True))

    def test_who_leaves_after_checking_in_is_absent_whatever_stood_there(self) -> None:
        for stood in ("", "absent"):
            self.api.send("PUT", f"designs/{self.tern.pk}/away", {"away": stood})
            shown = self.api.send("POST", self.path, self.whole(away={"value": "absent", "before": ""}))
            self.assertEqual((shown["away"], shown["checked_in"]), ("absent", True), stood)

    def fair_test(self) -> None:
        self.run_.factor = {"name": "folds", "levels": ["4 folds", "8 folds"]}
        self.run_.controls = ["the same card", "the same tape"]
        self.run_.save()
        self.api.send("PUT", f"designs/{self.tern.pk}/level", {"level": "4 folds"})

    def test_the_level_of_a_fair_test_and_what_was_not_kept_the_same(self) -> None:
        self.fair_test()
        level = {"value": "8 folds", "before": "4 folds"}
        broken = {"value": ["the same tape"], "before": []}
        for _ in range(2):
            shown = self.send(level=level, controls_broken=broken)
            self.assertEqual((shown["level"], shown["controls_broken"]), ("8 folds", ["the same tape"]))
        self.api.send("PUT", f"designs/{self.tern.pk}/controls", {"broken": ["the same card"]})
        said = self.asked(level={"value": "4 folds", "before": ""}, controls_broken=broken)
        self.assertIn("Its level is 8 folds by now, 4 folds here.", said)
        self.assertIn("Not kept the same: the same card by now, the same tape here.", said)

    def test_a_level_of_what_was_tested_meanwhile_stays_and_the_rest_is_taken(self) -> None:
        self.fair_test()
        self.api.send("POST", self.path, self.whole())
        self.api.send(
            "POST", f"designs/{self.tern.pk}/trials", {"id": str(uuid4()), "bench": str(uuid4()), "rehearsal": False}
        )
        level = {"value": "8 folds", "before": "4 folds"}
        again = typed("gap", "30.2 cm", stood=Reading.objects.get(key="gap").pk, again=True)
        self.assertIn("It was tested meanwhile, so its level stays 4 folds.", self.asked(again, level=level))
        shown = self.send(again, level=level, confirmed=True)
        self.assertEqual((shown["level"], self.standing(shown, "gap")), ("4 folds", ["30 cm", "30.2 cm"]))
