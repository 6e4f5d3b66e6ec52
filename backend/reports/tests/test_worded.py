"""Tables for people: words, the teacher's units, the reader's time; and the same values as the table for programs."""

from __future__ import annotations

import csv
import io
import re
from datetime import UTC, datetime
from typing import Any

from django.test import TestCase
from openpyxl import load_workbook

from challenges.models import Run
from demo.build import load
from demo.world import TEACHER_EMAIL
from people.models import Teacher
from people.tests.support import Api


class Worded(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        load()

    def setUp(self) -> None:
        self.marit = Teacher.objects.get(email=TEACHER_EMAIL)
        self.api = Api(self.marit)
        self.run_ = Run.objects.get(school_class__name="8 Tern", family="bridge")

    def rows(self, table: str, asked: str = "") -> list[dict[str, str]]:
        response = self.api.call("GET", f"runs/{self.run_.pk}/{table}.csv{asked}")[1]
        return list(csv.DictReader(io.StringIO(response.content.decode("utf-8-sig"))))

    def test_headers_are_words_and_values_are_the_same(self) -> None:
        plain, told = self.rows("results"), self.rows("results", "?words=1")
        self.assertEqual(len(plain), len(told))
        for raw, row in zip(plain, told, strict=True):
            if raw["held_kg"]:
                self.assertAlmostEqual(float(row["Held (g)"]), 1000 * float(raw["held_kg"]), delta=0.006)
            if raw["gap_m"]:
                self.assertAlmostEqual(float(row["Clear gap (mm)"]), 1000 * float(raw["gap_m"]), delta=0.06)
            if raw["wins_again_share"]:
                self.assertAlmostEqual(
                    float(row["Would win again (%)"]), 100 * float(raw["wins_again_share"]), delta=0.06
                )
            self.assertEqual(row["Place, at best"], raw["place_best"])
        for header in told[0]:
            self.assertNotIn("_", header)
            self.assertTrue(header[0].isupper(), header)
        self.assertEqual(len(set(told[0])), len(plain[0]))

    def test_in_the_teachers_units(self) -> None:
        self.marit.units = "us"
        self.marit.save()
        plain, told = self.rows("results"), self.rows("results", "?words=1")
        held = next((raw, row) for raw, row in zip(plain, told, strict=True) if raw["held_kg"])
        # An ounce is 28.349523125 g (international avoirdupois pound of 1959).
        self.assertAlmostEqual(float(held[1]["Held (oz)"]), float(held[0]["held_kg"]) / 0.028349523125, delta=0.006)
        self.assertIn("Clear gap (in)", told[0])

    def test_in_the_readers_time(self) -> None:
        plain = self.rows("ledger")[0]["happened_at"]
        # Lisbon in summer and Tokyo always are ahead of UTC by so many hours; nobody's zone is the server's own.
        for zone, hours in (("Asia/Tokyo", 9), ("", 0), ("No/Such", 0), ("../../etc/passwd", 0)):
            told = self.rows("ledger", f"?words=1&zone={zone}")[0]["When"]
            self.assertRegex(told, r"^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d$")
            there = datetime.fromisoformat(plain).astimezone(UTC)
            seconds = (datetime.fromisoformat(told).replace(tzinfo=UTC) - there).total_seconds()
            self.assertEqual(round(seconds / 3600), hours)

    def test_every_kind_and_every_table_has_words(self) -> None:
        for run in Run.objects.filter(school_class__owner=self.marit):
            self.run_ = run
            for table in ("results", "ledger", "kit", "rubric"):
                rows = self.rows(table, "?words=1")
                for row in rows[:1]:
                    self.assertFalse([header for header in row if re.search(r"_|\bsi\b", header)], (run.family, table))
                for column in ("Outcome", "Kind", "Stands", "Scored by"):
                    self.assertFalse([row[column] for row in rows if "_" in row.get(column, "")], (run.family, table))

    def test_the_workbook_for_people(self) -> None:
        content: Any = self.api.call("GET", f"runs/{self.run_.pk}/results.xlsx?words=1&zone=Europe/Lisbon")[1].content
        book = load_workbook(io.BytesIO(content))
        self.assertIn("Held (g)", [cell.value for cell in book["results"][1]])
        self.assertIn("Taken", [cell.value for cell in book["readings"][1]])
