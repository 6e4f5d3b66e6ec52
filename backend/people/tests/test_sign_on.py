"""Signing in with a school's own account: whom it lets in, to which account, and whom it does not."""

from __future__ import annotations

import json
import tempfile
import urllib.error
import urllib.request
from datetime import timedelta
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from allauth.socialaccount.models import SocialAccount
from django.db.models import F
from django.test import Client, SimpleTestCase, TestCase, override_settings

from evengirder.environment import Unreadable, told
from people import schools
from people.models import SignedIn, Teacher
from people.tests.provider import CLIENT, SECRET, Provider
from people.tests.support import PASSWORD, Api, run, teacher


def signs_on(**providers: Provider) -> Any:
    """Settings under which schools sign in with these providers, by key with _ for -."""
    ways = [
        {"school": key.replace("_", "-"), "name": f"Account of {key}", "issuer": one.issuer, "client_id": CLIENT,
         "client_secret_file": "", "secret": SECRET}
        for key, one in providers.items()
    ]  # fmt: skip
    apps = [
        {"provider_id": way["school"], "name": way["name"], "client_id": CLIENT, "secret": SECRET,
         "settings": {"server_url": way["issuer"], "oauth_pkce_enabled": True}}
        for way in ways
    ]  # fmt: skip
    return override_settings(SIGN_ONS=ways, SOCIALACCOUNT_PROVIDERS={"openid_connect": {"APPS": apps}})


class _Stays(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *_: Any, **__: Any) -> None:
        """The browser of a test goes where it is sent itself."""


def sent_back(address: str) -> str:
    """Where the provider sends whoever comes to it, as a path of ours."""
    try:
        urllib.request.build_opener(_Stays).open(address)
    except urllib.error.HTTPError as answer:
        at = urlsplit(answer.headers["Location"])
        return f"{at.path}?{at.query}"
    raise AssertionError("nobody was sent back")


