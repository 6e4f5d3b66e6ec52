"""Why a number is what it is: each formula that is said, worked out from the inputs that are said, gives the figure."""

import math
import random
import re
import unittest
from collections.abc import Sequence

from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.special import ndtr, ndtri

from girder_core.drafting import KINDS, draft, draft_origins
from girder_core.families import FAMILIES, fact_origin, family_of
from girder_core.ground import Entered, GirderError, Origin
from girder_core.kit import Known, LoadEstimate, cover_origins, estimate_origin, item_origin, kit_covers
from girder_core.measure import (
    Kind,
    Quantity,
    System,
    Take,
    TypedReading,
    added_origin,
    item_mass_kg,
    measure,
    reading_origin,
    repeated,
)
from girder_core.measure.readings import Plausible
from girder_core.planning import Answers, consequences, plan_origins, propose
from girder_core.results import (
    BreachPolicy,
    Candidate,
    Entry,
    Facts,
    Parts,
    Rules,
    School,
    Score,
    TrialRule,
    compare,
    footnotes,
    score_all,
    score_origin,
    standing_origins,
)
from girder_core.safety import AgeBand
from girder_core.tests import tries
from girder_core.tests.anything import any_ledger, small_kit
from girder_core.tests.support import Script, broke, kit, ran_out
from girder_core.tests.test_planning import plan_of
from girder_core.trial import EventKind, TrialResult, held_origin, replay

MARIT = Entered("Marit", "2026-09-03T10:05:00+00:00")
# What is counted out of draws or said of sets; held against the core where the figure is tested.
BY_DRAWS = {
    "F = min(F₁, F₂, …)", "w = Σ ρᵢ · Vᵢ", "p = first / draws", "5 % and 95 % of rank(θᵢ)", "p = P(yᵢ > yⱼ)",
    "p = P(yᵢ ≥ T)",
    "best = 1 + #(lowⱼ > highᵢ), worst = 1 + #(highⱼ > lowᵢ)",
}  # fmt: skip


def worked_out(origin: Origin) -> float:
    """The right-hand side of a formula, from the inputs under it."""
    assert origin.rule is not None
    values = {own.symbol: own.si for own in origin.inputs if own.symbol and own.si is not None}
    formula = origin.rule.symbols.partition("=")[2].strip()
    if formula.startswith("Σ"):
        body, _, over = formula[1:].partition("/")
        letters = re.findall(r"([a-z])ᵢ", body)
        numbers = sorted({int(key[1:]) for key in values if key[0] in letters and key[1:].isdigit()})
        return math.fsum(math.prod(values[f"{letter}{i}"] or 0.0 for letter in letters) for i in numbers) / (
            len(numbers) if over else 1
        )
    if formula.startswith("max("):
        return max(value or 0.0 for value in values.values())
    text = formula
    for sign, python in (("·", "*"), ("−", "-"), ("^", "**"), ("Φ⁻¹", "ndtri"), ("Φ", "ndtr"), ("ln", "log"),
                         ("⌈", "ceil("), ("⌉", ")"), ("ⁿ", "**n")):  # fmt: skip
        text = text.replace(sign, python)
    known = {"ndtri": ndtri, "ndtr": ndtr, "log": math.log, "exp": math.exp, "min": min,
             "ceil": lambda value: math.ceil(value - 1e-9)}  # fmt: skip
    return float(eval(text, {"__builtins__": {}}, {**known, **values}))


class Holds(unittest.TestCase):
    def holds(self, origin: Origin) -> int:
        """How many formulas it has, each held against its own inputs; and every leaf says where it is from."""
        formulas = 0
        for own in origin.every():
            self.assertTrue(own.name and own.value, own)
            if own.rule is None:
                self.assertTrue(own.source, own)
            elif own.rule.symbols not in BY_DRAWS:
                formulas += 1
                assert own.si is not None
                self.assertAlmostEqual(worked_out(own), own.si, delta=1e-9 * max(1.0, abs(own.si)), msg=str(own.rule))
        return formulas


