"""Pictures as they come in: looked at in a process of their own, bad ones named, good ones stripped and made small."""

from __future__ import annotations

import io
import unittest
from functools import lru_cache
from typing import Any

import numpy as np
from PIL import Image

from camera.found import packed, unpacked
from camera.picture_file import WORKING_PX, found_in
from camera.scenes import Camera, Patch, Spoilt, card_patch, plain, render
from girder_core.ground import GirderError
from girder_core.photo import Hidden, cards, judged, notes_on, taken_as_it_is

X, Y = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
CARD = cards(9)[0]
CAMERA = Camera((0.12, 0.2, 0.9), (0.03, 0.02, 0.0), 1600, 1200, 1350.0, -0.05, 0.004)
AT = (0.0, 0.0, 0.0)


@lru_cache
def good() -> Any:
    return render(CAMERA, [card_patch(CARD, AT, X, Y)], 1)


def jpeg(picture: Any, **more: Any) -> bytes:
    data = io.BytesIO()
    Image.fromarray(picture).save(data, "JPEG", quality=90, **more)
    return data.getvalue()


def said_of(data: bytes) -> str:
    """Why a picture is refused, as a code."""
    try:
        look = found_in(data, []).look
        judged(look)
        taken_as_it_is(look)
    except GirderError as refused:
        return refused.code
    return "good"


class Named(unittest.TestCase):
    def spoilt(self, spoilt: Spoilt, *patches: Patch, camera: Camera = CAMERA) -> str:
        return said_of(jpeg(render(camera, patches or [card_patch(CARD, AT, X, Y)], 3, spoilt)))

    def test_a_good_one(self) -> None:
        found = found_in(jpeg(good()), [])
        self.assertEqual(len(found.look.marks), len(CARD.marks))
        self.assertEqual(notes_on(found.look, judged(found.look)), ())

    def test_no_card(self) -> None:
        self.assertEqual(
            self.spoilt(Spoilt(), Patch(AT, X, Y, (-0.1, -0.1, 0.1, 0.1), plain(0.2, 0.2, 0.2))), "no_card"
        )

    def test_night(self) -> None:
        self.assertEqual(self.spoilt(Spoilt(light=0.01, noise=5.0)), "picture_dark")

    def test_out_of_focus_and_shaken(self) -> None:
        self.assertEqual(self.spoilt(Spoilt(blur_px=7.0)), "picture_blurred")
        self.assertEqual(self.spoilt(Spoilt(shake_px=17.0)), "picture_blurred")

    def test_mirrored(self) -> None:
        self.assertEqual(said_of(jpeg(np.ascontiguousarray(good()[:, ::-1]))), "picture_mirrored")

    def test_two_hundred_pixels_and_a_panorama(self) -> None:
        self.assertEqual(said_of(jpeg(np.asarray(Image.fromarray(good()).resize((200, 150))))), "picture_small")
        self.assertEqual(said_of(jpeg(np.asarray(Image.fromarray(good()).resize((3000, 900))))), "picture_panorama")

    def test_forty_megapixels_are_made_smaller_while_they_are_read(self) -> None:
        found = found_in(jpeg(np.asarray(Image.fromarray(good()).resize((7304, 5478)))), [])
        self.assertLessEqual(found.look.frame.width_px, WORKING_PX)
        judged(found.look)

    def test_two_sets_and_one_card_twice(self) -> None:
        own, other = card_patch(CARD, AT, X, Y), card_patch(cards(10)[2], (0.2, 0.05, 0.0), X, Y)
        self.assertEqual(self.spoilt(Spoilt(), own, other), "two_sets")
        self.assertEqual(self.spoilt(Spoilt(), own, card_patch(CARD, (0.24, 0.0, 0.0), X, Y)), "card_twice")

    def test_a_screen(self) -> None:
        paper = card_patch(CARD, AT, X, Y)

        def dots(x: Any, y: Any) -> Any:
            colour, there = paper.paint(x, y)
            lit = ((x / 0.25e-3) % 1 < 0.7) * ((y / 0.25e-3) % 1 < 0.8)
            return colour * (0.55 + 0.45 * lit)[:, None], there

        self.assertEqual(self.spoilt(Spoilt(), Patch(AT, X, Y, paper.box, dots)), "picture_of_screen")

    def test_half_a_card_says_what_is_missing(self) -> None:
        aside = Camera((0.12, 0.2, 0.9), (0.03, 0.32, 0.0), 1600, 1200, 1350.0)
        found = found_in(jpeg(render(aside, [card_patch(CARD, AT, X, Y)], 3)), [])
        self.assertIn(Hidden.CUT, found.look.hidden.values())
        self.assertIn("beyond the edge", notes_on(found.look, judged(found.look))[0])

    def test_a_glare_and_a_thumb(self) -> None:
        glare = render(CAMERA, [card_patch(CARD, AT, X, Y)], 3, Spoilt(glare=(0.405, 0.385, 0.05)))
        found = found_in(jpeg(glare), [])
        self.assertEqual(set(found.look.hidden.values()), {Hidden.GLARE})
        thumb = Patch((0.05, 0.07, 0.02), X, Y, (0.0, 0.0, 0.06, 0.06), plain(0.7, 0.5, 0.4))
        found = found_in(jpeg(render(CAMERA, [card_patch(CARD, AT, X, Y), thumb], 3)), [])
        self.assertEqual(set(found.look.hidden.values()), {Hidden.COVERED})

    def test_no_picture(self) -> None:
        for data in (b"", b"GIF89a", b"\xff\xd8\xff\xe0" + b"\0" * 500):
            self.assertEqual(said_of(data), "bad_photo")


