"""Two schools on one server: invited, signed on with the school's own account, a recipe handed on, and removed."""

from __future__ import annotations

import json
import tempfile
from datetime import date
from pathlib import Path
from typing import ClassVar

from django.conf import global_settings
from django.db import connection
from django.test import override_settings

from bench.models import Trial
from challenges.models import Recipe, Run
from designs.services import open_run
from e2e.browser import Browser
from e2e.served import InterfaceTest, Server, session_of
from people import schools
from people.models import Teacher
from people.tests.provider import CLIENT, SECRET, Provider
from people.tests.support import PASSWORD, Api, Ledger, checked_in, recipe, school_class, teacher

TEAMS = ("Tern", "Auk", "Gannet")


@override_settings(PASSWORD_HASHERS=global_settings.PASSWORD_HASHERS)
class TwoSchools(InterfaceTest):
    """Passwords are kept as the server keeps them, because it is asked whether one is right."""

    takes_s = 90
    own: ClassVar[Server]
    provider: ClassVar[Provider]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.provider = Provider(sub="7", email="runa@skerry.example", email_verified=True, name="Runa")
        cls.addClassCleanup(cls.provider.end)
        folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        (folder / "secret").write_text(SECRET)
        way = {"school": "skerry-school", "name": "Skerry School’s account", "issuer": cls.provider.issuer,
               "client_id": CLIENT, "client_secret_file": str(folder / "secret")}  # fmt: skip
        (folder / "sign-on.json").write_text(json.dumps([way]))
        cls.own = Server(str(connection.settings_dict["NAME"]), pool=True, GIRDER_SIGN_ON=str(folder / "sign-on.json"),
                         GIRDER_SIGN_UP="invited")  # fmt: skip
        cls.own.start()
        cls.addClassCleanup(cls.own.stop)

    def setUp(self) -> None:
        self.skerry = schools.add_school("Skerry School", "Sound District")
        self.voe = schools.add_school("Voe School", "Sound District")
        self.ada, self.bea = teacher("Ada"), teacher("Bea")
        schools.settle(self.ada, self.skerry, administers=True)
        schools.settle(self.bea, self.voe, administers=True)

    def beside(self) -> Browser:
        browser = Browser(self.own.address)
        self.addCleanup(browser.close)
        browser.session_of = session_of
        self.with_axe(browser)
        return browser

    def in_line(self, browser: Browser, line: str, button: str) -> None:
        """Press a button in the line of a list that says something."""
        path = f"//li[contains(., '{line}')]//button[contains(., '{button}')]"
        browser.until(lambda: browser.driver.find_elements("xpath", path), f"{button} in the line of {line}")[0].click()

    def ran(self, of: Recipe) -> None:
        """Two runs of three teams, which held a tray of 40 g and four, six and eight nuts of 15 g."""
        for number in range(2):
            within = school_class(of.owner, TEAMS)
            within.name = f"class {number}"
            within.save()
            for more, design in enumerate(open_run(of, within, date(2026, 11, 3)).designs.all()):
                ledger = Ledger(Api(of.owner), checked_in(design))
                ledger.hold("platform")
                ledger.hold("nut", 4 + 2 * more)
                ledger.add("place", item="nut", count=1)
                ledger.add("fail", mode="snap")

    def test_the_school_is_administered_and_signs_in_with_its_own_accounts(self) -> None:
        desk = self.beside()
        desk.sign_in("ada@school.example", PASSWORD)
        desk.open("/account")
        desk.click("To the school")
        desk.sees("Administered by Ada.")
        desk.click("Invite a teacher")
        desk.sees("shown only now")
        self.accessible(desk, "the school’s page")
        link = next(word for word in desk.text().split() if "?code=" in word)

        invited = self.beside()
        invited.open(link.removeprefix(self.own.address))
        invited.sees("Make an account")
        invited.fill("What your classes call you", "Cas")
        invited.fill("E-mail address", "cas@school.example")
        invited.fill("Password", PASSWORD)
        invited.click("Make the account")
        invited.sees("Three steps")
        self.assertEqual(Teacher.objects.get(name="Cas").school, self.skerry)

        runa = self.beside()
        runa.open("/library")
        runa.sees("Or with the account of your school:")
        self.accessible(runa, "sign-in")
        runa.click("Skerry School’s account")
        runa.sees("Shared by colleagues")
        runa.open("/account")
        runa.sees("You sign in with the account of your school")
        runa.click("To the school")
        runa.sees("Administered by Ada.")
        self.assertNotIn("Remove", runa.text())
        self.accessible(runa, "the school’s page of a member")

        desk.open("/school")
        desk.sees("runa@skerry.example")
        self.in_line(desk, "cas@school.example", "New password")
        desk.sees("A code for Cas, once, within an hour:")
        self.in_line(desk, "runa@skerry.example", "Remove")
        desk.click("Yes, remove Runa")
        desk.sees("removed; gone for good on")
        runa.open("/")
        runa.sees("Or with the account of your school:")
        runa.click("Skerry School’s account")
        runa.sees("Your account was removed. Ask who administers your school.")
        # Her account knows it; so does the one whose password was made anew.
        invited.open("/")
        invited.sees("Ada made a code for a new password of your account")

        desk.fill("Your password", PASSWORD)
        desk.click("Delete the school")
        desk.sees("This school is to be deleted")
        invited.open("/")
        invited.sees("Skerry School is to be deleted, with all its accounts")
        desk.click("Do not delete it after all")
        desk.until(lambda: "This school is to be deleted" not in desk.text(), "the school stays")

    def test_a_recipe_is_shared_taken_over_and_plans_the_first_test(self) -> None:
        own = recipe(self.ada)
        self.ran(own)
        desk = self.beside()
        desk.sign_in("ada@school.example", PASSWORD)
        desk.open(f"/recipes/{own.pk}")
        desk.click("Share with the district")
        desk.sees("Skerry School and its district have it, with 6 designs’ results.")
        self.accessible(desk, "sharing")

        next_door = self.beside()
        next_door.sign_in("bea@school.example", PASSWORD)
        next_door.open("/library")
        next_door.sees("6 designs in 2 runs: the best 160 g, half 130 g or less")
        next_door.sees("from Skerry School")
        self.assertNotIn("Ada", next_door.text())
        self.accessible(next_door, "what is shared")
        self.in_line(next_door, "from Skerry School", "Take it over")
        next_door.sees("Known from 6 designs in 2 runs of other classes. Expect about")

        taken = Recipe.objects.get(owner=self.bea)
        within = school_class(self.bea, TEAMS)
        run = open_run(taken, within, date(2026, 11, 24))
        tern = checked_in(run.designs.all()[0])
        next_door.open(f"/runs/{run.pk}/bench/{tern.pk}")
        next_door.click("Start the trial")
        next_door.sees("Nothing on it yet")
        estimate = Trial.objects.get(design=tern).expectation()
        assert estimate is not None
        self.assertEqual(estimate.basis, "6 designs in other classes")

        desk.open(f"/recipes/{own.pk}")
        desk.click("Share it no more")
        desk.sees("Share it with what it came to")
        next_door.open("/library")
        next_door.sees("Nothing yet. Open a recipe of yours and share it.")
        self.assertEqual(Run.objects.filter(recipe=taken).count(), 1)
