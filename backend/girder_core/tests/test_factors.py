"""What varied, what went along with it, what was foreseen: invented designs, with answers worked out beside them."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from girder_core.measure import Quantity
from girder_core.results import Member, differs, factor_effect, foresee, foresight_of_all, tally, trend
from girder_core.tests import tries
from girder_core.trial import Interval


def member(name: str, level: str, value: float, at_least: bool = False, **more: object) -> Member:
    return Member(name, name, level, value, at_least, **more)  # type: ignore[arg-type]


def group(level: str, *values: float) -> list[Member]:
    return [member(f"{level}{i}", level, value) for i, value in enumerate(values)]


class Effects(unittest.TestCase):
    def test_far_apart_is_clear_and_how_far_is_said(self) -> None:
        low, two = (0.50, 0.55, 0.52, 0.48), (0.90, 1.00, 0.95, 0.97)
        effect = factor_effect([*group("one", *low), *group("two", *two)], ("one", "two"))
        self.assertEqual((effect.best, effect.sure), ("two", "clear"))
        # 0.955 over 0.5125.
        self.assertIn("“two” came out 86% more than “one”", effect.says)
        assert effect.times is not None
        self.assertTrue(1 < effect.times.low < 0.955 / 0.5125 < effect.times.high)
        self.assertRegex(
            effect.because, r"truly the better (more than 9 times in 10|nearly always), with 4 and 4 designs"
        )
        self.assertRegex(effect.because, r"Nine times in ten the true difference is between \d+% and \d+% more\.")

    def test_many_designs_are_as_sure_as_students_t(self) -> None:
        # With many readings without width the model comes to the classical answer: one-sided p of Student's t test,
        # and its bounds, on logarithms (scipy).
        dice = np.random.default_rng(4)
        a, b = dice.normal(0.0, 0.3, 16), dice.normal(0.16, 0.3, 16)
        effect = factor_effect([*group("a", *np.exp(a)), *group("b", *np.exp(b))], ("a", "b"))
        theirs = stats.ttest_ind(b, a)
        assert effect.chance is not None and effect.times is not None
        self.assertAlmostEqual(effect.chance, 1 - theirs.pvalue / 2, delta=0.02)
        bounds = theirs.confidence_interval(0.9)
        self.assertAlmostEqual(math.log(effect.times.low), bounds.low, delta=0.04)
        self.assertAlmostEqual(math.log(effect.times.high), bounds.high, delta=0.04)

    def test_designs_count_and_not_their_trials(self) -> None:
        trials = tuple(Interval(0.5 + 0.01 * i, 0.51 + 0.01 * i) for i in range(9))
        often = [member(level, level, value, trials=trials) for level, value in (("one", 0.5), ("two", 0.9))]
        effect = factor_effect(often, ("one", "two"))
        self.assertEqual(effect.sure, "cannot_say")
        self.assertIn("Only one design was tested at each level", effect.because)
        few = factor_effect([often[0], *group("two", 0.9, 1.0)], ("one", "two"))
        self.assertNotEqual(few.sure, "clear")
        self.assertIn("Only one design was tested at “one”; more would tell.", few.because)

    def test_three_levels_pay_for_three_pairs(self) -> None:
        members = [*group("a", 1.0, 1.1, 1.2), *group("b", 1.2, 1.3, 1.4), *group("c", 1.3, 1.5, 1.6)]
        two = factor_effect([m for m in members if m.level != "b"], ("a", "c"))
        three = factor_effect(members, ("a", "b", "c"))
        assert two.chance is not None and three.chance is not None
        self.assertLess(three.chance, two.chance)
        self.assertEqual(three.best, "c")

    def test_one_level_an_empty_one_and_none(self) -> None:
        self.assertEqual(factor_effect([], ("a", "b")).says, "No level has a result yet.")
        effect = factor_effect(group("a", 1, 2), ("a", "b"))
        self.assertEqual((effect.sure, effect.because), ("cannot_say", "Nothing was tested at “b”."))
        self.assertIn("one level only", factor_effect(group("a", 1, 2), ("a",)).because)
        alike = factor_effect([*group("a", 1, 1), *group("b", 1, 1)], ("a", "b"))
        self.assertEqual(alike.sure, "too_close")
        rigid = factor_effect([*group("a", 1, 1), *group("b", 2, 2)], ("a", "b"))
        self.assertEqual((rigid.best, rigid.says), ("b", "“b” came out 100% more than “a” on average."))

    def test_a_run_out_below_leaves_it_open_and_above_does_not(self) -> None:
        low_open = [member("x", "a", 1.0, True), member("y", "a", 1.1), *group("b", 1.3, 1.4)]
        self.assertEqual(factor_effect(low_open, ("a", "b")).sure, "cannot_say")
        closed = factor_effect([*group("a", 1.0, 1.1), *group("b", 2.0, 2.1)], ("a", "b"))
        effect = factor_effect([*group("a", 1.0, 1.1), member("x", "b", 2.0, True), member("y", "b", 2.1)], ("a", "b"))
        assert effect.times is not None and closed.times is not None
        self.assertGreater(effect.times.high, closed.times.high)
        self.assertIn("at least", effect.says)

    def test_what_went_along_is_named(self) -> None:
        members = [
            member("p", "thin", 1.0, numbers={"Own weight": 0.010, "Gap": 0.30}, words={"set up": "hung"}),
            member("q", "thin", 1.1, numbers={"Own weight": 0.011, "Gap": 0.30}, words={"set up": "hung"}),
            member("r", "thick", 2.0, numbers={"Own weight": 0.021, "Gap": 0.31}, words={"set up": "patch"}),
            member("s", "thick", 2.2, numbers={"Own weight": 0.021, "Gap": 0.30}, words={"set up": "patch"}),
        ]
        effect = factor_effect(members, ("thin", "thick"))
        self.assertEqual(effect.confounders, (
            "Own weight: 100% more at “thick” than at “thin”.", "set up: “thin” hung, “thick” patch."))  # fmt: skip

    @settings(max_examples=tries(40))
    @given(st.lists(st.tuples(st.sampled_from("abc"), st.floats(0.1, 9).map(lambda v: round(v, 2))), max_size=12))
    def test_order_and_names_do_not_matter(self, rows: list[tuple[str, float]]) -> None:
        members = [member(f"m{i}", level, value) for i, (level, value) in enumerate(rows)]
        renamed = [member(f"z{i}", level, value) for i, (level, value) in enumerate(reversed(rows))]
        effect, two = factor_effect(members, "abc"), factor_effect(renamed, "abc")
        self.assertEqual((effect.sure, effect.because, effect.confounders), (two.sure, two.because, two.confounders))
        for left, right in zip(effect.levels, two.levels, strict=True):
            self.assertEqual(left.mean is None, right.mean is None)
            if left.mean and right.mean:
                self.assertAlmostEqual(left.mean.mean, right.mean.mean)


class Differs(unittest.TestCase):
    def test_no_more_than_it_was_measured_to_was_not_chosen(self) -> None:
        # A ruler of 1 mm: 0.3 mm standard uncertainty, so 1.2 mm apart is nothing and 2 mm is something.
        for gaps, chosen in (((0.300, 0.3011), False), ((0.300, 0.302), True), ((0.300,), False), ((), False)):
            self.assertEqual(differs([Quantity(gap, 0.0003) for gap in gaps]), chosen, gaps)
        self.assertTrue(differs([Quantity(5.0), Quantity(6.0)]))


class Trends(unittest.TestCase):
    def test_along_against_and_not_at_all(self) -> None:
        rising = trend("Height", [1, 2, 3, 4, 5, 6], [2, 3, 4, 6, 7, 9])
        # Of the 720 orders two do as well: this one and its reverse.
        assert rising.correlation is not None
        self.assertAlmostEqual(rising.correlation.p, 2 / 720)
        self.assertIn("went with higher results. Chance alone would look like this 3 times in a thousand", rising.says)
        self.assertIn("went with lower", trend("Height", [1, 2, 3, 4, 5, 6], [9, 7, 6, 4, 3, 2]).says)
        self.assertIn("no clear trend", trend("Height", [1, 2, 3, 4, 5], [3, 1, 4, 2, 3.5]).says)
        # As often as that, and in words: no power of ten, no fraction of a time.
        for scores in ([3, 1, 4, 2, 3.5], [3, 5, 1, 4, 2], [2, 4, 5, 1, 3]):
            self.assertRegex(trend("Height", [1, 2, 3, 4, 5], scores).says, r"(once|\d{1,2} times) in a hundred")
        # Of several that are looked at, one that is as far from a trend as can be.
        self.assertIn("look like this every time", trend("Height", [1, 2, 3, 4, 5], [3, 1, 4, 2, 3.5], 8).says)
        self.assertIn("too few", trend("Height", [1, 2, 3], [1, 2, 3]).says)
        # The best of ten things that were looked at goes along by chance ten times as often: 20 in 720.
        of_ten = trend("Height", [1, 2, 3, 4, 5, 6], [2, 3, 4, 6, 7, 9], 10).says
        self.assertIn(
            "more of it perhaps went with higher results. Chance alone would look like this 3 times in a hund", of_ten
        )


class Predictions(unittest.TestCase):
    def test_right_too_much_too_little_and_open(self) -> None:
        held = Interval(1.0, 1.1)
        for said, bounds, verdict in (
            (1.05, held, "right"), (1.14, held, "right"), (0.86, held, "right"), (1.4, held, "too_high"),
            (0.5, held, "too_low"), (3.0, Interval(1.0, math.inf), "open"), (0.5, Interval(1.0, math.inf), "too_low"),
            (0.4, Interval(0.0, 0.2), "too_high"),
        ):  # fmt: skip
            self.assertEqual(foresee("k", "Auk", said, bounds.low, bounds).verdict, verdict, (said, bounds))
        self.assertIsNone(foresee("k", "Auk", 0.4, 0.0, Interval(0.0, 0.2)).error)

    def test_of_the_class(self) -> None:
        foresights = [foresee(str(i), str(i), said, held, Interval(held, held * 1.02))
                 for i, (said, held) in enumerate(((1, 1), (2, 1.5), (3, 2), (4, 4.1)))]  # fmt: skip
        summary = foresight_of_all("The teams", foresights)
        # Off by 0, 1/3, 1/2 and 1/41: the middle two are 0.0244 and 0.3333.
        self.assertAlmostEqual(summary.typical_error or 0, (1 / 3 + 0.1 / 4.1) / 2)
        self.assertIn("2 of 4 right; 2 predicted too much, 0 too little", summary.says)
        self.assertIn("not foreseen any better than by chance", summary.says)
        self.assertIn("made no predictions", foresight_of_all("The model", []).says)


class Ways(unittest.TestCase):
    def test_counted_with_the_most_frequent_first(self) -> None:
        ways = tally([("snap", "Auk"), ("slip", "Tern"), ("slip", "Rail"), ("slip", "Tern")])
        self.assertEqual([(group.key, group.count, group.names) for group in ways],
                         [("slip", 3, ("Tern", "Rail")), ("snap", 1, ("Auk",))])  # fmt: skip
        self.assertEqual(tally([]), ())
