"""Load against sag: what the model says per newton against beam tables, and what the chart shows of it."""

import math
import unittest
from dataclasses import replace

from girder_core.drafting import draft_kind, gives_way, kinds_for
from girder_core.ground import GRAVITY_M_S2
from girder_core.measure import Quantity, System
from girder_core.physics import STOCKS, pattern, truss_sag_m
from girder_core.results import Ink, Went, motion_chart

MANILA = STOCKS["manila"]


class Model(unittest.TestCase):
    def test_a_flat_strip_sags_as_beam_tables_say(self) -> None:
        # P L³ / (48 E I) for a load in the middle, I = b t³ / 12 (Young and Budynas 2002, table 8.1, case 1e).
        typed = {
            "sheet": "manila", "shape": "flat", "width_m": "100 mm", "span_m": "200 mm", "placement": "centre",
            "grain": "along",
        }  # fmt: skip
        gives = gives_way(draft_kind("sheet_bridge"), typed)
        assert gives is not None
        second = 0.1 * MANILA.thickness_m.typical**3 / 12
        for found, stiff in zip(gives, ("low", "typical", "high"), strict=True):
            expected = 0.2**3 / (48 * getattr(MANILA.elastic_modulus_pa, stiff) * second)
            # Its typical draft is a few per cent off the ideal section.
            self.assertAlmostEqual(found / expected, 1.0, delta=0.08)

    def test_rails_share_what_stands_on_their_planks(self) -> None:
        # c W L³ / (E I): 1/48 for a load in the middle, 5/384 spread (Young and Budynas 2002, table 8.1, 1e and 2e); a
        # round rail of 4 mm has I = π d⁴ / 64.
        dowel = STOCKS["dowel-4"]
        second = math.pi * 0.004**4 / 64
        for placement, coefficient in (("centre", 1 / 48), ("uniform", 5 / 384)):
            typed = {"span_m": "30 cm", "rail": "dowel-4", "rails": "2", "pieces": "1", "placement": placement}
            gives = gives_way(draft_kind("plank"), typed)
            assert gives is not None
            alone = coefficient * 0.3**3 / (dowel.elastic_modulus_pa.typical * second)
            # Two rails carry as much as one and most of a second.
            self.assertTrue(0.5 * alone <= gives[1] <= 0.62 * alone, gives[1] / alone)
            four = gives_way(draft_kind("plank"), {**typed, "pieces": "2"})
            assert four is not None
            self.assertAlmostEqual(four[1], gives[1] / 2, delta=1e-9)
            self.assertAlmostEqual(gives[0] / gives[2],
                                   dowel.elastic_modulus_pa.high / dowel.elastic_modulus_pa.low)  # fmt: skip

    def test_a_truss_comes_down_as_virtual_work_says(self) -> None:
        # δ = Σ F f L / (E A), f from a unit load where δ is asked (Hibbeler, Structural Analysis, ch. 8, from memory).
        for name, panels in (("Pratt", 4), ("Warren", 4), ("Warren", 3)):
            with self.subTest(name, panels=panels):
                truss = replace(pattern(name, 0.36, 0.08, panels), axial_stiffness_n=2e5)
                deck = sorted(joint for joint in truss.joints if joint[0] == "B")
                load = {joint: 1 / len(deck) for joint in deck}
                x = {joint: truss.joints[joint][0] for joint in deck}
                near = min(abs(at - 0.18) for at in x.values())
                middle = [joint for joint in deck if abs(x[joint] - 0.18) < near + 1e-9]
                real = truss.solve({joint: (0.0, -share) for joint, share in load.items()}).member_forces_n
                unit = truss.solve({joint: (0.0, -1 / len(middle)) for joint in middle}).member_forces_n
                work = math.fsum(
                    real[f"{a}-{b}"] * unit[f"{a}-{b}"] * math.dist(truss.joints[a], truss.joints[b]) / 2e5
                    for a, b in truss.members
                )
                self.assertAlmostEqual(truss_sag_m(truss, load, 1.0), work, delta=1e-9 * abs(work) + 1e-15)
                self.assertLess(truss_sag_m(truss, load, 1.0, 2), work)

    def test_a_truss_of_a_draft_is_as_stiff_as_its_members(self) -> None:
        one = gives_way(draft_kind("truss"), {"doubled": "1"})
        two = gives_way(draft_kind("truss"), {"doubled": "2"})
        assert one is not None and two is not None
        self.assertAlmostEqual(one[1] / two[1], 2.0, delta=1e-6)
        self.assertTrue(one[0] > one[1] > one[2] > 0)

    def test_the_truss_under_a_load_aside_comes_down_by_its_share(self) -> None:
        typed = {"trusses": "2", "apart_m": "80 mm"}
        even, aside = (gives_way(draft_kind("truss"), {**typed, "aside_m": text}) for text in ("0 mm", "10 mm"))
        assert even is not None and aside is not None
        # Of two, 80 mm apart, the nearer has 1/2 + 10/80 of it.
        self.assertAlmostEqual(aside[1] / even[1], (0.5 + 10 / 80) / 0.5, delta=1e-9)

    def test_whose_drafts_say_something(self) -> None:
        told = {family: any(kind.gives for kind in kinds_for(family)) for family in ("bridge", "column")}
        self.assertEqual(told, {"bridge": True, "column": False})

    def test_two_alike_give_half_as_much(self) -> None:
        typed = {"shape": "pleated", "placement": "centre"}
        one, two = (gives_way(draft_kind("sheet_bridge"), {**typed, "beside": n}) for n in ("1", "2"))
        assert one is not None and two is not None
        for a, b in zip(one, two, strict=True):
            self.assertAlmostEqual(a, 2 * b, delta=1e-9 * a)

    def test_a_kind_that_says_nothing_of_it_and_a_draft_that_cannot_be(self) -> None:
        self.assertIsNone(gives_way(draft_kind("tower"), {}))
        self.assertIsNone(gives_way(draft_kind("sheet_bridge"), {"shape": "trough", "width_m": "20 mm",
                                                                 "depth_m": "12 mm"}))  # fmt: skip


