"""Result charts: what is drawn stands where its value is, nothing leaves the sheet, and the table has the same figures.

Invented designs; distances are worked out beside them.
"""

import math
import unittest
from collections.abc import Iterable
from itertools import combinations

from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from girder_core.measure import Kind, Quantity, System
from girder_core.results import (
    BreachPolicy,
    Chain,
    Chart,
    Comparison,
    Drawn,
    Entry,
    Facts,
    Gain,
    Ink,
    Mark,
    Member,
    Placed,
    Rules,
    School,
    TrialRule,
    VerdictKind,
    against_chart,
    compare,
    endings_chart,
    factor_chart,
    factor_effect,
    fit_loads,
    foresee,
    foresight_chart,
    gain_in_words,
    mean_of,
    ranking_chart,
    rays_chart,
    repeats_line,
    survival,
    survival_chart,
    tally,
    trend,
    versions_chart,
)
from girder_core.results.charting import Axis, axis_of, ticks
from girder_core.tests import tries
from girder_core.tests.support import NUT_KG, broke, ran_out
from girder_core.trial import Interval, TrialResult

METRIC, US = System.METRIC, System.US
LEFT = 292.0


def rules(school: School = School.MOST_HELD, **more: object) -> Rules:
    return Rules(school, TrialRule.BEST, BreachPolicy.NOTE, **more)  # type: ignore[arg-type]


def entry(name: str, *trials: TrialResult, own_g: float | None = 40.0, **more: object) -> Entry:
    own = None if own_g is None else Quantity(own_g / 1000, 0.0001)
    return Entry(name, name, tuple(trials), own, **more)  # type: ignore[arg-type]


def ranked(*entries: Entry, by: Rules | None = None) -> tuple[Comparison, Chart]:
    by = by or rules()
    comparison = compare(entries, by)
    names = {entry.key: entry.name for entry in entries}
    return comparison, ranking_chart(comparison, by, names, dict.fromkeys(names, "Crimped"), METRIC)


def of(chart: Chart, ink: Ink, kind: str = "") -> list[Drawn]:
    return [shape for shape in chart.drawn if shape.ink is ink and kind in ("", shape.kind)]


def edges(shape: Drawn) -> tuple[float, float]:
    return min(x for x, _ in shape.points), max(x for x, _ in shape.points)


def texts(chart: Chart) -> set[str]:
    return {shape.text for shape in chart.drawn if shape.kind == "words"}


