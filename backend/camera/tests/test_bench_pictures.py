"""Lengths at the bench in one picture, through the API: to the true figure, as evidence, and what is refused."""

from __future__ import annotations

import json
import uuid
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from bench.models import Trial
from camera.models import CardSet
from camera.standins import MAST_M, STANDINS, made
from camera.tests.support import ready
from designs.models import MEASURED, Photo, Reading
from people.tests.support import Api, Ledger, folder_for_photographs, teacher

SET = 4


class Freeboard(TestCase):
    data: bytes

    @classmethod
    def setUpTestData(cls) -> None:
        cls.data = made("mast", SET)

    def setUp(self) -> None:
        folder_for_photographs(self)
        ada = teacher()
        self.api = Api(ada)
        self.design = ready(ada, "clay-lighters")
        self.ledger = Ledger(self.api, self.design)
        CardSet.objects.create(owner=ada, number=SET, bar_text="100 mm", step_text="0.5 mm", scale=1.0,
                               scale_uncertainty=0.0005)  # fmt: skip
        # Of the mast in the picture so much as a rim may be above the water.
        ends = np.array([(0.12, 0.0, 0.0), (0.12, 0.2, 0.0)])
        self.points = [[float(x), float(y)] for x, y in STANDINS["mast"].camera.pixels(ends)]
        assert MAST_M > 0.2

    def measure(self, key: str = "freeboard", data: bytes | None = None, **typed: Any) -> tuple[int, Any]:
        body = {
            "photo": SimpleUploadedFile("a.jpg", data or self.data),
            "pointed": json.dumps({"key": key, "points": self.points}), **typed,
        }  # fmt: skip
        answer = self.api.client.post(f"/api/trials/{self.ledger.id}/measured-picture", body)
        return answer.status_code, answer.json()

    def test_it_is_true_and_the_ledger_takes_it_as_typed(self) -> None:
        name = str(uuid.uuid4())
        for _ in range(2):
            status, size = self.measure(sent_as=name)
            self.assertEqual(status, 201, size)
        self.assertLess(abs(size["value_si"] - 0.2), size["expanded_uncertainty_si"])
        photo = Photo.objects.get()
        self.assertEqual(photo.what, MEASURED)
        self.assertRegex(photo.caption, r"^Trial 1: freeboard (19|20)\d\.\d mm ± \d\.\d mm$")
        answer = self.ledger.add(
            "measure", key="freeboard", text=size["text"], resolution=size["step_text"], source="picture"
        )
        (taken,) = answer["state"]["result"]["taken"]
        self.assertAlmostEqual(taken["value_si"], size["value_si"], delta=size["expanded_uncertainty_si"] / 4)
        self.assertAlmostEqual(
            2 * taken["standard_uncertainty_si"], size["expanded_uncertainty_si"],
            delta=0.06 * size["expanded_uncertainty_si"],
        )  # fmt: skip
        # It is no reading of check-in.
        self.assertFalse(Reading.objects.filter(key="freeboard").exists())

    def test_while_the_points_are_moved_it_is_told_as_at_check_in(self) -> None:
        body = {"photo": SimpleUploadedFile("a.jpg", self.data), "key": "freeboard"}
        look = self.api.client.post(f"/api/designs/{self.design.pk}/picture", body).json()
        self.assertEqual((look["set_number"], look["ends"]), (SET, []))
        size = self.api.send(
            "POST", f"designs/{self.design.pk}/picture-size",
            {"key": "freeboard", "points": self.points, "frame": look["frame"], "marks": look["marks"]},
        )  # fmt: skip
        self.assertLess(abs(size["value_si"] - 0.2), size["expanded_uncertainty_si"])
        self.assertEqual(Photo.objects.count(), 0)

    def test_what_cannot_be_measured_is_said_and_nothing_kept(self) -> None:
        for code, (status, answer) in (
            ("unknown_measure", self.measure("length_of_rope")),
            ("bad_photo", self.measure(data=b"nothing")),
        ):
            with self.subTest(code):
                self.assertEqual((status, answer["code"]), (400, code), answer)
        self.ledger.add("void", reason=self.design.run.core_family().loading_errors[0].key)
        status, answer = self.measure()
        self.assertEqual((status, answer["code"]), (400, "trial_over"))
        self.assertEqual(Photo.objects.count(), 0)

    def test_a_rehearsal_leaves_nothing(self) -> None:
        Trial.with_rehearsals.filter(pk=self.ledger.id).update(rehearsal=True)
        self.assertEqual(self.measure()[0], 201)
        self.assertEqual(Photo.objects.count(), 0)
