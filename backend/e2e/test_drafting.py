"""Drafting in the real interface: every kind to scale, what is typed is followed, the team speaks before the model."""

from __future__ import annotations

import re
from datetime import timedelta

from django.db.models import F
from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys

from bench.models import Trial
from designs.models import Design, Draft
from drafting.models import ClassCorrection, OwnStock
from e2e.browser import Browser
from e2e.served import InterfaceTest
from girder_core.drafting import KINDS
from people.tests.support import PASSWORD, Api, Ledger, checked_in, run, teacher

MEASURED = """
    return [...document.querySelectorAll('figure svg[data-per-metre]')].flatMap((svg) =>
        [...svg.querySelectorAll('path[data-dimension]')].map((path) => {
            const [x0, y0, x1, y1] = path.getAttribute('d').match(/-?[0-9.]+/g).slice(0, 4).map(Number);
            return [path.dataset.dimension, Math.hypot(x1 - x0, y1 - y0) / Number(svg.dataset.perMetre)];
        }));
"""
"""Every dimension on the page: what it says, and its length on the screen over the drawing's scale [m]."""


SETUP = {"gap_m": "30 cm", "overlap_max_m": "50 mm", "hold_s": "1 s", "bench_limit_kg": "3 kg", "target_kg": "395 g"}


