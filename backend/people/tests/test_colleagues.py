"""Colleagues in a class: who comes in by what, what each part may, who did what, and what is left of it."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.test import TestCase, override_settings
from django.urls import get_resolver
from django.utils import timezone

from bench.models import LedgerEvent
from designs.build_services import keep_draft
from designs.models import Reading
from drafting.models import ClassCorrection, OwnStock
from girder_core.drafting import draft_kind, start_values
from people.deeds import KEPT, NOT_NOTED, forget_old
from people.models import ClassInvitation, Colleague, Deed, SchoolClass, Teacher
from people.tests.support import Api, Ledger, checked_in, run, school_class, teacher
from people.tests.test_policy import routes
from runs.deed_selectors import WORDS


class Together(TestCase):
    def setUp(self) -> None:
        self.ada, self.bea = teacher("Ada"), teacher("Bea")
        self.run_ = run(self.ada, teams=("Tern", "Auk"))
        self.tern, self.auk = self.run_.designs.select_related("team")
        self.school_class = self.run_.school_class
        self.api, self.hers = Api(self.ada), Api(self.bea)
        self.path = f"classes/{self.school_class.pk}/colleagues"

    def invited(self, part: str = "helper") -> str:
        return str(self.api.send("POST", self.path, {"part": part})["made"]["code"])

    def come_in(self, part: str = "helper", who: Api | None = None) -> Colleague:
        (who or self.hers).send("POST", "invited", {"code": self.invited(part), "accept": True})
        return Colleague.objects.latest("since")

    def reading(self, who: Api, text: str = "30 cm") -> tuple[int, Any]:
        body = {"key": "gap", "text": text, "resolution_text": "1 mm"}
        status, response = who.call("POST", f"designs/{self.tern.pk}/readings", body)
        return status, response


class Invitations(Together):
    def test_looked_at_first_then_used_once(self) -> None:
        code = self.invited("lead")
        seen = self.hers.send("POST", "invited", {"code": code.upper().replace("-", " ")})
        self.assertEqual(
            (seen["class_name"], seen["by"], seen["part"], seen["accepted"]), ("9 Knot", "Ada", "lead", False)
        )
        self.assertEqual(self.hers.get("classes"), [])
        self.hers.send("POST", "invited", {"code": code, "accept": True})
        (listed,) = self.hers.get("classes")
        self.assertEqual((listed["part"], listed["owner_name"]), ("lead", "Ada"))
        for who in (self.hers, Api(teacher("Cleo"))):
            self.assertEqual(who.refused("POST", "invited", {"code": code})[1]["code"], "bad_code")

    def test_it_is_good_for_two_weeks_and_can_be_taken_back(self) -> None:
        code = self.invited()
        kept = ClassInvitation.objects.get()
        self.assertNotIn(code, str(vars(kept)))
        self.assertAlmostEqual((kept.until - timezone.now()).days, 13, delta=1)
        self.api.send("DELETE", f"invitations/{kept.pk}")
        self.assertEqual(self.hers.refused("POST", "invited", {"code": code})[1]["code"], "bad_code")
        late = self.invited()
        ClassInvitation.objects.update(until=timezone.now() - timedelta(seconds=1))
        self.assertEqual(self.hers.refused("POST", "invited", {"code": late})[1]["code"], "bad_code")

    def test_ones_own_class_a_deleted_one_and_one_whose_teacher_leaves(self) -> None:
        code = self.invited()
        self.assertEqual(self.api.refused("POST", "invited", {"code": code, "accept": True})[1]["code"], "own_class")
        self.assertEqual(ClassInvitation.objects.count(), 1, "it is not used up by that")
        for model, field in ((SchoolClass.with_removed, "removed_at"), (Teacher.objects, "leaving_at")):
            model.filter(**({"pk": self.ada.pk} if field == "leaving_at" else {})).update(**{field: timezone.now()})
            self.assertEqual(self.hers.refused("POST", "invited", {"code": code})[1]["code"], "bad_code", field)
            model.update(**{field: None})

    def test_guessing_has_an_end(self) -> None:
        for _ in range(20):
            self.hers.refused("POST", "invited", {"code": "aaaa-bbbb-cccc-dddd-eeee"})
        self.assertEqual(self.hers.refused("POST", "invited", {"code": self.invited()})[0], 429)

    @override_settings(SIGN_UP="invited")
    def test_it_makes_an_account_too_and_one_only(self) -> None:
        code = self.invited("observer")
        body = {"email": "cleo@school.example", "name": "Cleo", "password": "a kettle of fish", "code": code}
        self.assertEqual(Api().call("POST", "teachers", body)[0], 202)
        self.assertEqual(
            Api().refused("POST", "teachers", {**body, "email": "dag@school.example"})[1]["code"], "bad_code"
        )
        cleo = Api(Teacher.objects.get(email="cleo@school.example"))
        cleo.send("POST", "invited", {"code": code, "accept": True})
        self.assertEqual(cleo.get("classes")[0]["part"], "observer")

    def test_there_is_an_end_of_them(self) -> None:
        for _ in range(20):
            self.invited()
        self.assertEqual(self.api.refused("POST", self.path, {"part": "lead"})[1]["code"], "too_many")


class Parts(Together):
    def test_an_observer_reads_and_changes_nothing(self) -> None:
        self.come_in("observer")
        for path in ("", "/comparison", "/plan", "/results.csv", "/changes"):
            self.assertEqual(self.hers.call("GET", f"runs/{self.run_.pk}{path}")[0], 200, path)
        self.assertEqual([one["id"] for one in self.hers.get("runs")], [self.run_.pk])
        status, answer = self.reading(self.hers)
        self.assertEqual((status, answer["code"]), (403, "not_your_part"))
        self.assertEqual(answer["sentence"], "You look on in 9 Knot. For this, ask Ada.")
        self.assertEqual(Reading.objects.count(), 0)
        self.assertEqual(self.hers.call("GET", f"classes/{self.school_class.pk}/deeds")[0], 403)

    def test_a_helper_checks_in_and_tests_and_plans_nothing(self) -> None:
        self.come_in("helper")
        self.assertEqual(self.reading(self.hers)[0], 200)
        ledger = Ledger(self.hers, checked_in(self.tern))
        ledger.hold("platform")
        ledger.add("fail", mode="snap")
        self.assertEqual({event.author for event in LedgerEvent.objects.all()}, {"Bea"})
        for method, path, body in (
            ("PUT", f"runs/{self.run_.pk}/build-clock", {"action": "start"}),
            ("PUT", f"runs/{self.run_.pk}/door", {"action": "open"}),
            ("POST", f"designs/{self.tern.pk}/next-version", {"changed": "x"}),
            ("POST", self.path, {"part": "lead"}),
        ):
            status, answer = self.hers.refused(method, path, body)
            self.assertEqual((status, answer["code"]), (403, "not_your_part"), path)
            self.assertIn("You help in 9 Knot", answer["sentence"])

    def test_a_lead_does_all_but_giving_away_and_deleting_the_class(self) -> None:
        theirs = self.come_in("lead")
        self.hers.send("PUT", f"runs/{self.run_.pk}/build-clock", {"action": "start"})
        self.hers.send("POST", f"classes/{self.school_class.pk}/teams", {"name": "Rail"})
        self.hers.send("POST", self.path, {"part": "observer"})
        for path, body in (("removed", {"removed": True}), ("owner", {"colleague": theirs.pk})):
            status, answer = self.hers.refused("PUT", f"classes/{self.school_class.pk}/{path}", body)
            self.assertEqual((status, answer["code"]), (403, "not_your_part"), path)
        # What is of the teacher's own, and of no class, is nobody else's.
        self.assertEqual(self.hers.call("GET", f"recipes/{self.run_.recipe_id}")[0], 404)

    def test_another_part_counts_from_the_next_request_on(self) -> None:
        theirs = self.come_in("observer")
        self.api.send("PUT", f"colleagues/{theirs.pk}", {"part": "helper"})
        self.assertEqual(self.reading(self.hers)[0], 200)
        self.api.send("PUT", f"colleagues/{theirs.pk}", {"part": "observer"})
        self.assertEqual(self.reading(self.hers)[0], 403)

    def test_a_part_in_one_class_is_none_in_another(self) -> None:
        self.come_in("lead")
        SchoolClass.objects.update(name="9 Knot, last year")
        other = run(self.ada)
        self.assertEqual(self.hers.call("GET", f"runs/{other.pk}")[0], 404)
        self.assertEqual(self.hers.call("GET", f"designs/{other.designs.all()[0].pk}/draft-start")[0], 404)

    def test_who_looks_on_shows_the_team_nothing(self) -> None:
        self.come_in("observer")
        self.api.send("POST", f"designs/{self.tern.pk}/prediction", {"text": "700 g"})
        kind = self.hers.get(f"designs/{self.tern.pk}/draft-start")
        body = {"kind": kind["kinds"][0], "typed": kind["start"][kind["kinds"][0]], "moves": {}}
        self.assertIsNotNone(self.hers.send("POST", f"designs/{self.tern.pk}/draft", body)["prediction"])
        self.tern.refresh_from_db()
        self.assertIsNone(self.tern.model_shown_at)


class Ends(Together):
    def test_removed_in_the_middle_of_a_trial(self) -> None:
        theirs = self.come_in("helper")
        ledger = Ledger(self.hers, checked_in(self.tern))
        ledger.hold("platform")
        count = LedgerEvent.objects.count()
        self.api.send("DELETE", f"colleagues/{theirs.pk}")
        event = ledger.event("place", item="nut", count=1)
        status, answer = self.hers.refused(
            "POST", f"trials/{ledger.id}/events", {"bench": ledger.bench, "events": [event]}
        )
        self.assertEqual((status, answer["code"]), (403, "out_of_class"))
        self.assertEqual(
            answer["sentence"],
            "You are not in 9 Knot any more. What was not sent yet stays on this device; ask Ada.",
        )
        self.assertEqual(LedgerEvent.objects.count(), count)
        # The trial is there, and goes on with its own teacher, as it was.
        taken = self.api.send(
            "POST",
            f"trials/{ledger.id}/take-over",
            {"bench": str(self.run_.pk).rjust(8, "0") + "-0000-4000-8000-000000000000"},
        )
        self.assertEqual(taken["result"]["next_sequence"], count + 1)
        self.assertEqual(self.hers.get("classes"), [])

    def test_what_one_was_invited_by_who_leads_no_more_opens_nothing(self) -> None:
        for ends in (("DELETE", None), ("PUT", {"part": "helper"})):
            theirs = self.come_in("lead")
            code = self.hers.send("POST", self.path, {"part": "lead"})["made"]["code"]
            kept = self.invited("observer")
            self.api.send(ends[0], f"colleagues/{theirs.pk}", ends[1])
            cleo = Api(teacher(f"Cleo{ends[0]}"))
            self.assertEqual(cleo.refused("POST", "invited", {"code": code, "accept": True})[1]["code"], "bad_code")
            # What others invited stays good.
            cleo.send("POST", "invited", {"code": kept})

    def test_leaving_of_oneself_and_coming_back(self) -> None:
        self.come_in("helper")
        self.assertEqual(self.hers.call("DELETE", self.path)[0], 204)
        self.assertEqual(self.hers.call("GET", f"runs/{self.run_.pk}")[0], 403)
        self.come_in("observer")
        self.assertEqual(self.hers.get(self.path)["part"], "observer")
        self.assertEqual(Colleague.objects.count(), 1)
        self.assertEqual(self.api.refused("DELETE", self.path)[1]["code"], "own_class")

    def test_a_teacher_who_deletes_the_account_shuts_the_class(self) -> None:
        self.come_in("lead")
        Teacher.objects.filter(pk=self.ada.pk).update(leaving_at=timezone.now())
        self.assertEqual(self.hers.get("runs"), [])
        self.assertEqual(self.hers.call("GET", f"runs/{self.run_.pk}")[0], 404)


class HandedOver(Together):
    def hand_over(self, to: Colleague) -> None:
        body = {"colleague": to.pk}
        self.assertEqual(self.api.call("PUT", f"classes/{self.school_class.pk}/owner", body)[0], 204)

    def test_all_goes_along_and_who_gave_it_leads_it(self) -> None:
        theirs = self.come_in("helper")
        self.hand_over(theirs)
        self.assertEqual(self.hers.get("classes")[0]["part"], "owner")
        self.assertEqual(self.api.get("classes")[0]["part"], "lead")
        for who in (self.hers, self.api):
            self.assertEqual(who.get(f"runs/{self.run_.pk}")["run"]["name"], "Test gangway")
        self.assertEqual(self.api.call("PUT", f"classes/{self.school_class.pk}/removed", {"removed": True})[0], 403)
        self.assertEqual(self.hers.call("PUT", f"classes/{self.school_class.pk}/removed", {"removed": True})[0], 200)

    def test_a_class_of_the_same_name_there_already(self) -> None:
        school_class(self.bea)
        theirs = self.come_in("lead")
        self.hand_over(theirs)
        self.assertEqual({one["name"] for one in self.hers.get("classes")}, {"9 Knot", "9 Knot (Ada)"})

    def test_drafts_of_a_sheet_of_ones_own_go_on(self) -> None:
        own = OwnStock.objects.create(
            owner=self.ada, name="ours", like="manila", grammage_kg_m2=0.2, thickness_m=2.6e-4
        )
        kind = draft_kind("sheet_bridge")
        sheet_key = next(param.key for param in kind.params if param.forms)
        typed = {**start_values(kind, self.run_.setup, {}, self.run_.system()), sheet_key: own.key}
        keep_draft(self.tern, "sheet_bridge", typed, {})
        ClassCorrection.objects.create(
            school_class=self.school_class, family="bridge", material=own.key, count=3, measured=0.8, correction=0.8,
            scatter_log=0.1, doubt_log=0.1,
        )  # fmt: skip
        before = self.api.get(f"runs/{self.run_.pk}")["designs"][0]["draft"]["mass_kg"]
        theirs = self.come_in("lead")
        self.hand_over(theirs)
        copied = OwnStock.objects.get(owner=self.bea)
        draft = self.hers.get(f"runs/{self.run_.pk}")["designs"][0]["draft"]
        self.assertEqual(
            (draft["material"], draft["typed"][sheet_key], draft["mass_kg"]), (copied.key, copied.key, before)
        )
        self.assertEqual(ClassCorrection.objects.get().material, copied.key)
        worked = {"kind": "sheet_bridge", "typed": draft["typed"], "moves": {}}
        self.assertEqual(self.hers.call("POST", f"designs/{self.tern.pk}/draft", worked)[0], 200)
        self.assertTrue(OwnStock.objects.filter(pk=own.pk, owner=self.ada).exists(), "the giver keeps it as well")

    def test_only_to_somebody_who_is_in_it(self) -> None:
        answer = self.api.refused("PUT", f"classes/{self.school_class.pk}/owner", {"colleague": 77})[1]
        self.assertEqual(answer["code"], "no_colleague")


class WhoDidWhat(Together):
    def deeds(self) -> list[tuple[str, str, str]]:
        found = self.api.get(f"classes/{self.school_class.pk}/deeds")
        return [(deed["name"], deed["words"], deed["about"]) for deed in found]

    def test_it_stands_there_with_name_and_thing(self) -> None:
        self.come_in("helper")
        self.reading(self.hers)
        self.reading(self.hers, "no number")
        self.api.send("PUT", f"designs/{self.auk.pk}/away", {"away": "absent"})
        self.hers.send("PATCH", f"designs/{self.tern.pk}", {"note": "tubes"})
        self.assertEqual(
            self.deeds(),
            [
                ("Bea", "wrote what the team tries", "Tern, Test gangway"),
                ("Ada", "said who is away", "Auk, Test gangway"),
                ("Bea", "took a reading", "Tern, Test gangway"),
            ],
        )

    def test_a_trial_names_its_own_writers_and_is_not_told_twice(self) -> None:
        self.come_in("helper")
        ledger = Ledger(self.hers, checked_in(self.tern))
        ledger.hold("platform")
        self.assertEqual(self.deeds()[0][:2], ("Bea", "began a test"))

    def test_what_only_works_something_out_is_not_noted(self) -> None:
        self.come_in("lead")
        kind = self.hers.get(f"designs/{self.tern.pk}/draft-start")
        body = {"kind": kind["kinds"][0], "typed": kind["start"][kind["kinds"][0]], "moves": {}}
        for who in (self.api, self.hers):
            self.assertEqual(who.call("POST", f"designs/{self.tern.pk}/draft", body)[0], 200)
        self.assertEqual(Deed.objects.count(), 0)

    def test_who_works_alone_is_not_noted(self) -> None:
        self.reading(self.api)
        self.assertEqual(Deed.objects.count(), 0)

    def test_it_is_forgotten_after_a_school_year(self) -> None:
        self.come_in("helper")
        self.reading(self.hers)
        forget_old()
        self.assertEqual(Deed.objects.count(), 1)
        Deed.objects.update(at=timezone.now() - KEPT - timedelta(days=1))
        forget_old()
        self.assertEqual(Deed.objects.count(), 0)

    def test_every_change_in_a_class_has_words_and_no_words_are_left_over(self) -> None:
        self.assertEqual(set(WORDS), noted())


WRITES = ("POST", "PUT", "PATCH", "DELETE")


def noted() -> set[str]:
    """Every change that can be noted, by view and method, as the addresses have them."""

    found: set[str] = set()
    shared = ("classes", "teams", "runs", "designs", "photos", "trials", "colleagues", "invitations")
    for route in routes():
        if route.split("/")[0] in shared:
            path = "/api/" + route.replace("<int:pk>", "1").replace("<uuid:pk>", "00000000-0000-4000-8000-000000000000")
            view = getattr(get_resolver().resolve(path.replace("<slug:document>", "brief")).func, "view_class", None)
            if view is not None:
                found |= {
                    f"{view.__name__}.{m.upper()}" for m in ("post", "put", "patch", "delete") if hasattr(view, m)
                }
    # What makes a class or brings a run into one's own belongs to nobody else yet.
    return found - NOT_NOTED - {"ClassListView.POST", "RunImportView.POST"}
