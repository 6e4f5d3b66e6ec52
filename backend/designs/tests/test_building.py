"""While a class builds: the clock, practice, glue; drafts, who spoke first, and what the class teaches the model."""

from datetime import date, timedelta
from typing import Any

from django.db.models import F
from django.test import TestCase

from bench.models import Trial
from challenges.library import take
from challenges.models import Run
from designs import services as designing
from designs.models import Design
from drafting.models import ClassCorrection
from girder_core.ground import GRAVITY_M_S2
from people.services import add_class, add_team
from people.tests.support import Api, Ledger, checked_in, run, school_class, teacher

DRAFT: dict[str, Any] = {
    "kind": "sheet_bridge",
    "typed": {"shape": "pleated", "sheet": "card-160", "pleats": "5", "depth_m": "10 mm", "span_m": "300 mm"},
}


class Building(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)
        self.tern, self.auk = self.run_.designs.all()

    def state(self) -> Any:
        return self.api.get(f"runs/{self.run_.pk}")

    def design(self, design: Design) -> Any:
        return next(listed for listed in self.state()["designs"] if listed["id"] == design.pk)

    def passes(self, minutes: float) -> None:
        """Let time pass: what has begun began so much earlier."""
        by = timedelta(minutes=minutes)
        Run.objects.update(build_started_at=F("build_started_at") - by, build_paused_at=F("build_paused_at") - by)
        Design.objects.update(glued_at=F("glued_at") - by)


class Clock(Building):
    def act(self, action: str, minutes: float = 0) -> Any:
        return self.api.send("PUT", f"runs/{self.run_.pk}/build-clock", {"action": action, "minutes": minutes})["clock"]

    def test_runs_pauses_goes_on_is_extended_and_reset(self) -> None:
        before = self.state()["clock"]
        self.assertEqual((before["left_s"], before["started"], before["warnings_s"]), (1200, False, [300, 180]))
        self.assertTrue(self.act("start")["running"])
        self.passes(4)
        self.assertAlmostEqual(self.act("pause")["left_s"], 960, delta=2)
        self.passes(5)
        paused = self.state()["clock"]
        self.assertEqual((paused["running"], paused["started"]), (False, True))
        self.assertAlmostEqual(paused["left_s"], 960, delta=2)
        self.act("resume")
        self.passes(1)
        self.assertAlmostEqual(self.state()["clock"]["left_s"], 900, delta=2)
        self.assertAlmostEqual(self.act("extend", 3)["left_s"], 1080, delta=2)
        self.passes(30)
        self.assertLess(self.state()["clock"]["left_s"], 0)
        self.assertEqual(self.act("reset")["left_s"], 1200)

    def test_started_twice_is_started_once_and_a_bad_press_is_told(self) -> None:
        self.act("start")
        self.passes(2)
        self.assertAlmostEqual(self.act("start")["left_s"], 1080, delta=2)
        self.act("reset")
        address = f"runs/{self.run_.pk}/build-clock"
        self.assertEqual(self.api.refused("PUT", address, {"action": "pause"})[1]["code"], "clock_not_started")
        bad = self.api.refused("PUT", address, {"action": "extend", "minutes": 400})[1]
        self.assertIn("between 1 and 60", bad["sentence"])
        self.assertEqual(self.api.refused("PUT", address, {"action": "fly"})[0], 400)


