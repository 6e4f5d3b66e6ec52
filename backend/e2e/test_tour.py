"""The README's five-minute tour, step by step, on the demo."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from demo.build import load
from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD
from e2e.served import InterfaceTest


class Tour(InterfaceTest):
    def test_the_tour(self) -> None:
        load()
        b = self.browser()
        b.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)
        b.open()
        b.sees("9 of 9 tested")
        next(e for e in b.all("main section a") if "Slip gangway" in e.text and "8 Tern" in e.text).click()

        # Bench: three nuts wait on Kittiwake's bridge. Platform 62 g, bag 348 g, 40 nuts of 17.1 g were held.
        b.until(lambda: b.one('[data-figure="held"]').text.replace("\n", " ") == "1.094 kg", "held 1.094 kg")
        b.sees("3 × M12 hex nut waiting")
        b.sees("Did it hold?")
        b.press(Keys.ENTER)
        # 1.094 kg and three nuts more.
        b.until(lambda: b.one('[data-figure="held"]').text.replace("\n", " ") == "1.145 kg", "held 1.145 kg")
        b.sees("Place ")
        b.until(lambda: b.one("[data-saving]").get_attribute("data-saving") == "saved", "saved")
        b.press(Keys.ENTER)
        b.sees("Held before this step")
        b.press("w")
        b.sees("What do you see?")
        b.press(Keys.ESCAPE)
        b.until(lambda: not b.all('[role="dialog"]'), "the panel closed")
        b.press("z")
        b.until(lambda: "Held before this step" not in b.text(), "the step taken back")

        # Check-in: Dunlin, with a tape that starts at 1 and a slip of the unit.
        next(e for e in b.all('nav[aria-label="Stages of the run"] a') if e.text.startswith("Check-in")).click()
        b.until(lambda: b.one("main h1").text == "Dunlin", "Dunlin")
        b.click("Tape’s start, tare, steps, repeats")
        b.until(lambda: len(b.all('form[aria-label="Clear gap"] input')) > 1, "where the tape starts")
        b.all('form[aria-label="Clear gap"] input')[1].send_keys("1 cm")
        b.fill("Clear gap", "37 cm").send_keys(Keys.ENTER)
        b.until(lambda: "360 mm" in b.one('form[aria-label="Clear gap"]').text, "360 mm")
        b.fill("Own weight", "5 kg").send_keys(Keys.ENTER)
        b.sees("5 kg for a classroom bridge?")

        # Compare: Gannet's open end keeps Fulmar from having won.
        next(e for e in b.all('nav[aria-label="Stages of the run"] a') if e.text.startswith("Compare")).click()
        b.sees("Fulmar leads. Only Gannet could still pass.")
        b.sees("Gannet ran out of load at 32.9 times its own weight")
        b.click("Most load held")
        b.sees("The official ranking of this run: times its own weight")

        # Draft: the class's experience used and taken back, Dunlin asked first, a line that helps pressed.
        next(e for e in b.all('nav[aria-label="Stages of the run"] a') if e.text.startswith("Build")).click()
        b.sees("times what the model said, over 2 trials.")
        b.click("Use it")
        b.sees("✓ Used: the model times")
        b.click("Back to the model alone")
        b.until(lambda: "✓ Used" not in b.text(), "the model alone")
        b.tap('[aria-label="Draft of Dunlin"]')
        b.sees("Say first what it will hold.")
        b.fill("It will hold", "700 g").send_keys(Keys.ENTER)
        b.sees("What would help most")
        before = b.one("h1").text
        b.click("One sheet more")
        b.until(lambda: b.one("h1").text != before, "another answer")

        # Next version, and the other units.
        next(e for e in b.all('nav[aria-label="Stages of the run"] a') if e.text.startswith("Next version")).click()
        b.fill("The one thing that changes", "deeper folds").send_keys(Keys.ENTER)
        b.sees("Version 2: not tested yet")
        b.click("oz in")
        b.sees("2.15 lb")

        # The finished gangways: gains, reasons, rubric, and what stays.
        b.open("/")
        b.until(lambda: [e for e in b.all("a") if "Slip gangway" in e.text and "7 Plover" in e.text], "it")[0].click()
        b.until(lambda: b.all('nav[aria-label="Stages of the run"] a'), "the stages of the run")
        next(e for e in b.all('nav[aria-label="Stages of the run"] a') if e.text.startswith("Next version")).click()
        b.sees("3 of 3 second versions did better")
        next(e for e in b.all('nav[aria-label="Stages of the run"] a') if e.text.startswith("Compare")).click()
        for side, words in (("Why", "Who foresaw it?"), ("Like with like", "What to test again"),
                            ("Rubric", "Explains with forces"), ("Record", "The whole run (JSON)")):  # fmt: skip
            b.click(side)
            b.sees(words)

        # Plan: the boat, its proposals in the units just chosen, harder, saved, printed.
        b.open("/")
        b.click("Plan a challenge")
        b.click("Boat")
        b.sees("Water in the basin")
        proposed = b.field("Longest hull").get_attribute("value")
        self.assertTrue(str(proposed).endswith(" in"), proposed)
        b.one('input[aria-label="How hard"]').send_keys(Keys.ARROW_RIGHT)
        b.until(lambda: b.field("Longest hull").get_attribute("value") != proposed, "a shorter hull")
        b.click("Save the recipe")
        b.sees("The whole pack")
        made = b.download(str(b.button("The whole pack").get_attribute("href")).replace(b.address, ""))
        self.assertTrue(made.startswith(b"%PDF"))
        self.assertEqual(b.complaints(), [])