class Table(InterfaceTest):
    takes_s = 90

    def setUp(self) -> None:
        self.ada = teacher()
        self.b = self.browser()
        self.b.sign_in("ada@school.example", PASSWORD)

    def go(self, kind: str) -> Browser:
        self.b.open(f"/drafting/{kind}")
        self.b.sees("Every way it can fail")
        return self.b

    def headline(self) -> str:
        return self.b.one("h1").text

    def set(self, label: str, text: str) -> None:
        """Type into a setting of the draft, by its label."""
        labels = [element for element in self.b.all("label") if element.text == label]
        field = self.b.one(f"#{labels[0].get_attribute('for')}")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text)

    def test_every_kind_is_drawn_to_scale(self) -> None:
        for key, kind in KINDS.items():
            with self.subTest(key):
                b = self.go(key)
                b.one("path[data-dimension]")
                boxes = b.driver.execute_script(MEASURED)
                self.assertGreaterEqual(len(boxes), 1)
                for words, metres in boxes:
                    length = re.search(r"([0-9.]+) (mm|m)$", words)
                    assert length is not None, words
                    said = float(length[1]) / (1000 if length[2] == "mm" else 1)
                    # Points are written to a hundredth of a pixel, lengths to a tenth of a millimetre.
                    self.assertAlmostEqual(metres, said, delta=max(0.00011, 0.004 * said), msg=f"{key}: {words}")
                self.assertGreaterEqual(len(b.all("[data-state]")), 2)
                self.assertIn(kind.name, b.text())
        self.assertEqual(self.b.complaints(), [])

    def test_a_slider_and_a_typed_value_move_the_answer(self) -> None:
        b = self.go("sheet_bridge")
        before = self.headline()
        self.set("Depth", "16 mm")
        b.until(lambda: self.headline() != before, "a new answer")
        deeper = self.headline()
        slider = b.one('input[aria-labelledby="label-span_m"]')
        slider.send_keys(Keys.ARROW_LEFT, Keys.ARROW_LEFT)
        b.until(lambda: b.one("#draft-span_m").get_attribute("value") == "280 mm", "the slider's value in its field")
        b.until(lambda: self.headline() != deeper, "the answer after the slider")
        b.until(lambda: b.all('path[data-dimension="280 mm"]'), "the drawing after the slider")

    def test_what_helps_can_be_tried_and_is_explained_for_two_readers(self) -> None:
        b = self.go("column")
        b.click("One layer more")
        b.until(lambda: b.one("#draft-layers").get_attribute("value") == "2", "two layers")
        older = b.one('[data-testid="why"]').text
        b.click("in short words")
        self.assertNotEqual(b.one('[data-testid="why"]').text, older)
        first, second = (bar.get_attribute("data-state") for bar in b.all("[data-state]")[:2])
        self.assertNotEqual(first, second)
        b.all("[data-state]")[1].click()
        b.until(lambda: b.all('[data-state][aria-pressed="true"]')[0].get_attribute("data-state") == second, "another")

    def test_what_cannot_be_built_is_said_where_it_stands_and_nothing_typed_is_lost(self) -> None:
        for kind, label, text, words in (
            ("sheet_bridge", "Depth", "90 mm", "a pleat cannot be as deep"),
            ("sheet_bridge", "Gap", "far", "is not a number with a unit"),
            ("sheet_bridge", "Depth", "12 m", "Is the unit right?"),
            ("boat", "Height of the walls", "0 mm", "without walls holds no water out"),
            ("ring", "Length of a strut", "90 mm", "do not reach each other"),
            ("arch", "Layer 1 steps in", "60 mm", "a block's length or more"),
        ):
            with self.subTest(kind=kind, label=label, text=text):
                b = self.go(kind)
                self.set(label, text)
                b.sees(words)
                b.sees("This cannot be built as it stands.")
                field = next(element for element in b.all("label") if element.text == label).get_attribute("for")
                self.assertEqual(b.one(f"#{field}").get_attribute("value"), text)

    def test_what_builders_use_can_be_drafted(self) -> None:
        for kind, says, choose in (
            ("hanging", "An anchor slides first", "straight stays"),
            ("strip_arch", "The strip creases first", "all along the arch"),
            ("plank", "sag to the limit first", "in the middle"),
            ("tripod", "A leg end crushes first", "free on the table"),
        ):
            with self.subTest(kind=kind):
                b = self.go(kind)
                b.sees(says)
                before = self.headline()
                b.click(choose)
                self.answers_otherwise(before)

    def answers_otherwise(self, before: str) -> None:
        self.b.until(lambda: self.headline() != before, "another answer")

    def test_planks_too_far_apart_let_the_load_fall(self) -> None:
        b = self.go("plank")
        self.set("Planks", "5")
        b.sees("The load falls through the deck.")

    def test_cargo_beyond_buoyancy_sinks_on_the_drawing(self) -> None:
        b = self.go("boat")
        self.set("Cargo on it now", "700 g")
        b.sees("It sinks: it can carry")

    def test_a_joint_is_dragged_put_on_another_and_put_back(self) -> None:
        b = self.go("truss")
        members = b.until(lambda: b.all("[data-member]"), "members")
        self.assertEqual(len(members), 15)
        before = self.headline()
        joint = b.one('[aria-label^="Joint T1;"]')
        ActionChains(b.driver).drag_and_drop_by_offset(joint, 0, 40).perform()
        b.until(lambda: self.headline() != before, "another answer")
        b.sees("Put the joints back")
        # By keys, joint B1 onto the line of its neighbours and beyond: it stays a truss, and every press is followed.
        b.one('[aria-label^="Joint T1;"]').send_keys(Keys.ARROW_UP)
        b.click("Put the joints back")
        b.until(lambda: self.headline() == before, "the first answer again")
        # T0 starts at 45 mm and T1 at 135 mm: eighteen presses of 5 mm put one on the other.
        for _ in range(18):
            b.one('[aria-label^="Joint T0;"]').send_keys(Keys.ARROW_RIGHT)
        b.sees("Joints T0 and T1 lie on each other")
        b.click("Put the joints back")
        b.until(lambda: self.headline() == before, "the first answer again")

    def test_a_stock_is_measured_kept_and_used(self) -> None:
        self.b.open("/stocks")
        b = self.b
        b.sees("A sheet of your own")
        for label, text in {
            "Name": "blue card", "Thickness of the stack": "2.6 cm", "Weigh": "131 g", "Width": "210 mm",
            "Length": "297 mm", "Sticks out, along the strip": "18 cm", "Tip hangs below": "4 cm",
        }.items():  # fmt: skip
            b.fill(label, text)
        b.click("Work it out")
        b.sees("centimetres instead of millimetres")
        b.fill("Thickness of the stack", "2.6 mm")
        b.click("Work it out")
        b.sees("210 g/m²")
        b.sees("from a droop of")
        b.click("Keep it")
        b.until(lambda: OwnStock.objects.count() == 1, "the stock kept")
        b.sees("blue card measured")
        self.go("sheet_bridge")
        b.tap('[role="combobox"][aria-labelledby~="label-sheet"]')
        listed = b.until(
            lambda: [element for element in b.all("li") if "blue card, measured" in element.text], "it in the list"
        )
        listed[0].click()
        b.sees("Every way it can fail")


