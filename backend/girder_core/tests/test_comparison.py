import math
import unittest
from dataclasses import replace
from random import Random

from hypothesis import given
from hypothesis import strategies as st

from girder_core.measure import Quantity
from girder_core.results import (
    BreachPolicy,
    Entry,
    RankRange,
    Rules,
    School,
    TieRule,
    TrialRule,
    VerdictKind,
    compare,
    pooled_cv,
)
from girder_core.results.comparison import rank_ranges, verdict
from girder_core.tests.support import broke, ran_out
from girder_core.trial import Interval

MOST = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)
RATIO = Rules(School.STRENGTH_TO_WEIGHT, TrialRule.BEST, BreachPolicy.NOTE)


def entry(name: str, *trials: object, own_g: float = 40.0) -> Entry:
    return Entry(name.lower(), name, tuple(trials), Quantity(own_g / 1000))  # type: ignore[arg-type]


class RankRanges(unittest.TestCase):
    def test_by_hand(self) -> None:
        ranges = rank_ranges([Interval(5, 6), Interval(3, 5.5), Interval(1, 2), Interval(4, math.inf)])
        self.assertEqual(ranges, [RankRange(1, 3), RankRange(1, 3), RankRange(4, 4), RankRange(1, 3)])

    intervals = st.lists(
        st.tuples(st.floats(0, 100), st.floats(0, 50), st.booleans()).map(
            lambda t: Interval(t[0], math.inf if t[2] else t[0] + t[1])
        ),
        min_size=1,
        max_size=12,
    )

    @given(intervals)
    def test_every_order_the_intervals_allow_lies_within(self, intervals: list[Interval]) -> None:
        # Strengths at the lower ends are one possible truth; the place each then takes must lie in its range.
        ranges = rank_ranges(intervals)
        for i, own in enumerate(intervals):
            place = 1 + sum(other.low > own.low for other in intervals)
            self.assertTrue(ranges[i].best <= place <= ranges[i].worst)

    @given(intervals, st.randoms(use_true_random=False))
    def test_order_of_naming_does_not_matter(self, intervals: list[Interval], random: Random) -> None:
        order = list(range(len(intervals)))
        random.shuffle(order)
        shuffled = rank_ranges([intervals[i] for i in order])
        self.assertEqual(shuffled, [rank_ranges(intervals)[i] for i in order])


class Verdicts(unittest.TestCase):
    def kind(self, better: float, *ran_out: bool) -> VerdictKind:
        return verdict("A", "B", (ran_out[0], ran_out[1]) if ran_out else (False, False), better, better).kind

    def test_kinds(self) -> None:
        self.assertEqual(self.kind(0.98), VerdictKind.CLEAR)
        self.assertEqual(self.kind(0.9), VerdictKind.LIKELY)
        self.assertEqual(self.kind(0.7), VerdictKind.TOO_CLOSE)
        self.assertEqual(self.kind(0.3), VerdictKind.TOO_CLOSE)

    def test_what_ran_out_could_still_pass_unless_that_is_unlikely(self) -> None:
        self.assertEqual(self.kind(0.7, False, True), VerdictKind.CANNOT_SAY)
        self.assertEqual(self.kind(0.9, False, True), VerdictKind.LIKELY)
        self.assertEqual(self.kind(0.9, True, True), VerdictKind.CANNOT_SAY)
        self.assertEqual(self.kind(0.98, True, False), VerdictKind.CLEAR)

    def test_says_who_would_be_ahead_again_and_how_often(self) -> None:
        said = verdict("A", "B", (False, False), 0.9, 0.77).reason
        self.assertEqual(
            said, "A is probably better: built and tested again, A would be ahead of B about 8 times in 10."
        )
        said = verdict("A", "B", (False, False), 0.45, 0.41).reason
        self.assertEqual(
            said, "It could go either way: built and tested again, B would be ahead of A about 6 times in 10."
        )

        said = verdict("A", "B", (False, False), 0.8, 0.74).reason
        self.assertTrue(
            said.startswith("A may be better, but nobody can be sure: built and tested again, A would"), said
        )

    def test_more_trials_make_surer(self) -> None:
        twice = [entry("Tern", *[broke(60)] * 2), entry("Auk", *[broke(50)] * 2), entry("Skua", *[broke(30)] * 2)]
        often = [replace(few, trials=few.trials * 4) for few in twice]
        little, much = (compare(entries, MOST).places[0].prospect.better for entries in (twice, often))
        assert little is not None and much is not None
        self.assertGreater(much, little)


