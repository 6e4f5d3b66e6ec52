"""The events of a trial to the trial's result: the only place that turns a trial into numbers.

A trial is a list of immutable events in sequence. ``replay`` reads them from the first; an event that the rules do not
allow at its place is left out and named in ``TrialResult.refused``, so a ledger can always be read, whatever it holds.
Nothing is ever changed or taken away: ``undo`` is an event too, and takes back the latest event that still stands.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from girder_core import units
from girder_core.errors import GirderError
from girder_core.loading import PLATFORM, Kit
from girder_core.uncertainty import COVERAGE_FACTOR, Quantity, resolution_uncertainty
from girder_core.units import Kind

RULE_VERSION = "ledger-1"
"""Version of the rules by which events become a result; it goes with every exported result."""


NOTHING = Quantity(0.0)
"""No load at all [kg]."""


class EventKind(StrEnum):
    """What can happen in a trial."""

    PLACE = "place"
    REMOVE = "remove"
    SETTLE = "settle"
    OBSERVE = "observe"
    MEASURE = "measure"
    FAIL = "fail"
    RUN_OUT = "run_out"
    VOID = "void"
    PILE_READING = "pile_reading"
    UNDO = "undo"


class Outcome(StrEnum):
    """How a trial stands."""

    RUNNING = "running"
    BROKE = "broke"
    RAN_OUT = "ran_out"
    VOID = "void"


class StepState(StrEnum):
    """What became of a placed step."""

    WAITING = "waiting"
    HELD = "held"
    BROKE = "broke"
    NOT_COUNTED = "not_counted"


@dataclass(frozen=True)
class Event:
    """One event of a trial.

    Attributes:
        id: made by the client, unique; the same id twice is the same event.
        sequence: place in the trial, from 1 without gaps.
        kind: what happened.
        data: by kind: ``item`` and ``count`` (place, remove), ``waited_s`` (settle), ``sign`` (observe), ``sag`` as
            typed text with its unit (measure), ``mode`` and ``note`` (fail), ``reason`` and ``note`` (run_out, void),
            ``mass`` and ``resolution`` as typed texts and ``covers`` = ``all`` or ``held`` (pile_reading), ``event``
            (undo).
    """

    id: str
    sequence: int
    kind: EventKind
    data: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class TrialSetup:
    """What a trial is judged by: the kit, the limits, the agreed wait [s], and the names that events may use."""

    kit: Kit
    hold_s: float
    bench_limit_kg: float | None
    failure_modes: frozenset[str]
    loading_errors: frozenset[str]
    run_out_reasons: frozenset[str]
    observations: frozenset[str]


@dataclass(frozen=True)
class Interval:
    """Bounds of a strength; ``high`` is infinite when the load ran out."""

    low: float
    high: float

    def __post_init__(self) -> None:
        if not self.low <= self.high:
            raise GirderError("interval_reversed", "The lower bound of an interval lies above the upper bound.")

    @property
    def open_above(self) -> bool:
        """Whether nothing is known of the upper bound."""
        return math.isinf(self.high)


@dataclass(frozen=True)
class Step:
    """A placement as the strip at the bench shows it: the event, what, how heavy, and what became of it."""

    event_id: str
    kind: EventKind
    item: str
    count: int
    mass_kg: float
    state: StepState
    signs: tuple[str, ...] = ()


@dataclass(frozen=True)
class Refusal:
    """An event that the rules leave out: its id, the error's code and the sentence."""

    event_id: str
    code: str
    sentence: str


