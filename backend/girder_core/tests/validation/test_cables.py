"""Cables, stays and anchors: a chain of links in balance, joints in balance, a friction block solved by trying, worked
figures by the formulas of Hibbeler, Structural Analysis, 5.3 (from memory).
"""

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import integrate

from girder_core.drafting import draft, draft_kind, expectation
from girder_core.ground import GirderError
from girder_core.physics import STOCKS, CableBridge, anchor_slides_n, cable_bridge, cable_length_m
from girder_core.physics.cables import (
    anchor_lifts_n,
    corner_sag_m,
    hung_at_one_place,
    hung_evenly,
    stays_level_n,
)
from girder_core.tests import tries

SPANS = st.floats(0.2, 1.5)
FEW = settings(max_examples=tries(40))


class Pulls(unittest.TestCase):
    def test_worked(self) -> None:
        # w 12 kN/m over 40 m with 5 m of sag: H = w L²/8f = 480 kN, T = √(480² + 240²) = 536.66 kN (by hand).
        made = hung_evenly(480e3, 40.0, 5.0)
        self.assertAlmostEqual(made.level_n, 480e3, delta=1e-6)
        self.assertAlmostEqual(made.most_n, 536.6563e3, delta=1)
        # 60 N a quarter along a 2 m cable, 0.3 m deep: H = 60 · 2 · 0.25 · 0.75/0.3 = 75 N, steepest 0.3/0.5.
        corner = hung_at_one_place(60, 2.0, 0.3, 0.25)
        self.assertAlmostEqual(corner.level_n, 75, delta=1e-9)
        self.assertAlmostEqual(corner.most_n, 75 * math.hypot(1, 0.6), delta=1e-9)

    @given(st.floats(0.2, 3), st.floats(0.03, 0.4), st.integers(3, 40))
    @FEW
    def test_a_chain_with_many_weights_is_in_balance_at_every_weight(self, span: float, dip: float, n: int) -> None:
        # Weights 1/(n+1) at even places on the parabola; level pull H, each joint by itself.
        sag = dip * span
        x = np.linspace(0, span, n + 2)
        y = -4 * sag * x / span * (1 - x / span)
        level = hung_evenly(1.0, span, sag).level_n
        slopes = np.diff(y) / np.diff(x)
        lifts = level * np.diff(slopes)
        np.testing.assert_allclose(lifts, 1 / (n + 1), rtol=1e-9)

    @given(st.floats(0.2, 3), st.floats(0.02, 0.45))
    @FEW
    def test_length_of_a_parabola_by_quadrature(self, span: float, dip: float) -> None:
        slope = lambda x: math.hypot(1, 4 * dip * (1 - 2 * x / span))  # noqa: E731
        self.assertAlmostEqual(cable_length_m(span, dip * span), integrate.quad(slope, 0, span)[0], delta=1e-8)

    @given(st.floats(0.1, 0.9), st.floats(1.01, 1.6))
    @FEW
    def test_the_corner_uses_all_of_the_cable(self, at: float, more: float) -> None:
        span = 0.7
        deep = corner_sag_m(span, more * span, at)
        self.assertAlmostEqual(math.hypot(at * span, deep) + math.hypot((1 - at) * span, deep), more * span, delta=1e-9)

    @given(st.integers(1, 8), st.sampled_from(["centre", "uniform"]))
    @FEW
    def test_stays_carry_what_hangs_on_them(self, stays: int, placement: str) -> None:
        # Both halves: vertical parts add up to the load, but for the deck's first piece, which rests on the tower.
        span, high = 0.8, 0.2
        level, longest = stays_level_n(1.0, span, high, stays, placement)
        steep = high / math.hypot(span / 2, high)
        if placement == "centre":
            self.assertAlmostEqual(2 * longest * steep, 1.0, delta=1e-9)
            self.assertAlmostEqual(level, longest * math.sqrt(1 - steep**2), delta=1e-9)
        else:
            # The moment of half the load about the tower, held by the level pull at the tower's height.
            places = [span / 2 * i / stays for i in range(1, stays + 1)]
            lifts = [0.5 / stays * (0.5 if i == stays - 1 else 1) for i in range(stays)]
            self.assertAlmostEqual(level * high, sum(x * v for x, v in zip(places, lifts, strict=True)), delta=1e-9)

    @given(st.integers(1, 6), st.floats(0.02, 0.98))
    @FEW
    def test_one_load_anywhere_on_a_stayed_deck(self, stays: int, at: float) -> None:
        # By the deck between two hanging points: the lever; the towers carry what lies nearest to them.
        span, high = 0.8, 0.2
        points = [0.0, *(span / 2 * i / stays for i in range(1, stays)), span / 2]
        near = min(at, 1 - at) * span
        right = next(i for i, x in enumerate(points) if x >= near - 1e-12)
        right = max(right, 1)
        share = (near - points[right - 1]) / (points[right] - points[right - 1])
        moment = (1 - share) * points[right - 1] + share * points[right] * (0.5 if right == stays else 1.0)
        level, _ = stays_level_n(1.0, span, high, stays, "centre", at)
        self.assertAlmostEqual(level * high, moment, delta=1e-9)

    def test_many_stays_pull_as_a_cable_with_that_sag(self) -> None:
        many, _ = stays_level_n(1.0, 0.8, 0.2, 200, "uniform")
        self.assertAlmostEqual(many / hung_evenly(1.0, 0.8, 0.2).level_n, 1, delta=0.02)


