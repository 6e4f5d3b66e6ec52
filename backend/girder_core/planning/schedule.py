"""A lesson against the clock: brief, build, drying, check-in, tests, compare, and what gives when it does not fit."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from girder_core.ground import GirderError, finite, positive

SHORTEST_LESSON_MIN = 20
LONGEST_LESSON_MIN = 240
SHORTEST_BUILD_MIN = 6
"""Below these nothing worth testing gets built (ours)."""

WARNINGS_MIN = (5, 3)
"""Minutes before the end of building at which the class is warned (common practice, no source)."""


@dataclass(frozen=True)
class BuildClock:
    """The clock that the class builds by.

    Attributes:
        planned_s: time to build, as planned [s].
        extra_s: added since [s].
        elapsed_s: since it was started, pauses included [s]; None before it is started.
        paused_s: pauses that are over [s].
        pausing_s: how long it has stood still by now [s]; None while it runs.
    """

    planned_s: float
    extra_s: float = 0.0
    elapsed_s: float | None = None
    paused_s: float = 0.0
    pausing_s: float | None = None

    @property
    def left_s(self) -> float:
        """What is left [s]; below zero once it is over."""
        built = (self.elapsed_s or 0.0) - self.paused_s - (self.pausing_s or 0.0)
        return self.planned_s + self.extra_s - max(0.0, built)

    @property
    def running(self) -> bool:
        """Whether it counts down now."""
        return self.elapsed_s is not None and self.pausing_s is None

    @property
    def warnings_s(self) -> tuple[float, ...]:
        """What is left at each warning [s]."""
        return tuple(60.0 * m for m in WARNINGS_MIN if 60 * m < self.planned_s)


class ClockAct(StrEnum):
    """What can be done with the build clock."""

    START = "start"
    PAUSE = "pause"
    RESUME = "resume"
    EXTEND = "extend"
    RESET = "reset"


LEAST_EXTRA_MIN, MOST_EXTRA_MIN = 1, 60
"""How much can be added to the build clock at once [min] (ours)."""


def turned(clock: BuildClock, act: ClockAct, minutes: float = 0.0) -> BuildClock:
    """The build clock after something was done with it now.

    Args:
        clock: before.
        act: what is done; starting what has started, pausing what stands still and going on with what runs change
            nothing.
        minutes: how much is added, for an extension [min].
    Returns:
        The clock after it.
    Errors:
        ``clock_not_started`` for a pause before the start; ``bad_minutes`` outside 1 to 60.
    """
    if act is ClockAct.RESET:
        return BuildClock(clock.planned_s)
    if act is ClockAct.EXTEND:
        if not LEAST_EXTRA_MIN <= minutes <= MOST_EXTRA_MIN:
            raise GirderError("bad_minutes", f"Add between {LEAST_EXTRA_MIN} and {MOST_EXTRA_MIN} minutes.")
        return replace(clock, extra_s=clock.extra_s + 60 * minutes)
    if act is ClockAct.START:
        return clock if clock.elapsed_s is not None else replace(clock, elapsed_s=0.0)
    if clock.elapsed_s is None:
        raise GirderError("clock_not_started", "The clock has not been started yet.")
    if act is ClockAct.PAUSE:
        return clock if clock.pausing_s is not None else replace(clock, pausing_s=0.0)
    return replace(clock, paused_s=clock.paused_s + (clock.pausing_s or 0.0), pausing_s=None)


def drying_left_s(drying_s: float, since_s: float | None) -> float:
    """How long a joint still has to dry.

    Args:
        drying_s: how long it needs [s]; 0 for none.
        since_s: since it was glued [s]; None when nobody said so, and then nothing holds it back.
    Returns:
        What is left [s]; 0 when it is dry.
    """
    return 0.0 if since_s is None else max(0.0, drying_s - since_s)


CHECK_IN_S = 45
"""Seconds to measure and weigh one team's structure (ours)."""


@dataclass(frozen=True)
class BenchTime:
    """How long one test takes when it is made this fine: largest step as a share of what is on [-], None if fixed."""

    resolution: float | None
    seconds: float


@dataclass(frozen=True)
class Segment:
    """A stretch of a lesson: key, label, from and to in minutes of that lesson, and a note."""

    key: str
    label: str
    start_min: float
    end_min: float
    note: str = ""