class InARun(InterfaceTest):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada, setup=SETUP)
        self.tern, self.auk = self.run_.designs.all()
        self.b = self.browser()
        self.b.sign_in("ada@school.example", PASSWORD)

    def go(self, stage: str) -> Browser:
        self.b.open(f"/runs/{self.run_.pk}/{stage}")
        return self.b

    def test_the_team_says_the_model_answers_and_the_bench_goes_by_it(self) -> None:
        checked_in(self.tern)
        b = self.go("build")
        b.tap('[aria-label="Draft of Tern"]')
        b.sees("Say first what it will hold.")
        self.assertNotIn("What would help most", b.text())
        b.fill("It will hold", "60 bricks")
        b.click("Say it")
        b.sees("There is no “bricks” in the load of this run")
        # In grams, as they are chosen on top.
        b.fill("It will hold", "600")
        b.click("Say it")
        b.sees("Every way it can fail")
        b.sees("Tern says 600 g, before seeing the model.")
        b.click("Keep for Tern")
        b.until(lambda: Draft.objects.filter(design=self.tern).exists(), "the draft kept")
        b.sees("Kept")
        b = self.go(f"bench/{self.tern.pk}")
        b.sees("The model says")
        b.press(Keys.ENTER)
        b.sees("from the model.")
        said = Design.objects.get(pk=self.tern.pk)
        prediction = said.predictions.get()
        assert said.model_shown_at is not None
        self.assertLessEqual(prediction.said_at, said.model_shown_at)

    def test_looking_first_is_noted(self) -> None:
        b = self.go(f"drafting/{self.auk.pk}")
        b.click("Show the model without saying")
        b.sees("Every way it can fail")
        self.api.send("POST", f"designs/{self.auk.pk}/prediction", {"text": "1 kg"})
        b.driver.refresh()
        b.sees("Auk says 1.000 kg, after seeing the model.")

    def test_the_class_teaches_the_model_and_it_can_be_taken_back(self) -> None:
        for design, nuts in ((self.tern, 24), (self.auk, 16)):
            checked_in(design)
            body = {"kind": "sheet_bridge", "typed": {"sheet": "card-160", "depth_m": "9 mm"}}
            self.api.send("PUT", f"designs/{design.pk}/draft", body)
            ledger = Ledger(self.api, design)
            ledger.hold("platform")
            ledger.hold("nut", nuts)
            ledger.add("place", item="nut", count=1)
            ledger.add("fail", mode="crimp")
        b = self.go("build")
        b.sees("Your class’s designs of thin card, 160 g/m² held")
        b.sees("over 2 trials")
        b.click("Use it")
        b.sees("✓ Used: the model times")
        self.assertEqual(ClassCorrection.objects.filter(withdrawn_at=None).count(), 1)
        b = self.go(f"drafting/{self.tern.pk}")
        b.sees("as designs in your classes held")
        b = self.go("build")
        b.click("Back to the model alone")
        b.until(lambda: not ClassCorrection.objects.filter(withdrawn_at=None).exists(), "the model alone")
        b.until(lambda: "✓ Used" not in b.text(), "no factor on the screen")

    def test_the_clock_pauses_warns_and_takes_more_time(self) -> None:
        b = self.go("build")
        b.click("Start building")
        b.sees("Left to build")
        b.click("Pause")
        b.sees("Paused")
        b.click("+ 5 min")
        b.until(lambda: "24:5" in b.text() or "25:00" in b.text(), "five minutes more")
        b.click("Go on")
        b.sees("Left to build")
        type(self.run_).objects.update(build_started_at=F("build_started_at") - timedelta(minutes=20, seconds=30))
        b.driver.refresh()
        b.sees("Less than 5 minutes left")
        type(self.run_).objects.update(build_started_at=F("build_started_at") - timedelta(minutes=2))
        b.driver.refresh()
        b.sees("Less than 3 minutes left")
        type(self.run_).objects.update(build_started_at=F("build_started_at") - timedelta(minutes=9))
        b.driver.refresh()
        b.sees("Time is up. Hands off.")
        b.click("Reset the clock")
        b.sees("To build")

    def test_practice_is_counted_and_wet_glue_waits_or_has_its_reason(self) -> None:
        self.run_.drying_minutes = 20
        self.run_.materials = [{"name": "card", "practice": 2}]
        self.run_.save()
        checked_in(self.tern)
        b = self.go("build")
        b.tap('[aria-label="One practice piece more for Tern"]')
        b.sees("1 of 2 practice")
        b.click("Glued now")
        b.sees("≈ dry in 20:00")
        b = self.go(f"bench/{self.tern.pk}")
        b.sees("The joints are dry in")
        b.press(Keys.ESCAPE)
        self.assertFalse(Trial.objects.exists())
        b.fill("Why test it now anyway?", "lesson ends")
        b.click("Start the trial")
        b.until(lambda: Trial.objects.filter(wet_reason="lesson ends").exists(), "the trial with its reason")
