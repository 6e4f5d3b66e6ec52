"""An account on its screens: made, another password, signed out elsewhere, a code, and left."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from e2e.served import InterfaceTest
from people.accounts import reset_code
from people.models import SignedIn, Teacher
from people.tests.support import PASSWORD, Api, teacher

NEW, NEWER = "another-harbour-19", "yet-another-quay-20"


class Account(InterfaceTest):
    takes_s = 30

    def test_from_joining_to_leaving(self) -> None:
        b = self.browser()
        b.open("/")
        b.click("Make an account")
        b.fill("What your classes call you", "Ada")
        b.fill("E-mail address", "ada@school.example")
        b.fill("Password", "abcabcabcabc").send_keys(Keys.ENTER)
        b.sees("again and again")
        b.fill("Password", PASSWORD).send_keys(Keys.ENTER)
        b.sees("Sign out")
        ada = Teacher.objects.get()

        elsewhere = Api(ada)
        key = str(elsewhere.client.session.session_key)
        SignedIn.objects.create(teacher=ada, session_key=key, browser="A browser")
        b.click("Ada")
        b.sees("A browser")
        b.tap('[aria-label^="Sign out A browser"]')
        b.until(lambda: "A browser" not in b.text(), "the other place to go")
        self.assertIsNone(elsewhere.get("session")["teacher"])

        b.fill("Password till now", "not-my-password").send_keys(Keys.TAB)
        b.fill("New password", NEW).send_keys(Keys.ENTER)
        b.sees("That is not your password.")
        b.fill("Password till now", PASSWORD)
        b.click("Change the password")
        b.sees("✓ Changed.")

        b.click("Delete the account")
        b.fill("Your password", NEW)
        b.click("Delete it")
        b.sees("Who really won?")
        ada.refresh_from_db()
        self.assertIsNotNone(ada.leaving_at)

        # Signing in brings it back; a code does too, and gives it another password.
        code = reset_code(ada)
        b.click("Password forgotten")
        b.fill("E-mail address", ada.email)
        b.fill("Code", "aaaa-bbbb")
        b.fill("New password", NEWER).send_keys(Keys.ENTER)
        b.sees("This code does not work")
        b.fill("Code", code).send_keys(Keys.ENTER)
        b.sees("Sign out")
        ada.refresh_from_db()
        self.assertIsNone(ada.leaving_at)
        self.assertEqual(b.complaints(), [])

    def test_somebody_else_has_the_address(self) -> None:
        ada = teacher("Ada")
        b = self.browser()
        b.open("/")
        b.click("Make an account")
        b.fill("What your classes call you", "Mallory")
        b.fill("E-mail address", ada.email)
        b.fill("Password", NEW).send_keys(Keys.ENTER)
        b.sees("sign in with its own password")
        self.assertEqual(Teacher.objects.get().name, "Ada")
