"""Counting loose pieces at the bench, through the API: what is found, what it says beside the ledger, what is kept."""

from __future__ import annotations

import io
import json
import math
import uuid
from functools import lru_cache
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from PIL import Image

from bench.models import Trial
from camera.standins import SPREAD, STANDINS
from camera.tests.spread import Lying, Sheet, photographed, scattered
from camera.tests.support import ready
from camera.tests.test_motions import Bench
from designs.models import MEASURED, Photo
from people.models import HELPER, OBSERVER, Colleague
from people.tests.support import Api, Ledger, teacher

NUTS = 12


@lru_cache
def nuts() -> tuple[bytes, list[Lying]]:
    """Loose nuts from a tablet, and where they lie."""
    chance = np.random.default_rng(11)
    lying = scattered(chance, NUTS, (24, 24), 0.3, Sheet())
    return _jpeg(photographed(chance, "nut", lying, Sheet())), lying


def _jpeg(picture: Any) -> bytes:
    data = io.BytesIO()
    Image.fromarray(picture).save(data, "JPEG", quality=88)
    return data.getvalue()


class Loose(Bench):
    def send(self, what: str, api: Api | None = None, photo: bytes | None = None, **typed: Any) -> tuple[int, Any]:
        body = {"photo": SimpleUploadedFile("a.jpg", photo or nuts()[0]), **typed}
        answer = (api or self.api).client.post(f"/api/trials/{self.ledger.id}/{what}", body)
        return answer.status_code, answer.json()

    def recount(self, **typed: Any) -> tuple[int, Any]:
        answer = self.api.client.post(
            f"/api/trials/{self.ledger.id}/recount", json.dumps(typed), content_type="application/json"
        )
        return answer.status_code, answer.json()

    def keep(self, dots: Any = None, **typed: Any) -> tuple[int, Any]:
        thing = {"item": "nut", "lay": "on", "dots": dots or [[x, y] for x, y, _ in nuts()[1]]}
        return self.send("counted-picture", counted=json.dumps(thing), **typed)


class Counted(Loose):
    def test_a_dot_on_each_and_nothing_kept(self) -> None:
        status, loose = self.send("loose-picture")
        self.assertEqual((status, loose["width_px"], loose["height_px"]), (200, 1200, 900), loose)
        self.assertEqual(len(loose["pieces"]), NUTS)
        for x, y, r in nuts()[1]:
            away = [math.hypot(one["at"][0] - x, one["at"][1] - y) for one in loose["pieces"]]
            self.assertLess(min(away), r / 3)
        self.assertEqual(Photo.objects.count(), 0)

    def test_beside_the_ledger_as_it_is_now(self) -> None:
        self.ledger.hold("platform")
        self.ledger.hold("nut", NUTS)
        status, said = self.recount(item="nut", lay="on", count=NUTS)
        self.assertEqual((status, said["agrees"], said["text"]), (200, True, ""))
        self.ledger.hold("nut", 2)
        self.assertIn("the ledger has 14, 2 more", self.recount(item="nut", lay="on", count=NUTS)[1]["sentence"])
        left = self.ledger.add("place", item="nut", count=1)["state"]["remaining"]["nut"]
        self.assertTrue(self.recount(item="nut", lay="left", count=left)[1]["agrees"])

    def test_the_picture_with_its_dots_is_the_evidence_once(self) -> None:
        self.ledger.hold("platform")
        self.ledger.hold("nut", NUTS)
        name = str(uuid.uuid4())
        for _ in range(2):
            status, said = self.keep(sent_as=name)
            self.assertEqual((status, said["agrees"]), (201, True), said)
        photo = Photo.objects.get()
        self.assertEqual((photo.what, photo.caption), (MEASURED, f"Trial 1: {said['sentence']}"))
        with photo.file.open("rb") as kept, Image.open(kept) as picture:
            shown = np.asarray(picture.convert("RGB")).astype(int)
        # A ring of the dots' colour about each, and no line from one to the next.
        red = (shown[..., 0] > 120) & (shown[..., 1] < 110) & (shown[..., 2] < 90)
        for x, y, _ in nuts()[1]:
            self.assertTrue(red[int(y) - 12 : int(y) + 13, int(x) - 12 : int(x) + 13].any())
        self.assertLess(red.sum(), NUTS * 400)

    def test_a_rehearsal_leaves_nothing(self) -> None:
        Trial.with_rehearsals.filter(pk=self.ledger.id).update(rehearsal=True)
        self.assertEqual(self.keep()[0], 201)
        self.assertEqual(Photo.objects.count(), 0)

    def test_the_sheet_to_practise_with_says_how_many_lie_there(self) -> None:
        self.assertEqual(STANDINS["nuts"].true, {"count": SPREAD})


class Fallen(TestCase):
    def test_of_a_wall_what_check_in_had_less_what_lies_there_still_stands(self) -> None:
        ada = teacher()
        design, api = ready(ada, "storm-wall"), Api(ada)
        ledger = Ledger(api, design)
        stood = round(design.counting_readings()["pieces"].quantity().value)
        said = api.send("POST", f"trials/{ledger.id}/recount", {"key": "left", "count": 2})
        self.assertEqual((said["agrees"], said["text"]), (True, str(stood - 2)))
        status, answer = api.call("POST", f"trials/{ledger.id}/recount", {"key": "left", "count": stood + 1})
        self.assertEqual((status, answer["code"]), (400, "more_than_before"))


class Refused(Loose):
    def test_each_with_a_sentence(self) -> None:
        empty = _jpeg(photographed(np.random.default_rng(1), "nut", [], Sheet()))
        for code, (status, answer) in (
            ("bad_photo", self.send("loose-picture", photo=b"nothing")),
            ("nothing_loose", self.send("loose-picture", photo=empty)),
            ("unknown_item", self.recount(item="gold", count=3)),
            ("not_loose", self.recount(item="platform", count=1)),
            ("unknown_measure", self.recount(key="left", count=1)),
            ("not_counted_loose", self.recount(key="sag", count=1)),
        ):
            with self.subTest(code):
                self.assertEqual((status, answer["code"]), (400, code), answer)
                self.assertGreater(len(answer["sentence"]), 20)
        for typed in ({"item": "nut", "count": -1}, {"item": "nut", "lay": "there", "count": 1}, {"item": "nut"}):
            self.assertEqual(self.recount(**typed)[0], 400, typed)
        for dots in ([], [[1.0]], "x"):
            answer = self.send("counted-picture", counted=json.dumps({"item": "nut", "dots": dots}))
            self.assertEqual(answer[0], 400, dots)
        self.assertEqual(Photo.objects.count(), 0)

    def test_who_may(self) -> None:
        ben, eve = teacher("Ben"), teacher("Eve")
        group = self.run_.school_class
        Colleague.objects.create(school_class=group, teacher=ben, part=HELPER)
        Colleague.objects.create(school_class=group, teacher=eve, part=OBSERVER)
        self.assertEqual(self.keep(api=Api(ben))[0], 201)
        self.assertEqual(self.keep(api=Api(eve))[0], 403)
        self.assertEqual(self.send("loose-picture", Api(teacher("Mallory")))[0], 404)
