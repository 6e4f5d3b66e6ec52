"""Which spots of a picture are pieces, which have to be looked at, and what cannot be counted."""

import unittest
from dataclasses import replace

from girder_core.ground import GirderError
from girder_core.photo import (
    MOST_PIECES,
    Doubt,
    Piece,
    Spot,
    Spread,
    counted_in,
    doubts_told,
    held_by_area,
    looked_over,
    may_be_one_more,
    sheet_told,
    told_apart,
)

SPOT = Spot(100.0, 100.0, 20.0, 0.9, 0.95)


class ToldApart(unittest.TestCase):
    def test_two_that_touch_are_two_and_one_seen_twice_is_one(self) -> None:
        beside, twice = replace(SPOT, x=140.0, rim=0.8), replace(SPOT, x=106.0, rim=0.6)
        found = told_apart([twice, SPOT, beside], 0.9)
        self.assertEqual([(one.x, one.doubt) for one in found], [(100.0, None), (140.0, None)])

    def test_less_than_half_of_a_rim_or_half_of_one_with_little_beneath_it_is_not_surely_a_piece(self) -> None:
        for spot, usual in (
            (replace(SPOT, rim=0.4), 0.9), (replace(SPOT, rim=0.5, covered=0.3), 0.9), (SPOT, 0.0),
        ):  # fmt: skip
            with self.subTest(spot=spot):
                self.assertEqual(told_apart([spot], usual), ())

    def test_a_faint_rim_is_asked_about_where_a_piece_has_room_and_something_lies(self) -> None:
        # In the gap between three coins most shows the sheet; a nut's hole is within what was found.
        for own, left, may in ((1.0, 0.6, True), (0.5, 1.0, True), (0.5, 0.2, False), (0.1, 1.0, False)):
            self.assertIs(may_be_one_more(own, left), may, (own, left))

    def test_a_pale_or_a_cut_one_is_asked_about(self) -> None:
        pale, cut = replace(SPOT, covered=0.3), replace(SPOT, x=300.0, cut=True)
        self.assertEqual({one.x: one.doubt for one in told_apart([pale, cut], 0.9)}, {100: Doubt.PALE, 300: Doubt.CUT})

    def test_what_counts_in_this_light_is_what_its_own_pieces_show(self) -> None:
        # Nuts show less of a circle than coins do; the same spot counts among nuts.
        nut = replace(SPOT, rim=0.4)
        self.assertEqual([one.doubt for one in told_apart([nut], 0.42)], [None])
        self.assertEqual(told_apart([nut], 0.95), ())


class ByArea(unittest.TestCase):
    def test_what_is_large_enough_for_more_holds_more(self) -> None:
        for share, found, many in ((1.0, 1, 1), (1.4, 1, 1), (2.0, 1, 2), (3.1, 1, 3), (3.1, 2, 3), (1.9, 2, 2)):
            self.assertEqual(held_by_area(share * 400, 400.0, found), many, (share, found))
        # A hand is none of them, however many would have room in it.
        self.assertEqual(held_by_area(40 * 400.0, 400.0, 1), 0)


class LookedOver(unittest.TestCase):
    def test_row_by_row_and_unlike_ones_are_asked_about(self) -> None:
        pieces = [Piece(x, y, 20.0) for y in (300.0, 100.0) for x in (200.0, 100.0)] + [Piece(400.0, 100.0, 9.0)]
        found = looked_over(pieces)
        self.assertEqual([(one.x, one.y) for one in found],
                         [(100, 100), (200, 100), (400, 100), (100, 300), (200, 300)])  # fmt: skip
        self.assertEqual([one.doubt for one in found], [None, None, Doubt.UNLIKE, None, None])
        self.assertEqual(looked_over([]), ())

    def test_one_that_lies_on_another_is_asked_about(self) -> None:
        found = looked_over([Piece(100.0, 100.0, 20.0), Piece(126.0, 100.0, 20.0), Piece(300.0, 100.0, 20.0)])
        self.assertEqual([one.doubt for one in found], [Doubt.OVER, Doubt.OVER, None])
        # A small rim in the gap of three that touch is none of them, however clear.
        three = [Piece(100.0, 100.0, 20.0), Piece(140.0, 100.0, 20.0), Piece(120.0, 134.6, 20.0)]
        found = looked_over([*three, Piece(120.0, 111.5, 12.5), *[Piece(x, 300.0, 20.0) for x in (100.0, 200.0)]])
        self.assertEqual({(one.x, one.y) for one in found if one.doubt is None}, {(100.0, 300.0), (200.0, 300.0)})

    def test_what_has_to_be_looked_at_is_said_as_one_or_as_several(self) -> None:
        one, two = Piece(1.0, 1.0, 5.0, Doubt.CUT), Piece(9.0, 1.0, 5.0, Doubt.PALE)
        self.assertEqual(
            doubts_told([one, two, two, Piece(0.0, 0.0, 5.0)]),
            ("2 hardly stand out from the sheet.", "1 is at the rim of the picture or of the sheet."),
        )
        self.assertEqual(doubts_told([Piece(0.0, 0.0, 5.0)]), ())


class Counted(unittest.TestCase):
    def refused(self, code: str, spread: Spread) -> None:
        with self.subTest(code), self.assertRaises(GirderError) as caught:
            counted_in(spread)
        self.assertEqual(caught.exception.code, code)
        self.assertIn("photo", caught.exception.data["fields"])

    def test_what_spoils_a_sheet_is_said(self) -> None:
        good = Spread(1600, 1200, ())
        self.assertEqual(sheet_told(good), ())
        for spread, word in (
            (replace(good, plain=0.5), "lines"), (replace(good, alike=0.3), "other light"),
            (replace(good, uneven=9.0), "shadow lies across"),
        ):  # fmt: skip
            (said,) = sheet_told(spread)
            self.assertIn(word, said)

    def test_a_picture_that_cannot_be_counted_in_says_why(self) -> None:
        piece = Piece(100.0, 100.0, 20.0)
        good = Spread(1600, 1200, (piece,))
        self.assertEqual(counted_in(good), (piece,))
        self.refused("picture_small", replace(good, wide_px=400, tall_px=300))
        self.refused("picture_dark", replace(good, pieces=(), bright=0.1))
        self.refused("picture_blurred", replace(good, pieces=(), sharp=0.1))
        self.refused("nothing_loose", replace(good, pieces=()))
        self.refused("no_sheet", replace(good, sheet=0.05))
        self.refused("pieces_small", replace(good, pieces=(replace(piece, radius_px=5.0),)))
        self.refused("too_many_pieces", replace(good, pieces=(piece,) * (MOST_PIECES + 1)))
