"""Readings from pictures through the API: looked at, worked out while points move, taken like any other reading."""

from __future__ import annotations

import io
import json
import uuid
from dataclasses import asdict
from datetime import timedelta
from functools import lru_cache
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.utils import timezone
from PIL import Image

from camera.models import CardSet
from camera.picture_file import found_in
from camera.selectors import sets_of
from camera.standins import GAP_M, MAST_M, STANDINS, made
from designs.models import MEASURED, Photo, Reading
from girder_core.measure import outline
from people.models import HELPER, OBSERVER, Colleague
from people.tests.support import Api, folder_for_photographs, run, teacher
from runs.deed_selectors import deeds_of

SET = 7
ENDS = STANDINS["gangway"].ends["gap"]


@lru_cache
def gangway() -> bytes:
    """The made-up gangway, worked out once for all tests."""
    return made("gangway", SET)


@lru_cache
def found() -> dict[str, Any]:
    """The marks in it, as the browser hands them back."""
    look = found_in(gangway(), []).look
    return {
        "frame": asdict(look.frame), "marks": [{"id": mark.id, "corners": mark.corners} for mark in look.marks],
    }  # fmt: skip


def pixels(key: str = "gangway", *points: tuple[float, float, float]) -> list[list[float]]:
    """Where places of a made-up picture are in it."""
    shown = STANDINS[key].camera.pixels(np.array(points or ENDS))
    return [[float(x), float(y)] for x, y in shown]


class Pictured(TestCase):
    def setUp(self) -> None:
        folder_for_photographs(self)
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)
        self.design = self.run_.designs.all()[0]
        CardSet.objects.create(owner=self.ada, number=SET, bar_text="100 mm", step_text="0.5 mm", scale=1.0,
                               scale_uncertainty=0.0005)  # fmt: skip

    def post(self, what: str, data: bytes, api: Api | None = None, **typed: Any) -> tuple[int, Any]:
        body = {"photo": SimpleUploadedFile("a.jpg", data), **typed}
        answer = (api or self.api).client.post(f"/api/designs/{self.design.pk}/{what}", body)
        return answer.status_code, answer.json()

    def take(
        self, data: bytes | None = None, points: Any = None, api: Api | None = None, **typed: Any
    ) -> tuple[int, Any]:
        pointed = {"key": "gap", "points": points or pixels()}
        return self.post("photo-readings", data or gangway(), api, pointed=json.dumps(pointed), **typed)

    def look(self) -> Any:
        status, look = self.post("picture", gangway(), key="gap")
        assert status == 200, look
        return look


