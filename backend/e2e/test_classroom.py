"""A lesson with teams at tablets of their own, the teacher's bench and the board, each in a browser of its own; the
network goes and comes back, and the server is killed in the middle."""

from __future__ import annotations

from pathlib import Path

from PIL import Image
from selenium.webdriver.common.keys import Keys

from bench.models import Trial
from designs.models import Design, Photo
from e2e.browser import Browser
from e2e.served import PHONE, TABLET_IN_PORTRAIT, InterfaceTest
from live.services import open_board
from people.tests.support import PASSWORD, Api, Ledger, checked_in, run, teacher
from results.models import Reflection
from tablets.services import open_door

EMAIL = "ada@school.example"


class Classroom(InterfaceTest):
    takes_s = 90

    def setUp(self) -> None:
        self.ada = teacher("Ada")
        self.run_ = run(self.ada, teams=("Tern", "Auk", "Rail"))
        self.designs = {design.team.name: design for design in self.run_.designs.select_related("team")}
        self.api = Api(self.ada)

    def clock(self, action: str) -> None:
        self.api.send("PUT", f"runs/{self.run_.pk}/build-clock", {"action": action})

    def test_a_lesson_of_three_teams(self) -> None:
        desk = self.browser()
        desk.sign_in(EMAIL, PASSWORD)
        desk.open(f"/runs/{self.run_.pk}/brief")
        desk.click("Teams in")
        desk.click("Let teams in")
        desk.sees("No tablet is in yet.")
        code = open_door(self.run_).code
        desk.sees(f"{code[:3]}-{code[3:]}")
        desk.sees("With your team’s tablet, come in with")

        tern = self.tablet("Tern", code, PHONE)
        auk = self.tablet("Auk", code, TABLET_IN_PORTRAIT)
        for tablet in (tern, auk):
            tablet.sees("300 mm with nothing under it")
        desk.sees("Tern, since")
        desk.sees("Auk, since")

        # The board is a fourth browser; it shows the bench.
        board = self.browser_beside()
        board.open(f"/board/{open_board(self.run_).token}")

        # The class begins to build; the page is another by itself.
        self.clock("start")
        tern.sees("left to build")
        tern.fill("In a sentence or two", "Two tubes under a folded deck")
        tern.sees("your teacher sees it")
        tern.fill("We say", "1 kg")
        tern.click("That is what we say")
        tern.sees("said; it cannot be changed once the test has begun")
        self.fits(tern, "build")

        # Without a network nothing is lost: it is kept, through a closed lid, and goes out by itself.
        auk.sees("left to build")
        auk.network(False)
        auk.fill("In a sentence or two", "An arch of strips")
        auk.sees("kept on this tablet")
        auk.network(True)
        auk.sees("your teacher sees it")
        self.assertEqual(Design.objects.get(pk=self.designs["Auk"].pk).note, "An arch of strips")

        checked_in(self.designs["Tern"])
        tern.sees("Your test is to come")
        self.fits(tern, "ready")
        ledger = Ledger(self.api, self.designs["Tern"])
        ledger.hold("platform")
        ledger.hold("nut", 5)
        tern.sees("You said before: 1.000 kg")
        tern.sees("Held")
        self.fits(tern, "testing")
        board.sees("Tern")
        self.assertNotIn("You said before", auk.text())
        ledger.add("fail", mode="snap")
        tern.sees("Tern held")
        self.fits(tern, "result")

        # One touch, and everybody is out.
        desk.click("Everybody out")
        tern.sees("This tablet is in no lesson")
        auk.sees("This tablet is in no lesson")
        for browser in (desk, tern, board):
            self.assertEqual(browser.complaints(), [])

    def test_typed_while_the_server_is_dead(self) -> None:
        self.clock("start")
        code = open_door(self.run_).code
        tern = self.tablet("Tern", code, PHONE)
        tern.sees("left to build")
        self.server.kill()
        self.addCleanup(self.server.start_if_killed)
        tern.fill("In a sentence or two", "A truss of three panels")
        tern.sees("kept on this tablet")
        # The tablet is closed and opened again while the server is still away.
        self.server.start()
        tern.open("/team")
        tern.sees("your teacher sees it")
        self.assertEqual(Design.objects.get(pk=self.designs["Tern"].pk).note, "A truss of three panels")

    def test_a_prediction_that_the_network_held_back(self) -> None:
        checked_in(self.designs["Tern"])
        tern = self.tablet("Tern", open_door(self.run_).code, PHONE)
        tern.sees("Your test is to come")
        tern.network(False)
        tern.fill("We say", "1 kg")
        tern.click("That is what we say")
        tern.sees("kept on this tablet")
        Ledger(self.api, self.designs["Tern"]).hold("platform")
        tern.network(True)
        tern.sees("You typed “1 kg” before the test")
        tern.sees("You said nothing before the test.")
        self.fits(tern, "too late")

    def test_two_tablets_that_wrote_something_else_are_both_asked(self) -> None:
        self.clock("start")
        code = open_door(self.run_).code
        tern = self.tablet("Tern", code, PHONE)
        tern.sees("left to build")
        tern.network(False)
        tern.fill("In a sentence or two", "Ours")
        tern.sees("kept on this tablet")
        Design.objects.filter(pk=self.designs["Tern"].pk).update(note="Theirs")
        tern.network(True)
        tern.sees("“Theirs”")
        self.fits(tern, "two notes")
        tern.click("Keep what stands here")
        tern.sees("your teacher sees it")
        self.assertEqual(Design.objects.get(pk=self.designs["Tern"].pk).note, "Ours")

    def test_what_a_team_measures_photographs_and_answers(self) -> None:
        self.clock("start")
        tern = self.tablet("Tern", open_door(self.run_).code, TABLET_IN_PORTRAIT)
        tern.fill("Who is at this tablet? First names, if you like", "Sunniva, Aksel")
        for label, text in (("Clear gap", "31 cm"), ("Own weight", "30.2 g")):
            self.typed(tern, label, text)
        tern.sees("your teacher has not looked at it yet")
        # A photograph that is taken without a network is kept on the tablet, and goes out by itself.
        tern.network(False)
        picture = Path(tern.profile) / "sketch.jpg"
        Image.effect_noise((2400, 1600), 60).convert("RGB").save(picture, quality=95)
        tern.one("input[type=file]").send_keys(str(picture))
        tern.sees("1 photo kept here")
        tern.network(True)
        tern.sees("Take away")
        self.assertEqual((Photo.objects.get().width, Photo.objects.get().waits), (1600, True))
        self.fits(tern, "own readings")

        desk = self.browser()
        desk.sign_in(EMAIL, PASSWORD)
        desk.open(f"/runs/{self.run_.pk}/check-in/{self.designs['Tern'].pk}")
        desk.sees("Tern measured 2 things itself")
        desk.click("Take all 2 over")
        desk.sees("as Tern measured it")
        tern.sees("your teacher took it over")
        # The teacher measures the gap again, and wins; how far apart both are is told on either side.
        self.typed(desk, "Clear gap", "30 cm")
        desk.sees("10 mm more; the instruments explain 1 mm at most")
        tern.sees("Look where each of you began to measure.")
        desk.click("Let all see it")
        tern.sees("all may see it")

        # At the drafting table the team speaks before the model.
        tern.click("To our drafting table")
        tern.sees("The model answers after you.")
        self.fits(tern, "drafting, before")
        tern.fill("We say", "1 kg")
        tern.click("That is what we say")
        tern.sees("What would help most")
        self.fits(tern, "drafting, after")
        tern.click("Keep it")
        tern.sees("Kept")
        tern.click("Back to our page")

        ledger = Ledger(self.api, checked_in(self.designs["Tern"]))
        tern.sees("Sunniva puts the load on")
        ledger.hold("platform")
        ledger.add("fail", mode="snap")
        tern.sees("What do you make of it?")
        question = self.run_.core_family().reflect[0]
        tern.fill(question, "At the fold in the middle.")
        tern.until(lambda: Reflection.objects.filter(text="At the fold in the middle.").exists(), "the answer")
        self.fits(tern, "afterwards")
        tern.fill("The one thing that changes", "Two layers of card")
        tern.click("Open version 2")
        tern.sees("Build version 2")
        tern.sees("Two layers of card")
        desk.open(f"/runs/{self.run_.pk}/next")
        desk.sees("Changed: Two layers of card")
        self.assertEqual(desk.complaints(), [])

    def test_two_teams_test_by_themselves_and_their_teacher_stops_and_confirms(self) -> None:
        code = open_door(self.run_).code
        for team in ("Tern", "Auk"):
            checked_in(self.designs[team])
        desk = self.browser()
        desk.sign_in(EMAIL, PASSWORD)
        self.with_axe(desk)
        desk.open(f"/runs/{self.run_.pk}/stations")
        desk.sees("may test by themselves")
        desk.tap("main input[type=checkbox]")
        tern, auk = self.tablet("Tern", code, PHONE), self.tablet("Auk", code, TABLET_IN_PORTRAIT)
        tern.fill("Who is at this tablet", "Sunniva, Ravn")
        for tablet in (tern, auk):
            tablet.click("Test it yourselves")
            tablet.sees("We have read this")
            self.fits(tablet, "before a test of their own")
            tablet.tap("main input[type=checkbox]")
            tablet.click("Start the test")
            tablet.sees("Nothing on it yet")
            self.held(tablet)
            self.fits(tablet, "testing by themselves")
        desk.sees("2 testing")
        desk.sees("Sunniva puts the load on")
        self.accessible(desk, "stations")

        # One touch stops all of them; the keys that put more on are held back.
        desk.click("Stop all")
        for tablet in (tern, auk):
            tablet.sees("STOP")
            self.assertFalse(self.places(tablet), "the key for more load is held back with it")
            self.fits(tablet, "stopped")
        desk.sees("2 stopped")
        desk.click("Let them go on")
        desk.click("Let them go on")
        # One of them has no network by now: it goes on, and what it enters comes later.
        auk.network(False)
        tern.until(lambda: "STOP" not in tern.text(), "the stop to be lifted")
        tern.press("x")
        tern.sees("How did it go?")
        tern.press("s")
        tern.sees("not confirmed yet")
        desk.sees("1 to confirm")
        desk.open(f"/runs/{self.run_.pk}/compare")
        desk.sees("Not confirmed yet: Tern.")
        desk.click("Stations: 1 testing, 1 to confirm")
        desk.click("Confirm it")
        desk.sees("confirmed by Ada")
        tern.sees("Tern held")
        tern.sees("What do you make of it?")
        self.assertNotIn("onfirmed", tern.text())
        auk.network(True)
        auk.until(lambda: self.places(auk), "the keys of a test that goes on")
        auk.press("x")
        auk.sees("How did it go?")
        auk.press("s")
        desk.sees("1 to confirm")
        self.assertEqual(sorted(Trial.objects.values_list("by_team", "stopped_at")), [(True, None), (True, None)])
        self.assertEqual((desk.complaints(), tern.complaints()), ([], []))

    def held(self, tablet: Browser) -> None:
        """Puts the tray on, and waits till it held."""
        tablet.press(Keys.ENTER)
        tablet.sees("Did it hold?")
        tablet.press(Keys.ENTER)
        tablet.until(lambda: self.places(tablet), "the next step")

    def places(self, tablet: Browser) -> bool:
        """Whether the key that puts the planned step on can be pressed."""
        return any("Place" in key.text and key.is_enabled() for key in tablet.all("main button"))

    def test_a_lesson_of_three_teams_with_the_network_cut_and_the_server_restarted_in_the_middle(self) -> None:
        self.clock("start")
        code = open_door(self.run_).code
        tablets = {name: self.tablet(name, code, PHONE) for name in ("Tern", "Auk", "Rail")}
        board = self.browser_beside()
        board.open(f"/board/{open_board(self.run_).token}")
        for tablet in tablets.values():
            tablet.sees("left to build")

        # All three write; one has no network, and the server dies before the others' words are sent.
        tablets["Tern"].network(False)
        self.server.kill()
        self.addCleanup(self.server.start_if_killed)
        for name, tablet in tablets.items():
            tablet.fill("In a sentence or two", f"What {name} tries")
            tablet.fill("We say", "1 kg")
            tablet.click("That is what we say")
            tablet.sees("kept on this tablet")
        self.server.start()
        for name in ("Auk", "Rail"):
            tablets[name].sees("your teacher sees it")
        tablets["Tern"].sees("kept on this tablet")
        tablets["Tern"].network(True)
        tablets["Tern"].sees("your teacher sees it")
        for name, design in self.designs.items():
            design.refresh_from_db()
            self.assertEqual(design.note, f"What {name} tries")
            self.assertEqual([said.load_kg for said in design.predictions.all()], [1.0], name)

        # The tests, with the server gone once more between two entries: tablet and board come back by themselves.
        ledger = Ledger(self.api, checked_in(self.designs["Tern"]))
        ledger.hold("platform")
        tablets["Tern"].sees("You said before: 1.000 kg")
        self.server.kill()
        ledger.hold("nut", 5)
        ledger.add("fail", mode="snap")
        self.server.start()
        tablets["Tern"].sees("Tern held")
        board.sees("Tern")
        question = self.run_.core_family().reflect[0]
        tablets["Tern"].fill(question, "It snapped in the middle.")
        tablets["Tern"].until(lambda: Reflection.objects.filter(design=self.designs["Tern"]).exists(), "the answer")
        self.assertNotIn("held", tablets["Auk"].text())

    def typed(self, browser: Browser, label: str, text: str) -> None:
        """A reading, typed into its row and sent."""
        field = browser.one(f"form[aria-label='{label}'] input")
        field.clear()
        field.send_keys(text)
        browser.tap(f"form[aria-label='{label}'] button[type=submit]")

    def tablet(self, team: str, code: str, size: tuple[int, int]) -> Browser:
        """A tablet that has come in and said which team it is of."""
        tablet = self.browser_beside()
        self.with_axe(tablet)
        tablet.resize(*size)
        tablet.open(f"/join/{code.upper()}")
        tablet.sees("Your lesson’s code")
        self.fits(tablet, "join")
        tablet.click("Come in")
        tablet.sees("Which team are you?")
        self.fits(tablet, "choose")
        tablet.click(team)
        tablet.sees(team)
        return tablet

    def browser_beside(self) -> Browser:
        self._browsers += 1
        browser = Browser(self.server.address)
        self.addCleanup(browser.close)
        return browser

    def fits(self, tablet: Browser, where: str) -> None:
        """Accessible, and no wider than the screen."""
        self.accessible(tablet, where)
        wide, room = tablet.driver.execute_script("return [document.documentElement.scrollWidth, window.innerWidth]")
        self.assertLessEqual(wide, room, where)
