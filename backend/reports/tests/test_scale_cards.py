"""Printed scale cards, rasterised as a printer would and read as a camera would: true to scale on both papers."""

from __future__ import annotations

import subprocess
import tempfile
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from django.test import TestCase, tag

from camera.detector import marks_in
from camera.selectors import sets_of
from girder_core.photo import MARKS_PER_SET, cards, cards_seen
from people.tests.support import Api, run, teacher

DPI = 200
MM = 25.4 / DPI


@tag("slow")
class ScaleCards(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)

    def pages(self, query: str) -> list[Any]:
        """The pages of the paper as pictures."""
        status, response = self.api.call("GET", f"runs/{self.run_.pk}/print/scale-cards{query}")
        self.assertEqual(status, 200)
        with tempfile.TemporaryDirectory() as folder:
            subprocess.run(["pdftoppm", "-r", str(DPI), "-gray", "-png", "-", f"{folder}/page"], input=response.content,
                           check=True)  # fmt: skip
            return [cv2.imread(str(page), cv2.IMREAD_GRAYSCALE) for page in sorted(Path(folder).glob("*.png"))]

    def test_every_mark_is_read_where_it_should_be(self) -> None:
        number = sets_of(self.ada)[0].number
        for paper in ("a4", "letter"):
            found = [marks_in(page) for page in self.pages(f"?paper={paper}")]
            self.assertEqual([len(marks) for marks in found], [6, 6, 4], paper)
            self.assertEqual({mark.id // MARKS_PER_SET + 1 for marks in found for mark in marks}, {number})
            for marks in found:
                for card, ids in cards_seen(mark.id for mark in marks).items():
                    printed = np.array([mark.corners for mark in card.marks]).reshape(-1, 2) * (1000, -1000)
                    seen = {mark.id: mark.corners for mark in marks}
                    there = np.array([seen[id_] for id_ in ids]).reshape(-1, 2) * MM
                    # Only moved: not larger, not turned, not mirrored, to a tenth of a millimetre.
                    off = (there - there.mean(axis=0)) - (printed - printed.mean(axis=0))
                    self.assertLess(np.abs(off).max(), 0.1, f"{paper} {card.key}")

    def test_the_bar_is_100_mm_long_and_its_surroundings_are_blank(self) -> None:
        page = self.pages("?paper=a4")[0]
        middle = np.array([mark.corners for mark in marks_in(page)]).reshape(-1, 2).mean(axis=0)
        row = page[round(middle[1] + 47 / MM)]
        dark = np.flatnonzero(row < 128)
        self.assertAlmostEqual((dark[-1] - dark[0] + 1) * MM, 100.0, delta=0.4)
        # Where a screen's pattern is looked for, nothing is printed.
        left, right, top, bottom = (round(v) for v in (*(middle[0] + np.array([-36, 36]) / MM),
                                                       *(middle[1] + np.array([-84, -26]) / MM)))  # fmt: skip
        self.assertGreater(int(page[top:bottom, left:right].min()), 250)

    def test_another_set_can_be_printed(self) -> None:
        pages = self.pages("?set=36")
        self.assertEqual({mark.id for mark in marks_in(pages[2])},
                         {mark.id for card in cards(36)[2:] for mark in card.marks})  # fmt: skip
        address = f"runs/{self.run_.pk}/print/scale-cards?set="
        paper = self.api.call("GET", f"{address}36")[1].content
        said = subprocess.run(["pdftotext", "-", "-"], input=paper, capture_output=True, check=True).stdout.decode()
        self.assertIn("Set 36", said)
        self.assertEqual(self.api.refused("GET", f"{address}0")[1]["code"], "unknown_set")