class SignOn(TestCase):
    def setUp(self) -> None:
        self.skerry, self.voe = schools.add_school("Skerry"), schools.add_school("Voe")
        self.here = Provider(sub="s-17", email="Runa@skerry.example", email_verified=True, name="Runa")
        self.there = Provider(sub="s-17", email="runa@skerry.example", email_verified=True, name="Somebody else")
        for provider in (self.here, self.there):
            self.addCleanup(provider.end)
        self.enterContext(signs_on(skerry=self.here, voe=self.there))

    def begun(self, client: Client, school: str = "skerry", then: str = "/") -> str:
        body = {"school": school, "then": then}
        answer = client.post("/api/session/sign-on", body, content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return str(answer.json()["address"])

    def signed_on(self, client: Client, school: str = "skerry", then: str = "/") -> str:
        """Goes all the way; gives the page where it ends."""
        answer = client.get(sent_back(self.begun(client, school, then)))
        self.assertEqual(answer.status_code, 302, answer.content)
        return str(answer["Location"])

    def who(self, client: Client) -> str | None:
        found = client.get("/api/session").json()["teacher"]
        return found["email"] if found else None

    def test_a_new_colleague_comes_in_and_is_in_the_school(self) -> None:
        client = Client()
        with override_settings(SIGN_UP="closed"):
            self.assertEqual(self.signed_on(client, then="/library"), "/library")
        told = client.get("/api/session").json()["teacher"]
        self.assertEqual((told["email"], told["name"], told["school"]["name"], told["has_password"]),
                         ("runa@skerry.example", "Runa", "Skerry", False))  # fmt: skip
        self.assertEqual([place["here"] for place in client.get("/api/signed-in").json()], [True])
        # The second time it is the same account, also when the school knows her by another name and address by now.
        self.here.claims |= {"email": "runa.d@skerry.example", "name": "Runa D"}
        again = Client()
        self.signed_on(again)
        self.assertEqual((self.who(again), Teacher.objects.count()), ("runa@skerry.example", 1))

    def test_what_is_asked_of_the_provider_is_what_the_standard_asks_for(self) -> None:
        self.signed_on(Client())
        [asked] = self.here.asked
        self.assertEqual((asked["response_type"], asked["client_id"], asked["code_challenge_method"]),
                         ("code", CLIENT, "S256"))  # fmt: skip
        self.assertLessEqual({"openid", "email", "profile"}, set(asked["scope"].split()))
        self.assertEqual(asked["redirect_uri"], "http://testserver/sign-on/skerry/back")

    def test_an_account_of_the_school_is_joined_with_its_classes(self) -> None:
        runa = Teacher.objects.get(pk=teacher("Runa").pk)
        runa.email = "runa@skerry.example"
        runa.save()
        schools.settle(runa, self.skerry)
        own = run(runa)
        client = Client()
        self.signed_on(client)
        self.assertEqual([one["id"] for one in client.get("/api/runs").json()], [own.pk])
        self.assertTrue(client.get("/api/session").json()["teacher"]["has_password"])

    def test_a_school_vouches_for_nobody_else_s(self) -> None:
        runa = teacher("Runa")
        Teacher.objects.filter(pk=runa.pk).update(email="runa@skerry.example")
        for school in (None, self.skerry):
            Teacher.objects.filter(pk=runa.pk).update(school=school)
            client = Client()
            # Another school's provider, which tells her address, gets nobody into her account; nor does her own, while
            # she is in no school.
            self.assertEqual(self.signed_on(client, "voe"), "/?sign_on=elsewhere")
            self.assertIsNone(self.who(client))
        Teacher.objects.filter(pk=runa.pk).update(school=None)
        self.assertEqual(self.signed_on(Client(), "skerry"), "/?sign_on=elsewhere")
        self.assertFalse(SocialAccount.objects.exists())

    def test_the_same_number_at_two_schools_is_two_people(self) -> None:
        self.there.claims["email"] = "other@voe.example"
        first, second = Client(), Client()
        self.signed_on(first, "skerry")
        self.signed_on(second, "voe")
        self.assertEqual((self.who(first), self.who(second)), ("runa@skerry.example", "other@voe.example"))

    def test_who_is_not_let_in(self) -> None:
        for changed, why in (
            ({"email_verified": False}, "no_address"), ({"email_verified": "false"}, "no_address"),
            ({"email": ""}, "no_address"), ({"email": None}, "no_address"),
        ):  # fmt: skip
            with self.subTest(changed):
                kept, self.here.claims = self.here.claims, {**self.here.claims, **changed}
                client = Client()
                self.assertEqual(self.signed_on(client), f"/?sign_on={why}")
                self.assertIsNone(self.who(client))
                self.here.claims = kept
        for wrong in ("secret", "error"):
            with self.subTest(wrong):
                self.here.wrong = wrong
                client = Client()
                self.assertEqual(self.signed_on(client), "/?sign_on=failed")
                self.assertIsNone(self.who(client))
        self.here.wrong = ""
        # Two answers of one sign-in that speak of two people.
        self.here.userinfo = {**self.here.claims, "sub": "s-18"}
        self.assertEqual(self.signed_on(Client()), "/?sign_on=failed")
        self.assertFalse(Teacher.objects.exists())

    def test_who_was_removed_stays_out(self) -> None:
        client = Client()
        self.signed_on(client)
        schools.shut(Teacher.objects.get())
        self.assertIsNone(self.who(client))
        again = Client()
        self.assertEqual(self.signed_on(again), "/?sign_on=shut")
        self.assertIsNone(self.who(again))

    def test_a_way_back_that_nobody_began_leads_nowhere(self) -> None:
        back = sent_back(self.begun(Client()))
        for path in (back, "/sign-on/skerry/back?code=x&state=y", "/sign-on/skerry/back"):
            with self.subTest(path):
                client = Client()
                answer = client.get(path)
                self.assertEqual((answer.status_code, answer["Location"]), (302, "/?sign_on=failed"))
                self.assertIsNone(self.who(client))
        # And one that was used is used up.
        client = Client()
        back = sent_back(self.begun(client))
        self.assertEqual(client.get(back)["Location"], "/")
        client.delete("/api/session")
        self.assertEqual(client.get(back)["Location"], "/?sign_on=failed")
        self.assertIsNone(self.who(client))
        self.assertEqual(Client().get("/sign-on/nowhere/back?code=x&state=y").status_code, 404)

    def test_what_cannot_be_begun(self) -> None:
        client = Client()
        for body, status in (
            ({"school": "nowhere"}, 404), ({"school": "skerry", "then": "https://elsewhere.example/"}, 400),
            ({"school": "skerry", "then": "//elsewhere.example/"}, 400), ({"school": ""}, 400),
        ):  # fmt: skip
            with self.subTest(body):
                answer = client.post("/api/session/sign-on", body, content_type="application/json")
                self.assertEqual(answer.status_code, status)
        self.here.wrong = "down"
        answer = client.post("/api/session/sign-on", {"school": "skerry"}, content_type="application/json")
        self.assertEqual((answer.status_code, answer.json()["code"]), (503, "sign_on_away"))

    def test_where_there_is_no_password_a_fresh_sign_in_stands_for_it(self) -> None:
        client = Client()
        self.signed_on(client)
        SignedIn.objects.update(began_at=F("began_at") - timedelta(minutes=11))
        leaving = {"password": ""}
        answer = client.post("/api/session/leave", leaving, content_type="application/json")
        self.assertEqual(answer.json()["code"], "sign_in_again")
        self.signed_on(client)
        answer = client.post("/api/session/leave", leaving, content_type="application/json")
        self.assertEqual(answer.status_code, 200)
        self.assertIsNotNone(Teacher.objects.get().leaving_at)
        # An empty password is nobody's who has one.
        ada = teacher("Ada")
        self.assertEqual(Api(ada).refused("POST", "session/leave", leaving)[1]["code"], "wrong_password")
        self.assertEqual(Api(ada).call("POST", "session/leave", {"password": PASSWORD})[0], 200)


class Told(SimpleTestCase):
    def file(self, content: Any) -> str:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (folder / "secret").write_text("between two servers\n")
        text = content if isinstance(content, str) else json.dumps(content).replace("SECRET", str(folder / "secret"))
        (folder / "sign-on.json").write_text(text)
        return str(folder / "sign-on.json")

    def test_the_file_says_with_which_schools(self) -> None:
        way = {"school": "skerry", "name": "Skerry account", "issuer": "https://id.skerry.example/r/x",
               "client_id": "girder", "client_secret_file": "SECRET"}  # fmt: skip
        [read] = told("GIRDER_SIGN_ON", {"GIRDER_SIGN_ON": self.file([way])})
        self.assertEqual((read["school"], read["secret"]), ("skerry", "between two servers"))
        self.assertEqual(told("GIRDER_SIGN_ON", {}), [])
        for wrong, says in (
            ("no JSON", "cannot be read"), ({"a": 1}, "holds no list"),
            ([{**way, "issuer": "http://id.example"}], "https"), ([{**way, "more": "x"}], "entry 1"),
            ([{**way, "name": 1}], "entry 1"), ([way, way], "one sign-on"),
            ([{**way, "client_secret_file": "/nowhere/at/all"}], "entry 1"), ([way, {}], "entry 2"),
        ):  # fmt: skip
            with self.subTest(wrong), self.assertRaisesRegex(Unreadable, says):
                told("GIRDER_SIGN_ON", {"GIRDER_SIGN_ON": self.file(wrong)})
        with self.assertRaisesRegex(Unreadable, "no absolute path"):
            told("GIRDER_SIGN_ON", {"GIRDER_SIGN_ON": "sign-on.json"})
