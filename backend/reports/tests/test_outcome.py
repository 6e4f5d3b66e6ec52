"""Papers of what came of a run: read back by a library that knows nothing of ours."""

from __future__ import annotations

import io
from typing import Any
from xml.etree import ElementTree

import pdfplumber
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase, TestCase, tag
from PIL import Image

from challenges.models import Run
from demo.build import load
from designs import photo_services
from girder_core.ground import MARKS
from girder_core.results import INKS, Chart, Drawn, Ink
from people.models import Teacher, Team
from people.tests.support import Api, checked_in, run, teacher
from reports.chart_svg import chart_svg


@tag("slow")
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
        for made in Run.objects.filter(school_class__owner=self.marit):
            comparison = self.api.get(f"runs/{made.pk}/comparison")
            for document in ("report", "board", "summaries"):
                with self.subTest(made.name, document=document):
                    text = " ".join(self.pages(made, document))
                    if document != "summaries":
                        self.assertIn(comparison["headline"], text)
                    for row in comparison["ranked"]:
                        self.assertIn(row["team"]["name"], text)

    def test_the_answer_stands_on_the_sheets_for_after_the_test(self) -> None:
        made = self.of("Slip gangway", "8 Tern")
        first = made.core_family().older.split(". ")[0].replace(" ", "")
        self.assertIn(first, " ".join(self.pages(made, "summaries")).replace(" ", ""))

    def test_the_report_says_what_the_screens_say(self) -> None:
        made = self.of("Slip gangway")
        text = " ".join(self.pages(made, "report"))
        comparison = self.api.get(f"runs/{made.pk}/comparison")
        for row in comparison["ranked"]:
            self.assertIn(row["words"], text)
        for line in comparison["retests"]:
            self.assertIn(line, text)
        for words in ("What can hurt someone", "How this was worked out", "JCGM 100:2008", "scatter by",
                      "ran out of load", "Over the limit: 340 mm"):  # fmt: skip
            self.assertIn(words, text)
        self.assertIn("3 of 3 second versions did better", text)
        self.assertIn("a strip glued under midspan", text)
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


class OnPaper(SimpleTestCase):
    """A chart of the core as SVG: every shape of it, in order, with names that no sign can break."""

    def test_every_shape_is_drawn_and_every_ink_has_a_look(self) -> None:
        tern, auk = (
            Team(name="Tern <b>&", mark="sash", colour="#123456"),
            Team(name="Auk", mark="half", colour="#654321"),
        )
        shapes = [
            Drawn(kind, ink, ((1, 2), (3, 4), (5, 6)), 9, "Tern <b>&", key="a")
            for kind, inks in INKS.items()
            for ink in sorted(inks)
            if kind != "mark"
        ]  # fmt: skip
        self.assertEqual({shape.ink for shape in shapes}, set(Ink))
        drawn_last = Drawn("mark", Ink.TEAM, ((50, 25),), 24, key="b")
        chart = Chart("k", "", "", "", "What it shows", 100, 50, (*shapes, drawn_last), (), ())
        root: Any = ElementTree.fromstring(chart_svg(chart, {"a": tern, "b": auk}, 200))
        self.assertEqual((root.get("width"), root.get("height")), ("200.00mm", "100.00mm"))
        name = "{http://www.w3.org/2000/svg}"
        drawn = [
            element.tag.removeprefix(name) for element in root if element.tag not in (f"{name}title", f"{name}defs")
        ]
        kinds = {"area": "polygon", "circle": "circle", "line": "polyline", "words": "text", "mark": "g"}
        self.assertEqual(drawn, [kinds[shape.kind] for shape in chart.drawn])
        self.assertEqual({element.text for element in root.iter(f"{name}text")}, {"Tern <b>&"})
        # The lower half of what is not known is drawn like the upper one: the hatched area is the core's.
        hatched = [element for element in root.iter(f"{name}polygon") if "doubt" in str(element.get("fill"))]
        self.assertTrue(all(element.get("points") == "1.0,2.0 3.0,4.0 5.0,6.0" for element in hatched))
        # The team's own colour, and its mark.
        self.assertEqual(sum(element.get("stroke") == "#123456" for element in root.iter(f"{name}polyline")), 3)
        (mark,) = root.iter(f"{name}g")
        self.assertEqual(len(list(mark)), len(MARKS["half"]))
