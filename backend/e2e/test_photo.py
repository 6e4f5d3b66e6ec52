"""Measuring in a photo, through the interface, to the figure that is true of a made-up picture."""

from __future__ import annotations

import re
import tempfile
from datetime import date
from pathlib import Path

import numpy as np
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from bench.models import LedgerEvent, Trial
from bench.remembered import result_of
from camera.models import TabletLens
from camera.selectors import sets_of
from camera.standins import LEAN_M, MAST_M, MAST_TOP_M, MAST_X_M, SPREAD, STANDINS, TABLET, made
from camera.tests.support import ready
from challenges.library import take
from designs import services as designing
from designs.models import LAST, MEASURED, Design, Photo, Reading
from e2e.browser import Browser
from e2e.served import InterfaceTest
from girder_core.measure import Kind, parse
from girder_core.trial import TrialResult
from people.tests.support import PASSWORD, Api, Ledger, school_class, teacher


class InAPhoto(InterfaceTest):
    takes_s = 60

    def setUp(self) -> None:
        self.ada = teacher()
        self.run_ = designing.open_run(take(self.ada, "leading-light-mast"), school_class(self.ada), date(2026, 12, 1))
        self.design = self.run_.designs.all()[0]
        self.b = self.browser()
        self.with_axe(self.b)
        self.b.sign_in("ada@school.example", PASSWORD)
        self.b.open(f"/runs/{self.run_.pk}/check-in/{self.design.pk}")

    def shown_mm(self) -> float:
        """The size that stands beside the picture."""
        return float(self.b.one('[data-testid="photo-size"]').text.removesuffix(" mm"))

    def test_a_mast_is_measured_in_a_made_up_picture(self) -> None:
        b = self.b
        b.tap('[aria-label="Measure in a photo: height"]')
        b.sees("Print the cards")
        b.click("a mast beside a card")
        # Foot and top are found; a card that nobody measured leaves some per cent open.
        b.sees("mostly by how large the card came out of the printer")
        before = self.shown_mm()
        b.fill("The bar is", "100 mm").send_keys(Keys.ENTER)
        b.until(lambda: "mostly by how large" not in b.text(), "the bar counts")
        self.assertLess(abs(before - 1000 * MAST_M), 4)
        self.accessible(b, "measuring in a photo")
        # By keys: the top ten pixels up, one back, and back to where it was.
        top = b.one('g[aria-label^="Top"]')
        top.send_keys(Keys.SHIFT + Keys.ARROW_UP)
        b.until(lambda: self.shown_mm() > before + 4, "the top moved up")
        top.send_keys(Keys.NULL + Keys.SHIFT + Keys.ARROW_DOWN)
        b.until(lambda: abs(self.shown_mm() - before) < 1, "the top is back")
        b.click("Keep as height")
        b.until(lambda: Reading.objects.filter(design=self.design).exists(), "the reading is there")
        reading = Reading.objects.get()
        self.assertTrue(reading.photographed())
        self.assertLess(abs(reading.value_si - MAST_M), 2 * reading.standard_uncertainty_si)
        self.assertLess(reading.standard_uncertainty_si, 0.003)
        # Back at check-in it stands there, with its picture and what that proves.
        b.sees(Photo.objects.get(what=MEASURED).caption)
        self.assertEqual(b.complaints(), [])

    def test_points_are_dragged_and_the_plane_is_asked_about(self) -> None:
        b = self.b
        b.fill("Widest base", "15 cm").send_keys(Keys.ENTER)
        b.until(lambda: Reading.objects.count() == 1, "the base typed")
        b.tap('[aria-label="Measure in a photo: widest base"]')
        b.sees("Choose one")
        send_picture(b, made("mast", 5), "Known to")
        # The file is gone meanwhile, as a camera's may be.
        # To both ends of the mast's foot, where they are in the picture.
        ends = STANDINS["mast"].camera.pixels(np.array([(0.05, 0.006, 0.0), (0.19, 0.006, 0.0)]))
        field = b.one('svg:has(> g[role="button"])')
        for name, (x, y) in zip(("One end", "Other end"), ends, strict=True):
            handle = b.one(f'g[aria-label^="{name}"]')
            box = b.driver.execute_script("return arguments[0].getBoundingClientRect()", field)
            to = (box["x"] + x / 2000 * box["width"], box["y"] + y / 1500 * box["height"])
            now = b.driver.execute_script(
                "const r = arguments[0].getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]", handle
            )
            drag = ActionChains(b.driver).move_to_element(handle).click_and_hold()
            drag.move_by_offset(round(to[0] - now[0]), round(to[1] - now[1])).release().perform()
        b.until(lambda: abs(self.shown_mm() - 140) < 6, "the width of the foot")
        level = self.shown_mm()
        b.click("Nearer")
        b.fill("By how much", "5 cm").send_keys(Keys.TAB)
        # The camera is 1.2 m away, so 5 cm nearer is some 4 % less.
        b.until(lambda: 0.94 < self.shown_mm() / level < 0.975, "the plane counts")
        b.fill("Give or take", "10 cm").send_keys(Keys.TAB)
        b.sees("mostly by in which plane the edges lie")
        # The bar is a form in a dialog of a row that is one, too: typing it takes no reading.
        b.fill("The bar is", "99.5").send_keys(Keys.ENTER)
        b.sees("The bar of set 5 is 99.5 mm. Measure it again")
        b.click("Keep as widest base")
        b.until(lambda: Reading.objects.filter(design=self.design).count() == 2, "the reading from the picture")
        self.assertEqual([one.photographed() for one in Reading.objects.order_by("id")], [False, True])
        b.sees("in a photo")
        # And what had stood in the field does not come back by leaving it.
        field = b.field("Widest base")
        self.assertEqual(field.get_attribute("value"), Reading.objects.get(causes__marks__gt=0).text)
        field.send_keys(Keys.TAB, Keys.TAB, Keys.TAB, Keys.TAB)
        b.click("Bench")
        b.click("Check-in")
        b.sees("in a photo")
        self.assertEqual(Reading.objects.count(), 2)

    def test_a_tablets_lens_is_calibrated_once_and_counts_until_it_is_forgotten(self) -> None:
        b = self.b
        b.tap('[aria-label="Measure in a photo: height"]')
        b.click("Calibrate this tablet’s lens")
        send_picture(b, b"no picture", "That is no photo that can be read here.")
        b.click("6 made-up pictures")
        for n in range(1, 7):
            b.one(f'[aria-label="Leave out picture {n}"]')
        b.sees("Known well. It moves the corners of a picture by")
        self.accessible(b, "calibrating a lens")
        # Without the one in the corner it is wanted again, and what is known can be kept all the same.
        b.tap('[aria-label="Leave out picture 6"]')
        b.sees("Go nearer, so that the card reaches into the corners of the picture.")
        b.tap('[aria-label="Leave out picture 1"]')
        b.sees("1 more picture.")
        kept = "//button[normalize-space()='Keep for this tablet'][@disabled]"
        b.until(lambda: b.driver.find_elements("xpath", kept), "it cannot be kept yet")
        send_picture(b, made("lens-6", sets_of(self.ada)[0].number), "It moves the corners of a picture by")
        self.assertEqual(TabletLens.objects.count(), 0)
        b.click("Keep for this tablet")
        b.sees("The lens of this tablet was calibrated on")
        self.assertEqual(TabletLens.objects.get().camera, TABLET)
        b.click("a mast beside a card")
        b.sees("This tablet’s lens is calibrated, and that counts here.")
        b.sees("Known to")
        self.assertLess(abs(self.shown_mm() - 1000 * MAST_M), 4)
        b.click("Keep as height")
        b.until(lambda: Reading.objects.filter(design=self.design).exists(), "the reading is there")
        reading = Reading.objects.get()
        self.assertLess(abs(reading.value_si - MAST_M), 2 * reading.standard_uncertainty_si)
        # It is this tablet's: another one knows nothing of it.
        other = self.browser()
        other.sign_in("ada@school.example", PASSWORD)
        other.open(f"/runs/{self.run_.pk}/check-in/{self.design.pk}")
        other.tap('[aria-label^="Measure in a photo: widest base"]')
        other.sees("Calibrate this tablet’s lens")
        b.tap('[aria-label^="Measure in a photo: widest base"]')
        b.click("Look at it")
        b.sees("Kept now, of Made-up tablet")
        b.click("Forget what is kept")
        b.until(lambda: TabletLens.objects.count() == 0, "it is forgotten")
        b.sees("Calibrate this tablet’s lens")
        self.assertEqual(b.complaints(), [])

    def test_a_bad_picture_says_why_and_another_can_be_sent(self) -> None:
        b = self.b
        b.tap('[aria-label="Measure in a photo: height"]')
        b.sees("Choose one")
        send_picture(b, b"no picture", "That is no photo that can be read here.")
        b.click("a gangway between two cards")
        b.sees("Known to")
        b.click("Another picture")
        b.sees("Take the picture")
        b.click("Close")
        b.sees("measured")
        self.assertEqual((Reading.objects.count(), Photo.objects.count()), (0, 0))


