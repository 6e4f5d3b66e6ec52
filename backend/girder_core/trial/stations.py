"""Tests that a team makes by itself, at a station of its own: what it may write, and what its teacher says of it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.trial.result import EventKind, TrialResult

UNCONFIRMED = "not confirmed yet"
"""How a result is marked that a team found by itself, until its teacher has looked at it."""
STOPPED = "Your teacher has stopped this test. Put nothing more on. Hands off."
_PUTS_ON = frozenset({EventKind.PLACE, EventKind.LOAD_READING, EventKind.ROUND})
_OF_TEACHERS = frozenset({EventKind.CORRECT, EventKind.MOVE})


def with_mark(words: str, unconfirmed: bool) -> str:
    """What a test came to, marked where nobody has confirmed it.

    Args:
        words: what it came to; empty where that is told elsewhere.
        unconfirmed: whether a team found it by itself, and its teacher has not confirmed it.
    Returns:
        Such as "490 g, not confirmed yet".
    """
    return ", ".join(part for part in (words, UNCONFIRMED if unconfirmed else "") if part)


@dataclass(frozen=True)
class Station:
    """How a test that a team makes by itself stands with its teacher.

    Attributes:
        stopped: whether the teacher has stopped it, or has it at a bench of their own.
        confirmed: whether the teacher has confirmed its result.
    """

    stopped: bool = False
    confirmed: bool = False


class StationState(StrEnum):
    """Where a team stands that tests by itself, as its teacher sees all of them."""

    BUILDING = "building"
    READY = "ready"
    AT_BENCH = "at_bench"
    TESTING = "testing"
    STOPPED = "stopped"
    TO_CONFIRM = "to_confirm"
    DONE = "done"


def station_state(
    checked_in: bool, tested: bool, result: TrialResult | None, station: Station, at_bench: bool = False
) -> StationState:
    """Where a team stands.

    Args:
        checked_in: whether its design was let to the bench.
        tested: whether that has a result.
        result: what its latest own test came to; None without one.
        station: how that test stands with the teacher.
        at_bench: whether a test is on that the teacher makes with it.
    Returns:
        What comes first of all that is so: a test that is stopped or under way, one that waits to be confirmed.
    """
    if result is not None and not result.ended:
        return StationState.STOPPED if station.stopped else StationState.TESTING
    if at_bench:
        return StationState.AT_BENCH
    if result is not None and not station.confirmed:
        return StationState.TO_CONFIRM
    if tested:
        return StationState.DONE
    return StationState.READY if checked_in else StationState.BUILDING


def admit_at_station(kind: EventKind, station: Station) -> None:
    """Refuse what a team may not write in its own test; what the ledger refuses is asked there.

    A stop holds back what puts more on. What happened all the same can be said: that it held, that it went, what was
    seen. So a stop never makes a ledger untrue.

    Args:
        kind: of the entry.
        station: how the test stood with the teacher when the entry was made.
    Returns:
        Nothing, where the team may write it.
    Errors:
        ``confirmed`` once the result is; ``of_teachers`` for what only a teacher puts right; ``stopped``.
    """
    if station.confirmed:
        raise GirderError("confirmed", "Your teacher has confirmed this result. If something is wrong, say so there.")
    if kind in _OF_TEACHERS:
        raise GirderError("of_teachers", "Your teacher puts entries right. Undo the latest one, or say what is wrong.")
    if station.stopped and kind in _PUTS_ON:
        raise GirderError("stopped", STOPPED)


def held_at_station(station: Station) -> dict[str, str]:
    """What a team is held back from by its teacher's stop.

    Args:
        station: how its test stands with the teacher.
    Returns:
        For each kind of entry that puts more on, why not; empty while nothing is stopped.
    """
    return {kind.value: STOPPED for kind in sorted(_PUTS_ON)} if station.stopped else {}


def confirm_at_station(result: TrialResult, seen: int) -> None:
    """Refuse to confirm what is not over, or is not any more what was looked at.

    Args:
        result: what the test came to.
        seen: the number that the next entry had when it was looked at.
    Returns:
        Nothing, where it can be confirmed.
    Errors:
        ``trial_open`` while it goes on; ``changed_meanwhile`` where something was written since.
    """
    if not result.ended:
        raise GirderError("trial_open", "This test still goes on. Its result can be confirmed when it is over.")
    if result.next_sequence != seen:
        raise GirderError("changed_meanwhile", "The team wrote something since you looked. Look at it again.")
