"""Recipes handed on: what is told of them, to whom, and what a class elsewhere expects by it."""

from __future__ import annotations

import math
from datetime import date
from typing import Any, ClassVar

from django.test import TestCase

from bench.models import Trial
from challenges.models import Recipe, Run
from challenges.services import save_recipe
from designs.services import open_run
from people import schools
from people.models import School, Teacher
from people.tests.support import Api, Ledger, checked_in, recipe, school_class, teacher
from schools.models import SharedRecipe
from schools.sharing import share

TEAMS = ("Tern", "Auk", "Gannet")


def member(name: str, school: School) -> Teacher:
    made = teacher(name)
    schools.settle(made, school)
    return made


def ran(of: Recipe, runs: int, nuts: int = 4, where: str = "") -> list[Run]:
    """Runs in which each of three teams held so many nuts, and two nuts more than the one before."""
    made = []
    for number in range(runs):
        within = school_class(of.owner, TEAMS)
        within.name = f"class {where}{number}"
        within.save()
        run = open_run(of, within, date(2026, 11, 3))
        for more, design in enumerate(run.designs.all()):
            ledger = Ledger(Api(of.owner), checked_in(design))
            ledger.hold("platform")
            ledger.hold("nut", nuts + 2 * more)
            ledger.add("place", item="nut", count=1)
            ledger.add("fail", mode="snap")
        made.append(run)
    return made


class WithSchools(TestCase):
    skerry: ClassVar[School]
    voe: ClassVar[School]
    ada: ClassVar[Teacher]
    bea: ClassVar[Teacher]
    cas: ClassVar[Teacher]
    dan: ClassVar[Teacher]
    eve: ClassVar[Teacher]
    recipe: ClassVar[Recipe]

    @classmethod
    def setUpTestData(cls) -> None:
        cls.skerry = schools.add_school("Skerry School", "Sound District")
        cls.voe = schools.add_school("Voe School", "Sound District")
        cls.ada, cls.bea, cls.cas = member("Ada", cls.skerry), member("Bea", cls.skerry), member("Cas", cls.voe)
        cls.dan, cls.eve = member("Dan", schools.add_school("Far School")), teacher("Eve")
        cls.recipe = recipe(cls.ada)


class Library(WithSchools):
    def test_who_sees_what_is_shared(self) -> None:
        api = Api(self.ada)
        api.send("POST", "shared-recipes", {"recipe": self.recipe.pk})
        for who, sees in ((self.ada, 1), (self.bea, 1), (self.cas, 0), (self.dan, 0), (self.eve, 0)):
            self.assertEqual(len(Api(who).get("shared-recipes")), sees, who)
        api.send("POST", "shared-recipes", {"recipe": self.recipe.pk, "to_district": True})
        for who, by in ((self.bea, "Ada"), (self.cas, "")):
            [line] = Api(who).get("shared-recipes")
            self.assertEqual((line["name"], line["school"], line["by"], line["mine"]),
                             ("Test gangway", "Skerry School", by, False))  # fmt: skip
        shared = SharedRecipe.objects.get()
        for who in (self.dan, self.eve):
            self.assertEqual(Api(who).get("shared-recipes"), [])
            for method in ("POST", "DELETE"):
                self.assertEqual(Api(who).call(method, f"shared-recipes/{shared.pk}")[0], 404)

    def test_only_one_s_own_recipe_is_shared_and_only_with_somebody(self) -> None:
        self.assertEqual(Api(self.bea).call("POST", "shared-recipes", {"recipe": self.recipe.pk})[0], 404)
        own = recipe(self.eve)
        self.assertEqual(Api(self.eve).refused("POST", "shared-recipes", {"recipe": own.pk})[1]["code"], "no_school")
        own = recipe(self.dan)
        body = {"recipe": own.pk, "to_district": True}
        self.assertEqual(Api(self.dan).refused("POST", "shared-recipes", body)[1]["code"], "no_district")

    def test_it_is_taken_back_by_who_shared_it_or_administers_the_school(self) -> None:
        shared = share(self.recipe, self.ada, to_district=True)
        for who in (self.bea, self.cas):
            status, answer = Api(who).refused("DELETE", f"shared-recipes/{shared.pk}")
            self.assertEqual((status, answer["code"]), (403, "not_yours"))
        made = Api(self.cas).send("POST", f"shared-recipes/{shared.pk}")
        schools.appoint(self.bea, True)
        self.assertEqual(Api(self.bea).call("DELETE", f"shared-recipes/{shared.pk}")[0], 204)
        # Who took it over keeps their copy.
        self.assertEqual(Api(self.cas).get(f"recipes/{made['id']}")["name"], "Test gangway")
        share(self.recipe, self.ada, to_district=False)
        self.assertEqual(Api(self.ada).call("DELETE", f"shared-recipes/{SharedRecipe.objects.get().pk}")[0], 204)

    def test_shared_again_it_is_brought_up_to_date(self) -> None:
        share(self.recipe, self.ada, to_district=True)
        save_recipe(self.ada, {**self.recipe.typed, "name": "Better gangway"}, self.recipe)
        share(self.recipe, self.ada, to_district=False)
        shared = SharedRecipe.objects.get()
        self.assertEqual((shared.entry["name"], shared.to_district), ("Better gangway", False))