class AtTheBench(InterfaceTest):
    takes_s = 60

    def setUp(self) -> None:
        self.ada = teacher()
        self.design = ready(self.ada, "net-loft-columns")
        self.run_ = self.design.run
        self.ledger = Ledger(Api(self.ada), self.design)
        self.ledger.hold("platform")
        self.b = self.browser()
        take_over(self, self.b, self.design)

    def in_pictures(self) -> None:
        self.b.sees("Shortening")
        self.b.click("Lean")
        self.b.sees("How far the top went to one side")
        self.b.click("In pictures")

    def test_a_lean_is_followed_from_picture_to_picture_and_asked_about(self) -> None:
        b = self.b
        self.in_pictures()
        b.sees("is on it already")
        b.click("a mast that stands upright")
        b.sees("What is followed?")
        # In the middle of the picture there is nothing that could be followed.
        b.click("Follow this")
        b.sees("There is nothing at that point that can be told from what is beside it.")
        # The sticker near the mast's top.
        point_at(b, "mast", (MAST_X_M, MAST_TOP_M, 0.001))
        self.accessible(b, "what is followed")
        b.click("Follow this")
        b.sees("from where the tablet stands")
        b.click("the mast, leaning")
        b.sees("to the right")
        self.accessible(b, "how far it went")
        said = float(b.one('[data-testid="went"]').text.split(" ")[0])
        self.assertLess(abs(said - 1000 * LEAN_M), 0.6)
        b.click("Keep as lean of the top")
        # It is asked, not decided; and written down only by a touch.
        b.sees("more than with nothing on it")
        self.assertEqual(self.kinds(), ["place", "settle", "measure"])
        b.click("Yes, write it down")
        b.until(lambda: self.kinds()[-1] == "observe", "the sign")
        b.until(lambda: "more than with nothing on it" not in b.text(), "nothing more to be asked")
        self.assertEqual(LedgerEvent.objects.latest("sequence").data, {"sign": "lean"})
        self.assertIn("lean of the top", Photo.objects.get(what=LAST).caption)
        # After the page was left the first picture is still there, and what was measured stands in the chart.
        b.open(f"/runs/{self.run_.pk}/bench/{self.design.pk}")
        self.in_pictures()
        b.sees("The figures as a table")
        b.sees("Lean of the top: 11")
        # And in the trial's record.
        b.open(f"/runs/{self.run_.pk}/trials/{self.ledger.id}")
        b.sees("Lean of the top: 11")
        self.assertEqual(b.complaints(), [])

    def kinds(self) -> list[str]:
        return list(LedgerEvent.objects.order_by("sequence").values_list("kind", flat=True))


