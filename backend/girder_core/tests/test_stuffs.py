"""What things are built of, by their names, and what is said of them then."""

import unittest

from girder_core.families import FAMILIES, family_of
from girder_core.kit import Material, Stuff, kit_list, stuff_of, unit_of
from girder_core.safety import AgeBand


def built_of(name: str) -> list[Material]:
    return [Material("scissors", "scissors", final=1), Material("it", name, unit_of(name), final=4, buildable=True)]


class Names(unittest.TestCase):
    def test_one_is_called_what_people_call_it(self) -> None:
        # Common practice, no source: how the things of the trade are counted.
        for name, unit in (
            ("paper straw, 210 mm", "straw"), ("Drinking straws", "straw"), ("straw", "straw"), ("paper cup", "cup"),
            ("aluminium foil, 300 mm square", "sheet"), ("sheet of paper", "sheet"), ("index cards", "sheet"),
            ("6 mm dowel, 300 mm", "stick"), ("craft sticks", "stick"), ("spaghetti, dry", "strand"),
            ("modelling clay, lump of 60 g", "lump"), ("foam block, 60 mm", "block"), ("rubber bands", "band"),
            ("masking tape, 10 m roll", "m"), ("string", "m"), ("scissors", "piece"), ("", "piece"), ("123", "piece"),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(unit_of(name), unit)

    def test_what_is_built_with_decides_and_not_what_lies_beside(self) -> None:
        self.assertIs(stuff_of(built_of("paper straw")), Stuff.STICK)
        tape = Material("tape", "paper tape", "m", final=1)
        self.assertIs(stuff_of([tape, *built_of("foil")]), Stuff.SHEET)
        self.assertIsNone(stuff_of([tape]))
        self.assertIsNone(stuff_of(built_of("marshmallow")))

    def test_a_roll_says_of_what(self) -> None:
        (line,) = kit_list([Material("tape", "masking tape", "m", final=0.4, pack_size=10)], 8, 1)
        self.assertEqual(line.buy_words, "1 roll of 10 m")
        (line,) = kit_list([Material("straw", "straw", "straw", final=20, pack_size=100)], 8, 1)
        self.assertEqual((line.needed_words, line.buy_words), ("160 straws", "2 packs of 100"))


class Said(unittest.TestCase):
    def test_a_bridge_of_straws_is_not_told_to_fold(self) -> None:
        bridge = family_of("bridge")
        for name, words in (("manila card", True), ("paper straw", False), ("spaghetti", False)):
            saying = bridge.saying(built_of(name))
            said = " ".join((saying.young, saying.older, *saying.ideas, *saying.controls)).lower()
            self.assertEqual("fold" in said, words, name)
            self.assertEqual("triangle" in said, not words, name)

    def test_foil_is_no_lump_of_clay(self) -> None:
        boat = family_of("boat")
        foil, clay = boat.saying(built_of("aluminium foil")), boat.saying(built_of("modelling clay"))
        told = " ".join((foil.young, foil.older, *foil.ideas, *foil.controls, *(f.why for f in foil.factors)))
        self.assertNotIn("clay", told)
        self.assertNotIn("lump", told)
        self.assertIn("clay", clay.young)

    def test_each_speaks_of_what_is_proposed_and_of_anything_else(self) -> None:
        for family in FAMILIES.values():
            proposed = [quota.material for quota in family.quotas]
            self.assertEqual(family.saying(proposed).young, family.young, family.key)
            self.assertEqual(family.saying([]).ideas, family.ideas)
            for stuff, saying in family.sayings.items():
                self.assertLess(len(saying.young.split()), len(saying.older.split()))
                self.assertTrue(saying.ideas and saying.factors and saying.controls, (family.key, stuff))

    def test_an_unknown_material_keeps_the_usual_words(self) -> None:
        boat = family_of("boat")
        self.assertEqual(boat.saying(built_of("wax")).young, boat.young)
        self.assertTrue(boat.usual(AgeBand.AGES_8_10))
