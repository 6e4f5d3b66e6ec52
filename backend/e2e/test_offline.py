"""Without a network: the interface and the run that was open are there, the bench goes on; a newer version waits."""

from __future__ import annotations

import shutil
import tempfile
import time
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.utils import timezone
from PIL import Image
from selenium.webdriver.common.keys import Keys

from bench.models import LedgerEvent, Trial
from designs.models import Design, Photo, Reading
from e2e.browser import Browser
from e2e.served import InterfaceTest, Server, session_of
from people.tests.support import PASSWORD, Ledger, checked_in, run, teacher
from people.tests.support import Api as TeachersApi

EMAIL = "ada@school.example"
KEPT_JS = """
    const done = arguments[0];
    navigator.serviceWorker.ready.then(async () => {
        const names = await caches.keys();
        const sizes = await Promise.all(names.map(async (name) => (await (await caches.open(name)).keys()).length));
        done(sizes.reduce((a, b) => a + b, 0));
    });
"""


class Offline(InterfaceTest):
    takes_s = 60

    def setUp(self) -> None:
        # One that may be killed, and whose files may be changed.
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.static = Path(folder.name) / "static"
        shutil.copytree(settings.STATIC_ROOT, self.static)
        name = str(connection.settings_dict["NAME"])
        self.served = Server(name, pool=True, GIRDER_STATIC_ROOT=str(self.static))
        self.served.start()
        self.addCleanup(self.served.stop)
        self.ada = teacher("Ada")
        self.run_ = run(self.ada, teams=("Tern", "Auk"))
        self.tern = self.run_.designs.select_related("team")[0]

    def opened(self) -> Browser:
        self._browsers += 1
        browser = Browser(self.served.address)
        self.addCleanup(browser.close)
        browser.session_of = session_of
        browser.sign_in(EMAIL, PASSWORD)
        return browser

    def kept(self, browser: Browser) -> int:
        """How many files the worker keeps, once it is there."""
        return int(browser.driver.execute_async_script(KEPT_JS))

    def test_the_run_that_was_open_is_there_without_a_server_and_the_bench_goes_on(self) -> None:
        checked_in(self.tern)
        Ledger(TeachersApi(self.ada), self.tern).hold("platform")
        b = self.opened()
        b.open("/")
        b.sees("Test gangway")
        # What is on screen is kept a moment later.
        time.sleep(3)
        b.open(f"/runs/{self.run_.pk}/brief")
        b.sees("300 mm with nothing under it")
        time.sleep(3)
        b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        b.sees("at another bench")
        files = len([file for file in (self.static / "assets").iterdir() if file.suffix != ".map"])
        self.assertGreaterEqual(self.kept(b), files, "every script and font is kept, and the page itself")
        b.click("take it over here")
        b.until(lambda: "at another bench" not in b.text(), "that the trial is at this bench")
        time.sleep(3)
        before = LedgerEvent.objects.count()
        self.served.kill()
        # The tablet is closed and opened again while there is nobody to ask.
        b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        b.sees("no network: as it was last")
        b.sees("Tern")
        b.press(Keys.ENTER)
        b.until(lambda: "not saved yet" in b.text() or "waiting for the network" in b.text(), "that it waits")
        b.open(f"/runs/{self.run_.pk}/brief")
        b.sees("300 mm with nothing under it")
        b.open("/")
        b.sees("Test gangway")
        self.assertEqual(LedgerEvent.objects.count(), before)
        self.served.start()
        b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        b.until(lambda: LedgerEvent.objects.count() > before, "what was done without a network to arrive")
        b.until(lambda: "no network" not in b.text(), "that the network is back")

    def test_two_teams_are_tested_one_after_the_other_without_a_server(self) -> None:
        auk = self.run_.designs.select_related("team")[1]
        for design in (self.tern, auk):
            checked_in(design)
        b = self.opened()
        b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        b.sees("Start the trial")
        self.kept(b)
        time.sleep(3)
        self.served.kill()
        self.goes_here(b, "Tern")
        b.press("n")
        # The page is closed and opened again in between.
        time.sleep(3)
        b.open(f"/runs/{self.run_.pk}/bench/{auk.pk}")
        b.sees("no network: as it was last")
        b.sees("Start the trial")
        self.goes_here(b, "Auk")
        self.assertEqual(Trial.objects.count(), 0)
        began = timezone.now()
        # Another bench tested Auk meanwhile, and it came to nothing: this one is asked about, wherever one is.
        Ledger(TeachersApi(self.ada), auk).add("void", reason="knocked")
        self.served.start()
        b.open(f"/runs/{self.run_.pk}/bench")
        b.sees("Auk was tested at another bench meanwhile.")
        b.click("Yes, it is")
        b.until(lambda: LedgerEvent.objects.count() == 7, "both tests to arrive")
        setup = self.run_.trial_setup()
        kept = Trial.objects.exclude(events__kind="void")
        self.assertEqual({trial.design.team.name: trial.number for trial in kept}, {"Tern": 1, "Auk": 2})
        for trial in kept:
            self.assertEqual(trial.result(setup).outcome, "broke")
            self.assertAlmostEqual(trial.result(setup).held.value, 0.04)
            self.assertLess(trial.started_at, began)
        b.open(f"/runs/{self.run_.pk}/compare")
        b.sees("Tern")
        b.sees("Auk")
        self.assertNotIn("still to be tested", b.text())

    def test_a_team_is_checked_in_and_tested_without_a_server_and_a_clash_is_asked_about(self) -> None:
        auk = self.run_.designs.select_related("team")[1]
        b = self.at_check_in_without_a_server()
        picture = self.static.parent / "tern.jpg"
        Image.effect_noise((2400, 1600), 60).convert("RGB").save(picture)
        b.one('main input[type="file"]').send_keys(str(picture))
        b.sees("1 photo kept here")
        self.typed(b, "Tern")
        b.sees("Check in Auk")
        self.assertNotIn("photo kept here", b.text(), "it is another team's")
        self.typed(b, "Auk")
        b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        b.sees("Start the trial")
        self.goes_here(b, "Tern")
        self.assertEqual((Reading.objects.count(), Trial.objects.count()), (0, 0))
        # Somebody else weighed Auk meanwhile, and found something else.
        taken = {"key": "self_mass", "text": "41 g", "resolution_text": "0.1 g"}
        TeachersApi(self.ada).send("POST", f"designs/{auk.pk}/readings", taken)
        self.served.start()
        b.until(lambda: LedgerEvent.objects.count() == 3, "check-in and test of the one without a clash")
        self.tern.refresh_from_db()
        auk.refresh_from_db()
        self.assertEqual((self.tern.checked_in_at is not None, auk.checked_in_at), (True, None))
        # The photograph is sent too, whichever page is open, and once.
        b.until(Photo.objects.exists, "the photograph to arrive")
        photo = Photo.objects.get()
        self.assertEqual((photo.design, photo.what, photo.width, photo.waits), (self.tern, "design", 1600, False))
        b.open(f"/runs/{self.run_.pk}/check-in/{auk.pk}")
        b.sees("Own weight: 41 g by now, 30 g here.")
        b.click("What was typed here counts")
        b.sees("✓ Checked in")
        own = Reading.objects.filter(design=auk, key="self_mass").order_by("-pk")
        self.assertEqual([reading.text for reading in own], ["30 g", "41 g"])

    def test_repeats_materials_and_the_fair_test_wait_for_the_network_too(self) -> None:
        self.run_.factor = {"name": "folds", "levels": ["4 folds", "8 folds"]}
        self.run_.controls = ["the same card", "the same tape"]
        self.run_.save()
        auk = self.run_.designs.select_related("team")[1]
        first = {"key": "gap", "text": "30 cm", "resolution_text": "1 mm"}
        TeachersApi(self.ada).send("POST", f"designs/{self.tern.pk}/readings", first)
        b = self.at_check_in_without_a_server()
        b.click("Tape")
        b.fill("Clear gap", "30.4 cm")
        b.click("Measured once more")
        b.sees("2 readings: 30 cm, 30.4 cm. Their mean counts once they are sent.")
        b.fill("Clear gap", "30.2 cm")
        b.click("and once more")
        b.sees("3 readings: 30 cm, 30.4 cm, 30.2 cm.")
        b.click("8 folds")
        b.click("✓ the same tape")
        b.sees("not kept: the same tape")
        b.click("No scale?")
        for label, text in (("Used", "2"), ("Scale showed", "61 g")):
            b.fill(label, text)
        b.click("Add it up")
        b.sees("No scale?")
        b.until(lambda: b.text().count("◐ kept here") == 2, "gap and own weight to be kept")
        b.open(f"/runs/{self.run_.pk}/check-in/{auk.pk}")
        b.click("Auk is absent")
        b.sees("Absent today.")
        self.assertEqual(Reading.objects.count(), 1)
        self.served.start()
        b.until(lambda: Reading.objects.count() == 4, "the readings to arrive")
        b.until(lambda: Design.objects.filter(away="absent").exists(), "who is absent to arrive")
        design = Design.objects.get(pk=self.tern.pk)
        counting = design.counting_readings()
        self.assertEqual(
            [one.text for one in (*counting["gap"].repeats, counting["gap"])], ["30 cm", "30.4 cm", "30.2 cm"]
        )
        # Two of ten sheets that weigh 61 g.
        self.assertAlmostEqual(counting["self_mass"].value_si, 0.0122)
        self.assertEqual((design.level, design.controls_broken), ("8 folds", ["the same tape"]))
        b.open(f"/runs/{self.run_.pk}/check-in/{self.tern.pk}")
        b.sees("They differ by 4 mm at most; their mean counts.")
        b.sees("from materials")

    def at_check_in_without_a_server(self) -> Browser:
        """Tern's check-in is open, all of it is kept in the browser, and then the server goes."""
        b = self.opened()
        b.open(f"/runs/{self.run_.pk}/check-in/{self.tern.pk}")
        b.sees("Check in Tern")
        self.kept(b)
        time.sleep(3)
        self.served.kill()
        return b

    def typed(self, b: Browser, team: str) -> None:
        """All that check-in asks for, typed where nobody can be asked."""
        for label, text in (("Own weight", "30 g"), ("Clear gap", "30 cm"), ("Rests on the left", "4 cm"),
                            ("Rests on the right", "4 cm")):  # fmt: skip
            b.fill(label, text).send_keys(Keys.ENTER)
        b.until(lambda: b.text().count("kept here") >= 4, "the readings to be kept")
        b.click("All 3 as it should be")
        b.sees(f"What was typed for {team} is kept here")
        b.click(f"Check in {team}")

    def goes_here(self, b: Browser, team: str) -> None:
        """The tray held, and it went on the next step; then on to what comes after."""
        b.press(Keys.ENTER)
        b.sees("Nothing on it yet")
        b.press(Keys.ENTER)
        b.sees("Did it hold?")
        b.press(Keys.ENTER)
        b.press("x")
        b.sees("How did it go?")
        b.press("s")
        b.sees("kept here")
        b.press("n")
        b.sees(f"{team}’s test is kept here.")

    def test_a_sign_out_leaves_nothing_behind(self) -> None:
        b = self.opened()
        b.open(f"/runs/{self.run_.pk}/brief")
        b.sees("Test gangway")
        self.kept(b)
        b.click("Sign out")
        b.sees("Password")
        self.served.kill()
        b.open(f"/runs/{self.run_.pk}/brief")
        b.sees("This could not be fetched.")
        self.assertNotIn("gangway", b.text())

    def upgraded(self, b: Browser, was: str = "", becomes: str = "") -> None:
        """A newer version is put in its place, as an upgrade does."""
        self.served.stop()
        worker = self.static / "root" / "worker.js"
        text = worker.read_text("utf-8")
        self.assertIn(was, text)
        worker.write_text(f"{text.replace(was, becomes) if was else text}\n// another version\n", "utf-8")
        self.served.start()
        b.driver.execute_script("navigator.serviceWorker.getRegistration().then((r) => r.update())")

    def test_a_newer_version_is_opened_past_an_old_one_that_does_not_make_room(self) -> None:
        b = self.opened()
        b.open("/")
        b.sees("Test gangway")
        self.kept(b)
        # One that hears nothing waits as long as it would for an old one that never ends.
        self.upgraded(b, "SKIP_WAITING", "NOTHING")
        b.sees("A newer Even Girder is here.")
        b.driver.execute_script("window.before = true")
        b.click("Take it now")
        b.sees("Opening it")
        b.until(lambda: not b.driver.execute_script("return window.before === true"), "the page to begin anew")
        b.sees("Test gangway")
        self.assertNotIn("newer Even Girder", b.text())

    def test_a_newer_version_waits_for_the_end_of_a_test_and_is_taken_by_a_touch(self) -> None:
        checked_in(self.tern)
        ledger = Ledger(TeachersApi(self.ada), self.tern)
        ledger.hold("platform")
        b = self.opened()
        b.open(f"/runs/{self.run_.pk}/bench/{self.tern.pk}")
        b.sees("at another bench")
        self.kept(b)
        self.upgraded(b)
        b.sees("A newer Even Girder is here, for after this test.")
        self.assertNotIn("Take it now", b.text())
        b.driver.execute_script("window.before = true")
        ledger.add("fail", mode="snap")
        b.click("Brief")
        b.sees("A newer Even Girder is here.")
        b.click("Take it now")
        b.until(lambda: not b.driver.execute_script("return window.before === true"), "the page to begin anew")
        b.until(lambda: "newer Even Girder" not in b.text(), "that it is the newer one")

    def test_it_can_be_installed(self) -> None:
        b = self.opened()
        b.open("/")
        b.sees("Test gangway")
        self.kept(b)
        found = b.driver.execute_cdp_cmd("Page.getAppManifest", {})
        self.assertEqual((found["errors"], found["url"]), ([], f"{self.served.address}/manifest.webmanifest"))
        self.assertEqual(b.driver.execute_cdp_cmd("Page.getInstallabilityErrors", {})["installabilityErrors"], [])
