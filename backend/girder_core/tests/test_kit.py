import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.kit import (
    COINS,
    Kit,
    LoadEstimate,
    LoadItem,
    Material,
    coin,
    kit_covers,
    kit_list,
    load_plan,
    materials_problems,
    runs_out,
    strongest_needs,
)
from girder_core.measure import Quantity, stated_mass

CARD = Material("card", "card", "sheet", final=2, practice=1, spare_share=0.1, pack_size=20, owned=7, buildable=True)


class KitList(unittest.TestCase):
    def test_by_hand(self) -> None:
        # Eight teams: 16 final and 8 practice sheets, spares a tenth of 24 rounded up: 27; 7 are there, so one pack.
        (line,) = kit_list([CARD], teams=8, benches=2)
        self.assertEqual((line.final, line.practice, line.spares, line.needed), (16, 8, 3, 27))
        self.assertEqual((line.packs, line.bought, line.left_over), (1, 20, 0))
        self.assertEqual((line.needed_words, line.buy_words), ("27 sheets", "1 pack of 20"))

    def test_per_bench_and_class(self) -> None:
        basin, scale = Material("basin", "basin", per_bench=1), Material("scale", "scale", per_class=1, owned=1)
        first, second = kit_list([basin, scale], teams=8, benches=3)
        self.assertEqual((first.needed, first.buy_words), (3, "3"))
        self.assertEqual((second.needed, second.packs, second.buy_words), (1, 0, "–"))

    def test_measured_in_metres(self) -> None:
        (tape,) = kit_list([Material("t", "tape", "m", final=0.32, pack_size=10)], teams=8, benches=1)
        self.assertEqual((tape.needed_words, tape.buy_words), ("2.56 m", "1 roll of 10 m"))

    def test_refused_at_its_field(self) -> None:
        for change, field in (({"pack_size": 0}, "pack_size"), ({"final": -1}, "final"), ({"name": " "}, "name")):
            with self.assertRaises(GirderError) as caught:
                Material(**{"key": "x", "name": "x", **change})  # type: ignore[arg-type]
            self.assertEqual(caught.exception.data["field"], field)
        for teams, benches, code in ((0, 1, "no_teams"), (1, 0, "no_benches")):
            with self.assertRaises(GirderError) as caught:
                kit_list([CARD], teams, benches)
            self.assertEqual(caught.exception.code, code)
        with self.assertRaises(GirderError):
            kit_list([CARD, Material("c2", "Card ")], 1, 1)

    def test_a_quota_of_nothing(self) -> None:
        none = Material("card", "card", "sheet", final=0, practice=3, buildable=True)
        self.assertIn("quota is zero", materials_problems([none])[0])
        self.assertEqual(materials_problems([none, CARD]), [])
        self.assertEqual(materials_problems([Material("basin", "basin", per_bench=1)]), [])

    @given(st.floats(0, 50), st.floats(0, 1), st.integers(1, 40), st.floats(0.5, 200), st.floats(0, 500))
    def test_what_is_bought_is_enough_and_no_pack_too_many(
        self, final: float, spare: float, teams: int, pack: float, owned: float
    ) -> None:
        (line,) = kit_list([Material("m", "m", final=final, spare_share=spare, pack_size=pack, owned=owned)], teams, 1)
        self.assertGreaterEqual(owned + line.bought, line.needed - 1e-6)
        if line.packs:
            self.assertLess(owned + line.bought - pack, line.needed + 1e-6)


def kit(*items: tuple[str, float, int, int]) -> Kit:
    return Kit(tuple(LoadItem(n, Quantity(m), c, roll, key=n) for n, m, c, roll in items))


