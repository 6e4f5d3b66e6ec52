"""Slips of the day, put right through the interface: a wrong count, a wrong end, a wrong team, who was not there."""

from __future__ import annotations

from typing import Any

from selenium.webdriver.common.keys import Keys

from bench.models import LedgerEvent, Trial
from designs.models import Design
from e2e.browser import Browser
from e2e.served import InterfaceTest
from people.models import SchoolClass, Team
from people.tests.support import PASSWORD, RECIPE, Api, Ledger, checked_in, run, teacher

QUICK = {"gap_m": "30 cm", "overlap_max_m": "50 mm", "hold_s": "1 s", "bench_limit_kg": "3 kg"}


class PutRight(InterfaceTest):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada, setup=QUICK, kit=RECIPE["kit"])
        self.tern, self.auk = (checked_in(design) for design in self.run_.designs.all())
        self.b = self.browser()
        self.b.sign_in("ada@school.example", PASSWORD)

    def go(self, page: str) -> Browser:
        self.b.open(f"/runs/{self.run_.pk}/{page}")
        return self.b

    def ended(self) -> Ledger:
        ledger = Ledger(self.api, self.tern)
        ledger.hold("platform")
        ledger.hold("nut", 10)
        ledger.hold("nut", 3)
        ledger.add("place", item="nut", count=2)
        ledger.add("fail", mode="crimp")
        return ledger

    def pick(self, b: Browser) -> None:
        """The one trial there is."""
        b.tap('nav[aria-label="Trials"] a')

    def held_kg(self) -> Any:
        return round(Trial.objects.get().result(self.run_.trial_setup()).held.value, 6)

    def test_a_count_that_was_wrong_five_entries_back_is_put_right_during_the_trial(self) -> None:
        ledger = Ledger(self.api, self.tern)
        ledger.hold("platform")
        ledger.hold("nut", 10)
        ledger.hold("nut", 3)
        b = self.go(f"bench/{self.tern.pk}")
        b.click("take it over here")
        b.sees("saved")
        b.click("10 × nut")
        b.sees("Put it right")
        b.fill("How many", "9").send_keys(Keys.ENTER)
        # The tray of 40 g and 12 nuts of 15 g, drawn at once and said by the server.
        b.sees("corrected")
        b.until(lambda: self.held_kg() == 0.220, "the corrected load")
        b.until(lambda: "220" in b.text(), "220 g on screen")
        self.assertEqual(LedgerEvent.objects.get(kind="correct").author, "Ada")
        # The next step goes on from there.
        b.press("2")
        b.sees("Did it hold?")

    def test_the_record_of_a_trial_puts_right_what_can_be(self) -> None:
        ledger = self.ended()
        b = self.go("trials")
        b.sees("Nothing. Pick a trial")
        self.pick(b)
        b.sees("It went: Crimped")
        b.tap('[aria-label="Put entry 5 right"]')
        b.fill("How many", "50").send_keys(Keys.ENTER)
        # 50 would be more than the kit has, with the 10 before.
        b.sees("left in the kit")
        self.assertEqual(self.held_kg(), 0.235)
        b.tap('[aria-label="Put entry 5 right"]')
        b.fill("How many", "4")
        b.fill("Why, if you like", "counted on the film").send_keys(Keys.ENTER)
        b.until(lambda: self.held_kg() == 0.250, "one nut more")
        b.sees("“counted on the film”")
        b.sees("3 × nut → 4 × nut")
        self.assertIn("3 × nut", [struck.text for struck in b.all("del")])
        b.click("Add a note")
        b.fill("Note", "The left support had moved.").send_keys(Keys.ENTER)
        b.sees("with a note")
        b.click("What was changed in this run")
        b.sees("Note: The left support had moved.")
        self.assertEqual(str(Trial.objects.get().pk), ledger.id)

    def test_an_end_that_was_none_and_a_trial_that_was_spoiled(self) -> None:
        self.ended()
        b = self.go("trials")
        self.pick(b)
        b.click("Mark it void")
        b.sees("What spoiled it?")
        b.tap('[role="dialog"] button')
        b.sees("Void:")
        b.sees("trial 1: void")
        b.click("It was not void")
        b.click("Write it down")
        b.sees("trial 1: 235 g, crimped")
        b.click("It had not ended")
        b.fill("Why, if you like", "only tipped").send_keys(Keys.ENTER)
        b.sees("trial 1: under way")
        b.click("Open at the bench")
        b.sees("Did it hold?")
        self.assertEqual(b.complaints(), [])

    def test_the_wrong_team_was_on_the_bench(self) -> None:
        self.ended()
        b = self.go("trials")
        self.pick(b)
        b.click("It was another team")
        b.sees("Whose trial was it?")
        b.press("1")
        b.sees("From Tern to Auk")
        b.sees("Auk, trial 1: 235 g, crimped")
        self.assertEqual(Trial.objects.get().design_id, self.auk.pk)

    def test_an_absent_team_is_not_waited_for_and_comes_late(self) -> None:
        b = self.go(f"check-in/{self.auk.pk}")
        b.click("Auk is absent")
        b.sees("Absent today.")
        b.until(lambda: "1 of 1" in b.text(), "one team left to check in")
        self.ended()
        b = self.go("compare")
        b.sees("Absent that day.")
        self.assertNotIn("still to be tested", b.text())
        b = self.go(f"bench/{self.auk.pk}")
        b.click("Auk is here now")
        b.until(lambda: Design.objects.get(pk=self.auk.pk).away == "", "Auk back")

    def test_a_team_is_deleted_and_brought_back_and_the_last_one_stays(self) -> None:
        self.ended()
        b = self.b
        b.open(f"/classes/{self.run_.school_class_id}")
        b.tap('[aria-label="Delete Auk"]')
        b.sees("It can be brought back for 30 days")
        b.click("Delete it")
        b.until(lambda: Team.objects.count() == 1, "Auk gone")
        b.one('[aria-label="Bring back Auk"]')
        b.tap('[aria-label="Delete Tern"]')
        b.click("Delete it")
        b.sees("Tern is the last team of its class.")
        b.click("Keep it")
        b.tap('[aria-label="Bring back Auk"]')
        b.until(lambda: Team.objects.count() == 2, "Auk back")
        self.go("compare").sees("Tern is the only result so far.")

    def test_a_class_goes_after_its_files_were_offered_and_comes_back(self) -> None:
        self.ended()
        b = self.b
        b.open(f"/classes/{self.run_.school_class_id}")
        b.click("Delete this class")
        href = b.one('[role="dialog"] a[download]').get_attribute("href") or ""
        self.assertIn(b"even-girder-run", b.download(href.removeprefix(b.address)))
        b.click("Delete it")
        b.sees("Three steps to the first test.")
        self.assertFalse(SchoolClass.objects.exists())
        b.tap('[aria-label="Bring back 9 Knot"]')
        b.sees("1 of 2 tested")
        self.assertEqual(b.complaints(), [])

    def test_a_run_that_was_only_tried_out_and_one_that_goes(self) -> None:
        self.ended()
        b = self.go("compare/record")
        b.click("It was only tried out")
        b.sees("it says nothing over the years")
        b.click("Delete this run")
        b.click("Delete it")
        b.sees("Three steps to the first test.")
        b.tap('[aria-label="Bring back Test gangway"]')
        b.sees("(tried out)")

    def test_a_load_object_that_the_plan_forgot(self) -> None:
        b = self.go("kit")
        b.click("A load object is missing?")
        b.fill("Name", "nut")
        b.fill("Scale showed", "500 g")
        b.click("Add it")
        b.sees("“nut” is in the kit already.")
        b.fill("Name", "bolt")
        b.click("Add it")
        b.until(lambda: "A load object is missing?" in b.text(), "the bolt in the kit")
        b = self.go(f"bench/{self.tern.pk}")
        b.click("Start the trial")
        b.sees("bolt")
