"""From four answers to a whole lesson: proposals with their reasons, and the consequences of every edit.

``propose`` fills what nobody has filled; ``consequences`` works out what follows from a complete plan. Both are pure:
an edit is a new plan.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from girder_core.families import TAPE_ROLL, Family, LoadIdea, Quota, Range, SetupField, aim_kg, family_of
from girder_core.ground import GirderError
from girder_core.kit import (
    PLATFORM,
    Container,
    Cover,
    Fill,
    Kit,
    Line,
    LoadEstimate,
    LoadItem,
    Material,
    estimate_from,
    estimate_from_kit,
    fills,
    kit_covers,
    kit_list,
    load_plan,
    materials_problems,
    strongest_needs,
)
from girder_core.measure import Quantity, System, format_mass, format_value, near_step
from girder_core.planning.experiment import Assignment, Factor, assign_levels
from girder_core.planning.schedule import BenchTime, Day, Timeline, lesson, propose_day
from girder_core.safety import AgeBand, SafetySheet, safety_sheet

DIAL = (-2, -1, 0, 1, 2)
"""Positions of the difficulty dial: from easier to harder."""

RESOLUTIONS = (0.02, 0.03, 0.05, 0.08, 0.12, 0.2, 0.35, 0.5)
"""Step sizes, as a share of what is on, among which a lesson's tests choose."""

LONGEST_TEST_S = 1200.0

_AGE_WORDS = {
    AgeBand.AGES_5_7: "ages 5 to 7", AgeBand.AGES_8_10: "ages 8 to 10", AgeBand.AGES_11_13: "ages 11 to 13",
    AgeBand.AGES_14_18: "ages 14 to 18",
}  # fmt: skip


@dataclass(frozen=True)
class Answers:
    """The four answers, and how hard it should be.

    Attributes:
        family: key of the family.
        age: who builds.
        minutes: length of a lesson [min].
        teams: how many teams.
        students: how many students, if known.
        difficulty: position of the dial, -2 to 2.
        system: the units in which round figures are wanted.
    """

    family: str
    age: AgeBand
    minutes: float
    teams: int
    students: int | None = None
    difficulty: int = 0
    system: System = System.METRIC

    def __post_init__(self) -> None:
        if self.difficulty not in DIAL:
            raise GirderError("dial_out_of_range", "The dial goes from −2 to 2.", field="difficulty")
        if self.teams < 1:
            raise GirderError("no_teams", "A class has at least one team.", field="teams")
        if self.students is not None and self.teams > self.students:
            raise GirderError(
                "more_teams_than_students",
                f"{self.teams} teams for {self.students} students: a team has at least one.",
                field="teams",
            )


@dataclass(frozen=True)
class Proposed:
    """A proposed value: set-up field, value [SI] or None, why, and how far the dial moved it from the middle."""

    key: str
    value: float | None
    reason: str
    moved: int


@dataclass(frozen=True)
class ProposedItem:
    """A proposed load item with its count; ``reason`` says why so many."""

    idea: LoadIdea
    key: str
    name: str
    shape: str
    count: int
    roll_of: int
    mass_kg: float
    reason: str


@dataclass(frozen=True)
class Proposal:
    """What the planner proposes for the answers.

    Attributes:
        setup: the set-up quantities, in the family's order.
        materials: building materials and gear, tape included.
        load: load items; empty where nothing is loaded.
        platform_kg: approximate mass of what carries the load [kg]; 0 where there is none.
        day: how the lesson is laid out.
        reasons: a sentence for ``materials``, ``load``, ``day`` and ``goal``.
    """

    setup: tuple[Proposed, ...]
    materials: tuple[Material, ...]
    load: tuple[ProposedItem, ...]
    platform_kg: float
    day: Day
    reasons: Mapping[str, str]


def propose(answers: Answers, given: Mapping[str, float | None] | None = None) -> Proposal:
    """A whole lesson from the answers.

    Args:
        answers: family, age, minutes, class, dial.
        given: set-up quantities that the teacher has set already [SI]; what depends on them follows them.
    Returns:
        The proposal: never longer than the lesson if any layout fits it, never more planned load than in the kit.
    Errors:
        ``unknown_family``, ``lesson_too_short``, ``lesson_too_long``.
    """
    family = family_of(answers.family)
    setup = tuple(_proposed(spec, answers) for spec in family.setup)
    values = {item.key: item.value for item in setup} | dict(given or {})
    target = aim_kg(values)
    aim = aim_estimate(values)
    needed = strongest_needs(aim, answers.teams) if aim else 1.0
    if "bench_limit_kg" in values and "bench_limit_kg" not in (given or {}) and target:
        # Whole objects go a little past what is needed.
        limit = _round_up(max(1.1 * needed, needed + sum(idea.mass_kg for idea in family.load)))
        spec = family.field("bench_limit_kg")
        limit = min(max(limit, spec.low), spec.high)
        reason = f"{limit / target:.1g} times the target, so that the strongest can be tested to the end."
        setup = tuple(replace(p, value=limit, reason=reason) if p.key == "bench_limit_kg" else p for p in setup)
        values["bench_limit_kg"] = limit
    platform = round(0.04 * target, 3) if family.platform and target else 0.0
    limit_kg = values.get("bench_limit_kg")
    load = _load(family, needed, math.inf if limit_kg is None else limit_kg - platform)
    kit = _as_kit(family, load, platform)
    tests = ways_to_test(family, kit, values)
    day = propose_day(answers.minutes, answers.teams, tests, family.pace.swap_s, family.drying_s / 60)
    return Proposal(
        setup=setup,
        materials=_materials(family, answers, values),
        load=load,
        platform_kg=platform,
        day=day,
        reasons=_reasons(family, answers, day, target),
    )


