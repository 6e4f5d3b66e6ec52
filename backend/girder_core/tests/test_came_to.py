"""What was carried is told as carried, and a penalty beside it; by hand, with nuts of 16 g."""

import unittest
from dataclasses import replace

from girder_core.families import family_of
from girder_core.kit import Kit
from girder_core.measure import Quantity, System
from girder_core.results import (
    BreachPolicy,
    Entry,
    Rules,
    School,
    Score,
    TrialRule,
    Varied,
    after_penalty,
    came_to,
    compare,
    counts_as,
    like_with_like,
    ranking_chart,
    retests,
    score_all,
    varied_on_purpose,
)
from girder_core.results.came_to import plain_value
from girder_core.tests.support import broke, ran_out
from girder_core.trial import Event, EventKind, replay

TENTH_OFF = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.PENALTY, 0.1)
RULE = "32 cm of tape, 20 cm are allowed."


def entry(name: str, *trials: object, breaches: tuple[str, ...] = ()) -> Entry:
    return Entry(name.lower(), name, tuple(trials), Quantity(0.04), breaches)  # type: ignore[arg-type]


def scored(one: Entry, rules: Rules) -> Score:
    (score,) = score_all([one.candidate()], rules)
    assert isinstance(score, Score)
    return score


class Penalised(unittest.TestCase):
    def setUp(self) -> None:
        # 60 nuts are 960 g; less a tenth 864 g. Tern carried 55, 880 g.
        self.gannet = entry("Gannet", ran_out(60), breaches=(RULE,))
        self.tern = entry("Tern", broke(55))

    def test_what_it_carried_is_no_score_after_penalty(self) -> None:
        score = scored(self.gannet, TENTH_OFF)
        self.assertAlmostEqual(score.value, 0.864)
        self.assertAlmostEqual(plain_value(score, TENTH_OFF), 0.960)
        self.assertEqual(came_to(score, TENTH_OFF), "at least 960 g")
        self.assertEqual(counts_as(score, TENTH_OFF), "counts as 864 g, 10 % off")
        self.assertEqual(after_penalty(score, (RULE,), TENTH_OFF),
                         f"It counts as 864 g, 10 % off for a broken rule: {RULE}")  # fmt: skip

    def test_without_one_there_is_nothing_to_tell(self) -> None:
        score = scored(self.tern, TENTH_OFF)
        self.assertEqual((came_to(score, TENTH_OFF), counts_as(score, TENTH_OFF)), ("880 g", ""))
        self.assertEqual(after_penalty(score, (), TENTH_OFF), "")

    def test_the_winner_is_told_by_what_it_carried(self) -> None:
        won = compare([replace(self.gannet, trials=(broke(70),)), self.tern], TENTH_OFF)
        self.assertIn("Gannet carried 1.120 kg. It counts as 1.008 kg, 10 % off", won.explanation)
        self.assertIn(RULE, won.explanation)

    def test_what_to_add_goes_by_what_was_on_it(self) -> None:
        # To pass 880 g after a tenth is off, it has to hold 978 g: 18 g more than it did.
        said = " ".join(retests(compare([self.tern, self.gannet], TENTH_OFF), TENTH_OFF))
        self.assertIn("ran out of load at 960 g", said)
        self.assertNotIn("864", said)

    def test_a_bar_says_what_was_carried_and_the_table_has_both(self) -> None:
        done = compare([self.gannet, self.tern], TENTH_OFF)
        chart = ranking_chart(done, TENTH_OFF, {"gannet": "Gannet", "tern": "Tern"}, {}, System.METRIC)
        words = [shape.text for shape in chart.drawn]
        self.assertIn("counts as 864 g, 10 % off; ran out of load", words)
        self.assertIn("960 g", words)
        self.assertNotIn("864 g", words)
        rows = {row[1]: row for row in chart.rows}
        self.assertEqual(rows["Gannet"][2], "at least 960 g; counts as 864 g, 10 % off")
        self.assertEqual(rows["Tern"][2], "880 g")

    def test_points_of_a_mix_say_only_how_much_is_off(self) -> None:
        mix = replace(TENTH_OFF, school=School.MIX, weights={School.MOST_HELD: 1.0})
        score = scored(self.gannet, mix)
        self.assertEqual(counts_as(score, mix), "10 % off")
        self.assertEqual(after_penalty(score, (), mix), "It has 10 % off for a broken rule.")


class OnAShakeTable(unittest.TestCase):
    def test_what_went_and_how_far_into_its_level_is_told(self) -> None:
        tower = family_of("shake_tower")
        terms = {"stroke_m": 0.03, "frequency_hz": 1.0, "frequency_step_hz": 0.5, "levels": 3, "hold_s": 5}
        story: list[tuple[EventKind, dict[str, object]]] = [
            (EventKind.ROUND, {}), (EventKind.SETTLE, {"waited_s": 5}), (EventKind.ROUND, {}),
            (EventKind.FAIL, {"mode": "joint", "after_s": 3.2}),
        ]  # fmt: skip
        events = [Event(f"e{n}", n, kind, data) for n, (kind, data) in enumerate(story, start=1)]
        trial = replay(events, tower.trial_setup(terms, Kit(())))
        rules = replace(TENTH_OFF, school=School.SURVIVED, survived_kind=tower.survived_kind)
        entries = [replace(entry("Tern", trial), facts=tower.facts({}, (trial,), TrialRule.BEST))]
        chart = ranking_chart(compare(entries, rules), rules, {"tern": "Tern"}, {"tern": "Joint opened"}, System.METRIC)
        self.assertIn("joint opened after 3.2 s", [shape.text for shape in chart.drawn])
        self.assertIn("Joint opened after 3.2 s", chart.rows[0])


