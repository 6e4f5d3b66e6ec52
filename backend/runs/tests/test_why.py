"""Why a figure is what it is, through the API: down to what was typed, and whose entry it was."""

import uuid
from typing import Any

from django.test import Client, TestCase

from designs import services as designing
from girder_core.families import FAMILIES
from girder_core.measure import TypedReading
from people.tests.support import Api, Ledger, checked_in, run, teacher


def leaves(origin: Any) -> list[Any]:
    return [leaf for own in origin["inputs"] for leaf in leaves(own)] if origin["inputs"] else [origin]


class OfARun(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada, teams=("Tern", "Auk", "Skua"))
        self.tern, auk, self.skua = self.run_.designs.all()
        # 40 g + 30 × 15 g = 490 g held; own weight 30 g.
        self.ledger = Ledger(self.api, checked_in(self.tern, "30 g"))
        self.ledger.hold("platform")
        self.ledger.hold("nut", 30)
        self.ledger.add("place", item="nut", count=1)
        self.ledger.add("fail", mode="crimp")
        other = Ledger(self.api, checked_in(auk, "60 g"))
        other.hold("platform")
        other.hold("nut", 50)
        other.add("run_out", reason="no_more_load", confirmed=True)

    def why(self, figure: str, of: Any = "", more: str = "") -> Any:
        return self.api.get(f"runs/{self.run_.pk}/why?figure={figure}&of={of}{more}")

    def test_a_ratio_down_to_the_batch_on_the_scale(self) -> None:
        result = self.why("result", self.tern.pk)
        self.assertEqual((result["value"], result["formula"]), ("16.3 times its own weight", "R = h / w"))
        self.assertEqual((result["rule"]["version"], result["rule"]["anchor"]), ("scoring-4", "score"))
        held, own = result["inputs"]
        self.assertEqual((held["value"], held["formula"]), ("490 g", "h = Σ nᵢ · mᵢ"))
        self.assertEqual((own["value"], own["how"]), ("30 g", "read as 30 g, in steps of 0.1 g"))
        self.assertEqual(own["entered"]["by"], "Ada")
        self.assertRegex(own["entered"]["at"], r"^20\d\d-\d\d-\d\dT")
        nut = next(own for own in held["inputs"] if own["name"] == "One nut")
        self.assertEqual([(own["name"], own["value"]) for own in nut["inputs"]],
                         [("A batch", "150 g"), ("Objects on the scale", "10")])  # fmt: skip
        self.assertTrue(all(leaf["how"] for leaf in leaves(result)), leaves(result))
        # What was counted, was counted by somebody, in that trial.
        counted = next(own for own in held["inputs"] if own["name"] == "nut, counted")
        self.assertEqual((counted["value"], counted["entered"]["by"]), ("30", "Ada"))

    def test_other_rules_are_asked_for_in_the_address_as_at_the_comparison(self) -> None:
        self.assertEqual(self.why("result", self.tern.pk, "&school=most_held")["value"], "490 g")

    def test_the_place_and_the_chances_are_those_on_the_screen(self) -> None:
        shown = self.api.get(f"runs/{self.run_.pk}/comparison")["ranked"]
        for row in shown:
            today = self.why("today", row["design"])
            self.assertEqual(today["value"], row["places"])
            again = self.why("again", row["design"])
            self.assertEqual(again["value"], f"{row['prospect']['first']:.0%}")
            self.assertEqual(again["rule"]["version"], "chances-1")
        self.assertEqual(self.why("ahead", shown[0]["design"])["note"], shown[0]["against_next"]["reason"])
        self.assertEqual(self.why("places", shown[0]["design"])["name"], "True place")

    def test_at_the_bench(self) -> None:
        self.assertEqual(self.why("held", self.ledger.id)["value"], "490 g")
        self.assertIn("It broke at 505 g.", self.why("held", self.ledger.id)["note"])
        self.assertEqual(self.why("ratio", self.ledger.id)["value"], "16.3 times its own weight")
        running = Ledger(self.api, checked_in(self.skua, "50 g"))
        running.hold("platform")
        running.hold("nut", 2)
        self.assertEqual(self.why("held", running.id)["value"], "70 g")
        # Two were tested in this run, so what is expected rests on them.
        self.assertEqual(self.why("expected", running.id)["how"], "from 2 tested in this run")

    def test_a_reading_taken_twice_and_one_that_was_added_up(self) -> None:
        designing.take_reading(self.skua, "gap", TypedReading("31.2 cm", "1 mm", "1 cm"), False)
        designing.take_reading(self.skua, "gap", TypedReading("300 mm", "1 mm"), False, again=True)
        gap = self.why("reading", f"{self.skua.pk}.gap")
        self.assertEqual((gap["value"], gap["formula"]), ("301 mm", "x = Σ xᵢ / n"))
        self.assertEqual([own["value"] for own in gap["inputs"]], ["302 mm", "300 mm"])
        self.assertEqual(gap["inputs"][0]["formula"], "x1 = r − z")
        use = {"name": "straw", "amount": 20, "batch_amount": 10, "batch_mass": "9 g", "scale_resolution": "0.1 g"}
        self.api.send("POST", f"designs/{self.skua.pk}/self-mass-estimate", {"uses": [use], "confirmed": True})
        own = self.why("reading", f"{self.skua.pk}.self_mass")
        self.assertEqual((own["value"], own["formula"]), ("18 g", "w = Σ aᵢ · mᵢ"))

    def test_the_kit_and_the_plan_of_the_run(self) -> None:
        self.assertEqual(self.why("item", "nut")["value"], "15 g")
        self.assertEqual(self.why("kit")["value"], "790 g")
        self.assertEqual(self.why("tests")["formula"], "T = ⌈n / b⌉ · t")

    def test_what_there_is_not_is_said(self) -> None:
        for figure, of in (("depth", ""), ("result", "0"), ("result", "x"), ("held", "x"), ("held", uuid.uuid4()),
                           ("reading", "x.gap"), ("reading", f"{self.tern.pk}.colour"), ("item", "brick"),
                           ("line.99", ""), ("outlast", "")):  # fmt: skip
            path = f"runs/{self.run_.pk}/why?figure={figure}&of={of}"
            status, body = self.api.refused("GET", path)
            self.assertEqual((status, body["code"]), (400, "unknown_figure"), (figure, of))

    def test_a_run_and_a_trial_of_somebody_else_do_not_exist(self) -> None:
        ben = teacher("Ben")
        self.assertEqual(Api(ben).refused("GET", f"runs/{self.run_.pk}/why?figure=kit")[0], 404)
        theirs = run(ben)
        path = f"runs/{theirs.pk}/why?figure=held&of={self.ledger.id}"
        self.assertEqual(Api(ben).refused("GET", path)[1]["code"], "unknown_figure")