@dataclass(frozen=True)
class Timeline:
    """How the lessons go.

    Attributes:
        lessons: the segments of each lesson.
        minutes: length of a lesson [min].
        build_minutes: minutes to build [min].
        warnings_min: minutes of the first lesson at which the class is warned while building.
        drying_minutes: how long joints dry [min], if they do.
        next_lesson_hours: hours until the next lesson, if there is more than one.
        test_seconds: time for one team at the bench, bringing and clearing included [s].
        resolution: the largest step as a share of what is on that this time buys [-]; None for a fixed test.
        teams_that_fit: how many teams are tested in the time.
        fits: whether all are.
        gives: what to change when they are not, each in a sentence with its figure.
    """

    lessons: tuple[tuple[Segment, ...], ...]
    minutes: float
    build_minutes: float
    warnings_min: tuple[float, ...]
    drying_minutes: float
    next_lesson_hours: float | None
    test_seconds: float
    resolution: float | None
    teams_that_fit: int
    fits: bool
    gives: tuple[str, ...]


@dataclass(frozen=True)
class Day:
    """What a timeline is made from.

    Attributes:
        minutes: length of one lesson [min].
        teams: how many teams.
        benches: how many test at the same time.
        build_minutes: minutes to build [min].
        tests: ways to test, finest first.
        swap_s: bringing a structure and clearing up [s].
        drying_minutes: how long joints dry before they are tested [min].
        two_lessons: build in one lesson and test in the next.
        next_lesson_hours: from the end of one lesson to the next [h].
    """

    minutes: float
    teams: int
    benches: int
    build_minutes: float
    tests: tuple[BenchTime, ...]
    swap_s: float
    drying_minutes: float = 0.0
    two_lessons: bool = False
    next_lesson_hours: float = 24.0


FAIR = 0.15
"""Steps no finer than this are planned for when building time is weighed against testing time [-] (ours)."""


def talk_minutes(minutes: float) -> float:
    """Time to brief a class, and as much to compare results afterwards.

    Args:
        minutes: length of the lesson [min].
    Returns:
        About a twelfth of the lesson, between 2 and 8 whole minutes.
    """
    return float(min(8, max(2, round(minutes / 12))))


def check_in_minutes(teams: int) -> float:
    """Time to check all teams in.

    Args:
        teams: how many.
    Returns:
        Whole minutes, at 45 s a team.
    """
    return float(math.ceil(teams * CHECK_IN_S / 60))


def lesson(day: Day) -> Timeline:
    """Put a day on the clock.

    When joints dry for longer than is left of the lesson, or ``two_lessons`` says so, tests move to the next lesson.

    Args:
        day: what is planned.
    Returns:
        The timeline. Tests are made as fine as their time allows; where not even the coarsest fits, ``fits`` is
        false and ``gives`` says what would help: a second bench, a shorter build, the next lesson, coarser steps.
    Errors:
        ``lesson_too_short``, ``lesson_too_long``, ``build_too_short``, ``build_too_long``, ``no_teams``,
        ``no_benches``, ``drying_too_long`` when it is longer than the time to the next lesson.
    """
    _check(day)
    talk, check_in = talk_minutes(day.minutes), check_in_minutes(day.teams)
    drying = day.drying_minutes
    split = day.two_lessons or drying > 0
    if split and drying / 60 > day.next_lesson_hours + 1e-9:
        raise GirderError(
            "drying_too_long",
            f"Drying takes {drying / 60:g} h, but the next lesson is {day.next_lesson_hours:g} h away. Use a faster "
            "joint, or test one lesson later.",
            field="drying_minutes",
        )
    build = Segment("build", "Build", talk, talk + day.build_minutes, _warned(day.build_minutes))
    brief = Segment("brief", "Brief", 0.0, talk)
    start = 0.0 if split else build.end_min
    window = day.minutes - start - check_in - talk
    tests = _tests(day, window)
    end = start + check_in + max(0.0, tests.minutes)
    after = (
        Segment("check-in", "Check-in", start, start + check_in, f"{CHECK_IN_S} s a team"),
        Segment("tests", "Tests", start + check_in, end, tests.note),
        Segment("compare", "Compare", end, end + talk),
    )
    first: tuple[Segment, ...] = (brief, build)
    if split:
        note = f"{drying:g} min to dry" if drying else "put away safely"
        rest = Segment("store", "Dry" if drying else "Put away", build.end_min, day.minutes, note)
        lessons: tuple[tuple[Segment, ...], ...] = ((*first, rest) if rest.end_min > rest.start_min else first, after)
    else:
        lessons = ((*first, *after),)
    return Timeline(
        lessons=lessons,
        minutes=day.minutes,
        build_minutes=day.build_minutes,
        warnings_min=tuple(build.end_min - m for m in WARNINGS_MIN if m < day.build_minutes),
        drying_minutes=drying,
        next_lesson_hours=day.next_lesson_hours if split else None,
        test_seconds=tests.per_team_s,
        resolution=tests.choice.resolution,
        teams_that_fit=tests.teams,
        fits=tests.teams >= day.teams,
        gives=() if tests.teams >= day.teams else tuple(_gives(day, window, split)),
    )