class AWall(unittest.TestCase):
    def test_both_sides_have_their_score(self) -> None:
        wall = family_of("wall")
        setup = wall.trial_setup({"throws": 4}, Kit(()))
        story: list[tuple[EventKind, dict[str, object]]] = [
            (EventKind.ROUND, {"hit": True}),
            (EventKind.ROUND, {"hit": False}),
            (EventKind.ROUND, {"hit": True}),
            (EventKind.ROUND, {"hit": True}),
            (EventKind.MEASURE, {"key": "left", "text": "15", "resolution": "1"}),
            (EventKind.FINISH, {}),
        ]
        trial = replay([Event(f"e{n}", n, kind, data) for n, (kind, data) in enumerate(story, start=1)], setup)
        self.assertEqual(trial.refused, ())
        rules = replace(TENTH_OFF, school=School.LEFT_STANDING)
        built = {"pieces": Quantity(20.0), "height": Quantity(0.3), "length": Quantity(1.0)}
        entries = [replace(entry("Tern", trial), facts=wall.facts(built, (trial,), TrialRule.BEST))]
        comparison = compare(entries, rules)
        self.assertEqual([reason for _, reason in comparison.unranked], [])
        chart = ranking_chart(comparison, rules, {"tern": "Tern"}, {}, System.METRIC)
        # 15 of 20 left: a quarter is down.
        self.assertIn("attackers: 25 % down, 3 of 4 hit", [shape.text for shape in chart.drawn])
        self.assertIn("attackers: 25 % down, 3 of 4 hit", chart.rows[0])


class BrokeAt(unittest.TestCase):
    def test_it_is_the_load_that_was_on(self) -> None:
        # Held 10 nuts, went under 13: 208 g, however far the masses can be off.
        for rule, trials, kg in (
            (TrialRule.BEST, (broke(10, 3), broke(4, 1)), 0.208),
            (TrialRule.LAST, (broke(10, 3), broke(4, 1)), 0.080),
            (TrialRule.MEAN, (broke(10, 3), broke(4, 1)), 0.144),
        ):
            score = scored(entry("Tern", *trials), replace(TENTH_OFF, trial_rule=rule))
            assert score.broke_kg is not None
            self.assertAlmostEqual(score.broke_kg, kg)

    def test_what_ran_out_broke_at_nothing(self) -> None:
        self.assertIsNone(scored(entry("Tern", ran_out(10)), TENTH_OFF).broke_kg)
        mean = replace(TENTH_OFF, trial_rule=TrialRule.MEAN)
        self.assertIsNone(scored(entry("Tern", ran_out(10), broke(5)), mean).broke_kg)


class OnPurpose(unittest.TestCase):
    WAYS = {
        "fixed": "Fixed to the base It stands on the moving plate.",
        "isolated": "On an isolating layer Marbles or a sliding tray lie under it.",
    }

    def test_levels_that_name_two_ways_of_setting_up(self) -> None:
        self.assertEqual(varied_on_purpose("isolation", ["fixed", "on marbles"], self.WAYS), {Varied.ARRANGEMENT})
        self.assertEqual(varied_on_purpose("isolation", ["Fixed", "Isolated"], self.WAYS), {Varied.ARRANGEMENT})

    def test_one_way_named_is_no_purpose(self) -> None:
        for levels in (["fixed", "loose"], ["three feet", "four feet"], ["one", "two"]):
            self.assertEqual(varied_on_purpose("feet", levels, self.WAYS), frozenset(), levels)

    def test_a_gap_that_is_varied(self) -> None:
        self.assertEqual(varied_on_purpose("gap", ["30 cm", "40 cm"], {}), {Varied.GAP})
        self.assertEqual(varied_on_purpose("how far", ["short span", "long span"], {}), {Varied.GAP})
        self.assertEqual(varied_on_purpose("spanner", ["wide", "narrow"], {}), frozenset())

    def test_gaps_are_held_against_their_own_level(self) -> None:
        def over(name: str, gap_m: float, level: str) -> Entry:
            return replace(entry(name, broke(10)), gap=Quantity(gap_m, 0.0003), gap_of=level)

        fair = [over("A", 0.3, "30"), over("B", 0.3, "30"), over("C", 0.4, "40"), over("D", 0.4, "40")]
        self.assertEqual(like_with_like(compare(fair, TENTH_OFF)), ())
        # One that is wide among the narrow ones is still told, and so is a gap that nobody meant to vary.
        odd = [*fair, over("E", 0.35, "30")]
        self.assertEqual([line.key for line in like_with_like(compare(odd, TENTH_OFF))], ["e"])
        unmeant = [replace(one, gap_of="") for one in fair]
        self.assertEqual({line.key for line in like_with_like(compare(unmeant, TENTH_OFF))}, {"a", "b"})