class WhatIsTold(WithSchools):
    def test_best_median_and_middle_half_and_nobody_s_name(self) -> None:
        runs = ran(self.recipe, 2)
        share(self.recipe, self.ada, to_district=True)
        [line] = Api(self.cas).get("shared-recipes")
        # A tray of 40 g and four, six or eight nuts of 15 g, twice: 100, 130 and 160 g.
        says = "the best 160 g, half 130 g or less; the middle half between 100 g and 160 g"
        self.assertEqual(line["came_to"], {"designs": 6, "runs": 2, "says": says})
        told = str(SharedRecipe.objects.values().get()) + str(line)
        for word in (*TEAMS, "class 0", "2026-11-03", str(Trial.objects.all()[0].pk), self.ada.email):
            self.assertNotIn(word, told)
        self.assertEqual(len(runs), 2)

    def test_of_fewer_than_five_designs_nothing_is_told(self) -> None:
        ran(self.recipe, 1)
        share(self.recipe, self.ada, to_district=False)
        [line] = Api(self.bea).get("shared-recipes")
        self.assertIsNone(line["came_to"])
        made = Api(self.bea).send("POST", f"shared-recipes/{line['id']}")
        self.assertIsNone(made["elsewhere"])

    def test_runs_of_other_terms_of_the_recipe_and_tryouts_are_not_told(self) -> None:
        ran(self.recipe, 2)
        changed = {**self.recipe.typed, "setup": {**self.recipe.typed["setup"], "gap_m": "31 cm"}}
        save_recipe(self.ada, changed, self.recipe)
        share(self.recipe, self.ada, to_district=False)
        self.assertIsNone(SharedRecipe.objects.get().history)
        tryout, *_ = ran(self.recipe, 2, where="new ")
        tryout.tryout = True
        tryout.save()
        share(self.recipe, self.ada, to_district=False)
        self.assertIsNone(SharedRecipe.objects.get().history)


