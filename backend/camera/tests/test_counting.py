"""Loose pieces in made-up pictures with known truth: how many are found, and what has no business among them."""

import unittest

import numpy as np
from numpy.typing import NDArray

from camera.counting import loose_in
from camera.scenes import Camera, card_patch, render
from camera.tests.spread import KINDS, Lying, Sheet, missed_and_extra, photographed, scattered, unsaid
from girder_core.ground import GirderError
from girder_core.photo import Doubt, cards, counted_in, sheet_told
from girder_core.tests import tries

CLEAR = Sheet()


def on(sheet: Sheet, kind: str, seed: int, count: int = 30, r: tuple[float, float] = (20, 20), touching: float = 0.4,
       ) -> tuple[NDArray[np.uint8], list[Lying]]:  # fmt: skip
    chance = np.random.default_rng(seed)
    lying = scattered(chance, count, r, touching, sheet)
    return photographed(chance, kind, lying, sheet), lying


class Found(unittest.TestCase):
    def test_all_kinds_in_all_light_and_no_mistake_that_is_not_asked_about(self) -> None:
        """A claim of docs/photo.md: of a thousand pieces at most one has no dot, of a thousand dots one is wrong, and
        what is wrong is asked about."""
        every = missed = extra = 0
        for i in range(tries(2)):
            for kind in KINDS:
                chance = np.random.default_rng([i, len(kind)])
                sheet = Sheet(
                    shadow=chance.uniform(0.1, 0.5), uneven=chance.uniform(0, 0.5), noise=chance.uniform(1, 7),
                    blur=chance.uniform(0.5, 1.6),
                )  # fmt: skip
                r = chance.uniform(12, 32)
                lying = scattered(chance, int(chance.integers(5, 50)), (r, r), chance.uniform(0, 0.8), sheet)
                pieces = loose_in(photographed(chance, kind, lying, sheet)).pieces
                gone, more = missed_and_extra(pieces, lying)
                every, missed, extra = every + len(lying), missed + gone, extra + more
                self.assertEqual(unsaid(pieces, lying), 0, (i, kind))
        self.assertGreater(every, 200)
        self.assertLessEqual(missed, 0.001 * every + 1)
        self.assertLessEqual(extra, 0.001 * every + 1)

    def test_on_dark_and_on_coloured_sheets_and_of_several_sizes(self) -> None:
        for name, sheet, r in (
            ("dark", Sheet(colour=(0.15, 0.16, 0.2), shadow=0.1), (20, 20)), ("blue", Sheet(colour=(0.3, 0.5, 0.75)),
            (20, 20)), ("sizes", CLEAR, (15, 24)),
        ):  # fmt: skip
            for kind in ("coin", "nut"):
                with self.subTest(name=name, kind=kind):
                    picture, lying = on(sheet, kind, 3, r=r)
                    self.assertEqual(missed_and_extra(loose_in(picture).pieces, lying), (0, 0))

    def test_few_are_counted_as_surely(self) -> None:
        for count in (1, 2, 4):
            picture, lying = on(CLEAR, "washer", count, count)
            self.assertEqual(missed_and_extra(loose_in(picture).pieces, lying), (0, 0), count)

    def test_small_blocks_are_no_round_things(self) -> None:
        picture, lying = on(CLEAR, "block", 5, r=(14, 14))
        pieces = loose_in(picture).pieces
        self.assertEqual((missed_and_extra(pieces, lying), unsaid(pieces, lying)), ((0, 0), 0))

    def test_nuts_in_a_heap_whose_rims_are_those_of_their_holes(self) -> None:
        picture, lying = on(Sheet(noise=1.5), "nut", 26, 40, (26, 26), 0.95)
        pieces = loose_in(picture).pieces
        gone, more = missed_and_extra(pieces, lying)
        self.assertEqual((gone, unsaid(pieces, lying)), (0, 0))
        self.assertLessEqual(more, 1)

    def test_pale_ones_between_others_are_not_left_out(self) -> None:
        """A washer as grey as the sheet in a row of dark ones: its rim is all there is of it."""
        for i in range(tries(4)):
            chance = np.random.default_rng([i, 9])
            picture, lying = on(Sheet(noise=7, blur=1.5), "washer", int(chance.integers(999)), 30, (15, 15), 0.8)
            with self.subTest(i=i):
                self.assertEqual(unsaid(loose_in(picture).pieces, lying), 0)

    def test_blocks_side_to_side_are_as_many_as_they_are_large_and_are_asked_about(self) -> None:
        chance = np.random.default_rng(3)
        picture = np.clip(np.array((228, 226, 219)) + chance.normal(0, 3, (900, 1200, 3)), 0, 255).astype(np.uint8)
        # Ten by themselves, three in a row, and two.
        corners = [(100 + 90 * i, 100) for i in range(10)] + [(300 + 40 * i, 400) for i in range(3)]
        corners += [(700, 500), (700, 540)]
        for x, y in corners:
            picture[y : y + 40, x : x + 40] = np.clip(
                np.array((150, 90, 50)) + chance.normal(0, 4, (40, 40, 3)), 0, 255
            )
        pieces = loose_in(picture).pieces
        self.assertEqual(missed_and_extra(pieces, [(x + 19.5, y + 19.5, 20.0) for x, y in corners]), (0, 0))
        self.assertEqual([one.doubt for one in pieces if one.y < 200], [None] * 10)
        self.assertEqual([one.doubt for one in pieces if one.y > 200], [Doubt.OVER] * 5)

    def test_a_hand_among_blocks_is_asked_about_and_not_counted_out(self) -> None:
        picture = np.full((900, 1200, 3), (228, 226, 219), np.uint8)
        for i in range(10):
            picture[100:140, 100 + 90 * i : 140 + 90 * i] = (150, 90, 50)
        picture[400:640, 400:700] = (210, 160, 130)
        pieces = loose_in(picture).pieces
        self.assertEqual([one.doubt for one in pieces if one.y < 200], [None] * 10)
        self.assertEqual([one.doubt for one in pieces if one.y > 200], [Doubt.OVER])

    def test_a_hand_among_coins_is_one_place_to_look_at(self) -> None:
        picture, lying = on(CLEAR, "coin", 3)
        picture[400:640, 400:700] = (210, 160, 130)
        beside = [one for one in lying if not (350 < one[0] < 750 and 350 < one[1] < 690)]
        pieces = loose_in(picture).pieces
        in_it = [one for one in pieces if 400 <= one.x < 700 and 400 <= one.y < 640]
        self.assertEqual([one.doubt for one in in_it], [Doubt.OVER])
        self.assertEqual(missed_and_extra(tuple(one for one in pieces if one not in in_it), beside)[0], 0)

    def test_six_coins_round_a_gap_are_six(self) -> None:
        # The room that six coins leave between them is as large as a seventh.
        ring = [(600 + 60 * np.cos(a), 450 + 60 * np.sin(a), 30.0) for a in np.arange(6) * np.pi / 3]
        picture = photographed(np.random.default_rng(1), "coin", ring, CLEAR)
        self.assertEqual(len(loose_in(picture).pieces), 6)


