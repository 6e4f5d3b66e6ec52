"""Deleting and bringing back, who is away, runs that only try things out, and load that the plan forgot."""

import tempfile
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from django.core.files.base import ContentFile
from django.test import TestCase, override_settings
from django.utils import timezone

from bench.history import past_of
from bench.models import LedgerEvent, Trial
from challenges.models import Recipe
from designs.models import Design, Photo
from designs.photo_services import keep_photo
from designs.services import open_run
from designs.tests.test_photos import picture
from people.models import KEPT_DAYS, SchoolClass, Teacher, Team
from people.tests.support import Api, Ledger, checked_in, run, teacher
from runs.removal_services import forget_old, tidy


class Tested(TestCase):
    """A run of two teams, of which one was tested."""

    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)
        self.tern, self.auk = self.run_.designs.all()
        self.ledger = Ledger(self.api, checked_in(self.tern))
        self.ledger.hold("platform")
        self.ledger.hold("nut", 10)
        self.ledger.add("place", item="nut", count=2)
        self.ledger.add("fail", mode="crimp")

    def state(self) -> Any:
        return self.api.get(f"runs/{self.run_.pk}")

    def states(self) -> list[str]:
        return [design["state"] for design in self.state()["designs"]]

    def remove(self, path: str) -> Any:
        return self.api.send("PUT", f"{path}/removed", {"removed": True})

    def bring_back(self, path: str) -> Any:
        return self.api.send("PUT", f"{path}/removed", {"removed": False})


