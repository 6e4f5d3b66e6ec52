from typing import Any

from django.test import TestCase

from designs.models import Design, Reading
from people.tests.support import Api, Ledger, checked_in, run, teacher


class Readings(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.design = run(self.ada).designs.all()[0]
        self.path = f"designs/{self.design.pk}"

    def take(self, key: str, text: str, step: str = "1 mm", **more: object) -> Any:
        body = {"key": key, "text": text, "resolution_text": step, **more}
        return self.api.send("POST", f"{self.path}/readings", body)

    def test_what_was_typed_is_kept_beside_what_it_means(self) -> None:
        self.take("gap", "31 cm", zero_text="1 cm")
        reading = Reading.objects.get()
        self.assertEqual((reading.text, reading.zero_text, reading.resolution_text), ("31 cm", "1 cm", "1 mm"))
        self.assertAlmostEqual(reading.value_si, 0.30)

    def test_measured_again_the_latest_counts_and_the_first_is_kept(self) -> None:
        self.take("gap", "30 cm")
        answer = self.take("gap", "302 mm")
        self.assertEqual([r["value_si"] for r in answer["readings"]], [0.302])
        self.assertEqual(Reading.objects.count(), 2)

    def test_kilograms_for_grams_are_asked_about_and_taken_when_confirmed(self) -> None:
        body = {"key": "self_mass", "text": "5 000 g", "resolution_text": "1 g"}
        status, answer = self.api.refused("POST", f"{self.path}/readings", body)
        self.assertEqual((status, answer["confirm"]), (422, True))
        self.assertIn("5 000 g for a classroom bridge?", answer["sentence"])
        self.assertEqual(Reading.objects.count(), 0)
        self.take("self_mass", "5 000 g", "1 g", confirmed=True)
        self.assertEqual(Reading.objects.count(), 1)

    def test_a_gap_far_from_the_agreed_one_is_asked_about(self) -> None:
        # 762 mm is thirty inches, read off the wrong edge or in the wrong unit where 300 mm were agreed.
        for text in ("762 mm", "30 in", "120 mm"):
            body = {"key": "gap", "text": text, "resolution_text": "1 mm"}
            status, answer = self.api.refused("POST", f"{self.path}/readings", body)
            self.assertEqual((status, answer["confirm"]), (422, True))
            self.assertIn("The gap of this challenge is 300 mm.", answer["sentence"])
        self.assertEqual(Reading.objects.count(), 0)
        self.take("gap", "762 mm", confirmed=True)
        self.take("gap", "318 mm")
        self.assertEqual(Reading.objects.count(), 2)

    def test_zero_negative_and_nonsense(self) -> None:
        for text in ("0 g", "-3 g", "g", "12", "12 stone", "1,250 g", ""):
            with self.subTest(text):
                body = {"key": "self_mass", "text": text, "resolution_text": "1 g"}
                self.assertEqual(self.api.refused("POST", f"{self.path}/readings", body)[0], 400)
        body = {"key": "colour", "text": "1 g", "resolution_text": "1 g"}
        self.assertEqual(self.api.refused("POST", f"{self.path}/readings", body)[1]["code"], "unknown_reading")
        self.assertEqual(Reading.objects.count(), 0)

    def test_a_coarse_scale_is_advised_against(self) -> None:
        answer = self.take("self_mass", "7 g", "1 g")
        self.assertFalse(answer["scale_advice"]["good"])
        self.assertTrue(self.take("self_mass", "7.0 g", "0.1 g")["scale_advice"]["good"])

    def test_own_weight_added_up_from_materials(self) -> None:
        uses = [
            {"name": "card", "amount": 2, "batch_amount": 10, "batch_mass": "120 g", "scale_resolution": "1 g"},
            {"name": "tape", "amount": 15, "batch_amount": 100, "batch_mass": "2 g", "scale_resolution": "1 g"},
        ]
        state = self.api.send("POST", f"{self.path}/self-mass-estimate", {"uses": uses})
        (reading,) = state["readings"]
        # 2 * 12 g + 15 * 0.02 g.
        self.assertAlmostEqual(reading["value_si"], 0.0243)
        self.assertTrue(reading["estimated"])
        uses[0]["batch_mass"] = "120"
        status, answer = self.api.refused("POST", f"{self.path}/self-mass-estimate", {"uses": uses})
        self.assertEqual((status, list(answer["fields"])), (400, ["uses.0.batch_mass"]))

    def test_own_weight_after_the_test_is_taken_and_marked(self) -> None:
        checked_in(self.design, own_weight="")
        ledger = Ledger(self.api, self.design)
        ledger.hold("platform")
        ledger.hold("nut", 10)
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="snap")
        self.take("self_mass", "30 g", "0.1 g")
        self.assertTrue(Reading.objects.get(key="self_mass").after_test)
        comparison = self.api.get(f"runs/{self.design.run_id}/comparison")
        self.assertEqual(len(comparison["ranked"]), 1)
        self.assertIn("taken only after the test", comparison["differences"][0]["says"])