class Readings(Holds):
    def take(self, text: str, zero: str = "", tare: str = "") -> Take:
        typed = TypedReading(text, "1 mm" if text.endswith("m") else "1 g", zero, tare)
        kind = Kind.LENGTH if text.endswith("m") else Kind.MASS
        return Take(typed, measure(typed, kind, Plausible(0, 1e6, "it")).quantity, MARIT)

    def test_one_reading_with_and_without_a_start(self) -> None:
        plain = self.take("372 mm")
        origin = reading_origin("Gap", [plain], plain.quantity, Kind.LENGTH)
        self.assertEqual((origin.value, origin.source, origin.entered), ("372 mm", "read as 372 mm, in steps of 1 mm",
                                                                         MARIT))  # fmt: skip
        # Twice 1 mm over the root of twelve.
        self.assertEqual(origin.note, "Known to ± 0.6 mm.")
        begun = self.take("38.2 cm", zero="1 cm")
        origin = reading_origin("Gap", [begun], begun.quantity, Kind.LENGTH)
        self.assertEqual(self.holds(origin), 1)
        self.assertAlmostEqual(origin.si or 0, 0.372)
        self.assertEqual([own.value for own in origin.inputs], ["382 mm", "10 mm"])

    def test_repeats_are_a_mean_of_them(self) -> None:
        takes = [self.take("41 g", tare="1 g"), self.take("42 g"), self.take("40 g")]
        total = repeated([take.quantity for take in takes])
        origin = reading_origin("Own weight", takes, total, Kind.MASS, symbol="w")
        self.assertEqual(self.holds(origin), 2)
        self.assertAlmostEqual(origin.si or 0, (0.040 + 0.042 + 0.040) / 3)

    def test_added_up_from_materials(self) -> None:
        uses = [("straw", 7.0, Quantity(0.0009, 0.00001)), ("tape, m", 0.6, Quantity(0.002))]
        origin = added_origin("Own weight", uses, Quantity(7 * 0.0009 + 0.6 * 0.002), System.METRIC, MARIT)
        self.assertEqual(self.holds(origin), 1)

    def test_ounces_are_said_in_ounces(self) -> None:
        typed = TypedReading("2 oz", "0.1 oz")
        take = Take(typed, measure(typed, Kind.MASS, Plausible(0, 1, "it")).quantity)
        origin = reading_origin("Own weight", [take], take.quantity, Kind.MASS, System.US)
        self.assertEqual(origin.value, "2.00 oz")


class Loads(Holds):
    KNOWN = {"nut": Known((20, 0.32, 0.001)), "bag": Known(source="stated")}

    def test_one_of_a_batch(self) -> None:
        mass = item_mass_kg(0.343, 20, 0.001)
        item = kit().item("nut")
        origin = item_origin(item.__class__("nut", mass, 50, key="nut"), Known((20, 0.343, 0.001)))
        self.assertEqual(self.holds(origin), 1)
        self.assertEqual([own.value for own in origin.inputs], ["343 g", "20"])

    def test_whether_a_kit_lasts(self) -> None:
        estimate = LoadEstimate(0.5, 1.0, 2.0, "the target of the challenge")
        origins = cover_origins(kit(), kit_covers(kit(), estimate, 8), estimate, 8, self.KNOWN)
        self.assertEqual([origin.name for origin in origins],
                         ["All load on one bench", "The strongest outlasts it", "What would last"])  # fmt: skip
        self.assertGreaterEqual(sum(self.holds(origin) for origin in origins), 6)
        self.assertEqual(len(cover_origins(kit(), kit_covers(kit(), None, 8), None, 8, self.KNOWN)), 1)

    def test_a_kit_that_the_bench_does_not_carry_counts_as_far_as_it_does(self) -> None:
        estimate = LoadEstimate(0.5, 1.0, 2.0, "the target of the challenge")
        cover = kit_covers(kit(nuts=500), estimate, 8, 1.5)
        _, outlasts, _ = cover_origins(kit(nuts=500), cover, estimate, 8, self.KNOWN, System.METRIC, 1.5)
        self.holds(outlasts)
        self.assertEqual((outlasts.si, outlasts.inputs[0].value), (cover.chance, "1.500 kg"))

    def test_an_expectation_says_what_it_rests_on(self) -> None:
        origin = estimate_origin(LoadEstimate(0.5, 1.0, 2.0, "3 tested in this run"), MARIT)
        self.assertEqual((origin.value, origin.source), ("500 g to 2.000 kg, typically 1.000 kg",
                                                         "from 3 tested in this run"))  # fmt: skip

    def test_what_was_counted(self) -> None:
        result = Script().hold("platform").hold("bag").hold(count=3).place().fail().result()
        origin = held_origin("Held", result, kit(), self.KNOWN, MARIT)
        self.assertEqual(self.holds(origin), 2)
        self.assertAlmostEqual(origin.si or 0, 0.020 + 0.320 + 3 * 0.016)
        self.assertIn("It broke at 404 g.", origin.note)
        self.assertEqual([own.value for own in origin.inputs if own.symbol.startswith("n")], ["1", "1", "3"])

    def test_the_pile_on_the_scale(self) -> None:
        script = Script().hold("platform").hold(count=10).place(count=2).fail()
        script.add(EventKind.PILE_READING, mass="215 g", resolution="1 g", covers="all")
        origin = held_origin("Held", script.result(), kit(), self.KNOWN, MARIT)
        self.assertEqual(self.holds(origin), 1)
        self.assertAlmostEqual(origin.si or 0, 0.215 - 0.032)

    def test_what_was_read_off_an_instrument(self) -> None:
        origin = held_origin("Held", Script().read("300 g").fail().result(), kit(0), self.KNOWN, MARIT)
        self.assertIn("read off an instrument", origin.source)

    @settings(max_examples=tries(60))
    @given(st.sampled_from(sorted(FAMILIES)), st.integers(0, 10**6))
    def test_of_any_ledger_the_figure_is_that_of_the_result(self, family: str, seed: int) -> None:
        draws = random.Random(seed)
        load = small_kit(draws)
        rules = family_of(family).trial_setup({"hold_s": 5.0, "bench_limit_kg": 20.0}, load)
        result = replay(any_ledger(family_of(family), rules, draws, "e"), rules)
        origin = held_origin("Held", result, load, {}, MARIT)
        self.assertAlmostEqual(origin.si or 0.0, result.held.value, places=9)
        self.holds(origin)


