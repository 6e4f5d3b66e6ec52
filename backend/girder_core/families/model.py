"""The interface that every family of challenge fills: what is planned, measured, forbidden, watched for, how it ends.

A family is data and two or three small functions. What families do alike (limits, proposals, sheets) is done once, by
those who read this data.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from types import MappingProxyType

from girder_core.families.constraints import ConstraintResult, Limit, Question, check_limits
from girder_core.families.curriculum import DESIGN, Standard
from girder_core.families.derived import Derived
from girder_core.ground import Drawing, Film, GirderError
from girder_core.kit import Kit, Material, Stuff, stuff_of
from girder_core.measure import Kind, Plausible, Quantity, format_value
from girder_core.photo import Run
from girder_core.results import Facts, School, TrialRule, usual_arrangement
from girder_core.safety import NEAR_END, AgeBand, Caution
from girder_core.trial import LOADING, BenchMeasure, Procedure, RoundPlan, TrialResult, TrialSetup
from girder_core.trial import Outcome as TrialOutcome

STANDS_S = 10.0
"""How long a structure has to stand at check-in where the recipe names no time [s] (ours)."""

SELF_MASS = "self_mass"
"""Key of the reading of the own weight, in every family that is weighed."""

Setup = Mapping[str, float | None]
"""Set-up quantities in SI by field key; None where an optional one is left out."""


def aim_kg(setup: Setup) -> float | None:
    """The load that a structure is made for, its margin included.

    Args:
        setup: set-up quantities [SI].
    Returns:
        Target load times margin [kg]; None when there is no target.
    """
    target = setup.get("target_kg")
    return target * (setup.get("margin") or 1.0) if target else None


class Way(StrEnum):
    """How a reading is taken, which its picture shows."""

    HEIGHT = "height"
    ACROSS = "across"
    OVERLAP = "overlap"
    STRIP = "strip"
    WEIGH = "weigh"
    COUNT = "count"
    TIME = "time"
    AREA = "area"


@dataclass(frozen=True)
class ReadingSpec:
    """A reading that check-in takes: its key, label, kind, how to take it, and its plausible range.

    ``needed`` says whether check-in asks for it; one that ``may_follow`` can also be taken after the test; one that
    stands ``aside`` is asked for only by whoever wants it.
    """

    key: str
    label: str
    kind: Kind
    how: str
    plausible: Plausible
    needed: bool = True
    may_follow: bool = False
    aside: bool = False

    @property
    def way(self) -> Way:
        """How it is taken."""
        if self.kind is not Kind.LENGTH:
            return {Kind.MASS: Way.WEIGH, Kind.COUNT: Way.COUNT, Kind.AREA: Way.AREA}.get(self.kind, Way.TIME)
        if self.key.startswith("overlap"):
            return Way.OVERLAP
        if self.key == "tape":
            return Way.STRIP
        return Way.HEIGHT if self.key in _UPRIGHT else Way.ACROSS

    @property
    def pictured(self) -> bool:
        """Whether it can be measured in a photograph."""
        return self.kind in (Kind.LENGTH, Kind.AREA)

    @property
    def runs(self) -> Run:
        """How its ends lie to a scale card beside it."""
        if self.key in _BETWEEN_SUPPORTS:
            return Run.BETWEEN
        return Run.UPRIGHT if self.way is Way.HEIGHT else Run.ACROSS


FAR_OFF = 1.5
"""A reading that is so many times what was agreed, or less by as much, is asked about [-]; ours."""
_UPRIGHT = ("height", "wall", "rise", "survived")
_BETWEEN_SUPPORTS = ("gap",)


@dataclass(frozen=True)
class Mode:
    """A named way in which a trial ends or a sign that is seen.

    Attributes:
        key: stable name.
        letter: its key on the keyboard.
        label: what it is called.
        explanation: what it looks like.
        redesign: for a structural failure, questions that lead to a better version.
    """

    key: str
    letter: str
    label: str
    explanation: str
    redesign: tuple[str, ...] = ()


@dataclass(frozen=True)
class Range:
    """A sensible range of a set-up quantity for an age [SI]."""

    low: float
    typical: float
    high: float


@dataclass(frozen=True)
class SetupField:
    """A quantity that the recipe sets.

    Attributes:
        key: name with its unit.
        label: what it is called.
        kind: what it measures.
        low, high: what is allowed at all [SI].
        default: taken when a recipe says nothing [SI].
        why: what it is for.
        optional: whether it may be left out.
        ages: sensible ranges, one per age band from the youngest; empty where nothing is proposed.
        harder: 1 when more of it is harder, -1 when less is, 0 when the difficulty dial leaves it alone.
        step: proposals are whole multiples of it [SI].
        term, says: its line in the brief; ``says`` holds ``{}`` where the value goes. Empty: not in the brief.
    """

    key: str
    label: str
    kind: Kind
    low: float
    high: float
    default: float | None
    why: str
    optional: bool = False
    ages: tuple[Range, ...] = ()
    harder: int = 0
    step: float = 0.0
    term: str = ""
    says: str = ""


@dataclass(frozen=True)
class Quota:
    """A material that the planner proposes: amounts per age band from the youngest, the rest as in ``Material``.

    ``harder`` is -1 where a harder challenge gives less of it.
    """

    material: Material
    final: tuple[float, float, float, float]
    practice: tuple[float, float, float, float] = (0, 0, 0, 0)
    harder: int = 0


@dataclass(frozen=True)
class LoadIdea:
    """A load item the planner proposes: its name, drawing, approximate mass [kg], size [m], and in how large bags."""

    name: str
    shape: str
    mass_kg: float
    diameter_m: float
    thickness_m: float
    bag_of: int = 0


@dataclass(frozen=True)
class Metric:
    """Something that is worked out and compared: key, label, how it is worked out."""

    key: str
    label: str
    how: str


@dataclass(frozen=True)
class Term:
    """A word of the field and what it means, in words for students."""

    word: str
    meaning: str


@dataclass(frozen=True)
class FactorIdea:
    """Something worth varying on purpose: what, its levels, and what it teaches."""

    name: str
    levels: tuple[str, ...]
    why: str


@dataclass(frozen=True)
class Saying:
    """What is said of a kind of challenge that is built of a sort of material.

    Attributes:
        young, older: what to explain, in two reading levels.
        ideas: what to try.
        factors: what is worth varying on purpose.
        controls: what is kept the same.
    """

    young: str
    older: str
    ideas: tuple[str, ...]
    factors: tuple[FactorIdea, ...]
    controls: tuple[str, ...]


@dataclass(frozen=True)
class SchoolChoice:
    """A school of scoring that makes sense here, and why a teacher would choose it."""

    school: School
    why: str


@dataclass(frozen=True)
class Pace:
    """How long things take [s]: bringing a structure to the bench and clearing up, one placement, a whole fixed test.

    ``test_s`` is 0 where the length of a test follows from its load plan.
    """

    swap_s: float
    place_s: float = 3.0
    test_s: float = 0.0


@dataclass(frozen=True)
class Outcome:
    """Which readings tell the result of a test that is measured and not loaded.

    ``achieved`` names the reading of how many of ``asked``, a set-up field, it did;
    ``pieces`` the reading of what it took to do so, and ``given``, a set-up field, how many there were.
    """

    size: str = ""
    survived: str = ""
    achieved: str = ""
    asked: str = ""
    pieces: str = ""
    given: str = ""


class Picture(StrEnum):
    """How the bench draws what is on it."""

    SETUP = "setup"
    SPAN = "span"
    HULL = "hull"
    DECK = "deck"


USUAL_SIZES_M: Mapping[Picture, Mapping[str, float]] = {
    Picture.SETUP: {},
    Picture.SPAN: {"gap": 0.3, "overlap_left": 0.03, "overlap_right": 0.03},
    Picture.HULL: {"length": 0.15, "width": 0.09},
    Picture.DECK: {"length": 0.3, "width": 0.2},
}
"""The readings that a picture is drawn from, each with the size it takes when nothing says one [m]."""


@dataclass(frozen=True)
class Bench:
    """What the bench does with this kind of structure.

    Attributes:
        rounds: the rounds of a test that puts no load on, from the set-up; None where it is loaded.
        measures: what may be measured while the trial goes on or at its end.
        measured: the same under a set-up, where that says how much there can be; None where it does not.
        arrangements: ways to set a trial up that change what it says, the usual one first; empty where there is one.
        counts_pieces: whether the answer is a number of pieces and not a mass.
        seats: whether it matters where in the structure the load sits.
        needs_all: whether all measures that tell the result are needed, or one of them will do.
        picture: how the bench draws it: its set-up, a span with its pile, a hull or a deck from above.
        near_end: the caution when the load nears the expected end.
        weighs_after: whether the pile is put on a scale afterwards as a matter of course.
    """

    rounds: Callable[[Setup], RoundPlan] | None = None
    measures: tuple[BenchMeasure, ...] = ()
    measured: Callable[[Setup], tuple[BenchMeasure, ...]] | None = None
    arrangements: tuple[Mode, ...] = ()
    counts_pieces: bool = False
    seats: bool = False
    needs_all: bool = False
    picture: Picture = Picture.SETUP
    near_end: str = NEAR_END
    weighs_after: bool = False


Conflicts = Callable[[Setup, Sequence[Material]], Mapping[str, str]]
"""What in a set-up does not go together: sentence by set-up field."""


@dataclass(frozen=True)
class Family:
    """A kind of challenge.

    Attributes:
        key, name: stable name; what people call it.
        built: what is built, in a sentence.
        tested: how it is tested, in a sentence.
        question: the one question that a recipe starts with.
        setup: the quantities a recipe sets.
        readings: what check-in measures, in a good order.
        limits: which readings are held against which set-up quantities.
        questions: what check-in asks.
        failure_modes: how the structure can fail; its letters are unique.
        loading_errors: what spoils a trial without telling anything of the structure: the trial is void.
        run_out_reasons: why a test can end with the structure still standing.
        observations: signs worth noting before failure.
        outcome: the readings that tell a result that is not a load.
        bench: what is done at the bench besides placing load.
        metrics: what is compared.
        schools: ways of scoring that make sense, the proposed one first.
        quotas: materials per team and gear per bench, as proposed.
        load: what the planner loads it with; empty where nothing is loaded.
        platform: name of what carries the load, which is load too; empty where there is none.
        pace: how long a test takes.
        drying_s: how long the proposed joints need to dry [s].
        vocabulary, young, older, ideas: what to explain, in two reading levels, and what to try.
        factors: what is worth varying on purpose.
        controls: what is kept the same.
        reflect: what a team is asked when all is over.
        standards: performance expectations beside engineering design, by age band from the youngest.
        cautions: what can hurt someone, whatever the recipe.
        tallest: set-up field that says how high something has to be reached.
        draw: the set-up to scale.
        footprint: where things stand on the table, from above, for a template at true scale.
        conflicts: what in a set-up does not go together.
        derived: figures that follow from the readings.
        sayings: what to say instead where it is built of another sort of material.
        drafted: whether the drafting table has a kind for it.
        film: what can be seen of it in motion, where the drafting table has no kind for it.
    """

    key: str
    name: str
    built: str
    tested: str
    question: str
    setup: tuple[SetupField, ...]
    readings: tuple[ReadingSpec, ...]
    limits: tuple[Limit, ...]
    questions: tuple[Question, ...]
    failure_modes: tuple[Mode, ...]
    loading_errors: tuple[Mode, ...]
    run_out_reasons: tuple[Mode, ...]
    observations: tuple[Mode, ...]
    metrics: tuple[Metric, ...]
    schools: tuple[SchoolChoice, ...]
    quotas: tuple[Quota, ...]
    pace: Pace
    vocabulary: tuple[Term, ...]
    young: str
    older: str
    ideas: tuple[str, ...]
    factors: tuple[FactorIdea, ...]
    controls: tuple[str, ...]
    reflect: tuple[str, ...]
    standards: tuple[Standard, ...]
    cautions: tuple[Caution, ...]
    draw: Callable[[Setup], Drawing]
    footprint: Callable[[Setup], Drawing]
    outcome: Outcome = Outcome()
    bench: Bench = Bench()
    load: tuple[LoadIdea, ...] = ()
    platform: str = ""
    drying_s: float = 0.0
    tallest: str = ""
    derived: tuple[Derived, ...] = ()
    sayings: Mapping[Stuff, Saying] = field(default_factory=dict)
    drafted: bool = True
    film: Callable[[Setup], Film] | None = None
    conflicts: Conflicts = field(default=lambda setup, materials: {})
    reading_keys: Mapping[str, ReadingSpec] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "reading_keys", {spec.key: spec for spec in self.readings})

    @property
    def loaded(self) -> bool:
        """Whether its test puts load on it, step by step, at the bench."""
        return bool(self.load)

    def round_plan(self, setup: Setup) -> RoundPlan | None:
        """The rounds of its test under a set-up; None where it is loaded."""
        return self.bench.rounds(setup) if self.bench.rounds else None

    def stand_s(self, setup: Setup) -> float:
        """How long it has to stand by itself at check-in [s]."""
        return setup.get("hold_s") or STANDS_S

    def trial_setup(self, setup: Setup, kit: Kit) -> TrialSetup:
        """What a trial of this kind is judged by, under a set-up and with a load kit."""
        return TrialSetup(
            kit=kit,
            hold_s=setup.get("hold_s") or 0.0,
            bench_limit_kg=setup.get("bench_limit_kg"),
            failure_modes=frozenset(mode.key for mode in self.failure_modes),
            loading_errors=frozenset(mode.key for mode in self.loading_errors),
            run_out_reasons=frozenset(mode.key for mode in self.run_out_reasons),
            observations=frozenset(mode.key for mode in self.observations),
            rounds=self.round_plan(setup),
            measures={measure.key: measure for measure in self.measures(setup)},
            needs_all=self.bench.needs_all,
            seats=self.bench.seats,
        )

    def saying(self, materials: Sequence[Material]) -> Saying:
        """What is said of it, by what it is built of."""
        stuff = stuff_of(materials)
        own = Saying(self.young, self.older, self.ideas, self.factors, self.controls)
        return own if stuff is None else self.sayings.get(stuff, own)

    def measures(self, setup: Setup) -> tuple[BenchMeasure, ...]:
        """What may be measured at the bench under a set-up."""
        return self.bench.measured(setup) if self.bench.measured else self.bench.measures

    def procedure(self, setup: Setup) -> Procedure:
        """How it is tested at the bench."""
        plan = self.round_plan(setup)
        return plan.procedure if plan else LOADING

    @property
    def result_readings(self) -> tuple[str, ...]:
        """The readings without which a measured test has no result; empty where the bench gives it."""
        if self.outcome.survived:
            return (self.outcome.survived,)
        if self.before_and_after:
            return self.before_and_after[0]
        if self.outcome.achieved:
            return (self.outcome.pieces, self.outcome.achieved)
        return (self.outcome.size,) if self.outcome.size and not self.loaded else ()

    @property
    def before_and_after(self) -> tuple[tuple[str, str], ...]:
        """The readings before and after an attack whose ratio is the result, where that is a share: the first pair that
        was taken tells it."""
        return tuple((measure.before, measure.key) for measure in self.bench.measures if measure.before)

    def usual_arrangement(self, used: Sequence[str]) -> str:
        """How the next trial is set up unless somebody says otherwise.

        ``used`` has the arrangement of each trial that counts, in the order of testing: most trials decide, before
        any the family's first. Empty where there is one way.
        """
        return usual_arrangement(used) or next((way.key for way in self.bench.arrangements), "")

    @property
    def survived_kind(self) -> Kind:
        """What the reading of what was survived measures."""
        return self.reading_keys[self.outcome.survived].kind if self.outcome.survived else Kind.COUNT

    def usual(self, age: AgeBand) -> dict[str, float | None]:
        """The typical set-up at an age [SI]."""
        return {spec.key: spec.ages[age.place].typical if spec.ages else spec.default for spec in self.setup}

    def words(self) -> dict[str, str]:
        """Label of every mode, sign and reason by its key, for sentences and exports."""
        groups = (self.failure_modes, self.loading_errors, self.run_out_reasons, self.observations)
        return {mode.key: mode.label for group in groups for mode in group}

    def field(self, key: str) -> SetupField:
        """The set-up field of this key; ``unknown_setting`` when there is none."""
        for spec in self.setup:
            if spec.key == key:
                return spec
        raise GirderError("unknown_setting", "This kind of challenge has no such setting.", field=key)

    def plausible(self, spec: ReadingSpec, setup: Setup) -> Plausible:
        """The range in which a reading needs no second look, about what was agreed where all build to one size."""
        for limit in self.limits:
            agreed = setup.get(limit.field)
            if limit.reading == spec.key and limit.agreed and agreed:
                words = f"{limit.what[0].upper()}{limit.what[1:]} is {format_value(agreed, spec.kind)}."
                return Plausible(agreed / FAR_OFF, agreed * FAR_OFF, spec.plausible.what, words)
        return spec.plausible

    def check(
        self, setup: Setup, readings: Mapping[str, Quantity], answers: Mapping[str, bool]
    ) -> list[ConstraintResult]:
        """Readings and answers held against the recipe; see ``constraints.check_limits``."""
        kinds = {spec.key: spec.kind for spec in self.readings}
        labels = {spec.key: spec.label for spec in self.readings}
        return check_limits(self.limits, self.questions, kinds, labels, setup, readings, answers)

    def facts(
        self,
        readings: Mapping[str, Quantity],
        trials: Iterable[TrialResult] = (),
        trial_rule: TrialRule = TrialRule.BEST,
        setup: Setup = MappingProxyType({}),
    ) -> Facts:
        """What scoring needs of the readings, and of what was measured at the bench.

        A measurement at the bench stands before the reading of the same key. Of several trials each fact follows the
        trial rule; a tower that fell has no height from that trial. ``setup`` says how much there was, and was asked.
        """
        labels = [
            self._facts({**readings, **trial.measures}, setup)
            for trial in trials
            if trial.scored and (not trial.rounds or trial.stood) and trial.measures
            if trial.outcome is TrialOutcome.DONE or not self.outcome.achieved
        ]
        if not labels:
            return self._facts(readings, setup)
        whole = [facts for facts in labels if facts.whole]
        if trial_rule is not TrialRule.BEST:
            whole = whole if labels[-1].whole and (trial_rule is TrialRule.LAST or whole == labels) else []
        return Facts(
            _by_rule([f.size for f in labels if f.size], trial_rule),
            self._facts(readings, setup).survived,
            _by_rule([f.share_left for f in labels if f.share_left], trial_rule),
            _by_rule([f.spared for f in whole or labels if f.spared], trial_rule),
            _by_rule([f.per_piece for f in labels if f.per_piece], trial_rule),
            bool(whole) if self.outcome.achieved else None,
        )

    def _facts(self, readings: Mapping[str, Quantity], setup: Setup) -> Facts:
        share = None
        for pair in self.before_and_after:
            before, after = (readings.get(key) for key in pair)
            if share is None and before and after and before.value > 0:
                share = after / before
        size, survived = readings.get(self.outcome.size), readings.get(self.outcome.survived)
        achieved, pieces = readings.get(self.outcome.achieved), readings.get(self.outcome.pieces)
        if achieved is None or pieces is None or pieces.value <= 0:
            return Facts(size, survived, share)
        given, asked = setup.get(self.outcome.given) or pieces.value, setup.get(self.outcome.asked) or 1.0
        spared = Quantity(max(0.0, given - pieces.value), pieces.standard_uncertainty)
        return Facts(size, survived, share, spared, achieved / pieces, achieved.value >= asked)

    def standards_for(self, age: AgeBand) -> tuple[Standard, ...]:
        """Engineering design at this age, and what the family adds."""
        return (*DESIGN[age], *(standard for standard in self.standards if standard.code.startswith(_GRADES[age])))


def _by_rule(values: Sequence[Quantity], rule: TrialRule) -> Quantity | None:
    if not values:
        return None
    if rule is TrialRule.LAST:
        return values[-1]
    if rule is TrialRule.BEST:
        return max(values, key=lambda quantity: quantity.value)
    # One tape serves all trials, so its uncertainty does not average out.
    n = len(values)
    return Quantity(
        math.fsum(quantity.value for quantity in values) / n,
        math.fsum(quantity.standard_uncertainty for quantity in values) / n,
    )


_GRADES = {
    AgeBand.AGES_5_7: ("K-", "1-", "2-"),
    AgeBand.AGES_8_10: ("3-", "4-", "5-"),
    AgeBand.AGES_11_13: ("MS-",),
    AgeBand.AGES_14_18: ("HS-",),
}