class Kept(unittest.TestCase):
    def exif(self, orientation: int = 1) -> Image.Exif:
        exif = Image.Exif()
        exif[0x0112] = orientation
        exif.get_ifd(0x8769).update({0x9003: "2026:03:03 10:15:00", 0xA405: 29})
        exif.get_ifd(0x8825).update({1: "N", 2: (60.0, 9.0, 0.0)})
        return exif

    def test_what_a_camera_writes_is_used_and_not_kept(self) -> None:
        found = found_in(jpeg(good(), exif=self.exif()), [])
        self.assertEqual(str(found.taken), "2026-03-03")
        # 29 mm on film of 36 × 24 mm, whose diagonal is 43.27 mm.
        self.assertAlmostEqual(found.look.frame.focal_px or 0.0, 29 / 43.267 * 2000.0, delta=1.0)
        with Image.open(io.BytesIO(found.small)) as small:
            self.assertEqual(dict(small.getexif()), {})
            self.assertEqual(small.size, (found.width, found.height))

    def test_a_picture_that_was_cut_has_another_focal_length_than_its_camera_says(self) -> None:
        exif = self.exif()
        for width, told in ((1600, True), (4000, False)):
            exif.get_ifd(0x8769)[0xA002] = width
            focal = found_in(jpeg(good(), exif=exif), []).look.frame.focal_px
            self.assertEqual(focal is not None, told)

    def test_a_picture_that_was_taken_upright_is_measured_upright(self) -> None:
        turned = np.ascontiguousarray(np.rot90(good()))
        frame = found_in(jpeg(turned, exif=self.exif(6)), []).look.frame
        self.assertEqual((frame.width_px, frame.height_px), (1600, 1200))

    def test_what_was_pointed_at_is_drawn_into_it(self) -> None:
        kept = [found_in(jpeg(good()), points).small for points in ([], [[[200.0, 300.0], [1200.0, 300.0]]])]
        bare, drawn = (np.asarray(Image.open(io.BytesIO(data)).convert("RGB"), dtype=int) for data in kept)
        moved = np.abs(drawn - bare).sum(axis=2) > 90
        self.assertTrue(moved[300, 250:1150].mean() > 0.95)
        self.assertLess(moved[600:].mean(), 0.01)

    def test_each_outline_of_an_area_is_drawn_round_to_where_it_began(self) -> None:
        square = [[200.0, 300.0], [1200.0, 300.0], [1200.0, 900.0], [200.0, 900.0], [200.0, 300.0]]
        hole = [[600.0, 500.0], [700.0, 500.0], [650.0, 600.0], [600.0, 500.0]]
        kept = [found_in(jpeg(good()), lines).small for lines in ([], [square, hole])]
        bare, drawn = (np.asarray(Image.open(io.BytesIO(data)).convert("RGB"), dtype=int) for data in kept)
        moved = np.abs(drawn - bare).sum(axis=2) > 60
        self.assertTrue(moved[350:850, 200].mean() > 0.9)
        self.assertTrue(moved[500, 610:690].mean() > 0.9)
        # No line leads from the one to the other.
        self.assertLess(moved[320:480, 300:560].mean(), 0.01)

    def test_it_comes_back_from_its_process_as_it_was(self) -> None:
        found = found_in(jpeg(good(), exif=self.exif()), [])
        self.assertEqual(unpacked(packed(found)), found)
