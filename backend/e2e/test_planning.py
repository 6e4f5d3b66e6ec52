"""From the empty planner to a printable plan, through the interface, with the touches counted; files out and in."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from challenges.models import Recipe, Run
from designs.services import open_run
from e2e.browser import Browser
from e2e.served import InterfaceTest
from people.tests.support import PASSWORD, Api, Ledger, checked_in, recipe, school_class, teacher

MOST_TOUCHES = 6


class Planning(InterfaceTest):
    takes_s = 95

    def setUp(self) -> None:
        self.ada = teacher()
        self.knot = school_class(self.ada, teams=("Tern", "Auk", "Rail", "Coot", "Swan", "Loon"))
        self.b = self.browser()
        self.b.sign_in("ada@school.example", PASSWORD)

    def dimension(self, b: Browser, words: str) -> float:
        """Metres that a dimension in the sheet's drawing stands for, measured on the screen."""
        line = b.one(f'[data-dimension="{words}"]')
        field = line.find_element(By.XPATH, "./ancestor::*[name()='svg']")
        numbers = str(line.get_attribute("d")).split("M")[1][0:].replace("L", " ").split()
        x0, y0, x1, y1 = (float(number) for number in numbers)
        length = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
        return float(length / float(str(field.get_attribute("data-per-metre"))))

    def test_few_touches_to_a_plan_that_prints(self) -> None:
        b = self.b
        for name, age, says in (
            ("Boat", "8 to 10", "Water in the basin"),
            ("Shake tower", "14 to 18", "Stroke of the base"),
            ("Card furniture", "11 to 13", "Margin over the working load"),
        ):
            with self.subTest(name):
                touches = 0

                def touch(act: Callable[[], object]) -> None:
                    nonlocal touches
                    act()
                    touches += 1

                b.open("/")
                # On an empty account the kinds themselves stand on the first page.
                touch(lambda name=name: b.click(name))  # type: ignore[misc]
                b.sees(says)
                touch(lambda age=age: b.tap(f"button[value='{age.replace(' to ', '-')}']"))  # type: ignore[misc]
                b.sees(f"Ages {age}")
                b.until(lambda: "6 teams" in b.text(), "the class's teams")
                touch(lambda: b.click("Save the recipe"))
                b.sees("The whole pack")
                touch(lambda: b.click("The whole pack"))
                b.sees("The whole pack is ready")
                b.tap("a[download$='.pdf']")
                kept = b.until(lambda: next(Path(b.profile).glob("*.pdf"), None), "the pack to be saved")
                made = kept.read_bytes()
                kept.unlink()
                self.assertTrue(made.startswith(b"%PDF"))
                self.assertGreater(len(made), 20_000)
                self.assertLessEqual(touches, MOST_TOUCHES)
                self.assertEqual(Recipe.objects.count(), 1)
            Recipe.objects.all().delete()
        self.assertEqual(b.complaints(), [])

    def test_an_edit_is_followed_at_once_and_can_be_taken_back(self) -> None:
        b = self.b
        b.open("/recipes/new")
        b.click("Bridge")
        b.sees("Kit list")
        proposed = b.field("Gap between the supports").get_attribute("value")
        self.assertEqual(proposed, "360 mm")
        # The drawing is to scale: the dimension's length over the drawing's scale is the gap.
        b.until(lambda: b.all('[data-dimension="360 mm"]'), "the gap drawn")
        self.assertAlmostEqual(self.dimension(b, "360 mm"), 0.36, places=4)
        b.fill("Gap between the supports", "410 mm")
        b.until(lambda: b.all('[data-dimension="410 mm"]'), "the new gap drawn")
        self.assertAlmostEqual(self.dimension(b, "410 mm"), 0.41, places=4)
        b.sees("Your own.")
        b.fill("Gap between the supports", "900 mm")
        b.sees("is longer than the manila card")
        b.fill("Target load", "5 kg")
        b.sees("where half to twice the target of 5.000 kg is expected")
        b.click("back to the proposal")
        b.until(lambda: b.field("Gap between the supports").get_attribute("value") == "360 mm", "the proposal back")
        dial = b.one('input[aria-label="How hard"]')
        dial.send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
        b.sees("much harder")
        b.until(lambda: b.field("Gap between the supports").get_attribute("value") == "440 mm", "a wider gap")
        b.sees("▲ harder.")

    def test_what_makes_no_sense_is_said_and_nothing_typed_is_lost(self) -> None:
        b = self.b
        b.open("/recipes/new")
        b.click("Tower")
        b.sees("Height to aim for")
        b.fill("Minutes", "5")
        b.sees("5 minutes are too short to brief, build and test")
        b.fill("Minutes", "50")
        b.until(lambda: "too short" not in b.text(), "the lesson put right")
        b.fill("Students", "4")
        b.sees("6 teams for 4 students: a team has at least one.")
        b.fill("Students", "18")
        b.until(lambda: "a team has at least one" not in b.text(), "the class put right")
        b.fill("Each team, final: 6 mm dowel, 300 mm", "0")
        b.fill("Each team, final: rubber band", "0")
        b.sees("The quota is zero")
        b.fill("Each team, final: 6 mm dowel, 300 mm", "20")
        b.until(lambda: "The quota is zero" not in b.text(), "the quota put right")
        b.fill("In a pack: rubber band", "0")
        b.sees("holds at least one")
        b.click("Save the recipe")
        b.sees("needs another look")
        self.assertEqual(Recipe.objects.count(), 0)
        b.fill("In a pack: rubber band", "100")
        b.fill("Minutes to dry", "3000")
        b.sees("Drying takes 50 h, but the next lesson is 24 h away")
        b.fill("Minutes to dry", "0")
        b.fill("Height to aim for", "1.9 m")
        b.sees("Confirm first: Only an adult on a proper step")
        b.tap('label:has(input[type="checkbox"])')
        b.until(lambda: "Confirm first" not in b.text(), "the condition confirmed")
        self.assertEqual(b.field("Each team, final: 6 mm dowel, 300 mm").get_attribute("value"), "20")
        b.click("Save the recipe")
        b.sees("The whole pack")
        self.assertEqual(Recipe.objects.get().confirmed, ["chair"])

    def test_a_person_as_load_is_refused_for_children(self) -> None:
        b = self.b
        b.open("/recipes/new")
        b.click("Card furniture")
        b.sees("Say if any of these is used")
        b.until(lambda: [e for e in b.all("label") if "A person as load" in e.text], "the choice")[0].click()
        b.sees("A person is not a load for this age.")
        b.click("Save the recipe")
        b.sees("A person is not a load for this age.")
        self.assertEqual(Recipe.objects.count(), 0)

    def test_a_recipe_file_goes_out_and_comes_in_and_bad_ones_change_nothing(self) -> None:
        b = self.b
        b.open("/library")
        b.tap('button[aria-label="Take Net loft columns"]')
        b.sees("The kit lasts")
        first = Recipe.objects.get()
        link = b.button("Export").get_attribute("href")
        text = b.download(str(link).replace(b.address, "")).decode()
        with TemporaryDirectory() as folder:
            good, cut, wrong = (Path(folder) / name for name in ("good.json", "cut.json", "wrong.json"))
            good.write_text(text)
            cut.write_text(text[:900])
            data = json.loads(text)
            data["recipe"]["setup"]["height_m"] = "17 parsecs"
            data["recipe"]["materials"][0]["pack_size"] = 0
            wrong.write_text(json.dumps(data, indent=2))
            for file, words in ((cut, "was it cut off?"), (wrong, "is not a unit of length used here")):
                b.open("/library")
                b.sees("Import a recipe file")
                b.one('input[type="file"]').send_keys(str(file))
                b.sees(words)
                b.sees("Nothing was changed")
            b.sees("holds at least one")
            self.assertEqual(Recipe.objects.count(), 1)
            b.one('input[type="file"]').send_keys(str(good))
            b.sees("The whole pack")
        second = Recipe.objects.exclude(pk=first.pk).get()
        self.assertEqual((second.terms(), second.typed), (first.terms(), first.typed))

    def test_the_goal_is_locked_once_tests_have_begun(self) -> None:
        api = Api(self.ada)
        made = open_run(recipe(self.ada), self.knot, date(2026, 11, 3))
        b = self.b
        b.open(f"/runs/{made.pk}/compare")
        b.click("Change the goal")
        b.sees("What wins in this run")
        self.assertNotIn("Why it changes", b.text())
        b.one('[role="dialog"] [role="combobox"]').send_keys(Keys.SPACE)
        b.choose("Most load held")
        b.click("Change it")
        b.until(lambda: Run.objects.get(pk=made.pk).school == "most_held", "the goal changed without a word")
        design = made.designs.all()[0]
        ledger = Ledger(api, checked_in(design))
        ledger.hold("platform")
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="crimp")
        b.open(f"/runs/{made.pk}/compare")
        b.click("Change the goal, with a reason")
        b.one('[role="dialog"] [role="combobox"]').send_keys(Keys.SPACE)
        b.choose("Times its own weight")
        b.click("Change it")
        b.sees("Say why it changes")
        b.fill("Why it changes", "the class voted for it")
        b.click("Change it")
        b.sees("The goal was changed after tests had begun")
        # At the top, and the page is by the new goal at once.
        self.assertLess(b.text().index("The goal was changed"), b.text().index("only result so far"))
        b.until(lambda: "For discussion" not in b.text(), "the ranking by the new goal")
        b.sees("the class voted for it")
        b.sees("most load held; best trial counts")
