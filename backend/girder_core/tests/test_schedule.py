import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.planning import BuildClock, ClockAct, Turn, bench_fit, drying_left_s, fair_order, turned
from girder_core.planning.schedule import BenchTime, Day, check_in_minutes, lesson, propose_day, talk_minutes

# Fine, middling and coarse tests of 240, 120 and 60 s.
TESTS = (BenchTime(0.05, 240), BenchTime(0.1, 120), BenchTime(0.2, 60))
DAY = Day(minutes=50, teams=8, benches=1, build_minutes=20, tests=TESTS, swap_s=30)


class ByHand(unittest.TestCase):
    def test_the_stages_follow_each_other(self) -> None:
        # Brief 4, build 20, check-in 8 * 45 s = 6, compare 4: 16 min are left, 120 s for each of 8 teams. The middling
        # test needs 150 s with the swap, the coarse one 90 s.
        timeline = lesson(DAY)
        self.assertEqual([(s.key, s.start_min, s.end_min) for s in timeline.lessons[0]],
                         [("brief", 0, 4), ("build", 4, 24), ("check-in", 24, 30), ("tests", 30, 42),
                          ("compare", 42, 46)])  # fmt: skip
        self.assertEqual((timeline.resolution, timeline.test_seconds, timeline.fits), (0.2, 90, True))
        self.assertEqual(timeline.warnings_min, (19, 21))

    def test_a_second_bench_buys_finer_steps(self) -> None:
        # Two benches: 240 s for each of 4 rounds; 150 s fit, 270 s do not.
        self.assertEqual(lesson(replace(DAY, benches=2)).resolution, 0.1)

    def test_what_does_not_fit(self) -> None:
        # 30 min to build leave 6 min: 4 teams of 90 s.
        timeline = lesson(replace(DAY, build_minutes=30))
        self.assertEqual((timeline.fits, timeline.teams_that_fit), (False, 4))
        says = " ".join(timeline.gives)
        self.assertIn("With 2 benches all 8 teams", says)
        # 12 min are needed and 6 are there.
        self.assertIn("With 6 minutes less to build", says)
        self.assertIn("Test 4 of 8 teams now", says)
        self.assertIn("as coarse as 20%", says)

    def test_drying_moves_tests_to_the_next_lesson(self) -> None:
        timeline = lesson(replace(DAY, drying_minutes=90))
        self.assertEqual([[s.key for s in lesson] for lesson in timeline.lessons],
                         [["brief", "build", "store"], ["check-in", "tests", "compare"]])  # fmt: skip
        # 40 min for 8 teams are 300 s each: the finest test fits.
        self.assertEqual((timeline.resolution, timeline.next_lesson_hours), (0.05, 24))

    def test_small_sums(self) -> None:
        self.assertEqual([talk_minutes(m) for m in (20, 50, 240)], [2, 4, 8])
        self.assertEqual([check_in_minutes(n) for n in (1, 8, 9)], [1, 6, 7])


class Refused(unittest.TestCase):
    def test_each_at_its_field(self) -> None:
        for change, code, field in (
            ({"minutes": 5}, "lesson_too_short", "minutes"),
            ({"minutes": 500}, "lesson_too_long", "minutes"),
            ({"teams": 0}, "no_teams", "teams"),
            ({"benches": 0}, "no_benches", "benches"),
            ({"build_minutes": 2}, "build_too_short", "build_minutes"),
            ({"build_minutes": 60}, "build_too_long", "build_minutes"),
            ({"drying_minutes": 2000}, "drying_too_long", "drying_minutes"),
        ):
            with self.subTest(code), self.assertRaises(GirderError) as caught:
                lesson(replace(DAY, **change))  # type: ignore[arg-type]
            self.assertEqual((caught.exception.code, caught.exception.data["field"]), (code, field))


