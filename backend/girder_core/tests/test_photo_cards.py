"""Scale cards: marks that cannot be taken for one another, that fit on paper, and whose set is told by their ids."""

import unittest

import numpy as np

from girder_core.ground import GirderError
from girder_core.photo import BAR_M, FIELDS, MARKS_PER_SET, SETS, cards, cards_seen, fields_of, printed_scale, set_of

PAPERS_MM = ((210.0, 297.0), (215.9, 279.4))
"""ISO 216 and ANSI/ASME Y14.1, upright."""


class Cards(unittest.TestCase):
    def test_every_mark_of_every_set_has_an_id_of_its_own(self) -> None:
        ids = [mark.id for number in range(1, SETS + 1) for card in cards(number) for mark in card.marks]
        self.assertEqual(len(ids), len(set(ids)))
        self.assertEqual(len(ids), SETS * MARKS_PER_SET)
        for number in (1, 7, SETS):
            for card in cards(number):
                self.assertEqual({set_of(mark.id) for mark in card.marks}, {number})

    def test_marks_of_a_card_do_not_touch_and_have_their_white_rim(self) -> None:
        for card in cards(3):
            boxes = np.array([(mark.corners[3], mark.corners[1]) for mark in card.marks])
            field = (boxes[0, 1, 0] - boxes[0, 0, 0]) / FIELDS
            for i, one in enumerate(boxes):
                for other in boxes[i + 1 :]:
                    apart = np.maximum(one[0] - other[1], other[0] - one[1]).max()
                    # A mark needs a field of white round it; two share none.
                    self.assertGreater(apart, 2 * field, card.key)

    def test_both_papers_have_room_for_the_sheets(self) -> None:
        for card in cards(1):
            for wide, high in PAPERS_MM:
                # With 12 mm that printers leave free, and a field of white round the marks.
                self.assertLess(1000 * card.width_m + 2 * 5 + 24, wide)
                self.assertLess(1000 * card.height_m + 2 * 5 + 24, high)

    def test_cards_are_told_by_any_of_their_marks(self) -> None:
        standing, _, left, _ = cards(2)
        found = cards_seen([left.marks[1].id, standing.marks[0].id, 10_000, -1])
        self.assertEqual({card.key: ids for card, ids in found.items()},
                         {"standing": (standing.marks[0].id,), "left": (left.marks[1].id,)})  # fmt: skip
        self.assertIsNone(set_of(586))

    def test_no_such_set_or_mark(self) -> None:
        for number in (0, SETS + 1, -3):
            with self.assertRaises(GirderError) as refused:
                cards(number)
            self.assertEqual(refused.exception.code, "unknown_set")
        with self.assertRaises(GirderError):
            fields_of(-1)


class Dictionary(unittest.TestCase):
    def test_two_marks_differ_in_eleven_fields_however_they_are_turned(self) -> None:
        # Olson (2011), AprilTag: tag36h11 has a Hamming distance of 11; a mark turned is no other one either.
        inner = np.array([fields_of(i)[1:-1, 1:-1] for i in range(SETS * MARKS_PER_SET)])
        flat = inner.reshape(len(inner), -1).astype(np.int16)
        for turns in range(4):
            turned = np.rot90(inner, turns, axes=(1, 2)).reshape(len(inner), -1).astype(np.int16)
            apart = flat @ (1 - turned).T + (1 - flat) @ turned.T
            if turns == 0:
                np.fill_diagonal(apart, 36)
            self.assertGreaterEqual(apart.min(), 11, turns)

    def test_a_mark_s_mirror_image_is_no_mark(self) -> None:
        inner = np.array([fields_of(i)[1:-1, 1:-1] for i in range(SETS * MARKS_PER_SET)])
        flat = inner.reshape(len(inner), -1).astype(np.int16)
        for turns in range(4):
            mirrored = np.rot90(inner[:, :, ::-1], turns, axes=(1, 2)).reshape(len(inner), -1).astype(np.int16)
            apart = flat @ (1 - mirrored).T + (1 - flat) @ mirrored.T
            # The adapter takes up to two wrong fields for right ones.
            self.assertGreater(apart.min(), 2, turns)


class Bar(unittest.TestCase):
    def test_the_bar_tells_how_large_the_cards_are(self) -> None:
        scale = printed_scale(0.0985, 0.0005)
        self.assertAlmostEqual(scale.value, 0.985)
        # JCGM 100:2008, F.2.2.1: step / sqrt(12), here of 100 mm.
        self.assertAlmostEqual(scale.standard_uncertainty, 0.0005 / np.sqrt(12) / BAR_M)

    def test_a_slip_of_the_ruler_is_refused(self) -> None:
        slips = [(bar, 0.001, "bar_unlikely") for bar in (0.0, 0.11001, 9.8, float("nan"))]
        for bar, step, code in [*slips, (0.1, 0.0, "resolution_not_positive")]:
            with self.assertRaises(GirderError) as refused:
                printed_scale(bar, step)
            self.assertEqual(refused.exception.code, code)
