"""Schools apart: joining by a code, administering, and what is nobody's business there."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.test import Client, TestCase, override_settings
from django.utils import timezone

from girder_core.ground import GirderError
from people import schools
from people.accounts import invitation
from people.colleagues import invite as invite_colleague
from people.models import LEAD, Code, Colleague, School, Teacher
from people.policy import owned
from people.tests.support import PASSWORD, Api, run, teacher


def administrator(school: School, name: str = "Ada") -> Teacher:
    made = teacher(name)
    schools.settle(made, school, administers=True)
    return made


def member(school: School, name: str) -> Teacher:
    made = teacher(name)
    schools.settle(made, school)
    return made


def join(code: str, name: str = "Bea") -> tuple[int, Any]:
    body = {"email": f"{name.lower()}@school.example", "name": name, "password": PASSWORD, "code": code}
    answer = Client().post("/api/teachers", body, content_type="application/json")
    return answer.status_code, answer.json()


class Joining(TestCase):
    def setUp(self) -> None:
        self.school = schools.add_school("Skerry School")
        self.ada = administrator(self.school)

    def test_an_invitation_makes_an_account_in_the_school_once(self) -> None:
        for mode in ("open", "invited", "closed"):
            with self.subTest(mode), override_settings(SIGN_UP=mode):
                code = schools.invite(self.school, self.ada)
                self.assertEqual(join(code, f"Bea{mode}")[0], 202)
                self.assertEqual(Teacher.objects.get(name=f"Bea{mode}").school, self.school)
                self.assertFalse(Teacher.objects.get(name=f"Bea{mode}").administers)
                self.assertIn(join(code, f"Cas{mode}")[1]["code"], ("bad_code", "joining_closed"))
        code = invitation(self.school, administers=True)
        join(code, "Dan")
        self.assertTrue(Teacher.objects.get(name="Dan").administers)

    def test_without_a_code_an_account_is_in_no_school_and_a_wrong_one_makes_none(self) -> None:
        self.assertEqual(join("", "Bea")[0], 202)
        self.assertIsNone(Teacher.objects.get(name="Bea").school)
        self.assertEqual(join("abcd-efgh", "Cas")[1]["code"], "bad_code")
        self.assertFalse(Teacher.objects.filter(name="Cas").exists())
        with override_settings(SIGN_UP="closed"):
            # A code of whoever runs the server is no school's.
            self.assertEqual(join(invitation(), "Cas")[1]["code"], "joining_closed")

    def test_who_has_an_account_joins_with_it_and_takes_along_what_is_theirs(self) -> None:
        bea = teacher("Bea")
        own = run(bea)
        api = Api(bea)
        code = schools.invite(self.school, self.ada)
        page = api.send("POST", "school", {"code": code.upper().replace("-", " ")})
        self.assertEqual(page["school"]["name"], "Skerry School")
        self.assertEqual([one["id"] for one in api.get("runs")], [own.pk])
        self.assertEqual(api.refused("POST", "school", {"code": code})[1]["code"], "other_school")
        cas = Api(teacher("Cas"))
        self.assertEqual(cas.refused("POST", "school", {"code": code})[1]["code"], "bad_code")
        # A code that makes an account, or sets a password, is no way into a school, and is not used up by trying.
        plain = invitation()
        self.assertEqual(cas.refused("POST", "school", {"code": plain})[1]["code"], "bad_code")
        self.assertTrue(Code.objects.filter(school=None, teacher=None).exists())
        reset = schools.new_password_for(bea, self.ada)
        self.assertEqual(cas.refused("POST", "school", {"code": reset})[1]["code"], "bad_code")

    def test_an_invitation_into_a_class_leads_into_its_school(self) -> None:
        code = invite_colleague(run(self.ada).school_class, self.ada, LEAD)
        with override_settings(SIGN_UP="invited"):
            self.assertEqual(join(code, "Bea")[0], 202)
        bea = Teacher.objects.get(name="Bea")
        self.assertEqual(bea.school, self.school)
        self.assertTrue(Api(bea).send("POST", "invited", {"code": code, "accept": True})["accepted"])

    def test_guesses_are_counted(self) -> None:
        api = Api(teacher("Bea"))
        answers = [api.refused("POST", "school", {"code": f"guess-{n}"})[1]["code"] for n in range(25)]
        self.assertEqual(set(answers), {"bad_code", "too_many_tries"})

    def test_old_invitations_do_not_work_and_can_be_taken_back(self) -> None:
        api = Api(self.ada)
        made = api.send("POST", "school/invitations", {"administers": False})
        self.assertIn(made["made"]["code"], made["made"]["address"])
        [waiting] = made["school"]["invitations"]
        Code.objects.update(until=timezone.now() - timedelta(seconds=1))
        self.assertEqual(join(made["made"]["code"])[1]["code"], "bad_code")
        self.assertEqual(api.get("school")["school"]["invitations"], [])
        again = api.send("POST", "school/invitations", {"administers": False})
        [waiting] = again["school"]["invitations"]
        self.assertEqual(api.send("DELETE", f"school-invitations/{waiting['id']}")["school"]["invitations"], [])
        self.assertEqual(join(again["made"]["code"])[1]["code"], "bad_code")


class Apart(TestCase):
    def setUp(self) -> None:
        self.here, self.there = schools.add_school("Skerry School"), schools.add_school("Voe School")
        self.ada, self.bea = administrator(self.here, "Ada"), administrator(self.there, "Bea")

    def test_no_class_is_shared_across_schools(self) -> None:
        own = run(self.ada)
        code = invite_colleague(own.school_class, self.ada, LEAD)
        status, answer = Api(self.bea).refused("POST", "invited", {"code": code, "accept": True})
        self.assertEqual((status, answer["code"]), (400, "other_school"))
        # Also a part that came about in another way opens nothing.
        Colleague.objects.create(school_class=own.school_class, teacher=self.bea, part=LEAD)
        self.assertEqual(Api(self.bea).call("GET", f"runs/{own.pk}")[0], 404)
        self.assertEqual(Api(self.bea).get("runs"), [])
        self.assertFalse(owned(type(own).objects.all(), self.bea).exists())

    def test_who_joins_a_school_leaves_what_was_shared_out_of_it(self) -> None:
        cas, dan = teacher("Cas"), teacher("Dan")
        theirs, own = run(dan), run(cas)
        Colleague.objects.create(school_class=theirs.school_class, teacher=cas, part=LEAD)
        Colleague.objects.create(school_class=own.school_class, teacher=dan, part=LEAD)
        self.assertEqual(len(Api(cas).get("runs")), 2)
        schools.settle(cas, self.here)
        self.assertEqual([one["id"] for one in Api(cas).get("runs")], [own.pk])
        self.assertEqual([one["id"] for one in Api(dan).get("runs")], [theirs.pk])
        self.assertFalse(Colleague.objects.filter(ended_at=None).exists())

    def test_an_administrator_sees_counts_and_nothing_of_anybodys_classes(self) -> None:
        cas = member(self.here, "Cas")
        own = run(cas)
        api = Api(self.ada)
        page = api.get("school")["school"]
        self.assertEqual(page["counts"], {"teachers": 2, "classes": 1, "runs": 1, "tests": 0, "shared": 0})
        line = next(one for one in page["teachers"] if one["name"] == "Cas")
        self.assertEqual((line["class_count"], line["run_count"], line["test_count"]), (1, 1, 0))
        told = str(page)
        for word in (own.name, own.school_class.name, *(team.name for team in own.school_class.teams.all())):
            self.assertNotIn(word, told)
        for path in (f"runs/{own.pk}", f"classes/{own.school_class_id}/colleagues", f"recipes/{own.recipe_id}"):
            self.assertEqual(api.call("GET", path)[0], 404)

    def test_of_another_school_there_is_nothing(self) -> None:
        cas = member(self.there, "Cas")
        code = Code.objects.create(mixed="x", school=self.there, until=timezone.now() + timedelta(days=1))
        api = Api(self.ada)
        for method, path, body in (
            ("PATCH", f"school-teachers/{cas.pk}", {"administers": True}),
            ("PUT", f"school-teachers/{cas.pk}", {"let_in": False}),
            ("POST", f"school-teachers/{cas.pk}/reset-code", {}),
            ("DELETE", f"school-invitations/{code.pk}", {}),
        ):
            with self.subTest(path, method=method):
                self.assertEqual(api.call(method, path, body)[0], 404)
        self.assertTrue(Teacher.objects.get(pk=cas.pk).is_active)
        self.assertNotIn("Cas", str(api.get("school")))


class Administering(TestCase):
    def setUp(self) -> None:
        self.school = schools.add_school("Skerry School", "Sound District")
        self.ada, self.bea = administrator(self.school), member(self.school, "Bea")
        self.api = Api(self.ada)

    def test_nobody_else_does_what_an_administrator_does(self) -> None:
        for who in (self.bea, teacher("Mallory")):
            api = Api(who)
            for method, path, body in (
                ("POST", "school/invitations", {"administers": True}),
                ("GET", "school/file", None),
                ("DELETE", "school/removal", {}),
                ("POST", "school/removal", {"password": PASSWORD}),
                ("PATCH", f"school-teachers/{self.bea.pk}", {"administers": True}),
                ("PUT", f"school-teachers/{self.ada.pk}", {"let_in": False}),
                ("POST", f"school-teachers/{self.ada.pk}/reset-code", {}),
            ):
                with self.subTest(path, who=who.name, method=method):
                    self.assertIn(api.call(method, path, body)[0], (403, 404))
        page = Api(self.bea).get("school")["school"]
        self.assertEqual((page["teachers"], page["counts"], page["administrators"]), ([], None, ["Ada"]))
        self.assertIn("Ask Ada", Api(self.bea).refused("GET", "school/file")[1]["sentence"])
        self.school.refresh_from_db()
        self.assertIsNone(self.school.leaving_at)

    def test_there_is_always_one(self) -> None:
        self.assertEqual(self.api.refused("PATCH", f"school-teachers/{self.ada.pk}", {"administers": False})[1]["code"],
                         "last_administrator")  # fmt: skip
        self.assertEqual(self.api.refused("PUT", f"school-teachers/{self.ada.pk}", {"let_in": False})[1]["code"],
                         "last_administrator")  # fmt: skip
        self.assertEqual(self.api.refused("POST", "session/leave", {"password": PASSWORD})[1]["code"],
                         "last_administrator")  # fmt: skip
        self.api.send("PATCH", f"school-teachers/{self.bea.pk}", {"administers": True})
        self.api.send("PATCH", f"school-teachers/{self.ada.pk}", {"administers": False})
        self.assertEqual(self.api.call("GET", "school/file")[0], 403)

    def test_a_code_for_a_password_works_and_the_teacher_is_told_who_made_it(self) -> None:
        page = self.api.send("POST", f"school-teachers/{self.bea.pk}/reset-code")
        body = {"email": self.bea.email, "code": page["code"], "new": "another-tide-29"}
        answer = Client().post("/api/session/reset", body, content_type="application/json").json()
        self.assertEqual(answer["teacher"]["reset_by"], "Ada")
        self.assertIsNotNone(answer["teacher"]["reset_at"])
        # It is kept nowhere: another look at the page does not show it.
        self.assertEqual(self.api.get("school")["code"], "")

    def test_who_is_removed_is_out_at_once_and_can_be_let_in_again(self) -> None:
        bea = Api(self.bea)
        own = run(self.bea)
        page = self.api.send("PUT", f"school-teachers/{self.bea.pk}", {"let_in": False})
        self.assertEqual(bea.call("GET", "runs")[0], 403)
        signing = {"email": self.bea.email, "password": PASSWORD}
        answer = Client().post("/api/session", signing, content_type="application/json")
        self.assertEqual(answer.json()["code"], "wrong_sign_in")
        line = next(one for one in page["school"]["teachers"] if one["name"] == "Bea")
        self.assertEqual((line["is_active"], page["school"]["counts"]["teachers"]), (False, 1))
        self.assertIsNotNone(line["gone_on"])
        self.assertEqual(self.api.refused("POST", f"school-teachers/{self.bea.pk}/reset-code")[1]["code"], "shut")
        self.api.send("PUT", f"school-teachers/{self.bea.pk}", {"let_in": True})
        again = Client().post("/api/session", signing, content_type="application/json")
        self.assertEqual(again.status_code, 200)
        self.assertEqual([one["id"] for one in Api(Teacher.objects.get(pk=self.bea.pk)).get("runs")], [own.pk])

    def test_who_leaves_of_oneself_is_not_brought_back_by_others(self) -> None:
        Api(self.bea).send("POST", "session/leave", {"password": PASSWORD})
        self.api.send("PUT", f"school-teachers/{self.bea.pk}", {"let_in": True})
        self.assertIsNotNone(Teacher.objects.get(pk=self.bea.pk).leaving_at)

    def test_a_school_that_is_to_go_says_so_and_can_stay(self) -> None:
        self.assertEqual(self.api.refused("POST", "school/removal", {"password": "wrong"})[1]["code"], "wrong_password")
        page = self.api.send("POST", "school/removal", {"password": PASSWORD})
        self.assertIsNotNone(page["school"]["gone_on"])
        self.assertEqual(Api(self.bea).get("session")["teacher"]["school"]["gone_on"], page["school"]["gone_on"])
        self.assertIsNone(self.api.send("DELETE", "school/removal")["school"]["gone_on"])

    def test_names_and_districts(self) -> None:
        self.assertEqual(schools.add_school("  Voe   School ", "Sound District").district, self.school.district)
        for name in ("Skerry School", "", "  ", "!!"):
            with self.subTest(name), self.assertRaises(GirderError):
                schools.add_school(name)