class Properties(unittest.TestCase):
    days = st.builds(
        Day, minutes=st.integers(20, 200), teams=st.integers(1, 30), benches=st.integers(1, 4),
        build_minutes=st.integers(6, 15), tests=st.just(TESTS), swap_s=st.integers(10, 90),
    )  # fmt: skip

    @given(days)
    def test_what_fits_stays_in_the_lesson_and_what_does_not_says_so(self, day: Day) -> None:
        timeline = lesson(day)
        self.assertEqual(timeline.fits, timeline.teams_that_fit >= day.teams)
        self.assertEqual(timeline.fits, not timeline.gives)
        if timeline.fits:
            self.assertLessEqual(timeline.lessons[-1][-1].end_min, day.minutes + 1e-9)

    @given(days)
    def test_more_time_or_benches_never_test_fewer_nor_coarser(self, day: Day) -> None:
        plain = lesson(day)
        for more in (replace(day, minutes=day.minutes + 12), replace(day, benches=day.benches + 1)):
            better = lesson(more)
            self.assertGreaterEqual(better.teams_that_fit, plain.teams_that_fit)
            self.assertLessEqual(better.resolution or 0, plain.resolution or 0)

    @given(st.integers(30, 120), st.integers(1, 14))
    def test_a_proposed_day_fits(self, minutes: int, teams: int) -> None:
        self.assertTrue(lesson(propose_day(minutes, teams, TESTS, 30)).fits)


class Clocks(unittest.TestCase):
    def test_counts_only_while_it_runs(self) -> None:
        # 20 min planned, 5 more given, 12 since the start of which 3 were a pause and it has stood for 2.
        clock = BuildClock(1200, 300, 720, 180, 120)
        self.assertEqual(clock.left_s, 1200 + 300 - (720 - 180 - 120))
        self.assertFalse(clock.running)
        self.assertTrue(BuildClock(1200, 0, 60).running)

    def test_before_the_start_all_is_left_and_after_the_end_less_than_nothing(self) -> None:
        self.assertEqual(BuildClock(1200).left_s, 1200)
        self.assertFalse(BuildClock(1200).running)
        self.assertEqual(BuildClock(1200, 0, 1500).left_s, -300)

    def test_warnings_that_a_short_build_has_no_time_for_are_left_out(self) -> None:
        self.assertEqual(BuildClock(1200).warnings_s, (300, 180))
        self.assertEqual(BuildClock(240).warnings_s, (180,))
        self.assertEqual(BuildClock(120).warnings_s, ())

    @given(st.floats(60, 6000), st.floats(0, 3000), st.floats(0, 9000), st.floats(0, 1000), st.floats(0, 1000))
    def test_a_pause_never_takes_time_away(
        self, planned: float, extra: float, elapsed: float, paused: float, pausing: float
    ) -> None:
        without = BuildClock(planned, extra, elapsed, 0.0)
        self.assertGreaterEqual(BuildClock(planned, extra, elapsed, paused, pausing).left_s, without.left_s - 1e-9)

    def test_what_is_done_with_it(self) -> None:
        new = BuildClock(1200)
        going = replace(turned(new, ClockAct.START), elapsed_s=300.0)
        self.assertEqual((turned(new, ClockAct.START).left_s, going.left_s), (1200, 900))
        still = replace(turned(going, ClockAct.PAUSE), elapsed_s=400.0, pausing_s=100.0)
        self.assertEqual((still.running, still.left_s), (False, 900))
        on = turned(still, ClockAct.RESUME)
        self.assertEqual((on.running, on.left_s, on.paused_s), (True, 900, 100))
        self.assertEqual(turned(on, ClockAct.EXTEND, 5).left_s, 1200)
        self.assertEqual(turned(turned(on, ClockAct.EXTEND, 5), ClockAct.RESET), new)

    def test_what_is_so_already_changes_nothing(self) -> None:
        going, still = BuildClock(1200, 0, 300), BuildClock(1200, 0, 300, 0, 50)
        self.assertEqual(turned(going, ClockAct.START), going)
        self.assertEqual(turned(going, ClockAct.RESUME), going)
        self.assertEqual(turned(still, ClockAct.PAUSE), still)

    def test_what_cannot_be_done_is_refused(self) -> None:
        for act in (ClockAct.PAUSE, ClockAct.RESUME):
            with self.assertRaises(GirderError) as caught:
                turned(BuildClock(1200), act)
            self.assertEqual(caught.exception.code, "clock_not_started")
        for minutes in (0.5, 61, float("nan")):
            with self.assertRaises(GirderError) as caught:
                turned(BuildClock(1200, 0, 5), ClockAct.EXTEND, minutes)
            self.assertEqual(caught.exception.code, "bad_minutes")

    def test_drying(self) -> None:
        self.assertEqual(drying_left_s(1800, None), 0)
        self.assertEqual(drying_left_s(1800, 600), 1200)
        self.assertEqual(drying_left_s(1800, 4000), 0)
        self.assertEqual(drying_left_s(0, 5), 0)


