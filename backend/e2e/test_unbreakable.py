"""One long trial in which everything goes away once, and the ledger is what a paper record would have been."""

from __future__ import annotations

import psycopg
from django.db import connection

from bench.models import LedgerEvent
from e2e.browser import Browser
from e2e.served import InterfaceTest
from people.tests.support import PASSWORD, checked_in, run, teacher

KEPT = """
    const [done] = arguments;
    const opening = indexedDB.open("even-girder");
    opening.onsuccess = () => {
        const database = opening.result;
        const counting = database.transaction("events").objectStore("events").count();
        counting.onsuccess = () => { database.close(); done(counting.result); };
    };
"""
"""How many entries the browser's own database holds."""


class EverythingGoesAway(InterfaceTest):
    def setUp(self) -> None:
        self.run_ = run(teacher(), setup={"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "3 kg"})
        self.design = checked_in(self.run_.designs.all()[0])

    def at_the_bench(self, **options: str) -> Browser:
        b = self.browser(**options) if options else self.browser_of_its_own()
        b.sign_in("ada@school.example", PASSWORD)
        b.open(f"/runs/{self.run_.pk}/bench/{self.design.pk}")
        return b

    def saving(self, b: Browser, state: str) -> None:
        b.until(lambda: b.one("[data-saving]").get_attribute("data-saving") == state, f"state “{state}”")

    def place_and_hold(self, b: Browser, key: str) -> None:
        b.press(key)
        b.sees("Did it hold?")
        b.press("h")
        b.until(lambda: "Did it hold?" not in b.text(), "the step settled")

    def database(self, there: bool) -> None:
        """Take the database away as a restart does (every connection cut, none let in), or let it come back.

        Only this test's own database: its server is shared with tests that run beside this one.
        """
        settings, name = connection.settings_dict, str(connection.settings_dict["NAME"])
        connection.close()
        with psycopg.connect(
            host=settings["HOST"], port=settings["PORT"], user=settings["USER"], password=settings["PASSWORD"],
            dbname="postgres", autocommit=True,
        ) as other:  # fmt: skip
            allowed = "true" if there else "false"
            other.execute(f'ALTER DATABASE "{name}" WITH ALLOW_CONNECTIONS {allowed}')
            if not there:
                other.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s", [name])

    def test_the_ledger_is_what_paper_would_say(self) -> None:
        b = self.at_the_bench()
        b.click("Start the trial")
        b.sees("Place tray")
        self.place_and_hold(b, "\ue007")
        self.place_and_hold(b, "2")
        self.saving(b, "saved")

        # The network goes, work goes on.
        b.network(there=False)
        self.place_and_hold(b, "2")
        self.place_and_hold(b, "1")
        self.saving(b, "offline")
        b.sees("waiting for the network, 4 entries kept here")
        self.assertEqual(LedgerEvent.objects.count(), 4)

        # The browser is killed meanwhile, and opened again on the same tablet when the network is back.
        b.until(lambda: b.driver.execute_async_script(KEPT) == 4, "four entries in the browser's database")
        b.kill()
        b = self.at_the_bench(profile=b.profile)
        b.sees("This trial is open at another bench.")
        b.click("take it over here")
        self.saving(b, "saved")
        b.until(lambda: LedgerEvent.objects.count() == 8, "everything that was kept")

        # The server is killed.
        self.server.kill()
        self.addCleanup(self.server.start_if_killed)
        self.place_and_hold(b, "1")
        self.saving(b, "offline")
        self.server.start()
        self.saving(b, "saved")

        # The database goes and comes back.
        self.addCleanup(self.database, there=True)
        self.database(there=False)
        self.place_and_hold(b, "1")
        self.saving(b, "offline")
        b.sees("2 entries kept here")
        self.database(there=True)
        self.saving(b, "saved")

        b.press("z")
        self.saving(b, "saved")
        b.sees("Did it hold?")
        b.press("h")
        b.press("r")
        b.sees("It still stands. Why stop?")
        b.press("n")
        # There is load left by the count, so it asks.
        b.click("It is right")
        self.saving(b, "saved")

        kept = list(LedgerEvent.objects.order_by("sequence").values_list("sequence", "kind"))
        steps = 6 * ["place", "settle"]
        self.assertEqual(kept, list(enumerate([*steps, "undo", "settle", "run_out"], start=1)))
        placed = LedgerEvent.objects.filter(kind="place").order_by("sequence")
        counts = [event.data["count"] for event in placed]
        self.assertEqual(counts, [1, 5, 5, 1, 1, 1])
        # A tray of 40 g and thirteen nuts of 15 g.
        b.until(lambda: "235 g" in b.one('[data-figure="held"]').text.replace("\n", " "), "what it held")


class OnTheBoard(InterfaceTest):
    def test_a_placement_is_on_the_board(self) -> None:
        # Long enough that a slow machine still sees the wait before it is over.
        made = run(teacher(), setup={"gap_m": "30 cm", "hold_s": "10 s", "bench_limit_kg": "3 kg"})
        design = checked_in(made.designs.all()[0])
        b = self.browser()
        b.sign_in("ada@school.example", PASSWORD)
        b.open(f"/runs/{made.pk}/bench/{design.pk}")
        b.click("Board")
        b.click("Open the board")
        link = b.one('[role="dialog"] a').get_attribute("href")
        self.assertIsNotNone(link)
        board = self.browser()
        board.driver.get(str(link))
        board.sees("is first.")
        b.press("\ue00c")
        b.until(lambda: not b.all('[role="dialog"]'), "the dialog closed")
        b.click("Start the trial")
        board.sees("Tern")
        b.click("Place tray")
        board.sees("wait and watch")
        b.sees("Did it hold?")
        b.press("h")
        board.until(lambda: "40 g" in board.one('[data-figure="board-held"]').text.replace("\n", " "), "40 g held")
        b.click("Board")
        b.click("Cautions")
        board.sees("Before we test")
        b.click("Close the board")
        board.sees("This board is closed.")
        self.assertEqual(board.complaints(), [])