class Watched(InterfaceTest):
    takes_s = 90

    def setUp(self) -> None:
        self.ada = teacher()
        self.design = ready(self.ada, "slip-gangway")
        self.ledger = Ledger(Api(self.ada), self.design)
        self.ledger.add("place", item="platform", count=1)
        self.ledger.add("settle", waited_s=20)

    def in_pictures(self, b: Browser) -> None:
        take_over(self, b, self.design)
        b.click("Sag")
        b.click("In pictures")

    def test_a_made_up_gangway_comes_down_as_load_goes_on(self) -> None:
        b = self.browser()
        self.in_pictures(b)
        b.click("a gangway with nothing on it")
        point_at(b, "gangway", (0.0, 0.17, 0.001))
        b.click("Follow this")
        b.click("a made-up gangway")

        def seen_mm() -> float:
            said = b.one('[data-testid="watched"]').text.split(" ")
            return float(said[0]) if said[1:2] == ["mm"] else -1.0

        def true_mm() -> float:
            return 10.0 * self.result().load_on.value

        b.until(lambda: abs(seen_mm() - true_mm()) < 0.3, "that it is watched under what is on it")
        self.accessible(b, "watching at the bench")
        before = true_mm()
        # The keys of the bench stay in reach.
        b.one("body").send_keys(Keys.ENTER)
        b.until(lambda: self.kinds()[-1] == "place", "load to be placed")
        self.assertGreater(true_mm(), before + 0.5)
        b.until(lambda: abs(seen_mm() - true_mm()) < 0.3, "that it came down further")
        b.click("Keep as sag")
        b.until(lambda: self.kinds()[-1] == "measure", "the measurement")
        (taken,) = self.result().taken
        self.assertLess(abs(1000 * taken.quantity.value - true_mm()), 0.3)
        self.assertIn("sag", Photo.objects.get(what=LAST).caption)
        b.click("Stop watching")
        b.until(lambda: "Stop watching" not in b.text(), "that nobody watches")
        self.assertEqual(b.complaints(), [])

    def result(self) -> TrialResult:
        return result_of(Trial.objects.get(pk=self.ledger.id))

    def kinds(self) -> list[str]:
        return list(LedgerEvent.objects.order_by("sequence").values_list("kind", flat=True))

    def test_this_tablet_s_camera_watches_from_where_it_stands(self) -> None:
        # What a camera films: the made-up gangway, standing still.
        film = Path(tempfile.mkdtemp()) / "film.mjpeg"
        film.write_bytes(made("gangway", 4) * 3)
        b = self.browser(
            flags=(
                "--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream",
                f"--use-file-for-fake-video-capture={film}",
            )
        )  # fmt: skip
        self.in_pictures(b)
        b.click("Stand this tablet up, to watch each second")
        b.sees("nobody has to reach past it")
        self.accessible(b, "the camera of a standing tablet")
        b.click("Take the first picture")
        point_at(b, "gangway", (0.0, 0.17, 0.001))
        b.click("Follow this")
        b.click("Watch it each second")
        b.until(lambda: "±" in b.one('[data-testid="watched"]').text, "that it is watched")
        # It stands still: no way is told, up or down.
        self.assertNotRegex(b.one('[data-testid="watched"]').text, "down|up")
        self.assertTrue(Photo.objects.filter(what=LAST).exists())
        b.click("Stop watching")
        self.assertEqual(b.complaints(), [])