def _proposed(spec: SetupField, answers: Answers) -> Proposed:
    if not spec.ages:
        return Proposed(spec.key, spec.default, spec.why, 0)
    usual = spec.ages[answers.age.place]
    value = _dialled(spec, usual, answers)
    moved = (
        0
        if not spec.harder
        else answers.difficulty
        if value != _dialled(spec, usual, replace(answers, difficulty=0))
        else 0
    )
    low, high = (format_value(v, spec.kind, answers.system) for v in (usual.low, usual.high))
    hint = {1: " More is harder.", -1: " Less is harder.", 0: ""}[spec.harder]
    between = f"{_AGE_WORDS[answers.age].capitalize()}: {low} to {high}." if low != high else ""
    return Proposed(spec.key, value, f"{spec.why} {between}{hint}".strip(), moved)


def _dialled(spec: SetupField, usual: Range, answers: Answers) -> float:
    """The typical value, moved by the dial towards the end of the range that is harder or easier."""
    towards = answers.difficulty / DIAL[-1] * spec.harder
    end = usual.high if towards > 0 else usual.low
    value = usual.typical + abs(towards) * (end - usual.typical)
    step = near_step(spec.step, spec.kind, answers.system)
    if step > 0:
        value = round(value / step) * step
    # A rounded figure must not leave what is allowed.
    return float(f"{min(max(value, spec.low), spec.high):.9g}")


def _round_up(value: float) -> float:
    """The next figure with one or two digits: 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8 times a power of ten."""
    power = 10 ** math.floor(math.log10(value))
    nice = next((n for n in (1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10) if n * power >= value - 1e-12), 10)
    return float(f"{nice * power:.6g}")


def _load(family: Family, needed: float, most: float) -> tuple[ProposedItem, ...]:
    """Enough for the strongest and no more than the bench carries, half of it in bags where there are bags."""
    if not family.load:
        return ()
    share = min(1.03 * needed, most) / len(family.load)
    items: list[ProposedItem] = []
    on = 0.0
    for idea in family.load:
        left = share
        if idea.bag_of:
            bag_kg = idea.bag_of * idea.mass_kg
            bags = math.floor(0.6 * left / bag_kg)
            if bags:
                items.append(
                    ProposedItem(idea, f"bag-of-{idea.bag_of}", f"bag of {idea.bag_of}, {idea.name}", "bag", bags,
                                 idea.bag_of, bag_kg, "Bags first while it is far from failing.")
                )  # fmt: skip
                left, on = left - bags * bag_kg, on + bags * bag_kg
        count = math.ceil(left / idea.mass_kg)
        count = math.ceil(count / 5) * 5 if count > 10 else count
        if most < math.inf:
            count = min(count, math.floor((most - on) / idea.mass_kg + 1e-9))
        count = max(1, count)
        on += count * idea.mass_kg
        items.append(ProposedItem(idea, "", idea.name, idea.shape, count, 1, idea.mass_kg, "Singles where it matters."))
    return tuple(items)


def _as_kit(family: Family, load: Sequence[ProposedItem], platform_kg: float) -> Kit | None:
    if not load:
        return None
    items = [
        LoadItem(
            p.name, Quantity(p.mass_kg), p.count, p.roll_of, p.idea.diameter_m, p.idea.thickness_m, f"item-{i}", p.shape
        )
        for i, p in enumerate(load)
    ]
    if platform_kg > 0:
        items.insert(0, LoadItem(family.platform, Quantity(platform_kg), 1, key=PLATFORM, shape="platform"))
    return Kit(tuple(items))