class Looked(Pictured):
    def test_what_is_found_and_where_the_ends_may_be(self) -> None:
        look = self.look()
        self.assertEqual({card["key"] for card in look["cards"]}, {"left", "right"})
        self.assertEqual((look["set_number"], look["bar_measured"], look["notes"]), (SET, True, []))
        self.assertGreater(len(look["grid"]), 4)
        # The proposed ends are the supports' inner edges: as far apart as they are.
        (left, _), (right, _) = look["ends"]
        for x, true in ((left, pixels()[0][0]), (right, pixels()[1][0])):
            self.assertLess(abs(x - true), 40)
        self.assertEqual(Photo.objects.count() + Reading.objects.count(), 0)

    def test_what_cannot_be_measured_in_is_said_at_the_picture(self) -> None:
        for data, code in (
            (b"nothing", "bad_photo"),
            (gangway()[:4000], "bad_photo"),
            (self.small(gangway()), "picture_small"),
        ):
            status, answer = self.post("picture", data, key="gap")
            self.assertEqual((status, answer["code"]), (400, code))
            self.assertTrue(answer["fields"]["photo"])
        status, answer = self.post("picture", gangway(), key="self_mass")
        self.assertEqual((status, answer["code"]), (400, "not_pictured"))
        self.assertEqual(self.post("picture", gangway(), key="nothing")[1]["code"], "unknown_reading")

    def small(self, data: bytes) -> bytes:
        small = io.BytesIO()
        Image.open(io.BytesIO(data)).resize((200, 150)).save(small, "JPEG")
        return small.getvalue()

    def test_a_picture_of_another_day_is_asked_about(self) -> None:
        exif = Image.Exif()
        day = timezone.localdate() - timedelta(days=1)
        exif.get_ifd(0x8769)[0x9003] = f"{day:%Y:%m:%d} 10:15:00"
        old = io.BytesIO()
        Image.open(io.BytesIO(gangway())).save(old, "JPEG", exif=exif, quality=90)
        status, answer = self.post("picture", old.getvalue(), key="gap")
        self.assertEqual((status, answer["code"], answer["confirm"]), (422, "picture_old", True))
        self.assertEqual(self.post("picture", old.getvalue(), key="gap", confirmed="true")[0], 200)
        # Where the teacher is it may be another day than where the server is.
        self.assertEqual(self.post("picture", old.getvalue(), key="gap", today=day.isoformat())[0], 200)
        # That the size is right says nothing of the picture.
        self.assertEqual(self.take(old.getvalue(), confirmed="true")[1]["code"], "picture_old")
        self.assertEqual(Reading.objects.count(), 0)
        self.assertEqual(self.take(old.getvalue(), picture_confirmed="true")[0], 201)


class Worked(Pictured):
    def size(self, **typed: Any) -> Any:
        body = {"key": "gap", "points": pixels(), **found(), **typed}
        return self.api.call("POST", f"designs/{self.design.pk}/picture-size", body)

    def test_the_size_of_what_is_pointed_at(self) -> None:
        status, size = self.size()
        self.assertEqual(status, 200, size)
        self.assertLess(abs(size["value_si"] - GAP_M), size["expanded_uncertainty_si"])
        self.assertLess(size["expanded_uncertainty_si"], 0.004)
        self.assertRegex(size["doubt"], r"^Known to ± [\d.]+ mm, mostly by .*\.$")
        self.assertRegex(size["better"], r"alone it would be ± [\d.]+ mm")
        self.assertEqual(sorted(size["causes"], key=lambda cause: -cause["expanded_uncertainty_si"]), size["causes"])

    def test_a_set_that_nobody_measured_is_known_less_well(self) -> None:
        before = self.size()[1]["expanded_uncertainty_si"]
        CardSet.objects.all().delete()
        size = self.size()[1]
        self.assertGreater(size["expanded_uncertainty_si"], 3 * before)
        self.assertIn(f"Measure the bar of set {SET} once", size["doubt"])

    def test_a_colleague_s_own_cards_count_as_she_measured_them(self) -> None:
        bea = teacher("Bea")
        Colleague.objects.create(school_class=self.run_.school_class, teacher=bea, part=HELPER)
        body = {"key": "gap", "points": pixels(), **found()}
        address = f"designs/{self.design.pk}/picture-size"
        # Without a word of hers the class's teacher's holds.
        before = Api(bea).send("POST", address, body)["value_si"]
        Api(bea).send("PUT", f"card-sets/{SET}", {"bar_text": "98 mm"})
        self.assertAlmostEqual(Api(bea).send("POST", address, body)["value_si"] / before, 0.98, places=4)
        self.assertAlmostEqual(self.api.send("POST", address, body)["value_si"] / before, 1.0, places=6)

    def test_what_lies_before_the_cards_is_smaller_than_it_looks(self) -> None:
        level, near, behind = (
            self.size(**where)[1]["value_si"]
            for where in ({}, {"before_text": "3 cm", "within_text": "2 mm"}, {"before_text": "-3 cm"})
        )
        # The camera is some 0.9 m away: 3 cm of that are 3 %.
        self.assertAlmostEqual(near / level, 1 - 0.03 / 0.9, delta=0.006)
        self.assertGreater(behind, level)

    def test_refusals_stand_at_their_fields(self) -> None:
        status, answer = self.size(before_text="3 apples")
        self.assertEqual(status, 400)
        self.assertIn("before_text", answer["fields"])
        self.assertEqual(self.size(points=[[1.0, 1.0]])[1]["code"], "too_few_points")
        self.assertEqual(self.size(marks=[])[0], 400)


