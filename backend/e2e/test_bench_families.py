"""Every kind of challenge through check-in, bench and result, with the keyboard, in the real interface."""

from __future__ import annotations

from datetime import date

from selenium.webdriver.common.keys import Keys

from bench.models import Trial
from challenges.library import take
from challenges.models import Run
from designs import services as designing
from e2e.browser import Browser
from e2e.served import InterfaceTest
from girder_core.families import SELF_MASS
from girder_core.measure import typed_text
from girder_core.trial import Outcome, TrialResult
from people.tests.support import PASSWORD, school_class, teacher
from runs.tests.test_every_family import good_reading


class EveryKind(InterfaceTest):
    """One run from a shipped recipe each; its wait is shortened so that a test takes seconds."""

    takes_s = 150

    def begin(self, slug: str) -> Browser:
        ada = teacher()
        self.run_: Run = designing.open_run(take(ada, slug), school_class(ada, ("Tern", "Auk")), date(2026, 12, 1))
        if "hold_s" in self.run_.setup:
            self.run_.setup["hold_s"] = 1
            self.run_.save()
        b = self.browser()
        b.sign_in("ada@school.example", PASSWORD)
        self.touches = 0
        self.check_in(b)
        b.open(f"/runs/{self.run_.pk}/bench")
        return b

    def check_in(self, b: Browser) -> None:
        family = self.run_.core_family()
        b.open(f"/runs/{self.run_.pk}/check-in")
        b.sees("Check in Tern")
        for spec in family.readings:
            if not spec.needed or (spec.may_follow and spec.key != SELF_MASS):
                continue
            text = typed_text(good_reading(family, spec, self.run_.setup), spec.kind)
            b.fill(spec.label, text).send_keys(Keys.ENTER)
            row = f'form[aria-label="{spec.label}"]'
            b.until(lambda row=row: "to do" not in b.one(row).text, f"{spec.label} saved")  # type: ignore[misc]
            self.touches += 2
        for question in family.questions:
            b.tap(f'[aria-label="{question.text}"] button[value="{"yes" if question.good else "no"}"]')
            self.touches += 1
        answers = len(family.questions)
        b.until(lambda: len(self.design_answers()) == answers, "all answers saved")
        b.click("Check in Tern")
        self.touches += 1
        b.until(lambda: "Auk" in b.one("h1").text, "the next team")
        # A team is in with fewer than twenty touches: eight teams in ten minutes leave 75 s each.
        self.assertLess(self.touches, 20)

    def design_answers(self) -> dict[str, bool]:
        answers: dict[str, bool] = self.run_.designs.get(team__name="Tern").answers
        return answers

    def result(self) -> TrialResult:
        return Trial.objects.get().result(self.run_.trial_setup())

    def figure(self, b: Browser, words: str) -> None:
        b.until(lambda: words in b.one('[data-figure="held"]').text.replace("\n", " "), f"the figure {words}")

    def hold(self, b: Browser) -> None:
        b.sees("Did it hold?")
        b.press("h")

    def ended(self, b: Browser, says: str) -> None:
        b.until(lambda: b.one("[data-saving]").get_attribute("data-saving") == "saved", "all saved")
        b.press("n")
        b.sees(says)
        b.open(f"/runs/{self.run_.pk}/compare")
        b.sees("is the only result so far")
        self.assertEqual(b.complaints(), [])

    def load(self, slug: str, held: str) -> Browser:
        """Load one piece that holds and one that is too much; returns before the end is told."""
        b = self.begin(slug)
        b.sees("Start the trial")
        b.press(Keys.ENTER)
        b.sees("Nothing on it yet")
        if self.run_.core_kit().has_platform():
            b.press(Keys.ENTER)
            self.hold(b)
        b.press("1")
        self.hold(b)
        self.figure(b, held)
        b.press("1")
        b.sees("waiting")
        b.press("x")
        b.sees("How did it go?")
        mode = self.run_.core_family().failure_modes[0]
        b.press(mode.letter)
        b.sees(mode.label)
        self.assertIs(self.wait_for_end(b).outcome, Outcome.BROKE)
        return b

    def wait_for_end(self, b: Browser) -> TrialResult:
        b.until(lambda: self.result().ended, "the end saved")
        return self.result()

    def loaded(self, slug: str, held: str, says: str) -> None:
        b = self.load(slug, held)
        self.ended(b, says)

    def test_bridge(self) -> None:
        # A tray of 62 g and a nut of 342 / 20 g.
        self.loaded("slip-gangway", "79.1 g", "Tern held 79.1 g")

    def test_column(self) -> None:
        # A deck board of 118 g and the first tile, 231 g.
        self.loaded("net-loft-columns", "349 g", "Tern held 349 g")

    def test_bucket_tower(self) -> None:
        # A cup of 19 g and a scoop of 258 / 6 g.
        self.loaded("rain-bucket-frame", "62 g", "Tern held 62 g")

    def test_capacity_table_counts_pieces(self) -> None:
        self.loaded("fish-market-table", "1 wooden crate counter", "Tern held 1 piece.")

    def test_furniture_shows_what_it_is_made_for(self) -> None:
        b = self.load("harbour-stool", "1.184 kg")
        # The working load of 9 kg and its margin of 2.
        self.assertIn("made for 9.000 kg", b.text())
        self.assertIn("with its margin 18.000 kg", b.text())
        self.ended(b, "Tern held 1.184 kg")

    def test_boat_tells_where_the_cargo_sits(self) -> None:
        b = self.begin("clay-lighters")
        b.sees("Start the trial")
        b.press(Keys.ENTER)
        b.sees("Nothing on it yet")
        b.tap('[aria-label^="Next cargo fore starboard"]')
        b.press("2")
        self.hold(b)
        b.sees("Cargo sits off centre")
        b.press("x")
        b.press("c")
        self.assertEqual(self.wait_for_end(b).seats, {"fs": 5})
        self.ended(b, "Tern held 26.2 g")

    def weighed(self, slug: str, held: str, scale: str, says: str) -> None:
        b = self.load(slug, held)
        b.press("p")
        b.fill("Scale shows", scale)
        b.click("Write it down")
        b.sees(says)
        b.until(lambda: self.result().pile_weighed, "the pile weighed")
        b.press("n")
        b.sees("Tern held")

    def test_arch_is_told_by_its_pile(self) -> None:
        # Two chips of 462 / 15 g are 61.6 g.
        self.weighed("fish-cellar-arch", "30.8 g", "62 g", "Scale and count agree")

    def test_ring_and_a_plate_left_off_the_scale(self) -> None:
        # A plate of 44 g and two bags of 311 / 5 g are 168.4 g; without the plate 124.4 g.
        self.weighed("capstan-ring", "106.2 g", "124 g", "left off the scale")

    def test_tower_stands_and_is_measured(self) -> None:
        b = self.begin("leading-light-mast")
        b.sees("Start the trial")
        b.press(Keys.ENTER)
        b.sees("Let go")
        b.press(Keys.ENTER)
        b.sees("Did it hold?")
        b.press(Keys.ENTER)
        b.sees("It stood. How high is it?")
        b.press(Keys.ENTER)
        b.fill("Height", "81 cm")
        b.fill("Starts at", "1 cm")
        b.click("Write it down")
        self.figure(b, "800 mm")
        b.press(Keys.ENTER)
        self.assertIs(self.wait_for_end(b).outcome, Outcome.DONE)
        self.ended(b, "Tern stands 800 mm tall.")

    def test_shake_tower(self) -> None:
        b = self.begin("harbour-watchtower")
        b.sees("On an isolating layer")
        b.press("2")
        b.press(Keys.ENTER)
        b.sees("Shake level 1")
        b.press(Keys.ENTER)
        b.sees("Hands off the base")
        self.hold(b)
        self.figure(b, "1 of 6")
        b.press(Keys.ENTER)
        b.until(lambda: self.result().round_waiting, "level 2 under way")
        b.press("x")
        b.press("j")
        self.assertEqual(self.wait_for_end(b).survived.high, 2)  # type: ignore[union-attr]
        self.assertEqual(Trial.objects.get().arrangement, "isolated")
        b.sees("Its strength lies between level 1 and level 2.")
        self.ended(b, "Tern survived level 1.")

    def test_drop_house_and_a_height_below_the_last(self) -> None:
        b = self.begin("boathouse-drop")
        b.sees("Start the trial")
        b.press(Keys.ENTER)
        b.sees("Drop from 22 cm")
        b.press(Keys.ENTER)
        b.until(lambda: "H, or Enter" in b.text() and self.result().round_waiting, "the drop under way")
        b.press(Keys.ENTER)
        self.figure(b, "22 cm")
        b.press("d")
        b.fill("Other height", "15 cm")
        b.click("Write it down")
        b.sees("Each drop is higher than the last")
        b.press(Keys.ENTER)
        b.until(lambda: self.result().round_waiting, "the next drop under way")
        b.press("x")
        b.press("r")
        bounds = self.wait_for_end(b).survived
        assert bounds is not None
        self.assertEqual((bounds.low, bounds.high), (0.22, 0.36))
        self.ended(b, "Tern survived 22 cm.")

    def test_wall_under_attack(self) -> None:
        b = self.begin("storm-wall")
        b.sees("Start the trial")
        b.press(Keys.ENTER)
        b.sees("Behind the line")
        for key in "12112":
            b.press(key)
        self.figure(b, "3 of 5 throws")
        b.sees("Count what is left")
        b.press(Keys.ENTER)
        b.fill("Pieces left standing", "-2")
        b.click("Write it down")
        b.sees("Check the reading")
        b.press(Keys.ENTER)
        b.fill("Pieces left standing", "3")
        b.click("Write it down")
        self.figure(b, "3 pieces")
        b.press(Keys.ENTER)
        self.assertEqual(self.wait_for_end(b).hits, 3)
        self.ended(b, "Tern has 3 left, after 3 hits.")

    def test_a_rehearsal_leaves_no_result(self) -> None:
        b = self.begin("slip-gangway")
        b.sees("Rehearse")
        b.press("r")
        b.sees("Rehearsal, never a result.")
        b.press(Keys.ENTER)
        self.hold(b)
        b.press("v")
        b.sees("What spoiled it?")
        b.press("k")
        b.press("n")
        b.sees("Tern is on.")
        self.assertEqual(Trial.objects.count(), 0)
        self.assertEqual(Trial.with_rehearsals.count(), 1)