def ways_to_test(
    family: Family, kit: Kit | None, setup: Mapping[str, float | None], expected: LoadEstimate | None = None
) -> tuple[BenchTime, ...]:
    """How long a test takes for each of several resolutions, finest first.

    Args:
        family: the kind of challenge.
        kit: the load at one bench, or None where nothing is loaded.
        setup: set-up quantities [SI].
        expected: where structures are expected to give way, where more is known of that than the target.
    Returns:
        From the load plan up to the expected load, a choice per step size that takes less time than the finer one; a
        single choice of the family's own length where nothing is loaded.
    """
    if kit is None or not family.loaded:
        return (BenchTime(None, family.pace.test_s or 60.0),)
    estimate = expected or planned_estimate(kit, setup)
    choices: list[BenchTime] = []
    for goal in RESOLUTIONS:
        plan = load_plan(
            kit, estimate, math.inf, family.pace.place_s, setup.get("hold_s") or 0.0, goal,
            bench_limit_kg=setup.get("bench_limit_kg"),
        )  # fmt: skip
        seconds = min(LONGEST_TEST_S, plan.expected_seconds)
        if not choices or seconds < choices[-1].seconds - 0.5:
            choices.append(BenchTime(goal, seconds))
    return tuple(choices)


def aim_estimate(setup: Mapping[str, float | None]) -> LoadEstimate | None:
    """Where structures are expected to fail, from the target alone.

    Args:
        setup: set-up quantities [SI].
    Returns:
        Half the target to twice the target; None without one.
    """
    return estimate_from([], aim_kg(setup), None)


def planned_estimate(kit: Kit, setup: Mapping[str, float | None]) -> LoadEstimate:
    """Where structures are expected to fail, before anything is known of them.

    Args:
        kit: the load at one bench.
        setup: set-up quantities [SI].
    Returns:
        Half the target to twice the target; without one, from the load in the kit.
    """
    return aim_estimate(setup) or estimate_from_kit(kit)


def _materials(family: Family, answers: Answers, values: Mapping[str, float | None]) -> tuple[Material, ...]:
    materials = [_quota(quota, answers) for quota in family.quotas]
    tape = values.get("tape_max_m")
    if tape:
        materials.insert(1, replace(TAPE_ROLL, final=float(f"{tape:.6g}")))
    return tuple(materials)


def _quota(quota: Quota, answers: Answers) -> Material:
    """The age's quota; the dial takes or gives a twelfth per position, whole pieces."""
    place = answers.age.place
    final = quota.final[place]
    if quota.harder and quota.material.buildable and final >= 4:
        final = max(1.0, float(round(final * (1 + quota.harder * answers.difficulty / 12))))
    return replace(quota.material, final=float(final), practice=float(quota.practice[place]))


def _reasons(family: Family, answers: Answers, day: Day, target: float | None) -> dict[str, str]:
    reasons = {
        "materials": "Practice pieces are apart from final ones, so that trying costs nothing; spares are a tenth.",
        "goal": family.schools[0].why,
    }
    if family.load:
        reasons["load"] = (
            f"Enough for the strongest of {answers.teams} teams, where half to twice the target of "
            f"{format_mass(target, answers.system)} is expected. Weigh a batch of each to know what one weighs."
            if target
            else "Weigh a batch of each to know what one weighs."
        )
    if day.two_lessons:
        reasons["day"] = (
            f"{answers.minutes:g} minutes are not enough for building and {answers.teams} tests: test in the "
            "next lesson."
        )
    elif day.benches > 1:
        reasons["day"] = (
            f"With {day.benches} benches all {answers.teams} teams are tested in {answers.minutes:g} minutes."
        )
    else:
        reasons["day"] = (
            f"One bench tests all {answers.teams} teams; the rest of the {answers.minutes:g} minutes is theirs."
        )
    return reasons


@dataclass(frozen=True)
class Plan:
    """A complete plan in SI, whoever filled it.

    Attributes:
        answers: family, age, minutes, class.
        setup: set-up quantities [SI].
        materials: the kit list's lines.
        kit: the load at one bench, or None where nothing is loaded.
        build_minutes: minutes to build [min].
        benches: how many test at the same time.
        two_lessons: whether tests are in the next lesson.
        drying_minutes: how long joints dry [min].
        next_lesson_hours: to the next lesson [h].
        container: the cup the load goes into, if there is one.
        factor: what is varied on purpose, if anything.
        declared: hazards the teacher says are used.
        confirmed: cautions whose condition is confirmed.
        expected: where structures are expected to give way, where more is known of that than the target.
    """

    answers: Answers
    setup: Mapping[str, float | None]
    materials: tuple[Material, ...]
    kit: Kit | None
    build_minutes: float
    benches: int = 1
    two_lessons: bool = False
    drying_minutes: float = 0.0
    next_lesson_hours: float = 24.0
    container: Container | None = None
    factor: Factor | None = None
    declared: tuple[str, ...] = ()
    confirmed: tuple[str, ...] = ()
    expected: LoadEstimate | None = None

    def estimate(self) -> LoadEstimate | None:
        """Where structures are expected to give way: what is known, else by the target; None without either."""
        return self.expected or aim_estimate(self.setup)

    def day(self) -> Day:
        """What the timeline is made from."""
        family = family_of(self.answers.family)
        return Day(
            self.answers.minutes, self.answers.teams, self.benches, self.build_minutes,
            ways_to_test(family, self.kit, self.setup, self.expected), family.pace.swap_s, self.drying_minutes,
            self.two_lessons, self.next_lesson_hours,
        )  # fmt: skip


