"""Load against sag: what the model says per newton against beam tables, and what the chart shows of it."""

import unittest

from girder_core.drafting import draft_kind, gives_way
from girder_core.ground import GRAVITY_M_S2
from girder_core.measure import Quantity, System
from girder_core.physics import STOCKS
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
        chart = self.chart((1.0, 0.004), gives=None)
        assert chart is not None
        self.assertFalse([shape for shape in chart.drawn if shape.ink in (Ink.FITTED, Ink.SPREAD)])
        self.assertIn("Keep a draft", chart.says)
        self.assertEqual(len(chart.head), 2)
