"""A challenge over the years."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.results import outlook, past_run, years_in_words
from girder_core.trial import Interval


class Years(unittest.TestCase):
    def test_a_run_in_a_line(self) -> None:
        # By hand: three broke and one outlasted the load at 3 kg; shares 3/4, 2/4 at 2 kg.
        past = past_run([Interval(1, 1.1), Interval(2, 2.2), Interval(3, math.inf), Interval(2.5, 2.6)])
        self.assertEqual((past.designs, past.best_kg, past.best_at_least, past.median_kg, past.ran_out_share),
                         (4, 3, True, 2, 0.25))  # fmt: skip
        self.assertEqual(past_run([]).designs, 0)
        self.assertIsNone(past_run([Interval(1, math.inf)] * 3).median_kg)

    def test_what_to_bring(self) -> None:
        seen = outlook([[Interval(1, 1.1), Interval(2, 2.2)], [Interval(4, 4.4)]])
        self.assertAlmostEqual(seen.bring_kg or 0, 5.2)
        assert seen.estimate is not None
        self.assertEqual((seen.estimate.low_kg, seen.estimate.typical_kg), (1, 2))
        self.assertIn("bring 5.200 kg", seen.says)
        self.assertIsNone(outlook([[Interval(1, 2)], [Interval(1, 2)]]).estimate)
        self.assertIn("ran out of load", outlook([[Interval(1, math.inf)] * 4]).says)

    def test_what_is_not_loaded_has_its_years_too(self) -> None:
        def level(value: float) -> str:
            return f"level {value:g}"

        # Levels 2, 3, 3 and 5 by hand; the best came through all there was.
        years = [[Interval(2, 3), Interval(3, 4)], [Interval(3, 4), Interval(5, math.inf)]]
        self.assertEqual(years_in_words(years, level),
                         "Half of 4 designs came to level 3 or less; the best came to at least level 5.")  # fmt: skip
        self.assertIn("Too few designs", years_in_words([[Interval(2, 3)] * 2], level))
        self.assertIn("More than half of 3", years_in_words([[Interval(5, math.inf)] * 3], level))

    @given(st.lists(st.tuples(st.floats(0.1, 9), st.booleans()), min_size=3, max_size=12))
    def test_low_typical_high_stay_in_order(self, rows: list[tuple[float, bool]]) -> None:
        bounds = [Interval(low, math.inf if out else 1.1 * low) for low, out in rows]
        seen = outlook([bounds]).estimate
        assert seen is not None
        self.assertTrue(seen.low_kg <= seen.typical_kg <= seen.high_kg)
