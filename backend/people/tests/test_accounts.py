"""Doors: tries that are counted, codes that work once, sessions that end, and accounts that go and come back."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from typing import Any

from django.contrib.sessions.models import Session
from django.core.management import call_command
from django.db import connections
from django.db.models import F
from django.test import Client, SimpleTestCase, TestCase, TransactionTestCase, override_settings
from django.utils import timezone

from people.accounts import browser_words, first_invitation, invitation, reset_code, sign_up
from people.models import Code, SignedIn, Teacher, Tries
from people.tests.support import PASSWORD, Api, teacher
from people.throttle import account_door

ADA = "ada@school.example"
WRONG = "wrong-wrong-wrong"
FIREFOX = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"


def sign_in(client: Client, email: str = ADA, password: str = PASSWORD, **extra: Any) -> tuple[int, Any]:
    body = {"email": email, "password": password}
    answer = client.post("/api/session", body, content_type="application/json", **extra)
    return answer.status_code, answer.json()


def who(client: Client) -> str | None:
    found = client.get("/api/session").json()["teacher"]
    return found["email"] if found else None


class Guessing(TestCase):
    def setUp(self) -> None:
        self.ada = teacher("Ada")

    def wear_out(self, client: Client, email: str = ADA, **extra: Any) -> None:
        for _ in range(account_door(email).most):
            self.assertEqual(sign_in(client, email, WRONG, **extra)[1]["code"], "wrong_sign_in")

    def test_an_account_takes_so_many_tries_and_then_not_even_the_right_one(self) -> None:
        guesser = Client()
        self.wear_out(guesser)
        status, answer = sign_in(guesser)
        self.assertEqual((status, answer["code"]), (429, "too_many_tries"))
        self.assertIn("15 min", answer["sentence"])
        # Another account is none of their business.
        teacher("Bea")
        self.assertEqual(sign_in(Client(), "bea@school.example")[0], 200)
        # It is over after its time, and not later because somebody went on trying.
        Tries.objects.update(since=F("since") - timedelta(seconds=901))
        self.assertEqual(sign_in(guesser)[0], 200)

    def test_an_account_that_is_not_there_is_counted_alike(self) -> None:
        self.wear_out(Client(), "nobody@school.example")
        self.assertEqual(sign_in(Client(), "nobody@school.example")[0], 429)

    def test_the_owner_gets_in_from_a_browser_that_was_signed_in(self) -> None:
        own = Client()
        sign_in(own)
        own.delete("/api/session")
        self.wear_out(Client())
        self.assertEqual(sign_in(Client())[0], 429)
        self.assertEqual(sign_in(own)[0], 200)
        # It has a count of its own, that another password begins anew nowhere else.
        own.delete("/api/session")
        for _ in range(20):
            self.assertEqual(sign_in(own, password=WRONG)[0], 400)
        self.assertEqual(sign_in(own)[0], 429)

    def test_a_cookie_that_was_made_up_or_is_from_before_the_password_is_not_known(self) -> None:
        own = Client()
        sign_in(own)
        self.ada.set_password("another-harbour-19")
        self.ada.save()
        self.wear_out(Client())
        self.assertEqual(sign_in(own, password="another-harbour-19")[0], 429)
        forged = Client()
        forged.cookies["girder-known"] = own.cookies["girder-known"].value[:-2] + "xx"
        self.assertEqual(sign_in(forged, password="another-harbour-19")[0], 429)

    def test_one_address_has_an_end_too_and_only_named_proxies_speak_for_others(self) -> None:
        for n in range(100):
            sign_in(Client(), f"t{n}@school.example", WRONG, HTTP_X_FORWARDED_FOR=f"192.0.2.{n}")
        # What it said about others was not believed: it was one address all along.
        self.assertEqual(sign_in(Client())[0], 429)
        with override_settings(PROXIES=_networks("127.0.0.1/32", "198.51.100.0/24")):
            self.assertEqual(sign_in(Client(), HTTP_X_FORWARDED_FOR="192.0.2.1")[0], 200)
            # The last address that no proxy has is the one; what stands before it anybody can write.
            for n in range(100):
                said = f"192.0.2.{n}, 203.0.113.5, 198.51.100.7"
                sign_in(Client(), f"u{n}@school.example", WRONG, HTTP_X_FORWARDED_FOR=said)
            last = {"HTTP_X_FORWARDED_FOR": "203.0.113.5"}
            self.assertEqual(sign_in(Client(), **last)[0], 429)
        self.assertEqual(Tries.objects.filter(door="address 203.0.113.5").count(), 1)

    def test_a_right_password_is_no_try(self) -> None:
        for _ in range(3 * account_door(ADA).most):
            self.assertEqual(sign_in(Client())[0], 200)
        self.assertEqual(Tries.objects.count(), 0)


def _networks(*texts: str) -> list[Any]:
    import ipaddress

    return [ipaddress.ip_network(text) for text in texts]


class AtOnce(TransactionTestCase):
    def test_forty_at_once_have_no_more_tries_than_one_after_the_other(self) -> None:
        teacher("Ada")

        def guess(_: int) -> int:
            try:
                return sign_in(Client(), password=WRONG)[0]
            finally:
                connections.close_all()

        with ThreadPoolExecutor(8) as pool:
            answers = list(pool.map(guess, range(40)))
        self.assertEqual(answers.count(400), account_door(ADA).most)
        self.assertEqual(answers.count(429), 40 - account_door(ADA).most)

    def test_a_code_lets_one_of_many_in(self) -> None:
        code = invitation()

        def join(n: int) -> int:
            body = {"email": f"t{n}@school.example", "name": "T", "password": PASSWORD, "code": code}
            try:
                return Client().post("/api/teachers", body, content_type="application/json").status_code
            finally:
                connections.close_all()

        with override_settings(SIGN_UP="invited"), ThreadPoolExecutor(6) as pool:
            answers = sorted(pool.map(join, range(6)))
        self.assertEqual(answers, [202, 400, 400, 400, 400, 400])
        self.assertEqual(Teacher.objects.count(), 1)


class Joining(TestCase):
    def join(self, code: str = "", email: str = "bo@school.example", password: str = PASSWORD) -> tuple[int, Any]:
        return Api().call("POST", "teachers", {"name": "Bo", "email": email, "password": password, "code": code})

    def test_it_does_not_tell_who_is_there(self) -> None:
        ada = teacher("Ada")
        before = ada.password
        self.assertEqual(self.join(email=ADA), self.join())
        ada.refresh_from_db()
        self.assertEqual((ada.password, ada.name, Teacher.objects.count()), (before, "Ada", 2))
        self.assertEqual(sign_in(Client(), "bo@school.example")[0], 200)

    def test_closed_or_by_invitation(self) -> None:
        with override_settings(SIGN_UP="closed"):
            self.assertEqual(self.join()[1]["code"], "joining_closed")
        with override_settings(SIGN_UP="invited"):
            self.assertEqual(Api().get("session")["sign_up"], "invited")
            self.assertEqual(self.join()[1]["code"], "bad_code")
            self.assertEqual(self.join(reset_code(teacher("Ada")))[1]["code"], "bad_code")
            code = invitation()
            # A password that will not do does not use it up.
            self.assertEqual(self.join(code, password="short")[1]["code"], "bad_account")
            self.assertEqual(self.join(code.upper().replace("-", " "))[0], 202)
            self.assertEqual(self.join(code, "cem@school.example")[1]["code"], "bad_code")
            old = invitation()
            Code.objects.update(until=timezone.now())
            self.assertEqual(self.join(old, "cem@school.example")[1]["code"], "bad_code")

    def test_so_many_from_one_address_in_an_hour(self) -> None:
        answers = [self.join(email=f"t{n}@school.example")[0] for n in range(21)]
        self.assertEqual(answers, [202] * 20 + [429])


class Shared(TestCase):
    """A server that a school's network reaches, with the demo school on it."""

    def setUp(self) -> None:
        sign_up("demo@school.example", "Demo", PASSWORD)
        Teacher.objects.update(is_demo=True)

    def enters_from(self, at: str, **headers: Any) -> int:
        body = {"email": "demo@school.example", "password": PASSWORD}
        answer = self.client.post(
            "/api/session", body, content_type="application/json", REMOTE_ADDR=at, headers=headers
        )
        if answer.status_code != 200:
            self.assertEqual(answer.json()["code"], "demo_elsewhere")
        return answer.status_code

    def test_the_demo_opens_on_the_machine_that_serves_alone(self) -> None:
        with override_settings(SHARED=True):
            for at in ("127.0.0.1", "::1"):
                self.assertEqual(self.enters_from(at), 200)
            for at in ("192.168.7.20", "203.0.113.9", ""):
                self.assertEqual(self.enters_from(at), 400)
            # A proxy on the same machine speaks for somebody else.
            self.assertEqual(self.enters_from("127.0.0.1", **{"x-forwarded-for": "192.168.7.20"}), 400)

    def test_the_first_account_is_invited_and_no_more_than_that(self) -> None:
        with override_settings(SIGN_UP="invited"):
            code = first_invitation()
            self.assertTrue(code)
            body = {"email": "first@school.example", "name": "First", "password": PASSWORD, "code": code}
            self.assertEqual(self.client.post("/api/teachers", body, content_type="application/json").status_code, 202)
            self.assertEqual(first_invitation(), "")
        with override_settings(SIGN_UP="open"):
            Teacher.objects.filter(is_demo=False).delete()
            self.assertEqual(first_invitation(), "", "where anybody may make one, none is invited")