class GlueAndPractice(Building):
    def setUp(self) -> None:
        super().setUp()
        self.run_.drying_minutes = 30
        self.run_.save()

    def test_wet_glue_holds_a_design_back_until_somebody_says_why_not(self) -> None:
        checked_in(self.tern)
        self.api.send("PUT", f"designs/{self.tern.pk}/glue", {"glued": True})
        self.assertAlmostEqual(self.design(self.tern)["drying_left_s"], 1800, delta=3)
        start = {"id": "7a8d7a5e-0000-4000-8000-000000000001", "bench": "7a8d7a5e-0000-4000-8000-0000000000ff"}
        status, refused = self.api.refused("POST", f"designs/{self.tern.pk}/trials", start)
        self.assertEqual((status, refused["code"]), (409, "still_drying"))
        self.assertIn("dry for 30 more minutes", refused["sentence"])
        self.api.send("POST", f"designs/{self.tern.pk}/trials", {**start, "wet_reason": "the bell rings"})
        self.assertEqual(self.design(self.tern)["wet_reasons"], ["the bell rings"])
        ledger = Ledger.__new__(Ledger)
        ledger.api, ledger.id, ledger.bench, ledger.sent = self.api, start["id"], start["bench"], []
        ledger.hold("platform")
        ledger.add("place", item="nut", count=3)
        ledger.add("fail", mode="joint")
        comparison = self.api.get(f"runs/{self.run_.pk}/comparison")["differences"]
        self.assertIn("Tern: tested before its joints were dry (the bell rings).", [act["says"] for act in comparison])

    def test_dry_glue_needs_no_reason_and_none_is_kept(self) -> None:
        checked_in(self.tern)
        self.api.send("PUT", f"designs/{self.tern.pk}/glue", {"glued": True})
        self.passes(31)
        Ledger(self.api, self.tern)
        self.assertEqual(Trial.objects.get(design=self.tern).wet_reason, "")

    def test_no_drying_no_clock(self) -> None:
        self.run_.drying_minutes = 0
        self.run_.save()
        self.assertEqual(
            self.api.refused("PUT", f"designs/{self.tern.pk}/glue", {"glued": True})[1]["code"], "no_drying"
        )

    def test_practice_pieces_are_counted(self) -> None:
        self.api.send("PUT", f"designs/{self.tern.pk}/practice", {"used": 2})
        self.assertEqual(self.design(self.tern)["practice_used"], 2)
        self.assertEqual(
            self.api.refused("PUT", f"designs/{self.tern.pk}/practice", {"used": -1})[1]["code"], "bad_count"
        )


class Drafts(Building):
    def keep(self, design: Design, **typed: str) -> Any:
        body = {**DRAFT, "typed": {**DRAFT["typed"], **typed}}
        return self.api.send("PUT", f"designs/{design.pk}/draft", body)

    def work(self, design: Design) -> Any:
        return self.api.send("POST", f"designs/{design.pk}/draft", DRAFT)

    def test_a_draft_starts_from_what_was_planned_and_measured(self) -> None:
        self.run_.setup["gap_m"] = 0.34
        self.run_.save()
        begin = self.api.get(f"designs/{self.tern.pk}/draft-start")
        self.assertEqual(begin["kinds"], ["sheet_bridge", "truss", "hanging", "strip_arch", "plank"])
        self.assertEqual(begin["start"]["truss"]["span_m"], "340 mm")
        checked_in(self.tern)
        begin = self.api.get(f"designs/{self.tern.pk}/draft-start")
        self.assertEqual(begin["start"]["sheet_bridge"]["span_m"], "300 mm")

    def test_the_team_speaks_before_the_model(self) -> None:
        veiled = self.work(self.tern)
        self.assertEqual((veiled["prediction"], veiled["facts"]), (None, []))
        self.assertIn("Say first", veiled["headline"])
        self.assertTrue(veiled["views"])
        kept = self.keep(self.tern)
        self.assertEqual((kept["veiled"], kept["model"]), (True, None))
        said = self.api.send("POST", f"designs/{self.tern.pk}/prediction", {"text": "700 g"})
        self.assertFalse(said["veiled"])
        self.assertGreater(said["model"]["typical_kg"], 0)
        shown = self.api.send("POST", f"designs/{self.tern.pk}/show-model")
        self.assertTrue(shown["said_first"])
        self.assertIsNotNone(self.work(self.tern)["prediction"])

    def test_said_anew_after_the_model_was_seen_is_known_as_that(self) -> None:
        self.keep(self.tern)
        first = self.api.send("POST", f"designs/{self.tern.pk}/prediction", {"text": "700 g"})
        self.assertTrue(first["said_first"])
        self.assertFalse(self.api.send("POST", f"designs/{self.tern.pk}/prediction", {"text": "900 g"})["said_first"])

    def test_said_without_a_draft_then_drafted(self) -> None:
        said = self.api.send("POST", f"designs/{self.auk.pk}/prediction", {"text": "700 g"})
        self.assertTrue(said["said_first"])
        self.assertIsNone(Design.objects.get(pk=self.auk.pk).model_shown_at)
        self.work(self.auk)
        self.assertIsNotNone(Design.objects.get(pk=self.auk.pk).model_shown_at)
        self.assertTrue(self.design(self.auk)["said_first"])

    def test_one_who_looks_first_is_known_to_have_looked(self) -> None:
        self.keep(self.tern)
        self.api.send("POST", f"designs/{self.tern.pk}/show-model")
        self.assertIsNotNone(self.work(self.tern)["prediction"])
        said = self.api.send("POST", f"designs/{self.tern.pk}/prediction", {"text": "700 g"})
        self.assertFalse(said["said_first"])
        first = Design.objects.get(pk=self.tern.pk).model_shown_at
        self.api.send("POST", f"designs/{self.tern.pk}/show-model")
        self.assertEqual(Design.objects.get(pk=self.tern.pk).model_shown_at, first)

    def test_the_model_s_range_is_the_bench_s_expectation_and_plan(self) -> None:
        checked_in(self.tern)
        self.keep(self.tern)
        ledger = Ledger(self.api, self.tern)
        estimate = ledger.state["estimate"]
        model = self.design(self.tern)["model"]
        self.assertEqual(estimate["basis"], "the model")
        self.assertEqual(estimate["low_kg"], model["low_kg"])
        kept = Design.objects.get(pk=self.tern.pk).drafts.get()
        self.assertAlmostEqual(estimate["typical_kg"], (kept.typical_n or 0) / GRAVITY_M_S2, delta=1e-9)
        self.assertLessEqual(ledger.state["plan"]["steps"][1]["mass_kg"], 0.5 * model["low_kg"] + 1e-9)

    def test_drafts_that_do_not_hold_are_told_at_their_field_and_kept_ones_stay(self) -> None:
        self.keep(self.tern)
        bad = {**DRAFT, "typed": {"depth_m": "90 mm", "span_m": "30"}}
        refused = self.api.refused("PUT", f"designs/{self.tern.pk}/draft", bad)[1]
        self.assertIn("span_m", refused["fields"])
        boat = self.api.refused("PUT", f"designs/{self.tern.pk}/draft", {"kind": "boat"})[1]
        self.assertEqual(boat["code"], "draft_not_for_this")
        self.assertEqual(self.design(self.tern)["draft"]["typed"]["pleats"], "5")


