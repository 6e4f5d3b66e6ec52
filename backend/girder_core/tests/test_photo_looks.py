"""What is said of a picture that cannot be measured in, of one that could be better, and where ends are proposed."""

import unittest
from dataclasses import replace

import numpy as np

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.photo import (
    Frame,
    Hidden,
    Look,
    Run,
    cards,
    judged,
    notes_on,
    proposed_ends,
    see,
    taken_as_it_is,
    unread,
)
from girder_core.tests.photographed import Eye, Laid, eye, seen, standing

Segment = tuple[float, float, float, float]


def segment(camera: Eye, one: tuple[float, float], other: tuple[float, float]) -> Segment:
    """An edge between two points of the cards' plane, as the picture shows it."""
    (a, b), (c, d) = camera.sees(np.array([(*one, 0.0), (*other, 0.0)]))
    return float(a), float(b), float(c), float(d)


class Judged(unittest.TestCase):
    def setUp(self) -> None:
        self.camera = eye(1.0, 0.3)
        self.good = Look(self.camera.frame, tuple(seen(self.camera, [standing()])))

    def test_a_good_picture_gives_its_view_and_nothing_to_note(self) -> None:
        view = judged(self.good)
        self.assertEqual([card.key for card in view.cards], ["standing"])
        self.assertEqual(notes_on(self.good, view), ())

    def test_why_a_picture_cannot_be_measured_in(self) -> None:
        none = replace(self.good, marks=())
        for look, code, word in (
            (replace(self.good, frame=Frame(200, 150)), "picture_small", "200 × 150"),
            (replace(self.good, frame=Frame(9000, 2500)), "picture_panorama", "several"),
            (replace(none, mirrored=True), "picture_mirrored", "back"),
            (replace(none, bright=0.05), "picture_dark", "light"),
            (replace(none, sharp=0.06), "picture_blurred", "still"),
            (none, "no_card", "card"),
        ):
            with self.subTest(code), self.assertRaises(GirderError) as refused:
                judged(look)
            self.assertEqual(refused.exception.code, code)
            # It stands at the picture, and says what to do.
            self.assertIn(word, refused.exception.data["fields"]["photo"])

    def test_a_picture_of_a_screen_or_of_yesterday_is_asked_about(self) -> None:
        screen = replace(self.good, screen_steps=3.4)
        for look, days, code, words in (
            (screen, 0, "picture_of_screen", ["screen"]),
            (self.good, 1, "picture_old", ["3 March 2026"]),
            # A clock that is wrong may run ahead as well.
            (self.good, -2, "picture_old", ["3 March 2026"]),
            # Who answers once answers both.
            (screen, 4, "picture_of_screen", ["screen", "3 March 2026"]),
        ):
            with self.assertRaises(NeedsConfirmation) as asked:
                taken_as_it_is(look, days, "3 March 2026")
            self.assertEqual(asked.exception.code, code)
            for word in words:
                self.assertIn(word, asked.exception.data["fields"]["photo"])
            taken_as_it_is(look, days, "3 March 2026", confirmed=True)
        taken_as_it_is(self.good, 0, "today")
        taken_as_it_is(self.good)

    def test_half_a_card_is_measured_by_and_spoken_of(self) -> None:
        marks = self.good.marks[:4]
        ids = [mark.id for mark in self.good.marks[4:]]
        look = replace(self.good, marks=marks, hidden={ids[0]: Hidden.CUT, ids[1]: Hidden.GLARE})
        view = judged(look)
        self.assertEqual(set(unread(view)), set(ids))
        (note,) = notes_on(look, view)
        self.assertTrue(
            note.startswith("2 of the 6 marks of the standing card are beyond the edge of the picture or in a glare.")
        )
        # Where they should be is told, and is where they are.
        for mark in self.good.marks[4:]:
            self.assertLess(np.abs(unread(view)[mark.id] - np.array(mark.corners)).max(), 0.5)

    def test_small_and_from_aside(self) -> None:
        far = eye(7.5)
        look = Look(far.frame, tuple(seen(far, [standing()])))
        self.assertIn("The card is small", notes_on(look, judged(look))[0])
        aside = eye(1.0, 1.0)
        look = Look(aside.frame, tuple(seen(aside, [standing()])))
        self.assertIn("from far aside", notes_on(look, judged(look))[0])


class Ends(unittest.TestCase):
    def setUp(self) -> None:
        self.camera = eye(1.3, 0.35, 1.0, k1=-0.05)
        self.view = see(seen(self.camera, [standing()]), self.camera.frame)

    def test_a_tower_s_foot_and_top(self) -> None:
        edges = [
            segment(self.camera, (0.2, -0.115), (0.3, -0.115)),
            segment(self.camera, (0.22, 0.3), (0.28, 0.3)),
            # Its sides, its rungs, and the card's own print.
            segment(self.camera, (0.2, -0.115), (0.22, 0.3)),
            segment(self.camera, (0.21, 0.1), (0.29, 0.1)),
            segment(self.camera, (-0.05, -0.047), (0.05, -0.047)),
        ]
        ends = proposed_ends(self.view, edges, Run.UPRIGHT)
        assert ends is not None
        foot, top = self.camera.sees(np.array([(0.25, -0.115, 0.0), (0.25, 0.3, 0.0)]))
        self.assertLess(np.abs(np.array(ends) - (foot, top)).max(), 2.0)

    def test_a_width_from_left_to_right(self) -> None:
        edges = [segment(self.camera, (x, 0.14), (x, 0.2)) for x in (0.1, 0.18, 0.31)]
        ends = proposed_ends(self.view, edges, Run.ACROSS)
        assert ends is not None
        (left, _), (right, _) = self.view.points(np.array(ends))
        self.assertAlmostEqual(right - left, 0.21, delta=1e-3)

    def test_a_gap_is_between_two_cards_and_not_from_table_end_to_table_end(self) -> None:
        left, right = cards(1)[2:]
        camera = eye(0.9, 0.2, 0.5)
        view = see(seen(camera, [Laid(left, -0.25), Laid(right, 0.25)]), camera.frame)
        edges = [segment(camera, (x, -0.08), (x, 0.08)) for x in (-0.45, -0.16, 0.16, 0.45)]
        ends = proposed_ends(view, edges, Run.BETWEEN)
        assert ends is not None
        self.assertAlmostEqual(float(np.hypot(*np.diff(view.points(np.array(ends)), axis=0)[0])), 0.32, delta=1e-3)
        alone = see(seen(camera, [Laid(left, -0.25)]), camera.frame)
        self.assertIsNone(proposed_ends(alone, edges, Run.BETWEEN))

    def test_nothing_is_proposed_where_nothing_goes_together(self) -> None:
        self.assertIsNone(proposed_ends(self.view, [], Run.UPRIGHT))
        askew = [segment(self.camera, (0.2, 0.1), (0.3, 0.16)), segment(self.camera, (0.2, 0.2), (0.3, 0.26))]
        self.assertIsNone(proposed_ends(self.view, askew, Run.UPRIGHT))
        apart = [segment(self.camera, (0.2, 0.0), (0.24, 0.0)), segment(self.camera, (0.3, 0.2), (0.34, 0.2))]
        self.assertIsNone(proposed_ends(self.view, apart, Run.UPRIGHT))
