"""Loose pieces that were counted, against the ledger and against what stood: what agrees, what is likely where not."""

import unittest

from girder_core.families import family_of
from girder_core.ground import GirderError
from girder_core.tests.support import kit
from girder_core.trial import Lay, counted_as, recount

KIT = kit()
NUT = next(item for item in KIT.items if item.key == "nut")


def sentence(lay: Lay, counted: int, on: int = 37) -> tuple[bool, str]:
    said = recount(KIT, {"platform": 1, "nut": on}, "nut", lay, counted)
    return said.agrees, said.sentence


class Load(unittest.TestCase):
    def test_as_many_agree(self) -> None:
        self.assertEqual(
            sentence(Lay.ON, 37), (True, f"37 × {NUT.name} counted of what was on it; the ledger has as many.")
        )
        self.assertTrue(sentence(Lay.LEFT, NUT.count - 37)[0])
        self.assertTrue(sentence(Lay.ON, 0, on=0)[0])

    def test_which_way_a_step_was_wrong(self) -> None:
        # A made-up slip for each case: the ledger has 37 on; what truly went on is known, and nothing rolled away.
        for truly_on, wrong in ((35, "2 too high"), (36, "1 too high"), (38, "1 too low"), (40, "3 too low")):
            for lay, counted in ((Lay.ON, truly_on), (Lay.LEFT, NUT.count - truly_on)):
                with self.subTest(truly_on=truly_on, lay=lay):
                    agrees, said = sentence(lay, counted)
                    self.assertFalse(agrees)
                    self.assertIn(f"a step was counted {wrong}", said)

    def test_what_may_have_rolled_away_is_said_where_some_are_missing_and_only_there(self) -> None:
        self.assertIn("Either 2 rolled away", sentence(Lay.ON, 35)[1])
        self.assertIn("Either one rolled away", sentence(Lay.LEFT, NUT.count - 38)[1])
        for lay, counted in ((Lay.ON, 39), (Lay.LEFT, NUT.count - 35)):
            self.assertNotIn("rolled", sentence(lay, counted)[1])
        # More on it than the ledger has can only have been put there.
        self.assertIn("Touch that step and correct it.", sentence(Lay.ON, 39)[1])
        self.assertIn("or the kit had 2 more than it says", sentence(Lay.LEFT, NUT.count - 35)[1])

    def test_what_is_not_counted(self) -> None:
        for item, code in (("platform", "not_loose"), ("nothing", "unknown_item")):
            with self.subTest(item), self.assertRaises(GirderError) as caught:
                recount(KIT, {}, item, Lay.ON, 1)
            self.assertEqual(caught.exception.code, code)


class Fallen(unittest.TestCase):
    def setUp(self) -> None:
        self.wall = family_of("wall").trial_setup({"throws": 6.0}, KIT)
        self.house = family_of("drop_house").trial_setup({}, KIT)

    def test_of_a_wall_the_rest_stands(self) -> None:
        left = self.wall.measure("left")
        said = counted_as(left, 7, 30)
        self.assertEqual((said.text, said.sentence), ("23", "30 stood in it, 7 lie there: 23 left."))
        self.assertEqual(counted_as(left, 30, 30).text, "0")
        self.assertEqual(counted_as(left, 1, 30).sentence, "30 stood in it, 1 lies there: 29 left.")
        for counted, before, code in ((31, 30, "more_than_before"), (7, None, "pieces_unknown")):
            with self.subTest(code), self.assertRaises(GirderError) as caught:
                counted_as(left, counted, before)
            self.assertEqual(caught.exception.code, code)

    def test_of_a_dropped_house_they_are_themselves(self) -> None:
        said = counted_as(self.house.measure("apart"), 4, None)
        self.assertEqual((said.text, said.sentence), ("4", "4 pieces counted."))
        with self.assertRaises(GirderError) as caught:
            counted_as(self.wall.measure("height_left"), 4, 30)
        self.assertEqual(caught.exception.code, "not_counted_loose")

    def test_what_a_wall_had_before_is_known_by_its_reading(self) -> None:
        wall = family_of("wall")
        self.assertEqual(wall.before_and_after[0], ("pieces", "left"))
        self.assertEqual(family_of("bridge").before_and_after, ())
