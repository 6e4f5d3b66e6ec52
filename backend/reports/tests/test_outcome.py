"""Papers of what came of a run: read back by a library that knows nothing of ours."""

from __future__ import annotations

import io
import itertools
from typing import Any
from xml.etree import ElementTree

import pdfplumber
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, tag
from PIL import Image

from challenges.models import Run
from demo.build import load
from designs import photo_services
from girder_core.measure import System
from girder_core.results import Mark, Member, factor_effect
from people.models import Teacher
from people.tests.support import Api, checked_in, run, teacher
from reports.charts import Bar, Dot, ranking_svg, rays_svg, strip_svg


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


class Charts(TestCase):
    def attribute(self, svg: str, element: str, name: str) -> list[float]:
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
            [
                Dot("a", "#123456", 0.010, 1, False),
                Dot("b", "#123456", 0.020, 1, True),
                Dot("c", "#123456", 0.020, 2, False),
            ]
        )
        (ax, bx, cx), (ay, by, cy) = self.attribute(svg, "circle", "cx"), self.attribute(svg, "circle", "cy")
        self.assertEqual((bx, ay), (cx, by))
        self.assertTrue(ax < bx and cy < by)

    def words(self, svg: str) -> dict[str, tuple[float, float]]:
        texts = ElementTree.fromstring(svg).iter("{http://www.w3.org/2000/svg}text")
        return {one.text or "": (float(one.get("x", "0")), float(one.get("y", "0"))) for one in texts}

    def test_axes_have_round_numbers_in_the_teachers_units(self) -> None:
        dots = [Dot("a", "#123456", 0.0383, 1.61, False), Dot("b", "#123456", 0.0479, 2.13, False)]
        metric, us = self.words(rays_svg(dots)), self.words(rays_svg(dots, System.US))
        # Own weights up to 57 g, loads up to 2.4 kg; 2.03 oz, 5.4 lb.
        for tick in ("20", "40", "0.5", "1.5", "own weight, g", "load, kg"):
            self.assertIn(tick, metric)
        for tick in ("0.5", "1.5", "4", "own weight, oz", "load, lb"):
            self.assertIn(tick, us)
        # An ounce is 28.35 g, so 1.5 oz stand where 42.5 g would.
        gram = (metric["40"][0] - metric["20"][0]) / 20
        self.assertAlmostEqual(us["1.5"][0], metric["20"][0] + gram * (1.5 * 28.349523125 - 20), delta=0.05)

    def test_names_of_near_designs_stand_apart(self) -> None:
        names = ("Tern", "Auk", "Rail")
        told = self.words(rays_svg([Dot(n, "#123456", 0.030 + 0.0002 * i, 1.0, False) for i, n in enumerate(names)]))
        for one, other in itertools.combinations(names, 2):
            (x, y), (other_x, other_y) = told[one], told[other]
            self.assertTrue(abs(y - other_y) >= 3 or abs(x - other_x) >= 2 * len(one), (one, other))

    def test_a_strip_marks_every_trial_and_the_mean(self) -> None:
        def member(name: str, level: str, *loads: float) -> Member:
            return Member(name, name, level, max(loads), False, tuple(Mark(load, load > 2) for load in loads))

        members = [member("a", "flat", 1.0, 0.5), member("b", "flat", 0.5), member("c", "folded", 3.0)]
        svg = strip_svg(factor_effect(members, ["flat", "folded"]).levels, lambda value: f"{value:g} kg")
        marks = self.attribute(svg, "circle", "cx")
        self.assertEqual(len(marks), 4)
        # Distances from where the axis begins are as the loads: 3 kg to 1 kg.
        self.assertAlmostEqual((max(marks) - 40) / (marks[0] - 40), 3, places=2)
        self.assertLessEqual({"flat", "folded", "3 kg"}, set(self.words(svg)))