class Anchors(unittest.TestCase):
    @given(st.floats(0.1, 0.9), st.floats(0.0, 2.0))
    @FEW
    def test_a_block_pulled_harder_and_harder(self, friction: float, slope: float) -> None:
        # By trying: friction of what still presses on the table against the level part of the pull.
        steep = math.atan(slope)
        low, high = 0.0, 1e3
        for _ in range(80):
            pull = (low + high) / 2
            presses = max(0.0, 10.0 - pull * math.sin(steep))
            low, high = (pull, high) if pull * math.cos(steep) < friction * presses else (low, pull)
        self.assertAlmostEqual(float(anchor_slides_n(10.0, friction, slope)) / low, 1, delta=1e-6)
        if slope > 0:
            self.assertGreater(float(anchor_lifts_n(10.0, slope)), low)

    def test_the_classic_mistake(self) -> None:
        # Strings and towers hold, and a light anchor slides: common practice, no source.
        light = draft(draft_kind("hanging"), {"anchor_kg": "500 g"}).expected.prediction
        assert light is not None
        self.assertEqual(light.governing.key, "anchor")


class Bridges(unittest.TestCase):
    def held(self, **typed: str) -> float | None:
        try:
            prediction = expectation(draft_kind("hanging"), typed).prediction
        except GirderError:
            return None
        assert prediction is not None
        return prediction.typical_n

    @given(
        st.sampled_from(["hanging", "stayed"]), st.sampled_from(["centre", "uniform"]), st.floats(0.2, 1.5), st.data()
    )
    @settings(max_examples=tries(30))
    def test_never_worse(self, form: str, placement: str, span: float, data: Any) -> None:
        typed = {"form": form, "placement": placement, "span_m": f"{span:.3f} m", "anchor_kg": "4 kg"}
        here = self.held(**typed)
        assert here is not None
        shorter = self.held(**{**typed, "span_m": f"{span * data.draw(st.floats(0.5, 0.98)):.3f} m"})
        heavier = self.held(**{**typed, "anchor_kg": f"{4 * data.draw(st.floats(1.05, 3)):.3f} kg"})
        for better in (shorter, heavier, self.held(**typed, cables="3"), self.held(**typed, posts="3")):
            assert better is not None
            self.assertGreaterEqual(better, here * (1 - 1e-9))

    def test_in_one_spot_it_carries_less(self) -> None:
        for form in ("hanging", "stayed"):
            spot, spread = self.held(form=form, placement="centre"), self.held(form=form)
            assert spot is not None and spread is not None
            self.assertLess(spot, spread)

    def test_off_midspan_the_anchors_feel_it_less(self) -> None:
        # H = W L k(1 − k)/f on the ellipse is largest in the middle.
        held = [self.held(placement="centre", off_m=off) for off in ("0 mm", "60 mm", "120 mm", "200 mm")]
        self.assertEqual(held, sorted(held, key=lambda load: load or 0))
        with self.assertRaises(GirderError):
            draft(draft_kind("hanging"), {"placement": "centre", "off_m": "260 mm"})

    def test_a_deeper_cable_carries_more_while_the_anchor_decides(self) -> None:
        held = [self.held(sag_m=sag) for sag in ("30 mm", "60 mm", "100 mm", "140 mm")]
        self.assertEqual(held, sorted(held, key=lambda load: load or 0))

    def test_by_hand_from_the_table_to_the_load(self) -> None:
        # Anchor 2 kg, μ 0.4, tower 150 and back 250 mm, span 500, sag 100: slope 0.6, T = 0.4 · 19.613 · 1.16619/1.24 =
        # 7.3783 N, H = T/1.16619 = 6.3268 N, W = 8 f H/L = 10.123 N.
        string, dowel = STOCKS["string"], STOCKS["dowel-6"]
        made = cable_bridge(
            CableBridge(0.5, 0.15, 0.25, 2.0, 2, 2, 0.1), string, dowel, STOCKS["craft-stick"], "uniform"
        )
        state = next(state for state in made.limit_states if state.key == "anchor")
        self.assertAlmostEqual(state.typical_n, 10.123, delta=0.02)

    def test_refusals(self) -> None:
        for typed, words in (({"sag_m": "200 mm"}, "towers stand 150 mm"), ({"cable": "tape"}, "no such material")):
            with self.assertRaises(GirderError) as caught:
                draft(draft_kind("hanging"), typed)
            self.assertIn(words, caught.exception.sentence)
