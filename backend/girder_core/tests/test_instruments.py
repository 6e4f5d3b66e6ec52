"""Lines from instruments: read, judged and refused; the stand-ins behave as real ones are known to."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.measure import Kind, Sent, analyse_trace, steady
from girder_core.measure.instruments import parse_line
from girder_core.trial import distance_lines, force_lines, hopper_trace, scale_lines


def lines(*texts: str) -> list[Sent]:
    return [Sent(0.2 * i, text) for i, text in enumerate(texts)]


class Lines(unittest.TestCase):
    def test_what_a_line_says(self) -> None:
        for text, kg, step, stable in (
            ("ST +38.4 g", 0.0384, 0.0001, True),
            ("US,GS,  0.125kg", 0.125, 0.001, False),
            ("  12,50 g", 0.0125, 0.00001, None),
            ("no 7: -3 g", -0.003, 0.001, None),
            ("9.80665 N", 1.0, 0.00001 / 9.80665, None),
        ):
            sample = parse_line(Sent(0, text), Kind.MASS)
            assert sample is not None, text
            self.assertAlmostEqual(sample.value, kg)
            self.assertAlmostEqual(sample.step, step)
            self.assertIs(sample.stable, stable)
        distance = parse_line(Sent(0, "D 812.5 mm"), Kind.LENGTH)
        assert distance is not None
        self.assertAlmostEqual(distance.value, 0.8125)

    def test_garbage_is_no_reading(self) -> None:
        for text in ("", "\x00\xff~~", "38.4", "hello g", "12 parsec", "ERR 04"):
            self.assertIsNone(parse_line(Sent(0, text), Kind.MASS), text)

    @given(st.text(max_size=60))
    def test_nothing_that_comes_breaks_it(self, text: str) -> None:
        sample = parse_line(Sent(0, text), Kind.MASS)
        self.assertTrue(sample is None or np.isfinite(sample.value))


class Readings(unittest.TestCase):
    def code(self, *texts: str) -> str:
        with self.assertRaises(GirderError) as caught:
            steady(lines(*texts), Kind.MASS)
        return caught.exception.code

    def test_what_is_refused_and_why(self) -> None:
        self.assertEqual(self.code(), "instrument_silent")
        self.assertEqual(self.code("~", "##", "12"), "instrument_garbage")
        self.assertEqual(self.code(*["-4.2 g"] * 9), "instrument_negative")

    def test_a_few_garbled_lines_do_no_harm(self) -> None:
        weighing = steady(lines(*["38.4 g"] * 4, "3#~4", *["38.4 g"] * 4), Kind.MASS)
        self.assertEqual((weighing.settled, weighing.garbled), (True, 1))
        self.assertAlmostEqual(weighing.value, 0.0384)

    def test_instruments_that_count_in_fives_of_their_last_digit(self) -> None:
        still = steady(lines(*["300.0 mm", "300.5 mm", "300.0 mm"] * 3), Kind.LENGTH)
        self.assertTrue(still.settled)
        self.assertAlmostEqual(still.step, 0.0005)
        # Three of its last digits apart it counts in ones, and moves too far for standing still.
        moving = steady(lines(*["300.0 mm", "300.3 mm", "300.1 mm"] * 3), Kind.LENGTH)
        self.assertFalse(moving.settled)
        self.assertAlmostEqual(moving.step, 0.0001)

    def test_it_has_not_settled_while_it_moves_or_says_so_or_was_heard_too_briefly(self) -> None:
        self.assertFalse(steady(lines("38.0 g", "38.9 g", "38.1 g", "38.8 g", "38.2 g", "38.9 g"), Kind.MASS).settled)
        self.assertFalse(steady(lines(*["US 38.4 g"] * 9), Kind.MASS).settled)
        self.assertFalse(steady(lines("38.4 g", "38.4 g"), Kind.MASS).settled)


class StandIns(unittest.TestCase):
    def test_a_scale_settles_on_what_lies_on_it(self) -> None:
        for seed in range(20):
            weighing = steady(scale_lines(0.0384, 4, seed), Kind.MASS)
            self.assertTrue(weighing.settled, weighing)
            self.assertAlmostEqual(weighing.value, 0.0384, delta=0.0002)
        self.assertFalse(steady(scale_lines(0.0384, 0.8, 1), Kind.MASS).settled)

    def test_in_a_draught_it_never_settles(self) -> None:
        weighing = steady(scale_lines(0.0384, 6, 3, draught_kg=0.002), Kind.MASS)
        self.assertFalse(weighing.settled)
        self.assertIn("draught", weighing.says)

    def test_the_hopper_s_log_says_where_it_broke(self) -> None:
        for seed in range(5):
            trace = hopper_trace(12.0, 1.5, seed)
            record = analyse_trace(trace.time_s, trace.force_n)
            self.assertTrue(record.broke)
            self.assertAlmostEqual(record.held_n, 12.0, delta=0.5)
            self.assertAlmostEqual(record.rate_n_s, 1.5, delta=0.1)

    def test_gauges_settle_on_what_they_are_shown(self) -> None:
        for seed in range(10):
            pull = steady(force_lines(4.2, 4, seed), Kind.MASS)
            self.assertTrue(pull.settled)
            # The mass that weighs as much.
            self.assertAlmostEqual(pull.value, 4.2 / 9.80665, delta=0.002)
            away = steady(distance_lines(0.812, 4, seed), Kind.LENGTH)
            self.assertTrue(away.settled)
            self.assertAlmostEqual(away.value, 0.812, delta=0.001)

    def test_nonsense_is_refused(self) -> None:
        for bad in (
            lambda: hopper_trace(0, 1, 1),
            lambda: distance_lines(-1, 1, 1),
            lambda: force_lines(1, 0, 1),
        ):
            with self.assertRaises(GirderError):
                bad()
