"""After the tests, through the real interface: why, like with like, the rubric, the record, versions, a run file."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from challenges.models import Run
from demo.build import load
from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD
from designs.models import Design
from e2e.browser import Browser
from e2e.served import InterfaceTest
from results.models import Reflection, RubricMark


class AfterTheLesson(InterfaceTest):
    def setUp(self) -> None:
        load()
        self.bridges = Run.objects.get(name="Slip gangway", school_class__name="7 Plover")
        self.columns = Run.objects.get(name="Net loft columns")
        self.b = self.browser()
        self.b.sign_in(TEACHER_EMAIL, TEACHER_PASSWORD)

    def at(self, run: Run, page: str) -> Browser:
        self.b.open(f"/runs/{run.pk}/{page}")
        return self.b

    def test_why_by_chart_and_by_table(self) -> None:
        b = self.at(self.columns, "compare")
        b.sees("Save the drawing (SVG)")
        # The ranking and the rays; both carry their names.
        charts = [box.find_element(By.TAG_NAME, "svg").get_attribute("aria-label") for box in b.all("[data-chart]")]
        self.assertEqual(
            charts, ["Ranking with what is not known hatched", "Load held against own weight for 5 designs"]
        )
        b.click("Why")
        b.sees("Did shape make the difference?")
        b.sees("Only one design was tested at “triangle”")
        for title in ("Did shape make the difference?", "What teams did differently", "Who foresaw it?", "How it ended",
                      "Where designs of this class fail"):  # fmt: skip
            b.one(f'section[aria-label="{title}"] svg[role="img"]')
        strip = b.one('section[aria-label="Did shape make the difference?"]')
        # The table behind the chart opens by key, and says what the chart shows.
        strip.find_element(By.TAG_NAME, "summary").send_keys(Keys.ENTER)
        b.until(lambda: "Fulmar" in strip.find_element(By.TAG_NAME, "table").text, "the table behind the strip")
        # The drawing is taken along as a file of its own.
        b.driver.execute_script("""
            URL.createObjectURL = (blob) => { blob.text().then((t) => { window.saved = t; }); return "#"; };
        """)
        strip.find_element(By.XPATH, ".//button[starts-with(., 'Save the drawing')]").click()
        saved = str(b.until(lambda: b.driver.execute_script("return window.saved"), "the drawing saved"))
        self.assertTrue(saved.startswith("<svg") and 'xmlns="http://www.w3.org/2000/svg"' in saved)
        self.assertEqual(b.complaints(), [])

    def test_why_a_number_by_finger_and_by_key(self) -> None:
        b = self.at(self.bridges, "compare")
        b.sees("Touch a figure to see how it came about.")
        asked = [g for g in b.all('[data-chart] g[role="button"]') if "×" in str(g.get_attribute("aria-label"))]
        asked[0].click()
        b.sees("What it held, divided by its own weight")
        panel = b.one('[role="dialog"][aria-label="Why this number?"]')
        self.assertIn("R = h / w", panel.text)
        self.assertIn("Counted, in Marit", panel.text)
        # What was worked out itself unfolds, down to the batch on the scale.
        nut = next(s for s in panel.find_elements(By.TAG_NAME, "summary") if "One M12 hex nut" in s.text)
        nut.click()
        b.sees("On a scale with steps of 1 g.")
        link = panel.find_element(By.PARTIAL_LINK_TEXT, "In the formulas: Score").get_attribute("href")
        b.press(Keys.ESCAPE)
        b.until(lambda: not b.all('[role="dialog"]'), "the panel closed")
        # By key, on a chance.
        chances = [g for g in b.all('[data-chart] g[role="button"]') if "in 10" in str(g.get_attribute("aria-label"))]
        b.driver.execute_script("arguments[0].focus()", chances[0])
        b.press(Keys.ENTER)
        b.sees("All designs are built and tested again many times")
        b.sees("Rules chances-1.")
        b.press(Keys.ESCAPE)
        b.until(lambda: not b.all('[role="dialog"]'), "the panel closed")
        trial = self.bridges.designs.get(team__name="Fulmar", version=1).trials.first()
        assert trial is not None
        for page, words in (
            ("kit", "How many there are of each, times what one weighs"),
            (f"bench/{trial.design_id}/{trial.pk}", "The most that was on it while it stayed up"),
            (f"check-in/{trial.design_id}", "in steps of"),
        ):
            self.at(self.bridges, page)
            b.tap('button[title="Why this number?"]')
            b.sees(words)
            b.press(Keys.ESCAPE)
            b.until(lambda: not b.all('[role="dialog"]'), "the panel closed")
        # The link leads to the heading.
        b.driver.get(str(link))
        b.sees("Score: girder_core.results.scoring")
        self.assertEqual(b.complaints(), [])

    def test_like_with_like_and_what_to_test_again(self) -> None:
        b = self.at(self.bridges, "compare/fair")
        b.sees("What to test again")
        b.sees("Whoever is called the best now truly is about 9 times in 10.")
        b.click("its check-in")
        b.until(lambda: "/check-in/" in b.driver.current_url, "the check-in of the design")

    def test_a_rubric_from_results_and_by_hand(self) -> None:
        b = self.at(self.columns, "compare/rubric")
        b.click("Begin with a proposed one")
        b.fill("Criterion", "")
        b.click("Keep the rubric")
        b.until(lambda: b.all('[role="alert"]'), "the missing name refused")
        b.fill("Criterion", "Carries its load")
        b.click("Keep the rubric")
        b.sees("Carries its load")
        b.tap('[role="combobox"][aria-label="Explains with forces of Fulmar"]')
        b.choose("says where it goes")
        b.until(lambda: RubricMark.objects.filter(design__run=self.columns).exists(), "the mark kept")
        self.assertEqual(RubricMark.objects.get(design__run=self.columns).level, 2)

    def test_versions_answers_and_hints(self) -> None:
        # What is measured and not loaded can be built again as well.
        self.at(Run.objects.get(name="Leading light mast"), "next").sees("Version 1: 1.12 m")
        b = self.at(self.bridges, "next")
        # Every trial that counts: the better one of two is not the last.
        b.sees("Version 2: 991.4 g, crimped; 923 g, crimped")
        b.sees("Gains are in what wins here: times its own weight.")
        b.sees("3 of 3 second versions did better")
        b.sees("+30 %, clear.")
        b.sees("This reads like 2 changes")
        b.one('section[aria-label="From version to version"] svg')
        b.sees("is anything doubled there?")
        b.click("Hide the hints")
        b.until(lambda: "is anything doubled there?" not in b.text(), "the hints gone")
        gannet = next(e for e in b.all("details") if "What Gannet says" in e.text)
        gannet.find_element(By.TAG_NAME, "summary").click()
        field = gannet.find_element(By.TAG_NAME, "textarea")
        field.send_keys("It twisted when the pile sat to one side.", Keys.TAB)
        b.until(lambda: Reflection.objects.filter(design__team__name="Gannet").exists(), "the answer kept")
        b.driver.refresh()
        b.sees("What Gannet says (1 of 3)")

    def test_the_record_goes_out_and_comes_in(self) -> None:
        b = self.at(self.bridges, "compare/record")
        b.sees("This challenge over the years")
        b.sees("For next time bring")
        for name in ("Run report", "Results board", "Team summaries", "Everything (XLSX)", "Results (CSV)"):
            href = b.driver.find_element(By.LINK_TEXT, name).get_attribute("href") or ""
            self.assertGreater(len(b.download(href.removeprefix(b.address))), 400, name)
        data = b.download(f"/api/runs/{self.bridges.pk}/run.json")
        with tempfile.TemporaryDirectory() as folder:
            good, bad = Path(folder) / "run.json", Path(folder) / "newer.json"
            good.write_bytes(data)
            bad.write_text(json.dumps({**json.loads(data), "version": 99}))
            b.open("/")
            b.sees("Bring in a run from its file")
            b.one('input[type="file"]').send_keys(str(bad))
            b.sees("It was written by a newer Even Girder")
            before = Design.objects.count()
            b.one('input[type="file"]').send_keys(str(good))
            b.until(lambda: "/compare" in b.driver.current_url, "the run brought in")
            b.sees("Kittiwake won today.")
        self.assertEqual(Design.objects.count(), before + 9)
