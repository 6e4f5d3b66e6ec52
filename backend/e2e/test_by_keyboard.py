"""The bench by keyboard in a real browser, whose own answer to a key counts too; and what comes after a trial's end."""

from __future__ import annotations

import io

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from selenium.webdriver.common.keys import Keys

from bench.models import LedgerEvent, Trial
from designs.photo_services import keep_photo
from e2e.browser import Browser
from e2e.served import InterfaceTest
from live.services import open_board, show_screen
from people.tests.support import PASSWORD, Api, Ledger, checked_in, run, teacher


class AtTheBench(InterfaceTest):
    takes_s = 40

    def setUp(self) -> None:
        self.ada = teacher()
        self.run_ = run(self.ada, setup={"gap_m": "30 cm", "hold_s": "2 s", "bench_limit_kg": "3 kg"})
        self.tern, self.auk = (checked_in(design) for design in self.run_.designs.all())
        self.b = self.browser()
        self.b.sign_in("ada@school.example", PASSWORD)

    def at_the_bench(self) -> Browser:
        self.b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        return self.b

    def kinds(self) -> list[str]:
        return list(LedgerEvent.objects.order_by("trial__number", "sequence").values_list("kind", flat=True))

    def saved(self, *kinds: str) -> None:
        self.b.until(lambda: self.kinds() == list(kinds), f"the ledger {kinds}")

    def focused(self) -> str:
        return str(self.b.driver.switch_to.active_element.text)

    def tab_to(self, words: str) -> None:
        for _ in range(90):
            if self.focused().startswith(words):
                return
            self.b.press(Keys.TAB)
        raise AssertionError(f"Tab does not reach “{words}”")

    def test_enter_presses_what_tab_reached(self) -> None:
        b = self.at_the_bench()
        b.sees("Start the trial")
        self.tab_to("Start the trial")
        b.press(Keys.ENTER)
        b.sees("Place tray")
        b.press(Keys.ENTER)
        self.saved("place")
        self.tab_to("Undo")
        b.press(Keys.ENTER)
        self.saved("place", "undo")
        self.tab_to("Compare")
        b.press(Keys.ENTER)
        b.until(lambda: b.driver.current_url.endswith("/compare"), "the page of the focused bay")
        self.assertEqual(self.kinds(), ["place", "undo"])

    def test_rehearse_by_tab_is_a_rehearsal(self) -> None:
        b = self.at_the_bench()
        b.sees("Rehearse")
        self.tab_to("Rehearse")
        b.press(Keys.ENTER)
        b.sees("Rehearsal, never a result.")
        self.assertEqual((Trial.objects.count(), Trial.with_rehearsals.count()), (0, 1))

    def test_enter_too_early_presses_no_button_that_a_finger_left(self) -> None:
        # A wait so long that three presses come before it is over on a slow machine too.
        self.run_.setup["hold_s"] = 20.0
        self.run_.save()
        b = self.at_the_bench()
        b.sees("Start the trial")
        own = next(e for e in b.all('nav[aria-label="Order of teams"] button') if e.text.startswith("Tern"))
        own.click()
        b.press(Keys.ENTER)
        b.sees("Place tray")
        where = b.driver.current_url
        b.press(Keys.ENTER)
        b.sees("wait and watch")
        # The other team's button is touched without being pressed to the end, and has the focus now.
        b.driver.execute_script(
            "const b = [...document.querySelectorAll('nav[aria-label=\"Order of teams\"] button')]"
            ".find(e => e.textContent.startsWith('Auk'));"
            "b.dispatchEvent(new PointerEvent('pointerdown', {bubbles: true})); b.focus();"
        )
        for _ in range(3):
            b.press(Keys.ENTER)
        self.assertEqual(b.driver.current_url, where)
        b.sees("Did it hold?")
        b.press(Keys.ENTER)
        self.saved("place", "settle")

    def test_more_load_than_none_is_asked_about(self) -> None:
        b = self.at_the_bench()
        b.click("Start the trial")
        b.click("Place tray")
        b.sees("Did it hold?")
        b.press("h")
        self.saved("place", "settle")
        b.press("r")
        b.sees("It still stands. Why stop?")
        b.press("n")
        b.sees("By the count there is load left: 50 × nut, 750 g in all.")
        self.assertEqual(self.kinds(), ["place", "settle"])
        b.click("It is right")
        b.sees("No more load. It held at least")
        self.saved("place", "settle", "run_out")

    def test_a_finished_trial_stays_in_reach(self) -> None:
        ledger = Ledger(Api(self.ada), self.tern)
        ledger.hold("platform")
        ledger.hold("nut", 10)
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="crimp")
        b = self.at_the_bench()
        b.sees("Tern held 190 g.")
        b.click("Trial 1")
        # One that has ended is no bench's: who puts something right has it from then on.
        b.button("Weigh the pile")
        self.assertNotIn("open at another bench", b.text())
        b.press("p")
        b.fill("Scale shows", "206 g")
        b.click("Write it down")
        # 206 g with the nut that broke it: the last step is taken off.
        b.until(lambda: b.one('[data-figure="held"]').text.replace("\n", " ") == "191 g", "held by the scale")
        b.driver.refresh()
        b.click("Undo the weighing")
        b.click("Undo the end")
        b.sees("1 nut waiting")
        b.press("v")
        b.sees("What spoiled it?")
        b.press("k")
        b.until(lambda: self.kinds()[-4:] == ["pile_reading", "undo", "undo", "void"], "void in the end")
        b.click("Go on")
        b.sees("Trial 1 is void.")
        b.open(f"/runs/{self.run_.pk}/compare")
        b.tap('[aria-label="Trial 1 of Tern, version 1"]')
        b.sees("Void, not scored.")


class OnTheBoard(InterfaceTest):
    takes_s = 10

    def test_a_new_photograph_comes_by_itself(self) -> None:
        made = run(teacher())
        design = checked_in(made.designs.all()[0])
        token = open_board(made).token
        show_screen(made, "photos")
        board = self.browser()
        board.open(f"/board/{token}")
        board.sees("No photograph yet.")
        picture = io.BytesIO()
        Image.new("RGB", (400, 300), (90, 120, 60)).save(picture, "JPEG")
        keep_photo(design, SimpleUploadedFile("bridge.jpg", picture.getvalue()), "design")
        board.one('img[alt="The design of Tern"]')
