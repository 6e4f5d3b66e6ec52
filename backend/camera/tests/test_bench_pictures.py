"""Lengths and areas at the bench in one picture, through the API: true, as evidence, and what is refused."""

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


class AttackedWall(TestCase):
    def setUp(self) -> None:
        folder_for_photographs(self)
        ada = teacher()
        self.api = Api(ada)
        self.design = ready(ada, "storm-wall")
        # No paper record: what is left is measured at the bench.
        Reading.objects.filter(key="left").delete()
        CardSet.objects.create(owner=ada, number=SET, bar_text="100 mm", step_text="0.5 mm", scale=1.0,
                               scale_uncertainty=0.0005)  # fmt: skip

    def pointed(self, standin: str, key: str) -> dict[str, Any]:
        shown = STANDINS[standin]
        points = [[float(x), float(y)] for x, y in shown.camera.pixels(np.array(shown.ends[key]))]
        pointed = json.dumps({"key": key, "points": points, "outlines": shown.outlines})
        return {"photo": SimpleUploadedFile("a.jpg", made(standin, SET)), "pointed": pointed}

    def attacked(self) -> Ledger:
        ledger = Ledger(self.api, self.design)
        for _ in range(round(self.design.run.setup["throws"] or 0)):
            ledger.add("round", hit=True)
        return ledger

    def test_its_share_by_area_is_true_within_what_is_stated(self) -> None:
        before = self.api.client.post(
            f"/api/designs/{self.design.pk}/photo-readings", {**self.pointed("wall", "area"), "confirmed": "true"}
        )
        self.assertEqual(before.status_code, 201, before.content)
        ledger = self.attacked()
        body = self.pointed("wall-attacked", "area_left")
        answer = self.api.client.post(f"/api/trials/{ledger.id}/measured-picture", body)
        size = answer.json()
        self.assertEqual(answer.status_code, 201, size)
        true = STANDINS["wall-attacked"].true["area_left"]
        self.assertLess(abs(size["value_si"] - true), size["expanded_uncertainty_si"])
        told = ledger.add(
            "measure", key="area_left", text=size["text"], resolution=size["step_text"], source="picture"
        )  # fmt: skip
        self.assertIsNone(told["refused"])
        (taken,) = told["state"]["result"]["taken"]
        self.assertAlmostEqual(
            2 * taken["standard_uncertainty_si"], size["expanded_uncertainty_si"],
            delta=0.06 * size["expanded_uncertainty_si"],
        )  # fmt: skip
        self.assertIsNone(ledger.add("finish")["refused"])
        (ranked,) = self.api.get(f"runs/{self.design.run.pk}/comparison?school=left_standing")["ranked"]
        bounds = ranked["score"]["interval"]
        share = true / STANDINS["wall"].true["area"]
        self.assertAlmostEqual(ranked["score"]["value"], share, delta=0.01)
        self.assertTrue(bounds["low"] <= share <= bounds["high"], bounds)
        self.assertEqual(Photo.objects.filter(what=MEASURED).count(), 2)

    def test_corners_are_proposed_at_the_bench_too(self) -> None:
        Ledger(self.api, self.design)
        body = {"photo": SimpleUploadedFile("a.jpg", made("wall", SET)), "key": "area_left"}
        look = self.api.client.post(f"/api/designs/{self.design.pk}/picture", body).json()
        corners = STANDINS["wall"].camera.pixels(np.array(STANDINS["wall"].ends["area"]))
        self.assertLess(np.abs(np.array(look["ends"]) - corners).max(), 5)

    def test_outlines_that_make_no_sense_are_refused_and_nothing_is_kept(self) -> None:
        ledger = self.attacked()
        body = self.pointed("wall-attacked", "area_left")
        for outlines, code in (([4, 4], "bad_outlines"), ([13, 2], "too_few_points")):
            with self.subTest(code):
                pointed = json.dumps({**json.loads(body["pointed"]), "outlines": outlines})
                body["photo"].seek(0)
                answer = self.api.client.post(f"/api/trials/{ledger.id}/measured-picture", {**body, "pointed": pointed})
                self.assertEqual((answer.status_code, answer.json()["code"]), (400, code))
        self.assertEqual(Photo.objects.count(), 0)
