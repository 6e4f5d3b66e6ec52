import unittest

from girder_core.families import FAMILIES, check_setup, family_of
from girder_core.measure import System
from girder_core.planning import brief_lines, goal_in_words
from girder_core.planning.brief import mix_in_words
from girder_core.results import BreachPolicy, Rules, School, TieRule, TrialRule
from girder_core.safety import AgeBand

RULES = Rules(School.STRENGTH_TO_WEIGHT, TrialRule.BEST, BreachPolicy.PENALTY, 0.1)


class Lines(unittest.TestCase):
    def told(self, **changes: float | None) -> dict[str, str]:
        setup = check_setup("bridge", {"gap_m": 0.36, **changes})
        return {line.term: line.text for line in brief_lines(family_of("bridge"), setup, RULES, 22)}

    def test_a_bridge(self) -> None:
        lines = self.told(overlap_min_m=0.022, overlap_max_m=0.048, target_kg=0.8)
        self.assertEqual(lines["Spans"], "360 mm with nothing under it")
        self.assertEqual(lines["Rests"], "at least 22 mm, at most 48 mm on each side")
        self.assertEqual(lines["Aim for"], "800 g")
        self.assertEqual(lines["Time"], "22 minutes to build")
        self.assertEqual(lines["Rules"], "a broken rule costs 10 %")

    def test_what_has_no_limit_is_not_told(self) -> None:
        lines = self.told(overlap_max_m=0.048)
        self.assertEqual(lines["Rests"], "at most 48 mm on each side")
        self.assertNotIn("Tape", lines)

    def test_every_family_tells_its_rules_in_either_system(self) -> None:
        for family in FAMILIES.values():
            setup = family.usual(AgeBand.AGES_11_13)
            for system in System:
                lines = brief_lines(family, setup, RULES, 20, system)
                self.assertGreater(len(lines), 4)
                self.assertEqual(len({line.term for line in lines}), len(lines))
                self.assertFalse([line for line in lines if "{" in line.text or "None" in line.text])

    def test_the_goal(self) -> None:
        self.assertEqual(
            goal_in_words(RULES), "times its own weight; best trial counts; if equal, the lighter is first"
        )
        mix = Rules(School.MIX, TrialRule.MEAN, BreachPolicy.NOTE, 0, TieRule.SHARED,
                    {School.MOST_HELD: 1, School.STRENGTH_TO_WEIGHT: 3})  # fmt: skip
        self.assertEqual(mix_in_words(mix.weights), "75 % times its own weight, 25 % most load held")
        self.assertIn("they share the place", goal_in_words(mix))