@dataclass(frozen=True)
class Consequences:
    """What follows from a plan.

    Attributes:
        lines: the kit list.
        cover: whether the load lasts; None where nothing is loaded.
        fills: how many of each item the container takes; empty without one.
        timeline: the lesson on the clock; None when it cannot be laid out.
        safety: the cautions; None when the plan is refused for safety.
        assignment: levels of the fair test, if something is varied.
        problems: what is wrong, sentence by field: these forbid saving.
        notes: what a teacher should know, in sentences; these do not.
    """

    lines: tuple[Line, ...] = ()
    cover: Cover | None = None
    fills: tuple[Fill, ...] = ()
    timeline: Timeline | None = None
    safety: SafetySheet | None = None
    assignment: Assignment | None = None
    problems: Mapping[str, str] = field(default_factory=dict)
    notes: tuple[str, ...] = ()


def consequences(plan: Plan) -> Consequences:
    """Work out all that follows from a plan.

    Args:
        plan: the complete plan.
    Returns:
        The consequences; every problem is named at its field, and what can still be worked out is.
    """
    family = family_of(plan.answers.family)
    problems: dict[str, str] = dict(family.conflicts(plan.setup, plan.materials))
    problems = {f"setup.{key}": sentence for key, sentence in problems.items()}
    notes: list[str] = []
    result = Consequences()
    try:
        result = replace(result, lines=tuple(kit_list(plan.materials, plan.answers.teams, plan.benches)))
    except GirderError as error:
        problems["materials"] = error.sentence
    for sentence in materials_problems(plan.materials):
        problems["materials"] = sentence
    if plan.kit is not None:
        aim, limit = plan.estimate(), plan.setup.get("bench_limit_kg")
        if limit is not None and plan.kit.platform_kg >= limit:
            problems["setup.bench_limit_kg"] = (
                f"The platform alone weighs {format_mass(plan.kit.platform_kg)}, and this bench may carry "
                f"{format_mass(limit)}. Take a lighter platform, or raise the limit."
            )
        cover = kit_covers(plan.kit, aim, plan.answers.teams, limit)
        result = replace(result, cover=cover)
        if not cover.enough:
            notes.append(cover.sentence)
        if cover.coarse:
            notes.append(cover.coarse)
        result = replace(result, fills=tuple(_fitting(plan, plan.kit, problems, notes)))
    try:
        timeline = lesson(plan.day())
        result = replace(result, timeline=timeline)
        notes.extend(timeline.gives)
    except GirderError as error:
        problems[str(error.data.get("field", "minutes"))] = error.sentence
    try:
        sheet = safety_sheet(
            family.cautions, [key for material in plan.materials for key in material.hazards],
            plan.kit.items if plan.kit else (), plan.setup.get(family.tallest) or 0.0, plan.answers.age, plan.declared,
            plan.confirmed,
        )  # fmt: skip
        result = replace(result, safety=sheet)
        for caution in sheet.to_confirm:
            problems[f"confirm.{caution.key}"] = f"Confirm first: {caution.condition}"
    except GirderError as error:
        problems[str(error.data.get("field", "declared"))] = error.sentence
    if plan.factor is not None:
        assignment = assign_levels(plan.factor, plan.answers.teams)
        result = replace(result, assignment=assignment)
        notes.extend(assignment.notes)
    return replace(result, problems=problems, notes=tuple(notes))


def _fitting(plan: Plan, kit: Kit, problems: dict[str, str], notes: list[str]) -> Sequence[Fill]:
    if plan.container is None:
        return ()
    try:
        fillings = fills(plan.container, kit)
    except GirderError as error:
        problems["container"] = error.sentence
        return ()
    for fill in fillings:
        if fill.count == 0:
            problems["container"] = f"Not one “{kit.item(fill.item).name}” fits into this container. Take a larger one."
    needed = planned_estimate(kit, plan.setup).typical_kg
    singles = [fill for fill in fillings if fill.count and kit.item(fill.item).roll_of == 1]
    if singles and max(fill.mass_kg for fill in singles) < needed:
        most = max(singles, key=lambda fill: fill.mass_kg)
        notes.append(
            f"The container is full with {most.count} × {kit.item(most.item).name} ({format_mass(most.mass_kg)}), "
            "before "
            f"the target of {format_mass(needed)} is on."
        )
    return fillings
