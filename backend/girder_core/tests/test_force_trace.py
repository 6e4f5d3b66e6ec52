"""Force traces: made-up traces of which everything is known."""

import unittest

import numpy as np
from numpy.typing import NDArray

from girder_core.ground import GirderError
from girder_core.measure import analyse_trace, load_of, read_trace


def ramp(noise: float = 0.0, broke: bool = True, rate: float = 5.0) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    times = np.arange(0, 6, 0.01)
    force = rate * times
    if broke:
        force = np.where(times > 4.0, 0.2 * rate * 4.0, force)
    return times, force + noise * np.random.default_rng(5).standard_normal(times.size)


class Known(unittest.TestCase):
    def test_a_clean_ramp(self) -> None:
        # 5 N/s for 4 s: peak 20 N; at 2 mm/s stiffness 2500 N/m, work ½·20 N·8 mm = 80 mJ.
        record = analyse_trace(*ramp(), speed_m_s=0.002)
        self.assertTrue(record.broke)
        self.assertAlmostEqual(record.peak_n, 20.0, delta=0.15)
        self.assertAlmostEqual(record.broke_at_s or 0, 4.0, delta=0.03)
        self.assertAlmostEqual(record.drop_n, 16.0, delta=0.2)
        self.assertAlmostEqual(record.stiffness_n_m or 0, 2500, delta=25)
        self.assertAlmostEqual(record.work_j or 0, 0.080, delta=0.001)

    def test_waiting_before_it_touches_changes_no_slope(self) -> None:
        # The same 5 N/s after three, ten and thirty seconds of nothing, quiet and noisy, tared or at 1.5 N.
        for idle, noise, began in (
            (3.0, 0.0, 0.0),
            (10.0, 0.0, 1.5),
            (30.0, 0.0, 0.0),
            (10.0, 0.2, 0.0),
            (30.0, 0.2, 1.5),
        ):
            times, force = ramp()
            waits = np.arange(0, idle, 0.01)
            later = np.concatenate([waits, times + idle])
            pushed = began + np.concatenate([np.zeros(waits.size), force])
            pushed += noise * np.random.default_rng(7).standard_normal(pushed.size)
            record = analyse_trace(later, pushed, speed_m_s=0.002)
            self.assertAlmostEqual(record.rate_n_s, 5.0, delta=0.05 if noise == 0 else 0.3, msg=f"{idle} {noise}")
            self.assertAlmostEqual(record.broke_at_s or 0, 4.0 + idle, delta=0.05)

    def test_noise_is_told_and_does_not_decide(self) -> None:
        record = analyse_trace(*ramp(noise=0.4))
        self.assertTrue(record.broke)
        self.assertAlmostEqual(record.noise_n, 0.4, delta=0.05)
        self.assertAlmostEqual(record.held_n, 20.0, delta=0.8)
        self.assertAlmostEqual(record.rate_n_s, 5.0, delta=0.5)
        self.assertIsNone(record.stiffness_n_m)

    def test_one_that_never_broke(self) -> None:
        record = analyse_trace(*ramp(noise=0.3, broke=False))
        self.assertFalse(record.broke)
        self.assertIn("at least", record.says)

    def test_a_single_stray_sample_is_no_break(self) -> None:
        times, force = ramp(broke=False)
        force[300] = 0.0
        self.assertFalse(analyse_trace(times, force).broke)


class AsALoad(unittest.TestCase):
    def test_a_newton_weighs_as_much_as_102_grams(self) -> None:
        # 20 N under standard gravity: 20 / 9.80665 = 2.0394 kg.
        quiet = load_of(analyse_trace(*ramp()))
        self.assertAlmostEqual(quiet.value, 2.0394, delta=0.015)
        self.assertAlmostEqual(quiet.standard_uncertainty, 0.001 * quiet.value)

    def test_noise_is_the_doubt(self) -> None:
        noisy = load_of(analyse_trace(*ramp(noise=0.4)))
        self.assertAlmostEqual(noisy.standard_uncertainty, 0.4 / 9.80665, delta=0.005)


class Reading(unittest.TestCase):
    def test_separators_and_decimal_commas(self) -> None:
        dots = read_trace("time_s,force_n\n0,0\n0.1,1.5\n")
        commas = read_trace("\ufefftime_s;force_n\n0,1;1,5\n0;0\n")
        self.assertEqual(dots, commas)

    def test_bad_files_name_the_line(self) -> None:
        for text, line in (("time_s,force_n\n0,0\n1,x\n", 3), ("t,f\n0,0\n", 1), ("", 1), ("time_s,force_n\n1\n", 2)):
            with self.assertRaises(GirderError) as caught:
                read_trace(text)
            self.assertEqual(caught.exception.data["line"], line)

    def test_traces_that_tell_nothing(self) -> None:
        flat = np.zeros(50)
        for times, force in ((np.arange(5.0), np.arange(5.0)), (np.arange(50.0), flat), (flat - np.arange(50), flat)):
            with self.assertRaises(GirderError):
                analyse_trace(times, force)
        with self.assertRaises(GirderError):
            analyse_trace(*ramp(), drop_share=1.5)


class Files(unittest.TestCase):
    """What teachers send: gaps, decimal commas, other columns, far too many rows."""

    def refused(self, text: str) -> str:
        with self.assertRaises(GirderError) as caught:
            read_trace(text)
        return caught.exception.sentence

    def test_gaps_are_left_out_and_counted(self) -> None:
        trace = read_trace("time_s,force_n\n0,0\n0.1,\n0.2,2\n,3\n0.4,4\n")
        self.assertEqual((trace.time_s, trace.force_n, trace.gaps), ((0, 0.2, 0.4), (0, 2, 4), 2))
        self.assertIn("More than half", self.refused("time_s,force_n\n0,1\n1,\n2,\n"))

    def test_decimal_commas(self) -> None:
        self.assertEqual(read_trace("time_s;force_n\n0,5;1,25\n1,0;2,5\n").force_n, (1.25, 2.5))
        self.assertIn("semicolons", self.refused("time_s,force_n\n0,5,1,25\n"))

    def test_other_columns_are_named(self) -> None:
        self.assertIn("it names seconds, newtons", self.refused("seconds,newtons\n1,2\n"))

    def test_a_million_rows(self) -> None:
        rows = "\n".join(f"{i / 1000:.3f},{i / 50000 if i < 900_000 else 2:.4f}" for i in range(1_000_000))
        trace = read_trace(f"time_s,force_n\n{rows}")
        record = analyse_trace(trace.time_s, trace.force_n)
        self.assertTrue(record.broke)
        self.assertAlmostEqual(record.held_n, 18, delta=0.01)
        self.assertAlmostEqual(record.rate_n_s, 0.02, delta=0.0002)
