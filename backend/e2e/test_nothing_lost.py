"""What was done at the bench stays done: reload, kill -9, no network, a second bench."""

from __future__ import annotations

import time

from bench.models import LedgerEvent, Trial
from e2e.browser import Browser
from e2e.served import InterfaceTest
from people.tests.support import PASSWORD, checked_in, run, teacher


class AtTheBench(InterfaceTest):
    def setUp(self) -> None:
        ada = teacher()
        self.run_ = run(ada, setup={"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "3 kg"})
        self.design = checked_in(self.run_.designs.all()[0])
        self.b = self.open_bench()

    def open_bench(self) -> Browser:
        b = self.browser()
        b.sign_in("ada@school.example", PASSWORD)
        b.open(f"/runs/{self.run_.pk}/bench/{self.design.pk}")
        return b

    def begin(self) -> None:
        self.b.click("Start the trial")
        self.b.sees("Place tray")
        self.b.click("Place tray")
        self.b.sees("Did it hold?")
        self.b.press("h")
        self.held("40 g")

    def held(self, words: str) -> None:
        b = self.b
        b.until(lambda: b.one('[data-figure="held"]').text.replace("\n", " ") == words, f"held {words}")

    def saving(self, state: str) -> None:
        b = self.b
        b.until(lambda: b.one("[data-saving]").get_attribute("data-saving") == state, f"state “{state}”")

    def kinds(self) -> list[str]:
        return list(LedgerEvent.objects.order_by("sequence").values_list("kind", flat=True))

    def test_kill_9_in_mid_trial(self) -> None:
        self.begin()
        for _ in range(3):
            self.b.press("2")
        self.saving("saved")
        before = list(LedgerEvent.objects.order_by("sequence").values_list("id", "sequence", "kind", "data"))
        self.server.kill()
        self.addCleanup(self.server.start_if_killed)
        # Work goes on while the server is gone.
        self.b.press("1")
        self.saving("offline")
        self.b.sees("1 entry kept here")
        self.assertEqual(
            list(LedgerEvent.objects.order_by("sequence").values_list("id", "sequence", "kind", "data")), before
        )
        self.server.start()
        self.saving("saved")
        self.assertEqual(self.kinds(), ["place", "settle", "place", "place", "place", "place"])
        self.b.driver.refresh()
        self.b.sees("Did it hold?")
        self.held("40 g")
        self.b.press("h")
        # 40 g + 16 * 15 g.
        self.held("280 g")

    def test_the_record_says_how_long_it_really_stayed_up(self) -> None:
        self.b.click("Start the trial")
        self.b.click("Place tray")
        self.b.sees("Did it hold?")
        time.sleep(1.5)
        self.b.press("h")
        self.held("40 g")
        self.saving("saved")
        waited = LedgerEvent.objects.get(kind="settle").data["waited_s"]
        # A wait of 1 s was agreed, and another second and a half went by.
        self.assertGreater(waited, 2.4)

    def test_reload_in_mid_trial_resumes_exactly(self) -> None:
        self.begin()
        self.b.press("2")
        self.saving("saved")
        self.b.driver.refresh()
        self.b.sees("5 × nut waiting")
        self.b.sees("Did it hold?")
        self.b.press("h")
        self.held("115 g")

    def test_without_network_everything_is_kept_and_sent_once_in_order(self) -> None:
        self.begin()
        self.saving("saved")
        self.b.network(there=False)
        self.b.press("2")
        self.b.sees("Did it hold?")
        self.b.press("h")
        self.b.press("1")
        self.saving("offline")
        self.b.sees("waiting for the network, 3 entries kept here")
        # What is shown goes on, though nothing was acknowledged.
        self.held("115 g")
        self.assertEqual(self.kinds(), ["place", "settle"])
        self.b.network(there=True)
        self.saving("saved")
        self.assertEqual(self.kinds(), ["place", "settle", "place", "settle", "place"])
        self.assertEqual(
            list(LedgerEvent.objects.order_by("sequence").values_list("sequence", flat=True)), [1, 2, 3, 4, 5]
        )

    def test_kept_entries_outlive_a_reload(self) -> None:
        self.begin()
        self.saving("saved")
        # The page stays there, only the server's answers are missing.
        self.server.kill()
        self.addCleanup(self.server.start_if_killed)
        self.b.press("2")
        self.saving("offline")
        self.server.start()
        self.b.driver.refresh()
        self.b.sees("5 × nut waiting")
        self.saving("saved")
        self.assertEqual(self.kinds(), ["place", "settle", "place"])

    def test_a_second_bench_is_refused_and_can_take_over(self) -> None:
        self.begin()
        self.saving("saved")
        second = self.open_bench()
        second.sees("This trial is open at another bench.")
        second.press("2")
        self.assertEqual(self.kinds(), ["place", "settle"])
        second.click("take it over here")
        second.until(lambda: "open at another bench" not in second.text(), "the trial taken over")
        second.press("2")
        second.sees("5 × nut waiting")
        second.until(lambda: self.kinds() == ["place", "settle", "place"], "the step saved")
        # The first bench is told, and what it had done meanwhile is not lost from its screen silently.
        self.b.press("1")
        self.saving("busy")
        self.assertEqual(self.kinds(), ["place", "settle", "place"])

    def test_a_refused_entry_is_told_and_the_rest_goes_on(self) -> None:
        self.begin()
        self.saving("saved")
        self.b.press("s")
        self.b.fill("Sag", "a little")
        self.b.click("Write it down")
        self.b.sees("is not a number with a unit")
        self.b.press("2")
        self.saving("saved")
        self.assertEqual(self.kinds(), ["place", "settle", "place"])
        self.assertEqual(Trial.objects.count(), 1)

    def test_by_pointer_alone(self) -> None:
        self.b.click("Start the trial")
        self.b.click("Place tray")
        self.b.sees("Did it hold?")
        self.b.click("It held")
        self.held("40 g")
        self.b.click("5 × nut")
        self.b.sees("Did it hold?")
        self.b.click("It went")
        self.b.sees("How did it go?")
        self.b.tap('[role="dialog"] button:nth-of-type(2)')
        self.b.sees(". It held")
        self.b.click("Undo the end")
        self.b.sees("Held before this step")
        self.saving("saved")
