"""What was not like with like, whether it could have decided, and what to test again."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from girder_core.measure import Quantity
from girder_core.results import (
    BreachPolicy,
    Circumstances,
    Entry,
    Rules,
    School,
    TrialRule,
    circumstantial,
    compare,
    like_with_like,
    own_weight_note,
    retests,
)
from girder_core.results.fairness import Difference, contenders
from girder_core.tests.support import NUT_KG, broke, ran_out

MOST = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)
RATIO = Rules(School.STRENGTH_TO_WEIGHT, TrialRule.BEST, BreachPolicy.NOTE)


def entry(name: str, *trials: object, own_g: float | None = 40.0) -> Entry:
    return Entry(name.lower(), name, tuple(trials), None if own_g is None else Quantity(own_g / 1000))  # type: ignore[arg-type]


def differences(*entries: Entry) -> tuple[Difference, ...]:
    return like_with_like(compare(entries, MOST))


class LikeWithLike(unittest.TestCase):
    def test_another_gap_is_named_but_not_one_within_the_tapes_doubt(self) -> None:
        usual = Quantity(0.360, 0.0003)
        tern, auk, skua = (replace(entry(name, broke(40)), gap=usual) for name in ("Tern", "Auk", "Skua"))
        skua = replace(skua, gap=Quantity(0.350, 0.0003))
        auk = replace(auk, gap=Quantity(0.3603, 0.0003))
        (difference,) = differences(tern, auk, skua)
        self.assertEqual(difference.says, "Skua was tested over 350 mm, the others over 360 mm.")
        self.assertEqual(difference.mend, "Test Skua again over 360 mm.")

    def test_a_coarse_last_step_is_named_with_where_to_go_finer(self) -> None:
        (difference,) = differences(entry("Tern", broke(10, 5)))
        self.assertIn("coarse", difference.says)
        self.assertIn("in smaller steps above", difference.mend)

    def test_a_broken_rule_and_another_way_of_weighing_are_named(self) -> None:
        odd = replace(entry("Tern", broke(40)), breaches=("Over the limit.",), self_mass_note="was added up")
        differing = [difference.says for difference in differences(odd)]
        self.assertEqual(differing, ["Tern: own weight was added up.", "Tern: Over the limit."])

    def test_how_it_was_tested_is_told_from_the_facts_alone(self) -> None:
        names = {"deck": "on the deck", "hung": "hung below"}
        circumstances = Circumstances(["the bell was about to ring"], ["hung", "deck", "hung"], ["the same tape"])
        self.assertEqual(
            circumstantial(circumstances, "deck", names),
            (
                "tested before its joints were dry (the bell was about to ring).",
                "tested hung below, most others on the deck.",
                "not kept as agreed: the same tape.",
            ),
        )
        self.assertEqual(circumstantial(Circumstances(arrangements=["deck"]), "deck", names), ())

    def test_how_an_own_weight_was_taken(self) -> None:
        self.assertEqual(own_weight_note(False, False), "")
        self.assertIn("added up", own_weight_note(False, True))
        # Added up after the test is after the test before all.
        self.assertIn("after the test", own_weight_note(True, True))

    def test_more_or_fewer_trials_are_named(self) -> None:
        rows = [entry("Tern", broke(60), broke(50), broke(55)), entry("Auk", broke(58)), entry("Rail", broke(20))]
        self.assertEqual([d.says for d in differences(*rows)], ["Tern was tested 3 times, most others once."])
        rows = [entry("Tern", broke(60), broke(50)), entry("Auk", broke(58), broke(57)), entry("Rail", broke(20))]
        (line,) = differences(*rows)
        self.assertEqual(line.says, "Rail was tested once, most others twice.")
        # Where the last trial counts alone, how many came before it does not matter.
        last = replace(MOST, trial_rule=TrialRule.LAST)
        self.assertEqual(like_with_like(compare(rows, last)), ())

    def test_only_what_concerns_the_first_places_could_have_decided(self) -> None:
        odd = ("was dropped.",)
        rows = [entry("Tern", broke(60)), entry("Auk", broke(50)), entry("Skua", broke(20)), entry("Rail", broke(5))]
        for i, decides in enumerate((True, True, False, False)):
            marked = [replace(row, remarks=odd) if i == j else row for j, row in enumerate(rows)]
            self.assertEqual([difference.decides for difference in differences(*marked)], [decides], rows[i].name)
        # One that ran out below could still pass, so what was odd about it could have decided.
        rows[3] = replace(entry("Rail", ran_out(5)), remarks=odd)
        self.assertTrue(differences(*rows)[0].decides)


class Retests(unittest.TestCase):
    def told(self, rules: Rules, *entries: Entry) -> tuple[str, ...]:
        return retests(compare(entries, rules), rules)

    def test_a_run_out_needs_more_load(self) -> None:
        (line,) = self.told(MOST, entry("Tern", broke(60)), entry("Auk", ran_out(50)))
        self.assertIn("Auk ran out of load at", line)
        # Ten nuts and the grams to tell.
        self.assertIn(f"{1000 * 10 * NUT_KG:.0f} g more", line)
        (both,) = self.told(MOST, entry("Tern", ran_out(60)), entry("Auk", ran_out(50)))
        self.assertIn("both outlasted the load", both)

    def test_of_a_ratio_the_load_is_that_of_the_lighter(self) -> None:
        (line,) = self.told(RATIO, entry("Tern", broke(60), own_g=20), entry("Auk", ran_out(50), own_g=40))
        # To come level with 60 nuts on 20 g, 40 g have to carry 120 nuts: 70 more than 50.
        self.assertIn(f"{70 * NUT_KG:.3f} kg more", line)

    def test_what_more_trials_would_tell(self) -> None:
        # Three trials of Rail scatter by a tenth, so that Tern and Auk may well be the other way round.
        rail = entry("Rail", broke(20), broke(22), broke(18))
        lines = self.told(MOST, entry("Tern", broke(60)), entry("Auk", broke(56)), rail)
        self.assertRegex(
            " ".join(lines), r"after [123] trials? more of (Tern and Auk|Auk and Tern) each it would be about"
        )
        self.assertNotIn("Rail", " ".join(lines))
        # Far ahead, and known to be: nothing is left to find out about who is best.
        self.assertEqual(self.told(MOST, entry("Tern", *[broke(60)] * 4), entry("Auk", *[broke(20)] * 4), rail), ())

    def test_a_void_a_missing_weight_and_a_single_result(self) -> None:
        tern, auk = entry("Tern", *[broke(60)] * 3), entry("Auk", *[broke(12)] * 3)
        lines = self.told(RATIO, tern, auk, entry("Skua", broke(9), own_g=None))
        self.assertEqual(lines, ("Skua: weigh what is left of it, or add its own weight up from materials.",))
        self.assertEqual(self.told(MOST, entry("Tern", broke(60))), ())

    @given(st.lists(st.tuples(st.integers(1, 80), st.booleans()), min_size=1, max_size=8))
    def test_every_line_once_and_contenders_among_the_ranked(self, loads: list[tuple[int, bool]]) -> None:
        entries = [entry(f"T{i}", (ran_out if out else broke)(n)) for i, (n, out) in enumerate(loads)]
        comparison = compare(entries, MOST)
        lines = retests(comparison, MOST)
        self.assertEqual(len(lines), len(set(lines)))
        self.assertLessEqual(contenders(comparison), {place.entry.key for place in comparison.places})
        self.assertIn(comparison.places[0].entry.key, contenders(comparison))
