"""What a teacher does around the tests: instruments, repeats, photographs, cubes, the order, the minutes."""

from __future__ import annotations

import tempfile
from datetime import date
from pathlib import Path
from typing import Any, cast

from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.actions.pointer_input import PointerInput
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from bench.models import Trial
from challenges.library import take
from designs import services as designing
from designs.models import Design, Photo, Reading
from e2e.browser import Browser
from e2e.served import InterfaceTest
from girder_core.measure import TypedReading
from people.tests.support import PASSWORD, checked_in, run, school_class, teacher


class CheckIn(InterfaceTest):
    takes_s = 90

    def setUp(self) -> None:
        self.run_ = run(
            teacher(), setup={"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "3 kg"}, controls=["the same card"]
        )
        self.tern = self.run_.designs.get(team__name="Tern")
        self.b = self.browser()
        self.b.sign_in("ada@school.example", PASSWORD)
        self.b.open(f"/runs/{self.run_.pk}/check-in/{self.tern.pk}")
        self.b.sees("Check in Tern")

    def reads(self, key: str, instrument: str, shows: str) -> None:
        """Take readings up to this one by hand, then open the instrument's panel and read it."""
        b = self.b
        b.click("Read the scale" if key == "self_mass" else "Read a distance gauge")
        b.fill("For practice", shows)
        b.click(instrument)

    def test_instruments_settle_or_say_why_not(self) -> None:
        b = self.b
        # The gap is the first that is asked for, and a gauge can tell it.
        self.reads("gap", "Practice distance gauge", "30 cm")
        b.until(lambda: not b.all('[role="dialog"]'), "the gauge read")
        b.field("Clear gap").send_keys(Keys.ENTER)
        b.until(lambda: Reading.objects.filter(key="gap").exists(), "the gap saved")
        self.assertAlmostEqual(Reading.objects.get(key="gap").value_si, 0.3, delta=0.001)
        for key in ("overlap_left", "overlap_right"):
            designing.take_reading(self.tern, key, TypedReading("4 cm", "1 mm"), False)
        b.driver.refresh()
        self.reads("self_mass", "Practice scale, plug loose", "31.2 g")
        b.sees("Plug it in again, or type what it shows.")
        b.click("Practice scale in a draught")
        b.sees("It has not settled")
        # A tray lies on it: set to nothing over the line, then the bridge goes on the tray.
        b.fill("For practice", "120 g")
        b.tap('[aria-label="Tare Practice scale (simulated)"]')
        b.sees("Set to nothing; it shows ")
        b.fill("For practice", "151.2 g")
        b.click("Practice scale (simulated)")
        b.until(lambda: not b.all('[role="dialog"]'), "the scale read")
        shown = b.field("Own weight").get_attribute("value")
        self.assertIn(shown, ("31.1 g", "31.2 g", "31.3 g"))

    def test_repeats_a_photograph_and_what_was_not_kept(self) -> None:
        b = self.b
        field = b.fill("Clear gap", "30.0 cm")
        field.send_keys(Keys.ENTER)
        b.click("Tape’s start, tare, steps, repeats")
        b.sees("Measured once more?")
        b.until(lambda: b.driver.switch_to.active_element != field, "the next reading in focus")
        b.fill("Clear gap", "30.4 cm")
        b.click("Measured once more?")
        b.sees("2 readings: 30.0 cm, 30.4 cm. They differ by 4 mm at most")
        self.assertAlmostEqual(self.tern.quantities()["gap"].value, 0.302)
        with tempfile.TemporaryDirectory() as folder:
            good, bad = Path(folder) / "bridge.png", Path(folder) / "bridge.jpg"
            Image.new("RGB", (400, 300), (120, 90, 60)).save(good)
            bad.write_bytes(b"%PDF-1.7 not a photo")
            file = b.driver.find_element(By.CSS_SELECTOR, 'main input[type="file"]')
            file.send_keys(str(bad))
            b.sees("That is no photo that can be read here.")
            file.send_keys(str(good))
            b.one('img[alt="Design of Tern"]')
        self.assertEqual((Photo.objects.get().width, Photo.objects.get().height), (400, 300))
        b.click("Take away")
        b.until(lambda: not Photo.objects.exists(), "the photo gone")
        b.click("✓ the same card")
        b.sees("not kept: the same card")
        self.assertEqual(Design.objects.get(pk=self.tern.pk).controls_broken, ["the same card"])

    def test_a_stand_that_is_timed(self) -> None:
        b = self.b
        b.click("Time it: 1 s")
        b.until(lambda: Design.objects.get(pk=self.tern.pk).answers == {"stands": True}, "the answer written down")

    def test_a_young_class_counts_in_cubes_and_sees_pieces(self) -> None:
        b = self.b
        b.click("For a young class")
        b.tap('[role="dialog"] input[type="checkbox"]')
        b.fill("Counted in", "cm")
        b.fill("One is", "20 mm")
        b.click("Keep it")
        b.sees("Call it by a word of its own")
        b.fill("Counted in", "cube")
        b.click("Keep it")
        b.sees("counts and pictures, in cubes")
        b.fill("Clear gap", "15 cubes").send_keys(Keys.ENTER)
        b.until(lambda: Reading.objects.filter(key="gap").exists(), "the gap saved")
        self.assertAlmostEqual(Reading.objects.get(key="gap").value_si, 0.3)
        checked_in(self.tern)
        b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        b.click("Start the trial")
        b.click("Place tray")
        b.sees("Did it hold?")
        b.press("h")
        b.press("2")
        b.sees("Did it hold?")
        b.press("h")
        b.until(lambda: "5 nuts" in b.one('[data-figure="held"]').text.replace("\n", " "), "five nuts")
        b.one('[role="img"][aria-label="5 pieces"]')
        self.assertNotIn("its own weight", b.text())


class Lesson(InterfaceTest):
    def at(self, run_id: int, design: Design | None = None) -> Browser:
        b = self.browser()
        b.sign_in("ada@school.example", PASSWORD)
        b.open(f"/runs/{run_id}/bench" + (f"/{design.pk}" if design else ""))
        return b

    def test_the_order_is_dragged_by_mouse_and_by_finger(self) -> None:
        made = run(teacher(), teams=("Tern", "Auk", "Rail"))
        b = self.at(made.pk)
        places = 'nav[aria-label="Order of teams"] button'

        def order() -> list[str]:
            return [e.text.split()[0] for e in b.all(places)]

        b.until(lambda: order() == ["Tern", "Auk", "Rail"], "the order of the class list")
        first, _, last = b.all(places)
        # dnd-kit begins after eight pixels, so the way there has a step in between.
        mouse = ActionChains(b.driver).click_and_hold(first).move_by_offset(20, 0).move_to_element(last)
        mouse.pause(0.2).release().perform()
        b.until(lambda: order() == ["Auk", "Rail", "Tern"], "Tern dragged to the end with the mouse")
        b.until(lambda: list(made.designs.order_by("queue_place").values_list("team__name", flat=True))
                == ["Auk", "Rail", "Tern"], "the order kept")  # fmt: skip
        first, _, last = b.all(places)
        # The library says nothing of its types here.
        touch = cast(Any, PointerInput)("touch", "finger")
        finger: Any = ActionBuilder(b.driver, mouse=touch)
        finger.pointer_action.move_to(first).pointer_down().pause(0.5).move_by(20, 0).pause(0.1).move_to(last).pause(
            0.3
        ).pointer_up()
        finger.perform()
        b.until(lambda: order() == ["Rail", "Tern", "Auk"], "Auk dragged to the end with a finger")
        # A finger that is lifted at once only chooses.
        tap: Any = ActionBuilder(b.driver, mouse=touch)
        tap.pointer_action.move_to(b.all(places)[1]).pointer_down().pointer_up()
        tap.perform()
        b.until(lambda: b.one(f'{places}[aria-current="true"]').text.startswith("Tern"), "Tern chosen")
        self.assertEqual(order(), ["Rail", "Tern", "Auk"])

    def test_the_order_and_the_minutes(self) -> None:
        made = run(teacher(), teams=("Tern", "Auk", "Rail"))
        first, *_ = [checked_in(design) for design in made.designs.all()]
        b = self.at(made.pk, first)

        def order() -> list[str]:
            return [e.text.split()[0] for e in b.all('nav[aria-label="Order of teams"] button')]

        b.until(lambda: order() == ["Tern", "Auk", "Rail"], "the order of the class list")
        ActionChains(b.driver).click(b.all('nav[aria-label="Order of teams"] button')[0]).key_down(Keys.ALT).send_keys(
            Keys.ARROW_RIGHT
        ).key_up(Keys.ALT).perform()
        b.until(lambda: order() == ["Auk", "Tern", "Rail"], "Tern one place later")
        b.driver.refresh()
        b.until(lambda: order() == ["Auk", "Tern", "Rail"], "the order kept")
        b.click("How long have we got?")
        b.fill("Minutes left for tests", "0")
        b.click("Set")
        b.sees("Between 1 and 240 minutes.")
        b.fill("Minutes left for tests", "6")
        b.click("Set")
        b.sees("of 3 still fit")
        b.sees("benches all 3 fit")
        b.click("Change")
        b.click("Do not count")
        b.sees("How long have we got?")

    def test_two_benches_at_once_follow_each_other_and_share_a_board(self) -> None:
        made = run(teacher(), setup={"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "3 kg"})
        tern, auk = (checked_in(design) for design in made.designs.all())
        first, two = self.at(made.pk, tern), self.at(made.pk, auk)
        first.click("Start the trial")
        # The other tablet hears of it without being touched.
        two.until(lambda: "on the bench" in two.one('nav[aria-label="Order of teams"]').text, "Tern on the bench")
        two.click("Start the trial")
        for b in (first, two):
            b.click("Place tray")
            b.sees("Did it hold?")
            b.press("h")
        first.click("Board")
        first.click("Open the board")
        link = first.one('[role="dialog"] a').get_attribute("href")
        board = self.browser()
        board.driver.get(str(link))
        board.until(lambda: len(board.all('[data-figure="board-held"]')) == 2, "both benches")
        for screen, words in (("The brief", "300 mm"), ("The build clock", "To build"), ("Cautions", "Before we test"),
                              ("Ranking so far", "No result yet.")):  # fmt: skip
            first.click(screen)
            board.sees(words)
        self.assertEqual(board.complaints(), [])

    def test_the_shaking_table_is_held_against_its_level(self) -> None:
        ada = teacher()
        made = designing.open_run(take(ada, "harbour-watchtower"), school_class(ada), date(2026, 12, 1))
        b = self.at(made.pk)
        b.click("Check the shaking table")
        b.one('[role="dialog"] select').send_keys("2")
        b.click("Practice table, drive slips")
        b.sees("the frequency is 15% too low")
        b.click("Practice shaking table")
        b.sees("as agreed.")

    def test_a_tower_with_a_load_on_its_top(self) -> None:
        ada = teacher()
        made = designing.open_run(take(ada, "leading-light-mast"), school_class(ada), date(2026, 12, 1))
        made.setup["hold_s"] = 1
        made.kit = run(teacher("Bea")).kit[1:]
        made.save()
        tern = made.designs.get(team__name="Tern")
        designing.take_reading(tern, "base", TypedReading("25 cm", "1 mm"), False)
        designing.answer(tern, {question.key: question.good for question in made.core_family().questions})
        b = self.at(made.pk, designing.check_in(tern))
        b.click("Start the trial")
        b.click("Let go")
        b.sees("Did it hold?")
        b.press("h")
        b.click("Measure: height")
        b.fill("Height", "90 cm")
        b.click("Write it down")
        # Measured, it may be loaded.
        b.click("5 × nut")
        b.sees("Did it hold?")
        b.press("h")
        b.until(lambda: "75 g" in b.one('[data-figure="held"]').text.replace("\n", " "), "75 g on its top")
        b.press("d")
        setup = made.trial_setup()
        b.until(lambda: Trial.objects.get().result(setup).ended, "the trial done")
        result = Trial.objects.get().result(setup)
        self.assertAlmostEqual(result.measures["height"].value, 0.9)
        self.assertAlmostEqual(result.held.value, 0.075)