class Ground(unittest.TestCase):
    def test_nothing_is_nothing(self) -> None:
        picture, _ = on(CLEAR, "coin", 1, 0)
        spread = loose_in(picture)
        self.assertEqual(spread.pieces, ())
        with self.assertRaises(GirderError) as caught:
            counted_in(spread)
        self.assertEqual(caught.exception.code, "nothing_loose")

    def test_only_what_lies_on_the_sheet_counts(self) -> None:
        small = Sheet(800, 600)
        picture, lying = on(small, "coin", 5, 20, (16, 16))
        chance = np.random.default_rng(2)
        table = np.clip(np.array((110, 85, 60)) + chance.normal(0, 4, (900, 1200, 3)), 0, 255).astype(np.uint8)
        # Coins beside it are none of them.
        beside, _ = on(Sheet(1200, 140, colour=(0.43, 0.33, 0.24)), "coin", 6, 8, (16, 16))
        table[:140] = beside
        table[200:800, 250:1050] = picture
        moved = [(x + 250, y + 200, r) for x, y, r in lying]
        spread = loose_in(table)
        self.assertEqual(missed_and_extra(spread.pieces, moved), (0, 0))
        self.assertAlmostEqual(spread.sheet, 800 * 600 / (1200 * 900), delta=0.03)

    def test_a_ruled_sheet_is_counted_on_and_said_to_be_ruled(self) -> None:
        for kind in ("coin", "block"):
            picture, lying = on(CLEAR, kind, 4)
            for row in range(60, 900, 90):
                picture[row] = (0.75 * picture[row]).astype(np.uint8)
            spread = loose_in(picture)
            with self.subTest(kind=kind):
                self.assertEqual(unsaid(spread.pieces, lying), 0)
                self.assertIn("lines", " ".join(sheet_told(spread)))

    def test_a_shadow_across_the_sheet_is_said(self) -> None:
        """Whoever stands between the window and the table: soft or sharp, its edge anywhere."""
        for i in range(tries(6)):
            chance = np.random.default_rng([i, 4])
            picture, _ = on(CLEAR, ("coin", "nut", "marble", "block")[i % 4], 10 + i)
            edge = 1 / (1 + np.exp((chance.uniform(250, 950) - np.arange(1200)) / chance.uniform(4, 50)))
            shaded = (picture * (1 - chance.uniform(0.25, 0.5) * edge)[None, :, None]).astype(np.uint8)
            with self.subTest(i=i):
                self.assertEqual(sheet_told(loose_in(picture)), ())
                self.assertIn("shadow", " ".join(sheet_told(loose_in(shaded))))

    def test_a_scale_card_that_lies_there_is_not_counted(self) -> None:
        camera = Camera((0.0, 0.0, 0.6), (0.0, 0.0, 0.0), 1200, 900, 1000.0)
        card = card_patch(cards(5)[2], (0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        picture = render(camera, [card], 1, ground=(0.9, 0.89, 0.86), rays=2)
        hidden = np.zeros(picture.shape[:2], np.uint8)
        x0, y0, x1, y1 = card.box
        rim = camera.pixels(np.array([card.at(x, y) for x, y in ((x0, y0), (x1, y1))]))
        (left, bottom), (right, top) = np.rint(rim).astype(int)
        hidden[top - 2 : bottom + 3, left - 2 : right + 3] = 1
        self.assertNotEqual(loose_in(picture).pieces, ())
        self.assertEqual(loose_in(picture, hidden).pieces, ())

    def test_one_cut_by_the_rim_of_the_picture_has_to_be_looked_at(self) -> None:
        lying = [(600.0, 450.0, 30.0), (400.0, 300.0, 30.0), (800.0, 300.0, 30.0), (8.0, 600.0, 30.0)]
        picture = photographed(np.random.default_rng(4), "washer", lying[:3], CLEAR)
        wide = photographed(np.random.default_rng(4), "washer", [(68.0, 600.0, 30.0)], CLEAR)
        picture[:, :60] = wide[:, 60:120]
        doubts = {round(one.x / 100): one.doubt for one in loose_in(picture).pieces}
        self.assertEqual(len(doubts), 4)
        self.assertIsNotNone(doubts[0])
