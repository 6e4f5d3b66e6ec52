"""Three lessons from an empty account, with the slips that lessons have, and the touches that they take.

A touch is a press on a button, a choice or a key, or a field that is filled in, the Enter that sends it included.
"""

from __future__ import annotations

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from bench.models import Trial
from challenges.models import Run
from designs.models import Design
from e2e.browser import Browser
from e2e.served import InterfaceTest
from girder_core.families import family_of
from people.accounts import sign_up
from people.tests.support import PASSWORD

FIRST_SCORED, CHECK_IN, WHOLE_LESSON = 25, 7, 230
"""Most touches: from home to a first scored trial, to check a bridge in, for a whole lesson of six teams (ours)."""


class Hand:
    """Somebody at the browser whose touches are counted."""

    def __init__(self, b: Browser) -> None:
        self.b, self.touches = b, 0

    def tap(self, words: str) -> None:
        self.b.click(words)
        self.touches += 1

    def type(self, label: str, text: str, enter: bool = True) -> None:
        field = self.b.fill(label, text)
        if enter:
            field.send_keys(Keys.ENTER)
        self.touches += 1

    def over(self, field: WebElement, text: str) -> None:
        """Type over what stands in a field."""
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text)
        self.touches += 1

    def key(self, *keys: str) -> None:
        for key in keys:
            self.b.press(key)
            self.touches += 1

    def bay(self, label: str) -> None:
        bays = 'nav[aria-label="Stages of the run"] a'
        found = self.b.until(
            lambda: [e for e in self.b.all(bays) if e.is_displayed() and e.text.startswith(label)], f"the bay {label}"
        )
        found[0].click()
        self.touches += 1

    def home(self) -> None:
        self.b.tap('header a[href="/"]')
        self.touches += 1