class AtTheBench(unittest.TestCase):
    def test_all_fit_with_time_to_spare(self) -> None:
        # 20 min for three teams of 4 min each: 8 min are left over.
        fit = bench_fit(20 * 60, 3, 240, [], 1, 0.05)
        self.assertEqual((fit.waiting, fit.fit, fit.gives), (3, 3, ()))
        self.assertIn("8 min to spare", fit.sentence)

    def test_too_little_time_says_what_gives(self) -> None:
        # 10 min for five teams of 4 min: two fit on one bench; three benches take two rounds each.
        fit = bench_fit(10 * 60, 5, 240, [], 1, 0.05)
        self.assertEqual(fit.fit, 2)
        self.assertIn("With 3 benches all 5 fit.", fit.gives)
        self.assertTrue(any("2.0 min a team" in sentence for sentence in fit.gives))
        self.assertIn("Test 2 now and 3 in the next lesson.", fit.gives)

    def test_what_teams_took_stands_before_the_plan(self) -> None:
        self.assertAlmostEqual(bench_fit(600, 1, 240, [300, 100], 1, None).per_team_s, 200)
        # One that took very long is left out.
        self.assertAlmostEqual(bench_fit(600, 1, 240, [100, 2000, 200], 1, None).per_team_s, 150)
        self.assertEqual(bench_fit(600, 1, 240, [300], 1, None).basis, "the plan")
        # A break between two starts is no turn.
        self.assertAlmostEqual(bench_fit(600, 1, 240, [300, 5400, 100], 1, None).per_team_s, 200)

    def test_no_time_and_nobody(self) -> None:
        self.assertIn("next lesson", bench_fit(-30, 2, 240, [], 1, None).gives[-1])
        self.assertEqual(bench_fit(100, 0, 240, [], 1, None).sentence, "Everybody has been on the bench.")
        with self.assertRaises(GirderError):
            bench_fit(100, 1, 240, [], 0, None)

    @given(st.floats(0, 7200), st.integers(1, 20), st.floats(30, 900), st.integers(1, 4))
    def test_more_time_or_benches_never_fit_fewer(self, left: float, waiting: int, each: float, benches: int) -> None:
        fit = bench_fit(left, waiting, each, [], benches, None).fit
        self.assertLessEqual(fit, bench_fit(left + 60, waiting, each, [], benches, None).fit)
        self.assertLessEqual(fit, bench_fit(left, waiting, each, [], benches + 1, None).fit)

    def test_last_time_s_last_goes_first(self) -> None:
        turns = [Turn("Tern", False, 1), Turn("Auk", True, 4), Turn("Rail", False, 3), Turn("Loon", False)]
        # The tested keeps its place; of the others the third of last time goes first, a newcomer last.
        self.assertEqual(fair_order(turns), [2, 1, 0, 3])

    @given(st.lists(st.tuples(st.booleans(), st.integers(0, 9)), max_size=12))
    def test_everybody_has_one_place(self, counts: list[tuple[bool, int]]) -> None:
        turns = [Turn(str(i), tested, last) for i, (tested, last) in enumerate(counts)]
        order = fair_order(turns)
        self.assertEqual(sorted(order), list(range(len(turns))))
        self.assertTrue(all(order[i] == i for i, turn in enumerate(turns) if turn.tested))
