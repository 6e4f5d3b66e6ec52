"""How a base shakes, from what its accelerometer sends; held against known motions and a general least-squares fit."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import curve_fit

from girder_core.ground import GirderError
from girder_core.measure import Sent
from girder_core.physics import Shaking, peak_acceleration_m_s2, read_shaking, shaking_agrees
from girder_core.physics.shaking import AGREED, fit_sine
from girder_core.trial import table_lines


class Fits(unittest.TestCase):
    @given(st.floats(0.9, 8), st.floats(0.1, 20), st.floats(0, 6.28), st.floats(-3, 3))
    def test_a_clean_motion_is_found_again(self, hz: float, peak: float, phase: float, offset: float) -> None:
        times = np.arange(150) / 50
        seen = offset + peak * np.sin(2 * math.pi * hz * times + phase)
        frequency, amplitude, even = fit_sine(times.tolist(), seen.tolist())
        self.assertAlmostEqual(frequency, hz, delta=1e-5 * hz)
        self.assertAlmostEqual(amplitude, peak, delta=1e-4 * peak)
        self.assertGreater(even, 0.9999)

    def test_a_noisy_one_as_a_general_fit_finds_it(self) -> None:
        # scipy.optimize.curve_fit (Levenberg-Marquardt) is the oracle.
        dice = np.random.default_rng(11)
        times = np.sort(dice.uniform(0, 3, 140))
        seen = 2.4 * np.sin(2 * math.pi * 1.7 * times + 0.4) + 0.5 * dice.standard_normal(140)

        def sine(t: np.ndarray, f: float, a: float, p: float, c: float) -> np.ndarray:
            return a * np.sin(2 * math.pi * f * t + p) + c

        best, _ = curve_fit(sine, times, seen, p0=(1.65, 2, 0.5, 0))
        frequency, amplitude, _ = fit_sine(times.tolist(), seen.tolist())
        self.assertAlmostEqual(frequency, best[0], places=5)
        self.assertAlmostEqual(amplitude, best[1], places=4)

    def test_what_cannot_be_told(self) -> None:
        few = np.arange(10) / 50
        still = np.arange(150) / 50
        slow = 0.4 * 2 * math.pi * still
        for times, seen, code in (
            (few, np.sin(few), "shaking_too_short"),
            (still, np.full_like(still, 9.81), "shaking_nothing"),
            (still, np.sin(slow), "shaking_too_short"),
        ):
            with self.assertRaises(GirderError) as caught:
                fit_sine(times.tolist(), seen.tolist())
            self.assertEqual(caught.exception.code, code)


class Tables(unittest.TestCase):
    def test_the_practice_table_shakes_as_set(self) -> None:
        for hz, stroke in ((1.0, 0.036), (1.4, 0.024), (3.2, 0.012)):
            shaking = read_shaking(table_lines(stroke, hz, 3, 5))
            self.assertAlmostEqual(shaking.frequency_hz, hz, delta=0.02 * hz)
            # Its noise is a fiftieth of the peak; the running up is left out.
            self.assertAlmostEqual(shaking.stroke_m, stroke, delta=0.03 * stroke)
            peak = peak_acceleration_m_s2(shaking.frequency_hz, shaking.stroke_m / 2)
            self.assertAlmostEqual(shaking.acceleration_m_s2, peak, places=9)

    def test_a_slipping_drive_is_noticed(self) -> None:
        shaking = read_shaking(table_lines(0.024, 1.4, 3, 5, slip=0.15)[25:])
        agrees = shaking_agrees(shaking, 1.4, 0.024)
        self.assertFalse(agrees.as_agreed)
        self.assertIn("frequency is 15% too low", agrees.says)

    def test_a_sensor_in_g_without_a_clock(self) -> None:
        lines = [Sent(n / 50, f"{math.sin(2 * math.pi * 2 * n / 50):+.4f} g") for n in range(150)]
        shaking = read_shaking([*lines, Sent(3.1, "low battery")])
        self.assertAlmostEqual(shaking.frequency_hz, 2, places=3)
        self.assertAlmostEqual(shaking.acceleration_m_s2, 9.80665, delta=0.01)
        self.assertEqual((shaking.samples, shaking.garbled), (120, 1))

    def test_nothing_and_garbage(self) -> None:
        for lines, code in (([], "instrument_silent"), ([Sent(0, "hello")], "instrument_garbage")):
            with self.assertRaises(GirderError) as caught:
                read_shaking(lines)
            self.assertEqual(caught.exception.code, code)

    def test_noise_alone_is_called_uneven(self) -> None:
        dice = np.random.default_rng(3)
        lines = [Sent(n / 50, f"{a:+.3f} m/s2") for n, a in enumerate(dice.standard_normal(150))]
        self.assertIn("unevenly", shaking_agrees(read_shaking(lines), 1.4, 0.02).says)

    @given(st.floats(-0.3, 0.3))
    def test_agreed_means_within_a_twentieth(self, off: float) -> None:
        shaking = Shaking(1.4 * (1 + off), 1.0, 0.02, 1.0, 150, 0)
        agrees = shaking_agrees(shaking, 1.4, 0.02)
        if abs(abs(off) - AGREED) > 1e-9:
            self.assertEqual(agrees.as_agreed, abs(off) < AGREED)