class Cover(unittest.TestCase):
    ESTIMATE = LoadEstimate(0.5, 1.0, 2.0, "")

    def test_how_often_the_strongest_runs_out_as_simulated(self) -> None:
        # 2 kg is what one design in ten exceeds; of eight, one does in 1 - 0.9⁸ = 57 % of classes.
        self.assertAlmostEqual(runs_out(2.0, self.ESTIMATE, 1), 0.1)
        self.assertAlmostEqual(runs_out(2.0, self.ESTIMATE, 8), 1 - 0.9**8)
        dice = np.random.default_rng(2)
        strongest = np.exp(dice.normal(0.0, math.log(2) / 1.2816, (20_000, 8))).max(1)
        for load in (1.5, 3.0, 4.0):
            self.assertAlmostEqual(runs_out(load, self.ESTIMATE, 8), float((strongest >= load).mean()), delta=0.012)
        for teams in (1, 4, 12, 200):
            self.assertAlmostEqual(runs_out(strongest_needs(self.ESTIMATE, teams), self.ESTIMATE, teams), 0.1)
        self.assertEqual(runs_out(0.0, self.ESTIMATE, 3), 1.0)
        # Nothing is known to vary: it is outlasted or it is not.
        sure = LoadEstimate(1.0, 1.0, 1.0, "")
        self.assertEqual([round(runs_out(load, sure, 5)) for load in (0.9, 1.1)], [1, 0])

    def test_enough(self) -> None:
        cover = kit_covers(kit(("nut", 0.02, 200, 1)), self.ESTIMATE, 8)
        self.assertTrue(cover.enough)
        self.assertEqual((cover.more, cover.short_kg), ((), 0.0))
        self.assertIn("The kit lasts: 4.000 kg. The strongest of 8 teams would outlast it hardly ever.", cover.sentence)
        self.assertFalse(kit_covers(kit(("nut", 0.02, 100, 1)), self.ESTIMATE, 8).enough)

    def test_how_much_more_as_rolls_and_singles(self) -> None:
        # 1.0 kg is there and one team needs 2.4 kg: 1.4 kg short, three rolls of 0.4 kg and ten singles of 0.02 kg.
        cover = kit_covers(kit(("nut", 0.02, 30, 1), ("roll", 0.4, 1, 20)), LoadEstimate(0.5, 1.0, 2.4, ""), 1)
        self.assertAlmostEqual(cover.short_kg, 1.4)
        self.assertEqual([(s.item, s.count) for s in cover.more], [("roll", 3), ("nut", 10)])
        self.assertIn("The team would outlast 1.000 kg about 5 times in 10. Bring 3 × roll and 10 × nut more: then "
                      "about once in 10 times.", cover.sentence)  # fmt: skip

    def test_rolls_alone_are_rounded_up(self) -> None:
        cover = kit_covers(kit(("roll", 0.3, 1, 20)), LoadEstimate(0.1, 0.5, 1.0, ""), 1)
        self.assertEqual([(s.item, s.count) for s in cover.more], [("roll", 3)])

    def test_never_more_than_the_bench_carries(self) -> None:
        base = kit(("nut", 0.3, 5, 1))
        cover = kit_covers(base, self.ESTIMATE, 8, bench_limit_kg=2.0)
        # One more would do, a second would be too much for the bench.
        self.assertEqual([(s.item, s.count) for s in cover.more], [("nut", 1)])
        self.assertIn("This bench carries no more than 2.000 kg.", cover.sentence)
        self.assertFalse(cover.enough)
        full = kit_covers(kit(("nut", 0.3, 50, 1)), self.ESTIMATE, 8, bench_limit_kg=2.0)
        self.assertEqual((full.more, full.enough), ((), False))
        self.assertAlmostEqual(full.chance or 0, 1 - 0.9**8)

    def test_a_coarse_object_is_warned_of(self) -> None:
        # A bridge for 1 to 4 kg and weights of half a kilogram (common practice, no source).
        asked = LoadEstimate(1.0, 2.0, 4.0, "")
        self.assertIn("“weight” weighs 500 g, a coarse step where 1.000 kg to 4.000 kg is expected",
                      kit_covers(kit(("weight", 0.5, 20, 1)), asked, 8).coarse)  # fmt: skip
        self.assertEqual(kit_covers(kit(("weight", 0.5, 20, 1), ("nut", 0.02, 50, 1)), asked, 8).coarse, "")
        books = Kit(tuple(LoadItem(f"book {i}", Quantity(0.5), 1, key=f"b{i}", order=i) for i in range(1, 20)))
        self.assertEqual(kit_covers(books, asked, 8).coarse, "")

    def test_without_a_target_nobody_can_say(self) -> None:
        cover = kit_covers(kit(("nut", 0.5, 10, 1)), None, 8)
        self.assertEqual((cover.chance, cover.more, cover.coarse), (None, (), ""))
        self.assertIn("Without a target nobody can say", cover.sentence)

    def test_a_kit_without_load(self) -> None:
        with self.assertRaises(GirderError) as caught:
            kit_covers(Kit((LoadItem("cup", Quantity(0.02), 1, key="platform"),)), self.ESTIMATE, 4)
        self.assertEqual(caught.exception.code, "kit_empty")

    @given(st.integers(1, 200), st.floats(0.001, 0.5), st.floats(0.1, 50), st.integers(1, 12), st.floats(0.1, 60))
    def test_with_what_it_says_it_lasts(self, count: int, mass: float, high: float, teams: int, limit: float) -> None:
        base = kit(("nut", mass, count, 1), ("roll", 10 * mass, 1, 10))
        cover = kit_covers(base, LoadEstimate(high / 4, high / 2, high, ""), teams, limit)
        total = base.total_kg() + sum(step.mass_kg for step in cover.more)
        self.assertTrue(cover.enough or total >= cover.needed_kg - 1e-6 or total + mass > limit - 1e-6)
        self.assertTrue(not cover.more or total <= limit + 1e-6)
        self.assertEqual(cover.enough, cover.chance is not None and round(10 * cover.chance) <= 1)


