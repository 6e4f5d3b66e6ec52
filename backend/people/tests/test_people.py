from django.db import IntegrityError
from django.test import TestCase

from people.identity import IDENTITIES, MARKS, suggest
from people.models import SchoolClass, Team
from people.services import add_class, add_team
from people.tests.support import PASSWORD, Api, teacher


class Accounts(TestCase):
    def test_sign_up_signs_in_and_out(self) -> None:
        api = Api()
        api.call("POST", "teachers", {"name": "Ada", "email": "Ada@School.example", "password": PASSWORD})
        self.assertIsNone(api.get("session")["teacher"])
        api.send("POST", "session", {"email": "Ada@School.example", "password": PASSWORD})
        self.assertEqual(api.get("session")["teacher"]["email"], "ada@school.example")
        api.send("DELETE", "session")
        self.assertIsNone(api.get("session")["teacher"])
        api.send("POST", "session", {"email": "ADA@school.example", "password": PASSWORD})
        self.assertEqual(api.get("session")["teacher"]["name"], "Ada")

    def test_bad_entries_are_named_at_their_field(self) -> None:
        teacher("Ada")
        cases = [
            ({"name": "Bo", "email": "bo@school.example", "password": "short"}, "password"),
            ({"name": "Bo", "email": "not an address", "password": PASSWORD}, "email"),
            ({"name": "", "email": "bo@school.example", "password": PASSWORD}, "name"),
        ]
        for body, field in cases:
            with self.subTest(field=field, body=body):
                status, answer = Api().refused("POST", "teachers", body)
                self.assertEqual(status, 400)
                self.assertIn(field, answer["fields"])

    def test_wrong_password(self) -> None:
        teacher("Ada")
        status, answer = Api().refused("POST", "session", {"email": "ada@school.example", "password": "wrong-wrong"})
        self.assertEqual((status, answer["code"]), (400, "wrong_sign_in"))

    def test_a_password_is_not_kept_as_it_is(self) -> None:
        self.assertNotIn(PASSWORD, teacher("Ada").password)

    def test_units_are_remembered(self) -> None:
        ada = teacher("Ada")
        Api(ada).send("PATCH", "session", {"units": "us"})
        self.assertEqual(Api(ada).get("session")["teacher"]["units"], "us")

    def test_a_write_without_the_token_is_refused(self) -> None:
        from django.test import Client

        client = Client(enforce_csrf_checks=True)
        body = {"email": "ada@school.example", "password": PASSWORD}
        self.assertEqual(client.post("/api/session", body, content_type="application/json").status_code, 403)
        client.force_login(teacher("Ada"))
        self.assertEqual(client.post("/api/classes", {"name": "9"}, content_type="application/json").status_code, 403)


class Classes(TestCase):
    def test_teams_get_birds_marks_and_colours_of_their_own(self) -> None:
        ada = teacher("Ada")
        api = Api(ada)
        made = api.send("POST", "classes", {"name": "9 Knot"})
        for _ in IDENTITIES:
            api.send("POST", f"classes/{made['id']}/teams", {"name": ""})
        teams = api.get("classes")[0]["teams"]
        self.assertEqual(len({team["name"] for team in teams}), len(IDENTITIES))
        self.assertEqual({team["mark"] for team in teams}, set(MARKS))
        self.assertEqual(len({team["colour"] for team in teams}), len(IDENTITIES))

    def test_more_teams_than_birds(self) -> None:
        names = [identity.name for identity in IDENTITIES]
        self.assertEqual(suggest(names, MARKS).name, "Fulmar 2")
        self.assertIn(suggest([*names, "Fulmar 2"], MARKS).mark, MARKS)

    def test_names_that_try_to_be_code_stay_names(self) -> None:
        api = Api(teacher("Ada"))
        made = api.send("POST", "classes", {"name": "9 Knot"})
        for name in ("<script>alert(1)</script>", "=cmd()|' /C calc'!A0", "O'Neill & Søn"):
            team = api.send("POST", f"classes/{made['id']}/teams", {"name": name})
            self.assertEqual(team["name"], name)

    def test_a_name_is_given_once_whatever_its_case(self) -> None:
        ada = teacher("Ada")
        made = add_class(ada, "9 Knot")
        add_team(made, "Tern")
        api = Api(ada)
        for path, name in [("classes", "9 KNOT"), (f"classes/{made.pk}/teams", "TERN ")]:
            status, answer = api.refused("POST", path, {"name": name})
            self.assertEqual((status, answer["code"]), (400, "name_taken"))
        with self.assertRaises(IntegrityError):
            Team.objects.create(school_class=made, name="tern", mark="disc", colour="#000000")

    def test_a_name_of_spaces_is_none(self) -> None:
        self.assertEqual(Api(teacher("Ada")).refused("POST", "classes", {"name": "  "})[0], 400)
        self.assertEqual(SchoolClass.objects.count(), 0)

    def test_a_list_of_teams_comes_in_whole(self) -> None:
        ada = teacher()
        knot = add_class(ada, "9 Knot")
        path = f"classes/{knot.pk}/team-list"
        for text, names in (
            ("Tern\nAuk\n\n", ["Tern", "Auk"]),
            ("Team;Pupils\nRail;Bo, Cem\nSkua;Dee", ["Rail", "Skua"]),
            ("1. Knot\n2) Dunlin\n- Whimbrel\n* Ørret", ["Knot", "Dunlin", "Whimbrel", "Ørret"]),
            ("1\tPetrel\n2\tGannet", ["Petrel", "Gannet"]),
        ):
            made = Api(ada).send("POST", path, {"text": text})
            self.assertEqual([team["name"] for team in made], names)
        self.assertEqual(knot.teams.count(), 10)
        for text, words in (
            ("Heron\ntern", "Line 2, “tern”"), ("\n \n", "no name"), ("Heron\n" + "x" * 200, "Line 2"),
            ("\n".join(f"t{i}" for i in range(50)), "40 at once"), ("Heron\nHeron", "Line 2"),
        ):  # fmt: skip
            status, answer = Api(ada).refused("POST", path, {"text": text})
            self.assertEqual((status, answer["code"]), (400, "bad_list"), answer)
            self.assertIn(words, answer["sentence"])
        self.assertEqual(knot.teams.count(), 10)

    def test_rename(self) -> None:
        ada = teacher("Ada")
        made = add_class(ada, "9 Knot")
        team, other = add_team(made, "Tern"), add_team(made, "Auk")
        self.assertEqual(Api(ada).send("PATCH", f"teams/{team.pk}", {"name": " Sea  Tern "})["name"], "Sea Tern")
        self.assertEqual(Api(ada).refused("PATCH", f"teams/{other.pk}", {"name": "sea tern"})[1]["code"], "name_taken")
