"""Printed documents: real text, shipped fonts, true scale, and somebody else's never."""

from __future__ import annotations

import io
import re
import subprocess
import tempfile
from datetime import date
from typing import Any

import pdfplumber
from django.test import TestCase, tag

from challenges.library import shipped, take
from challenges.models import Recipe
from designs.services import open_run
from evengirder.lane import Stopped
from girder_core.families import FAMILIES
from girder_core.ground import Drawing
from girder_core.measure import System
from girder_core.safety import AgeBand
from people.tests.support import Api, recipe, school_class, teacher
from reports.footprint import PAPERS, lay_out
from reports.pdf import render
from reports.sheets import DOCUMENTS, PACK
from reports.sheets import Printed as Paper
from tablets.services import close_door, open_door

POINT_M = 0.0254 / 72
PAPER_TOLERANCE_M = 0.0002
"""Two tenths of a millimetre: a pencil line."""


@tag("slow")
class Printed(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.knot = school_class(self.ada, teams=("Tern", "Auk <b>", "Ørret"))

    def pdf(self, path: str) -> bytes:
        status, response = self.api.call("GET", path)
        self.assertEqual(status, 200, path)
        self.assertEqual(response["Content-Type"], "application/pdf")
        return bytes(response.content)

    def text(self, made: bytes) -> str:
        # Poppler reads a whole pack in the time that a reader in Python takes for a page.
        done = subprocess.run(["pdftotext", "-layout", "-", "-"], input=made, capture_output=True, check=True)
        return re.sub(r" +", " ", done.stdout.decode())

    def of(self, slug: str) -> Any:
        return open_run(take(self.ada, slug), self.knot, date(2026, 12, 1))


class Documents(Printed):
    def test_the_whole_pack_of_every_family(self) -> None:
        for listed in shipped():
            with self.subTest(listed.slug):
                taken = take(self.ada, listed.slug)
                # Two teams' sheets tell as much as eight, sooner.
                Recipe.objects.filter(pk=taken.pk).update(teams=2)
                made = self.text(self.pdf(f"recipes/{taken.pk}/print/pack"))
                self.assertIn(listed.entry["question"][:30].split("?")[0], made.replace("\n", " "))
                for words in ("What can hurt someone", "KIT LIST", "SUPPORT FOOTPRINT", "RESULTS", "TEAM SHEET"):
                    self.assertIn(words, made)
                self.assertEqual("LOAD-ORDER LABELS" in made, FAMILIES[listed.entry["family"]].loaded)

    def test_teams_are_named_as_they_are(self) -> None:
        made = self.of("net-loft-columns")
        text = self.text(self.pdf(f"runs/{made.pk}/print/team-sheets"))
        for words in ("Tern", "Auk <b>", "Ørret", "Your shape: round", "9 Knot"):
            self.assertIn(words, text)

    def test_the_way_in_stands_on_brief_and_sheets_while_the_door_is_open(self) -> None:
        made = self.of("net-loft-columns")
        code = open_door(made).code
        for document in ("brief", "team-sheets"):
            text = self.text(self.pdf(f"runs/{made.pk}/print/{document}"))
            self.assertIn(f"{code[:3]}-{code[3:]}", text)
            self.assertIn(f"/join/{code}", text)
        close_door(made)
        self.assertNotIn("come in with", self.text(self.pdf(f"runs/{made.pk}/print/brief")))

    def test_only_shipped_fonts_greek_too_and_all_embedded(self) -> None:
        made = self.of("harbour-watchtower")
        pdf = self.pdf(f"runs/{made.pk}/print/pack")
        self.assertIn("(2π × frequency)", self.text(pdf).replace("\n", " "))
        with tempfile.NamedTemporaryFile(suffix=".pdf") as file:
            file.write(pdf)
            file.flush()
            listed = subprocess.run(["pdffonts", file.name], capture_output=True, text=True, check=True).stdout
        fonts = listed.splitlines()[2:]
        self.assertGreater(len(fonts), 3)
        for font in fonts:
            name, embedded = font.split()[0], font.split("Identity-H")[1].split()[0]
            self.assertEqual(embedded, "yes", font)
            self.assertTrue(name.split("+")[1].startswith(("Plate", "Text", "TextExt", "Greek")), font)

    def test_no_sheet_for_before_the_test_answers_the_question_of_the_day(self) -> None:
        def plain(text: str) -> str:
            return "".join(text.split())

        # Every third kind: what is printed is one template for all.
        for listed in shipped()[::3]:
            made = self.of(listed.slug)
            family = made.core_family()
            for level, said in (("young", family.young), ("older", family.older)):
                with self.subTest(listed.slug, level=level):
                    sheets = plain(self.text(self.pdf(f"runs/{made.pk}/print/team-sheets?level={level}")))
                    for sentence in said.split(". "):
                        self.assertNotIn(plain(sentence), sheets)
            # For the teacher it stands on the plan.
            plan = plain(self.text(self.pdf(f"runs/{made.pk}/print/plan")))
            self.assertIn(plain(family.older.split(". ")[0]), plan)

    def test_two_levels_of_team_sheets(self) -> None:
        made = self.of("clay-lighters")
        young = self.text(self.pdf(f"runs/{made.pk}/print/team-sheets?level=young"))
        older = self.text(self.pdf(f"runs/{made.pk}/print/team-sheets?level=older"))
        self.assertIn("Colour one box for every glass marble", young)
        self.assertNotIn("own weight", young.lower())
        self.assertIn("Times its own weight = load held ÷ own weight", older)
        # Ages 8 to 10: pictures unless asked otherwise.
        self.assertEqual(self.text(self.pdf(f"runs/{made.pk}/print/team-sheets")), young)

    def test_labels_are_numbered_with_their_masses(self) -> None:
        text = self.text(self.pdf(f"runs/{self.of('net-loft-columns').pk}/print/load-labels"))
        self.assertIn("231 g", text)
        self.assertEqual(text.count("in this order"), 34 + 1)

    def test_the_kit_list_as_paper_and_as_csv(self) -> None:
        made = self.of("slip-gangway")
        text = self.text(self.pdf(f"runs/{made.pk}/print/kit-list"))
        # Three teams: three final and three practice sheets, one spare.
        self.assertIn("7 sheets", text)
        self.assertIn("1 pack of", text)
        csv = self.api.call("GET", f"runs/{made.pk}/kit.csv")[1].content.decode("utf-8-sig").splitlines()
        self.assertTrue(csv[0].startswith("item,unit,per_team_final"))
        card = next(line for line in csv if "manila card" in line)
        self.assertTrue(card.endswith("sheet,1.0,1.0,3.0,3.0,0.0,1,7.0,0.0,20.0,1,13.0,"), card)
        nuts = next(line for line in csv if line.startswith("M12 hex nut"))
        self.assertAlmostEqual(float(nuts.split(",")[-1]), 0.0171)

    def test_it_tells_how_far_it_is_and_ends_when_nobody_waits(self) -> None:
        about = Paper(self.of("slip-gangway"), (), "", "a4", "older", System.METRIC)
        steps: list[tuple[int, int, str]] = []
        made = render(PACK, about, lambda *step: steps.append(step))
        written = [words for _, of, words in steps if of]
        self.assertEqual(written, [f"Writing: {key.replace('-', ' ')}" for key in PACK])
        pages = [int(words.removeprefix("Page ")) for _, of, words in steps if not of]
        with pdfplumber.open(io.BytesIO(made)) as pdf:
            self.assertEqual(sorted(set(pages)), list(range(1, len(pdf.pages) + 1)))

        def stops(done: int, of: int, doing: str) -> None:
            if doing == "Page 3":
                raise Stopped

        with self.assertRaises(Stopped):
            render(PACK, about, stops)

    def test_what_there_is_not(self) -> None:
        made = self.of("slip-gangway")
        for path in (f"runs/{made.pk}/print/poem", f"runs/{made.pk}/print/brief?paper=a3"):
            self.assertEqual(self.api.call("GET", path)[0], 404)
        stranger = Api(teacher("Bo"))
        self.assertEqual(stranger.call("GET", f"runs/{made.pk}/print/brief")[0], 404)
        self.assertEqual(stranger.call("GET", f"recipes/{made.recipe_id}/print/brief")[0], 404)

    def test_every_document_of_an_old_plain_recipe(self) -> None:
        plain = recipe(self.ada)
        for key in DOCUMENTS:
            self.assertTrue(self.pdf(f"recipes/{plain.pk}/print/{key}?paper=letter").startswith(b"%PDF"))


class TrueScale(Printed):
    """Lengths read from the PDF itself, by a library that knows nothing of ours."""

    def test_the_check_bar_is_100_mm_on_either_paper(self) -> None:
        for slug in ("slip-gangway", "capstan-ring"):
            made = take(self.ada, slug)
            for paper, (wide, high) in PAPERS.items():
                pdf = self.pdf(f"recipes/{made.pk}/print/footprint?paper={paper}")
                with pdfplumber.open(io.BytesIO(pdf)) as opened:
                    for page in opened.pages:
                        size = sorted((float(page.width) * POINT_M, float(page.height) * POINT_M))
                        for value, expected in zip(size, (wide / 1000, high / 1000), strict=True):
                            self.assertAlmostEqual(value, expected, delta=PAPER_TOLERANCE_M)
                        flat = [line for line in page.lines if abs(line["top"] - line["bottom"]) < 0.01]
                        bars = [
                            line for line in flat
                            if abs((line["x1"] - line["x0"]) * POINT_M - 0.1) < PAPER_TOLERANCE_M
                        ]  # fmt: skip
                        self.assertEqual(len(bars), 1, f"{slug} {paper}")

    def test_the_gap_across_two_pages_is_the_gap(self) -> None:
        made = take(self.ada, "slip-gangway")
        pdf = self.pdf(f"recipes/{made.pk}/print/footprint?paper=a4")
        with pdfplumber.open(io.BytesIO(pdf)) as opened:
            first, second = opened.pages
            # The supports are the only filled areas; the visible part ends at the dashed edges, 12 mm from the paper's.
            left, right = (self.filled(page) for page in (first, second))
            edge_m = (float(first.width) * POINT_M) - 0.012
            on_first = edge_m - left["x1"] * POINT_M
            on_second = right["x0"] * POINT_M - 0.012
        self.assertAlmostEqual(on_first + on_second, 0.360, delta=PAPER_TOLERANCE_M)

    def filled(self, page: Any) -> Any:
        """The one support that shows on the page; what lies beyond its edges is clipped."""
        inside = 0.012 / POINT_M - 0.01
        sized = [
            area
            for area in [*page.rects, *page.curves]
            if area["fill"]
            and abs((area["x1"] - area["x0"]) * POINT_M - 0.04) < 0.001
            and area["x0"] > inside
            and area["x1"] < float(page.width) - inside
        ]
        self.assertEqual(len(sized), 1)
        return sized[0]

    def test_every_family_prints_its_footprint_without_losing_or_doubling_any(self) -> None:
        for family in FAMILIES.values():
            setup = family.usual(AgeBand.AGES_11_13)
            drawing: Drawing = family.footprint(setup)
            left, bottom, right, top = drawing.box()
            for paper in PAPERS:
                laid = lay_out(drawing, paper, System.METRIC)
                columns = {tile.left_mm for tile in laid.tiles}
                rows = {tile.top_mm for tile in laid.tiles}
                self.assertEqual(len(laid.tiles), len(columns) * len(rows))
                self.assertGreaterEqual(len(columns) * laid.width_mm + 1e-6, (right - left) * 1000 + 16)
                self.assertGreaterEqual(len(rows) * laid.height_mm + 1e-6, (top - bottom) * 1000 + 16)
                for i, at in enumerate(sorted(columns)):
                    self.assertAlmostEqual(at, i * laid.width_mm)