class Numbered(unittest.TestCase):
    def test_unlike_objects_are_planned_in_their_order(self) -> None:
        tiles = tuple(
            LoadItem(f"tile {i}", Quantity(m), 1, key=f"tile-{i}", order=i)
            for i, m in ((3, 0.20), (1, 0.25), (2, 0.22), (4, 0.21))
        )
        plan = load_plan(Kit(tiles), LoadEstimate(0.5, 0.8, 1.2, ""), 600, 3, 5, 0.05)
        self.assertEqual([(s.item, s.count) for s in plan.steps], [(f"tile-{i}", 1) for i in (1, 2, 3, 4)])
        # There is nothing smaller to bring, so nobody is told to.
        self.assertEqual([w for w in plan.warnings if "coarse" in w], [])
        rest = load_plan(Kit(tiles), LoadEstimate(0.5, 0.8, 1.2, ""), 600, 3, 5, 0.05, {"tile-1": 1, "tile-2": 1})
        self.assertEqual(rest.steps[0].item, "tile-3")


class KnownMasses(unittest.TestCase):
    def test_a_stated_mass_is_as_sure_as_its_range(self) -> None:
        # Rectangular distribution of half-width a: a / √3 (JCGM 100:2008, 4.3.7).
        self.assertAlmostEqual(stated_mass(0.017, 0.001).standard_uncertainty, 0.001 / 3**0.5)
        for mass, within in ((0, 0), (0.01, 0.02), (0.01, -1)):
            with self.assertRaises(GirderError):
                stated_mass(mass, within)

    def test_every_coin_names_its_source_and_is_plausible(self) -> None:
        for piece in COINS.values():
            self.assertIn("from memory", piece.source)
            # Coin alloys lie between aluminium bronze and cupronickel, steel cores included: 6.5 to 9.2 g/cm³ (from
            # memory). Rims, reeding and holes take up to a fifth off the enclosing cylinder.
            density = piece.mass_kg / (0.25 * 3.14159 * piece.diameter_m**2 * piece.thickness_m)
            self.assertTrue(4900 < density < 9200, (piece.key, density))

    def test_an_unknown_coin(self) -> None:
        with self.assertRaises(GirderError):
            coin("doubloon")
