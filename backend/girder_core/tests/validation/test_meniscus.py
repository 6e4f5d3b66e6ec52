"""A plain sheet on the water, against the Young-Laplace equation solved as it stands, Keller's law of what floats, and
a fact of the trade (common practice, no source)."""

import math
import unittest

import numpy as np
from numpy.typing import NDArray
from scipy import integrate

from girder_core.drafting import draft, draft_kind, expectation
from girder_core.ground import GRAVITY_M_S2, GirderError
from girder_core.physics import STOCKS, edge_depth_m, plain_raft
from girder_core.physics.meniscus import SKIN_N_M

COIN_N = 0.0025 * GRAVITY_M_S2


class Skin(unittest.TestCase):
    def test_young_and_laplace(self) -> None:
        # γ dψ/ds = ρ g z along the water's surface, down to the edge at slope θ: solved from far away, not by formula.
        for angle in (30, 80, 120):
            path = integrate.solve_ivp(
                lambda _, y: (math.cos(y[2]), math.sin(y[2]), 998.2 * GRAVITY_M_S2 * y[1] / SKIN_N_M),
                (0, 0.1), (0.0, 1e-7, 1e-7 / math.sqrt(SKIN_N_M / 998.2 / GRAVITY_M_S2)), rtol=1e-10, atol=1e-14,
                events=self.reaches(math.radians(angle)),
            )  # fmt: skip
            depth = float(path.y[1, -1])
            self.assertAlmostEqual(float(edge_depth_m(angle)) / depth, 1, delta=1e-4)
            # Keller 1998: the skin's pull upwards is the weight of the water between its surface and the level outside.
            x, z = path.y[0], path.y[1]
            weight = 998.2 * GRAVITY_M_S2 * float(np.trapezoid(z, x))
            self.assertAlmostEqual(weight / (SKIN_N_M * math.sin(math.radians(angle))), 1, delta=2e-3)

    @staticmethod
    def reaches(angle: float):  # type: ignore[no-untyped-def]
        def event(_: float, y: NDArray[np.float64]) -> float:
            return float(y[2] - angle)

        event.terminal = True  # type: ignore[attr-defined]
        return event

    def test_water_s_capillary_length(self) -> None:
        # 2.73 mm in clean water (handbooks, from memory); at 180° the edge lies twice that deep.
        self.assertAlmostEqual(float(edge_depth_m(180.0)) / 2, 2.73e-3, delta=0.01e-3)


class Rafts(unittest.TestCase):
    def test_nine_coins_on_a_foil_square(self) -> None:
        # Common practice, no source: a plain raft of a 127 mm foil square carries about nine coins of 2.5 g.
        typed = {"hull": "plain", "long_m": "127 mm", "wide_m": "127 mm", "offset_m": "3 mm"}
        prediction = expectation(draft_kind("boat"), typed).prediction
        assert prediction is not None
        self.assertTrue(9 / 1.4 < prediction.typical_n / COIN_N < 9 * 1.4, prediction.typical_n / COIN_N)
        self.assertLess(prediction.low_n / COIN_N, 9)
        self.assertGreater(prediction.high_n / COIN_N, 9)
        walls = expectation(draft_kind("boat"), {**typed, "hull": "box", "wall_m": "15 mm"}).prediction
        assert walls is not None
        self.assertGreater(walls.typical_n, 2.5 * prediction.typical_n)

    def test_never_more_than_a_stiff_sheet_and_never_worse_for_more_sheet(self) -> None:
        foil, last = STOCKS["foil"], 0.0
        for side in (0.05, 0.1, 0.2, 0.3):
            prediction = plain_raft(side, side, 16e-6, foil)
            stiff = 998.2 * GRAVITY_M_S2 * side**2 * float(edge_depth_m(105)) + SKIN_N_M * 4 * side
            self.assertLess(prediction.high_n, stiff)
            self.assertGreater(prediction.typical_n, last)
            last = prediction.typical_n

    def test_off_the_middle_it_carries_less(self) -> None:
        held = [plain_raft(0.127, 0.127, 16e-6, STOCKS["foil"], off).typical_n for off in (0.0, 0.005, 0.02)]
        self.assertEqual(held, sorted(held, reverse=True))

    def test_too_heavy_a_sheet_sinks_in_words(self) -> None:
        with self.assertRaises(GirderError) as caught:
            plain_raft(0.1, 0.1, 3e-3, STOCKS["foil"])
        self.assertIn("without walls", caught.exception.sentence)

    def test_it_can_be_drafted(self) -> None:
        shown = draft(draft_kind("boat"), {"hull": "plain"}).shown
        self.assertEqual([view.key for view in shown.views], ["edge", "above"])
        with self.assertRaises(GirderError):
            draft(draft_kind("boat"), {"hull": "plain", "sheet": "clay"})