class Taken(Pictured):
    def test_it_is_a_reading_like_any_other_with_its_picture(self) -> None:
        status, design = self.take()
        self.assertEqual(status, 201, design)
        (reading,) = design["readings"]
        self.assertTrue(reading["photographed"])
        self.assertLess(abs(reading["value_si"] - GAP_M), reading["expanded_uncertainty_si"])
        (photo,) = design["photos"]
        self.assertEqual(photo["what"], MEASURED)
        self.assertRegex(photo["caption"], r"^Clear gap: 31[78](\.\d+)? mm ± [\d.]+ mm$")
        kept = Reading.objects.get()
        self.assertAlmostEqual(sum(part**2 for part in kept.causes.values()) ** 0.5, kept.standard_uncertainty_si)
        # Why: how it was measured, how far off, and by what.
        why = self.api.get(f"runs/{self.run_.pk}/why?figure=reading&of={self.design.pk}.gap")
        self.assertEqual(why["how"], "measured in a photo")
        self.assertIn("by how well", why["note"])

    def test_a_limit_is_held_against_it(self) -> None:
        status, design = self.take(points=pixels("gangway", (-0.05, 0.1, 0.0), (0.05, 0.1, 0.0)), confirmed="true")
        self.assertEqual(status, 201, design)
        self.assertIn("breached", {limit["status"] for limit in design["constraints"] if limit["key"] == "gap"})

    def test_what_is_unlikely_is_asked_about(self) -> None:
        points = pixels("gangway", (-0.004, 0.1, 0.0), (0.004, 0.1, 0.0))
        status, answer = self.take(points=points)
        self.assertEqual((status, answer["code"]), (422, "unlikely_reading"))
        self.assertEqual(Photo.objects.count(), 0)
        self.assertEqual(self.take(points=points, confirmed="true")[0], 201)

    def test_again_they_count_together_and_sent_twice_it_is_one(self) -> None:
        name = str(uuid.uuid4())
        for _ in range(2):
            self.assertEqual(self.take(sent_as=name)[0], 201)
        self.assertEqual((Reading.objects.count(), Photo.objects.count()), (1, 1))
        x, y = pixels()[1]
        status, design = self.take(points=[pixels()[0], [x + 3, y]], again="true")
        self.assertEqual(status, 201)
        self.assertEqual(len(design["readings"][0]["repeats"]), 1)

    def test_who_may(self) -> None:
        for part, status in ((OBSERVER, 403), (HELPER, 201)):
            other = teacher(part)
            Colleague.objects.create(school_class=self.run_.school_class, teacher=other, part=part)
            self.assertEqual(self.take(api=Api(other))[0], status)
        self.assertEqual(self.take(api=Api(teacher("Eve")))[0], 404)
        # Whoever looks on later sees who took it.
        deed = deeds_of(self.run_.school_class)[0]
        self.assertEqual((deed["name"], deed["words"]), (HELPER, "took a reading in a picture"))
        self.assertEqual(Reading.objects.count(), 1)

    def test_evidence_has_room_of_its_own_beside_photographs(self) -> None:
        for _ in range(6):
            Photo.objects.create(design=self.design, file="x", width=1, height=1)
        self.assertEqual(self.take()[0], 201)
        Photo.objects.bulk_create(
            Photo(design=self.design, file="x", width=1, height=1, what=MEASURED) for _ in range(11)
        )
        status, answer = self.take()
        self.assertEqual((status, answer["code"]), (400, "too_many_photos"))
        # And no reading without its picture.
        self.assertEqual(Reading.objects.count(), 1)

    def test_it_goes_through_a_file_and_comes_back(self) -> None:
        self.take()
        reading, photo = Reading.objects.get(), Photo.objects.get()
        text = self.api.client.get(f"/api/runs/{self.run_.pk}/run.json").content.decode()
        other = self.api.send("POST", "runs/import", {"text": text})["run"]
        again = Reading.objects.get(design__run=other)
        self.assertEqual((again.causes, again.value_si), (reading.causes, reading.value_si))
        self.assertEqual(Photo.objects.get(design__run=other).caption, photo.caption)