class Ranking(unittest.TestCase):
    def test_bars_are_as_long_as_their_values(self) -> None:
        _, chart = ranked(entry("Tern", broke(40)), entry("Auk", broke(10)))
        long, short = (edges(bar)[1] - LEFT for bar in of(chart, Ink.KNOWN))
        self.assertAlmostEqual(long / short, 4)

    def test_hatching_covers_both_ends_of_what_is_not_known(self) -> None:
        # A mass that can be off makes the lower end uncertain too.
        comparison, chart = ranked(
            entry("Tern", broke(40, 5)), entry("Auk", broke(10)), by=rules(School.STRENGTH_TO_WEIGHT)
        )
        place = comparison.places[0]
        self.assertLess(place.score.interval.low, place.score.value)
        (left, right), known = edges(of(chart, Ink.UNKNOWN)[0]), edges(of(chart, Ink.KNOWN)[0])[1]
        per_unit = (known - LEFT) / place.score.value
        self.assertAlmostEqual(left, LEFT + per_unit * place.score.interval.low)
        self.assertAlmostEqual(right, LEFT + per_unit * place.score.interval.high)
        self.assertLess(left, known)

    def test_what_ran_out_is_open_and_says_so(self) -> None:
        _, chart = ranked(entry("Tern", ran_out(30)), entry("Auk", broke(10)))
        self.assertIn("ran out of load", texts(chart))
        point = of(chart, Ink.UNKNOWN)[0]
        self.assertEqual(len(point.points), 5)
        self.assertEqual(edges(point)[1], chart.width - 136)
        self.assertEqual(chart.rows[0][2], "at least 480 g")
        self.assertEqual(chart.rows[0][4], "did not break")

    def test_a_verdict_stands_between_two_rows_and_its_ink_says_whether_it_is_open(self) -> None:
        comparison, chart = ranked(entry("Tern", broke(20, 10)), entry("Auk", broke(19, 10)), entry("Rail", broke(2)))
        heights = [shape for shape in chart.drawn if shape.text.startswith("↕")]
        self.assertEqual(len(heights), 2)
        for place, shape in zip(comparison.places, heights, strict=False):
            assert place.against_next is not None
            opened = place.against_next.kind in (VerdictKind.TOO_CLOSE, VerdictKind.CANNOT_SAY)
            self.assertEqual(shape.ink, Ink.UNSURE if opened else Ink.SURE)

    def test_a_tower_that_has_to_hold_something_is_measured_and_needs_its_trial(self) -> None:
        by = rules(School.TALLEST, minimum_kg=0.1)
        tall = [entry(name, broke(20), facts=Facts(size=Quantity(size, 0.001))) for name, size in
                (("Tern", 1.2), ("Auk", 0.8))]  # fmt: skip
        _, chart = ranked(*tall, by=by)
        self.assertIn("Solid: measured", chart.legend)
        # What it held is in the table, since it had to hold it.
        self.assertEqual(chart.rows[0][2:4], ("1.2 m", "320 g"))
        # Without a load to hold, nothing is said of one.
        _, free = ranked(*tall, by=rules(School.TALLEST))
        self.assertEqual(free.rows[0][3:5], ("–", "–"))

    def test_a_target_has_its_line_and_a_mix_its_parts(self) -> None:
        _, chart = ranked(
            entry("Tern", broke(40)), entry("Auk", broke(10)), by=rules(School.THRESHOLD, minimum_kg=0.32)
        )
        (target,) = of(chart, Ink.TARGET)
        tern, auk = (edges(bar)[1] for bar in of(chart, Ink.KNOWN))
        # 640 g and 160 g of 320 g: twice, and half, the way to the line.
        self.assertAlmostEqual((target.points[0][0] - LEFT) * 2, tern - LEFT)
        self.assertAlmostEqual((target.points[0][0] - LEFT) / 2, auk - LEFT)
        self.assertTrue({"2.00 ×, passes", "0.50 ×, not yet"} <= texts(chart))
        mix = rules(School.MIX, weights={School.MOST_HELD: 1.0, School.STRENGTH_TO_WEIGHT: 3.0})
        _, mixed = ranked(entry("Tern", broke(40)), entry("Auk", broke(10)), by=mix)
        self.assertEqual(len(of(mixed, Ink.GAP)), 2)
        self.assertIn("most load held 25 + times its own weight 75", texts(mixed))

    @settings(max_examples=tries(40))
    @given(
        st.lists(st.tuples(st.integers(0, 60), st.integers(1, 20), st.booleans(), st.floats(1, 400)), min_size=1,
                 max_size=9),
        st.sampled_from([School.MOST_HELD, School.STRENGTH_TO_WEIGHT, School.THRESHOLD]),
        st.sampled_from(list(System)),
    )  # fmt: skip
    def test_nothing_leaves_the_sheet(
        self, rows: list[tuple[int, int, bool, float]], school: School, system: System
    ) -> None:
        entries = [
            entry(f"Team {i}", ran_out(held) if out and held else broke(held, step), own_g=grams)
            for i, (held, step, out, grams) in enumerate(rows)
        ]
        by = rules(school, minimum_kg=0.3)
        comparison = compare(entries, by, system)
        names = {entry.key: entry.name for entry in entries}
        for chart in (ranking_chart(comparison, by, names, {}, system), rays_chart(comparison, names, system)):
            if chart is not None:
                self.inside(chart)
                self.readable(chart)
                self.assertEqual(len({len(row) for row in chart.rows} | {len(chart.head)}), 1)

    def readable(self, chart: Chart) -> None:
        """A result stands on what is known, which is dark, or on paper; it is never written half over the edge."""
        bars = [(*edges(bar), *(f(y for _, y in bar.points) for f in (min, max))) for bar in of(chart, Ink.KNOWN)]
        for shape in chart.drawn:
            if not shape.why.startswith("result:"):
                continue
            x, y = shape.points[0]
            ends = x + 0.55 * shape.size * len(shape.text)
            left, right = next((a, b) for a, b, top, bottom in bars if top < y < bottom)
            if shape.ink is Ink.ON_BAR:
                self.assertTrue(left < x and ends < right, (shape, right))
            else:
                self.assertGreater(x, right, shape)
                # Before the column of what would come again.
                self.assertLess(ends, chart.width - 104, shape)
                self.assertGreater(shape.size, 8, shape)

    def inside(self, chart: Chart) -> None:
        for shape in chart.drawn:
            for x, y in shape.points:
                self.assertTrue(-1e-6 <= x <= chart.width + 1e-6, (shape, chart.width))
                self.assertTrue(-12 <= y <= chart.height + 1e-6, (shape, chart.height))


