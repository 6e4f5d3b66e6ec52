"""What may be done in a trial now, and why something may not: one table, for the ledger and for the keys of the bench.

A need is a fact that has to be so, or must not be so, with the sentence that says why. The ledger refuses what has an
unmet need. The bench gets facts and needs with a trial's state, so it can say beforehand what would be refused, and go
on saying it while entries wait for the network.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.trial.result import EventKind, Outcome, TrialResult, TrialSetup


class Fact(StrEnum):
    """Something that is so of a trial, or is not."""

    RUNNING = "running"
    SCORED = "scored"
    VOID = "void"
    STEP_WAITS = "step_waits"
    ROUND_WAITS = "round_waits"
    WAITS = "waits"
    PLACED = "placed"
    STARTED = "started"
    LOADED = "loaded"
    HELD = "held"
    STOOD = "stood"
    ROUND_MADE = "round_made"
    ROUND_AHEAD = "round_ahead"
    ALL_MADE = "all_made"
    TOLD = "told"
    LOADING = "loading"
    READ = "read"
    PILE_WEIGHED = "pile_weighed"
    UNDOABLE = "undoable"
    NEVER = "never"


def _next_size(result: TrialResult, setup: TrialSetup) -> bool:
    return setup.rounds is not None and setup.rounds.after(result.rounds[-1].size if result.rounds else 0.0) is not None


def _all_made(result: TrialResult, setup: TrialSetup) -> bool:
    """Whether all rounds that the test asks for are made; against the clock any number will do."""
    return setup.rounds is not None and (setup.rounds.attack_s is not None or not _next_size(result, setup))


_SO: Mapping[Fact, Callable[[TrialResult, TrialSetup], bool]] = {
    Fact.RUNNING: lambda r, s: r.outcome is Outcome.RUNNING,
    Fact.SCORED: lambda r, s: r.scored,
    Fact.VOID: lambda r, s: r.outcome is Outcome.VOID,
    Fact.STEP_WAITS: lambda r, s: r.step_waiting,
    Fact.ROUND_WAITS: lambda r, s: r.round_waiting,
    Fact.WAITS: lambda r, s: r.step_waiting or r.round_waiting,
    Fact.PLACED: lambda r, s: any(r.placed.values()),
    Fact.STARTED: lambda r, s: r.load_on.value > 0 or bool(r.rounds),
    Fact.LOADED: lambda r, s: r.load_on.value > 0,
    Fact.HELD: lambda r, s: r.held.value > 0 or r.stood,
    Fact.STOOD: lambda r, s: r.stood,
    Fact.ROUND_MADE: lambda r, s: bool(r.rounds),
    Fact.ROUND_AHEAD: lambda r, s: r.round_waiting or _next_size(r, s),
    Fact.ALL_MADE: _all_made,
    Fact.TOLD: lambda r, s: s.told(r.measures),
    Fact.LOADING: lambda r, s: (
        s.rounds is None or (s.rounds.procedure.top_load and bool(s.kit.items) and s.told(r.measures))
    ),
    Fact.READ: lambda r, s: r.read.value > 0,
    Fact.PILE_WEIGHED: lambda r, s: r.pile_weighed,
    Fact.UNDOABLE: lambda r, s: r.undoable is not None,
    Fact.NEVER: lambda r, s: False,
}


def facts_of(result: TrialResult, setup: TrialSetup) -> frozenset[Fact]:
    """What is so of a trial now.

    Args:
        result: what its ledger came to.
        setup: what it is judged by.
    Returns:
        The facts.
    """
    return frozenset(fact for fact, so in _SO.items() if so(result, setup))


@dataclass(frozen=True)
class Need:
    """What has to be so before something may be done.

    Attributes:
        fact: what is asked.
        so: whether it has to be so, or must not be.
        code: stable name of the refusal.
        says: why it cannot be done, in a sentence.
    """

    fact: Fact
    so: bool
    code: str
    says: str

    def met(self, facts: frozenset[Fact]) -> bool:
        """Whether it is so."""
        return (self.fact in facts) is self.so


_RUNNING = Need(Fact.RUNNING, True, "trial_ended", "This trial has ended. Undo its end first, or start another trial.")
_OVER = "Say first how the one under way went."


def needs_of(act: EventKind, setup: TrialSetup, measure: str = "") -> tuple[Need, ...]:
    """What has to be so before something may be done in a trial.

    Args:
        act: what is to be done.
        setup: what the trial is judged by.
        measure: for a measurement, its key.
    Returns:
        The needs, the one to be told first before the others. How much is left of a load, how long the wait was and
        what was typed are the ledger's own to judge.
    """
    plan, procedure = setup.rounds, setup.rounds.procedure if setup.rounds else None
    match act:
        case EventKind.PLACE | EventKind.LOAD_READING:
            if procedure is None:
                return (_RUNNING,)
            loadable = Fact.STOOD if procedure.top_load else Fact.NEVER
            return (
                _RUNNING,
                Need(loadable, True, "stand_first", "It has to stand by itself first; then its top may be loaded."),
            )
        case EventKind.REMOVE:
            return (_RUNNING, Need(Fact.PLACED, True, "not_that_many_on", "There is nothing on it to take off."))
        case EventKind.SETTLE:
            nothing = "Nothing was done to it since it last held."
            return (_RUNNING, Need(Fact.WAITS, True, "nothing_to_settle", nothing))
        case EventKind.MEASURE:
            spec = setup.measures.get(measure)
            if spec is None or not spec.needed or plan is None:
                return (_RUNNING,)
            early = "First the test, then the tape: it has to stand by itself."
            stood = Need(Fact.STOOD, True, "measured_too_early", early)
            if spec.all_unless_hit:
                return (_RUNNING, stood, Need(Fact.ALL_MADE, True, "measured_too_early", plan.procedure.waiting_for))
            return (_RUNNING, stood)
        case EventKind.FAIL:
            started = Need(
                Fact.STARTED,
                True,
                "fail_before_load",
                "Nothing has been done to it yet. A design that cannot stand fails at check-in.",
            )
            if procedure is not None and procedure.hit_or_miss and not procedure.went:
                goes_on = "An attack goes on to its last throw; then what is left is counted."
                return (_RUNNING, started, Need(Fact.NEVER, True, "attack_goes_on", goes_on))
            return (_RUNNING, started)
        case EventKind.RUN_OUT:
            return (
                _RUNNING,
                Need(Fact.WAITS, False, "step_not_settled", "Wait for the last step to hold first."),
                Need(Fact.HELD, True, "nothing_held", "Nothing has held yet, so nothing can have run out."),
            )
        case EventKind.PILE_READING:
            return (
                Need(Fact.READ, False, "load_was_read", "This load was read and not piled up: there is no pile."),
                Need(Fact.SCORED, True, "pile_too_early", "Weigh the pile after the trial has ended."),
                Need(Fact.PLACED, True, "pile_too_early", "Nothing was placed on it, so there is no pile."),
            )
        case EventKind.ROUND:
            if plan is None or procedure is None:
                none = "This kind of challenge is loaded; there is nothing to shake, drop or throw."
                return (_RUNNING, Need(Fact.NEVER, True, "no_rounds", none))
            waiting = Need(Fact.ROUND_WAITS, False, "round_waiting", _OVER)
            if procedure.any_size:
                return (_RUNNING, waiting)
            return (_RUNNING, waiting, Need(Fact.ROUND_AHEAD, True, "rounds_over", procedure.all_made))
        case EventKind.FINISH:
            if procedure is None or not procedure.finish:
                how = "Say how it ended: it went, or the load ran out."
                return (_RUNNING, Need(Fact.NEVER, True, "not_to_finish", how))
            measured = " and " if setup.needs_all else " or "
            labels = measured.join(measure.label for measure in setup.measures.values() if measure.needed)
            return (
                _RUNNING,
                Need(Fact.WAITS, False, "round_waiting", _OVER),
                Need(Fact.STOOD, True, "nothing_done", "Nothing has been done to it yet."),
                *((Need(Fact.ALL_MADE, True, "throws_left", procedure.waiting_for),) if procedure.waiting_for else ()),
                Need(Fact.TOLD, True, "not_measured_yet", f"Still to be measured: {labels}."),
            )
        case EventKind.UNDO:
            return (Need(Fact.UNDOABLE, True, "nothing_to_undo", "There is nothing to take back."),)
        case EventKind.VOID:
            # What spoiled a trial may be found out after its end.
            return (Need(Fact.VOID, False, "already_void", "This trial is void already."),)
        case EventKind.CORRECT | EventKind.NOTE | EventKind.MOVE:
            return ()
        case _:
            return (_RUNNING,)


@dataclass(frozen=True)
class Act:
    """Something that can be done in a trial.

    Attributes:
        kind: what it is.
        measure: for a measurement, its key.
        needs: what has to be so.
        reason: why it cannot be done now; empty where it can.
    """

    kind: EventKind
    measure: str
    needs: tuple[Need, ...]
    reason: str

    @property
    def name(self) -> str:
        """Its kind, and for a measurement what is measured: "place", "measure:height"."""
        return f"{self.kind.value}:{self.measure}" if self.measure else self.kind.value


def acts(result: TrialResult, setup: TrialSetup) -> tuple[Act, ...]:
    """All that can be done in a trial, and why something cannot be done now.

    Args:
        result: what its ledger came to.
        setup: what it is judged by.
    Returns:
        An act per kind, and per measure for measurements.
    """
    facts = facts_of(result, setup)
    asked: list[tuple[EventKind, str]] = [(kind, "") for kind in EventKind if kind is not EventKind.MEASURE]
    asked += [(EventKind.MEASURE, key) for key in setup.measures]
    listed = []
    for kind, measure in asked:
        needs = needs_of(kind, setup, measure)
        listed.append(Act(kind, measure, needs, next((need.says for need in needs if not need.met(facts)), "")))
    return tuple(listed)


def require(act: EventKind, result: TrialResult, setup: TrialSetup, measure: str = "") -> None:
    """Refuse what may not be done now.

    Args:
        act: what is to be done.
        result: what the ledger came to so far.
        setup: what the trial is judged by.
        measure: for a measurement, its key.
    Returns:
        Nothing.
    Errors:
        The first need that is not met, by its code.
    """
    for need in needs_of(act, setup, measure):
        if _SO[need.fact](result, setup) is not need.so:
            raise GirderError(need.code, need.says)