def parts(trials: Sequence[TrialResult], own: Quantity | None, fact: Origin | None) -> Parts:
    held = [held_origin(f"Trial {i}", trial, kit(nuts=500), {}, MARIT) for i, trial in enumerate(trials)]
    weighed = Origin("Own weight", "40 g", "w", own.value, source="weighed") if own else None
    return Parts(held, weighed, fact, trials, [MARIT] * len(trials))


class Scores(Holds):
    OWN = Quantity(0.040, 0.0003)

    def test_of_every_school_and_rule_and_of_a_penalty(self) -> None:
        trials = [broke(40), broke(52), ran_out(47)]
        size, share = Quantity(0.71, 0.001), Quantity(0.6, 0.01)
        facts = Facts(size, Quantity(4.0), share, Quantity(6.0), Quantity(0.125), True)
        height = Origin("Height", "710 mm", "x", 0.71, source="read")
        for school in School:
            for rule in TrialRule:
                for penalty in (0.0, 0.1):
                    rules = Rules(school, rule, BreachPolicy.PENALTY, penalty, minimum_kg=0.5,
                                  weights={School.MOST_HELD: 2, School.STRENGTH_TO_WEIGHT: 1})  # fmt: skip
                    own = Candidate(trials, self.OWN, penalty > 0, facts)
                    other = Candidate([broke(60)] * 3, self.OWN, False, facts)
                    (score, _) = score_all([own, other], rules)
                    assert isinstance(score, Score)
                    fact = {School.LEFT_STANDING: 0.6, School.SURVIVED: 4.0, School.SPARED: 6.0,
                            School.FOR_ITS_PIECES: 0.125}.get(school)  # fmt: skip
                    measured = height if fact is None else Origin("It", str(fact), "x", fact, source="read")
                    with self.subTest(school=school.value, rule=rule.value, penalty=penalty):
                        origin = score_origin(score, rules, parts(trials, self.OWN, measured))
                        # In a mix the parts are penalised, each by itself.
                        self.assertAlmostEqual(origin.si or 0, score.value)
                        self.holds(origin)
                        self.assertIn("By what was measured it", origin.note)

    def test_a_share_that_was_left(self) -> None:
        family = family_of("wall")
        before, after = (Origin(name, str(value), "x", value, source="counted") for name, value in
                         (("Before", 20.0), ("After", 13.0)))  # fmt: skip
        pair = family.before_and_after[0]
        origin = fact_origin(family, School.LEFT_STANDING, TrialRule.BEST, {pair[0]: before, pair[1]: after}, [], {})
        assert origin is not None
        self.assertEqual((self.holds(origin), origin.value), (1, "65%"))
        self.assertIsNone(fact_origin(family, School.LEFT_STANDING, TrialRule.BEST, {pair[0]: before}, [], {}))

    def test_a_height_of_several_trials_follows_the_trial_rule(self) -> None:
        family = next(one for one in FAMILIES.values() if one.outcome.size)
        key = family.outcome.size
        each = [{key: Origin("Height", f"{mm} mm", "x", mm / 1000, source="read")} for mm in (500, 620, 560)]
        for rule, value in ((TrialRule.BEST, 0.62), (TrialRule.MEAN, 0.56), (TrialRule.LAST, 0.56)):
            origin = fact_origin(family, School.TALLEST, rule, {}, each, {})
            assert origin is not None
            self.holds(origin)
            self.assertAlmostEqual(origin.si or 0, value)


