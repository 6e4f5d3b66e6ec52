"""The planner and the recipe library through the API."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.test import TestCase

from challenges import library
from challenges.models import GoalChange, Recipe
from designs import services as designing
from girder_core.families import FAMILIES
from people.tests.support import RECIPE, Api, Ledger, checked_in, recipe, run, school_class, teacher

ASKED: dict[str, Any] = {"family": "bridge", "age_band": "11-13", "minutes": 50, "teams": 8}


class Sheets(TestCase):
    def setUp(self) -> None:
        self.api = Api(teacher())

    def sheet(self, own: dict[str, Any] | None = None, **asked: Any) -> Any:
        return self.api.send("POST", "plans", {**ASKED, **asked, "own": own or {}})

    def test_four_answers_are_a_recipe_for_every_family(self) -> None:
        for key in FAMILIES:
            with self.subTest(key):
                sheet = self.sheet(family=key)
                self.assertEqual(sheet["problems"], {})
                self.assertEqual((sheet["own"], bool(sheet["kit_list"]), bool(sheet["timeline"])), ([], True, True))
                made = self.api.send("POST", "recipes", sheet["entry"])
                self.assertEqual(made["typed"], sheet["entry"])
                # Opened again with nothing of its own, the sheet is the same.
                self.assertEqual(self.sheet(family=key)["entry"], made["typed"])

    def test_what_is_typed_stays_and_the_rest_follows(self) -> None:
        own = {"setup": {"target_kg": "2 lb"}, "name": "Mine"}
        sheet = self.sheet(own)
        self.assertEqual((sheet["entry"]["setup"]["target_kg"], sheet["entry"]["name"]), ("2 lb", "Mine"))
        self.assertEqual(sheet["own"], ["name", "setup.target_kg"])
        self.assertNotIn("setup.target_kg", sheet["entry"]["proposed"])
        self.assertIn("setup.gap_m", sheet["entry"]["proposed"])
        # Of 8 designs expected at half to twice 0.907 kg the strongest holds 3.02 kg in one class of ten; a tenth more
        # is 3.32 kg, and the next round figure 4 kg.
        self.assertEqual(sheet["entry"]["setup"]["bench_limit_kg"], "4 kg")
        self.assertTrue(sheet["cover"]["enough"])

    def test_every_set_up_field_can_be_half_typed(self) -> None:
        """The sheet is filled while someone types: an emptied field, a lone digit or a figure out of all bounds too."""
        for family in FAMILIES.values():
            for spec in family.setup:
                for text in ("", "-3", "1e300", "3 kg"):
                    with self.subTest(family=family.key, field=spec.key, text=text):
                        sheet = self.sheet({"setup": {spec.key: text}}, family=family.key)
                        self.assertEqual(sheet["entry"]["setup"][spec.key], text)

    def test_an_unreadable_entry_is_named_and_all_else_is_still_worked_out(self) -> None:
        sheet = self.sheet({"setup": {"gap_m": "wide", "target_kg": "1 kg"}})
        self.assertIn("not a number", sheet["problems"]["setup.gap_m"])
        self.assertEqual(sheet["entry"]["setup"]["gap_m"], "wide")
        self.assertTrue(sheet["timeline"]["fits"])

    def test_answers_that_make_no_sense(self) -> None:
        for asked, field in (
            ({"minutes": 5}, "minutes"), ({"teams": 9, "students": 8}, "teams"), ({"family": "submarine"}, "family"),
            ({"teams": 0}, "teams"),
        ):  # fmt: skip
            status, answer = self.api.refused("POST", "plans", {**ASKED, **asked})
            self.assertEqual(status, 400)
            self.assertTrue(field in answer["fields"] or answer["data"].get("field") == field, answer)

    def test_every_kind_of_known_mass(self) -> None:
        kit = [
            {"name": "dime", "shape": "disc", "count": 100, "known_by": "coin", "coin": "us-dime"},
            {"name": "roll", "shape": "bag", "count": 4, "roll_of": 50, "known_by": "coin", "coin": "us-dime"},
            {"name": "washer", "count": 9, "known_by": "typed", "mass": "4 g", "mass_doubt": "0.2 g"},
            {"name": "book", "shape": "tile", "known_by": "numbered", "masses": ["412 g", "0.9 lb"],
             "scale_resolution": "1 g"},
        ]  # fmt: skip
        kept = self.sheet({"kit": kit})["kit"]
        self.assertEqual([item["key"] for item in kept], ["dime", "roll", "washer", "book-1", "book-2"])
        masses = [item["mass_kg"] for item in kept]
        for value, expected in zip(masses, [0.002268, 0.1134, 0.004, 0.412, 0.9 * 0.45359237], strict=True):
            self.assertAlmostEqual(value, expected)
        self.assertAlmostEqual(kept[2]["mass_u_kg"], 0.0002 / 3**0.5)
        self.assertEqual([item["order"] for item in kept], [0, 0, 0, 1, 2])

    def test_bad_kits_are_named_at_their_fields(self) -> None:
        base = {"count": 5, "batch_count": 5, "batch_mass": "50 g", "scale_resolution": "1 g"}
        kit = [
            {**base, "name": "nut"}, {**base, "name": "Nut"},
            {**base, "name": "coin", "known_by": "coin", "coin": "doubloon"},
            {**base, "name": "rock", "known_by": "typed", "mass": "10 g", "mass_doubt": "20 g"},
            {**base, "name": "book", "known_by": "numbered", "masses": ["heavy"]},
        ]  # fmt: skip
        problems = self.sheet({"kit": kit})["problems"]
        for path in ("kit.2.coin", "kit.3.mass_doubt", "kit.4.masses"):
            self.assertIn(path, problems)
        self.assertIn("kit.1.name", self.sheet({"kit": kit[:2]})["problems"])

    def test_goals_that_do_not_hold_together(self) -> None:
        for own, field in (
            ({"school": "mix", "weights": {"most_held": 0}}, "weights"),
            ({"school": "left_standing"}, "school"),
            ({"school": "threshold", "setup": {"target_kg": ""}}, "setup.target_kg"),
        ):
            self.assertIn(field, self.sheet(own)["problems"])
        self.assertEqual(self.sheet({"school": "mix", "weights": {"most_held": 1}})["problems"], {})

    def test_small_bad_things(self) -> None:
        line = {"name": "card", "buildable": True, "final": 1}
        for own, field in (
            ({"materials": [{**line, "pack_size": 0}]}, "materials.0.pack_size"),
            ({"materials": [{**line, "size": "long"}]}, "materials.0.size"),
            ({"materials": [{**line, "final": 0}]}, "materials"),
            ({"container": {"diameter": "8", "height": "9 cm"}}, "container.diameter"),
            ({"factor": {"name": "folds", "levels": ["two"]}}, "factor.levels"),
            ({"drying_minutes": 3000}, "drying_minutes"),
            ({"build_minutes": 49}, "build_minutes"),
            ({"declared": ["hot_glue"]}, "confirm.hot_glue"),
            ({"declared": ["person_load"]}, "declared"),
        ):
            with self.subTest(field):
                sheet = self.sheet(own)
                self.assertIn(field, sheet["problems"])
                status, answer = self.api.refused("POST", "recipes", sheet["entry"])
                self.assertEqual((status, field in answer["fields"]), (400, True), answer)
        self.assertEqual(Recipe.objects.count(), 0)


class Kept(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)

    def test_a_recipe_needs_a_name(self) -> None:
        self.assertIn("name", self.api.refused("POST", "recipes", {**RECIPE, "name": "  "})[1]["fields"])

    def test_copies_are_told_apart(self) -> None:
        first = recipe(self.ada)
        names = [self.api.send("POST", f"recipes/{first.pk}/copy")["name"] for _ in range(3)]
        self.assertEqual(names, [f"Test gangway (copy{n})" for n in ("", " 2", " 3")])
        self.assertEqual(Recipe.objects.get(name=names[2]).setup, first.setup)

    def test_one_shipped_recipe_for_every_family_and_each_can_be_taken_and_run(self) -> None:
        self.assertEqual({recipe.entry["family"] for recipe in library.shipped()}, set(FAMILIES))
        knot = school_class(self.ada, teams=("Tern", "Auk", "Rail"))
        for shipped in library.shipped():
            with self.subTest(shipped.slug):
                made = self.api.send("POST", "library", {"slug": shipped.slug})
                self.assertTrue(made["question"].endswith("?"))
                body = {"recipe": made["id"], "school_class": knot.pk, "date": "2026-12-01"}
                state = self.api.send("POST", "runs", body)
                plan = self.api.get(f"runs/{state['run']['id']}/plan")
                self.assertTrue(plan["timeline"]["fits"])
                self.assertTrue(plan["kit_list"] and plan["brief"] and plan["cautions"])
                # The strongest may reach what the bench carries; more load would not help.
                self.assertTrue(plan["cover"] is None or not plan["cover"]["more"], plan["cover"])
                self.assertTrue(plan["cover"] is None or not plan["cover"]["coarse"])
        self.assertEqual(self.api.refused("POST", "library", {"slug": "nothing"})[0], 404)

    def test_a_run_gets_its_time_and_step_size_from_the_plan(self) -> None:
        made = designing.open_run(
            Recipe.objects.get(pk=self.api.send("POST", "library", {"slug": "slip-gangway"})["id"]),
            school_class(self.ada, teams=tuple("ABCDEFGH")), date(2026, 12, 1),
        )  # fmt: skip
        timeline = self.api.get(f"runs/{made.pk}/plan")["timeline"]
        self.assertAlmostEqual(made.trial_seconds, timeline["test_seconds"] - 40)
        self.assertEqual(made.resolution, timeline["resolution"])

    def test_levels_are_dealt_out_and_can_be_changed_until_the_test(self) -> None:
        made = run(self.ada, ("Tern", "Auk", "Rail"), factor={"name": "folds", "levels": ["two", "four"]})
        first, second, third = made.designs.all()
        self.assertEqual([d.level for d in (first, second, third)], ["two", "four", "two"])
        self.assertEqual(self.api.send("PUT", f"designs/{third.pk}/level", {"level": "four"})["level"], "four")
        self.assertEqual(
            self.api.refused("PUT", f"designs/{third.pk}/level", {"level": "nine"})[1]["code"], "unknown_level"
        )
        ledger = Ledger(self.api, checked_in(first))
        ledger.hold("platform")
        refused = self.api.refused("PUT", f"designs/{first.pk}/level", {"level": "four"})
        self.assertEqual(refused[1]["code"], "level_too_late")


class Goals(TestCase):
    GOAL: dict[str, Any] = {"school": "most_held", "trial_rule": "mean", "breach_policy": "note", "penalty": 0}

    def setUp(self) -> None:
        self.ada = teacher()
        self.api, self.run_ = Api(self.ada), run(self.ada)

    def change(self, **changes: Any) -> Any:
        return self.api.call("PUT", f"runs/{self.run_.pk}/goal", {**self.GOAL, **changes})

    def test_free_before_the_first_trial(self) -> None:
        status, state = self.change()
        self.assertEqual((status, state["run"]["school"], state["goal_changes"]), (200, "most_held", []))
        self.assertFalse(state["goal_locked"])

    def test_with_a_reason_after_it_and_shown_with_every_result(self) -> None:
        ledger = Ledger(self.api, checked_in(self.run_.designs.all()[0]))
        ledger.hold("platform")
        ledger.add("fail", mode="crimp")
        status, answer = self.change()
        self.assertEqual((status, answer["code"], "reason" in answer["fields"]), (400, "goal_locked", True))
        status, state = self.change(reason="the scale broke")
        self.assertEqual(status, 200)
        (change,) = state["goal_changes"]
        self.assertEqual((change["reason"], change["author"]), ("the scale broke", "Ada"))
        self.assertIn("times its own weight", change["before"])
        self.assertIn("mean of the trials", change["after"])
        results = self.api.call("GET", f"runs/{self.run_.pk}/results.csv")[1].content.decode("utf-8-sig")
        self.assertIn("the scale broke", results)
        # The same goal again is no change.
        self.change(reason="again")
        self.assertEqual(GoalChange.objects.count(), 1)

    def test_a_goal_the_family_does_not_have(self) -> None:
        status, answer = self.change(school="left_standing")
        self.assertEqual((status, answer["code"]), (400, "bad_goal"))


class Measured(TestCase):
    """Families that are measured and not loaded: from check-in to a ranking without a bench."""

    def test_masts_by_height_and_walls_by_what_is_left(self) -> None:
        ada = teacher()
        api, knot = Api(ada), school_class(ada, teams=("Tern", "Auk"))
        for slug, first, second, after, headline in (
            ("leading-light-mast", {"height": "1.2 m", "base": "25 cm"}, {"height": "90 cm", "base": "25 cm"}, {},
             "Tern won today."),
            ("storm-wall", {"length": "45 cm", "height": "20 cm", "pieces": "24"},
             {"length": "45 cm", "height": "20 cm", "pieces": "20"}, {"left": ("12", "15")},
             "Auk won today."),
        ):  # fmt: skip
            with self.subTest(slug):
                made = api.send("POST", "library", {"slug": slug})
                state = api.send("POST", "runs", {"recipe": made["id"], "school_class": knot.pk, "date": "2026-12-01"})
                ids = [design["id"] for design in state["designs"]]
                family = FAMILIES[made["family"]]
                for pk, readings in zip(ids, (first, second), strict=True):
                    for key, text in readings.items():
                        step = "1" if family.reading_keys[key].kind == "count" else "1 mm"
                        body = {"key": key, "text": text, "resolution_text": step}
                        api.send("POST", f"designs/{pk}/readings", body)
                    api.send("PUT", f"designs/{pk}/answers", {"answers": {q.key: q.good for q in family.questions}})
                    api.send("POST", f"designs/{pk}/check-in")
                for key, texts in after.items():
                    waiting = api.get(f"runs/{state['run']['id']}/comparison")
                    self.assertEqual({row["code"] for row in waiting["unranked"]}, {"not_measured"})
                    for pk, text in zip(ids, texts, strict=True):
                        body = {"key": key, "text": text, "resolution_text": "1"}
                        api.send("POST", f"designs/{pk}/readings", body)
                comparison = api.get(f"runs/{state['run']['id']}/comparison")
                self.assertEqual(comparison["headline"], headline)
                bays = {bay["key"]: bay["note"] for bay in api.get(f"runs/{state['run']['id']}")["deck"]}
                self.assertEqual(bays["bench"], "2 of 2")
                listed = next(run for run in api.get("runs") if run["id"] == state["run"]["id"])
                self.assertEqual((listed["designs"], listed["tested"]), (2, 2))
                self.assertEqual(api.send("POST", f"designs/{ids[0]}/next-version", {"changed": "wider"})["version"], 2)