class Passwords(SimpleTestCase):
    def test_long_enough_not_common_not_a_word_again(self) -> None:
        from django.contrib.auth.password_validation import validate_password
        from django.core.exceptions import ValidationError

        for bad in (
            "eleven-char", "password1234", "aaaaaaaaaaaa", "abcabcabcabc", "Tide1Tide1Tide1", "tidetidetide!"[:12],
            "abcdefghijkl", "lkjihgfedcba", "112233112233", "ada@school.example",
        ):  # fmt: skip
            with self.assertRaises(ValidationError, msg=bad):
                validate_password(bad, Teacher(email=ADA, name="Ada"))
        for good in (PASSWORD, "slip-and-net-loft", "correct horse battery"):
            validate_password(good, Teacher(email=ADA, name="Ada"))

    def test_a_browser_in_words(self) -> None:
        self.assertEqual(browser_words(FIREFOX), "Firefox on Linux")
        self.assertEqual(browser_words("x" * 9000), "A browser")


class Sessions(TestCase):
    def setUp(self) -> None:
        self.ada = teacher("Ada")
        self.here, self.there = Client(HTTP_USER_AGENT=FIREFOX), Client()
        sign_in(self.here)
        sign_in(self.there)

    def listed(self, client: Client) -> list[Any]:
        listed: list[Any] = client.get("/api/signed-in").json()
        return listed

    def test_they_are_listed_and_end_one_by_one_or_all_others(self) -> None:
        shown = self.listed(self.here)
        self.assertEqual([(row["browser"], row["here"]) for row in shown],
                         [("A browser", False), ("Firefox on Linux", True)])  # fmt: skip
        bea = Client()
        teacher("Bea")
        sign_in(bea, "bea@school.example")
        self.assertEqual(bea.delete(f"/api/signed-in/{shown[0]['id']}").status_code, 404)
        self.here.delete(f"/api/signed-in/{shown[0]['id']}")
        self.assertEqual((who(self.here), who(self.there), who(bea)), (ADA, None, "bea@school.example"))
        sign_in(self.there)
        self.assertEqual(len(self.here.delete("/api/signed-in").json()), 1)
        self.assertEqual((who(self.here), who(self.there)), (ADA, None))

    def test_another_password_ends_all_others(self) -> None:
        new = {"old": PASSWORD, "new": "another-harbour-19"}
        refused = self.here.put("/api/session/password", {**new, "old": WRONG}, content_type="application/json")
        self.assertEqual((refused.status_code, refused.json()["code"]), (400, "wrong_password"))
        self.assertEqual(self.here.put("/api/session/password", new, content_type="application/json").status_code, 200)
        self.assertEqual((who(self.here), who(self.there)), (ADA, None))
        self.assertEqual([row["here"] for row in self.listed(self.here)], [True])
        self.assertEqual(sign_in(Client())[1]["code"], "wrong_sign_in")
        self.assertEqual(sign_in(Client(), password=new["new"])[0], 200)

    def test_a_reset_works_once_and_ends_all_sessions(self) -> None:
        code = reset_code(self.ada)
        body = {"email": ADA, "code": code, "new": "another-harbour-19"}
        teacher("Bea")
        for wrong in ({"email": "bea@school.example"}, {"code": invitation()}, {"email": "nobody@school.example"}):
            answer = Client().post("/api/session/reset", {**body, **wrong}, content_type="application/json")
            self.assertEqual(answer.json()["code"], "bad_code")
        fresh = Client()
        self.assertEqual(fresh.post("/api/session/reset", body, content_type="application/json").status_code, 200)
        self.assertEqual((who(fresh), who(self.here), who(self.there)), (ADA, None, None))
        again = Client().post("/api/session/reset", body, content_type="application/json")
        self.assertEqual(again.json()["code"], "bad_code")

    def test_codes_cannot_be_guessed_at_leisure(self) -> None:
        answers = []
        for _ in range(11):
            body = {"email": ADA, "code": "aaaa-aaaa-aaaa-aaaa-aaaa", "new": "another-harbour-19"}
            answers.append(Client().post("/api/session/reset", body, content_type="application/json").status_code)
        self.assertEqual(answers, [400] * 10 + [429])