class OfAPlanAndADraft(TestCase):
    def setUp(self) -> None:
        self.api = Api(teacher())

    def test_of_a_sheet_that_nobody_kept(self) -> None:
        asked = {"family": "bridge", "age_band": "11-13", "minutes": 50, "teams": 8, "own": {}}
        sheet = self.api.send("POST", "plans", asked)
        lasts = self.api.send("POST", "plans/why?figure=outlast", asked)
        self.assertEqual(lasts["value"], f"{sheet['cover']['chance']:.0%}")
        line = self.api.send("POST", "plans/why?figure=line.0", asked)
        self.assertIn(line["formula"], ("N = F + P + B + S", "K = ⌈(N − O) / Q⌉"))
        self.assertEqual(self.api.refused("POST", "plans/why?figure=colour", asked)[1]["code"], "unknown_figure")

    def test_of_a_draft(self) -> None:
        asked = {"kind": "sheet_bridge", "typed": {}}
        drafted = self.api.send("POST", "drafts", asked)
        why = self.api.send("POST", "drafts/why?figure=prediction", asked)
        states = [own for own in why["inputs"] if own["symbol"].startswith("F")]
        self.assertEqual(states[0]["name"], drafted["prediction"]["limit_states"][0]["name"])
        self.assertTrue(all(leaf["how"] for leaf in leaves(why)))
        self.assertEqual(self.api.send("POST", "drafts/why?figure=mass", asked)["formula"], "w = Σ ρᵢ · Vᵢ")


class Page(TestCase):
    def test_every_rule_leads_to_its_heading(self) -> None:
        page = Client().get("/formulas")
        for anchor in ("score", "would-they-win-again", "load", "kit-list", "predictions", "one-reading"):
            self.assertContains(page, f'id="{anchor}"')
        self.assertContains(page, "<table>", count=0)
        self.assertNotContains(page, "&lt;h2")


class EveryFamily(TestCase):
    def test_a_plan_of_every_kind_says_why(self) -> None:
        api = Api(teacher())
        for family in FAMILIES:
            asked = {"family": family, "age_band": "8-10", "minutes": 60, "teams": 6, "own": {}}
            self.assertTrue(api.send("POST", "plans/why?figure=tests", asked)["inputs"], family)