class Removal(Tested):
    def test_a_run_goes_with_all_that_hangs_on_it_and_comes_back_as_it_was(self) -> None:
        before = self.state()
        comparison = self.api.get(f"runs/{self.run_.pk}/comparison")
        self.remove(f"runs/{self.run_.pk}")
        for path in (f"runs/{self.run_.pk}", f"runs/{self.run_.pk}/comparison", f"trials/{self.ledger.id}",
                     f"runs/{self.run_.pk}/changes", f"runs/{self.run_.pk}/results.csv"):  # fmt: skip
            with self.subTest(path):
                self.assertEqual(self.api.call("GET", path)[0], 404)
        self.assertEqual(self.api.get("runs"), [])
        (gone,) = self.api.get("removed")
        self.assertEqual((gone["what"], gone["id"], gone["of"]), ("run", self.run_.pk, "9 Knot"))
        self.bring_back(f"runs/{self.run_.pk}")
        self.assertEqual(self.api.get("removed"), [])
        self.assertEqual(self.state()["designs"], before["designs"])
        self.assertEqual(self.api.get(f"runs/{self.run_.pk}/comparison"), comparison)

    def test_its_board_is_closed_and_its_recipe_does_not_count_it(self) -> None:
        token = self.api.send("PUT", f"runs/{self.run_.pk}/board", {"action": "open"})["token"]
        self.assertEqual(Api().call("GET", f"boards/{token}")[0], 200)
        self.assertEqual(self.api.get("recipes")[0]["run_count"], 1)
        self.remove(f"runs/{self.run_.pk}")
        self.assertEqual(Api().call("GET", f"boards/{token}")[0], 404)
        self.assertEqual(self.api.get("recipes")[0]["run_count"], 0)
        self.bring_back(f"runs/{self.run_.pk}")
        self.assertEqual(Api().call("GET", f"boards/{token}")[0], 200)

    def test_an_entry_for_a_trial_of_a_deleted_design_is_not_written(self) -> None:
        self.remove(f"designs/{self.tern.pk}")
        self.assertEqual(self.ledger.post(self.ledger.event("note", text="late"))[0], 404)
        self.assertEqual(LedgerEvent.objects.filter(kind="note").count(), 0)

    def test_a_class_goes_with_its_teams_and_runs_and_its_name_is_free(self) -> None:
        pk = self.run_.school_class_id
        self.remove(f"classes/{pk}")
        self.assertEqual((self.api.get("classes"), self.api.get("runs")), ([], []))
        self.assertEqual([row["what"] for row in self.api.get("removed")], ["class"])
        self.api.send("POST", "classes", {"name": "9 Knot"})
        status, answer = self.api.refused("PUT", f"classes/{pk}/removed", {"removed": False})
        self.assertEqual((status, answer["code"]), (400, "name_taken"))
        self.remove(f"classes/{self.api.get('classes')[0]['id']}")
        self.bring_back(f"classes/{pk}")
        self.assertEqual([team["name"] for team in self.api.get("classes")[0]["teams"]], ["Tern", "Auk"])
        self.assertEqual(len(self.state()["designs"]), 2)

    def test_what_was_deleted_before_its_class_stays_deleted_when_that_comes_back(self) -> None:
        self.remove(f"teams/{self.auk.team_id}")
        self.remove(f"classes/{self.run_.school_class_id}")
        status, answer = self.api.refused("PUT", f"teams/{self.auk.team_id}/removed", {"removed": False})
        self.assertEqual((status, answer["code"]), (400, "gone_with"))
        self.bring_back(f"classes/{self.run_.school_class_id}")
        self.assertEqual([team["name"] for team in self.api.get("classes")[0]["teams"]], ["Tern"])
        self.bring_back(f"teams/{self.auk.team_id}")
        self.assertEqual(self.states(), ["broke", "waiting"])

    def test_the_last_team_stays(self) -> None:
        self.remove(f"teams/{self.auk.team_id}")
        status, answer = self.api.refused("PUT", f"teams/{self.tern.team_id}/removed", {"removed": True})
        self.assertEqual((status, answer["code"]), (400, "last_team"))
        self.assertEqual(self.states(), ["broke"])

    def test_a_version_that_another_came_from_stays_till_that_is_gone(self) -> None:
        later = self.api.send("POST", f"designs/{self.tern.pk}/next-version", {"changed": "deeper pleats"})
        second = Design.objects.get(version=2)
        self.assertIn("deeper pleats", str(later))
        status, answer = self.api.refused("PUT", f"designs/{self.tern.pk}/removed", {"removed": True})
        self.assertEqual((status, answer["code"]), (400, "later_version"))
        self.remove(f"designs/{second.pk}")
        # Its place is free for another one, and then it cannot come back.
        self.api.send("POST", f"designs/{self.tern.pk}/next-version", {"changed": "double walls"})
        self.assertEqual(
            self.api.refused("PUT", f"designs/{second.pk}/removed", {"removed": False})[1]["code"], "name_taken"
        )

    def test_a_team_whose_design_was_deleted_can_be_put_into_the_run_again(self) -> None:
        self.remove(f"designs/{self.auk.pk}")
        self.assertEqual(self.state()["missing_teams"], 1)
        self.api.send("POST", f"runs/{self.run_.pk}/teams")
        self.assertEqual(self.states(), ["broke", "waiting"])

    def test_a_recipe_goes_and_its_runs_stay(self) -> None:
        self.remove(f"recipes/{self.run_.recipe_id}")
        self.assertEqual(self.api.get("recipes"), [])
        self.assertEqual(self.states(), ["broke", "waiting"])
        self.bring_back(f"recipes/{self.run_.recipe_id}")
        self.assertEqual(len(self.api.get("recipes")), 1)

    def test_twice_is_once(self) -> None:
        first = self.remove(f"runs/{self.run_.pk}")
        self.assertEqual(self.remove(f"runs/{self.run_.pk}"), first)
        self.bring_back(f"runs/{self.run_.pk}")
        self.bring_back(f"runs/{self.run_.pk}")
        self.assertEqual(self.states(), ["broke", "waiting"])

    def test_an_account_goes_with_all_that_is_its_and_nothing_of_anybody_else(self) -> None:
        bea = teacher("Bea")
        theirs = run(bea)
        with tempfile.TemporaryDirectory() as folder, override_settings(MEDIA_ROOT=folder):
            keep_photo(self.tern, ContentFile(picture()), "design")
            keep_photo(theirs.designs.all()[0], ContentFile(picture()), "design")
            # A second version stands on the first, and something is deleted already.
            self.api.send("POST", f"designs/{self.tern.pk}/next-version", {"changed": "deeper pleats"})
            self.remove(f"designs/{self.auk.pk}")
            Teacher.objects.filter(pk=self.ada.pk).update(
                leaving_at=timezone.now() - timedelta(days=KEPT_DAYS, hours=1)
            )
            self.assertEqual(tidy(), 1)
            self.assertEqual(len(list(Path(folder).rglob("*.jpg"))), 1)
        self.assertEqual([left.pk for left in Teacher.objects.all()], [bea.pk])
        for model in (SchoolClass, Recipe):
            self.assertEqual(set(model.with_removed.values_list("owner", flat=True)), {bea.pk})
        self.assertEqual({design.run_id for design in Design.with_removed.all()}, {theirs.pk})
        self.assertEqual((LedgerEvent.objects.count(), Photo.objects.count()), (0, 1))

    def test_what_is_past_its_time_goes_though_nobody_looks(self) -> None:
        self.remove(f"runs/{self.run_.pk}")
        tidy()
        self.assertEqual(Design.with_removed.count(), 2)
        old = timezone.now() - timedelta(days=KEPT_DAYS, hours=1)
        for model in (Design, type(self.run_)):
            model.with_removed.update(removed_at=old)
        self.assertEqual(tidy(), 0)
        self.assertEqual((Design.with_removed.count(), Team.objects.count()), (0, 2))

    def test_it_is_kept_for_a_while_and_then_gone_with_its_pictures(self) -> None:
        with tempfile.TemporaryDirectory() as folder, override_settings(MEDIA_ROOT=folder):
            keep_photo(self.tern, ContentFile(picture()), "design")
            self.assertEqual(len(list(Path(folder).rglob("*.jpg"))), 1)
            self.remove(f"classes/{self.run_.school_class_id}")
            moment = timezone.now() - timedelta(days=KEPT_DAYS)
            for model in (SchoolClass, Team, Design, type(self.run_)):
                model.with_removed.filter(removed_at__isnull=False).update(removed_at=moment + timedelta(hours=1))
            self.assertEqual(len(self.api.get("removed")), 1)
            for model in (SchoolClass, Team, Design, type(self.run_)):
                model.with_removed.filter(removed_at__isnull=False).update(removed_at=moment - timedelta(hours=1))
            forget_old(self.ada)
            self.assertEqual(self.api.get("removed"), [])
            left = [model.with_removed.count() for model in (SchoolClass, Team, Design)]
            self.assertEqual((left, Trial.with_rehearsals.count(), Photo.objects.count()), ([0, 0, 0], 0, 0))
            self.assertEqual(list(Path(folder).rglob("*.jpg")), [])


