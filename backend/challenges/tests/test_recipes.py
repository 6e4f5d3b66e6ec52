from datetime import date

from django.test import TestCase

from challenges.models import Recipe
from designs import services as designing
from girder_core.families import FAMILIES
from people.tests.support import RECIPE, Api, recipe, school_class, teacher


class Writing(TestCase):
    def setUp(self) -> None:
        self.api = Api(teacher())

    def test_typed_texts_become_si(self) -> None:
        made = self.api.send("POST", "recipes", {**RECIPE, "setup": {**RECIPE["setup"], "gap_m": "14 1/4 in"}})
        self.assertAlmostEqual(made["setup"]["gap_m"], 0.36195)
        nut = made["kit"][1]
        self.assertAlmostEqual(nut["mass_kg"], 0.015)
        # 1 g over the root of twelve, over ten nuts.
        self.assertAlmostEqual(nut["mass_u_kg"], 0.001 / 12**0.5 / 10)
        self.assertIsNone(made["setup"]["target_kg"])

    def test_editing_shows_again_what_was_typed(self) -> None:
        typed = {**RECIPE["setup"], "gap_m": "14 1/4 in", "target_kg": ""}
        made = self.api.send("POST", "recipes", {**RECIPE, "setup": typed})
        self.assertEqual(made["typed"]["setup"], typed)
        self.assertEqual([item["batch_mass"] for item in made["typed"]["kit"]], ["40 g", "150 g"])
        again = self.api.send("PUT", f"recipes/{made['id']}", made["typed"])
        self.assertEqual((again["setup"], again["kit"]), (made["setup"], made["kit"]))

    def test_every_bad_field_is_named_and_nothing_is_made(self) -> None:
        kit = [
            {**RECIPE["kit"][0], "batch_mass": "0 g"},
            {**RECIPE["kit"][1], "batch_mass": "heavy", "scale_resolution": ""},
            {**RECIPE["kit"][1], "name": "no mass", "batch_mass": ""},
        ]
        body = {**RECIPE, "kit": kit, "setup": {"gap_m": "-3 cm", "hold_s": "5", "wheels": "4 mm"}}
        status, answer = self.api.refused("POST", "recipes", body)
        self.assertEqual(status, 400)
        self.assertEqual(
            set(answer["fields"]),
            {"setup.gap_m", "setup.hold_s", "setup.wheels", "setup.bench_limit_kg", "kit.0.batch_mass",
             "kit.1.batch_mass", "kit.1.scale_resolution", "kit.2.batch_mass"},
        )  # fmt: skip
        self.assertEqual(Recipe.objects.count(), 0)

    def test_a_kit_needs_more_than_a_platform_and_names_once(self) -> None:
        for kit in ([RECIPE["kit"][0]], [], [RECIPE["kit"][1], RECIPE["kit"][1]]):
            status, answer = self.api.refused("POST", "recipes", {**RECIPE, "kit": kit})
            self.assertEqual((status, answer["code"]), (400, "bad_recipe"))

    def test_change_and_retire(self) -> None:
        made = self.api.send("POST", "recipes", RECIPE)
        changed = self.api.send("PUT", f"recipes/{made['id']}", {**RECIPE, "name": "Longer", "trial_rule": "mean"})
        self.assertEqual((changed["name"], changed["trial_rule"]), ("Longer", "mean"))
        self.assertTrue(self.api.send("PATCH", f"recipes/{made['id']}", {"retired": True})["retired"])

    def test_families_are_told_with_their_keys(self) -> None:
        families = self.api.get("families")
        self.assertEqual([listed["key"] for listed in families], list(FAMILIES))
        bridge = next(listed for listed in families if listed["key"] == "bridge")
        self.assertIn("measure", [shape["kind"] for shape in bridge["sketch"]["shapes"]])
        self.assertIn("models_only", [caution["key"] for caution in bridge["cautions"]])


class Runs(TestCase):
    def test_a_run_keeps_its_terms_when_the_recipe_changes(self) -> None:
        ada = teacher()
        source, api = recipe(ada), Api(ada)
        run = designing.open_run(source, school_class(ada), date(2026, 11, 3))
        changed = {**RECIPE, "setup": {**RECIPE["setup"], "gap_m": "99 cm"}, "school": "most_held"}
        api.send("PUT", f"recipes/{source.pk}", changed)
        state = api.get(f"runs/{run.pk}")
        self.assertEqual((state["run"]["setup"]["gap_m"], state["run"]["school"]), (0.3, "strength_to_weight"))

    def test_a_run_needs_teams_and_a_recipe_on_the_list(self) -> None:
        ada = teacher()
        source, api = recipe(ada), Api(ada)
        empty = school_class(ada, teams=())
        body = {"recipe": source.pk, "school_class": empty.pk, "date": "2026-11-03"}
        self.assertEqual(api.refused("POST", "runs", body)[1]["code"], "no_teams")
        api.send("POST", f"classes/{empty.pk}/teams", {"name": ""})
        api.send("PATCH", f"recipes/{source.pk}", {"retired": True})
        self.assertEqual(api.refused("POST", "runs", body)[1]["code"], "recipe_retired")

    def test_the_latest_run_is_listed_first(self) -> None:
        ada = teacher()
        source, made = recipe(ada), school_class(ada)
        days = [date(2026, 10, 8), date(2026, 12, 3), date(2026, 11, 19)]
        for day in days:
            designing.open_run(source, made, day)
        listed = [run["date"] for run in Api(ada).get("runs")]
        self.assertEqual(listed, ["2026-12-03", "2026-11-19", "2026-10-08"])

    def test_a_team_that_came_later_is_added_on_request(self) -> None:
        ada = teacher()
        made = school_class(ada)
        run = designing.open_run(recipe(ada), made, date(2026, 11, 3))
        api = Api(ada)
        api.send("POST", f"classes/{made.pk}/teams", {"name": ""})
        self.assertEqual(api.get(f"runs/{run.pk}")["missing_teams"], 1)
        after = api.send("POST", f"runs/{run.pk}/teams")
        self.assertEqual((len(after["designs"]), after["missing_teams"]), (3, 0))

    def test_the_cup_is_worked_out_and_bad_sizes_are_told(self) -> None:
        ada = teacher()
        kit = [RECIPE["kit"][0], {**RECIPE["kit"][1], "diameter": "20 mm", "thickness": "10 mm"}]
        run = designing.open_run(recipe(ada, kit=kit), school_class(ada), date(2026, 11, 3))
        api = Api(ada)
        (fill,) = api.send("POST", f"runs/{run.pk}/container", {"diameter": "80 mm", "height": "5 cm"})
        self.assertEqual((fill["item"], fill["count"]), ("nut", 48))
        bad = api.refused("POST", f"runs/{run.pk}/container", {"diameter": "80", "height": "5 cm"})
        self.assertEqual(bad[1]["code"], "unit_missing")
