"""The drafting API: kinds, stocks of one's own, and a draft worked out."""

from typing import Any

from django.test import TestCase

from drafting.models import OwnStock
from girder_core.drafting import KINDS
from people.tests.support import Api, run, teacher

SHEET: dict[str, Any] = {
    "name": "our card", "like": "manila", "thickness": "2.6 mm", "stack": 10, "sheets": 10, "sheets_mass": "131 g",
    "sheet_width": "210 mm", "sheet_length": "297 mm", "scale_step": "1 g",
}  # fmt: skip


class Drafting(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)

    def test_every_kind_is_told_with_a_start_that_works(self) -> None:
        kinds = self.api.get("draft-kinds")
        self.assertEqual([kind["key"] for kind in kinds], list(KINDS))
        for kind in kinds:
            drafted = self.api.send("POST", "drafts", {"kind": kind["key"], "typed": kind["start"]})
            self.assertTrue(drafted["headline"])
            self.assertTrue(drafted["views"])
            self.assertTrue(kind["lessons"])

    def test_starts_are_in_the_teacher_s_units(self) -> None:
        self.ada.units = "us"
        self.ada.save()
        bridge = self.api.get("draft-kinds")[0]
        self.assertTrue(bridge["start"]["span_m"].endswith(" in"))
        self.assertIn("lb", self.api.send("POST", "drafts", {"kind": "sheet_bridge"})["headline"])

    def test_what_is_wrong_is_told_at_its_field(self) -> None:
        status, refused = self.api.refused("POST", "drafts", {"kind": "boat", "typed": {"wall_m": "0 mm"}})
        self.assertEqual((status, list(refused["fields"])), (400, ["wall_m"]))
        moved = {"kind": "truss", "typed": {"panels": "4", "span_m": "36 cm"}, "moves": {"T0": [0.135, 0.08]}}
        self.assertIn("lie on each other", self.api.refused("POST", "drafts", moved)[1]["sentence"])
        self.assertEqual(self.api.refused("POST", "drafts", {"kind": "castle"})[1]["code"], "unknown_draft")
        self.assertEqual(self.api.refused("POST", "drafts", {"kind": "truss", "moves": {"T0": [1]}})[0], 400)

    def test_a_step_that_helps_can_be_typed_back(self) -> None:
        drafted = self.api.send("POST", "drafts", {"kind": "column"})
        step = drafted["prediction"]["what_helps"][0]
        after = self.api.send("POST", "drafts", {"kind": "column", "typed": {step["key"]: step["typed"]}})
        gain = after["prediction"]["typical_n"] - drafted["prediction"]["typical_n"]
        self.assertAlmostEqual(gain, step["gain_n"], delta=1e-6 * gain)

    def test_somebody_else_s_run_has_no_experience_to_lend(self) -> None:
        other = run(teacher("Mallory"))
        self.assertEqual(self.api.refused("POST", "drafts", {"kind": "sheet_bridge", "run": other.pk})[0], 404)


class Stocks(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)

    def test_weighed_and_drooped(self) -> None:
        # By hand: 131 g over ten A4 sheets of 0.06237 m² is 210.0 g/m²; a tenth of 2.6 mm is 0.26 mm.
        tried = self.api.send(
            "POST", "stocks/try", {**SHEET, "overhang": "18 cm", "droop": "4 cm", "ruler_step": "1 mm"}
        )
        self.assertAlmostEqual(tried["grammage"]["value"], 0.2100, delta=0.0001)
        self.assertAlmostEqual(tried["thickness"]["value"], 0.00026, delta=1e-9)
        self.assertGreater(tried["droop"]["modulus_pa"]["value"], 1e9)
        self.assertTrue(tried["stock"]["measured"])
        self.assertEqual(OwnStock.objects.count(), 0)

    def test_kept_used_and_removed(self) -> None:
        made = self.api.send("POST", "stocks", SHEET)
        self.assertIn(made["key"], [stock["key"] for stock in self.api.get("stocks")])
        body = {"kind": "sheet_bridge", "typed": {"sheet": made["key"]}}
        self.assertGreater(self.api.send("POST", "drafts", body)["prediction"]["typical_n"], 0)
        # Nobody else has it.
        self.assertIn("sheet", Api(teacher("Mallory")).refused("POST", "drafts", body)[1]["fields"])
        left = self.api.send("DELETE", f"stocks/{made['own']}")
        self.assertNotIn(made["key"], [stock["key"] for stock in left])

    def test_stated_instead_of_weighed(self) -> None:
        tried = self.api.send("POST", "stocks/try", {"like": "manila", "thickness": "0.26 mm", "grammage": 210})
        self.assertAlmostEqual(tried["stock"]["density_kg_m3"]["typical"], 807.7, delta=0.1)

    def test_slips_are_told(self) -> None:
        for change, field, words in (
            ({"thickness": "2.6 cm"}, "thickness", "centimetres instead of millimetres"),
            ({"thickness": ""}, "thickness", "Needed for every stock"),
            ({"sheets_mass": "131"}, "sheets_mass", "has no unit"),
            ({"sheets_mass": "5 g"}, "sheets_mass", "Weigh more sheets"),
            ({"like": "glue"}, "like", "most like"),
            ({"overhang": "18 cm", "droop": "1 mm", "ruler_step": "1 mm"}, "droop", "more of the strip"),
            ({"overhang": "18 cm"}, "droop", "Needed for the droop"),
            ({"overhang": "1.8 cm", "droop": "9 mm", "ruler_step": "1 mm"}, "droop", "Check lengths and units"),
        ):
            with self.subTest(change):
                refused = self.api.refused("POST", "stocks/try", {**SHEET, **change})[1]
                self.assertIn(words, refused["fields"][field])
        self.assertIn("name", self.api.refused("POST", "stocks", {**SHEET, "name": " "})[1]["fields"])