def _check(day: Day) -> None:
    if day.minutes < SHORTEST_LESSON_MIN:
        raise GirderError(
            "lesson_too_short",
            f"{day.minutes:g} minutes are too short to brief, build and test; take {SHORTEST_LESSON_MIN} or more.",
            field="minutes",
        )
    if day.minutes > LONGEST_LESSON_MIN:
        raise GirderError("lesson_too_long", "A lesson of more than four hours? Plan several lessons.", field="minutes")
    if day.teams < 1:
        raise GirderError("no_teams", "A class has at least one team.", field="teams")
    if day.benches < 1:
        raise GirderError("no_benches", "There is at least one bench to test on.", field="benches")
    if day.build_minutes < SHORTEST_BUILD_MIN:
        raise GirderError(
            "build_too_short",
            f"{day.build_minutes:g} minutes are too short to build; give {SHORTEST_BUILD_MIN} or more.",
            field="build_minutes",
        )
    if talk_minutes(day.minutes) + day.build_minutes > day.minutes:
        raise GirderError(
            "build_too_long", "Building alone is longer than the lesson. Shorten it, or build in two lessons.",
            field="build_minutes",
        )  # fmt: skip


def _warned(build_minutes: float) -> str:
    warned = [f"{m:g}" for m in WARNINGS_MIN if m < build_minutes]
    return f"warned {' and '.join(warned)} min before the end" if warned else ""


@dataclass(frozen=True)
class _Tests:
    choice: BenchTime
    per_team_s: float
    minutes: float
    teams: int
    note: str


def _tests(day: Day, window_min: float) -> _Tests:
    """The finest tests that let every team have its turn in the window, else the coarsest and how many fit."""
    rounds = math.ceil(day.teams / day.benches)
    chosen = day.tests[-1]
    for choice in day.tests:
        if rounds * (day.swap_s + choice.seconds) <= window_min * 60 + 1e-9:
            chosen = choice
            break
    per_team = day.swap_s + chosen.seconds
    fitting = max(0, math.floor(window_min * 60 / per_team + 1e-9)) * day.benches
    teams = min(day.teams, fitting)
    minutes = math.ceil(teams / day.benches) * per_team / 60
    note = f"{per_team:.0f} s a team"
    if chosen.resolution is not None:
        note += f", steps of {chosen.resolution:.0%}"
    if day.benches > 1:
        note += f", {day.benches} benches"
    return _Tests(chosen, per_team, minutes, teams, note)


def _gives(day: Day, window_min: float, split: bool) -> list[str]:
    """What would let every team be tested, each worked out."""
    rounds = math.ceil(day.teams / day.benches)
    coarsest = day.swap_s + day.tests[-1].seconds
    missing = rounds * coarsest / 60 - window_min
    now = _tests(day, window_min).teams
    sentences = []
    for benches in range(day.benches + 1, day.teams + 1):
        if _tests(replace(day, benches=benches), window_min).teams >= day.teams:
            sentences.append(f"With {benches} benches all {day.teams} teams are tested in this time.")
            break
    if not split and day.build_minutes - missing >= SHORTEST_BUILD_MIN:
        sentences.append(f"With {math.ceil(missing)} minutes less to build, all are tested on one bench.")
    if not split:
        sentences.append("Build in this lesson and test in the next.")
    if now:
        sentences.append(f"Test {now} of {day.teams} teams now and the others in another lesson.")
    if day.tests[-1].resolution is not None:
        sentences.append(
            f"Steps are already as coarse as {day.tests[-1].resolution:.0%}; coarser ones would say little."
        )
    return sentences