@dataclass(frozen=True)
class TrialResult:
    """What the events of a trial say.

    Attributes:
        outcome: running, broke, ran out or void.
        placed: what is on the structure now, by item key; what was on it at the end, once it has ended.
        load_on: its mass [kg].
        held: greatest load that stayed up for the agreed wait [kg]; zero when none did.
        broke_at: load that broke it [kg], when it broke.
        interval: bounds of the strength as a load [kg], each widened by the mass uncertainty; None when void.
        step_waiting: true when something was placed that has not settled yet.
        steps: the placements in order.
        signs: observation keys in order, each with the load that was on [kg].
        sags: sag readings, each (load on [kg], sag [m]).
        mode: how it failed, when it broke.
        reason: why it ran out or is void.
        note: what was written with the end.
        last_step_kg: mass of the last step placed [kg]; its size is the resolution of the result.
        undoable: the event that ``undo`` would take back, if any.
        next_sequence: the sequence number the next event must have.
        late: ids of events that wait for an earlier one to arrive.
        refused: events that the rules leave out.
        pile_weighed: true when the load was taken from the scale and not from the count.
    """

    outcome: Outcome = Outcome.RUNNING
    placed: Mapping[str, int] = field(default_factory=dict)
    load_on: Quantity = NOTHING
    held: Quantity = NOTHING
    broke_at: Quantity | None = None
    interval: Interval | None = None
    step_waiting: bool = False
    steps: tuple[Step, ...] = ()
    signs: tuple[tuple[str, float], ...] = ()
    sags: tuple[tuple[float, float], ...] = ()
    mode: str | None = None
    reason: str | None = None
    note: str = ""
    last_step_kg: float = 0.0
    undoable: str | None = None
    next_sequence: int = 1
    late: tuple[str, ...] = ()
    refused: tuple[Refusal, ...] = ()
    pile_weighed: bool = False

    @property
    def last_sag_m(self) -> float | None:
        """The latest sag reading [m], if any was taken."""
        return self.sags[-1][1] if self.sags else None

    @property
    def ended(self) -> bool:
        """Whether nothing more can be placed."""
        return self.outcome is not Outcome.RUNNING

    @property
    def scored(self) -> bool:
        """Whether the trial counts: it broke or it ran out."""
        return self.outcome in (Outcome.BROKE, Outcome.RAN_OUT)


def replay(events: Iterable[Event], setup: TrialSetup) -> TrialResult:
    """Turn the events of a trial into its result.

    Args:
        events: the events in any order; repeats of an id are read once.
        setup: what the trial is judged by.
    Returns:
        The result after the unbroken run of sequence numbers from 1. Later events are named in ``late``, events that
        the rules do not allow in ``refused``; neither changes the result.
    Errors:
        None: whatever the ledger holds, it can be read.
    """
    by_id: dict[str, Event] = {}
    for event in events:
        by_id.setdefault(event.id, event)
    ordered = sorted(by_id.values(), key=lambda event: (event.sequence, event.id))

    # Each entry: the id of an event that stands, and the result before it; undo goes back to the latter.
    standing: list[tuple[str, TrialResult]] = []
    undone: set[str] = set()
    result = TrialResult()
    refused: list[Refusal] = []
    expected = 1
    for position, event in enumerate(ordered):
        if event.sequence > expected:
            result = replace(result, late=tuple(late.id for late in ordered[position:]))
            break
        try:
            if event.sequence < expected:
                raise GirderError("sequence_taken", "Another event already stands at this place of the trial.")
            if event.kind is EventKind.UNDO:
                result = _undo(event, standing, undone)
            else:
                before = result
                result = _APPLY[event.kind](result, event, setup)
                standing.append((event.id, before))
        except GirderError as error:
            refused.append(Refusal(event.id, error.code, error.sentence))
        expected = max(expected, event.sequence + 1)
    return replace(
        result,
        interval=_interval(result),
        undoable=standing[-1][0] if standing else None,
        next_sequence=expected,
        refused=tuple(refused),
    )


def admit(events: Iterable[Event], new: Event, setup: TrialSetup) -> TrialResult:
    """Judge one more event against a trial.

    Args:
        events: what the ledger holds.
        new: the event that wants in.
        setup: what the trial is judged by.
    Returns:
        The result with the new event.
    Errors:
        The error by which the rules refuse it; an event that comes before its turn is let in and waits.
    """
    result = replay([*events, new], setup)
    for refusal in result.refused:
        if refusal.event_id == new.id:
            raise GirderError(refusal.code, refusal.sentence, event=new.id)
    return result


def _undo(event: Event, standing: list[tuple[str, TrialResult]], undone: set[str]) -> TrialResult:
    target = event.data.get("event")
    if target in undone:
        raise GirderError("already_undone", "That has been taken back already.")
    if not standing or standing[-1][0] != target:
        raise GirderError("undo_not_last", "Only the latest entry can be taken back.")
    undone.add(standing[-1][0])
    return standing.pop()[1]