class Leaving(TestCase):
    def setUp(self) -> None:
        self.ada = teacher("Ada")
        self.client = Client()
        sign_in(self.client)

    def leave(self, password: str = PASSWORD) -> int:
        return self.client.post(
            "/api/session/leave", {"password": password}, content_type="application/json"
        ).status_code

    def test_it_asks_for_the_password_and_signing_in_brings_it_back(self) -> None:
        self.assertEqual(self.leave(WRONG), 400)
        self.assertEqual(who(self.client), ADA)
        self.assertEqual(self.leave(), 200)
        self.assertIsNone(who(self.client))
        Teacher.objects.update(leaving_at=timezone.now() - timedelta(days=29))
        call_command("tidy")
        self.assertEqual(sign_in(self.client)[0], 200)
        self.ada.refresh_from_db()
        self.assertIsNone(self.ada.leaving_at)

    def test_tidying_ends_what_is_over(self) -> None:
        reset_code(self.ada)
        sign_in(Client(), password=WRONG)
        Session.objects.update(expire_date=timezone.now() - timedelta(days=1))
        Code.objects.update(until=timezone.now() - timedelta(seconds=1))
        Tries.objects.update(since=timezone.now() - timedelta(days=2))
        call_command("tidy")
        left = [model.objects.count() for model in (Session, SignedIn, Code, Tries)]
        self.assertEqual(left, [0, 0, 0, 0])
