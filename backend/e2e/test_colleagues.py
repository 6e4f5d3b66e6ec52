"""A colleague at the second bench: invited, helps, and is taken out in the middle of a test."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from bench.models import LedgerEvent
from e2e.browser import Browser
from e2e.served import InterfaceTest, session_of
from live.services import open_board
from people.models import Colleague
from people.tests.support import PASSWORD, checked_in, run, teacher
from tablets.services import open_door

EMAIL = "ada@school.example"


class TwoBenches(InterfaceTest):
    takes_s = 60

    def setUp(self) -> None:
        self.ada, self.bea = teacher("Ada"), teacher("Bea")
        self.run_ = run(self.ada, teams=("Tern", "Auk"))
        self.tern = self.run_.designs.select_related("team")[0]

    def beside(self) -> Browser:
        browser = Browser(self.server.address)
        self.addCleanup(browser.close)
        browser.session_of = session_of
        return browser

    def test_invited_helps_and_is_taken_out_in_the_middle_of_a_test(self) -> None:
        desk = self.browser()
        self.with_axe(desk)
        desk.sign_in(EMAIL, PASSWORD)
        desk.open(f"/classes/{self.run_.school_class_id}")
        desk.click("Invite")
        desk.sees("shown only now")
        self.accessible(desk, "colleagues")
        link = next(word for word in desk.text().split() if "/colleague/" in word)

        helper = self.beside()
        self.with_axe(helper)
        helper.open(link.removeprefix(self.server.address))
        helper.sees("A colleague invites you into a class.")
        helper.sign_in("bea@school.example", PASSWORD)
        helper.open(link.removeprefix(self.server.address))
        helper.sees("Ada invites you into 9 Knot.")
        self.accessible(helper, "invitation")
        helper.click("Come in")
        helper.sees("It is Ada’s class.")

        # Four at once: teacher, helper, team, board.
        team = self.beside()
        team.open(f"/join/{open_door(self.run_).code}")
        team.click("Come in")
        team.click("Tern")
        board = self.beside()
        board.open(f"/board/{open_board(self.run_).token}")

        helper.open(f"/runs/{self.run_.pk}/check-in/{self.tern.pk}")
        helper.sees("You help here")
        self.assertNotIn("Teams in", helper.text())
        field = helper.one("form[aria-label='Clear gap'] input")
        field.send_keys("30 cm", Keys.ENTER)
        helper.sees("1 of 4 measured")
        checked_in(self.tern)
        team.sees("Your test is to come")
        helper.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        helper.sees("Start the trial")
        helper.press(Keys.ENTER)
        helper.sees("Nothing on it yet")
        helper.press(Keys.ENTER)
        helper.until(lambda: LedgerEvent.objects.filter(kind="place").exists(), "the platform")
        board.sees("Tern")
        team.sees("wait and watch")
        self.assertEqual({event.author for event in LedgerEvent.objects.all()}, {"Bea"})

        # Taken out: what the helper notes now is not taken, and is kept where it was noted.
        desk.open(f"/classes/{self.run_.school_class_id}")
        desk.sees("Bea")
        desk.click("Who did what")
        desk.sees("Bea took a reading: Tern")
        desk.sees("Bea began a test: Tern")
        count = LedgerEvent.objects.count()
        desk.click("Take out")
        desk.until(lambda: Colleague.objects.filter(ended_at__isnull=False).exists(), "that Bea is out")
        helper.press("z")
        helper.sees("You are not in 9 Knot any more.")
        helper.sees("kept here")
        self.assertEqual(LedgerEvent.objects.count(), count)
        # The test goes on at the teacher's bench, with all that was in it.
        desk.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        desk.click("take it over here")
        desk.until(lambda: "at another bench" not in desk.text(), "that the teacher has it")
        for browser in (desk, team, board):
            self.assertEqual(browser.complaints(), [])

    def test_an_observer_is_told_so(self) -> None:
        Colleague.objects.create(school_class=self.run_.school_class, teacher=self.bea, part="observer")
        b = self.browser()
        b.sign_in("bea@school.example", PASSWORD)
        b.open("/")
        b.sees("Ada’s; you look on")
        b.open(f"/runs/{self.run_.pk}/check-in/{self.tern.pk}")
        b.sees("You look on here")
        b.one("form[aria-label='Clear gap'] input").send_keys("30 cm", Keys.ENTER)
        b.sees("You look on in 9 Knot. For this, ask Ada.")
        b.open(f"/runs/{self.run_.pk}/bench")
        b.sees("The bench is for those who test.")
        b.open(f"/runs/{self.run_.pk}/compare")
        b.sees("No test has come to its end yet.")