def take_over(test: InterfaceTest, b: Browser, design: Design) -> None:
    """Signs in and goes on with the trial of a design here; while it is at another bench its keys do nothing."""
    test.with_axe(b)
    b.sign_in("ada@school.example", PASSWORD)
    b.open(f"/runs/{design.run.pk}/bench/{design.pk}")
    b.click("take it over here")
    b.until(lambda: "at another bench" not in b.text(), "that the trial is at this bench")


def send_picture(b: Browser, data: bytes, says: str) -> None:
    """Chooses a picture from a file, which is gone once the page says this."""
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "picture.jpg"
        file.write_bytes(data)
        b.driver.find_elements("css selector", 'input[type="file"]')[-1].send_keys(str(file))
        b.sees(says)


def point_at(b: Browser, standin: str, place: tuple[float, float, float]) -> None:
    """Points at what is there in a made-up picture."""
    b.sees("What is followed?")
    x, y = STANDINS[standin].camera.pixels(np.array([place]))[0]
    field = b.one('svg:has(> g[role="button"])')
    box = b.driver.execute_script("return arguments[0].getBoundingClientRect()", field)
    off = (round((x / 2000 - 0.5) * box["width"]), round((y / 1500 - 0.5) * box["height"]))
    ActionChains(b.driver).move_to_element_with_offset(field, *off).click().perform()