class Standing(Holds):
    def test_places_and_chances_are_those_of_the_comparison(self) -> None:
        rules = Rules(School.MOST_HELD, TrialRule.BEST, BreachPolicy.NOTE)
        entries = [
            Entry(name.lower(), name, trials, Quantity(0.04))
            for name, trials in (("Tern", (broke(60),)), ("Auk", (broke(58), broke(50))), ("Rail", (ran_out(40),)))
        ]
        comparison = compare(entries, rules)
        for i, place in enumerate(comparison.places):
            today, *chances = standing_origins(comparison, i, rules)
            # A run-out has no end, so its place may be any from its own up; as counted from the ends that are said.
            ends = [other.score.interval for other in comparison.places]
            surely = sum(other.low > ends[i].high for k, other in enumerate(ends) if k != i)
            self.assertEqual(today.value.partition("–")[0], str(1 + surely))
            self.assertEqual(chances[0].si, place.prospect.first)
            self.assertEqual(len(chances), 3 if i < 2 else 2)
            for origin in (today, *chances):
                self.holds(origin)
        self.assertEqual(len(standing_origins(compare(entries[:1], rules), 0, rules)), 1)

    def test_every_way_of_scoring_has_its_footnotes(self) -> None:
        for school in School:
            rules = Rules(school, TrialRule.MEAN, BreachPolicy.NOTE, minimum_kg=1.0, weights={School.MOST_HELD: 1})
            self.assertEqual(len({rule.symbols for _, rule in footnotes(rules)}), 3)


class Plans(Holds):
    def test_of_every_family(self) -> None:
        for key in FAMILIES:
            for age in (AgeBand.AGES_8_10, AgeBand.AGES_14_18):
                asked = Answers(key, age, 60, 7)
                plan = plan_of(asked, propose(asked))
                follows = consequences(plan)
                origins = plan_origins(plan, follows, {})
                with self.subTest(family=key):
                    self.assertGreater(sum(self.holds(origin) for origin in origins.values()), 5)
                    self.assertEqual("outlast" in origins, family_of(key).loaded)
                    if follows.cover and follows.cover.chance is not None:
                        self.assertAlmostEqual(origins["outlast"].si or 0.0, follows.cover.chance)


class Drafts(Holds):
    def test_of_every_kind(self) -> None:
        for kind in KINDS.values():
            with self.subTest(kind=kind.key):
                worked = draft(kind, {})
                origins = draft_origins(kind, worked)
                self.assertEqual(origins["mass"].si, worked.expected.mass_kg)
                prediction = worked.expected.prediction
                if prediction is not None:
                    origin = origins["prediction"]
                    states = [own for own in origin.inputs if own.symbol.startswith("F")]
                    self.assertEqual(len(states), len(prediction.limit_states))
                    self.assertTrue(all(own.source for own in states))
                    # The least of several that are not known exactly lies no higher than the least typical one.
                    self.assertLessEqual(origin.si or 0.0, min(own.si or 0.0 for own in states) + 1e-9)
                for origin in origins.values():
                    self.holds(origin)


class Refused(unittest.TestCase):
    def test_a_reading_that_cannot_be_read_is_refused_as_at_check_in(self) -> None:
        with self.assertRaises(GirderError):
            reading_origin(
                "Gap", [Take(TypedReading("ten", "1 mm", "1 cm"), Quantity(1.0))], Quantity(1.0), Kind.LENGTH
            )