class KeptDrafts(Building):
    def test_a_truss_is_kept_with_its_moved_joints_and_veiled_without_forces(self) -> None:
        body = {"kind": "truss", "typed": {"pattern": "Warren", "panels": "4"}, "moves": {"T1": [0.13, 0.09]}}
        kept = self.api.send("PUT", f"designs/{self.tern.pk}/draft", body)
        self.assertEqual(kept["draft"]["moves"], {"T1": [0.13, 0.09]})
        veiled = self.api.send("POST", f"designs/{self.tern.pk}/draft", body)
        shapes = veiled["views"][0]["drawing"]["shapes"]
        self.assertTrue(shapes)
        self.assertFalse({"tension", "compression", "slack", "weakest"} & {shape["role"] for shape in shapes})
        self.assertEqual({shape["text"] for shape in shapes if shape["kind"] == "line"}, {""})
        self.api.send("POST", f"designs/{self.tern.pk}/prediction", {"text": "2 kg"})
        drafted = self.api.send("POST", f"designs/{self.tern.pk}/draft", body)["views"][0]["drawing"]["shapes"]
        self.assertIn("tension", {shape["role"] for shape in drafted})

    def test_the_latest_draft_counts_and_earlier_ones_stay_on_record(self) -> None:
        for pleats in ("4", "6", "8"):
            body = {**DRAFT, "typed": {**DRAFT["typed"], "pleats": pleats}}
            self.api.send("PUT", f"designs/{self.tern.pk}/draft", body)
        self.assertEqual(self.design(self.tern)["draft"]["typed"]["pleats"], "8")
        self.assertEqual(self.tern.drafts.count(), 3)

    def test_a_stock_of_one_s_own_in_a_draft(self) -> None:
        stock = {"name": "ours", "like": "manila", "thickness": "0.3 mm", "grammage": 230}
        key = self.api.send("POST", "stocks", stock)["key"]
        body = {"kind": "sheet_bridge", "typed": {"sheet": key}}
        self.assertEqual(self.api.send("PUT", f"designs/{self.tern.pk}/draft", body)["draft"]["material"], key)

    def test_a_push_is_no_load_for_the_bench(self) -> None:
        bo = teacher("Bo")
        walls = designing.open_run(take(bo, "storm-wall"), school_class(bo), date(2026, 11, 10))
        design = walls.designs.all()[0]
        api = Api(walls.school_class.owner)
        api.send("PUT", f"designs/{design.pk}/draft", {"kind": "wall"})
        api.send("POST", f"designs/{design.pk}/show-model")
        (listed, *_) = api.get(f"runs/{walls.pk}")["designs"]
        self.assertIsNone(listed["model"])
        self.assertEqual(listed["model_goes_first"], "Tips over")

    def test_units_of_the_teacher_in_a_design_s_draft(self) -> None:
        self.ada.units = "us"
        self.ada.save()
        begin = self.api.get(f"designs/{self.tern.pk}/draft-start")
        self.assertTrue(begin["start"]["sheet_bridge"]["span_m"].endswith(" in"))

    def test_a_tested_design_is_never_veiled(self) -> None:
        checked_in(self.tern)
        Ledger(self.api, self.tern)
        self.assertFalse(self.design(self.tern)["veiled"])