class CheckIn(TestCase):
    def design(self, **terms: Any) -> Design:
        self.ada = teacher()
        self.api = Api(self.ada)
        return run(self.ada, **terms).designs.all()[0]

    def test_what_is_missing_is_named(self) -> None:
        design = self.design()
        status, answer = self.api.refused("POST", f"designs/{design.pk}/check-in")
        self.assertEqual((status, answer["code"]), (400, "check_in_incomplete"))
        for words in ("Clear gap", "Rests on the left", "span the gap with nothing on it"):
            self.assertIn(words, answer["sentence"])

    def overlap_too_long(self, design: Design) -> None:
        for key, text in {"gap": "30 cm", "overlap_left": "7 cm", "overlap_right": "4 cm"}.items():
            body = {"key": key, "text": text, "resolution_text": "1 mm"}
            self.api.send("POST", f"designs/{design.pk}/readings", body)
        answers = {"stands": True, "piers": False, "papered": False}
        self.api.send("PUT", f"designs/{design.pk}/answers", {"answers": answers})

    def test_a_breach_is_shown_and_under_the_strict_policy_refused(self) -> None:
        design = self.design(breach_policy="refuse")
        self.overlap_too_long(design)
        status, answer = self.api.refused("POST", f"designs/{design.pk}/check-in")
        self.assertEqual((status, answer["code"]), (400, "breach_refused"))
        self.assertIn("70 mm against the most overlap, 50 mm", answer["sentence"])

    def test_a_breach_under_the_mild_policy_goes_to_the_bench(self) -> None:
        design = self.design()
        self.overlap_too_long(design)
        answer = self.api.send("POST", f"designs/{design.pk}/check-in")
        self.assertTrue(answer["checked_in"])
        self.assertIn("breached", [constraint["status"] for constraint in answer["constraints"]])

    def test_what_does_not_stand_is_not_tested(self) -> None:
        design = checked_in(self.design())
        self.api.send("PUT", f"designs/{design.pk}/answers", {"answers": {"stands": False}})
        status, answer = self.api.refused("POST", f"designs/{design.pk}/check-in")
        self.assertEqual((status, answer["code"]), (400, "nothing_to_test"))

    def test_an_unknown_answer(self) -> None:
        design = self.design()
        bad = self.api.refused("PUT", f"designs/{design.pk}/answers", {"answers": {"flies": True}})
        self.assertEqual(bad[1]["code"], "unknown_question")

    def test_no_trial_before_check_in(self) -> None:
        design = self.design()
        body = {"id": "8f1cf1d6-8f5e-4a53-9c0f-2a7d1c3c9a01", "bench": "8f1cf1d6-8f5e-4a53-9c0f-2a7d1c3c9a02"}
        self.assertEqual(self.api.refused("POST", f"designs/{design.pk}/trials", body)[1]["code"], "not_checked_in")

    def test_a_prediction_comes_before_the_load(self) -> None:
        design = checked_in(self.design())
        self.api.send("POST", f"designs/{design.pk}/prediction", {"text": "800 g"})
        answer = self.api.send("POST", f"designs/{design.pk}/prediction", {"text": "0.9 kg"})
        self.assertAlmostEqual(answer["prediction"]["load_kg"], 0.9)
        for bad in ("0 g", "-1 kg", "lots"):
            self.assertEqual(self.api.refused("POST", f"designs/{design.pk}/prediction", {"text": bad})[0], 400)
        Ledger(self.api, design).hold("platform")
        late = self.api.refused("POST", f"designs/{design.pk}/prediction", {"text": "1 kg"})
        self.assertEqual(late[1]["code"], "prediction_too_late")
