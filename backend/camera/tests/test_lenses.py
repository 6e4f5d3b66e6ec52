"""A tablet's lens through the API: pictures are looked at, the lens is told and kept, and counts in what follows."""

from __future__ import annotations

import io
import json
import math
import uuid
from dataclasses import asdict
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from camera.models import TabletLens
from camera.picture_file import looked
from camera.standins import MAST_M, STANDINS, made
from camera.standins import TABLET as STANDIN_TABLET
from camera.tests.test_readings import SET, Pictured
from designs.models import Reading
from girder_core.photo import MOST_PICTURES, Look, calibrated, cards
from people.tests.support import Api, teacher

KEYS = [key for key in STANDINS if key.startswith("lens-")]
TABLET = uuid.UUID("5f2f7d0e-2f6c-4d1b-9a53-0c8c6f1f7a11")


@lru_cache
def picture(key: str) -> bytes:
    return made(key, SET)


@lru_cache
def mast() -> bytes:
    return made("mast", SET)


@lru_cache
def shown(key: str) -> dict[str, Any]:
    """What the browser hands back of one of them."""
    return as_sent(looked(picture(key))[2])


def as_sent(look: Look) -> dict[str, Any]:
    marks = [{"id": mark.id, "corners": mark.corners} for mark in look.marks]
    return {"frame": asdict(look.frame), "marks": marks}


def written(data: bytes, model: str = "", focal_mm: float = 4.2, zoom: float = 1.0) -> bytes:
    """A picture as another camera would have written it, or the same zoomed."""
    with Image.open(io.BytesIO(data)) as opened:
        wide, tall = opened.size
        left, top = (round(side * (1 - 1 / zoom) / 2) for side in (wide, tall))
        shown = opened.crop((left, top, wide - left, tall - top)).resize((wide, tall), Image.Resampling.BICUBIC)
    exif = Image.Exif()
    exif[0x010F], exif[0x0110] = STANDIN_TABLET.split()
    if model:
        exif[0x010F], exif[0x0110] = "Made-up\0", model
        exif.get_ifd(0x8769)[0x920A] = focal_mm
    told = io.BytesIO()
    shown.save(told, "JPEG", quality=92, exif=exif)
    return told.getvalue()


