"""Areas at check-in: typed as shapes, kept as typed, told with what follows from them, in the CSV too."""

from __future__ import annotations

import csv
import io
import math
from datetime import date
from typing import Any

from django.test import TestCase

from challenges.library import take
from designs import services as designing
from designs.models import Design
from people.tests.support import Api, school_class, teacher


class Shapes(TestCase):
    def setUp(self) -> None:
        ada = teacher()
        self.api = Api(ada)
        self.run_ = designing.open_run(
            take(ada, "fish-market-table"), school_class(ada, teams=("Tern",)), date(2026, 12, 1)
        )
        self.design = Design.objects.get(run=self.run_)

    def read(self, key: str, text: str, **more: Any) -> tuple[int, Any]:
        body = {"key": key, "text": text, "resolution_text": "1 mm", **more}
        return self.api.call("POST", f"designs/{self.design.pk}/readings", body)

    def worked_out(self) -> dict[str, float]:
        (design,) = self.api.get(f"runs/{self.run_.pk}")["designs"]
        return {figure["key"]: figure["value_si"] for figure in design["worked_out"]}

    def test_a_rectangle_follows_from_its_sides_and_another_shape_stands_before_it(self) -> None:
        self.assertEqual(self.worked_out(), {})
        self.assertEqual(self.read("length", "30 cm")[0], 200)
        self.assertEqual(self.read("width", "20 cm")[0], 200)
        self.assertAlmostEqual(self.worked_out()["floor_area"], 0.06)
        self.assertEqual(self.read("area", "circle 22 cm")[0], 200)
        self.assertAlmostEqual(self.worked_out()["floor_area"], math.pi * 0.11**2)
        self.assertAlmostEqual(self.worked_out()["perimeter"], math.pi * 0.22)

    def test_corners_are_kept_as_typed_and_told_in_the_csv(self) -> None:
        text = "corners " + ", ".join(f"{30 * math.cos(i):.1f} {30 * math.sin(i):.1f}" for i in range(6)) + " cm"
        self.assertEqual(self.read("area", text, confirmed=True)[0], 200)
        self.assertEqual(self.design.readings.get(key="area").text, text)
        file = self.api.call("GET", f"runs/{self.run_.pk}/results.csv")[1].content.decode("utf-8-sig")
        (row,) = csv.DictReader(io.StringIO(file))
        self.assertAlmostEqual(float(row["area_m2"]), float(row["floor_area_m2"]))
        self.assertGreater(float(row["perimeter_m"]), 1.5)

    def test_an_outline_that_crosses_itself_is_refused_and_loses_nothing(self) -> None:
        self.assertEqual(self.read("area", "30 cm x 20 cm")[0], 200)
        status, body = self.read("area", "corners 0 0, 30 20, 30 0, 0 20 cm")
        self.assertEqual((status, body["code"]), (400, "corners_cross"))
        self.assertAlmostEqual(self.worked_out()["floor_area"], 0.06)

    def test_repeats_count_together(self) -> None:
        self.assertEqual(self.read("area", "30 cm x 20 cm")[0], 200)
        self.assertEqual(self.read("area", "30 cm x 22 cm", again=True)[0], 200)
        self.assertAlmostEqual(self.worked_out()["floor_area"], 0.063)
        # Two shapes have no one edge.
        self.assertNotIn("perimeter", self.worked_out())