class Headlines(unittest.TestCase):
    def test_a_run_out_keeps_the_leader_from_being_clear(self) -> None:
        comparison = compare([entry("Tern", broke(60)), entry("Auk", ran_out(50)), entry("Skua", broke(20))], MOST)
        self.assertEqual(comparison.headline, "Tern leads. Only Auk could still pass.")
        # 60 nuts less 50 nuts of 16 g.
        self.assertIn("160 g more would settle it", comparison.explanation)

    def test_under_the_ratio_school_a_run_out_needs_load_for_its_own_weight(self) -> None:
        comparison = compare([entry("Tern", broke(60), own_g=20), entry("Auk", ran_out(50), own_g=40)], RATIO)
        # 48 times 40 g is 1.92 kg; 0.8 kg was on.
        self.assertIn("1.120 kg more would settle it", comparison.explanation)

    def test_who_won_today_is_a_fact_and_whether_again_a_chance(self) -> None:
        comparison = compare([entry("Tern", broke(60)), entry("Auk", broke(55)), entry("Skua", broke(20))], MOST)
        self.assertEqual(comparison.headline, "Tern won today.")
        self.assertRegex(comparison.again, r"^Built and tested again, Tern would win about [4-6] times in 10\.$")
        against = comparison.places[0].against_next
        assert against is not None
        self.assertEqual(against.kind, VerdictKind.TOO_CLOSE)

    def test_with_repeats_it_can_be_clear(self) -> None:
        comparison = compare([entry("Tern", broke(60), broke(62), broke(61)), entry("Auk", broke(20), broke(21))], MOST)
        self.assertEqual(comparison.headline, "Tern won today.")
        against = comparison.places[0].against_next
        assert against is not None
        self.assertEqual(against.kind, VerdictKind.CLEAR)

    def test_overlap_leaves_open_who_won_today(self) -> None:
        comparison = compare([entry("Tern", broke(60, 10)), entry("Auk", broke(58, 10))], MOST)
        self.assertEqual(comparison.headline, "Tern leads, but Auk came so close that the measuring leaves it open.")

    def test_the_team_that_was_tested_most_often_does_not_win_again_for_that(self) -> None:
        # Tern's best of five is ahead; its other four are what the others held.
        eager = entry("Tern", broke(50), broke(44), broke(62), broke(47), broke(52))
        others = [entry(name, broke(n)) for name, n in (("Auk", 58), ("Skua", 49), ("Rail", 45))]
        comparison = compare([eager, *others], MOST)
        first, second = comparison.places[:2]
        self.assertEqual((first.entry.name, second.entry.name), ("Tern", "Auk"))
        self.assertGreater(second.prospect.first, first.prospect.first)
        self.assertIn("Auk would win", comparison.again)
        self.assertIn("Tern was tested more often.", comparison.again)

    def test_untested_teams_are_counted(self) -> None:
        comparison = compare([entry("Tern", broke(60)), entry("Auk", broke(20)), entry("Skua")], MOST)
        self.assertEqual(comparison.headline, "Tern leads so far.")
        self.assertIn("One team is still to be tested.", comparison.explanation)

    def test_one_none_and_void_only(self) -> None:
        self.assertEqual(compare([], MOST).headline, "Nothing to compare yet.")
        self.assertEqual(compare([entry("Tern", broke(3))], MOST).headline, "Tern is the only result so far.")

    def test_a_tie_goes_to_the_lighter_and_is_shared_when_equal_there_too(self) -> None:
        comparison = compare([entry("Tern", broke(50), own_g=41), entry("Auk", broke(50), own_g=40)], MOST)
        self.assertEqual([place.entry.name for place in comparison.places], ["Auk", "Tern"])
        self.assertEqual([place.place for place in comparison.places], [1, 2])
        comparison = compare([entry("Tern", broke(50)), entry("Auk", broke(50))], MOST)
        self.assertEqual([(place.place, place.shared) for place in comparison.places], [(1, True), (1, True)])
        self.assertEqual(comparison.headline, "Auk and Tern tie.")


