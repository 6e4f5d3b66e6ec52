"""Signs that measurements at the bench speak for: asked about when something grew, and never by chance alone."""

import unittest

from girder_core.families import FAMILIES, family_of
from girder_core.ground import GirderError
from girder_core.measure import System
from girder_core.photo import Way
from girder_core.tests.support import Script, kit
from girder_core.trial import EventKind, TrialSetup, noticed, to_be_followed, to_be_pictured


def column() -> TrialSetup:
    return family_of("column").trial_setup({"hold_s": 5.0}, kit())


class Followed(unittest.TestCase):
    def test_what_comes_down_or_leans_while_the_trial_goes_on(self) -> None:
        rules, script = column(), Script().hold("platform")
        self.assertEqual(to_be_followed(script.result(rules), rules, "lean")[1], Way.ASIDE)
        self.assertEqual(to_be_followed(script.result(rules), rules, "shorter")[1], Way.DOWN)
        ended = script.place().fail("leaned").result(rules)
        tower = family_of("tower").trial_setup({"hold_s": 5.0}, kit())
        for code, result, setup, key in (
            ("unknown_measure", Script().result(rules), rules, "sag"), ("trial_over", ended, rules, "lean"),
            ("not_followed", Script().result(tower), tower, "height"),
        ):  # fmt: skip
            with self.subTest(code), self.assertRaises(GirderError) as caught:
                to_be_followed(result, setup, key)
            self.assertEqual(caught.exception.code, code)


class Pictured(unittest.TestCase):
    def test_lengths_that_do_not_move_once_the_ledger_would_take_them(self) -> None:
        boat = family_of("boat").trial_setup({"hold_s": 5.0}, kit())
        self.assertEqual(to_be_pictured(Script().result(boat), boat, "freeboard").key, "freeboard")
        tower = family_of("tower").trial_setup({"hold_s": 5.0}, kit())
        rules = column()
        ended = Script().hold("platform").place().fail("leaned").result(rules)
        for code, result, setup, key in (
            ("unknown_measure", Script().result(boat), boat, "sag"), ("not_pictured", ended, rules, "lean"),
            ("measured_too_early", Script().result(tower), tower, "height"),
        ):  # fmt: skip
            with self.subTest(code), self.assertRaises(GirderError) as caught:
                to_be_pictured(result, setup, key)
            self.assertEqual(caught.exception.code, code)


class Leaning(unittest.TestCase):
    def leans(self, script: Script, text: str, step: str = "1 mm") -> Script:
        return script.add(EventKind.MEASURE, key="lean", text=text, resolution=step, source="picture")

    def noticed(self, script: Script) -> list[str]:
        rules = column()
        return [one.sentence for one in noticed(script.result(rules), rules, System.METRIC)]

    def test_more_than_at_the_step_before_is_asked_about(self) -> None:
        script = self.leans(Script().hold("platform").hold(), "2 mm")
        # 2 mm with a step of 1 mm is more than nothing: ± 0.6 mm.
        (first,) = self.noticed(script)
        self.assertIn("with nothing on it", first)
        self.leans(script.hold(), "6 mm")
        (sentence,) = self.noticed(script)
        self.assertEqual(
            sentence, "Lean of the top: 4 mm more than at the step before, give or take 0.8 mm. Do you see it?"
        )

    def test_what_both_readings_may_be_off_by_is_nothing_new(self) -> None:
        script = self.leans(Script().hold("platform").hold(), "6 mm")
        script.add(EventKind.OBSERVE, sign="lean")
        # The difference of two readings to the millimetre is known to √2 × 2 × 1 mm / √12 = 0.82 mm.
        self.assertEqual(self.noticed(self.leans(script.hold(), "6.7 mm")), [])
        self.assertEqual(len(self.noticed(self.leans(script, "7 mm"))), 1)

    def test_it_is_asked_once_under_each_load_and_never_of_one_that_has_ended(self) -> None:
        script = self.leans(Script().hold("platform").hold(), "6 mm")
        script.add(EventKind.OBSERVE, sign="lean")
        self.assertEqual(self.noticed(script), [])
        self.leans(script.hold(), "12 mm")
        self.assertEqual(len(self.noticed(script)), 1)
        self.assertEqual(self.noticed(script.place().fail("leaned")), [])

    def test_what_is_asked_about_can_be_written_down(self) -> None:
        for family in FAMILIES.values():
            signs = {mode.key for mode in family.observations}
            for spec in family.bench.measures:
                if spec.sign:
                    with self.subTest(family.key):
                        self.assertIn(spec.sign, signs)
                        self.assertIsNotNone(spec.way)