class Away(Tested):
    def away(self, why: str) -> Any:
        return self.api.send("PUT", f"designs/{self.auk.pk}/away", {"away": why})

    def told(self) -> tuple[list[Any], str]:
        comparison = self.api.get(f"runs/{self.run_.pk}/comparison")
        return [(row["team"]["name"], row["sentence"]) for row in comparison["unranked"]], comparison["explanation"]

    def test_a_team_that_is_absent_is_not_still_to_be_tested(self) -> None:
        self.assertIn("still to be tested", self.told()[1])
        self.assertEqual(self.away("absent")["state"], "absent")
        unranked, explanation = self.told()
        self.assertEqual(unranked, [("Auk", "Absent that day.")])
        self.assertNotIn("still to be tested", explanation)
        deck = {bay["key"]: bay["note"] for bay in self.state()["deck"]}
        self.assertEqual((deck["check-in"], deck["bench"]), ("1 of 1", "1 of 1"))

    def test_who_comes_late_is_checked_in_and_is_there(self) -> None:
        self.away("absent")
        self.auk.refresh_from_db()
        checked_in(self.auk)
        self.assertEqual(self.states(), ["broke", "checked_in"])

    def test_who_is_tested_after_all_is_there(self) -> None:
        checked_in(self.auk)
        self.away("withdrawn")
        self.assertEqual(self.states(), ["broke", "withdrawn"])
        Ledger(self.api, self.auk)
        self.assertEqual(self.states(), ["broke", "on_bench"])

    def test_a_result_stands_when_its_team_leaves(self) -> None:
        self.api.send("PUT", f"designs/{self.tern.pk}/away", {"away": "withdrawn"})
        self.assertEqual(self.states(), ["broke", "waiting"])

    def test_there_are_two_reasons_only(self) -> None:
        self.assertEqual(self.api.refused("PUT", f"designs/{self.auk.pk}/away", {"away": "asleep"})[0], 400)


class Tryout(Tested):
    def test_a_run_that_was_only_tried_out_says_nothing_over_the_years(self) -> None:
        assert self.run_.recipe is not None
        next_year = open_run(self.run_.recipe, self.run_.school_class, date(2027, 11, 3))
        self.assertEqual([run.pk for run, _ in past_of(next_year, before_only=True).runs], [self.run_.pk])
        self.api.send("PUT", f"runs/{self.run_.pk}/tryout", {"tryout": True})
        self.assertEqual(past_of(next_year, before_only=True).runs, [])
        self.assertTrue(self.api.get("runs")[-1]["tryout"])
        self.api.send("PUT", f"runs/{self.run_.pk}/tryout", {"tryout": False})
        self.assertEqual(len(past_of(next_year, before_only=True).runs), 1)


class ForgottenLoad(Tested):
    BOLT = {"name": "bolt", "shape": "nut", "count": 8, "batch_count": 4, "batch_mass": "200 g",
            "scale_resolution": "1 g"}  # fmt: skip

    def test_it_is_there_at_once_and_what_was_tested_stands(self) -> None:
        before = self.state()["designs"][0]["trials"]
        state = self.api.send("POST", f"runs/{self.run_.pk}/load", self.BOLT)
        self.assertEqual([item["name"] for item in state["run"]["kit"]], ["tray", "nut", "bolt"])
        self.assertEqual(state["designs"][0]["trials"], before)
        ledger = Ledger(self.api, checked_in(self.auk))
        ledger.hold("platform")
        # Four of them weigh 200 g; the tray 40 g.
        self.assertAlmostEqual(ledger.hold("bolt", 2)["state"]["result"]["held_kg"], 0.140)
        assert self.run_.recipe is not None
        self.assertEqual(len(Recipe.objects.get(pk=self.run_.recipe.pk).kit), 2)

    def test_what_cannot_be_is_said_at_its_field(self) -> None:
        path = f"runs/{self.run_.pk}/load"
        for change, field in (({"name": "Nut"}, "name"), ({"batch_mass": "heavy"}, "batch_mass"),
                              ({"batch_count": 0}, "batch_count"), ({"count": 0}, "count")):  # fmt: skip
            with self.subTest(change):
                status, answer = self.api.refused("POST", path, {**self.BOLT, **change})
                self.assertEqual((status, list(answer["fields"])), (400, [field]))
        plate = {**self.BOLT, "name": "plate", "shape": "platform", "count": 1}
        self.assertEqual(self.api.refused("POST", path, plate)[1]["code"], "platform_too_late")
        self.assertEqual(len(self.state()["run"]["kit"]), 2)