class Lenses(Pictured):
    def calibrate(self, pictures: list[Any], keep: bool = True) -> tuple[int, Any]:
        return self.api.call("POST", f"tablets/{TABLET}/lenses", {"pictures": pictures, "keep": keep})

    def calibrated(self, camera: str = STANDIN_TABLET) -> None:
        pictures = [{**shown(key), "frame": shown(key)["frame"] | {"camera": camera}} for key in KEYS]
        status, told = self.calibrate(pictures)
        self.assertEqual(status, 200, told)

    def test_pictures_are_looked_at_the_lens_is_told_kept_and_forgotten(self) -> None:
        first = self.api.client.post("/api/lens-pictures", {"photo": SimpleUploadedFile("a.jpg", picture(KEYS[0]))})
        found = first.json()
        self.assertEqual(len(found["marks"]), len(cards(SET)[0].marks))
        (rim,) = found["rims"]
        # The paper is in the picture, all round its marks.
        for mark in found["marks"]:
            self.assertTrue(all(cv2.pointPolygonTest(np.array(rim, np.float32), corner, False) > 0
                                for corner in mark["corners"]))  # fmt: skip
        self.assertEqual({**found, "rims": []}, json.loads(json.dumps({**shown(KEYS[0]), "rims": []})))
        pictures = []
        for key in KEYS:
            pictures.append(shown(key))
            status, told = self.calibrate(pictures, keep=False)
            self.assertEqual(status, 200, told)
            self.assertEqual(told["told"] == "", len(pictures) < 5)
        self.assertEqual(told["wanted"], "")
        self.assertEqual(TabletLens.objects.count(), 0)
        status, kept = self.calibrate(pictures)
        self.assertEqual((status, kept), (200, told))
        for _ in range(2):
            # Kept again, it takes the place of the first.
            self.calibrate(pictures)
            ((lens,), status) = self.api.call("GET", f"tablets/{TABLET}/lenses")[::-1]
            self.assertEqual((status, lens["pictures"], lens["told"]), (200, len(KEYS), told["told"]))
        self.assertEqual(self.api.call("GET", f"tablets/{uuid.uuid4()}/lenses"), (200, []))
        self.assertEqual(self.api.client.delete(f"/api/tablets/{TABLET}/lenses").status_code, 204)
        self.assertEqual(TabletLens.objects.count(), 0)

    def test_what_cannot_be_calibrated_with_is_said(self) -> None:
        blank = io.BytesIO()
        Image.new("RGB", (1600, 1200), (240, 240, 240)).save(blank, "JPEG")
        for data, code in ((b"nothing", "bad_photo"), (blank.getvalue(), "no_card")):
            answer = self.api.client.post("/api/lens-pictures", {"photo": SimpleUploadedFile("a.jpg", data)})
            self.assertEqual((answer.status_code, answer.json()["code"]), (400, code))
        pictures = [shown(key) for key in KEYS]
        status, answer = self.calibrate(pictures[:4])
        self.assertEqual((status, answer["code"]), (400, "few_pictures"))
        zoomed = as_sent(looked(written(picture(KEYS[3]), zoom=1.25))[2])
        status, answer = self.calibrate([*pictures[:2], zoomed, *pictures[3:]])
        self.assertEqual((status, answer["code"]), (400, "pictures_differ"))
        self.assertIn("Picture 3 ", answer["sentence"])
        for wrong in ([], pictures[:1] * (MOST_PICTURES + 1), [{**pictures[0], "marks": []}], [{"marks": "x"}]):
            self.assertEqual(self.calibrate(wrong)[0], 400)
        self.assertEqual(self.api.call("POST", "tablets/nobody/lenses", {"pictures": pictures})[0], 404)
        self.assertEqual(Api(None).call("GET", f"tablets/{TABLET}/lenses")[0], 403)
        self.assertEqual(TabletLens.objects.count(), 0)

    def size(self, look: Any, tablet: uuid.UUID | None) -> Any:
        ends = STANDINS["mast"].camera.pixels(np.array(STANDINS["mast"].ends["height"]))
        body = {"key": "gap", "points": ends.tolist(), "frame": look["frame"], "marks": look["marks"]}
        status, size = self.api.call(
            "POST", f"designs/{self.design.pk}/picture-size", body | ({"tablet": str(tablet)} if tablet else {})
        )
        self.assertEqual(status, 200, size)
        self.assertLess(abs(size["value_si"] - MAST_M), size["expanded_uncertainty_si"])
        return size

    def test_it_counts_in_what_is_measured_afterwards(self) -> None:
        self.calibrated()
        look = self.post("picture", mast(), key="gap", tablet=str(TABLET))[1]
        self.assertEqual((look["notes"], look["lens_known"]), ([], True))
        self.assertFalse(self.post("picture", mast(), key="gap")[1]["lens_known"])
        plain, known = self.size(look, None), self.size(look, TABLET)
        lens = {cause["key"]: cause["expanded_uncertainty_si"] for cause in known["causes"]}["lens"]
        before = {cause["key"]: cause["expanded_uncertainty_si"] for cause in plain["causes"]}["lens"]
        self.assertLess(lens, 0.6 * before)
        # A reading that is taken has it, too.
        ends = STANDINS["mast"].camera.pixels(np.array(STANDINS["mast"].ends["height"])).tolist()
        uncertain = []
        for tablet in ({}, {"tablet": str(TABLET)}):
            pointed = json.dumps({"key": "gap", "points": ends, **tablet})
            status, answer = self.post("photo-readings", mast(), pointed=pointed, confirmed="true", again="true")
            self.assertEqual(status, 201, answer)
            uncertain.append(Reading.objects.latest("pk").causes["lens"])
        self.assertLess(uncertain[1], 0.6 * uncertain[0])
        # A tablet that nobody calibrated, and one that another browser made up, change nothing.
        self.assertEqual(self.size(look, uuid.uuid4())["expanded_uncertainty_si"], plain["expanded_uncertainty_si"])

    def test_a_picture_through_another_lens_is_told_and_measured_in_without_it(self) -> None:
        self.calibrated("Made-up Slate 9 4.2")
        own = self.post("picture", written(mast(), "Slate 9"), key="gap", tablet=str(TABLET))[1]
        self.assertEqual(own["notes"], [])
        for other in (mast(), written(mast(), "Slate 9", 9.0)):
            status, look = self.post("picture", other, key="gap", tablet=str(TABLET))
            self.assertEqual(status, 200, look)
            self.assertIn("was not taken through it", look["notes"][0])
            self.assertFalse(look["lens_known"])
            self.assertEqual(
                self.size(look, TABLET)["expanded_uncertainty_si"], self.size(look, None)["expanded_uncertainty_si"]
            )

    def test_whoever_works_at_the_tablet_has_its_lens(self) -> None:
        self.calibrated()
        ((lens,), _) = Api(teacher("Bea")).call("GET", f"tablets/{TABLET}/lenses")[::-1]
        self.assertEqual(lens["camera"], STANDIN_TABLET)

    def test_it_is_the_lens_that_opencv_finds(self) -> None:
        looks = [looked(picture(key))[2] for key in KEYS]
        lens = calibrated([(look.marks, look.frame) for look in looks]).lens
        assert lens is not None
        places = {mark.id: mark.corners for mark in cards(SET)[0].marks}
        printed = [np.array([(*corner, 0.0) for mark in look.marks for corner in places[mark.id]], np.float32)
                   for look in looks]  # fmt: skip
        seen = [np.array([corner for mark in look.marks for corner in mark.corners], np.float32) for look in looks]
        size = (looks[0].frame.width_px, looks[0].frame.height_px)
        flags = cv2.CALIB_FIX_ASPECT_RATIO | cv2.CALIB_FIX_K3
        start = np.array([[0.8 * size[0], 0, size[0] / 2], [0, 0.8 * size[0], size[1] / 2], [0, 0, 1]])
        _, matrix, bends, _, _ = cv2.calibrateCamera(
            printed, seen, size, start, None, flags=flags | cv2.CALIB_USE_INTRINSIC_GUESS
        )  # fmt: skip
        covariance = np.array(lens.covariance)
        self.assertLess(abs(lens.known[0] - math.log(matrix[0, 0] / size[0])), 4 * math.sqrt(covariance[0, 0]))
        # Where both put what is seen half-way and all the way out, along the longer side.
        half = looks[0].frame.half_diagonal_px
        for share in (0.4, 0.8):
            at = np.array([[[matrix[0, 2] + share * half, matrix[1, 2]]]])
            theirs = cv2.undistortPoints(at, matrix, bends, P=matrix)[0, 0, 0] - matrix[0, 2]
            ours = half * share * (1 + lens.known[1] * share**2 + lens.known[2] * share**4)
            terms = np.array([share**3, share**5])
            off = half * math.sqrt(float(terms @ covariance[1:, 1:] @ terms))
            self.assertLess(abs(ours - theirs), 4 * off + 0.5, share)