class TakenOver(WithSchools):
    made: ClassVar[dict[str, Any]]
    own: ClassVar[Recipe]

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        ran(cls.recipe, 3)
        shared = share(cls.recipe, cls.ada, to_district=True)
        cls.made = Api(cls.cas).send("POST", f"shared-recipes/{shared.pk}")
        cls.own = Recipe.objects.get(pk=cls.made["id"])

    def setUp(self) -> None:
        self.api = Api(self.cas)

    def first_trial(self, of: Recipe, name: str = "first") -> Trial:
        within = school_class(of.owner, TEAMS)
        within.name = name
        within.save()
        run = open_run(of, within, date(2026, 11, 20))
        return Trial.objects.get(pk=Ledger(Api(of.owner), checked_in(run.designs.all()[0])).id)

    def test_the_first_test_is_planned_by_what_others_held(self) -> None:
        estimate = self.first_trial(self.own).expectation()
        assert estimate is not None
        # Three classes of 100 to 160 g: about 130 g, and not very far from it.
        self.assertTrue(0.11 < estimate.typical_kg < 0.16, estimate)
        self.assertTrue(0.05 < estimate.low_kg < estimate.typical_kg < estimate.high_kg < 0.4, estimate)
        self.assertEqual(estimate.basis, "9 designs in other classes")
        self.assertEqual((self.made["elsewhere"]["designs"], self.made["elsewhere"]["counts"]), (9, True))
        # Without it nobody knows anything, so the kit stands in.
        plain = save_recipe(self.cas, self.own.typed)
        self.assertIsNone(self.first_trial(plain, "plain").expectation())

    def test_one_s_own_runs_count_besides_and_move_it(self) -> None:
        before = self.first_trial(self.own, "before").expectation()
        ran(self.own, 2, nuts=16, where="own ")
        after = self.first_trial(self.own, "after").expectation()
        assert before is not None and after is not None
        self.assertGreater(after.typical_kg, 1.1 * before.typical_kg)
        self.assertEqual(after.basis, "9 designs in other classes and 6 designs in earlier runs")

    def test_the_kit_is_judged_by_it(self) -> None:
        run = open_run(self.own, school_class(self.cas), date(2026, 11, 20))
        cover = self.api.get(f"runs/{run.pk}/plan")["cover"]
        self.assertIsNotNone(cover["chance"])
        plain = open_run(save_recipe(self.cas, self.own.typed), run.school_class, date(2026, 11, 20))
        self.assertIsNone(self.api.get(f"runs/{plain.pk}/plan")["cover"]["chance"])

    def test_other_terms_have_no_experience_and_the_old_ones_have_it_again(self) -> None:
        typed = self.own.typed
        save_recipe(self.cas, {**typed, "setup": {**typed["setup"], "gap_m": "31 cm"}}, self.own)
        told = self.api.get(f"recipes/{self.own.pk}")["elsewhere"]
        self.assertEqual((told["counts"], told["says"]), (False, ""))
        self.assertIsNone(self.first_trial(self.own, "wide").expectation())
        # What a reader of other units typed for the same length is the same length.
        save_recipe(self.cas, {**typed, "setup": {**typed["setup"], "gap_m": "11.8 in"}}, self.own)
        self.assertTrue(self.api.get(f"recipes/{self.own.pk}")["elsewhere"]["counts"])

    def test_a_copy_knows_it_too(self) -> None:
        copy = self.api.send("POST", f"recipes/{self.own.pk}/copy")
        self.assertEqual(copy["elsewhere"]["designs"], 9)

    def test_an_edit_on_the_sheet_shows_the_same_cover_as_the_kept_recipe(self) -> None:
        typed = self.own.typed
        asked = {name: typed[name] for name in ("family", "age_band", "minutes", "teams", "students", "difficulty")}
        # As the sheet has it: a limit that there is not is an empty field.
        fields = {spec.key: typed["setup"].get(spec.key, "") for spec in self.own.core_family().setup}
        own = {**{name: value for name, value in typed.items() if name not in asked}, "setup": fields}
        body = {**asked, "own": own, "recipe": self.own.pk}
        self.assertIsNotNone(self.api.send("POST", "plans", body)["cover"]["chance"])
        self.assertIsNone(self.api.send("POST", "plans", {**body, "recipe": None})["cover"]["chance"])
        # Somebody else's recipe tells nothing.
        self.assertIsNone(Api(self.dan).send("POST", "plans", body)["cover"]["chance"])

    def test_what_is_told_of_it_is_said_in_the_reader_s_units(self) -> None:
        self.assertRegex(self.api.get(f"recipes/{self.own.pk}")["elsewhere"]["says"], r"^Expect about \d+ g; eight")
        self.cas.units = "us"
        self.cas.save()
        self.assertRegex(self.api.get(f"recipes/{self.own.pk}")["elsewhere"]["says"], r"^Expect about [\d.]+ oz; eight")
        self.assertIn("oz", self.api.get("shared-recipes")[0]["came_to"]["says"])
        self.assertTrue(math.isfinite(self.own.prior().typical_kg))  # type: ignore[union-attr]
