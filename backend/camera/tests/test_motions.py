"""Following a point at the bench, through the API: the first picture, a later one, what is kept, what is refused."""

from __future__ import annotations

import io
import json
from functools import lru_cache
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from bench.models import Trial
from camera.models import CardSet
from camera.standins import SAG_M, STANDINS, made
from camera.tests.test_readings import SET, Pictured, gangway
from designs.models import LAST, Photo
from people.models import HELPER, OBSERVER, Colleague
from people.tests.support import Api, Ledger, checked_in, teacher

DOT = (0.0, 0.17, 0.001)


@lru_cache
def loaded() -> bytes:
    """The made-up gangway under a load, from a tablet that somebody touched in between."""
    return made("gangway-loaded", SET)


def dot() -> list[float]:
    x, y = STANDINS["gangway"].camera.pixels(np.array([DOT]))[0]
    return [float(x), float(y)]


class Bench(Pictured):
    def setUp(self) -> None:
        super().setUp()
        checked_in(self.design)
        self.ledger = Ledger(self.api, self.design)

    def follow(
        self, now: bytes | None = None, first: bytes | None = None, api: Api | None = None, trial: str = "",
        pointed: dict[str, Any] | None = None, **typed: Any,
    ) -> tuple[int, Any]:  # fmt: skip
        asked = {"key": "sag", "points": [dot()], **(pointed or {})}
        body = {
            "first": SimpleUploadedFile("a.jpg", first or gangway()),
            "now": SimpleUploadedFile("b.jpg", now or loaded()), "pointed": json.dumps(asked), **typed,
        }  # fmt: skip
        address = f"/api/trials/{trial or self.ledger.id}/follow"
        answer = (api or self.api).client.post(address, body)
        return answer.status_code, answer.json()

    def first(self, data: bytes | None = None, **typed: Any) -> tuple[int, Any]:
        body = {"photo": SimpleUploadedFile("a.jpg", data or gangway()), "key": "sag", **typed}
        answer = self.api.client.post(f"/api/trials/{self.ledger.id}/first-picture", body)
        return answer.status_code, answer.json()


class Followed(Bench):
    def test_how_far_it_came_down_and_how_sure(self) -> None:
        status, look = self.first()
        self.assertEqual((status, look["set_number"], look["ends"]), (200, SET, []))
        self.ledger.hold("platform")
        status, went = self.follow()
        self.assertEqual(status, 200, went)
        self.assertLess(abs(went["value_si"] - SAG_M), went["expanded_uncertainty_si"])
        self.assertLess(went["expanded_uncertainty_si"], 0.0003)
        self.assertRegex(went["told"], r"^4\.\d+ mm down, ± 0\.\d+ mm$")
        # What the bench would write down says the same: half a step of its reading is the range's share of it.
        answer = self.ledger.add(
            "measure", key="sag", text=went["text"], resolution=went["step_text"], source="picture"
        )
        (taken,) = answer["state"]["result"]["taken"]
        self.assertAlmostEqual(taken["value_si"], went["value_si"], delta=went["expanded_uncertainty_si"] / 4)
        self.assertAlmostEqual(
            2 * taken["standard_uncertainty_si"], went["expanded_uncertainty_si"],
            delta=0.05 * went["expanded_uncertainty_si"],
        )  # fmt: skip
        (chart,) = self.api.get(f"trials/{self.ledger.id}/motions")
        self.assertEqual((chart["key"], len(chart["rows"])), ("sag", 1))

    def test_the_same_picture_twice_is_no_motion(self) -> None:
        went = self.follow(gangway(), keep="false")[1]
        self.assertLess(abs(went["value_si"]), went["expanded_uncertainty_si"])
        self.assertEqual(Photo.objects.count(), 0)

    def test_the_latest_picture_of_a_trial_is_kept_and_no_other(self) -> None:
        self.ledger.hold("platform")
        self.follow(gangway())
        self.ledger.hold("nut", 2)
        self.follow()
        photo = Photo.objects.get()
        self.assertEqual((photo.what, str(photo.sent_as)), (LAST, self.ledger.id))
        self.assertRegex(photo.caption, r"^Trial 1 under [\d.]+ k?g, sag at midspan 4\.\d+ mm down, ± 0\.\d+ mm$")
        with photo.file.open("rb") as kept, Image.open(kept) as picture:
            self.assertLessEqual(max(picture.size), 1600)
        # It is for the report, as those of the wreck are.
        self.assertEqual([one.what for one in self.design.seen_photos()], [LAST])

    def test_a_rehearsal_leaves_nothing(self) -> None:
        trial = Trial.with_rehearsals.get(pk=self.ledger.id)
        Trial.with_rehearsals.filter(pk=trial.pk).update(rehearsal=True)
        self.assertEqual(self.follow()[0], 200)
        self.assertEqual(Photo.objects.count(), 0)

    def test_how_large_the_cards_are_and_where_the_point_is_count(self) -> None:
        level = self.follow()[1]["value_si"]
        near = self.follow(pointed={"before_text": "80 mm", "within_text": "2 mm"})[1]["value_si"]
        # Nearer to the camera the same motion in the picture is a shorter one; the camera is 0.88 m away.
        self.assertAlmostEqual(near / level, 1 - 0.08 / 0.88, delta=0.02)
        CardSet.objects.update(scale=0.97)
        self.assertAlmostEqual(self.follow()[1]["value_si"] / level, 0.97, delta=0.003)


class Refused(Bench):
    def refused(self, code: str, **asked: Any) -> None:
        status, answer = self.follow(**asked)
        self.assertEqual((status, answer["code"]), (400, code), answer)
        self.assertGreater(len(answer["sentence"]), 20)

    def test_what_cannot_be_followed_is_said(self) -> None:
        self.refused("nothing_to_follow", pointed={"points": [[900.0, 200.0]]})
        self.refused("point_at_edge", pointed={"points": [[2.0, 2.0]]})
        self.refused("bad_photo", now=b"nothing")
        self.refused("unknown_measure", pointed={"key": "nothing"})
        self.refused("cards_gone", now=made("mast", SET))
        self.assertEqual(Photo.objects.count(), 0)

    def test_a_picture_of_another_size_is_from_another_camera(self) -> None:
        small = io.BytesIO()
        Image.open(io.BytesIO(loaded())).resize((1600, 1200)).save(small, "JPEG", quality=90)
        self.refused("pictures_differ", now=small.getvalue())

    def test_a_first_picture_is_judged_as_any_other(self) -> None:
        status, answer = self.first(b"nothing")
        self.assertEqual((status, answer["code"]), (400, "bad_photo"))
        self.assertEqual(self.first(key="crown")[1]["code"], "unknown_measure")

    def test_after_the_end_it_is_the_wreck(self) -> None:
        self.ledger.hold("platform")
        self.ledger.add("place", item="nut", count=1)
        self.ledger.add("fail", mode="snap")
        status, answer = self.follow()
        self.assertEqual((status, answer["code"]), (400, "trial_over"))
        self.assertEqual(Photo.objects.count(), 0)

    def test_who_may(self) -> None:
        ben, eve = teacher("Ben"), teacher("Eve")
        group = self.run_.school_class
        Colleague.objects.create(school_class=group, teacher=ben, part=HELPER)
        Colleague.objects.create(school_class=group, teacher=eve, part=OBSERVER)
        self.assertEqual(self.follow(api=Api(ben))[0], 200)
        self.assertEqual(self.follow(api=Api(eve))[0], 403)
        self.assertEqual(self.follow(api=Api(teacher("Mallory")))[0], 404)