def propose_day(
    minutes: float, teams: int, tests: Sequence[BenchTime], swap_s: float, drying_minutes: float = 0.0
) -> Day:
    """A day that fits, if one can.

    Building gets two fifths of the lesson or more. One bench and one lesson are tried first, then two benches, then
    tests in the next lesson, where building may take all that is left, then more benches.

    Args:
        minutes: length of a lesson [min].
        teams: how many.
        tests: ways to test, finest first.
        swap_s: bringing a structure and clearing up [s].
        drying_minutes: how long joints dry [min].
    Returns:
        The first of these days on which every team is tested; the last if none is.
    Errors:
        Those of ``lesson`` for a length or number that makes no sense.
    """
    talk, check_in = talk_minutes(minutes), check_in_minutes(teams)
    wanted = max(SHORTEST_BUILD_MIN, math.floor(0.4 * minutes))
    kept = Day(minutes, teams, 1, wanted, tuple(tests), swap_s, drying_minutes)
    day = kept
    for two_lessons, benches in ((False, 1), (False, 2), *((True, n) for n in range(1, max(1, teams) + 1))):
        if benches > max(1, teams) or (drying_minutes > 0 and not two_lessons):
            continue
        day = replace(kept, benches=benches, two_lessons=two_lessons)
        if two_lessons:
            day = replace(day, build_minutes=max(wanted, min(45.0, minutes - talk - 3)))
            if lesson(day).fits:
                return day
            continue
        _check(day)
        # What the tests do not need at a fair resolution goes to building.
        fair = next((choice for choice in tests if choice.resolution is None or choice.resolution >= FAIR), tests[-1])
        rounds = math.ceil(teams / benches)
        left = minutes - 2 * talk - check_in - math.ceil(rounds * (swap_s + fair.seconds) / 60)
        if left >= wanted:
            return replace(day, build_minutes=float(min(left, 0.6 * minutes) // 1))
    return day


@dataclass(frozen=True)
class Turn:
    """A team in the queue: its name, whether it is tested, on the bench or still waits, and when it was tested last.

    ``last_time`` is its place in the order of the run before, from 1; 0 where there was none.
    """

    name: str
    tested: bool
    last_time: int = 0


@dataclass(frozen=True)
class BenchFit:
    """Whether the teams that wait fit into what is left.

    Attributes:
        waiting: how many wait.
        fit: how many of them are tested in the time.
        per_team_s: what one team takes [s].
        basis: what that rests on.
        sentence: in words.
        gives: what to change when not all fit, each with its figure.
    """

    waiting: int
    fit: int
    per_team_s: float
    basis: str
    sentence: str
    gives: tuple[str, ...]


LONGEST_TURN_S = 1800
"""Two starts further apart than this have a break between them [s] (ours)."""


def bench_fit(
    left_s: float, waiting: int, planned_s: float, taken_s: Sequence[float], benches: int, resolution: float | None
) -> BenchFit:
    """Which teams still fit into the lesson.

    Args:
        left_s: until the tests must end [s].
        waiting: how many teams wait.
        planned_s: what the plan allows a team [s], > 0.
        taken_s: what the teams so far took, from one start to the next [s]; from two on they stand before the plan,
            from three on without the slowest; half an hour and more is a break and no turn.
        benches: how many test at the same time.
        resolution: the planned step as a share of what is on [-]; None for a fixed test.
    Returns:
        How many fit, and what to change when that is not all: another bench, coarser steps, another lesson.
    Errors:
        ``no_benches``.
    """
    if benches < 1:
        raise GirderError("no_benches", "There is at least one bench to test on.", field="benches")
    finite("left_s", left_s, "The time that is left")
    positive("planned_s", planned_s, "The time for a team")
    taken_s = [seconds for seconds in taken_s if seconds <= LONGEST_TURN_S]
    known = len(taken_s) >= 2
    counted = sorted(taken_s)[:-1] if len(taken_s) > 2 else taken_s
    per_team = math.fsum(counted) / len(counted) if known else planned_s
    basis = f"{len(taken_s)} teams so far" if known else "the plan"
    rounds = math.floor(max(0.0, left_s) / per_team + 1e-9)
    fit = min(waiting, rounds * benches)
    minutes = math.floor(max(0.0, left_s) / 60)
    if waiting == 0:
        return BenchFit(0, 0, per_team, basis, "Everybody has been on the bench.", ())
    each = f"{per_team / 60:.1f} min a team, by {basis}"
    if fit >= waiting:
        spare = math.floor((left_s - math.ceil(waiting / benches) * per_team) / 60)
        return BenchFit(
            waiting, fit, per_team, basis,
            f"{minutes} min left: all {waiting} still fit ({each}), with {spare} min to spare.", (),
        )  # fmt: skip
    gives = []
    needed = math.ceil(waiting / rounds) if rounds else 0
    if rounds and needed > benches:
        gives.append(f"With {needed} benches all {waiting} fit.")
    quicker = left_s * benches / waiting
    if resolution is not None and quicker > 45:
        gives.append(f"With {quicker / 60:.1f} min a team all fit on {'this bench' if benches == 1 else 'these'}: take "
                     "coarser steps, whole bags first.")  # fmt: skip
    gives.append(f"Test {fit} now and {waiting - fit} in the next lesson." if fit else "Go on in the next lesson.")
    return BenchFit(
        waiting, fit, per_team, basis, f"{minutes} min left: {fit} of {waiting} still fit ({each}).", tuple(gives)
    )


def fair_order(turns: Sequence[Turn]) -> list[int]:
    """Who tests when: who was last at the bench last time comes first.

    Args:
        turns: the teams in their present order.
    Returns:
        Their places in that order [-], from 0: the tested keep their places, the others go from last to first of the
        time before; those of whom nothing is known follow in their present order.
    """
    slots = [i for i, turn in enumerate(turns) if not turn.tested]
    known = sorted((i for i in slots if turns[i].last_time), key=lambda i: -turns[i].last_time)
    order = known + [i for i in slots if not turns[i].last_time]
    places = list(range(len(turns)))
    for slot, i in zip(slots, order, strict=True):
        places[slot] = i
    return places