class OnePicture(InterfaceTest):
    takes_s = 60

    def test_load_is_counted_in_a_picture_and_noted_beside_the_ledger(self) -> None:
        ada = teacher()
        design = ready(ada, "slip-gangway")
        ledger = Ledger(Api(ada), design)
        nut = next(item.key for item in design.run.core_kit().items if item.name == "M12 hex nut")
        for item, count in (("platform", 1), (nut, SPREAD)):
            ledger.add("place", item=item, count=count, confirmed=True)
            ledger.add("settle", waited_s=20)
        b = self.browser()
        take_over(self, b, design)
        b.click("Count")
        b.click("loose nuts on a sheet")
        b.sees(f"{SPREAD} × M12 hex nut counted of what was on it; the ledger has as many.")
        self.accessible(b, "counting loose pieces")
        # By keys: one dot taken away, and the count says so; set again by the button.
        dot = b.one('[data-testid="dots"] g[tabindex="0"]')
        dot.send_keys(Keys.DELETE)
        b.sees(f"{SPREAD - 1} × M12 hex nut counted of what was on it; the ledger has {SPREAD}, 1 more.")
        b.click("One more dot")
        b.sees("the ledger has as many")
        b.click("Note it in the ledger")
        b.until(lambda: LedgerEvent.objects.filter(kind="note").exists(), "the note")
        note = LedgerEvent.objects.get(kind="note").data["text"]
        self.assertEqual(note, f"{SPREAD} × M12 hex nut counted of what was on it; the ledger has as many.")
        self.assertEqual(Photo.objects.get(what=MEASURED).caption, f"Trial 1: {note}")
        self.assertEqual(b.complaints(), [])

    def test_a_freeboard_is_measured_in_one_picture(self) -> None:
        ada = teacher()
        design = ready(ada, "clay-lighters")
        ledger = Ledger(Api(ada), design)
        b = self.browser()
        take_over(self, b, design)
        b.click("Freeboard")
        b.click("In a photo")
        b.click("a mast beside a card")
        b.sees("Known to")
        self.accessible(b, "a freeboard in a photo")
        shown = b.one('[data-testid="photo-size"]').text
        b.click("Keep as freeboard")
        # Nothing here floats so high: it is asked about, as if it had been typed.
        b.click("It is right")
        b.until(lambda: LedgerEvent.objects.filter(kind="measure").exists(), "the measurement")
        event = LedgerEvent.objects.get(kind="measure", trial__pk=ledger.id)
        self.assertEqual((event.data["key"], event.data["source"]), ("freeboard", "picture"))
        self.assertEqual(event.data["text"], shown)
        self.assertIn("freeboard", Photo.objects.get(what=MEASURED).caption)
        self.assertEqual(b.complaints(), [])

    def test_what_an_attack_left_of_a_wall_is_outlined_with_its_hole(self) -> None:
        ada = teacher()
        design = ready(ada, "storm-wall")
        ledger = Ledger(Api(ada), design)
        for _ in range(round(design.run.setup["throws"] or 0)):
            ledger.add("round", hit=True)
        b = self.browser()
        take_over(self, b, design)
        b.one("body").send_keys("a")
        # Nobody measured the area before.
        b.sees("What stood before the attack is not written down")
        b.click("In a photo")
        b.click("what an attack left of it")
        b.sees("Known to")

        def shown_cm2() -> float:
            return float("".join(b.one('[data-testid="photo-size"]').text.removesuffix(" cm²").split()))

        # Its outermost edges are proposed: all that stood, and not what is left.
        whole = shown_cm2()
        self.assertAlmostEqual(whole, 1e4 * STANDINS["wall"].true["area"], delta=15)
        b.click("One more outline")
        b.until(lambda: shown_cm2() < whole - 50, "the hole to count")
        self.assertEqual(len(b.driver.find_elements("css selector", 'g[aria-label*="outline 2"]')), 4)
        self.accessible(b, "outlines of an area in a photo")
        b.click("Take this corner away")
        b.click("Take this outline away")
        b.until(lambda: shown_cm2() == whole, "the whole again")
        b.one('g[aria-label^="Corner 1"]').click()
        b.click("One more corner")
        b.one('g[aria-label^="Corner 2"]').send_keys(Keys.SHIFT + Keys.ARROW_UP)
        b.until(lambda: shown_cm2() < whole - 1, "a corner that was moved in")
        kept = shown_cm2()
        b.click("Keep as area left")
        b.until(lambda: LedgerEvent.objects.filter(kind="measure").exists(), "the measurement")
        event = LedgerEvent.objects.get(kind="measure", trial__pk=ledger.id)
        self.assertEqual((event.data["key"], event.data["source"]), ("area_left", "picture"))
        written_cm2 = 1e4 * parse(event.data["text"], Kind.AREA).si
        # Three figures are shown.
        self.assertAlmostEqual(written_cm2, kept, delta=10)
        said = b.until(
            lambda: re.search(r"Area left ([\d ]+) cm²", " ".join(b.text().split())), "what was measured, in its unit"
        )
        self.assertAlmostEqual(float(said[1].replace(" ", "")), written_cm2, delta=5.1)
        self.assertEqual(b.complaints(), [])
