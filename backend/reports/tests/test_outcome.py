"""Papers of what came of a run: read back by a library that knows nothing of ours."""

from __future__ import annotations

import io
from typing import Any

import pdfplumber
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from PIL import Image

from bench import photo_services
from challenges.models import Run
from demo.build import load
from people.models import Teacher
from people.tests.support import Api, checked_in, run, teacher
from reports.charts import Bar, Dot, ranking_svg, rays_svg


class Papers(TestCase):
    marit: Teacher

    @classmethod
    def setUpTestData(cls) -> None:
        cls.marit = load()

    def setUp(self) -> None:
        self.api = Api(self.marit)

    def pages(self, made: Run, document: str) -> list[str]:
        status, response = self.api.call("GET", f"runs/{made.pk}/print/{document}")
        self.assertEqual((status, response["Content-Type"]), (200, "application/pdf"))
        with pdfplumber.open(io.BytesIO(response.content)) as pdf:
            return [(page.extract_text() or "").replace("\n", " ") for page in pdf.pages]

    def of(self, name: str, class_name: str = "7 Plover") -> Run:
        return Run.objects.get(name=name, school_class__name=class_name)

    def test_every_paper_of_every_kind(self) -> None:
        for made in Run.objects.all():
            for document in ("report", "board", "summaries"):
                with self.subTest(made.name, document=document):
                    told = self.api.get(f"runs/{made.pk}/comparison")
                    text = " ".join(self.pages(made, document))
                    if document != "summaries":
                        self.assertIn(told["headline"], text)
                    for row in told["ranked"]:
                        self.assertIn(row["team"]["name"], text)

    def test_the_report_says_what_the_screens_say(self) -> None:
        made = self.of("Slip gangway")
        text = " ".join(self.pages(made, "report"))
        told = self.api.get(f"runs/{made.pk}/comparison")
        for row in told["ranked"]:
            self.assertIn(row["words"], text)
        for line in told["retests"]:
            self.assertIn(line, text)
        for words in ("What can hurt someone", "How this was worked out", "JCGM 100:2008", "scatter by",
                      "ran out of load", "Over the limit: 340 mm"):  # fmt: skip
            self.assertIn(words, text)
        columns = " ".join(self.pages(self.of("Net loft columns"), "report"))
        self.assertIn("Only one design was tested at “triangle”", columns)

    def test_a_team_takes_a_page_with_its_own_words(self) -> None:
        made = self.of("Slip gangway")
        pages = self.pages(made, "summaries")
        self.assertEqual(len(pages), 6)
        (fulmar,) = [page for page in pages if "The two folds; the floor hung between them." in page]
        self.assertIn("a strip glued under midspan", fulmar)
        self.assertIn("%, clear", fulmar)
        self.assertIn("is anything doubled there?", fulmar)
        self.api.send("PUT", f"runs/{made.pk}/hints", {"hidden": True})
        self.assertNotIn("is anything doubled there?", " ".join(self.pages(made, "summaries")))

    def test_the_board_is_one_page_on_its_side(self) -> None:
        made = self.of("Slip gangway")
        response = self.api.call("GET", f"runs/{made.pk}/print/board")[1]
        with pdfplumber.open(io.BytesIO(response.content)) as pdf:
            (page,) = pdf.pages
            self.assertGreater(page.width, page.height)

    def test_photographs_are_in_the_report(self) -> None:
        made = self.of("Net loft columns")
        design = made.designs.get(team__name="Skua")
        data = io.BytesIO()
        Image.new("RGB", (640, 480), "#a0522d").save(data, "JPEG")
        photo_services.keep_photo(design, SimpleUploadedFile("a.jpg", data.getvalue()), "wreck")
        response = self.api.call("GET", f"runs/{made.pk}/print/report")[1]
        with pdfplumber.open(io.BytesIO(response.content)) as pdf:
            self.assertEqual(sum(len(page.images) for page in pdf.pages), 1)
        self.assertIn("Skua, the wreck", " ".join(self.pages(made, "report")))

    def test_a_recipe_has_no_results(self) -> None:
        made = self.of("Slip gangway")
        self.assertEqual(self.api.call("GET", f"recipes/{made.recipe_id}/print/report")[0], 404)


class WithLittle(TestCase):
    def test_one_design_none_and_a_name_with_signs(self) -> None:
        ada = teacher()
        made = run(ada, teams=("Auk <b>&", "Tern"))
        api = Api(ada)
        checked_in(made.designs.all()[0])
        for document in ("report", "board", "summaries"):
            status, response = api.call("GET", f"runs/{made.pk}/print/{document}")
            self.assertEqual(status, 200)
            with pdfplumber.open(io.BytesIO(response.content)) as pdf:
                text = " ".join(page.extract_text() or "" for page in pdf.pages)
            self.assertIn("Auk <b>&" if document != "board" else "Nothing to compare yet.", text)


class Charts(TestCase):
    def attribute(self, svg: str, element: str, name: str) -> list[float]:
        from xml.etree import ElementTree

        root: Any = ElementTree.fromstring(svg)
        return [float(one.get(name)) for one in root.iter(f"{{http://www.w3.org/2000/svg}}{element}") if one.get(name)]

    def test_bars_are_as_long_as_their_values(self) -> None:
        svg = ranking_svg(
            [Bar("1", "Tern", "#123456", 4.0, 5.0, "4 kg"), Bar("2", "<Auk>", "#123456", 1.0, 1.2, "1 kg")]
        )
        long, short = (width for width in self.attribute(svg, "rect", "width") if width != 3.6)
        self.assertAlmostEqual(long / short, 4, places=1)

    def test_dots_stand_where_mass_and_load_are(self) -> None:
        svg = rays_svg(
            [Dot("a", "#123456", 10, 1, False), Dot("b", "#123456", 20, 1, True), Dot("c", "#123456", 20, 2, False)]
        )
        (ax, bx, cx), (ay, by, cy) = self.attribute(svg, "circle", "cx"), self.attribute(svg, "circle", "cy")
        self.assertEqual((bx, ay), (cx, by))
        self.assertTrue(ax < bx and cy < by)