class Cards(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)

    def test_a_teacher_has_sets_of_her_own_numbers(self) -> None:
        mine, theirs = (Api(one).get("card-sets") for one in (self.ada, teacher("Bea")))
        self.assertFalse({row["number"] for row in mine} & {row["number"] for row in theirs})
        self.assertFalse(any(row["measured"] for row in mine))

    def test_a_bar_is_measured_once_and_kept(self) -> None:
        number = sets_of(self.ada)[0].number
        for bar, scale in (("97.5 mm", 0.975), ("98 mm", 0.98), ("3 7/8 in", 3.875 * 0.254)):
            rows = self.api.send("PUT", f"card-sets/{number}", {"bar_text": bar})
            (row,) = [row for row in rows if row["number"] == number]
            self.assertTrue(row["measured"])
            self.assertAlmostEqual(row["scale"], scale)
        # Without a unit millimetres are meant, and said.
        rows = self.api.send("PUT", f"card-sets/{number}", {"bar_text": "99.5"})
        self.assertIn("99.5 mm", [row["bar_text"] for row in rows])
        self.assertEqual(CardSet.objects.count(), 1)

    def test_a_slip_is_refused_at_the_field(self) -> None:
        for number, bar, code in ((1, "10 cm 3", None), (1, "12 cm", "bar_unlikely"), (0, "100 mm", "unknown_set"),
                                  (99, "100 mm", "unknown_set")):  # fmt: skip
            status, answer = self.api.refused("PUT", f"card-sets/{number}", {"bar_text": bar})
            self.assertEqual(status, 400)
            if code:
                self.assertEqual(answer["code"], code)
        self.assertEqual(CardSet.objects.count(), 0)


class StandIns(TestCase):
    def test_they_are_drawn_for_a_set_and_say_what_is_true(self) -> None:
        self.assertAlmostEqual(STANDINS["mast"].true["height"], MAST_M)
        for shown in STANDINS.values():
            for key, ends in shown.ends.items():
                if len(ends) == 2:
                    self.assertAlmostEqual(float(np.linalg.norm(np.subtract(ends[0], ends[1]))), shown.true[key])
                    continue
                # An area, as somebody would type its corners: once round what stands, less the hole in it.
                parts = np.split(np.array(ends)[:, :2] + 1.0, np.cumsum(shown.outlines)[:-1])
                typed = ["corners " + ", ".join(f"{x:.4f} {y:.4f}" for x, y in part) + " m" for part in parts]
                around, *holes = (outline(text, 0.001).area.value for text in typed)
                self.assertAlmostEqual(around - sum(holes), shown.true[key])
        answer = Api(teacher()).client.get("/api/stand-in-pictures/mast?set=3")
        self.assertEqual(answer.headers["Content-Type"], "image/jpeg")
        with Image.open(io.BytesIO(answer.content)) as picture:
            self.assertEqual(picture.size, (2000, 1500))

    def test_there_is_no_other(self) -> None:
        api = Api(teacher())
        self.assertEqual(api.call("GET", "stand-in-pictures/ship")[0], 404)
        for number in ("0", "37", "x", "9" * 30):
            self.assertEqual(api.refused("GET", f"stand-in-pictures/mast?set={number}")[1]["code"], "unknown_set")