class Rays(unittest.TestCase):
    def drawn(self, system: System = METRIC, **own_g: float) -> Chart:
        entries = [entry(name, broke(20), own_g=grams) for name, grams in own_g.items()]
        chart = rays_chart(compare(entries, rules()), {entry.key: entry.name for entry in entries}, system)
        assert chart is not None
        return chart

    def test_marks_stand_where_own_weight_and_load_are(self) -> None:
        chart = self.drawn(Tern=20, Auk=40)
        at = {shape.key: shape.points[0] for shape in chart.drawn if shape.kind == "mark"}
        self.assertAlmostEqual((at["Auk"][0] - 48) / (at["Tern"][0] - 48), 2)
        self.assertEqual(at["Auk"][1], at["Tern"][1])

    def test_axes_have_round_numbers_in_the_teachers_units(self) -> None:
        def ticks_of(chart: Chart, words: Iterable[str]) -> dict[str, float]:
            return {
                shape.text: shape.points[0][0]
                for shape in chart.drawn
                if shape.text in words and shape.anchor == "middle"
            }

        gram = ticks_of(self.drawn(Tern=20, Auk=40), ("10", "30"))
        ounce = ticks_of(self.drawn(US, Tern=20, Auk=40), ("0.5", "1"))
        # An ounce is 28.349523125 g (international avoirdupois ounce).
        per_gram = (gram["30"] - gram["10"]) / 20
        self.assertAlmostEqual(ounce["1"] - ounce["0.5"], per_gram * 28.349523125 / 2)

    def test_names_of_near_designs_stand_apart(self) -> None:
        chart = self.drawn(Tern=30.0, Auk=30.1, Rail=30.2)
        labels = [shape for shape in chart.drawn if shape.text in ("Tern", "Auk", "Rail")]

        def box(shape: Drawn) -> tuple[float, float, float]:
            (x, y), long = shape.points[0], 0.5 * 17 * len(shape.text)
            return (x - long if shape.anchor == "end" else x, x if shape.anchor == "end" else x + long, y)

        for label, other in combinations(labels, 2):
            (left, right, y), (other_left, other_right, other_y) = box(label), box(other)
            self.assertTrue(abs(y - other_y) >= 17 or right <= other_left or other_right <= left, (label, other))

    def test_one_design_says_nothing(self) -> None:
        self.assertIsNone(rays_chart(compare([entry("Tern", broke(5))], rules()), {"Tern": "Tern"}, METRIC))