class Learning(Building):
    def broke(self, design: Design, nuts: int) -> None:
        checked_in(design)
        self.api.send("PUT", f"designs/{design.pk}/draft", DRAFT)
        ledger = Ledger(self.api, design)
        ledger.hold("platform")
        ledger.hold("nut", nuts)
        ledger.add("place", item="nut", count=2)
        ledger.add("fail", mode="crimp")

    def experience(self) -> Any:
        return self.api.get(f"runs/{self.run_.pk}/experience")

    def use(self, applied: bool, material: str = "card-160") -> Any:
        return self.api.send("PUT", f"runs/{self.run_.pk}/experience", {"material": material, "applied": applied})

    def test_measured_over_predicted_told_applied_and_taken_back(self) -> None:
        self.broke(self.tern, 20)
        self.broke(self.auk, 10)
        (learnt,) = self.experience()
        kept = self.tern.drafts.get()
        predicted = (kept.typical_n or 0) / GRAVITY_M_S2
        # By hand: tray 40 g, nuts of 15 g; broke between 20 and 22, and between 10 and 12.
        middles = [0.04 + 0.015 * 21, 0.04 + 0.015 * 11]
        self.assertEqual([pair["team"] for pair in learnt["pairs"]], ["Tern", "Auk"])
        for pair, middle in zip(learnt["pairs"], middles, strict=True):
            self.assertAlmostEqual(pair["measured_kg"], middle, delta=1e-9)
            self.assertAlmostEqual(pair["predicted_kg"], predicted, delta=1e-9)
        measured = (middles[0] * middles[1]) ** 0.5 / predicted
        self.assertAlmostEqual(learnt["calibration"]["measured"], measured, delta=1e-9)
        self.assertIn("thin card, 160 g/m² held", learnt["says"])
        self.assertIn("over 2 trials", learnt["says"])
        self.assertIsNone(learnt["applied"])

        before = self.design(self.tern)["model"]["typical_kg"]
        (applied,) = self.use(True)
        correction = applied["applied"]["correction"]
        self.assertTrue(min(1, measured) < correction < max(1, measured))
        after = self.design(self.tern)["model"]
        self.assertAlmostEqual(after["typical_kg"] / before, correction, delta=1e-9)
        self.assertIn("as the class held", after["basis"])
        self.use(False)
        self.assertAlmostEqual(self.design(self.tern)["model"]["typical_kg"], before, delta=1e-9)
        self.assertEqual(ClassCorrection.objects.exclude(withdrawn_at=None).count(), 1)

    def test_applied_again_there_is_one_in_force(self) -> None:
        self.broke(self.tern, 20)
        self.use(True)
        self.broke(self.auk, 10)
        self.use(True)
        self.assertEqual(ClassCorrection.objects.filter(withdrawn_at=None).get().count, 2)

    def test_other_runs_of_the_class_teach_too_and_those_of_others_do_not(self) -> None:
        self.broke(self.tern, 20)
        assert self.run_.recipe is not None
        again = designing.open_run(self.run_.recipe, self.run_.school_class, date(2026, 11, 10))
        (learnt,) = self.api.get(f"runs/{again.pk}/experience")
        self.assertEqual(learnt["calibration"]["count"], 1)
        elsewhere = run(teacher("Mallory"))
        self.assertEqual(Api(elsewhere.school_class.owner).get(f"runs/{elsewhere.pk}/experience"), [])

    def test_another_class_of_the_teacher_begins_with_what_this_one_showed(self) -> None:
        self.broke(self.tern, 20)
        self.broke(self.auk, 10)
        (own,) = self.experience()
        reef = add_class(self.ada, "8 Reef")
        add_team(reef, "Skua")
        assert self.run_.recipe is not None
        second = designing.open_run(self.run_.recipe, reef, date(2026, 11, 10))
        (learnt,) = self.api.get(f"runs/{second.pk}/experience")
        self.assertEqual((learnt["calibration"]["count"], learnt["pairs"]), (0, []))
        self.assertIn("In your other class designs of thin card, 160 g/m² held", learnt["says"])
        # Part of the way towards what the first class showed, and no further.
        shown = learnt["calibration"]["correction"]
        self.assertTrue(min(1, own["calibration"]["measured"]) < shown < max(1, own["calibration"]["measured"]))
        body = {"material": "card-160", "applied": True}
        (used,) = self.api.send("PUT", f"runs/{second.pk}/experience", body)
        self.assertEqual(used["applied"]["count"], 0)
        in_run = self.api.send("POST", "drafts", {**DRAFT, "run": second.pk})
        self.assertAlmostEqual(in_run["prediction"]["correction"], shown, delta=1e-9)

    def test_applied_it_reaches_the_drafting_table_of_the_run(self) -> None:
        self.broke(self.tern, 20)
        self.use(True)
        self.api.send("POST", f"designs/{self.auk.pk}/show-model")
        worked = self.api.send("POST", f"designs/{self.auk.pk}/draft", DRAFT)
        self.assertIn("as designs in your classes held", worked["note"])
        plain = self.api.send("POST", "drafts", DRAFT)
        self.assertEqual(plain["prediction"]["correction"], 1.0)
        in_run = self.api.send("POST", "drafts", {**DRAFT, "run": self.run_.pk})
        self.assertAlmostEqual(
            in_run["prediction"]["typical_n"] / plain["prediction"]["typical_n"],
            in_run["prediction"]["correction"],
            delta=1e-9,
        )

    def test_run_outs_and_untested_drafts_teach_nothing(self) -> None:
        self.api.send("PUT", f"designs/{self.auk.pk}/draft", DRAFT)
        checked_in(self.tern)
        self.api.send("PUT", f"designs/{self.tern.pk}/draft", DRAFT)
        ledger = Ledger(self.api, self.tern)
        ledger.hold("platform")
        ledger.add("run_out", reason="no_more_load", confirmed=True)
        self.assertEqual(self.experience(), [])
        refused = self.api.refused("PUT", f"runs/{self.run_.pk}/experience", {"material": "card-160", "applied": True})
        self.assertEqual(refused[1]["code"], "no_experience")

    def test_a_draft_made_after_the_test_teaches_nothing(self) -> None:
        checked_in(self.tern)
        ledger = Ledger(self.api, self.tern)
        ledger.hold("platform")
        ledger.add("place", item="nut", count=2)
        ledger.add("fail", mode="crimp")
        self.api.send("PUT", f"designs/{self.tern.pk}/draft", DRAFT)
        self.assertEqual(self.experience(), [])