def _still_running(result: TrialResult) -> None:
    if result.ended:
        raise GirderError("trial_ended", "This trial has ended. Undo its end first, or start another trial.")


def _count(event: Event) -> int:
    count = event.data.get("count")
    if isinstance(count, bool) or not isinstance(count, int) or count < 1:
        raise GirderError("count_not_positive", "Place a whole number of objects, at least one.")
    return count


def _place(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    count, item = _count(event), setup.kit.item(str(event.data.get("item")))
    if setup.kit.has_platform() and item.key != PLATFORM and not result.placed.get(PLATFORM):
        raise GirderError("platform_first", "The platform goes on first; it is load too.")
    left = setup.kit.remaining(result.placed)[item.key]
    if count > left:
        raise GirderError("kit_exceeded", f"Only {left} of “{item.name}” left in the kit.", left=left, item=item.key)
    placed = {**result.placed, item.key: result.placed.get(item.key, 0) + count}
    load = setup.kit.mass(placed)
    if setup.bench_limit_kg is not None and load.value > setup.bench_limit_kg + 1e-9:
        raise GirderError("over_bench_limit", "That is more than this bench may carry. End with “bench limit”.")
    mass_kg = item.mass.value * count
    step = Step(event.id, event.kind, item.key, count, mass_kg, StepState.WAITING)
    return replace(
        result,
        placed=placed,
        load_on=load,
        step_waiting=True,
        steps=(*result.steps, step),
        last_step_kg=(result.last_step_kg if result.step_waiting else 0.0) + mass_kg,
    )


def _remove(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    count, item = _count(event), setup.kit.item(str(event.data.get("item")))
    if count > result.placed.get(item.key, 0):
        raise GirderError("not_that_many_on", f"There are not {count} of “{item.name}” on the bridge.")
    placed = {**result.placed, item.key: result.placed[item.key] - count}
    if item.key == PLATFORM and any(placed.values()):
        raise GirderError("platform_last", "Take everything off the platform first.")
    load = setup.kit.mass(placed)
    step = Step(event.id, event.kind, item.key, count, -item.mass.value * count, StepState.NOT_COUNTED)
    return replace(
        result,
        placed=placed,
        load_on=load,
        step_waiting=result.step_waiting and any(placed.values()),
        last_step_kg=max(0.0, load.value - result.held.value),
        steps=(*result.steps, step),
    )


def _settle(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    if not result.step_waiting:
        raise GirderError("nothing_to_settle", "Nothing was placed since it last held.")
    waited_s = event.data.get("waited_s")
    if isinstance(waited_s, bool) or not isinstance(waited_s, (int, float)) or waited_s < 0.9 * setup.hold_s:
        raise GirderError("wait_too_short", f"It counts as held after {setup.hold_s:g} s. Wait and watch.")
    heavier = result.load_on if result.load_on.value > result.held.value else result.held
    return replace(result, held=heavier, step_waiting=False, steps=_steps_become(result.steps, StepState.HELD))


def _steps_become(steps: tuple[Step, ...], state: StepState) -> tuple[Step, ...]:
    return tuple(replace(step, state=state) if step.state is StepState.WAITING else step for step in steps)


def _observe(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    sign = str(event.data.get("sign"))
    if sign not in setup.observations:
        raise GirderError("unknown_sign", "That is not a sign this kind of challenge watches for.")
    steps = result.steps
    if steps:
        steps = (*steps[:-1], replace(steps[-1], signs=(*steps[-1].signs, sign)))
    return replace(result, steps=steps, signs=(*result.signs, (sign, result.load_on.value)))


def _measure(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    sag_m = units.parse(str(event.data.get("sag", "")), Kind.LENGTH).si
    if not 0 <= sag_m <= 5:
        raise GirderError("sag_out_of_range", "A sag is a length from zero up, five metres at most.")
    return replace(result, sags=(*result.sags, (result.load_on.value, sag_m)))


def _fail(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    mode = str(event.data.get("mode"))
    if mode in setup.loading_errors:
        raise GirderError("loading_error_is_void", "That spoils the trial but is no failure: mark it void.")
    if mode not in setup.failure_modes:
        raise GirderError("unknown_mode", "Say how it failed, with one of the ways listed.")
    if not any(result.placed.values()):
        raise GirderError("fail_before_load", "Nothing is on it yet. A bridge that cannot stand fails at check-in.")
    # What broke it after it had held the same load for the wait is that load itself.
    broke_at = result.load_on if result.load_on.value > result.held.value else result.held
    return replace(
        result,
        outcome=Outcome.BROKE,
        broke_at=broke_at,
        mode=mode,
        note=str(event.data.get("note", "")),
        step_waiting=False,
        steps=_steps_become(result.steps, StepState.BROKE),
    )


def _run_out(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    reason = str(event.data.get("reason"))
    if reason not in setup.run_out_reasons:
        raise GirderError("unknown_reason", "Say why the load ran out, with one of the reasons listed.")
    if result.step_waiting:
        raise GirderError("step_not_settled", "Wait for the last step to hold first.")
    if not result.held.value > 0:
        raise GirderError("nothing_held", "Nothing has held yet, so nothing can have run out.")
    return replace(result, outcome=Outcome.RAN_OUT, reason=reason, note=str(event.data.get("note", "")))


def _void(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    _still_running(result)
    reason = str(event.data.get("reason"))
    if reason not in setup.loading_errors:
        raise GirderError("unknown_reason", "Say what spoiled the trial, with one of the reasons listed.")
    return replace(
        result,
        outcome=Outcome.VOID,
        reason=reason,
        note=str(event.data.get("note", "")),
        step_waiting=False,
        steps=_steps_become(result.steps, StepState.NOT_COUNTED),
    )


def _pile_reading(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    if not result.scored:
        raise GirderError("pile_too_early", "Weigh the pile after the trial has ended.")
    mass_kg = units.parse(str(event.data.get("mass", "")), Kind.MASS).si
    step_kg = units.parse(str(event.data.get("resolution", "")), Kind.MASS).si
    if not (mass_kg > 0 and step_kg > 0):
        raise GirderError("mass_not_positive", "The pile and the scale's step must be more than nothing.")
    weighed = Quantity(mass_kg, resolution_uncertainty(step_kg))
    if event.data.get("covers", "all") == "held" or result.broke_at is None:
        last = None if result.broke_at is None else result.broke_at - result.held
        return replace(
            result,
            held=weighed,
            broke_at=None if last is None else Quantity(weighed.value + last.value, weighed.standard_uncertainty),
            pile_weighed=True,
        )
    last_kg = result.broke_at.value - result.held.value
    if weighed.value <= last_kg:
        raise GirderError("pile_too_light", "The pile weighs less than its last step. Is all of it on the scale?")
    held = Quantity(weighed.value - last_kg, weighed.standard_uncertainty)
    return replace(result, held=held, broke_at=weighed, pile_weighed=True)


def _interval(result: TrialResult) -> Interval | None:
    if result.outcome is Outcome.VOID:
        return None
    low = max(0.0, result.held.value - COVERAGE_FACTOR * result.held.standard_uncertainty)
    if result.broke_at is None:
        return Interval(low, math.inf)
    return Interval(low, result.broke_at.value + COVERAGE_FACTOR * result.broke_at.standard_uncertainty)


_APPLY = {
    EventKind.PLACE: _place,
    EventKind.REMOVE: _remove,
    EventKind.SETTLE: _settle,
    EventKind.OBSERVE: _observe,
    EventKind.MEASURE: _measure,
    EventKind.FAIL: _fail,
    EventKind.RUN_OUT: _run_out,
    EventKind.VOID: _void,
    EventKind.PILE_READING: _pile_reading,
}


def middle_kg(result: TrialResult) -> float | None:
    """Where a trial that broke most likely gave way: the middle between the last load held and the one that broke it.

    Args:
        result: of the trial.
    Returns:
        The middle [kg]; None for a trial that did not break.
    """
    if result.outcome is not Outcome.BROKE or result.broke_at is None:
        return None
    return (result.held.value + result.broke_at.value) / 2