class Reasons(unittest.TestCase):
    def test_a_strip_marks_every_trial_and_the_mean(self) -> None:
        def member(name: str, level: str, *loads: float) -> Member:
            return Member(name, name, level, max(loads), False, tuple(Mark(load, load > 2) for load in loads))

        members = [member("a", "flat", 1.0, 0.5), member("b", "flat", 0.5), member("c", "folded", 3.0)]
        chart = factor_chart(factor_effect(members, ["flat", "folded"]), "folds", rules(), METRIC)
        dots = [shape.points[0][0] - 128 for shape in chart.drawn if shape.kind == "circle"]
        self.assertEqual(len(dots), 4)
        self.assertAlmostEqual(max(dots) / dots[0], 3)
        self.assertEqual(len(of(chart, Ink.TRIAL_OPEN)), 1)
        # Designs of 1.0 and 0.5 kg: their mean is 0.75 kg.
        self.assertAlmostEqual((of(chart, Ink.MEAN)[0].points[0][0] - 128) / dots[0], 0.75)
        self.assertEqual([row[1] for row in chart.rows], ["a", "b", "c"])

    def test_what_was_said_stands_where_it_was_said(self) -> None:
        teams = [
            foresee("a", "Tern", 2.0, 1.0, Interval(1.0, 1.1)),
            foresee("b", "Auk", 0.5, 1.0, Interval(1.0, math.inf)),
        ]
        model = [foresee("a", "Tern", 1.05, 1.0, Interval(1.0, 1.1))]
        chart = foresight_chart(teams, model, {"a": "Tern", "b": "Auk"}, "Half were right.", METRIC)
        assert chart is not None
        said = [shape.points[0][0] - 128 for shape in of(chart, Ink.SAID)]
        held = [edges(shape)[1] - 128 for shape in of(chart, Ink.KNOWN)]
        self.assertAlmostEqual(said[0] / held[0], 2)
        self.assertAlmostEqual(said[1] / held[1], 0.5)
        self.assertEqual(chart.rows[0][3], "1.050 kg, right (+5 %)")
        self.assertEqual(chart.rows[1][1], "at least 1.000 kg")
        self.assertIsNone(foresight_chart([], [], {}, "", METRIC))

    def test_results_against_what_differed(self) -> None:
        points = [
            Placed("a", "Tern", 0.30, 1.0, False),
            Placed("b", "Auk", 0.36, 2.0, True),
            Placed("c", "Rail", 0.42, 3.0, False),
        ]
        line = trend("Gap", [point.value for point in points], [point.score for point in points])
        chart = against_chart("gap", "Gap", Kind.LENGTH, points, line, rules(), METRIC)
        at = {shape.key: shape.points[0] for shape in chart.drawn if shape.kind == "mark"}
        self.assertAlmostEqual(at["b"][0] - at["a"][0], at["c"][0] - at["b"][0])
        self.assertAlmostEqual(at["a"][1] - at["b"][1], at["b"][1] - at["c"][1])
        self.assertEqual(chart.rows[1], ("Auk", "360 mm", "at least 2 kg"))
        self.assertEqual({shape.key for shape in of(chart, Ink.TEAM_OPEN)}, {"b"})

    def test_how_trials_ended_is_counted_in_blocks(self) -> None:
        ways = tally([("crimp", "Tern"), ("crimp", "Auk"), ("slip", "Rail")])
        chart = endings_chart(ways, {"crimp": "Crimped", "slip": "Slipped"})
        assert chart is not None
        self.assertEqual(len(of(chart, Ink.COUNTED)), 3)
        self.assertIn("crimped, 2 times", chart.says)
        self.assertIsNone(endings_chart([], {}))

    def test_the_fitted_curve_is_the_standard_librarys(self) -> None:
        loads = [0.6, 0.9, 1.0, 1.3, 1.8]
        fit = fit_loads([Interval(kg, 1.05 * kg) for kg in loads])
        assert fit is not None
        chart = survival_chart(survival(loads, [True] * 5), fit, "", METRIC)
        assert chart is not None
        (curve,) = of(chart, Ink.FITTED)
        most, (left, right) = 1.3 * 1.8, (52.0, chart.width - 20.0)
        for x, y in curve.points[::7]:
            kg = (x - left) / (right - left) * most
            share = 1 - (y - 12.0) / (chart.height - 12.0 - 44.0)
            self.assertAlmostEqual(share, 1 - stats.norm.cdf((math.log(kg) - fit.mu) / fit.sigma), places=9)
        self.assertEqual(len(chart.rows), 5)
        self.assertEqual(chart.rows[-1][1], "0 %")

    def test_repeats_in_a_line(self) -> None:
        marks = [Mark(1.0, False), Mark(1.2, False), Mark(1.1, True)]
        line = repeats_line("Tern", marks, mean_of([1.0, 1.2, 1.1]), rules(), METRIC)
        self.assertTrue(line.startswith("Tern: 1 kg, 1.2 kg, ≥ 1.1 kg; mean 1.1 kg, scatter 9 %."), line)