class Foretold(TestCase):
    """What teams say beforehand, in the ways that classes say it."""

    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)
        self.tern, self.auk = (checked_in(design) for design in self.run_.designs.all())

    def say(self, design: Design, text: str) -> Any:
        return self.api.send("POST", f"designs/{design.pk}/prediction", {"text": text})["prediction"]

    def test_in_load_objects_and_held_against_another_team(self) -> None:
        # A tray of 40 g and ten nuts of 15 g.
        said = self.say(self.tern, "10 nuts")
        self.assertAlmostEqual(said["load_kg"], 0.190)
        self.assertEqual((said["text"], said["words"]), ("10 nuts", "190 g"))
        status, answer = self.api.refused("POST", f"designs/{self.auk.pk}/prediction", {"text": "more than Tern"})
        self.assertEqual((status, answer["code"]), (400, "not_tested_yet"))
        ledger = Ledger(self.api, self.tern)
        ledger.hold("platform")
        ledger.hold("nut", 10)
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="crimp")
        self.assertEqual(self.say(self.auk, "more than tern")["words"], "more than Tern, 190 g")
        status, answer = self.api.refused("POST", f"designs/{self.auk.pk}/prediction", {"text": "less than nobody"})
        self.assertEqual((status, answer["code"]), (400, "nobody_of_that_name"))
        other = Ledger(self.api, self.auk)
        self.assertEqual(other.state["prediction_says"], "more than Tern, 190 g")
        other.hold("platform")
        other.hold("nut", 20)
        other.add("run_out", reason="no_more_load", confirmed=True)
        reasons = self.api.get(f"runs/{self.run_.pk}/reasons")
        self.assertIn("The teams got 2 of 2 right", str(reasons))

    def test_where_pieces_are_counted_a_bare_number_is_pieces(self) -> None:
        self.run_.young = True
        self.run_.save()
        self.assertAlmostEqual(self.say(self.tern, "12")["load_kg"], 0.220)
