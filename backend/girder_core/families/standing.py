"""Where a design stands on its way: what check-in waits for, whether it was tested, which version counts."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from girder_core.families.constraints import ConstraintResult, Status
from girder_core.families.model import Family, Setup
from girder_core.ground import GirderError
from girder_core.measure import Quantity
from girder_core.results import BreachPolicy
from girder_core.trial import Outcome, TrialResult


class DesignState(StrEnum):
    """Where a design stands, in a word."""

    WAITING = "waiting"
    CHECKED_IN = "checked_in"
    ON_BENCH = "on_bench"
    BROKE = "broke"
    RAN_OUT = "ran_out"
    DONE = "done"
    VOID = "void"
    MEASURED = "measured"
    ABSENT = "absent"
    WITHDRAWN = "withdrawn"


class TeamStage(StrEnum):
    """What a team is at, so that its page shows that and not the rest."""

    BRIEF = "brief"
    BUILD = "build"
    READY = "ready"
    TESTING = "testing"
    RESULT = "result"
    AWAY = "away"


_STAGES = {
    DesignState.CHECKED_IN: TeamStage.READY,
    DesignState.VOID: TeamStage.READY,
    DesignState.ON_BENCH: TeamStage.TESTING,
    DesignState.ABSENT: TeamStage.AWAY,
    DesignState.WITHDRAWN: TeamStage.AWAY,
    DesignState.BROKE: TeamStage.RESULT,
    DesignState.RAN_OUT: TeamStage.RESULT,
    DesignState.DONE: TeamStage.RESULT,
    DesignState.MEASURED: TeamStage.RESULT,
}


def team_stage(state: DesignState, building: bool) -> TeamStage:
    """What a team is at.

    Args:
        state: where its latest design stands.
        building: whether the class has begun to build, by its clock or by what the team wrote down.
    Returns:
        The stage; a design that waits is built once building has begun, and read about before.
    """
    return _STAGES.get(state, TeamStage.BUILD if building else TeamStage.BRIEF)


class Away(StrEnum):
    """Why a design is not tested today: its team is not here, or does not go on with it."""

    ABSENT = "absent"
    WITHDRAWN = "withdrawn"


AWAY_WORDS = {Away.ABSENT: "Absent that day.", Away.WITHDRAWN: "Withdrawn."}
"""Why there is no result, in a sentence."""
TO_BE_TESTED = frozenset({DesignState.WAITING, DesignState.CHECKED_IN, DesignState.VOID})
"""A design in one of these states still waits for a test that counts."""


@dataclass(frozen=True)
class Standing:
    """What is known of a design on its way through the lesson.

    Attributes:
        family: its kind of challenge.
        checked_in: whether it was let to the bench.
        readings: keys of the readings that were taken of it.
        trials: the results of its trials, in order.
        away: why it is not tested today; None for one that is. A result that it has stands all the same.
    """

    family: Family
    checked_in: bool
    readings: Collection[str]
    trials: Sequence[TrialResult]
    away: Away | None = None

    @property
    def tested(self) -> bool:
        """Whether it has a result: a trial that counts, or, where nothing is loaded, the readings that tell it.

        Readings tell a result only after check-in.
        """
        if any(trial.scored for trial in self.trials):
            return True
        results = self.family.result_readings
        return self.checked_in and bool(results) and all(key in self.readings for key in results)

    @property
    def expected(self) -> bool:
        """Whether a result of it is there or to come: not of one whose team is away."""
        return self.state not in (DesignState.ABSENT, DesignState.WITHDRAWN)

    @property
    def state(self) -> DesignState:
        """What the queue at the bench shows in a word."""
        if any(not trial.ended for trial in self.trials):
            return DesignState.ON_BENCH
        counted = [trial.outcome for trial in self.trials if trial.scored]
        if counted:
            return DesignState(counted[-1].value)
        if self.tested:
            return DesignState.MEASURED
        if self.away is not None:
            return DesignState(self.away.value)
        if any(trial.outcome is Outcome.VOID for trial in self.trials):
            return DesignState.VOID
        return DesignState.CHECKED_IN if self.checked_in else DesignState.WAITING


def counting_version(tested: Sequence[bool]) -> int:
    """Which version of a team's design stands for it.

    Args:
        tested: of each version, from the first, whether it has a result; at least one.
    Returns:
        Place in the list of the latest that has one; of the latest of all where none has.
    """
    return max((i for i, done in enumerate(tested) if done), default=len(tested) - 1)


def still_to_do(family: Family, readings: Collection[str], answers: Mapping[str, bool]) -> tuple[str, ...]:
    """What check-in still waits for.

    Args:
        family: the kind of challenge.
        readings: keys of the readings that were taken.
        answers: the answers to its questions so far.
    Returns:
        Labels of the needed readings that cannot follow later, then the questions without an answer.
    """
    missing = [
        reading.label
        for reading in family.readings
        if reading.needed and not reading.may_follow and reading.key not in readings
    ]
    return (*missing, *(question.text for question in family.questions if question.key not in answers))


def let_to_bench(
    family: Family,
    setup: Setup,
    readings: Mapping[str, Quantity],
    answers: Mapping[str, bool],
    breach_policy: BreachPolicy,
) -> tuple[ConstraintResult, ...]:
    """Let a design to the bench, or say why not.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
        readings: what was measured of it [SI].
        answers: the answers to the family's questions.
        breach_policy: what a broken rule does.
    Returns:
        The rules that it breaks and is tested all the same.
    Errors:
        ``check_in_incomplete`` with what is missing; ``nothing_to_test`` for one that does not stand; and
        ``breach_refused`` where the recipe tests nothing that breaks a rule.
    """
    missing = list(still_to_do(family, readings, answers))
    if missing:
        raise GirderError("check_in_incomplete", f"Still to do: {'; '.join(missing)}.", missing=missing)
    for question in family.questions:
        if question.blocks and answers[question.key] is not question.good:
            raise GirderError("nothing_to_test", f"{question.breach} So there is nothing to test yet.")
    broken = tuple(rule for rule in family.check(setup, readings, answers) if rule.status is Status.BREACHED)
    if broken and breach_policy is BreachPolicy.REFUSE:
        raise GirderError(
            "breach_refused",
            f"{broken[0].sentence} This recipe tests no design that breaks a rule. Mend it and measure again.",
        )
    return broken
