"""The load kit as typed, kept and known to the core; and recipes from before the planner."""

from __future__ import annotations

from typing import Any

from django.test import SimpleTestCase

from challenges.kits import kit_of, read_kit
from girder_core.ground import GirderError
from girder_core.kit import PLATFORM

BATCH = {"shape": "nut", "count": 40, "roll_of": 1, "known_by": "batch", "batch_count": 20, "batch_mass": "340 g",
         "scale_resolution": "1 g"}  # fmt: skip


def problems(*items: dict[str, Any], loaded: bool = True) -> dict[str, str]:
    try:
        read_kit([{**BATCH, **item} for item in items], loaded)
    except GirderError as error:
        return dict(error.data["fields"])
    return {}


class Reading(SimpleTestCase):
    def test_a_weighed_batch(self) -> None:
        (nut,) = read_kit([{**BATCH, "name": " M12  nut "}])
        self.assertEqual((nut["name"], nut["key"]), ("M12 nut", "m12-nut"))
        self.assertAlmostEqual(nut["mass_kg"], 0.017)
        # 1 g over the root of twelve, over twenty.
        self.assertAlmostEqual(nut["mass_u_kg"], 0.001 / 12**0.5 / 20)

    def test_a_coin_has_its_size_unless_another_is_typed(self) -> None:
        coin = {"known_by": "coin", "coin": "euro-20-cent"}
        (plain, roll, sized) = read_kit([
            {**BATCH, **coin, "name": "coin"}, {**BATCH, **coin, "name": "roll", "roll_of": 40},
            {**BATCH, **coin, "name": "other", "diameter": "30 mm", "thickness": "3 mm"},
        ])  # fmt: skip
        self.assertAlmostEqual(plain["diameter_m"], 0.02225)
        self.assertAlmostEqual(roll["mass_kg"], 40 * 0.00574)
        self.assertAlmostEqual(roll["thickness_m"], 40 * 0.00214)
        self.assertAlmostEqual(sized["diameter_m"], 0.030)

    def test_a_stated_mass_is_five_per_cent_sure_when_nobody_says(self) -> None:
        (said, silent) = read_kit([
            {**BATCH, "known_by": "typed", "name": "a", "mass": "20 g", "mass_doubt": "0.5 g"},
            {**BATCH, "known_by": "typed", "name": "b", "mass": "20 g"},
        ])  # fmt: skip
        self.assertAlmostEqual(said["mass_u_kg"], 0.0005 / 3**0.5)
        self.assertAlmostEqual(silent["mass_u_kg"], 0.001 / 3**0.5)

    def test_numbered_objects_are_items_of_their_own_in_order(self) -> None:
        kept = read_kit([{**BATCH, "known_by": "numbered", "name": "book", "masses": ["512 g", " ", "1.1 lb"]}])
        kit = kit_of(kept)
        self.assertEqual([(item.key, item.name, item.order, item.count) for item in kit.items],
                         [("book-1", "book 1", 1, 1), ("book-2", "book 2", 2, 1)])  # fmt: skip
        self.assertAlmostEqual(kit.items[1].mass.value, 1.1 * 0.45359237)

    def test_one_unit_will_do_for_all_numbered_objects(self) -> None:
        def masses(*texts: str) -> list[float]:
            kept = read_kit([{**BATCH, "known_by": "numbered", "name": "book", "masses": list(texts)}])
            return [round(entry["mass_kg"], 4) for entry in kept]

        self.assertEqual(masses("612", "845", "530 g"), [0.612, 0.845, 0.530])
        for texts in (("612", "845"), ("0.6 kg", "845", "530 g")):
            # Without a unit, or with two of them, nobody knows which is meant.
            with self.assertRaises(GirderError):
                masses(*texts)

    def test_the_platform_goes_by_its_own_key(self) -> None:
        kept = read_kit([{**BATCH, "name": "tray", "shape": "platform"}, {**BATCH, "name": "nut"}])
        self.assertEqual(kept[0]["key"], PLATFORM)

    def test_every_bad_field_at_once(self) -> None:
        said = problems(
            {"name": "", "batch_mass": "0 g"}, {"name": "b", "batch_mass": "", "scale_resolution": "fine"},
            {"name": "c", "count": 0}, {"name": "d", "batch_count": 0}, {"name": "e", "diameter": "wide"},
            {"name": "f", "known_by": "coin", "coin": ""}, {"name": "g", "known_by": "numbered", "masses": []},
            {"name": "h", "known_by": "typed", "mass": "-3 g"}, {"name": "i", "roll_of": 0},
        )  # fmt: skip
        self.assertEqual(set(said), {
            "kit.0.batch_mass", "kit.1.batch_mass", "kit.1.scale_resolution", "kit.2.count", "kit.3.batch_count",
            "kit.4.diameter", "kit.5.coin", "kit.6.masses", "kit.7.mass", "kit.8.roll_of",
        })  # fmt: skip

    def test_two_items_of_one_key(self) -> None:
        self.assertIn("in the kit already", problems({"name": "Hex nut"}, {"name": "hex-nut"})["kit.1.name"])
        tiles = {"known_by": "numbered", "masses": ["1 kg", "2 kg"]}
        self.assertIn("kit.1.name", problems({**tiles, "name": "tile"}, {"name": "tile 2"}))

    def test_nothing_to_load_with(self) -> None:
        self.assertIn("kit", problems({"name": "tray", "shape": "platform"}))
        self.assertEqual(problems({"name": "tray", "shape": "platform"}, loaded=False), {})