class Invariance(unittest.TestCase):
    loads = st.lists(st.tuples(st.integers(1, 90), st.booleans()), min_size=1, max_size=6)

    def test_a_tie_that_the_rule_settles_is_not_too_close_to_call(self) -> None:
        heavy, light = entry("Skua", broke(20), own_g=40), entry("Tern", broke(20), own_g=30)
        comparison = compare([heavy, light, entry("Auk", broke(5))], MOST)
        (first, second, third) = comparison.places
        self.assertEqual([p.entry.name for p in comparison.places], ["Tern", "Skua", "Auk"])
        assert first.against_next is not None
        self.assertIs(first.against_next.kind, VerdictKind.BY_TIE_RULE)
        self.assertEqual([p.ranks for p in (first, second, third)], [RankRange(n, n) for n in (1, 2, 3)])
        self.assertEqual(comparison.headline, "Tern won today: equal with Skua, and lighter.")

    def test_a_shared_place_is_shared_and_not_too_close_to_call(self) -> None:
        shared = replace(MOST, tie_rule=TieRule.SHARED)
        comparison = compare([entry("Skua", broke(20), own_g=40), entry("Tern", broke(20), own_g=30)], shared)
        first, second = comparison.places
        assert first.against_next is not None
        self.assertIs(first.against_next.kind, VerdictKind.TIED)
        self.assertEqual([(p.place, p.shared, p.ranks) for p in (first, second)], [(1, True, RankRange(1, 1))] * 2)
        self.assertEqual(comparison.headline, "Skua and Tern tie.")

    def test_a_tie_that_the_scale_cannot_settle_stays_open(self) -> None:
        def weighed(name: str, grams: float) -> Entry:
            return replace(entry(name, broke(20)), self_mass=Quantity(grams / 1000, 0.0003))

        # 0.5 g apart, on a scale that leaves twice 0.3 g times the root of two.
        comparison = compare([weighed("Skua", 30.5), weighed("Tern", 30.0)], MOST)
        assert comparison.places[0].against_next is not None
        self.assertIs(comparison.places[0].against_next.kind, VerdictKind.TOO_CLOSE)
        self.assertIn("scale cannot tell", comparison.places[0].against_next.reason)
        self.assertEqual({place.ranks.best for place in comparison.places}, {1})
        unweighed = replace(entry("Auk", broke(20)), self_mass=None)
        comparison = compare([unweighed, weighed("Tern", 30.0)], MOST)
        assert comparison.places[0].against_next is not None
        self.assertIn("Auk was not weighed", comparison.places[0].against_next.reason)

    def test_two_that_ran_out_alike_are_not_tied(self) -> None:
        comparison = compare([entry("Skua", ran_out(20)), entry("Tern", ran_out(20), own_g=20)], MOST)
        assert comparison.places[0].against_next is not None
        self.assertIs(comparison.places[0].against_next.kind, VerdictKind.CANNOT_SAY)

    @given(loads, st.randoms(use_true_random=False))
    def test_ranking_does_not_depend_on_the_order_of_entries(
        self, loads: list[tuple[int, bool]], random: Random
    ) -> None:
        entries = [entry(f"T{i}", (ran_out if out else broke)(n)) for i, (n, out) in enumerate(loads)]
        shuffled = entries[:]
        random.shuffle(shuffled)
        self.assertEqual(compare(entries, MOST).places, compare(shuffled, MOST).places)

    @given(loads)
    def test_the_place_lies_in_its_range_and_more_load_never_ranks_lower(self, loads: list[tuple[int, bool]]) -> None:
        entries = [entry(f"T{i}", (ran_out if out else broke)(n)) for i, (n, out) in enumerate(loads)]
        places = {place.entry.key: place for place in compare(entries, MOST).places}
        for place in places.values():
            self.assertTrue(place.ranks.best <= place.place <= place.ranks.worst)
        more = replace(entries[0], trials=(broke(loads[0][0] + 5),))
        again = {p.entry.key: p for p in compare([more, *entries[1:]], MOST).places}
        self.assertLessEqual(again["t0"].place, places["t0"].place)


class Fairness(unittest.TestCase):
    def test_a_breach_that_is_not_ranked_is_listed_with_the_reason(self) -> None:
        strict = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.REFUSE)
        odd = replace(entry("Tern", broke(40)), breaches=("Over the limit.",))
        comparison = compare([odd, entry("Auk", broke(20))], strict)
        self.assertEqual([place.entry.name for place in comparison.places], ["Auk"])
        self.assertEqual([(e.name, reason.code) for e, reason in comparison.unranked], [("Tern", "breach")])

    def test_two_run_outs_need_more_load_to_be_told_apart(self) -> None:
        comparison = compare([entry("Tern", ran_out(60)), entry("Auk", ran_out(50))], MOST)
        self.assertEqual(comparison.headline, "Tern leads. Only Auk could still pass.")
        self.assertIn("at least", comparison.explanation)
        against = comparison.places[0].against_next
        assert against is not None
        self.assertEqual(against.kind, VerdictKind.CANNOT_SAY)


class Pooling(unittest.TestCase):
    def test_single_trials_say_nothing(self) -> None:
        self.assertIsNone(pooled_cv([[1.0], [2.0], []]))

    def test_counts_only_repeated_designs(self) -> None:
        scatter = pooled_cv([[0.9, 1.1], [5.0], [2.0, 2.0]])
        assert scatter is not None
        self.assertEqual((scatter.degrees_of_freedom, scatter.designs), (2, 2))
        # Relative squares 0.02 and 0 over two degrees of freedom.
        self.assertAlmostEqual(scatter.cv, 0.1)