class Versions(unittest.TestCase):
    def gained(self, value: float, kind: VerdictKind = VerdictKind.LIKELY) -> Gain:
        return Gain(value, Interval(value, value), False, kind, "")

    def test_a_doubling_takes_as_much_height_as_a_halving(self) -> None:
        chart = versions_chart(
            [Chain("a", "Tern", [(2, self.gained(1.0, VerdictKind.CLEAR))]),
             Chain("b", "Auk", [(2, self.gained(-0.5))]), Chain("c", "Rail", [(2, None)])],
        )  # fmt: skip
        assert chart is not None
        (sure,), (unsure,) = of(chart, Ink.TEAM_SURE), of(chart, Ink.TEAM_OPEN)
        first = sure.points[0][1]
        self.assertAlmostEqual(first - sure.points[1][1], unsure.points[1][1] - first)
        self.assertEqual(chart.rows[1], ("Tern", "2", "200 %"))
        self.assertNotIn("Rail", [row[0] for row in chart.rows])
        self.assertIsNone(versions_chart([Chain("c", "Rail", [(2, None)])]))

    def test_a_line_breaks_off_where_a_gain_is_not_known(self) -> None:
        chart = versions_chart([Chain("a", "Tern", [(2, self.gained(0.5)), (3, None), (4, self.gained(1.0))])])
        assert chart is not None
        self.assertEqual([row[1] for row in chart.rows], ["1", "2"])

    def test_in_words(self) -> None:
        self.assertEqual(gain_in_words(self.gained(0.35)), "+35 %, likely, not clear")
        self.assertEqual(gain_in_words(self.gained(-0.2, VerdictKind.TOO_CLOSE)), "−20 %, no more than chance")
        self.assertEqual(gain_in_words(self.gained(math.inf)), "gain not known")
        least = Gain(0.5, Interval(0.5, math.inf), True, VerdictKind.CLEAR, "")
        self.assertEqual(gain_in_words(least), "at least +50 %, clear")


class Axes(unittest.TestCase):
    def test_round_numbers(self) -> None:
        self.assertEqual(ticks(10, 5), (0, 2, 4, 6, 8, 10))
        self.assertEqual(ticks(0.07, 5), (0, 0.02, 0.04, 0.06))
        self.assertEqual(ticks(0), (0.0,))
        self.assertEqual(ticks(math.inf), (0.0,))

    @given(st.floats(1e-6, 1e6), st.integers(2, 9))
    def test_not_too_many_and_none_beyond_the_end(self, most: float, wanted: int) -> None:
        marks = ticks(most, wanted)
        self.assertLessEqual(marks[-1], most * (1 + 1e-9))
        self.assertTrue(wanted / 2.6 <= len(marks) <= wanted + 1, marks)

    def test_units_by_what_wins(self) -> None:
        self.assertEqual(axis_of(rules()), Axis(1.0, "kg"))
        self.assertEqual(axis_of(rules(), US).symbol, "lb")
        self.assertEqual(axis_of(rules(School.TALLEST)).text(0.812), "812 mm")
        self.assertEqual(axis_of(rules(School.SURVIVED, survived_kind=Kind.LENGTH), US).symbol, "in")
        self.assertEqual(axis_of(rules(School.LEFT_STANDING)).text(0.42), "42 %")
        self.assertEqual(axis_of(rules()).text(NUT_KG * 1000), "16 kg")