class Charts(unittest.TestCase):
    GIVES = (0.6e-3, 0.5e-3, 0.4e-3)

    def chart(self, *ways: tuple[float, float], gives: tuple[float, float, float] | None = GIVES):  # type: ignore[no-untyped-def]
        went = [Went(kg, Quantity(m, 1e-4)) for kg, m in ways]
        return motion_chart("sag", "Sag at midspan", went, gives, System.METRIC)

    def test_nothing_under_a_load_is_no_chart(self) -> None:
        self.assertIsNone(self.chart())
        self.assertIsNone(self.chart((0.0, 0.001)))

    def test_each_reading_is_a_point_and_in_the_table(self) -> None:
        chart = self.chart((0.5, 0.0024), (1.0, 0.0049))
        assert chart is not None
        points = [shape.points[0] for shape in chart.drawn if shape.ink is Ink.TRIAL]
        (x0, y0), (x1, y1) = points
        base = next(shape for shape in chart.drawn if shape.ink is Ink.AXIS).points[0]
        # Twice the load lies twice as far to the right, and 4.9 ÷ 2.4 as far up.
        self.assertAlmostEqual((x1 - base[0]) / (x0 - base[0]), 2.0)
        self.assertAlmostEqual((base[1] - y1) / (base[1] - y0), 4.9 / 2.4)
        self.assertEqual(chart.head, ("Load", "Sag at midspan", "The model"))
        model = f"{round(1000 * 0.5e-3 * GRAVITY_M_S2, 2):g} mm"
        self.assertEqual(chart.rows[1], ("1.000 kg", "4.9 mm ± 0.2 mm", model))
        for shape in chart.drawn:
            for x, y in shape.points:
                self.assertTrue(0 <= x <= chart.width and 0 <= y <= chart.height, shape)

    def test_it_says_whether_it_differs_from_the_model(self) -> None:
        usual = 0.5e-3 * GRAVITY_M_S2
        for way, words in ((usual, "does not differ"), (1.3 * usual, "more than the model"),
                           (0.7 * usual, "less than the model"), (1.22 * usual, "does not differ")):  # fmt: skip
            with self.subTest(words, way=way):
                chart = self.chart((1.0, way))
                assert chart is not None
                self.assertIn(words, chart.says)

    def test_without_a_draft_there_is_no_line_and_the_way_to_one(self) -> None:
        for may_draft in (True, False):
            chart = motion_chart("sag", "Sag", [Went(1.0, Quantity(0.004, 1e-4))], None, System.METRIC, may_draft)
            assert chart is not None
            self.assertFalse([shape for shape in chart.drawn if shape.ink in (Ink.FITTED, Ink.SPREAD)])
            # Nobody is sent for a draft that would say nothing.
            self.assertEqual("Keep a draft" in chart.says, may_draft)
            self.assertEqual(len(chart.head), 2)