class Lessons(InterfaceTest):
    takes_s = 240

    def begin(self) -> Hand:
        self.ada = sign_up("ada@school.example", "Ada", PASSWORD)
        b = self.browser()
        b.sign_in("ada@school.example", PASSWORD)
        b.open("/")
        b.sees("Three steps to the first test.")
        return Hand(b)

    def class_and_teams(self, hand: Hand, name: str, students: int) -> None:
        """A class of so many, in teams of three, by the shortest way."""
        hand.type("New class", name)
        hand.b.sees("Teams from the class list")
        hand.type("or so many students", str(students), enter=False)
        hand.tap("Form the teams")
        hand.b.until(lambda: len(hand.b.all("main li")) == students // 3, "the teams")
        hand.home()
        hand.b.sees("What shall they build?")

    def save_and_start(self, hand: Hand) -> Run:
        hand.tap("Save the recipe")
        hand.b.until(lambda: "/recipes/new" not in hand.b.driver.current_url, "the saved recipe")
        hand.tap("Give it to a class")
        hand.b.tap('[role="dialog"] button[type="submit"]')
        hand.touches += 1
        hand.b.until(lambda: "/brief" in hand.b.driver.current_url, "the brief")
        return Run.objects.latest("pk")

    def check_in(self, hand: Hand, team: str, readings: dict[str, str]) -> int:
        """Check the team in that is next, and say how many touches it took."""
        before = hand.touches
        hand.b.until(lambda: hand.b.one("main h1").text == team, f"check-in of {team}")
        for label, text in readings.items():
            hand.type(label, text)
        hand.tap("All 3 as it should be")
        hand.b.until(lambda: "Still to do" not in hand.b.text(), "all that check-in waits for")
        hand.key("c")
        hand.b.until(lambda: Design.objects.get(team__name=team).checked_in_at is not None, f"{team} checked in")
        return hand.touches - before

    def free_the_keys(self, hand: Hand) -> None:
        """What an eye does: nothing is focused that a key could be meant for."""
        hand.b.driver.execute_script("document.activeElement.blur()")

    def trial(self, hand: Hand, team: str, held: int, mode: str) -> None:
        """A trial by the plan: so many steps held, one too many, how it went, and on to the next team."""
        b = hand.b
        b.sees(f"{team} is on.")
        self.free_the_keys(hand)
        hand.key(Keys.ENTER)
        b.sees("Nothing on it yet")
        for step in range(held + 1):
            b.until(lambda: b.all("[aria-keyshortcuts='Enter']:not([disabled])"), "what is placed next")
            hand.key(Keys.ENTER)
            b.sees("Did it hold?")
            if step < held:
                hand.key("h")
                b.until(lambda: "Did it hold?" not in b.text(), "the step that held")
        hand.key("x")
        b.sees("How did it go?")
        hand.key(mode)
        b.sees("It held")
        hand.key("n")
        b.sees(f"{team} held")

    def test_the_first_scored_trial_from_an_empty_account(self) -> None:
        hand = self.begin()
        self.class_and_teams(hand, "4 Avocet", 18)
        hand.tap("Bridge")
        hand.b.sees("Against the clock")
        self.save_and_start(hand)
        hand.bay("Check-in")
        team = Design.objects.order_by("pk")[0].team.name
        readings = {"Clear gap": self.gap(), "Rests on the left": "3 cm", "Rests on the right": "3 cm",
                    "Own weight": "21 g"}  # fmt: skip
        self.assertLessEqual(self.check_in(hand, team, readings), CHECK_IN)
        hand.bay("Bench")
        self.trial(hand, team, 1, "c")
        self.assertTrue(Trial.objects.get().result(Run.objects.get().trial_setup()).scored)
        print(f"touches to the first scored trial: {hand.touches}")
        self.assertLessEqual(hand.touches, FIRST_SCORED)

    def gap(self) -> str:
        return f"{1000 * float(Run.objects.latest('pk').setup['gap_m']):g} mm"

    def test_a_straw_bridge_with_a_cup_and_coins(self) -> None:
        """Six teams: one is absent, a count was wrong three steps ago, the end came too soon."""
        hand = self.begin()
        b = hand.b
        self.class_and_teams(hand, "4 Avocet", 18)
        hand.tap("Bridge")
        b.sees("Against the clock")
        hand.type("Wait after each step", "1 s")
        hand.over(b.all('input[aria-label="What is needed"]')[0], "paper straw, 200 mm")
        b.sees("straws")
        run = self.save_and_start(hand)
        hand.bay("Check-in")
        teams = [design.team.name for design in Design.objects.filter(run=run).order_by("pk")]
        readings = {"Clear gap": self.gap(), "Rests on the left": "3 cm", "Rests on the right": "3 cm",
                    "Own weight": "19 g"}  # fmt: skip
        for team in teams[:5]:
            self.assertLessEqual(self.check_in(hand, team, readings), CHECK_IN)
        # The sixth is not there today, and nobody waits for it.
        b.until(lambda: b.one("main h1").text == teams[5], "the last team")
        hand.tap(f"{teams[5]} is absent")
        b.until(lambda: Design.objects.get(run=run, team__name=teams[5]).away, "the absent team")
        hand.bay("Bench")
        self.trial(hand, teams[0], 3, "c")
        hand.key("n")
        self.with_a_wrong_count(hand, teams[1])
        hand.key("n")
        for team in teams[2:4]:
            self.trial(hand, team, 3, "s")
            hand.key("n")
        self.ended_too_soon(hand, teams[4])
        hand.key("c")
        b.until(lambda: "/compare" in b.driver.current_url, "the comparison")
        b.sees("times its own weight")
        scored = [t for t in Trial.objects.filter(design__run=run) if t.result(run.trial_setup()).scored]
        self.assertEqual(len(scored), 5)
        self.assertNotIn("still to be tested", b.text())
        print(f"touches for the straw-bridge lesson: {hand.touches}")
        self.assertLessEqual(hand.touches, WHOLE_LESSON)
        self.assertEqual(b.complaints(), [])

    def with_a_wrong_count(self, hand: Hand, team: str) -> None:
        """Three steps on, somebody sees that the second had one piece less than was written down."""
        b = hand.b
        b.sees(f"{team} is on.")
        self.free_the_keys(hand)
        hand.key(Keys.ENTER)
        b.sees("Nothing on it yet")
        for _ in range(4):
            b.until(lambda: b.all("[aria-keyshortcuts='Enter']:not([disabled])"), "what is placed next")
            hand.key(Keys.ENTER)
            b.sees("Did it hold?")
            hand.key("h")
            b.until(lambda: "Did it hold?" not in b.text(), "the step that held")
        trial = Trial.objects.get(design__team__name=team)
        b.until(lambda: b.one("[data-saving]").get_attribute("data-saving") == "saved", "saved")
        placed = [event for event in trial.events.order_by("sequence") if event.kind == "place"]
        several = next(event for event in placed if event.data["count"] > 1)
        before = trial.result(trial.design.run.trial_setup()).held.value
        words = f"{several.data['count']} × "
        hand.tap(words)
        hand.type("How many", str(several.data["count"] - 1))
        b.until(lambda: trial.events.filter(kind="correct").exists(), "the correction kept")
        trial = Trial.objects.get(pk=trial.pk)
        self.assertLess(trial.result(trial.design.run.trial_setup()).held.value, before)
        self.free_the_keys(hand)
        hand.key("1")
        b.sees("waiting")
        hand.key("x")
        b.sees("How did it go?")
        hand.key("c")
        b.sees("It held")
        hand.key("n")
        b.sees(f"{team} held")

    def ended_too_soon(self, hand: Hand, team: str) -> None:
        """It only tipped: the end is taken back, the trial goes on, and then it does go."""
        b = hand.b
        b.sees(f"{team} is on.")
        self.free_the_keys(hand)
        hand.key(Keys.ENTER)
        b.sees("Nothing on it yet")
        for _ in range(2):
            b.until(lambda: b.all("[aria-keyshortcuts='Enter']:not([disabled])"), "what is placed next")
            hand.key(Keys.ENTER)
            b.sees("Did it hold?")
            hand.key("h")
            b.until(lambda: "Did it hold?" not in b.text(), "the step that held")
        hand.key("1")
        b.sees("waiting")
        hand.key("x")
        b.sees("How did it go?")
        hand.key("s")
        b.sees("It held")
        hand.key("z")
        b.until(lambda: "It held" not in b.text() or b.all("[aria-keyshortcuts='X']"), "the end taken back")
        b.sees("Did it hold?")
        hand.key("h")
        hand.key("1")
        b.sees("waiting")
        hand.key("x")
        b.sees("How did it go?")
        hand.key("s")
        b.sees("It held")
        hand.key("n")
        b.sees(f"{team} held")

    def test_paper_columns_under_numbered_books(self) -> None:
        """Three teams: the books differ and keep their order, the pile is weighed later, a trial was another team's."""
        hand = self.begin()
        b = hand.b
        self.class_and_teams(hand, "5 Stilt", 9)
        hand.tap("Column")
        b.sees("Against the clock")
        hand.type("Wait after each step", "1 s")
        book = b.all("[data-kit-item]")[1]
        book.find_elements(By.CSS_SELECTOR, '[role="combobox"]')[1].send_keys(Keys.SPACE)
        b.choose("numbered")
        hand.touches += 2
        hand.over(self.book_field(b, "Name"), "book")
        hand.over(self.book_field(b, "Masses"), "612, 845, 530, 704")
        self.book_field(b, "Masses").send_keys(Keys.TAB)
        b.until(lambda: "612 g" in str(self.book_field(b, "Masses").get_attribute("value")), "the unit that is meant")
        b.until(lambda: "another look" not in b.text(), "the books taken")
        run = self.save_and_start(hand)
        hand.bay("Check-in")
        teams = [design.team.name for design in Design.objects.filter(run=run).order_by("pk")]
        height = f"{1000 * float(run.setup['height_m']):g} mm"
        for team in teams:
            self.check_in(hand, team, {"Height": height, "Columns": "1", "Own weight": "6 g"})
        hand.bay("Bench")
        self.trial(hand, teams[0], 2, "c")
        # What lay on it is put on the scale now that it is over.
        first = Trial.objects.get(design__team__name=teams[0])
        counted = first.result(run.trial_setup()).held.value
        hand.tap("all trials of this run")
        b.tap('nav[aria-label="Trials"] a')
        hand.touches += 1
        hand.tap("Weigh the pile")
        hand.type("Scale shows", "2 kg")
        b.until(lambda: first.events.filter(kind="pile_reading").exists(), "the pile weighed")
        self.assertNotEqual(Trial.objects.get(pk=first.pk).result(run.trial_setup()).held.value, counted)
        # It was the second team's column all the time.
        hand.tap("It was another team")
        b.sees("Whose trial was it?")
        hand.key("1")
        b.sees(f"From {teams[0]} to {teams[1]}")
        self.assertEqual(Trial.objects.get(pk=first.pk).design.team.name, teams[1])
        hand.bay("Bench")
        hand.b.until(lambda: b.all(f'[aria-label^="{teams[0]}"]') or teams[0] in b.text(), "the queue")
        self.pick(hand, teams[0])
        self.trial(hand, teams[0], 1, "b")
        hand.bay("Compare")
        b.sees("One team is still to be tested.")
        print(f"touches for two of three columns with a move and a pile: {hand.touches}")
        self.assertEqual(b.complaints(), [])

    @staticmethod
    def book_field(b: Browser, label: str) -> WebElement:
        book = b.all("[data-kit-item]")[1]
        path = (f".//label[starts-with(normalize-space(.), '{label}')]/following-sibling::div"
                "//*[self::input or self::textarea][not(@aria-hidden)]")  # fmt: skip
        return book.find_element(By.XPATH, path)

    @staticmethod
    def pick(hand: Hand, team: str) -> None:
        """Choose a team in the queue at the bench."""
        hand.b.until(
            lambda: [
                e for e in hand.b.all('[aria-label="The order at the bench"] button, nav button') if team in e.text
            ],
            f"{team} in the queue",
        )[0].click()
        hand.touches += 1

    def test_foil_boats(self) -> None:
        """Three teams: foil is spoken of as foil, a load object was forgotten, one team is late."""
        hand = self.begin()
        b = hand.b
        self.class_and_teams(hand, "6 Teal", 9)
        hand.tap("Boat")
        b.sees("Against the clock")
        hand.over(b.all('input[aria-label="What is needed"]')[0], "aluminium foil, 150 mm square")
        hand.type("Wait after each step", "1 s")
        b.until(lambda: "6 sheets" in b.text() or "4 sheets" in b.text() or "sheets" in b.text(), "foil in sheets")
        run = self.save_and_start(hand)
        b.sees("from one sheet, more of one is less of the other")
        self.assertNotIn("clay", b.text())
        hand.bay("Check-in")
        teams = [design.team.name for design in Design.objects.filter(run=run).order_by("pk")]
        sizes = {"Length": "9 cm", "Width": "9 cm", "Lowest wall": "3 cm", "Own weight": "2 g"}
        self.check_in(hand, teams[0], sizes)
        hand.tap(f"{teams[1]} is absent")
        b.until(lambda: Design.objects.get(run=run, team__name=teams[1]).away, "the absent team")
        hand.bay("Kit")
        hand.tap("A load object is missing?")
        hand.type("Name", "brass penny", enter=False)
        hand.type("Scale showed", "31 g", enter=False)
        hand.tap("Add it")
        b.until(lambda: "A load object is missing?" in b.text(), "the penny in the kit")
        hand.bay("Bench")
        self.trial(hand, teams[0], 2, family_of("boat").failure_modes[0].letter)
        # Late, but here: checked in, it is waited for like everybody.
        hand.bay("Check-in")
        self.pick(hand, teams[1])
        self.check_in(hand, teams[1], sizes)
        late = Design.objects.filter(run=run, team__name=teams[1], away="")
        b.until(late.exists, "the late team waited for like everybody")
        print(f"touches for a foil boat, a forgotten object and a late team: {hand.touches}")
        self.assertEqual(b.complaints(), [])
